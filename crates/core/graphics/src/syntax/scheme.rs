//! Files that come as one for each scheme: `light.css` and `dark.css`, `tokens-dark.json` beside `tokens.json`.

/// The scheme that each file is for, by its name: only where another differs from it in nothing but the scheme.
pub fn schemes_of<'n>(names: impl Iterator<Item = &'n str>) -> Vec<Option<&'static str>> {
    let named: Vec<Named> = names.map(Named::new).collect();
    let scheme = |own: &Named| {
        let has_other = named.iter().any(|other| other.rest == own.rest && other.scheme != own.scheme);
        own.scheme.filter(|_| has_other)
    };
    named.iter().map(scheme).collect()
}

/// A file's name as the scheme in it and everything else.
struct Named {
    scheme: Option<&'static str>,
    rest: Vec<String>,
}

impl Named {
    fn new(name: &str) -> Self {
        let (mut scheme, mut rest) = (None, Vec::new());
        for word in name.split(|letter: char| !letter.is_alphanumeric()).filter(|word| !word.is_empty()) {
            let word = word.to_ascii_lowercase();
            match ["light", "dark"].into_iter().find(|scheme| *scheme == word) {
                Some(found) => scheme = Some(found),
                None => rest.push(word),
            }
        }
        Self { scheme, rest }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn files_of_schemes_are_told_by_what_stands_beside_them() {
        let schemes = |names: &[&str]| schemes_of(names.iter().copied());
        assert_eq!(schemes(&["light.css", "dark.css"]), [Some("light"), Some("dark")]);
        assert_eq!(schemes(&["a/theme.css", "a/theme-dark.css"]), [None, Some("dark")]);
        assert_eq!(schemes(&["themes/light/x.css", "themes/dark/x.css"]), [Some("light"), Some("dark")]);
        assert_eq!(schemes(&["dark.css"]), [None]);
        assert_eq!(schemes(&["dark-cards.css", "light.css"]), [None, None]);
    }
}
