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

/// The boxes with an edge all around them, the likeliest first; others only where they are nearly as likely.
pub fn find(pixels: &Pixels) -> Vec<PlacedBox> {
    let (across, down) = (Steps::across(pixels), Steps::down(pixels));
    let mut boxes = candidates(&across, &down);
    boxes.sort_by(|a, b| b.1.total_cmp(&a.1));
    boxes.truncate(BOXES);
    let near = |place: &PlacedBox| {
        let (place, most) = (*place, place.most_radius());
        let near = (-7..=7).map(move |by| place.radius + 2.0 * f64::from(by));
        near.filter(move |radius| (0.0..=most).contains(radius)).chain([most])
    };
    let score = |place: PlacedBox| (place, sides(&across, &down, &place) * evenness(pixels, &place).powi(4));
    let mut scored = parallel_map(&boxes, |(place, _)| score(best_radius(pixels, *place, near(place))));
    scored.sort_by(|a, b| b.1.total_cmp(&a.1));
    scored.truncate(LIKELY);
    let mut closely = parallel_map(&scored, |(place, _)| {
        let radii = near(place).map(|radius| scored_closely(pixels, PlacedBox { radius, ..*place }));
        score(best_of(radii).map_or(*place, |best| best.0))
    });
    closely.sort_by(|a, b| b.1.total_cmp(&a.1));
    let Some(&(best, most)) = closely.first() else { return Vec::new() };
    let others = closely[1..].iter().filter(|(_, score)| *score > OTHER * most).map(|(place, _)| *place);
    let mut found = vec![best];
    found.extend(others.filter(|place| is_elsewhere(place, &best)).take(2));
    found.into_iter().map(|place| with_radius(pixels, place)).collect()
}

/// Boxes that are looked at closely, and the share of the best one's likeliness from which another may be it.
const LIKELY: usize = 8;
const OTHER: f64 = 0.7;

/// Whether a side lies farther away than a border is wide.
fn is_elsewhere(place: &PlacedBox, other: &PlacedBox) -> bool {
    let sides = [
        place.left - other.left,
        place.top - other.top,
        place.right() - other.right(),
        place.bottom() - other.bottom(),
    ];
    sides.into_iter().any(|by| by.abs() > 2.0 * BORDER as f64)
}

/// How much all of a box's outline is an even edge.
fn scored_closely(pixels: &Pixels, place: PlacedBox) -> (PlacedBox, f64) {
    (place, edge_energy(pixels, &place) * evenness(pixels, &place).powi(4))
}

fn best_of(all: impl Iterator<Item = (PlacedBox, f64)>) -> Option<(PlacedBox, f64)> {
    all.max_by(|a, b| a.1.total_cmp(&b.1))
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
            let is_edge = dot(*step, mean) > 0.3 * length && length > EDGE * EDGE;
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

/// The least step of an edge: slopes of shadows have less.
const EDGE: f64 = 2.0 / 255.0;

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

/// The radius at which a box's corners are most an edge, and evenly so.
fn with_radius(pixels: &Pixels, place: PlacedBox) -> PlacedBox {
    let most = place.most_radius();
    let radii: Vec<f64> = (0..=(most / STEP) as usize).map(|number| number as f64 * STEP).collect();
    let scored =
        parallel_map(&radii, |radius| scored_closely(pixels, PlacedBox { radius: *radius, ..place }));
    best_of(scored.into_iter()).map_or(place, |best| best.0)
}

fn with_radius_near(pixels: &Pixels, place: PlacedBox) -> PlacedBox {
    let radii = [-2.0, -1.0, 0.0, 1.0, 2.0].map(|by| (place.radius + by).clamp(0.0, place.most_radius()));
    best_radius(pixels, place, radii.into_iter())
}

fn best_radius(pixels: &Pixels, place: PlacedBox, radii: impl Iterator<Item = f64>) -> PlacedBox {
    let scored =
        radii.map(|radius| PlacedBox { radius, ..place }).map(|place| (place, edge_energy(pixels, &place)));
    best_of(scored).map_or(place, |best| best.0)
}

/// How much a box's outline is an edge.
fn edge_energy(pixels: &Pixels, place: &PlacedBox) -> f64 {
    let of_part = |part: &Vec<OutlinePlace>| {
        let mut sum = [0.0; 3];
        for place in part {
            let step = step(pixels, place);
            sum.iter_mut().zip(step).for_each(|(sum, step)| *sum += step);
        }
        dot(sum, sum) / part.len().max(1) as f64
    };
    place.outline().iter().map(of_part).sum()
}

/// The box whose border is a ring of one colour, of which another box's sides are the inner edge on some sides and the outer one on
/// the others: where a border has the colour of the shadow beside it, only its inner edge is seen.
pub fn ringed(pixels: &Pixels, place: PlacedBox, density: f64) -> Option<PlacedBox> {
    let step = density.round().max(1.0) as usize;
    let widths = (1..=BORDER).rev().map(|width| width * step);
    let mut found = widths.filter_map(|width| ring(pixels, &place, width));
    found.next()
}

fn ring(pixels: &Pixels, place: &PlacedBox, width: usize) -> Option<PlacedBox> {
    let sides = place.outline();
    let long: Vec<usize> = (0..4).filter(|side| sides[*side].len() > LEAST_LINE).collect();
    let noise = 2.0 * pixels.noise();
    let at = |side: usize, depth: f64| -> Colour {
        let colours: Vec<Colour> = sides[side].iter().map(|place| inward(pixels, place, depth)).collect();
        median(&colours).unwrap_or_default()
    };
    // The colour of a ring that begins at a depth, where it has one, and the steps at its outer and its inner edge.
    let ring_at = |side: usize, start: f64| {
        let colours: Vec<Colour> = (0..width).map(|depth| at(side, start + depth as f64 + 0.5)).collect();
        let is_even = colours.iter().all(|colour| apart(*colour, colours[0]) <= noise / 2.0);
        let before = apart(at(side, start - 0.5), colours[0]);
        let after = apart(at(side, start + width as f64 + 0.5), colours[0]);
        (is_even && after > noise).then_some((colours[0], before))
    };
    let both: Vec<[Option<(Colour, f64)>; 2]> =
        long.iter().map(|side| [ring_at(*side, 0.0), ring_at(*side, -(width as f64))]).collect();
    let of =
        |colour: Colour, ring: &Option<(Colour, f64)>| ring.filter(|ring| apart(ring.0, colour) <= noise);
    let colours = both.iter().flatten().flatten().map(|ring| ring.0);
    let mut moves = colours.filter_map(|colour| {
        let all: Option<Vec<(bool, f64)>> = both
            .iter()
            .map(|[outer, inner]| {
                let outer = of(colour, outer).map(|ring| (false, ring.1));
                outer.or_else(|| of(colour, inner).map(|ring| (true, ring.1)))
            })
            .collect();
        let all = all?;
        let is_seen = all.iter().any(|(_, step)| *step > 2.0 * noise);
        let is_moved = all.iter().any(|(moves, _)| *moves);
        (is_seen && is_moved).then_some(all)
    });
    let moves = moves.next()?;
    let of_side = |side: usize| long.iter().position(|long| *long == side).map(|at| moves[at].0);
    let all = moves.iter().all(|(moves, _)| *moves);
    let moves = std::array::from_fn(|side| of_side(side).unwrap_or(all));
    Some(with_radius_near(pixels, moved(*place, moves, width as f64)))
}
