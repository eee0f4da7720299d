//! What a living sheet computes on each element that wears a finish: where shadows fall under a light, and the colour of a
//! swatch in the theme around it. It is computed there and not on the root, so that a light or a swatch set on any part of a
//! page, or outside a shadow root, reaches it; and what is set nowhere falls back to the project's own value.

use super::links::{LightProperties, Properties};
use super::names::Names;
use super::themes::Themes;
use crate::css::{Declaration, Rule};
use crate::model::Id;

/// A custom property that is computed on each element.
#[derive(Debug)]
struct Computed {
    name: String,
    definition: Definition,
}

#[derive(Debug)]
enum Definition {
    /// The same in every theme.
    Plain(String),
    /// A property that a page may set, and its fallback in each theme.
    Settable { property: String, key: String, values: Vec<String> },
}

/// Everything that a sheet computes on elements.
#[derive(Debug, Default)]
pub(super) struct ComputedProperties(Vec<Computed>);

impl ComputedProperties {
    /// Properties of lights and swatches, by their angle or colour in each theme, and how values refer to them.
    pub fn new<'v>(
        names: &Names,
        lights: impl Iterator<Item = (&'v Id, Vec<String>)>,
        swatches: impl Iterator<Item = (&'v Id, Vec<String>)>,
    ) -> (Self, Properties) {
        let mut all = Vec::new();
        let mut properties = Properties {
            fill: names.property("fill"),
            ground: names.property("ground"),
            height: names.property("height"),
            ..Properties::default()
        };
        for (id, angles) in lights {
            let name = &names.lights[id];
            let angle = settable(&mut all, names, format!("light-{name}"), angles);
            let [x, y] = ["x", "y"].map(|axis| names.inner(&format!("{name}--{axis}")));
            for (axis, text) in
                [(&x, format!("calc(-1px * sin({angle}))")), (&y, format!("calc(1px * cos({angle}))"))]
            {
                all.push(Computed { name: axis.clone(), definition: Definition::Plain(text) });
            }
            properties.lights.insert(id.clone(), LightProperties { angle, x, y });
        }
        for (id, colours) in swatches {
            let text = settable(&mut all, names, format!("colour-{}", names.swatches[id]), colours);
            properties.swatches.insert(id.clone(), text);
        }
        (Self(all), properties)
    }

    /// The declarations that a text refers to, where `base` is the theme of pages that begin none.
    pub fn lines(&self, text: &str, themes: &Themes<'_>, base: usize) -> Vec<Declaration> {
        let lines = self.used(text).into_iter().flat_map(|one| one.lines(themes, base));
        lines.collect()
    }

    /// Whether a text refers to any of them.
    pub fn are_in(&self, text: &str) -> bool {
        self.0.iter().any(|one| refers(text, &one.name))
    }

    /// The properties that a text refers to, directly and through others.
    fn used(&self, text: &str) -> Vec<&Computed> {
        let mut used: Vec<&Computed> = Vec::new();
        // What others are made from stands before them.
        for one in self.0.iter().rev() {
            let by_other = |other: &&Computed| matches!(&other.definition, Definition::Plain(text) if refers(text, &one.name));
            if refers(text, &one.name) || used.iter().any(by_other) {
                used.push(one);
            }
        }
        used.reverse();
        used
    }

    /// The rule of these selectors, whose declarations are in `text`, and its changes under a reader's preference.
    pub fn rules(
        &self,
        selectors: &[String],
        text: &str,
        themes: &Themes<'_>,
    ) -> Vec<(Option<&'static str>, Rule)> {
        let selector = match selectors {
            // The rule of the class itself has this selector.
            [one] if one != "&" => format!(":where({one})"),
            several => several.join(",\n"),
        };
        let rest = self.lines(text, themes, 0);
        let mut rules = Vec::new();
        for (media, base) in themes.preferred() {
            let lines = self.lines(text, themes, base);
            let changed: Vec<Declaration> = lines.into_iter().filter(|line| !rest.contains(line)).collect();
            if !changed.is_empty() {
                rules.push((Some(media), Rule { selector: selector.clone(), lines: changed }));
            }
        }
        if !rest.is_empty() {
            rules.insert(0, (None, Rule { selector, lines: rest }));
        }
        rules
    }
}

impl Computed {
    fn lines(&self, themes: &Themes<'_>, base: usize) -> Vec<Declaration> {
        match &self.definition {
            Definition::Plain(text) => vec![Declaration::one(self.name.clone(), text.clone())],
            Definition::Settable { property, key, values } => {
                let choice = themes.choose(key, values, base);
                let value = format!("var({property}, {})", choice.value);
                let mut lines = choice.helpers;
                lines.push(Declaration::one(self.name.clone(), value));
                lines
            }
        }
    }
}

/// The declaration of a property that a page may set: with its value, or computed where that depends on the theme.
fn settable(all: &mut Vec<Computed>, names: &Names, key: String, values: Vec<String>) -> String {
    let property = names.property(&key);
    if values.windows(2).all(|pair| pair[0] == pair[1]) {
        return super::links::reference(&property, values.first().map_or("", String::as_str));
    }
    let name = names.inner(&format!("{key}--now"));
    let text = format!("var({name})");
    all.push(Computed { name, definition: Definition::Settable { property, key, values } });
    text
}

fn refers(text: &str, name: &str) -> bool {
    text.contains(&format!("var({name})"))
}
