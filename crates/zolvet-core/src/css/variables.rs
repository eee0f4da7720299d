//! Custom properties, and the values that refer to them (CSS Custom Properties for Cascading Variables 1).

use std::collections::BTreeMap;

use super::sheet::Rule;

/// The custom properties of a sheet (CSS Custom Properties 1): those of the root first, then whatever else sets them.
pub(super) fn properties(rules: &[Rule]) -> BTreeMap<String, String> {
    let mut properties = BTreeMap::new();
    let is_root = |rule: &&Rule| rule.selectors.iter().any(|one| one == ":root" || one == "html");
    let others = rules.iter().filter(|rule| !is_root(rule));
    for rule in rules.iter().filter(is_root).chain(others) {
        for declaration in
            rule.body.declarations.iter().filter(|declaration| declaration.name.starts_with("--"))
        {
            properties.entry(declaration.name.clone()).or_insert_with(|| declaration.value.clone());
        }
    }
    properties
}

/// The custom properties that the values of one rule are looked up in, and how much may still be looked up.
pub(super) struct Scope<'a> {
    /// Those of the rule itself.
    pub own: &'a BTreeMap<&'a str, &'a str>,
    /// Those of the whole sheet.
    pub sheet: &'a BTreeMap<String, String>,
    /// The remaining expansion allowed for the whole sheet.
    pub room: &'a mut Room,
}

/// Substitutions of `var()` and characters they bring, as far as they are still allowed.
pub(super) struct Room {
    substitutions: usize,
    characters: usize,
}

impl Default for Room {
    fn default() -> Self {
        Self { substitutions: 200_000, characters: 16 << 20 }
    }
}

impl Room {
    fn take(&mut self, characters: usize) -> Result<(), String> {
        let left = self.substitutions.checked_sub(1).zip(self.characters.checked_sub(characters));
        let (substitutions, characters) = left.ok_or_else(|| {
            "expected at most 200000 var() that bring 16 MB in all: the sheet has more".to_owned()
        })?;
        *self = Self { substitutions, characters };
        Ok(())
    }
}

impl Scope<'_> {
    /// A value with every `var()` replaced by what it stands for in the rule or the sheet.
    ///
    /// # Errors
    /// The name of a property that is set nowhere and has no fallback, or that leads back to itself; or what of the sheet
    /// is too much.
    pub fn substituted(&mut self, value: &str) -> Result<String, String> {
        self.within(value, 0)
    }

    /// As [`Self::substituted`], for a value that `depth` other values led to. Only these are stacked: however many
    /// `var()` one value has, they are replaced one after the other.
    fn within(&mut self, value: &str, depth: usize) -> Result<String, String> {
        let (mut result, mut rest) = (String::new(), value);
        while let Some(start) = rest.find("var(") {
            result.push_str(&rest[..start]);
            let inside = &rest[start + 4..];
            let close = closing(inside).ok_or_else(|| "a var() that is not closed".to_owned())?;
            let (name, fallback) = match inside[..close].split_once(',') {
                Some((name, fallback)) => (name.trim(), Some(fallback.trim())),
                None => (inside[..close].trim(), None),
            };
            if depth >= MAX_DEPTH {
                return Err(format!("{name} leads back to itself"));
            }
            let found =
                self.own.get(name).copied().or_else(|| self.sheet.get(name).map(String::as_str)).or(fallback);
            let found = found.ok_or_else(|| format!("{name} is set nowhere"))?.to_owned();
            self.room.take(found.len())?;
            result.push_str(&self.within(&found, depth + 1)?);
            if result.len() > MAX_LENGTH {
                return Err(format!("{name} makes it longer than {MAX_LENGTH} characters"));
            }
            rest = &inside[close + 1..];
        }
        result.push_str(rest);
        Ok(result)
    }
}

/// Where the bracket that was opened before a text is closed in it.
pub(super) fn closing(inside: &str) -> Option<usize> {
    let mut open = 1_usize;
    inside.bytes().position(|letter| {
        match letter {
            b'(' => open += 1,
            b')' => open -= 1,
            _ => {}
        }
        open == 0
    })
}

/// Values that lead to one another.
const MAX_DEPTH: usize = 16;
/// Characters a value may grow to.
const MAX_LENGTH: usize = 100_000;
