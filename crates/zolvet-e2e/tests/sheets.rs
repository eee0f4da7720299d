//! Style sheets that nobody here wrote: what Zolvet reads of them is what Chromium computes from them.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::fs;
use std::path::PathBuf;

use zolvet_core::asset::Assets;
use zolvet_core::css::{StyleFile, import};
use zolvet_core::handoff::{SheetOptions, Style, sheet};
use zolvet_core::lower::Numbers;
use zolvet_core::model::{Coat, CssColour, Finish, Project, State};
use zolvet_e2e::{Browser, Outcome, judge};

/// Sheets of different styles, from the npm registry: variables, themes, utility classes, nesting and layers, many inner shadows.
const SHEETS: [&str; 12] = [
    "crates/zolvet-e2e/sheets/node_modules/98.css/style.css",
    "crates/zolvet-e2e/sheets/node_modules/@picocss/pico/css/pico.css",
    "crates/zolvet-e2e/sheets/node_modules/beercss/dist/cdn/beer.css",
    "crates/zolvet-e2e/sheets/node_modules/bootstrap/dist/css/bootstrap.css",
    "crates/zolvet-e2e/sheets/node_modules/bulma/css/bulma.css",
    "crates/zolvet-e2e/sheets/node_modules/daisyui/daisyui.css",
    "crates/zolvet-e2e/sheets/node_modules/halfmoon/css/halfmoon.css",
    "crates/zolvet-e2e/sheets/node_modules/spectre.css/dist/spectre.css",
    "crates/zolvet-e2e/sheets/node_modules/tailwindcss/dist/tailwind.css",
    "crates/zolvet-e2e/sheets/node_modules/uikit/dist/css/uikit.css",
    "web/node_modules/@mantine/core/styles.css",
    "web/node_modules/@mantine/core/styles.layer.css",
];

fn text(path: &str) -> String {
    fs::read_to_string(PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../..").join(path))
        .expect("installed by `cargo xtask test`")
}

/// Each value that is held is the one that Chromium computes, and 98 % of what a sheet determines is held.
#[tokio::test]
async fn what_is_read_is_what_chromium_computes() -> Outcome {
    let browser = Browser::with_mouse(1280, 800).await?;
    for path in SHEETS {
        let css = text(path);
        let found = judge(&browser, &[StyleFile { name: "", css: &css }]).await?;
        assert!(found.compared > 50, "{path}: {found:?}");
        assert!(found.wrong.is_empty(), "{path}: {:#?}", found.wrong);
        assert!(found.share() >= 0.98, "{path}: {}, {:#?}", found.share(), found.unread);
    }
    browser.quit().await
}

/// Out of each sheet, into a project, out as CSS and in again: the same shadows in every state and theme.
#[test]
fn what_is_read_is_written_and_read_again() {
    for path in SHEETS {
        let read = import(&text(path)).by_look();
        let mut document = serde_json::json!({"schema": 3, "name": "In", "scenes": [], "scale": [],
            "themes": [{"id": "light", "name": "Light", "scheme": "light"}, {"id": "dark", "name": "Dark", "scheme": "dark"}]});
        let empty = Project::from_value(&document).unwrap();
        read.fitted_to(&empty).put_into(&mut document);
        let project = Project::from_value(&document).unwrap();
        let exact = SheetOptions { style: Style::Flat, numbers: Numbers::Exact, ..SheetOptions::default() };
        let written = sheet(&project, &Assets::default(), &exact);
        let back = import(&written);
        let mut compared = 0;
        for finish in &project.finishes {
            let name = zolvet_core::syntax::slug(&finish.name);
            let Some(other) = back.finishes.iter().find(|other| other.name == name) else { continue };
            assert_eq!(shadows(finish), shadows(other), "{path}: {name}");
            compared += 1;
        }
        assert!(compared * 2 > project.finishes.len(), "{path}: {compared} of {}", project.finishes.len());
    }
}

/// A shadow with its colour as it is painted.
fn numbers(coat: &Coat) -> String {
    let mut kind = serde_json::to_value(&coat.kind).unwrap();
    if let Some(colour) = kind["colour"].as_str().map(|text| CssColour::parse(text).unwrap().rgba()) {
        kind["colour"] = format!("{colour:.4?}").into();
    }
    kind.to_string()
}

/// The shadows of a finish at rest and in its states: inner ones first, for CSS paints them over everything else.
fn shadows(finish: &Finish) -> Vec<String> {
    let states = finish.states.iter().map(|(state, coats)| (Some(*state), coats));
    let lists = std::iter::once((None, &finish.coats)).chain(states);
    let of_kind = |coats: &[Coat], kind: &str| -> Vec<String> {
        let of_kind = coats.iter().filter(|coat| coat.kind.name() == kind);
        of_kind.map(numbers).collect()
    };
    let written = |(state, coats): (Option<State>, &Vec<Coat>)| {
        let mut all = [of_kind(coats, "inner"), of_kind(coats, "drop")].concat();
        // What focus adds to rest is written on top, wherever it was.
        if state == Some(State::Focus) {
            all.sort();
        }
        all
    };
    lists.flat_map(written).collect()
}
