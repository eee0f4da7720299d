//! The pointer on the stage: pieces are hit, dragged, turned and picked from as a hand means it.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::time::Duration;

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, box_of, card_and_chip, piece, project};
use zolvet_e2e::{App, Browser, Outcome};

const COAT: &str = "/scenes/0/pieces/0/wear/coats/0";

/// A rotated bar, a hidden ghost and a ball beside a card and a chip, under a light that differs by theme.
fn stage() -> Value {
    let mut pieces = card_and_chip();
    let mut bar = piece("Bar", box_of(200.0, 20.0), (200.0, 250.0), json!([]));
    bar["rotation"] = json!(90);
    let mut ghost = piece("Ghost", box_of(40.0, 40.0), (20.0, 300.0), json!([]));
    ghost["hidden"] = json!(true);
    let ball = piece("Ball", json!({"kind": "ellipse", "w": 120, "h": 120}), (450.0, 250.0), json!([]));
    pieces.as_array_mut().unwrap().extend([bar, ghost, ball]);
    let lights = json!({"lights": [{"id": "sun", "name": "Sun", "bearing": 0, "colour": "#ffffff", "strength": 1,
        "themes": {"dusk": {"bearing": 23}}}]});
    project("Stage", pieces, lights)
}

/// Pieces are hit where they are: rotated ones and ellipses.
#[tokio::test]
async fn pieces_are_hit_where_they_are() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &stage()).await?;
    let bench = &plain.bench;
    let title = |name: &str| {
        format!("document.querySelector('[aria-label=Stack] h2')?.textContent.includes('{name}')")
    };
    // Rotated by a quarter turn it stands upright: its own middle, and above it; the unrotated ends are ground.
    bench.click_scene(300.0, 180.0).await?;
    browser.wait_for(&title("Bar")).await?;
    bench.click_scene(215.0, 260.0).await?;
    browser
        .wait_for("document.querySelector('[aria-label=Stack]').textContent.includes('pieces in this scene')")
        .await?;
    bench.click_scene(455.0, 255.0).await?;
    browser.quiet().await?;
    browser
        .wait_for("document.querySelector('[aria-label=Stack]').textContent.includes('pieces in this scene')")
        .await?;
    bench.click_scene(510.0, 310.0).await?;
    browser.wait_for(&title("Ball")).await?;
    browser.quit().await
}

/// Double clicks, hidden pieces, fingers.
#[tokio::test]
async fn pieces_are_dragged_together() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &stage()).await?;
    let bench = &plain.bench;
    let title = |name: &str| {
        format!("document.querySelector('[aria-label=Stack] h2')?.textContent.includes('{name}')")
    };
    // A double click on what is no text leaves its handles.
    let (x, y) = bench.on_screen(160.0, 120.0).await?;
    browser.driver.action_chain().move_to(x, y).double_click().perform().await?;
    browser.wait_for(&title("Card")).await?;
    browser.wait_for("document.querySelectorAll('[aria-label^=\"Size of Card\"]').length === 8").await?;
    // A hidden piece among several moves as far as they do.
    let ghost = By::XPath("//section[@aria-label='Pieces']//button[contains(., 'Ghost')]");
    let ghost = browser.driver.find(ghost).await?;
    browser
        .driver
        .action_chain()
        .key_down(Key::Shift)
        .click_element(&ghost)
        .key_up(Key::Shift)
        .perform()
        .await?;
    let (x, y) = bench.on_screen(160.0, 120.0).await?;
    let drag = browser.driver.action_chain().move_to(x, y).key_down(Key::Alt).click_and_hold();
    drag.move_by_offset(10, 0)
        .move_by_offset(10, 0)
        .move_by_offset(10, 0)
        .release()
        .key_up(Key::Alt)
        .perform()
        .await?;
    bench.settle().await?;
    let moved = plain.document().await?["scenes"][0]["pieces"].clone();
    let by = moved[0]["x"].as_f64().unwrap() - 60.0;
    assert!(by > 20.0, "{by}");
    assert_eq!(moved[3]["x"].as_f64().unwrap() - 20.0, by);
    bench.click_named("Undo").await?;
    // A finger drags the piece, and the page does not scroll under it.
    let (x, y) = bench.on_screen(160.0, 120.0).await?;
    let touch = async |kind: &str, x: i64| -> Outcome {
        let points = if kind == "touchEnd" { json!([]) } else { json!([{"x": x, "y": y}]) };
        let event = json!({"type": kind, "touchPoints": points});
        browser.driver.cdp().send_raw("Input.dispatchTouchEvent", event).await?;
        Ok(())
    };
    touch("touchStart", x).await?;
    for step in 1..=10 {
        touch("touchMove", x + step * 6).await?;
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    touch("touchEnd", 0).await?;
    bench.settle().await?;
    let moved = plain.document().await?["scenes"][0]["pieces"][0]["x"].clone();
    assert!(moved.as_f64().unwrap() > 90.0, "{moved}");
    browser.quit().await
}

