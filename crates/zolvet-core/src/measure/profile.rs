//! The edge profile: how much darker a piece's coats make the picture, along a line across its edge.

use kurbo::{Point, Vec2};
use serde::Serialize;

use crate::compose::{Canvas, Coats, MaskCache, Part, View, render};
use crate::model::Id;
use crate::raster::flatten;
use crate::resolve::{Piece, Scene};

/// Darkness along a line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Profile {
    /// Which way the line runs outward, as the bearing of the light it runs away from, in degrees.
    pub bearing: f64,
    /// From deep inside to far outside, one every px.
    pub samples: Vec<Sample>,
}

/// Darkness at one place.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sample {
    /// Px outward from the edge; negative inside.
    pub at: f64,
    /// OKLab lightness lost to the coats, in %; negative where they lighten.
    pub darkness: f64,
}

/// How far the line runs to either side of the edge, in px.
const INSIDE: i32 = 40;
const OUTSIDE: i32 = 100;

/// The profile of a piece from its middle outward, away from a light at `bearing`.
///
/// Both pictures, with the coats and without, are the composed scene, so what is plotted is what is seen. `None`
/// when the scene does not show the piece.
#[must_use]
pub fn edge_profile(scene: &Scene, piece: &Id, bearing: f64, cache: &MaskCache) -> Option<Profile> {
    let piece = scene.pieces.iter().find(|other| other.id == *piece)?;
    let (sin, cos) = bearing.to_radians().sin_cos();
    let outward = (-sin, cos);
    let (width, height) = piece.silhouette.size();
    let middle = (piece.x + width / 2.0, piece.y + height / 2.0);
    let to_edge = distance_to_edge(piece, middle, outward);
    let along = |step: i32| {
        let length = to_edge + f64::from(step);
        (middle.0 + outward.0 * length, middle.1 + outward.1 * length)
    };
    // No more is drawn than the line runs through.
    let (from, to) = (along(-INSIDE), along(OUTSIDE));
    let (left, top) = (from.0.min(to.0).floor() - 1.0, from.1.min(to.1).floor() - 1.0);
    let view = View {
        x: left,
        y: top,
        scale: 1.0,
        width: (from.0.max(to.0) - left).ceil() as u32 + 2,
        height: (from.1.max(to.1) - top).ceil() as u32 + 2,
    };
    let picture = |coats| {
        let part = Part { piece: Some(piece.id.clone()), coats, ..Part::default() };
        render(scene, &view, &part, cache)
    };
    let (with, without) = (picture(Coats::All), picture(Coats::None));
    let samples = (-INSIDE..=OUTSIDE).filter_map(|step| {
        let (x, y) = along(step);
        // Off the scene there is nothing to be darkened.
        let shown = (0.0..scene.width).contains(&x) && (0.0..scene.height).contains(&y);
        let at = (x - view.x, y - view.y);
        let lost = lightness(&without, at) - lightness(&with, at);
        shown.then(|| Sample { at: f64::from(step), darkness: (lost * 1e4).round() / 100.0 })
    });
    Some(Profile { bearing, samples: samples.collect() })
}

/// From the middle of a piece's box to the last place where a line outward leaves its silhouette.
fn distance_to_edge(piece: &Piece, middle: (f64, f64), outward: (f64, f64)) -> f64 {
    let (middle, outward) = (Point::from(middle), Vec2::from(outward));
    let crossing = |(from, to): (Point, Point)| {
        let (side, arm) = (to - from, from - middle);
        let turn = outward.cross(side);
        let (along, share) = (arm.cross(side) / turn, arm.cross(outward) / turn);
        ((0.0..=1.0).contains(&share) && along >= 0.0).then_some(along)
    };
    let outline = piece.silhouette.outline();
    flatten(&outline.path, piece.place()).into_iter().filter_map(crossing).fold(0.0, f64::max)
}

fn lightness(canvas: &Canvas, (x, y): (f64, f64)) -> f64 {
    let (x, y) = (x.floor() as i64, y.floor() as i64);
    f64::from(canvas.at(x, y).lightness())
}
