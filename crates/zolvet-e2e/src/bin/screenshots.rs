//! Takes the pictures in `docs/screenshots` from the demo project. Run by `cargo xtask screenshots`.

use std::path::{Path, PathBuf};
use std::time::Duration;

use thirtyfour::{By, Key};
use zolvet_e2e::tour::{Designer, Task};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// A made-up sheet, as a team would bring it.
const TEAM_SHEET: &str = ":root { --raise-1: 0 1px 2px rgb(29 43 36 / .3); --raise-2: 0 2px 4px rgb(29 43 36 / .16), 0 8px 16px -4px rgb(29 43 36 / .3); \
    --raise-3: 0 4px 8px rgb(29 43 36 / .14), 0 18px 36px -8px rgb(29 43 36 / .4); --dip: inset 0 2px 4px rgb(29 43 36 / .4) } \
    [data-theme=dark] { --raise-1: 0 1px 2px #000; --raise-2: 0 8px 16px #000; --raise-3: 0 18px 36px #000 } \
    .card, .panel, .sheet { box-shadow: var(--raise-2) } .row { box-shadow: var(--raise-1) } .dialog { box-shadow: var(--raise-3) } \
    .button { box-shadow: 0 2px 0 #1d5a4c, 0 4px 8px #2f7d6b66 } .button:hover { box-shadow: 0 3px 0 #1d5a4c, 0 8px 14px #2f7d6b66 } \
    .button:active { box-shadow: var(--dip) } .field { box-shadow: var(--dip), 0 1px 0 #fff } .field:focus-visible { box-shadow: 0 0 0 3px #2f7d6b66 } \
    .ring { box-shadow: inset 0 0 0 2px #2f7d6b } .glow { box-shadow: 0 0 24px 4px #f0b429 } .edge { box-shadow: 0 -1px 0 #fff, 0 1px 0 #0004 }";

#[tokio::main]
async fn main() -> Outcome {
    let folder = &PathBuf::from(std::env::args().nth(1).ok_or("name the folder to write to")?);
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    browser.go(&app.address).await?;
    browser.wait_for("document.querySelector('img')?.complete").await?;
    keep(&browser, folder, "projects").await?;

    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    keep(&browser, folder, "workbench").await?;

    bench.scene("Night kiosk").await?;
    bench.choose("Glowing numerals").await?;
    bench.choose_in("Interface", "Dark interface").await?;
    keep(&browser, folder, "workbench-dark").await?;

    bench.scene("Greenhouse bar").await?;
    bench.choose("Frosted bar").await?;
    bench.click_named("Open Rim").await?;
    bench.choose_in("Interface", "Light interface").await?;
    keep(&browser, folder, "workbench-greenhouse").await?;

    bench.scene("Plot marker").await?;
    bench.choose("Plot sign").await?;
    bench.click_named("Open Low sun on the bed").await?;
    fewer_coats(&browser, &bench, folder).await?;

    bench.scene("Kiosk panel").await?;
    let link = bench.make_link().await?;
    let closeness = "document.querySelectorAll('section[aria-label=\"Browser accuracy\"] tbody tr').length";
    browser.wait_for(&format!("{closeness} > 20")).await?;
    keep(&browser, folder, "hand-off").await?;
    let text = browser.driver.find(By::Css("textarea[aria-label='Text to import']")).await?;
    text.send_keys(TEAM_SHEET).await?;
    bench.click_named("Preview import").await?;
    browser.wait_for("document.querySelectorAll('[role=dialog] li img').length > 8").await?;
    keep(&browser, folder, "import").await?;
    bench.click_named("Cancel").await?;
    bench.click_named("Finishes").await?;
    browser.wait_for("document.querySelectorAll('article img').length > 20").await?;
    keep(&browser, folder, "finishes").await?;
    bench.click_named("Check").await?;
    browser.wait_for("document.querySelectorAll('[aria-label=Findings] li').length > 1").await?;
    bench.script("document.querySelectorAll('[aria-label=Findings] li > button')[1].click()").await?;
    keep(&browser, folder, "check").await?;
    browser.go(&link).await?;
    browser.wait_for("document.querySelector('img')?.complete").await?;
    keep(&browser, folder, "shared-page").await?;
    tours(&browser, &app, folder).await?;
    drawing(&browser, &app, folder).await?;
    icons(&browser, &app, folder).await?;
    page(&browser, folder).await?;
    browser.quit().await
}

/// The ends of the tasks of the tour.
async fn tours(browser: &Browser, app: &App, folder: &Path) -> Outcome {
    for task in Task::ALL {
        let mut designer = Designer::begin(browser, &app.address, task).await?;
        designer.perform(task, &greenhouse(folder)?).await?;
        println!("{}: {} gestures", task.name(), designer.gestures);
        keep(browser, folder, task.name()).await?;
    }
    Ok(std::fs::remove_file(greenhouse(folder)?)?)
}

