//! An element's border: a ring of one colour along its edge, inside.

use super::pixels::{Colour, Pixels, apart, median};
use super::place::PlacedBox;

/// The widest border, in CSS px.
const MOST: usize = 4;
/// A step between border and fill that is seen.
const SEEN: f64 = 2.0 / 255.0;

/// A border's width in pixels and its colour.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Border {
    pub width: f64,
    pub colour: Colour,
}

impl Border {
    /// With the colour that pixels show in the middle of its ring.
    pub fn coloured(self, pixels: &Pixels, place: &PlacedBox) -> Self {
        let sides = place.outline();
        let places = sides[..4].iter().flatten().map(|place| place.outward(-self.width / 2.0));
        let colours: Vec<Colour> =
            places.map(|(x, y)| pixels.at(x.floor() as i64, y.floor() as i64)).collect();
        Self { colour: median(&colours).unwrap_or(self.colour), ..self }
    }
}

/// The border of a box, if it has one.
pub fn find(pixels: &Pixels, place: &PlacedBox, density: f64) -> Option<Border> {
    let noise = pixels.noise();
    let most = MOST * density.round().max(1.0) as usize;
    let outline = place.outline();
    let sides: Vec<_> = outline.iter().take(4).filter(|side| side.len() > 6).collect();
    // For each side the colours at each depth.
    let rings: Vec<Vec<Colour>> = sides
        .iter()
        .map(|side| {
            let at = |depth: usize| {
                let colours: Vec<Colour> = side
                    .iter()
                    .map(|place| {
                        let (x, y) = place.outward(-(depth as f64) - 0.5);
                        pixels.between(x, y)
                    })
                    .collect();
                median(&colours).unwrap_or_default()
            };
            (0..most + 3).map(at).collect()
        })
        .collect();
    let is_edge = |ring: &Vec<Colour>, depth: usize| {
        let step = apart(ring[depth - 1], ring[depth]);
        let after = apart(ring[depth], ring[depth + 1]);
        let is_even = (1..depth).all(|at| apart(ring[at - 1], ring[at]) <= (step / 4.0).max(noise));
        // What is even so far and ends at once is no shadow; of one pixel nobody can tell.
        step > SEEN && is_even && after < if depth > 1 { 0.8 * step } else { 0.5 * step }
    };
    let is_even =
        |ring: &Vec<Colour>, depth: usize| (1..depth).all(|at| apart(ring[at - 1], ring[at]) <= 2.0 * noise);
    let step = density.round().max(1.0) as usize;
    let is_border = |depth: &usize| {
        let edges = rings.iter().filter(|ring| is_edge(ring, *depth)).count();
        edges * 2 >= rings.len() && rings.iter().all(|ring| is_edge(ring, *depth) || is_even(ring, *depth))
    };
    let depth = (1..=MOST).map(|width| width * step).find(is_border).filter(|_| !rings.is_empty())?;
    let colours: Vec<Colour> = rings.iter().map(|ring| ring[depth / 2]).collect();
    Some(Border { width: depth as f64, colour: median(&colours)? })
}
