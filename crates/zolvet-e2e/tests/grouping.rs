//! Groups on the bench: the way in and out, branches of the shelf, controls, and resizing.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, box_of, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome};

/// A card with a dot and a button, which is a face with a mark; and a chip beside it.
fn nested() -> Value {
    let group = |id: &str, at: (f64, f64), parts: Value| {
        let mut group = piece(id, json!({"kind": "group", "parts": parts}), at, json!([]));
        group.as_object_mut().unwrap().remove("fill");
        group
    };
    let face = piece("Face", box_of(100.0, 40.0), (0.0, 0.0), json!([drop_shadow("s", 4.0, json!({}))]));
    let mark = piece("Mark", box_of(20.0, 20.0), (10.0, 10.0), json!([]));
    let button = group("Button", (30.0, 80.0), json!([face, mark]));
    let back = piece("Back", box_of(200.0, 140.0), (0.0, 0.0), json!([]));
    let dot = piece("Dot", box_of(60.0, 60.0), (130.0, 10.0), json!([]));
    let card = group("Card", (40.0, 40.0), json!([back, dot, button]));
    let chip = piece("Chip", box_of(60.0, 40.0), (400.0, 60.0), json!([]));
    project("Nested", json!([card, chip]), json!({}))
}

fn title(name: &str) -> String {
    format!("document.querySelector('[aria-label=Stack] h2')?.textContent === '{name}'")
}

fn way_in(names: &[&str]) -> String {
    let names = json!(names);
    format!(
        "JSON.stringify([...document.querySelectorAll('[aria-label=\"Groups around it\"] button')].map((b) => b.textContent)) === '{names}'"
    )
}

fn on_shelf(names: &[&str]) -> String {
    let names = json!(names);
    format!(
        "JSON.stringify([...document.querySelectorAll('[aria-label=Pieces] [aria-pressed][title]')].filter((b) => b.querySelector('span')).map((b) => b.title)) === '{names}'"
    )
}

#[tokio::test]
async fn a_click_chooses_the_outermost_and_a_second_one_goes_in() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &nested()).await?;
    let bench = &plain.bench;
    // On the mark, which lies in the button, in the card.
    for (name, around) in [("Card", &[][..]), ("Button", &["Card"][..]), ("Mark", &["Card", "Button"][..])] {
        bench.click_scene(90.0, 140.0).await?;
        browser.wait_for(&title(name)).await?;
        browser.wait_for(&way_in(around)).await?;
        browser.quiet().await?;
    }
    // Beside it in the same group, then in the group around that.
    bench.click_scene(150.0, 140.0).await?;
    browser.wait_for(&title("Face")).await?;
    bench.click_scene(215.0, 65.0).await?;
    browser.wait_for(&title("Dot")).await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for(&title("Card")).await?;
    bench.press(Key::Enter + "").await?;
    browser.wait_for(&title("Back")).await?;
    bench.click_named("Card").await?;
    browser.wait_for(&title("Card")).await?;
    bench.click_scene(430.0, 80.0).await?;
    browser.wait_for(&title("Chip")).await?;
    browser.quit().await
}

/// A part is dragged, nudged and resized where it lies; its group goes along with nothing.
#[tokio::test]
async fn parts_are_moved_and_resized_in_their_group() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &nested()).await?;
    let bench = &plain.bench;
    bench.choose("Dot").await?;
    let dot = "/scenes/0/pieces/0/shape/parts/1";
    bench.script("document.activeElement.blur()").await?;
    bench.press(Key::Right + "").await?;
    plain.holds(&format!("{dot}/x"), json!(131)).await?;
    let (x, y) = bench.on_screen(201.0, 80.0).await?;
    let (to_x, to_y) = bench.on_screen(201.0, 120.0).await?;
    let chain = browser.driver.action_chain().move_to(x, y).click_and_hold().move_to(x, y + 9);
    chain.move_to(to_x, to_y).release().perform().await?;
    plain.holds(&format!("{dot}/y"), json!(50)).await?;
    let x = plain.document().await?.pointer(&format!("{dot}/x")).unwrap().as_f64().unwrap();
    bench.choose("Card").await?;
    // Its parts keep to its edges: the back grows, the dot stays at the right.
    let corner = browser.driver.query(By::Css("[aria-label='Size of Card, right edge']")).first().await?;
    let chain = browser.driver.action_chain().move_to_element_center(&corner).click_and_hold();
    chain.move_by_offset(20, 0).move_by_offset(40, 0).release().perform().await?;
    browser.quiet().await?;
    bench.settle().await?;
    let document = plain.document().await?;
    let part = |at: usize| &document["scenes"][0]["pieces"][0]["shape"]["parts"][at];
    let grown = part(0)["shape"]["w"].as_f64().unwrap() - 200.0;
    assert!(grown > 20.0, "{grown}");
    assert_eq!(part(1)["x"].as_f64().unwrap(), x + grown);
    assert_eq!(part(2)["x"], json!(30));
    browser.quit().await
}

