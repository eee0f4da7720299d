//! Composing by hand: the stage, several pieces and coats at once, shared values, references, work that is kept.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::picture::Picture;
use zolvet_e2e::plain::piece_named;
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// The value of the field of this accessible name.
async fn value(bench: &Workbench<'_>, name: &str) -> Outcome<String> {
    Ok(bench.named(name).await?.prop("value").await?.unwrap_or_default())
}

/// Drags from the middle of what a selector finds.
async fn drag(browser: &Browser, selector: &str, by: (i64, i64)) -> Outcome {
    let handle = browser.driver.query(By::Css(selector)).first().await?;
    let actions = browser.driver.action_chain().move_to_element_center(&handle).click_and_hold();
    actions
        .move_by_offset(by.0 / 2, by.1 / 2)
        .move_by_offset(by.0 - by.0 / 2, by.1 - by.1 / 2)
        .release()
        .perform()
        .await?;
    Ok(())
}

/// Drags an outline on the stage by the place of it that lies farthest to the right.
async fn drag_outline(browser: &Browser, handle: &str, by: i64) -> Outcome {
    let find = format!(
        "const p = document.querySelector('[data-handle=\"{handle}\"]'); const m = p.getScreenCTM(); const n = p.getTotalLength();
        let best = null; for (let i = 0; i < 400; i++) {{ const q = p.getPointAtLength(n * i / 400).matrixTransform(m); if (!best || q.x > best.x) best = q; }} return [Math.round(best.x), Math.round(best.y)];"
    );
    let at = browser.driver.execute(find, vec![]).await?.json().clone();
    let (x, y) = (at[0].as_i64().unwrap(), at[1].as_i64().unwrap());
    let actions = browser.driver.action_chain().move_to(x, y).click_and_hold();
    actions.move_by_offset(by / 2, 0).move_by_offset(by - by / 2, 0).release().perform().await?;
    Ok(())
}

async fn menu(browser: &Browser, opener: &str, item: &str) -> Outcome {
    browser.click(&By::XPath(opener)).await?;
    let item = By::XPath(format!("//*[@role='menuitem'][normalize-space(.)='{item}']"));
    browser.click(&item).await?;
    Ok(())
}

#[tokio::test]
async fn a_shadow_is_taken_hold_of_on_the_stage() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.pick("Zoom", "100 %").await?;
    bench.choose("Frost badge").await?;
    bench.choose_in("Stack", "Clear").await?;
    bench.add_coat("Drop shadow").await?;
    bench.settle().await?;
    let before = bench.stage().await?;
    assert_eq!(value(&bench, "distance of Drop shadow, on the stage").await?, "8");
    drag_outline(&browser, "Drop shadow: spread", 20).await?;
    bench.settle().await?;
    assert_eq!(value(&bench, "Spread of Drop shadow, on the stage").await?, "20");
    drag_outline(&browser, "Drop shadow: blur", -10).await?;
    bench.settle().await?;
    assert_eq!(value(&bench, "Blur of Drop shadow, on the stage").await?, "6");
    // It follows the light from the top; dragged far off its line it lets go.
    drag(&browser, "[aria-label='Offset of Drop shadow']", (60, 10)).await?;
    bench.settle().await?;
    let (x, y) = (
        value(&bench, "x of Drop shadow, on the stage").await?,
        value(&bench, "y of Drop shadow, on the stage").await?,
    );
    assert_eq!((x.as_str(), y.as_str()), ("60", "18"));
    bench.named("Offset of Drop shadow").await?.send_keys(Key::Left + "").await?;
    bench.settle().await?;
    assert_eq!(value(&bench, "x of Drop shadow, on the stage").await?, "59", "arrow keys move it too");
    assert!(bench.read_out().await?.contains("59px 18px 6px 20px"), "{}", bench.read_out().await?);
    for _ in 0..4 {
        bench.click_named("Undo").await?;
    }
    bench.settle().await?;
    assert_eq!(bench.stage().await?, before, "each gesture was one step");

    // The edge profile has a curve for the coat, and its line is turned on the stage.
    bench.click_named("Along the light").await?;
    bench.click_named("Show measuring line").await?;
    bench.press(Key::Escape + "").await?;
    let turn = bench.named("Turn the line of the edge profile").await?;
    for _ in 0..3 {
        turn.send_keys(Key::Right + "").await?;
    }
    browser
        .wait_for("document.querySelector('[aria-label=\"Edge profile\"]').textContent.includes('Away from')")
        .await?;
    let curves = "return document.querySelectorAll('[aria-label=\"Edge profile\"] svg path > title').length";
    assert_eq!(bench.script(curves).await?, json!(1));
    browser.quit().await
}

