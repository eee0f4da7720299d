//! Selectors for an element, such as a person would write (docs/pages.md, "Selectors").

use std::collections::BTreeMap;

use cssparser::{serialize_identifier, serialize_string};
use scraper::{ElementRef, Html, Selector};
use serde::Serialize;

use crate::names::{is_generated, stable_start};
use crate::rebuild::{ELEMENT, parsed};

/// Selectors for an element.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Offers {
    /// The element alone.
    pub this: Offer,
    /// It and those that are like it: first those with all of its classes.
    pub alike: Vec<Offer>,
}

/// A selector.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Offer {
    /// The selector.
    pub selector: String,
    /// How many elements it selects.
    pub count: usize,
    /// Whether names in it are of a kind that a build generates.
    pub generated: bool,
}

/// Selectors for the element with a number in a rebuilt page; `None` where it has no such element.
#[must_use]
pub fn offers(html: &str, element: usize) -> Option<Offers> {
    let page = parsed(html);
    let own = Selector::parse(&format!("[{ELEMENT}=\"{element}\"]")).ok()?;
    let found = page.select(&own).next()?;
    let search = Search { page: &page };
    let alike = search.alike(found);
    let this = alike.iter().find(|offer| offer.count == 1).cloned().or_else(|| search.alone(found))?;
    Some(Offers { this, alike })
}

/// Classes of an element that are put together.
const MAX_CLASSES: usize = 12;
/// Selectors for more than one element that are offered.
const MAX_ALIKE: usize = 4;

/// Tags that say what an element is.
const TELLING: [&str; 17] = [
    "button",
    "input",
    "textarea",
    "select",
    "dialog",
    "details",
    "summary",
    "article",
    "aside",
    "nav",
    "header",
    "footer",
    "main",
    "table",
    "fieldset",
    "blockquote",
    "figure",
];

struct Search<'a> {
    page: &'a Html,
}

impl Search<'_> {
    /// The numbers of the elements that a selector selects.
    fn selected(&self, selector: &str) -> Vec<usize> {
        let Ok(selector) = Selector::parse(selector) else { return Vec::new() };
        self.page.select(&selector).filter_map(number_of).collect()
    }

    fn alike(&self, element: ElementRef<'_>) -> Vec<Offer> {
        let Some(own) = number_of(element) else { return Vec::new() };
        let tag = element.value().name();
        let (classes, built) = classes_of(element);
        // The selector of each set of elements that a person would write first.
        let mut sets: BTreeMap<Vec<usize>, String> = BTreeMap::new();
        for selector in candidates(element, &classes, &built) {
            let set = self.selected(&selector);
            if !set.contains(&own) {
                continue;
            }
            let rank =
                |selector: &str| (has_any(&built, selector), kind_of(selector, &classes), selector.len());
            let best = sets.entry(set).or_insert_with(|| selector.clone());
            if rank(&selector) < rank(best) {
                *best = selector;
            }
        }
        let all: String = classes.iter().map(|class| class_selector(class)).collect();
        let same = self.selected(&all);
        let is_coherent =
            |set: &[usize]| set.iter().all(|number| self.tag_of(*number).as_deref() == Some(tag));
        let mut found: Vec<(bool, usize, Offer)> = sets
            .into_iter()
            .filter(|(set, _)| *set == same || is_coherent(set))
            .map(|(set, selector)| {
                let generated = has_any(&built, &selector);
                (set != same, set.len(), Offer { selector, count: set.len(), generated })
            })
            .collect();
        found.sort_by_key(|(is_other, count, offer)| (offer.generated, *is_other, *count));
        found.into_iter().map(|(_, _, offer)| offer).take(MAX_ALIKE).collect()
    }

    fn tag_of(&self, number: usize) -> Option<String> {
        let selector = Selector::parse(&format!("[{ELEMENT}=\"{number}\"]")).ok()?;
        self.page.select(&selector).next().map(|element| element.value().name().to_owned())
    }

    /// The element alone: by its id, by what it lies in, else by its place there.
    fn alone(&self, element: ElementRef<'_>) -> Option<Offer> {
        let own = number_of(element)?;
        let offer = |selector: String| Offer { selector, count: 1, generated: false };
        let is_it = |selector: &str| self.selected(selector) == [own];
        if let Some(id) = id_of(element).filter(|id| is_it(id)) {
            return Some(offer(id));
        }
        let mut path = step(element);
        let mut inner = element;
        while let Some(around) = inner.parent().and_then(ElementRef::wrap) {
            if let Some(id) = id_of(around) {
                let within = format!("{id} {path}");
                if is_it(&within) {
                    return Some(offer(within));
                }
            }
            let (classes, _) = classes_of(around);
            let within = classes.iter().map(|class| format!("{} {path}", class_selector(class)));
            if let Some(selector) = within.into_iter().find(|selector| is_it(selector)) {
                return Some(offer(selector));
            }
            if !is_it(&format!("{} > {path}", step(around))) {
                path = placed(inner, &path);
            }
            path = format!("{} > {path}", step(around));
            if is_it(&path) {
                return Some(offer(path));
            }
            inner = around;
        }
        is_it(&path).then(|| offer(path))
    }
}

