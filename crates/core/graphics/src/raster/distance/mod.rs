//! Spread of any silhouette: a true Euclidean offset of its outline, from a distance field.
//!
//! The distances are those to the outline itself and not to pixel centres, as far as they matter. Where not many lines come
//! near, each is measured from every pixel around it; otherwise they are handed on from pixel to pixel.

mod lines;
mod measured;
mod propagation;

use kurbo::{Affine, BezPath};

use self::lines::Line;
use super::{Mask, Rect, flatten, rasterize};
use crate::simd::widest;

/// How far pixels are from an outline, as [`distances`] has them up to `spread`, made coverage of the outline moved
/// outwards by that.
#[must_use]
pub fn moved_outline(distances: &Mask, spread: f64, window: Rect) -> Mask {
    let rect = distances.rect.intersect(window);
    if rect.is_empty() {
        return Mask::empty(Rect::default());
    }
    let (from, spread) = ((rect.x0 - distances.rect.x0) as usize, spread as f32);
    Mask::from_rows(
        rect,
        |y| !distances.is_like_above(y),
        |y, out| {
            let row = &distances.row(y)[from..];
            widest(
                #[inline(always)]
                || {
                    for (out, distance) in out.iter_mut().zip(row) {
                        *out = covered(*distance, spread);
                    }
                },
            );
        },
    )
}

/// How much of a pixel an outline moved outwards by `spread` covers, when its middle is this far from the outline itself.
#[inline(always)]
pub fn covered(distance: f32, spread: f32) -> f32 {
    (0.5 + spread - distance).clamp(0.0, 1.0)
}

/// How far the middles of pixels are from an outline, those inside negative, as far as matters for moving it by up to
/// `spread`; infinite beyond.
#[must_use]
pub fn distances(outline: &BezPath, transform: Affine, spread: f64, window: Rect) -> Mask {
    let (mask, lines) = start(outline, transform, spread, window);
    if measured::is_fast(&lines, spread, mask.rect) {
        measured::distances(mask, &lines, spread)
    } else {
        propagation::distances(mask, &lines, spread)
    }
}

/// Input of the distance transform: the coverage of the pixels in question, and the outline's lines.
fn start(outline: &BezPath, transform: Affine, spread: f64, window: Rect) -> (Mask, Vec<Line>) {
    let reach = spread.abs().ceil() as i32 + 2;
    let source = rasterize(outline, transform, window.grown(reach));
    if source.rect.is_empty() {
        return (source, Vec::new());
    }
    // Distances matter only between the outline and the requested pixels.
    let rect = source.rect.grown(2).around_both(source.rect.grown(reach).intersect(window));
    (source.cropped(rect), flatten(outline, transform).into_iter().map(Line::from).collect())
}

/// The next of the distances that are worked out together: shorter ones share them.
#[must_use]
pub fn shared_reach(spread: f64) -> f64 {
    let mut reach = LEAST_REACH;
    while reach < spread.abs() {
        reach *= 2.0;
    }
    let reach = if reach > LEAST_REACH && spread.abs() <= 0.75 * reach { 0.75 * reach } else { reach };
    reach.copysign(spread)
}

/// The smallest distance that is worked out for several outlines.
const LEAST_REACH: f64 = 4.0;

#[cfg(test)]
mod tests {
    use super::lines::middle;
    use super::*;
    use kurbo::{Circle, Shape};

    type Way = fn(Mask, &[Line], f64) -> Mask;
    const WAYS: [Way; 2] = [measured::distances, propagation::distances];

    /// Coverage of an outline grown (or, negative, shrunk) by `spread` device pixels.
    fn offset_coverage(outline: &BezPath, spread: f64, way: Way) -> Mask {
        let (mask, lines) = start(outline, Affine::IDENTITY, spread, WINDOW);
        moved_outline(&way(mask, &lines, spread), spread, WINDOW)
    }

    const WINDOW: Rect = Rect { x0: -60, y0: -60, x1: 60, y1: 60 };

    /// A circle's Euclidean offset is a circle: closed form, both ways.
    #[test]
    fn a_spread_circle_is_a_circle() {
        let cases = [(20.0, 7.5), (20.0, 0.4), (20.0, -6.25), (3.0, 30.0)];
        for ((radius, spread), way) in cases.into_iter().flat_map(|case| WAYS.map(|way| (case, way))) {
            let circle = |r: f64| Circle::new((0.3, -0.2), r).to_path(0.001);
            let found = offset_coverage(&circle(radius), spread, way);
            let exact = rasterize(&circle(radius + spread), Affine::IDENTITY, WINDOW);
            for y in WINDOW.y0..WINDOW.y1 {
                for x in WINDOW.x0..WINDOW.x1 {
                    let error = (found.at(x, y) - exact.at(x, y)).abs();
                    assert!(error < 0.12, "radius {radius} spread {spread} at {x},{y}: {error}");
                }
            }
        }
    }

    /// Brute force over every line, for an outline with a dent and overlapping contours.
    #[test]
    fn distances_equal_brute_force() {
        let mut outline = BezPath::from_svg("M-30-20 L0 0 L30-20 L30 20 L-30 20 Z").expect("path data");
        outline.extend(kurbo::Rect::new(-20.0, 5.0, 20.0, 40.0).to_path(0.1));
        let lines: Vec<Line> = flatten(&outline, Affine::IDENTITY).into_iter().map(Line::from).collect();
        let source = rasterize(&outline, Affine::IDENTITY, WINDOW);
        for (spread, way) in [9.0, 4.5].into_iter().flat_map(|spread| WAYS.map(|way| (spread, way))) {
            let found = offset_coverage(&outline, spread, way);
            for y in -55..55 {
                for x in -55..55 {
                    let all = lines.iter().map(|line| line.squared(middle(x, y)).sqrt());
                    let nearest = all.fold(f64::MAX, f64::min);
                    let signed = if source.at(x, y) > 0.5 { -nearest } else { nearest };
                    let exact = (0.5 + spread - signed).clamp(0.0, 1.0) as f32;
                    assert!((found.at(x, y) - exact).abs() < 0.02, "{spread} at {x},{y}");
                }
            }
        }
    }

    /// Distances that reach farther than a spread give the same outline as those that reach as far.
    #[test]
    fn spreads_share_distances() {
        let outline = BezPath::from_svg("M-30-20 L0 0 L30-20 L24.5 22 L-30 20 Z").expect("path data");
        for spread in [0.3, 2.5, 4.0, 4.1, 6.0, 7.9, 11.5, -0.7, -3.0, -5.5] {
            let reach = shared_reach(spread);
            assert!(reach.abs() >= spread.abs() && reach.abs() <= (1.5 * spread.abs()).max(4.0));
            let shared = distances(&outline, Affine::IDENTITY, reach, WINDOW);
            let (shared, own) = (
                moved_outline(&shared, spread, WINDOW),
                offset_coverage(&outline, spread, propagation::distances),
            );
            for y in WINDOW.y0..WINDOW.y1 {
                for x in WINDOW.x0..WINDOW.x1 {
                    assert!((shared.at(x, y) - own.at(x, y)).abs() < 0.01, "{spread} at {x},{y}");
                }
            }
        }
    }

    #[test]
    fn shrunk_past_its_middle_nothing_is_left() {
        let path = Circle::new((0.0, 0.0), 5.0).to_path(0.01);
        for way in WAYS {
            let mask = offset_coverage(&path, -8.0, way);
            assert!(mask.values().all(|coverage| coverage == 0.0));
        }
    }
}
