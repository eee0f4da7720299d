//! The core's pictures against Chromium's own pictures of the same CSS (docs/measuring.md, "Bars").

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

use std::fmt::Write as _;

use base64::Engine as _;
use zolvet_core::asset::Assets;
use zolvet_core::chromium::shown_as_css;
use zolvet_core::compose::{MaskCache, RenderOptions, Viewport};
use zolvet_core::css::Specimen;
use zolvet_core::model::CssColour;
use zolvet_core::picture::Picture;
use zolvet_core::resolve::Scene;
use zolvet_e2e::{Browser, Difference, keep_pictures};

const CELL: (u32, u32) = (480, 360);

struct Case {
    css: &'static str,
    piece: (f64, f64),
    radius: f64,
    fill: &'static str,
    ground: &'static str,
    text: Option<&'static str>,
}

const fn case(css: &'static str) -> Case {
    Case { css, piece: (200.0, 140.0), radius: 16.0, fill: "#ffffff", ground: "#e8e4da", text: None }
}

const fn text(string: &'static str, css: &'static str) -> Case {
    Case { text: Some(string), fill: "#24433c", ..case(css) }
}

/// Shadow stacks: outer, inset, mixed, spread both ways, radii from none to half the side, translucent fills, light
/// and dark grounds, blur 0 to 200, fractional offsets.
const BOXES: &[Case] = &[
    case("box-shadow: 0 6px 10px rgb(0 0 0 / .4)"),
    case("box-shadow: 6px 6px 0 black"),
    case("box-shadow: 0 0 2px black"),
    case("box-shadow: 0 1px 1px black"),
    case("box-shadow: -7px 9px 4px 3px rgb(20 60 40 / .8)"),
    case("box-shadow: 0 14px 16px -8px rgb(0 0 0 / .7)"),
    case("box-shadow: 0 0 0 12px #2f7d6b"),
    case("box-shadow: 0 30px 60px rgb(30 20 10 / .5)"),
    case("box-shadow: 0 0 120px 4px #c05030"),
    case("box-shadow: 0 0 200px black"),
    case("box-shadow: 0 60px 80px -40px black"),
    case("box-shadow: .4px .6px 60px black"),
    case("box-shadow: 2.5px 3.25px 6.5px .75px rgb(0 0 0 / .6)"),
    Case { radius: 0.0, ..case("box-shadow: 4.4px 6.6px 0 black") },
    case("box-shadow: inset 0 6px 10px rgb(0 0 0 / .4)"),
    case("box-shadow: inset 0 0 0 5px #2f7d6b"),
    case("box-shadow: inset 4px -4px 0 black"),
    case("box-shadow: inset 0 0 40px 10px black"),
    case("box-shadow: inset 0 8px 18px -6px rgb(0 0 0 / .9)"),
    case("box-shadow: inset 1.5px 2.5px 3px rgb(90 0 0 / .8)"),
    case("box-shadow: inset 0 0 80px #204080"),
    case("box-shadow: inset 0 1px 0 white, 0 1px 2px rgb(0 0 0 / .3), 0 8px 24px -4px rgb(0 0 0 / .4)"),
    case(
        "box-shadow: 0 25px 25px rgb(0 0 0 / .15), 0 50px 50px rgb(0 0 0 / .15), 0 75px 75px rgb(0 0 0 / .2), 0 100px 100px rgb(0 0 0 / .1)",
    ),
    case(
        "box-shadow: 2px 2px 2px rgb(0 0 0 / .3), 12px 12px 24px rgb(0 0 0 / .25), -2px -2px 2px rgb(255 255 255 / .4), -12px -12px 24px rgb(255 255 255 / .35)",
    ),
    case(
        "box-shadow: inset 0 12px 16px -8px rgb(255 255 255 / .8), inset 0 -8px 8px -4px rgb(0 0 0 / .12), 0 16px 16px -8px rgb(40 70 50 / .6)",
    ),
    Case { radius: 0.0, ..case("box-shadow: 0 8px 12px 6px rgb(0 0 0 / .5)") },
    Case { radius: 0.0, ..case("box-shadow: inset 3px 3px 8px 2px rgb(0 0 0 / .7), 0 0 0 1px black") },
    Case { radius: 70.0, ..case("box-shadow: 0 10px 20px rgb(0 0 0 / .5), inset 0 0 12px #a06020") },
    Case { radius: 70.0, ..case("box-shadow: 0 0 0 20px rgb(0 0 0 / .5)") },
    Case { radius: 6.0, ..case("box-shadow: 0 0 0 30px #804020") },
    Case { radius: 2.0, ..case("box-shadow: 0 0 10px 18px rgb(0 0 0 / .8)") },
    Case { radius: 40.0, ..case("box-shadow: 0 0 0 -20px black, inset 0 0 0 -30px red") },
    // A circle spread to three times its size tells the newer corner rule from the older one.
    Case { piece: (40.0, 40.0), radius: 20.0, ..case("box-shadow: 0 0 0 40px #2f7d6b") },
    Case { piece: (60.0, 60.0), radius: 20.0, ..case("box-shadow: 0 0 0 40px #2f7d6b") },
    Case { fill: "rgb(255 255 255 / .5)", ..case("box-shadow: 0 6px 12px 4px black") },
    Case { fill: "rgb(40 80 160 / .3)", ..case("box-shadow: 4px 4px 0 black, inset 0 0 20px white") },
    Case {
        fill: "#2f7d6b",
        ground: "#101413",
        ..case("box-shadow: 0 8px 24px rgb(47 125 107 / .6), inset 0 1px 1px rgb(255 255 255 / .5)")
    },
    Case { fill: "#1b1f1e", ground: "#000000", ..case("box-shadow: 0 0 40px 8px rgb(120 255 200 / .7)") },
    Case { fill: "#ff8040", ground: "#f4f4f4", ..case("box-shadow: 0 6px 10px rgb(255 128 64 / .4)") },
    Case {
        piece: (199.0, 57.0),
        radius: 28.5,
        fill: "#2f7d6b",
        ..case("box-shadow: 0 6px 10px #2f7d6b66, inset 0 -2px 3px #0008")
    },
];

