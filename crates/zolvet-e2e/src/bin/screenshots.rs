//! Takes the pictures in `docs/screenshots` from the demo project. Run by `cargo xtask screenshots`.

use std::path::Path;
use std::time::Duration;

use zolvet_e2e::tour::{Designer, Task};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

#[tokio::main]
async fn main() -> Outcome {
    let folder = std::env::args().nth(1).ok_or("name the folder to write to")?;
    let folder = Path::new(&folder);
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    browser.go(&app.address).await?;
    browser.wait_for("document.querySelector('img')?.complete").await?;
    keep(&browser, folder, "projects").await?;

    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve").await?;
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
    keep(&browser, folder, "workbench-ramp").await?;

    bench.scene("Kiosk panel").await?;
    let link = bench.make_link().await?;
    let closeness = "document.querySelectorAll('section[aria-label=\"Browser accuracy\"] tbody tr').length";
    browser.wait_for(&format!("{closeness} > 20")).await?;
    keep(&browser, folder, "hand-off").await?;
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
    for task in Task::ALL {
        let mut designer = Designer::begin(&browser, &app.address, task).await?;
        designer.perform(task, &greenhouse(folder)?).await?;
        println!("{}: {} gestures", task.name(), designer.gestures);
        keep(&browser, folder, task.name()).await?;
    }
    std::fs::remove_file(greenhouse(folder)?)?;
    browser.quit().await
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