#[tokio::test]
async fn pieces_move_between_branches_of_the_shelf() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &nested()).await?;
    let bench = &plain.bench;
    browser.wait_for(&on_shelf(&["Card", "Chip"])).await?;
    bench.click_named("Show parts of Card").await?;
    browser.wait_for(&on_shelf(&["Card", "Back", "Dot", "Button", "Chip"])).await?;
    let before = bench.stage().await?;
    let drag = async |from: &str, to: &str, share: f64| -> Outcome {
        let of = |name: &str| By::Css(format!("[aria-label=Pieces] [title='{name}'][aria-pressed]"));
        let from = browser.driver.query(of(from)).first().await?;
        let to = browser.driver.query(of(to)).first().await?;
        let height = to.rect().await?.height;
        let down = ((share - 0.5) * height) as i64;
        let chain = browser.driver.action_chain().move_to_element_center(&from).click_and_hold();
        let chain = chain.move_by_offset(0, 8).move_to_element_with_offset(&to, 0, down);
        chain.move_by_offset(1, 0).release().perform().await?;
        bench.settle().await
    };
    // Into the card, at its end; it lies where it did.
    drag("Chip", "Card", 0.5).await?;
    browser.wait_for(&on_shelf(&["Card", "Back", "Dot", "Button", "Chip"])).await?;
    plain.holds("/scenes/0/pieces/0/shape/parts/3/x", json!(360)).await?;
    assert_eq!(bench.stage().await?, before);
    // Out of it again, before it.
    drag("Chip", "Card", 0.1).await?;
    browser.wait_for(&on_shelf(&["Chip", "Card", "Back", "Dot", "Button"])).await?;
    plain.holds("/scenes/0/pieces/0/x", json!(400)).await?;
    // By keys: past the card, then into it, then out.
    bench.choose("Chip").await?;
    let shelved = browser.driver.query(By::Css("[aria-label=Pieces] [title='Chip']")).first().await?;
    shelved.focus().await?;
    let keys = async |key: Key| -> Outcome {
        let chain = browser.driver.action_chain().key_down(Key::Alt).send_keys(key + "");
        chain.key_up(Key::Alt).perform().await?;
        bench.settle().await
    };
    keys(Key::Down).await?;
    browser.wait_for(&on_shelf(&["Card", "Back", "Dot", "Button", "Chip"])).await?;
    plain.holds("/scenes/0/pieces/1/name", json!("Chip")).await?;
    keys(Key::Right).await?;
    plain.holds("/scenes/0/pieces/0/shape/parts/3/name", json!("Chip")).await?;
    keys(Key::Left).await?;
    plain.holds("/scenes/0/pieces/1/name", json!("Chip")).await?;
    browser.quit().await
}

/// A pressed control shows its parts in that state, on the stage and where it is said to in the scene.
#[tokio::test]
async fn parts_follow_the_state_of_their_control() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &nested()).await?;
    let bench = &plain.bench;
    bench.choose("Button").await?;
    bench.click_named("Control").await?;
    plain.holds("/scenes/0/pieces/0/shape/parts/2/control", json!(true)).await?;
    bench.choose("Face").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Stack]').textContent.includes('States of')")
        .await?;
    let at_rest = bench.stage().await?;
    bench.click_named("Pressed").await?;
    bench.click_named("Use own coats").await?;
    bench.click_named("Open s").await?;
    bench.type_number("y", "1").await?;
    bench.settle().await?;
    let css = bench.read_out().await?;
    assert!(css.contains(".button:active .face {"), "{css}");
    let pressed = bench.stage().await?;
    assert_ne!(pressed, at_rest);
    // The mark is seen with the face as it is when the button is pressed.
    bench.choose("Mark").await?;
    bench.settle().await?;
    assert_eq!(bench.stage().await?, at_rest);
    bench.click_named("Pressed").await?;
    bench.settle().await?;
    assert_eq!(bench.stage().await?, pressed);
    bench.click_named("Show so in the scene").await?;
    plain.holds("/scenes/0/pieces/0/shape/parts/2/shows", json!("pressed")).await?;
    bench.choose("Chip").await?;
    bench.settle().await?;
    assert_eq!(bench.stage().await?, pressed);
    browser.quit().await
}

/// Removing the last part removes the group, and undo brings both back.
#[tokio::test]
async fn a_group_goes_with_its_last_part() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &nested()).await?;
    let bench = &plain.bench;
    for name in ["Mark", "Face"] {
        bench.choose(name).await?;
        bench.press(Key::Delete + "").await?;
        browser.quiet().await?;
    }
    let whole = nested()["scenes"][0]["pieces"][0]["shape"]["parts"][2].clone();
    plain.holds_instead_of("/scenes/0/pieces/0/shape/parts/2", &whole).await?;
    plain.holds("/scenes/0/pieces/0/shape/parts/2", Value::Null).await?;
    let parts = plain.document().await?["scenes"][0]["pieces"][0]["shape"]["parts"].clone();
    assert_eq!(parts.as_array().unwrap().len(), 2, "{parts}");
    bench.chord("z").await?;
    plain.holds("/scenes/0/pieces/0/shape/parts/2/name", json!("Button")).await?;
    browser.quit().await
}
