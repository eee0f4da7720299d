//! The finishes as the values of utility classes, in an `@theme` block: what a class is called follows from the names.

use super::cascade::{BETWEEN, comment};
use super::links::Properties;
use super::names::Names;
use super::options::{SheetOptions, Style};
use super::sheet::head;
use super::stacks::Stacks;
use crate::asset::Assets;
use crate::css::Declaration;
use crate::lower::TrialPiece;
use crate::model::{Finish, Project};

/// `--shadow-NAME` and `--inset-shadow-NAME` for boxes, `--text-shadow-NAME` and `--drop-shadow-NAME` where a finish is worn
/// so. States and themes that differ have names of their own, `NAME-hover`, `NAME-dusk`. Values are written into the classes
/// (`inline`), so that a light, the own fill and the ground are those of the element.
#[must_use]
pub(super) fn theme(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let names = Names::of(project);
    let properties = Properties::of(&names);
    let stacks = Stacks { project, assets, wanted, names: &names, properties: &properties };
    let mut lines: Vec<Declaration> = Vec::new();
    for finish in wanted.finishes(project) {
        for on in wanted.forms(project, finish) {
            lines.extend(values(&stacks, finish, on));
        }
    }
    let inner: String = lines.iter().map(|line| line.text(2)).collect();
    let body = format!("@theme inline {{\n{inner}}}\n");
    let head = match wanted.style {
        Style::Living => head(&stacks, &body),
        Style::Flat => String::new(),
    };
    let parts = [format!("/* {} */\n", comment(&project.name)), head, body];
    parts.into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("\n")
}

/// What a finish is on one kind of piece, at rest and in its states, in each theme that says something else.
fn values(stacks: &Stacks<'_>, finish: &Finish, on: TrialPiece) -> Vec<Declaration> {
    let table = stacks.plain_class(finish, on);
    let themes = stacks.wanted.themes(stacks.project);
    let mut all: Vec<Declaration> = Vec::new();
    for (at, stack) in table.0.iter().enumerate() {
        for (state, lines) in stack {
            let mut name = stacks.names.finishes[&finish.id].clone();
            if let Some(state) = state {
                name = format!("{name}-{}", state.name());
            }
            for line in lines {
                for (start, mut values) in split(line) {
                    let first = format!("{start}{name}");
                    let at_rest = format!("{start}{}", stacks.names.finishes[&finish.id]);
                    // What is there at rest has to be gone where it is not.
                    if values.is_empty() && all.iter().any(|other| other.name == at_rest) {
                        values.push(if start == INSET { "inset 0 0 #0000" } else { "0 0 #0000" }.to_owned());
                    }
                    let same = all.iter().any(|other| other.name == first && other.values == values);
                    let themed = match themes.get(at) {
                        Some(theme) if at > 0 => format!("{first}-{}", stacks.names.themes[&theme.id]),
                        _ => first,
                    };
                    if !same && !values.is_empty() {
                        all.push(Declaration { name: themed.into(), values });
                    }
                }
            }
        }
    }
    all
}

const INSET: &str = "--inset-shadow-";

/// A list of shadows by the names their utilities begin with.
fn split(line: &Declaration) -> Vec<(&'static str, Vec<String>)> {
    let each = line.values.iter().flat_map(|value| value.split(BETWEEN));
    match line.name.as_ref() {
        "box-shadow" => {
            let (inner, outer): (Vec<&str>, Vec<&str>) = each.partition(|value| value.starts_with("inset "));
            let owned = |values: Vec<&str>| values.into_iter().map(str::to_owned).collect();
            vec![("--shadow-", owned(outer)), (INSET, owned(inner))]
        }
        "text-shadow" => vec![("--text-shadow-", each.map(str::to_owned).collect())],
        "filter" => {
            let inside =
                |value: &str| Some(value.strip_prefix("drop-shadow(")?.strip_suffix(')')?.to_owned());
            vec![("--drop-shadow-", each.filter_map(inside).collect())]
        }
        _ => Vec::new(),
    }
}