/// Text-shadow stacks, at 32 px. Hinting is off (`geometricPrecision`); Chromium blurs each glyph of a text by itself,
/// so that wide glows of neighbouring letters come out a little weaker than the one silhouette they are.
const TEXTS: &[Case] = &[
    text("Seedling", "text-shadow: 0 2px 4px rgb(0 0 0 / .4)"),
    text("Quill", "text-shadow: 6px 6px 0 black"),
    text("Open valve", "text-shadow: 3px 3px 2px rgb(0 0 0 / .7)"),
    text("Frost 4°", "text-shadow: 0 0 20px #ff5020"),
    text("Plot & row", "text-shadow: 1px 1px 0 white, -1px -1px 0 black"),
    text("WAVY", "text-shadow: 2.5px 3.5px 6px rgb(0 0 0 / .8)"),
    text("two\nlines", "text-shadow: 0 10px 30px black"),
    text("mgjpqy", "text-shadow: 0 1px 1px #fff8, 0 -1px 1px #0008"),
    text("Äpfel", "text-shadow: 0 0 60px #204080, 0 0 10px #6080c0"),
    Case {
        fill: "rgb(200 255 230 / .6)",
        ground: "#0d1211",
        ..text("21:40", "text-shadow: 0 0 12px rgb(96 255 192 / .5)")
    },
    text("To Ya", "text-shadow: 8px 12px 160px black"),
];

