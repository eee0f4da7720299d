//! Living CSS: what Chromium computes from it is what the flat sheet says, and it follows its lights, swatches and fills.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::collections::BTreeMap;

use proptest::strategy::{Strategy as _, ValueTree as _};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::asset::Assets;
use zolvet_core::audit::{FindingKind, Limits, audit};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::{CodeOptions, piece_code};
use zolvet_core::handoff::{Pieces, SheetOptions, Style, classes, sheet};
use zolvet_core::lower::{Numbers, TrialPiece, trial};
use zolvet_core::model::{Id, OwnCoats, Piece, Project, Scene, Shape, Wear};
use zolvet_core::resolve::{self, PieceStates};
use zolvet_core::syntax::slug;
use zolvet_e2e::{Browser, Computed, Difference, Outcome, assert_same, computed};
use zolvet_samples::library;

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
    let wanted = SheetOptions {
        style,
        numbers: Numbers::Exact,
        pieces: Pieces::Whole,
        scenes: true,
        ..SheetOptions::default()
    };
    let css = sheet(project, &Assets::carried_by(project), &wanted);
    STATES.iter().fold(css, |css, (state, class)| css.replace(state, class))
}

/// A piece with those in it. What follows no other control is in the state itself.
fn element(
    (project, scene): (&Project, &Scene),
    piece: &Piece,
    (theme, state): (&str, &str),
    (assets, classes): (&Assets, &BTreeMap<(Id, Id), String>),
) -> String {
    let class = &classes[&(scene.id.clone(), piece.id.clone())];
    let is_own = project.control_of(scene, piece).is_none_or(|control| control.id == piece.id);
    let own_state = if is_own { state } else { "" };
    let full = format!("class=\"{class} {own_state}\" data-what=\"{theme} {class} {state}\"");
    if matches!(piece.shape, Shape::Group(_)) {
        let parts = piece.shape.parts().iter().filter(|part| !part.hidden);
        let inside: String =
            parts.map(|part| element((project, scene), part, (theme, state), (assets, classes))).collect();
        return format!("<div {full}>{inside}</div>");
    }
    let (resolved, _) = resolve::piece(project, scene, piece, assets);
    let code = piece_code(&resolved, &piece.shape, &PieceStates::default(), CodeOptions::default());
    let plain = format!("class=\"{}\"", slug(&piece.name));
    code.html.replacen(&plain, &full, 1)
}

