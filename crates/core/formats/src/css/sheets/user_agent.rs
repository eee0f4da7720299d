//! Styles of browsers for elements that no sheet styles (HTML, "Rendering", section 15.3).

/// How large an element's text is by itself, in parts of that around it (HTML, "Rendering", section 15.3).
pub(super) fn own_scale(tag: &str, outer: f64, medium: f64) -> f64 {
    match tag {
        "h1" => 2.0,
        "h2" => 1.5,
        "h3" => 1.17,
        "h5" => 0.83,
        "h6" => 0.67,
        "small" | "sub" | "sup" => 1.0 / 1.2,
        "big" => 1.2,
        // Chromium's: 13.3333 px whatever is around them; typewriter letters are smaller.
        "button" | "input" | "select" | "textarea" => medium / 1.2 / outer,
        "code" | "kbd" | "samp" | "pre" | "tt" => 13.0 / 16.0,
        _ => 1.0,
    }
}

/// The colour of an element by itself (HTML, "Rendering").
pub(super) fn own_colour(tag: &str) -> Option<&'static str> {
    Some(match tag {
        "button" => "buttontext",
        "input" | "select" | "textarea" => "fieldtext",
        "mark" => "marktext",
        _ => return None,
    })
}
