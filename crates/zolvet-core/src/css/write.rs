//! Writing a piece as CSS: `box-shadow` for boxes, `text-shadow` for text (CSS Backgrounds and Borders 3; CSS Text
//! Decoration 3). Where the target cannot hold something, a note says which coat and what becomes of it.

use std::fmt::Write as _;

use serde::Serialize;

use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::{RoundedBox, Silhouette};
use crate::model::{Align, Id, Shape, Surface, TextShape};
use crate::resolve::{Coat, ColourStop, Draws, Frost, Ink, Layer, Paint, Piece, Shadow, bearing_of};

/// A piece's code, and how close the target comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Code {
    /// One CSS rule.
    pub css: String,
    /// The stack as plain values, one line a coat, for somebody who must type them elsewhere.
    pub values: String,
    /// What differs; empty where the CSS is exact.
    pub differences: Vec<FidelityNote>,
}

/// How a coat comes through.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fidelity {
    /// It is there, but looks different.
    Approximated,
    /// It is not there.
    Dropped,
}

/// What becomes of a coat, or of the piece where no coat is named.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FidelityNote {
    /// The coat's id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coat: Option<Id>,
    /// How it comes through.
    pub fidelity: Fidelity,
    /// In words, naming the coat.
    pub message: String,
}

/// Browsers never draw `box-shadow` and `text-shadow` softer than this blur radius (measured in Chromium 156).
const SOFTEST: f64 = 256.0;
/// Below this opacity a layer vanishes when a browser rounds it to 8 bits (measured in Chromium 156).
const FAINTEST: f32 = 0.002;

/// A piece as one CSS rule.
#[must_use]
pub fn piece_code(piece: &Piece, shape: &Shape) -> Code {
    let mut writer = Writer { piece, lines: Vec::new(), differences: Vec::new() };
    match (&piece.silhouette, shape) {
        (Silhouette::Box(rounded), _) => writer.boxed(rounded),
        (Silhouette::Outline(_), Shape::Text(text)) => writer.text(text),
        (Silhouette::Outline(_) | Silhouette::Cutout(_), _) => writer.nothing_but_notes(shape),
    }
    writer.softening();
    writer.whole_piece();
    let mut css = format!(".{} {{\n", slug(&piece.name));
    for line in &writer.lines {
        let _ = writeln!(css, "  {line};");
    }
    css.push_str("}\n");
    Code { css, values: values(piece), differences: writer.differences }
}

struct Writer<'a> {
    piece: &'a Piece,
    lines: Vec<String>,
    differences: Vec<FidelityNote>,
}

