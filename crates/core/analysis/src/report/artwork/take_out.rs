//! Taking an element out of a drawing: it becomes a piece, and what lies below and above it stays there.

use std::sync::Arc;

use json_patch::Patch;
use jsonptr::{PointerBuf, Token};
use serde_json::json;

use super::run_of;
use super::shapes::{Candidate, candidates};
use super::texts::{AsText, as_text};
use crate::arrange::Arranged;
use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::compose::{Canvas, MaskCache, RenderOptions, Viewport, render};
use crate::geometry::DrawnShape;
use crate::geometry::drawing::Drawing;
use crate::limits;
use crate::model::{
    Degrees, DrawingShape, DrawnFrom, ElementRun, Fill, GroupShape, Id, OwnCoats, Piece, Project, Px, Scene,
    Shape, Surface, Wear, piece_tokens,
};
use crate::patch::{remove, set};
use crate::resolve;
use crate::syntax::{UniqueNames, slug};

/// Takes an element out of a drawing. A drawing on its own becomes a group of what is below the element, the element and what is
/// above it, and keeps all that it has; a plain one in a group is replaced by them there. The picture stays the same. `None` where
/// the piece shows no such element, or no other.
#[must_use]
pub fn take_out(
    project: &Project,
    scene: &Scene,
    piece: &Id,
    element: u32,
    assets: &Assets,
) -> Option<Arranged> {
    let around = scene.path_to(piece);
    let (drawn, groups) = around.split_last()?;
    let Shape::Drawing(shape) = &drawn.shape else { return None };
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let (run, element) = (run_of(shape, &drawing), element as usize);
    // Something of the whole size is left, so that a turned group keeps its middle.
    if run.len() < 2 || !run.contains(&element) {
        return None;
    }
    let mut taken = UniqueNames::new(scene.all_pieces().into_iter().map(|piece| piece.id.as_str()));
    let mut id = |name: &str| Id::new(taken.unique(name, '-')).ok();
    let called = |name: String| name.chars().take(limits::NAME_CHARACTERS).collect::<String>();
    let rest = |id: Id, place: &str, from: usize, to: usize| Piece {
        name: called(format!("{}, {place}", without_place(&drawn.name))),
        shape: Shape::Drawing(DrawingShape { elements: run_from(from, to), ..shape.clone() }),
        ..Piece::new(id)
    };
    let found = &drawing.elements[element];
    let named = slug(&found.name);
    let own = Piece {
        drawn_from: Some(DrawnFrom { asset: shape.asset.clone(), element: u32::try_from(element).ok()? }),
        name: called(found.name.clone()),
        ..rest(id(if named.is_empty() { "element" } else { &named })?, "", element, element + 1)
    };
    let size = (shape.w.get(), shape.h.get());
    let own = as_shape(&Trial { project, scene, size, assets }, own, (&drawing, shape), element);
    let chosen = vec![own.id.clone()];
    let mut parts = Vec::new();
    if run.start < element {
        parts.push(rest(id(piece.as_str())?, BELOW, run.start, element));
    }
    parts.push(own);
    if element + 1 < run.end {
        parts.push(rest(id(piece.as_str())?, ABOVE, element + 1, run.end));
    }
    let place = place_of(scene, &around)?;
    let at = |fields: &[&str]| {
        let tokens = piece_tokens(&place).into_iter().chain(fields.iter().map(|field| (*field).to_owned()));
        PointerBuf::from_tokens(tokens.map(Token::from))
    };
    let changes = if groups.is_empty() || !is_plain(drawn) {
        vec![set(at(&["shape"]), json!(Shape::Group(GroupShape { parts })))]
    } else {
        let moved = parts.into_iter().map(|part| Piece {
            x: Px::clamped(part.x.get() + drawn.x.get()),
            y: Px::clamped(part.y.get() + drawn.y.get()),
            ..part
        });
        let inserted = moved.rev().map(|part| set(at(&[]), json!(part)));
        std::iter::once(remove(at(&[]))).chain(inserted).collect()
    };
    Some(Arranged { patch: Patch(changes), chosen })
}

/// The names of what is left of a drawing end in its place.
const BELOW: &str = "below";
const ABOVE: &str = "above";

/// The name of a drawing, without the place of what is left of it.
fn without_place(name: &str) -> &str {
    let place = [BELOW, ABOVE].into_iter().find_map(|place| name.strip_suffix(&format!(", {place}")));
    place.unwrap_or(name)
}

fn run_from(from: usize, to: usize) -> Option<ElementRun> {
    Some(ElementRun { from: u32::try_from(from).ok()?, to: u32::try_from(to).ok()? })
}

/// Whether a drawing looks the same in pieces: it has nothing that holds for the whole of it.
fn is_plain(drawn: &Piece) -> bool {
    let has_coats = match &drawn.wear {
        Wear::Finish(_) => true,
        Wear::Coats(OwnCoats { coats }) => !coats.is_empty(),
    };
    let is_itself = drawn.states.is_empty() && !drawn.control && drawn.shows.is_none();
    let lies_straight = drawn.rotation == Degrees::default() && drawn.clip_to.is_none();
    let is_solid =
        drawn.opacity.get() >= 1.0 && drawn.blend == BlendMode::Normal && drawn.surface == Surface::Keep;
    !has_coats && is_itself && lies_straight && is_solid && !drawn.hidden
}

