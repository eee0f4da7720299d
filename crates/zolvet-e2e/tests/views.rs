//! Long lists narrowed and sorted, pictures only of what is in view, keys that can be switched off, zooming about the pointer,
//! and what a link shows.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use reqwest::Client;
use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::large::{PIECES, large};
use zolvet_e2e::plain::{Plain, card_and_chip, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// A project with so many finishes; every seventh is used by a piece.
fn library(count: usize) -> Value {
    let finish = |at: usize| {
        json!({"id": format!("f{at}"), "name": format!("Finish {at:03}"), "note": if at == 30 { "For lids" } else { "" },
            "coats": [drop_shadow("Soft", 2.0 + at as f64, json!({}))]})
    };
    let mut pieces = card_and_chip();
    pieces[0]["wear"] = json!({"finish": "f33"});
    project("Library", pieces, json!({"finishes": (0..count).map(finish).collect::<Vec<_>>()}))
}

const NAMES: &str =
    "[...document.querySelectorAll('article')].map((card) => card.getAttribute('aria-label'))";

#[tokio::test]
async fn a_long_library_is_searched_sorted_and_pictured_where_it_is_seen() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &library(40)).await?;
    let bench = &plain.bench;
    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelectorAll('article img').length >= 18").await?;
    let pictured =
        |card: usize| format!("document.querySelectorAll('article')[{card}].querySelectorAll('img').length");
    assert_eq!(bench.script(&format!("return {}", pictured(35))).await?, json!(0), "far below what is seen");
    bench.script("document.querySelectorAll('article')[35].scrollIntoView()").await?;
    browser.wait_for(&format!("{} === 6", pictured(35))).await?;
    bench.script("scrollTo(0, 0)").await?;
    bench.pick("Order", "Most used").await?;
    browser.wait_for(&format!("{NAMES}[0] === 'Finish 033'")).await?;
    // Words are looked for in names and notes.
    bench.named("Search finishes").await?.send_keys("lid").await?;
    browser.wait_for(&format!("{NAMES}.join() === 'Finish 030'")).await?;
    bench.named("Search finishes").await?.send_keys(" zz").await?;
    browser.wait_for("document.body.textContent.includes('Nothing is called “lid zz”.')").await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for(&format!("{NAMES}.length === 40")).await?;
    // Keys turn back in this view as on the workbench.
    bench.choose_in("More for Finish 033", "Duplicate").await?;
    browser.wait_for(&format!("{NAMES}.length === 41")).await?;
    bench.script("document.activeElement.blur()").await?;
    bench.chord("z").await?;
    browser.wait_for(&format!("{NAMES}.length === 40")).await?;
    browser.quit().await
}

#[tokio::test]
async fn many_projects_are_searched_and_sorted() -> Outcome {
    let app = App::start()?;
    for name in ["Gate", "Alley", "Harbour", "Mill", "Orchard", "Well", "Barn"] {
        let document = project(name, json!([]), json!({}));
        let made = Client::new().post(format!("{}/api/projects", app.address)).json(&document).send().await?;
        made.error_for_status()?;
    }
    let browser = Browser::on(&app).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::at(&browser);
    let names = "[...document.querySelectorAll('main ul strong')].map((name) => name.textContent)";
    browser.wait_for(&format!("{names}.length > 6")).await?;
    bench.pick("Order", "By name").await?;
    browser.wait_for(&format!("{names}[0] === 'Alley' && {names}[1] === 'Barn'")).await?;
    bench.named("Search projects").await?.send_keys("OR").await?;
    browser.wait_for(&format!("{names}.join() === 'Orchard'")).await?;
    browser.quit().await
}

