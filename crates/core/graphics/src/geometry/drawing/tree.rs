//! Nodes that resvg paints.

use std::sync::Arc;

use kurbo::{Affine, Vec2};
use resvg::tiny_skia::{Pixmap, Transform};
use usvg::{Group, Node, Tree};

use super::ink::NodePath;
use crate::blend::Pixel;
use crate::raster::{Rect, Rows};

/// A node of a tree, and the way to its px from the drawing's.
fn find<'a>(tree: &'a Tree, path: &NodePath) -> Option<(&'a Node, &'a Group)> {
    let (last, groups) = path.places.split_last()?;
    let mut group = tree.root();
    for place in groups {
        let Node::Group(inner) = group.children().get(*place)? else { return None };
        group = inner;
    }
    Some((group.children().get(*last)?, group))
}

/// Paints a node over the pixels of a window that it touches. `place` leads from the drawing's px to device pixels.
pub(super) fn painted(tree: &Arc<Tree>, path: &NodePath, place: Affine, window: Rect) -> Option<Rows<Pixel>> {
    let (node, around) = find(tree, path)?;
    let bounds = node.abs_layer_bounding_box()?;
    let [x, y, width, height] = [bounds.x(), bounds.y(), bounds.width(), bounds.height()].map(f64::from);
    let seen = place.transform_rect_bbox(kurbo::Rect::new(x, y, x + width, y + height)).inflate(1.0, 1.0);
    let rect = Rect::around(seen.x0, seen.y0, seen.x1, seen.y1).intersect(window);
    if rect.is_empty() {
        return None;
    }
    let side = |length: usize| u32::try_from(length).ok();
    let mut pixmap = Pixmap::new(side(rect.width())?, side(rect.height())?)?;
    // A node is drawn from the corner of its box in the drawing, and placed in the group around it.
    let from_group = affine(around.abs_transform());
    let to_pixmap =
        Affine::translate(-Vec2::new(f64::from(rect.x0), f64::from(rect.y0))) * place * from_group;
    let shifted = to_pixmap * Affine::translate((x, y));
    resvg::render_node(node, transform(shifted), &mut pixmap.as_mut())?;
    let pixels = pixmap.pixels().iter().map(|pixel| {
        [pixel.red(), pixel.green(), pixel.blue(), pixel.alpha()].map(|part| f32::from(part) / 255.0)
    });
    Some(Rows::new(rect, pixels.collect()))
}

pub(super) fn affine(t: usvg::Transform) -> Affine {
    Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from))
}

fn transform(affine: Affine) -> Transform {
    let [sx, ky, kx, sy, tx, ty] = affine.as_coeffs().map(|number| number as f32);
    Transform::from_row(sx, ky, kx, sy, tx, ty)
}
