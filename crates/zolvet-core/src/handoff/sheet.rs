//! A project as one style sheet: a class for each finish; where wanted, the pieces of scenes, each with its own fill and what it
//! lies on. Lights and swatches are custom properties that a page may set anywhere; every reference to one has the project's
//! value as its fallback, and nothing is set on the root. Themes and states say only what they change.

use super::cascade::{Block, MediaRule, comment, indented, text, within};
use super::fallbacks::fallbacks;
use super::fonts::font_faces;
use super::links::Properties;
use super::module::local_classes;
use super::names::Names;
use super::options::{Pieces, SheetOptions, Style};
use super::pieces::{Classes, scene};
use super::remarks::remarks;
use super::stacks::Stacks;
use super::themes::Themes;
use super::without_pages::without_pages;
use crate::asset::Assets;
use crate::css::Subject;
use crate::lower::{TrialPiece, with_carried_shadows};
use crate::model::{Finish, Project};

/// The whole sheet.
pub fn sheet(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let project = without_pages(project);
    let project: &Project = &with_carried_shadows(&project, assets);
    let mut head = vec![comment(&project.name)];
    if wanted.light_dark {
        head.push(
            "Colours follow color-scheme: set it to light dark on the page, or to one of them on a part."
                .to_owned(),
        );
    }
    let head = format!("/* {} */\n", head.join("\n   "));
    let [registered, body] = halves(project, assets, wanted);
    let has_older = wanted.older_colours && wanted.style == Style::Living && body.contains("(from ");
    let sheet = if has_older {
        let flat = SheetOptions { style: Style::Flat, ..wanted.clone() };
        let [_, plain] = halves(project, assets, &flat);
        let living = format!("@supports (color: rgb(from #000 r g b)) {{\n{}}}\n", indented(&body));
        join_blocks([head, registered, plain, living])
    } else {
        join_blocks([head, registered, body])
    };
    if wanted.module { local_classes(&sheet, project, wanted) } else { sheet }
}

/// The registered properties of a sheet, and the rest.
fn halves(project: &Project, assets: &Assets, wanted: &SheetOptions) -> [String; 2] {
    let names = Names::new(project);
    let themes = Themes::new(project, wanted, &names);
    let stacks = Stacks::new((project, assets), wanted, &names, &themes);
    let whole = wanted.finish.is_none() && wanted.pieces == Pieces::Whole;
    let fonts = if whole && wanted.scenes { font_faces(project) } else { Vec::new() };
    let mut classes = Classes::new();
    let mut blocks: Vec<Block> = Vec::new();
    for finish in wanted.finishes(project) {
        blocks.extend(finish_block(&stacks, finish, &mut classes));
    }
    // Before the pieces, which say something else than their finish.
    let preferred = preferred_rules(&blocks);
    blocks.extend(preferred.map(|text| Block { text, ..Block::default() }));
    if wanted.scenes && wanted.finish.is_none() {
        blocks.extend(project.scenes.iter().filter_map(|one| scene(&stacks, &classes, one)));
    }
    let computed = computed_rules(&stacks, &blocks);
    let unset = unset_in_shadow_roots(&stacks, &blocks);
    let parts = fonts
        .into_iter()
        .chain(unset)
        .chain(computed)
        .chain(blocks.into_iter().map(|block| block.text))
        .chain(fallbacks(&stacks, &classes));
    let body = with_reasons(&parts.collect::<Vec<_>>().join("\n"));
    [
        registrations(&stacks, &body),
        in_layer(wanted, &join_blocks([theme_rules(&themes, &body), body.clone()])),
    ]
}

/// A finish on every kind of piece that it is written for.
fn finish_block(stacks: &Stacks<'_>, finish: &Finish, classes: &mut Classes) -> Option<Block> {
    let Stacks { project, wanted, names, themes, .. } = stacks;
    let mut block = Block::default();
    for on in wanted.forms(project, finish) {
        let class = format!(".{}", names.class(finish, on));
        let plain = stacks.plain_class(finish, on);
        let table = stacks.class_in_parts(finish, on, plain.clone());
        classes.insert((finish.id.clone(), on.ending()), plain);
        let preferences = themes.preferred();
        let is_preferred = |one: &MediaRule| preferences.iter().any(|(media, _)| one.media == Some(media));
        let (preferred, rules): (Vec<_>, Vec<_>) =
            table.rules(&Subject::new(&class), themes, names, false).into_iter().partition(is_preferred);
        block.preferred.extend(preferred);
        let rules = text(&rules);
        if rules.is_empty() {
            continue;
        }
        if !block.text.is_empty() {
            block.text.push('\n');
        }
        let note = if finish.note.is_empty() { &finish.name } else { &finish.note };
        let note =
            block.text.is_empty().then(|| note.clone()).filter(|note| !comment(note).trim().is_empty());
        let said: Vec<String> = note.into_iter().chain(remarks(stacks, finish, on, &rules)).collect();
        let said: Vec<String> = said.iter().map(|line| comment(line)).collect();
        if !said.is_empty() {
            block.text.push_str(&format!("/* {} */\n", said.join("\n   ")));
        }
        block.text.push_str(&rules);
        if stacks.computed.are_in(&rules) {
            block.selectors.push(class.clone());
        }
        if rules.contains(&format!("var({}, ", stacks.properties.fill)) {
            block.filled.push(class.clone());
        }
        if rules.contains(&format!("var({}, ", stacks.properties.height)) {
            block.raised.push(class);
        }
    }
    (!block.text.is_empty()).then_some(block)
}

