//! The boxes of pieces.

use kurbo::{Affine, BezPath, Point, Rect, Shape as _, Vec2};
use serde::Serialize;

use super::handles::axes_of;
use crate::asset::Assets;
use crate::model::{Id, Piece, Scene, Shape};
use crate::resolve::{self, box_size, part_place};
use crate::syntax::path_text;

/// Where the box of a piece is on its scene before it is rotated, in px.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceBox {
    /// The piece.
    pub id: Id,
    /// Its left.
    pub x: f64,
    /// Its top.
    pub y: f64,
    /// Its width; that of text is known only once it is set.
    pub w: f64,
    /// Its height.
    pub h: f64,
    /// The rotated piece's own two axes on the scene: right and down.
    pub axes: [[f64; 2]; 2],
    /// Where the piece is taken hold of, as SVG path data on the scene: its rotated silhouette; of text, of pictures and of
    /// those with a great many lines, its rotated box; of a group, that of all its parts.
    pub outline: String,
    /// The list that its own place is given in: the scene, or a group.
    pub list: PieceList,
}

/// Where a list of pieces lies on the scene.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceList {
    /// Where 0, 0 of the list is, as x and y.
    pub origin: [f64; 2],
    /// Its two axes: right and down.
    pub axes: [[f64; 2]; 2],
    /// Its rotation, in degrees.
    pub rotation: f64,
}

/// Path elements of the silhouettes that are given whole.
const MAX_ELEMENTS: usize = 2000;

/// The boxes of all pieces of a scene, lowest first, a group before its parts.
#[must_use]
pub fn boxes(scene: &Scene, assets: &Assets) -> Vec<PieceBox> {
    let mut found = Vec::new();
    let whole = PlacedList { place: Affine::IDENTITY, rotation: 0.0 };
    boxes_of(&scene.pieces, whole, assets, &mut found);
    found
}

/// A list of pieces by the way from its px to the scene's.
#[derive(Clone, Copy)]
struct PlacedList {
    place: Affine,
    rotation: f64,
}

fn boxes_of(pieces: &[Piece], list: PlacedList, assets: &Assets, found: &mut Vec<PieceBox>) {
    for piece in pieces {
        let (w, h) = box_size(piece, assets);
        let place = list.place * part_place(piece, (w, h));
        let middle = place * Point::new(w / 2.0, h / 2.0);
        let (x, y) = if list.rotation == 0.0 {
            // A move alone is exact.
            let by = list.place.translation();
            (piece.x.get() + by.x, piece.y.get() + by.y)
        } else {
            (middle.x - w / 2.0, middle.y - h / 2.0)
        };
        let origin = list.place.translation();
        found.push(PieceBox {
            id: piece.id.clone(),
            x,
            y,
            w,
            h,
            axes: axes_of(turn(place)),
            outline: path_text(&(place * taken_hold_of(piece, assets)), 2),
            list: PieceList {
                origin: [origin.x, origin.y],
                axes: axes_of(turn(list.place)),
                rotation: list.rotation,
            },
        });
        if let Shape::Group(group) = &piece.shape {
            let inside = PlacedList { place, rotation: list.rotation + piece.rotation.get() };
            boxes_of(&group.parts, inside, assets, found);
        }
    }
}

/// A place without its move.
fn turn(place: Affine) -> Affine {
    place.with_translation(Vec2::ZERO)
}

fn taken_hold_of(piece: &Piece, assets: &Assets) -> BezPath {
    if let Shape::Group(group) = &piece.shape {
        let part = |part: &Piece| part_place(part, box_size(part, assets)) * taken_hold_of(part, assets);
        return group.parts.iter().filter(|part| !part.hidden).flat_map(part).collect();
    }
    let silhouette = resolve::silhouette(&piece.shape, assets);
    let (w, h) = silhouette.size();
    if !matches!(piece.shape, Shape::Text(_) | Shape::Picture(_)) {
        let outline = silhouette.outline();
        if outline.path.elements().len() <= MAX_ELEMENTS {
            return outline.path.clone();
        }
    }
    Rect::new(0.0, 0.0, w, h).to_path(0.1)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A box rotated by 45° about its middle, and an ellipse, which leaves out the corners of its box.
    #[test]
    fn a_piece_is_taken_hold_of_where_it_is() {
        let project = crate::model::Project::from_json(
            r##"{"schema":1,"name":"a","themes":[{"id":"t","name":"t","scheme":"light"}],"scenes":[{"id":"s","name":"s",
            "width":400,"height":300,"theme":"t","ground":{"kind":"none"},"pieces":[
            {"id":"box","name":"box","shape":{"kind":"box","w":100,"h":20},"x":100,"y":100,"rotation":45,
             "wear":{"coats":[]}},
            {"id":"ellipse","name":"ellipse","shape":{"kind":"ellipse","w":100,"h":60},"x":0,"y":0,"wear":{"coats":[]}}
            ]}]}"##,
        )
        .expect("a project");
        let found = boxes(&project.scenes[0], &Assets::default());
        let inside = |at: usize, x: f64, y: f64| {
            let path = BezPath::from_svg(&found[at].outline).expect("a path");
            kurbo::Shape::winding(&path, kurbo::Point::new(x, y)) != 0
        };
        assert!(inside(0, 150.0, 110.0) && inside(0, 180.0, 140.0), "along the diagonal");
        assert!(!inside(0, 105.0, 110.0) && !inside(0, 195.0, 110.0), "not along the unrotated box");
        assert!(inside(1, 50.0, 30.0) && !inside(1, 3.0, 3.0));
    }
}
