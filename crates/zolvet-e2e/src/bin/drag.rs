//! Measures the time from an input event to the painted stage, for each scene of the demo, drawn by the service and by a worker
//! of the page, on screens of one and two device pixels for one CSS px, while a blur is dragged, that of frosted glass, an
//! offset, the light that everything follows, the count of a ramp, and the place of a piece. With `--slow`, there are 80 ms and
//! 20 Mbit/s between the page and the service; with `--worker`, the service's are left out. Run by `cargo xtask drag`; a benchmark,
//! not a test.
//!
//! *Painted* is the canvas having its new pixels, put there by a worker itself or by the page; *shown* is the page's frame after
//! that, which a screen of 60 Hz adds up to 16.7 ms to, half of that on average, and a busy page more. *Stolen* is the share of
//! the cores' time in which they were wanted here and given to another machine on the same hardware.

use std::time::Duration;

use serde_json::{Value, json};
use zolvet_e2e::slow_network::SlowNetwork;
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// Presses something, moves it 60 times and waits for the picture each time: `arguments[0]` is a slider, a handle, or "light". It
/// is never twice in the same place (but for a count and a short slider, which have few), so that nothing is known from before.
const DRAG: &str = "
const done = arguments[arguments.length - 1];
const what = arguments[0];
const canvas = document.querySelector('[aria-label=Stage] canvas');
const slider = document.querySelector('input[aria-label=\"' + what + ', slider\"]');
const handle = [...document.querySelectorAll('[aria-label=Stage] [role=slider], [aria-label=Stage] button')].find((one) => one.getAttribute('aria-label')?.startsWith(what));
const hand = document.querySelector('[aria-label=Light] span[title]');
if (what !== 'light' && !slider && !handle) return done(null);
const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
const base = slider ? Number(slider.value) : 0;
const held = slider ?? handle ?? hand;
const box = (what === 'light' ? hand.parentElement : held).getBoundingClientRect();
const middle = [box.left + box.width / 2, box.top + box.height / 2];
const point = (type, right, down) => held.dispatchEvent(new PointerEvent(type, {
  bubbles: true, button: 0, buttons: 1, isPrimary: true, pointerId: 1, altKey: true, clientX: middle[0] + right, clientY: middle[1] + down }));
const move = (i) => {
  if (slider) {
    const next = what === 'Left' ? base + 1 + i : what === 'Count' ? 2 + i % 7 : 5 + (i * 7) % Math.min(60, Number(slider.max) - 5);
    setValue.call(slider, String(next === Number(slider.value) ? next + 1 : next));
    slider.dispatchEvent(new Event('input', { bubbles: true }));
  } else if (what === 'light') {
    const turn = (15 + i * 15 + Math.floor(i / 24)) * Math.PI / 180;
    point('pointermove', 40 * Math.sin(turn), -40 * Math.cos(turn));
  } else {
    // Ten to the right, one down, ten to the left, one down.
    point('pointermove', 1 + Math.min(i % 20, 20 - i % 20), Math.floor(i / 10));
  }
};
const painted = [], shown = [];
const step = (i) => {
  if (i === 60) {
    point('pointerup', 0, 0);
    return done([painted, shown, canvas.width * canvas.height]);
  }
  const drawn = new Promise((resolve) => {
    const seen = new MutationObserver(() => { seen.disconnect(); resolve(true); });
    seen.observe(canvas, { attributes: true, attributeFilter: ['data-drawn'] });
    setTimeout(resolve, 3000);
  });
  const start = performance.now();
  move(i);
  drawn.then((isDrawn) => {
    if (!isDrawn) return done(null);
    const now = Number(canvas.dataset.paintedAt);
    requestAnimationFrame(() => setTimeout(() => {
      if (i >= 10) { painted.push(now - start); shown.push(performance.now() - start); }
      setTimeout(() => step(i + 1), 4);
    }, 0));
  });
};
point('pointerdown', 0, 0);
step(0);";

/// A scene, a piece in it, which of its coats is opened, and the dragged handle.
const SCENES: [(&str, &str, usize, &[&str]); 6] = [
    ("Kiosk panel", "Open valve box", 2, &["Blur", "Offset", "light"]),
    ("Night kiosk", "Glowing numerals", 0, &["Blur", "Offset", "light"]),
    ("Plot marker", "Plot sign", 4, &["Near blur", "Offset", "light", "Count", "Left"]),
    ("Seed label", "Paper label", 3, &["Blur", "Offset", "light"]),
    ("Greenhouse bar", "Frosted bar", 3, &["Blur", "Offset", "light", "Left"]),
    ("Greenhouse bar", "Frosted bar", 4, &["Blur σ"]),
];

