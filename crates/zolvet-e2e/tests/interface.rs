//! The job done through the real interface, in headless Chromium.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::picture::Picture;
use zolvet_e2e::{App, Browser, Difference, Outcome, Workbench, crop};

async fn open(app: &App) -> Outcome<Browser> {
    let browser = Browser::start(1280, 900).await?;
    let permissions = json!({"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]});
    browser.driver.cdp().send_raw("Browser.grantPermissions", permissions).await?;
    browser.go(&app.address).await?;
    Ok(browser)
}

async fn stage(bench: &Workbench<'_>) -> Outcome<Picture> {
    bench.settle().await?;
    bench.stage().await
}

/// Drop: y 6, blur 10, the button's own colour at 40 % (docs/measuring.md, "Facts"; common practice, no published source).
#[tokio::test]
async fn a_button_gets_a_shadow_from_first_click_to_dead_link() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.pick("Zoom", "100 %").await?;
    bench.choose("Open valve box").await?;
    bench.choose_in("Finish", "Use own coats").await?;
    let before = stage(&bench).await?;

    bench.add_coat("Drop shadow").await?;
    bench.type_number("y", "2*3").await?;
    bench.type_number("Blur", "10").await?;
    bench.type_number("Opacity", "40").await?;
    bench.click_named("Colour: #000000").await?;
    bench.click_named("The piece’s own colour").await?;
    let with = stage(&bench).await?;
    let below = |picture: &Picture| crop(picture, 100, 396, 100, 8);
    assert!(Difference::between(&below(&before), &below(&with)).mean > 1.0, "a shadow below the button");
    assert!(
        bench.read_out().await?.contains("0 6px 10px rgb(47 125 107 / 40%)"),
        "{}",
        bench.read_out().await?
    );

    bench.script("document.querySelector('[aria-label=\"Drop shadow on\"]').click()").await?;
    assert_eq!(stage(&bench).await?, before, "switched off, it is as before");
    bench.script("document.querySelector('[aria-label=\"Drop shadow on\"]').click()").await?;
    assert_eq!(stage(&bench).await?, with, "and on again");
    bench.click_named("Undo").await?;
    assert_eq!(stage(&bench).await?, before, "undone");
    bench.click_named("Redo").await?;
    assert_eq!(stage(&bench).await?, with, "redone");

    browser.driver.refresh().await?;
    bench.wait_drawn().await?;
    bench.pick("Zoom", "100 %").await?;
    bench.choose("Open valve box").await?;
    assert_eq!(stage(&bench).await?, with, "still there after a reload");
    bench.click_named("With size and fill").await?;
    bench.click_named("Copy CSS").await?;
    let read =
        "const done = arguments[0]; navigator.clipboard.readText().then(done, (e) => done(String(e)));";
    let read = browser.driver.execute_async(read, vec![]).await?;
    let css = read.json().as_str().unwrap_or_default().to_owned();
    assert_eq!(css.trim(), bench.read_out().await?.trim());
    let link = bench.make_link().await?;
    blank_page_matches(&css, &with).await?;

    let visitor = Browser::start(1280, 900).await?;
    visitor.go(&link).await?;
    visitor.wait_for("document.querySelector('h1')?.textContent === 'Kiosk panel'").await?;
    let fields = visitor.driver.find_all(By::Css("input, textarea, [contenteditable]")).await?;
    assert_eq!(fields.len(), 0, "nothing to be edited");
    bench.click_named("Revoke").await?;
    browser.wait_for("document.querySelectorAll('[aria-label=\"Links made\"] li').length === 0").await?;
    visitor.driver.refresh().await?;
    visitor.wait_for("document.querySelector('h1')?.textContent === 'This link does not work'").await?;
    visitor.quit().await?;
    browser.quit().await
}

/// Puts the copied CSS on a page of its own, on the scene's ground, and compares all but the button's label.
async fn blank_page_matches(css: &str, stage: &Picture) -> Outcome {
    let browser = Browser::start(840, 520).await?;
    let html = format!(
        "<!doctype html><style>body{{margin:0;height:520px;background:linear-gradient(180deg,#ece8dd,#ded8c8)}}{css}
         .open-valve-box{{position:absolute;left:40px;top:330px}}</style><div class=open-valve-box></div>"
    );
    browser.show(&html).await?;
    let page = browser.picture().await?;
    browser.quit().await?;
    for (x, y, w, h) in [(8, 300, 290, 46), (8, 378, 290, 50), (8, 346, 90, 32), (220, 346, 78, 32)] {
        let difference = Difference::between(&crop(&page, x, y, w, h), &crop(stage, x, y, w, h));
        assert!(difference.mean <= 1.25 && difference.p99 <= 5, "{difference:?} at {x},{y}");
    }
    Ok(())
}

/// The same numbers as an inner shadow read as pressed (docs/measuring.md, "Facts"; common practice, no published source).
#[tokio::test]
async fn the_same_numbers_inside_read_as_pressed() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.pick("Zoom", "100 %").await?;
    bench.choose("Open valve box").await?;
    bench.choose_in("Finish", "Use own coats").await?;
    let before = stage(&bench).await?;
    bench.add_coat("Pressed in").await?;
    bench.type_number("y", "6").await?;
    bench.type_number("Blur", "10").await?;
    let with = stage(&bench).await?;
    let row =
        |picture: &Picture, y: u32| picture.at(70, y).iter().take(3).map(|c| u32::from(*c)).sum::<u32>();
    assert!(row(&with, 333) + 60 < row(&before, 333), "dark along the upper edge");
    assert!(row(&with, 362).abs_diff(row(&before, 362)) < 6, "and not in the middle");
    bench.click_named("Undo").await?;
    bench.click_named("Undo").await?;
    bench.click_named("Undo").await?;
    assert_eq!(stage(&bench).await?, before);
    browser.quit().await
}

