//! Opens a project as large as a whole product, scrolls and types in its views, and says how long that took: the time
//! until it is drawn, the longest stall of the page in each act, and the memory of the page. Run by `cargo xtask large`;
//! a benchmark, not a test.

use std::path::Path;
use std::time::Duration;

use serde_json::{Value, json};
use zolvet_e2e::large::{COATS, FINISHES, large};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// Notes every task of the page that holds it up for more than 50 ms (W3C Long Tasks).
const WATCH: &str = "window.stalls = []; new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) window.stalls.push(entry.duration);
}).observe({ type: 'longtask', buffered: true })";

/// The field of a coat's blur.
const BLUR: &str = "[...document.querySelectorAll('label')].find((label) => label.textContent === 'Blur')
    .parentElement.querySelector('input:not([type=range])')";

/// Turns the wheel over an element, a notch every 30 ms.
const NOTCHES: usize = 30;

#[tokio::main]
async fn main() -> Outcome {
    let app = App::start()?;
    let document = large();
    println!("a document of {} bytes", document.to_string().len());
    let made =
        reqwest::Client::new().post(format!("{}/api/projects", app.address)).json(&document).send().await?;
    let made: Value = made.error_for_status()?.json().await?;
    let project = format!("{}/projects/{}", app.address, made["id"].as_str().ok_or("no id")?);
    let browser = Browser::start(1280, 800).await?;
    let watched = json!({ "source": WATCH });
    browser.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", watched).await?;
    let page = Page { browser: &browser, bench: Workbench::at(&browser) };
    for round in ["cold", "again"] {
        browser.go(&project).await?;
        page.bench.wait_drawn().await?;
        let drawn = page.bench.script("return performance.now()").await?;
        println!(
            "opened {round}: drawn with the first pictures after {} ms",
            drawn.as_f64().unwrap_or(0.0).round()
        );
        tokio::time::sleep(Duration::from_millis(1500)).await;
        page.tell("opening").await?;
    }
    page.use_the_bench().await?;
    page.use_the_finishes(&project).await?;
    page.memory().await?;
    browser.quit().await
}

struct Page<'a> {
    browser: &'a Browser,
    bench: Workbench<'a>,
}

