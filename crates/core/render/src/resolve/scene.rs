//! Scenes of plain numbers, colours and outlines.

use std::hash::{Hash, Hasher};

use kurbo::{Affine, Point};
use serde::Serialize;

use super::coat::{Coat, Extrude, PaintOp, Shadow};
use super::paint::Paint;
use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::geometry::crossings::TooComplex;
use crate::geometry::{PlacedSilhouette, Silhouette};
use crate::model::{Id, Project, State, Surface, Transition};

/// A scene of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Scene {
    /// In px.
    pub width: f64,
    /// In px.
    pub height: f64,
    /// The ground under the pieces.
    pub ground: Paint,
    /// First is lowest; hidden ones are left out.
    pub pieces: Vec<Piece>,
    /// Each thing that was left out, with the reason.
    pub notes: Vec<Note>,
}

impl Scene {
    /// A scene of the same size and ground with other pieces, and no notes.
    #[must_use]
    pub fn with_pieces(&self, pieces: Vec<Piece>) -> Self {
        let Self { width, height, ref ground, .. } = *self;
        Self { width, height, ground: ground.clone(), pieces, notes: Vec::new() }
    }
}

/// A piece of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// Its id.
    pub id: Id,
    /// Its name.
    pub name: String,
    /// Its geometry.
    pub silhouette: Silhouette,
    /// The silhouette with the strokes outside it, which casts the coats under the piece.
    pub outer: PlacedSilhouette,
    /// The silhouette without the strokes inside it, in which inner shadows lie. `None` when they leave nothing.
    pub inner: Option<PlacedSilhouette>,
    /// The left of its box.
    pub x: f64,
    /// The top of its box.
    pub y: f64,
    /// In degrees, clockwise about the middle of its box.
    pub rotation: f64,
    /// Its paint.
    pub fill: Paint,
    /// The parts of a join, placed in it; first is lowest.
    pub parts: Vec<Piece>,
    /// The pieces of a group that is drawn as one thing, on the scene; first is lowest.
    pub members: Vec<Piece>,
    /// The silhouette of a join or group with the strokes outside its parts.
    pub joined: Option<PlacedSilhouette>,
    /// How its surface is drawn.
    pub surface: Surface,
    /// Coats that are on; first is nearest the eye.
    pub coats: Vec<Coat>,
    /// Of surface and coats together.
    pub opacity: f64,
    /// How it mixes with the scene.
    pub blend: BlendMode,
    /// The silhouette it is clipped to.
    pub clip: Option<Clip>,
}

/// A silhouette somewhere on the scene.
#[derive(Debug, Clone, PartialEq)]
pub struct Clip {
    /// Its geometry.
    pub silhouette: Silhouette,
    /// From its own px to the scene's.
    pub place: Affine,
}

/// Something about one coat or piece that a designer must know.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Note {
    /// The piece's name.
    pub piece: String,
    /// The coat's id, when it is about one coat.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coat: Option<Id>,
    /// The problem, naming the coat, and how it was handled.
    pub message: String,
}

/// The coats of a piece in its states.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct PieceStates {
    /// The piece in each state that has coats of its own.
    pub coats: Vec<(State, Piece)>,
    /// How it changes from state to state.
    pub transition: Option<Transition>,
    /// It is a control by the designer's word.
    pub is_control: bool,
    /// The id and name of the control whose states it follows, where that is another piece.
    pub control: Option<(Id, String)>,
    /// The ids and names of the controls within its control.
    pub inner: Vec<(Id, String)>,
}

/// The project and theme that values are looked up in.
#[derive(Clone, Copy)]
pub struct Context<'a> {
    /// Lights, swatches and finishes.
    pub project: &'a Project,
    /// The id of the theme.
    pub theme: &'a Id,
    /// Its pictures.
    pub assets: &'a Assets,
}

/// The ground and the pieces under a piece.
#[derive(Clone, Copy)]
pub(super) struct PieceBackground<'a> {
    pub ground: &'a Paint,
    pub size: (f64, f64),
    pub below: &'a [Piece],
}

impl Piece {
    /// From its own px to its scene's, or its join's.
    #[must_use]
    pub fn place(&self) -> Affine {
        place_of(&self.silhouette, self.x, self.y, self.rotation)
    }

    /// The piece itself; of a group, its members, at any depth.
    pub(super) fn leaves(&self) -> Vec<&Self> {
        if self.members.is_empty() {
            vec![self]
        } else {
            self.members.iter().flat_map(Self::leaves).collect()
        }
    }