impl Writer<'_> {
    fn boxed(&mut self, rounded: &RoundedBox) {
        self.line(format!("width: {}", px(rounded.width)));
        self.line(format!("height: {}", px(rounded.height)));
        if let Some(radii) = radii_text(rounded) {
            self.line(format!("border-radius: {radii}"));
        }
        self.background();
        let mut shadows = Vec::new();
        for (coat, shadow) in shadows_of(self.piece) {
            self.check_common(coat, shadow);
            let shown_through = !(self.piece.fill.is_opaque() && self.piece.surface == Surface::Keep);
            if shadow.layer == (Layer::Drop { knock_out: false }) && shown_through {
                let what = "box-shadow never shows under the box itself";
                self.differs(coat, Fidelity::Approximated, what);
            }
            let inset = if shadow.layer == Layer::Inner { "inset " } else { "" };
            let spread = match shadow.spread {
                0.0 => String::new(),
                spread => format!(" {}", px(spread)),
            };
            shadows.push(format!("{inset}{}{spread} {}", self.lengths(shadow), colour_text(shadow.colour())));
        }
        self.list("box-shadow", &shadows);
        self.left_out(|draws| matches!(draws, Draws::Tint(_)));
    }

    /// The fill, with tints as layers over it.
    fn background(&mut self) {
        let mut layers: Vec<String> = Vec::new();
        for coat in &self.piece.coats {
            let Draws::Tint(paint) = &coat.draws else { continue };
            if coat.blend != BlendMode::Normal {
                let what = format!("written in normal instead of {}", mode_text(coat.blend));
                self.differs(coat, Fidelity::Approximated, &what);
            }
            match paint.faded(coat.opacity) {
                // Only the last layer of a background may be a plain colour.
                Paint::Solid(colour) => {
                    let colour = colour_text(colour);
                    layers.push(format!("linear-gradient({colour}, {colour})"));
                }
                Paint::Image { .. } => {
                    self.differs(coat, Fidelity::Dropped, "a picture is not written into CSS: left out");
                }
                Paint::None => {}
                gradient => layers.push(paint_text(&gradient)),
            }
        }
        if self.piece.surface == Surface::Keep && self.piece.fill != Paint::None {
            if matches!(self.piece.fill, Paint::Image { .. }) {
                self.differences.push(FidelityNote {
                    coat: None,
                    fidelity: Fidelity::Dropped,
                    message: "The picture that fills it is not written into CSS: left out".to_owned(),
                });
            } else {
                layers.push(paint_text(&self.piece.fill));
            }
        }
        match layers.as_slice() {
            [] => {}
            [one] => self.line(format!("background: {one}")),
            several => self.line(format!("background:\n    {}", several.join(",\n    "))),
        }
    }

    fn text(&mut self, text: &TextShape) {
        let line_height = number_text(text.line_height.get());
        let weight = number_text(text.weight.get());
        let size = px(text.size.get());
        self.line(format!("font: {weight} {size}/{line_height} \"{}\"", text.font));
        if text.spacing.get() != 0.0 {
            self.line(format!("letter-spacing: {}", px(text.spacing.get())));
        }
        match text.width {
            Some(width) => {
                self.line(format!("width: {}", px(width.get())));
                self.line("white-space: pre-wrap".to_owned());
            }
            None => self.line("white-space: pre".to_owned()),
        }
        match text.align {
            Align::Left => {}
            Align::Centre => self.line("text-align: center".to_owned()),
            Align::Right => self.line("text-align: right".to_owned()),
        }
        self.text_fill();
        self.text_shadows();
    }

    fn text_fill(&mut self) {
        match (&self.piece.fill, self.piece.surface) {
            (Paint::Solid(fill), Surface::Keep) => {
                self.line(format!("color: {}", colour_text(*fill)));
            }
            (Paint::None, _) | (_, Surface::CutOut | Surface::Hide) => {
                self.line("color: transparent".to_owned());
            }
            (gradient, Surface::Keep) => {
                self.line("color: transparent".to_owned());
                self.line(format!("background: {}", paint_text(gradient)));
                self.line("-webkit-background-clip: text".to_owned());
                self.line("background-clip: text".to_owned());
                if !self.piece.coats.is_empty() {
                    self.differences.push(FidelityNote {
                        coat: None,
                        fidelity: Fidelity::Approximated,
                        message: "A gradient on text is a background to CSS: text-shadow is drawn over it"
                            .to_owned(),
                    });
                }
            }
        }
    }

    fn text_shadows(&mut self) {
        let mut shadows = Vec::new();
        for (coat, shadow) in shadows_of(self.piece) {
            match shadow.layer {
                Layer::Inner => {
                    self.differs(coat, Fidelity::Dropped, "text-shadow has no inner shadows: left out");
                    continue;
                }
                Layer::Drop { knock_out } => {
                    if knock_out || self.piece.surface == Surface::CutOut {
                        let what = "text-shadow runs on under the letters: not knocked out";
                        self.differs(coat, Fidelity::Approximated, what);
                    }
                }
            }
            self.check_common(coat, shadow);
            if shadow.spread != 0.0 {
                let spread = px(shadow.spread);
                let what = format!("text-shadow has no spread: written without its {spread}");
                self.differs(coat, Fidelity::Approximated, &what);
            }
            shadows.push(format!("{} {}", self.lengths(shadow), colour_text(shadow.colour())));
        }
        self.list("text-shadow", &shadows);
        self.left_out(|_| false);
    }

    fn nothing_but_notes(&mut self, shape: &Shape) {
        let message = format!("A {} is not written as CSS yet: only its pictures leave", shape.name());
        self.differences.push(FidelityNote { coat: None, fidelity: Fidelity::Dropped, message });
    }

    /// Says of every other coat that it is not in the code; `written` are those that are.
    fn left_out(&mut self, written: impl Fn(&Draws) -> bool) {
        for coat in &self.piece.coats {
            let elsewhere = matches!(coat.draws, Draws::Shadow(_) | Draws::Blur(_) | Draws::Backdrop(_));
            if !elsewhere && !written(&coat.draws) {
                self.differs(coat, Fidelity::Dropped, "CSS shadows cannot hold it: left out");
            }
        }
    }

    /// Blurs of the piece itself and of what lies behind it (Filter Effects 1 and 2); both take σ.
    fn softening(&mut self) {
        let coats = &self.piece.coats;
        let sigmas = coats.iter().filter_map(|coat| match coat.draws {
            Draws::Blur(sigma) => Some((sigma * coat.opacity).powi(2)),
            _ => None,
        });
        let sigma = sigmas.sum::<f64>().sqrt();
        if sigma > 0.0 {
            self.line(format!("filter: blur({})", px(sigma)));
            if let Some((coat, _)) = shadows_of(self.piece).find(|(_, shadow)| shadow.layer != Layer::Inner) {
                self.differs(coat, Fidelity::Approximated, "filter: blur() softens shadows with the piece");
            }
        }
        let frosts: Vec<(&Coat, &Frost)> = coats
            .iter()
            .filter_map(|coat| match &coat.draws {
                Draws::Backdrop(frost) => Some((coat, frost)),
                _ => None,
            })
            .collect();
        if frosts.is_empty() {
            return;
        }
        let functions: Vec<String> = frosts.iter().rev().map(|(_, frost)| frost_text(frost)).collect();
        self.line(format!("-webkit-backdrop-filter: {}", functions.join(" ")));
        self.line(format!("backdrop-filter: {}", functions.join(" ")));
        for (coat, _) in frosts {
            if coat.opacity < 1.0 || coat.blend != BlendMode::Normal {
                self.differs(coat, Fidelity::Approximated, "backdrop-filter is always solid and normal");
            }
            if !self.piece.silhouette.is_box() {
                self.differs(
                    coat,
                    Fidelity::Approximated,
                    "backdrop-filter fills the box, not the silhouette",
                );
            }
        }
    }

    fn whole_piece(&mut self) {
        if self.piece.rotation != 0.0 {
            self.line(format!("rotate: {}deg", number_text(self.piece.rotation)));
        }
        if self.piece.opacity < 1.0 {
            self.line(format!("opacity: {}", number_text(self.piece.opacity)));
        }
        if self.piece.blend != BlendMode::Normal {
            self.line(format!("mix-blend-mode: {}", mode_text(self.piece.blend)));
        }
    }

    fn check_common(&mut self, coat: &Coat, shadow: &Shadow) {
        if coat.blend != BlendMode::Normal {
            let mode = mode_text(coat.blend);
            let what = format!("CSS shadows have no blend mode: normal instead of {mode}");
            self.differs(coat, Fidelity::Approximated, &what);
        }
        if shadow.blur > SOFTEST {
            let what = "browsers draw no shadow softer than a blur of 256px";
            self.differs(coat, Fidelity::Approximated, what);
        }
        let faintness = shadow.colour().a;
        if faintness > 0.0 && faintness < FAINTEST {
            let what = "too faint for browsers, which round each shadow to 8 bits: it vanishes";
            self.differs(coat, Fidelity::Approximated, what);
        }
        for (asked, what) in [
            (shadow.tone.falloff.is_some(), "CSS shadows have no falloff of their own: the usual one"),
            (shadow.tone.grain.is_some(), "CSS shadows have no grain: smooth"),
            (shadow.substitute.is_some(), "CSS shadows have the shape of the piece"),
            (shadow.ink == Ink::Picture, "CSS shadows have one colour: black instead of the piece's pixels"),
        ] {
            if asked {
                self.differs(coat, Fidelity::Approximated, what);
            }
        }
    }

    /// Offset and blur. CSS turns shadows with a rotated box, so the offset is turned back.
    fn lengths(&self, shadow: &Shadow) -> String {
        let (sin, cos) = (-self.piece.rotation).to_radians().sin_cos();
        let (x, y) = if self.piece.rotation == 0.0 {
            (shadow.dx, shadow.dy)
        } else {
            (shadow.dx * cos - shadow.dy * sin, shadow.dx * sin + shadow.dy * cos)
        };
        format!("{} {} {}", px(x), px(y), px(shadow.blur))
    }

    fn differs(&mut self, coat: &Coat, fidelity: Fidelity, what: &str) {
        let message = format!("{}: {what}", coat.name);
        self.differences.push(FidelityNote { coat: Some(coat.id.clone()), fidelity, message });
    }

    fn list(&mut self, property: &str, shadows: &[String]) {
        match shadows {
            [] => {}
            [one] => self.line(format!("{property}: {one}")),
            several => self.line(format!("{property}:\n    {}", several.join(",\n    "))),
        }
    }

    fn line(&mut self, line: String) {
        self.lines.push(line);
    }
}