/// What the stage, the code and the numbers say of the chosen piece.
async fn told(bench: &Workbench<'_>) -> Outcome<(Picture, String, Value)> {
    let sight = bench.script("return document.querySelector('[data-sight]').textContent").await?;
    Ok((bench.stage().await?, bench.read_out().await?, sight))
}

/// While a value is dragged, questions to the service are left out; the last never is.
#[tokio::test]
async fn a_drag_ends_with_everything_at_its_last_value() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    bench.settle().await?;
    let sight = "document.querySelector('[data-sight]')?.textContent.includes('contrast')";
    browser.wait_for(sight).await?;
    let before = told(&bench).await?;
    let drag = "const slider = document.querySelector('input[aria-label=\"Blur, slider\"]');
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
        const done = arguments[arguments.length - 1];
        let at = 0;
        const step = () => {
          if (at === 90) { slider.dispatchEvent(new PointerEvent('pointerup', { bubbles: true })); return done(slider.value); }
          at += 1;
          set.call(slider, String(at === 90 ? 3 : (at * 7) % 60));
          slider.dispatchEvent(new Event('input', { bubbles: true }));
          setTimeout(step, at % 3 === 0 ? 12 : 0);
        };
        step();";
    let last = browser.driver.execute_async(drag, vec![]).await?.json().clone();
    assert_eq!(last, json!("3"));
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre').textContent.includes('3px')")
        .await?;
    bench.settle().await?;
    let dragged = told(&bench).await?;
    assert_ne!(dragged.0, before.0);
    assert_ne!(dragged.1, before.1);
    assert_ne!(dragged.2, before.2);
    // What was answered on the way is the same as what is answered to one question.
    browser.driver.refresh().await?;
    bench.wait_drawn().await?;
    bench.choose("Open valve box").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    browser.wait_for(sight).await?;
    bench.settle().await?;
    assert_eq!(told(&bench).await?, dragged);
    browser.quit().await
}

#[tokio::test]
async fn several_coats_and_pieces_change_at_once() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Frost badge").await?;
    bench.choose_in("Stack", "Clear").await?;
    bench.add_coat("Drop shadow").await?;
    bench.add_coat("Contact shadow").await?;
    bench.click_named("Select Drop shadow").await?;
    bench.click_named("Select Contact shadow").await?;
    bench.pick("Operation", "multiply").await?;
    bench.pick("Value", "blur").await?;
    bench.type_number("by", "2").await?;
    bench.click_named("Apply to all").await?;
    bench.settle().await?;
    let css = bench.read_out().await?;
    assert!(css.contains("0 1px 4px") && css.contains("0 8px 32px"), "{css}");

    bench.choose_in("Stack", "Copy the stack").await?;
    bench.choose("Soil dial").await?;
    bench.choose_in("Finish", "Use own coats").await?;
    bench.choose_in("Stack", "Clear").await?;
    let shelf =
        |name: &str| By::XPath(format!("//section[@aria-label='Pieces']//button[span[text()='{name}']]"));
    let dial = browser.driver.find(shelf("Dial well")).await?;
    browser
        .driver
        .action_chain()
        .key_down(Key::Shift)
        .click_element(&dial)
        .key_up(Key::Shift)
        .perform()
        .await?;
    bench.choose_in("Stack", "Paste 2 coats").await?;
    bench.settle().await?;
    assert!(bench.read_out().await?.contains("0 8px 32px"));
    bench.click_named("Top").await?;
    bench.settle().await?;
    let tops = "const s = [...document.querySelectorAll('[aria-label=Stage] canvas ~ span')].map((e) => e.style.top); return new Set(s).size";
    assert_eq!(bench.script(tops).await?, json!(1), "both share their upper edge");
    bench.pick("Join by", "subtract").await?;
    bench.click_named("Join into one silhouette").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Stack] h2').textContent.includes('Soil dial joined')")
        .await?;
    bench.settle().await?;
    let joined = bench.stage().await?;
    bench.click_named("Edit piece").await?;
    bench.click_named("Separate").await?;
    browser
        .wait_for(
            "document.querySelector('[aria-label=Stack]').textContent.includes('2 pieces are selected')",
        )
        .await?;
    bench.click_named("Undo").await?;
    bench.settle().await?;
    assert_eq!(bench.stage().await?, joined);
    browser.quit().await
}

