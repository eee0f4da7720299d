//! An element on a picture: where it is, and the stacks on both sides of its outline.

use super::border::{self, Border};
use super::drawn::Drawing;
use super::find;
use super::found::MatchRequest;
use super::mask::Mask;
use super::pixels::{Pixels, Smooth, rgba};
use super::place::PlacedBox;
use super::radius::{self, Sides};
use super::side::{FoundSide, PictureSide};
use crate::solve::shadow::{Shadow, Side};
use crate::syntax::round_to;

/// An element, in pixels of its picture.
pub struct Element<'a> {
    pub pixels: &'a Pixels,
    pub density: f64,
    most: usize,
    pub place: PlacedBox,
    pub border: Option<Border>,
    /// For each number of shadows, none first.
    pub outside: Vec<FoundSide>,
    pub inside: Vec<FoundSide>,
    pub masks: [Mask; 2],
}

/// A share of the looked-at pixels that are none of the element's, above which shadows are looked for once more.
const MANY_STRANGERS: f64 = 0.02;
/// A blur that nobody chooses, in CSS px.
const HAIRLINE: f64 = 1.6;
/// How far a stack is off right beside an element that has a border of one pixel more.
const NO_SHADOW: f64 = 2.5 / 255.0;

impl<'a> Element<'a> {
    /// The element of a picture.
    pub fn found(pixels: &'a Pixels, request: &MatchRequest<'_>) -> Option<Self> {
        let (density, most) = (request.density, request.most);
        let new = |place: PlacedBox| Self::new(pixels, place, density, most);
        if let Some(place) = request.place {
            return Some(new(place));
        }
        let edges = pixels.for_edges();
        let found = find::find(&edges).into_iter().map(|place| {
            let bordered = find::bordered(&edges, place, density);
            match bordered.or_else(|| find::ringed(&edges, place, density)) {
                // Two pixels of one colour are no shadow; one may be.
                Some(bordered) if moved(&place, &bordered) > 1.0 => new(bordered),
                Some(bordered) => {
                    let element = new(place);
                    let is_border = element.off_beside() > NO_SHADOW || element.has_a_hairline();
                    if is_border { new(bordered) } else { element }
                }
                None => new(place),
            }
        });
        // Of boxes that are as likely, the one that shadows explain best.
        let element = found.min_by(|a, b| a.off().total_cmp(&b.off()))?;
        Some(element.with_radius())
    }

    /// How far its shadows are off on both sides.
    fn off(&self) -> f64 {
        [&self.outside, &self.inside].into_iter().filter_map(|side| side.last()).map(|found| found.off).sum()
    }

    fn new(pixels: &'a Pixels, place: PlacedBox, density: f64, most: usize) -> Self {
        let border = border::find(&pixels.for_edges(), &place, density);
        let border = border.map(|border| border.coloured(pixels, &place));
        let mask = Mask::of_others(pixels, &place, border.map_or(0.0, |border| border.width));
        let masks = [mask.clone(), mask];
        let none = Vec::new;
        let mut element =
            Self { pixels, density, most, place, border, outside: none(), inside: none(), masks };
        element.outside = element.searched(Side::Outside);
        element.inside = element.searched(Side::Inside);
        element
    }

    pub fn side(&self, side: Side) -> PictureSide<'a> {
        let mask = &self.masks[usize::from(side == Side::Inside)];
        PictureSide {
            pixels: self.pixels,
            place: self.place,
            side,
            border: self.border.map_or(0.0, |border| border.width),
            density: self.density,
            mask: mask.clone(),
        }
    }

    fn searched(&mut self, of: Side) -> Vec<FoundSide> {
        let mut side = self.side(of);
        let mut found = side.by_count(self.most);
        if let Some(best) = found.last() {
            let share = side.without_strangers(best);
            if share > MANY_STRANGERS {
                found = side.by_count(self.most);
            } else if share > 0.0 {
                found = side.again(&found);
            }
        }
        self.masks[usize::from(of == Side::Inside)] = side.mask;
        found
    }

    /// Whether a shadow outside is as narrow as nobody makes one: it stands for a line.
    fn has_a_hairline(&self) -> bool {
        let shadows = self.outside.last().map_or(&[][..], |found| &found.shadows);
        shadows.iter().any(|shadow| shadow.blur < HAIRLINE * self.density)
    }

    fn off_beside(&self) -> f64 {
        self.outside.last().map_or(0.0, |found| self.side(Side::Outside).off_beside(found))
    }

    /// With the radius that its corners' pixels show.
    fn with_radius(mut self) -> Self {
        let (Some(outside), Some(inside)) = (self.outside.last(), self.inside.last()) else { return self };
        let (out, within) = (self.side(Side::Outside), self.side(Side::Inside));
        let sides = |places: &[(f64, f64)]| -> Vec<Sides> {
            let both = out.colours(outside, places).into_iter().zip(within.colours(inside, places));
            both.map(|(outside, inside)| {
                let edge = self.border.map_or(inside, |border| border.colour);
                Sides { outside, edge, inside }
            })
            .collect()
        };
        let border = self.border.map_or(0.0, |border| border.width);
        let radius = radius::refined(self.pixels, &self.place, border, sides);
        if (radius - self.place.radius).abs() < 0.1 {
            return self;
        }
        self.place.radius = radius;
        self.outside = self.side(Side::Outside).again(&self.outside);
        self.inside = self.side(Side::Inside).again(&self.inside);
        self
    }

    /// What stays the same for all stacks.
    pub fn drawing(&self) -> Drawing {
        let under = |sides: &[FoundSide]| sides.last().map_or(Smooth::flat([1.0; 3]), |found| found.under);
        self.drawing_on([under(&self.outside), under(&self.inside)])
    }

    /// On another ground, and with another fill.
    pub fn drawing_on(&self, [ground, fill]: [Smooth; 2]) -> Drawing {
        Drawing {
            place: self.place.scaled(1.0 / self.density),
            ground: rgba(ground.at_corner),
            fill: rgba(fill.at_corner),
            border: self.border.map(|border| (border.width / self.density, rgba(border.colour))),
            density: self.density,
            size: (self.pixels.width, self.pixels.height),
        }
    }

    /// Shadows of a side in CSS px; those inside begin inside the border.
    pub fn in_px(&self, shadows: &[Shadow], side: usize) -> Vec<Shadow> {
        let border = if side == 1 { self.border.map_or(0.0, |border| border.width) } else { 0.0 };
        // Zero has one sign: processors differ in which of two zeros is the greater one.
        let length = |pixels: f64| round_to(pixels / self.density, 2) + 0.0;
        let in_px = |shadow: &Shadow| Shadow {
            dx: length(shadow.dx),
            dy: length(shadow.dy),
            blur: length(shadow.blur),
            spread: length(shadow.spread - border),
            ..*shadow
        };
        shadows.iter().map(in_px).collect()
    }
}

fn moved(place: &PlacedBox, other: &PlacedBox) -> f64 {
    let sides = [
        place.left - other.left,
        place.top - other.top,
        other.right() - place.right(),
        other.bottom() - place.bottom(),
    ];
    sides.into_iter().fold(0.0, f64::max)
}
