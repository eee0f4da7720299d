//! Stacks that are found: fewer coats from the stack's menu, and coats for a profile whose curve is pulled.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, box_of, piece, project};
use zolvet_e2e::{App, Browser, Outcome};

fn shadow(step: i32) -> Value {
    let length = 1 << step;
    json!({"id": format!("s{step}"), "name": format!("S{step}"), "on": true, "opacity": 0.1, "kind": "drop",
        "offset": {"x": 0, "y": length}, "blur": length, "spread": 0, "colour": "#000"})
}

fn card(coats: Value) -> Value {
    project("Found", json!([piece("Card", box_of(240.0, 160.0), (80.0, 60.0), coats)]), json!({}))
}

const COATS: &str = "/scenes/0/pieces/0/wear/coats";

/// *Stack*, *Fewer coats…*: how far off each number is, the pictures, one click; one step to undo.
#[tokio::test]
async fn six_coats_become_three() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let six: Value = (0..6).map(shadow).collect();
    let plain = Plain::open(&app, &browser, &card(six.clone())).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.choose_in("Stack", "Fewer coats…").await?;
    browser.wait_for("document.querySelectorAll('[role=dialog] figure img').length === 2").await?;
    let counts = "return [...document.querySelectorAll('[role=dialog] [role=radiogroup] label')].map((label) => label.textContent)";
    assert_eq!(bench.script(counts).await?, json!(["1", "2", "3", "4", "5"]));
    let three = "//*[@role='dialog']//*[@role='radiogroup']//label[.='3']";
    browser.driver.query(By::XPath(three)).first().await?.click().await?;
    bench.click_named("Use 3 shadows").await?;
    browser.wait_for("!document.querySelector('[role=dialog]')").await?;
    bench.settle().await?;
    let stack = plain.document().await?.pointer(COATS).cloned().unwrap();
    assert_eq!(stack.as_array().map(Vec::len), Some(3), "{stack}");
    bench.click_named("Undo").await?;
    plain.holds(COATS, six).await?;
    browser.quit().await
}

/// The curve is pulled by the pointer and by keys; the coats follow while it is held, and all of it is one step.
#[tokio::test]
async fn the_profile_is_pulled() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let two = json!([shadow(2), shadow(4)]);
    let plain = Plain::open(&app, &browser, &card(two.clone())).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.settle().await?;
    let grip = By::Css("[role=slider][aria-label='Darkness of the profile']");
    let grip = browser.driver.query(grip).first().await?;
    let before = darkness(&grip).await?;
    let chain = browser.driver.action_chain().move_to_element_center(&grip).click_and_hold();
    chain.move_by_offset(0, -8).move_by_offset(0, -8).perform().await?;
    let opacity = "document.querySelector('[aria-label=Stack]').textContent.includes('10 %')";
    browser.wait_for(&format!("!({opacity})")).await?;
    browser.driver.action_chain().release().perform().await?;
    bench.settle().await?;
    let pulled = darkness(&grip).await?;
    assert!(pulled > before + 1.0, "{before} to {pulled}");
    let stack = plain.document().await?.pointer(COATS).cloned().unwrap();
    assert_eq!(stack.as_array().map(Vec::len), Some(2), "{stack}");
    bench.click_named("Undo").await?;
    plain.holds(COATS, two.clone()).await?;
    // By keys: two presses are one step too.
    bench
        .script("document.querySelector(\"[role=slider][aria-label='Darkness of the profile']\").focus()")
        .await?;
    bench.press(Key::Up + "").await?;
    bench.press(Key::Up + "").await?;
    bench.settle().await?;
    assert_ne!(plain.document().await?.pointer(COATS), Some(&two));
    browser.quit().await
}

/// What the grip of the curve says.
async fn darkness(grip: &WebElement) -> Outcome<f64> {
    let said = grip.attr("aria-valuenow").await?.unwrap_or_default();
    Ok(said.parse()?)
}
