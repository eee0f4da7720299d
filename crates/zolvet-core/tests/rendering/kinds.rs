//! Kinds of coats against closed forms, brute force and resvg.

#![allow(clippy::unwrap_used, missing_docs)]

use kurbo::Vec2;
use serde_json::{Value, json};
use zolvet_core::chromium;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture, render};
use zolvet_core::geometry::polygon::{Region, Rule};

use zolvet_samples::star::*;

/// The sweep by a, then by b in the same direction, is the sweep by a + b.
#[test]
fn thickness_adds_up() {
    let region = Region::from_path(&kurbo::BezPath::from_svg(STAR).unwrap(), Rule::NonZero).unwrap();
    let along = Vec2::new(0.8, 0.6);
    let swept = |region: &Region, by: f64| region.swept(along * by).unwrap();
    let (twice, once) = (swept(&swept(&region, 9.3), 14.2), swept(&region, 23.5));
    let coverage = |region: &Region| {
        let window = zolvet_core::raster::Rect::new(0, 0, 260, 240);
        zolvet_core::raster::rasterize(&region.path(), kurbo::Affine::translate((10.3, 8.6)), window)
            .cropped(window)
    };
    let (a, b) = (coverage(&twice), coverage(&once));
    let worst = a.values().zip(b.values()).map(|(a, b)| (a - b).abs()).fold(0.0, f32::max);
    assert!(worst <= 2.0 / 255.0, "{worst}");
    assert!(a.values().sum::<f32>() > 10_000.0);
}

/// Thickness in two colours runs from the one to the other in OKLab: a square swept to the right, in closed form.
#[test]
fn thickness_changes_colour_with_the_distance() {
    let square =
        json!({"kind": "path", "d": "M0 0 H40 V40 H0 Z", "viewbox": [0, 0, 40, 40], "w": 40, "h": 40});
    for (dx, dy) in [(100.0_f64, 0.0_f64), (-100.0, 0.0), (0.0, 100.0), (80.0, 60.0)] {
        let thick =
            coat("e", "extrude", json!({"offset": {"x": dx, "y": dy}, "near": "#ff0000", "far": "#0000ff"}));
        let piece = json!({"id": "p", "name": "P", "shape": square, "x": 110, "y": 60, "fill": {"kind": "none"}, "wear": {"coats": [thick]}});
        let found = render_scene(&resolved(json!([piece])));
        assert_eq!(found.at(130, 80), [255, 0, 0, 255], "the near colour under the piece itself");
        for share in [0.4, 0.6, 0.8] {
            // Just past the far corner of the square, along the sweep, the distance is that from its edge.
            let (mx, my) = (130.0 + dx * share, 80.0 + dy * share);
            let along = if dy == 0.0 { 20.0 / dx.abs() } else { 20.0 / f64::max(dx.abs(), dy.abs()) };
            let mixed = zolvet_core::colour::mix_oklab(
                zolvet_core::colour::Rgba::new(1.0, 0.0, 0.0, 1.0),
                zolvet_core::colour::Rgba::new(0.0, 0.0, 1.0, 1.0),
                (share - along) as f32,
            );
            let expected = [mixed.r, mixed.g, mixed.b].map(|part| part * 255.0);
            let at = found.at(mx as u32, my as u32);
            for (found, expected) in at.iter().zip(expected) {
                assert!(
                    (f32::from(*found) - expected).abs() < 8.0,
                    "{dx},{dy} {share}: {at:?} for {expected:?}"
                );
            }
        }
    }
}

