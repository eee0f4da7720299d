//! Elements with their stacks as a browser draws them.

use super::coats;
use super::found::{MatchedPicture, MatchedStack};
use super::pixels::Colour;
use super::place::PlacedBox;
use crate::asset::Assets;
use crate::chromium;
use crate::colour::Rgba;
use crate::compose::{MaskCache, RenderOptions, Viewport};
use crate::css::Specimen;
use crate::model::{Coat, CssColour, OwnCoats, Px, Wear};
use crate::picture::Picture;
use crate::resolve;
use crate::solve::shadow::Shadow;

/// An element that is to be drawn. Lengths are in CSS px.
pub struct Drawing {
    pub place: PlacedBox,
    pub ground: Rgba,
    pub fill: Rgba,
    pub border: Option<(f64, Rgba)>,
    pub density: f64,
    /// Width and height of the picture in its pixels.
    pub size: (usize, usize),
}

/// A picture of an element and what is around it.
pub struct Drawn {
    left: u32,
    top: u32,
    picture: Picture,
}

/// A found element with a stack, as a browser draws it: a part of a picture of so many pixels for one CSS px, as left, top, width
/// and height in its pixels; nothing where it cannot be told in CSS.
#[must_use]
pub fn drawn_match(
    found: &MatchedPicture,
    stack: &MatchedStack,
    (density, size): (f64, (usize, usize)),
    window: [u32; 4],
    cache: &MaskCache,
) -> Option<Picture> {
    let MatchedPicture { place, ground, fill, border, .. } = *found;
    Drawing { place, ground, fill, border, density, size }.part(coats::coats(found, stack), window, cache)
}

/// How far from an element its stack is drawn at least and at most, in CSS px.
const NEAR: f64 = 24.0;
const FAR: f64 = 200.0;

impl Drawing {
    /// As a browser draws it with these shadows, with as much around it as they take; nothing where it cannot be told in CSS.
    pub fn drawn(&self, outside: &[Shadow], inside: &[Shadow], cache: &MaskCache) -> Option<Drawn> {
        let [left, top, right, bottom] = self.window(outside);
        let window = [left, top, right.saturating_sub(left).max(1), bottom.saturating_sub(top).max(1)];
        let coats = coats::of(self.border, outside, inside);
        let picture = self.part(coats, window, cache)?;
        Some(Drawn { left, top, picture })
    }

    /// A part of the picture with these coats on the element: left, top, width and height in its pixels.
    fn part(
        &self,
        coats: Vec<Coat>,
        [left, top, width, height]: [u32; 4],
        cache: &MaskCache,
    ) -> Option<Picture> {
        let solid = |colour: Rgba| CssColour::from_rgba(colour);
        let [across, down] = [self.size.0, self.size.1].map(|side| (side as f64 / self.density).max(1.0));
        let specimen = Specimen {
            css: "box-shadow: 0 0 0 #0000".to_owned(),
            piece: (self.place.width, self.place.height),
            radius: self.place.radius,
            fill: solid(self.fill),
            ground: solid(self.ground),
            size: (across, down),
            text: None,
        };
        let mut project = specimen.project().ok()?;
        let scene = project.scenes.first_mut()?;
        let piece = scene.pieces.first_mut()?;
        (piece.x, piece.y) = (Px::new(self.place.left).ok()?, Px::new(self.place.top).ok()?);
        piece.wear = Wear::Coats(OwnCoats { coats });
        let resolved = resolve::scene(&project, project.scenes.first()?, &Assets::default());
        let at = |pixel: u32| f64::from(pixel) / self.density;
        let view = Viewport { x: at(left), y: at(top), scale: self.density, width, height };
        let options = RenderOptions::default();
        let picture = chromium::shown_as_css(&resolved, &[], &view, &options, cache);
        (picture.width > 0).then_some(picture)
    }

    /// The part of the picture that an element and its shadows take: left, top, right and bottom in its pixels.
    fn window(&self, outside: &[Shadow]) -> [u32; 4] {
        let reach = outside.iter().map(Shadow::reach).fold(NEAR, f64::max).min(FAR);
        let PlacedBox { left, top, width, height, .. } = self.place.grown(reach).scaled(self.density);
        let to = |at: f64, most: usize| (at.ceil().max(0.0) as u32).min(most as u32);
        let from = |at: f64| at.floor().max(0.0) as u32;
        [from(left), from(top), to(left + width, self.size.0), to(top + height, self.size.1)]
    }
}

impl Drawn {
    /// The colour of the pixel around a place of the whole picture; nothing away from the element.
    pub fn at(&self, x: f64, y: f64) -> Option<Colour> {
        let (x, y) = ((x.floor() as u32).checked_sub(self.left)?, (y.floor() as u32).checked_sub(self.top)?);
        let [r, g, b, a] = self.picture.at(x, y);
        (a == 255).then(|| [r, g, b].map(|channel| f64::from(channel) / 255.0))
    }
}
