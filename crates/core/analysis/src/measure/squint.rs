//! The squint: a scene blurred in linear light, as by a squinting, tired or distant eye.

use serde::{Deserialize, Serialize};

use super::contrast::luminances;
use crate::blur::gaussian;
use crate::colour::{channel_to_linear, linear_to_srgb};
use crate::compose::Canvas;
use crate::raster::{Mask, Rect};

/// From where a screen is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct ViewingConditions {
    /// From the screen, in cm.
    pub distance: f64,
    /// Pixels of CSS in an inch of the screen.
    pub px_per_inch: f64,
    /// The σ of the squint's blur, in degrees of visual angle.
    pub degrees: f64,
}

impl Default for ViewingConditions {
    /// 0.1° at 50 cm from a screen of 96 px in an inch (docs/rendering.md, "Derived numbers").
    fn default() -> Self {
        Self { distance: 50.0, px_per_inch: 96.0, degrees: 0.1 }
    }
}

impl ViewingConditions {
    /// The σ of the squint's Gaussian in CSS px.
    #[must_use]
    pub fn sigma(&self) -> f64 {
        let inches = self.distance.clamp(1.0, 1000.0) / 2.54;
        inches
            * self.px_per_inch.clamp(1.0, 1000.0)
            * crate::maths::tan(self.degrees.clamp(0.0, 10.0).to_radians())
    }
}

/// The picture as light mixed by a Gaussian of `sigma` pixels. At its sides the picture is mixed only with itself.
#[must_use]
pub fn squinted(canvas: &Canvas, sigma: f64) -> Canvas {
    if sigma <= 0.0 {
        return canvas.clone();
    }
    let through = |pixel: &[f32; 4], curve: fn([f32; 3]) -> [f32; 3]| {
        let [r, g, b, a] = *pixel;
        if a <= 0.0 {
            return [0.0, 0.0, 0.0, a];
        }
        let [r, g, b] = curve([r, g, b].map(|channel| (channel / a).clamp(0.0, 1.0)));
        [r * a, g * a, b * a, a]
    };
    let light = Canvas {
        pixels: canvas
            .pixels
            .iter()
            .map(|pixel| through(pixel, |channels| channels.map(channel_to_linear)))
            .collect(),
        ..*canvas
    };
    let mut mixed = light.blurred(sigma);
    for (pixel, before) in mixed.pixels.iter_mut().zip(&canvas.pixels) {
        // What the Gaussian finds outside is nothing, which is no black: alpha says how much was there.
        if pixel[3] > 0.0 {
            let share = before[3].max(pixel[3]) / pixel[3];
            *pixel = pixel.map(|part| part * share);
        }
        *pixel = through(pixel, linear_to_srgb);
    }
    mixed
}

/// The luminance of each pixel of a picture as [`squinted`] mixes it.
pub(super) fn squinted_luminance(canvas: &Canvas, sigma: f64) -> Vec<f64> {
    let rect = Rect::new(0, 0, canvas.width as i32, canvas.height as i32);
    let mixed = |data: Vec<f32>| gaussian(&Mask::new(rect, data), sigma, rect).into_values();
    let there: Vec<f32> = canvas.pixels.iter().map(|pixel| pixel[3]).collect();
    let light = luminances(&canvas.pixels).into_iter().zip(&there);
    let light = mixed(light.map(|(light, there)| light as f32 * there).collect());
    let share = |(light, there): (f32, f32)| if there > 0.0 { f64::from(light / there) } else { 0.0 };
    light.into_iter().zip(mixed(there)).map(share).collect()
}