#[tokio::test]
async fn a_state_an_alternative_and_a_starter_are_tried() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Frost badge").await?;
    bench.settle().await?;
    let before = bench.stage().await?;
    bench.click_named("Pressed").await?;
    bench.click_named("Use own coats").await?;
    bench.click_named("Clear").await?;
    bench.add_coat("Pressed in").await?;
    bench.settle().await?;
    assert_ne!(bench.stage().await?, before, "the stage shows the state");
    bench.click_named("Rest").await?;
    bench.settle().await?;
    assert_eq!(bench.stage().await?, before, "and at rest it is as before");

    bench.choose_in("Stack", "Try an alternative").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Stack] h2').textContent.includes('alternative')")
        .await?;
    bench.click_named("Start from").await?;
    browser.click(&By::XPath("//button[span[text()='Glossy dome']]")).await?;
    bench.settle().await?;
    bench.choose_in("Stack", "Keep this one of 2").await?;
    bench.settle().await?;
    assert!(bench.read_out().await?.contains("inset 0 12px 12px -8px"), "{}", bench.read_out().await?);
    let pieces = "return [...document.querySelectorAll('[aria-label=Pieces] button[aria-pressed]')].filter((b) => b.textContent.startsWith('Frost badge')).length";
    assert_eq!(bench.script(pieces).await?, json!(2), "the badge and its label");

    let history = bench.named("History").await?;
    history.click().await?;
    browser.wait_for("[...document.querySelectorAll('[role=menuitem]')].some((i) => i.textContent.includes('Add “Frost badge, alternative”'))").await?;
    browser.quit().await
}

#[tokio::test]
async fn a_scene_a_swatch_a_light_and_a_path_are_made() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    menu(&browser, "//section[@aria-label='Scene']//button[@aria-haspopup='menu']", "New scene").await?;
    menu(&browser, "//button[normalize-space(.)='Add piece']", "Path, drawn point by point").await?;
    let sheet =
        browser.driver.query(By::Css("[aria-label=Stage] [class*=sheet] [class*=sheet]")).first().await?;
    for (x, y) in [(-120, -60), (120, -60), (120, 60), (-120, 60)] {
        let at = browser.driver.action_chain().move_to_element_with_offset(&sheet, x, y);
        at.click().perform().await?;
    }
    bench.click_named("Close the path").await?;
    browser.wait_for("document.querySelector('[aria-label=Stack] h2')?.textContent.includes('Path')").await?;
    bench.settle().await?;
    let plain = bench.stage().await?;
    bench.add_coat("Drop shadow").await?;
    bench.click_named("Colour: #000000").await?;
    bench.click_named("Save as a swatch").await?;
    browser.driver.action_chain().send_keys(Key::Escape + "").perform().await?;
    bench.settle().await?;
    let black = bench.stage().await?;
    assert_ne!(black, plain);
    bench.click_named("Swatches").await?;
    bench.click_named("Colour of #000000: #000000").await?;
    let field = bench.named("Colour of #000000, as CSS").await?;
    field.send_keys(Key::Control + "a").await?;
    field.send_keys("oklch(0.6 0.2 30)").await?;
    field.send_keys(Key::Enter + "").await?;
    bench.settle().await?;
    assert_ne!(bench.stage().await?, black, "what uses the swatch follows it");
    bench.click_named("Colour of #000000: oklch(0.6 0.2 30)").await?;
    browser
        .wait_for("document.querySelector('[aria-label=\"Colour of #000000, oklch L\"]')?.value === '60'")
        .await?;
    // The colour was opened from within the swatches: each is closed by itself.
    for left in [1, 0] {
        browser.driver.action_chain().send_keys(Key::Escape + "").perform().await?;
        let panels = format!("document.querySelectorAll('.mantine-Popover-dropdown').length === {left}");
        browser.wait_for(&panels).await?;
    }
    bench.click_named("Add light").await?;
    bench.settle().await?;
    bench.pick("Follows the light", "Light 4").await?;
    browser.wait_for("[...document.querySelectorAll('[aria-label=Light] button')].some((b) => b.textContent.includes('1 coat follows'))").await?;
    browser.quit().await
}

