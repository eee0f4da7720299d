//! Nine editors save and drag while forty connections attack at once: inputs that multiply, claims, slow readers, names that
//! change with each request, keys that are tried, links; half of them hang up. Attackers have a session of their own, or only
//! a link, or nothing.

use std::collections::BTreeSet;
use std::io::Write as _;
use std::net::TcpStream;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use reqwest::Client;
use serde_json::{Value, json};
use zolvet_e2e::{App, Outcome};

use super::{DEMO, at_share, heavy, one_bit_pictures, pane};

/// Connections that attack.
const CONNECTIONS: usize = 40;
/// Editors that work meanwhile.
const EDITORS: usize = 9;

/// Attacks for so many seconds; prints how long the editors waited.
pub async fn attack(seconds: u64) -> Outcome {
    let app = App::start_with(&["--allow-host", "depth.example"])?;
    let scene = Scenery::of(&app).await?;
    for is_attacked in [false, true] {
        let stop = Arc::new(AtomicBool::new(false));
        let answers = Arc::new(Answers::default());
        let watch = tokio::spawn(watch(app.process(), Arc::clone(&stop)));
        let mut attackers = Vec::new();
        if is_attacked {
            for number in 0..CONNECTIONS {
                let attacker = scene.attacker(number);
                attackers.push(tokio::spawn(attacker.go_on(Arc::clone(&stop), Arc::clone(&answers))));
            }
            scene.stand_still()?;
        }
        let mut editors = Vec::new();
        for number in 0..EDITORS {
            let editor = Editor::begin(&app, number).await?;
            editors.push(tokio::spawn(editor.work(Duration::from_secs(seconds))));
        }
        let (mut saves, mut previews, mut failed) = (Vec::new(), Vec::new(), Vec::new());
        for editor in editors {
            let worked = editor.await??;
            saves.extend(worked.saves);
            previews.extend(worked.previews);
            failed.extend(worked.failed);
        }
        stop.store(true, Ordering::Relaxed);
        for attacker in attackers {
            let _ = attacker.await;
        }
        let (memory, alone) = watch.await?;
        let ms = |times: &[Duration], share: f64| at_share(times, share).as_millis();
        println!(
            "{}: {} saves p50 {} p95 {} worst {} ms; {} previews p50 {} p95 {} worst {} ms; {} failed {:?}; all processes {memory} MB at most, the service {alone}",
            if is_attacked { "attacked" } else { "quiet" },
            saves.len(),
            ms(&saves, 0.5),
            ms(&saves, 0.95),
            ms(&saves, 1.0),
            previews.len(),
            ms(&previews, 0.5),
            ms(&previews, 0.95),
            ms(&previews, 1.0),
            failed.len(),
            failed.iter().collect::<BTreeSet<_>>(),
        );
        if is_attacked {
            println!("answers to attackers: {answers:?}");
            if let Some(broken) = answers.broken.lock().unwrap_or_else(PoisonError::into_inner).first() {
                return Err(format!("an answer that is none: {broken}").into());
            }
        }
    }
    std::fs::metadata(format!("/proc/{}", app.process())).map_err(|_| "the service has ended")?;
    Ok(())
}

#[derive(Debug, Default)]
struct Answers {
    taken: AtomicUsize,
    refused: AtomicUsize,
    busy: AtomicUsize,
    broken: Mutex<Vec<String>>,
}

/// The material of an attacker.
struct Scenery {
    address: String,
    project: String,
    long: String,
    asset: String,
    token: String,
    session: String,
    requests: Arc<Vec<Request>>,
}

/// A request that asks for much.
struct Request {
    method: &'static str,
    path: String,
    kind: &'static str,
    body: Vec<u8>,
    is_with_session: bool,
}