/// The elements of a drawing that was dropped on *Projects*.
async fn drawing(browser: &Browser, app: &App, folder: &Path) -> Outcome {
    let mut designer = Designer::dropped(browser, &app.address, "Plot card.svg", PLOT_CARD).await?;
    designer.click("Show elements").await?;
    browser.wait_for("document.querySelectorAll('[aria-label=Elements] li').length > 3").await?;
    keep(browser, folder, "drawing").await
}

/// The made-up icons of the demo with one of its finishes.
async fn icons(browser: &Browser, app: &App, folder: &Path) -> Outcome {
    browser.go(&app.address).await?;
    let project = By::XPath("//a[contains(., 'Quillmere')]");
    browser.wait_for("document.querySelector('a[href^=\"/projects/\"]')").await?;
    let address = browser.driver.find(project).await?.prop("href").await?.ok_or("no project")?;
    browser.go(&format!("{}/icons", address.split('?').next().unwrap_or(&address))).await?;
    let mut files: Vec<String> = Vec::new();
    // The browser takes no path with a step back in it.
    let icons = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/icons").canonicalize()?;
    for entry in std::fs::read_dir(icons)? {
        files.push(entry?.path().display().to_string());
    }
    files.sort();
    let finish = "//label[. = 'Finish']/following::select[1]/option[normalize-space(.)='Lifted']";
    browser.click(&By::XPath(finish)).await?;
    browser.type_over(&By::XPath("//label[. = 'Lay the finish on at']/following::input[1]"), "64").await?;
    browser.driver.find(By::Css("input[type=file]")).await?.send_keys(files.join("\n")).await?;
    browser.wait_for("document.querySelectorAll('li img').length === 24").await?;
    keep(browser, folder, "icons").await
}

/// The made-up page of the demo, two kinds of its elements with a finish.
async fn page(browser: &Browser, folder: &Path) -> Outcome {
    browser.click(&By::LinkText("Page")).await?;
    browser.wait_for("document.querySelector('input[type=file]')").await?;
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/booking.html").canonicalize()?;
    browser.driver.find(By::Css("input[type=file]")).await?.send_keys(file.display().to_string()).await?;
    browser
        .wait_for("document.querySelector('iframe')?.contentDocument?.querySelector('.plot-card')")
        .await?;
    for (selector, finish) in [(".primary", "Lifted"), (".moisture", "Sunk"), (".plot-card", "Laid")] {
        let press = format!(
            "const page = document.querySelector('iframe').contentDocument; const box = page.querySelector('{selector}').getBoundingClientRect();
             const at = {{ clientX: box.right - 4, clientY: box.top + box.height / 2, bubbles: true, cancelable: true }};
             page.querySelector('{selector}').dispatchEvent(new MouseEvent('click', at))"
        );
        browser.driver.execute(press, vec![]).await?;
        browser
            .wait_for(&format!("document.querySelector('input[type=radio]:checked')?.value === '{selector}'"))
            .await?;
        browser.click(&By::XPath(format!("//button[. = '{finish}']"))).await?;
        browser
            .wait_for(&format!(
                "document.querySelector('[data-region=stack] h2')?.textContent === '{selector}'"
            ))
            .await?;
    }
    keep(browser, folder, "page").await
}

/// A made-up card of the demo's service, as somebody might have drawn it.
const PLOT_CARD: &str = include_str!("../../../../demo/plot-card.svg");

async fn fewer_coats(browser: &Browser, bench: &Workbench<'_>, folder: &Path) -> Outcome {
    bench.choose_in("Stack", "Fewer coats…").await?;
    browser.wait_for("document.querySelectorAll('[role=dialog] figure img').length === 2").await?;
    keep(browser, folder, "fewer-coats").await?;
    browser.driver.action_chain().send_keys(Key::Escape).perform().await?;
    browser.wait_for("!document.querySelector('[role=dialog]')").await
}

/// The demo's own picture, as a file to be chosen.
fn greenhouse(folder: &Path) -> Outcome<String> {
    use base64::Engine as _;
    let demo: serde_json::Value =
        serde_json::from_str(include_str!("../../../../demo/quillmere.zolvet.json"))?;
    let data = demo["assets"][0]["data"].as_str().ok_or("the demo has no picture")?;
    let bytes = base64::engine::general_purpose::STANDARD.decode(data.rsplit(',').next().unwrap_or(data))?;
    let file = folder.join("greenhouse.jpg");
    std::fs::write(&file, bytes)?;
    Ok(std::fs::canonicalize(file)?.display().to_string())
}

async fn keep(browser: &Browser, folder: &Path, name: &str) -> Outcome {
    // Menus fade, and small pictures come a moment after the rest.
    tokio::time::sleep(Duration::from_millis(1500)).await;
    let picture = browser.picture().await?;
    std::fs::write(folder.join(format!("{name}.png")), picture.to_png()?)?;
    Ok(())
}
