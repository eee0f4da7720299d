//! How style sheets tell the theme of a page: by an attribute or a class of its root, or by the reader's preference.

use std::collections::{BTreeMap, BTreeSet, HashSet};

use super::compound::{Chain, ElementConditions};
use super::depth::is_depth;
use super::element::Element;
use super::parse::{Sheet, StyleRule};
use super::text::referred;

/// An attribute or class by which a page says its theme.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) struct Marker {
    attribute: String,
    value: String,
    theme: String,
}

impl Marker {
    /// The name of the theme.
    pub fn theme(&self) -> &str {
        &self.theme
    }

    pub fn set_on(&self, element: &mut Element) {
        element.set(&self.attribute, &self.value);
    }
}

/// The attributes and classes of a sheet that are markers.
#[derive(Debug, Default)]
pub(super) struct Markers {
    found: BTreeMap<Attribute, String>,
}

/// An attribute with its value; classes are values of `class`.
type Attribute = (String, String);

/// A sheet's use of an attribute or class that an element has and nothing else.
#[derive(Default)]
struct Use<'s> {
    /// Custom properties that it sets.
    sets: BTreeSet<&'s str>,
    /// It says something about depth itself.
    is_about_depth: bool,
    /// It stands around other elements.
    is_around: bool,
    /// Only the root or the body is asked for it somewhere.
    is_of_page: bool,
}

/// Themes that are told from classes and attributes without a name that says so.
const MAX_UNNAMED: usize = 6;

impl Markers {
    /// The markers of a sheet, given each rule with one way to read one of its selectors: selectors that are named like
    /// a theme, and those that only give other values to custom properties of the root (common practice, no published
    /// source).
    pub fn new<'s>(sheet: &'s Sheet, ways: impl Iterator<Item = (usize, &'s Chain)>) -> Self {
        let relevant = relevant(sheet);
        let mut uses: BTreeMap<Attribute, Use<'s>> = BTreeMap::new();
        let (mut of_root, mut of_elements) = (BTreeSet::new(), BTreeMap::<&str, BTreeSet<Attribute>>::new());
        for (rule, chain) in ways {
            let rule = &sheet.rules[rule];
            let sets = || set_by(rule).filter(|name| relevant.contains(*name));
            if chain.iter().all(|link| link.asked.is_page()) {
                of_root.extend(sets());
            }
            for (at, link) in chain.iter().enumerate() {
                let Some(attribute) = link.asked.single_attribute() else { continue };
                let known = uses.entry(attribute.clone()).or_default();
                known.is_of_page |= link.asked.tag.is_some() || link.asked.is_root;
                known.is_around |= at > 0;
                if at == 0 {
                    known.sets.extend(sets());
                    known.is_about_depth |= rule.declarations.iter().any(is_depth);
                    for name in sets() {
                        of_elements.entry(name).or_default().insert(attribute.clone());
                    }
                }
            }
        }
        let mut found = BTreeMap::new();
        let mut unnamed = Vec::new();
        for (attribute, known) in &uses {
            let own = |name: &&str| {
                let others = of_elements.get(*name).into_iter().flatten();
                let mut others =
                    others.filter(|other| *other != attribute && !Name::from_attribute(other).is_theme());
                others.next().is_some()
            };
            let name = Name::from_attribute(attribute);
            let overrides = !known.sets.is_empty() && known.sets.iter().all(|name| of_root.contains(name));
            let switches = !known.sets.is_empty() && !known.is_about_depth;
            if name.is_certain()
                || name.is_theme() && (known.is_of_page || known.is_around && name.is_short())
                || name.is_theme() && switches && (overrides || !known.sets.iter().any(own))
            {
                found.insert(attribute.clone(), name.theme());
            } else if switches && overrides {
                unnamed.push((attribute.clone(), name.theme()));
            }
        }
        // Many of them are not themes but values to choose from.
        if unnamed.len() <= MAX_UNNAMED {
            found.extend(unnamed);
        }
        Self { found }
    }

    /// The marker that an element asks for, where that is all it does.
    pub fn asked_by(&self, asked: &ElementConditions) -> Option<Marker> {
        let (attribute, value) = asked.single_attribute()?;
        let theme = self.found.get(&(attribute.clone(), value.clone()))?.clone();
        Some(Marker { attribute, value, theme })
    }
}

/// Custom properties that a rule sets.
fn set_by(rule: &StyleRule) -> impl Iterator<Item = &str> {
    rule.declarations.iter().map(|one| one.name.as_str()).filter(|name| name.starts_with("--"))
}