impl Scenery {
    async fn of(app: &App) -> Outcome<Self> {
        let (http, session) = (Client::new(), app.session().await?);
        let at = |path: &str| format!("{}{path}", app.address);
        let send = async |request: reqwest::RequestBuilder| -> Outcome<Value> {
            Ok(request.header("Cookie", &session).send().await?.error_for_status()?.json().await?)
        };
        let demo: Value = serde_json::from_str(DEMO)?;
        let made = send(http.post(at("/api/projects")).json(&demo)).await?;
        let project = made["id"].as_str().unwrap_or_default().to_owned();
        let mut document = made["document"].clone();
        for revision in 1..300 {
            document["finishes"][1]["coats"][0]["blur"] = json!(revision % 90);
            let save = http.put(at(&format!("/api/projects/{project}"))).json(&document);
            send(save.header("If-Match", format!("\"{revision}\""))).await?;
        }
        let link =
            send(http.post(at(&format!("/api/projects/{project}/shares"))).json(&json!({"scene": "kiosk"})))
                .await?;
        let noise: Vec<u8> =
            (0..1800 * 1800_u32).flat_map(|i| (i.wrapping_mul(2_654_435_761) >> 8).to_le_bytes()).collect();
        let picture = zolvet_core::picture::Picture { width: 1800, height: 1800, rgba: noise }.to_png()?;
        let uploaded = send(http.post(at("/api/assets?name=noise")).body(picture.clone())).await?;
        let mut scenery = Self {
            address: app.address.clone(),
            long: format!(
                "/api/projects/{project}/finishes/{}/earlier",
                document["finishes"][0]["id"].as_str().unwrap_or_default()
            ),
            project,
            asset: uploaded["asset"]["id"].as_str().unwrap_or_default().to_owned(),
            token: link["token"].as_str().unwrap_or_default().to_owned(),
            session,
            requests: Arc::default(),
        };
        scenery.requests = Arc::new(scenery.requests(&demo, picture)?);
        Ok(scenery)
    }

    fn requests(&self, demo: &Value, picture: Vec<u8>) -> Outcome<Vec<Request>> {
        let mut requests = imports(demo);
        requests.extend(changes(demo));
        requests.extend(computations(demo)?);
        requests.push(Request::file("image/png", picture));
        requests.extend([
            Request::get(self.long.clone(), true),
            Request::get(format!("/api/assets/{}", self.asset), true),
            Request::get(format!("/api/projects/{}", self.project), true),
            Request::get(format!("/api/shared/{}", self.token), false),
            Request::get(format!("/api/shared/{}/picture.png", self.token), false),
            Request::get("/%61pi/projects".to_owned(), false),
            Request::get("/api/projects".to_owned(), false),
            Request { is_with_session: false, ..Request::json("session", &json!({"key": "wrong"})) },
        ]);
        Ok(requests)
    }

    fn attacker(&self, number: usize) -> Attacker {
        let (address, session) = (self.address.clone(), self.session.clone());
        Attacker { address, session, number, requests: Arc::clone(&self.requests) }
    }

    /// Connections that claim much and send little, and readers that take nothing; they stay for as long as this process.
    fn stand_still(&self) -> Outcome {
        let host = self.address.trim_start_matches("http://");
        for number in 0..CONNECTIONS {
            let mut stream = TcpStream::connect(host)?;
            let (session, project, asset) = (&self.session, &self.project, &self.asset);
            if number % 2 == 0 {
                write!(
                    stream,
                    "PUT /api/projects/{project} HTTP/1.1\r\nHost: {host}\r\nCookie: {session}\r\nContent-Type: application/json\r\nContent-Length: 8000000\r\n\r\n{{"
                )?;
            } else {
                write!(
                    stream,
                    "GET /api/assets/{asset} HTTP/1.1\r\nHost: {host}\r\nCookie: {session}\r\n\r\n"
                )?;
            }
            std::mem::forget(stream);
        }
        Ok(())
    }
}

impl Request {
    fn json(path: &str, body: &Value) -> Self {
        let (path, body) = (format!("/api/{path}"), body.to_string().into_bytes());
        Self { method: "POST", path, kind: "application/json", body, is_with_session: true }
    }

    fn file(kind: &'static str, body: Vec<u8>) -> Self {
        Self { method: "POST", path: "/api/assets?name=x".to_owned(), kind, body, is_with_session: true }
    }

    fn get(path: String, is_with_session: bool) -> Self {
        Self { method: "GET", path, kind: "application/json", body: Vec::new(), is_with_session }
    }
}