    /// The piece with other coats; its outer and inner silhouettes are computed again from the strokes among them.
    #[must_use]
    pub fn with_coats(&self, coats: Vec<Coat>) -> Self {
        let mut piece = Self { coats, ..self.clone() };
        let plain = || PlacedSilhouette::plain(piece.silhouette.clone());
        piece.outer = piece.joined.clone().unwrap_or_else(plain);
        piece.inner = Some(PlacedSilhouette::plain(piece.silhouette.clone()));
        piece.apply_strokes();
        piece
    }

    /// Equal for pieces that draw the same but for their coats.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        self.look_fingerprint(hasher);
        (self.x.to_bits(), self.y.to_bits(), self.rotation.to_bits()).hash(hasher);
        if let Some(clip) = &self.clip {
            clip.silhouette.fingerprint(hasher);
            clip.place.as_coeffs().map(f64::to_bits).hash(hasher);
        }
        for member in &self.members {
            member.fingerprint(hasher);
            member.coats.iter().for_each(|coat| coat.fingerprint(hasher));
        }
    }

    /// Equal for pieces that draw the same but for their coats, their place, the clip they are cut to and the members they have.
    pub fn look_fingerprint(&self, hasher: &mut impl Hasher) {
        self.silhouette.fingerprint(hasher);
        for body in [Some(&self.outer), self.inner.as_ref()].into_iter().flatten() {
            body.silhouette.fingerprint(hasher);
            (body.x.to_bits(), body.y.to_bits()).hash(hasher);
        }
        self.opacity.to_bits().hash(hasher);
        (self.inner.is_some(), self.fill.fingerprint(), self.surface as u8, self.blend as u8).hash(hasher);
        self.members.len().hash(hasher);
        for part in &self.parts {
            part.fingerprint(hasher);
            part.coats.iter().for_each(|coat| coat.fingerprint(hasher));
        }
    }

    /// Everything the piece touches on its way along its thickness. That does not turn with the piece, as light does not.
    #[must_use]
    pub fn swept(&self, extrude: &Extrude) -> Silhouette {
        let own = crate::maths::rotation(-self.rotation.to_radians()) * Point::new(extrude.dx, extrude.dy);
        self.outer.silhouette.swept(own.to_vec2())
    }

    /// Leaves out, and reports, pieces with too many lines, or lines that cross too often, to be drawn in time.
    pub(super) fn drop_too_complex(&mut self, say: &mut impl FnMut(Option<Id>, String)) {
        let bodies = [Some(&self.outer), self.inner.as_ref()].into_iter().flatten();
        let mut silhouettes = bodies.map(|body| &body.silhouette).chain([&self.silhouette]);
        if silhouettes.any(Silhouette::is_too_complex) {
            say(None, format!("{TooComplex}: left empty"));
        }
        let coats = std::mem::take(&mut self.coats);
        let drawn = |coat: &Coat| match &coat.op {
            PaintOp::Extrude(extrude) => !self.swept(extrude).is_too_complex(),
            PaintOp::Highlight(spot) => !spot.silhouette.is_too_complex(),
            PaintOp::Shadow(Shadow { substitute: Some((silhouette, _)), .. }) => !silhouette.is_too_complex(),
            PaintOp::Shadow(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_)
            | PaintOp::Cast(_) => true,
        };
        let (kept, left_out): (Vec<Coat>, Vec<Coat>) = coats.into_iter().partition(drawn);
        self.coats = kept;
        for coat in left_out {
            say(Some(coat.id), format!("\"{}\": {TooComplex}: left out", coat.name));
        }
    }

    /// Strokes enlarge the silhouette that casts, and narrow the one that inner shadows fall in.
    pub(super) fn apply_strokes(&mut self) {
        for coat in &self.coats {
            if let PaintOp::Stroke { style, .. } = &coat.op {
                if style.reach().0 > 0.0 {
                    self.outer = self.outer.grown_by(style);
                }
                if style.reach().1 > 0.0 {
                    self.inner = self.inner.as_ref().and_then(|inner| inner.shrunk_by(style));
                }
            }
        }
    }
}

pub(super) fn place_of(silhouette: &Silhouette, x: f64, y: f64, rotation: f64) -> Affine {
    place_in(silhouette.size(), x, y, rotation)
}

/// From a part's own px to those of the list it lies in, where its box has a size.
#[must_use]
pub fn part_place(part: &crate::model::Piece, size: (f64, f64)) -> Affine {
    place_in(size, part.x.get(), part.y.get(), part.rotation.get())
}

/// From the px of a box of a size to those around it: moved to its left and top, and turned about its middle.
pub(super) fn place_in((width, height): (f64, f64), x: f64, y: f64, rotation: f64) -> Affine {
    let turn = if rotation == 0.0 {
        Affine::IDENTITY
    } else {
        crate::maths::rotation_about(rotation.to_radians(), (width / 2.0, height / 2.0))
    };
    Affine::translate((x, y)) * turn
}
