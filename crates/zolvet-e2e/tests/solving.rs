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

fn worn_by_a_card() -> Value {
    let coats: Value = (0..4).map(shadow).collect();
    let mut document = card(json!([]));
    document["finishes"] = json!([{"id": "f", "name": "Deep", "note": "", "coats": coats, "states": {}}]);
    document["scenes"][0]["pieces"][0]["wear"] = json!({"finish": "f"});
    document
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
    browser.click(&By::XPath(three)).await?;
    bench.click_named("Use 3 shadows").await?;
    browser.wait_for("!document.querySelector('[role=dialog]')").await?;
    bench.settle().await?;
    let stack = plain.document().await?.pointer(COATS).cloned().unwrap();
    assert_eq!(stack.as_array().map(Vec::len), Some(3), "{stack}");
    bench.click_named("Undo").await?;
    plain.holds(COATS, six).await?;
    browser.quit().await
}

/// *Start from*, *A picture…*: a screenshot of a card is chosen, its box and its shadow are found and used; one step to undo.
#[tokio::test]
async fn a_stack_is_found_on_a_screenshot() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let shadow = "0 8px 20px rgb(0 0 0 / 0.3)";
    browser
        .show(&format!(
            "<body style='margin:0;background:#dfe3e6'><div style='position:absolute;left:300px;top:200px;width:240px;\
             height:150px;border-radius:16px;background:#fffdf8;box-shadow:{shadow}'></div>"
        ))
        .await?;
    let file = tempfile::NamedTempFile::with_suffix(".png")?;
    std::fs::write(file.path(), browser.picture().await?.to_png()?)?;
    let plain = Plain::open(&app, &browser, &card(json!([]))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Start from").await?;
    bench.click_named("A picture…").await?;
    let field = browser.driver.find(By::Css("[role=dialog] input[type=file]")).await?;
    field.send_keys(file.path().display().to_string()).await?;
    browser.wait_for("document.querySelectorAll('[role=dialog] figure img').length === 3").await?;
    let side = "return [...document.querySelectorAll('[role=dialog] input')].map((field) => field.value)";
    let fields = bench.script(side).await?;
    assert!(
        fields.as_array().is_some_and(|all| all.contains(&json!("300")) && all.contains(&json!("240"))),
        "{fields}"
    );
    bench.click_named("Use these coats").await?;
    browser.wait_for("!document.querySelector('[role=dialog]')").await?;
    bench.settle().await?;
    let stack = plain.document().await?.pointer(COATS).cloned().unwrap_or_default();
    let number = |pointer: &str| stack.pointer(pointer).and_then(Value::as_f64).unwrap_or(f64::NAN);
    assert_eq!(stack.as_array().map(Vec::len), Some(1), "{stack}");
    assert!((number("/0/offset/y") - 8.0).abs() <= 0.5 && (number("/0/blur") - 20.0).abs() <= 1.0, "{stack}");
    assert!((number("/0/opacity") - 0.3).abs() <= 0.01, "{stack}");
    bench.click_named("Undo").await?;
    plain.holds(COATS, json!([])).await?;
    browser.quit().await
}

/// *Start from*, *A height…*: the coats follow the height, and a list of heights becomes finishes of the height scale.
#[tokio::test]
async fn heights_become_coats_and_a_scale() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &card(json!([]))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Start from").await?;
    bench.click_named("A height…").await?;
    let told = "document.querySelector('[role=dialog] figcaption')?.textContent.startsWith('Off from')";
    browser.wait_for(told).await?;
    let list = By::XPath("//*[@role='dialog']//label[contains(., 'Heights of a scale')]/following::input[1]");
    browser.type_over(&list, "3, 6").await?;
    bench.click_named("Make finishes of them").await?;
    plain.holds("/finishes/1/name", json!("Height 6")).await?;
    bench.click_named("Use these coats").await?;
    browser.wait_for("!document.querySelector('[role=dialog]')").await?;
    bench.settle().await?;
    let document = plain.document().await?;
    let stack = document.pointer(COATS).cloned().unwrap_or_default();
    assert_eq!(stack.as_array().map(Vec::len), Some(1), "{stack}");
    assert_eq!(stack.pointer("/0/shadows").and_then(Value::as_array).map(Vec::len), Some(3), "{stack}");
    let heights = [0, 1].map(|at| document["finishes"][at]["coats"][0].clone());
    assert_eq!(heights.clone().map(|coat| coat["height"].clone()), [json!(3), json!(6)]);
    assert_eq!(heights[0]["shadows"], heights[1]["shadows"]);
    assert_eq!(document["scale"].as_array().map(Vec::len), Some(2));
    browser.quit().await
}

