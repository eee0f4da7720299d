//! Looking and checking through the real interface and the command line: this browser's picture beside the design, how
//! close the whole project comes, filters in, findings and their fixes.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::process::Command;

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::{App, Browser, Difference, Outcome, Workbench, crop, program};

const DEMO: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/quillmere.zolvet.json");

/// Clicks the first button with a text in a part of the page.
fn press(part: &str, text: &str) -> String {
    format!(
        "[...document.querySelectorAll('{part} button')].find((b) => b.textContent.trim() === '{text}').click()"
    )
}

#[tokio::test]
async fn this_browser_draws_the_code_beside_the_design() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve").await?;
    bench.settle().await?;
    let designed = browser.picture().await?;
    bench.click_named("In this browser").await?;
    let drawn = "document.querySelector('[data-in-browser]')?.shadowRoot?.querySelector('.open-valve')";
    browser.wait_for(drawn).await?;
    let line =
        browser.driver.find(By::Css("[aria-label='Wipe between the design and this browser']")).await?;
    line.focus().await?;
    browser.driver.action_chain().send_keys("\u{e012}".repeat(60)).perform().await?;
    bench.settle().await?;
    let shown = browser.picture().await?;
    let place = bench
        .script(&format!(
            "const r = {drawn}.getBoundingClientRect(); return [r.left, r.top, r.right, r.bottom]"
        ))
        .await?;
    let side = |at: usize| place[at].as_f64().unwrap_or_default() as u32;
    // Below the handles of the piece lies nothing but its shadow.
    let below = |picture| crop(picture, side(0), side(3) + 2, side(2) - side(0), 14);
    let apart = Difference::between(&below(&designed), &below(&shown));
    assert!(apart.mean < 2.0, "{apart:?}");
    // It is the code that is drawn, not our picture once more.
    let shadow = bench.script(&format!("return getComputedStyle({drawn}).boxShadow")).await?;
    assert!(shadow.as_str().is_some_and(|shadow| shadow.contains("inset")), "{shadow}");
    browser.quit().await
}

#[tokio::test]
async fn filters_come_in_and_closeness_is_told() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.click_named("Hand-off").await?;
    let rows = "document.querySelectorAll('section[aria-label=\"How close it comes\"] tbody tr').length";
    browser.wait_for(&format!("{rows} > 20")).await?;
    let table =
        browser.driver.find(By::Css("section[aria-label='How close it comes']")).await?.text().await?;
    assert!(table.contains("CSS shadows have no blend mode: normal instead of screen"), "{table}");

    bench.script("[...document.querySelectorAll('[aria-label=\"What comes in\"] label')].find((l) => l.textContent === 'SVG filters').click()").await?;
    let text = browser.driver.find(By::Css("textarea[aria-label='Text to bring in']")).await?;
    text.send_keys("<svg><filter id='raised' color-interpolation-filters='sRGB'><feDropShadow dy='6' stdDeviation='5'/><feTurbulence result='t'/><feMerge><feMergeNode in='t'/></feMerge></filter><filter id='lifted'><feDropShadow dy='6' stdDeviation='5'/></filter></svg>").await?;
    bench.click_named("See what it would bring").await?;
    let told = "document.querySelector('section[aria-label=In] [role=status]')?.textContent ?? ''";
    browser.wait_for(&format!("({told}).includes('lifted: drop')")).await?;
    browser.wait_for(&format!("({told}).includes('feTurbulence is not taken as depth')")).await?;
    bench.click_named("Bring it in").await?;
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
    browser.wait_for(&format!("({status}).startsWith('2 things')")).await?;
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
    bench.script(&press(findings, "Try it")).await?;
    browser
        .wait_for(
            "document.querySelector('section[aria-label=Look]').textContent.includes('With the fix tried')",
        )
        .await?;
    tokio::time::sleep(std::time::Duration::from_millis(800)).await;
    assert_ne!(bench.script(&drawn).await?[0], before[0], "the fix is seen before it is taken");
    bench.script(&press(findings, "Take it")).await?;
    browser.wait_for(&format!("({status}).startsWith('1 thing ')")).await?;
    bench.script(&row("Bar line")).await?;
    let field = browser.driver.find(By::Css("[aria-label='Why it is meant so']")).await?;
    field.send_keys("the line is read out aloud too").await?;
    bench.script(&press(findings, "Accept")).await?;
    browser.wait_for(&format!("({status}).startsWith('Nothing is left')")).await?;
    bench.click_named("Undo").await?;
    bench.click_named("Undo").await?;
    browser.wait_for(&format!("({status}).startsWith('2 things')")).await?;

    browser.wait_for("document.querySelector('[aria-label=\"Pieces as they are seen\"] tbody')?.textContent.includes('Bar line')").await?;
    bench.pick("Scene", "Kiosk panel").await?;
    browser.wait_for("document.querySelector('[aria-label=\"Pieces as they are seen\"] tbody')?.textContent.includes('Open valveedge2.16 to 13 if used')").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    let plain = bench.script(&drawn).await?;
    bench.pick("Seen on", "In sunlight").await?;
    tokio::time::sleep(std::time::Duration::from_millis(1200)).await;
    assert_ne!(bench.script(&drawn).await?[0], plain[0]);
    browser.wait_for(&format!("!({status}).startsWith('2 things')")).await?;
    browser.quit().await
}

#[tokio::test]
async fn the_pixels_of_a_screen_are_looked_at_in_two_windows() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.click_named("Check").await?;
    let numbers = "document.querySelector('[aria-label=\"Pieces as they are seen\"] tbody')?.textContent";
    browser.wait_for(&format!("{numbers}.includes('Open valve')")).await?;
    let plain = bench.script(&format!("return {numbers}")).await?;
    bench.pick("Pixels", "Pixels of a 2x screen").await?;
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
        said.starts_with("error     Bar line, Greenhouse bar: Contrast 3.80 to 1")
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
