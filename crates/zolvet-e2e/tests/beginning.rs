//! What a project is begun with, what is dropped and pasted, themes, and earlier versions.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, card_and_chip, drop_shadow, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

const ICON: &str = r#"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><path d="M0 0h8v8z"/></svg>"#;

/// The document of the project that was made last.
async fn newest(app: &App) -> Outcome<Value> {
    let list: Value = reqwest::get(format!("{}/api/projects", app.address)).await?.json().await?;
    let id = list[0]["id"].as_str().ok_or("no project")?;
    let stored: Value = reqwest::get(format!("{}/api/projects/{id}", app.address)).await?.json().await?;
    Ok(stored["document"].clone())
}

/// Goes to the projects, begins, and waits until the bench is there.
async fn begun(app: &App, browser: &Browser, begin: &str) -> Outcome<Value> {
    browser.go(&app.address).await?;
    browser.wait_for("document.querySelector('[aria-label=\"Begin with\"] button')").await?;
    browser.driver.execute(begin, vec![]).await?;
    Workbench::at(browser).wait_drawn().await?;
    newest(app).await
}

/// A file, dropped on the page.
fn dropped(name: &str, kind: &str, text: &str) -> String {
    format!(
        "const data = new DataTransfer(); data.items.add(new File([{}], '{name}', {{type: '{kind}'}}));
         document.body.dispatchEvent(new DragEvent('drop', {{dataTransfer: data, bubbles: true, cancelable: true}}))",
        json!(text)
    )
}

fn pasted(text: &str) -> String {
    format!(
        "const data = new DataTransfer(); data.setData('text/plain', {});
         document.body.dispatchEvent(new ClipboardEvent('paste', {{clipboardData: data, bubbles: true, cancelable: true}}))",
        json!(text)
    )
}

fn choice(name: &str) -> String {
    format!(
        "[...document.querySelectorAll('[aria-label=\"Begin with\"] button')].find((b) => b.textContent.endsWith('{name}')).click()"
    )
}

#[tokio::test]
async fn a_project_begins_with_what_somebody_has() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let tokens = r##"{"raised": {"$type": "shadow", "$value": {"color": "#00000040",
        "offsetX": {"value": 0, "unit": "px"}, "offsetY": {"value": 3, "unit": "px"},
        "blur": {"value": 9, "unit": "px"}, "spread": {"value": 0, "unit": "px"}}}}"##;
    let sheet = ".tile { box-shadow: 0 3px 9px #123456 }";
    let own = project("Mine", card_and_chip(), json!({})).to_string();
    let piece = "/scenes/0/pieces/0";
    let cases: [(&str, String, String, Value); 10] = [
        ("card", choice("Card"), format!("{piece}/shape/parts/0/shape/w"), json!(280)),
        ("button", choice("Button"), format!("{piece}/shape/parts/0/shape/h"), json!(56)),
        ("headline", choice("Headline"), format!("{piece}/shape/kind"), json!("text")),
        ("demo", choice("Demo"), "/name".into(), json!("Quillmere Allotments")),
        ("icon", dropped("leaf.svg", "image/svg+xml", ICON), format!("{piece}/shape/kind"), json!("path")),
        ("pasted icon", pasted(ICON), format!("{piece}/shape/kind"), json!("path")),
        ("pasted CSS", pasted(sheet), format!("{piece}/shape/parts/0/wear/coats/0/offset/y"), json!(3)),
        (
            "sheet",
            dropped("tiles.css", "text/css", sheet),
            "/finishes/0/coats/0/colour".into(),
            json!("#123456"),
        ),
        (
            "tokens",
            dropped("tokens.json", "application/json", tokens),
            "/finishes/0/coats/0/blur".into(),
            json!(9),
        ),
        ("project", dropped("mine.zolvet.json", "application/json", &own), "/name".into(), json!("Mine")),
    ];
    for (what, begin, pointer, wanted) in cases {
        let document = begun(&app, &browser, &begin).await?;
        assert_eq!(document.pointer(&pointer), Some(&wanted), "{what}");
    }
    // What cannot be read is said, and begins nothing.
    browser.go(&app.address).await?;
    browser.wait_for("document.querySelector('[aria-label=\"Begin with\"] button')").await?;
    browser.driver.execute(dropped("odd.css", "text/css", "a { color: red }"), vec![]).await?;
    browser
        .wait_for("document.querySelector('[role=alert]')?.textContent.includes('No shadows or colours')")
        .await?;
    browser.quit().await
}

