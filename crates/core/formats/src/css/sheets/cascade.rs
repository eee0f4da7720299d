//! Which declarations win on an element (CSS Cascade 5, section 6: importance, layers, specificity, order of appearance).

use std::cmp::{Ordering, Reverse};
use std::collections::{BinaryHeap, HashMap, HashSet};

use super::conditions::Window;
use super::element::Page;
use super::parse::{Declaration, Sheet};
use super::selector::{Component, Selector};

/// A sheet, ready to be asked about elements.
pub(super) struct Cascade<'s> {
    pub sheet: &'s Sheet,
    ranks: Vec<usize>,
    /// The names of all that is declared, numbered.
    names: HashMap<&'s str, usize>,
    /// For each rule the number of each declaration's name, and which it is: by name.
    by_name: Vec<Vec<(usize, usize)>>,
    index: Index,
    /// Which rules hold in a light window, and in a dark one.
    holds: [Vec<bool>; 2],
    /// Rules that ask which of its siblings an element is.
    ask_for_place: HashSet<usize>,
}

/// Where in its sheet a selector is: the rule, and which of its selectors.
type Entry = (usize, usize);

/// Selectors by the conditions of their last part, or else by a class or id of an element around, so that few have to
/// be tried on an element.
#[derive(Default)]
struct Index {
    ids: HashMap<String, Vec<Entry>>,
    classes: HashMap<String, Vec<Entry>>,
    /// By the class of an element that has to lie somewhere on the page.
    around_classes: HashMap<String, Vec<Entry>>,
    around_ids: HashMap<String, Vec<Entry>>,
    tags: HashMap<String, Vec<Entry>>,
    root: Vec<Entry>,
    others: Vec<Entry>,
}

/// A rule that matches an element.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Match {
    rank: usize,
    specificity: u32,
    pub rule: usize,
}

/// How strong a declaration is; the greatest wins.
type Strength = (bool, Reverse<usize>, usize, u32, usize, usize);

/// A declaration that applies to an element; the strongest is the greatest.
#[derive(Clone, Copy)]
pub(super) struct Applied<'s> {
    strength: Strength,
    pub declaration: &'s Declaration,
}

impl<'s> Cascade<'s> {
    pub fn new(sheet: &'s Sheet) -> Self {
        let holds = [false, true].map(|dark| {
            let window = Window { dark };
            let mut known = HashMap::new();
            let mut of = |rule: &'s super::parse::StyleRule| {
                rule.conditions.iter().all(|one| *known.entry(one).or_insert_with(|| one.holds(window)))
            };
            sheet.rules.iter().map(&mut of).collect()
        });
        let mut names: HashMap<&str, usize> = HashMap::new();
        let mut numbered = |declaration: &'s Declaration| {
            let next = names.len();
            *names.entry(declaration.name.as_str()).or_insert(next)
        };
        let by_name = sheet.rules.iter().map(|rule| {
            let declarations = rule.declarations.iter().enumerate();
            let mut named: Vec<_> = declarations.map(|(at, one)| (numbered(one), at)).collect();
            named.sort_unstable();
            named
        });
        let by_name = by_name.collect();
        let ask_for_place = sheet.rules.iter().enumerate().filter(|(_, rule)| asks_for_place(&rule.text));
        let ask_for_place = ask_for_place.map(|(at, _)| at).collect();
        Self {
            sheet,
            ranks: sheet.layers.ranks(),
            names,
            by_name,
            index: Index::new(sheet),
            holds,
            ask_for_place,
        }
    }

    /// Whether a rule matches an element only because of which of its siblings it is.
    pub fn depends_on_place(&self, page: &Page, at: usize, window: Window) -> bool {
        !self.ask_for_place.is_empty()
            && self.matches(page, at, window).iter().any(|one| self.ask_for_place.contains(&one.rule))
    }

    /// Whether a rule applies in a window at all.
    pub fn holds(&self, rule: usize, window: Window) -> bool {
        self.holds[usize::from(window.dark)][rule]
    }

    pub fn selector(&self, (rule, selector): Entry) -> &'s Selector {
        &self.sheet.rules[rule].selectors.slice()[selector]
    }

    /// The rules that match an element.
    pub fn matches(&self, page: &Page, at: usize, window: Window) -> Vec<Match> {
        let mut found: HashMap<usize, u32> = HashMap::new();
        for entry in self.index.candidates(page, at) {
            let selector = self.selector(entry);
            if self.holds(entry.0, window) && page.matches(selector, at) {
                let specificity = found.entry(entry.0).or_default();
                *specificity = (*specificity).max(selector.specificity());
            }
        }
        let rank = |rule: usize| self.sheet.rules[rule].layer.map_or(usize::MAX, |layer| self.ranks[layer]);
        found.into_iter().map(|(rule, specificity)| Match { rank: rank(rule), specificity, rule }).collect()
    }

    /// The declarations of these properties among rules that match, the strongest first.
    pub fn declared(&self, matches: &[Match], names: &[&str]) -> impl Iterator<Item = Applied<'s>> + use<'s> {
        let mut found: Vec<Applied<'s>> = Vec::new();
        let names: Vec<usize> = names.iter().filter_map(|name| self.names.get(name)).copied().collect();
        for one in matches {
            let rule = &self.sheet.rules[one.rule];
            let named = &self.by_name[one.rule];
            for name in &names {
                let first = named.partition_point(|(other, _)| other < name);
                for (_, at) in named[first..].iter().take_while(|(other, _)| other == name) {
                    let declaration = &rule.declarations[*at];
                    // Important declarations of earlier layers win.
                    let (early, late) = if declaration.important { (one.rank, 0) } else { (0, one.rank) };
                    let strength =
                        (declaration.important, Reverse(early), late, one.specificity, one.rule, *at);
                    found.push(Applied { strength, declaration });
                }
            }
        }
        // Few are asked for beside the strongest.
        let mut heap = BinaryHeap::from(found);
        std::iter::from_fn(move || heap.pop())
    }

    /// Whether any rule sets a custom property.
    pub fn sets(&self, name: &str) -> bool {
        self.sheet.registered.contains_key(name) || self.names.contains_key(name)
    }
}

