//! `cargo xtask crowd`: nine editors drag while one client does its worst; how long the nine wait is printed. Then fifty drag
//! at once, and how evenly they wait is printed; `--fifty` leaves out the nine.
//!
//! The worst is a list of requests that ask for as much as they may, sent all at once and again and again, bodies that
//! never end and readers that take nothing. Last, forty connections attack by everything that was ever found; `--attack`
//! does only that, for as many seconds as follow. `--savers` measures the saves of a hundred editors who drag.

mod attack;
mod savers;

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use base64::Engine as _;
use reqwest::Client;
use serde_json::{Value, json};
use zolvet_e2e::{App, Outcome};

const DEMO: &str = include_str!("../../../../../demo/quillmere.zolvet.json");
/// Editors that drag.
const EDITORS: usize = 9;
/// Moves of each, so many a second.
const MOVES: usize = 200;
const EVERY: Duration = Duration::from_millis(100);

#[tokio::main]
async fn main() -> Outcome {
    let mut arguments = std::env::args().skip(1);
    match arguments.next().as_deref() {
        Some("--attack") => {
            return attack::attack(arguments.next().map_or(Ok(30), |text| text.parse())?).await;
        }
        Some("--savers") => return savers::savers().await,
        _ => {}
    }
    let app = App::start()?;
    if std::env::args().any(|argument| argument == "--fifty") {
        return fairness(&app).await;
    }
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
    hang_up(&app).await?;
    fairness(&app).await?;
    println!("p95 {} ms alone, {} ms beside the worst", quiet.as_millis(), busy.as_millis());
    drop(app);
    savers::savers().await?;
    attack::attack(30).await
}

