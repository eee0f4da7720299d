//! Looking and checking through the real interface and the command line: this browser's picture beside the design, how
//! close the whole project comes, filters in, findings and their fixes.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::process::Command;

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::asset::Assets;
use zolvet_core::chromium::scene_of_code;
use zolvet_core::compose::{MaskCache, Viewport};
use zolvet_core::lower::{Lowered, Numbers, best_target};
use zolvet_core::model::{self, Project, Shape};
use zolvet_core::picture::Picture;
use zolvet_core::resolve;
use zolvet_e2e::{App, Browser, Difference, Outcome, Workbench, crop, program};

const DEMO: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/quillmere.zolvet.json");

/// Clicks the first button with a text in a part of the page.
fn press(part: &str, text: &str) -> String {
    format!(
        "[...document.querySelectorAll('{part} button')].find((b) => b.textContent.trim() === '{text}').click()"
    )
}

/// The core's picture of what a browser draws from the code of a scene's pieces, and of its bare ground.
fn foretold(project: &Project, scene: &model::Scene) -> [Picture; 2] {
    let resolved = resolve::scene(project, scene, &Assets::carried_by(project));
    let view = Viewport::whole(&resolved, 1.0);
    let lowered = |piece: &resolve::Piece| {
        let is_text =
            scene.piece(piece.id.as_str()).is_some_and(|model| matches!(model.shape, Shape::Text(_)));
        best_target(&Numbers::default().rounded_piece(piece), is_text)
    };
    let code: Vec<Lowered> = resolved.pieces.iter().map(lowered).collect();
    [&code[..], &[]].map(|code| scene_of_code(&resolved, code, &view, &MaskCache::default()))
}

/// The scene as it lies on the stage, without what is put on it to be taken hold of.
async fn on_stage(browser: &Browser, bench: &Workbench<'_>, scene: &Value) -> Outcome<Picture> {
    bench.script("document.querySelector('[data-room] > div').querySelectorAll(':scope > *').forEach((e) => { e.style.visibility = e.tagName === 'CANVAS' || e.querySelector('[data-in-browser]') ? '' : 'hidden'; })").await?;
    let (left, top) = bench.on_screen(0.0, 0.0).await?;
    let side = |name: &str| scene[name].as_u64().and_then(|side| u32::try_from(side).ok()).unwrap();
    let screen = browser.picture().await?;
    Ok(crop(&screen, u32::try_from(left)?, u32::try_from(top)?, side("width"), side("height")))
}

/// The ground is painted, and the code of the pieces on it is there.
const IN_BROWSER: &str =
    "document.querySelector('canvas[data-picture=fresh] + [data-in-browser=fresh] > div')";

/// Every scene of the demo, drawn by this browser from the code of its pieces, letters included, against the core's
/// picture of what browsers draw.
#[tokio::test]
async fn this_browser_draws_every_scene_as_it_is_foretold() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1900, 1200).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    let project: Value = serde_json::from_str(&std::fs::read_to_string(DEMO)?)?;
    let read = Project::from_value(&project).unwrap();
    let scenes = project["scenes"].as_array().unwrap();
    assert!(scenes.len() >= 5);
    let mut wrong = Vec::new();
    for (at, scene) in scenes.iter().enumerate() {
        if at > 0 {
            bench.scene(scene["name"].as_str().unwrap()).await?;
        }
        let piece =
            scene["pieces"].as_array().unwrap().iter().rfind(|piece| piece["hidden"] != true).unwrap();
        bench.choose(piece["name"].as_str().unwrap()).await?;
        if at == 0 {
            bench.click_named("Browser’s own").await?;
        }
        browser.wait_for(IN_BROWSER).await?;
        let wipe = By::Css("[aria-label='Wipe between the design and this browser']");
        browser.driver.query(wipe).first().await?.focus().await?;
        bench.press(Key::Home + "").await?;
        bench.settle().await?;
        browser.wait_for(IN_BROWSER).await?;
        let shown = on_stage(&browser, &bench, scene).await?;
        let [foretold, bare] = foretold(&read, &read.scenes[at]);
        let apart = Difference::touched(&foretold, &shown, &bare);
        println!("{apart:?} {}", scene["name"]);
        zolvet_e2e::keep_pictures(scene["id"].as_str().unwrap(), &foretold, &shown)?;
        // As for single pieces (docs/measuring.md, "Bars"), but that three letters of the seed label stand a quarter of a pixel
        // from where they are foretold: measured at most 0.52 in the mean, 4 at 99 %, 19 at 99.9 %.
        if apart.mean > 1.25 || apart.p99 > 5 || apart.p999 > 24 {
            wrong.push(format!("{apart:?} {}", scene["name"]));
        }
    }
    assert!(wrong.is_empty(), "{wrong:?}");
    browser.quit().await
}

