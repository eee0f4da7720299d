//! Whether modules of the core use only modules that come before them, and no files use one another in a circle. The compiler
//! holds that for crates; this holds it within each of them.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use proc_macro2::{TokenStream, TokenTree};
use syn::spanned::Spanned as _;
use syn::visit::Visit;
use syn::{Attribute, Item, ItemMod, ItemUse, UseTree, Visibility};

use crate::run::Outcome;

/// The modules of the core, each of which may use those before it.
const ORDER: [&str; 33] = [
    // Leaves: limits, functions, numbers with units, budgets and threads, text.
    "limits", "maths", "quantity", "budget", "parallel", "simd", "syntax", "patch",
    // Primitives: colours, pictures, shapes, coverage.
    "colour", "blend", "picture", "raster", "font", "geometry", "blur",
    // The document, and what it comes to.
    "model", "asset", "resolve", "arrange", "compose", "lower", "chromium",
    // Formats: each reads and writes one, and knows no other.
    "markup", "import", "css", "svg", "tokens",
    // What is found out, and what goes out and comes in.
    "measure", "solve", "report", "audit", "handoff", "incoming",
];

/// Pairs of modules that are side by side in their layer: neither may use the other.
const STRANGERS: [[&str; 2]; 3] = [["css", "svg"], ["css", "tokens"], ["svg", "tokens"]];

/// The folder of the crates of the core, and their façade.
const CRATES: &str = "crates/core";
const FACADE: &str = "crates/zolvet-core";
/// The first lines of every crate of the core: none of them computes with functions of the system.
const SAME_EVERYWHERE: &str = "#![cfg_attr(not(test), warn(clippy::disallowed_methods))]";

/// Checks the core, and names each line that is wrong.
pub fn check() -> Outcome {
    let mut wrong = Vec::new();
    let inside = std::fs::read_dir(CRATES).map_err(|error| format!("{CRATES}: {error}"))?;
    let crates = inside.flatten().map(|entry| entry.path()).chain([PathBuf::from(FACADE)]);
    for folder in crates.map(|folder| folder.join("src")) {
        let root = folder.join("lib.rs");
        let text = std::fs::read_to_string(&root).map_err(|error| format!("{}: {error}", root.display()))?;
        if !text.contains(SAME_EVERYWHERE) {
            wrong.push(format!("{}: {SAME_EVERYWHERE} is missing", root.display()));
        }
        let core = Core::read(&folder)?;
        wrong.extend(core.backward().into_iter().chain(core.circles()));
    }
    if wrong.is_empty() { Ok(()) } else { Err(format!("modules run in circles:\n{}", wrong.join("\n"))) }
}

/// A module as the path of its names; the root is empty.
type Names = Vec<String>;

/// A name and its place.
struct Mention {
    line: usize,
    path: Names,
}

/// The definitions and uses of one file.
#[derive(Default)]
struct Source {
    file: PathBuf,
    defines: BTreeSet<String>,
    /// Names that are made visible from elsewhere, and where from.
    exports: BTreeMap<String, Names>,
    /// Modules of which everything is made visible.
    globs: Vec<Names>,
    mentions: Vec<Mention>,
}

struct Core(BTreeMap<Names, Source>);

impl Core {
    fn read(folder: &Path) -> Result<Self, String> {
        let mut sources = BTreeMap::new();
        let mut folders = vec![folder.to_owned()];
        while let Some(at) = folders.pop() {
            for entry in std::fs::read_dir(&at).map_err(|error| format!("{}: {error}", at.display()))? {
                let path = entry.map_err(|error| error.to_string())?.path();
                if path.is_dir() {
                    folders.push(path);
                } else if path.extension().is_some_and(|ending| ending == "rs") {
                    let module = module_of(&path, folder);
                    sources.insert(module.clone(), read(&path, module)?);
                }
            }
        }
        Ok(Self(sources))
    }

    /// Uses of modules that come later, of modules that have no place, and of strangers.
    fn backward(&self) -> Vec<String> {
        let place = |name: &str| ORDER.iter().position(|other| *other == name);
        let mut wrong = Vec::new();
        for (module, source) in &self.0 {
            let Some(own) = module.first() else { continue };
            if place(own).is_none() {
                wrong.push(format!("{}: {own} has no place in the order", source.file.display()));
            }
            for Mention { line, path } in &source.mentions {
                let Some(other) = path.first().filter(|other| place(other).is_some()) else { continue };
                let strangers =
                    STRANGERS.iter().any(|pair| pair.contains(&&**own) && pair.contains(&&**other));
                if own != other && (place(own) < place(other) || strangers) {
                    wrong.push(format!("{}:{line}: {own} uses {other}", source.file.display()));
                }
            }
        }
        wrong
    }

