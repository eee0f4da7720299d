//! The edge profile: how much darker a piece's coats make the picture, along a line across its edge.

use kurbo::{Point, Vec2};
use serde::{Deserialize, Serialize};

use crate::compose::{Canvas, MaskCache, RenderOptions, Viewport, render, render_onto};
use crate::model::Id;
use crate::raster::flatten;
use crate::resolve::{Coat, Piece, Scene};
use crate::syntax::round_to;

/// Where to measure.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Line {
    /// A point it starts from, in px from the middle of the piece's box.
    pub x: f64,
    /// See [`Self::x`].
    pub y: f64,
    /// Which way it runs outward, as the bearing of the light it runs away from, in degrees.
    pub bearing: f64,
}

/// Darkness along a line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Profile {
    /// Which way the line runs outward, as the bearing of the light it runs away from, in degrees.
    pub bearing: f64,
    /// Where the line starts, on the scene in px.
    pub start: ScenePoint,
    /// Where it crosses the edge.
    pub edge: ScenePoint,
    /// Where it ends.
    pub end: ScenePoint,
    /// All coats together, from deep inside to far outside, one every px.
    pub samples: Vec<Sample>,
    /// Each coat that is drawn, alone on the piece, at the same places.
    pub coats: Vec<CoatProfile>,
}

/// A point of the scene.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ScenePoint {
    /// In px.
    pub x: f64,
    /// In px.
    pub y: f64,
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

/// The profile of one coat alone.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatProfile {
    /// The coat.
    pub coat: Id,
    /// As [`Sample::darkness`], one for each sample of the profile.
    pub darkness: Vec<f64>,
}

/// How far the line runs to either side of the edge, in px.
const INSIDE: i32 = 40;
const OUTSIDE: i32 = 100;

/// The profile of a piece along a line outward.
///
/// The pictures with all coats, with each alone and with none are rendered as the stage is, over everything that lies
/// below the piece, so what is plotted is what is seen. What lies above it is left out. `None` when the scene does not show the piece.
#[must_use]
pub fn edge_profile(scene: &Scene, piece: &Id, line: Line, cache: &MaskCache) -> Option<Profile> {
    profile(scene, piece, line, cache, true)
}

/// The profile of all coats of a piece together, none alone.
#[must_use]
pub fn whole_profile(scene: &Scene, piece: &Id, line: Line, cache: &MaskCache) -> Option<Profile> {
    profile(scene, piece, line, cache, false)
}

fn profile(scene: &Scene, piece: &Id, line: Line, cache: &MaskCache, by_coat: bool) -> Option<Profile> {
    let number = scene.pieces.iter().position(|other| other.id == *piece)?;
    let (below, piece) = (&scene.pieces[..number], &scene.pieces[number]);
    let (sin, cos) = crate::maths::sin_cos(line.bearing.to_radians());
    let outward = Vec2::new(-sin, cos);
    let (width, height) = piece.silhouette.size();
    let from = Point::new(piece.x + width / 2.0 + line.x, piece.y + height / 2.0 + line.y);
    let to_edge = distance_to_edge(piece, from, outward);
    let along = |step: i32| from + outward * (to_edge + f64::from(step));
    let (start, end) = (along(-INSIDE), along(OUTSIDE));
    let viewport = view_around(start, end);
    let with = |pieces: Vec<Piece>| {
        let pieces = below.iter().cloned().chain(pieces).collect();
        render(&scene.with_pieces(pieces), &viewport, &RenderOptions::default(), cache)
    };
    let ground = with(Vec::new());
    let picture = |drawn: &dyn Fn(&Coat) -> bool| {
        let coats = piece.coats.iter().filter(|coat| drawn(coat)).cloned().collect();
        let piece = Piece { coats, ..piece.clone() };
        render_onto(&ground, &piece, &viewport, cache).unwrap_or_else(|| with(vec![piece]))
    };
    // Off the scene there is nothing to be darkened.
    let shown = |step: &i32| {
        let at = along(*step);
        (0.0..scene.width).contains(&at.x) && (0.0..scene.height).contains(&at.y)
    };
    let steps: Vec<i32> = (-INSIDE..=OUTSIDE).filter(shown).collect();
    let bare = picture(&|_| false);
    let darkness = |drawn: &dyn Fn(&Coat) -> bool| -> Vec<f64> {
        let with = picture(drawn);
        let lost = |step: &i32| {
            let at = along(*step) - Vec2::new(viewport.x, viewport.y);
            round_to((lightness(&bare, at) - lightness(&with, at)) * 100.0, 2)
        };
        steps.iter().map(lost).collect()
    };
    let sum = darkness(&|_| true);
    let samples =
        steps.iter().zip(sum).map(|(step, darkness)| Sample { at: f64::from(*step), darkness }).collect();
    let ids = if by_coat { coat_ids(piece) } else { Vec::new() };
    let alone = |id: &Id| CoatProfile { coat: id.clone(), darkness: darkness(&|coat| coat.id == *id) };
    let coats = ids.into_iter().map(alone).collect();
    let place = |at: Point| ScenePoint { x: at.x, y: at.y };
    Some(Profile {
        bearing: line.bearing,
        start: place(start),
        edge: place(along(0)),
        end: place(end),
        samples,
        coats,
    })
}

/// The ids of a piece's coats; the steps of a ramp are one coat.
fn coat_ids(piece: &Piece) -> Vec<&Id> {
    let mut ids: Vec<&Id> = piece.coats.iter().map(|coat| &coat.id).collect();
    ids.dedup();
    ids
}

/// No more is drawn than the line runs through.
fn view_around(from: Point, to: Point) -> Viewport {
    let (left, top) = (from.x.min(to.x).floor() - 1.0, from.y.min(to.y).floor() - 1.0);
    Viewport {
        x: left,
        y: top,
        scale: 1.0,
        width: (from.x.max(to.x) - left).ceil() as u32 + 2,
        height: (from.y.max(to.y) - top).ceil() as u32 + 2,
    }
}

/// From a point to the last place where a line outward leaves the silhouette.
fn distance_to_edge(piece: &Piece, from: Point, outward: Vec2) -> f64 {
    let crossing = |(start, end): (Point, Point)| {
        let (side, arm) = (end - start, start - from);
        let turn = outward.cross(side);
        let (along, share) = (arm.cross(side) / turn, arm.cross(outward) / turn);
        ((0.0..=1.0).contains(&share) && along >= 0.0).then_some(along)
    };
    let outline = piece.silhouette.outline();
    flatten(&outline.path, piece.place()).into_iter().filter_map(crossing).fold(0.0, f64::max)
}

fn lightness(canvas: &Canvas, at: Point) -> f64 {
    let (x, y) = (at.x.floor() as i64, at.y.floor() as i64);
    f64::from(canvas.at(x, y).lightness())
}