impl Page<'_> {
    async fn use_the_bench(&self) -> Outcome {
        self.wheel("[aria-label=Pieces] > div").await?;
        self.tell("scrolling the shelf").await?;
        self.focus("document.querySelector('[aria-label=\"Search pieces\"]')").await?;
        self.keys("Tile 0-19").await?;
        self.tell("searching a piece").await?;
        self.key("Escape").await?;
        self.tell("ending the search").await?;
        self.click("[aria-label=Pieces] [title='Tile 0-0']").await?;
        tokio::time::sleep(Duration::from_secs(2)).await;
        self.tell(&format!("choosing the piece of {COATS} coats")).await?;
        self.wheel("[aria-label=Stack]").await?;
        self.tell("scrolling its stack").await?;
        self.click("[aria-label='Open c0']").await?;
        tokio::time::sleep(Duration::from_secs(1)).await;
        self.tell("opening a coat").await?;
        for blur in ["17.25", "18.5", "17.25", "18.5"] {
            self.focus(BLUR).await?;
            self.keys(blur).await?;
            self.key("Enter").await?;
        }
        self.bench.settle().await?;
        self.tell("typing a blur").await?;
        self.click("[aria-label=Pieces] [title='Tile 0-2']").await?;
        self.bench.chord("a").await?;
        tokio::time::sleep(Duration::from_secs(1)).await;
        self.tell("choosing all pieces").await
    }

    async fn use_the_finishes(&self, project: &str) -> Outcome {
        self.browser.go(&format!("{project}/finishes")).await?;
        self.browser.wait_for("document.querySelectorAll('article img').length > 3").await?;
        let drawn = self.bench.script("return performance.now()").await?;
        println!("{FINISHES} finishes: first pictures after {} ms", drawn.as_f64().unwrap_or(0.0).round());
        self.tell("opening the finishes").await?;
        self.wheel("html").await?;
        self.tell("scrolling the finishes").await?;
        self.focus("document.querySelector('[aria-label=\"Search finishes\"]')").await?;
        self.keys("Finish 29").await?;
        tokio::time::sleep(Duration::from_secs(1)).await;
        self.tell("searching a finish").await
    }

    /// Puts the cursor into a field and chooses its content. A driver's own search for an element holds the page up, so
    /// the acts of this measurement come as events from the browser.
    async fn focus(&self, field: &str) -> Outcome {
        self.bench.script(&format!("{field}.select()")).await?;
        Ok(())
    }

    async fn click(&self, element: &str) -> Outcome {
        let place = format!(
            "const element = document.querySelector(\"{element}\"); element.scrollIntoView({{ block: 'nearest' }});
            const box = element.getBoundingClientRect(); return [box.left + box.width / 2, box.top + box.height / 2]"
        );
        let place = self.bench.script(&place).await?;
        for kind in ["mouseMoved", "mousePressed", "mouseReleased"] {
            let event =
                json!({"type": kind, "x": place[0], "y": place[1], "button": "left", "clickCount": 1});
            self.browser.driver.cdp().send_raw("Input.dispatchMouseEvent", event).await?;
        }
        Ok(())
    }

    /// Types at ten characters a second.
    async fn keys(&self, text: &str) -> Outcome {
        for character in text.chars() {
            let down =
                json!({"type": "keyDown", "text": character.to_string(), "key": character.to_string()});
            self.browser.driver.cdp().send_raw("Input.dispatchKeyEvent", down).await?;
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
        Ok(())
    }

    async fn key(&self, key: &str) -> Outcome {
        let code = if key == "Enter" { 13 } else { 27 };
        for kind in ["keyDown", "keyUp"] {
            let mut event = json!({"type": kind, "key": key, "code": key, "windowsVirtualKeyCode": code});
            if kind == "keyDown" && key == "Enter" {
                event["text"] = json!("\r");
            }
            self.browser.driver.cdp().send_raw("Input.dispatchKeyEvent", event).await?;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
        Ok(())
    }

    /// Says the longest stall since it was last said.
    async fn tell(&self, act: &str) -> Outcome {
        tokio::time::sleep(Duration::from_millis(300)).await;
        let stalls = self.bench.script("return window.stalls.splice(0)").await?;
        let stalls: Vec<f64> = stalls.as_array().into_iter().flatten().filter_map(Value::as_f64).collect();
        let longest = stalls.iter().fold(0.0_f64, |longest, stall| longest.max(*stall));
        println!("{act}: {} stalls over 50 ms, the longest {longest:.0} ms", stalls.len());
        Ok(())
    }

    async fn wheel(&self, over: &str) -> Outcome {
        let place = format!(
            "const box = document.querySelector('{over}').getBoundingClientRect(); return [box.left + box.width / 2, Math.min(box.top + 60, innerHeight - 20)]"
        );
        let place = self.bench.script(&place).await?;
        for _ in 0..NOTCHES {
            let notch = json!({"type": "mouseWheel", "x": place[0], "y": place[1].as_f64().unwrap_or(100.0).max(100.0), "deltaX": 0, "deltaY": 240});
            self.browser.driver.cdp().send_raw("Input.dispatchMouseEvent", notch).await?;
            tokio::time::sleep(Duration::from_millis(30)).await;
        }
        Ok(())
    }

    /// The memory of the page's script and of its process.
    async fn memory(&self) -> Outcome {
        let cdp = self.browser.driver.cdp();
        cdp.send_raw("Performance.enable", json!({})).await?;
        let metrics = cdp.send_raw("Performance.getMetrics", json!({})).await?;
        let heap =
            metrics["metrics"].as_array().into_iter().flatten().find(|one| one["name"] == "JSHeapUsedSize");
        let heap = heap.and_then(|one| one["value"].as_f64()).ok_or("no size of the heap")?;
        println!(
            "memory: {:.0} MB of script, {} MB of the page's process",
            heap / 1e6,
            largest_renderer() / 1024
        );
        Ok(())
    }
}

/// KB in memory of the largest process that draws a page.
fn largest_renderer() -> u64 {
    let processes = std::fs::read_dir("/proc").into_iter().flatten().flatten();
    processes.filter_map(|process| resident(&process.path())).max().unwrap_or(0)
}

fn resident(process: &Path) -> Option<u64> {
    let command = std::fs::read_to_string(process.join("cmdline")).ok()?;
    let status = std::fs::read_to_string(process.join("status")).ok()?;
    let line = status.lines().find(|line| line.starts_with("VmRSS:"))?;
    command.contains("--type=renderer").then(|| line.split_whitespace().nth(1)?.parse().ok())?
}
