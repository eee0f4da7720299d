//! Finishes and hand-off through the real interface and the command line.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::process::Command;
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::asset::Assets;
use zolvet_core::css;
use zolvet_core::handoff::{SheetOptions, Style, sheet as write};
use zolvet_core::import::Incoming;
use zolvet_core::lower::Numbers;
use zolvet_core::model::{Coat, Prefix, Project};
use zolvet_e2e::plain::{Plain, card_and_chip, drop_shadow, piece_named, project};
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

/// The document as soon as the service has it so; after twenty seconds as it has it then.
async fn stored_once(app: &App, is_so: impl Fn(&Value) -> bool) -> Outcome<Value> {
    let deadline = Instant::now() + Duration::from_secs(20);
    loop {
        let document = stored(app).await?;
        if is_so(&document) || Instant::now() > deadline {
            return Ok(document);
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
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
    bench.choose("Open valve box").await?;
    bench.choose_in("Finish", "Badge").await?;
    bench.settle().await?;
    saved(&browser).await?;
    let document = stored(&app).await?;
    let badge = finish(&document, "Badge").expect("the finish is saved")["id"].clone();
    for name in ["Frost badge", "Open valve box"] {
        assert_eq!(piece_named(&document, name).unwrap()["wear"]["finish"], badge, "{name}");
    }

    bench.click_named("Finishes").await?;
    // Only what is in view has pictures.
    bench.script("document.querySelector('article[aria-label=Badge]').scrollIntoView()").await?;
    browser.wait_for("document.querySelectorAll('article[aria-label=Badge] img').length === 6").await?;
    let card = browser.driver.find(By::Css("article[aria-label=Badge]")).await?.text().await?;
    assert!(card.contains("Used by 2 pieces"), "{card}");
    bench.choose_in("More for Badge", "Add to scale").await?;
    bench.script("scrollTo(0, 0)").await?;
    bench.click_named("Create steps").await?;
    browser.wait_for("document.querySelector('article[aria-label=\"Laid to Lifted 1\"]')").await?;
    bench.click_named("Undo").await?;
    browser.wait_for("!document.querySelector('article[aria-label=\"Laid to Lifted 1\"]')").await?;
    // A card out of view is empty.
    bench.script("document.querySelector('article[aria-label=Badge]').scrollIntoView()").await?;
    bench.choose_in("More for Badge", "Delete…").await?;
    browser
        .wait_for("[...document.querySelectorAll('button')].some((b) => b.textContent === 'Delete Badge')")
        .await?;
    bench
        .script(
            "[...document.querySelectorAll('button')].find((b) => b.textContent === 'Delete Badge').click()",
        )
        .await?;
    let document = stored_once(&app, |document| finish(document, "Badge").is_none()).await?;
    assert!(finish(&document, "Badge").is_none());
    let valve = piece_named(&document, "Open valve box").unwrap();
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
    browser.wait_for(&format!("({code}).includes('.qa-lifted:hover')")).await?;
    bench.pick("Part of the project", "Finish: Laid").await?;
    browser
        .wait_for(&format!("!({code}).includes('.qa-lifted') && ({code}).includes('.qa-laid {{')"))
        .await?;
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
    text.send_keys(".tile { box-shadow: 0 3px 9px #123456, inset 0 1px white } .odd { box-shadow: 1lh 2px }")
        .await?;
    bench.click_named("Preview import").await?;
    browser.wait_for("document.querySelector('[role=dialog] [role=checkbox][aria-label=tile]')").await?;
    let told = bench.script("return document.querySelector('[role=dialog] details').textContent").await?;
    assert!(told.as_str().unwrap().contains("the unit lh is not followed 1:67"), "{told}");
    bench.click_named("Add 1 finish").await?;
    let document = stored_once(&app, |document| finish(document, "tile").is_some()).await?;
    assert_eq!(finish(&document, "tile").unwrap()["coats"].as_array().unwrap().len(), 2);
    browser.quit().await
}

/// A team's sheet of 5,000 rules, in which variables hold the shadows, with states and a dark theme.
fn team_sheet() -> String {
    let kinds = ["card", "tile", "panel", "menu", "sheet", "field", "chip", "badge", "dialog", "row"];
    let mut rules = vec![
        ":root { --low: 0 1px 2px rgb(29 43 36 / .18); --high: 0 2px 4px rgb(29 43 36 / .16), 0 8px 16px -4px rgb(29 43 36 / .14); --ring: 0 0 0 3px #2f7d6b66 }".to_owned(),
        "[data-theme=dark] { --low: 0 1px 2px rgb(0 0 0 / .6); --high: 0 2px 4px rgb(0 0 0 / .5), 0 8px 16px -4px rgb(0 0 0 / .5); --ring: 0 0 0 3px #6fd0b8 }".to_owned(),
    ];
    for at in 0..400 {
        let (kind, value) = (kinds[at % 10], if at % 2 == 0 { "low" } else { "high" });
        rules.push(format!(".{kind}-{at} {{ padding: 4px; box-shadow: var(--{value}) }}"));
        if at % 3 == 0 {
            rules.push(format!(
                ".{kind}-{at}:hover {{ box-shadow: var(--high), 0 0 0 {}px #fff }}",
                at % 7 + 1
            ));
        }
        if at % 4 == 0 {
            rules.push(format!(".{kind}-{at}:focus-visible {{ box-shadow: var(--{value}), var(--ring) }}"));
        }
    }
    while rules.len() < 5_000 {
        rules.push(format!(".u-{} {{ margin: {}px }}", rules.len(), rules.len() % 40));
    }
    rules.join("\n")
}

/// Dropped on the window, looked at by look, eight chosen: they come in with states and dark theme. One is changed, and what is
/// exported differs from before, and from the team's own sheet, in that one only.
#[tokio::test]
async fn a_team_brings_its_sheet_and_chooses_eight() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    let had = stored(&app).await?["finishes"].as_array().unwrap().len();
    let sheet = team_sheet();
    let drop = format!(
        "const dropped = new DataTransfer(); dropped.items.add(new File([{}], 'team.css', {{type: 'text/css'}})); document.querySelector('main').dispatchEvent(new DragEvent('drop', {{bubbles: true, cancelable: true, dataTransfer: dropped}}));",
        json!(sheet)
    );
    bench.script(&drop).await?;
    browser.wait_for("document.querySelectorAll('[role=dialog] li img').length === 24").await?;
    let low = bench.script("return document.querySelector('[role=dialog] li').innerText").await?;
    assert!(low.as_str().unwrap().contains("used by 200 rules"), "{low}");
    let search = browser.driver.find(By::Css("[role=dialog] input[aria-label='Search by name']")).await?;
    search.send_keys("panel").await?;
    browser.wait_for("[...document.querySelectorAll('[role=dialog] li')].every((card) => card.innerText.includes('panel'))").await?;
    for _ in 0..5 {
        search.send_keys(Key::Backspace + "").await?;
    }
    browser.wait_for("document.querySelectorAll('[role=dialog] li').length === 24").await?;
    let chosen = bench
        .script("const cards = [...document.querySelectorAll('[role=dialog] li [role=checkbox]')].slice(0, 8); cards.forEach((card) => card.click()); return cards.map((card) => card.getAttribute('aria-label'));")
        .await?;
    let chosen: Vec<String> = serde_json::from_value(chosen)?;
    bench.click_named("Add 8 finishes").await?;
    let count = |document: &Value| document["finishes"].as_array().map(Vec::len);
    let document = stored_once(&app, |document| count(document) != Some(had)).await?;
    assert_eq!(count(&document), Some(had + 8));
    let new: Vec<&Value> = chosen.iter().map(|name| finish(&document, name).unwrap()).collect();
    assert!(
        new.iter().all(|finish| finish["themes"].as_object().is_some_and(|themes| themes.len() == 1)),
        "{new:?}"
    );
    assert!(
        new.iter()
            .filter(|finish| finish["states"].as_object().is_some_and(|states| !states.is_empty()))
            .count()
            >= 4
    );

    one_change_is_all_that_differs(&document, &chosen, &sheet);
    browser.quit().await
}

fn one_change_is_all_that_differs(document: &Value, chosen: &[String], sheet: &str) {
    // One is changed; out comes the same as before but for that one.
    let mut changed = document.clone();
    let at = changed["finishes"]
        .as_array()
        .unwrap()
        .iter()
        .position(|finish| finish["name"] == chosen[5])
        .unwrap();
    changed["finishes"][at]["coats"][0]["blur"] = json!(37);
    let written = |document: &Value| {
        // Without a prefix its classes are those of the team.
        let project = Project { prefix: Prefix::default(), ..Project::from_value(document).unwrap() };
        let wanted = SheetOptions { style: Style::Flat, numbers: Numbers::Exact, ..SheetOptions::default() };
        write(&project, &Assets::default(), &wanted)
    };
    let (before, after) = (written(document), written(&changed));
    let other = |(one, other): &(&str, &str)| one != other;
    let differing: Vec<(&str, &str)> = before.lines().zip(after.lines()).filter(other).collect();
    assert!(before.lines().count() == after.lines().count() && differing.len() == 1, "{differing:?}");
    assert!(differing[0].1.contains(" 37px "), "{differing:?}");
    // Against the team's sheet: each reads as it did there, but for that one.
    let (theirs, ours) = (css::import(sheet), css::import(&after));
    let coats = |read: &Incoming, name: &str| {
        let found = read.finishes.iter().find(|finish| finish.name == name).unwrap();
        let plain = |coats: &[Coat]| coats.iter().map(|coat| coat.kind.clone()).collect::<Vec<_>>();
        plain(&found.coats)
    };
    let off: Vec<&String> = chosen.iter().filter(|name| coats(&theirs, name) != coats(&ours, name)).collect();
    assert_eq!(off, [&chosen[5]]);
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
    let worn = piece_named(&before, "Plot card Row 7").unwrap()["wear"]["finish"].clone();
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
    let cards = pictures.trim_start_matches("return ");
    let each_is_new = format!("{cards}.every((picture, at) => picture !== ({seen})[at])");
    browser.wait_for(&each_is_new).await?;
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
    let run = import
        .args(["import", "--strict", "--format", "tokens", "--into"])
        .arg(&into)
        .arg(&broken)
        .output()?;
    assert_eq!(run.status.code(), Some(1));
    assert!(String::from_utf8(run.stdout)?.contains("/a/b/$value: expected offsetX"));
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
    browser.click(&choose_theme("Day")).await?;
    browser.wait_for("!document.body.innerText.includes('Own coats in Dusk.')").await?;
    // The softer shadow belongs to the dark theme.
    bench.stage_instead_of(&dusk).await?;
    // The open coat stays open, and what is changed now are the coats of all other themes.
    bench.type_number("Blur", "4").await?;
    plain.holds("/finishes/0/coats/0/blur", json!(4)).await?;
    plain.holds("/finishes/0/themes/dusk/0/blur", json!(30)).await?;
    browser.click(&choose_theme("Dusk")).await?;
    bench.click_named("Same in every theme").await?;
    plain.holds("/finishes/0/themes", json!({})).await?;
    bench.chord("z").await?;
    plain.holds("/finishes/0/themes/dusk/0/blur", json!(30)).await?;
    browser.quit().await
}
