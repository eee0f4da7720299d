//! Whether files and functions are short enough to read: no file over 500 lines, no function over 60, no parameter
//! list over five.

use std::fs;
use std::path::{Path, PathBuf};

use syn::spanned::Spanned as _;
use syn::visit::{self, Visit};
use syn::{Block, FnArg, ImplItemFn, ItemFn, ItemImpl, Signature};

use crate::run::{Outcome, root};

const MAX_FILE_LINES: usize = 500;
const MAX_FUNCTION_LINES: usize = 60;
/// Besides `self`.
const MAX_PARAMETERS: usize = 5;

/// Files without limit: generated ones, which nobody reads, and the words of the interface, one list by intent.
const UNLIMITED: [&str; 2] = ["schema.d.ts", "messages.ts"];

/// Checks every source file of the project, and names those that are too long.
pub fn check() -> Outcome {
    let mut found = Vec::new();
    for folder in ["crates", "web/src"] {
        for file in sources(&root().join(folder))? {
            let text = fs::read_to_string(&file).map_err(|error| format!("{}: {error}", file.display()))?;
            let name = file.strip_prefix(root()).unwrap_or(&file).display().to_string();
            let lines = text.lines().count();
            if lines > MAX_FILE_LINES {
                found.push(format!("{name}: {lines} lines, expected at most {MAX_FILE_LINES}"));
            }
            if file.extension().is_some_and(|ending| ending == "rs") {
                let parsed = syn::parse_file(&text).map_err(|error| format!("{name}: {error}"))?;
                let mut functions = Functions { file: &name, found: &mut found, in_trait: false };
                functions.visit_file(&parsed);
            }
        }
    }
    if found.is_empty() { Ok(()) } else { Err(format!("too long to read:\n{}", found.join("\n"))) }
}

/// The Rust and TypeScript files in a folder, sorted.
pub fn sources(folder: &Path) -> Result<Vec<PathBuf>, String> {
    let mut found = Vec::new();
    let entries = fs::read_dir(folder).map_err(|error| format!("{}: {error}", folder.display()))?;
    for entry in entries {
        let path = entry.map_err(|error| error.to_string())?.path();
        let unlimited = path.file_name().is_some_and(|name| UNLIMITED.iter().any(|known| name == *known));
        if path.is_dir() {
            // What is installed is not ours.
            if path.file_name().is_none_or(|name| name != "node_modules") {
                found.extend(sources(&path)?);
            }
        } else if !unlimited
            && path.extension().is_some_and(|ending| ["rs", "ts", "tsx"].iter().any(|known| ending == *known))
        {
            found.push(path);
        }
    }
    found.sort();
    Ok(found)
}

/// Visits the functions of one file.
struct Functions<'a> {
    file: &'a str,
    found: &'a mut Vec<String>,
    /// In the implementation of a trait, which says itself what parameters there are.
    in_trait: bool,
}

impl Functions<'_> {
    fn function(&mut self, signature: &Signature, block: &Block) {
        let (start, end) = (signature.span().start().line, block.span().end().line);
        let place = format!("{}:{start}: {}", self.file, signature.ident);
        let lines = end - start + 1;
        if lines > MAX_FUNCTION_LINES {
            self.found.push(format!("{place}: {lines} lines, expected at most {MAX_FUNCTION_LINES}"));
        }
        let parameters = signature.inputs.iter().filter(|input| matches!(input, FnArg::Typed(_))).count();
        if parameters > MAX_PARAMETERS && !self.in_trait {
            self.found.push(format!("{place}: {parameters} parameters, expected at most {MAX_PARAMETERS}"));
        }
    }
}

impl<'ast> Visit<'ast> for Functions<'_> {
    fn visit_item_impl(&mut self, item: &'ast ItemImpl) {
        let outer = std::mem::replace(&mut self.in_trait, item.trait_.is_some());
        visit::visit_item_impl(self, item);
        self.in_trait = outer;
    }

    fn visit_item_fn(&mut self, function: &'ast ItemFn) {
        self.function(&function.sig, &function.block);
        visit::visit_item_fn(self, function);
    }

    fn visit_impl_item_fn(&mut self, function: &'ast ImplItemFn) {
        self.function(&function.sig, &function.block);
        visit::visit_impl_item_fn(self, function);
    }
}
