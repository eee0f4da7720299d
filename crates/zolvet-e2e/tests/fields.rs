//! Fields, tools and dialogs have their own keys, take what people type, and ask before anything is lost for good.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, card_and_chip, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// A name is never empty, and in any script; a number may have its unit.
#[tokio::test]
async fn names_and_numbers() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Fields", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Edit piece").await?;
    let name = bench.named("Name of the piece").await?;
    name.send_keys(Key::Control + "a").await?;
    name.send_keys(Key::Delete + "").await?;
    assert_eq!(name.prop("value").await?.unwrap(), "");
    bench.type_number("Width", "120px").await?;
    plain.holds("/scenes/0/pieces/0/shape/w", json!(120)).await?;
    assert_eq!(plain.document().await?["scenes"][0]["pieces"][0]["name"], "Card");
    assert_eq!(name.prop("value").await?.unwrap(), "Card");
    name.send_keys(Key::Control + "a").await?;
    name.send_keys("بطاقة").await?;
    plain.holds("/scenes/0/pieces/0/name", json!("بطاقة")).await?;
    assert_eq!(name.attr("dir").await?.unwrap(), "auto");
    // Another unit is no number here, and says which is.
    let width =
        browser.driver.find(By::XPath("//label[text()='Width']/..//input[not(@type='range')]")).await?;
    width.send_keys(Key::Control + "a").await?;
    width.send_keys("12em").await?;
    width.send_keys(Key::Enter + "").await?;
    browser
        .wait_for("[...document.querySelectorAll('[role=alert]')].some((said) => said.textContent === 'Width: a number in px')")
        .await?;
    browser.quit().await
}

/// While a path is drawn, Escape and Ctrl+Z take back its last point, and leave the document alone; in a dialog too.
#[tokio::test]
async fn what_is_in_front_has_the_keys() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Keys", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.press(Key::Right + "").await?;
    let moved = plain.holds_instead_of("/scenes/0/pieces/0/x", &json!(60)).await?;
    bench.choose_in("Add piece", "Path, drawn point by point").await?;
    let points = |count: usize| {
        let dots = "document.querySelectorAll('[aria-label=Stage] svg circle').length";
        format!("{dots} === {count}")
    };
    for (number, (x, y)) in [(450.0, 60.0), (560.0, 60.0), (560.0, 160.0)].into_iter().enumerate() {
        bench.click_scene(x, y).await?;
        browser.wait_for(&points(number + 1)).await?;
    }
    bench.chord("z").await?;
    browser.wait_for(&points(2)).await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for(&points(1)).await?;
    bench.press(Key::Escape + "").await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for("![...document.querySelectorAll('button')].some((button) => button.textContent === 'Close the path')").await?;
    assert_eq!(plain.document().await?["scenes"][0]["pieces"][0]["x"], moved);
    bench.choose_in("Keys", "Rename…").await?;
    browser.wait_for("document.querySelector('[role=dialog] input')").await?;
    bench.chord("z").await?;
    bench.press(Key::Escape + "").await?;
    bench.settle().await?;
    assert_eq!(plain.document().await?["scenes"][0]["pieces"][0]["x"], moved);
    browser.quit().await
}

/// A project in the trash is deleted for good once that was asked.
#[tokio::test]
async fn for_good_is_asked_twice() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Doomed", card_and_chip(), json!({}))).await?;
    let http = reqwest::Client::new();
    let at = |path: &str| format!("{}/api/{path}", app.address);
    http.delete(at(&format!("projects/{}", plain.id))).send().await?.error_for_status()?;
    browser.go(&app.address).await?;
    let trash = async || -> Outcome<usize> {
        let found: Value = http.get(at("trash")).send().await?.json().await?;
        Ok(found.as_array().unwrap().len())
    };
    let bench = &plain.bench;
    bench.click_named("Delete Doomed permanently").await?;
    browser
        .wait_for(
            "document.querySelector('.mantine-Popover-dropdown')?.textContent.includes('are lost for good')",
        )
        .await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await?;
    assert_eq!(trash().await?, 1);
    bench.click_named("Delete Doomed permanently").await?;
    let sure = By::XPath("//*[contains(@class, 'mantine-Popover-dropdown')]//button");
    browser.click(&sure).await?;
    browser.wait_for("!document.querySelector('[aria-label=Trash]')").await?;
    assert_eq!(trash().await?, 0);
    browser.quit().await
}

