//! Properties that hold for coats and pieces of every kind.

#![allow(clippy::unwrap_used, missing_docs)]

use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::chromium;
use zolvet_core::compose::{
    CoatFilter, MaskCache, RenderMode, RenderOptions, Rounding, Strip, Viewport, picture, render,
};
use zolvet_core::model::{self, CoatKind, Id, Project};
use zolvet_core::picture::Picture;
use zolvet_core::resolve::{self, ColourContext, Context, Scene};

use zolvet_samples::star::*;

#[test]
fn no_coat_draws_anything_when_it_is_off_or_at_opacity_0() {
    // Glass, so that what lies behind it is seen through it, over an edge to be blurred.
    let behind = json!({"id": "q", "name": "Q", "shape": {"kind": "box", "w": 90, "h": 200}, "x": 20, "y": 10,
        "fill": {"kind": "solid", "colour": "#1f4a5a"}, "wear": {"coats": []}});
    let star = |coats: Value| {
        let mut star = star(coats);
        star["fill"] = json!({"kind": "solid", "colour": "#e0a03080"});
        star
    };
    let drawn = |star: Value| render_scene(&resolved(json!([behind, star])));
    let bare = drawn(star(json!([])));
    for kind in all_kinds() {
        let mut off = kind.clone();
        off["on"] = json!(false);
        assert_eq!(drawn(star(json!([off]))), bare, "{} off", kind["kind"]);
        let mut clear = kind.clone();
        clear["opacity"] = json!(0);
        assert_eq!(drawn(star(json!([clear]))), bare, "{} at opacity 0", kind["kind"]);
        assert_ne!(drawn(star(json!([kind.clone()]))), bare, "{} on", kind["kind"]);
    }
}

#[test]
fn moving_every_piece_by_whole_pixels_moves_the_picture() {
    for kind in all_kinds() {
        let small = |x: f64, y: f64| {
            let mut piece = star(json!([kind]));
            (piece["x"], piece["y"]) = (json!(x), json!(y));
            (piece["shape"]["w"], piece["shape"]["h"]) = (json!(80), json!(76));
            render_scene(&resolved(json!([piece])))
        };
        let (still, moved) = (small(60.0, 60.0), small(67.0, 55.0));
        for y in 8..SIZE.1 - 8 {
            for x in 8..SIZE.0 - 8 {
                let (there, here) = (moved.at(x + 7, y - 5), still.at(x, y));
                let close = there.iter().zip(here).all(|(a, b)| a.abs_diff(b) <= 1);
                assert!(close, "{} at {x},{y}: {there:?} for {here:?}", kind["kind"]);
            }
        }
    }
}

#[test]
fn a_region_at_a_zoom_is_that_part_of_the_whole() {
    let scene = resolved(json!([star(json!(all_kinds()))]));
    let cache = MaskCache::default();
    let whole = render(&scene, &Viewport::whole(&scene, 2.0), &RenderOptions::default(), &cache);
    let view = Viewport { x: 60.0, y: 40.0, scale: 2.0, width: 160, height: 120 };
    let part = render(&scene, &view, &RenderOptions::default(), &cache);
    for y in 0..120 {
        for x in 0..160 {
            let (a, b) = (part.at(x, y).premultiplied(), whole.at(x + 120, y + 80).premultiplied());
            let error = a.iter().zip(b).map(|(a, b)| (a - b).abs()).fold(0.0, f32::max);
            assert!(error < 1.0 / 255.0, "{error} at {x},{y}");
        }
    }
}

#[test]
fn a_denser_screen_shows_the_same_part() {
    let scene = resolved(json!([star(json!(all_kinds()))]));
    let (view, cache) =
        (Viewport { x: 30.0, y: 20.0, scale: 1.0, width: 90, height: 70 }, MaskCache::default());
    let dense = view.on_screen_of(2.0);
    assert_eq!((dense.width, dense.height, dense.scale), (180, 140, 2.0));
    let whole = render(&scene, &Viewport::whole(&scene, 2.0), &RenderOptions::default(), &cache);
    let part = whole.crop(60, 40, 180, 140).to_picture(Rounding::Nearest);
    let drawn = render(&scene, &dense, &RenderOptions::default(), &cache).to_picture(Rounding::Nearest);
    let worst = drawn.rgba.iter().zip(&part.rgba).map(|(a, b)| a.abs_diff(*b)).max();
    assert!(worst <= Some(1), "{worst:?}");
    // What no screen has, and what no memory holds, is not drawn.
    assert_eq!(view.on_screen_of(f64::NAN), view);
    assert_eq!(view.on_screen_of(0.0), view);
    assert_eq!(view.on_screen_of(1e9).width, 360);
    let large = Viewport { width: 3000, height: 20, ..view }.on_screen_of(4.0);
    assert_eq!((large.width, large.height), (4096, 27));
}

