//! Outlines as SVG path data (SVG 2, "Path Data").

use kurbo::{BezPath, PathEl, Point};

use super::number::round_to;

/// Path data, its coordinates rounded to so many decimals.
pub fn path_text(path: &BezPath, decimals: i32) -> String {
    let at = |point: Point| Point::new(round_to(point.x, decimals), round_to(point.y, decimals));
    let element = |element: PathEl| match element {
        PathEl::MoveTo(to) => PathEl::MoveTo(at(to)),
        PathEl::LineTo(to) => PathEl::LineTo(at(to)),
        PathEl::QuadTo(a, to) => PathEl::QuadTo(at(a), at(to)),
        PathEl::CurveTo(a, b, to) => PathEl::CurveTo(at(a), at(b), at(to)),
        PathEl::ClosePath => PathEl::ClosePath,
    };
    let rounded: BezPath = path.elements().iter().copied().map(element).collect();
    rounded.to_svg()
}
