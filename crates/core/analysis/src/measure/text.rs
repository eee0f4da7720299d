//! Text against the pixels really behind it, in its worst region (WCAG 2.2, SC 1.4.3).

use kurbo::Rect;
use serde::Serialize;

use super::contrast::{LightMeter, contrast};
use crate::compose::{Canvas, Viewport};

/// The contrast of text in one region.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TextContrast {
    /// The lowest contrast of a region as wide and tall as a letter.
    pub contrast: f64,
    /// That region's left, top, width and height on the scene, in px.
    pub place: [f64; 4],
    /// The mean luminance behind the letters there.
    pub behind: f64,
    /// The mean luminance of the letters there.
    pub letters: f64,
}

/// The colour of letters where they fill at least half a pixel, transparent elsewhere: `shown` is the picture with the
/// text, `behind` the same without its letters, `mask` white letters on nothing. What is mixed in along the edges is
/// taken out again.
#[must_use]
pub fn glyph_colours(shown: &Canvas, behind: &Canvas, mask: &Canvas) -> Canvas {
    let mut letters = Canvas::new(shown.width, shown.height);
    let pixels = shown.pixels.iter().zip(&behind.pixels).zip(&mask.pixels);
    for (letter, ((shown, behind), mask)) in letters.pixels.iter_mut().zip(pixels) {
        let covered = mask[3];
        if covered >= 0.5 {
            let alone: [f32; 4] = std::array::from_fn(|i| (shown[i] - behind[i] * (1.0 - covered)) / covered);
            *letter = alone.map(|part| part.clamp(0.0, 1.0));
        }
    }
    letters
}

/// Compares letters, transparent where there are none, with the picture behind them; `size` is the side of a region in
/// px.
#[must_use]
pub fn text_contrast(
    letters: &Canvas,
    behind: &Canvas,
    viewport: &Viewport,
    size: f64,
) -> Option<TextContrast> {
    let side = (size * viewport.scale).round().max(4.0) as i64;
    let (width, height) = (i64::from(letters.width), i64::from(letters.height));
    let lights = Lights { width: letters.width as usize, pairs: lights(letters, behind) };
    let mut worst: Option<TextContrast> = None;
    let mut top = 0;
    while top < height {
        let mut left = 0;
        while left < width {
            let region = (left, top, (left + side).min(width), (top + side).min(height));
            if let Some(found) = region_contrast(&lights, region, viewport)
                && worst.is_none_or(|worst| found.contrast < worst.contrast)
            {
                worst = Some(found);
            }
            left += (side / 2).max(1);
        }
        top += (side / 2).max(1);
    }
    worst
}

/// For each pixel, row by row, the luminance of the letter and of the picture behind it; nothing where there is no
/// letter.
struct Lights {
    width: usize,
    pairs: Vec<Option<(f64, f64)>>,
}

fn lights(letters: &Canvas, behind: &Canvas) -> Vec<Option<(f64, f64)>> {
    let (mut of_letters, mut of_behind) = (LightMeter::default(), LightMeter::default());
    let pairs = letters.pixels.iter().zip(&behind.pixels);
    let measured = pairs.map(|(letter, behind)| {
        (letter[3] > 0.0).then(|| (of_letters.luminance(letter), of_behind.luminance(behind)))
    });
    measured.collect()
}

/// `None` where the region contains too little of a letter to measure.
fn region_contrast(
    lights: &Lights,
    (left, top, right, bottom): (i64, i64, i64, i64),
    viewport: &Viewport,
) -> Option<TextContrast> {
    let (mut own, mut ground, mut weight) = (0.0, 0.0, 0.0);
    for row in (top..bottom).map(|y| y as usize * lights.width) {
        let row = lights.pairs.get(row + left as usize..row + right as usize).unwrap_or_default();
        for (letter, behind) in row.iter().flatten() {
            own += letter;
            ground += behind;
            weight += 1.0;
        }
    }
    if weight < 12.0 * viewport.scale * viewport.scale {
        return None;
    }
    let (letters, behind) = (own / weight, ground / weight);
    let place = Rect::new(left as f64, top as f64, right as f64, bottom as f64);
    let scaled = |length: f64| length / viewport.scale;
    Some(TextContrast {
        contrast: contrast(letters, behind),
        place: [
            viewport.x + scaled(place.x0),
            viewport.y + scaled(place.y0),
            scaled(place.width()),
            scaled(place.height()),
        ],
        behind,
        letters,
    })
}
