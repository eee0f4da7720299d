//! A whole scene, or one piece of it, resolved.

use kurbo::Affine;

use super::coat::PaintOp;
use super::colour::ColoursBelow;
use super::level::Level;
use super::paint::Paint;
use super::plates::plates;
use super::scene::{Clip, Context, Note, Piece, PieceBackground, PieceStates, Scene, place_of};
use super::shape::join_of;
use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::{JoinOp, PlacedSilhouette, Silhouette};
use crate::model::{self, Id, Project, State};

/// Resolves a scene under its theme.
#[must_use]
pub fn scene(project: &Project, scene: &model::Scene, assets: &Assets) -> Scene {
    let context = Context { project, theme: &scene.theme, assets };
    let mut notes = Vec::new();
    let ground = context.ground(scene, &mut notes);
    let mut pieces = Vec::new();
    let sheet = Sheet { ground: &ground, size: size(scene) };
    context.place_all(Level::of_scene(&plates(scene)), sheet, &mut pieces, &mut notes);
    context.place_all(Level::of_scene(&scene.pieces), sheet, &mut pieces, &mut notes);
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
    let resolved = over_its_ground(context, scene, piece, |under, level| {
        context.piece(piece, Some(under), level, &mut notes)
    });
    (resolved, notes)
}

/// Resolves one piece of a scene as [`piece`] does, with all pieces in it in a state, `None` at rest.
#[must_use]
pub fn piece_in_state(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    state: Option<State>,
    assets: &Assets,
) -> Piece {
    let context = Context { project, theme: &scene.theme, assets };
    over_its_ground(context, scene, piece, |under, level| {
        context.piece(piece, Some(under), level.in_state(state), &mut Vec::new())
    })
}

/// The surface beneath a piece, as one opaque colour: the mean of the ground and of the fills below it.
#[must_use]
pub fn beneath(project: &Project, scene: &model::Scene, piece: &model::Piece, assets: &Assets) -> Rgba {
    let context = Context { project, theme: &scene.theme, assets };
    over_its_ground(context, scene, piece, |under, level| {
        let resolved = context.piece(piece, Some(under), level, &mut Vec::new());
        let area = resolved.place().transform_rect_bbox(resolved.silhouette.bounds());
        ColoursBelow { under, area }.mean()
    })
}

/// Resolves a piece of a scene in each of its states.
#[must_use]
pub fn states(project: &Project, scene: &model::Scene, piece: &model::Piece, assets: &Assets) -> PieceStates {
    let named = |piece: &model::Piece| (piece.id.clone(), piece.name.clone());
    let control = project.control_of(scene, piece);
    let around = control.filter(|control| control.id != piece.id).map(named);
    let inner =
        control.map_or_else(Vec::new, |control| control.inner_controls().into_iter().map(named).collect());
    let (stacks, transition) = match &piece.wear {
        model::Wear::Coats(_) => (&piece.states, None),
        model::Wear::Finish(worn) => match project.finishes.iter().find(|finish| finish.id == worn.finish) {
            Some(finish) => (&finish.states, finish.transition.clone()),
            None => return PieceStates::default(),
        },
    };
    let resolved = stacks.iter().map(|(state, coats)| {
        let worn = piece.wearing(coats.clone());
        (*state, piece_in_state(project, scene, &worn, Some(*state), assets))
    });
    let coats = resolved.collect();
    PieceStates { coats, transition, is_control: piece.control, control: around, inner }
}

/// The ordinary coats that one ramp of a piece stands for, nearest first; `None` when it is no ramp of this piece.
///
/// # Errors
/// When a value in between leaves its range, which values between two in range do not.
pub fn split_coat(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    coat: &str,
    assets: &Assets,
) -> Option<Result<Vec<model::Coat>, model::OutOfRange>> {
    let coat = project.shown_coats(scene, piece).iter().find(|other| other.id.as_str() == coat)?;
    let context = Context { project, theme: &scene.theme, assets };
    over_its_ground(context, scene, piece, |under, level| {
        let resolved = context.piece(piece, Some(under), level, &mut Vec::new());
        context.split(coat, &context.around(coat, &resolved, Some(under)))
    })
}