    /// Files that use one another, by the names they use.
    fn circles(&self) -> Vec<String> {
        let mut uses: BTreeMap<&Names, BTreeMap<&Names, usize>> = BTreeMap::new();
        for (module, source) in &self.0 {
            for Mention { line, path } in &source.mentions {
                if let Some(other) = self.definer(path, 0).filter(|other| *other != module) {
                    uses.entry(module).or_default().entry(other).or_insert(*line);
                }
            }
        }
        let mut found = Vec::new();
        let mut done = BTreeSet::new();
        for start in self.0.keys() {
            visit(start, &uses, &mut Vec::new(), &mut done, &mut |circle| {
                let places = circle.windows(2).map(|pair| {
                    let line = uses.get(pair[0]).and_then(|others| others.get(pair[1]));
                    format!("{}:{}", self.0[pair[0]].file.display(), line.copied().unwrap_or(0))
                });
                found.push(format!("a circle: {}", places.collect::<Vec<_>>().join(" → ")));
            });
        }
        found
    }

    /// The module whose file defines what a path leads to.
    fn definer(&self, path: &[String], depth: usize) -> Option<&Names> {
        let inside = (0..=path.len()).rev().find(|length| self.0.contains_key(&path[..*length]))?;
        let (module, source) = self.0.get_key_value(&path[..inside])?;
        let Some(name) = path.get(inside) else { return Some(module) };
        if source.defines.contains(name) || depth > 8 {
            return Some(module);
        }
        if let Some(from) = source.exports.get(name) {
            return self.definer(from, depth + 1);
        }
        let through = source.globs.iter().find_map(|glob| {
            let defined = self.0.get(glob).is_some_and(|source| source.defines.contains(name));
            defined.then(|| self.0.get_key_value(glob)).flatten()
        });
        Some(through.map_or(module, |(module, _)| module))
    }
}