#[test]
fn a_strip_has_the_pixels_of_the_whole_picture() {
    let kinds: Vec<Value> = all_kinds().into_iter().filter(|kind| kind["kind"] != "backdrop").collect();
    let stacks = kinds.iter().map(|kind| json!([kind])).chain([json!([]), json!(kinds)]);
    for stack in stacks {
        let scene = resolved(json!([star(stack.clone())]));
        let (view, cache) = (Viewport::whole(&scene, 1.0), MaskCache::default());
        let bare = Scene { pieces: Vec::new(), ..scene.clone() };
        let below = render(&bare, &view, &RenderOptions::default(), &cache);
        let whole = render(&scene, &view, &RenderOptions::default(), &cache);
        // Near and far pixels of a row, some of them twice, in no order.
        let places: Vec<(u32, u32)> = (0..4000_u32).map(|i| (i * 97 % SIZE.0, i * 61 % SIZE.1)).collect();
        let (strip, numbers) = Strip::through(view, &places);
        let pixels = strip.with(&scene.pieces[0], &strip.crop(&below.pixels), &cache).unwrap();
        assert_eq!(pixels.len(), strip.crop(&whole.pixels).len());
        for ((x, y), number) in places.iter().zip(numbers) {
            let expected = whole.pixels[(y * SIZE.0 + x) as usize];
            let found = pixels[number as usize];
            let error = found.iter().zip(expected).map(|(a, b)| (a - b).abs()).fold(0.0, f32::max);
            assert!(error < 1e-5, "{error} at {x},{y} of {stack}");
        }
    }
}

#[test]
fn a_large_picture_in_bands_is_the_same_as_in_one() {
    for kind in all_kinds() {
        let scene = resolved(json!([star(json!([kind]))]));
        let (view, cache) = (Viewport::whole(&scene, 10.0), MaskCache::default());
        let bands = picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &cache);
        let one = render(&scene, &view, &RenderOptions::default(), &cache).to_picture(Rounding::Nearest);
        let worst = bands.rgba.iter().zip(&one.rgba).map(|(a, b)| a.abs_diff(*b)).max();
        assert!(worst <= Some(2), "{} {worst:?}", kind["kind"]);
    }
}

#[test]
fn one_coat_alone_and_all_but_one() {
    let scene = resolved(json!([star(json!(all_kinds()))]));
    let (view, cache) = (Viewport::whole(&scene, 1.0), MaskCache::default());
    let with = |coats| {
        render(&scene, &view, &RenderOptions { coats, ..RenderOptions::default() }, &cache)
            .to_picture(Rounding::Nearest)
    };
    let bare = render_scene(&resolved(json!([star(json!([]))])));
    assert_eq!(with(CoatFilter::None), bare);
    let id = Id::new("h").unwrap();
    assert_eq!(
        with(CoatFilter::Only(id.clone())),
        render_scene(&resolved(json!([star(json!([all_kinds()[2]]))])))
    );
    let rest: Vec<_> = all_kinds().into_iter().filter(|coat| coat["id"] != "h").collect();
    assert_eq!(with(CoatFilter::Without(id)), render_scene(&resolved(json!([star(json!(rest))]))));
}

