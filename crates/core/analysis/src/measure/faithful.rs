//! Faithfulness: how close a target comes to the design.

use kurbo::Point;
use serde::Serialize;

use super::inside::Inside;
use crate::chromium::Predicted;
use crate::compose::Viewport;
use crate::lower::{Fidelity, FidelityNote, Lowered, Target};
use crate::model::Id;
use crate::raster::flatten;
use crate::resolve::Piece;

/// How close a target comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Faithfulness {
    /// Which target.
    pub target: Target,
    /// The mean difference of red, green and blue where the piece draws anything, in 1/255.
    pub mean: f64,
    /// The largest difference, in 1/255.
    pub worst: u8,
    /// Where that is; nothing where nothing differs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub worst_at: Option<PieceRegion>,
    /// The share of values, where the piece draws anything, that are more than 5/255 off.
    pub beyond: f64,
    /// How each coat comes through, first nearest the eye; those not named are exact.
    pub coats: Vec<CoatFidelity>,
    /// The difference, in words.
    pub notes: Vec<FidelityNote>,
}

/// A part of the picture of a piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PieceRegion {
    /// Within 1.5 px of the outline of its silhouette.
    Edge,
    /// Inside its silhouette.
    Inside,
    /// Outside its silhouette, where its shadows are.
    Outside,
}

/// How one coat comes through.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatFidelity {
    /// The coat.
    pub coat: Id,
    /// Its name.
    pub name: String,
    /// Nothing where it is exact.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fidelity: Option<Fidelity>,
}

/// How close a stand-alone SVG file of a piece comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SvgFaithfulness {
    /// The mean difference of red, green and blue where the piece draws anything, in 1/255.
    pub mean: f64,
    /// The largest difference, in 1/255.
    pub worst: u8,
    /// Where that is; nothing where nothing differs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub worst_at: Option<PieceRegion>,
    /// How each coat comes through, first nearest the eye; those not named are exact.
    pub coats: Vec<CoatFidelity>,
    /// The difference, in words.
    pub notes: Vec<FidelityNote>,
}

/// Compares the design of a piece with a browser's picture of its stand-alone SVG file, in this view.
#[must_use]
pub fn svg_faithfulness(
    piece: &Piece,
    notes: Vec<FidelityNote>,
    predicted: &Predicted,
    view: &Viewport,
) -> SvgFaithfulness {
    let apart = predicted_difference(predicted);
    SvgFaithfulness {
        mean: apart.mean,
        worst: apart.worst,
        worst_at: apart.worst_at(piece, view),
        coats: coats_of(piece, &notes),
        notes,
    }
}

/// Compares the design of a piece with a browser's picture of it, in this view.
#[must_use]
pub fn faithfulness(
    piece: &Piece,
    lowered: &Lowered,
    predicted: &Predicted,
    view: &Viewport,
) -> Faithfulness {
    let (apart, notes) = (predicted_difference(predicted), lowered.notes.0.clone());
    Faithfulness {
        target: lowered.target,
        mean: apart.mean,
        worst: apart.worst,
        worst_at: apart.worst_at(piece, view),
        beyond: apart.beyond,
        coats: coats_of(piece, &notes),
        notes,
    }
}

/// Whether an SVG file is clearly closer to the design than the CSS is: the difference of the CSS can be seen, and that
/// of the file is at most half as large.
#[must_use]
pub fn is_clearly_closer(file: &SvgFaithfulness, css: &Faithfulness) -> bool {
    can_be_seen(css) && file.mean * 2.0 <= css.mean
}

/// Whether code is so far off that one sees it without looking for it.
#[must_use]
pub fn can_be_seen(css: &Faithfulness) -> bool {
    css.mean > 2.0
}

/// How far two pictures are apart where something is drawn.
struct Apart {
    mean: f64,
    worst: u8,
    /// The number of the pixel that is farthest off.
    worst_pixel: usize,
    beyond: f64,
}

impl Apart {
    fn worst_at(&self, piece: &Piece, view: &Viewport) -> Option<PieceRegion> {
        let (row, column) = (self.worst_pixel / view.width as usize, self.worst_pixel % view.width as usize);
        let scaled = |pixel: usize| (pixel as f64 + 0.5) / view.scale;
        let at = Point::new(view.x + scaled(column), view.y + scaled(row));
        (self.worst > 0).then(|| region_of(piece, at))
    }
}

/// The part of a piece that a place on its scene belongs to.
fn region_of(piece: &Piece, at: Point) -> PieceRegion {
    const NEAR: f64 = 1.5;
    let lines = flatten(&piece.silhouette.outline().path, piece.place());
    let around =
        (0..8).map(|eighth| crate::maths::direction(f64::from(eighth) * std::f64::consts::FRAC_PI_4) * NEAR);
    let Some(inside) = Inside::new(&lines, 8) else { return PieceRegion::Outside };
    match around.filter(|way| inside.holds(at + *way)).count() {
        0 => PieceRegion::Outside,
        8 => PieceRegion::Inside,
        _ => PieceRegion::Edge,
    }
}

fn predicted_difference(predicted: &Predicted) -> Apart {
    let (mut sum, mut worst, mut worst_pixel, mut beyond, mut count) = (0_u64, 0, 0, 0_u64, 0_u64);
    let pictures = [&predicted.before, &predicted.designed, &predicted.shown].map(|p| p.rgba.chunks(4));
    let [before, designed, shown] = pictures;
    for (at, ((before, designed), shown)) in before.zip(designed).zip(shown).enumerate() {
        if before == designed && before == shown {
            continue;
        }
        for (a, b) in designed.iter().zip(shown).take(3) {
            let apart = a.abs_diff(*b);
            sum += u64::from(apart);
            if apart > worst {
                (worst, worst_pixel) = (apart, at);
            }
            beyond += u64::from(apart > 5);
        }
        count += 3;
    }
    let share = |part: u64| part as f64 / count.max(1) as f64;
    Apart { mean: share(sum), worst, worst_pixel, beyond: share(beyond) }
}

fn coats_of(piece: &Piece, notes: &[FidelityNote]) -> Vec<CoatFidelity> {
    let mut coats: Vec<CoatFidelity> = Vec::new();
    for coat in &piece.coats {
        if coats.last().is_some_and(|last| last.coat == coat.id) {
            continue;
        }
        let said = notes.iter().filter(|note| note.coat.as_ref() == Some(&coat.id));
        let fidelity = said.map(|note| note.fidelity).max();
        coats.push(CoatFidelity { coat: coat.id.clone(), name: coat.name.clone(), fidelity });
    }
    coats
}
