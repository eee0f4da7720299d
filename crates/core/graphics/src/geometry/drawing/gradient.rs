//! Gradients of SVG (SVG 2, "Paint Servers").

use kurbo::{Affine, Point};

use crate::blend::Pixel;
use crate::colour::Rgba;

/// A gradient in its own px.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Gradient {
    pub line: Line,
    pub spread: Spread,
    /// From 0 to 1, in order, with their colours.
    pub stops: Vec<(f32, Rgba)>,
}

/// Where a gradient runs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Line {
    Linear { from: Point, to: Point },
    Radial { centre: Point, radius: f64, focus: Point, focal_radius: f64 },
}

/// The colours beyond both ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Spread {
    Pad,
    Reflect,
    Repeat,
}

impl Gradient {
    /// The premultiplied colour at a place of the gradient.
    pub fn at(&self, place: Point) -> Pixel {
        let Some(along) = self.line.along(place) else { return [0.0; 4] };
        let along = match self.spread {
            Spread::Pad => along.clamp(0.0, 1.0),
            Spread::Repeat => along.rem_euclid(1.0),
            Spread::Reflect => {
                let turn = along.rem_euclid(2.0);
                if turn > 1.0 { 2.0 - turn } else { turn }
            }
        };
        self.colour(along as f32)
    }

    /// Colours are mixed before they are multiplied by their opacity.
    fn colour(&self, along: f32) -> Pixel {
        let after = self.stops.partition_point(|(at, _)| *at <= along);
        let before = self.stops[..after].last();
        match (before, self.stops.get(after)) {
            (Some((_, colour)), None) | (None, Some((_, colour))) => colour.premultiplied(),
            (Some((from, first)), Some((to, second))) => {
                let share = if to > from { (along - from) / (to - from) } else { 1.0 };
                let (first, second) = (first.parts(), second.parts());
                let [r, g, b, a] =
                    std::array::from_fn(|part| first[part] + (second[part] - first[part]) * share);
                Rgba::new(r, g, b, a).premultiplied()
            }
            (None, None) => [0.0; 4],
        }
    }
}

impl Line {
    /// How far along the gradient a place lies: 0 at its start, 1 at its end; `None` where a cone does not reach.
    fn along(self, place: Point) -> Option<f64> {
        match self {
            Self::Linear { from, to } => {
                let line = to - from;
                let length = line.hypot2();
                Some(if length > 0.0 { (place - from).dot(line) / length } else { 1.0 })
            }
            Self::Radial { centre, radius, focus, focal_radius } => {
                // The largest t with |place − (focus + t·(centre − focus))| = focal_radius + t·(radius − focal_radius), where
                // that radius is not negative (SVG 2, "Radial gradients").
                let (way, from, grow) = (centre - focus, place - focus, radius - focal_radius);
                let a = way.hypot2() - grow * grow;
                let half_b = from.dot(way) + focal_radius * grow;
                let c = from.hypot2() - focal_radius * focal_radius;
                let is_circle = |t: &f64| focal_radius + t * grow >= 0.0;
                if a.abs() < 1e-12 {
                    let t = if half_b.abs() < 1e-12 { return None } else { c / (2.0 * half_b) };
                    return Some(t).filter(is_circle);
                }
                let under = half_b * half_b - a * c;
                if under < 0.0 {
                    return None;
                }
                let root = under.sqrt();
                let (first, second) = ((half_b + root) / a, (half_b - root) / a);
                [first.max(second), first.min(second)].into_iter().find(is_circle)
            }
        }
    }
}

/// A gradient and the way to it, ready to colour device pixels.
pub(super) struct PlacedGradient<'a> {
    pub gradient: &'a Gradient,
    pub to_gradient: Affine,
}

impl PlacedGradient<'_> {
    /// The colour of the middle of a device pixel.
    pub fn pixel(&self, x: i32, y: i32) -> Pixel {
        self.gradient.at(self.to_gradient * Point::new(f64::from(x) + 0.5, f64::from(y) + 0.5))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn black_to_white(line: Line, spread: Spread) -> Gradient {
        let stops = vec![(0.0, Rgba::new(0.0, 0.0, 0.0, 1.0)), (1.0, Rgba::new(1.0, 1.0, 1.0, 1.0))];
        Gradient { line, spread, stops }
    }

    #[test]
    fn colours_beyond_the_ends_are_those_of_the_spread_method() {
        let line = Line::Linear { from: Point::new(10.0, 0.0), to: Point::new(20.0, 0.0) };
        for (spread, x, expected) in [
            (Spread::Pad, 25.0, 1.0),
            (Spread::Pad, 0.0, 0.0),
            (Spread::Repeat, 22.5, 0.25),
            (Spread::Reflect, 22.5, 0.75),
            (Spread::Reflect, 7.5, 0.25),
        ] {
            let found = black_to_white(line, spread).at(Point::new(x, 3.0))[0];
            assert!((found - expected).abs() < 1e-6, "{spread:?} at {x}: {found}");
        }
    }

    /// With the focus at a quarter of the radius to the right, a place half way from the focus to the edge is half way along.
    #[test]
    fn a_focus_moves_the_start_and_not_the_end() {
        let line =
            Line::Radial { centre: Point::ZERO, radius: 8.0, focus: Point::new(2.0, 0.0), focal_radius: 0.0 };
        let gradient = black_to_white(line, Spread::Pad);
        for (x, expected) in [(2.0, 0.0), (5.0, 0.5), (8.0, 1.0), (-3.0, 0.5), (-8.0, 1.0), (-20.0, 1.0)] {
            let found = gradient.at(Point::new(x, 0.0))[0];
            assert!((found - expected).abs() < 1e-6, "at {x}: {found}");
        }
    }
}
