//! From a document to plain numbers: lights followed, swatches looked up, text set, finishes unpacked, ramps taken
//! apart.
//!
//! Nothing unresolved reaches the renderer. What cannot be drawn, such as a picture that is missing, is left out of
//! the resolved scene and said in its [`Note`]s, so nothing is ignored silently.

mod coat;
mod colour;
mod offset;
mod paint;
mod ramp;
mod shape;

use std::hash::{Hash, Hasher};

use kurbo::{Affine, Point};
use serde::Serialize;

use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::geometry::crossings::TooIntricate;
use crate::geometry::{Body, Silhouette};
use crate::model::{self, Id, Project, State, Surface, Transition};

pub use coat::{Cast, Coat, Draws, Extrude, Frost, Grain, Ink, Layer, Shadow, Spot, Tone};
pub use colour::Surroundings;
pub use offset::{ResolvedOffset, bearing_of};
pub use paint::{ColourStop, Paint, Sampler};
pub use ramp::steps;
pub use shape::silhouette;

/// A scene of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Scene {
    /// In px.
    pub width: f64,
    /// In px.
    pub height: f64,
    /// What the pieces lie on.
    pub ground: Paint,
    /// First is lowest; hidden ones are left out.
    pub pieces: Vec<Piece>,
    /// What could not be drawn.
    pub notes: Vec<Note>,
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
    /// What coats under it are cast from: the silhouette with the strokes outside it.
    pub outer: Body,
    /// What inner shadows lie in: the silhouette without the strokes inside it. `None` when they leave nothing.
    pub inner: Option<Body>,
    /// The left of its box.
    pub x: f64,
    /// The top of its box.
    pub y: f64,
    /// In degrees, clockwise about the middle of its box.
    pub rotation: f64,
    /// What it is filled with.
    pub fill: Paint,
    /// The parts of a join, placed in it; first is lowest.
    pub parts: Vec<Piece>,
    /// What becomes of its surface.
    pub surface: Surface,
    /// Coats that are on; first is nearest the eye.
    pub coats: Vec<Coat>,
    /// Of surface and coats together.
    pub opacity: f64,
    /// How it mixes with the scene.
    pub blend: BlendMode,
    /// What it is clipped to.
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
    /// What is the matter, naming the coat, and what became of it.
    pub message: String,
}

/// Resolves a scene under its theme.
#[must_use]
pub fn scene(project: &Project, scene: &model::Scene, assets: &Assets) -> Scene {
    let context = Context { project, theme: &scene.theme, assets };
    let mut notes = Vec::new();
    let ground = context.ground(scene, &mut notes);
    let mut pieces = Vec::new();
    for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
        let under = Under { ground: &ground, size: size(scene), below: &pieces };
        let resolved = context.piece(piece, Some(under), &scene.pieces, &mut notes);
        pieces.push(resolved);
    }
    Scene { width: scene.width.get(), height: scene.height.get(), ground, pieces, notes }
}

/// Resolves one piece of a scene, hidden or not.
#[must_use]
pub fn piece(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    assets: &Assets,
) -> (Piece, Vec<Note>) {
    let mut notes = Vec::new();
    let context = Context { project, theme: &scene.theme, assets };
    let resolved = over_its_ground(context, scene, piece, |under| {
        context.piece(piece, Some(under), &scene.pieces, &mut notes)
    });
    (resolved, notes)
}

/// What a piece looks like when somebody does something with it.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct PieceStates {
    /// The piece in each state that has coats of its own.
    pub coats: Vec<(State, Piece)>,
    /// How it changes from state to state.
    pub transition: Option<Transition>,
}

/// Resolves a piece of a scene in each of its states.
#[must_use]
pub fn states(project: &Project, scene: &model::Scene, piece: &model::Piece, assets: &Assets) -> PieceStates {
    let (stacks, transition) = match &piece.wear {
        model::Wear::Coats(_) => (&piece.states, None),
        model::Wear::Finish(worn) => match project.finishes.iter().find(|finish| finish.id == worn.finish) {
            Some(finish) => (&finish.states, finish.transition.clone()),
            None => return PieceStates::default(),
        },
    };
    let resolved = stacks.iter().map(|(state, coats)| {
        let wear = model::Wear::Coats(model::OwnCoats { coats: coats.clone() });
        (*state, self::piece(project, scene, &model::Piece { wear, ..piece.clone() }, assets).0)
    });
    PieceStates { coats: resolved.collect(), transition }
}

/// The ordinary coats that one ramp of a piece stands for, nearest first; `None` when it is no ramp of this piece.
///
/// # Errors
/// When a value in between leaves its range, which values between two in range do not.
pub fn split_ramp(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    coat: &str,
    assets: &Assets,
) -> Option<Result<Vec<model::Coat>, model::OutOfRange>> {
    let coat = project.coats_of(piece).iter().find(|other| other.id.as_str() == coat)?;
    let model::CoatKind::Ramp(ramp) = &coat.kind else { return None };
    let context = Context { project, theme: &scene.theme, assets };
    Some(over_its_ground(context, scene, piece, |under| {
        let resolved = context.piece(piece, Some(under), &scene.pieces, &mut Vec::new());
        context.split(coat, ramp, &context.around(coat, &resolved, Some(under)))
    }))
}