#[tokio::test]
async fn changes_made_elsewhere_are_offered_and_neither_is_lost() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.settle().await?;
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let id = list[0]["id"].as_str().unwrap();
    let address = format!("{}/api/projects/{id}", app.address);
    let stored: Value = http.get(&address).send().await?.json().await?;
    let mut theirs = stored["document"].clone();
    theirs["name"] = json!("Theirs");
    let saved = http.put(&address).header("If-Match", "\"1\"").json(&theirs).send().await?;
    assert_eq!(saved.status(), 200);

    bench.choose_in("Finish", "Use own coats").await?;
    bench.click_named("Keep mine").await?;
    browser.wait_for("document.querySelector('[data-state=saved]')").await?;
    let now: Value = http.get(&address).send().await?.json().await?;
    assert_eq!(
        (now["revision"].as_i64(), now["document"]["name"].as_str()),
        (Some(3), Some("Quillmere Allotments"))
    );
    let kept: Value = http.get(format!("{address}/revisions/2")).send().await?.json().await?;
    assert_eq!(kept["document"]["name"], "Theirs");
    browser.quit().await
}

#[tokio::test]
async fn a_stack_is_pasted_ordered_by_keyboard_and_kept_beside_theirs() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Frost badge").await?;
    let (driver, on_bench) = (&browser.driver, &bench);
    let paste = |css: &'static str| async move {
        if driver.find(By::Css("[aria-label='CSS to read']")).await.is_err() {
            on_bench.choose_in("Stack", "Paste CSS…").await?;
        }
        let field = driver.find(By::Css("[aria-label='CSS to read']")).await?;
        field.send_keys(css).await?;
        on_bench.click_named("Replace the stack").await
    };
    bench.settle().await?;
    paste("box-shadow: 0 1lh red").await?;
    browser.wait_for("document.body.textContent.includes('expected a length in px, found 1lh')").await?;
    assert!(
        bench.read_out().await?.contains("#7fa6b8") || bench.read_out().await?.contains("127 166 184"),
        "nothing taken"
    );
    browser.driver.find(By::Css("[aria-label='CSS to read']")).await?.send_keys(Key::Control + "a").await?;
    paste("box-shadow: 0 1px 2px red, 0 3px 4px blue").await?;
    bench.settle().await?;
    assert!(
        bench.read_out().await?.contains("0 1px 2px #f00,\n    0 3px 4px #00f"),
        "{}",
        bench.read_out().await?
    );

    let grip = bench.named("Move Drop shadow 1").await?;
    for key in [Key::Space, Key::Down, Key::Space] {
        grip.send_keys(key + "").await?;
        browser.quiet().await?;
    }
    bench.settle().await?;
    assert!(
        bench.read_out().await?.contains("0 3px 4px #00f,\n    0 1px 2px #f00"),
        "{}",
        bench.read_out().await?
    );

    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let address = format!("{}/api/projects/{}", app.address, list[0]["id"].as_str().unwrap());
    let stored: Value = http.get(&address).send().await?.json().await?;
    let mut theirs = stored["document"].clone();
    theirs["name"] = json!("Theirs");
    let base = format!("\"{}\"", stored["revision"]);
    assert_eq!(http.put(&address).header("If-Match", base).json(&theirs).send().await?.status(), 200);
    bench.script("document.querySelector('[aria-label=\"Drop shadow 1 on\"]').click()").await?;
    bench.click_named("Open theirs, save mine separately").await?;
    browser.wait_for("document.querySelector('h1').textContent === 'Theirs'").await?;
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let names: Vec<_> =
        list.as_array().unwrap().iter().map(|project| project["name"].as_str().unwrap()).collect();
    assert_eq!(names, ["Quillmere Allotments (mine)", "Theirs"]);
    browser.quit().await
}

