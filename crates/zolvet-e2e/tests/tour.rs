//! The tasks of docs/tour.md, each from an empty project, and the first by keyboard alone.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::picture::Picture;
use zolvet_e2e::tour::{Designer, Task};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// The gestures each task takes, as docs/tour.md has them.
const GESTURES: [(Task, u32); 5] = [
    (Task::Button, 13),
    (Task::Icon, 29),
    (Task::SoftRelief, 7),
    (Task::FrostedBar, 14),
    (Task::ThickLetters, 8),
];

#[tokio::test]
async fn each_task_is_done_in_the_gestures_the_tour_says() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    let picture = ground_picture()?;
    for (task, expected) in GESTURES {
        let mut designer = Designer::begin(&browser, &app.address).await?;
        let before = designer.bench.stage().await?;
        designer.perform(task, &picture.path().display().to_string()).await?;
        assert_eq!(designer.gestures, expected, "{}", task.name());
        assert_ne!(designer.bench.stage().await?, before, "{}", task.name());
        let made = last_piece(&app).await?;
        assert!(holds(task, &made), "{}: {made}", task.name());
    }
    browser.quit().await
}

/// The scene's ground and the piece on top of it, as they were saved.
async fn last_piece(app: &App) -> Outcome<Value> {
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let id = list[0]["id"].as_str().ok_or("no project")?;
    let stored: Value = http.get(format!("{}/api/projects/{id}", app.address)).send().await?.json().await?;
    let scene = &stored["document"]["scenes"][0];
    let piece = scene["pieces"].as_array().and_then(|pieces| pieces.last()).ok_or("no piece")?;
    Ok(json!({"ground": scene["ground"]["kind"], "piece": piece}))
}

/// Whether what was made is what the task asks for.
fn holds(task: Task, made: &Value) -> bool {
    let piece = &made["piece"];
    let coats = piece["wear"]["coats"].as_array().cloned().unwrap_or_default();
    let of = |kind: &str| coats.iter().filter(|coat| coat["kind"] == kind).count();
    match task {
        Task::Button => of("drop") == 2 && piece["states"]["pressed"][0]["kind"] == "inner",
        Task::Icon => {
            let colours: std::collections::HashSet<_> = coats
                .iter()
                .filter(|coat| coat["kind"] == "inner")
                .map(|coat| coat["colour"].to_string())
                .collect();
            piece["shape"]["parts"].as_array().is_some_and(|parts| parts.len() == 2)
                && colours.len() == 3
                && of("highlight") == 1
        }
        Task::SoftRelief => of("drop") == 4 && piece["fill"]["colour"] == "#e6e6e6",
        Task::FrostedBar => of("backdrop") == 1 && made["ground"] == "image",
        Task::ThickLetters => of("extrude") == 1 && piece["shape"]["string"] == "Thick",
    }
}

/// A picture with something to be frosted in it.
fn ground_picture() -> Outcome<tempfile::NamedTempFile> {
    let file = tempfile::Builder::new().suffix(".png").tempfile()?;
    let pixel = |i: u32| {
        let (x, y) = (i % 64, i / 64);
        let leaf = (x / 8 + y / 8) % 2 == 0;
        if leaf { [60, 130, 80, 255] } else { [230, 220, 170, 255] }
    };
    let rgba = (0..64 * 42).flat_map(pixel).collect();
    std::fs::write(file.path(), Picture { width: 64, height: 42, rgba }.to_png()?)?;
    Ok(file)
}

/// A button with a shadow in two parts and a pressed state, with no mouse at all.
#[tokio::test]
async fn the_button_is_made_by_keyboard_alone() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    browser.go(&app.address).await?;
    browser
        .wait_for("[...document.querySelectorAll('button')].some((b) => b.textContent === 'New project')")
        .await?;
    let keys = Keys { browser: &browser };
    keys.reach("New project").await?;
    keys.press(Key::Enter).await?;
    let bench = Workbench::at(&browser);
    bench.wait_drawn().await?;
    keys.reach("Card").await?;
    keys.press(Key::Enter).await?;
    browser.wait_for("document.querySelector('[aria-label=Read-out] pre')").await?;
    keys.reach("Start from").await?;
    keys.press(Key::Enter).await?;
    browser
        .wait_for(
            "[...document.querySelectorAll('button span')].some((s) => s.textContent === 'Contact and key')",
        )
        .await?;
    keys.reach("Contact and key").await?;
    keys.press(Key::Enter).await?;
    bench.settle().await?;
    assert!(bench.read_out().await?.contains("0 10px 24px -2px"), "{}", bench.read_out().await?);
    keys.reach("rest").await?;
    keys.press(Key::Right).await?;
    keys.press(Key::Right).await?;
    keys.reach("Use own coats").await?;
    keys.press(Key::Enter).await?;
    keys.reach("Clear").await?;
    keys.press(Key::Enter).await?;
    browser.wait_for("!document.querySelector('article')").await?;
    keys.reach("Pressed in").await?;
    keys.press(Key::Enter).await?;
    browser.wait_for("document.querySelector('article')").await?;
    bench.settle().await?;
    assert!(bench.read_out().await?.contains("inset 0 6px 10px"), "{}", bench.read_out().await?);
    browser.quit().await
}

struct Keys<'a> {
    browser: &'a Browser,
}

impl Keys<'_> {
    /// Goes on with Tab until what is focused starts with this name, as a person listening would.
    async fn reach(&self, name: &str) -> Outcome {
        let focused = "const e = document.activeElement; return e === document.body ? '' : (e.getAttribute('aria-label') || e.value && e.type === 'radio' && e.value || e.textContent || '').trim()";
        for _ in 0..140 {
            let said = self.browser.driver.execute(focused, vec![]).await?.json().clone();
            if said.as_str().is_some_and(|said| said.starts_with(name)) {
                let ring = "return document.activeElement.matches(':focus-visible')";
                assert_eq!(
                    self.browser.driver.execute(ring, vec![]).await?.json(),
                    &json!(true),
                    "{name} shows that it is focused"
                );
                return Ok(());
            }
            self.press(Key::Tab).await?;
        }
        Err(format!("{name} is not reached by keyboard").into())
    }

    async fn press(&self, key: Key) -> Outcome {
        self.browser.driver.action_chain().send_keys(key + "").perform().await?;
        Ok(())
    }
}