/// Works on a piece with everything below it resolved.
fn over_its_ground<R>(
    context: Context<'_>,
    scene: &model::Scene,
    piece: &model::Piece,
    work: impl FnOnce(Under<'_>) -> R,
) -> R {
    let mut elsewhere = Vec::new();
    let ground = context.ground(scene, &mut elsewhere);
    let mut below = Vec::new();
    for other in scene.pieces.iter().take_while(|other| other.id != piece.id).filter(|other| !other.hidden) {
        let under = Under { ground: &ground, size: size(scene), below: &below };
        let resolved = context.piece(other, Some(under), &scene.pieces, &mut elsewhere);
        below.push(resolved);
    }
    work(Under { ground: &ground, size: size(scene), below: &below })
}

fn size(scene: &model::Scene) -> (f64, f64) {
    (scene.width.get(), scene.height.get())
}

/// What values are looked up in.
#[derive(Clone, Copy)]
pub struct Context<'a> {
    /// Lights, swatches and finishes.
    pub project: &'a Project,
    /// The id of the theme.
    pub theme: &'a Id,
    /// Its pictures.
    pub assets: &'a Assets,
}

/// What a piece lies on.
#[derive(Clone, Copy)]
struct Under<'a> {
    ground: &'a Paint,
    size: (f64, f64),
    below: &'a [Piece],
}

impl Context<'_> {
    fn ground(&self, scene: &model::Scene, notes: &mut Vec<Note>) -> Paint {
        self.paint(&scene.ground, &mut |message| {
            notes.push(Note { piece: "ground".to_owned(), coat: None, message });
        })
    }

    fn piece(
        &self,
        piece: &model::Piece,
        under: Option<Under<'_>>,
        siblings: &[model::Piece],
        notes: &mut Vec<Note>,
    ) -> Piece {
        let mut report = |coat: Option<&model::Coat>, message: String| {
            let coat = coat.map(|coat| coat.id.clone());
            notes.push(Note { piece: piece.name.clone(), coat, message });
        };
        let fill = self.paint(&piece.fill, &mut |message| report(None, message));
        let (silhouette, picture) = self.silhouette(&piece.shape, &mut |message| report(None, message));
        // A picture is its own fill.
        let fill = picture.unwrap_or(fill);
        let mut resolved = Piece {
            id: piece.id.clone(),
            name: piece.name.clone(),
            outer: Body::plain(silhouette.clone()),
            inner: Some(Body::plain(silhouette.clone())),
            silhouette,
            x: piece.x.get(),
            y: piece.y.get(),
            rotation: piece.rotation.get(),
            fill,
            parts: Vec::new(),
            surface: piece.surface,
            coats: Vec::new(),
            opacity: piece.opacity.get(),
            blend: piece.blend,
            clip: None,
        };
        let coats = if piece.coats_on { self.project.coats_of(piece) } else { &[] };
        for coat in coats.iter().filter(|coat| coat.on) {
            match self.coats(coat, &resolved, under) {
                Ok(coats) => resolved.coats.extend(coats),
                Err(message) => report(Some(coat), format!("\"{}\": {message}: left out", coat.name)),
            }
        }
        resolved.clip = piece.clip_to.as_ref().and_then(|id| self.clip(siblings, id));
        if let model::Shape::Join(join) = &piece.shape {
            resolved.parts = self.parts(join, under, notes);
            resolved.outer = Body::plain(shape::join_of(&resolved.parts, join, |part| &part.outer));
        }
        resolved.apply_strokes();
        resolved.leave_out_too_intricate(&mut |coat, message| {
            notes.push(Note { piece: piece.name.clone(), coat, message });
        });
        resolved
    }

    fn parts(&self, join: &model::JoinShape, under: Option<Under<'_>>, notes: &mut Vec<Note>) -> Vec<Piece> {
        let shown = join.parts.iter().filter(|part| !part.hidden);
        let resolve = |part: &model::Piece| {
            let mut resolved = self.piece(part, under, &join.parts, notes);
            for coat in resolved.coats.iter().filter(|coat| !coat.draws.is_on_surface()) {
                let message =
                    format!("\"{}\" lies under a part; only the join casts shadows: left out", coat.name);
                notes.push(Note { piece: part.name.clone(), coat: Some(coat.id.clone()), message });
            }
            if let Some(coat) = resolved.coats.iter().find(|coat| matches!(coat.draws, Draws::Blur(_))) {
                let message =
                    format!("\"{}\" softens a part; only a whole piece is softened: left out", coat.name);
                notes.push(Note { piece: part.name.clone(), coat: Some(coat.id.clone()), message });
            }
            let kept = |draws: &Draws| draws.is_on_surface() && !matches!(draws, Draws::Blur(_));
            resolved.coats.retain(|coat| kept(&coat.draws));
            resolved
        };
        shown.map(resolve).collect()
    }

    fn clip(&self, siblings: &[model::Piece], id: &Id) -> Option<Clip> {
        let other = siblings.iter().find(|other| other.id == *id)?;
        let (silhouette, _) = self.silhouette(&other.shape, &mut |_| ());
        let (x, y) = (other.x.get(), other.y.get());
        let place = place_of(&silhouette, x, y, other.rotation.get());
        Some(Clip { silhouette, place })
    }
}

