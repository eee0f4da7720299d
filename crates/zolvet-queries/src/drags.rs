//! Where something lies that is dragged. The page asks its own copy of the core, whose answer is there at once.

use serde::Deserialize;
use zolvet_core::arrange::{Resizing, resized};
use zolvet_core::asset::Assets;
use zolvet_core::limits;
use zolvet_core::model::{Offset, Piece, Shape};
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
/// A number that is too large; too many pieces, or too long a text.
pub fn drag_group(_: &QueryContext<'_>, request: &DraggedGroup) -> Result<Piece, QueryError> {
    let &DraggedGroup { width, height, how, .. } = request;
    check(&[width, height])?;
    let mut left = limits::PIECES;
    check_parts(&request.group, &mut left)?;
    Ok(resized(&request.group, (width.max(1.0), height.max(1.0)), how, &Assets::default()))
}

/// Checks the numbers and lengths that a whole document would be checked for.
fn check_parts(piece: &Piece, left: &mut usize) -> Result<(), QueryError> {
    *left = left.checked_sub(1).ok_or_else(|| {
        QueryError::invalid_at("/group", format!("expected at most {} pieces", limits::PIECES))
    })?;
    if let Shape::Text(text) = &piece.shape
        && text.string.chars().count() > limits::TEXT_CHARACTERS
    {
        let expected = format!("expected texts of at most {} characters", limits::TEXT_CHARACTERS);
        return Err(QueryError::invalid_at("/group", expected));
    }
    piece.shape.parts().iter().try_for_each(|part| check_parts(part, left))
}

/// The largest number that is taken.
const MAX_NUMBER: f64 = 1e6;

fn check(numbers: &[f64]) -> Result<(), QueryError> {
    if numbers.iter().all(|number| number.abs() <= MAX_NUMBER) {
        return Ok(());
    }
    Err(QueryError::invalid_at("", "expected numbers of at most 1000000"))
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use serde_json::{Value, json};

    use super::*;

    fn group(parts: Vec<Value>) -> Piece {
        let shape = json!({"kind": "group", "parts": parts});
        serde_json::from_value(
            json!({"id": "g", "name": "G", "x": 0, "y": 0, "wear": {"coats": []}, "shape": shape}),
        )
        .unwrap()
    }

    fn part(shape: Value) -> Value {
        json!({"id": "p", "name": "P", "x": 0, "y": 0, "wear": {"coats": []}, "shape": shape})
    }

    #[test]
    fn a_dragged_group_is_no_larger_than_a_document_may_have_it() {
        let is_taken = |parts: Vec<Value>| check_parts(&group(parts), &mut limits::PIECES.clone()).is_ok();
        let box_of = || part(json!({"kind": "box", "w": 9, "h": 9}));
        assert!(is_taken((1..limits::PIECES).map(|_| box_of()).collect()));
        assert!(!is_taken((0..limits::PIECES).map(|_| box_of()).collect()), "the group counts too");
        let text = |length: usize| {
            part(json!({"kind": "text", "string": "a".repeat(length), "font": "Figtree", "size": 9,
                "weight": 400, "line_height": 1}))
        };
        assert!(is_taken(vec![text(limits::TEXT_CHARACTERS)]));
        assert!(!is_taken(vec![text(limits::TEXT_CHARACTERS + 1)]));
    }
}
