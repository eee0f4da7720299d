//! Knocking shadows out under their piece.

use std::ops::Range;

use super::solid::full_at_start;
use super::span::{PixelSpan, composite_colour};
use crate::blend::{BlendMode, Pixel};

/// How much of a shadow is visible at the pixels of a span.
pub(in crate::compose) struct Knockout<'a> {
    pub body: (usize, &'a [f32]),
    pub knock_out: bool,
    pub hides_below: bool,
}

impl<'a> Knockout<'a> {
    pub fn at(&self, x: usize) -> f32 {
        let inside = x.checked_sub(self.body.0).and_then(|i| self.body.1.get(i)).copied().unwrap_or(0.0);
        self.visible(inside)
    }

    fn visible(&self, inside: f32) -> f32 {
        // An opaque fill hides what is below it: only where it fills the whole pixel may the shadow be cut, or the
        // ground would shine through along the edge.
        if self.hides_below {
            if inside < 1.0 { 1.0 } else { 0.0 }
        } else if self.knock_out {
            1.0 - inside
        } else {
            1.0
        }
    }

    /// Composites a colour through coverage that starts at a pixel of the span.
    pub fn composite(
        &self,
        colour: Pixel,
        start: usize,
        coverage: &[f32],
        mode: BlendMode,
        span: &mut PixelSpan<'_>,
    ) {
        self.each(start, coverage.len(), |range, inside| {
            let coverage = &coverage[range.start - start..range.end - start];
            composite_outside(&mut span.pixels[range], colour, coverage, inside, mode);
        });
    }

    /// Calls `work` with the ranges of a span in which something is visible, and with the silhouette's coverage where that has
    /// to be taken off.
    pub fn each(&self, start: usize, length: usize, mut work: impl FnMut(Range<usize>, Option<&'a [f32]>)) {
        let end = start + length;
        if !self.knock_out && !self.hides_below {
            return work(start..end, None);
        }
        let (body, coverage) = (self.body.0.clamp(start, end), self.body.1);
        let past = (self.body.0 + coverage.len()).clamp(body, end);
        if start < body {
            work(start..body, None);
        }
        if body < past {
            let coverage = &coverage[body - self.body.0..past - self.body.0];
            if self.hides_below {
                // The row is hidden from the first full pixel to the next that is not.
                let mut at = 0;
                while at < coverage.len() {
                    let shown = coverage[at..].iter().take_while(|inside| **inside < 1.0).count();
                    if shown > 0 {
                        work(body + at..body + at + shown, None);
                    }
                    at += shown;
                    at += full_at_start(&coverage[at..]);
                }
            } else {
                work(body..past, Some(coverage));
            }
        }
        if past < end {
            work(past..end, None);
        }
    }
}

/// Composites a colour through coverage, outside a silhouette where there is one.
fn composite_outside(
    pixels: &mut [Pixel],
    colour: Pixel,
    coverage: &[f32],
    inside: Option<&[f32]>,
    mode: BlendMode,
) {
    match inside {
        None => composite_colour(pixels, colour, coverage, mode),
        Some(inside) => {
            let shown = coverage.iter().zip(inside).map(|(coverage, inside)| coverage * (1.0 - inside));
            composite_colour(pixels, colour, &shown.collect::<Vec<f32>>(), mode);
        }
    }
}