/// Walks along uses, and tells of each way that comes back to where it was.
fn visit<'a>(
    at: &'a Names,
    uses: &BTreeMap<&'a Names, BTreeMap<&'a Names, usize>>,
    way: &mut Vec<&'a Names>,
    done: &mut BTreeSet<&'a Names>,
    found: &mut dyn FnMut(&[&'a Names]),
) {
    if let Some(start) = way.iter().position(|other| *other == at) {
        let circle: Vec<&Names> = way[start..].iter().copied().chain([at]).collect();
        return found(&circle);
    }
    if !done.insert(at) {
        return;
    }
    way.push(at);
    for other in uses.get(at).into_iter().flat_map(BTreeMap::keys) {
        visit(other, uses, way, done, found);
    }
    way.pop();
}

fn module_of(file: &Path, folder: &Path) -> Names {
    let inside = file.strip_prefix(folder).unwrap_or(file).with_extension("");
    let names = inside.components().map(|part| part.as_os_str().to_string_lossy().into_owned());
    names.filter(|name| name != "mod" && name != "lib").collect()
}

fn read(file: &Path, module: Names) -> Result<Source, String> {
    let text = std::fs::read_to_string(file).map_err(|error| format!("{}: {error}", file.display()))?;
    let parsed = syn::parse_file(&text).map_err(|error| format!("{}: {error}", file.display()))?;
    let source = Source { file: file.to_owned(), ..Source::default() };
    let mut reader = Reader { known: visible_names(&parsed, &module), module, source };
    reader.visit_file(&parsed);
    Ok(reader.source)
}

/// The modules that a file declares, and the names that it uses from elsewhere in the crate.
fn visible_names(file: &syn::File, module: &Names) -> BTreeMap<String, Names> {
    let empty = Reader { module: module.clone(), source: Source::default(), known: BTreeMap::new() };
    let mut known = BTreeMap::new();
    for item in &file.items {
        match item {
            Item::Mod(item) if item.content.is_none() => {
                let name = item.ident.to_string();
                known.insert(name.clone(), [&module[..], &[name]].concat());
            }
            Item::Use(item) => {
                let mut paths = Vec::new();
                flatten(&item.tree, Vec::new(), &mut paths);
                for (path, name) in paths {
                    if let (Some(name), Some(from)) = (name, empty.absolute(&path)) {
                        known.insert(name, from);
                    }
                }
            }
            _ => {}
        }
    }
    known
}

struct Reader {
    module: Names,
    source: Source,
    /// The full paths of short names: modules below this one, and names that are used.
    known: BTreeMap<String, Names>,
}

impl Reader {
    /// A path as names from the root of the crate; nothing where it leads out of the crate.
    fn absolute(&self, path: &[String]) -> Option<Names> {
        let above = path.iter().take_while(|name| *name == "super").count();
        match path.first()?.as_str() {
            "crate" => Some(path[1..].to_vec()),
            "self" => Some([&self.module, &path[1..]].concat()),
            "super" => {
                let up = self.module.len().checked_sub(above)?;
                Some([&self.module[..up], &path[above..]].concat())
            }
            name if path.len() > 1 => self.known.get(name).map(|start| [start, &path[1..]].concat()),
            _ => None,
        }
    }

    fn mention(&mut self, path: &[String], line: usize) {
        if let Some(path) = self.absolute(path) {
            self.source.mentions.push(Mention { line, path });
        }
    }

    /// Names inside of macros, which have no syntax to be read.
    fn tokens(&mut self, tokens: TokenStream) {
        let tokens: Vec<TokenTree> = tokens.into_iter().collect();
        for (at, token) in tokens.iter().enumerate() {
            match token {
                TokenTree::Group(group) => self.tokens(group.stream()),
                TokenTree::Ident(ident) if ["crate", "super"].contains(&ident.to_string().as_str()) => {
                    let names: Names = tokens[at..]
                        .iter()
                        .take_while(|token| matches!(token, TokenTree::Ident(_) | TokenTree::Punct(_)))
                        .filter_map(|token| match token {
                            TokenTree::Ident(ident) => Some(ident.to_string()),
                            _ => None,
                        })
                        .collect();
                    self.mention(&names, ident.span().start().line);
                }
                _ => {}
            }
        }
    }
}

impl<'a> Visit<'a> for Reader {
    fn visit_item(&mut self, item: &'a Item) {
        let name = match item {
            Item::Const(item) => Some(&item.ident),
            Item::Enum(item) => Some(&item.ident),
            Item::Fn(item) => Some(&item.sig.ident),
            Item::Static(item) => Some(&item.ident),
            Item::Struct(item) => Some(&item.ident),
            Item::Trait(item) => Some(&item.ident),
            Item::Type(item) => Some(&item.ident),
            Item::Macro(item) => item.ident.as_ref(),
            _ => None,
        };
        self.source.defines.extend(name.map(ToString::to_string));
        syn::visit::visit_item(self, item);
    }

    fn visit_item_mod(&mut self, item: &'a ItemMod) {
        if !is_test(&item.attrs) {
            syn::visit::visit_item_mod(self, item);
        }
    }

    fn visit_item_use(&mut self, item: &'a ItemUse) {
        let is_export = !matches!(item.vis, Visibility::Inherited);
        let mut paths = Vec::new();
        flatten(&item.tree, Vec::new(), &mut paths);
        for (path, name) in paths {
            let line = item.span().start().line;
            let own = || self.absolute(&path).unwrap_or_else(|| [&self.module[..], &path].concat());
            match (is_export, name) {
                (true, Some(name)) => {
                    let from = own();
                    self.source.exports.insert(name, from);
                    // What comes from another module is used all the same.
                    if path.first().is_some_and(|first| first == "crate") {
                        self.mention(&path, line);
                    }
                }
                (true, None) => {
                    let from = own();
                    self.source.globs.push(from);
                }
                (false, _) => self.mention(&path, line),
            }
        }
    }

    fn visit_path(&mut self, path: &'a syn::Path) {
        let names: Names = path.segments.iter().map(|segment| segment.ident.to_string()).collect();
        self.mention(&names, path.span().start().line);
        syn::visit::visit_path(self, path);
    }

    fn visit_macro(&mut self, item: &'a syn::Macro) {
        self.tokens(item.tokens.clone());
    }
}

fn is_test(attributes: &[Attribute]) -> bool {
    attributes.iter().any(|attribute| {
        attribute.path().is_ident("cfg")
            && attribute.parse_args::<syn::Path>().is_ok_and(|path| path.is_ident("test"))
    })
}

/// Each path of a use, with the name it is known by; none for all of a module.
fn flatten(tree: &UseTree, mut before: Names, found: &mut Vec<(Names, Option<String>)>) {
    match tree {
        UseTree::Path(path) => {
            before.push(path.ident.to_string());
            flatten(&path.tree, before, found);
        }
        UseTree::Name(name) if name.ident == "self" => {
            let own = before.last().cloned();
            found.push((before, own));
        }
        UseTree::Name(name) => {
            before.push(name.ident.to_string());
            found.push((before, Some(name.ident.to_string())));
        }
        UseTree::Rename(rename) => {
            before.push(rename.ident.to_string());
            found.push((before, Some(rename.rename.to_string())));
        }
        UseTree::Glob(_) => found.push((before, None)),
        UseTree::Group(group) => {
            group.items.iter().for_each(|tree| flatten(tree, before.clone(), found));
        }
    }
}
