//! The radius of a box's corners, by how pixels there are mixed of outside and inside.

use super::pixels::{Colour, Pixels, lightness};
use super::place::PlacedBox;

/// Pixels within so many px of the outline are looked at, and radii within as many.
const NEAR: f64 = 4.0;
/// Steps of a radius, in px.
const STEP: f64 = 0.25;

/// What is seen at a place on both sides of the outline, as far as it is known.
pub struct Sides {
    pub outside: Colour,
    /// Right inside: the border, if there is one.
    pub edge: Colour,
    pub inside: Colour,
}

/// The radius with which the corners' pixels are most like what they are mixed of.
pub fn refined(
    pixels: &Pixels,
    place: &PlacedBox,
    border: f64,
    sides: impl Fn(&[(f64, f64)]) -> Vec<Sides>,
) -> f64 {
    let side = (place.radius + NEAR + 1.0).min(place.most_radius());
    let is_near = |x: f64, y: f64| {
        let across = (x - place.left).min(place.right() - x);
        let down = (y - place.top).min(place.bottom() - y);
        across < side && down < side && place.distance(x, y).abs() < NEAR
    };
    let rows = place.top as i64..place.bottom().ceil() as i64;
    let columns = place.left as i64..place.right().ceil() as i64;
    let all = rows.flat_map(|y| columns.clone().map(move |x| (x as f64 + 0.5, y as f64 + 0.5)));
    let places: Vec<(f64, f64)> = all.filter(|(x, y)| is_near(*x, *y)).collect();
    let sides = sides(&places);
    let value = |colour: Colour| if pixels.is_noisy() { [lightness(colour); 3] } else { colour };
    let off = |radius: f64| -> f64 {
        let tried = PlacedBox { radius, ..*place };
        let mut off = 0.0;
        for ((x, y), sides) in places.iter().zip(&sides) {
            let distance = tried.distance(*x, *y);
            let mix = |share: f64, a: Colour, b: Colour| -> Colour {
                std::array::from_fn(|at| a[at] + share * (b[at] - a[at]))
            };
            let within = mix((0.5 - distance - border).clamp(0.0, 1.0), sides.edge, sides.inside);
            let seen = mix((0.5 - distance).clamp(0.0, 1.0), sides.outside, within);
            let (pixel, seen) = (value(pixels.at(x.floor() as i64, y.floor() as i64)), value(seen));
            off += (0..3).map(|at| (pixel[at] - seen[at]).powi(2)).sum::<f64>();
        }
        off
    };
    let count = (2.0 * NEAR / STEP) as i32;
    let radii = (-count / 2..=count / 2).map(|by| place.radius + STEP * f64::from(by));
    let radii = radii.filter(|radius| (0.0..=place.most_radius()).contains(radius));
    let scored = radii.chain([place.radius]).map(|radius| (radius, off(radius)));
    scored.min_by(|a, b| a.1.total_cmp(&b.1)).map_or(place.radius, |best| best.0)
}
