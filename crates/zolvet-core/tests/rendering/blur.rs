//! The blur against an exact Gaussian (docs/rendering.md, "Blur"), worked out directly in double precision.

#![allow(missing_docs)]

use kurbo::{Affine, Shape};
use proptest::prelude::*;
use zolvet_core::blur::{Blurred, Scratch, blurred, blurs, gaussian, reach, visible_reach};
use zolvet_core::chromium::boxes;
use zolvet_core::raster::{Mask, Rect, RowStart, rasterize};

/// A separable convolution with a sampled Gaussian of 8σ, at the given pixels only.
fn exact(source: &Mask, sigma: f64, x: i32, y: i32) -> f64 {
    let weight = |d: i32| (-f64::from(d * d) / (2.0 * sigma * sigma)).exp();
    let radius = (sigma * 8.0).ceil() as i32;
    let total: f64 = (-radius..=radius).map(weight).sum();
    let mut sum = 0.0;
    for sy in source.rect.y0..source.rect.y1 {
        let row: f64 =
            (source.rect.x0..source.rect.x1).map(|sx| f64::from(source.at(sx, sy)) * weight(x - sx)).sum();
        sum += row * weight(y - sy);
    }
    sum / (total * total)
}

fn window_pixels(window: Rect) -> impl Iterator<Item = (i32, i32)> {
    (window.y0..window.y1).flat_map(move |y| (window.x0..window.x1).map(move |x| (x, y)))
}

fn card() -> Mask {
    card_at((0.3, 0.6))
}

fn card_at(at: (f64, f64)) -> Mask {
    let shape = kurbo::RoundedRect::new(0.0, 0.0, 120.0, 80.0, 16.0).to_path(0.01);
    rasterize(&shape, Affine::translate(at), Rect::new(-10, -10, 200, 200))
}

#[test]
fn within_the_bar_of_an_exact_gaussian() {
    for sigma in [0.3, 1.0, 2.51, 3.0, 4.1, 5.1, 10.0, 40.0, 200.0, 1000.0] {
        let source = card();
        let margin = (sigma * 3.0) as i32 + 4;
        let window = source.rect.grown(margin);
        let blurred = gaussian(&source, sigma, window);
        // A few thousand pixels of the whole picture, at steps that share no factor with any cell size.
        let step = (window.width() / 53).max(1) | 1;
        let mut errors = Vec::new();
        for y in (window.y0..window.y1).step_by(step) {
            for x in (window.x0..window.x1).step_by(step) {
                errors.push((f64::from(blurred.at(x, y)) - exact(&source, sigma, x, y)).abs() * 255.0);
            }
        }
        errors.sort_by(f64::total_cmp);
        let mean = errors.iter().sum::<f64>() / errors.len() as f64;
        let worst = errors[(errors.len() - 1) * 999 / 1000];
        assert!(mean <= 1.0 && worst <= 2.0, "σ {sigma}: mean {mean}, 99.9 % {worst}");
        // What the method promises is much closer than the bar.
        assert!(worst <= 0.3, "σ {sigma}: 99.9 % {worst}");
    }
}

