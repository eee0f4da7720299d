//! A few pixels of a picture, such as those along an edge, painted without the rest of it.

use super::cache::MaskCache;
use super::context::RenderContext;
use super::cost;
use super::layers::layer::PieceLayers;
use super::paint::piece::PiecePainter;
use super::paint::scene::has_backdrop;
use super::viewport::{RenderOptions, Viewport};
use crate::blend::Pixel;
use crate::budget;
use crate::raster::RowStart;
use crate::resolve::Piece;

/// Which pixels of a view.
#[derive(Debug, Clone, PartialEq)]
pub struct Strip {
    viewport: Viewport,
    runs: Vec<Span>,
    length: usize,
}

/// Pixels next to one another in a row.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Span {
    y: u32,
    x: u32,
    length: usize,
}

/// Pixels between two spans of a row: painting this few is faster than beginning another span.
const GAP: usize = 4;

impl Strip {
    /// The pixels at some places of a view, as x and y, which lie in it. Also answers where each of them is in the
    /// strip's list of pixels.
    #[must_use]
    pub fn through(viewport: Viewport, places: &[(u32, u32)]) -> (Self, Vec<u32>) {
        let width = viewport.width as usize;
        let at = |(x, y): &(u32, u32)| *y as usize * width + *x as usize;
        // First whether a pixel is wanted, then its number in the list.
        let mut number = vec![0_u32; width * viewport.height as usize];
        places.iter().for_each(|place| number[at(place)] = 1);
        let (mut runs, mut length) = (Vec::new(), 0);
        for (y, row) in number.chunks_mut(width.max(1)).enumerate() {
            let wanted: Vec<usize> = (0..row.len()).filter(|x| row[*x] > 0).collect();
            for together in wanted.chunk_by(|a, b| b - a <= GAP) {
                let (Some(first), Some(last)) = (together.first(), together.last()) else { continue };
                for (i, number) in row[*first..=*last].iter_mut().enumerate() {
                    *number = (length + i) as u32;
                }
                let span = Span { y: y as u32, x: *first as u32, length: last - first + 1 };
                length += span.length;
                runs.push(span);
            }
        }
        let numbers = places.iter().map(|place| number[at(place)]).collect();
        (Self { viewport, runs, length }, numbers)
    }

    /// Picks the values at its pixels from a list with a value for each pixel of the viewport, row by row.
    #[must_use]
    pub fn crop<T: Copy>(&self, picture: &[T]) -> Vec<T> {
        let mut found = Vec::with_capacity(self.length);
        for run in &self.runs {
            let start = run.y as usize * self.viewport.width as usize + run.x as usize;
            found.extend_from_slice(picture.get(start..start + run.length).unwrap_or_default());
        }
        found
    }

    /// Its pixels with one piece drawn onto those `below` it. `None` for a piece with a backdrop blur, which samples more than
    /// the strip.
    #[must_use]
    pub fn with(&self, piece: &Piece, below: &[Pixel], cache: &MaskCache) -> Option<Vec<Pixel>> {
        if has_backdrop(piece) {
            return None;
        }
        if below.len() != self.length {
            return Some(below.to_vec());
        }
        let (options, viewport) = (RenderOptions::default(), &self.viewport);
        let context = RenderContext {
            options: &options,
            cache,
            window: viewport.window(),
            scale: viewport.scale,
            to_device: viewport.transform(),
        };
        if !budget::spend(cost::pieces_cost([piece], viewport.whole_part(), &options).steps) {
            return Some(below.to_vec());
        }
        let layers = PieceLayers::unpainted(piece, &context);
        let painter = PiecePainter::new(piece, &layers, options.mode);
        let mut pixels = below.to_vec();
        let mut rest = pixels.as_mut_slice();
        for run in &self.runs {
            let (span, after) = rest.split_at_mut(run.length);
            painter.paint(&[], RowStart { y: run.y as i32, x0: run.x as i32 }, span);
            rest = after;
        }
        Some(pixels)
    }
}