/// A project is copied where it is listed, and CSS is dropped onto the chosen piece.
#[tokio::test]
async fn a_copy_is_made_and_css_dropped_on_it() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    Plain::open(&app, &browser, &project("First", card_and_chip(), json!({}))).await?;
    let bench = Workbench::at(&browser);
    bench.click_named("zolvet").await?;
    bench.choose_in("More for First", "Duplicate").await?;
    bench.wait_drawn().await?;
    assert_eq!(newest(&app).await?["name"], "First copy");
    bench.choose("Card").await?;
    let css = ".tile { box-shadow: inset 0 7px 9px #123456 }";
    browser.driver.execute(dropped("tile.css", "text/css", css), vec![]).await?;
    browser.wait_for("document.querySelectorAll('[aria-label=Stack] article').length === 2").await?;
    bench.settle().await?;
    assert!(bench.read_out().await?.contains("inset 0 7px 9px #123456"));
    browser.quit().await
}

/// Themes are added as copies, renamed, made light, and removed with what belongs to them.
#[tokio::test]
async fn themes_are_added_and_removed() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let swatch =
        json!({"swatches": [{"id": "w", "name": "Leaf", "values": {"day": "#112233", "dusk": "#445566"}}]});
    let plain = Plain::open(&app, &browser, &project("Themes", card_and_chip(), swatch)).await?;
    let bench = &plain.bench;
    let scene_menu = "//section[@aria-label='Scene']//button[@aria-haspopup='menu']";
    browser.click(&By::XPath(scene_menu)).await?;
    let themes = By::XPath("//*[@role='menuitem'][normalize-space(.)='Themes…']");
    browser.click(&themes).await?;
    bench.click_named("Add theme").await?;
    let name = bench.named("Name of theme New theme").await?;
    name.send_keys(" night").await?;
    plain.holds("/themes/2/name", json!("New theme night")).await?;
    let added = plain.document().await?["themes"][2]["id"].as_str().unwrap().to_owned();
    plain.holds(&format!("/swatches/0/values/{added}"), json!("#445566")).await?;
    let light = "[...document.querySelectorAll('[aria-label=\"New theme night, light or dark\"] label')].find((l) => l.textContent === 'Light').click()";
    bench.script(light).await?;
    plain.holds("/themes/2/scheme", json!("light")).await?;
    // The scene is shown under the second, which goes.
    bench.click_named("Remove Dusk").await?;
    plain.holds("/scenes/0/theme", json!("day")).await?;
    plain.holds("/swatches/0/values/dusk", Value::Null).await?;
    bench.press(Key::Escape + "").await?;
    bench.chord("z").await?;
    plain.holds("/scenes/0/theme", json!("dusk")).await?;
    browser.quit().await
}

/// An earlier version is compared, and one finish of it is taken back.
#[tokio::test]
async fn one_finish_of_an_earlier_version_comes_back() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut pieces = card_and_chip();
    pieces[0]["wear"] = json!({"finish": "f"});
    let finishes =
        json!({"finishes": [{"id": "f", "name": "Lifted", "coats": [drop_shadow("Soft", 8.0, json!({}))]}]});
    let plain = Plain::open(&app, &browser, &project("Versions", pieces, finishes)).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Open Soft").await?;
    bench.type_number("Blur", "30").await?;
    plain.holds("/finishes/0/coats/0/blur", json!(30)).await?;
    bench.choose("Chip").await?;
    bench.click_named("Edit piece").await?;
    bench.type_number("Left", "99").await?;
    plain.holds("/scenes/0/pieces/1/x", json!(99)).await?;
    bench.choose_in("History", "Revisions").await?;
    bench.click_named("Compare with revision 1").await?;
    let pictures = "document.querySelectorAll('[role=dialog] figure img').length === 2";
    browser.wait_for(pictures).await?;
    browser
        .wait_for("document.querySelector('[role=dialog]').textContent.includes('Finish “Lifted” was changed since')")
        .await?;
    bench.click_named("Restore: Finish “Lifted” was changed since").await?;
    plain.holds("/finishes/0/coats/0/blur", json!(12)).await?;
    plain.holds("/scenes/0/pieces/1/x", json!(99)).await?;
    browser.quit().await
}