/// A cast shadow whose blur grows: each row is an exact Gaussian of its own σ, worked out by brute force on a square,
/// whose blur in both directions is a difference of error functions.
#[test]
fn a_cast_shadow_softens_row_by_row() {
    let square =
        json!({"kind": "path", "d": "M0 0 H80 V120 H0 Z", "viewbox": [0, 0, 80, 120], "w": 80, "h": 120});
    let cast = coat(
        "c",
        "cast",
        json!({"shear": 0, "squash": 1, "anchor": 1, "blur_near": 4, "blur_far": 30, "colour": "#000", "fade": 0.5}),
    );
    let piece = json!({"id": "p", "name": "P", "shape": square, "x": 80, "y": 60, "fill": {"kind": "none"}, "surface": "hide", "wear": {"coats": [cast]}});
    let scene = resolved(json!([piece]));
    let part = RenderOptions { shadow_only: true, ..RenderOptions::default() };
    let canvas = render(&scene, &Viewport::whole(&scene, 1.0), &part, &MaskCache::default());
    let (mut worst, mut sum, mut count) = (0.0_f64, 0.0, 0.0);
    for y in 20..SIZE.1 {
        let middle = f64::from(y) + 0.5;
        let distance = ((180.0 - middle) / 120.0).clamp(0.0, 1.0);
        let sigma = (4.0 + 26.0 * distance) / 2.0;
        let down = normal((180.0 - middle) / sigma) - normal((60.0 - middle) / sigma);
        for x in 0..SIZE.0 {
            let at = f64::from(x) + 0.5;
            let across = normal((160.0 - at) / sigma) - normal((80.0 - at) / sigma);
            let expected = across * down * (1.0 - 0.5 * distance);
            let error = (f64::from(canvas.at(i64::from(x), i64::from(y)).a) - expected).abs() * 255.0;
            (worst, sum, count) = (worst.max(error), sum + error, count + 1.0);
        }
    }
    assert!(sum / count < 0.5 && worst < 3.0, "mean {}, worst {worst}", sum / count);
}

/// The normal distribution, by the error function's series and continued fraction (NIST DLMF 7.6.1, 7.9.1).
fn normal(x: f64) -> f64 {
    let z = x.abs() / std::f64::consts::SQRT_2;
    let erf = if z < 2.5 {
        let (mut term, mut sum) = (z, z);
        for n in 1..80 {
            term *= -z * z / f64::from(n);
            sum += term / f64::from(2 * n + 1);
        }
        sum * 2.0 / std::f64::consts::PI.sqrt()
    } else {
        let fraction = (1..60).rev().fold(z, |fraction, n| z + f64::from(n) / 2.0 / fraction);
        1.0 - (-z * z).exp() / std::f64::consts::PI.sqrt() / fraction
    };
    0.5 * (1.0 + erf.copysign(x))
}

#[test]
fn grain_keeps_the_mean_and_scatters_wholly_or_not_at_all() {
    let with = |grain: Value| {
        let mut coat = coat(
            "d",
            "drop",
            json!({"offset": {"x": 0, "y": 0}, "blur": 60, "spread": 0, "colour": "#000", "knock_out": false}),
        );
        if grain != json!(null) {
            coat["grain"] = grain;
        }
        let piece = json!({"id": "p", "name": "P", "shape": {"kind": "box", "w": 120, "h": 100}, "x": 60, "y": 60, "fill": {"kind": "none"}, "wear": {"coats": [coat]}});
        let scene = resolved(json!([piece]));
        render(
            &scene,
            &Viewport::whole(&scene, 1.0),
            &RenderOptions { shadow_only: true, ..RenderOptions::default() },
            &MaskCache::default(),
        )
    };
    let sum = |canvas: &zolvet_core::compose::Canvas| {
        canvas.pixels.iter().map(|pixel| f64::from(pixel[3])).sum::<f64>()
    };
    let smooth = with(json!(null));
    let grained = with(json!({"amount": 1, "size": 1, "seed": 7}));
    assert!((sum(&grained) / sum(&smooth) - 1.0).abs() < 0.01, "{} {}", sum(&grained), sum(&smooth));
    assert!(grained.pixels.iter().all(|pixel| pixel[3] == 0.0 || pixel[3] == 1.0));
    assert_ne!(grained, with(json!({"amount": 1, "size": 1, "seed": 8})));
    assert_eq!(grained, with(json!({"amount": 1, "size": 1, "seed": 7})));
    assert_eq!(with(json!({"amount": 0, "size": 1, "seed": 7})), smooth);
}

