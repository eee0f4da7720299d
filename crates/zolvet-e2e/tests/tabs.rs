//! Two tabs, and somebody else, on one project.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::time::Duration;

use reqwest::Client;
use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, card_and_chip, project};
use zolvet_e2e::{App, Browser, Outcome};

/// Two windows, an outage and both closed: one piece of work is gone on with, the other is offered.
#[tokio::test]
async fn two_windows_lose_nothing_between_them() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Windows", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    let address = format!("{}/projects/{}", app.address, plain.id);
    let first = browser.driver.window().await?;
    let second = browser.driver.new_tab().await?;
    browser.driver.switch_to_window(second.clone()).await?;
    browser.go(&address).await?;
    bench.wait_drawn().await?;
    app.kill();
    for (window, x) in [(&second, "111"), (&first, "222")] {
        browser.driver.switch_to_window(window.clone()).await?;
        bench.choose_away("Card").await?;
        bench.click_named("Edit piece").await?;
        bench.type_number("Left", x).await?;
        browser.wait_for("document.querySelector('[data-state=away]')").await?;
    }
    for window in [first, second] {
        let another = browser.driver.new_tab().await?;
        browser.driver.switch_to_window(window).await?;
        browser.driver.close_window().await?;
        browser.driver.switch_to_window(another).await?;
    }
    app.start_again()?;
    browser.go(&address).await?;
    bench.wait_drawn().await?;
    browser.wait_for("document.querySelector('[data-state=saved]')").await?;
    bench.click_named("Unsaved work found").await?;
    bench.click_named("Save it as a separate project").await?;
    let http = Client::new();
    let mut found = Vec::new();
    for _ in 0..100 {
        let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
        found.clear();
        for project in list.as_array().unwrap() {
            let stored = bench.stored(&app.address, project["id"].as_str().unwrap()).await?;
            found.extend(stored["document"].pointer("/scenes/0/pieces/0/x").and_then(Value::as_i64));
        }
        found.sort_unstable();
        if found.contains(&111) && found.contains(&222) {
            return browser.quit().await;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    Err(format!("only {found:?}").into())
}

/// Somebody else saved: Escape decides nothing; a service that is away is said so.
#[tokio::test]
async fn a_conflict_is_decided_and_never_by_accident() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Conflict", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    let mut theirs = plain.document().await?.clone();
    theirs["scenes"][0]["pieces"][1]["x"] = json!(333);
    let save =
        Client::new().put(format!("{}/api/projects/{}", app.address, plain.id)).header("If-Match", "\"1\"");
    assert_eq!(save.json(&theirs).send().await?.status(), 200);
    bench.click_named("Edit piece").await?;
    bench.type_number("Left", "77").await?;
    let dialog = "[...document.querySelectorAll('[role=dialog]')].some((d) => d.textContent.includes('changed elsewhere'))";
    browser.wait_for(dialog).await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for(&format!("!{dialog} && document.querySelector('[data-state=stale]')")).await?;
    assert_eq!(bench.stored(&app.address, &plain.id).await?["revision"], 2);
    bench.click_named("Resolve…").await?;
    browser.wait_for(dialog).await?;
    app.kill();
    bench.click_named("Open theirs, save mine separately").await?;
    browser
        .wait_for(
            "document.querySelector('[role=dialog] [role=alert]')?.textContent.includes('does not answer')",
        )
        .await?;
    app.start_again()?;
    bench.click_named("Open theirs, save mine separately").await?;
    browser.wait_for("document.querySelector('[data-state=saved]')").await?;
    let list: Value = reqwest::get(format!("{}/api/projects", app.address)).await?.json().await?;
    let mine = list.as_array().unwrap().iter().find(|one| one["name"] == "Conflict (mine)").unwrap();
    let mine = bench.stored(&app.address, mine["id"].as_str().unwrap()).await?;
    assert_eq!(mine["document"].pointer("/scenes/0/pieces/0/x"), Some(&json!(77)));
    // Whoever opened theirs by mistake has mine one step back.
    bench.click_named("Undo").await?;
    plain.holds("/scenes/0/pieces/0/x", json!(77)).await?;
    browser.quit().await
}

/// A revision is named and gone back to; a deleted project comes back from the trash.
#[tokio::test]
async fn what_was_is_gone_back_to() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Going back", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Edit piece").await?;
    bench.type_number("Left", "99").await?;
    plain.holds("/scenes/0/pieces/0/x", json!(99)).await?;
    bench.click_named("History").await?;
    let revisions = By::XPath("//*[@role='menuitem'][normalize-space(.)='Revisions']");
    browser.click(&revisions).await?;
    let name = bench.named("Name of revision 1").await?;
    name.send_keys("As agreed").await?;
    name.send_keys(Key::Enter + "").await?;
    browser.quiet().await?;
    bench.click_named("Compare with revision 1").await?;
    bench.click_named("Restore revision 1").await?;
    plain.holds("/scenes/0/pieces/0/x", json!(60)).await?;
    let list = format!("{}/api/projects/{}/revisions", app.address, plain.id);
    let list: Value = reqwest::get(list).await?.json().await?;
    assert_eq!(list.as_array().unwrap().last().unwrap()["name"], "As agreed");
    bench.click_named("Undo").await?;
    plain.holds("/scenes/0/pieces/0/x", json!(99)).await?;

    bench.settle().await?;
    bench.click_named("zolvet").await?;
    bench.choose_in("More for Going back", "Delete").await?;
    let sure = By::XPath("//*[@role='dialog']//button[normalize-space(.)='Delete']");
    browser.click(&sure).await?;
    bench.click_named("Restore Going back").await?;
    browser.wait_for("!document.querySelector('[aria-label=Trash]')").await?;
    plain.holds("/scenes/0/pieces/0/x", json!(99)).await?;
    browser.quit().await
}

/// The project is deleted elsewhere: work on it is kept, and saved as a new project from its page or after a reload.
#[tokio::test]
async fn work_on_a_deleted_project_becomes_a_new_one() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut plain = Plain::open(&app, &browser, &project("Deleted", card_and_chip(), json!({}))).await?;
    for reload in [false, true] {
        let address = format!("{}/api/projects/{}", app.address, plain.id);
        assert_eq!(Client::new().delete(&address).send().await?.status(), 204);
        let bench = &plain.bench;
        bench.choose_away("Card").await?;
        let shut =
            "return [...document.querySelectorAll('button')].some((b) => b.textContent === 'Edit piece')";
        if bench.script(shut).await? == json!(true) {
            bench.click_named("Edit piece").await?;
        }
        bench.type_number("Left", if reload { "222" } else { "111" }).await?;
        browser.wait_for("document.querySelector('[data-state=gone]')").await?;
        if reload {
            browser.driver.refresh().await?;
            browser.wait_for("document.body.innerText.includes('This project is not here')").await?;
        }
        bench.click_named("Save it as a new project").await?;
        browser.wait_for(&format!("!location.pathname.endsWith('{}')", plain.id)).await?;
        bench.wait_drawn().await?;
        browser.wait_for("document.querySelector('[data-state=saved]')").await?;
        let place = browser.driver.current_url().await?;
        plain.id = place.path().rsplit('/').next().unwrap().to_owned();
        plain.holds("/scenes/0/pieces/0/x", json!(if reload { 222 } else { 111 })).await?;
    }
    // Nothing is left over that would be offered again.
    browser.driver.refresh().await?;
    plain.bench.wait_drawn().await?;
    let offered = "return document.body.innerText.includes('Unsaved work found')";
    assert_eq!(plain.bench.script(offered).await?, json!(false));
    browser.quit().await
}
