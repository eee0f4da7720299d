//! The rounded box of a picture that is most like an element: the one with an edge all around it.

use super::border;
use super::pixels::{Colour, Pixels, apart, median};
use super::place::{OutlinePlace, PlacedBox};
use super::steps::Steps;
use crate::parallel::parallel_map;

/// Lines that are tried for sides, along each axis.
const LINES: usize = 14;
/// Boxes whose sides are edges, of which the corners are looked at.
const BOXES: usize = 30;
/// The least side of an element, in px.
const LEAST_SIDE: f64 = 12.0;

/// The box with an edge all around it; nothing where a picture has none.
pub fn find(pixels: &Pixels) -> Option<PlacedBox> {
    let (across, down) = (Steps::across(pixels), Steps::down(pixels));
    let mut boxes = candidates(&across, &down);
    boxes.sort_by(|a, b| b.1.total_cmp(&a.1));
    boxes.truncate(BOXES);
    let scored = parallel_map(&boxes, |(place, _)| {
        let near = (-7..=7).map(|by| place.radius + 2.0 * f64::from(by));
        let near = near.filter(|radius| (0.0..=place.most_radius()).contains(radius));
        let place = best_radius(pixels, *place, near.chain([place.most_radius()]));
        (place, sides(&across, &down, &place) * evenness(pixels, &place).powi(4))
    });
    let best = scored.into_iter().max_by(|a, b| a.1.total_cmp(&b.1))?;
    Some(with_radius(pixels, best.0))
}

/// Boxes between the lines that are edges, each with its best radius of some, and how much its sides are edges.
fn candidates(across: &Steps, down: &Steps) -> Vec<(PlacedBox, f64)> {
    let pairs = |steps: &Steps| {
        let mut lines: Vec<f64> = steps.edges(LINES).into_iter().map(|line| line as f64).collect();
        lines.sort_by(f64::total_cmp);
        let all = lines.iter().flat_map(|from| lines.iter().map(move |to| (*from, *to)));
        all.filter(|(from, to)| to - from >= LEAST_SIDE).collect::<Vec<_>>()
    };
    let (columns, rows) = (pairs(across), pairs(down));
    let mut boxes = Vec::new();
    for (left, right) in columns {
        for (top, bottom) in &rows {
            let place = PlacedBox { left, top: *top, width: right - left, height: bottom - top, radius: 0.0 };
            let most = place.most_radius();
            let radii = [0.0, 3.0, 6.0, 10.0, 16.0, 24.0, 34.0, 48.0, 64.0, 80.0];
            let radii = radii.into_iter().filter(|radius| *radius < most).chain([most]);
            let best = radii
                .map(|radius| {
                    let place = PlacedBox { radius, ..place };
                    (place, sides(across, down, &place))
                })
                .max_by(|a, b| a.1.total_cmp(&b.1));
            boxes.extend(best);
        }
    }
    boxes
}

fn sides(across: &Steps, down: &Steps, place: &PlacedBox) -> f64 {
    let PlacedBox { left, top, radius, .. } = *place;
    let (right, bottom) = (place.right(), place.bottom());
    // A round end touches its line along some pixels.
    let touching = (2.0 * radius).sqrt().min(radius);
    let inset = radius - touching;
    let rows = (top + inset, bottom - inset);
    let columns = (left + inset, right - inset);
    across.energy(left, rows.0, rows.1)
        + across.energy(right, rows.0, rows.1)
        + down.energy(top, columns.0, columns.1)
        + down.energy(bottom, columns.0, columns.1)
}

/// The share of a box's outline that is an edge between the same colour inside and something else.
fn evenness(pixels: &Pixels, place: &PlacedBox) -> f64 {
    let outline = place.outline();
    let inside: Vec<Vec<Colour>> =
        outline.iter().map(|part| part.iter().map(|place| inward(pixels, place, 4.5)).collect()).collect();
    let Some(usual) = median(&inside.concat()) else { return 0.0 };
    let (mut good, mut all) = (0.0, 0.0);
    for (part, inside) in outline.iter().zip(&inside) {
        let steps: Vec<Colour> = part.iter().map(|place| step(pixels, place)).collect();
        let Some(mean) = median(&steps) else { continue };
        let length = dot(mean, mean).max(1e-9);
        let Some(own) = median(inside) else { continue };
        for (step, inside) in steps.iter().zip(inside) {
            let is_edge = dot(*step, mean) > 0.3 * length && length > FAINT * FAINT;
            // Along one side the inside is even; from side to side an inner shadow may change it.
            let is_even = apart(*inside, own) < 0.08 || apart(*inside, usual) < 0.08;
            good += f64::from(u8::from(is_edge && is_even));
        }
        all += steps.len() as f64;
    }
    good / f64::max(all, 1.0)
}

/// A step that is not seen.
const FAINT: f64 = 1.0 / 255.0;

fn dot(a: Colour, b: Colour) -> f64 {
    a.into_iter().zip(b).map(|(a, b)| a * b).sum()
}

fn inward(pixels: &Pixels, place: &OutlinePlace, by: f64) -> Colour {
    let (x, y) = place.outward(-by);
    pixels.between(x, y)
}

/// From the outside in, less what goes on outside anyway.
fn step(pixels: &Pixels, place: &OutlinePlace) -> Colour {
    let at = |by: f64| {
        let (x, y) = place.outward(by);
        pixels.between(x, y)
    };
    let reach = if place.out.0 == 0.0 || place.out.1 == 0.0 { 0.5 } else { 1.0 };
    let (inside, near, far) = (at(-reach), at(reach), at(reach + 1.0));
    std::array::from_fn(|channel| inside[channel] - near[channel] - (near[channel] - far[channel]))
}

