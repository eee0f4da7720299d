//! What is handed off as a package: its page works from a folder, and the read-out offers every form of code.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, bundle};
use zolvet_core::model::Project;
use zolvet_e2e::{App, Browser, Outcome, Workbench};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

/// A light turned and a swatch changed on the page change every finish that follows them, in every theme and state.
#[tokio::test]
async fn the_page_turns_its_lights_and_changes_its_swatches() -> Outcome {
    let project = Project::from_json(DEMO).unwrap();
    let document: Value = serde_json::from_str(DEMO)?;
    let folder = tempfile::tempdir()?;
    for file in bundle(&project, &document, &Assets::carried_by(&project), &SheetOptions::default()) {
        let path = folder.path().join(&file.path);
        std::fs::create_dir_all(path.parent().unwrap())?;
        std::fs::write(path, file.bytes)?;
    }
    let package: Value = serde_json::from_slice(&std::fs::read(folder.path().join("package.json"))?)?;
    for file in [&package["style"], &package["sass"]] {
        assert!(folder.path().join(file.as_str().unwrap()).exists(), "{file}");
    }
    let browser = Browser::start(1280, 900).await?;
    browser.go(&format!("file://{}/index.html", folder.path().display())).await?;
    // Without a server, and nothing missing.
    let said = browser
        .driver
        .execute(
            "const shadow = (n) => getComputedStyle(document.querySelectorAll('.qa-laid.specimen')[n]).boxShadow;
             const set = (name, value) => {
               const field = document.querySelector(`[data-property='${name}']`);
               field.value = value;
               field.dispatchEvent(new Event('input', { bubbles: true }));
             };
             const before = [shadow(0), shadow(1)];
             set('--qa-light-sun', '90');
             const turned = [shadow(0), shadow(1)];
             set('--qa-light-moon', '90');
             set('--qa-colour-soil', '#ff0000');
             const images = [...document.images].every((image) => image.complete && image.naturalWidth > 0);
             const states = document.querySelectorAll('[data-theme=day] .qa-lifted.specimen').length;
             return { before, turned, after: [shadow(0), shadow(1)], images, states };",
            vec![],
        )
        .await?
        .json()
        .clone();
    let text = |what: &str, at: usize| said[what][at].as_str().unwrap().to_owned();
    // In the day it follows the sun and is in the colour of soil, at dusk it follows the moon.
    assert!(
        text("before", 0).contains("0px 6px 16px -4px") && text("turned", 0).contains("-6px 0px 16px -4px"),
        "{said}"
    );
    assert_eq!(text("turned", 1), text("before", 1));
    assert!(
        text("after", 0).contains("1 0 0 / 0.2") && text("after", 1).contains("-3px 0px 7px -1px"),
        "{said}"
    );
    assert_eq!((&said["images"], &said["states"]), (&Value::Bool(true), &Value::from(5)));
    browser.quit().await
}

/// The forms of the read-out hold what their names say.
#[tokio::test]
async fn the_read_out_offers_every_form() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve").await?;
    let property = "CSS property: box-shadow";
    for (form, part) in [
        ("Declarations", "box-shadow:\n  inset 0 1px 1px rgb(255 255 255 / 55%),"),
        ("Custom properties", "--open-valve-box-shadow:"),
        ("Utility class", "[box-shadow:inset_0_1px_1px_rgb(255_255_255_/_55%)"),
        ("React style object", "boxShadow: 'inset 0 1px 1px"),
    ] {
        bench.choose_in(property, form).await?;
        let text = bench.read_out().await?;
        assert!(text.contains(part), "{form}: {text}");
    }
    bench.script("[...document.querySelectorAll('[aria-label=Read-out] label')].find((label) => label.innerText === 'SVG').click()").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre').innerText.startsWith('<svg')")
        .await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out]').innerText.includes('off on average')")
        .await?;
    bench.choose_in("Copy as: Inline", "CSS background").await?;
    browser
        .wait_for(
            "document.querySelector('[aria-label=Read-out] pre').innerText.includes('.open-valve::before')",
        )
        .await?;
    browser.quit().await
}
