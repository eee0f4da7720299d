//! Fills as the renderer needs them.

use kurbo::{Point, Vec2};

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use super::angle::sin_cos_degrees;
use crate::colour::{Rgba, mean};
use crate::picture::Bitmap;
use crate::raster::{BitmapSampler, Fit};
use crate::simd::widest;

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
    /// A picture.
    Image {
        /// Its pixels.
        bitmap: Arc<Bitmap>,
        /// How it is fitted to the box.
        fit: Fit,
        /// Its colours alone: its alpha is the silhouette's already.
        bare: bool,
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

impl Paint {
    /// The mean colour along the fill; `None` where there is no fill.
    #[must_use]
    pub fn mean(&self) -> Option<Rgba> {
        match self {
            Self::None => None,
            Self::Solid(colour) => Some(*colour),
            Self::Linear { stops, .. } | Self::Radial { stops, .. } => Some(mean_of_stops(stops)),
            Self::Image { bitmap, .. } => Some(bitmap.mean),
        }
    }

    /// The paint with its opacity scaled; a picture stays as it is.
    #[must_use]
    pub fn faded(&self, opacity: f64) -> Self {
        let faded = |stops: &[ColourStop]| {
            let fade = |stop: &ColourStop| ColourStop { colour: stop.colour.faded(opacity), ..*stop };
            stops.iter().map(fade).collect()
        };
        match self {
            Self::Solid(colour) => Self::Solid(colour.faded(opacity)),
            Self::Linear { angle, stops } => Self::Linear { angle: *angle, stops: faded(stops) },
            Self::Radial { centre, radius, stops } => {
                Self::Radial { centre: *centre, radius: *radius, stops: faded(stops) }
            }
            Self::None | Self::Image { .. } => self.clone(),
        }
    }

    /// A picture with its own alpha again, where that was taken away because it is the silhouette already.
    #[must_use]
    pub fn with_alpha(&self) -> Self {
        match self {
            Self::Image { bitmap, fit, .. } => {
                Self::Image { bitmap: Arc::clone(bitmap), fit: *fit, bare: false }
            }
            other @ (Self::None | Self::Solid(_) | Self::Linear { .. } | Self::Radial { .. }) => {
                other.clone()
            }
        }
    }

    /// Equal for equal paints; caches tell paints apart by it.
    #[must_use]
    pub fn fingerprint(&self) -> u64 {
        let mut hasher = DefaultHasher::new();
        std::mem::discriminant(self).hash(&mut hasher);
        let colour = |colour: &Rgba| colour.bits();
        let numbers: &[f64] = match self {
            Self::None | Self::Solid(_) => &[],
            Self::Linear { angle, .. } => &[*angle],
            Self::Radial { centre, radius, .. } => &[centre.0, centre.1, *radius],
            Self::Image { .. } => &[],
        };
        numbers.iter().for_each(|number| number.to_bits().hash(&mut hasher));
        match self {
            Self::None => {}
            Self::Solid(solid) => colour(solid).hash(&mut hasher),
            Self::Linear { stops, .. } | Self::Radial { stops, .. } => {
                stops.iter().for_each(|stop| (stop.at.to_bits(), colour(&stop.colour)).hash(&mut hasher));
            }
            Self::Image { bitmap, fit, bare } => (bitmap.fingerprint, *fit as u8, bare).hash(&mut hasher),
        }
        hasher.finish()
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
            Self::Image { bitmap, fit, bare } => *bare || (bitmap.opaque && *fit != Fit::Contain),
        }
    }

    /// A sampler of the paint over a box of a size, with `scale` pixels for one px.
    #[must_use]
    pub fn sampler(&self, width: f64, height: f64, scale: f64) -> Sampler {
        match self {
            Self::None => Sampler::Flat([0.0; 4]),
            Self::Solid(colour) => Sampler::Flat(colour.premultiplied()),
            Self::Linear { angle, stops } => linear(*angle, stops, width, height),
            Self::Radial { centre, radius, stops } => Sampler::Radial {
                centre: Point::new(centre.0 * width, centre.1 * height),
                radius: *radius,
                table: table(stops),
            },
            Self::Image { bitmap, fit, bare } => {
                let sampler = BitmapSampler::fitted(Arc::clone(bitmap), *fit, width, height, scale);
                if *bare { Sampler::BareImage(sampler) } else { Sampler::Image(sampler) }
            }
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

/// The ends of the line of a gradient over a box: they lie on the perpendiculars through its corners (CSS Images 3,
/// "linear-gradient()").
#[must_use]
pub fn gradient_line(angle: f64, width: f64, height: f64) -> (Point, Point) {
    let (sin, cos) = sin_cos_degrees(angle);
    let half = Vec2::new(sin, -cos) * (((width * sin).abs() + (height * cos).abs()) / 2.0);
    let middle = Point::new(width / 2.0, height / 2.0);
    (middle - half, middle + half)
}

fn linear(angle: f64, stops: &[ColourStop], width: f64, height: f64) -> Sampler {
    let (sin, cos) = sin_cos_degrees(angle);
    let length = (width * sin).abs() + (height * cos).abs();
    let along = Vec2::new(sin, -cos);
    let start = Point::new(width / 2.0, height / 2.0) - along * (length / 2.0);
    Sampler::Linear { start, along: along / length.max(1e-9), table: table(stops) }
}

/// The premultiplied colour of a paint at each point.
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
    /// A picture's pixels.
    Image(BitmapSampler),
    /// A picture's colours without its alpha.
    BareImage(BitmapSampler),
}

fn table(stops: &[ColourStop]) -> Vec<(f64, [f32; 4])> {
    stops.iter().map(|stop| (stop.at, stop.colour.premultiplied())).collect()
}

impl Sampler {
    /// The premultiplied colours of a row of points, `step` apart, from the one on that has `before` before it.
    pub fn row(&self, start: Point, step: Vec2, before: i64, out: &mut [[f32; 4]]) {
        match self {
            Self::Flat(colour) => out.fill(*colour),
            Self::Linear { start: zero, along, table } => {
                let (first, by) = ((start - *zero).dot(*along), step.dot(*along));
                if by == 0.0 {
                    return out.fill(mix(table, first));
                }
                mix_row(table, |i| first + by * (before + i as i64) as f64, out);
            }
            Self::Radial { centre, radius, table } => {
                let at = |i: usize| radial(start + step * (before + i as i64) as f64 - *centre, *radius);
                mix_row(table, at, out);
            }
            Self::Image(sampler) => sampler.row(start, step, before, out),
            Self::BareImage(sampler) => {
                sampler.row(start, step, before, out);
                out.iter_mut().for_each(|colour| *colour = bare(*colour));
            }
        }
    }

    /// Whether points that lie this far apart are known to have the same colour.
    #[must_use]
    pub(crate) fn is_steady(&self, apart: Vec2) -> bool {
        match self {
            Self::Flat(_) => true,
            Self::Linear { along, .. } => along.dot(apart) == 0.0,
            Self::Radial { .. } | Self::Image(_) | Self::BareImage(_) => false,
        }
    }

    /// The premultiplied colour at a point of the box.
    #[must_use]
    pub fn at(&self, point: Point) -> [f32; 4] {
        match self {
            Self::Flat(colour) => *colour,
            Self::Linear { start, along, table } => mix(table, (point - *start).dot(*along)),
            Self::Radial { centre, radius, table } => mix(table, radial(point - *centre, *radius)),
            Self::Image(sampler) => sampler.at(point),
            Self::BareImage(sampler) => bare(sampler.at(point)),
        }
    }
}

/// A colour without its alpha.
fn bare(colour: [f32; 4]) -> [f32; 4] {
    if colour[3] > 0.0 { colour.map(|part| part / colour[3]) } else { [0.0; 4] }
}

/// How far out of a radial gradient a place is that lies `away` from its middle.
fn radial(away: Vec2, radius: f64) -> f64 {
    // Squares and their root are the same on every machine, which a hypotenuse of the system's need not be.
    let distance = (away.x * away.x + away.y * away.y).sqrt();
    let end = if distance > 0.0 { 1.0 } else { 0.0 };
    if radius > 0.0 { distance / radius } else { end }
}

/// Places that are worked out at a time.
const CHUNK: usize = 64;

/// As [`mix`] for each pixel of a row: neighbours between the same stops are done together.
fn mix_row(table: &[(f64, [f32; 4])], place: impl Fn(usize) -> f64, out: &mut [[f32; 4]]) {
    widest(
        #[inline(always)]
        || mix_chunks(table, place, out),
    );
}

#[inline(always)]
fn mix_chunks(table: &[(f64, [f32; 4])], place: impl Fn(usize) -> f64, out: &mut [[f32; 4]]) {
    let mut places = [0.0; CHUNK];
    for (chunk, out) in out.chunks_mut(CHUNK).enumerate() {
        let places = &mut places[..out.len()];
        places.iter_mut().enumerate().for_each(|(i, at)| *at = place(chunk * CHUNK + i));
        let mut next = 0;
        while let Some(first) = places.get(next) {
            let after = table.partition_point(|(stop, _)| stop <= first);
            let before = after.checked_sub(1).and_then(|i| table.get(i));
            let until = table.get(after);
            let is_between = |at: &&f64| {
                before.is_none_or(|(stop, _)| stop <= at) && until.is_none_or(|(stop, _)| *at < stop)
            };
            let count = places[next..].iter().take_while(is_between).count().max(1);
            let run = &mut out[next..next + count];
            match (before, until) {
                (Some((from, below)), Some((to, above))) => {
                    let share = 1.0 / (to - from);
                    let rise: [f32; 4] = std::array::from_fn(|part| above[part] - below[part]);
                    for (colour, at) in run.iter_mut().zip(&places[next..]) {
                        let t = ((at - from) * share) as f32;
                        *colour = std::array::from_fn(|part| below[part] + rise[part] * t);
                    }
                }
                _ => run.fill(mix(table, *first)),
            }
            next += count;
        }
    }
}

/// Colours between stops are mixed premultiplied in sRGB (CSS Images 3, "Coloring the Gradient Line").
fn mix(table: &[(f64, [f32; 4])], at: f64) -> [f32; 4] {
    let after = table.partition_point(|(stop, _)| *stop <= at);
    let before = after.checked_sub(1).and_then(|i| table.get(i));
    match (before, table.get(after)) {
        (None, Some((_, first))) => *first,
        (Some((_, last)), None) => *last,
        (None, None) => [0.0; 4],
        (Some((from, below)), Some((to, above))) => {
            let t = ((at - from) * (1.0 / (to - from))) as f32;
            std::array::from_fn(|part| below[part] + (above[part] - below[part]) * t)
        }
    }
}
