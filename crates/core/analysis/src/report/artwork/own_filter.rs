//! The filter of an element as coats of a piece (docs/drawings.md, "Filters of the file").

use std::sync::Arc;

use serde::Serialize;

use super::places::{even_scale, run_of};
use super::trial::{Trial, as_shape};
use crate::asset::Assets;
use crate::geometry::DrawnShape;
use crate::limits;
use crate::model::{
    Coat, Degrees, DrawingShape, DrawnFrom, ElementRun, Fill, GroupShape, Id, OwnCoats, Piece, Project, Px,
    Scene, Shape, Wear,
};
use crate::svg::own_filter;
use crate::syntax::UniqueNames;

/// An element without its filter as a shape of ours, which wears the filter as coats.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AsCoats {
    /// The shape; a group where it is several.
    pub shape: Shape,
    /// Its fill.
    pub fill: Fill,
    /// Its left edge, from that of the drawing's box.
    pub x: Px,
    /// Its top, from that of the drawing's box.
    pub y: Px,
    /// All its coats, those that the piece has already first.
    pub coats: Vec<Coat>,
    /// The element that it was, without its filter from now on.
    pub drawn_from: DrawnFrom,
    /// What coats draw otherwise than the filter.
    pub remarks: Vec<String>,
}

/// A piece that shows one element with a filter of the file, with the filter as coats that can be changed. `None` where it is no
/// such piece, the filter is no depth, or the element is no shape of ours without it.
#[must_use]
pub fn as_coats((project, scene): (&Project, &Scene), piece: &Piece, assets: &Assets) -> Option<AsCoats> {
    let (Shape::Drawing(shape), Wear::Coats(OwnCoats { coats })) = (&piece.shape, &piece.wear) else {
        return None;
    };
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let run = run_of(shape, &drawing);
    // A turned piece would turn about another middle.
    if run.len() != 1 || piece.rotation != Degrees::default() {
        return None;
    }
    let drawn_from = DrawnFrom { filter_as_coats: true, ..DrawnFrom::new(shape.asset.clone(), run.start)? };
    let taken = Piece { drawn_from: Some(drawn_from.clone()), ..piece.clone() };
    let found = unfiltered((project, scene), &taken, shape, assets)?;
    let mut names = UniqueNames::new(coats.iter().map(|coat| coat.id.as_str()));
    let added = found.stroke.into_iter().chain(found.coats).filter_map(|coat| {
        let id = Id::new(names.unique(coat.id.as_str(), '-')).ok()?;
        Some(Coat { id, ..coat })
    });
    let coats: Vec<Coat> = coats.iter().cloned().chain(added).collect();
    (coats.len() <= limits::COATS).then_some(AsCoats {
        shape: found.shape,
        fill: found.fill,
        x: found.x,
        y: found.y,
        coats,
        drawn_from,
        remarks: found.remarks,
    })
}

/// An element without its filter.
pub struct Unfiltered {
    pub shape: Shape,
    pub fill: Fill,
    pub x: Px,
    pub y: Px,
    /// Its own stroke.
    pub stroke: Vec<Coat>,
    /// What its filter stands for.
    pub coats: Vec<Coat>,
    pub remarks: Vec<String>,
}

/// Elements that have one filter together, at most.
const MAX_PARTS: usize = 40;

/// The element that a piece was taken out of `shape` as, without its filter.
pub fn unfiltered(
    (project, scene): (&Project, &Scene),
    piece: &Piece,
    shape: &DrawingShape,
    assets: &Assets,
) -> Option<Unfiltered> {
    let element = piece.drawn_from.as_ref()?.element as usize;
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let found = drawing.elements.get(element)?;
    let size = (shape.w.get(), shape.h.get());
    let whole = DrawnShape::new(Arc::clone(&drawing), 0..usize::MAX, size.0, size.1);
    let scale = even_scale(whole.fit() * found.place)?;
    let filter = own_filter(assets.drawing_file(&shape.asset)?, found, scale)?;
    let (bare, mut assets) = (Id::new("bare".to_owned()).ok()?, assets.clone());
    assets.insert_drawing(bare.clone(), filter.without);
    let without = assets.drawing(&bare)?.ok()?;
    let is_inside = |at: &usize| {
        let source = without.elements[*at].source.as_ref();
        source.is_some_and(|source| filter.place.start <= source.start && source.end <= filter.place.end)
    };
    let inside: Vec<usize> = (0..without.elements.len()).filter(is_inside).collect();
    let others = without.elements.len() - inside.len();
    if inside.is_empty() || inside.len() > MAX_PARTS || others + 1 != drawing.elements.len() {
        return None;
    }
    let trial = Trial { project, scene, size, assets: &assets };
    let mut names = UniqueNames::new(scene.all_pieces().into_iter().map(|piece| piece.id.as_str()));
    let parts = inside.into_iter().map(|at| {
        let from = u32::try_from(at).ok()?;
        let alone = DrawingShape {
            asset: bare.clone(),
            elements: Some(ElementRun { from, to: from + 1 }),
            ..shape.clone()
        };
        let own = Piece {
            name: without.elements[at].name.chars().take(limits::NAME_CHARACTERS).collect(),
            shape: Shape::Drawing(alone.clone()),
            ..Piece::new(Id::new(names.unique(piece.id.as_str(), '-')).ok()?)
        };
        let part = as_shape(&trial, own, (&without, &alone), at);
        (!matches!(part.shape, Shape::Drawing(_))).then_some(part)
    });
    let together = together(parts.collect::<Option<_>>()?)?;
    Some(Unfiltered { coats: filter.coats, remarks: filter.remarks, ..together })
}

/// One part as it is, several as a group.
fn together(mut parts: Vec<Piece>) -> Option<Unfiltered> {
    let (coats, remarks) = (Vec::new(), Vec::new());
    if let [only] = parts.as_slice() {
        let Wear::Coats(OwnCoats { coats: stroke }) = only.wear.clone() else { return None };
        let (x, y) = (only.x, only.y);
        return Some(Unfiltered {
            shape: only.shape.clone(),
            fill: only.fill.clone(),
            x,
            y,
            stroke,
            coats,
            remarks,
        });
    }
    let least = |of: fn(&Piece) -> Px| parts.iter().map(|part| of(part).get()).fold(f64::INFINITY, f64::min);
    let (x, y) = (Px::clamped(least(|part| part.x)), Px::clamped(least(|part| part.y)));
    for part in &mut parts {
        part.x = Px::clamped(part.x.get() - x.get());
        part.y = Px::clamped(part.y.get() - y.get());
    }
    let shape = Shape::Group(GroupShape { parts });
    Some(Unfiltered { shape, fill: Fill::default(), x, y, stroke: Vec::new(), coats, remarks })
}
