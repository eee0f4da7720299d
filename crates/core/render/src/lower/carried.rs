//! Groups whose shadows one of their parts can carry, which is exact where a filter on the group is not: a filter on an
//! element also casts the shadows of its children (Filter Effects 1, "drop-shadow()").

use std::borrow::Cow;
use std::collections::BTreeMap;

use kurbo::{Affine, PathEl, Point, Shape as _};

use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::model::{
    Coat, CoatKind, CoatLayer, ColourSource, GroupShape, OwnCoats, Piece, Project, Scene, Shape, State,
    Surface, Wear, with_unique_ids,
};
use crate::resolve::{self, box_size, part_place, silhouette};

/// The project with the shadows of groups on those of their parts that can carry them. Its pictures are the same but for
/// rounding.
#[must_use]
pub fn with_carried_shadows<'p>(project: &'p Project, assets: &Assets) -> Cow<'p, Project> {
    let mut carried = Cow::Borrowed(project);
    for at in 0..project.scenes.len() {
        if let Cow::Owned(scene) = scene_with_carried_shadows(project, &project.scenes[at], assets) {
            carried.to_mut().scenes[at] = scene;
        }
    }
    carried
}

/// The same of one scene.
#[must_use]
pub fn scene_with_carried_shadows<'s>(
    project: &Project,
    scene: &'s Scene,
    assets: &Assets,
) -> Cow<'s, Scene> {
    let carrying = Carrying { project, scene, assets };
    let is_group = |piece: &Piece| matches!(piece.shape, Shape::Group(_));
    if !scene.pieces.iter().any(is_group) {
        return Cow::Borrowed(scene);
    }
    let pieces = scene.pieces.iter().map(|piece| carrying.piece(piece)).collect();
    Cow::Owned(Scene { pieces, ..scene.clone() })
}

/// By how much larger a part may be than another and still lie within it.
const SLACK: f64 = 1.0 + 1e-6;

struct Carrying<'a> {
    project: &'a Project,
    scene: &'a Scene,
    assets: &'a Assets,
}

impl Carrying<'_> {
    fn piece(&self, piece: &Piece) -> Piece {
        let Shape::Group(group) = &piece.shape else { return piece.clone() };
        let mut parts: Vec<Piece> = group.parts.iter().map(|part| self.piece(part)).collect();
        let mut whole = piece.clone();
        if let Some(at) = self.carrier(piece, &parts)
            && let Some(carried) = self.with_shadows_of(piece, &parts[at])
        {
            parts[at] = carried;
            whole = piece.wearing(Vec::new());
            whole.shows = piece.shows;
        }
        whole.shape = Shape::Group(GroupShape { parts });
        whole
    }

    /// The lowest part, where its opaque box or ellipse is the whole silhouette and the group has shadows under it only.
    fn carrier(&self, group: &Piece, parts: &[Piece]) -> Option<usize> {
        let stacks = self.stacks(group);
        let is_carried = |coat: &Coat| {
            let ends = coat.kind.shadow_ends();
            let is_taken = ends.iter().any(|end| matches!(end.1, ColourSource::From(_)));
            coat.kind.layer() == CoatLayer::Under && !is_taken
        };
        let has_shadows = stacks.iter().any(|coats| !coats.is_empty());
        if !group.coats_on || group.surface != Surface::Keep || !has_shadows {
            return None;
        }
        if !stacks.iter().copied().flatten().all(is_carried) {
            return None;
        }
        let at = parts.iter().position(|part| !part.hidden)?;
        let lowest = &parts[at];
        let stays_sharp = |coat: &Coat| !matches!(coat.kind, CoatKind::Blur(_) | CoatKind::Backdrop(_));
        let can_carry = lowest.surface == Surface::Keep
            && lowest.blend == BlendMode::Normal
            && lowest.opacity.get() >= 1.0
            && lowest.clip_to.is_none()
            && !lowest.control
            && lowest.shows.is_none()
            && matches!(lowest.shape, Shape::Box(_) | Shape::Ellipse(_))
            && self.stacks(lowest).iter().copied().flatten().all(stays_sharp)
            && self.is_opaque(group.shape.parts().get(at)?);
        (can_carry && self.covers(lowest, &parts[at + 1..])).then_some(at)
    }

    /// The stacks of a piece in every theme and state.
    fn stacks<'b>(&'b self, piece: &'b Piece) -> Vec<&'b [Coat]> {
        let themes = self.project.themes.iter().map(|theme| self.project.coats_of(piece, &theme.id));
        let states = self.project.states_of(piece).values().map(Vec::as_slice);
        themes.chain(states).collect()
    }

    fn is_opaque(&self, part: &Piece) -> bool {
        let resolved = resolve::piece_in_state(self.project, self.scene, part, None, self.assets);
        resolved.fill.mean().is_some_and(|mean| mean.a >= 1.0)
    }

    /// Whether every other part lies within a box or ellipse: those are convex, so points of outlines are enough.
    fn covers(&self, lowest: &Piece, others: &[Piece]) -> bool {
        let placed = |part: &Piece| {
            let outline = silhouette(&part.shape, self.assets).outline().path.clone();
            part_place(part, box_size(part, self.assets)) * outline
        };
        let area = placed(lowest);
        // Edges that coincide lie within.
        let middle = area.bounding_box().center();
        let area = Affine::translate(middle.to_vec2())
            * Affine::scale(SLACK)
            * Affine::translate(-middle.to_vec2())
            * area;
        let is_within = |point: Point| area.winding(point) != 0;
        others.iter().filter(|part| !part.hidden).all(|part| {
            placed(part).elements().iter().all(|element| match *element {
                PathEl::MoveTo(a) | PathEl::LineTo(a) => is_within(a),
                PathEl::QuadTo(a, b) => is_within(a) && is_within(b),
                PathEl::CurveTo(a, b, c) => is_within(a) && is_within(b) && is_within(c),
                PathEl::ClosePath => true,
            })
        })
    }

    /// A part with the shadows of its group under its own; `None` where a finish stands in the way.
    fn with_shadows_of(&self, group: &Piece, part: &Piece) -> Option<Piece> {
        let is_bare =
            part.states.is_empty() && matches!(&part.wear, Wear::Coats(own) if own.coats.is_empty());
        if is_bare {
            return Some(Piece { wear: group.wear.clone(), states: group.states.clone(), ..part.clone() });
        }
        let (Wear::Coats(own), Wear::Coats(around)) = (&part.wear, &group.wear) else { return None };
        let under = if part.coats_on { own.coats.as_slice() } else { &[] };
        let both = |above: &[Coat], below: &[Coat]| with_unique_ids([above, below].concat());
        let in_state = |state: &State| {
            let above = part.states.get(state).map_or(under, Vec::as_slice);
            (*state, both(above, group.states.get(state).map_or(&around.coats, Vec::as_slice)))
        };
        let states: BTreeMap<State, Vec<Coat>> =
            part.states.keys().chain(group.states.keys()).map(in_state).collect();
        let wear = Wear::Coats(OwnCoats { coats: both(under, &around.coats) });
        Some(Piece { wear, states, coats_on: true, ..part.clone() })
    }
}