#[tokio::test]
async fn a_reference_is_compared_picked_from_and_measured() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    let picture = tempfile::Builder::new().suffix(".png").tempfile()?;
    // Orange throughout.
    let pixels = [230, 120, 20, 255].repeat(84 * 52);
    let orange = zolvet_core::picture::Picture { width: 84, height: 52, rgba: pixels };
    std::fs::write(picture.path(), orange.to_png()?)?;
    bench.click_named("Reference").await?;
    let file = browser.driver.query(By::Css("[aria-label='Reference picture file']")).first().await?;
    file.send_keys(picture.path().display().to_string()).await?;
    browser.wait_for("document.querySelector('[data-beside] img')?.complete").await?;
    for mode in ["Over", "Wipe", "Difference"] {
        bench.click_named(mode).await?;
        browser
            .wait_for("document.querySelector('[aria-label=Stage] canvas + div img[data-reference]')")
            .await?;
    }
    browser.driver.action_chain().send_keys(Key::Escape + "").perform().await?;
    browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await?;
    bench.choose("Frost badge").await?;
    bench.click_named("Pick colour").await?;
    let sheet =
        browser.driver.query(By::Css("[aria-label=Stage] [class*=sheet] [class*=sheet]")).first().await?;
    browser.driver.action_chain().move_to_element_center(&sheet).click().perform().await?;
    browser.wait_for("document.body.textContent.includes('ΔE OK 0.')").await?;
    bench.named("Use for the fill of Frost badge").await?;
    let uses = browser
        .driver
        .find_all(By::XPath("//button[normalize-space(.)='Use for the fill of Frost badge']"))
        .await?;
    uses.last().unwrap().click().await?;
    bench.settle().await?;
    bench.click_named("With size and fill").await?;
    assert!(bench.read_out().await?.contains("background: #e67814"), "{}", bench.read_out().await?);
    // A gradient takes it in one of its stops.
    bench.choose("Soil dial").await?;
    let uses = By::XPath("//button[normalize-space(.)='Use for stop 2']");
    browser.driver.query(uses.clone()).first().await?;
    browser.driver.find_all(uses).await?.last().unwrap().click().await?;
    bench.settle().await?;
    assert!(bench.read_out().await?.contains("#e67814 100%"), "{}", bench.read_out().await?);
    bench.click_named("Measure").await?;
    let sheet =
        browser.driver.query(By::Css("[aria-label=Stage] [class*=sheet] [class*=sheet]")).first().await?;
    let from = browser.driver.action_chain().move_to_element_center(&sheet).click_and_hold();
    from.move_by_offset(30, 0).move_by_offset(30, 0).release().perform().await?;
    browser.wait_for("/^[\\d.]+ px · across [\\d.]+ · down 0$/.test(document.querySelector('[aria-label=Stage] output')?.textContent)").await?;
    browser.quit().await
}

#[tokio::test]
async fn work_done_while_the_service_is_away_is_kept_and_saved() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Frost badge").await?;
    bench.settle().await?;
    app.kill();
    bench.choose_in("Stack", "Clear").await?;
    browser.wait_for("document.querySelector('[data-state=away]')").await?;
    // The page is closed and opened again before the service is back with what was saved last.
    browser.go("about:blank").await?;
    app.start_again()?;
    let bench = Workbench::open(&browser, &app.address).await?;
    browser.wait_for("document.querySelector('[data-state=saved]')").await?;
    bench.settle().await?;
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let id = list[0]["id"].as_str().unwrap();
    let stored: Value = http.get(format!("{}/api/projects/{id}", app.address)).send().await?.json().await?;
    let badge = piece_named(&stored["document"], "Frost badge").unwrap();
    let worn = badge["wear"]["finish"].as_str().map(|finish| {
        let finishes = stored["document"]["finishes"].as_array().unwrap().clone();
        finishes.into_iter().find(|other| other["id"] == finish).unwrap()["coats"].clone()
    });
    assert_eq!(
        worn.unwrap_or_else(|| badge["wear"]["coats"].clone()),
        json!([]),
        "the stack that was cleared"
    );
    browser.quit().await
}