/// docs/rendering.md, "Ramps": a ramp and the coats it is split into are the same picture, and where all its shadows lie on one
/// another they give exactly the total opacity.
#[test]
fn a_split_ramp_changes_no_pixel_and_gives_its_total() {
    for ramp in [
        json!({"shadow": "drop", "near": {"offset": {"x": 1, "y": 2}, "blur": 2, "spread": 0, "colour": "#204060"}, "far": {"offset": {"distance": 30, "follows": "l"}, "blur": 50, "spread": -4, "colour": "oklch(0.5 0.2 30)"}, "count": 9, "growth": 1.7, "lean": 0.3, "total": 0.75}),
        json!({"shadow": "inner", "near": {"offset": {"x": 0, "y": 0}, "blur": 0, "spread": 50, "colour": "#000"}, "far": {"offset": {"x": 0, "y": 0}, "blur": 0, "spread": 50, "colour": "#000"}, "count": 64, "growth": 0.8, "lean": -0.9, "total": 0.999}),
        json!({"shadow": "inner", "near": {"offset": {"x": 0, "y": 0}, "blur": 0, "spread": 50, "colour": "#000"}, "far": {"offset": {"x": 0, "y": 0}, "blur": 0, "spread": 50, "colour": "#000"}, "count": 5, "growth": 1, "lean": 0, "total": 0.4}),
    ] {
        let total = ramp["total"].as_f64().unwrap();
        let shape = json!({"kind": "box", "w": 100, "h": 80});
        let piece = json!({"id": "p", "name": "P", "shape": shape, "x": 70, "y": 60, "fill": {"kind": "solid", "colour": "#fff"}, "wear": {"coats": [coat("r", "ramp", ramp.clone())]}});
        let project = Project::from_value(&document(json!([piece]))).unwrap();
        let assets = Assets::default();
        let context = Context { project: &project, theme: &project.scenes[0].theme, assets: &assets };
        let whole = &project.coats_of(&project.scenes[0].pieces[0], context.theme)[0];
        let CoatKind::Ramp(description) = &whole.kind else { unreachable!("a ramp") };
        let steps = context.split(whole, &ColourContext::default()).unwrap().unwrap();
        assert_eq!(steps.len(), description.count as usize);
        let left: f64 = steps.iter().map(|step| 1.0 - step.opacity.get()).product();
        assert!((1.0 - left - total).abs() < 1e-12, "{left}");

        let mut split = project.clone();
        split.scenes[0].pieces[0].wear = model::Wear::Coats(model::OwnCoats { coats: steps });
        let draw = |project: &Project| render_scene(&resolve::scene(project, &project.scenes[0], &assets));
        assert_eq!(draw(&project), draw(&split));
        if ramp["shadow"] == "inner" {
            let found = f64::from(draw(&project).at(120, 100)[0]);
            assert!((found - 255.0 * (1.0 - total)).abs() <= 0.51, "{found}");
        }
    }
}

/// Nine squares of the ground under a piece, half of them black: the mean is what the coat covers.
#[test]
fn a_colour_from_the_ground_is_the_mean_of_what_the_coat_covers() {
    let bar = json!({"id": "bar", "name": "Bar", "shape": {"kind": "box", "w": 120, "h": 220}, "x": 0, "y": 0, "fill": {"kind": "solid", "colour": "#000"}, "wear": {"coats": []}});
    let shadow = coat(
        "d",
        "drop",
        json!({"offset": {"x": 0, "y": 0}, "blur": 0, "spread": 0, "colour": {"from": "ground"}}),
    );
    let over = json!({"id": "p", "name": "P", "shape": {"kind": "box", "w": 80, "h": 60}, "x": 80, "y": 60, "fill": {"kind": "none"}, "wear": {"coats": [shadow]}});
    let scene = resolved(json!([bar, over]));
    let colour = scene.pieces[1].coats[0].colour.unwrap();
    let expected = [0xe8, 0xe4, 0xda].map(|part| f32::from(part as u8) / 255.0 / 2.0);
    assert_eq!(
        [colour.r, colour.g, colour.b].map(|part| (part * 255.0).round()),
        expected.map(|part| (part * 255.0).round())
    );
}

/// Clipping, opacity and cut-outs of joins: what is outside is untouched, and parts keep their own fills.
#[test]
fn a_join_casts_one_shadow_and_its_parts_keep_their_fills() {
    let part = |id: &str, x: f64, colour: &str| json!({"id": id, "name": id, "shape": {"kind": "box", "w": 60, "h": 60}, "x": x, "y": 0, "fill": {"kind": "solid", "colour": colour}, "wear": {"coats": []}});
    let join = json!({"kind": "join", "op": "add", "parts": [part("a", 0.0, "#c04020"), part("b", 40.0, "#2040c0")]});
    let shadow = coat(
        "d",
        "drop",
        json!({"offset": {"x": 0, "y": 60}, "blur": 0, "spread": 0, "colour": "#000", "opacity": 0.5}),
    );
    let found = render_scene(&resolved(
        json!([{"id": "p", "name": "P", "shape": join, "x": 70, "y": 60, "fill": {"kind": "none"}, "wear": {"coats": [shadow]}}]),
    ));
    assert_eq!(found.at(80, 90), [0xc0, 0x40, 0x20, 255]);
    assert_eq!(found.at(120, 90), [0x20, 0x40, 0xc0, 255], "the later part lies on the earlier");
    let half = [0x74, 0x72, 0x6d, 255];
    assert_eq!(
        (found.at(80, 150), found.at(120, 150), found.at(160, 150)),
        (half, half, half),
        "not doubled in the middle"
    );
}

