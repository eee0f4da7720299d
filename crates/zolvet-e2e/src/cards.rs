//! Cards with random shadows, as a browser draws them: pictures to find stacks from.

use serde_json::{Value, json};

use crate::chance::Chance;

/// The page of a card in CSS px, on a screen of 1× and on one of 2×: no larger than Chromium paints in one tile, as wide
/// blurs are cut off where tiles end.
const PAGES: [(u32, u32); 2] = [(480, 360), (250, 250)];

/// A card, and everything that is asked back.
#[derive(Debug, Clone)]
pub struct Card {
    /// Device pixels for one CSS px.
    pub density: u32,
    /// Whether its picture is a JPEG of quality 90.
    pub is_jpeg: bool,
    /// Its border box in CSS px: x, y, width, height.
    pub place: [f64; 4],
    /// The radius of its corners in CSS px.
    pub radius: f64,
    /// The colour of the page.
    pub ground: [u8; 3],
    /// Its own.
    pub fill: [u8; 3],
    /// The width and colour of its border.
    pub border: Option<(f64, String)>,
    /// Whether it holds a line of text.
    pub has_text: bool,
    /// Its shadows; the first is nearest the eye.
    pub shadows: Vec<CardShadow>,
}

/// A layer of `box-shadow`.
#[derive(Debug, Clone)]
pub struct CardShadow {
    /// Whether it lies inside.
    pub is_inside: bool,
    /// To the right.
    pub dx: f64,
    /// Down.
    pub dy: f64,
    /// CSS blur radius.
    pub blur: f64,
    /// Spread.
    pub spread: f64,
    /// Its colour without its opacity.
    pub colour: [u8; 3],
    /// From 0 to 1.
    pub opacity: f64,
}

impl Card {
    /// A card with so many shadows outside and inside.
    #[must_use]
    pub fn new(chance: &mut Chance, outside: u64, inside: u64) -> Self {
        let density = 1 + chance.below(2) as u32;
        let room = PAGES[density as usize - 1];
        let room = (f64::from(room.0), f64::from(room.1));
        let (width, height) =
            (chance.tenths(0.2 * room.0, 0.52 * room.0), chance.tenths(0.17 * room.1, 0.5 * room.1));
        let (width, height) = (width.round(), height.round());
        let x = ((room.0 - width) / 2.0 + chance.tenths(-0.06 * room.0, 0.06 * room.0)).round();
        let y = ((room.1 - height) / 2.0 + chance.tenths(-0.08 * room.1, 0.05 * room.1)).round();
        let ground = ground(chance);
        let fill = apart(chance, ground);
        let border = (chance.below(3) == 0).then(|| border(chance));
        let shadows = 0..outside + inside;
        let widest = 80.0 / f64::from(density);
        let shadows = shadows.map(|at| CardShadow::new(chance, at >= outside, widest)).collect();
        Self {
            density,
            is_jpeg: chance.below(5) == 0,
            place: [x, y, width, height],
            radius: chance.tenths(0.0, 40.0).round().min(height / 2.0).min(width / 2.0),
            ground,
            fill,
            border,
            has_text: chance.below(3) == 0,
            shadows,
        }
    }

    /// The size of its page in CSS px.
    #[must_use]
    pub fn page_size(&self) -> (u32, u32) {
        PAGES[self.density as usize - 1]
    }

    /// The page with the card; `shadows` as a `box-shadow`.
    #[must_use]
    pub fn page(&self, shadows: &str, has_text: bool) -> String {
        let [x, y, width, height] = self.place;
        let border = self.border.as_ref();
        let border = border.map(|(width, colour)| format!("border:{width}px solid {colour};"));
        let [r, g, b] = self.fill;
        let dark = u32::from(r) + u32::from(g) + u32::from(b) < 384;
        let ink = if dark { "#eee" } else { "#222" };
        let text = if has_text { "Tide tables for June" } else { "" };
        let (ground, fill) = (hex(self.ground), hex(self.fill));
        format!(
            "<!doctype html><style>html{{background:{ground}}}body{{margin:0}}\
             div{{position:absolute;box-sizing:border-box;left:{x}px;top:{y}px;width:{width}px;\
             height:{height}px;border-radius:{}px;background:{fill};{}box-shadow:{shadows};\
             padding:12px;font:13px sans-serif;color:{ink};overflow:hidden;white-space:nowrap}}</style><div>{text}</div>",
            self.radius,
            border.unwrap_or_default(),
        )
    }

