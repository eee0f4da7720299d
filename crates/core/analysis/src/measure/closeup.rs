//! Where in a picture a change is seen best.

use crate::picture::Picture;

/// A part of a picture, in its pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Part {
    /// Left edge.
    pub x: f64,
    /// Top edge.
    pub y: f64,
    /// Pixels across.
    pub width: f64,
    /// Pixels down.
    pub height: f64,
}

/// The narrowest part that is tried, in pixels.
const NARROWEST: f64 = 12.0;
/// How much more of the picture is shown than the part that changes most, so that its surroundings are seen.
const SURROUNDINGS: f64 = 2.2;
/// A part farther to the right or down has to be better by this much.
const BETTER: f64 = 1.03;

/// The part of two pictures of one size where they differ most, with its surroundings, `aspect` times as wide as high; or
/// nothing where they are alike.
///
/// Parts of every size are compared by their change over their area to the power of ¾: along a long edge that favours one
/// as high as the change is wide.
#[must_use]
pub fn closeup(before: &Picture, after: &Picture, aspect: f64) -> Option<Part> {
    let change = Change::between(before, after)?;
    let (across, down) = (change.width as f64, change.height as f64);
    let largest = across.min(down * aspect);
    let mut best: Option<(f64, Part)> = None;
    let mut width = NARROWEST.min(largest);
    loop {
        let (score, part) = change.best_of(width, width / aspect);
        if best.is_none_or(|(most, _)| score > most * BETTER) {
            best = Some((score, part));
        }
        if width >= largest {
            break;
        }
        width = (width * 1.4).min(largest);
    }
    let (_, part) = best?;
    let width = (part.width * SURROUNDINGS).min(largest);
    let height = width / aspect;
    Some(Part {
        x: (part.x + (part.width - width) / 2.0).clamp(0.0, across - width),
        y: (part.y + (part.height - height) / 2.0).clamp(0.0, (down - height).max(0.0)),
        width,
        height,
    })
}

/// How much each pixel changes, added up from the left top, so that any rectangle's sum is four look-ups.
struct Change {
    width: usize,
    height: usize,
    sums: Vec<u64>,
}

impl Change {
    fn between(before: &Picture, after: &Picture) -> Option<Self> {
        if before.rgba == after.rgba || before.rgba.len() != after.rgba.len() {
            return None;
        }
        let (width, height) = (after.width as usize, after.height as usize);
        let mut sums = vec![0; (width + 1) * (height + 1)];
        let (old, _) = before.rgba.as_chunks::<4>();
        let (new, _) = after.rgba.as_chunks::<4>();
        for (row, (old, new)) in old.chunks(width).zip(new.chunks(width)).enumerate() {
            let mut along = 0;
            for (column, (old, new)) in old.iter().zip(new).enumerate() {
                let most = old.iter().zip(new).map(|(old, new)| old.abs_diff(*new)).max().unwrap_or(0);
                along += u64::from(most);
                let above = sums[row * (width + 1) + column + 1];
                sums[(row + 1) * (width + 1) + column + 1] = above + along;
            }
        }
        Some(Self { width, height, sums })
    }

    /// The change within whole pixels.
    fn within(&self, x: usize, y: usize, width: usize, height: usize) -> u64 {
        let at = |x: usize, y: usize| self.sums[y * (self.width + 1) + x];
        at(x + width, y + height) + at(x, y) - at(x, y + height) - at(x + width, y)
    }

    /// The best part of one size, the first from the left top among those as good.
    fn best_of(&self, width: f64, height: f64) -> (f64, Part) {
        let pixels = |length: f64, most: usize| (length.round() as usize).clamp(1, most);
        let (w, h) = (pixels(width, self.width), pixels(height, self.height));
        let area = crate::maths::powf((w * h) as f64, 0.75);
        let mut best = (-1.0, Part { x: 0.0, y: 0.0, width, height });
        for y in steps(self.height - h, h) {
            for x in steps(self.width - w, w) {
                let score = self.within(x, y, w, h) as f64 / area;
                if score > best.0 * BETTER {
                    best = (score, Part { x: x as f64, y: y as f64, width, height });
                }
            }
        }
        best
    }
}

/// Every sixth of a length up to a last place, and that one.
fn steps(last: usize, length: usize) -> impl Iterator<Item = usize> {
    (0..last).step_by((length / 6).max(1)).chain([last])
}

#[cfg(test)]
mod tests {
    use super::*;

    fn grey(width: u32, height: u32, dark: impl Fn(u32, u32) -> u8) -> Picture {
        let pixel = |i: u32| {
            let level = 255 - dark(i % width, i / width);
            [level, level, level, 255]
        };
        Picture { width, height, rgba: (0..width * height).flat_map(pixel).collect() }
    }

    fn closeup_of(dark: impl Fn(u32, u32) -> u8) -> Option<Part> {
        closeup(&grey(200, 120, |_, _| 0), &grey(200, 120, dark), 4.0 / 3.0)
    }

    #[test]
    fn alike_pictures_have_no_closeup() {
        assert_eq!(closeup_of(|_, _| 0), None);
    }

    #[test]
    fn a_thin_edge_is_shown_near() {
        let part = closeup_of(|x, y| if (40..160).contains(&x) && (60..62).contains(&y) { 90 } else { 0 })
            .expect("it changes");
        assert!(part.y < 60.0 && part.y + part.height > 62.0, "{part:?}");
        assert!(part.width < 60.0, "{part:?}");
    }

    #[test]
    fn a_wide_shadow_is_shown_from_farther_off() {
        let soft = |x: u32, y: u32| {
            let away = crate::maths::hypot(f64::from(x) - 100.0, f64::from(y) - 60.0);
            (120.0 - away * 2.0).clamp(0.0, 255.0) as u8
        };
        let part = closeup_of(soft).expect("it changes");
        assert!(part.width > 90.0, "{part:?}");
    }

    #[test]
    fn it_stays_within_the_picture() {
        let part = closeup_of(|x, y| if x > 197 && y > 117 { 255 } else { 0 }).expect("it changes");
        assert!(part.x + part.width <= 200.0 && part.y + part.height <= 120.0, "{part:?}");
        assert!((part.width / part.height - 4.0 / 3.0).abs() < 1e-9, "{part:?}");
    }
}
