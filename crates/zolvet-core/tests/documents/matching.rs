//! Stacks found on pictures that are drawn as a browser draws them (docs/measuring.md, "Pictures").

#![allow(clippy::unwrap_used)]
use zolvet_core::asset::Assets;
use zolvet_core::chromium::shown_as_css;
use zolvet_core::compose::{MaskCache, RenderOptions, Viewport};
use zolvet_core::css::Specimen;
use zolvet_core::model::{Coat, CssColour, OwnCoats, Wear};
use zolvet_core::picture::Picture;
use zolvet_core::resolve;
use zolvet_core::solve::{MatchRequest, PlacedBox, Shadow, match_picture, matched_coats};

/// A card of 160 × 100 px at 100,75 on a grey ground, with some CSS.
fn drawn(css: &str, density: f64) -> Picture {
    drawn_with(css, density, None)
}

/// The same, or with coats instead.
fn drawn_with(css: &str, density: f64, coats: Option<Vec<Coat>>) -> Picture {
    let specimen = Specimen {
        css: css.to_owned(),
        piece: (160.0, 100.0),
        radius: 12.0,
        fill: CssColour::parse("#fffdf8").unwrap(),
        ground: CssColour::parse("#dde1e4").unwrap(),
        size: (360.0, 250.0),
        text: None,
    };
    let mut project = specimen.project().unwrap();
    if let Some(coats) = coats {
        project.scenes[0].pieces[0].wear = Wear::Coats(OwnCoats { coats });
    }
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let view = Viewport::whole(&scene, density);
    shown_as_css(&scene, &[], &view, &RenderOptions::default(), &MaskCache::default())
}

fn request(picture: &Picture, density: f64, place: Option<PlacedBox>) -> MatchRequest<'_> {
    MatchRequest { picture, density, place, is_compressed: false, most: 2 }
}

/// How much a shadow changes the ground where it covers all of it, at most over the channels.
fn strength(shadow: &Shadow) -> f64 {
    let ground = [0xdd, 0xe1, 0xe4].map(|channel| f64::from(channel) / 255.0);
    let change = ground.iter().zip(shadow.colour).map(|(ground, colour)| shadow.opacity * (ground - colour));
    change.fold(0.0, |most: f64, change| if change.abs() > most.abs() { change } else { most })
}

/// Offset within 0.5 px, the box within 0.5 px, its radius within 1; blur within 2 px or 5 %, strength within 1.5 %; and most as they
/// were typed.
#[test]
fn single_shadows_are_found_with_their_numbers() {
    let cases: [(f64, [f64; 4], f64, f64); 6] = [
        (1.0, [0.0, 4.0, 12.0, 0.0], 0.25, 0.0),
        (1.0, [-6.0, 10.0, 30.0, -4.0], 0.4, 0.0),
        (2.0, [0.0, 2.0, 6.0, 0.0], 0.2, 0.0),
        (1.0, [8.0, 16.0, 48.0, 4.0], 0.3, 40.0),
        (2.0, [3.0, 8.0, 20.0, -6.0], 0.5, 0.0),
        (1.0, [0.0, 20.0, 40.0, -10.0], 0.5, 20.0),
    ];
    let mut exact = 0;
    for (density, [dx, dy, blur, spread], opacity, channel) in cases {
        let css = format!(
            "box-shadow: {dx}px {dy}px {blur}px {spread}px rgb({channel} {channel} {channel} / {opacity})"
        );
        let picture = drawn(&css, density);
        let found = match_picture(&request(&picture, density, None)).unwrap();
        let place = found.place;
        for (found, wanted) in
            [(place.left, 100.0), (place.top, 75.0), (place.right(), 260.0), (place.bottom(), 175.0)]
        {
            assert!((found - wanted).abs() <= 0.5, "{css}: {place:?}");
        }
        assert!((place.radius - 12.0).abs() <= 1.0, "{css}: {place:?}");
        let one = found.by_count.iter().find(|stack| stack.outside.len() == 1 && stack.inside.is_empty());
        let one = &one.unwrap().outside[0];
        let has_one_zero = |length: f64| length != 0.0 || length.is_sign_positive();
        assert!([one.dx, one.dy, one.blur, one.spread].into_iter().all(has_one_zero), "{css}: {one:?}");
        let colour = [channel / 255.0; 3];
        let wanted = strength(&Shadow { dx, dy, blur, spread, opacity, colour });
        assert!((one.dx - dx).abs() <= 0.5 && (one.dy - dy).abs() <= 0.5, "{css}: {one:?}");
        let off = (strength(one) / wanted - 1.0).abs();
        assert!((one.blur - blur).abs() <= f64::max(2.0, 0.05 * blur), "{css}: {one:?}");
        assert!(off <= 0.015, "{css}: {one:?}, {wanted}");
        let is_exact = one.dx == dx && one.dy == dy && one.blur == blur && one.spread == spread;
        exact += usize::from(is_exact && (one.opacity - opacity).abs() < 1e-9);
        println!("{css}: {one:?}, off {off:.4}");
    }
    assert!(exact >= 4, "{exact} exact");
}

#[test]
fn a_border_comes_back_as_a_stroke_and_inner_shadows_lie_inside_it() {
    let css =
        "box-shadow: inset 0 0 0 2px #8a94a6, inset 0 6px 14px rgb(0 0 0 / 0.35), 0 3px 9px rgb(0 0 0 / 0.2)";
    let picture = drawn(css, 1.0);
    let found = match_picture(&request(&picture, 1.0, None)).unwrap();
    assert_eq!(found.border.map(|border| border.0), Some(2.0), "{found:?}");
    let stack = &found.by_count[found.suggested];
    assert_eq!((stack.outside.len(), stack.inside.len()), (1, 1), "{stack:?}");
    assert!(stack.error.mean < 0.5 && stack.error.p99 <= 3.0, "{stack:?}");
    let kinds: Vec<&str> = matched_coats(&found, stack).iter().map(|coat| coat.kind.name()).collect();
    assert_eq!(kinds, ["stroke", "inner", "drop"]);
    // As coats they draw the picture.
    let again = drawn_with(css, 1.0, Some(matched_coats(&found, stack)));
    let offs: Vec<u8> = picture.rgba.iter().zip(&again.rgba).map(|(a, b)| a.abs_diff(*b)).collect();
    let off = offs.iter().map(|off| u64::from(*off)).sum::<u64>() as f64 / offs.len() as f64;
    assert!(off < 0.3, "{off}");
}

/// Pictures of nothing, of noise, and boxes that lie outside: there is an answer or none, and no panic.
#[test]
fn any_picture_comes_to_an_end() {
    let mut state = 7_u32;
    let mut byte = || {
        state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
        (state >> 24) as u8
    };
    for (width, height, is_noise) in
        [(1, 1, true), (3, 40, true), (40, 3, false), (24, 24, true), (64, 48, true), (64, 48, false)]
    {
        let rgba = (0..width * height * 4).map(|_| if is_noise { byte() } else { 200 }).collect();
        let picture = Picture { width, height, rgba };
        for is_compressed in [false, true] {
            let asked = MatchRequest { is_compressed, ..request(&picture, 1.0, None) };
            drop(match_picture(&asked));
            let outside = PlacedBox { left: -9.0, top: 30.0, width: 500.0, height: 4.0, radius: 900.0 };
            drop(match_picture(&MatchRequest { place: Some(outside), ..asked }));
            let inside = PlacedBox { left: 1.0, top: 1.0, width: 1.0, height: 1.0, radius: 0.0 };
            drop(match_picture(&MatchRequest { place: Some(inside), ..asked }));
        }
    }
}