/// WCAG 2.2, 2.1.4: shortcuts of one character can be switched off; those with Ctrl stay.
#[tokio::test]
async fn shortcuts_of_one_key_can_be_switched_off() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Keys", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    // The stage says what is on it (WCAG 2.2, 1.1.1).
    let stage =
        "document.querySelector('[aria-label=Stage] canvas, canvas[data-drawn]').getAttribute('aria-label')";
    browser
        .wait_for(&format!("{stage} === 'Plain: 2 pieces, highest first: Chip, Card. Nothing is selected.'"))
        .await?;
    let chosen = "[...document.querySelectorAll('[aria-label=Pieces] [aria-pressed=true]')].map((piece) => piece.title).join()";
    bench.choose("Card").await?;
    bench.script("document.activeElement.blur()").await?;
    bench.press("]").await?;
    browser.wait_for(&format!("{chosen} === 'Chip'")).await?;
    bench.click_named("Shortcuts").await?;
    browser.wait_for("document.querySelector('[role=dialog] [role=switch]')").await?;
    bench.script("document.querySelector('[role=dialog] [role=switch]').click()").await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for("!document.querySelector('[role=dialog]')").await?;
    bench.script("document.activeElement.blur()").await?;
    bench.press("[").await?;
    bench.chord("a").await?;
    browser.wait_for(&format!("{chosen} === 'Card,Chip'")).await?;
    // It is remembered.
    browser.driver.refresh().await?;
    bench.wait_drawn().await?;
    bench.choose("Card").await?;
    bench.script("document.activeElement.blur()").await?;
    bench.press("]").await?;
    bench.settle().await?;
    assert_eq!(bench.script(&format!("return {chosen}")).await?, "Card");
    browser.quit().await
}

/// The wheel with Ctrl held, which is what two fingers on a touch pad send: what is under the pointer stays there.
#[tokio::test]
async fn zooming_is_about_the_pointer() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Zoom", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.pick("Zoom", "200 %").await?;
    bench.settle().await?;
    let corner = bench.on_screen(260.0, 180.0).await?;
    for _ in 0..3 {
        let wheel = json!({"type": "mouseWheel", "x": corner.0, "y": corner.1, "deltaX": 0, "deltaY": -60, "modifiers": 2});
        browser.driver.cdp().send_raw("Input.dispatchMouseEvent", wheel).await?;
        browser.quiet().await?;
    }
    bench.settle().await?;
    let zoom = bench.script("return Number(document.querySelector('[aria-label=Zoom]').value)").await?;
    assert!(zoom.as_f64().unwrap() > 3.0, "{zoom}");
    let now = bench.on_screen(260.0, 180.0).await?;
    assert!((now.0 - corner.0).abs() <= 3 && (now.1 - corner.1).abs() <= 3, "{corner:?} went to {now:?}");
    browser.quit().await
}

/// A developer gets each look as a picture, the code, and every coat with its colour.
#[tokio::test]
async fn a_link_shows_every_look() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut pieces = card_and_chip();
    pieces[0]["states"] = json!({"hover": [drop_shadow("Soft", 20.0, json!({}))], "pressed": []});
    let plain = Plain::open(&app, &browser, &project("Shared", pieces, json!({}))).await?;
    let link = plain.bench.make_link().await?;
    browser.go(&link).await?;
    let loaded = |piece: &str| {
        format!(
            "[...document.querySelectorAll('li[aria-label={piece}] img')].filter((look) => look.naturalWidth === 448).length"
        )
    };
    browser.wait_for(&format!("{} === 3 && {} === 1", loaded("Card"), loaded("Chip"))).await?;
    let said = plain.bench.script("return document.querySelector('li[aria-label=Card]').innerText").await?;
    for words in ["Rest", "Hover", "Pressed", "box-shadow", "Soft", "Copy CSS"] {
        assert!(said.as_str().unwrap().contains(words), "{words} in {said}");
    }
    browser.quit().await
}

