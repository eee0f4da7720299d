//! Whether every match over a kind of the job names all kinds: a new coat, shape, fill or target is then found by the
//! compiler in every place that must know it.

use std::fs;

use syn::spanned::Spanned as _;
use syn::visit::{self, Visit};
use syn::{Arm, Attribute, ExprMatch, ItemImpl, ItemMod, Pat, Path, Type};

use crate::run::{Outcome, root};
use crate::size::sources;

/// The kinds: enums of the core to which designers' work may bring a further one.
const KINDS: [&str; 8] =
    ["CoatKind", "PaintOp", "Shape", "Fill", "Paint", "Target", "Silhouette", "BackdropFunction"];

/// Checks all matches outside tests, and names those with an arm for all remaining variants.
pub fn check() -> Outcome {
    let mut found = Vec::new();
    for file in sources(&root().join("crates"))? {
        let is_code = file.extension().is_some_and(|ending| ending == "rs");
        if !is_code || !file.iter().any(|folder| folder == "src") {
            continue;
        }
        let name = file.strip_prefix(root()).unwrap_or(&file).display().to_string();
        let text = fs::read_to_string(&file).map_err(|error| format!("{name}: {error}"))?;
        let parsed = syn::parse_file(&text).map_err(|error| format!("{name}: {error}"))?;
        Matches { file: &name, found: &mut found, own: None }.visit_file(&parsed);
    }
    let found = found.join("\n");
    if found.is_empty() {
        Ok(())
    } else {
        Err(format!("name the kinds instead of all that are left:\n{found}"))
    }
}

/// Looks at the matches of a file.
struct Matches<'a> {
    file: &'a str,
    found: &'a mut Vec<String>,
    /// The kind that `Self` stands for.
    own: Option<&'static str>,
}

impl<'ast> Visit<'ast> for Matches<'_> {
    fn visit_item_mod(&mut self, item: &'ast ItemMod) {
        if !item.attrs.iter().any(is_for_tests) {
            visit::visit_item_mod(self, item);
        }
    }

    fn visit_item_impl(&mut self, item: &'ast ItemImpl) {
        let name = |path: &Path| path.segments.last().map(|last| last.ident.to_string());
        let own = if let Type::Path(own) = &*item.self_ty { name(&own.path) } else { None };
        let outer = std::mem::replace(&mut self.own, own.and_then(|own| kind(&own)));
        visit::visit_item_impl(self, item);
        self.own = outer;
    }

    fn visit_expr_match(&mut self, expression: &'ast ExprMatch) {
        let width = expression.arms.iter().map(|arm| columns(&arm.pat).len()).max().unwrap_or(0);
        for at in 0..width {
            let cases = |arm: &'ast Arm| columns(&arm.pat).get(at).map(|pat| cases(pat)).unwrap_or_default();
            let named = expression.arms.iter().flat_map(cases).find_map(|pat| self.named(pat));
            // What an arm with a condition leaves, another takes.
            let unconditional = expression.arms.iter().filter(|arm| arm.guard.is_none());
            let rest = unconditional.flat_map(cases).find(|pat| is_rest(pat));
            if let (Some(kind), Some(rest)) = (named, rest) {
                self.found.push(format!("{}:{}: {kind}", self.file, rest.span().start().line));
            }
        }
        visit::visit_expr_match(self, expression);
    }
}

impl Matches<'_> {
    /// The kind that a pattern names a variant of.
    fn named(&self, pat: &Pat) -> Option<&'static str> {
        let path = match pat {
            Pat::Path(path) => &path.path,
            Pat::Struct(pat) => &pat.path,
            Pat::TupleStruct(pat) => &pat.path,
            _ => return None,
        };
        let owner = path.segments.iter().rev().nth(1)?.ident.to_string();
        if owner == "Self" { self.own } else { kind(&owner) }
    }
}

fn kind(name: &str) -> Option<&'static str> {
    KINDS.into_iter().find(|kind| *kind == name)
}

fn is_for_tests(attribute: &Attribute) -> bool {
    attribute.path().is_ident("cfg") && attribute.parse_args::<Path>().is_ok_and(|path| path.is_ident("test"))
}

/// The patterns of a tuple, or the one that is none.
fn columns(pat: &Pat) -> Vec<&Pat> {
    if let Pat::Tuple(tuple) = pat { tuple.elems.iter().collect() } else { vec![pat] }
}

/// The patterns that are one or another.
fn cases(pat: &Pat) -> Vec<&Pat> {
    match pat {
        Pat::Or(or) => or.cases.iter().flat_map(cases).collect(),
        Pat::Paren(inner) => cases(&inner.pat),
        Pat::Reference(inner) => cases(&inner.pat),
        Pat::Ident(ident) => ident.subpat.as_ref().map_or_else(|| vec![pat], |(_, inner)| cases(inner)),
        _ => vec![pat],
    }
}

/// Whether a pattern takes all remaining variants.
fn is_rest(pat: &Pat) -> bool {
    matches!(pat, Pat::Wild(_)) || matches!(pat, Pat::Ident(ident) if ident.subpat.is_none())
}
