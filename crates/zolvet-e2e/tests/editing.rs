//! Editing: what is typed and chosen is kept, and keys mean what has the focus.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, card_and_chip, drop_shadow, project};
use zolvet_e2e::{App, Browser, Outcome};

const COAT: &str = "/scenes/0/pieces/0/wear/coats/0";

/// A card and a chip, whose shadow follows a light.
fn numbers() -> Value {
    let light =
        json!({"lights": [{"id": "sun", "name": "Sun", "bearing": 0, "colour": "#ffffff", "strength": 1}]});
    let mut pieces = card_and_chip();
    pieces[1]["wear"]["coats"][0]["offset"] = json!({"distance": 9, "follows": "sun"});
    project("Numbers", pieces, light)
}

/// A card with two shadows, one of them with a falloff, and a chip.
fn keys() -> Value {
    let falloff = json!({"falloff": {"points": [{"from": 0, "to": 0}, {"from": 0.4, "to": 0.8}, {"from": 1, "to": 1}]}});
    let mut pieces = card_and_chip();
    pieces[0]["wear"]["coats"] =
        json!([drop_shadow("Soft", 8.0, falloff), drop_shadow("Wide", 30.0, json!({"blur": 40}))]);
    project("Keys", pieces, json!({}))
}

/// A colour's panel closes when its text is typed instead; Escape closes panels one by one, the last opened first.
#[tokio::test]
async fn panels_within_panels_close_one_by_one() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Panels", card_and_chip(), leaf())).await?;
    let bench = &plain.bench;
    let panels =
        |count: usize| format!("document.querySelectorAll('.mantine-Popover-dropdown').length === {count}");
    for (opener, chip) in [("Swatches", "Colour of Leaf: #2f7d6b80"), ("Ground", "Ground colour: #e8e4da")] {
        let (label, _) = chip.split_once(':').unwrap();
        bench.click_named(opener).await?;
        bench.click_named(chip).await?;
        browser.wait_for(&panels(2)).await?;
        // The field for CSS stands beside the chip: there is no need of its panel any more.
        bench.click_named(&format!("{label}, as CSS")).await?;
        browser.wait_for(&panels(1)).await?;
        browser.quiet().await?;
        browser.wait_for(&panels(1)).await?;
        bench.click_named(chip).await?;
        browser.wait_for(&panels(2)).await?;
        for left in [1, 0] {
            bench.press(Key::Escape + "").await?;
            browser.wait_for(&panels(left)).await?;
        }
    }
    browser.quit().await
}

fn leaf() -> Value {
    json!({"swatches": [{"id": "w", "name": "Leaf", "values": {"day": "#2f7d6b80", "dusk": "#2f7d6b80"}}]})
}

/// Colours: typed and left, kept whole.
#[tokio::test]
async fn a_colour_stays_what_was_chosen() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Colours", card_and_chip(), leaf())).await?;
    let bench = &plain.bench;
    let panels =
        |count: usize| format!("document.querySelectorAll('.mantine-Popover-dropdown').length === {count}");
    let leaf = "/swatches/0/values/dusk";
    bench.click_named("Swatches").await?;
    bench.click_named("Colour of Leaf: #2f7d6b80").await?;
    // Another alpha, exactly; then another hue on the plane, with that alpha.
    let alpha = bench.named("Colour of Leaf, alpha").await?;
    alpha.click().await?;
    alpha.send_keys(Key::Control + "a").await?;
    alpha.send_keys("25").await?;
    alpha.send_keys(Key::Enter + "").await?;
    let quarter = json!("rgb(47 125 107 / 0.25)");
    plain.holds(leaf, quarter.clone()).await?;
    browser
        .driver
        .find(By::Css("[aria-label='Colour of Leaf, hue']"))
        .await?
        .send_keys(Key::Right + "")
        .await?;
    let turned = plain.holds_instead_of(leaf, &quarter).await?;
    let turned = turned.as_str().unwrap().to_owned();
    assert!(turned.ends_with("/ 0.25)") && !turned.starts_with("rgb(47 125 107"), "{turned}");
    // What has no colour by itself is not taken; what has is taken wherever the next press goes.
    let field = bench.named("Colour of Leaf, as CSS").await?;
    let kept = "document.querySelector('[aria-label=\"Colour of Leaf, as CSS\"]').getAttribute('aria-invalid') === 'true'";
    for word in ["inherit", "currentColor", "var(--x, red)", "canvas"] {
        field.click().await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(word).await?;
        field.send_keys(Key::Enter + "").await?;
        browser.wait_for(kept).await?;
    }
    bench.settle().await?;
    assert_eq!(plain.document().await?.pointer(leaf), Some(&json!(turned)));
    field.send_keys(Key::Control + "a").await?;
    field.send_keys("oklch(0.5 0.1 20)").await?;
    bench.click_scene(590.0, 390.0).await?;
    browser.wait_for(&panels(0)).await?;
    plain.holds(leaf, json!("oklch(0.5 0.1 20)")).await?;
    browser.quit().await
}

