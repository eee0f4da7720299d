//! The finishes as SCSS: variables for lights and swatches, and a mixin for each finish.

use super::cascade::{Table, ThemedRule, comment};
use super::links::{FILL, GROUND, Properties};
use super::names::Names;
use super::options::{SheetOptions, Style};
use super::stacks::Stacks;
use crate::asset::Assets;
use crate::colour::css_text;
use crate::lower::TrialPiece;
use crate::model::{Finish, Project};

/// The finishes as SCSS mixins. In living style, variables hold the custom properties of lights and swatches with the value
/// that they have in the first theme, for pages without our style sheet.
#[must_use]
pub fn scss(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let names = Names::of(project);
    let properties = Properties::of(&names);
    let stacks = Stacks { project, assets, wanted, names: &names, properties: &properties };
    let mut blocks = Vec::new();
    for finish in wanted.finishes(project) {
        for on in wanted.forms(project, finish) {
            blocks.extend(mixin(&stacks, finish, on));
        }
    }
    let body = blocks.join("\n");
    let (variables, body) = match wanted.style {
        Style::Living => variables(&stacks, &body),
        Style::Flat => (String::new(), body),
    };
    let parts = [format!("// {}\n", comment(&project.name)), variables, body];
    parts.into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("\n")
}

/// The variables that a text refers to, and the text with them in place of custom properties.
fn variables(stacks: &Stacks<'_>, body: &str) -> (String, String) {
    let Stacks { project, wanted, properties, .. } = stacks;
    let themes = wanted.themes(project);
    let Some(first) = themes.first() else { return (String::new(), body.to_owned()) };
    let lights = properties.lights.iter().map(|(id, name)| (name.as_str(), stacks.angle(first, id)));
    let swatches =
        properties.swatches.iter().map(|(id, name)| (name.as_str(), css_text(stacks.swatch(first, id))));
    let own = [(FILL, "#fff".to_owned()), (GROUND, "#fff".to_owned())];
    let mut written = Written { variables: Vec::new(), body: body.to_owned() };
    // What follows from a light comes before the light, for it refers to it.
    let vectors: Vec<_> = properties.lights.keys().filter_map(|id| properties.vector(id)).flatten().collect();
    for line in &vectors {
        written.replace(&line.name, &line.values.concat());
    }
    for (name, value) in lights.chain(swatches).chain(own) {
        written.replace(name, &format!("var({name}, {value})"));
    }
    written.variables.reverse();
    (written.variables.concat(), written.body)
}

/// Variables, the last that is needed first, and the text that refers to them.
struct Written {
    variables: Vec<String>,
    body: String,
}

impl Written {
    fn replace(&mut self, name: &str, value: &str) {
        let (used, variable) = (format!("var({name})"), name.trim_start_matches('-'));
        if !self.body.contains(&used) && !self.variables.iter().any(|line| line.contains(&used)) {
            return;
        }
        let reference = format!("#{{${variable}}}");
        self.body = self.body.replace(&used, &reference);
        for line in &mut self.variables {
            *line = line.replace(&used, &reference);
        }
        self.variables.push(format!("${variable}: {value} !default;\n"));
    }
}

/// The class of a finish as a mixin, with its states and themes nested.
fn mixin(stacks: &Stacks<'_>, finish: &Finish, on: TrialPiece) -> Option<String> {
    let table: Table = stacks.class(finish, on);
    let rules = table.rules("&", false);
    if rules.is_empty() {
        return None;
    }
    let themes = stacks.wanted.themes(stacks.project);
    let mut blocks = Vec::new();
    for ThemedRule { theme, rule } in &rules {
        match themes.get(*theme) {
            Some(other) if *theme > 0 => {
                let place = format!("[data-theme=\"{}\"]", stacks.names.themes[&other.id]);
                blocks.push(rule.within(&place).text());
            }
            _ if rule.selector == "&" => {
                let inner = rule.text();
                let inner = inner.trim_start_matches("& {\n").trim_end_matches("}\n");
                blocks.insert(
                    0,
                    inner
                        .lines()
                        .map(|line| format!("{}\n", line.strip_prefix("  ").unwrap_or(line)))
                        .collect(),
                );
            }
            _ => blocks.push(rule.text()),
        }
    }
    let mut text = format!("@mixin {} {{\n", stacks.names.class(finish, on));
    for line in blocks.join("\n").lines() {
        text.push_str(&if line.is_empty() { "\n".to_owned() } else { format!("  {line}\n") });
    }
    text.push_str("}\n");
    Some(text)
}