/// The drop and inner shadows of a piece, first nearest the eye.
fn shadows_of(piece: &Piece) -> impl Iterator<Item = (&Coat, &Shadow)> {
    piece.coats.iter().filter_map(|coat| match &coat.draws {
        Draws::Shadow(shadow) => Some((coat, shadow)),
        _ => None,
    })
}

/// One line a coat: what it is, and every number with its unit.
fn values(piece: &Piece) -> String {
    let mut text = String::new();
    for coat in &piece.coats {
        let (kind, numbers) = match &coat.draws {
            Draws::Shadow(shadow) if shadow.layer == Layer::Inner => ("inner shadow", shadow_values(shadow)),
            Draws::Shadow(shadow) => ("drop shadow", shadow_values(shadow)),
            Draws::Highlight(spot) => {
                let at = spot.place.translation();
                let numbers = format!(
                    "x {}, y {}, blur {}, {}",
                    px(at.x),
                    px(at.y),
                    px(spot.blur),
                    paint_text(&spot.paint)
                );
                ("highlight", numbers)
            }
            Draws::Tint(paint) => ("tint", paint_text(paint)),
            Draws::Stroke { edge, paint } => {
                let side = format!("{:?}", edge.side).to_lowercase();
                ("stroke", format!("{} {side}, {}", px(edge.width), paint_text(paint)))
            }
            Draws::Blur(sigma) => ("blur", format!("σ {}", px(*sigma))),
            Draws::Backdrop(frost) => ("backdrop", frost_text(frost)),
            Draws::Extrude(thick) => {
                let (near, far) = (colour_text(thick.near), colour_text(thick.far));
                ("extrude", format!("x {}, y {}, {near} to {far}", px(thick.dx), px(thick.dy)))
            }
            Draws::Cast(cast) => {
                let numbers = format!(
                    "shear {}, squash {}, anchor {}, blur {} to {}, fade {} %, {}",
                    number_text(cast.shear),
                    number_text(cast.squash),
                    px(cast.anchor),
                    px(cast.blur_near),
                    px(cast.blur_far),
                    number_text(cast.fade * 100.0),
                    colour_text(cast.colour)
                );
                ("cast", numbers)
            }
        };
        let opacity = match &coat.draws {
            Draws::Shadow(_) => String::new(),
            _ if coat.opacity >= 1.0 => String::new(),
            _ => format!(" at {} %", number_text(coat.opacity * 100.0)),
        };
        let blend = match coat.blend {
            BlendMode::Normal => String::new(),
            mode => format!(", blend {}", mode_text(mode)),
        };
        let _ = writeln!(text, "{} ({kind}): {numbers}{opacity}{blend}", coat.name);
    }
    text
}