impl Piece {
    /// From its own px to its scene's, or its join's.
    #[must_use]
    pub fn place(&self) -> Affine {
        place_of(&self.silhouette, self.x, self.y, self.rotation)
    }

    /// The piece with other coats; strokes among them enlarge and narrow it anew.
    #[must_use]
    pub fn with_coats(&self, coats: Vec<Coat>) -> Self {
        let mut piece = Self { coats, ..self.clone() };
        // The parts of a join have strokes of their own, which stay.
        if piece.parts.is_empty() {
            piece.outer = Body::plain(piece.silhouette.clone());
        }
        piece.inner = Some(Body::plain(piece.silhouette.clone()));
        piece.apply_strokes();
        piece
    }

    /// Equal for pieces that draw the same but for their coats.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        self.silhouette.fingerprint(hasher);
        for body in [Some(&self.outer), self.inner.as_ref()].into_iter().flatten() {
            body.silhouette.fingerprint(hasher);
            (body.x.to_bits(), body.y.to_bits()).hash(hasher);
        }
        (self.x.to_bits(), self.y.to_bits(), self.rotation.to_bits(), self.opacity.to_bits()).hash(hasher);
        (self.inner.is_some(), self.fill.fingerprint(), self.surface as u8, self.blend as u8).hash(hasher);
        if let Some(clip) = &self.clip {
            clip.silhouette.fingerprint(hasher);
            clip.place.as_coeffs().map(f64::to_bits).hash(hasher);
        }
        for part in &self.parts {
            part.fingerprint(hasher);
            part.coats.iter().for_each(|coat| coat.fingerprint(hasher));
        }
    }

    /// Everything the piece touches on its way along its thickness. That does not turn with the piece, as light does not.
    #[must_use]
    pub fn swept(&self, thick: &Extrude) -> Silhouette {
        let own = Affine::rotate(-self.rotation.to_radians()) * Point::new(thick.dx, thick.dy);
        self.outer.silhouette.swept(own.to_vec2())
    }

    /// Leaves out, and says so, what has too many lines, or lines that cross too often, to be drawn in time.
    fn leave_out_too_intricate(&mut self, say: &mut impl FnMut(Option<Id>, String)) {
        let bodies = [Some(&self.outer), self.inner.as_ref()].into_iter().flatten();
        let mut silhouettes = bodies.map(|body| &body.silhouette).chain([&self.silhouette]);
        if silhouettes.any(Silhouette::is_too_intricate) {
            say(None, format!("{TooIntricate}: left empty"));
        }
        let coats = std::mem::take(&mut self.coats);
        let drawn = |coat: &Coat| match &coat.draws {
            Draws::Extrude(thick) => !self.swept(thick).is_too_intricate(),
            Draws::Highlight(spot) => !spot.silhouette.is_too_intricate(),
            Draws::Shadow(Shadow { substitute: Some((silhouette, _)), .. }) => !silhouette.is_too_intricate(),
            _ => true,
        };
        let (kept, left_out): (Vec<Coat>, Vec<Coat>) = coats.into_iter().partition(drawn);
        self.coats = kept;
        for coat in left_out {
            say(Some(coat.id), format!("\"{}\": {TooIntricate}: left out", coat.name));
        }
    }

    /// Strokes enlarge what is cast, and narrow what inner shadows lie in.
    fn apply_strokes(&mut self) {
        for coat in &self.coats {
            if let Draws::Stroke { edge, .. } = &coat.draws {
                if edge.reach().0 > 0.0 {
                    self.outer = self.outer.grown_by(edge);
                }
                if edge.reach().1 > 0.0 {
                    self.inner = self.inner.as_ref().and_then(|inner| inner.shrunk_by(edge));
                }
            }
        }
    }
}

fn place_of(silhouette: &Silhouette, x: f64, y: f64, rotation: f64) -> Affine {
    let (width, height) = silhouette.size();
    let turn = if rotation == 0.0 {
        Affine::IDENTITY
    } else {
        Affine::rotate_about(rotation.to_radians(), (width / 2.0, height / 2.0))
    };
    Affine::translate((x, y)) * turn
}
