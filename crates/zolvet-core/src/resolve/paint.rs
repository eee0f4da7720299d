//! Fills as the renderer needs them.

use kurbo::{Point, Vec2};

use super::Context;
use super::offset::sin_cos_degrees;
use crate::colour::{Rgba, mean};
use crate::model::{ColourSource, Fill, GradientDirection, OffsetPx, Stop};

/// A fill of plain colours.
#[derive(Debug, Clone, PartialEq)]
pub enum Paint {
    /// Nothing.
    None,
    /// One colour.
    Solid(Rgba),
    /// Along a line.
    Linear {
        /// A CSS gradient angle: 0° runs to the top, 90° to the right.
        angle: f64,
        /// In rising order, at least one.
        stops: Vec<ColourStop>,
    },
    /// Out from a point.
    Radial {
        /// Relative to the box.
        centre: (f64, f64),
        /// In px.
        radius: f64,
        /// In rising order, at least one.
        stops: Vec<ColourStop>,
    },
}

/// A colour at a place along a gradient, from 0 to 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ColourStop {
    /// Where.
    pub at: f64,
    /// Which colour.
    pub colour: Rgba,
}

impl Context<'_> {
    pub(super) fn paint(&self, fill: &Fill, report: &mut impl FnMut(String)) -> Paint {
        match fill {
            Fill::None(_) => Paint::None,
            Fill::Solid(solid) => Paint::Solid(self.fill_colour(&solid.colour, report)),
            Fill::Linear(linear) => {
                let angle = match &linear.direction {
                    GradientDirection::Angle(angle) => angle.angle.get(),
                    GradientDirection::Follows(light) => self.bearing(&light.follows) + 180.0,
                };
                Paint::Linear { angle, stops: self.stops(&linear.stops, report) }
            }
            Fill::Radial(radial) => Paint::Radial {
                centre: (radial.centre.x.get(), radial.centre.y.get()),
                radius: radial.radius.get(),
                stops: self.stops(&radial.stops, report),
            },
            Fill::Image(_) => {
                report("a picture as a fill is not drawn yet: left empty".to_owned());
                Paint::None
            }
        }
    }

    fn stops(&self, stops: &[Stop], report: &mut impl FnMut(String)) -> Vec<ColourStop> {
        let resolve =
            |stop: &Stop| ColourStop { at: stop.at.get(), colour: self.fill_colour(&stop.colour, report) };
        stops.iter().map(resolve).collect()
    }

    fn fill_colour(&self, source: &ColourSource, report: &mut impl FnMut(String)) -> Rgba {
        let nowhere = crate::model::Offset::Cartesian(crate::model::CartesianOffset {
            x: OffsetPx::default(),
            y: OffsetPx::default(),
        });
        self.colour(source, None, &nowhere).unwrap_or_else(|what| {
            report(format!("{what} is not drawn yet in a fill: left empty"));
            Rgba::default()
        })
    }
}

impl Paint {
    /// The mean colour along the fill; `None` where there is no fill.
    #[must_use]
    pub fn mean(&self) -> Option<Rgba> {
        match self {
            Self::None => None,
            Self::Solid(colour) => Some(*colour),
            Self::Linear { stops, .. } | Self::Radial { stops, .. } => Some(mean_of_stops(stops)),
        }
    }

    /// Whether it hides everything below it.
    #[must_use]
    pub fn is_opaque(&self) -> bool {
        match self {
            Self::None => false,
            Self::Solid(colour) => colour.a >= 1.0,
            Self::Linear { stops, .. } | Self::Radial { stops, .. } => {
                stops.iter().all(|stop| stop.colour.a >= 1.0)
            }
        }
    }

    /// The paint over a box of a size, ready to be asked for pixels.
    #[must_use]
    pub fn sampler(&self, width: f64, height: f64) -> Sampler {
        match self {
            Self::None => Sampler::Flat([0.0; 4]),
            Self::Solid(colour) => Sampler::Flat(colour.premultiplied()),
            Self::Linear { angle, stops } => linear(*angle, stops, width, height),
            Self::Radial { centre, radius, stops } => Sampler::Radial {
                centre: Point::new(centre.0 * width, centre.1 * height),
                radius: *radius,
                table: table(stops),
            },
        }
    }
}

fn mean_of_stops(stops: &[ColourStop]) -> Rgba {
    let (Some(first), Some(last)) = (stops.first(), stops.last()) else {
        return Rgba::default();
    };
    let mut weighted = vec![(first.at as f32, first.colour), (1.0 - last.at as f32, last.colour)];
    for pair in stops.windows(2) {
        let half = ((pair[1].at - pair[0].at) / 2.0) as f32;
        weighted.extend([(half, pair[0].colour), (half, pair[1].colour)]);
    }
    mean(&weighted)
}

/// CSS Images 3, "linear-gradient()": the line is as long as makes its ends lie on the corners' perpendiculars.
fn linear(angle: f64, stops: &[ColourStop], width: f64, height: f64) -> Sampler {
    let (sin, cos) = sin_cos_degrees(angle);
    let length = (width * sin).abs() + (height * cos).abs();
    let along = Vec2::new(sin, -cos);
    let start = Point::new(width / 2.0, height / 2.0) - along * (length / 2.0);
    Sampler::Linear { start, along: along / length.max(1e-9), table: table(stops) }
}

/// What a paint is at each point, in premultiplied colours.
#[derive(Debug, Clone, PartialEq)]
pub enum Sampler {
    /// The same everywhere.
    Flat([f32; 4]),
    /// Along a line.
    Linear {
        /// Where it is at 0.
        start: Point,
        /// Its direction, divided by its length.
        along: Vec2,
        /// Colours in rising order.
        table: Vec<(f64, [f32; 4])>,
    },
    /// Out from a point.
    Radial {
        /// Where it is at 0.
        centre: Point,
        /// Where it is at 1.
        radius: f64,
        /// Colours in rising order.
        table: Vec<(f64, [f32; 4])>,
    },
}

fn table(stops: &[ColourStop]) -> Vec<(f64, [f32; 4])> {
    stops.iter().map(|stop| (stop.at, stop.colour.premultiplied())).collect()
}

impl Sampler {
    /// The premultiplied colour at a point of the box.
    #[must_use]
    pub fn at(&self, point: Point) -> [f32; 4] {
        match self {
            Self::Flat(colour) => *colour,
            Self::Linear { start, along, table } => mix(table, (point - *start).dot(*along)),
            Self::Radial { centre, radius, table } => {
                let distance = (point - *centre).hypot();
                let end = if distance > 0.0 { 1.0 } else { 0.0 };
                mix(table, if *radius > 0.0 { distance / radius } else { end })
            }
        }
    }
}

/// Colours between stops are mixed premultiplied in sRGB (CSS Images 3, "Coloring the Gradient Line").
fn mix(table: &[(f64, [f32; 4])], at: f64) -> [f32; 4] {
    let after = table.iter().position(|(stop, _)| *stop > at);
    match after {
        Some(0) => table[0].1,
        None => table.last().map_or([0.0; 4], |(_, colour)| *colour),
        Some(i) => {
            let ((from, below), (to, above)) = (table[i - 1], table[i]);
            let t = ((at - from) / (to - from)) as f32;
            std::array::from_fn(|part| below[part] + (above[part] - below[part]) * t)
        }
    }
}