/// A service without the core for browsers says so without an error that every page would log.
#[tokio::test]
async fn a_core_that_is_not_there_is_no_error() -> Outcome {
    let app = App::start()?;
    // Browsers take it packed; whoever does not gets nothing.
    let answer = reqwest::Client::new().get(format!("{}/core.wasm", app.address)).send().await?;
    assert_eq!(answer.status().as_u16(), 204);
    assert_eq!(answer.bytes().await?.len(), 0);
    Ok(())
}

/// What is read out of a piece is its depth, with its size and fill on demand, now and for the next piece.
#[tokio::test]
async fn depth_is_read_out_first() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    let shown = |condition: &str| {
        format!(
            "(() => {{ const css = document.querySelector('[aria-label=Read-out] pre').innerText; return {condition} }})()"
        )
    };
    let depth_alone = "css.startsWith('.open-valve-box {\\n  box-shadow:') && css.includes(':hover') && !css.includes('width') && !css.includes('background')";
    browser.wait_for(&shown(depth_alone)).await?;
    bench.click_named("With size and fill").await?;
    let whole =
        "css.indexOf('box-shadow') < css.indexOf('width: 236px') && css.includes('background: #2f7d6b')";
    browser.wait_for(&shown(whole)).await?;
    bench.choose("Frost badge").await?;
    browser.wait_for(&shown("css.startsWith('.frost-badge') && css.includes('width: ')")).await?;
    bench.click_named("Depth only").await?;
    browser.wait_for(&shown("!css.includes('width: ')")).await?;
    // How far off the code is, and where.
    browser.wait_for("/off on average, \\d+ (at edges|inside|around it)/.test(document.querySelector('[aria-label=Read-out]').innerText)").await?;
    browser.quit().await
}

/// A joined sign has lights on its parts that no CSS holds: it opens as SVG, and says why; a form that is chosen stays.
#[tokio::test]
async fn a_piece_opens_in_the_form_that_is_closest() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.scene("Plot marker").await?;
    bench.choose("Plot sign").await?;
    let text = "document.querySelector('[aria-label=Read-out] pre').innerText";
    browser.wait_for(&format!("{text}.startsWith('<svg')")).await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out]').innerText.includes('Closer than CSS')")
        .await?;
    bench.script("[...document.querySelectorAll('[aria-label=Read-out] label')].find((label) => label.innerText === 'CSS').click()").await?;
    browser.wait_for(&format!("{text}.startsWith('.plot-sign')")).await?;
    bench.choose("Sign name").await?;
    browser.wait_for(&format!("{text}.startsWith('.sign-name')")).await?;
    browser.quit().await
}

/// A piece says how legible the text on it is, and a stack to start from is shown with that text.
#[tokio::test]
async fn a_button_knows_its_word() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    let told = "/Text on it, Open valve label, needs 3 : 1\\s*6\\.\\d\\d/.test(document.querySelector('[aria-label=Visibility]').innerText)";
    browser.wait_for(told).await?;
    let picture = "return [...document.querySelectorAll('button')].find((one) => one.querySelector('span')?.textContent === 'Ridge')?.querySelector('img').src";
    let ridge = "[...document.querySelectorAll('button span')].some((one) => one.textContent === 'Ridge')";
    bench.click_named("Start from").await?;
    browser.wait_for(ridge).await?;
    let with_word = bench.script(picture).await?;
    bench.press(Key::Escape + "").await?;
    bench.choose("Open valve label").await?;
    bench.press(Key::Delete + "").await?;
    bench.choose("Open valve box").await?;
    browser
        .wait_for("!document.querySelector('[aria-label=Visibility]').innerText.includes('Text on it')")
        .await?;
    bench.click_named("Start from").await?;
    browser.wait_for(ridge).await?;
    assert_ne!(bench.script(picture).await?, with_word);
    browser.quit().await
}