/// Every kind of coat is chosen by its picture and shows on the stage; a split ramp changes no pixel.
#[tokio::test]
async fn every_kind_of_coat_is_added_and_a_ramp_is_split() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.choose_in("Finish", "Use own coats").await?;
    let mut last = stage(&bench).await?;
    for kind in ["Highlight", "Tint", "Stroke", "Thickness", "Floor shadow", "Blur", "Ramp"] {
        bench.add_coat(kind).await?;
        let now = stage(&bench).await?;
        assert_ne!(now, last, "{kind} shows");
        last = now;
    }
    bench.type_number("Count", "9").await?;
    let ramp = stage(&bench).await?;
    assert_ne!(ramp, last);
    bench.click_named("Split into 9 coats").await?;
    browser.wait_for("document.querySelector('[aria-label=\"Ramp 9\"]')").await?;
    assert_eq!(stage(&bench).await?, ramp, "split, it is the same picture");
    bench.click_named("Undo").await?;
    browser.wait_for("!document.querySelector('[aria-label=\"Ramp 9\"]')").await?;
    assert_eq!(stage(&bench).await?, ramp, "and one coat again");
    browser.quit().await
}

#[tokio::test]
async fn a_piece_is_added_dragged_and_removed() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.pick("Zoom", "100 %").await?;
    let before = stage(&bench).await?;
    bench.click_named("Add piece").await?;
    let item = By::XPath("//*[@role='menuitem'][normalize-space(.)='Ellipse']");
    browser.click(&item).await?;
    let added = stage(&bench).await?;
    assert_ne!(added, before);
    bench.click_named("Edit piece").await?;
    let left = "return document.querySelector('section[aria-label=Stack] input[id][inputmode]') && [...document.querySelectorAll('label')].find((l) => l.textContent === 'Left').control.value";
    assert_eq!(bench.script(left).await?, json!("350"));
    let outline = browser.driver.find(By::Css("section[aria-label=Stage] canvas + span")).await?;
    // With Alt it snaps to nothing.
    let actions = browser.driver.action_chain().move_to_element_center(&outline).click_and_hold();
    let actions = actions.key_down(Key::Alt).move_by_offset(60, 24).move_by_offset(40, 16);
    actions.release().key_up(Key::Alt).perform().await?;
    assert_eq!(bench.script(left).await?, json!("450"), "it follows the hand");
    let moved = stage(&bench).await?;
    assert_ne!(moved, added);
    bench.click_named("Undo").await?;
    assert_eq!(stage(&bench).await?, added, "a drag is one step");
    bench.click_named("Remove piece").await?;
    assert_eq!(stage(&bench).await?, before);
    browser.quit().await
}