/// The case as our core draws it, and its bare ground.
fn ours(case: &Case, cache: &MaskCache) -> (Picture, Picture) {
    let specimen = Specimen {
        css: case.css.to_owned(),
        piece: case.piece,
        radius: case.radius,
        fill: CssColour::parse(case.fill).expect("a colour"),
        ground: CssColour::parse(case.ground).expect("a colour"),
        size: (f64::from(CELL.0), f64::from(CELL.1)),
        text: case.text.map(str::to_owned),
    };
    let project = specimen.project().expect(case.css);
    let scene = zolvet_core::resolve::scene(&project, &project.scenes[0], &Assets::default());
    let filters = specimen.filters().expect(case.css);
    let draw = |scene: &Scene| {
        shown_as_css(scene, &filters, &Viewport::whole(scene, 1.0), &RenderOptions::default(), cache)
    };
    (draw(&scene), draw(&Scene { pieces: Vec::new(), ..scene.clone() }))
}

const PAGE: &str = "<!doctype html><meta charset=utf-8><style>@font-face{font-family:Figtree;font-weight:700;src:url(data:font/ttf;base64,FONT)}\
body{margin:0;overflow:hidden}.p{position:absolute;box-sizing:border-box}.t{font:700 32px/1.25 Figtree;white-space:pre;text-rendering:geometricPrecision}</style><body><p class=t>0";

/// Puts one case on the page; text lies where the program puts it, at the rounded-down middle of its own box.
fn placing(case: &Case) -> String {
    let (w, h) = case.piece;
    let (width, height) = (f64::from(CELL.0), f64::from(CELL.1));
    let box_style =
        format!("width:{w}px;height:{h}px;border-radius:{}px;background:{}", case.radius, case.fill);
    let text_style = format!("color:{}", case.fill);
    let (class, style) = if case.text.is_some() { ("p t", text_style) } else { ("p", box_style) };
    format!(
        "document.body.style.background = '{}'; document.body.innerHTML = ''; const e = document.createElement('div');
         e.className = '{class}'; e.style.cssText = '{style};{}'; e.textContent = {}; document.body.append(e);
         const r = e.getBoundingClientRect(); e.style.left = Math.floor(({width} - r.width) / 2) + 'px';
         e.style.top = Math.floor(({height} - r.height) / 2) + 'px';",
        case.ground,
        case.css,
        serde_json::json!(case.text.unwrap_or_default())
    )
}

async fn compare(cases: &[Case]) {
    // Each case has the viewport for itself: Chromium paints larger pages in tiles, and cuts wide blurs off at them.
    let browser = Browser::start(CELL.0, CELL.1).await.expect("Chromium");
    let font = include_bytes!("../../../assets/fonts/figtree/figtree-700.ttf");
    let font = base64::engine::general_purpose::STANDARD.encode(font);
    browser.show(&PAGE.replace("FONT", &font)).await.expect("the page");
    let cache = MaskCache::default();
    let mut failures = String::new();
    for (i, case) in cases.iter().enumerate() {
        browser.driver.execute(placing(case), vec![]).await.expect(case.css);
        let theirs = browser.picture().await.expect("a picture");
        let (ours, bare) = ours(case, &cache);
        let difference = Difference::touched(&ours, &theirs, &bare);
        println!(
            "{:.3} {:2} {:3} {:3}  {}",
            difference.mean, difference.p99, difference.p999, difference.worst, case.css
        );
        let meets = match case.text {
            Some(_) => difference.meets_the_bar_but_for_edges(),
            None => difference.meets_the_bar(),
        };
        if !meets {
            let _ = writeln!(failures, "{difference:?} {}", case.css);
            let kind = if case.text.is_some() { "text" } else { "box" };
            keep_pictures(&format!("{kind}-{i}"), &ours, &theirs).expect("written");
        }
    }
    browser.quit().await.expect("the end");
    assert!(failures.is_empty(), "further from Chromium than the bar:\n{failures}");
}

#[tokio::test]
async fn boxes_look_as_chromium_draws_them() {
    compare(BOXES).await;
}

#[tokio::test]
async fn text_looks_as_chromium_draws_it() {
    compare(TEXTS).await;
}