#[tokio::test]
async fn curves_blend_modes_sizes_and_pixels_are_set_by_hand() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Frost badge").await?;
    bench.choose_in("Stack", "Clear").await?;
    bench.add_coat("Drop shadow").await?;
    bench.settle().await?;
    let plain = bench.stage().await?;
    bench.unfold().await?;
    bench.pick("Falloff", "ring").await?;
    bench.settle().await?;
    let ring = bench.stage().await?;
    assert_ne!(ring, plain, "the falloff shows");
    let point = browser.driver.query(By::Css("[aria-label='Falloff point 2']")).first().await?;
    point.send_keys(Key::Down + "").await?;
    bench.settle().await?;
    assert_ne!(bench.stage().await?, ring, "and its curve is drawn by hand");
    bench.click_named("Undo").await?;
    bench.click_named("Undo").await?;
    bench.click_named("Blend mode: normal").await?;
    let mode = By::XPath("//button[span[text()='difference'] and img]");
    browser.click(&mode).await?;
    bench.settle().await?;
    assert_ne!(bench.stage().await?, plain, "a blend mode is chosen by its picture");
    bench.click_named("Undo").await?;
    bench.settle().await?;
    assert_eq!(bench.stage().await?, plain);

    bench.click_named("Close Drop shadow").await?;
    bench.named("Size of Frost badge, right edge").await?.send_keys(Key::Shift + Key::Right).await?;
    bench.named("Turn Frost badge").await?.send_keys(Key::Shift + Key::Right).await?;
    bench.click_named("Edit piece").await?;
    let values = "return ['Width', 'Rotation'].map((name) => [...document.querySelectorAll('label')].find((l) => l.textContent === name).control.value)";
    let values = bench.script(values).await?;
    assert_eq!(values[0], json!("186"), "10 px wider");
    assert_ne!(values[1], json!("0"), "and turned");
    for _ in 0..2 {
        bench.click_named("Undo").await?;
    }
    bench.settle().await?;
    assert_eq!(bench.stage().await?, plain);

    // From 400 % on the device pixels themselves are shown, and only those in sight are drawn.
    bench.pick("Zoom", "1600 %").await?;
    browser.wait_for("document.querySelector('canvas').dataset.magnified && document.querySelector('canvas').width < 200").await?;
    bench.pick("Device pixels for one px", "2× pixels").await?;
    browser.wait_for("document.querySelector('canvas').width >= 100").await?;
    browser.quit().await
}

/// At 90° the piece's right is the scene's down.
#[tokio::test]
async fn handles_of_a_rotated_piece_follow_its_own_axes() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Plot card Row 7").await?;
    bench.click_named("Edit piece").await?;
    bench.type_number("Rotation", "90").await?;
    bench.settle().await?;
    let width = "return Number([...document.querySelectorAll('label')].find((l) => l.textContent === 'Width').control.value)";
    let radius = "return Number(document.querySelector('[aria-label^=\"Corners of Plot card Row 7\"]').ariaLabel.split(' ').at(-1))";
    let before = (bench.script(width).await?.as_f64(), bench.script(radius).await?.as_f64());
    bench.named("Size of Plot card Row 7, right edge").await?.send_keys(Key::Shift + Key::Down).await?;
    let corners = By::Css("[aria-label^='Corners of Plot card Row 7']");
    browser.driver.query(corners).first().await?.send_keys(Key::Shift + Key::Down).await?;
    let after = (bench.script(width).await?.as_f64(), bench.script(radius).await?.as_f64());
    assert_eq!(after.0, before.0.map(|width| width + 10.0), "ten px down are ten px of width");
    assert_eq!(after.1, before.1.map(|radius| radius + 5.0), "and half as many of the corner's radius");
    browser.quit().await
}
