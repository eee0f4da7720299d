//! Living CSS: what Chromium computes from it is what the flat sheet says, and it follows its lights, swatches and fills.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

#[path = "../../zolvet-core/tests/common/library.rs"]
mod library;

use proptest::strategy::{Strategy as _, ValueTree as _};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::css::{CodeOptions, piece_code};
use zolvet_core::handoff::{Pieces, SheetOptions, Style, classes, sheet};
use zolvet_core::lower::Numbers;
use zolvet_core::model::Project;
use zolvet_core::resolve::{self, PieceStates};
use zolvet_core::syntax::slug;
use zolvet_e2e::{Browser, Computed, Difference, Outcome, assert_same, computed};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

/// States as classes, so that each can be looked at without a hand.
const STATES: [(&str, &str); 4] = [
    (":hover", ".is-hover"),
    (":active", ".is-active"),
    (":focus-visible", ".is-focus"),
    (":disabled", ".is-disabled"),
];

fn css(project: &Project, style: Style) -> String {
    // Exact numbers in both: what differs is how they are linked.
    let wanted =
        SheetOptions { style, numbers: Numbers::Exact, pieces: Pieces::Whole, ..SheetOptions::default() };
    let css = sheet(project, &Assets::carried_by(project), &wanted);
    STATES.iter().fold(css, |css, (state, class)| css.replace(state, class))
}

/// An element for every piece that is shown, in every one of these themes and states, with the classes it has in the sheet.
fn elements(project: &Project, themes: &[&str], states: &[(&str, &str)]) -> String {
    let (assets, classes) = (Assets::carried_by(project), classes(project));
    let mut html = String::new();
    for scene in &project.scenes {
        for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
            let (resolved, _) = resolve::piece(project, scene, piece, &assets);
            let code = piece_code(&resolved, &piece.shape, &PieceStates::default(), CodeOptions::default());
            let class = &classes[&(scene.id.clone(), piece.id.clone())];
            let plain = format!("class=\"{}\"", slug(&piece.name));
            for theme in themes {
                for (_, state) in states {
                    let state = state.trim_start_matches('.');
                    let full = format!("class=\"{class} {state}\" data-what=\"{theme} {class} {state}\"");
                    let element = code.html.replacen(&plain, &full, 1);
                    html.push_str(&format!("<div class=\"cell\" data-theme=\"{theme}\">{element}</div>"));
                }
            }
        }
    }
    html
}

fn every_state() -> Vec<(&'static str, &'static str)> {
    std::iter::once(("", "")).chain(STATES).collect()
}

/// Living and flat come to the same for the demo and for random projects.
#[tokio::test]
async fn living_and_flat_come_to_the_same() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let config = Config { failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let strategy = library::document();
    let mut projects = vec![(Project::from_json(DEMO).unwrap(), ["day", "dusk"])];
    for _ in 0..100 {
        let document = strategy.new_tree(&mut runner).map_err(|reason| reason.to_string())?.current();
        projects.push((Project::from_value(&document).unwrap(), ["day", "night"]));
    }
    for (project, themes) in &projects {
        let html = elements(project, themes, &every_state()[..3]);
        let (living, flat) = (css(project, Style::Living), css(project, Style::Flat));
        let (one, other) =
            (computed(&browser, &living, &html, "").await?, computed(&browser, &flat, &html, "").await?);
        assert_same(&one, &other);
    }
    browser.quit().await
}

/// With numbers written as a person would, living and flat CSS draw the same picture, and the one that exact numbers draw.
#[tokio::test]
async fn they_draw_the_same_picture() -> Outcome {
    let browser = Browser::start(1280, 3200).await?;
    let project = Project::from_json(DEMO).unwrap();
    let html = elements(&project, &["day", "dusk"], &[("", "")]);
    let short = |style| {
        let wanted = SheetOptions { style, pieces: Pieces::Whole, ..SheetOptions::default() };
        sheet(&project, &Assets::carried_by(&project), &wanted)
    };
    let cell = ".cell { display: inline-block; padding: 40px; background: #d9d4c7 }";
    let mut pictures = Vec::new();
    for css in [String::new(), css(&project, Style::Flat), short(Style::Flat), short(Style::Living)] {
        // The ground alone, then what is drawn on it.
        let hidden = if css.is_empty() { ".cell * { visibility: hidden }" } else { "" };
        let sheet = if css.is_empty() { short(Style::Flat) } else { css };
        browser.show(&format!("<!doctype html><style>{sheet}{cell}{hidden}</style>{html}")).await?;
        pictures.push(browser.picture().await?);
    }
    for other in &pictures[2..] {
        let off = Difference::touched(&pictures[1], other, &pictures[0]);
        assert!(off.meets_the_bar() && off.mean < 0.1, "{off:?}");
    }
    browser.quit().await
}

/// Turning a light, or changing a swatch, in the shipped sheet is the same as changing it in the project.
#[tokio::test]
async fn it_follows_its_lights_and_swatches() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let document: Value = serde_json::from_str(DEMO)?;
    let project = Project::from_json(DEMO).unwrap();
    let living = css(&project, Style::Living);
    let html = elements(&project, &["day"], &every_state());
    let cases =
        [(20.0, "#7a1f5c"), (95.5, "#0c2d48"), (180.0, "#d0e040"), (271.0, "#ffffff"), (359.0, "#3a3a3a")];
    for (angle, colour) in cases {
        let mut changed = document.clone();
        changed["lights"][0]["bearing"] = json!(angle);
        changed["swatches"][0]["values"]["day"] = json!(colour);
        let flat = css(&Project::from_value(&changed).unwrap(), Style::Flat);
        let root = format!(":root {{ --light-sun: {angle}deg; --colour-leaf: {colour} }}");
        let (one, other) =
            (computed(&browser, &living, &html, &root).await?, computed(&browser, &flat, &html, "").await?);
        assert_same(&one, &other);
    }
    browser.quit().await
}

/// On a new element with another fill, a finish that casts the piece's own colour casts that one.
#[tokio::test]
async fn a_finish_takes_the_fill_of_a_new_element() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let living = css(&Project::from_json(DEMO).unwrap(), Style::Living);
    let html = "<div class=\"lifted\" data-what=\"new\" style=\"--fill: #c02040; background: var(--fill)\"></div>
        <div data-what=\"wanted\" style=\"box-shadow: 0 10px 18px -6px oklch(from #c02040 calc(l - 0.1) c h / 0.6)\"></div>";
    let found = computed(&browser, &living, html, "").await?;
    let colours = |one: &Computed| one.1[0].0.clone();
    let (new, wanted) = (colours(&found[0]), colours(&found[1]));
    let last = &new[new.len() - 4..];
    assert!(last.iter().zip(&wanted).all(|(a, b)| (a - b).abs() < 0.002), "{last:?} and {wanted:?}");
    browser.quit().await
}
