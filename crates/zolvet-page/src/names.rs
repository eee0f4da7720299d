//! Names in a page that a build generates, which nobody writes and which are others after the next build.

/// Whether a part of a name was generated.
pub fn is_generated(name: &str) -> bool {
    stable_start(name).is_some()
}

/// What comes before the generated part of a name; `None` where nothing in it looks generated.
pub fn stable_start(name: &str) -> Option<&str> {
    let mut start = 0;
    for part in name.split(['-', '_']) {
        if is_random(part) {
            return Some(&name[..start]);
        }
        start += part.len() + 1;
    }
    None
}

/// Letters that no word has: digits among them, or capitals where no word begins.
fn is_random(part: &str) -> bool {
    if part.len() < 5 || !part.is_ascii() {
        return false;
    }
    let digits = part.bytes().filter(u8::is_ascii_digit).count();
    let letters = part.bytes().filter(u8::is_ascii_alphabetic).count();
    if digits + letters < part.len() {
        return false;
    }
    let is_number = letters == 0;
    let is_word_with_number = part
        .trim_end_matches(|letter: char| letter.is_ascii_digit())
        .bytes()
        .all(|b| b.is_ascii_alphabetic());
    let is_number_with_unit = part
        .trim_start_matches(|letter: char| letter.is_ascii_digit())
        .bytes()
        .all(|b| b.is_ascii_alphabetic())
        && letters <= 3;
    if digits > 0 {
        // A colour or size is a number, and a heading a word with one.
        return !(is_number || (is_word_with_number && digits <= 3) || is_number_with_unit);
    }
    // Words that are written together begin with a capital each, and have three letters at least.
    let capitals = part.bytes().skip(1).filter(u8::is_ascii_uppercase).count();
    let is_loud = part.bytes().all(|letter| letter.is_ascii_uppercase());
    !is_loud && (capitals + 1) * 3 > part.len()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_that_a_person_writes_are_no_others() {
        for written in [
            "card",
            "plot-card",
            "plotCard",
            "btn--primary",
            "col-md-12",
            "mt-4",
            "h1",
            "text-2xl",
            "rounded-lg",
            "is-open",
            "grid_12",
            "ProductListItem",
            "x-large",
            "bg-gray-100",
            "w-1024",
            "icon24",
            "menu__item--active",
            "HTML",
            "md:flex",
        ] {
            assert!(!is_generated(written), "{written}");
        }
        for (built, start) in [
            ("css-1x2y3z", "css-"),
            ("Card_root__x7Gk2", "Card_root__"),
            ("_card_1a2b3_5", "_card_"),
            ("sc-bdVaJa", "sc-"),
            ("button-a8f3e2c1", "button-"),
            ("jsx-3847562", ""),
        ] {
            let found = stable_start(built);
            assert!(found == Some(start) || start.is_empty() && found.is_none(), "{built}: {found:?}");
        }
    }
}