/// Numbers: typed and left for another piece, with thousands, held arrows, unknown forms.
#[tokio::test]
async fn a_number_goes_where_it_was_typed() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &numbers()).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Open Soft").await?;
    let blur = browser
        .driver
        .query(By::XPath("//label[text()='Blur']/..//input[not(@type='range')]"))
        .first()
        .await?;
    blur.click().await?;
    blur.send_keys(Key::Control + "a").await?;
    blur.send_keys("33").await?;
    bench.click_scene(460.0, 110.0).await?;
    browser.wait_for("document.querySelector('[aria-label=Stack] h2').textContent.includes('Chip')").await?;
    plain.holds(&format!("{COAT}/blur"), json!(33)).await?;
    plain.holds("/scenes/0/pieces/1/wear/coats/0/blur", json!(12)).await?;
    bench.click_named("Edit piece").await?;
    for (typed, x) in
        [("1,000", 1000.0), ("0,5", 0.5), ("1.250,5", 1250.5), ("1 000 + 1", 1001.0), ("400", 400.0)]
    {
        bench.type_number("Left", typed).await?;
        plain.holds("/scenes/0/pieces/1/x", json!(x)).await?;
    }
    // A name takes what a name may be, and so does that of a copy.
    let paste = "const field = document.querySelector('[aria-label=\"Name of the piece\"]'); field.focus(); field.select();
        document.execCommand('insertText', false, 'ab'.repeat(5000)); field.blur()";
    bench.script(paste).await?;
    plain.holds("/scenes/0/pieces/1/name", json!("ab".repeat(100))).await?;
    bench.chord("d").await?;
    plain.holds("/scenes/0/pieces/2/name", json!(format!("{} 2", "ab".repeat(99)))).await?;
    browser.quit().await
}

/// An arrow that is held is one step, and the history outlives a look at the projects.
#[tokio::test]
async fn what_is_done_is_undone_as_it_was_done() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &numbers()).await?;
    let bench = &plain.bench;
    bench.choose("Chip").await?;
    bench.settle().await?;
    // An arrow that is held is one step: down, its repetitions, up.
    bench.named("Turn Chip").await?.focus().await?;
    bench
        .script("document.activeElement.blur(); document.querySelector('[aria-label=Stage]').focus()")
        .await?;
    for (kind, repeats) in [("keyDown", false), ("keyDown", true), ("keyDown", true), ("keyUp", false)] {
        let key = json!({"type": kind, "key": "ArrowRight", "code": "ArrowRight", "windowsVirtualKeyCode": 39, "autoRepeat": repeats});
        browser.driver.cdp().send_raw("Input.dispatchKeyEvent", key).await?;
    }
    plain.holds("/scenes/0/pieces/1/x", json!(403)).await?;
    bench.click_named("Undo").await?;
    plain.holds("/scenes/0/pieces/1/x", json!(400)).await?;
    // Going to the projects and back keeps the history.
    bench.click_named("zolvet").await?;
    browser.wait_for("document.querySelector('main ul a')").await?;
    browser.driver.back().await?;
    bench.wait_drawn().await?;
    bench.click_named("Redo").await?;
    plain.holds("/scenes/0/pieces/1/x", json!(403)).await?;
    browser.quit().await
}

/// What the core has not said yet is not taken for nothing.
#[tokio::test]
async fn what_is_not_known_is_not_shown() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    // A worker of the page would know.
    browser.drawn_by("service", &app.address).await?;
    let plain = Plain::open(&app, &browser, &numbers()).await?;
    let bench = &plain.bench;
    // What the core has not said yet is not taken for nothing, and no code of another piece is shown.
    bench.choose("Card").await?;
    bench.settle().await?;
    app.kill();
    let chip = By::XPath("//section[@aria-label='Pieces']//button[span[text()='Chip']]");
    browser.click(&chip).await?;
    bench.click_named("Open Tight").await?;
    let y =
        browser.driver.query(By::XPath("//label[text()='y']/..//input[not(@type='range')]")).first().await?;
    assert!(!y.is_enabled().await?);
    assert_eq!(
        bench
            .script("return document.querySelector('[aria-label=Read-out]').textContent.includes('card')")
            .await?,
        false
    );
    app.start_again()?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre')?.textContent.includes('.chip')")
        .await?;
    bench.type_number("y", "5").await?;
    plain.holds("/scenes/0/pieces/1/wear/coats/0/offset", json!({"x": 0, "y": 5})).await?;
    browser.quit().await
}

/// Keys mean what has the focus, and work wherever it is.
#[tokio::test]
async fn keys_mean_what_has_the_focus() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &keys()).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Open Soft").await?;
    bench.unfold().await?;
    let point = browser.driver.query(By::Css("[aria-label='Falloff point 2']")).first().await?;
    point.focus().await?;
    bench.press(Key::Delete + "").await?;
    plain.holds(&format!("{COAT}/falloff/points/1/from"), json!(1)).await?;
    assert_eq!(
        bench.script("return document.activeElement.getAttribute('aria-label')").await?,
        "Falloff point 1"
    );
    bench.press(Key::Delete + "").await?;
    plain.holds(&format!("{COAT}/id"), json!("Soft")).await?;
    // On a switch, letters and Delete are free; a window that loses the focus lets go of what was held.
    let coats = "document.querySelector('[aria-label=Stack] input[role=switch]')";
    bench.script(&format!("{coats}.focus()")).await?;
    let badge = "document.querySelector('[aria-label=Stage][data-before]')";
    browser.driver.action_chain().key_down('b').perform().await?;
    browser.wait_for(badge).await?;
    bench.script("window.dispatchEvent(new Event('blur'))").await?;
    browser.wait_for(&format!("!{badge}")).await?;
    browser.driver.action_chain().key_up('b').perform().await?;
    browser.quit().await
}

