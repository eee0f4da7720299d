//! Silhouettes of pictures: their alpha.

use std::collections::HashMap;
use std::hash::{Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Size};

use super::contour::Contour;
use super::crossings::{MAX_LINES, TooComplex};
use super::polygon::{Region, Rule};
use super::{Outline, outline_cache};
use crate::budget;
use crate::picture::Bitmap;

/// A picture in a box, whose alpha is the silhouette.
#[derive(Debug, Clone, PartialEq)]
pub struct AlphaShape {
    /// The picture.
    pub bitmap: Arc<Bitmap>,
    /// Width of the box.
    pub width: f64,
    /// Height of the box.
    pub height: f64,
}

impl AlphaShape {
    /// From the picture's pixels to the box.
    #[must_use]
    pub fn fit(&self) -> Affine {
        let (across, down) = (f64::from(self.bitmap.picture.width), f64::from(self.bitmap.picture.height));
        Affine::scale_non_uniform(self.width / across.max(1.0), self.height / down.max(1.0))
    }

    /// Where its alpha passes one half, between pixels' centres.
    #[must_use]
    pub fn outline(&self) -> Arc<Outline> {
        let key = (self.bitmap.fingerprint, self.width.to_bits(), self.height.to_bits());
        outline_cache::outline(("cutout", key), Size { width: self.width, height: self.height }, || {
            let region = Region::from_contours(self.level_line()?, Rule::NonZero)?;
            Ok(Outline::new(self.fit() * region.path(), self.width, self.height))
        })
    }

    pub(super) fn fingerprint(&self, hasher: &mut impl Hasher) {
        (self.bitmap.fingerprint, self.width.to_bits(), self.height.to_bits()).hash(hasher);
    }

    /// The closed lines at alpha 0.5 by marching squares, in the picture's pixels; the inside is on their left.
    fn level_line(&self) -> Result<Vec<Contour>, TooComplex> {
        let picture = &self.bitmap.picture;
        if !budget::spend(u64::from(picture.width) * u64::from(picture.height) * STEPS_A_CELL) {
            return Ok(Vec::new());
        }
        let alpha = |x: i32, y: i32| {
            let (Ok(x), Ok(y)) = (u32::try_from(x), u32::try_from(y)) else { return 0.0 };
            f64::from(picture.at(x, y)[3]) / 255.0 - 0.5
        };
        // Where a level line crosses from one cell to the next, by the cell and side it leaves through.
        let (mut next, mut starts) = (HashMap::new(), Vec::new());
        for (x, y) in self.cells_on_the_line() {
            let corners = [alpha(x, y), alpha(x + 1, y), alpha(x + 1, y + 1), alpha(x, y + 1)];
            for (from, to) in crossings(corners) {
                if starts.len() >= MAX_LINES {
                    return Err(TooComplex);
                }
                next.insert((x, y, from), to);
                starts.push((x, y, from));
            }
        }
        let place = |(x, y, side): (i32, i32, Side)| {
            let (dx, dy) = side.middle(x, y, alpha);
            [f64::from(x) + 0.5 + dx, f64::from(y) + 0.5 + dy]
        };
        let mut contours = Vec::new();
        for start in starts {
            let (mut contour, mut at) = (Contour::new(), start);
            while let Some(side) = next.remove(&at) {
                contour.push(place(at));
                at = side.into_neighbour(at.0, at.1);
            }
            if !contour.is_empty() {
                contours.push(contour);
            }
        }
        Ok(contours)
    }

    /// The squares between four pixels' centres that are neither wholly inside nor wholly outside, by their first corner.
    fn cells_on_the_line(&self) -> impl Iterator<Item = (i32, i32)> {
        let picture = &self.bitmap.picture;
        let (width, height) = (picture.width as usize, picture.height as i32);
        let line = move |y: i32| {
            let mut inside = vec![false; width + 2];
            if (0..height).contains(&y) {
                let row = &picture.rgba[y as usize * width * 4..][..width * 4];
                for (inside, pixel) in inside[1..].iter_mut().zip(row.chunks_exact(4)) {
                    *inside = pixel[3] > 127;
                }
            }
            inside
        };
        let mut above = line(-1);
        (-1..height).flat_map(move |y| {
            let below = line(y + 1);
            let upper = std::mem::replace(&mut above, below.clone());
            let mixed = move |i: usize| {
                let corners = [upper[i], upper[i + 1], below[i], below[i + 1]];
                corners.contains(&true) && corners.contains(&false)
            };
            (0..=width).filter(move |i| mixed(*i)).map(move |i| (i as i32 - 1, y))
        })
    }
}

