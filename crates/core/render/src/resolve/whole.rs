//! A whole scene, or one piece of it, resolved.

use super::coat::PaintOp;
use super::colour::ColoursBelow;
use super::paint::Paint;
use super::scene::{Clip, Context, Note, Piece, PieceBackground, PieceStates, Scene, place_of};
use super::shape::join_of;
use crate::asset::Assets;
use crate::colour::Rgba;
use crate::geometry::PlacedSilhouette;
use crate::model::{self, Id, Project};

/// Resolves a scene under its theme.
#[must_use]
pub fn scene(project: &Project, scene: &model::Scene, assets: &Assets) -> Scene {
    let context = Context { project, theme: &scene.theme, assets };
    let mut notes = Vec::new();
    let ground = context.ground(scene, &mut notes);
    let mut pieces = Vec::new();
    for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
        let under = PieceBackground { ground: &ground, size: size(scene), below: &pieces };
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

/// The surface beneath a piece, as one opaque colour: the mean of the ground and of the fills below it.
#[must_use]
pub fn beneath(project: &Project, scene: &model::Scene, piece: &model::Piece, assets: &Assets) -> Rgba {
    let context = Context { project, theme: &scene.theme, assets };
    over_its_ground(context, scene, piece, |under| {
        let resolved = context.piece(piece, Some(under), &scene.pieces, &mut Vec::new());
        let area = resolved.place().transform_rect_bbox(resolved.silhouette.bounds());
        ColoursBelow { under, area }.mean()
    })
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
    let coat = project.coats_of(piece, &scene.theme).iter().find(|other| other.id.as_str() == coat)?;
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
    work: impl FnOnce(PieceBackground<'_>) -> R,
) -> R {
    let mut elsewhere = Vec::new();
    let ground = context.ground(scene, &mut elsewhere);
    let mut below = Vec::new();
    for other in scene.pieces.iter().take_while(|other| other.id != piece.id).filter(|other| !other.hidden) {
        let under = PieceBackground { ground: &ground, size: size(scene), below: &below };
        let resolved = context.piece(other, Some(under), &scene.pieces, &mut elsewhere);
        below.push(resolved);
    }
    work(PieceBackground { ground: &ground, size: size(scene), below: &below })
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

    fn piece(
        &self,
        piece: &model::Piece,
        under: Option<PieceBackground<'_>>,
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
            outer: PlacedSilhouette::plain(silhouette.clone()),
            inner: Some(PlacedSilhouette::plain(silhouette.clone())),
            silhouette,
            x: piece.x.get(),
            y: piece.y.get(),
            rotation: piece.rotation.get(),
            fill,
            parts: Vec::new(),
            joined: None,
            surface: piece.surface,
            coats: Vec::new(),
            opacity: piece.opacity.get(),
            blend: piece.blend,
            clip: None,
        };
        let coats = if piece.coats_on { self.project.coats_of(piece, self.theme) } else { &[] };
        for coat in coats.iter().filter(|coat| coat.on) {
            match self.coats(coat, &resolved, under) {
                Ok(coats) => resolved.coats.extend(coats),
                Err(message) => report(Some(coat), format!("\"{}\": {message}: left out", coat.name)),
            }
        }
        resolved.clip = piece.clip_to.as_ref().and_then(|id| self.clip(siblings, id));
        if let model::Shape::Join(join) = &piece.shape {
            resolved.parts = self.parts(join, under, notes);
            let joined = PlacedSilhouette::plain(join_of(&resolved.parts, join, |part| &part.outer));
            (resolved.joined, resolved.outer) = (Some(joined.clone()), joined);
        }
        resolved.apply_strokes();
        resolved.drop_too_complex(&mut |coat, message| {
            notes.push(Note { piece: piece.name.clone(), coat, message });
        });
        resolved
    }

    fn parts(
        &self,
        join: &model::JoinShape,
        under: Option<PieceBackground<'_>>,
        notes: &mut Vec<Note>,
    ) -> Vec<Piece> {
        let shown = join.parts.iter().filter(|part| !part.hidden);
        let resolve = |part: &model::Piece| {
            let mut resolved = self.piece(part, under, &join.parts, notes);
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

    fn clip(&self, siblings: &[model::Piece], id: &Id) -> Option<Clip> {
        let other = siblings.iter().find(|other| other.id == *id)?;
        let (silhouette, _) = self.silhouette(&other.shape, &mut |_| ());
        let (x, y) = (other.x.get(), other.y.get());
        let place = place_of(&silhouette, x, y, other.rotation.get());
        Some(Clip { silhouette, place })
    }
}
