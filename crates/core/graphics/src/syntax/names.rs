//! Names that are legal, and names that are not taken yet.

use std::collections::{BTreeMap, BTreeSet};

/// Names given so far.
#[derive(Debug, Default)]
pub struct UniqueNames {
    names: BTreeSet<String>,
    /// For each name that was asked for, the last number it was given: lower ones are not free.
    last: BTreeMap<String, usize>,
}

impl UniqueNames {
    /// Takes names that are there already.
    pub fn new<'a>(names: impl IntoIterator<Item = &'a str>) -> Self {
        Self { names: names.into_iter().map(str::to_owned).collect(), last: BTreeMap::new() }
    }

    /// The name, or else the name with the first number from 2 on that makes it free; it is taken from now on.
    pub fn unique(&mut self, name: &str, before_number: char) -> String {
        self.unique_with(name, before_number, &[])
    }

    /// As [`UniqueNames::unique`], where the name with each of `endings` has to be free too.
    pub fn unique_with(&mut self, name: &str, before_number: char, endings: &[&str]) -> String {
        let asked = format!("{name}{before_number}{}", endings.concat());
        let mut number = self.last.get(&asked).copied().unwrap_or(1);
        let numbered = |number: usize| match number {
            1 => name.to_owned(),
            number => format!("{name}{before_number}{number}"),
        };
        let mut tried = numbered(number);
        while all_of(&tried, endings).any(|one| self.names.contains(&one)) {
            number += 1;
            tried = numbered(number);
        }
        self.names.extend(all_of(&tried, endings));
        self.last.insert(asked, number);
        tried
    }
}

/// A name as it is and with each ending.
fn all_of(name: &str, endings: &[&str]) -> impl Iterator<Item = String> {
    std::iter::once(&"").chain(endings).map(move |ending| format!("{name}{ending}"))
}

/// A name as a CSS class: small letters, digits and hyphens, never starting with a digit.
#[must_use]
pub fn slug(name: &str) -> String {
    let mut slug = String::new();
    for letter in name.to_lowercase().chars() {
        if letter.is_alphanumeric() {
            slug.push(letter);
        } else if !slug.is_empty() && !slug.ends_with('-') {
            slug.push('-');
        }
    }
    let slug = slug.trim_end_matches('-');
    match slug.chars().next() {
        None => "piece".to_owned(),
        Some(first) if first.is_ascii_digit() => format!("piece-{slug}"),
        Some(_) => slug.to_owned(),
    }
}
