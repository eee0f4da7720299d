//! Measures the time from an input event to the painted stage while a blur is dragged in the demo. Run by
//! `cargo xtask drag`; a benchmark, not a test.

use zolvet_e2e::{App, Browser, Outcome, Workbench};

const DRAG: &str = "
const done = arguments[arguments.length - 1];
const slider = document.querySelector('input[aria-label=\"Blur, slider\"]');
const canvas = document.querySelector('canvas');
const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
const times = [];
const step = (i) => {
  if (i === 120) return done(times);
  const drawn = new Promise((resolve) => {
    const seen = new MutationObserver(() => { seen.disconnect(); resolve(); });
    seen.observe(canvas, { attributes: true, attributeFilter: ['data-drawn'] });
  });
  const start = performance.now();
  setValue.call(slider, String(5 + (i * 7) % 60));
  slider.dispatchEvent(new Event('input', { bubbles: true }));
  drawn.then(() => requestAnimationFrame(() => setTimeout(() => { times.push(performance.now() - start); step(i + 1); }, 0)));
};
step(0);";

#[tokio::main]
async fn main() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    bench.settle().await?;
    let times = browser.driver.execute_async(DRAG, vec![]).await?.json().clone();
    let times = times.as_array().ok_or("no times came back")?;
    let mut times: Vec<f64> = times.iter().filter_map(serde_json::Value::as_f64).collect();
    times.sort_by(f64::total_cmp);
    let at = |share: f64| times[((times.len() - 1) as f64 * share) as usize];
    println!("{{\"steps\":{},\"median_ms\":{:.1},\"p95_ms\":{:.1}}}", times.len(), at(0.5), at(0.95));
    browser.quit().await
}
