//! Finishes and hand-off through the real interface and the command line.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::process::Command;

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, card_and_chip, drop_shadow, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench, program};

const DEMO: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/quillmere.zolvet.json");

/// The document as the service has it.
async fn stored(app: &App) -> Outcome<Value> {
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let id = list[0]["id"].as_str().ok_or("no project")?;
    let stored: Value = http.get(format!("{}/api/projects/{id}", app.address)).send().await?.json().await?;
    Ok(stored["document"].clone())
}

async fn saved(browser: &Browser) -> Outcome {
    browser
        .wait_for("[...document.querySelectorAll('header *')].some((e) => e.textContent === 'Saved')")
        .await
}

fn finish<'a>(document: &'a Value, name: &str) -> Option<&'a Value> {
    document["finishes"].as_array()?.iter().find(|finish| finish["name"] == name)
}

#[tokio::test]
async fn a_stack_becomes_a_finish_and_all_who_wear_it_follow() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Frost badge").await?;
    bench.choose_in("Finish", "Save as a finish…").await?;
    let field =
        browser.driver.query(By::XPath("//label[text()='Name of the finish']/..//input")).first().await?;
    field.send_keys("Badge").await?;
    bench.click_named("Save the finish").await?;
    bench.settle().await?;
    bench.choose("Open valve").await?;
    bench.choose_in("Finish", "Badge").await?;
    bench.settle().await?;
    saved(&browser).await?;
    let document = stored(&app).await?;
    let badge = finish(&document, "Badge").expect("the finish is saved")["id"].clone();
    let worn =
        document["scenes"].as_array().unwrap().iter().flat_map(|scene| scene["pieces"].as_array().unwrap());
    assert_eq!(worn.filter(|piece| piece["wear"]["finish"] == badge).count(), 2);

    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelectorAll('article[aria-label=Badge] img').length === 6").await?;
    let card = browser.driver.find(By::Css("article[aria-label=Badge]")).await?.text().await?;
    assert!(card.contains("Used by 2: "), "{card}");
    let press = |text: &str| {
        format!(
            "[...document.querySelectorAll('article[aria-label=Badge] button')].find((b) => b.textContent === '{text}').click()"
        )
    };
    bench.script(&press("Add to scale")).await?;
    bench.click_named("Create steps").await?;
    browser.wait_for("document.querySelector('article[aria-label=\"Laid to Lifted 1\"]')").await?;
    bench.click_named("Undo").await?;
    browser.wait_for("!document.querySelector('article[aria-label=\"Laid to Lifted 1\"]')").await?;
    bench.script(&press("Delete…")).await?;
    browser
        .wait_for("[...document.querySelectorAll('button')].some((b) => b.textContent === 'Delete Badge')")
        .await?;
    bench
        .script(
            "[...document.querySelectorAll('button')].find((b) => b.textContent === 'Delete Badge').click()",
        )
        .await?;
    saved(&browser).await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    saved(&browser).await?;
    let document = stored(&app).await?;
    assert!(finish(&document, "Badge").is_none());
    let pieces = document["scenes"][0]["pieces"].as_array().unwrap();
    let valve = pieces.iter().find(|piece| piece["name"] == "Open valve").unwrap();
    assert!(valve["wear"]["coats"].is_array(), "it keeps the coats as its own");
    browser.quit().await
}

#[tokio::test]
async fn a_project_leaves_and_a_style_sheet_comes_in() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.click_named("Hand-off").await?;
    let code = "document.querySelector('section[aria-label=Export] pre')?.textContent ?? ''";
    browser.wait_for(&format!("({code}).includes('.lifted:hover')")).await?;
    bench.pick("Part of the project", "Finish: Laid").await?;
    browser.wait_for(&format!("!({code}).includes('.lifted') && ({code}).includes('.laid {{')")).await?;
    bench.script("[...document.querySelectorAll('[aria-label=Format] label')].find((l) => l.textContent === 'Tokens').click()").await?;
    browser.wait_for(&format!("({code}).includes('\"$type\": \"shadow\"')")).await?;

    bench.script("[...document.querySelectorAll('[aria-label=Format] label')].find((l) => l.textContent === 'Picture').click()").await?;
    let png = "document.querySelector('img[data-png]')";
    let document = stored(&app).await?;
    let across = document["scenes"][0]["width"].as_f64().unwrap() * 2.0;
    browser.wait_for(&format!("{png}?.naturalWidth === {across}")).await?;
    let whole = bench.script(&format!("return {png}.src")).await?;
    bench.script("[...document.querySelectorAll('[aria-label=Part] label')].find((l) => l.textContent === 'Shadow only').click()").await?;
    browser.wait_for(&format!("{png}?.src !== {whole} && {png}.naturalWidth === {across}")).await?;

    let text = browser.driver.find(By::Css("textarea[aria-label='Text to import']")).await?;
    text.send_keys(".tile { box-shadow: 0 3px 9px #123456, inset 0 1px white } .odd { box-shadow: 1em 2px }")
        .await?;
    bench.click_named("Preview import").await?;
    browser
        .wait_for("document.querySelector('section[aria-label=Import] [role=status]')?.textContent.includes('tile: drop shadow, inner shadow')")
        .await?;
    let told = browser.driver.find(By::Css("section[aria-label=Import] [role=status]")).await?.text().await?;
    assert!(told.contains("1:67 .odd: box-shadow: expected a length in px, found 1em"), "{told}");
    bench.click_named("Import now").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    saved(&browser).await?;
    assert_eq!(finish(&stored(&app).await?, "tile").unwrap()["coats"].as_array().unwrap().len(), 2);
    browser.quit().await
}