/// Whether selectors ask which of its siblings an element is (Selectors 4, "Tree-Structural pseudo-classes").
fn asks_for_place(selectors: &str) -> bool {
    const NAMES: [&str; 4] = [":first-", ":last-", ":only-", ":nth-"];
    let parts = NAMES.iter().flat_map(|name| selectors.match_indices(name));
    let mut places = parts.map(|(at, _)| at);
    // `::first-line` and `::first-letter` are parts of an element.
    places.any(|at| !selectors[..at].ends_with(':'))
}

impl PartialEq for Applied<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.strength == other.strength
    }
}

impl Eq for Applied<'_> {}

impl PartialOrd for Applied<'_> {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl Ord for Applied<'_> {
    fn cmp(&self, other: &Self) -> Ordering {
        self.strength.cmp(&other.strength)
    }
}

impl Applied<'_> {
    /// Whether it is stronger than another.
    pub fn beats(&self, other: &Self) -> bool {
        self.strength > other.strength
    }
}

impl Index {
    fn new(sheet: &Sheet) -> Self {
        let mut index = Self::default();
        for (rule, one) in sheet.rules.iter().enumerate() {
            for (at, selector) in one.selectors.slice().iter().enumerate() {
                index.add((rule, at), selector);
            }
        }
        index
    }

    fn add(&mut self, entry: Entry, selector: &Selector) {
        // What a pseudo-element belongs to is another element than the one that is matched.
        if selector.pseudo_element().is_some() {
            return self.others.push(entry);
        }
        let parts: Vec<&Component> = selector.iter().collect();
        let id = parts.iter().find_map(|part| match part {
            Component::ID(id) => Some(&id.0),
            _ => None,
        });
        if let Some(id) = id {
            return self.ids.entry(id.clone()).or_default().push(entry);
        }
        let class = parts.iter().find_map(|part| match part {
            Component::Class(class) => Some(&class.0),
            _ => None,
        });
        if let Some(class) = class {
            return self.classes.entry(class.clone()).or_default().push(entry);
        }
        for part in selector.iter_raw_match_order() {
            let list = match part {
                Component::Class(class) => self.around_classes.entry(class.0.clone()).or_default(),
                Component::ID(id) => self.around_ids.entry(id.0.clone()).or_default(),
                _ => continue,
            };
            return list.push(entry);
        }
        for part in &parts {
            let list = match part {
                Component::LocalName(local) => self.tags.entry(local.lower_name.0.clone()).or_default(),
                Component::Root => &mut self.root,
                _ => continue,
            };
            return list.push(entry);
        }
        self.others.push(entry);
    }

    fn candidates<'i>(&'i self, page: &'i Page, at: usize) -> impl Iterator<Item = Entry> + 'i {
        let element = page.element(at);
        let of = |map: &'i HashMap<String, Vec<Entry>>, name: &str| map.get(name).into_iter().flatten();
        let root = (at == Page::ROOT).then_some(&self.root).into_iter().flatten();
        let ids = element.attribute("id").map(|id| of(&self.ids, id)).into_iter().flatten();
        let classes = element.classes().flat_map(move |class| of(&self.classes, class));
        let around = page.elements().iter().flat_map(move |other| {
            let ids = other.attribute("id").map(|id| of(&self.around_ids, id)).into_iter().flatten();
            other.classes().flat_map(move |class| of(&self.around_classes, class)).chain(ids)
        });
        let tags = of(&self.tags, &element.tag);
        self.others.iter().chain(root).chain(ids).chain(classes).chain(around).chain(tags).copied()
    }
}
