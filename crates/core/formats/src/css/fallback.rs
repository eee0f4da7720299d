//! The replacement where a browser, or its reader, takes something away: `backdrop-filter` (Filter Effects 2), and
//! every shadow where colours are forced (CSS Color Adjustment 1, "Forced Color Palettes"). Both are rules that other
//! browsers pass over.

use super::declare::Declaration;
use crate::colour::{Rgba, css_text};
use crate::resolve::{Paint, PaintOp, Piece};

/// The background that stands in for frosted glass: the colour that is seen through it on average. `None` for a piece that
/// is not frosted, or that nothing is seen through.
pub fn unfrosted(piece: &Piece, beneath: Rgba) -> Option<Declaration> {
    let frosted = piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Backdrop(_)));
    let seen = match &piece.fill {
        Paint::Solid(fill) if fill.a >= 1.0 => return None,
        Paint::Solid(fill) => over(*fill, beneath),
        // A gradient or picture stays above it.
        Paint::None | Paint::Linear { .. } | Paint::Radial { .. } | Paint::Image { .. } => beneath,
    };
    frosted.then(|| Declaration::one("background-color", css_text(seen)))
}

fn over(above: Rgba, below: Rgba) -> Rgba {
    let mixed = |above_part: f32, below_part: f32| above_part * above.a + below_part * (1.0 - above.a);
    let mixed =
        Rgba { r: mixed(above.r, below.r), g: mixed(above.g, below.g), b: mixed(above.b, below.b), a: 1.0 };
    // A stand-in need not be more exact than it is shown.
    let rounded = |part: f32| (part * 255.0).round() / 255.0;
    Rgba { r: rounded(mixed.r), g: rounded(mixed.g), b: rounded(mixed.b), a: 1.0 }
}

/// Whether only shadows show where a piece ends: they are gone where colours are forced.
pub fn ends_in_shadows(piece: &Piece) -> bool {
    let has = |wanted: fn(&PaintOp) -> bool| piece.coats.iter().any(|coat| wanted(&coat.op));
    piece.silhouette.is_box()
        && has(|op| matches!(op, PaintOp::Shadow(_)))
        && !has(|op| matches!(op, PaintOp::Stroke { .. }))
}

/// Rules for browsers without `backdrop-filter`; with a prefix where the sheet has it with a prefix too.
pub fn without_backdrops(rules: &str, prefixed: bool) -> String {
    let without =
        |property: &str, rules: &str| format!("@supports not ({property}: none) {{\n{}}}\n", indented(rules));
    let rules = if prefixed { without("-webkit-backdrop-filter", rules) } else { rules.to_owned() };
    without("backdrop-filter", &rules)
}

/// An outline in place of the shadows that are gone; the one that shows the focus stays.
pub fn with_forced_colours(selector: &str) -> String {
    let rule = format!("{selector}:not(:focus-visible) {{\n  outline: 1px solid;\n}}\n");
    format!("@media (forced-colors: active) {{\n{}}}\n", indented(&rule))
}

fn indented(rules: &str) -> String {
    let line = |line: &str| if line.is_empty() { "\n".to_owned() } else { format!("  {line}\n") };
    rules.lines().map(line).collect()
}