#[tokio::test]
async fn filters_come_in_and_closeness_is_told() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.click_named("Hand-off").await?;
    let rows = "document.querySelectorAll('section[aria-label=\"Browser accuracy\"] tbody tr').length";
    browser.wait_for(&format!("{rows} > 20")).await?;
    let table = browser.driver.find(By::Css("section[aria-label='Browser accuracy']")).await?.text().await?;
    assert!(table.contains("CSS shadows have no blend mode: normal instead of screen"), "{table}");

    bench.script("[...document.querySelectorAll('[aria-label=\"Kind of file\"] label')].find((l) => l.textContent === 'SVG filters').click()").await?;
    let text = browser.driver.find(By::Css("textarea[aria-label='Text to import']")).await?;
    text.send_keys("<svg><filter id='raised' color-interpolation-filters='sRGB'><feDropShadow dy='6' stdDeviation='5'/><feTurbulence result='t'/><feMerge><feMergeNode in='t'/></feMerge></filter><filter id='lifted'><feDropShadow dy='6' stdDeviation='5'/></filter></svg>").await?;
    bench.click_named("Preview import").await?;
    let told = "document.querySelector('[role=dialog]')?.textContent ?? ''";
    browser.wait_for("document.querySelector('[role=dialog] [role=checkbox][aria-label=lifted]')").await?;
    browser.wait_for(&format!("({told}).includes('feTurbulence is not taken as depth')")).await?;
    bench.click_named("Add 1 finish").await?;
    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelector('article[aria-label=lifted]')").await?;
    browser.quit().await
}

#[tokio::test]
async fn a_finding_is_shown_tried_taken_and_accepted() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.click_named("Check").await?;
    let findings = "section[aria-label=Findings]";
    let status = format!("document.querySelector('{findings} [role=status]')?.textContent ?? ''");
    browser.wait_for(&format!("({status}).startsWith('2 findings')")).await?;
    let row = |name: &str| {
        format!(
            "[...document.querySelectorAll('{findings} li > button')].find((b) => b.textContent.includes('{name}')).click()"
        )
    };
    bench.script(&row("Open valve")).await?;
    browser.wait_for("document.querySelectorAll('section[aria-label=Look] circle').length > 20").await?;
    let pictures = "[...document.querySelectorAll('section[aria-label=Look] canvas')]";
    let drawn = format!("return {pictures}.map((c) => c.toDataURL())");
    browser.wait_for(&format!("{pictures}.length === 2 && {pictures}.every((c) => c.dataset.drawn)")).await?;
    let before = bench.script(&drawn).await?;
    assert_ne!(before[0], before[1], "a squinting eye sees it otherwise");
    bench.script(&press(findings, "Preview")).await?;
    browser
        .wait_for("document.querySelector('section[aria-label=Look]').textContent.includes('With the fix')")
        .await?;
    // The fix is seen before it is taken.
    let differs_from = |picture: &Value| format!("{pictures}[0].toDataURL() !== {picture}");
    browser.wait_for(&differs_from(&before[0])).await?;
    bench.script(&press(findings, "Apply")).await?;
    browser.wait_for(&format!("({status}).startsWith('1 finding ')")).await?;
    bench.script(&row("Bar line")).await?;
    let field = browser.driver.find(By::Css("[aria-label='Reason']")).await?;
    field.send_keys("the line is read out aloud too").await?;
    bench.script(&press(findings, "Accept")).await?;
    browser.wait_for(&format!("({status}).startsWith('No findings')")).await?;
    bench.click_named("Undo").await?;
    bench.click_named("Undo").await?;
    browser.wait_for(&format!("({status}).startsWith('2 findings')")).await?;

    browser.wait_for("document.querySelector('[aria-label=\"Contrast of the pieces\"] tbody')?.textContent.includes('Bar line')").await?;
    bench.pick("Scene", "Kiosk panel").await?;
    browser.wait_for("document.querySelector('[aria-label=\"Contrast of the pieces\"] tbody')?.textContent.includes('Open valve boxedge2.16 : 13 if a control')").await?;
    browser.quiet().await?;
    let plain = bench.script(&drawn).await?;
    bench.pick("Seen on", "In sunlight").await?;
    browser.wait_for(&differs_from(&plain[0])).await?;
    browser.wait_for(&format!("!({status}).startsWith('2 findings')")).await?;
    browser.quit().await
}

