//! Cast shadows: the silhouette sheared and squashed about its anchor line, softer and fainter with the distance.

use kurbo::Affine;

use super::coverage::Coverage;
use crate::blur::Scratch;
use crate::compose::context::RenderContext;
use crate::geometry::PlacedSilhouette;
use crate::raster::{Mask, Rect};
use crate::resolve::Cast;

/// Each of the blurs that are mixed is wider than the one before by this factor at most.
const RATIO: f64 = 1.25;
/// A σ in device pixels below which a blur is as good as none.
const SHARP: f64 = 0.3;

/// Coverage of a cast shadow over the window, its fading in it. `anchor` and `top` are the device's y of the anchor
/// line and of the highest point that casts.
pub(in crate::compose) fn cast_coverage(
    body: &PlacedSilhouette,
    place: Affine,
    cast: &Cast,
    (anchor, top): (f64, f64),
    context: &RenderContext<'_>,
) -> Mask {
    let coverage = Coverage::plain(&body.silhouette, cast.projection(anchor) * place * body.place());
    let tallest = (anchor - top).max(1e-6);
    let far = anchor - cast.squash * tallest;
    let distance = |y: f64| ((y - anchor) / (far - anchor)).clamp(0.0, 1.0);
    let distance = |y: f64| if (far - anchor).abs() < 1e-9 { 0.0 } else { distance(y) };
    let sigma = |y: f64| {
        let blur = cast.blur_near + (cast.blur_far - cast.blur_near) * distance(y);
        blur / 2.0 * context.scale
    };
    let levels = levels(
        cast.blur_near.min(cast.blur_far) / 2.0 * context.scale,
        cast.blur_near.max(cast.blur_far) / 2.0 * context.scale,
    );
    let softest = levels.last().copied().unwrap_or(0.0);
    let Some(rect) = coverage.reach(softest).map(|rect| rect.intersect(context.window)) else {
        return Mask::empty(Rect::default());
    };
    let mut mask = Mask::empty(rect);
    let (width, mut room) = (rect.width(), Scratch::default());
    for (k, level) in levels.iter().enumerate() {
        let below = k.checked_sub(1).and_then(|k| levels.get(k));
        let above = levels.get(k + 1);
        let weight = |y: i32| weight(sigma(f64::from(y) + 0.5), below.copied(), *level, above.copied());
        let rows: Vec<i32> = (rect.y0..rect.y1).filter(|y| weight(*y) > 0.0).collect();
        let (Some(first), Some(last)) = (rows.first(), rows.last()) else { continue };
        let band = Rect::new(rect.x0, *first, rect.x1, last + 1);
        let blurred = Coverage { sigma: *level, ..coverage }.mask(band, context.cache);
        for y in rows {
            let weight = weight(y) * (1.0 - cast.fade * distance(f64::from(y) + 0.5));
            let (start, values) = blurred.span(y, rect.x0, width, &mut room);
            let line = &mut mask.values_mut()[(y - rect.y0) as usize * width..][start..];
            for (out, value) in line.iter_mut().zip(values) {
                *out += value * weight as f32;
            }
        }
    }
    mask
}

/// The σs that are really blurred with: from the sharpest to the softest, close enough to mix between.
fn levels(sharpest: f64, softest: f64) -> Vec<f64> {
    let mut levels = vec![if sharpest < SHARP { 0.0 } else { sharpest }];
    let mut next = sharpest.max(SHARP);
    while next < softest {
        next = (next * RATIO).min(softest);
        levels.push(next);
    }
    levels
}

/// How much of a level is in a mix that has the variance of `sigma`.
fn weight(sigma: f64, below: Option<f64>, level: f64, above: Option<f64>) -> f64 {
    let share =
        |from: f64, to: f64| ((sigma * sigma - from * from) / (to * to - from * from)).clamp(0.0, 1.0);
    let up = below.map_or(1.0, |below| share(below, level));
    let down = above.map_or(0.0, |above| share(level, above));
    up * (1.0 - down)
}
