//! The finishes as SCSS: variables for lights and swatches, and a mixin for each finish.

use super::cascade::{comment, indented};
use super::names::Names;
use super::options::{SheetOptions, Style};
use super::sheet::{join_blocks, nested_body, registrations, theme_rules};
use super::stacks::Stacks;
use super::themes::Themes;
use crate::asset::Assets;
use crate::colour::css_text;
use crate::model::Project;

/// The finishes as SCSS mixins, with their states and themes. In living style, variables hold the fallbacks of lights
/// and swatches that a page does not set.
#[must_use]
pub fn scss(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let names = Names::new(project);
    let themes = Themes::new(project, wanted, &names);
    let stacks = Stacks::new((project, assets), wanted, &names, &themes);
    let mut mixins = Vec::new();
    for finish in wanted.finishes(project) {
        for on in wanted.forms(project, finish) {
            let body = nested_body(&stacks, finish, on);
            if !body.is_empty() {
                mixins.push(format!("@mixin {} {{\n{}}}\n", names.class(finish, on), indented(&body)));
            }
        }
    }
    let body = mixins.join("\n");
    let (variables, written) = match wanted.style {
        Style::Living => variables(&stacks, &body),
        Style::Flat => (String::new(), body.clone()),
    };
    let head = format!("// {}\n", comment(&project.name));
    join_blocks([head, variables, registrations(&stacks, &body), theme_rules(&themes, &body), written])
}

/// Variables for the fallbacks of lights and swatches that are alike in every theme, and the text with them.
fn variables(stacks: &Stacks<'_>, body: &str) -> (String, String) {
    let Some(first) = stacks.themes.all.first() else { return (String::new(), body.to_owned()) };
    let (project, names) = (stacks.project, stacks.names);
    let lights = project
        .lights
        .iter()
        .map(|light| (format!("light-{}", names.lights[&light.id]), stacks.angle(first, &light.id)));
    let swatches = project.swatches.iter().map(|swatch| {
        (format!("colour-{}", names.swatches[&swatch.id]), css_text(stacks.swatch(first, &swatch.id)))
    });
    let (mut variables, mut text) = (String::new(), body.to_owned());
    for (name, value) in lights.chain(swatches) {
        let property = names.property(&name);
        let plain = format!("var({property}, {value})");
        if text.contains(&plain) {
            text = text.replace(&plain, &format!("var({property}, #{{${name}}})"));
            variables.push_str(&format!("${name}: {value} !default;\n"));
        }
    }
    (variables, text)
}
