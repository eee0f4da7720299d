//! Pictures as browsers draw them, against Chromium's own: random stacks at fractional places, on screens of 1x and 2x
//! (docs/measuring.md, "Bars"). `ZOLVET_CASES=2000` makes a long run.

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

use std::fmt::Write as _;

use base64::Engine as _;
use zolvet_core::asset::Assets;
use zolvet_core::chromium::shown_as_css;
use zolvet_core::compose::{MaskCache, RenderOptions, Viewport};
use zolvet_core::css::Specimen;
use zolvet_core::model::{CssColour, Px};
use zolvet_core::picture::Picture;
use zolvet_e2e::chance::Chance;
use zolvet_e2e::{Browser, Difference, keep_pictures};

#[derive(Clone, Copy, PartialEq)]
enum Kind {
    Box,
    Text,
    Filter,
}

struct Case {
    kind: Kind,
    css: String,
    at: (f64, f64),
    size: (f64, f64),
    radius: f64,
    fill: String,
}

/// A screen: its viewport in CSS px, and device pixels for one of them. No larger than Chromium paints in one tile: wide
/// blurs are cut off where tiles end.
struct ScreenSize {
    side: (u32, u32),
    density: u32,
}

const SCREENS: [ScreenSize; 2] =
    [ScreenSize { side: (480, 360), density: 1 }, ScreenSize { side: (250, 250), density: 2 }];
const GROUND: &str = "#e8e4da";

fn case(chance: &mut Chance, kind: Kind, (width, height): (f64, f64)) -> Case {
    let size =
        (chance.tenths(width * 0.1, width * 0.5).floor(), chance.tenths(height * 0.1, height * 0.5).floor());
    let half = size.0.min(size.1) / 2.0;
    let radius = match chance.below(3) {
        0 => 0.0,
        1 => chance.tenths(0.0, half).floor(),
        _ => chance.tenths(0.0, half),
    };
    let css = match kind {
        Kind::Box => {
            let layers: Vec<String> = (0..=chance.below(3))
                .map(|_| {
                    let inset = if chance.below(3) == 0 { "inset " } else { "" };
                    let (x, y) = (chance.tenths(-30.0, 30.0), chance.tenths(-30.0, 30.0));
                    let spread = chance.of(&[0.0, 0.0, -4.0, 3.0, 7.5, 20.0]);
                    format!(
                        "{inset}{x:.1}px {y:.1}px {:.1}px {spread}px {}",
                        chance.blur(256.0),
                        chance.colour()
                    )
                })
                .collect();
            format!("box-shadow: {}", layers.join(", "))
        }
        Kind::Text => {
            let layers: Vec<String> = (0..=chance.below(2))
                .map(|_| {
                    let (x, y) = (chance.tenths(-10.0, 10.0), chance.tenths(-10.0, 10.0));
                    format!("{x:.1}px {y:.1}px {:.1}px {}", chance.blur(256.0), chance.colour())
                })
                .collect();
            format!("text-shadow: {}", layers.join(", "))
        }
        Kind::Filter => {
            let functions: Vec<String> = (0..=chance.below(2))
                .map(|_| {
                    if chance.below(4) == 0 {
                        return format!("blur({:.1}px)", chance.blur(20.0));
                    }
                    let (x, y) = (chance.tenths(-20.0, 20.0), chance.tenths(-20.0, 20.0));
                    format!("drop-shadow({x:.1}px {y:.1}px {:.1}px {})", chance.blur(128.0), chance.colour())
                })
                .collect();
            format!("filter: {}", functions.join(" "))
        }
    };
    let place =
        |chance: &mut Chance, room: f64, size: f64| chance.tenths(room * 0.2, room * 0.8 - size * 0.6);
    let at = (place(chance, width, size.0), place(chance, height, size.1));
    Case { kind, css, at, size, radius, fill: format!("#{:06x}", chance.below(1 << 24)) }
}

