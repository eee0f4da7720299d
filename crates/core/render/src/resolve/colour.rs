//! Colour sources to colours.

use kurbo::{Point, Rect, Shape as _};

use super::paint::{Paint, Sampler};
use super::scene::{Context, Piece, PieceBackground};
use crate::colour::{Rgba, mean};
use crate::model::{self, ColourOrigin, ColourSource, Id};

/// The sources of a colour.
#[derive(Clone, Copy, Default)]
pub struct ColourContext<'a> {
    /// The piece's own fill.
    pub fill: Option<&'a Paint>,
    /// The light the coat follows.
    pub light: Option<&'a Id>,
    pub(super) beneath: Option<ColoursBelow<'a>>,
}

impl<'a> ColourContext<'a> {
    /// Only the piece's own fill.
    #[must_use]
    pub fn from_fill(fill: &'a Paint) -> Self {
        Self { fill: Some(fill), ..Self::default() }
    }
}

/// The ground and the pieces beneath a coat.
#[derive(Clone, Copy)]
pub(super) struct ColoursBelow<'a> {
    pub under: PieceBackground<'a>,
    /// Where the coat lies on the scene.
    pub area: Rect,
}

impl Context<'_> {
    /// A colour as it comes out, before the coat's opacity.
    ///
    /// # Errors
    /// Names the source where there is nothing of the kind to take it from.
    pub fn colour(&self, source: &ColourSource, around: &ColourContext<'_>) -> Result<Rgba, String> {
        let (base, lightness) = match source {
            ColourSource::Literal(colour) => (colour.rgba(), None),
            ColourSource::Swatch(swatch) => (self.swatch(&swatch.swatch), swatch.lightness),
            ColourSource::From(taken) => (self.derived_colour(taken.from, around)?, taken.lightness),
        };
        Ok(lightness.map_or(base, |amount| base.lightened(amount.get())))
    }

    fn derived_colour(&self, from: ColourOrigin, around: &ColourContext<'_>) -> Result<Rgba, String> {
        match from {
            // A picture as one colour is its mean.
            ColourOrigin::Fill | ColourOrigin::Picture => {
                let fill = around.fill.ok_or("a fill cannot take its own colour")?;
                Ok(fill.mean().map(|mean| Rgba { a: 1.0, ..mean }).unwrap_or_default())
            }
            ColourOrigin::Light => Ok(self.light_colour(around.light)),
            ColourOrigin::Ground => {
                let beneath = around.beneath.ok_or("there is no ground to take a colour from")?;
                Ok(beneath.mean())
            }
        }
    }

    /// A shared colour in the theme.
    #[must_use]
    pub fn swatch(&self, id: &Id) -> Rgba {
        let swatch = self.project.swatches.iter().find(|swatch| swatch.id == *id);
        let value = swatch.and_then(|swatch| swatch.values.get(self.theme));
        value.map(model::CssColour::rgba).unwrap_or_default()
    }
}

/// Samples along each side of the area that a mean is taken over.
const SAMPLES: u32 = 12;

impl ColoursBelow<'_> {
    /// The mean colour of ground and fills under the area, as far as it lies on the scene.
    pub(super) fn mean(&self) -> Rgba {
        let (width, height) = self.under.size;
        let area = self.area.intersect(Rect::new(0.0, 0.0, width, height));
        let sampler = self.under.ground.sampler(width, height, 1.0);
        let below: Vec<_> = self
            .under
            .below
            .iter()
            .flat_map(Piece::leaves)
            .filter(|piece| piece.hides_ground())
            .map(Lower::new)
            .collect();
        let mut samples = Vec::new();
        for row in 0..SAMPLES {
            for column in 0..SAMPLES {
                let share = |i: u32| (f64::from(i) + 0.5) / f64::from(SAMPLES);
                let at =
                    Point::new(area.x0 + area.width() * share(column), area.y0 + area.height() * share(row));
                let mut colour = sampler.at(at);
                for piece in &below {
                    if let Some(over) = piece.at(at) {
                        colour = std::array::from_fn(|i| over[i] + colour[i] * (1.0 - over[3]));
                    }
                }
                samples.push((1.0, Rgba::from_premultiplied(colour)));
            }
        }
        Rgba { a: 1.0, ..mean(&samples) }
    }
}

impl Piece {
    fn hides_ground(&self) -> bool {
        self.surface == model::Surface::Keep && self.fill != Paint::None && self.parts.is_empty()
    }
}

/// A piece's fill as it lies on the scene.
struct Lower {
    path: kurbo::BezPath,
    to_piece: kurbo::Affine,
    sampler: Sampler,
}

impl Lower {
    fn new(piece: &Piece) -> Self {
        let (width, height) = piece.silhouette.size();
        Self {
            path: piece.silhouette.outline().path.clone(),
            to_piece: piece.place().inverse(),
            sampler: piece.fill.sampler(width, height, 1.0),
        }
    }

    fn at(&self, scene: Point) -> Option<[f32; 4]> {
        let at = self.to_piece * scene;
        (self.path.winding(at) != 0).then(|| self.sampler.at(at))
    }
}
