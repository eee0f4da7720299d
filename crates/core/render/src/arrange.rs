//! Arranging the pieces of a scene: aligning and distributing them, joining them, taking a join apart, grouping them.

mod changes;
mod groups;
mod moves;
mod resize;

pub use changes::Arranged;
use changes::{Gathered, coats_in, insert, own_coats, pointer, released, taken_ids};
use json_patch::Patch;
pub use resize::{Resizing, resized};
use serde::Deserialize;
use serde_json::json;

use crate::asset::Assets;
use crate::limits;
use crate::model::{
    CoatLayer, Id, JoinOp, JoinShape, Length, Piece, Project, Px, Scene, Shape, Size, with_unique_ids,
};
use crate::patch::{remove, set};
use crate::resolve::box_size;
use crate::syntax::{UniqueNames, round_to};

/// An operation on pieces.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Arrangement {
    /// They share an edge or middle of the box around them; one alone goes by the scene.
    Align {
        /// Which edge or middle.
        line: AlignLine,
    },
    /// The gaps between them become equal; the outermost two stay.
    Distribute {
        /// Across or down.
        axis: Axis,
    },
    /// They become one silhouette; each keeps its own fill and the coats on its surface.
    Join {
        /// How.
        op: JoinOp,
    },
    /// The parts of a join become pieces again; coats under and behind the join stay with the lowest.
    TakeApart,
    /// They become parts of a group, each with all that it has.
    Group,
    /// The parts of a group become pieces again; its coats stay with the lowest.
    Separate,
    /// They move to another place in a list, or into another list, and lie where they did.
    Move {
        /// The group into which they move; without one, the scene.
        #[serde(default)]
        into: Option<Id>,
        /// The piece of that list before which they come; without one, they come last, which is highest.
        #[serde(default)]
        before: Option<Id>,
    },
}

/// An edge or middle that pieces are aligned at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum AlignLine {
    Left,
    Centre,
    Right,
    Top,
    Middle,
    Bottom,
}

/// A direction of the scene.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Axis {
    /// Across.
    X,
    /// Down.
    Y,
}

/// Arranges pieces of a scene, named in the order they were chosen. `None` where nothing is to be done.
#[must_use]
pub fn arranged(
    project: &Project,
    scene: &Scene,
    pieces: &[Id],
    how: &Arrangement,
    assets: &Assets,
) -> Option<Arranged> {
    if let Arrangement::Move { into, before } = how {
        return moves::moved(scene, pieces, into.as_ref(), before.as_ref(), assets);
    }
    let path = scene.path_to(pieces.first()?);
    let (_, groups) = path.split_last()?;
    let Some(group) = groups.last() else {
        return arranged_in(project, scene, (pieces, how), taken_ids(scene), assets);
    };
    // The parts of a group are arranged as those of a scene of its size.
    let (width, height) = box_size(group, assets);
    let [width, height] = [width, height].map(Size::clamped);
    let list = Scene { pieces: group.shape.parts().to_vec(), width, height, ..scene.clone() };
    let found = arranged_in(project, &list, (pieces, how), taken_ids(scene), assets)?;
    Some(found.inside(&list_pointer(scene, groups)))
}

/// Arranges pieces of one list.
fn arranged_in(
    project: &Project,
    scene: &Scene,
    (pieces, how): (&[Id], &Arrangement),
    taken: UniqueNames,
    assets: &Assets,
) -> Option<Arranged> {
    match how {
        Arrangement::Align { line } => {
            let (axis, share) = line.axis_and_share();
            Some(moved(axis, &align(scene, axis, share, spans(scene, pieces, axis, assets)), pieces))
        }
        Arrangement::Distribute { axis } => {
            Some(moved(*axis, &distribute(spans(scene, pieces, *axis, assets))?, pieces))
        }
        Arrangement::Join { op } => join(project, scene, pieces, *op, taken),
        Arrangement::TakeApart => take_apart(project, scene, pieces.first()?, taken),
        Arrangement::Group => groups::group(scene, pieces, taken),
        Arrangement::Separate => groups::separate(project, scene, pieces.first()?, assets),
        Arrangement::Move { .. } => None,
    }
}

/// Where the list of the last of some groups in one another is in its scene.
fn list_pointer(scene: &Scene, groups: &[&Piece]) -> Vec<String> {
    let (mut tokens, mut list) = (vec!["pieces".to_owned()], scene.pieces.as_slice());
    for group in groups {
        let at = list.iter().position(|piece| piece.id == group.id).unwrap_or_default();
        tokens.extend([at.to_string(), "shape".to_owned(), "parts".to_owned()]);
        list = group.shape.parts();
    }
    tokens
}

impl AlignLine {
    /// The axis, and where between the lower (0) and the higher end (1) of the box.
    fn axis_and_share(self) -> (Axis, f64) {
        match self {
            Self::Left => (Axis::X, 0.0),
            Self::Centre => (Axis::X, 0.5),
            Self::Right => (Axis::X, 1.0),
            Self::Top => (Axis::Y, 0.0),
            Self::Middle => (Axis::Y, 0.5),
            Self::Bottom => (Axis::Y, 1.0),
        }
    }
}