/// Files that cost their readers much.
fn imports(demo: &Value) -> Vec<Request> {
    let nested = format!(".a{{{}box-shadow:0 0 1px red{}}}", "& & &{".repeat(18), "}".repeat(18));
    let rules: String =
        (0..10_000).map(|i| format!(".c{i} .d{i} .e{i}:hover>a{{box-shadow:0 1px 2px red}}")).collect();
    let circles: String =
        (0..19_000).map(|i| format!("<circle cx='{}' cy='{}' r='9'/>", i % 140 * 7, i / 140 * 7)).collect();
    let svg = format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 1000 1000'>{circles}</svg>");
    let import = |format: &str, text: &str| {
        Request::json("import", &json!({"project": demo, "format": format, "files": [{"text": text}]}))
    };
    vec![
        import("css", &nested),
        import("css", &rules),
        import("tokens", &"[".repeat(3_000_000)),
        Request::file("image/svg+xml", svg.into_bytes()),
    ]
}

/// Changes of projects that sessions hold.
fn changes(demo: &Value) -> Vec<Request> {
    let long = json!([{"op": "add", "path": "/a".repeat(50_000), "value": 1}]);
    let step = |i: usize| json!({"op": "replace", "path": "/name", "value": i.to_string()});
    let many: Vec<Value> = (0..20_000).map(step).collect();
    let ask = |project: Value| Request::json("boxes", &json!({"project": project, "scene": "kiosk"}));
    let open = |name: &str| ask(json!({"session": name, "version": 1, "document": demo}));
    let change = |patch: Value| ask(json!({"session": "held", "version": 2, "from": 1, "patch": patch}));
    vec![open("held"), change(long), change(json!(many)), open(&"n".repeat(3 << 20))]
}

/// Requests that take long to compute.
fn computations(demo: &Value) -> Outcome<Vec<Request>> {
    let shadow = |i: usize| {
        json!({"id": i.to_string(), "name": "c", "on": true, "kind": "drop", "offset": {"x": i, "y": 2 * i},
            "blur": 3 * i + 1, "spread": 0, "colour": "#000000", "opacity": 0.1})
    };
    let mut stacked = demo.clone();
    stacked["scenes"][0]["pieces"][0]["wear"] = json!({"coats": (0..16).map(shadow).collect::<Vec<_>>()});
    let piece = demo["scenes"][0]["pieces"][0]["id"].clone();
    let preview = |project: Value, scale: f64| json!({"project": project, "scene": "a", "scale": scale});
    Ok(vec![
        Request::json("solve/reduce", &json!({"project": stacked, "scene": "kiosk", "piece": piece})),
        Request::json("preview", &preview(heavy(44, 1, 5.0), 2.0)),
        Request::json("preview", &preview(pane(), 2.0)),
        Request::json("preview", &preview(one_bit_pictures()?, 1.0)),
        Request::json(
            "thumbnails",
            &json!({"project": heavy(64, 3, 5.0), "scene": "a", "piece": "0", "additions": true}),
        ),
        Request::json("bundle", &json!({"project": demo})),
        Request::json("audit", &json!({"project": demo})),
        Request::json("faithful/project", &json!({"project": demo})),
    ])
}

struct Attacker {
    address: String,
    session: String,
    number: usize,
    requests: Arc<Vec<Request>>,
}

impl Attacker {
    async fn go_on(self, stop: Arc<AtomicBool>, answers: Arc<Answers>) {
        let http = Client::builder().timeout(Duration::from_secs(30)).build().unwrap_or_default();
        let mut step = self.number * 7;
        while !stop.load(Ordering::Relaxed) {
            step += 1;
            let request = &self.requests[step % self.requests.len()];
            let method = request.method.parse().unwrap_or_default();
            let mut sent = http.request(method, format!("{}{}", self.address, request.path));
            sent = sent.header("Host", "depth.example").header("Content-Type", request.kind);
            // Another name with each request.
            sent = sent.header("Zolvet-Editor", format!("{}-{step}", self.number)).body(request.body.clone());
            if request.is_with_session {
                sent = sent.header("Cookie", &self.session);
            }
            let asked = tokio::spawn(sent.send());
            if step.is_multiple_of(2) {
                tokio::time::sleep(Duration::from_millis(50)).await;
                asked.abort();
                continue;
            }
            if let Ok(Ok(answer)) = asked.await {
                let (status, retries) =
                    (answer.status().as_u16(), answer.headers().contains_key("retry-after"));
                let body = answer.text().await.unwrap_or_default();
                match status {
                    200..300 => answers.taken.fetch_add(1, Ordering::Relaxed),
                    400..500 => answers.refused.fetch_add(1, Ordering::Relaxed),
                    503 if retries => answers.busy.fetch_add(1, Ordering::Relaxed),
                    _ => {
                        let mut broken = answers.broken.lock().unwrap_or_else(PoisonError::into_inner);
                        broken.push(format!("{} {status} {body}", request.path));
                        0
                    }
                };
            }
        }
    }
}

