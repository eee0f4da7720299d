//! Where something lies that is dragged. The page asks its own copy of the core, whose answer is there at once.

use serde::Deserialize;
use zolvet_core::arrange::{Resizing, resized};
use zolvet_core::asset::Assets;
use zolvet_core::limits;
use zolvet_core::model::{Offset, Piece};
use zolvet_core::report::drag::{
    self, DragBox, DraggedBearing, DraggedBox, DraggedOffset, SceneSize, SnappedBox,
};

use crate::{QueryContext, QueryError};

/// The offset of a shadow that was dragged.
///
/// # Errors
/// A number that is too large.
pub fn drag_offset(_: &QueryContext<'_>, request: &DraggedOffset) -> Result<Offset, QueryError> {
    let &DraggedOffset { bearing, x, y, scale, .. } = request;
    check(&[bearing, x, y, scale])?;
    check(&request.lights)?;
    Ok(drag::offset(request))
}

/// A bearing that was dragged.
///
/// # Errors
/// A number that is too large.
pub fn drag_bearing(_: &QueryContext<'_>, request: &DraggedBearing) -> Result<f64, QueryError> {
    check(&[request.x, request.y])?;
    check(&request.lights)?;
    Ok(drag::bearing(request))
}

/// The place of a piece that was dragged.
///
/// # Errors
/// A number that is too large, or too many boxes.
pub fn drag_box(_: &QueryContext<'_>, request: &DraggedBox) -> Result<SnappedBox, QueryError> {
    if request.others.len() > limits::PIECES {
        let expected = format!("expected at most {} boxes", limits::PIECES);
        return Err(QueryError::invalid_at("/others", expected));
    }
    let SceneSize { width, height } = request.scene;
    check(&[width, height, request.scale])?;
    for &DragBox { x, y, w, h } in request.others.iter().chain([&request.dragged]) {
        check(&[x, y, w, h])?;
    }
    Ok(drag::snap(request))
}

/// A group, and the size it is dragged to.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DraggedGroup {
    /// The group as it was.
    group: Piece,
    /// Its width in px.
    width: f64,
    /// Its height in px.
    height: f64,
    /// What becomes of its parts.
    how: Resizing,
}

/// A group that is resized by a drag. Texts in fonts that a project brings are measured in one that ships.
///
/// # Errors
/// A number that is too large.
pub fn drag_group(_: &QueryContext<'_>, request: &DraggedGroup) -> Result<Piece, QueryError> {
    let &DraggedGroup { width, height, how, .. } = request;
    check(&[width, height])?;
    Ok(resized(&request.group, (width.max(1.0), height.max(1.0)), how, &Assets::default()))
}

/// The largest number that is taken.
const MAX_NUMBER: f64 = 1e6;

fn check(numbers: &[f64]) -> Result<(), QueryError> {
    if numbers.iter().all(|number| number.abs() <= MAX_NUMBER) {
        return Ok(());
    }
    Err(QueryError::invalid_at("", "expected numbers of at most 1000000"))
}