/// Works on a piece with everything below it resolved, and the list it is in.
fn over_its_ground<R>(
    context: Context<'_>,
    scene: &model::Scene,
    piece: &model::Piece,
    work: impl FnOnce(PieceBackground<'_>, Level<'_>) -> R,
) -> R {
    let mut elsewhere = Vec::new();
    let ground = context.ground(scene, &mut elsewhere);
    let sheet = Sheet { ground: &ground, size: size(scene) };
    let mut below = Vec::new();
    context.place_all(Level::of_scene(&plates(scene)), sheet, &mut below, &mut elsewhere);
    let mut level = Level::of_scene(&scene.pieces);
    loop {
        let at = level.pieces.iter().position(|other| other.find(&piece.id).is_some());
        let before = level.first(at.unwrap_or(level.pieces.len()));
        context.place_all(before, sheet, &mut below, &mut elsewhere);
        match at.map(|at| &level.pieces[at]).filter(|other| other.id != piece.id) {
            Some(group) => level = level.inside(group, context.assets),
            None => break,
        }
    }
    work(sheet.with(&below), level)
}

/// The ground of a scene and its size, in px.
#[derive(Clone, Copy)]
struct Sheet<'a> {
    ground: &'a Paint,
    size: (f64, f64),
}

impl<'a> Sheet<'a> {
    fn with(self, below: &'a [Piece]) -> PieceBackground<'a> {
        PieceBackground { ground: self.ground, size: self.size, below }
    }
}

fn size(scene: &model::Scene) -> (f64, f64) {
    (scene.width.get(), scene.height.get())
}

impl Context<'_> {
    fn ground(&self, scene: &model::Scene, notes: &mut Vec<Note>) -> Paint {
        self.paint(&scene.ground, &mut |message| {
            notes.push(Note { piece: "ground".to_owned(), coat: None, message });
        })
    }

    /// Resolves the pieces of a list that are shown, over those that are there already. A group that only arranges its parts
    /// gives way to them.
    fn place_all(&self, level: Level<'_>, sheet: Sheet<'_>, pieces: &mut Vec<Piece>, notes: &mut Vec<Note>) {
        for piece in level.pieces.iter().filter(|piece| !piece.hidden) {
            if self.only_arranges(piece, level.state_of(piece)) {
                self.place_all(level.inside(piece, self.assets), sheet, pieces, notes);
            } else {
                let resolved = self.piece(piece, Some(sheet.with(pieces)), level, notes);
                pieces.push(resolved);
            }
        }
    }

    /// Whether a piece is a group whose parts are drawn straight onto the picture below: without coats, opaque and in
    /// normal blend.
    pub(super) fn only_arranges(&self, piece: &model::Piece, state: Option<State>) -> bool {
        let is_plain =
            piece.opacity.get() >= 1.0 && piece.blend == BlendMode::Normal && piece.clip_to.is_none();
        let coats = || self.project.coats_in_state(piece, self.theme, state);
        let has_coats = || piece.coats_on && coats().iter().any(|coat| coat.on);
        let shows_parts = piece.surface == model::Surface::Keep;
        matches!(piece.shape, model::Shape::Group(_)) && is_plain && shows_parts && !has_coats()
    }

    fn piece(
        &self,
        piece: &model::Piece,
        under: Option<PieceBackground<'_>>,
        level: Level<'_>,
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
        let (x, y, rotation) = level.place_box(piece, silhouette.size());
        let mut resolved = Piece {
            id: piece.id.clone(),
            name: piece.name.clone(),
            outer: PlacedSilhouette::plain(silhouette.clone()),
            inner: Some(PlacedSilhouette::plain(silhouette.clone())),
            silhouette,
            x,
            y,
            rotation,
            fill,
            parts: Vec::new(),
            members: Vec::new(),
            joined: None,
            surface: piece.surface,
            coats: Vec::new(),
            opacity: piece.opacity.get(),
            blend: piece.blend,
            clip: None,
        };
        let worn = || self.project.coats_in_state(piece, self.theme, level.state_of(piece));
        let coats = if piece.coats_on { worn() } else { &[] };
        for coat in coats.iter().filter(|coat| coat.on) {
            match self.coats(coat, &resolved, under) {
                Ok(coats) => resolved.coats.extend(coats),
                Err(message) => report(Some(coat), format!("\"{}\": {message}: left out", coat.name)),
            }
        }
        resolved.clip = piece.clip_to.as_ref().and_then(|id| self.clip(level, id));
        self.set_parts(&mut resolved, piece, under, level, notes);
        resolved.apply_strokes();
        resolved.drop_too_complex(&mut |coat, message| {
            notes.push(Note { piece: piece.name.clone(), coat, message });
        });
        resolved
    }

