//! Paints of drawings as fills of pieces.

use kurbo::{Affine, Point, Rect, Vec2};

use crate::colour::Rgba;
use crate::geometry::drawing::{ElementPaint, LinearStops};
use crate::maths::{atan2, sin_cos};
use crate::model::{
    ColourSource, CssColour, Degrees, Fill, Fraction, GradientAngle, GradientDirection, LinearFill,
    SolidFill, Stop,
};
use crate::syntax::tidy;

/// A paint as the fill of a box. `place` leads from where the paint is to the px that the box is in. `None` for paints that no
/// fill of ours is like.
pub fn fill(paint: &ElementPaint, place: Affine, bounds: Rect) -> Option<Fill> {
    match paint {
        ElementPaint::Colour(colour) => Some(solid(*colour)),
        ElementPaint::Linear(stops) => linear(stops, place, bounds),
        ElementPaint::Other => None,
    }
}

/// A fill in one colour.
pub fn solid(colour: Rgba) -> Fill {
    Fill::Solid(SolidFill { colour: literal(colour) })
}

fn literal(colour: Rgba) -> ColourSource {
    ColourSource::Literal(CssColour::from_rgba(colour))
}

/// A gradient along a line, as CSS draws it: through the middle of the box, to the corners (CSS Images 3, "linear-gradient()").
fn linear(gradient: &LinearStops, place: Affine, bounds: Rect) -> Option<Fill> {
    let (from, to) = (place * gradient.from, place * gradient.to);
    // Lines of one colour stay at right angles to the gradient's line only where nothing is stretched or skewed.
    let across = place * gradient.across - from;
    let line = to - from;
    let length = line.hypot2();
    if length <= 0.0 || across.dot(line).abs() > length * 1e-4 {
        return None;
    }
    let angle = atan2(line.x, -line.y);
    let (sin, cos) = sin_cos(angle);
    let way = Vec2::new(sin, -cos);
    let half = ((bounds.width() * sin).abs() + (bounds.height() * cos).abs()) / 2.0;
    let along = |place: Point| ((place - bounds.center()).dot(way) / half + 1.0) / 2.0;
    let (start, end) = (along(from), along(to));
    let stops: Vec<Stop> = gradient
        .stops
        .iter()
        .map(|(at, colour)| {
            let at = start + (end - start) * f64::from(*at);
            // A stop outside the box has no place in ours.
            let fraction = Fraction::new(tidy(at)).ok()?;
            Some(Stop { at: fraction, colour: literal(*colour) })
        })
        .collect::<Option<_>>()?;
    let angle = Degrees::new(tidy(angle.to_degrees().rem_euclid(360.0))).ok()?;
    Some(Fill::Linear(LinearFill { direction: GradientDirection::Angle(GradientAngle { angle }), stops }))
}
