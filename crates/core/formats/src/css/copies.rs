//! A piece's rules in the forms that people paste: declarations, custom properties, a utility class, a style object.

use serde::Serialize;

use super::declare::Declaration;
use super::rule::Rule;

/// The piece at rest, in each form.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Copies {
    /// Declarations without a selector.
    pub declarations: String,
    /// Each declaration of its depth as a custom property that is named after the piece.
    pub properties: String,
    /// Utility classes with arbitrary properties: `[property:value]`, spaces as underscores.
    pub utilities: String,
    /// The value of a React element's `style`.
    pub react: String,
}

/// The piece at rest without its size, its letters and its fill.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DepthAlone {
    /// CSS rules: the piece at rest, then its states. Empty where nothing of it is depth.
    pub css: String,
    /// Declarations without a selector.
    pub declarations: String,
    /// The value of a React element's `style`.
    pub react: String,
}

/// Declarations that belong to the properties of depth when these are written.
const WITH_DEPTH: [&str; 4] = ["-webkit-backdrop-filter", "box-sizing", "margin", "transition"];

/// Declarations in two parts: depth; and the size, the letters and the fill. Tints and highlights are layers of a
/// background, which then is depth, too.
pub(super) fn split_layers(
    lines: Vec<Declaration>,
    has_layers: bool,
) -> (Vec<Declaration>, Vec<Declaration>) {
    let is_depth = |line: &Declaration| {
        let name = line.name.as_ref();
        let is_background = name.trim_start_matches("-webkit-").starts_with("background");
        DEPTH.contains(&name) || WITH_DEPTH.contains(&name) || (has_layers && is_background)
    };
    lines.into_iter().partition(is_depth)
}

/// Properties of depth, without those of layout.
const DEPTH: [&str; 5] = ["box-shadow", "text-shadow", "filter", "backdrop-filter", "border"];

/// The declarations of depth of a piece's first rule, as they stand in a style sheet.
pub(super) fn depth_of(rules: &[Rule]) -> String {
    let lines = rules.first().into_iter().flat_map(|rule| &rule.lines);
    lines.filter(|line| DEPTH.contains(&line.name.as_ref())).map(|line| line.text(0)).collect()
}

/// The forms of the rules of a piece of this class.
pub(super) fn copies(class: &str, rules: &[Rule]) -> Copies {
    let lines: &[Declaration] = rules.first().map_or(&[], |rule| &rule.lines);
    let depth = || lines.iter().filter(|line| DEPTH.contains(&line.name.as_ref()));
    let property = |line: &Declaration| {
        Declaration { name: format!("--{class}-{}", line.name).into(), values: line.values.clone() }.text(0)
    };
    let utilities: Vec<String> =
        depth().map(|line| format!("[{}:{}]", line.name, spaceless(&line.value()))).collect();
    Copies {
        declarations: declarations(lines),
        properties: depth().map(property).collect(),
        utilities: utilities.join(" "),
        react: react(lines),
    }
}

/// Declarations without a selector.
pub(super) fn declarations(lines: &[Declaration]) -> String {
    lines.iter().map(|line| line.text(0)).collect()
}

/// A style object.
pub(super) fn react(lines: &[Declaration]) -> String {
    let plain = lines.iter().filter(|line| !line.name.starts_with("-webkit-"));
    let fields: String = plain
        .map(|line| format!("  {}: '{}',\n", camel(&line.name), line.value().replace('\'', "\\'")))
        .collect();
    format!("{{\n{fields}}}\n")
}

/// A value inside a class: spaces become underscores, and underscores are escaped.
fn spaceless(value: &str) -> String {
    value.replace('_', "\\_").replace(", ", ",").replace(' ', "_")
}

/// `box-shadow` as `boxShadow`.
fn camel(name: &str) -> String {
    let mut parts = name.split('-');
    let mut text = parts.next().unwrap_or_default().to_owned();
    for part in parts {
        let mut letters = part.chars();
        text.extend(letters.next().map(|first| first.to_ascii_uppercase()));
        text.push_str(letters.as_str());
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_form_says_the_same() {
        let shadow = Declaration {
            name: "box-shadow".into(),
            values: vec!["0 1px 2px #000".to_owned(), "0 6px 16px -4px rgb(0 0 0 / 20%)".to_owned()],
        };
        let rule =
            Rule { selector: ".card".to_owned(), lines: vec![Declaration::one("width", "20px"), shadow] };
        let copies = copies("card", &[rule]);
        assert_eq!(copies.utilities, "[box-shadow:0_1px_2px_#000,0_6px_16px_-4px_rgb(0_0_0_/_20%)]");
        assert_eq!(
            copies.react,
            "{\n  width: '20px',\n  boxShadow: '0 1px 2px #000, 0 6px 16px -4px rgb(0 0 0 / 20%)',\n}\n"
        );
        assert!(
            copies.properties.starts_with("--card-box-shadow:\n  0 1px 2px #000,\n"),
            "{}",
            copies.properties
        );
        assert!(copies.declarations.starts_with("width: 20px;\nbox-shadow:\n"), "{}", copies.declarations);
    }
}
