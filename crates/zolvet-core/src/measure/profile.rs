//! The edge profile: how much darker a piece's coats make the picture, along a line across its edge.

use serde::Serialize;

use crate::compose::{Canvas, Coats, MaskCache, Part, View, render};
use crate::model::Id;
use crate::raster::{Rect, rasterize};
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
    let margin = f64::from(OUTSIDE) + 2.0;
    let view = View {
        x: (piece.x - margin).floor(),
        y: (piece.y - margin).floor(),
        scale: 1.0,
        width: (width + 2.0 * margin).ceil().min(4096.0) as u32,
        height: (height + 2.0 * margin).ceil().min(4096.0) as u32,
    };
    let to_edge = distance_to_edge(piece, &view, middle, outward);
    let picture = |coats| {
        let part = Part { piece: Some(piece.id.clone()), coats, ..Part::default() };
        render(scene, &view, &part, cache)
    };
    let (with, without) = (picture(Coats::All), picture(Coats::None));
    let samples = (-INSIDE..=OUTSIDE).filter_map(|step| {
        let along = to_edge + f64::from(step);
        let (x, y) = (middle.0 + outward.0 * along, middle.1 + outward.1 * along);
        // Off the scene there is nothing to be darkened.
        let shown = (0.0..scene.width).contains(&x) && (0.0..scene.height).contains(&y);
        let at = (x - view.x, y - view.y);
        let lost = lightness(&without, at) - lightness(&with, at);
        shown.then(|| Sample { at: f64::from(step), darkness: (lost * 1e4).round() / 100.0 })
    });
    Some(Profile { bearing, samples: samples.collect() })
}

/// From the middle of a piece's box to the last place along the line that its silhouette covers.
fn distance_to_edge(piece: &Piece, view: &View, middle: (f64, f64), (dx, dy): (f64, f64)) -> f64 {
    let side = |pixels: u32| i32::try_from(pixels).unwrap_or(i32::MAX);
    let window = Rect::new(0, 0, side(view.width), side(view.height));
    let coverage = rasterize(&piece.silhouette.outline().path, view.transform() * piece.place(), window);
    let (width, height) = piece.silhouette.size();
    let covered = |along: f64| {
        let (x, y) = (middle.0 + dx * along - view.x, middle.1 + dy * along - view.y);
        coverage.at(x.floor() as i32, y.floor() as i32) >= 0.5
    };
    let steps = (width.hypot(height) * 2.0).ceil() as u32;
    let outermost = (0..=steps).rev().map(|step| f64::from(step) / 4.0).find(|along| covered(*along));
    outermost.unwrap_or(0.0) + 0.25
}

fn lightness(canvas: &Canvas, (x, y): (f64, f64)) -> f64 {
    let (x, y) = (x.floor() as i64, y.floor() as i64);
    f64::from(canvas.at(x, y).lightness())
}