/// A coat that is removed while its curve is pointed at.
#[tokio::test]
async fn what_is_left_is_shown() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &keys()).await?;
    let bench = &plain.bench;
    let coats = "document.querySelector('[aria-label=Stack] input[role=switch]')";
    bench.choose("Card").await?;
    bench.click_named("Open Soft").await?;
    // A coat that goes while its curve is pointed at leaves the others to be seen.
    bench.settle().await?;
    browser.wait_for("document.querySelector('[aria-label=\"Edge profile\"] svg path[class*=hit]')").await?;
    let at = bench.script("const p = document.querySelector('[aria-label=\"Edge profile\"] svg path[class*=hit]'); const q = p.getPointAtLength(p.getTotalLength() * 0.7).matrixTransform(p.getScreenCTM()); return [Math.round(q.x), Math.round(q.y)]").await?;
    browser.driver.action_chain().move_to(at[0].as_i64().unwrap(), at[1].as_i64().unwrap()).perform().await?;
    bench.script(&format!("{coats}.focus()")).await?;
    bench.press(Key::Delete + "").await?;
    plain.holds(&format!("{COAT}/id"), json!("Wide")).await?;
    bench.settle().await?;
    let pointed = bench.stage().await?;
    browser.driver.action_chain().move_to(640, 20).perform().await?;
    bench.settle().await?;
    assert!(bench.stage().await? == pointed, "the stage showed the piece without its coats");
    browser.quit().await
}

/// Adding things, and setting points.
#[tokio::test]
async fn something_is_added_in_any_context() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &keys()).await?;
    let bench = &plain.bench;
    // Without a secure context there is no randomUUID; something can be added all the same. Setting points takes keys from
    // no field.
    bench.script("delete Crypto.prototype.randomUUID").await?;
    let menu = |item: &'static str| {
        let driver = browser.driver.clone();
        async move {
            driver
                .query(By::XPath("//button[normalize-space(.)='Add piece']"))
                .first()
                .await?
                .click()
                .await?;
            let item = By::XPath(format!("//*[@role='menuitem'][normalize-space(.)='{item}']"));
            driver.query(item).and_displayed().first().await?.click().await
        }
    };
    menu("Ellipse").await?;
    plain.holds("/scenes/0/pieces/2/name", json!("Ellipse")).await?;
    menu("Path, drawn point by point").await?;
    browser.wait_for("document.querySelector('[data-note]')").await?;
    bench.choose("Card").await?;
    menu("Path, drawn point by point").await?;
    bench.choose_in("Stack", "Paste CSS…").await?;
    let field = bench.named("CSS to read").await?;
    field.send_keys("abc").await?;
    field.send_keys(Key::Backspace + "").await?;
    field.send_keys(Key::Enter + "").await?;
    field.send_keys("d").await?;
    assert_eq!(field.prop("value").await?.as_deref(), Some("ab\nd"));
    browser.quit().await
}

/// What could not be reached when it was opened opens by itself once the service is back.
#[tokio::test]
async fn what_could_not_be_reached_opens_by_itself() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    let card = "document.querySelector('main a[href^=\"/projects/\"]')";
    browser.go(&app.address).await?;
    browser.wait_for(card).await?;
    app.kill();
    browser.driver.execute(format!("{card}.click()"), vec![]).await?;
    browser.wait_for("document.body.textContent.includes('The service does not answer')").await?;
    app.start_again()?;
    browser.wait_for("document.querySelector('canvas')?.dataset.drawn").await?;
    browser.quit().await
}

/// A transition takes whole milliseconds: whatever is typed ends in a document that can be saved.
#[tokio::test]
async fn a_transition_takes_whole_milliseconds() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let finish = json!([{"id": "f", "name": "Lifted", "coats": [drop_shadow("d", 4.0, json!({}))],
        "states": {"hover": [drop_shadow("d", 8.0, json!({}))]}, "transition": {"duration": 90, "curve": "ease"}}]);
    let plain =
        Plain::open(&app, &browser, &project("Moving", card_and_chip(), json!({"finishes": finish}))).await?;
    plain.bench.click_named("Finishes").await?;
    plain.bench.click_named("More for Lifted").await?;
    plain.bench.click_named("Transition between states…").await?;
    let field = By::Css("[aria-label='Transition time of Lifted']");
    browser.wait_for("document.querySelector('[aria-label=\"Transition time of Lifted\"]')").await?;
    browser.type_over(&field, "0.25\u{e007}").await?;
    plain.holds("/finishes/0/transition/duration", json!(0)).await?;
    browser.quit().await
}
