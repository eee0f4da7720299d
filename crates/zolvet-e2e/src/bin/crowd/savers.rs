//! How long saving takes while many drag.

use std::time::{Duration, Instant};

use serde_json::{Value, json};
use zolvet_e2e::{App, Outcome};

use super::{DEMO, EVERY, Editor, MANY, at_share};

/// A hundred editors drag, pictures drawn by the service, and save once a second.
pub async fn savers() -> Outcome {
    let app = App::start()?;
    let mut all = Vec::new();
    for number in 0..2 * MANY {
        let editor = Editor::open(&app.address, number).await?;
        let document: Value = serde_json::from_str(DEMO)?;
        let made = editor.http.post(format!("{}/api/projects", app.address)).json(&document).send().await?;
        let id =
            made.error_for_status()?.json::<Value>().await?["id"].as_str().unwrap_or_default().to_owned();
        let (http, address) = (editor.http.clone(), format!("{}/api/projects/{id}", app.address));
        all.push(tokio::spawn(async move {
            let dragging = tokio::spawn(editor.drag(EVERY * 5 / 2));
            tokio::time::sleep(Duration::from_millis(number as u64 * 10)).await;
            let (mut times, mut document, mut revision) = (Vec::new(), document, 1);
            while !dragging.is_finished() {
                document["name"] = json!(format!("Saved {revision}"));
                let start = Instant::now();
                let save = http.put(&address).header("If-Match", format!("\"{revision}\"")).json(&document);
                save.send().await?.error_for_status()?;
                times.push(start.elapsed());
                revision += 1;
                tokio::time::sleep(Duration::from_secs(1)).await;
            }
            let (_, pictures) = dragging.await??;
            Outcome::Ok((times, pictures))
        }));
    }
    let (mut saves, mut pictures) = (Vec::new(), Vec::new());
    for one in all {
        let (own, drawn) = one.await??;
        saves.extend(own);
        pictures.extend(drawn);
    }
    let ms = |times: &[Duration], share: f64| at_share(times, share).as_secs_f64() * 1e3;
    println!(
        "{} editors: {} saves p50 {:.1} p95 {:.1} worst {:.1} ms; {} pictures p50 {:.1} p95 {:.1} ms",
        2 * MANY,
        saves.len(),
        ms(&saves, 0.5),
        ms(&saves, 0.95),
        ms(&saves, 1.0),
        pictures.len(),
        ms(&pictures, 0.5),
        ms(&pictures, 0.95)
    );
    Ok(())
}