/// The extent of a piece along an axis, in px.
#[derive(Debug, Clone, Copy)]
struct Span {
    /// The piece's place in the scene's list.
    piece: usize,
    start: f64,
    length: f64,
}

fn spans(scene: &Scene, pieces: &[Id], axis: Axis, assets: &Assets) -> Vec<Span> {
    let chosen = scene.pieces.iter().enumerate().filter(|(_, piece)| pieces.contains(&piece.id));
    let span = |(number, piece): (usize, &Piece)| {
        let (width, height) = box_size(piece, assets);
        match axis {
            Axis::X => Span { piece: number, start: piece.x.get(), length: width },
            Axis::Y => Span { piece: number, start: piece.y.get(), length: height },
        }
    };
    chosen.map(span).collect()
}

fn align(scene: &Scene, axis: Axis, share: f64, mut spans: Vec<Span>) -> Vec<Span> {
    let (low, high) = if spans.len() == 1 {
        let side = match axis {
            Axis::X => scene.width,
            Axis::Y => scene.height,
        };
        (0.0, side.get())
    } else {
        let starts = spans.iter().map(|span| span.start).fold(f64::INFINITY, f64::min);
        (starts, spans.iter().map(|span| span.start + span.length).fold(f64::NEG_INFINITY, f64::max))
    };
    for span in &mut spans {
        span.start = low + (high - low - span.length) * share;
    }
    spans
}

fn distribute(mut spans: Vec<Span>) -> Option<Vec<Span>> {
    spans.sort_by(|a, b| a.start.total_cmp(&b.start));
    let (first, last) = (*spans.first()?, *spans.last()?);
    if spans.len() < 3 {
        return None;
    }
    let filled: f64 = spans.iter().map(|span| span.length).sum();
    let gap = (last.start + last.length - first.start - filled) / (spans.len() - 1) as f64;
    let mut next = first.start;
    for span in &mut spans {
        span.start = next;
        next += span.length + gap;
    }
    Some(spans)
}

/// Decimals of the places of arranged pieces.
const DECIMALS: i32 = 2;

fn moved(axis: Axis, spans: &[Span], pieces: &[Id]) -> Arranged {
    let field = match axis {
        Axis::X => "x",
        Axis::Y => "y",
    };
    let change = |span: &Span| set(pointer(span.piece, &[field]), json!(round_to(span.start, DECIMALS)));
    Arranged { patch: Patch(spans.iter().map(change).collect()), chosen: pieces.to_vec() }
}

fn join(
    project: &Project,
    scene: &Scene,
    pieces: &[Id],
    op: JoinOp,
    mut taken: UniqueNames,
) -> Option<Arranged> {
    let gathered = Gathered::new(scene, pieces)?;
    let Gathered { main, x, y, .. } = gathered;
    let id = Id::new(taken.unique("join", '-')).ok()?;
    let inside = |part: &&Piece| Piece {
        x: Px::clamped(part.x.get() - x),
        y: Px::clamped(part.y.get() - y),
        clip_to: None,
        alternative_of: None,
        wear: own_coats(coats_in(project.coats_of(part, &scene.theme), |layer| layer == CoatLayer::On)),
        ..(*part).clone()
    };
    let parts = gathered.parts.iter().map(inside).collect();
    let joined = Piece {
        name: format!("{} joined", main.name).chars().take(limits::NAME_CHARACTERS).collect(),
        shape: Shape::Join(JoinShape { op, parts, rounding: Length::default() }),
        x: Px::clamped(x),
        y: Px::clamped(y),
        wear: own_coats(coats_in(project.coats_of(main, &scene.theme), |layer| layer != CoatLayer::On)),
        ..Piece::new(id)
    };
    Some(gathered.replaced_by(scene, joined))
}

fn take_apart(project: &Project, scene: &Scene, join: &Id, mut taken: UniqueNames) -> Option<Arranged> {
    let at = scene.pieces.iter().position(|piece| piece.id == *join)?;
    let whole = &scene.pieces[at];
    let Shape::Join(shape) = &whole.shape else { return None };
    let cast = coats_in(project.coats_of(whole, &scene.theme), |layer| layer != CoatLayer::On);
    let mut parts = Vec::new();
    for (number, part) in shape.parts.iter().enumerate() {
        let mut coats = project.coats_of(part, &scene.theme).to_vec();
        if number == 0 {
            coats.extend(cast.iter().cloned());
        }
        parts.push(Piece {
            id: Id::new(taken.unique(part.id.as_str(), '-')).ok()?,
            x: Px::clamped(part.x.get() + whole.x.get()),
            y: Px::clamped(part.y.get() + whole.y.get()),
            wear: own_coats(with_unique_ids(coats)),
            ..part.clone()
        });
    }
    let mut changes = released(scene, std::slice::from_ref(join), None);
    changes.push(remove(pointer(at, &[])));
    changes.extend(parts.iter().enumerate().map(|(number, part)| insert(at + number, part)));
    Some(Arranged { patch: Patch(changes), chosen: parts.into_iter().map(|part| part.id).collect() })
}
