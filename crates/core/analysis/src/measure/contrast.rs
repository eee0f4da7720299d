//! Relative luminance and contrast (WCAG 2.2, "relative luminance" and "contrast ratio").

use crate::blend::Pixel;
use crate::colour::{Rgba, channel_to_linear, srgb_to_linear};

/// How much light a colour without its alpha gives, from 0 (black) to 1 (white).
#[must_use]
pub fn luminance(colour: Rgba) -> f64 {
    weighted(srgb_to_linear([colour.r, colour.g, colour.b]))
}

/// As [`luminance`] of premultiplied pixels, for pictures of many: within 1/100 000 of it.
pub(super) fn luminances(pixels: &[Pixel]) -> Vec<f64> {
    let mut meter = LightMeter::default();
    pixels.iter().map(|pixel| meter.luminance(pixel)).collect()
}

/// Measures pixels one after the other. Neighbours often have the same colour, which is measured once.
#[derive(Default)]
pub(super) struct LightMeter {
    last: (Pixel, f64),
}

impl LightMeter {
    /// As [`luminance`] of a premultiplied pixel, within 1/100 000 of it.
    pub fn luminance(&mut self, pixel: &Pixel) -> f64 {
        if *pixel != self.last.0 {
            self.last = (*pixel, pixel_luminance(pixel));
        }
        self.last.1
    }
}

fn pixel_luminance([r, g, b, a]: &Pixel) -> f64 {
    let share = if *a > 0.0 { 1.0 / a } else { 0.0 };
    weighted([r, g, b].map(|part| channel_to_linear(part * share)))
}

fn weighted(light: [f32; 3]) -> f64 {
    let [r, g, b] = light.map(f64::from);
    0.2126 * r + 0.7152 * g + 0.0722 * b
}

/// The contrast ratio of two luminances, from 1 to 21.
#[must_use]
pub fn contrast(a: f64, b: f64) -> f64 {
    (a.max(b) + 0.05) / (a.min(b) + 0.05)
}

/// Contrast that parts of an interface need (SC 1.4.11), and large text (SC 1.4.3).
pub const FOR_PARTS: f64 = 3.0;
/// Contrast that text needs (SC 1.4.3).
const FOR_TEXT: f64 = 4.5;

/// The contrast that text of a size in px and a weight needs: large text is 18 pt, or 14 pt bold, at 4/3 px a pt.
#[must_use]
pub fn for_text(size: f64, weight: f64) -> f64 {
    let large = size >= 24.0 || (size >= 18.66 && weight >= 700.0);
    if large { FOR_PARTS } else { FOR_TEXT }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::parse_css_colour;

    fn ratio(a: &str, b: &str) -> f64 {
        let [a, b] = [a, b].map(|text| luminance(parse_css_colour(text).unwrap()));
        contrast(a, b)
    }

    /// WCAG 2.2, "contrast ratio": black on white is 21:1. Understanding SC 1.4.3 gives #777777 on white as 4.47:1 and
    /// says that it fails.
    #[test]
    fn worked_values() {
        assert!((ratio("#000", "#fff") - 21.0).abs() < 1e-6);
        assert!((ratio("#777777", "#ffffff") - 4.478).abs() < 0.001);
        let passes = |grey: &u8| ratio(&format!("#{grey:02x}{grey:02x}{grey:02x}"), "#fff") >= 4.5;
        assert_eq!((0..=255).rfind(passes), Some(0x76));
        for step in 0..=1000 {
            let grey = step as f32 / 1000.0;
            let colour = Rgba::new(grey, 1.0 - grey, grey * grey, 1.0);
            assert!(
                (luminance(colour) - pixel_luminance(&colour.premultiplied())).abs() < 1e-5,
                "{colour:?}"
            );
        }
        // WCAG 2.2, "relative luminance": the weights of red, green and blue.
        for (colour, expected) in [("#f00", 0.2126), ("#0f0", 0.7152), ("#00f", 0.0722)] {
            assert!((luminance(parse_css_colour(colour).unwrap()) - expected).abs() < 1e-6);
        }
    }

    #[test]
    fn large_text_needs_less() {
        assert_eq!((for_text(16.0, 400.0), for_text(24.0, 300.0), for_text(19.0, 700.0)), (4.5, 3.0, 3.0));
    }
}