/// What takes long is said to be under way: told by what the page showed in between.
#[tokio::test]
async fn a_long_style_sheet_is_read_in_sight_and_comes_in_whole() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    let had = stored(&app).await?["finishes"].as_array().unwrap().len();
    bench.click_named("Hand-off").await?;
    let rule = |i: usize| {
        let (y, blur) = (i % 40 + 1, i % 97 + 2);
        format!(".tile-{i} {{ box-shadow: 0 {y}px {blur}px rgb(0 0 0 / 0.{:03}) }}\n", i % 899 + 100)
    };
    let sheet: String = (0..5000).map(rule).collect();
    let folder = tempfile::tempdir()?;
    let path = folder.path().join("long.css");
    std::fs::write(&path, &sheet)?;
    browser.wait_for("document.querySelector('section[aria-label=Import] input[type=file]')").await?;
    bench
        .script(
            "window.saidInBetween = [];
             const note = () => { const said = document.querySelector('section[aria-label=Import] [aria-live]')?.textContent; if (said) window.saidInBetween.push(said); };
             new MutationObserver(note).observe(document.querySelector('section[aria-label=Import]'), {childList: true, subtree: true, characterData: true});",
        )
        .await?;
    let file = browser.driver.find(By::Css("section[aria-label=Import] input[type=file]")).await?;
    file.send_keys(path.to_string_lossy()).await?;
    browser
        .wait_for("document.querySelector('textarea[aria-label=\"Text to import\"]').value.length > 1000")
        .await?;
    bench.click_named("Preview import").await?;
    browser
        .wait_for("document.querySelector('section[aria-label=Import] [role=status]')?.textContent.includes('It adds 5000 finishes')")
        .await?;
    let said = bench.script("return window.saidInBetween").await?;
    let expected =
        format!("Reading {},{} characters", sheet.len() / 1000, &format!("{:03}", sheet.len() % 1000));
    assert!(said.as_array().unwrap().contains(&json!(expected)), "{said} without {expected}");
    bench.click_named("Import now").await?;
    tokio::time::sleep(std::time::Duration::from_millis(600)).await;
    saved(&browser).await?;
    let now = stored(&app).await?;
    let finishes = now["finishes"].as_array().unwrap();
    assert_eq!(finishes.len(), had + 5000);
    assert_eq!(finish(&now, "tile-4999").unwrap()["coats"][0]["colour"], json!("rgb(0 0 0 / 0.604)"));
    browser.quit().await
}

#[tokio::test]
async fn a_finish_changed_once_reaches_all_and_one_undo_takes_it_back() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Plot card Row 7").await?;
    bench.settle().await?;
    let before = stored(&app).await?;
    let worn = before["scenes"][0]["pieces"][2]["wear"]["finish"].clone();
    assert_eq!(before["scenes"][0]["pieces"][2]["name"], "Plot card Row 7");
    let pictures = "return [...document.querySelectorAll('[aria-label=Pieces] button')].filter((b) => /^Plot card/.test(b.textContent)).map((b) => b.querySelector('img')?.src)";
    let seen = bench.script(pictures).await?;
    let blur_of = |document: &Value| {
        let finishes = document["finishes"].as_array().unwrap();
        let finish = finishes.iter().find(|finish| finish["id"] == worn).unwrap().clone();
        let drops = finish["coats"].as_array().unwrap().iter().rfind(|coat| coat["kind"] == "drop").cloned();
        drops.unwrap()["blur"].clone()
    };
    let name = bench.script("return [...document.querySelectorAll('[aria-label=Stack] article input')].filter((i) => i.getAttribute('aria-label').startsWith('Name of')).at(-1).value").await?;
    bench.click_named(&format!("Open {}", name.as_str().unwrap())).await?;
    bench.type_number("Blur", "31").await?;
    bench.settle().await?;
    saved(&browser).await?;
    let after = stored(&app).await?;
    assert_eq!(blur_of(&after), json!(31));
    assert_eq!(after["scenes"], before["scenes"], "the pieces themselves are not touched");
    let now = bench.script(pictures).await?;
    let changed =
        now.as_array().unwrap().iter().zip(seen.as_array().unwrap()).filter(|(now, seen)| now != seen);
    assert!(changed.count() >= 2, "every card shows it");
    bench.click_named("Undo").await?;
    bench.settle().await?;
    saved(&browser).await?;
    assert_eq!(stored(&app).await?, before);
    browser.quit().await
}