/// The most pixels of a border that may lie outside the line that was found, in CSS px.
const BORDER: usize = 4;

/// The box around another whose edge is that of a border, of which the other is the inside, on all sides or on some. Where it
/// is one pixel wide, a shadow of little blur may look like it.
pub fn bordered(pixels: &Pixels, place: PlacedBox, density: f64) -> Option<PlacedBox> {
    let step = density.round().max(1.0) as usize;
    let grown = (1..=BORDER).rev().filter_map(|width| {
        let by = (width * step) as f64;
        let sides = place.grown(by).outline();
        let moves: [bool; 4] = std::array::from_fn(|side| is_edge(pixels, &sides[side], by as usize));
        let count = moves.iter().filter(|moves| **moves).count();
        let all = sides[..4].iter().filter(|side| side.len() > LEAST_LINE).count();
        (count > 0).then(|| {
            // One that is round all along goes with the others.
            let moves =
                std::array::from_fn(|side| moves[side] || (sides[side].len() <= LEAST_LINE && count == all));
            with_radius_near(pixels, moved(place, moves, by))
        })
    });
    let is_border = |grown: &PlacedBox| {
        let border = border::find(pixels, grown, density);
        border.is_some_and(|found| {
            let moved = (place.left - grown.left).max(place.top - grown.top);
            let moved = moved.max(grown.right() - place.right()).max(grown.bottom() - place.bottom());
            found.width == moved && is_one_colour(pixels, grown, moved)
        })
    };
    let mut grown = grown;
    grown.find(is_border)
}

/// Whether a ring inside a box's edge has one colour on all sides: a border covers the shadows under it, a shadow does not.
fn is_one_colour(pixels: &Pixels, place: &PlacedBox, width: f64) -> bool {
    let sides = place.outline();
    let long = sides[..4].iter().filter(|side| side.len() > LEAST_LINE);
    let of_side = |side: &Vec<OutlinePlace>| {
        let colours: Vec<Colour> = side.iter().map(|place| inward(pixels, place, width / 2.0)).collect();
        median(&colours).unwrap_or_default()
    };
    let colours: Vec<Colour> = long.map(of_side).collect();
    colours.iter().all(|colour| apart(*colour, colours[0]) <= 2.0 * pixels.noise())
}

/// Sides with fewer places tell nothing.
const LEAST_LINE: usize = 8;

/// A box with some of its sides, top, bottom, left and right, moved outward.
fn moved(place: PlacedBox, moves: [bool; 4], by: f64) -> PlacedBox {
    let [top, bottom, left, right] = moves.map(|moves| if moves { by } else { 0.0 });
    let radius = if place.radius > 0.0 { place.radius + by } else { 0.0 };
    let (width, height) = (place.width + left + right, place.height + top + bottom);
    let radius = radius.min(width / 2.0).min(height / 2.0);
    PlacedBox { left: place.left - left, top: place.top - top, width, height, radius }
}

/// Whether a side is a step, what is outside of it is smooth, and what is inside is even as far as a border of `width`.
fn is_edge(pixels: &Pixels, side: &[OutlinePlace], width: usize) -> bool {
    let at = |depth: f64| -> Colour {
        let colours: Vec<Colour> = side.iter().map(|place| inward(pixels, place, depth)).collect();
        median(&colours).unwrap_or_default()
    };
    let (inside, near, far) = (at(0.5), at(-0.5), at(-1.5));
    let step = apart(inside, near);
    let noise = pixels.noise();
    let is_even = (1..width).all(|depth| apart(at(depth as f64 + 0.5), inside) < (step / 4.0).max(noise));
    let is_smooth = apart(near, far) < 0.45 * step + noise - FAINT;
    side.len() > LEAST_LINE && step > 0.6 * FAINT + noise && is_smooth && is_even
}

/// Half pixels of radius that are tried.
const STEP: f64 = 0.5;

/// The radius at which a box's corners are most an edge.
fn with_radius(pixels: &Pixels, place: PlacedBox) -> PlacedBox {
    let most = place.most_radius();
    let count = (most / STEP) as usize;
    let radii = (0..=count).map(|number| number as f64 * STEP);
    best_radius(pixels, place, radii)
}

fn with_radius_near(pixels: &Pixels, place: PlacedBox) -> PlacedBox {
    let radii = [-2.0, -1.0, 0.0, 1.0, 2.0].map(|by| (place.radius + by).clamp(0.0, place.most_radius()));
    best_radius(pixels, place, radii.into_iter())
}

fn best_radius(pixels: &Pixels, place: PlacedBox, radii: impl Iterator<Item = f64>) -> PlacedBox {
    let energy = |place: &PlacedBox| -> f64 {
        let of_part = |part: &Vec<OutlinePlace>| {
            let mut sum = [0.0; 3];
            for place in part {
                let step = step(pixels, place);
                sum.iter_mut().zip(step).for_each(|(sum, step)| *sum += step);
            }
            dot(sum, sum) / part.len().max(1) as f64
        };
        place.outline().iter().map(of_part).sum()
    };
    let scored = radii.map(|radius| PlacedBox { radius, ..place }).map(|place| (place, energy(&place)));
    scored.max_by(|a, b| a.1.total_cmp(&b.1)).map_or(place, |best| best.0)
}
