//! The pixels of a picture as numbers, and smooth colours across them.

use crate::colour::Rgba;
use crate::picture::Picture;

/// Red, green and blue from 0 to 1, as they are encoded.
pub type Colour = [f64; 3];

/// An opaque picture.
pub struct Pixels {
    pub width: usize,
    pub height: usize,
    all: Vec<Colour>,
    noise: f64,
}

impl Pixels {
    /// A picture over white, where it lets something through.
    pub fn new(picture: &Picture, is_noisy: bool) -> Self {
        let of = |[r, g, b, a]: &[u8; 4]| {
            let alpha = f64::from(*a) / 255.0;
            [*r, *g, *b].map(|channel| f64::from(channel) / 255.0 * alpha + 1.0 - alpha)
        };
        let (all, _) = picture.rgba.as_chunks::<4>();
        let (width, height) = (picture.width as usize, picture.height as usize);
        let noise = if is_noisy { 3.0 / 255.0 } else { 1.0 / 255.0 };
        Self { width, height, all: all.iter().map(of).collect(), noise }
    }

    /// What is no difference, in the middle of many pixels: more where a picture was compressed.
    pub fn noise(&self) -> f64 {
        self.noise
    }

    /// As edges are looked for: where compression keeps colours coarser than lightness, by the lightness alone.
    pub fn for_edges(&self) -> Self {
        let of = |colour: &Colour| if self.is_noisy() { [lightness(*colour); 3] } else { *colour };
        Self { all: self.all.iter().map(of).collect(), ..*self }
    }

    /// Whether it was compressed.
    pub fn is_noisy(&self) -> bool {
        self.noise > 2.0 / 255.0
    }

    /// A pixel; past the picture's edge the nearest one.
    pub fn at(&self, x: i64, y: i64) -> Colour {
        let x = x.clamp(0, self.width as i64 - 1) as usize;
        let y = y.clamp(0, self.height as i64 - 1) as usize;
        self.all[y * self.width + x]
    }

    /// The colour at a place between the middles of pixels.
    pub fn between(&self, x: f64, y: f64) -> Colour {
        let (x, y) = (x - 0.5, y - 0.5);
        let (left, top) = (x.floor(), y.floor());
        let (right, under) = (x - left, y - top);
        let (left, top) = (left as i64, top as i64);
        let mix =
            |a: Colour, b: Colour, share: f64| std::array::from_fn(|at| a[at] + share * (b[at] - a[at]));
        let over = mix(self.at(left, top), self.at(left + 1, top), right);
        let below = mix(self.at(left, top + 1), self.at(left + 1, top + 1), right);
        mix(over, below, under)
    }
}

/// A colour at a place, x and y, and how much it counts.
pub type Sample = (f64, f64, Colour, f64);

/// A colour that is the same everywhere, or changes evenly.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Smooth {
    /// In the picture's corner.
    pub at_corner: Colour,
    /// How it changes for each pixel to the right, and for each down.
    pub slope: [Colour; 2],
}

impl Smooth {
    /// One colour.
    pub fn flat(colour: Colour) -> Self {
        Self { at_corner: colour, slope: [[0.0; 3]; 2] }
    }

    /// With the nearest colour of 8 bits in the corner.
    pub fn in_8_bits(&self) -> Self {
        Self { at_corner: self.at_corner.map(|channel| (channel * 255.0).round() / 255.0), ..*self }
    }

    /// The colour at a place.
    pub fn at(&self, x: f64, y: f64) -> Colour {
        let [across, down] = self.slope;
        std::array::from_fn(|at| self.at_corner[at] + across[at] * x + down[at] * y)
    }

    /// The one nearest to these colours, where the last number says how much each counts; one colour where `is_flat`.
    pub fn fit(samples: &[Sample], is_flat: bool) -> Option<Self> {
        let weight: f64 = samples.iter().map(|sample| sample.3).sum();
        if weight <= 0.0 {
            return None;
        }
        let mean = |of: &dyn Fn(&Sample) -> f64| {
            samples.iter().map(|sample| sample.3 * of(sample)).sum::<f64>() / weight
        };
        let (x, y) = (mean(&|sample| sample.0), mean(&|sample| sample.1));
        let colour: Colour = std::array::from_fn(|at| mean(&|sample| sample.2[at]));
        let xx = mean(&|sample| (sample.0 - x).powi(2));
        let yy = mean(&|sample| (sample.1 - y).powi(2));
        let xy = mean(&|sample| (sample.0 - x) * (sample.1 - y));
        let whole = xx * yy - xy * xy;
        if is_flat || whole <= 1e-9 {
            return Some(Self::flat(colour));
        }
        let mut slope = [[0.0; 3]; 2];
        for at in 0..3 {
            let by_x = mean(&|sample| (sample.0 - x) * (sample.2[at] - colour[at]));
            let by_y = mean(&|sample| (sample.1 - y) * (sample.2[at] - colour[at]));
            slope[0][at] = (by_x * yy - by_y * xy) / whole;
            slope[1][at] = (by_y * xx - by_x * xy) / whole;
        }
        let at_corner = std::array::from_fn(|at| colour[at] - slope[0][at] * x - slope[1][at] * y);
        Some(Self { at_corner, slope })
    }
}

/// A colour of 8 bits that hides everything.
pub fn rgba(colour: Colour) -> Rgba {
    let [r, g, b] = colour.map(|channel| ((channel * 255.0).round() / 255.0).clamp(0.0, 1.0) as f32);
    Rgba::new(r, g, b, 1.0)
}

/// The lightness of a colour as JPEG keeps it (JFIF 1.02, "Conversion to and from RGB", after ITU-R BT.601).
pub fn lightness([r, g, b]: Colour) -> f64 {
    0.299 * r + 0.587 * g + 0.114 * b
}

/// The middle of the colours, channel by channel; nothing of none.
pub fn median(colours: &[Colour]) -> Option<Colour> {
    if colours.is_empty() {
        return None;
    }
    Some(std::array::from_fn(|at| {
        let mut channel: Vec<f64> = colours.iter().map(|colour| colour[at]).collect();
        channel.sort_by(f64::total_cmp);
        channel[channel.len() / 2]
    }))
}

/// The greatest difference of a channel.
pub fn apart(a: Colour, b: Colour) -> f64 {
    a.into_iter().zip(b).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max)
}
