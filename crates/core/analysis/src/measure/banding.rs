//! Steps that a wide faint shadow shows in 8 bits.

use crate::compose::Canvas;

/// A band is seen when the same colour runs on for this many pixels and then steps (common practice, no published source).
const BAND: usize = 12;
/// Pixels along a line that have to lie in bands before the bands are visible.
const RUN: usize = 60;

/// For each pixel of a picture, whether it lies in a band: in a slow ramp that 8 bits turn into steps.
///
/// Along each row and column, a run of pixels is banded where the picture in floats rises or falls steadily but slower
/// than a step in [`BAND`] pixels, over at least [`RUN`] pixels and three steps in all.
#[must_use]
pub fn banded(canvas: &Canvas) -> Vec<bool> {
    let (width, height) = (canvas.width as usize, canvas.height as usize);
    let mut found = vec![false; width * height];
    let green = |x: usize, y: usize| canvas.pixels[y * width + x][1] * 255.0;
    for y in 0..height {
        let line: Vec<f32> = (0..width).map(|x| green(x, y)).collect();
        for (from, to) in slow_ramps(&line) {
            found[y * width + from..y * width + to].fill(true);
        }
    }
    for x in 0..width {
        let line: Vec<f32> = (0..height).map(|y| green(x, y)).collect();
        for (from, to) in slow_ramps(&line) {
            (from..to).for_each(|y| found[y * width + x] = true);
        }
    }
    found
}

/// Runs of a line, in 255ths, that go one way slower than a step in [`BAND`] pixels.
fn slow_ramps(line: &[f32]) -> Vec<(usize, usize)> {
    let slow = |delta: f32| delta != 0.0 && delta.abs() < 1.0 / BAND as f32;
    let mut runs = Vec::new();
    let mut start = 0;
    for at in 1..=line.len() {
        let goes_on = at < line.len() && {
            let delta = line[at] - line[at - 1];
            let first = line.get(start + 1).map_or(0.0, |next| next - line[start]);
            slow(delta) && (at == start + 1 || delta.signum() == first.signum())
        };
        if !goes_on {
            if at - start >= RUN && (line[at - 1] - line[start]).abs() >= 3.0 {
                runs.push((start, at));
            }
            start = at;
        }
    }
    runs
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A ramp of 10 steps over 400 px shows bands 40 px wide; one of 200 steps shows none, nor does a flat ground.
    #[test]
    fn slow_ramps_are_banded_and_others_are_not() {
        let ramp = |steps: f32| -> Vec<f32> { (0..400).map(|x| 100.0 + x as f32 * steps / 400.0).collect() };
        assert_eq!(slow_ramps(&ramp(10.0)), [(0, 400)]);
        assert!(slow_ramps(&ramp(200.0)).is_empty());
        assert!(slow_ramps(&[100.0; 400]).is_empty());
        assert!(slow_ramps(&ramp(2.0)).is_empty(), "two steps are no gradient");
    }
}