/// A height is one number, by its field, by its handle on the stage and by keys there; it follows its light, and what the light is
/// made of casts it anew. Split, it is ordinary coats.
#[tokio::test]
async fn a_height_is_one_number() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let coat = json!({"id": "h", "name": "Height", "on": true, "opacity": 1, "kind": "raised", "height": 10, "bearing": 0, "follows": "sun",
        "rig": {"elevation": 50, "size": 8, "ambient": 0.4}, "colour": "#000", "shadows": [
            {"distance": 0.84, "blur": 0.12, "spread": 0, "opacity": 0.4}, {"distance": 0.2, "blur": 0.7, "spread": -0.27, "opacity": 0.38}]});
    let mut document = card(json!([coat]));
    document["lights"] = json!([{"id": "sun", "name": "Sun", "bearing": 0, "colour": "#fff", "strength": 1}]);
    let plain = Plain::open(&app, &browser, &document).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Open Height").await?;
    bench.type_number("Height", "20").await?;
    plain.holds("/scenes/0/pieces/0/wear/coats/0/height", json!(20)).await?;
    let knob = browser.driver.find(By::Css("[aria-label='Height of Height']")).await?;
    knob.send_keys(Key::Down + "").await?;
    // One px down is as much height as the shadow needs to lie one px farther away.
    let higher = plain.holds_instead_of("/scenes/0/pieces/0/wear/coats/0/height", &json!(20)).await?.as_f64();
    assert!(higher.is_some_and(|height| (21.0..21.4).contains(&height)), "{higher:?}");
    bench.click_named("Undo").await?;
    plain.holds("/scenes/0/pieces/0/wear/coats/0/height", json!(20)).await?;
    bench.click_named("Sun").await?;
    bench.type_number("Stands at", "70").await?;
    browser.wait_for("document.body.textContent.includes('by a light 70°')").await?;
    plain.holds("/lights/0/rig/elevation", json!(70)).await?;
    let distance = "/scenes/0/pieces/0/wear/coats/0/shadows/0/distance";
    let distance = plain.holds_instead_of(distance, &json!(0.84)).await?.as_f64();
    let wanted = 1.0 / 70_f64.to_radians().tan();
    assert!(distance.is_some_and(|distance| (distance - wanted).abs() < 0.01), "{distance:?}");
    bench.click_named("Split into 2 coats").await?;
    for number in 0..2 {
        plain.holds(&format!("/scenes/0/pieces/0/wear/coats/{number}/kind"), json!("drop")).await?;
    }
    let third = "/scenes/0/pieces/0/wear/coats/2";
    assert_eq!(plain.document().await?.pointer(third), None);
    browser.quit().await
}

/// *Hand-off*, for tools that hold less: the nearest values that have one shadow, without spread or inner shadows.
#[tokio::test]
async fn a_finish_is_brought_to_a_tool_that_holds_one_shadow() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &worn_by_a_card()).await?;
    let bench = &plain.bench;
    bench.click_named("Hand-off").await?;
    bench.click_named("Find the nearest").await?;
    let told = "document.querySelector('section[aria-label=\"With fewer shadows\"] pre')?.textContent";
    browser.wait_for(&format!("{told}?.startsWith('box-shadow: 0 ')")).await?;
    let one = bench.script(&format!("return {told}")).await?;
    let lengths =
        one.as_str().unwrap_or_default().split("rgb").next().unwrap_or_default().matches("px").count();
    assert_eq!(lengths, 2, "y and blur, and no spread: {one}");
    assert!(!one.as_str().unwrap_or_default().contains(','), "one shadow: {one}");
    bench.pick("Shadows at most", "Up to 3 shadows").await?;
    browser
        .wait_for(&format!("{told}?.split(' rgb').length === 4 || {told}?.split('px #').length === 4"))
        .await?;
    browser.quit().await
}

/// *Check*: the fix for too many shadows is found when the finding is opened, and looks the same.
#[tokio::test]
async fn too_many_shadows_become_few() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let end = |at: i32| json!({"offset": {"x": 0, "y": at}, "blur": at, "spread": 0, "colour": "#203028"});
    let ramp = json!([{"id": "r", "name": "Soft", "on": true, "opacity": 1, "kind": "ramp", "shadow": "drop", "near": end(2), "far": end(24),
        "count": 20, "growth": 1, "lean": 0, "total": 0.5}]);
    let plain = Plain::open(&app, &browser, &card(ramp)).await?;
    let bench = &plain.bench;
    bench.click_named("Check").await?;
    let row = "[...document.querySelectorAll('section[aria-label=Findings] li > button')].find((row) => row.textContent.includes('20 shadow layers'))";
    browser.wait_for(&format!("!!{row}")).await?;
    bench.script(&format!("{row}.click()")).await?;
    browser.wait_for("/Fix: use [1-8] shadows that differ by/.test(document.querySelector('section[aria-label=Findings]').textContent)").await?;
    bench.click_named("Apply").await?;
    browser.wait_for(&format!("!{row}")).await?;
    bench.settle().await?;
    let stack = plain.document().await?.pointer(COATS).cloned().unwrap_or_default();
    assert!(stack.as_array().is_some_and(|coats| (1..=8).contains(&coats.len())), "{stack}");
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
