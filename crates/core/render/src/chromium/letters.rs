//! How strong Chromium's rasteriser draws letters: their coverage depends on the lightness of their colour, so that light
//! text on dark ground looks as heavy as dark text on light ground (measured in Chromium 156).

use crate::blend::in_255ths;
use crate::colour::Rgba;
use crate::raster::Mask;

/// Of the screen that is assumed.
const GAMMA: f32 = 1.2;
/// How much coverage is raised for black.
const CONTRAST: f32 = 0.2;

/// The lightness of letters, quantised to eight levels.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(super) struct Lightness(pub u8);

impl Lightness {
    /// That of a colour, whatever its alpha.
    pub fn from_colour(colour: Rgba) -> Self {
        let linear = |part: f32| crate::maths::powf32(part.clamp(0.0, 1.0), GAMMA);
        let luminance = 0.2126 * linear(colour.r) + 0.7152 * linear(colour.g) + 0.0722 * linear(colour.b);
        Self((crate::maths::powf32(luminance, 1.0 / GAMMA) * 255.0).round() as u8 >> 5)
    }

    /// Makes coverage that of letters of this lightness.
    pub fn apply(self, mask: &mut Mask) {
        let table: Vec<f32> = (0..=255_u16).map(|i| self.strength(f32::from(i) / 255.0)).collect();
        for value in mask.values_mut() {
            *value = table[in_255ths(*value) as usize];
        }
    }

    /// Assumes that the ground is as dark as the letters are light, and mixes both in linear light.
    fn strength(self, coverage: f32) -> f32 {
        let light = f32::from(self.0) / 7.0;
        let below = 1.0 - light;
        let (linear_light, linear_below) =
            (crate::maths::powf32(light, GAMMA), crate::maths::powf32(below, GAMMA));
        let raised = coverage + (1.0 - coverage) * CONTRAST * linear_below * coverage;
        let mixed = crate::maths::powf32(linear_light * raised + (1.0 - raised) * linear_below, 1.0 / GAMMA);
        (((mixed - below) / (light - below)) * 255.0).round() / 255.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Pixels of letters as Chromium 156 drew them in black, white and mid grey.
    #[test]
    fn letters_are_as_strong_as_chromium_draws_them() {
        let at = |grey: f32, coverage: f32| {
            let colour = Rgba { r: grey, g: grey, b: grey, a: 1.0 };
            Lightness::from_colour(colour).strength(coverage) * 255.0
        };
        for (black, white, grey) in
            [(11.0, 18.0, 12.0), (64.0, 80.0, 68.0), (125.0, 143.0, 134.0), (239.0, 245.0, 243.0)]
        {
            // White letters tell the coverage they were made of.
            let coverage = crate::maths::powf32(white / 255.0_f32, GAMMA);
            let drawn = [at(0.0, coverage), at(1.0, coverage), at(0.5, coverage)];
            let close = drawn.iter().zip([black, white, grey]).all(|(a, b)| (a - b).abs() <= 2.0);
            assert!(close, "{drawn:?} for {black} {white} {grey}");
        }
    }
}
