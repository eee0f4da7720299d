//! A project as one style sheet: lights and swatches once, as custom properties; a class for each finish; and the pieces,
//! each with its own fill and what it lies on. Themes and states say only what they change.

use super::cascade::{Table, comment, text};
use super::fallbacks::fallbacks;
use super::fonts::font_faces;
use super::links::{FILL, GROUND, Properties};
use super::names::Names;
use super::options::{Pieces, SheetOptions, Style};
use super::pieces::{Classes, scene};
use super::stacks::{Stacks, at_rest};
use crate::asset::Assets;
use crate::colour::css_text;
use crate::css::{Declaration, Rule};
use crate::model::{Id, Project, Theme};

/// The whole sheet.
pub fn sheet(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let names = Names::of(project);
    let properties = Properties::of(&names);
    let stacks = Stacks { project, assets, wanted, names: &names, properties: &properties };
    let themes = wanted.themes(project);
    let whole = wanted.finish.is_none() && wanted.pieces == Pieces::Whole;
    let mut blocks = if whole { font_faces(project) } else { Vec::new() };
    let mut classes = Classes::new();
    for finish in wanted.finishes(project) {
        let mut rules = String::new();
        for on in wanted.forms(project, finish) {
            let class = format!(".{}", names.class(finish, on));
            let plain = stacks.plain_class(finish, on);
            let table = stacks.class_in_parts(finish, on, plain.clone());
            classes.insert((finish.id.clone(), on.ending()), plain);
            let written = text(&table.rules(&class, false), &themes, &names);
            if !rules.is_empty() && !written.is_empty() {
                rules.push('\n');
            }
            rules.push_str(&written);
        }
        if !rules.is_empty() {
            let note = if finish.note.is_empty() { &finish.name } else { &finish.note };
            let note = comment(note);
            blocks.push(if note.trim().is_empty() { rules } else { format!("/* {note} */\n{rules}") });
        }
    }
    if wanted.finish.is_none() {
        blocks.extend(project.scenes.iter().filter_map(|one| scene(&stacks, &classes, one)));
    }
    blocks.extend(fallbacks(&stacks, &classes));
    let body = with_reasons(&blocks.join("\n"));
    let head = match wanted.style {
        Style::Living => head(&stacks, &body),
        Style::Flat => String::new(),
    };
    [format!("/* {} */\n", comment(&project.name)), head, body]
        .into_iter()
        .filter(|part| !part.is_empty())
        .collect::<Vec<_>>()
        .join("\n")
}

/// A sheet that says above each property with a prefix why it has one, to a linter that forbids them.
fn with_reasons(body: &str) -> String {
    let mut text = String::with_capacity(body.len());
    for line in body.split_inclusive('\n') {
        let inner = line.trim_start();
        if inner.starts_with("-webkit-") {
            text.push_str(&line[..line.len() - inner.len()]);
            text.push_str(
                "/* stylelint-disable-next-line property-no-vendor-prefix -- for browsers before 2024 */\n",
            );
        }
        text.push_str(line);
    }
    text
}

/// What the rest of a sheet refers to: lights, own fill and ground registered, so that they can be animated and are never
/// missing; lights and swatches set; and what follows from a light computed for each element, so that one part of a page
/// may turn it.
pub(super) fn head(stacks: &Stacks<'_>, body: &str) -> String {
    let used = |name: &str| body.contains(&format!("var({name})"));
    let Stacks { project, wanted, names, properties, .. } = stacks;
    let themes = wanted.themes(project);
    let Some(first) = themes.first() else { return String::new() };
    let follows = |id: &Id| properties.vectors.get(id).is_some_and(|(x, y)| used(x) || used(y));
    let lights: Vec<(&Id, &String)> =
        properties.lights.iter().filter(|(id, name)| used(name) || follows(id)).collect();
    let mut blocks: Vec<String> = Vec::new();
    for (id, name) in &lights {
        blocks.push(registered(name, "angle", true, &stacks.angle(first, id)));
    }
    for (name, inherits) in [(FILL, false), (GROUND, true)] {
        if used(name) {
            blocks.push(registered(name, "color", inherits, "#fff"));
        }
    }
    let root = |theme: &&Theme| {
        let lights =
            lights.iter().map(|(id, name)| Declaration::one((*name).clone(), stacks.angle(theme, id)));
        let swatches = project.swatches.iter().filter_map(|swatch| {
            let name = properties.swatches.get(&swatch.id).filter(|name| used(name))?;
            Some(Declaration::one(name.clone(), css_text(stacks.swatch(theme, &swatch.id))))
        });
        at_rest(lights.chain(swatches).collect())
    };
    let root = Table(themes.iter().map(root).collect());
    let vectors: Vec<Declaration> = lights
        .iter()
        .filter(|(id, _)| follows(id))
        .filter_map(|(id, _)| properties.vector(id))
        .flatten()
        .collect();
    blocks.push(text(&root.rules(":root", false), &themes, names));
    if !vectors.is_empty() {
        let rule = Rule { selector: "*,\n::before,\n::after".to_owned(), lines: vectors };
        blocks.push(format!("/* Where a shadow 1px away falls. */\n{}", rule.text()));
    }
    blocks.retain(|block| !block.is_empty());
    blocks.join("\n")
}

/// CSS Properties and Values API 1, "The @property Rule".
fn registered(name: &str, syntax: &str, inherits: bool, initial: &str) -> String {
    format!(
        "@property {name} {{\n  syntax: \"<{syntax}>\";\n  inherits: {inherits};\n  initial-value: {initial};\n}}\n"
    )
}