#[tokio::main]
async fn main() -> Outcome {
    let app = App::start()?;
    let followers = one_light(&app).await?;
    println!("{{\"followers of the light\":{followers}}}");
    let is_said = |flag: &str| std::env::args().any(|argument| argument == flag);
    let is_slow = is_said("--slow");
    let ways: &[&str] = if is_said("--worker") { &["worker"] } else { &["worker", "service"] };
    let host = app.address.trim_start_matches("http://");
    let address = if is_slow { SlowNetwork::HOME.before(host).await? } else { app.address.clone() };
    for density in [1, 2] {
        for way in ways {
            measure_all(&address, density, way).await?;
        }
    }
    Ok(())
}

/// Longest time for a request of the page at rest.
const REST: Duration = Duration::from_millis(1500);

/// Every scene, in a browser of its own.
async fn measure_all(address: &str, density: u32, way: &str) -> Outcome {
    let browser = Browser::start_on(1280, 800, density).await?;
    browser.drawn_by(way, address).await?;
    let bench = Workbench::open(&browser, address).await?;
    if way == "worker" {
        bench.wait_worker().await?;
    }
    for (scene, piece, coat, drags) in SCENES {
        bench.scene(scene).await?;
        bench.choose(piece).await?;
        bench.settle().await?;
        for drag in drags {
            match *drag {
                "Left" => bench.click_named("Edit piece").await?,
                // The light is turned with no coat open.
                "light" => drop(browser.driver.execute(CLOSED, Vec::new()).await?),
                _ => drop(browser.driver.execute(&opened(coat), Vec::new()).await?),
            }
            bench.settle().await?;
            // What is asked once the hand rests is answered.
            tokio::time::sleep(REST).await;
            measure(&browser, json!({"scene": scene, "density": density, "way": way, "drag": drag}), drag)
                .await?;
            if *drag == "Left" {
                bench.click_named("Done").await?;
            }
        }
    }
    browser.quit().await
}

/// Closes the open coat.
const CLOSED: &str = "document.querySelector('[aria-label=Stack] article [aria-label^=\"Close \"]')?.click()";

/// Opens a coat by its place in the stack, if it is not open.
fn opened(coat: usize) -> String {
    format!(
        "const rows = [...document.querySelectorAll('[aria-label=Stack] article')]; const row = rows[{coat}];
        row.querySelector('[aria-label^=\"Open \"]')?.click();"
    )
}

/// Lets everything that follows a light follow the first; says how many there are.
async fn one_light(app: &App) -> Outcome<usize> {
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let address = format!("{}/api/projects/{}", app.address, list[0]["id"].as_str().ok_or("no project")?);
    let stored: Value = http.get(&address).send().await?.json().await?;
    let text = stored["document"].to_string();
    let text = text.replace("\"follows\":\"low\"", "\"follows\":\"sun\"");
    let text = text.replace("\"follows\":\"moon\"", "\"follows\":\"sun\"");
    let document: Value = serde_json::from_str(&text)?;
    let base = format!("\"{}\"", stored["revision"]);
    http.put(&address).header("If-Match", base).json(&document).send().await?.error_for_status()?;
    Ok(text.matches("\"follows\":\"sun\"").count())
}

async fn measure(browser: &Browser, mut said: Value, what: &str) -> Outcome {
    let before = core_time()?;
    let times = browser.driver.execute_async(DRAG, vec![what.into()]).await?.json().clone();
    let [all, stolen] = core_time()?;
    let Some([painted, shown, pixels]) = times.as_array().map(Vec::as_slice) else {
        said["failed"] = "not to be dragged here".into();
        println!("{said}");
        return Ok(());
    };
    said["pixels"] = pixels.clone();
    said["stolen_percent"] = ((stolen - before[1]) as f64 / (all - before[0]) as f64 * 100.0).round().into();
    for (times, name) in [(painted, "painted"), (shown, "shown")] {
        let mut times: Vec<f64> = times.as_array().into_iter().flatten().filter_map(Value::as_f64).collect();
        times.sort_by(f64::total_cmp);
        let at = |share: f64| (times[((times.len() - 1) as f64 * share) as usize] * 10.0).round() / 10.0;
        said[format!("{name}_median_ms")] = at(0.5).into();
        said[format!("{name}_p95_ms")] = at(0.95).into();
    }
    println!("{said}");
    Ok(())
}

/// The time of all cores since the machine began, and what of it was stolen from it, in hundredths of a second.
fn core_time() -> Outcome<[u64; 2]> {
    let stat = std::fs::read_to_string("/proc/stat")?;
    let times = stat.lines().next().unwrap_or_default().split_whitespace().skip(1);
    // User, nice, system, idle, waiting, two kinds of interrupts, stolen; guests are in the first two (proc_stat(5)).
    let times: Vec<u64> = times.take(8).filter_map(|time| time.parse().ok()).collect();
    let stolen = times.get(7).ok_or("the system does not tell what is stolen")?;
    Ok([times.iter().sum(), *stolen])
}