/// Whether one of some names stands in a selector.
fn has_any(names: &[String], selector: &str) -> bool {
    names.iter().any(|name| selector.contains(name.as_str()))
}

/// How soon a person would write a selector: classes that name something, the same with others, attributes, tags, and classes alone
/// that only say how something looks.
fn kind_of(selector: &str, classes: &[String]) -> u8 {
    let said = |class: &&String| {
        selector.ends_with(&class_selector(class)) || selector.contains(&(class_selector(class) + "."))
    };
    match selector.as_bytes().first() {
        Some(b'.') => {
            let said: Vec<&String> = classes.iter().filter(said).collect();
            let looks = said.iter().filter(|class| says_a_look(class)).count();
            match looks {
                0 => 0,
                _ if looks < said.len() || said.len() == classes.len() => 1,
                _ => 4,
            }
        }
        Some(b'[') => 2,
        _ => 3,
    }
}

/// Whether a class is one of those that say one thing of how an element looks, such as `px-4`, or its state, such as `is-open`.
fn says_a_look(class: &str) -> bool {
    let start = class.split('-').next().unwrap_or_default();
    (class.contains('-') && start.len() <= 2)
        || class.contains(|letter: char| letter.is_ascii_digit() || letter == ':')
}

/// The number of an element of a rebuilt page.
fn number_of(element: ElementRef<'_>) -> Option<usize> {
    element.attr(ELEMENT)?.parse().ok()
}

/// The classes that a person wrote, in their order, and those that a build did.
fn classes_of(element: ElementRef<'_>) -> (Vec<String>, Vec<String>) {
    let mut all: Vec<String> = Vec::new();
    for class in element.attr("class").unwrap_or_default().split_ascii_whitespace().take(MAX_CLASSES) {
        if !all.iter().any(|other| other == class) {
            all.push(class.to_owned());
        }
    }
    all.into_iter().partition(|class| !is_generated(class))
}

fn candidates(element: ElementRef<'_>, classes: &[String], built: &[String]) -> Vec<String> {
    let tag = element.value().name();
    let mut found: Vec<String> = classes.iter().map(|class| class_selector(class)).collect();
    for (at, one) in classes.iter().enumerate() {
        for other in &classes[at + 1..] {
            found.push(class_selector(one) + &class_selector(other));
        }
    }
    if let Some(first) = classes.first() {
        found.push(tag.to_owned() + &class_selector(first));
    }
    found.push(classes.iter().map(|class| class_selector(class)).collect());
    for (name, value) in element.value().attrs() {
        let tells = ["role", "type"].contains(&name) || name.starts_with("data-") && name != ELEMENT;
        if tells && !value.is_empty() && value.len() <= 24 && !is_generated(value) && !is_generated(name) {
            let selector = attribute(name, "=", value);
            found.push(if name == "type" { tag.to_owned() + &selector } else { selector });
        }
    }
    if TELLING.contains(&tag) || tag.contains('-') {
        found.push(tag.to_owned());
    }
    for class in built {
        if let Some(start) = stable_start(class).filter(|start| start.trim_end_matches(['-', '_']).len() >= 4)
        {
            found.push(attribute("class", "*=", start));
        }
        found.push(class_selector(class));
    }
    found.retain(|selector| !selector.is_empty());
    found
}

fn class_selector(class: &str) -> String {
    format!(".{}", identifier(class))
}

fn attribute(name: &str, is: &str, value: &str) -> String {
    let mut text = String::new();
    let _ = serialize_string(value, &mut text);
    format!("[{}{is}{text}]", identifier(name))
}

fn identifier(name: &str) -> String {
    let mut text = String::new();
    let _ = serialize_identifier(name, &mut text);
    text
}

fn id_of(element: ElementRef<'_>) -> Option<String> {
    let id = element.attr("id").filter(|id| !id.is_empty() && !is_generated(id))?;
    Some(format!("#{}", identifier(id)))
}

/// An element on the way to another: its tag and first class.
fn step(element: ElementRef<'_>) -> String {
    let (classes, _) = classes_of(element);
    match classes.first() {
        Some(class) => class_selector(class),
        None => element.value().name().to_owned(),
    }
}

/// A selector with the place of its element among its siblings.
fn placed(element: ElementRef<'_>, path: &str) -> String {
    let before = element.prev_siblings().filter(|node| node.value().is_element()).count();
    let own = step(element);
    let rest = path.strip_prefix(&own).unwrap_or_default();
    format!("{own}:nth-child({}){rest}", before + 1)
}