fn shadow_values(shadow: &Shadow) -> String {
    let colour = shadow.colour();
    format!(
        "x {}, y {} (distance {}, light from {}°), blur {} (σ {}), spread {}, {} at {} %",
        px(shadow.dx),
        px(shadow.dy),
        px(shadow.dx.hypot(shadow.dy)),
        number_text(bearing_of(shadow.dx, shadow.dy)),
        px(shadow.blur),
        px(shadow.blur / 2.0),
        px(shadow.spread),
        colour_text(Rgba { a: 1.0, ..colour }),
        number_text(percent(colour.a)),
    )
}

fn frost_text(frost: &Frost) -> String {
    let mut text = format!("blur({})", px(frost.sigma));
    for (name, factor) in [("saturate", frost.saturation), ("brightness", frost.brightness)] {
        if factor != 1.0 {
            let _ = write!(text, " {name}({})", number_text(factor));
        }
    }
    text
}

/// An opacity in percent, without the noise of single precision: 0.1 is 10, not 10.000000149.
fn percent(opacity: f32) -> f64 {
    opacity.to_string().parse::<f64>().map_or(0.0, |exact| (exact * 1e14).round() / 1e12)
}

/// A colour as CSS: hex where it is exact, else with every digit it needs.
#[must_use]
pub fn colour_text(colour: Rgba) -> String {
    let channels = [colour.r, colour.g, colour.b].map(|part| part * 255.0);
    if channels.iter().any(|part| (part - part.round()).abs() > 1e-4) {
        let [r, g, b] = [colour.r, colour.g, colour.b];
        let alpha = if colour.a >= 1.0 { String::new() } else { format!(" / {}", colour.a) };
        return format!("color(srgb {r} {g} {b}{alpha})");
    }
    let [r, g, b] = channels.map(|part| part.round() as u8);
    if colour.a >= 1.0 {
        format!("#{r:02x}{g:02x}{b:02x}")
    } else {
        format!("rgb({r} {g} {b} / {})", colour.a)
    }
}