    /// Gives a join its parts, and a group its members.
    fn set_parts(
        &self,
        resolved: &mut Piece,
        piece: &model::Piece,
        under: Option<PieceBackground<'_>>,
        level: Level<'_>,
        notes: &mut Vec<Note>,
    ) {
        match &piece.shape {
            model::Shape::Join(join) => {
                resolved.parts = self.parts(join, under, notes);
                let joined = join_of(&resolved.parts, join.op, join.rounding.get(), Affine::IDENTITY);
                resolved.set_joined(joined);
            }
            model::Shape::Group(_) => {
                resolved.fill = Paint::None;
                resolved.members = self.members(piece, under, level, notes);
                let joined = join_of(&resolved.members, JoinOp::Add, 0.0, resolved.place().inverse());
                resolved.set_joined(joined);
            }
            model::Shape::Box(_)
            | model::Shape::Ellipse(_)
            | model::Shape::Path(_)
            | model::Shape::Text(_)
            | model::Shape::Picture(_)
            | model::Shape::Drawing(_) => {}
        }
    }

    /// The parts of a group that is drawn as one thing; none where its surface is not shown.
    fn members(
        &self,
        group: &model::Piece,
        under: Option<PieceBackground<'_>>,
        level: Level<'_>,
        notes: &mut Vec<Note>,
    ) -> Vec<Piece> {
        let Some(under) = under.filter(|_| group.surface == model::Surface::Keep) else { return Vec::new() };
        let sheet = Sheet { ground: under.ground, size: under.size };
        // Colours that parts take from beneath are those of all that lies there.
        let mut pieces = under.below.to_vec();
        self.place_all(level.inside(group, self.assets), sheet, &mut pieces, notes);
        pieces.split_off(under.below.len())
    }

    fn parts(
        &self,
        join: &model::JoinShape,
        under: Option<PieceBackground<'_>>,
        notes: &mut Vec<Note>,
    ) -> Vec<Piece> {
        let shown = join.parts.iter().filter(|part| !part.hidden);
        let resolve = |part: &model::Piece| {
            let mut resolved = self.piece(part, under, Level::of_scene(&join.parts), notes);
            for coat in resolved.coats.iter().filter(|coat| !coat.op.is_on_surface()) {
                let message =
                    format!("\"{}\" lies under a part; only the join casts shadows: left out", coat.name);
                notes.push(Note { piece: part.name.clone(), coat: Some(coat.id.clone()), message });
            }
            if let Some(coat) = resolved.coats.iter().find(|coat| matches!(coat.op, PaintOp::Blur(_))) {
                let message =
                    format!("\"{}\" softens a part; only a whole piece is softened: left out", coat.name);
                notes.push(Note { piece: part.name.clone(), coat: Some(coat.id.clone()), message });
            }
            let kept = |op: &PaintOp| op.is_on_surface() && !matches!(op, PaintOp::Blur(_));
            resolved.coats.retain(|coat| kept(&coat.op));
            resolved
        };
        shown.map(resolve).collect()
    }

    fn clip(&self, level: Level<'_>, id: &Id) -> Option<Clip> {
        let other = level.pieces.iter().find(|other| other.id == *id)?;
        let (silhouette, _) = self.silhouette(&other.shape, &mut |_| ());
        let (x, y, rotation) = level.place_box(other, silhouette.size());
        let place = place_of(&silhouette, x, y, rotation);
        Some(Clip { silhouette, place })
    }
}

impl Piece {
    fn set_joined(&mut self, joined: Silhouette) {
        let joined = PlacedSilhouette::plain(joined);
        (self.joined, self.outer) = (Some(joined.clone()), joined);
    }
}
