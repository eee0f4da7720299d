//! `cargo xtask crowd`: nine editors drag while one client does its worst; how long the nine wait is printed.
//!
//! The worst is a list of requests that ask for as much as they may, sent all at once and again and again, bodies that
//! never end and readers that take nothing.

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::{Duration, Instant};

use reqwest::Client;
use serde_json::{Value, json};
use zolvet_e2e::{App, Outcome};

const DEMO: &str = include_str!("../../../../demo/quillmere.zolvet.json");
/// Editors that drag.
const EDITORS: usize = 9;
/// Moves of each, so many a second.
const MOVES: usize = 200;
const EVERY: Duration = Duration::from_millis(100);

#[tokio::main]
async fn main() -> Outcome {
    let app = App::start()?;
    let quiet = drag(&app, "nobody else is here").await?;
    let stop = Arc::new(AtomicBool::new(false));
    let answered = Arc::new(Answers::default());
    let worst = worst(&app, &stop, &answered)?;
    let slow = stand_still(&app, &stop);
    let busy = drag(&app, "one client does its worst").await?;
    stop.store(true, Ordering::Relaxed);
    for one in worst {
        let _ = one.await;
    }
    let _ = slow.join();
    println!("answers to the worst: {answered:?}");
    println!("p95 {} ms alone, {} ms beside the worst", quiet.as_millis(), busy.as_millis());
    Ok(())
}

#[derive(Debug, Default)]
struct Answers {
    taken: AtomicUsize,
    refused: AtomicUsize,
    busy: AtomicUsize,
    broken: AtomicUsize,
}

impl Answers {
    fn count(&self, status: u16, retries: bool) {
        let counter = match status {
            200..300 => &self.taken,
            400..500 => &self.refused,
            503 if retries => &self.busy,
            _ => &self.broken,
        };
        counter.fetch_add(1, Ordering::Relaxed);
    }
}

/// Nine editors drag a blur; gives the 95th percentile of how long a picture takes.
async fn drag(app: &App, when: &str) -> Outcome<Duration> {
    let editors: Vec<_> =
        (0..EDITORS).map(|editor| tokio::spawn(editor_drags(app.address.clone(), editor))).collect();
    let health = tokio::spawn(health(app.address.clone()));
    let (mut times, mut failed) = (Vec::new(), 0);
    for editor in editors {
        let (own, broken) = editor.await??;
        times.extend(own);
        failed += broken;
    }
    health.abort();
    let slowest = SLOWEST.swap(0, Ordering::Relaxed);
    times.sort();
    let at = |share: f64| times.get((times.len() as f64 * share) as usize).copied().unwrap_or_default();
    let memory = memory(app.process())?;
    println!(
        "{when}: {} pictures, {failed} not drawn, median {} ms, p95 {} ms, worst {} ms; /healthz at worst {slowest} ms; memory {memory} MB at most",
        times.len(),
        at(0.5).as_millis(),
        at(0.95).as_millis(),
        at(1.0 - 1e-9).as_millis(),
    );
    Ok(at(0.95))
}

/// The slowest answer of `/healthz`, in ms.
static SLOWEST: AtomicUsize = AtomicUsize::new(0);

