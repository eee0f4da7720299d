//! Names that are not taken yet.

use std::collections::BTreeSet;

/// Names given so far.
#[derive(Debug, Default)]
pub(crate) struct Taken(BTreeSet<String>);

impl Taken {
    /// Takes names that are there already.
    pub fn of<'a>(names: impl IntoIterator<Item = &'a str>) -> Self {
        Self(names.into_iter().map(str::to_owned).collect())
    }

    /// The name, or else the name with the first number from 2 on that makes it free; it is taken from now on.
    pub fn free(&mut self, name: &str, before_number: char) -> String {
        self.free_with(name, before_number, &[])
    }

    /// As [`Taken::free`], where the name with each of `endings` has to be free too.
    pub fn free_with(&mut self, name: &str, before_number: char, endings: &[&str]) -> String {
        let mut tried = name.to_owned();
        let mut number = 1;
        while std::iter::once(&"").chain(endings).any(|ending| self.0.contains(&format!("{tried}{ending}"))) {
            number += 1;
            tried = format!("{name}{before_number}{number}");
        }
        for ending in std::iter::once(&"").chain(endings) {
            self.0.insert(format!("{tried}{ending}"));
        }
        tried
    }
}