/// The shortest decimal that reads back as the same number.
#[must_use]
pub fn number_text(value: f64) -> String {
    // `+ 0.0` writes a negative zero as 0.
    (value + 0.0).to_string()
}

fn px(value: f64) -> String {
    if value == 0.0 { "0".to_owned() } else { format!("{}px", number_text(value)) }
}

fn mode_text(mode: BlendMode) -> String {
    serde_json::to_value(mode).ok().and_then(|name| name.as_str().map(str::to_owned)).unwrap_or_default()
}

fn radii_text(rounded: &RoundedBox) -> Option<String> {
    let radii = rounded.radii;
    if radii.iter().all(|(x, y)| *x == 0.0 && *y == 0.0) {
        return None;
    }
    let list = |parts: [f64; 4]| {
        if parts.iter().all(|part| *part == parts[0]) { px(parts[0]) } else { parts.map(px).join(" ") }
    };
    let (across, down) = (list(radii.map(|(x, _)| x)), list(radii.map(|(_, y)| y)));
    Some(if across == down { across } else { format!("{across} / {down}") })
}

fn paint_text(paint: &Paint) -> String {
    match paint {
        Paint::None => "none".to_owned(),
        Paint::Solid(colour) => colour_text(*colour),
        Paint::Linear { angle, stops } => {
            let angle = number_text(angle.rem_euclid(360.0));
            format!("linear-gradient({angle}deg, {})", stops_text(stops))
        }
        Paint::Radial { centre, radius, stops } => format!(
            "radial-gradient(circle {} at {}% {}%, {})",
            px(*radius),
            number_text(centre.0 * 100.0),
            number_text(centre.1 * 100.0),
            stops_text(stops)
        ),
        Paint::Image { .. } => "a picture".to_owned(),
    }
}

fn stops_text(stops: &[ColourStop]) -> String {
    let mut texts: Vec<String> = stops
        .iter()
        .map(|stop| format!("{} {}%", colour_text(stop.colour), number_text(stop.at * 100.0)))
        .collect();
    // A gradient of one colour needs it twice.
    if texts.len() == 1 {
        texts.push(texts[0].clone());
    }
    texts.join(", ")
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
