//! The CSS declarations of a lowered piece.

use kurbo::Vec2;

use std::borrow::Cow;

use super::text::{backdrop_text, paint_text, radii_text};
use crate::blend::{BlendMode, mode_text};
use crate::colour::css_text;
use crate::geometry::{Align, Silhouette, TextShape};
use crate::lower::{Lowered, LoweredFilter, Target};
use crate::markup::{filter_functions, turned};
use crate::model::{Shape, Surface};
use crate::resolve::{Coat, Paint, PaintOp, Piece, Shadow, ShadowKind};
use crate::syntax::{number_text, px};

/// A property and its value; a list of several is written one under the other.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Declaration {
    /// The property.
    pub name: Cow<'static, str>,
    /// Its value, or the members of a list.
    pub values: Vec<String>,
}

impl Declaration {
    /// A name with one value.
    pub fn one(name: impl Into<Cow<'static, str>>, value: impl Into<String>) -> Self {
        Self { name: name.into(), values: vec![value.into()] }
    }

    /// The initial value, for a state that resets the property.
    #[must_use]
    pub fn reset(&self) -> Self {
        let value = match self.name.as_ref() {
            "border" | "margin" => "0",
            "box-sizing" => "content-box",
            "background-origin" => "padding-box",
            "background-clip" | "-webkit-background-clip" => "border-box",
            "background-blend-mode" => "normal",
            _ => "none",
        };
        Self::one(self.name.clone(), value)
    }

    /// Its value on one line.
    #[must_use]
    pub fn value(&self) -> String {
        self.values.join(if self.name == "filter" { " " } else { ", " })
    }

    /// As it stands in a rule, `indent` spaces in.
    #[must_use]
    pub fn text(&self, indent: usize) -> String {
        let (space, name) = (" ".repeat(indent), &self.name);
        match self.values.as_slice() {
            [one] => format!("{space}{name}: {one};\n"),
            several => {
                // Functions of a filter stand after one another, all else is a list.
                let comma = if name == "filter" { "" } else { "," };
                let inner = format!("{comma}\n{space}  ");
                format!("{space}{name}:\n{space}  {};\n", several.join(&inner))
            }
        }
    }
}

/// The declarations that do not depend on coats: size, corners and letters.
#[must_use]
pub fn geometry(piece: &Piece, shape: &Shape) -> Vec<Declaration> {
    let mut lines = Vec::new();
    if let Shape::Text(text) = shape {
        lines.extend(letters(text));
    } else {
        let (width, height) = piece.silhouette.size();
        lines.push(Declaration::one("width", px(width)));
        lines.push(Declaration::one("height", px(height)));
    }
    if let Silhouette::Box(rounded) = &piece.silhouette {
        lines.extend(radii_text(rounded).map(|radii| Declaration::one("border-radius", radii)));
    }
    if piece.rotation != 0.0 {
        lines.push(Declaration::one("rotate", format!("{}deg", number_text(piece.rotation))));
    }
    if piece.opacity < 1.0 {
        lines.push(Declaration::one("opacity", number_text(piece.opacity)));
    }
    if piece.blend != BlendMode::Normal {
        lines.push(Declaration::one("mix-blend-mode", mode_text(piece.blend)));
    }
    lines
}

/// The name of a font. Only names of several words, or with digits in them, need quotes (CSS Fonts 4, "font-family").
pub fn family_text(name: &str) -> String {
    let plain = name.chars().all(|letter| letter.is_ascii_alphabetic());
    if plain { name.to_owned() } else { format!("\"{name}\"") }
}

fn letters(text: &TextShape) -> Vec<Declaration> {
    let line_height = number_text(text.line_height.get());
    let (weight, size) = (number_text(text.weight.get()), px(text.size.get()));
    let font = format!("{weight} {size}/{line_height} {}, sans-serif", family_text(&text.font));
    let mut lines = vec![Declaration::one("font", font)];
    if text.spacing.get() != 0.0 {
        lines.push(Declaration::one("letter-spacing", px(text.spacing.get())));
    }
    match text.width {
        Some(width) => {
            lines.push(Declaration::one("width", px(width.get())));
            lines.push(Declaration::one("white-space", "pre-wrap"));
        }
        None => lines.push(Declaration::one("white-space", "pre")),
    }
    match text.align {
        Align::Left => {}
        Align::Centre => lines.push(Declaration::one("text-align", "center")),
        Align::Right => lines.push(Declaration::one("text-align", "right")),
    }
    lines
}

/// The declarations of fill, shadows and filters. `filter_url` refers to the SVG filter, if there is one.
#[must_use]
pub fn style_declarations(lowered: &Lowered, shape: &Shape, filter_url: &str) -> Vec<Declaration> {
    let piece = &lowered.element;
    let mut lines = Vec::new();
    if let Silhouette::Box(_) = &piece.silhouette {
        lines.extend(border(piece));
        lines.extend(backgrounds(piece));
    } else if let Shape::Text(_) = shape {
        lines.extend(letters_fill(piece));
    }
    lines.extend(shadows(lowered));
    lines.extend(backdrops(piece));
    lines.extend(lowered.filter.as_ref().map(|filter| match filter {
        LoweredFilter::Functions(graph) => {
            Declaration { name: "filter".into(), values: filter_functions(graph, piece.rotation) }
        }
        LoweredFilter::Svg(_) => Declaration::one("filter", format!("url({filter_url})")),
    }));
    lines
}