/// resvg's picture of the equivalent SVG filter (Filter Effects 1), with its own box blurs.
#[test]
fn a_path_and_its_shadows_look_as_resvg_draws_them() {
    let ours = render_scene(&resolved(json!([star(json!([
        coat(
            "i",
            "inner",
            json!({"offset": {"x": 0, "y": 6}, "blur": 10, "spread": 0, "colour": "#3c0000", "opacity": 0.8})
        ),
        drop(16.0)
    ]))])));
    let svg = format!(
        "<svg xmlns='http://www.w3.org/2000/svg' width='{}' height='{}'><rect width='100%' height='100%' fill='#e8e4da'/>
        <filter id='f' x='0' y='0' width='{0}' height='{1}' filterUnits='userSpaceOnUse' color-interpolation-filters='sRGB'>
        <feGaussianBlur in='SourceAlpha' stdDeviation='8'/><feOffset dx='5' dy='9' result='s'/><feFlood flood-color='#203050' flood-opacity='.8'/>
        <feComposite in2='s' operator='in' result='d'/>
        <feGaussianBlur in='SourceAlpha' stdDeviation='5'/><feOffset dy='6' result='hole'/><feFlood flood-color='#3c0000' flood-opacity='.8'/>
        <feComposite in2='hole' operator='out'/><feComposite in2='SourceAlpha' operator='in' result='i'/>
        <feMerge><feMergeNode in='d'/><feMergeNode in='SourceGraphic'/><feMergeNode in='i'/></feMerge></filter>
        <g filter='url(#f)'><path transform='translate(20 15)' d='{STAR}' fill='#e0a030'/></g></svg>",
        SIZE.0, SIZE.1
    );
    let tree = resvg::usvg::Tree::from_str(&svg, &resvg::usvg::Options::default()).unwrap();
    let mut theirs = resvg::tiny_skia::Pixmap::new(SIZE.0, SIZE.1).unwrap();
    resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut theirs.as_mut());
    let errors: Vec<u8> = ours.rgba.iter().zip(theirs.data()).map(|(a, b)| a.abs_diff(*b)).collect();
    let mean = errors.iter().map(|error| f64::from(*error)).sum::<f64>() / errors.len() as f64;
    let far = errors.iter().filter(|error| **error > 12).count();
    assert!(mean <= 1.25 && far * 200 < errors.len(), "mean {mean}, {far} values far off");
}

/// Running means of so many values that their sum does not fit 32 bits.
#[test]
fn a_very_wide_blur_is_drawn_as_faint_as_it_is() {
    let scene = resolved(json!([star(json!([drop(4000.0)]))]));
    for mode in [chromium::CSS, chromium::SVG] {
        let part = RenderOptions { mode, shadow_only: true, ..RenderOptions::default() };
        let shown =
            picture(&scene, &Viewport::whole(&scene, 1.0), &part, Rounding::Nearest, &MaskCache::default());
        let strongest = shown.rgba.chunks(4).map(|pixel| pixel[3]).max().unwrap();
        assert!(strongest < 60, "{mode:?}: {strongest}");
    }
}

/// A falloff is the curve between its points, applied to what the shadow covers without one.
#[test]
fn a_falloff_bends_what_is_covered() {
    let points = [(0.0, 0.0), (0.2, 0.7), (0.6, 0.1), (1.0, 0.9)];
    let curve: Vec<Value> = points.iter().map(|(from, to)| json!({"from": from, "to": to})).collect();
    let row = |more: Value| -> Vec<f64> {
        let mut shadow = json!({"offset": {"x": 0, "y": 0}, "blur": 40, "spread": 0, "colour": "#000000", "opacity": 1,
            "knock_out": false});
        shadow.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        let shape = json!({"kind": "box", "w": 120, "h": 120});
        let piece = json!({"id": "p", "name": "P", "shape": shape, "x": 60, "y": 50, "fill": {"kind": "none"},
            "wear": {"coats": [coat("d", "drop", shadow)]}});
        let found = render_scene(&resolved(json!([piece])));
        // The ground is #e8e4da.
        (5..175).map(|x| 1.0 - f64::from(found.at(x, 110)[0]) / 232.0).collect()
    };
    let bent = |coverage: f64| {
        let at = points.windows(2).find(|pair| coverage <= pair[1].0).unwrap();
        let ((x0, y0), (x1, y1)) = (at[0], at[1]);
        y0 + (y1 - y0) * (coverage - x0) / (x1 - x0)
    };
    let (plain, found) = (row(json!({})), row(json!({"falloff": {"points": curve}})));
    let mut seen = 0;
    // Where coverage rises by half a 255th, the steepest part of the curve rises by less than two.
    for (coverage, found) in plain.iter().zip(&found).filter(|(coverage, _)| **coverage > 1.5 / 255.0) {
        assert!(
            (found - bent(*coverage)).abs() <= 2.6 / 255.0,
            "{coverage}: {found}, not {}",
            bent(*coverage)
        );
        seen += usize::from(*coverage < 0.95);
    }
    assert!(seen > 40, "{seen} places of the edge");
}