/// Properties that are computed on the elements of all blocks.
fn computed_rules(stacks: &Stacks<'_>, blocks: &[Block]) -> Option<String> {
    let mut selectors: Vec<String> = Vec::new();
    for selector in blocks.iter().flat_map(|block| &block.selectors) {
        if !selectors.contains(selector) {
            selectors.push(selector.clone());
        }
    }
    if selectors.is_empty() {
        return None;
    }
    let text: String = blocks.iter().map(|block| block.text.as_str()).collect();
    let rules = stacks.computed.rules(&selectors, &text, stacks.themes);
    let rules: Vec<String> = rules.iter().map(|(media, rule)| within(*media, &rule.text())).collect();
    Some(format!("/* Lights and swatches where they are worn. */\n{}", rules.join("\n")))
}

/// Unsets the own fill and the height where their registrations are not heard, so that an element does not inherit them from its
/// parent. It has no specificity: any rule that sets them wins.
fn unset_in_shadow_roots(stacks: &Stacks<'_>, blocks: &[Block]) -> Option<String> {
    let Properties { fill, height, .. } = &stacks.properties;
    let filled: Vec<&str> = blocks.iter().flat_map(|block| &block.filled).map(String::as_str).collect();
    let raised: Vec<&str> = blocks.iter().flat_map(|block| &block.raised).map(String::as_str).collect();
    let set = [(fill, filled), (height, raised)].into_iter().filter(|(_, classes)| !classes.is_empty());
    let rules: Vec<String> = set
        .map(|(property, classes)| {
            let line = crate::css::Declaration::one(property.clone(), "initial");
            let selector = format!(":where(:host) :where({})", classes.join(", "));
            crate::css::Rule { selector, lines: vec![line] }.text()
        })
        .collect();
    let said = || format!("/* In shadow roots registrations are not heard. */\n{}", rules.join("\n"));
    (!rules.is_empty()).then(said)
}

/// The declarations of classes under a reader's preference; those with the same declarations share a rule.
fn preferred_rules(blocks: &[Block]) -> Option<String> {
    let mut together: Vec<MediaRule> = Vec::new();
    for one in blocks.iter().flat_map(|block| &block.preferred) {
        let same = |other: &&mut MediaRule| other.media == one.media && other.rule.lines == one.rule.lines;
        match together.iter_mut().find(same) {
            Some(other) => {
                other.rule.selector.push_str(",\n");
                other.rule.selector.push_str(&one.rule.selector);
            }
            None => together.push(one.clone()),
        }
    }
    (!together.is_empty()).then(|| text(&together))
}

/// The rules that begin themes, as far as they are asked for.
pub(super) fn theme_rules(themes: &Themes<'_>, body: &str) -> String {
    let rules: Vec<String> = themes.rules(body).iter().map(crate::css::Rule::text).collect();
    if rules.is_empty() { String::new() } else { format!("/* Where themes begin. */\n{}", rules.join("\n")) }
}

/// Registered properties: the own fill and the height, so that an element does not inherit them from the one around it; by choice
/// lights, so that they can be animated (CSS Properties and Values API 1, "The @property Rule").
pub(super) fn registrations(stacks: &Stacks<'_>, body: &str) -> String {
    let mut blocks = Vec::new();
    for own in [&stacks.properties.fill, &stacks.properties.height] {
        if body.contains(&format!("var({own}, ")) {
            blocks.push(format!("@property {own} {{\n  syntax: \"*\";\n  inherits: false;\n}}\n"));
        }
    }
    if stacks.wanted.register_lights && stacks.wanted.style == Style::Living {
        for light in &stacks.project.lights {
            let name = stacks.names.property(&format!("light-{}", stacks.names.lights[&light.id]));
            let Some(theme) = stacks.themes.all.first().filter(|_| body.contains(&format!("var({name}, ")))
            else {
                continue;
            };
            let angle = stacks.angle(theme, &light.id);
            blocks.push(format!(
                "@property {name} {{\n  syntax: \"<angle>\";\n  inherits: true;\n  initial-value: {angle};\n}}\n"
            ));
        }
    }
    blocks.join("\n")
}

/// A sheet in its cascade layer, where it has one (CSS Cascading and Inheritance 5, "Layering").
pub(super) fn in_layer(wanted: &SheetOptions, body: &str) -> String {
    match wanted.layer.as_ref().filter(|layer| !layer.is_empty() && !body.is_empty()) {
        Some(layer) => format!("@layer {} {{\n{}}}\n", layer.as_str(), indented(body)),
        None => body.to_owned(),
    }
}

/// Parts that are not empty, a line between them.
pub(super) fn join_blocks(parts: impl IntoIterator<Item = String>) -> String {
    parts.into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("\n")
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

/// The class of a finish with what is computed on its elements, as the body of a rule that other rules are nested in (CSS Nesting
/// 1).
pub(super) fn nested_body(stacks: &Stacks<'_>, finish: &Finish, on: TrialPiece) -> String {
    let table = stacks.class(finish, on);
    let rules = table.rules(&Subject::new("&"), stacks.themes, stacks.names, false);
    let said = text(&rules);
    if said.is_empty() {
        return String::new();
    }
    let computed = stacks.computed.rules(&["&".to_owned()], &said, stacks.themes);
    let all = computed.into_iter().chain(rules.into_iter().map(|one| (one.media, one.rule)));
    let (mut own, mut others): (Vec<_>, Vec<String>) = (Vec::new(), Vec::new());
    for (media, rule) in all {
        match media {
            None if rule.selector == "&" => own.extend(rule.lines),
            // What holds for the same element stands without a rule of its own.
            Some(media) if rule.selector == "&" => {
                let lines: String = rule.lines.iter().map(|line| line.text(2)).collect();
                others.push(format!("@media {media} {{\n{lines}}}\n"));
            }
            media => others.push(within(media, &rule.text())),
        }
    }
    let own: String = own.iter().map(|line| line.text(0)).collect();
    join_blocks(std::iter::once(own).chain(others))
}