/// A stroke inside as a border, within the size of the box.
fn border(piece: &Piece) -> Vec<Declaration> {
    let stroke = piece.coats.iter().find_map(|coat| match coat.op.stroke()? {
        (style, Paint::Solid(colour)) => Some((style, colour.faded(coat.opacity).tidied())),
        (_, Paint::None | Paint::Linear { .. } | Paint::Radial { .. } | Paint::Image { .. }) => None,
    });
    let Some((style, colour)) = stroke else { return Vec::new() };
    vec![
        Declaration::one("box-sizing", "border-box"),
        Declaration::one("border", format!("{} solid {}", px(style.width), css_text(colour))),
    ]
}

/// The fill, with tints and highlights as layers over it (CSS Backgrounds and Borders 3, "Layering Multiple Background
/// Images"), each blended as `background-blend-mode` does.
fn backgrounds(piece: &Piece) -> Vec<Declaration> {
    let (mut layers, mut modes) = (Vec::new(), Vec::new());
    for coat in &piece.coats {
        let layer = match &coat.op {
            PaintOp::Tint(paint) => match paint.faded(coat.opacity) {
                // Only the last layer of a background may be a plain colour.
                Paint::Solid(colour) => {
                    format!("linear-gradient({} 0 0)", css_text(colour.tidied()))
                }
                gradient @ (Paint::None
                | Paint::Linear { .. }
                | Paint::Radial { .. }
                | Paint::Image { .. }) => paint_text(&gradient),
            },
            PaintOp::Highlight(spot) => {
                crate::markup::highlight_url(spot, coat.opacity, piece.silhouette.size().into())
            }
            PaintOp::Shadow(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_)
            | PaintOp::Extrude(_)
            | PaintOp::Cast(_) => continue,
        };
        layers.push(layer);
        modes.push(mode_text(coat.blend));
    }
    let filled = piece.surface == Surface::Keep && piece.fill != Paint::None;
    if filled {
        layers.push(paint_text(&piece.fill));
        modes.push("normal".to_owned());
    }
    let mut lines = Vec::new();
    if !layers.is_empty() {
        lines.push(Declaration { name: "background".into(), values: layers });
    }
    if piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Stroke { .. })) {
        lines.push(Declaration::one("background-origin", "border-box"));
    }
    if modes.iter().any(|mode| mode != "normal") {
        lines.push(Declaration::one("background-blend-mode", modes.join(", ")));
    }
    lines
}

fn letters_fill(piece: &Piece) -> Vec<Declaration> {
    let transparent = Declaration::one("color", "transparent");
    if piece.surface != Surface::Keep {
        return vec![transparent];
    }
    match &piece.fill {
        Paint::Solid(fill) => vec![Declaration::one("color", css_text(*fill))],
        Paint::None => vec![transparent],
        Paint::Linear { .. } | Paint::Radial { .. } | Paint::Image { .. } => vec![
            transparent,
            Declaration::one("background", paint_text(&piece.fill)),
            Declaration::one("-webkit-background-clip", "text"),
            Declaration::one("background-clip", "text"),
        ],
    }
}

fn shadows(lowered: &Lowered) -> Option<Declaration> {
    let mut values = Vec::new();
    for coat in &lowered.element.coats {
        let PaintOp::Shadow(shadow) = &coat.op else { continue };
        values.push(shadow_text(shadow, lowered.element.rotation));
    }
    let name = if lowered.target == Target::TextShadow { "text-shadow" } else { "box-shadow" };
    (!values.is_empty()).then(|| Declaration { name: name.into(), values })
}

fn shadow_text(shadow: &Shadow, rotation: f64) -> String {
    let inset = if shadow.kind == ShadowKind::Inner { "inset " } else { "" };
    let spread = if shadow.spread == 0.0 { String::new() } else { format!(" {}", px(shadow.spread)) };
    let (x, y) = turned(Vec2::new(shadow.dx, shadow.dy), rotation);
    format!("{inset}{} {} {}{spread} {}", px(x), px(y), px(shadow.blur), css_text(shadow.colour()))
}

fn backdrops(piece: &Piece) -> Vec<Declaration> {
    let backdrop = |coat: &Coat| coat.op.backdrop().map(backdrop_text);
    let functions: Vec<String> = piece.coats.iter().rev().filter_map(backdrop).collect();
    if functions.is_empty() {
        return Vec::new();
    }
    let value = functions.join(" ");
    vec![
        Declaration::one("-webkit-backdrop-filter", value.clone()),
        Declaration::one("backdrop-filter", value),
    ]
}