/// Steps that looking at a cell takes.
const STEPS_A_CELL: u64 = 4;

/// A side of the square between four pixels' centres.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
enum Side {
    Top,
    Right,
    Bottom,
    Left,
}

impl Side {
    /// Where alpha passes one half along this side of the square whose first corner is `x`, `y`.
    fn middle(self, x: i32, y: i32, alpha: impl Fn(i32, i32) -> f64) -> (f64, f64) {
        let pass = |a: f64, b: f64| if a == b { 0.5 } else { (a / (a - b)).clamp(0.0, 1.0) };
        match self {
            Self::Top => (pass(alpha(x, y), alpha(x + 1, y)), 0.0),
            Self::Right => (1.0, pass(alpha(x + 1, y), alpha(x + 1, y + 1))),
            Self::Bottom => (pass(alpha(x, y + 1), alpha(x + 1, y + 1)), 1.0),
            Self::Left => (0.0, pass(alpha(x, y), alpha(x, y + 1))),
        }
    }

    /// The square on the other side, and the side of it that is this one.
    fn into_neighbour(self, x: i32, y: i32) -> (i32, i32, Self) {
        match self {
            Self::Top => (x, y - 1, Self::Bottom),
            Self::Right => (x + 1, y, Self::Left),
            Self::Bottom => (x, y + 1, Self::Top),
            Self::Left => (x - 1, y, Self::Right),
        }
    }
}

/// The lines through a square, from side to side; the inside is always on the same hand.
fn crossings(corners: [f64; 4]) -> Vec<(Side, Side)> {
    use Side::{Bottom, Left, Right, Top};
    let inside = corners.map(|corner| corner > 0.0);
    let code = (0..4).filter(|i| inside[*i]).fold(0_u8, |code, i| code | 1 << i);
    // Two opposite corners are joined when the middle is inside.
    let joined = corners.iter().sum::<f64>() > 0.0;
    match code {
        0 | 15 => vec![],
        1 => vec![(Top, Left)],
        2 => vec![(Right, Top)],
        3 => vec![(Right, Left)],
        4 => vec![(Bottom, Right)],
        5 if joined => vec![(Top, Right), (Bottom, Left)],
        5 => vec![(Top, Left), (Bottom, Right)],
        6 => vec![(Bottom, Top)],
        7 => vec![(Bottom, Left)],
        8 => vec![(Left, Bottom)],
        9 => vec![(Top, Bottom)],
        10 if joined => vec![(Right, Bottom), (Left, Top)],
        10 => vec![(Right, Top), (Left, Bottom)],
        11 => vec![(Right, Bottom)],
        12 => vec![(Left, Right)],
        13 => vec![(Top, Right)],
        _ => vec![(Left, Top)],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::picture::Picture;
    use kurbo::Shape as _;

    /// A disc drawn by coverage, and two pixels that touch at a corner only.
    #[test]
    fn the_outline_of_a_disc_has_its_area() {
        let mut rgba = Vec::new();
        for y in 0..60 {
            for x in 0..60 {
                let distance = f64::hypot(f64::from(x) - 29.5, f64::from(y) - 29.5);
                rgba.extend([0, 0, 0, ((25.5 - distance).clamp(0.0, 1.0) * 255.0) as u8]);
            }
        }
        let picture = Picture { width: 60, height: 60, rgba };
        let cutout = AlphaShape { bitmap: Arc::new(Bitmap::new(picture)), width: 120.0, height: 60.0 };
        let area = cutout.outline().path.area().abs();
        assert!((area - 2.0 * std::f64::consts::PI * 625.0).abs() < 20.0, "{area}");
    }
}
