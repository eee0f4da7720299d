//! The clipboard: what is pasted lands where it was meant; files and pictures are kept as long as they are wanted.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::time::Duration;

use reqwest::Client;
use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, box_of, card_and_chip, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

const COAT: &str = "/scenes/0/pieces/0/wear/coats/0";

/// The clipboard: a picture of vectors, coats across projects, CSS for the piece it was meant for.
#[tokio::test]
async fn what_is_pasted_lands_where_it_was_meant() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    browser.drawn_by("service", &app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.chord("c").await?;
    let plain = Plain::open(&app, &browser, &project("Other", card_and_chip(), json!({}))).await?;
    bench.choose("Card").await?;
    bench.chord("v").await?;
    browser.wait_for("document.querySelectorAll('[aria-label=Stack] article').length > 2").await?;
    bench.settle().await?;
    let document = plain.document().await?.clone();
    let text = document.pointer("/scenes/0/pieces/0/wear/coats").unwrap().to_string();
    assert!(text.contains("\"follows\":"), "{text}");
    for light in document["lights"].as_array().unwrap() {
        assert!(text.contains(light["id"].as_str().unwrap()), "{text}");
    }
    let paste = "const data = new DataTransfer(); data.setData('text/plain', '<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 8 8\"><path d=\"M0 0h8v8z\"/></svg>');
        document.body.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}))";
    bench.script(paste).await?;
    plain.holds("/scenes/0/pieces/2/shape/kind", json!("path")).await?;
    // The service answers late; another piece is chosen meanwhile.
    bench.choose("Card").await?;
    bench.settle().await?;
    browser.slow_down(700).await?;
    bench.choose_in("Stack", "Paste CSS…").await?;
    bench.named("CSS to read").await?.send_keys("box-shadow: 3px 3px red").await?;
    bench.click_named("Replace the stack").await?;
    let chip = By::XPath("//section[@aria-label='Pieces']//button[span[text()='Chip']]");
    browser.click(&chip).await?;
    browser.slow_down(0).await?;
    plain.holds(&format!("{COAT}/offset"), json!({"x": 3, "y": 3})).await?;
    plain.holds("/scenes/0/pieces/1/wear/coats/0/id", json!("Tight")).await?;
    browser.quit().await
}

/// A card with three coats, one of them muddy, and a finish.
fn views() -> Value {
    let muddy = drop_shadow("Muddy", 6.0, json!({"colour": "#c02010", "blend": "multiply"}));
    let coats = json!([drop_shadow("First", 1.0, json!({})), drop_shadow("Good", 8.0, json!({})), muddy]);
    let finishes =
        json!({"finishes": [{"id": "f", "name": "Lifted", "coats": [drop_shadow("a", 4.0, json!({}))]}]});
    let pieces = json!([piece("Card", box_of(200.0, 120.0), (60.0, 60.0), coats)]);
    project("Views", pieces, finishes)
}

/// A fix by what it is about.
#[tokio::test]
async fn a_fix_finds_what_it_is_about() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    // A worker of the page would answer at once.
    browser.drawn_by("service", &app.address).await?;
    let plain = Plain::open(&app, &browser, &views()).await?;
    let bench = &plain.bench;
    // A fix that was found before a coat came back is for the coat it was found in, wherever that lies by now.
    bench.choose("Card").await?;
    bench.click_named("Open First").await?;
    bench.press(Key::Delete + "").await?;
    bench.settle().await?;
    bench.click_named("Check").await?;
    let rows = "[...document.querySelectorAll('section[aria-label=Findings] li > button')]";
    browser.wait_for(&format!("{rows}.some((b) => b.textContent.includes('multiply'))")).await?;
    bench.script(&format!("{rows}.find((b) => b.textContent.includes('multiply')).click()")).await?;
    browser.slow_down(1500).await?;
    bench.click_named("Undo").await?;
    bench.click_named("Apply").await?;
    browser.slow_down(0).await?;
    plain.holds(&format!("{}2/blend", COAT.trim_end_matches('0')), json!("normal")).await?;
    plain.holds(&format!("{}1/blend", COAT.trim_end_matches('0')), Value::Null).await?;

    browser.quit().await
}