/// A font is brought from a file, sets the chosen text, is kept with what it says of its licence, and is in the code to fill in;
/// the browser draws the code in it. What is no font is refused in words.
#[tokio::test]
async fn a_font_of_ones_own_sets_a_text() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let text = json!({"kind": "text", "string": "Curved letters", "font": "Figtree", "size": 48, "weight": 400, "line_height": 1.25});
    let pieces = json!([piece("Title", text, (40.0, 60.0), json!([drop_shadow("Soft", 4.0, json!({}))]))]);
    let plain = Plain::open(&app, &browser, &project("Type", pieces, json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Title").await?;
    bench.click_named("Edit piece").await?;
    let before = bench.stage().await?;
    let file = browser.driver.query(By::Css("[aria-label^='Font file']")).first().await?;
    // ChromeDriver takes a file only by its canonical path.
    let letters =
        concat!(env!("CARGO_MANIFEST_DIR"), "/../zolvet-core/tests/rendering/letters/test-letters.otf");
    file.send_keys(std::fs::canonicalize(letters)?.display().to_string()).await?;
    plain.holds("/scenes/0/pieces/0/shape/font", json!("Test Letters")).await?;
    plain.holds("/scenes/0/pieces/0/shape/weight", json!(600)).await?;
    plain.holds("/assets/0/font/licence", json!("SIL Open Font License 1.1")).await?;
    plain.holds("/assets/0/media_type", json!("font/otf")).await?;
    let set = bench.stage_instead_of(&before).await?;
    // Where the browser draws the code itself, its letters have the brought font.
    bench.click_named("Browser’s own").await?;
    browser.wait_for("document.querySelector('[data-in-browser=fresh] [data-code-of]')").await?;
    browser.wait_for("[...document.fonts].some((font) => font.family.includes('Test Letters') && font.status === 'loaded')").await?;
    bench.click_named("Browser’s own").await?;
    bench.click_named("Licence").await?;
    let licence = By::Css(".mantine-Popover-dropdown textarea:not([aria-hidden])");
    let licence = browser.driver.query(licence).and_displayed().first().await?;
    licence.send_keys(Key::End + ", as bought").await?;
    bench.press(Key::Escape + "").await?;
    plain.holds("/assets/0/font/licence", json!("SIL Open Font License 1.1, as bought")).await?;
    let exported = reqwest::Client::new()
        .post(format!("{}/api/export", app.address))
        .json(
            &json!({"project": plain.document().await?, "format": "css", "scenes": true, "pieces": "whole"}),
        )
        .send()
        .await?
        .text()
        .await?;
    assert!(exported.contains("@font-face") && exported.contains("test-letters-600.otf"), "{exported}");
    // It is there after a reload, and what is no font is refused.
    browser.driver.refresh().await?;
    bench.wait_drawn().await?;
    bench.settle().await?;
    let again = bench.stage().await?;
    assert!(again == set, "the same letters after a reload");
    bench.choose("Title").await?;
    bench.click_named("Edit piece").await?;
    let file = browser.driver.query(By::Css("[aria-label^='Font file']")).first().await?;
    let broken = tempfile::Builder::new().suffix(".ttf").tempfile()?;
    std::fs::write(broken.path(), [0, 1, 0, 0, 0, 9, 1, 2, 3])?;
    file.send_keys(broken.path().display().to_string()).await?;
    browser
        .wait_for(
            "[...document.querySelectorAll('[role=alert]')].some((e) => e.textContent.includes('font'))",
        )
        .await?;
    browser.quit().await
}

/// A project as large as a whole product: pieces are pictured where they are seen, found by name, and chosen by a frame.
#[tokio::test]
async fn two_hundred_pieces_are_pictured_where_seen_searched_and_framed() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &large()).await?;
    let bench = &plain.bench;
    bench.settle().await?;
    let count = async |what: &str| -> Outcome<u64> {
        let found = bench.script(&format!("return document.querySelectorAll('{what}').length")).await?;
        Ok(found.as_u64().unwrap_or_default())
    };
    assert_eq!(count("[aria-label=Pieces] [title^=Tile]").await?, PIECES as u64);
    let pictured = count("[aria-label=Pieces] img").await?;
    assert!((4..40).contains(&pictured), "{pictured} of {PIECES} are in view");
    // What has not changed is not asked for again.
    bench.choose("Tile 0-2").await?;
    bench.settle().await?;
    let asked = "return performance.getEntriesByType('resource').filter((entry) => entry.name.endsWith('/api/thumbnails')).length";
    let before = bench.script(asked).await?;
    bench.click_named("Open c-0-2").await?;
    bench.settle().await?;
    assert_eq!(bench.script(asked).await?, before, "nothing has changed");
    bench.named("Search pieces").await?.send_keys("Tile 0-19").await?;
    browser
        .wait_for(
            "document.querySelectorAll('[aria-label=Pieces] div:not([hidden]) > [title^=Tile]').length === 11",
        )
        .await?;
    bench.named("Search pieces").await?.send_keys(Key::Escape + "").await?;
    // Two tiles of the first row.
    let (from, to) = (bench.on_screen(6.0, 6.0).await?, bench.on_screen(120.0, 96.0).await?);
    let drag = browser.driver.action_chain().move_to(from.0, from.1).click_and_hold().move_to(to.0, to.1);
    drag.release().perform().await?;
    browser
        .wait_for("document.querySelectorAll('[aria-label=Pieces] [aria-pressed=true]').length === 2")
        .await?;
    browser.quit().await
}