/// The time within which a share of all were done.
fn at_share(times: &[Duration], share: f64) -> Duration {
    let mut sorted = times.to_vec();
    sorted.sort();
    let at = ((sorted.len() as f64 * share) as usize).min(sorted.len().saturating_sub(1));
    sorted.get(at).copied().unwrap_or_default()
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

/// Two clients hold both slots of the quick queue and hang up; how long the next one waits.
async fn hang_up(app: &App) -> Outcome {
    let ask = |editor: &str, document: &Value, scale: f64| {
        let body = json!({"project": document, "scene": document["scenes"][0]["id"], "scale": scale});
        let asked = Client::new().post(format!("{}/api/preview", app.address)).json(&body);
        asked.header("Zolvet-Editor", editor).send()
    };
    let small = pane();
    let (mut alone, mut after) = (Duration::ZERO, Duration::ZERO);
    for round in 0..20 {
        let start = Instant::now();
        ask("next", &small, 0.1).await?.error_for_status()?;
        alone = alone.max(start.elapsed());
        let begun = app.processor_time()?;
        // No shadow is known from before.
        let large = heavy(44, 1, 5.0 + f64::from(round + 1) / 100.0);
        let lowered: Vec<_> =
            (0..2).map(|who| tokio::spawn(ask(&format!("{round} {who}"), &large, 2.0))).collect();
        let asked = Instant::now();
        while app.processor_time()? < begun + 3 {
            if asked.elapsed() > Duration::from_secs(5) {
                return Err("the large pictures take so little that nobody holds a place".into());
            }
            tokio::time::sleep(Duration::from_millis(5)).await;
        }
        lowered.iter().for_each(tokio::task::JoinHandle::abort);
        let start = Instant::now();
        ask("next", &small, 0.1).await?.error_for_status()?;
        after = after.max(start.elapsed());
    }
    println!(
        "a small picture takes {} ms at most, {} ms when both places were held by clients that hang up",
        alone.as_millis(),
        after.as_millis()
    );
    Ok(())
}

/// Editors that drag by sessions, as pages do that have no worker.
const MANY: usize = 50;

/// The drag on each of the demo's scenes: a blur of the finish that covers most of it.
const DRAGGED: [&str; 5] = [
    "/finishes/0/coats/1/blur",
    "/finishes/5/coats/1/blur",
    "/finishes/6/coats/3/blur",
    "/finishes/7/coats/0/blur",
    "/finishes/8/coats/3/blur",
];

/// Fifty editors of all scenes drag, with hands that move four times a second, then as fast as pictures come.
async fn fairness(app: &App) -> Outcome {
    let mut editors = Vec::new();
    for number in 0..MANY {
        editors.push(Editor::open(&app.address, number).await?);
    }
    println!("{MANY} editors by sessions");
    for (pace, every) in
        [("four moves a second", EVERY * 5 / 2), ("a move once it is answered", Duration::ZERO)]
    {
        editors = all_drag(app, editors, pace, every).await?;
    }
    Ok(())
}

/// All drag at once; how long each waits, beside the others, and beside those who drag the same.
async fn all_drag(app: &App, editors: Vec<Editor>, pace: &str, every: Duration) -> Outcome<Vec<Editor>> {
    let before = app.processor_time()?;
    let dragging: Vec<_> = editors.into_iter().map(|editor| tokio::spawn(editor.drag(every))).collect();
    let mut by_scene = vec![Vec::new(); DRAGGED.len()];
    let mut editors = Vec::new();
    for (number, dragged) in dragging.into_iter().enumerate() {
        let (editor, waits) = dragged.await??;
        by_scene[number % DRAGGED.len()].push(waits);
        editors.push(editor);
    }
    let all: Vec<_> = by_scene.concat();
    let count = all.iter().map(Vec::len).sum::<usize>();
    let spent = (app.processor_time()? - before) as f64 * 10.0 / count as f64;
    println!("{pace}: {count} pictures; {spent:.1} ms of processor a picture\n  all: {}", evenness(&all));
    for (scene, editors) in by_scene.iter().enumerate() {
        println!("  scene {}: {}", scene + 1, evenness(editors));
    }
    Ok(editors)
}

/// How long editors wait, and how much longer than most the one waits that waits longest.
fn evenness(editors: &[Vec<Duration>]) -> String {
    let at = |waits: &[Duration], share: f64| {
        let mut sorted = waits.to_vec();
        sorted.sort();
        let place = (sorted.len() as f64 * share) as usize;
        sorted.get(place).or(sorted.last()).map_or(0.0, |wait| wait.as_secs_f64() * 1e3)
    };
    let all = editors.concat();
    let median = at(&all, 0.5);
    let slowest = editors.iter().map(|waits| at(waits, 0.5)).fold(0.0, f64::max);
    format!(
        "median {median:.1} ms, p95 {:.1} times that, the slowest editor's median {:.1} times, the longest wait {:.1} times",
        at(&all, 0.95) / median,
        slowest / median,
        at(&all, 1.0) / median,
    )
}

/// A page without a worker, that has opened a session on one of the demo's scenes.
struct Editor {
    http: Client,
    address: String,
    number: usize,
    session: String,
    version: u64,
    scene: Value,
    /// Where the blur is in the document.
    dragged: &'static str,
}

impl Editor {
    async fn open(address: &str, number: usize) -> Outcome<Self> {
        let document: Value = serde_json::from_str(DEMO)?;
        let session = format!("session {number}");
        let name = [("Zolvet-Editor".parse()?, session.parse()?)];
        let http = Client::builder().default_headers(name.into_iter().collect()).build()?;
        let scene = number % DRAGGED.len();
        let (scene, dragged) = (document["scenes"][scene]["id"].clone(), DRAGGED[scene]);
        let editor = Self { http, address: address.to_owned(), number, session, version: 1, scene, dragged };
        let project = json!({"session": editor.session, "version": 1, "document": document});
        editor.ask(project).await?;
        Ok(editor)
    }

    /// Changes a blur so often at most; how long each picture takes.
    async fn drag(mut self, every: Duration) -> Outcome<(Self, Vec<Duration>)> {
        // Nobody moves at the same moment as all the others.
        tokio::time::sleep(every * self.number as u32 / MANY as u32).await;
        let mut waits = Vec::new();
        for _ in 0..MOVES / 4 {
            let next = Instant::now() + every;
            self.version += 1;
            let blur = 5 + self.version * 7 % 40;
            let patch = json!([{"op": "replace", "path": self.dragged, "value": blur}]);
            let (session, version) = (&self.session, self.version);
            let project =
                json!({"session": session, "version": version, "from": version - 1, "patch": patch});
            waits.push(self.ask(project).await?);
            tokio::time::sleep_until(next.into()).await;
        }
        Ok((self, waits))
    }

    /// How long a changed picture takes; the picture before is shown until then.
    async fn ask(&self, project: Value) -> Outcome<Duration> {
        let (number, after) = (self.version, (self.version > 1).then_some(self.version - 1));
        let question =
            json!({"project": project, "scene": self.scene, "number": number, "after": after}).to_string();
        let asked = self.http.post(format!("{}/api/stage", self.address));
        let start = Instant::now();
        let asked = asked.header("Content-Type", "application/json").body(question);
        let answer = asked.send().await?;
        if let Err(error) = answer.error_for_status_ref() {
            return Err(format!("{error}: {}", answer.text().await?).into());
        }
        answer.bytes().await?;
        Ok(start.elapsed())
    }
}

/// Nine editors drag a blur; gives the 95th percentile of how long a picture takes.
async fn drag(app: &App, when: &str) -> Outcome<Duration> {
    let editors: Vec<_> =
        (0..EDITORS).map(|editor| tokio::spawn(editor_drags(app.address.clone(), editor))).collect();
    let answers = Arc::new(Mutex::new(Vec::new()));
    let health = tokio::spawn(health(app.address.clone(), Arc::clone(&answers)));
    let (mut times, mut failed) = (Vec::new(), 0);
    for editor in editors {
        let (own, broken) = editor.await??;
        times.extend(own);
        failed += broken;
    }
    health.abort();
    let mut healthy = answers.lock().unwrap_or_else(PoisonError::into_inner).clone();
    healthy.sort();
    let healthy =
        |share: f64| healthy.get((healthy.len() as f64 * share) as usize).map_or(0, Duration::as_millis);
    times.sort();
    let at = |share: f64| times.get((times.len() as f64 * share) as usize).copied().unwrap_or_default();
    let memory = memory(app.process())?;
    println!(
        "{when}: {} pictures, {failed} not drawn, median {} ms, p95 {} ms, worst {} ms; /healthz p99 {} ms, worst {} ms; memory {memory} MB at most",
        times.len(),
        at(0.5).as_millis(),
        at(0.95).as_millis(),
        at(1.0 - 1e-9).as_millis(),
        healthy(0.99),
        healthy(1.0 - 1e-9),
    );
    Ok(at(0.95))
}

/// How long `/healthz` takes, again and again.
async fn health(address: String, times: Arc<Mutex<Vec<Duration>>>) {
    let http = Client::new();
    loop {
        let start = Instant::now();
        if http.get(format!("{address}/healthz")).send().await.is_ok() {
            times.lock().unwrap_or_else(PoisonError::into_inner).push(start.elapsed());
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
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
        let status = answer.status();
        let said = answer.bytes().await?;
        if status == 200 {
            times.push(start.elapsed());
        } else {
            failed += 1;
            println!("not drawn: {status} {}", String::from_utf8_lossy(&said));
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
    let (large, many) = (heavy(44, 1, 5.0), heavy(64, 3, 5.0));
    let mut long_name = demo.clone();
    long_name["name"] = json!("x".repeat(66_000));
    let pictures = one_bit_pictures()?;
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
        ("preview", json_of(json!({"project": large, "scene": "a", "scale": 2}))),
        ("preview", json_of(json!({"project": pane(), "scene": "a", "scale": 2}))),
        ("preview", json_of(json!({"project": demo, "scene": "night", "scale": 4}))),
        ("preview", json_of(json!({"project": pictures, "scene": "a", "scale": 1}))),
        ("bundle", json_of(json!({"project": long_name}))),
        ("thumbnails", json_of(json!({"project": many, "scene": "a", "piece": "0", "additions": true}))),
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

/// Twenty pictures of 8192 pixels a side, a bit for each.
fn one_bit_pictures() -> Outcome<Value> {
    let mut file = Vec::new();
    let mut encoder = png::Encoder::new(&mut file, 8192, 8192);
    encoder.set_color(png::ColorType::Grayscale);
    encoder.set_depth(png::BitDepth::One);
    encoder.write_header()?.write_image_data(&vec![0x55; 8192 * 8192 / 8])?;
    let data = base64::engine::general_purpose::STANDARD.encode(&file);
    let asset = |i: usize| json!({"id": i.to_string(), "name": "p", "media_type": "image/png", "data": data});
    let piece = |i: usize| {
        json!({"id": i.to_string(), "name": "p", "shape": {"kind": "picture", "asset": i.to_string(), "w": 300, "h": 300},
            "x": 20 * i, "y": 20 * i, "fill": {"kind": "none"}, "wear": {"coats": []}})
    };
    let mut document = scene(json!((0..20).map(piece).collect::<Vec<_>>()));
    document["assets"] = json!((0..20).map(asset).collect::<Vec<_>>());
    Ok(document)
}

/// Overlapping pieces, each with inner shadows of different blurs: the numbers of both, and the first blur in px.
fn heavy(coats: usize, pieces: usize, blur: f64) -> Value {
    let shadow = |i: usize| {
        json!({"id": i.to_string(), "name": "c", "on": true, "kind": "inner", "offset": {"x": 1, "y": i}, "blur": blur + i as f64 / 4.0,
            "spread": 0, "colour": "#000000", "opacity": 0.5})
    };
    let coats: Vec<Value> = (0..coats).map(shadow).collect();
    let piece = |i: usize| {
        json!({"id": i.to_string(), "name": "p", "shape": {"kind": "path", "d": format!("M0 0H{}V900H0Z", 900 + i),
            "viewbox": [0, 0, 1000, 1000], "w": 1000, "h": 1000}, "x": i, "y": 0,
            "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}})
    };
    scene(json!((0..pieces).map(piece).collect::<Vec<_>>()))
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