/// A text is saved under its own ending.
#[tokio::test]
async fn a_text_has_its_own_ending() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    // A worker of the page would answer at once.
    browser.drawn_by("service", &app.address).await?;
    let plain = Plain::open(&app, &browser, &views()).await?;
    let bench = &plain.bench;
    bench.click_named("Hand-off").await?;
    browser
        .wait_for("document.querySelector('section[aria-label=Export] pre').textContent.includes('-lifted')")
        .await?;
    browser.slow_down(900).await?;
    bench.script("[...document.querySelectorAll('[aria-label=Format] label')].find((l) => l.textContent === 'Project').click()").await?;
    tokio::time::sleep(Duration::from_millis(150)).await;
    let save = "[...document.querySelectorAll('section[aria-label=Export] button')].find((b) => b.textContent === 'Save as a file').disabled";
    assert_eq!(
        bench.script(&format!("return {save}")).await?,
        true,
        "the text is still that of the other format"
    );
    browser.slow_down(0).await?;
    browser
        .wait_for(&format!(
            "!{save} && document.querySelector('section[aria-label=Export] pre').textContent.startsWith('{{')"
        ))
        .await?;

    browser.quit().await
}

/// Finishes: what a keystroke costs, and how they were long ago.
#[tokio::test]
async fn finishes_are_pictured_once_and_remembered() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &views()).await?;
    let bench = &plain.bench;
    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelectorAll('article img').length === 6").await?;
    browser.quiet().await?;
    let asked = "return performance.getEntriesByType('resource').filter((entry) => entry.name.endsWith('/api/finishes')).length";
    let before = bench.script(asked).await?;
    bench.named("Name of Lifted").await?.send_keys(" up").await?;
    bench.settle().await?;
    assert_eq!(bench.script(asked).await?, before, "no picture shows the name");
    // Thirty saves later an earlier look is still found.
    let address = format!("{}/api/projects/{}", app.address, plain.id);
    let stored_now = bench.stored(&app.address, &plain.id).await?;
    let (mut document, mut revision) =
        (stored_now["document"].clone(), stored_now["revision"].as_i64().unwrap());
    document["finishes"][0]["coats"][0]["blur"] = json!(77);
    for change in 0..30 {
        document["name"] = json!(format!("Views {change}"));
        let save = Client::new().put(&address).header("If-Match", format!("\"{revision}\"")).json(&document);
        assert_eq!(save.send().await?.status(), 200);
        revision += 1;
    }
    browser.driver.refresh().await?;
    browser.wait_for("document.querySelectorAll('article img').length === 6").await?;
    bench.choose_in("More for", "Earlier revisions…").await?;
    browser
        .wait_for("document.querySelector('.mantine-Popover-dropdown')?.textContent.includes('1 coat')")
        .await?;
    bench.press(Key::Escape + "").await?;

    browser.quit().await
}

/// Pictures are let go of; a browser that thinks it is offline asks all the same.
#[tokio::test]
async fn pictures_of_projects_are_let_go_of() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &views()).await?;
    let bench = &plain.bench;
    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelectorAll('article img').length === 6").await?;
    // Pictures of projects are let go of with their cards, and lists are read whatever the browser thinks of the network.
    bench.script("window.made = 0; const [make, drop] = [URL.createObjectURL, URL.revokeObjectURL];
        URL.createObjectURL = (blob) => { window.made += 1; return make(blob); };
        URL.revokeObjectURL = (address) => { window.made -= 1; drop(address); };
        Object.defineProperty(navigator, 'onLine', { get: () => false }); window.dispatchEvent(new Event('offline'))").await?;
    for _ in 0..3 {
        bench.click_named("zolvet").await?;
        browser.wait_for("document.querySelectorAll('main ul img').length === 2").await?;
        browser.driver.back().await?;
        browser.wait_for("document.querySelectorAll('article img').length === 6").await?;
        browser.wait_for("window.made === 0").await?;
    }
    browser.quit().await
}

/// A stack that would be longer than the service takes is not made: pasting says so, and saving goes on.
#[tokio::test]
async fn no_more_is_pasted_than_can_be_saved() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Many", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    for _ in 0..7 {
        bench.choose_in("Stack", "Copy the stack").await?;
        bench.chord("v").await?;
    }
    browser
        .wait_for("document.querySelector('header [role=alert]')?.textContent.includes('at most 64 coats')")
        .await?;
    bench.settle().await?;
    let coats = plain.document().await?["scenes"][0]["pieces"][0]["wear"]["coats"].as_array().unwrap().len();
    assert_eq!(coats, 64);
    browser.quit().await
}
