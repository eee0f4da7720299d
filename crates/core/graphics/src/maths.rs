//! Functions whose last bit is the same on every machine, so that the service and a browser compute the same; those
//! of the system differ in it.

use kurbo::{Affine, BezPath, PathEl, Point, Stroke, StrokeOpts, SvgParseError, Vec2};

pub use libm::{
    acos, asin, atan, atan2, cos, exp, log as ln, log2, pow as powf, powf as powf32, sin, sincos as sin_cos,
    tan,
};

/// A turn by an angle in radians.
pub fn rotation(radians: f64) -> Affine {
    let (sin, cos) = sin_cos(radians);
    Affine::new([cos, sin, -sin, cos, 0.0, 0.0])
}

/// A turn by an angle in radians about a place.
pub fn rotation_about(radians: f64, centre: impl Into<Point>) -> Affine {
    let centre = centre.into().to_vec2();
    Affine::translate(centre) * rotation(radians) * Affine::translate(-centre)
}

/// A place to a millionth of a unit: sums of the same numbers, made in another order, are the same there.
#[must_use]
pub fn snapped(place: Affine) -> Affine {
    const STEPS: f64 = (1 << 20) as f64;
    let fine = |position: f64| (position * STEPS).round() / STEPS;
    let at = place.translation();
    place.with_translation(Vec2::new(fine(at.x), fine(at.y)))
}

/// The vector of length one at an angle in radians.
pub fn direction(radians: f64) -> Vec2 {
    let (sin, cos) = sin_cos(radians);
    Vec2::new(cos, sin)
}

/// The length of a vector.
pub fn hypot(x: f64, y: f64) -> f64 {
    (x * x + y * y).sqrt()
}

/// A vector of length one in the direction of another.
pub fn unit(vector: Vec2) -> Vec2 {
    vector / vector.hypot2().sqrt()
}

/// SVG path data (SVG 2, "Path Data") as a path. The library computes arcs with the functions of the system, so points of a path
/// with arcs are rounded.
///
/// # Errors
/// When it is no path data.
#[allow(clippy::disallowed_methods)]
pub fn path(data: &str) -> Result<BezPath, SvgParseError> {
    let path = BezPath::from_svg(data)?;
    Ok(if data.contains(['A', 'a']) { rounded(path) } else { path })
}

/// The outline of a line drawn with a pen, to within `tolerance` px. The library computes round joins and caps with the functions
/// of the system, so its points are rounded.
#[allow(clippy::disallowed_methods)]
pub fn stroked(line: &BezPath, pen: &Stroke, tolerance: f64) -> BezPath {
    // For some curves the library gives points that are no numbers, depending on the tolerance; for lines it never does.
    let drawn = |line: &BezPath, tolerance: f64| kurbo::stroke(line, pen, &StrokeOpts::default(), tolerance);
    let tries = [1.0, 0.83, 1.27, 0.61].into_iter().map(|factor| drawn(line, tolerance * factor));
    let found = tries.into_iter().find(BezPath::is_finite);
    rounded(found.unwrap_or_else(|| {
        let mut lines = BezPath::new();
        kurbo::flatten(line, tolerance, |element| lines.push(element));
        drawn(&lines, tolerance)
    }))
}

/// A path with its points rounded to 2⁻²⁴ px, which the functions of all systems agree to.
fn rounded(path: BezPath) -> BezPath {
    const STEPS: f64 = (1 << 24) as f64;
    let at = |at: Point| Point::new((at.x * STEPS).round() / STEPS, (at.y * STEPS).round() / STEPS);
    let element = |element| match element {
        PathEl::MoveTo(to) => PathEl::MoveTo(at(to)),
        PathEl::LineTo(to) => PathEl::LineTo(at(to)),
        PathEl::QuadTo(a, to) => PathEl::QuadTo(at(a), at(to)),
        PathEl::CurveTo(a, b, to) => PathEl::CurveTo(at(a), at(b), at(to)),
        PathEl::ClosePath => PathEl::ClosePath,
    };
    path.into_iter().map(element).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Of a curve whose second handle lies on its end, the library's outline has points that are no numbers.
    #[test]
    fn strokes_are_made_of_numbers() {
        let line = path("M45.2 83.2C42.9 83.3 42.9 82.2 42.9 82.2").expect("path data");
        for scale in [0.5, 1.0, 1.5, 2.0, 3.0] {
            let pen = Stroke::new(0.8 * scale).with_miter_limit(3.0);
            let outline = stroked(&(Affine::scale(scale) * &line), &pen, 0.004);
            assert!(outline.is_finite(), "at {scale}");
        }
    }

    /// Only results of the system's functions are rounded.
    #[test]
    fn arcs_are_rounded_and_lines_are_not() {
        let points = |data: &str| -> Vec<f64> {
            let path = path(data).expect("path data");
            let ends = path.elements().iter().filter_map(PathEl::end_point);
            ends.flat_map(|at| [at.x, at.y]).collect()
        };
        assert_eq!(points("M0.1 0.3 L0.7 1.1"), [0.1, 0.3, 0.7, 1.1]);
        let arc = points("M0.1 0.3 A40 30 20 0 1 9.7 5.1 Z");
        assert!(arc.iter().all(|part| (part * f64::from(1 << 24)).fract() == 0.0), "{arc:?}");
        assert!((arc[arc.len() - 2] - 9.7).abs() < 1e-7, "{arc:?}");
    }
}