/// An element for every piece that is shown, in every one of these themes and states, with the classes it has in the sheet.
fn elements(project: &Project, themes: &[&str], states: &[(&str, &str)]) -> String {
    let (assets, classes) = (Assets::carried_by(project), classes(project));
    let mut html = String::new();
    for scene in &project.scenes {
        for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
            for theme in themes {
                for (_, state) in states {
                    let state = state.trim_start_matches('.');
                    let element = element((project, scene), piece, (theme, state), (&assets, &classes));
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

/// The demo and a hundred projects that look like chance, the same every time, with their themes.
fn projects() -> Outcome<Vec<(Project, [&'static str; 2])>> {
    let config = Config { failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let strategy = library::document();
    let mut projects = vec![(Project::from_json(DEMO).unwrap(), ["day", "dusk"])];
    for _ in 0..100 {
        let document = strategy.new_tree(&mut runner).map_err(|reason| reason.to_string())?.current();
        projects.push((Project::from_value(&document).unwrap(), ["day", "night"]));
    }
    Ok(projects)
}

/// Living and flat come to the same for the demo and for random projects.
#[tokio::test]
async fn living_and_flat_come_to_the_same() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    for (project, themes) in &projects()? {
        let html = elements(project, themes, &every_state());
        let (living, flat) = (css(project, Style::Living), css(project, Style::Flat));
        let (one, other) =
            (computed(&browser, &living, &html, "").await?, computed(&browser, &flat, &html, "").await?);
        assert_same(&one, &other);
    }
    browser.quit().await
}

/// With numbers written as a person would, living and flat CSS draw the picture that exact numbers draw, in every state and theme
/// of the demo and forty projects.
#[tokio::test]
async fn they_draw_the_same_picture() -> Outcome {
    let browser = Browser::start(1280, 1600).await?;
    for (project, themes) in projects()?.into_iter().take(41) {
        let short = |style| {
            let wanted =
                SheetOptions { style, pieces: Pieces::Whole, scenes: true, ..SheetOptions::default() };
            let css = sheet(&project, &Assets::carried_by(&project), &wanted);
            STATES.iter().fold(css, |css, (state, class)| css.replace(state, class))
        };
        let sheets = [css(&project, Style::Flat), short(Style::Flat), short(Style::Living)];
        // The demo has more pieces than one page shows.
        let pages: Vec<String> = if project.name == "Any" {
            vec![elements(&project, &themes, &every_state())]
        } else {
            let each =
                themes.iter().flat_map(|theme| every_state().into_iter().map(move |state| (*theme, state)));
            each.map(|(theme, state)| elements(&project, &[theme], &[state])).collect()
        };
        for html in pages {
            same_picture(&browser, &sheets, &html).await.map_err(|why| format!("{}: {why}", project.name))?;
        }
    }
    browser.quit().await
}

/// Compares what sheets draw of a page, over what the first of them touches.
async fn same_picture(browser: &Browser, sheets: &[String; 3], html: &str) -> Outcome {
    let cell = ".cell { display: inline-block; padding: 16px; background: #d9d4c7 } .cell * { transition: none !important }";
    let hidden = ".cell * { visibility: hidden }";
    let mut pictures = Vec::new();
    for (css, hidden) in std::iter::once((&sheets[0], hidden)).chain(sheets.iter().map(|css| (css, ""))) {
        browser.show(&format!("<!doctype html><style>{css}{cell}{hidden}</style>{html}")).await?;
        pictures.push(browser.picture().await?);
    }
    for other in &pictures[2..] {
        let off = Difference::touched(&pictures[1], other, &pictures[0]);
        if !off.meets_the_bar() {
            return Err(format!("{off:?}").into());
        }
    }
    Ok(())
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
        let root = format!(":root {{ --qa-light-sun: {angle}deg; --qa-colour-leaf: {colour} }}");
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
    let html = "<div class=\"qa-lifted\" data-what=\"new\" style=\"--qa-fill: #c02040; background: var(--qa-fill)\"></div>
        <div data-what=\"wanted\" style=\"box-shadow: 0 10px 18px -6px oklch(from #c02040 calc(l - 0.1) c h / 0.6)\"></div>";
    let found = computed(&browser, &living, html, "").await?;
    let colours = |one: &Computed| one.1[0].0.clone();
    let (new, wanted) = (colours(&found[0]), colours(&found[1]));
    let last = &new[new.len() - 4..];
    assert!(last.iter().zip(&wanted).all(|(a, b)| (a - b).abs() < 0.002), "{last:?} and {wanted:?}");
    browser.quit().await
}

/// A height that is set on an element in a page is that height in the project, under lights that are followed and others; an element
/// within it keeps its own.
#[tokio::test]
async fn a_page_raises_an_element_by_one_number() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let project = |height: f64| {
        let mut document: Value = serde_json::from_str(DEMO).unwrap();
        let finish = |id: &str, follows: Value| {
            json!({"id": id, "name": id, "note": "", "coats": [{"id": "h", "name": "Height", "on": true, "kind": "raised", "height": height,
                "bearing": 310, "follows": follows, "rig": {"elevation": 50, "size": 8, "ambient": 0.4}, "colour": {"swatch": "leaf"}, "shadows": [
                    {"distance": 0.8388, "blur": 0.12, "spread": -0.01, "opacity": 0.4}, {"distance": 0.1988, "blur": 0.6925, "spread": -0.27, "opacity": 0.37},
                    {"distance": -0.1819, "blur": 2.8533, "spread": -0.8933, "opacity": 0.26}]}]})
        };
        let light = document["lights"][0]["id"].clone();
        let finishes = document["finishes"].as_array_mut().unwrap();
        finishes.extend([finish("float", light), finish("drift", Value::Null)]);
        Project::from_value(&document).unwrap()
    };
    let living = css(&project(12.0), Style::Living);
    for class in ["qa-float", "qa-drift"] {
        for height in [2.0, 6.0, 12.0, 30.5, 64.0] {
            let set = format!(
                "<div class=\"{class}\" data-what=\"raised\" style=\"--qa-height: {height}\"><p class=\"{class}\" data-what=\"within\"></p></div>"
            );
            let wanted = format!("<div class=\"{class}\" data-what=\"raised\"></div>");
            let flat = css(&project(height), Style::Flat);
            let found = computed(&browser, &living, &set, "").await?;
            assert_same(&found[..1], &computed(&browser, &flat, &wanted, "").await?);
            let own = format!("<p class=\"{class}\" data-what=\"within\"></p>");
            assert_same(&found[1..], &computed(&browser, &living, &own, "").await?);
        }
    }
    browser.quit().await
}

/// CSS Color Adjustment 1, "Forced Color Palettes": shadows are gone, an outline shows where a card ends, and the focus
/// keeps its own. Without `backdrop-filter` a pane is as it is seen on average.
#[tokio::test]
async fn what_is_taken_away_has_a_stand_in() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let project = Project::from_json(DEMO).unwrap();
    let assets = Assets::carried_by(&project);
    let sheet = sheet(&project, &assets, &SheetOptions::default())
        .replace("(backdrop-filter: none)", "(no-such-thing: none)");
    browser
        .show(&format!(
            "<style>{sheet}</style><div class=\"qa-laid\"></div><button class=\"qa-lifted\">Open</button>
             <div class=\"qa-frosted-pane qa-frosted-bar\"></div>"
        ))
        .await?;
    let ask = |what: &str, property: &str| {
        format!("return getComputedStyle(document.querySelector('{what}')).{property}")
    };
    let seen =
        browser.driver.execute(ask(".qa-frosted-bar", "backgroundColor"), vec![]).await?.json().clone();
    let seen: Vec<f64> = numbers_of(seen.as_str().unwrap());
    let is_bar = |piece: &zolvet_core::model::Piece| piece.name == "Frosted bar";
    let flat = |scene: &Scene| resolve::flattened(&project, scene, &assets).scene;
    let mut scenes = project.scenes.iter().map(flat);
    let mut scene = scenes.find(|scene| scene.pieces.iter().any(is_bar)).unwrap();
    let bar = scene.pieces.iter().position(is_bar).unwrap();
    scene.pieces.truncate(bar + 1);
    let scene = resolve::scene(&project, &scene, &assets);
    let piece = scene.pieces.last().unwrap();
    let (width, height) = piece.silhouette.size();
    let view = Viewport { x: piece.x, y: piece.y, scale: 1.0, width: width as u32, height: height as u32 };
    let drawn = picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default());
    for (channel, seen) in seen.iter().enumerate() {
        let values = drawn.rgba.chunks_exact(4).map(|pixel| f64::from(pixel[channel]));
        let mean = values.sum::<f64>() / f64::from(view.width * view.height);
        assert!((mean - seen).abs() < 8.0, "{channel}: {mean} is drawn, {seen} stands in for it");
    }

    let outline = |what: &str| ask(what, "outlineStyle");
    let says = async |script: String| -> Outcome<Value> {
        Ok(browser.driver.execute(script, vec![]).await?.json().clone())
    };
    assert_eq!(says(outline(".qa-laid")).await?, "none");
    let forced = json!({"features": [{"name": "forced-colors", "value": "active"}]});
    browser.driver.cdp().send_raw("Emulation.setEmulatedMedia", forced).await?;
    assert_eq!(says(ask(".qa-laid", "boxShadow")).await?, "none");
    for what in [".qa-laid", ".qa-lifted"] {
        assert_eq!(says(outline(what)).await?, "solid", "{what}");
    }
    browser.driver.action_chain().send_keys(Key::Tab).perform().await?;
    assert_eq!(says(outline(".qa-lifted")).await?, "auto", "the browser's own ring shows the focus");
    browser.quit().await
}

fn numbers_of(colour: &str) -> Vec<f64> {
    let parts = colour.split(|letter: char| !letter.is_ascii_digit() && letter != '.');
    parts.filter_map(|part| part.parse().ok()).take(3).collect()
}

/// CSS Backgrounds and Borders 3, "box-shadow", animation type: a list with an inner shadow where the other has an outer one
/// changes at once. The fix lets it change by and by, and leaves both ends as they were.
#[tokio::test]
async fn a_transition_that_jumps_is_mended() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let coat = |id: &str, kind: &str, y: i32| {
        json!({"id": id, "name": id, "on": true, "opacity": 0.4, "kind": kind,
            "offset": {"x": 0, "y": y}, "blur": 6, "spread": 0, "colour": "#102030"})
    };
    let before = json!({
        "schema": 2, "name": "Jumping", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": [],
        "finishes": [{"id": "f", "name": "Raised", "coats": [coat("a", "inner", 1), coat("b", "inner", -2), coat("c", "drop", 6)],
            "states": {"hover": [coat("a", "inner", 1), coat("b", "inner", -2), coat("c", "drop", 9)], "pressed": [coat("c", "drop", 1)]},
            "transition": {"duration": 160, "curve": "linear"}}],
    });
    let found = |document: &Value| {
        let project = Project::from_value(document).unwrap();
        let assets = Assets::default();
        let found =
            audit(&project, &assets, &Limits::default(), &MaskCache::default(), &mut |_, _| true).unwrap();
        found.findings.into_iter().find(|finding| finding.kind == FindingKind::JumpingTransition)
    };
    let jump = found(&before).expect("it jumps when pressed");
    assert!(jump.message.contains("pressed") && !jump.message.contains("hover"), "{}", jump.message);
    let mut after = before.clone();
    json_patch::patch(&mut after, &jump.fix.unwrap().patch)?;
    assert_eq!(found(&after), None);

    for (document, is_mixed) in [(&before, false), (&after, true)] {
        let sheet = css(&Project::from_value(document).unwrap(), Style::Flat);
        browser
            .show(&format!(
                "<style>{sheet}</style><div class=\"jump-raised\"></div><div class=\"jump-raised is-active\"></div>"
            ))
            .await?;
        // Half way between, as the browser animates.
        let halfway = "const [rest, pressed] = [...document.querySelectorAll('div')].map((e) => getComputedStyle(e).boxShadow);
            const moving = document.querySelector('div').animate([{ boxShadow: rest }, { boxShadow: pressed }], 1000);
            moving.pause(); moving.currentTime = 400;
            return [rest, pressed, getComputedStyle(document.querySelector('div')).boxShadow]";
        let shown = browser.driver.execute(halfway, vec![]).await?.json().clone();
        assert_eq!(shown[2] != shown[0] && shown[2] != shown[1], is_mixed, "{shown:#}");
    }
    assert_eq!(drawn(&before), drawn(&after));
    browser.quit().await
}

/// The first finish of a document on a box, at rest and pressed.
fn drawn(document: &Value) -> [Vec<u8>; 2] {
    let project = Project::from_value(document).unwrap();
    [None, Some("pressed")].map(|state| {
        let finish = &project.finishes[0];
        let there = finish.states.iter().find(|(name, _)| Some(name.name()) == state);
        let coats = there.map_or(&finish.coats, |(_, coats)| coats).clone();
        let scene = trial(&project.themes[0].id, &Wear::Coats(OwnCoats { coats }), TrialPiece::Box, false);
        let scene = resolve::scene(&project, &scene, &Assets::default());
        let view = Viewport::whole(&scene, 1.0);
        picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default()).rgba
    })
}
