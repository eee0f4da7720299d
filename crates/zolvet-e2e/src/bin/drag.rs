//! Measures the time from an input event to the painted stage in the largest scene of the demo: while a blur is dragged,
//! and while a light with more than thirty followers is turned; and that from an input event to how well the piece can be
//! seen. Run by `cargo xtask drag`; a benchmark, not a test.

use serde_json::Value;
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// Moves a slider, or a light on the dial where none is named, 120 times and waits for the picture each time.
const DRAG: &str = "
const done = arguments[arguments.length - 1];
const slider = document.querySelector('input[aria-label=\"' + arguments[0] + ', slider\"]');
const canvas = document.querySelector('[aria-label=Stage] canvas');
const hand = document.querySelector('[aria-label=Light] span[title]');
const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
const times = [];
const step = (i) => {
  if (i === 120) return done(times);
  const drawn = new Promise((resolve) => {
    const seen = new MutationObserver(() => { seen.disconnect(); resolve(); });
    seen.observe(canvas, { attributes: true, attributeFilter: ['data-drawn'] });
  });
  const start = performance.now();
  if (slider) {
    setValue.call(slider, String(5 + (i * 7) % 60));
    slider.dispatchEvent(new Event('input', { bubbles: true }));
  } else {
    const dial = hand.parentElement.getBoundingClientRect();
    const turn = (15 + i * 15) * Math.PI / 180;
    const at = { clientX: dial.left + dial.width / 2 + 40 * Math.sin(turn), clientY: dial.top + dial.height / 2 - 40 * Math.cos(turn) };
    hand.dispatchEvent(new PointerEvent('pointermove', { bubbles: true, buttons: 1, ...at }));
  }
  drawn.then(() => requestAnimationFrame(() => setTimeout(() => { times.push(performance.now() - start); step(i + 1); }, 0)));
};
step(0);";

/// Moves a slider 240 times, 60 times a second, and says of each how long it was until a sight asked for after it was
/// shown.
const FOLLOW: &str = "
const done = arguments[arguments.length - 1];
const slider = document.querySelector('input[aria-label=\"' + arguments[0] + ', slider\"]');
const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
performance.setResourceTimingBufferSize(5000);
performance.clearResourceTimings();
const moved = [];
const shown = [];
const seen = new MutationObserver(() => requestAnimationFrame(() => setTimeout(() => shown.push(performance.now()), 0)));
seen.observe(document.querySelector('[data-sight]'), { characterData: true, childList: true, subtree: true });
const step = () => {
  if (moved.length === 240) return setTimeout(finish, 1500);
  moved.push(performance.now());
  setValue.call(slider, String(5 + (moved.length * 7) % 60));
  slider.dispatchEvent(new Event('input', { bubbles: true }));
  setTimeout(step, 1000 / 60);
};
const finish = () => {
  const asked = performance.getEntriesByType('resource').filter(({ name }) => name.endsWith('/api/sights'));
  done(moved.map((at) => {
    const answered = asked.find(({ startTime }) => startTime >= at)?.responseEnd ?? Number.NaN;
    // Numbers that stay the same are not shown anew.
    return (shown.find((time) => time >= answered && time < answered + 60) ?? answered) - at;
  }));
};
step();";

#[tokio::main]
async fn main() -> Outcome {
    let app = App::start()?;
    let followers = one_light(&app).await?;
    let browser = Browser::start(1280, 800).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    bench.settle().await?;
    measure(&browser, "a blur", "Blur", DRAG).await?;
    measure(&browser, "a blur, followed by how well the piece is seen", "Blur", FOLLOW).await?;
    bench.click_named("Close Its own colour on the panel").await?;
    bench.settle().await?;
    let light = format!("a light with {followers} followers");
    measure(&browser, &light, "no slider", DRAG).await?;
    browser.quit().await
}

/// Lets everything that follows a light follow the first; says how many there are.
async fn one_light(app: &App) -> Outcome<usize> {
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let address = format!("{}/api/projects/{}", app.address, list[0]["id"].as_str().ok_or("no project")?);
    let stored: Value = http.get(&address).send().await?.json().await?;
    let text = stored["document"].to_string().replace("\"follows\":\"low\"", "\"follows\":\"sun\"");
    let document: Value = serde_json::from_str(&text)?;
    let base = format!("\"{}\"", stored["revision"]);
    http.put(&address).header("If-Match", base).json(&document).send().await?.error_for_status()?;
    Ok(text.matches("\"follows\":\"sun\"").count())
}

async fn measure(browser: &Browser, what: &str, slider: &str, script: &str) -> Outcome {
    let times = browser.driver.execute_async(script, vec![slider.into()]).await?.json().clone();
    let times = times.as_array().ok_or("no times came back")?;
    let mut times: Vec<f64> = times.iter().filter_map(Value::as_f64).collect();
    times.sort_by(f64::total_cmp);
    let at = |share: f64| times[((times.len() - 1) as f64 * share) as usize];
    println!(
        "{{\"dragging\":\"{what}\",\"steps\":{},\"median_ms\":{:.1},\"p95_ms\":{:.1}}}",
        times.len(),
        at(0.5),
        at(0.95)
    );
    Ok(())
}