#[test]
fn the_command_line_exports_and_imports() -> Outcome {
    let folder = tempfile::tempdir()?;
    let into = folder.path().join("into.zolvet.json");
    let empty = json!({"schema": 1, "name": "Empty", "later": 1, "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": []});
    std::fs::write(&into, empty.to_string())?;
    let run = Command::new(program()?).args(["export", DEMO, "--format", "tokens"]).output()?;
    assert!(run.status.success(), "{run:?}");
    let file = folder.path().join("tokens.json");
    std::fs::write(&file, &run.stdout)?;
    let mut import = Command::new(program()?);
    let run = import.args(["import", "--format", "tokens", "--into"]).arg(&into).arg(&file).output()?;
    let said = String::from_utf8(run.stdout)?;
    assert!(
        run.status.success() && said.contains("understood    Lifted: inner, inner, drop, drop"),
        "{said}"
    );
    let document: Value = serde_json::from_slice(&std::fs::read(&into)?)?;
    assert_eq!(document["later"], 1, "what is not understood stays");
    assert!(finish(&document, "Hung").is_some());

    let broken = folder.path().join("broken.json");
    std::fs::write(&broken, r#"{"a": {"$type": "shadow", "b": {"$value": {"color": "red"}}}}"#)?;
    let before = std::fs::read(&into)?;
    let mut import = Command::new(program()?);
    let run = import.args(["import", "--format", "tokens", "--into"]).arg(&into).arg(&broken).output()?;
    assert_eq!(run.status.code(), Some(2));
    assert!(String::from_utf8(run.stderr)?.contains("/a/b/$value: expected offsetX"));
    assert_eq!(std::fs::read(&into)?, before, "nothing is half applied");

    let archive = folder.path().join("all.zip");
    let mut export = Command::new(program()?);
    assert!(export.args(["export", DEMO, "--format", "zip", "--out"]).arg(&archive).status()?.success());
    assert_eq!(&std::fs::read(&archive)?[..4], b"PK\x03\x04");
    Ok(())
}

/// A finish gets coats of its own for the dark theme, at the workbench; the light one keeps what it had.
#[tokio::test]
async fn a_finish_looks_otherwise_in_one_theme() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    let mut pieces = card_and_chip();
    pieces[0]["wear"] = json!({"finish": "f"});
    let finishes =
        json!([{"id": "f", "name": "Lifted", "coats": [drop_shadow("Soft", 8.0, json!({}))], "states": {}}]);
    let plain =
        Plain::open(&app, &browser, &project("Themes", pieces, json!({"finishes": finishes}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.choose_in("Finish", "Own coats in Dusk").await?;
    browser.wait_for("document.body.innerText.includes('Own coats in Dusk.')").await?;
    bench.click_named("Open Soft").await?;
    bench.type_number("Blur", "30").await?;
    plain.holds("/finishes/0/themes/dusk/0/blur", json!(30)).await?;
    plain.holds("/finishes/0/coats/0/blur", json!(12)).await?;
    let dusk = bench.stage().await?;
    let choose_theme = |name: &str| By::XPath(format!("//*[@aria-label='Theme']//label[.='{name}']"));
    browser.driver.find(choose_theme("Day")).await?.click().await?;
    browser.wait_for("!document.body.innerText.includes('Own coats in Dusk.')").await?;
    bench.wait_drawn().await?;
    assert_ne!(bench.stage().await?, dusk, "the softer shadow belongs to the dark theme");
    // The open coat stays open, and what is changed now are the coats of all other themes.
    bench.type_number("Blur", "4").await?;
    plain.holds("/finishes/0/coats/0/blur", json!(4)).await?;
    plain.holds("/finishes/0/themes/dusk/0/blur", json!(30)).await?;
    browser.driver.find(choose_theme("Dusk")).await?.click().await?;
    bench.click_named("Same in every theme").await?;
    plain.holds("/finishes/0/themes", json!({})).await?;
    bench.chord("z").await?;
    plain.holds("/finishes/0/themes/dusk/0/blur", json!(30)).await?;
    browser.quit().await
}