/// A pen chooses and moves pieces, and moves an offset's point: what it draws is followed like a mouse.
#[tokio::test]
async fn a_pen_is_followed() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &stage()).await?;
    let bench = &plain.bench;
    let place = |(x, y): (i64, i64)| (x as f64, y as f64);
    let card = place(bench.on_screen(160.0, 120.0).await?);
    browser.draw(&[card]).await?;
    browser.wait_for("document.querySelector('[aria-label=Stack] h2')?.textContent.includes('Card')").await?;
    // What was pressed is chosen everywhere before it is dragged.
    bench.settle().await?;
    let there = place(bench.on_screen(190.0, 140.0).await?);
    let between = ((card.0 + there.0) / 2.0, (card.1 + there.1) / 2.0);
    browser.draw(&[card, between, there]).await?;
    bench.settle().await?;
    // On a busy machine the last move is still asked for when the one before is saved.
    let half = json!(75);
    let mut x = plain.holds_instead_of("/scenes/0/pieces/0/x", &json!(60)).await?;
    if x.as_f64() == half.as_f64() {
        x = plain.holds_instead_of("/scenes/0/pieces/0/x", &half).await?;
    }
    let y = plain.document().await?["scenes"][0]["pieces"][0]["y"].clone();
    assert!(x.as_f64().unwrap() > 75.0 && y.as_f64().unwrap() > 70.0, "{x} {y}");
    bench.click_named("Open Soft").await?;
    bench.settle().await?;
    let point = bench
        .script("const b = document.querySelector('[aria-label^=\"Offset\"][role=slider]').getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]")
        .await?;
    let point = (point[0].as_f64().unwrap(), point[1].as_f64().unwrap());
    browser.draw(&[point, (point.0 + 6.0, point.1), (point.0 + 12.0, point.1)]).await?;
    bench.settle().await?;
    let offset = plain.document().await?.pointer(&format!("{COAT}/offset")).cloned().unwrap_or_default();
    assert!(offset["x"].as_f64().is_some_and(|x| x > 0.5), "{offset}");
    browser.quit().await
}

/// Drags past an end.
#[tokio::test]
async fn a_drag_goes_on_when_its_handle_has_gone() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &stage()).await?;
    let bench = &plain.bench;
    // The outline where a shadow has faded out is dragged until nothing is left of it; the next edit is a step of its own.
    bench.choose("Card").await?;
    bench.click_named("Open Soft").await?;
    let find = "const p = document.querySelector('[data-handle=\"Soft: blur\"]'); const m = p.getScreenCTM(); const n = p.getTotalLength(); let best = null; for (let i = 0; i < 200; i++) { const q = p.getPointAtLength(n * i / 200).matrixTransform(m); if (!best || q.x > best.x) best = q; } return [Math.round(best.x), Math.round(best.y)]";
    browser.wait_for("document.querySelector('[data-handle=\"Soft: blur\"]')").await?;
    let at = bench.script(find).await?;
    let drag = browser
        .driver
        .action_chain()
        .move_to(at[0].as_i64().unwrap(), at[1].as_i64().unwrap())
        .click_and_hold();
    drag.move_by_offset(-30, 0).perform().await?;
    tokio::time::sleep(Duration::from_millis(300)).await;
    browser.driver.action_chain().move_by_offset(33, 0).release().perform().await?;
    plain.holds(&format!("{COAT}/blur"), json!(15)).await?;
    bench.type_number("Spread", "4").await?;
    bench.click_named("Undo").await?;
    plain.holds(&format!("{COAT}/spread"), json!(0)).await?;
    plain.holds(&format!("{COAT}/blur"), json!(15)).await?;
    bench.click_named("Undo").await?;
    plain.holds(&format!("{COAT}/blur"), json!(12)).await?;
    bench.press(Key::Escape + "").await?;
    browser.quit().await
}

