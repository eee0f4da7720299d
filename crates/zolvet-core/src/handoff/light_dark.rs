//! Values of a light and a dark theme as one, where only their colours differ (CSS Color 5, "light-dark()").

/// One value that is the first in a light scheme and the second in a dark one; `None` where more than colours differs.
pub(super) fn one_value(light: &str, dark: &str) -> Option<String> {
    if light == dark {
        return Some(light.to_owned());
    }
    let (ours, theirs) = (parts(light), parts(dark));
    if ours.len() != theirs.len() {
        return None;
    }
    ours.into_iter().zip(theirs).map(|(light, dark)| one_part(light, dark)).collect()
}

fn one_part(light: &str, dark: &str) -> Option<String> {
    if light == dark {
        return Some(light.to_owned());
    }
    if is_colour(light) && is_colour(dark) {
        return Some(format!("light-dark({light}, {dark})"));
    }
    let ((name, inside), (other, theirs)) = (function(light)?, function(dark)?);
    (name == other).then(|| Some(format!("{name}({})", one_value(inside, theirs)?)))?
}

/// The parts of a value: words and functions, and the text between them.
fn parts(value: &str) -> Vec<&str> {
    let (mut depth, mut start, mut was_between, mut found) = (0_usize, 0, false, Vec::new());
    for (at, letter) in value.char_indices() {
        let is_between = depth == 0 && (letter.is_whitespace() || letter == ',');
        if at > start && is_between != was_between {
            found.push(&value[start..at]);
            start = at;
        }
        was_between = is_between;
        match letter {
            '(' => depth += 1,
            ')' => depth = depth.saturating_sub(1),
            _ => {}
        }
    }
    found.push(&value[start..]);
    found
}

fn function(text: &str) -> Option<(&str, &str)> {
    text.strip_suffix(')')?.split_once('(')
}

fn is_colour(text: &str) -> bool {
    const FUNCTIONS: [&str; 9] = ["rgb", "rgba", "hsl", "hwb", "lab", "lch", "oklab", "oklch", "color"];
    text.starts_with('#')
        || function(text).is_some_and(|(name, _)| FUNCTIONS.contains(&name) || name == "color-mix")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_colours_become_one_value() {
        for (light, dark, expected) in [
            ("0 1px 2px #0003", "0 1px 2px #000", Some("0 1px 2px light-dark(#0003, #000)")),
            (
                "0 1px #111,\n0 2px #222",
                "0 1px #111,\n0 2px #333",
                Some("0 1px #111,\n0 2px light-dark(#222, #333)"),
            ),
            (
                "drop-shadow(0 1px #111)",
                "drop-shadow(0 1px #222)",
                Some("drop-shadow(0 1px light-dark(#111, #222))"),
            ),
            (
                "var(--c, #111)",
                "var(--c, rgb(1 2 3 / 0.5))",
                Some("var(--c, light-dark(#111, rgb(1 2 3 / 0.5)))"),
            ),
            ("0 1px #111", "0 2px #222", None),
            ("0 1px #111", "none", None),
            ("0 1px #111", "0 1px inherit", None),
            ("0 1px inherit", "0 1px #111", None),
            ("blur(2px)", "blur(3px)", None),
        ] {
            assert_eq!(one_value(light, dark).as_deref(), expected, "{light} {dark}");
        }
    }
}