/// What Chromium 156 drew of a black square of 60 px under `filter: blur()`, along the middle of its left edge: eight
/// bits of alpha, from where it begins to where it is solid.
#[test]
fn running_means_are_those_of_chromium() {
    let drawn: [(f64, &[u8]); 4] = [
        (1.0, &[21, 85, 170, 234, 255]),
        (1.5, &[9, 38, 94, 161, 217, 246, 255]),
        (2.0, &[3, 13, 32, 64, 105, 150, 191, 223, 242, 252, 255]),
        (3.0, &[1, 4, 10, 20, 35, 57, 83, 112, 143, 172, 198, 220, 235, 245, 251, 254]),
    ];
    let square = Mask::new(Rect::new(0, 0, 60, 60), vec![1.0; 3600]);
    for (sigma, expected) in drawn {
        let blurred = boxes(&square, sigma, square.rect.grown(40));
        let alpha = |x: i32| (blurred.at(x, 30) * 255.0).round() as u8;
        let first = (-40..60).find(|x| alpha(*x) > 0).unwrap();
        let row: Vec<u8> = (first..).take(expected.len()).map(alpha).collect();
        assert_eq!(row, expected, "σ {sigma}");
    }
    for sigma in [0.25, 0.5, 0.75] {
        assert!(!blurs(sigma));
        assert_eq!(
            boxes(&square, sigma, square.rect),
            square,
            "σ {sigma} is too little for a mean of two pixels"
        );
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn keeps_the_sum_of_coverage(sigma in 0.3..60.0_f64) {
        let source = card();
        let blurred = gaussian(&source, sigma, source.rect.grown(reach(sigma) * 2));
        let sum = |mask: &Mask| mask.values().map(f64::from).sum::<f64>();
        prop_assert!((sum(&blurred) / sum(&source) - 1.0).abs() < 2e-3);
        prop_assert!(blurred.values().all(|c| (-1e-6..=1.000_01).contains(&c)));
    }

    /// A wide blur that is read moved by parts of a pixel is that of a rectangle there, which is known in closed form: the
    /// product of two differences of the normal distribution (as for the error function in DLMF 7.2.1).
    #[test]
    fn reading_between_pixels_moves_the_blur(
        sigma in 3.01..60.0_f64,
        at in (0.0..1.0_f64, 0.0..1.0_f64),
        by in (0.0..1.0_f64, 0.0..1.0_f64),
    ) {
        let (w, h) = (117.4, 81.0);
        let shape = kurbo::Rect::new(at.0, at.1, at.0 + w, at.1 + h);
        let source = rasterize(&shape.to_path(0.01), Affine::IDENTITY, Rect::new(-10, -10, 200, 200));
        let Blurred::Coarse(coarse) = blurred(&source, sigma, source.rect.grown(40)) else {
            return Err(TestCaseError::fail("a wide blur is kept in cells"));
        };
        let (spline, mut room) = (coarse.spline(by.into()), Scratch::default());
        let upto = |t: f64| 0.5 * (1.0 + libm::erf(t / (sigma * std::f64::consts::SQRT_2)));
        let along = |pixel: i32, from: f64, length: f64| {
            let middle = f64::from(pixel) + 0.5 - from;
            upto(middle) - upto(middle - length)
        };
        let mut worst = 0.0_f64;
        for y in coarse.rect.y0..coarse.rect.y1 {
            let down = along(y, at.1 + by.1, h);
            let row = coarse.read(&spline, RowStart { y, x0: coarse.rect.x0 }, coarse.rect.width(), &mut room);
            for (x, value) in (coarse.rect.x0..).zip(row) {
                worst = worst.max((f64::from(*value) - down * along(x, at.0 + by.0, w)).abs());
            }
        }
        prop_assert!(worst * 255.0 < 0.3 + 8.7 / (sigma * sigma), "{}", worst * 255.0);
    }

    /// Past where a blur is said to be seen, less than 1/25 of a step is left beside an edge (the normal distribution's tail by
    /// the complementary error function, DLMF 7.2.2), and not much less.
    #[test]
    fn what_is_not_seen_is_less_than_a_part_of_a_step(sigma in 0.5..200.0_f64, alpha in 0.001..1.0_f64) {
        let left = |far: f64| alpha * 0.5 * libm::erfc(far / (sigma * std::f64::consts::SQRT_2)) * 255.0 * 25.0;
        let far = f64::from(visible_reach(sigma, alpha));
        prop_assert!(left(far - 1.0) <= 1.0, "{}", left(far - 1.0));
        prop_assert!(far <= sigma + 2.0 || left(far - 2.0) > 0.6, "{}", left(far - 2.0));
    }

    #[test]
    fn moving_the_source_moves_the_blur(sigma in 0.3..60.0_f64, dx in -40..40_i32, dy in -40..40_i32) {
        let source = card();
        let moved = Mask::new(source.rect.moved(dx, dy), source.clone().into_values());
        let window = source.rect.grown(20);
        let (a, b) = (gaussian(&source, sigma, window), gaussian(&moved, sigma, window.moved(dx, dy)));
        let worst = a.values().zip(b.values()).map(|(a, b)| (a - b).abs()).fold(0.0, f32::max);
        prop_assert!(worst * 255.0 < 0.5, "{worst}");
    }

    /// Three means are a Gaussian but for some hundredths (Filter Effects 1, "feGaussianBlur").
    #[test]
    fn running_means_come_close_to_a_gaussian(sigma in 8.0..60.0_f64) {
        let source = card();
        let window = source.rect.grown(reach(sigma));
        let (means, exact) = (boxes(&source, sigma, window), gaussian(&source, sigma, window));
        let worst = window_pixels(window).map(|(x, y)| (means.at(x, y) - exact.at(x, y)).abs()).fold(0.0, f32::max);
        prop_assert!(worst < 0.04, "{worst}");
    }

    #[test]
    fn a_window_changes_nothing(sigma in 0.3..60.0_f64, x in -50..100_i32, y in -50..60_i32) {
        let source = card();
        let window = Rect::new(x, y, x + 37, y + 23);
        let whole = gaussian(&source, sigma, source.rect.grown(120));
        let part = gaussian(&source, sigma, window);
        for y in window.y0..window.y1 {
            for x in window.x0..window.x1 {
                prop_assert!((part.at(x, y) - whole.at(x, y)).abs() < 1e-4);
            }
        }
    }
}