/// What is kept from one picture is not mistaken for another: before and after, a coat alone, as browsers draw.
#[test]
fn what_is_kept_belongs_to_what_was_asked() {
    let tint = coat("t", "tint", json!({"fill": {"kind": "solid", "colour": "#ff0000"}, "opacity": 0.5}));
    let part = json!({"id": "a", "name": "a", "shape": {"kind": "box", "w": 90, "h": 70}, "x": 0, "y": 0, "fill": {"kind": "solid", "colour": "#2040c0"}, "wear": {"coats": [tint]}});
    let wide =
        coat("i", "inner", json!({"offset": {"x": 0, "y": 0}, "blur": 900, "spread": 0, "colour": "#000"}));
    let join = json!({"id": "j", "name": "j", "shape": {"kind": "join", "op": "add", "parts": [part]}, "x": 70, "y": 70, "fill": {"kind": "none"}, "wear": {"coats": [wide]}});
    let scene = resolved(json!([star(json!(all_kinds()[..5].to_vec())), join]));
    let (view, cache) = (Viewport::whole(&scene, 1.0), MaskCache::default());
    for coats in [
        CoatFilter::All,
        CoatFilter::None,
        CoatFilter::Only(Id::new("t").unwrap()),
        CoatFilter::Without(Id::new("t").unwrap()),
    ] {
        for (mode, shadow_only) in
            [(RenderMode::EXACT, false), (chromium::CSS, false), (RenderMode::EXACT, true)]
        {
            let part = RenderOptions { coats: coats.clone(), mode, shadow_only, ..RenderOptions::default() };
            let draw = |cache: &MaskCache| picture(&scene, &view, &part, Rounding::Nearest, cache);
            assert_eq!(draw(&cache), draw(&MaskCache::default()), "{part:?}");
        }
    }
}

#[test]
fn browsers_round_each_faint_layer_away() {
    let faint: Vec<_> = (0..64)
        .map(|i| coat(&format!("c{i}"), "drop", json!({"offset": {"x": 0, "y": 30}, "blur": 0, "spread": 0, "colour": "#000", "opacity": 0.0015})))
        .collect();
    let scene = resolved(
        json!([{"id": "p", "name": "P", "shape": {"kind": "box", "w": 80, "h": 60}, "x": 80, "y": 60, "fill": {"kind": "solid", "colour": "#fff"}, "wear": {"coats": faint}}]),
    );
    let view = Viewport::whole(&scene, 1.0);
    let draw = |mode| {
        render(&scene, &view, &RenderOptions { mode, ..RenderOptions::default() }, &MaskCache::default())
            .to_picture(Rounding::Nearest)
    };
    assert_eq!(draw(chromium::CSS).at(120, 140), [0xe8, 0xe4, 0xda, 255], "below 0.002 each vanishes");
    assert!(draw(RenderMode::EXACT).at(120, 140)[0] < 0xe8 - 18, "and all together are seen");
}

#[test]
fn dithering_keeps_the_mean_and_breaks_the_bands() {
    let mean = |picture: &Picture, channel: usize| {
        let values = picture.rgba.chunks(4).map(|pixel| f64::from(pixel[channel]));
        values.sum::<f64>() / f64::from(SIZE.0 * SIZE.1)
    };
    for [from, to] in [["rgb(100 100 100)", "rgb(104 104 104)"], ["rgb(0 20 250)", "rgb(3 24 255)"]] {
        let scene = resolved(
            json!([{"id": "p", "name": "P", "shape": {"kind": "box", "w": 240, "h": 220}, "x": 0, "y": 0,
            "fill": {"kind": "linear", "angle": 90, "stops": [{"at": 0, "colour": from}, {"at": 1, "colour": to}]},
            "wear": {"coats": []}}]),
        );
        let view = Viewport::whole(&scene, 1.0);
        let draw =
            |rounding| picture(&scene, &view, &RenderOptions::default(), rounding, &MaskCache::default());
        let (plain, dithered) = (draw(Rounding::Nearest), draw(Rounding::Dithered));
        for channel in 0..3 {
            let (a, b) = (mean(&plain, channel), mean(&dithered, channel));
            assert!((a - b).abs() < 0.05, "{from}: channel {channel} from {a} to {b}");
            let steps = |picture: &Picture| {
                let differs = |x: &u32| picture.at(*x, 100)[channel] != picture.at(x - 1, 100)[channel];
                (1..SIZE.0).filter(differs).count()
            };
            assert!(
                steps(&plain) <= 5 && steps(&dithered) > 40,
                "{from}: {} {}",
                steps(&plain),
                steps(&dithered)
            );
        }
    }
}