async fn health(address: String) {
    let http = Client::new();
    loop {
        let start = Instant::now();
        if http.get(format!("{address}/healthz")).send().await.is_ok() {
            SLOWEST.fetch_max(start.elapsed().as_millis() as usize, Ordering::Relaxed);
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

async fn editor_drags(address: String, editor: usize) -> Outcome<(Vec<Duration>, usize)> {
    let mut document: Value = serde_json::from_str(DEMO)?;
    // The light scenes of the demo; each editor works on one.
    let scene = ["kiosk", "label", "kiosk"][editor % 3];
    let scenes = document["scenes"].as_array_mut().ok_or("no scenes")?;
    scenes.retain(|one| one["id"] == scene);
    let http = Client::new();
    let (mut times, mut failed) = (Vec::new(), 0);
    for step in 0..MOVES {
        let next = Instant::now() + EVERY;
        let coat = &mut document["finishes"][editor % 4]["coats"][0];
        coat["blur"] = json!(4.0 + (step % 40) as f64 * 0.5);
        let body = json!({"project": document, "scene": scene}).to_string();
        let start = Instant::now();
        let asked = http.post(format!("{address}/api/preview")).header("Content-Type", "application/json");
        let answer = asked.header("Zolvet-Editor", format!("editor-{editor}")).body(body).send().await?;
        let drawn = answer.status() == 200;
        answer.bytes().await?;
        if drawn {
            times.push(start.elapsed());
        } else {
            failed += 1;
        }
        tokio::time::sleep_until(next.into()).await;
    }
    Ok((times, failed))
}

/// The most memory a process has had, in MB.
fn memory(process: u32) -> Outcome<usize> {
    let status = std::fs::read_to_string(format!("/proc/{process}/status"))?;
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:")).ok_or("no memory is told")?;
    Ok(line.trim().trim_end_matches(" kB").trim().parse::<usize>()? / 1024)
}

/// Everything that is asked too much, again and again.
fn worst(
    app: &App,
    stop: &Arc<AtomicBool>,
    answered: &Arc<Answers>,
) -> Outcome<Vec<tokio::task::JoinHandle<()>>> {
    let demo: Value = serde_json::from_str(DEMO)?;
    let heavy = heavy();
    let circles: String =
        (0..19_000).map(|i| format!("<circle cx='{}' cy='{}' r='9'/>", i % 140 * 7, i / 140 * 7)).collect();
    let rules = format!(
        "<style>{}</style>{}",
        ".a{fill:red}".repeat(20_000),
        "<rect width='9' height='9'/>".repeat(15_000)
    );
    let svg =
        |body: &str| format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 1000 1000'>{body}</svg>");
    let css = format!("a{{--a:red;box-shadow:{}}}", "var(--a),".repeat(12_000));
    let merges = "<feMergeNode in='a'/>".repeat(400);
    let merged: String = (0..400).map(|_| format!("<feMerge result='a'>{merges}</feMerge>")).collect();
    let filters = format!("<svg><filter id='f'><feOffset result='a'/>{merged}</filter></svg>");
    let json_of = |value: Value| ("application/json", value.to_string());
    let asked: Vec<(&str, (&'static str, String))> = vec![
        ("preview", json_of(json!({"project": heavy, "scene": "a", "scale": 4}))),
        ("preview", json_of(json!({"project": pane(), "scene": "a", "scale": 2}))),
        ("preview", json_of(json!({"project": demo, "scene": "night", "scale": 4}))),
        ("thumbnails", json_of(json!({"project": heavy, "scene": "a", "piece": "0", "additions": true}))),
        ("bundle", json_of(json!({"project": demo}))),
        ("audit", json_of(json!({"project": demo}))),
        ("faithful/project", json_of(json!({"project": demo}))),
        ("import", json_of(json!({"project": demo, "format": "css", "text": css}))),
        ("import", json_of(json!({"project": demo, "format": "svg", "text": filters}))),
        ("import", json_of(json!({"project": demo, "format": "tokens", "text": "[".repeat(7_000_000)}))),
        ("assets?name=x", ("image/svg+xml", svg(&circles))),
        ("assets?name=x", ("image/svg+xml", svg(&rules))),
        ("projects", json_of(json!({"x": "x".repeat(8_000_000)}))),
    ];
    let tasks = asked.into_iter().cycle().take(40).map(|(path, (kind, body))| {
        let (stop, answered) = (Arc::clone(stop), Arc::clone(answered));
        let address = format!("{}/api/{path}", app.address);
        tokio::spawn(async move {
            let http = Client::builder().timeout(Duration::from_secs(30)).build().unwrap_or_default();
            while !stop.load(Ordering::Relaxed) {
                let answer = http.post(&address).header("Content-Type", kind).body(body.clone()).send().await;
                if let Ok(answer) = answer {
                    answered.count(answer.status().as_u16(), answer.headers().contains_key("retry-after"));
                    let _ = answer.bytes().await;
                }
                tokio::time::sleep(Duration::from_millis(5)).await;
            }
        })
    });
    Ok(tasks.collect())
}

/// Connections that send a byte now and then, or ask for a large picture and read none of it.
fn stand_still(app: &App, stop: &Arc<AtomicBool>) -> std::thread::JoinHandle<()> {
    let (host, stop) = (app.address.trim_start_matches("http://").to_owned(), Arc::clone(stop));
    std::thread::spawn(move || {
        let picture = json!({"project": serde_json::from_str::<Value>(DEMO).unwrap_or_default(), "scene": "kiosk", "scale": 4}).to_string();
        let mut open: Vec<TcpStream> = Vec::new();
        for i in 0..100 {
            let Ok(mut stream) = TcpStream::connect(&host) else { continue };
            let (length, body) =
                if i % 2 == 0 { (1_000_000, "{") } else { (picture.len(), picture.as_str()) };
            let head = format!(
                "POST /api/preview HTTP/1.1\r\nHost: {host}\r\nContent-Type: application/json\r\nContent-Length: {length}\r\n\r\n"
            );
            let _ = stream.write_all(head.as_bytes()).and_then(|()| stream.write_all(body.as_bytes()));
            open.push(stream);
        }
        while !stop.load(Ordering::Relaxed) {
            for stream in open.iter_mut().step_by(2) {
                let _ = stream.write_all(b" ");
            }
            std::thread::sleep(Duration::from_secs(1));
        }
        for mut stream in open {
            let _ = stream.set_nonblocking(true);
            let _ = stream.read(&mut [0; 16]);
        }
    })
}

fn heavy() -> Value {
    let shadow = |i: usize| {
        json!({"id": i.to_string(), "name": "c", "on": true, "kind": "inner", "offset": {"x": 1, "y": i}, "blur": 5,
            "spread": 0, "colour": "#000000", "opacity": 0.5})
    };
    let coats: Vec<Value> = (0..64).map(shadow).collect();
    let piece = |i: usize| {
        json!({"id": i.to_string(), "name": "p", "shape": {"kind": "path", "d": format!("M0 0H{}V900H0Z", 900 + i),
            "viewbox": [0, 0, 1000, 1000], "w": 1000, "h": 1000}, "x": i, "y": 0,
            "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}})
    };
    scene(json!((0..3).map(piece).collect::<Vec<_>>()))
}

fn pane() -> Value {
    let backdrop = json!([{"id": "b", "name": "b", "on": true, "kind": "backdrop", "sigma": 2000}]);
    scene(json!([{"id": "0", "name": "p", "shape": {"kind": "box", "w": 300, "h": 200}, "x": 40, "y": 40,
        "fill": {"kind": "none"}, "wear": {"coats": backdrop}}]))
}

fn scene(pieces: Value) -> Value {
    json!({"schema": 1, "name": "heavy", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 1000, "height": 1000, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}]})
}