/// The places of a piece and the groups around it in their lists.
fn place_of(scene: &Scene, around: &[&Piece]) -> Option<Vec<usize>> {
    let mut list = scene.pieces.as_slice();
    let mut places = Vec::new();
    for piece in around {
        places.push(list.iter().position(|other| other.id == piece.id)?);
        list = piece.shape.parts();
    }
    Some(places)
}

/// The element as a box, ellipse or path where that draws the same, or else as a drawing of it alone.
fn as_shape(
    trial: &Trial<'_>,
    own: Piece,
    (drawing, shape): (&Arc<Drawing>, &DrawingShape),
    element: usize,
) -> Piece {
    let found = &drawing.elements[element];
    let (w, h) = (shape.w.get(), shape.h.get());
    let whole = DrawnShape::new(Arc::clone(drawing), 0..usize::MAX, w, h);
    let Some(areas) = found.areas() else { return own };
    let wanted = trial.drawn(own.clone());
    candidates(&found.tag, &areas, whole.fit())
        .into_iter()
        .map(|Candidate { shape, fill, coats, x, y }| Piece {
            shape,
            fill,
            x,
            y,
            wear: Wear::Coats(OwnCoats { coats }),
            ..own.clone()
        })
        .find(|piece| looks_the_same(&wanted, &trial.drawn(piece.clone())))
        .unwrap_or(own)
}

/// What of a piece is other than in the element that it was taken out as: its fill, its shape, or its place beside what is left of
/// the drawing. `None` where it is no such piece, or a drawing still.
#[must_use]
pub fn changed_since(
    piece: &Piece,
    (rest, shape): (&Piece, &DrawingShape),
    assets: &Assets,
) -> Option<Changed> {
    let from = piece.drawn_from.as_ref()?;
    let drawing = assets.drawing(&from.asset)?.ok()?;
    let found = drawing.elements.get(from.element as usize)?;
    let whole = DrawnShape::new(Arc::clone(&drawing), 0..usize::MAX, shape.w.get(), shape.h.get());
    let moved = |now: Px, rest: Px, own: Px| (now.get() - rest.get() - own.get()).abs() > 1e-3;
    let shapes = candidates(&found.tag, &found.areas()?, whole.fit());
    if let Shape::Text(_) = &piece.shape {
        let AsText { shape, fill, x, y } = as_text(found, whole.fit(), assets)?;
        let shape = shape != piece.shape || moved(piece.x, rest.x, x) || moved(piece.y, rest.y, y);
        return Some(Changed { fill: fill != piece.fill, shape });
    }
    let own = shapes.iter().find(|one| one.shape.name() == piece.shape.name())?;
    Some(Changed {
        fill: own.fill != piece.fill,
        shape: own.shape != piece.shape || moved(piece.x, rest.x, own.x) || moved(piece.y, rest.y, own.y),
    })
}

/// What of a piece is other than in its file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Changed {
    /// Its fill.
    pub fill: bool,
    /// Its shape, or where it lies.
    pub shape: bool,
}

/// A scene of one piece alone, with some room around the drawing.
struct Trial<'a> {
    project: &'a Project,
    scene: &'a Scene,
    size: (f64, f64),
    assets: &'a Assets,
}

/// Pixels on the longer side of a picture that pieces are compared by.
const TRIED: f64 = 384.0;

impl Trial<'_> {
    fn drawn(&self, mut piece: Piece) -> Canvas {
        let longest = self.size.0.max(self.size.1);
        let room = longest / 16.0;
        piece.x = Px::clamped(piece.x.get() + room);
        piece.y = Px::clamped(piece.y.get() + room);
        let alone = Scene { pieces: vec![piece], ground: Fill::default(), ..self.scene.clone() };
        let mut resolved = resolve::scene(self.project, &alone, self.assets);
        (resolved.width, resolved.height) = (self.size.0 + 2.0 * room, self.size.1 + 2.0 * room);
        let viewport = Viewport::whole(&resolved, TRIED / longest);
        render(&resolved, &viewport, &RenderOptions::default(), &MaskCache::with_capacity(0))
    }
}

/// Whether two pictures differ by no more than rounding, over the pixels that one of them touches: in the mean by a fifth of a
/// 255th, and but for one pixel of a thousand by four.
fn looks_the_same(a: &Canvas, b: &Canvas) -> bool {
    let differences: Vec<f32> = a
        .pixels
        .iter()
        .zip(&b.pixels)
        .filter(|(a, b)| a[3] > 0.0 || b[3] > 0.0)
        .map(|(a, b)| a.iter().zip(b).map(|(a, b)| (a - b).abs()).fold(0.0, f32::max) * 255.0)
        .collect();
    let mean = differences.iter().sum::<f32>() / differences.len().max(1) as f32;
    let far = differences.iter().filter(|difference| **difference > 4.0).count();
    mean <= 0.2 && far * 1000 <= differences.len()
}