    /// The page without the card.
    #[must_use]
    pub fn bare_page(&self) -> String {
        format!("<!doctype html><style>html{{background:{}}}</style>", hex(self.ground))
    }

    /// Its shadows as CSS.
    #[must_use]
    pub fn css(&self) -> String {
        let layers: Vec<String> = self.shadows.iter().map(CardShadow::css).collect();
        layers.join(",")
    }

    /// What is asked back, to be kept beside a picture.
    #[must_use]
    pub fn to_json(&self) -> Value {
        json!({
            "density": self.density, "jpeg": self.is_jpeg, "place": self.place, "radius": self.radius,
            "ground": self.ground, "fill": self.fill, "border": self.border, "text": self.has_text,
            "shadows": self.css(),
        })
    }
}

impl CardShadow {
    fn new(chance: &mut Chance, is_inside: bool, widest: f64) -> Self {
        let most = if chance.below(3) == 0 { widest } else { 30.0 };
        let blur = chance.tenths(2.0, most).round();
        let most = if is_inside { 6.0 } else { 8.0 };
        let colours = [[0, 0, 0], [0, 0, 0], [15, 23, 42], [40, 20, 90], [120, 40, 10]];
        let any = [0; 3].map(|_: u8| chance.below(256) as u8);
        let dy = if chance.below(4) == 0 {
            chance.tenths(-8.0, 8.0)
        } else {
            chance.tenths(0.0, 6.0 + blur / 2.0)
        };
        Self {
            is_inside,
            dx: if chance.below(2) == 0 { 0.0 } else { chance.tenths(-10.0, 10.0).round() },
            dy: dy.round(),
            blur,
            spread: if chance.below(2) == 0 { 0.0 } else { chance.tenths(-12.0, most).round() },
            colour: if chance.below(5) == 0 { any } else { chance.of(&colours) },
            opacity: (chance.tenths(5.0, 50.0).round()) / 100.0,
        }
    }

    /// As a layer of `box-shadow`.
    #[must_use]
    pub fn css(&self) -> String {
        let [r, g, b] = self.colour;
        let inset = if self.is_inside { "inset " } else { "" };
        format!(
            "{inset}{}px {}px {}px {}px rgb({r} {g} {b} / {})",
            self.dx, self.dy, self.blur, self.spread, self.opacity
        )
    }
}

fn ground(chance: &mut Chance) -> [u8; 3] {
    match chance.below(4) {
        0 => [0; 3].map(|_: u8| chance.below(256) as u8),
        1 => {
            let base = 16 + chance.below(40) as u8;
            [base, base + chance.below(8) as u8, base + chance.below(16) as u8]
        }
        _ => [0; 3].map(|_: u8| 222 + chance.below(34) as u8),
    }
}

/// A colour that is at least 6 of 255 from another in some channel.
fn apart(chance: &mut Chance, from: [u8; 3]) -> [u8; 3] {
    loop {
        let near = chance.below(2) == 0;
        let colour = match (near, chance.below(3)) {
            (true, _) => from.map(|channel| channel.saturating_add(chance.below(24) as u8)),
            (false, 0) => [255; 3],
            (false, _) => [0; 3].map(|_: u8| chance.below(256) as u8),
        };
        if colour.iter().zip(from).any(|(a, b)| a.abs_diff(b) >= 6) {
            return colour;
        }
    }
}

fn border(chance: &mut Chance) -> (f64, String) {
    let width = 1.0 + chance.below(3) as f64;
    let colour = match chance.below(3) {
        0 => "rgb(0 0 0 / 0.12)".to_owned(),
        1 => hex([0; 3].map(|_: u8| 150 + chance.below(90) as u8)),
        _ => hex([0; 3].map(|_: u8| chance.below(256) as u8)),
    };
    (width, colour)
}

fn hex([r, g, b]: [u8; 3]) -> String {
    format!("#{r:02x}{g:02x}{b:02x}")
}
