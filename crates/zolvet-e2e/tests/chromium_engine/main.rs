//! Every kind of piece and coat against Chromium's picture of the equivalent HTML and SVG (docs/measuring.md, "Bars").
//!
//! The equivalents say in the words of CSS, Filter Effects 1 and 2, Compositing and Blending 1, CSS Images 3 and SVG 2
//! what the document says in its own.

#![allow(clippy::expect_used, clippy::unwrap_used, clippy::panic, missing_docs)]

mod case;
mod coats;
mod fills;
mod groups;
mod pieces;
mod texts;

use std::fmt::Write as _;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::json;
use zolvet_core::asset::Assets;
use zolvet_core::chromium;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::model::Project;
use zolvet_core::picture::Picture;
use zolvet_core::resolve::Scene;
use zolvet_e2e::{Browser, Difference, Outcome, keep_pictures};

use crate::case::{Case, leaf};

const WIDTH: u32 = 400;
const HEIGHT: u32 = 300;

/// The case as our core draws it, or says that a browser will, and its bare ground.
fn ours(case: &Case, as_browser: bool) -> (Picture, Picture) {
    let mut assets = vec![
        json!({"id": "leaf", "name": "Leaf", "media_type": "image/png", "data": STANDARD.encode(leaf().to_png().unwrap())}),
    ];
    assets.extend(texts::brought().into_iter().map(|font| font.asset()));
    let document = json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "assets": assets,
        "scenes": [{"id": "a", "name": "A", "width": WIDTH, "height": HEIGHT, "theme": "t", "ground": case.ground, "pieces": case.pieces}]
    });
    let project =
        Project::from_value(&document).unwrap_or_else(|problems| panic!("{}: {problems:?}", case.name));
    let scene = zolvet_core::resolve::scene(&project, &project.scenes[0], &Assets::carried_by(&project));
    assert_eq!(scene.notes, [], "{}", case.name);
    let draw = |scene: &Scene| {
        let view = Viewport::whole(scene, 1.0);
        let part = RenderOptions { mode: chromium::CSS, ..RenderOptions::default() };
        if as_browser {
            return chromium::shown_as_css(
                scene,
                &[],
                &view,
                &RenderOptions::default(),
                &MaskCache::default(),
            );
        }
        picture(scene, &view, &part, Rounding::Nearest, &MaskCache::default())
    };
    (draw(&scene), draw(&Scene { pieces: Vec::new(), ..scene.clone() }))
}

fn page() -> String {
    let mut page = "<!doctype html><meta charset=utf-8><style>body{margin:0;overflow:hidden}div,img,p{position:absolute;margin:0}p{text-rendering:geometricPrecision}".to_owned();
    for family in &zolvet_core::geometry::text::FAMILIES {
        for face in family.faces {
            let data = STANDARD.encode(face.data);
            let _ = write!(
                page,
                "@font-face{{font-family:'{}';font-weight:{};src:url(data:font/ttf;base64,{data})}}",
                family.name, face.weight
            );
        }
    }
    page.extend(texts::brought().into_iter().map(|font| font.rule()));
    page + "</style><body>"
}

async fn compare(cases: Vec<Case>) -> Outcome {
    compare_with(cases, false, Difference::meets_the_bar_but_for_edges).await
}

async fn compare_with(cases: Vec<Case>, as_browser: bool, meets: fn(&Difference) -> bool) -> Outcome {
    let browser = Browser::start(WIDTH, HEIGHT).await?;
    browser.show(&page()).await?;
    let mut failures = String::new();
    for (i, case) in cases.iter().enumerate() {
        let put = "const done = arguments[2]; document.body.style.background = arguments[0]; document.body.style.height = '300px';
            document.body.innerHTML = arguments[1];
            Promise.all([...document.images].map((image) => image.decode())).then(() => requestAnimationFrame(() => setTimeout(done, 30)));";
        browser.driver.execute_async(put, vec![json!(case.page), json!(case.html)]).await?;
        let (theirs, (ours, bare)) = (browser.picture().await?, ours(case, as_browser));
        let difference = Difference::touched(&ours, &theirs, &bare);
        println!(
            "{:.3} {:2} {:3} {:3}  {}",
            difference.mean, difference.p99, difference.p999, difference.worst, case.name
        );
        if !meets(&difference) {
            let _ = writeln!(failures, "{difference:?} {}", case.name);
            keep_pictures(&format!("{}-{i}", case.name.replace([' ', ','], "-")), &ours, &theirs)?;
        }
    }
    browser.quit().await?;
    assert!(failures.is_empty(), "further from Chromium than the bar:\n{failures}");
    Ok(())
}

#[tokio::test]
async fn pieces_look_as_chromium_draws_them() -> Outcome {
    compare(pieces::cases()).await
}

#[tokio::test]
async fn fills_look_as_chromium_draws_them() -> Outcome {
    compare(fills::fills()).await
}

#[tokio::test]
async fn blend_modes_look_as_chromium_draws_them() -> Outcome {
    compare(fills::blending()).await
}

#[tokio::test]
async fn coats_look_as_chromium_draws_them() -> Outcome {
    compare(coats::cases()).await
}

#[tokio::test]
async fn texts_look_as_chromium_draws_them() -> Outcome {
    compare(texts::texts()).await
}

/// The bar (docs/measuring.md, "Bars"), to its last pixel.
#[tokio::test]
async fn fonts_that_are_brought_look_as_chromium_draws_them() -> Outcome {
    let meets = |found: &Difference| found.mean <= 1.25 && found.p99 <= 5 && found.p999 <= 12;
    compare_with(texts::in_brought_fonts(), true, meets).await
}

/// Groups: elements around others, faded, mixed, turned and shaded as one.
#[tokio::test]
async fn groups_look_as_chromium_draws_them() -> Outcome {
    compare(groups::cases()).await
}
