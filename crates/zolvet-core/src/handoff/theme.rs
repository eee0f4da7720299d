//! The finishes as utility classes: each an `@utility` with its states and themes, as utility frameworks read them.

use super::cascade::{comment, indented};
use super::names::Names;
use super::options::SheetOptions;
use super::sheet::{join_blocks, nested_body, registrations, theme_rules};
use super::stacks::Stacks;
use super::themes::Themes;
use crate::asset::Assets;
use crate::model::Project;

/// One `@utility` for each finish on each kind of piece that wears it, named as its class is.
#[must_use]
pub(super) fn theme(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let names = Names::new(project);
    let themes = Themes::new(project, wanted, &names);
    let stacks = Stacks::new((project, assets), wanted, &names, &themes);
    let mut utilities = Vec::new();
    for finish in wanted.finishes(project) {
        for on in wanted.forms(project, finish) {
            let body = nested_body(&stacks, finish, on);
            if !body.is_empty() {
                utilities.push(format!("@utility {} {{\n{}}}\n", names.class(finish, on), indented(&body)));
            }
        }
    }
    let body = utilities.join("\n");
    let head = format!("/* {} */\n", comment(&project.name));
    join_blocks([head, registrations(&stacks, &body), theme_rules(&themes, &body), body])
}