#[tokio::test]
async fn axe_finds_nothing() -> Outcome {
    let app = App::start()?;
    let browser = open(&app).await?;
    let mut said = check(&browser, "Projects").await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    bench.settle().await?;
    said += &check(&browser, "Workbench").await?;
    bench.click_named("Edit piece").await?;
    bench.add_coat("Ramp").await?;
    bench.settle().await?;
    said += &check(&browser, "Workbench, everything opened").await?;
    bench.unfold().await?;
    let panels = [
        "Swatches",
        "Ground",
        "Start from",
        "Reference",
        "Shortcuts",
        "Blend mode: normal",
        "Add a coat: under it",
    ];
    for panel in panels {
        bench.click_named(panel).await?;
        bench.settle().await?;
        said += &check(&browser, panel).await?;
        browser.driver.action_chain().send_keys(Key::Escape + "").perform().await?;
        browser.wait_for("!document.querySelector('[role=dialog]')").await?;
    }
    bench.click_named("Pick colour").await?;
    said += &check(&browser, "Picking").await?;
    bench.click_named("Done").await?;
    bench.choose_in("Interface", "Dark interface").await?;
    bench.settle().await?;
    said += &check(&browser, "Workbench, dark").await?;
    let link = bench.make_link().await?;
    said += &check(&browser, "Hand-off, dark").await?;
    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelectorAll('article img').length > 20").await?;
    said += &check(&browser, "Finishes, dark").await?;
    bench.click_named("Check").await?;
    browser.wait_for("document.querySelector('[aria-label=Findings] [role=status]')").await?;
    bench.script("document.querySelector('[aria-label=Findings] li > button').click()").await?;
    bench.settle().await?;
    said += &check(&browser, "Check, dark").await?;
    browser.go(&link).await?;
    browser.wait_for("document.querySelector('h1')").await?;
    said += &check(&browser, "Shared page").await?;
    assert!(said.is_empty(), "{said}");
    browser.quit().await
}

/// Calm at rest: with a piece chosen, at most twelve controls have a frame or are filled.
#[tokio::test]
async fn few_controls_are_framed_at_rest() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.settle().await?;
    let framed = bench.script(FRAMED).await?;
    let framed = framed.as_array().unwrap();
    // The filled button is among them, so that what counts them sees something.
    assert!(framed.contains(&json!("Copy CSS")), "{framed:?}");
    assert!(framed.len() <= 12, "{framed:?}");
    browser.quit().await
}

/// The names of controls that are seen and have a border or a filling of their own; pictures on the shelf and handles on
/// the stage are the user's.
const FRAMED: &str = "const seen = (e) => e.getClientRects().length > 0 && getComputedStyle(e).visibility !== 'hidden' && !e.closest('[aria-label=Stage], [aria-label=Pieces] [class*=row]');
    const clear = (colour) => colour === 'transparent' || colour.endsWith(', 0)');
    const framed = (e) => { const s = getComputedStyle(e); return parseFloat(s.borderTopWidth) >= 1 && parseFloat(s.borderLeftWidth) >= 1 && s.borderTopStyle === 'solid' && !clear(s.borderTopColor); };
    const controls = document.querySelectorAll('button, select, textarea, input:not([type=checkbox], [type=radio], [type=range]), [role=radiogroup]');
    return [...controls].filter(seen).filter((e) => framed(e) || e.dataset.variant === 'filled' || e.role === 'radiogroup' && !clear(getComputedStyle(e).backgroundColor)).map((e) => e.ariaLabel || e.textContent);";

async fn check(browser: &Browser, view: &str) -> Outcome<String> {
    browser.driver.execute(include_str!("../../../web/node_modules/axe-core/axe.min.js"), vec![]).await?;
    let run = "const done = arguments[0]; axe.run({preload: false}).then((r) => done(r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.html.slice(0, 160)).join(' | '))), (e) => done([String(e)]));";
    let found = browser.driver.execute_async(run, vec![]).await?.json().clone();
    let list = found.as_array().ok_or("axe gave no answer")?;
    Ok(list.iter().map(|line| format!("{view}: {line}\n")).collect())
}
