//! The colour of solid thickness, from near to far.

use kurbo::Vec2;

use super::coverage::Placed;
use super::tile::Tile;
use crate::colour::{Rgba, mix_oklab};
use crate::raster::Rect;

/// Colours between near and far that are told apart.
const SHADES: usize = 256;

/// The sweep's coverage in the colours of how far each pixel lies from the piece, along the sweep.
pub(super) fn coloured(sweep: &Placed, piece: &Placed, by: Vec2, (near, far): (Rgba, Rgba)) -> Tile {
    let shades: Vec<_> =
        (0..=SHADES).map(|i| mix_oklab(near, far, i as f32 / SHADES as f32).premultiplied()).collect();
    let mut tile = Tile::empty(sweep.rect());
    let rect = tile.rect;
    let grid = rect.around_both(piece.rect());
    let depth = depths(grid, piece, by);
    tile.each_row(|y, row| {
        let (_, coverage) = sweep.row(y);
        let line = &depth[(y - grid.y0) as usize * grid.width() + (rect.x0 - grid.x0) as usize..];
        for ((pixel, coverage), depth) in row.iter_mut().zip(coverage).zip(line) {
            let shade = shades[(depth.clamp(0.0, 1.0) * SHADES as f32 + 0.5) as usize];
            *pixel = shade.map(|part| part * coverage);
        }
    });
    tile
}

/// How far back along the sweep the piece is, for each pixel of a rectangle: 0 at the piece, 1 at the end.
///
/// Pixels are visited in the sweep's direction, a line across it at a time; each looks one step back, between the two
/// pixels it finds there.
fn depths(rect: Rect, piece: &Placed, by: Vec2) -> Vec<f32> {
    let (width, height) = (rect.width(), rect.height());
    let across = by.x.abs() >= by.y.abs();
    let major = if across { by.x } else { by.y };
    let step = (1.0 / major.abs().max(1e-9)) as f32;
    let slope = (if across { by.y } else { by.x }) / major.abs().max(1e-9);
    let (lines, length) = if across { (width, height) } else { (height, width) };
    let index = |line: usize, at: usize| if across { at * width + line } else { line * width + at };
    let mut depth = vec![f32::INFINITY; width * height];
    for n in 0..lines {
        let line = if major > 0.0 { n } else { lines - 1 - n };
        let back =
            if major > 0.0 { line.checked_sub(1) } else { Some(line + 1).filter(|back| *back < lines) };
        for at in 0..length {
            let i = index(line, at);
            let (x, y) = (rect.x0 + (i % width) as i32, rect.y0 + (i / width) as i32);
            if piece.coverage(x, y) >= 0.5 {
                depth[i] = 0.0;
                continue;
            }
            let from = at as f64 - slope;
            let (low, share) = (from.floor(), (from - from.floor()) as f32);
            let read = |place: f64| {
                let inside = place >= 0.0 && place < length as f64;
                back.filter(|_| inside).map_or(f32::INFINITY, |back| depth[index(back, place as usize)])
            };
            let (a, b) = (read(low), read(low + 1.0));
            let before = match (a.is_finite(), b.is_finite()) {
                (true, true) => a + (b - a) * share,
                (true, false) => a,
                (false, _) => b,
            };
            depth[i] = before + step;
        }
    }
    // An edge pixel that is covered by less than half is as far as the pixels it belongs to.
    depth.iter_mut().filter(|depth| !depth.is_finite()).for_each(|depth| *depth = 0.0);
    depth
}