#[test]
fn black_white_and_clear_stay_what_they_are_when_dithered() {
    for (fill, expected) in
        [("#000", [0, 0, 0, 255]), ("#fff", [255, 255, 255, 255]), ("#0f0", [0, 255, 0, 255])]
    {
        let scene = resolved(
            json!([{"id": "p", "name": "P", "shape": {"kind": "box", "w": 240, "h": 220}, "x": 0, "y": 0,
            "fill": {"kind": "solid", "colour": fill}, "wear": {"coats": []}}]),
        );
        let view = Viewport::whole(&scene, 1.0);
        let dithered =
            picture(&scene, &view, &RenderOptions::default(), Rounding::Dithered, &MaskCache::default());
        assert!(dithered.rgba.chunks(4).all(|pixel| pixel == expected), "{fill}");
    }
}

#[test]
fn a_part_of_a_join_keeps_its_opacity_blend_and_clip() {
    let join = |own: Value| {
        let part = |id: &str, x: f64, colour: &str| {
            json!({"id": id, "name": id, "shape": {"kind": "box", "w": 100, "h": 100}, "x": x, "y": 0,
                "fill": {"kind": "solid", "colour": colour}, "wear": {"coats": []}})
        };
        let mut second = part("b", 60.0, "#ff0000");
        for (name, value) in own.as_object().unwrap() {
            second[name] = value.clone();
        }
        render_scene(&resolved(
            json!([{"id": "j", "name": "J", "x": 20, "y": 20, "fill": {"kind": "none"}, "wear": {"coats": []},
            "shape": {"kind": "join", "op": "add", "parts": [part("a", 0.0, "#0000ff"), second]}}]),
        ))
    };
    let (over_first, over_ground) = ((100, 70), (160, 70));
    let plain = join(json!({}));
    assert_eq!(plain.at(over_first.0, over_first.1), [255, 0, 0, 255]);
    // Half of red over blue, and over the ground #e8e4da.
    let faint = join(json!({"opacity": 0.5}));
    assert_eq!(faint.at(over_first.0, over_first.1), [128, 0, 128, 255]);
    let at = faint.at(over_ground.0, over_ground.1);
    assert!(at.iter().zip([244, 114, 109]).all(|(a, b)| a.abs_diff(b) <= 1), "{at:?}");
    // Red times blue is black.
    let multiplied = join(json!({"blend": "multiply"}));
    assert_eq!(multiplied.at(over_first.0, over_first.1), [0, 0, 0, 255]);
    // Only where it lies over the first.
    let clipped = join(json!({"clip_to": "a"}));
    assert_eq!(clipped.at(over_first.0, over_first.1), [255, 0, 0, 255]);
    assert_eq!(clipped.at(over_ground.0, over_ground.1), [0xe8, 0xe4, 0xda, 255]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Pixels stay in range whatever is laid on whatever.
    #[test]
    fn pixels_stay_in_range(mode in 0..16_usize, kind in 0..10_usize, opacity in 0.0..=1.0_f64) {
        const MODES: [&str; 16] = ["normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
            "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity"];
        let mut coat = all_kinds()[kind].clone();
        (coat["blend"], coat["opacity"]) = (json!(MODES[mode]), json!(opacity));
        let scene = resolved(json!([star(json!([coat]))]));
        let canvas = render(&scene, &Viewport::whole(&scene, 1.0), &RenderOptions::default(), &MaskCache::default());
        for pixel in &canvas.pixels {
            prop_assert!(pixel.iter().all(|part| (-1e-4..=1.000_1).contains(part)), "{pixel:?}");
        }
    }
}
