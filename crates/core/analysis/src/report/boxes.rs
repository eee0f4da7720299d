//! The boxes of pieces.

use kurbo::{Affine, BezPath, Rect, Shape as _};
use serde::Serialize;

use super::handles::axes_of;
use crate::asset::Assets;
use crate::geometry::Silhouette;
use crate::model::{Id, Piece, Scene, Shape};
use crate::resolve;
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
    /// what has a great many lines, its rotated box.
    pub outline: String,
}

/// Path elements of the silhouettes that are given whole.
const MAX_ELEMENTS: usize = 2000;

/// The boxes of all pieces of a scene, lowest first.
#[must_use]
pub fn boxes(scene: &Scene, assets: &Assets) -> Vec<PieceBox> {
    let piece_box = |piece: &Piece| {
        let silhouette = resolve::silhouette(&piece.shape, assets);
        let (w, h) = silhouette.size();
        let rotation = piece.rotation.get().to_radians();
        let axes = axes_of(crate::maths::rotation(rotation));
        let (x, y) = (piece.x.get(), piece.y.get());
        let place = Affine::translate((x, y)) * crate::maths::rotation_about(rotation, (w / 2.0, h / 2.0));
        let outline = path_text(&(place * taken_hold_of(piece, &silhouette)), 2);
        PieceBox { id: piece.id.clone(), x, y, w, h, axes, outline }
    };
    scene.pieces.iter().map(piece_box).collect()
}

fn taken_hold_of(piece: &Piece, silhouette: &Silhouette) -> BezPath {
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
