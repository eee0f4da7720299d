//! Outlines from path data, and several silhouettes joined into one.

use std::sync::Arc;

use kurbo::{Affine, BezPath, Size};

use super::crossings::TooComplex;
use super::polygon::{Region, Rule};
use super::{Outline, Silhouette, outline_cache};
use crate::geometry::JoinOp;

/// One part of a join.
pub struct Part<'a> {
    /// Its geometry.
    pub silhouette: &'a Silhouette,
    /// From its own px to the join's.
    pub place: Affine,
}

/// Several parts as one silhouette, its corners rounded. Its box reaches from 0,0 around the parts' boxes.
#[must_use]
pub fn joined(parts: &[Part<'_>], op: JoinOp, rounding: f64) -> Silhouette {
    let outlines: Vec<_> = parts.iter().map(|part| (part.silhouette.outline(), part.place)).collect();
    let bits = |place: &Affine| place.as_coeffs().map(f64::to_bits);
    let key: Vec<_> = outlines.iter().map(|(outline, place)| (outline.fingerprint(), bits(place))).collect();
    let boxes = outlines.iter().map(|(outline, place)| {
        place.transform_rect_bbox(kurbo::Rect::new(0.0, 0.0, outline.width, outline.height))
    });
    let (width, height) = boxes.fold((0.0_f64, 0.0_f64), |(w, h), part| (w.max(part.x1), h.max(part.y1)));
    Silhouette::Outline(outline_cache::outline(
        ("join", key, op as u8, rounding.to_bits()),
        Size { width, height },
        || {
            if outlines.iter().any(|(outline, _)| outline.is_too_complex()) {
                return Err(TooComplex);
            }
            let of = |(outline, place): &(Arc<Outline>, Affine)| {
                Region::from_path(&(*place * &outline.path), Rule::NonZero)
            };
            let regions = outlines.iter().map(of).collect::<Result<Vec<_>, _>>()?;
            let region = Region::joined(regions, op)?.rounded(rounding);
            Ok(Outline::new(region.path(), width, height))
        },
    ))
}

/// The outline of path data fitted from a rectangle of it to a size, its corners rounded.
#[must_use]
pub fn path_outline(
    path: &BezPath,
    viewbox: [f64; 4],
    width: f64,
    height: f64,
    rounding: f64,
) -> Arc<Outline> {
    let raw = Outline::new(path.clone(), width, height);
    let numbers = [viewbox[0], viewbox[1], viewbox[2], viewbox[3], width, height, rounding];
    outline_cache::outline(
        ("path", raw.fingerprint(), numbers.map(f64::to_bits)),
        Size { width, height },
        || {
            let scale = Affine::scale_non_uniform(width / viewbox[2], height / viewbox[3]);
            let fitted = scale * Affine::translate((-viewbox[0], -viewbox[1])) * path;
            let region = Region::from_path(&fitted, Rule::NonZero)?.rounded(rounding);
            Ok(Outline::new(region.path(), width, height))
        },
    )
}