/// Lights that differ by theme.
#[tokio::test]
async fn bearings_hold_to_the_light_of_the_theme() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &stage()).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.settle().await?;
    // The light of this theme is what bearings hold to.
    bench.click_named("Along the light").await?;
    bench.click_named("Show measuring line").await?;
    bench.press(Key::Escape + "").await?;
    let turn = bench.named("Turn the line of the edge profile").await?;
    let end = bench.script("const r = document.querySelector('[aria-label=\"Turn the line of the edge profile\"]').getBoundingClientRect(); const m = document.querySelector('[aria-label=\"Move the line of the edge profile\"]').getBoundingClientRect(); return [r.left + 7, r.top + 7, m.left + 7, m.top + 7]").await?;
    let side = |i: usize| end[i].as_f64().unwrap();
    let length = f64::hypot(side(0) - side(2), side(1) - side(3));
    let wanted = 24.5_f64.to_radians();
    let middle = bench.on_screen(160.0, 120.0).await?;
    let (x, y) = (middle.0 as f64 - length * wanted.sin(), middle.1 as f64 + length * wanted.cos());
    let drag = browser.driver.action_chain().move_to_element_center(&turn).click_and_hold();
    drag.move_to(x.round() as i64, y.round() as i64).release().perform().await?;
    browser
        .wait_for(
            "document.querySelector('[aria-label=\"Edge profile\"]').textContent.includes('Away from 23°')",
        )
        .await?;
    browser.quit().await
}

/// A scene that is taken back.
#[tokio::test]
async fn a_scene_that_is_taken_back_is_left() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &stage()).await?;
    let bench = &plain.bench;
    // A scene that is taken back is not stayed in.
    browser.click(&By::XPath("//section[@aria-label='Scene']//button[@aria-haspopup='menu']")).await?;
    let new = By::XPath("//*[@role='menuitem'][normalize-space(.)='New scene']");
    browser.click(&new).await?;
    browser
        .wait_for("document.querySelector('section[aria-label=Scene]').textContent.includes('Scene 2')")
        .await?;
    bench.click_named("Undo").await?;
    browser.wait_for("document.querySelector('section[aria-label=Scene]').textContent.includes('Plain') && document.querySelectorAll('[aria-label=Pieces] button img').length === 5").await?;
    browser.quit().await
}

/// The picker takes the mean of what is there, and of nothing beyond the edge.
#[tokio::test]
async fn a_colour_at_the_edge_is_picked_as_it_is() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let corner = json!([piece("Dot", box_of(20.0, 20.0), (290.0, 190.0), json!([]))]);
    let plain = Plain::open(&app, &browser, &project("Edge", corner, json!({}))).await?;
    let bench = &plain.bench;
    bench.click_named("Pick colour").await?;
    bench.script("[...document.querySelectorAll('[aria-label=\"Width of the averaged square, in pixels\"] label')].find((l) => l.textContent === '5 px').click()").await?;
    for (x, y) in [(1.0, 200.0), (598.5, 398.5), (300.0, 399.0)] {
        bench.click_scene(x, y).await?;
        browser
            .wait_for(
                "[...document.querySelectorAll('[aria-label=Stage] p')].some((p) => p.textContent === 'Scene #e8e4da')",
            )
            .await?;
    }
    browser.quit().await
}