/// What our core says a browser draws.
fn ours(case: &Case, screen: &ScreenSize, cache: &MaskCache) -> (Picture, Picture) {
    let specimen = Specimen {
        css: case.css.clone(),
        piece: case.size,
        radius: case.radius,
        fill: CssColour::parse(&case.fill).expect("a colour"),
        ground: CssColour::parse(GROUND).expect("a colour"),
        size: (f64::from(screen.side.0), f64::from(screen.side.1)),
        text: (case.kind == Kind::Text).then(|| "Seedling".to_owned()),
    };
    let mut project = specimen.project().expect(&case.css);
    let piece = &mut project.scenes[0].pieces[0];
    (piece.x, piece.y) = (Px::new(case.at.0).unwrap(), Px::new(case.at.1).unwrap());
    let draw = |project: &zolvet_core::model::Project| {
        let scene = zolvet_core::resolve::scene(project, &project.scenes[0], &Assets::default());
        let view = Viewport::whole(&scene, f64::from(screen.density));
        shown_as_css(&scene, &specimen.filters().unwrap(), &view, &RenderOptions::default(), cache)
    };
    let shown = draw(&project);
    project.scenes[0].pieces.clear();
    let scene = zolvet_core::resolve::scene(&project, &project.scenes[0], &Assets::default());
    let bare = shown_as_css(
        &scene,
        &[],
        &Viewport::whole(&scene, f64::from(screen.density)),
        &RenderOptions::default(),
        cache,
    );
    (shown, bare)
}

const PAGE: &str = "<!doctype html><meta charset=utf-8><style>@font-face{font-family:Figtree;font-weight:700;src:url(data:font/ttf;base64,FONT)}\
body{margin:0;overflow:hidden}.p{position:absolute;box-sizing:border-box}.t{font:700 32px/1.25 Figtree;white-space:pre;text-rendering:geometricPrecision}</style><body><p class=t>0";

fn placing(case: &Case) -> String {
    let (w, h) = case.size;
    let box_style =
        format!("width:{w}px;height:{h}px;border-radius:{}px;background:{}", case.radius, case.fill);
    let text_style = format!("color:{}", case.fill);
    let (class, style, text) =
        if case.kind == Kind::Text { ("p t", text_style, "Seedling") } else { ("p", box_style, "") };
    let (x, y) = case.at;
    format!(
        "document.body.style.background = '{GROUND}'; document.body.innerHTML = ''; const e = document.createElement('div');
         e.className = '{class}'; e.style.cssText = '{style};left:{x}px;top:{y}px;{}'; e.textContent = '{text}';
         document.body.append(e);",
        case.css
    )
}

/// The bar (docs/measuring.md, "Bars").
fn meets(difference: &Difference) -> bool {
    difference.mean <= 1.25 && difference.p99 <= 5 && difference.p999 <= 12
}

async fn compare(kind: Kind) {
    let count = std::env::var("ZOLVET_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(200);
    let font = include_bytes!("../../../assets/fonts/figtree/figtree-700.ttf");
    let font = base64::engine::general_purpose::STANDARD.encode(font);
    let mut failures = String::new();
    let mut compared = 0;
    for screen in &SCREENS {
        let (width, height) = screen.side;
        let browser = Browser::start_on(width, height, screen.density).await.expect("Chromium");
        browser.show(&PAGE.replace("FONT", &font)).await.expect("the page");
        let cache = MaskCache::default();
        let mut chance = Chance::new(0x5EED_0000 + u64::from(screen.density) + kind as u64 * 16);
        for number in 0..count / 6 + 1 {
            let case = case(&mut chance, kind, (f64::from(screen.side.0), f64::from(screen.side.1)));
            browser.driver.execute(placing(&case), vec![]).await.expect(&case.css);
            let theirs = browser.picture().await.expect("a picture");
            let (ours, bare) = ours(&case, screen, &cache);
            let difference = Difference::touched(&ours, &theirs, &bare);
            let Case { at, size, radius, css, .. } = &case;
            let said = format!(
                "{:.3} {:3} {:3} {:3} {}x {number}: at {at:?} size {size:?} radius {radius} {css}",
                difference.mean, difference.p99, difference.p999, difference.worst, screen.density
            );
            println!("{said}");
            compared += 1;
            if !meets(&difference) {
                let _ = writeln!(failures, "{said}");
                let name = format!("{}-{}x-{number}", kind as u8, screen.density);
                keep_pictures(&name, &ours, &theirs).expect("written");
            }
        }
        browser.quit().await.expect("the end");
    }
    assert!(compared > count / 3, "{compared}");
    assert!(failures.is_empty(), "further from Chromium than the bar:\n{failures}");
}

#[tokio::test]
async fn random_box_shadows_are_as_chromium_draws_them() {
    compare(Kind::Box).await;
}

#[tokio::test]
async fn random_text_shadows_are_as_chromium_draws_them() {
    compare(Kind::Text).await;
}

#[tokio::test]
async fn random_filters_are_as_chromium_draws_them() {
    compare(Kind::Filter).await;
}