#[tokio::test]
async fn the_pixels_of_a_screen_are_looked_at_in_two_windows() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.click_named("Check").await?;
    let numbers = "document.querySelector('[aria-label=\"Contrast of the pieces\"] tbody')?.textContent";
    browser.wait_for(&format!("{numbers}.includes('Open valve')")).await?;
    let plain = bench.script(&format!("return {numbers}")).await?;
    bench.pick("Pixels", "Pixels of a 2× screen").await?;
    let canvas = "document.querySelector('[aria-label=\"Sharp picture\"] canvas')";
    browser.wait_for(&format!("{canvas}?.dataset.pixels === '2' && {canvas}.width > 1000")).await?;
    // Two device pixels for one px of the scene, each shown as two pixels of this screen.
    let shown =
        bench.script(&format!("return {canvas}.getBoundingClientRect().width / {canvas}.width")).await?;
    assert_eq!(shown.as_f64(), Some(2.0));
    let smooth = bench.script(&format!("return getComputedStyle({canvas}).imageRendering")).await?;
    assert_eq!(smooth, "pixelated");
    // What is measured are those pixels.
    browser.wait_for(&format!("{numbers} !== {plain}")).await?;
    // Both windows show the same part, whichever is scrolled.
    let frame = |label: &str| format!("document.querySelector('[aria-label=\"{label} picture\"]')");
    for (moved, other) in [("Sharp", "Squinted"), ("Squinted", "Sharp")] {
        let (x, y) = if moved == "Sharp" { (300, 200) } else { (40, 90) };
        bench.script(&format!("{}.scrollTo({x}, {y})", frame(moved))).await?;
        let there = format!("{0}.scrollLeft === {x} && {0}.scrollTop === {y}", frame(other));
        browser.wait_for(&there).await?;
    }
    // A finding is brought into the middle of both.
    let row = "[...document.querySelectorAll('section[aria-label=Findings] li > button')].find((b) => b.textContent.includes('Open valve'))";
    browser.wait_for(row).await?;
    bench.script(&format!("{row}.click()")).await?;
    let marks = "[...document.querySelectorAll('section[aria-label=Look] circle')]";
    let inside = format!(
        "(() => {{ const box = {0}.getBoundingClientRect(); const shown = {marks}.map((mark) => mark.getBoundingClientRect()).filter((mark) => mark.left > box.left && mark.right < box.right && mark.top > box.top && mark.bottom < box.bottom); return shown.length > 3 && {0}.scrollLeft === {1}.scrollLeft; }})()",
        frame("Sharp"),
        frame("Squinted")
    );
    browser.wait_for(&inside).await?;
    bench.pick("Pixels", "Fitted").await?;
    browser.wait_for(&format!("{numbers} === {plain}")).await?;
    browser.quit().await
}

#[test]
fn the_command_line_audits() -> Outcome {
    let folder = tempfile::tempdir()?;
    let run = |arguments: &[&str]| {
        Command::new(program().expect("the program")).arg("audit").args(arguments).output()
    };
    let found = run(&[DEMO])?;
    let said = String::from_utf8(found.stdout)?;
    assert_eq!(found.status.code(), Some(1), "{said}");
    assert!(
        said.starts_with("error     Bar line, Greenhouse bar: Text contrast 3.80 : 1")
            && said.ends_with("2 findings, 3 accepted\n"),
        "{said}"
    );
    let settings = folder.path().join("audit.json");
    std::fs::write(&settings, json!({"limits": {"without": ["faint_edge"]}, "accepted": [{"finding": "faint_text/bar/bar-line", "note": "read out aloud too"}]}).to_string())?;
    let settings = settings.display().to_string();
    let found = run(&[DEMO, "--format", "json", "--settings", &settings])?;
    assert_eq!(found.status.code(), Some(0));
    let audit: Value = serde_json::from_slice(&found.stdout)?;
    let bar =
        audit["findings"].as_array().unwrap().iter().find(|found| found["key"] == "faint_text/bar/bar-line");
    assert_eq!(bar.unwrap()["accepted"], "read out aloud too");
    std::fs::write(&settings, "{\"limit\": 1}")?;
    let wrong = run(&[DEMO, "--settings", &settings])?;
    assert_eq!(wrong.status.code(), Some(2));
    assert!(String::from_utf8(wrong.stderr)?.contains("unknown field `limit`"));

    // Filters come in by the command line too.
    let svg = folder.path().join("filters.svg");
    std::fs::write(
        &svg,
        "<svg xmlns='http://www.w3.org/2000/svg'><filter id='lifted'><feDropShadow dy='6' stdDeviation='5'/></filter></svg>",
    )?;
    let into = folder.path().join("into.zolvet.json");
    std::fs::copy(DEMO, &into)?;
    let import = Command::new(program()?)
        .args(["import", "--format", "svg", "--into"])
        .arg(&into)
        .arg(&svg)
        .output()?;
    assert!(String::from_utf8(import.stdout)?.contains("understood    lifted: drop"));
    Ok(())
}