/// The most memory that a process and its children have together, in MB, and that it has alone.
async fn watch(process: u32, stop: Arc<AtomicBool>) -> (u64, u64) {
    let (mut most, mut alone) = (0, 0);
    while !stop.load(Ordering::Relaxed) {
        let children = std::fs::read_dir("/proc").into_iter().flatten().flatten().filter_map(|entry| {
            let id: u32 = entry.file_name().to_str()?.parse().ok()?;
            let stat = std::fs::read_to_string(entry.path().join("stat")).ok()?;
            let parent: u32 = stat.rsplit(')').next()?.split_whitespace().nth(1)?.parse().ok()?;
            (id == process || parent == process).then_some(id)
        });
        let all: Vec<u64> = children.filter_map(resident).collect();
        most = most.max(all.iter().sum());
        alone = alone.max(resident(process).unwrap_or_default());
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    (most >> 20, alone >> 20)
}

fn resident(process: u32) -> Option<u64> {
    let pages = std::fs::read_to_string(format!("/proc/{process}/statm")).ok()?;
    pages.split(' ').nth(1)?.parse::<u64>().ok().map(|pages| pages * 4096)
}

/// An editor that saves and drags, with a session and a project of its own.
struct Editor {
    http: Client,
    address: String,
    session: String,
    project: String,
    document: Value,
    revision: i64,
    number: usize,
}

#[derive(Default)]
struct Worked {
    saves: Vec<Duration>,
    previews: Vec<Duration>,
    failed: Vec<String>,
}

impl Editor {
    async fn begin(app: &App, number: usize) -> Outcome<Self> {
        let (http, session) = (Client::new(), app.session().await?);
        let document: Value = serde_json::from_str(DEMO)?;
        let make =
            http.post(format!("{}/api/projects", app.address)).header("Cookie", &session).json(&document);
        let made: Value = make.send().await?.error_for_status()?.json().await?;
        let project = made["id"].as_str().unwrap_or_default().to_owned();
        Ok(Self { http, address: app.address.clone(), session, project, document, revision: 1, number })
    }

    async fn work(mut self, time: Duration) -> Outcome<Worked> {
        let (mut worked, start, mut step) = (Worked::default(), Instant::now(), 0);
        tokio::time::sleep(Duration::from_millis(11) * self.number as u32).await;
        while start.elapsed() < time {
            let next = Instant::now() + Duration::from_millis(100);
            step += 1;
            self.document["finishes"][self.number % 4]["coats"][0]["blur"] =
                json!(4.0 + f64::from(step % 40) * 0.5);
            let mut small = self.document.clone();
            let scene = ["kiosk", "label", "kiosk"][self.number % 3];
            if let Some(scenes) = small["scenes"].as_array_mut() {
                scenes.retain(|one| one["id"] == scene);
            }
            let preview = self
                .http
                .post(format!("{}/api/preview", self.address))
                .json(&json!({"project": small, "scene": scene}));
            self.time(preview, &mut worked.previews, &mut worked.failed).await?;
            if step % 5 == 0 {
                let save = self.http.put(format!("{}/api/projects/{}", self.address, self.project));
                let save = save.header("If-Match", format!("\"{}\"", self.revision)).json(&self.document);
                if self.time(save, &mut worked.saves, &mut worked.failed).await? {
                    self.revision += 1;
                }
            }
            tokio::time::sleep_until(next.into()).await;
        }
        Ok(worked)
    }

    async fn time(
        &self,
        request: reqwest::RequestBuilder,
        times: &mut Vec<Duration>,
        failed: &mut Vec<String>,
    ) -> Outcome<bool> {
        let start = Instant::now();
        let answer = request
            .header("Cookie", &self.session)
            .header("Zolvet-Editor", format!("editor {}", self.number))
            .send()
            .await?;
        let (path, status) =
            (answer.url().path().split('/').nth(2).unwrap_or_default().to_owned(), answer.status());
        let body = answer.bytes().await?;
        if status == 200 {
            times.push(start.elapsed());
        } else {
            failed.push(format!(
                "{path} {status} {}",
                String::from_utf8_lossy(&body).chars().take(200).collect::<String>()
            ));
        }
        Ok(status == 200)
    }
}
