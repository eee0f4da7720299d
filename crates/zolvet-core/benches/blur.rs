//! What a pixel of blur costs, by σ; and what a plain separable convolution in one thread costs beside it.

#![allow(missing_docs)]

use criterion::{Criterion, criterion_group, criterion_main};
use kurbo::{Affine, Shape};
use std::hint::black_box;
use zolvet_core::blur::gaussian;
use zolvet_core::raster::{Mask, Rect, rasterize};

const SIDE: i32 = 512;

fn source() -> Mask {
    let shape = kurbo::RoundedRect::new(64.0, 64.0, 448.0, 448.0, 32.0).to_path(0.01);
    rasterize(&shape, Affine::IDENTITY, Rect::new(0, 0, SIDE, SIDE))
}

/// The reference: every tap of both passes.
fn plain(source: &Mask, sigma: f64) -> Vec<f32> {
    let radius = (sigma * 3.0).ceil() as i32;
    let weights: Vec<f32> =
        (-radius..=radius).map(|d| (-f64::from(d * d) / (2.0 * sigma * sigma)).exp() as f32).collect();
    let pass = |at: &dyn Fn(i32, i32) -> f32, x: i32, y: i32| -> f32 {
        weights.iter().zip(-radius..=radius).map(|(w, d)| w * at(x + d, y)).sum()
    };
    let across: Vec<f32> =
        (0..SIDE * SIDE).map(|i| pass(&|x, y| source.at(x, y), i % SIDE, i / SIDE)).collect();
    let down = |y: i32, x: i32| {
        if (0..SIDE).contains(&y) { across[(y * SIDE + x) as usize] } else { 0.0 }
    };
    (0..SIDE * SIDE).map(|i| pass(&down, i / SIDE, i % SIDE)).collect()
}

fn by_sigma(criterion: &mut Criterion) {
    let source = source();
    let window = Rect::new(0, 0, SIDE, SIDE);
    let mut group = criterion.benchmark_group("512 px square");
    group.sample_size(20);
    for sigma in [0.3, 1.0, 3.0, 10.0, 40.0, 200.0, 1000.0] {
        group.bench_function(format!("ours, sigma {sigma}"), |b| {
            b.iter(|| gaussian(black_box(&source), sigma, window));
        });
    }
    for sigma in [1.0, 3.0, 10.0] {
        group.bench_function(format!("plain convolution, sigma {sigma}"), |b| {
            b.iter(|| plain(black_box(&source), sigma));
        });
    }
    group.finish();
}

criterion_group!(benches, by_sigma);
criterion_main!(benches);