/// Custom properties that declarations of depth lead to.
fn relevant(sheet: &Sheet) -> HashSet<String> {
    let declarations = || sheet.rules.iter().flat_map(|rule| &rule.declarations);
    let mut by_name: BTreeMap<&str, BTreeSet<String>> = BTreeMap::new();
    for one in declarations().filter(|one| one.name.starts_with("--")) {
        by_name.entry(&one.name).or_default().extend(referred(&one.value));
    }
    let mut open: Vec<String> =
        declarations().filter(|one| is_depth(one)).flat_map(|one| referred(&one.value)).collect();
    let mut found = HashSet::new();
    while let Some(name) = open.pop() {
        if let Some(more) = by_name.get(name.as_str()).filter(|_| !found.contains(&name)) {
            open.extend(more.iter().cloned());
        }
        found.insert(name);
    }
    found
}

/// The name of a class or attribute, as words.
struct Name<'a> {
    attribute: &'a Attribute,
    words: Vec<String>,
}

/// Words for a scheme, with the name of its theme.
const SCHEMES: [(&str, &str); 3] = [("dark", "dark"), ("light", "light"), ("night", "dark")];
/// Words that say that it is a theme.
const KINDS: [&str; 7] = ["theme", "themes", "mode", "scheme", "skin", "palette", "appearance"];
/// Words that say nothing more.
const FILLERS: [&str; 9] = ["color", "colour", "is", "has", "page", "body", "html", "root", "app"];

impl<'a> Name<'a> {
    fn from_attribute(attribute: &'a Attribute) -> Self {
        let (name, value) = attribute;
        let words = |text: &str| -> Vec<String> {
            let words = text.split(|letter: char| !letter.is_alphanumeric());
            words.filter(|word| !word.is_empty()).map(str::to_ascii_lowercase).collect()
        };
        let mut all = words(value);
        if name != "class" {
            all.extend(words(name).into_iter().filter(|word| word != "data"));
        }
        Self { attribute, words: all }
    }

    fn scheme(&self) -> Option<&'static str> {
        SCHEMES.iter().find(|(word, _)| self.words.iter().any(|own| own == word)).map(|(_, theme)| *theme)
    }

    fn has_kind(&self) -> bool {
        self.words.iter().any(|word| KINDS.contains(&word.as_str()))
    }

    /// Whether it names a scheme or a theme.
    fn is_theme(&self) -> bool {
        let is_state = self.attribute.0.starts_with("aria-");
        !is_state && (self.scheme().is_some() || self.has_kind())
    }

    /// Whether the selector can only mean a theme, whatever it declares: `.dark`, `.theme-dark`,
    /// `[data-theme="ocean"]`.
    fn is_certain(&self) -> bool {
        let (name, value) = self.attribute;
        if name == "class" {
            return self.scheme().is_some() && self.others().next().is_none();
        }
        let named = name == "theme" || name.starts_with("data-");
        let ends = ["theme", "scheme", "mode"].iter().any(|end| name.ends_with(end));
        named && ends && !value.is_empty()
    }

    /// Whether besides a scheme there is at most a prefix: `.v-theme--dark`, `.x-dark`, but not `.navbar-dark`.
    fn is_short(&self) -> bool {
        let mut others = self.others();
        let is_prefix = |word: &String| self.has_kind() || word.len() <= 2;
        self.scheme().is_some() && others.next().is_none_or(is_prefix) && others.next().is_none()
    }

    fn others(&self) -> impl Iterator<Item = &String> {
        let is_known = |word: &str| {
            KINDS.contains(&word)
                || FILLERS.contains(&word)
                || SCHEMES.iter().any(|(known, _)| *known == word)
        };
        self.words.iter().filter(move |word| !is_known(word))
    }

    /// The name of the theme: its scheme, where no more than a prefix stands beside it.
    fn theme(&self) -> String {
        let (name, value) = self.attribute;
        let others: Vec<&String> = self.others().collect();
        match self.scheme() {
            Some(scheme) if name == "class" && others.len() <= 1 => scheme.to_owned(),
            Some(scheme) if value.is_empty() || value == "true" => scheme.to_owned(),
            _ if name == "class" && !others.is_empty() => {
                let words = self
                    .words
                    .iter()
                    .filter(|word| !KINDS.contains(&word.as_str()) && !FILLERS.contains(&word.as_str()));
                words.cloned().collect::<Vec<_>>().join("-")
            }
            _ if value.is_empty() => name.to_ascii_lowercase(),
            _ => value.to_ascii_lowercase(),
        }
    }
}
