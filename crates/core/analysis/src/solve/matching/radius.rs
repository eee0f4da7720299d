//! The radius of a box's corners, by how pixels there are mixed of outside and inside.

use super::drawn::Drawn;
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
    let places = corners(place);
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

/// The middles of pixels near the outline's corners.
fn corners(place: &PlacedBox) -> Vec<(f64, f64)> {
    let side = (place.radius + NEAR + 1.0).min(place.most_radius());
    let is_near = |x: f64, y: f64| {
        let across = (x - place.left).min(place.right() - x);
        let down = (y - place.top).min(place.bottom() - y);
        across < side && down < side && place.distance(x, y).abs() < NEAR
    };
    let rows = place.top as i64..place.bottom().ceil() as i64;
    let columns = place.left as i64..place.right().ceil() as i64;
    let all = rows.flat_map(|y| columns.clone().map(move |x| (x as f64 + 0.5, y as f64 + 0.5)));
    all.filter(|(x, y)| is_near(*x, *y)).collect()
}

/// How many times farther off a whole number may be: few radii have a part of a px.
const WHOLER: f64 = 1.5;

/// The radius in CSS px whose drawing is nearest to the corners of a picture; a whole number, or that of round ends, where
/// one is as near.
pub fn drawn(
    pixels: &Pixels,
    place: &PlacedBox,
    in_px: &PlacedBox,
    is_strange: impl Fn(i64, i64) -> bool,
    draw: impl Fn(f64) -> Option<Drawn>,
) -> f64 {
    let mut places = corners(place);
    places.retain(|(x, y)| !is_strange(x.floor() as i64, y.floor() as i64));
    let value = |colour: Colour| if pixels.is_noisy() { [lightness(colour); 3] } else { colour };
    let off = |radius: f64| -> Option<f64> {
        let drawn = draw(radius)?;
        let of_place = |(x, y): &(f64, f64)| {
            let (pixel, seen) = (pixels.at(x.floor() as i64, y.floor() as i64), drawn.at(*x, *y)?);
            let (pixel, seen) = (value(pixel), value(seen));
            Some((0..3).map(|at| (pixel[at] - seen[at]).powi(2)).sum::<f64>())
        };
        Some(places.iter().filter_map(of_place).sum())
    };
    let (now, most) = (in_px.radius, in_px.most_radius());
    let score = |radius: f64| off(radius).map(|off| (radius, off));
    let Some(mut whole) = score(now.round().min(most)) else { return now };
    for by in [1.0, -1.0] {
        while let Some(next) = score(whole.0 + by).filter(|next| is_within(next.0, most) && next.1 < whole.1)
        {
            whole = next;
        }
    }
    let ends = Some(most).filter(|most| most - whole.0 < 2.0).and_then(score);
    let whole = ends.filter(|ends| ends.1 < whole.1).unwrap_or(whole);
    if off(now).is_some_and(|own| own * WHOLER < whole.1) { now } else { whole.0 }
}

fn is_within(radius: f64, most: f64) -> bool {
    (0.0..=most).contains(&radius)
}
