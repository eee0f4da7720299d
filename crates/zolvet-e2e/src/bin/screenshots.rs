//! Takes the pictures in `docs/screenshots` from the demo project. Run by `cargo xtask screenshots`.

use std::path::Path;
use std::time::Duration;

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
    bench.click_named("Dark interface").await?;
    keep(&browser, folder, "workbench-dark").await?;

    bench.scene("Greenhouse bar").await?;
    bench.choose("Frosted bar").await?;
    bench.click_named("Open Rim").await?;
    bench.click_named("Light interface").await?;
    keep(&browser, folder, "workbench-greenhouse").await?;

    bench.scene("Plot marker").await?;
    bench.choose("Plot sign").await?;
    bench.click_named("Open Low sun on the bed").await?;
    keep(&browser, folder, "workbench-ramp").await?;

    bench.scene("Kiosk panel").await?;
    let link = bench.make_link().await?;
    keep(&browser, folder, "hand-off").await?;
    bench.click_named("Close").await?;
    browser.go(&link).await?;
    browser.wait_for("document.querySelector('img')?.complete").await?;
    keep(&browser, folder, "shared-page").await?;
    browser.quit().await
}

async fn keep(browser: &Browser, folder: &Path, name: &str) -> Outcome {
    // Menus fade, and small pictures come a moment after the rest.
    tokio::time::sleep(Duration::from_millis(1500)).await;
    let picture = browser.picture().await?;
    std::fs::write(folder.join(format!("{name}.png")), picture.to_png()?)?;
    Ok(())
}
