//! Bad clients and bad days: what is refused, what goes on, and that nothing saved is lost.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::os::unix::fs::PermissionsExt as _;
use std::process::{Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use std::time::{Duration, Instant};

use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use zolvet_e2e::{App, Outcome, program, started};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

async fn first(app: &App) -> Outcome<String> {
    let list: Value = Client::new().get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    Ok(format!("{}/api/projects/{}", app.address, list[0]["id"].as_str().unwrap()))
}

/// Saves again and again while the process is killed: what was answered for is there.
#[tokio::test]
async fn forty_kills_lose_nothing_that_was_acknowledged() -> Outcome {
    let mut app = App::start()?;
    let mut document: Value = serde_json::from_str(DEMO)?;
    let mut acknowledged = 1;
    for round in 0..40 {
        let address = first(&app).await?;
        let stored: Value = Client::new().get(&address).send().await?.json().await?;
        let revision = stored["revision"].as_i64().unwrap();
        assert!(revision >= acknowledged, "round {round}: revision {revision}, acknowledged {acknowledged}");
        let told = Arc::new(AtomicI64::new(revision));
        let saving = {
            let (address, told) = (address.clone(), Arc::clone(&told));
            document["name"] = json!(format!("Round {round}"));
            let document = document.clone();
            tokio::spawn(async move {
                let mut last = revision;
                let http = Client::new();
                loop {
                    let put = http.put(&address).header("If-Match", format!("\"{last}\"")).json(&document);
                    match put.send().await {
                        Ok(answer) if answer.status() == 200 => {
                            last += 1;
                            told.store(last, Ordering::Relaxed);
                        }
                        _ => return last,
                    }
                }
            })
        };
        while told.load(Ordering::Relaxed) < revision + 2 {
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
        // Somewhere within the saves that follow.
        tokio::time::sleep(Duration::from_millis(round * 7 % 30)).await;
        app.kill();
        acknowledged = saving.await?;
        app.kill_and_restart()?;
    }
    let address = first(&app).await?;
    let stored: Value = Client::new().get(&address).send().await?.json().await?;
    assert!(stored["revision"].as_i64().unwrap() >= acknowledged && acknowledged > 80, "{acknowledged}");
    Ok(())
}

/// A service whose database lies on a disk of its own, of 6 MB.
struct SmallDisk {
    address: String,
    shell: std::process::Child,
}

impl SmallDisk {
    fn start(folder: &std::path::Path) -> Outcome<Self> {
        let script = "mount -t tmpfs -o size=6m tmpfs \"$1\" || exit 9
            \"$2\" serve --demo --listen 127.0.0.1:0 --db \"$1/zolvet.db\" & server=$!
            while read -r order; do
                case $order in
                    fill) dd if=/dev/zero of=\"$1/filler\" bs=64k 2>/dev/null; echo filled >&2;;
                    nearly) truncate -s -40K \"$1/filler\"; echo nearly full >&2;;
                    free) rm \"$1/filler\"; echo freed >&2;;
                esac
            done
            kill $server; wait $server";
        let mut command = Command::new("unshare");
        command.args(["--map-root-user", "--mount", "sh", "-c", script, "sh"]).arg(folder).arg(program()?);
        command.stdin(Stdio::piped()).stderr(Stdio::piped());
        let (shell, address, _) = started(command)?;
        Ok(Self { address, shell })
    }

    fn order(&mut self, what: &str, done: &str) -> Outcome {
        writeln!(self.shell.stdin.as_mut().unwrap(), "{what}")?;
        let mut said = String::new();
        let mut byte = [0];
        while !said.contains(done) {
            self.shell.stderr.as_mut().unwrap().read_exact(&mut byte)?;
            said.push(char::from(byte[0]));
        }
        Ok(())
    }
}

impl Drop for SmallDisk {
    fn drop(&mut self) {
        drop(self.shell.stdin.take());
        let _ = self.shell.wait();
    }
}

#[tokio::test]
async fn a_full_disk_is_told_and_the_first_save_after_it_succeeds() -> Outcome {
    let folder = tempfile::tempdir()?;
    let mut disk = SmallDisk::start(folder.path())?;
    let http = Client::new();
    let list: Value = http.get(format!("{}/api/projects", disk.address)).send().await?.json().await?;
    let address = format!("{}/api/projects/{}", disk.address, list[0]["id"].as_str().unwrap());
    let save = |revision: i64| {
        http.put(&address)
            .header("If-Match", format!("\"{revision}\""))
            .header("Content-Type", "application/json")
            .body(DEMO)
    };
    let ready = || http.get(format!("{}/readyz", disk.address));
    let mut revision = 1;
    assert_eq!(ready().send().await?.status(), 200);
    assert_eq!(save(revision).send().await?.status(), 200);
    revision += 1;
    let ready_address = format!("{}/readyz", disk.address);
    disk.order("fill", "filled")?;
    let mut refused = 0;
    for _ in 0..60 {
        let answer = save(revision).send().await?;
        match answer.status().as_u16() {
            200 => revision += 1,
            507 => {
                let problem: Value = answer.json().await?;
                assert!(problem["detail"].as_str().unwrap().contains("no space left"), "{problem}");
                refused += 1;
            }
            other => panic!("{other}: {}", answer.text().await?),
        }
    }
    assert!(refused > 20, "{refused}");
    tokio::time::sleep(Duration::from_millis(1100)).await;
    assert_eq!(http.get(&ready_address).send().await?.status(), 503, "not ready without space");
    disk.order("nearly", "nearly full")?;
    tokio::time::sleep(Duration::from_millis(1100)).await;
    assert_eq!(
        http.get(&ready_address).send().await?.status(),
        503,
        "a word would fit, an ordinary save would not"
    );
    disk.order("free", "freed")?;
    assert_eq!(save(revision).send().await?.status(), 200, "the first save after there is space again");
    tokio::time::sleep(Duration::from_millis(1100)).await;
    assert_eq!(http.get(&ready_address).send().await?.status(), 200);
    let stored: Value = http.get(&address).send().await?.json().await?;
    assert_eq!(stored["revision"], revision + 1);
    Ok(())
}

fn refused_to_start(database: &std::path::Path) -> Outcome<String> {
    let run =
        Command::new(program()?).args(["serve", "--listen", "127.0.0.1:0", "--db"]).arg(database).output()?;
    assert_eq!(run.status.code(), Some(2), "{run:?}");
    assert!(run.stdout.is_empty(), "never ready");
    Ok(String::from_utf8(run.stderr)?)
}

#[tokio::test]
async fn a_damaged_or_newer_database_is_refused() -> Outcome {
    let mut app = App::start()?;
    assert_eq!(app.stop("TERM")?.code(), Some(0));
    // What is in the middle of the file belongs to the tables.
    let copy = app.database().with_file_name("damaged.db");
    let mut bytes = std::fs::read(app.database())?;
    let middle = bytes.len() / 2;
    bytes[4096..middle].fill(0x5A);
    std::fs::write(&copy, bytes)?;
    let said = refused_to_start(&copy)?;
    assert!(said.contains("damaged"), "{said}");
    std::fs::write(&copy, "no database at all, but long enough to be looked at ".repeat(100))?;
    let said = refused_to_start(&copy)?;
    assert!(said.contains("damaged"), "{said}");
    let newer = "import sqlite3, sys; c = sqlite3.connect(sys.argv[1]); c.execute(\"insert into _sqlx_migrations values (9999, 'later', datetime(), 1, x'00', 1)\"); c.commit()";
    let run = Command::new("python3").args(["-c", newer]).arg(app.database()).output()?;
    assert!(run.status.success(), "{run:?}");
    let said = refused_to_start(&app.database())?;
    assert!(said.contains("newer version"), "{said}");
    Ok(())
}

/// Told to stop, it ends what it does, answers what it was asked, and leaves everything in the database file itself.
#[tokio::test]
async fn told_to_stop_everything_is_in_the_file() -> Outcome {
    for signal in ["TERM", "INT"] {
        let mut app = App::start()?;
        let address = first(&app).await?;
        let http = Client::new();
        let mut document: Value = serde_json::from_str(DEMO)?;
        document["name"] = json!("The last");
        let saved = http.put(&address).header("If-Match", "\"1\"").json(&document).send().await?;
        assert_eq!(saved.status(), 200);
        assert_eq!(
            std::fs::metadata(app.database())?.permissions().mode() & 0o777,
            0o600,
            "for its owner only"
        );
        assert_eq!(app.stop(signal)?.code(), Some(0), "{signal}");
        let alone = tempfile::tempdir()?;
        let copy = alone.path().join("copy.db");
        std::fs::copy(app.database(), &copy)?;
        let mut command = Command::new(program()?);
        command.args(["serve", "--listen", "127.0.0.1:0", "--db"]).arg(&copy);
        let (mut child, address, _) = started(command)?;
        let list: Value = http.get(format!("{address}/api/projects")).send().await?.json().await?;
        child.kill()?;
        child.wait()?;
        assert_eq!((&list[0]["name"], &list[0]["revision"]), (&json!("The last"), &json!(2)));
    }
    Ok(())
}

/// What takes seconds to draw: no row of its outline is like another, so that each is worked out.
fn heavy() -> Value {
    let shadow = |i: usize| {
        json!({"id": i.to_string(), "name": "c", "on": true, "kind": "inner", "offset": {"x": 1, "y": i},
        "blur": 5, "spread": 0, "colour": "#000000", "opacity": 0.5})
    };
    let coats: Vec<Value> = (0..44).map(shadow).collect();
    let piece = |i: usize| {
        json!({"id": i.to_string(), "name": "p", "shape": {"kind": "path", "d": format!("M0 0H{}L90 900Z", 900 + i),
        "viewbox": [0, 0, 1000, 1000], "w": 1000, "h": 1000}, "x": i, "y": 0, "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}})
    };
    json!({"schema": 1, "name": "heavy", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 1000, "height": 1000, "theme": "t", "ground": {"kind": "none"},
            "pieces": (0..1).map(piece).collect::<Vec<_>>()}]})
}

/// Whoever hangs up is computed for no longer.
#[tokio::test]
async fn hanging_up_ends_the_work() -> Outcome {
    let app = App::start()?;
    let body = json!({"project": heavy(), "scene": "a", "scale": 2.0}).to_string();
    let host = app.address.trim_start_matches("http://");
    for _ in 0..2 {
        let mut stream = TcpStream::connect(host)?;
        write!(
            stream,
            "POST /api/preview HTTP/1.1\r\nHost: {host}\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n{body}",
            body.len()
        )?;
        let before = app.processor_time()?;
        // What is drawn makes way for everything else that the machine does.
        while app.processor_time()? < before + 30 {
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        drop(stream);
        tokio::time::sleep(Duration::from_millis(400)).await;
        let ended = app.processor_time()?;
        tokio::time::sleep(Duration::from_millis(500)).await;
        let used = app.processor_time()? - ended;
        assert!(used <= 3, "{used} hundredths of a second after the client had gone");
    }
    Ok(())
}

/// A newer question of one editor takes the place of an older one; those of others are answered.
#[tokio::test]
async fn a_newer_question_takes_the_place_of_an_older_one() -> Outcome {
    let app = App::start()?;
    let ask = |editor: &str, scale: f64| {
        let body = json!({"project": heavy(), "scene": "a", "scale": scale});
        let request = Client::new().post(format!("{}/api/preview", app.address)).json(&body);
        request.header("Zolvet-Editor", editor).header("Zolvet-Question", "stage").send()
    };
    let older = tokio::spawn(ask("one", 2.0));
    let other = tokio::spawn(ask("two", 0.1));
    tokio::time::sleep(Duration::from_millis(500)).await;
    let start = Instant::now();
    let newer = ask("one", 0.1).await?;
    assert_eq!(newer.status(), 200);
    assert_eq!(older.await??.status(), 409);
    assert_eq!(other.await??.status(), 200);
    println!("the newer was answered after {:?}", start.elapsed());
    Ok(())
}

/// Sends a request, and checks the status and that problems are problem documents.
async fn expect(request: reqwest::RequestBuilder, status: u16) -> Outcome<reqwest::Response> {
    let (http, request) = request.build_split();
    let request = request?;
    let what = format!("{} {}", request.method(), request.url());
    let answer = http.execute(request).await?;
    assert_eq!(answer.status().as_u16(), status, "{what}");
    if status >= 400 {
        assert_eq!(answer.headers()["content-type"], "application/problem+json", "{what}");
    }
    Ok(answer)
}

#[tokio::test]
async fn requests_are_taken_as_http_has_them() -> Outcome {
    let app = App::start()?;
    let project = first(&app).await?;
    let http = Client::new();
    let at = |path: &str| format!("{}{path}", app.address);
    let head = expect(http.head(&project), 200).await?;
    assert_eq!(head.headers()["etag"], "\"1\"");
    assert_eq!(head.bytes().await?.len(), 0);
    let not_allowed = expect(http.patch(&project), 405).await?;
    assert_eq!(not_allowed.headers()["allow"], "GET, PUT, DELETE, HEAD, OPTIONS");
    expect(http.request(Method::OPTIONS, at("/api/preview")), 204).await?;
    expect(http.delete(at("/")), 405).await?;
    for missing in ["/assets/x.js", "/favicon.png", "/fonts/none.ttf", "/api/none"] {
        expect(http.get(at(missing)), 404).await?;
    }
    let page = expect(http.get(at("/projects/some/check")), 200).await?;
    assert!(page.text().await?.contains("<html"), "a view");
    // What others' pages can send without asking is not taken.
    expect(http.post(at("/api/projects")).header("Content-Type", "text/plain").body(DEMO), 415).await?;
    Ok(())
}

#[tokio::test]
async fn foreign_origins_and_bad_bodies_are_refused() -> Outcome {
    let app = App::start()?;
    let project = first(&app).await?;
    let http = Client::new();
    let at = |path: &str| format!("{}{path}", app.address);
    let own = app.address.clone();
    let other_port = "http://127.0.0.1:1";
    expect(http.get(at("/api/projects")).header("Origin", &own), 200).await?;
    expect(http.get(at("/api/projects")).header("Origin", other_port), 403).await?;
    expect(http.get(at("/api/projects")).header("X-Forwarded-For", "10.1.2.3"), 403).await?;
    expect(
        http.post(at("/api/css"))
            .header("Content-Type", "application/json")
            .header("Content-Encoding", "gzip")
            .body("x"),
        415,
    )
    .await?;
    let large = "x".repeat(9 << 20);
    let refused =
        expect(http.post(at("/api/projects")).header("Content-Type", "application/json").body(large), 413)
            .await?;
    assert!(refused.text().await?.contains("8 MB"));
    let wrong =
        expect(http.post(at("/api/preview")).header("Content-Type", "application/json").body("{"), 422)
            .await?;
    assert!(wrong.text().await?.contains("\"1:1\""));
    // What nobody knows is kept as well: it has to be JSON that can be read again.
    for unknown in ["1e999", "\"\\ud800\"", &"9".repeat(400)] {
        let odd = DEMO.replacen('{', &format!("{{\"unknown\": {unknown},"), 1);
        let made =
            http.post(at("/api/projects")).header("Content-Type", "application/json").body(odd.clone());
        expect(made, 422).await?;
        let saved = http.put(&project).header("If-Match", "\"1\"").header("Content-Type", "application/json");
        expect(saved.body(odd), 422).await?;
    }
    // Deleting is only done to what was seen.
    expect(http.delete(&project).header("If-Match", "\"7\""), 412).await?;
    let answer = expect(http.get(at("/api/projects?most=1")), 200).await?;
    let header = |name: &str| answer.headers()[name].to_str().unwrap().to_owned();
    assert_eq!((header("x-total"), header("cache-control")), ("1".to_owned(), "no-store".to_owned()));
    assert_eq!(header("cross-origin-resource-policy"), "same-origin");
    expect(http.get(at("/api/projects?most=501")), 422).await?;
    let mut named: Value = serde_json::from_str(DEMO)?;
    named["name"] = json!("x".repeat(66_000));
    let refused = expect(http.post(at("/api/bundle")).json(&json!({"project": named})), 422).await?;
    assert!(refused.text().await?.contains("expected at most 200 characters"));
    expect(http.delete(&project).header("If-Match", "\"1\""), 204).await?;
    Ok(())
}

/// A body at a byte now and then, and a reader that takes nothing: both are ended.
#[tokio::test]
async fn slow_clients_are_ended() -> Outcome {
    let app = App::start()?;
    let host = app.address.trim_start_matches("http://").to_owned();
    let ended = tokio::task::spawn_blocking(move || -> std::io::Result<(Duration, String)> {
        let mut stream = TcpStream::connect(&host)?;
        stream.set_read_timeout(Some(Duration::from_secs(40)))?;
        write!(
            stream,
            "POST /api/css HTTP/1.1\r\nHost: {host}\r\nContent-Type: application/json\r\nContent-Length: 1000\r\n\r\n{{"
        )?;
        let (start, mut said) = (Instant::now(), Vec::new());
        let mut part = [0; 512];
        while let Ok(read) = stream.read(&mut part) {
            said.extend_from_slice(&part[..read]);
            if read == 0 || said.windows(8).any(|part| part == b"too-slow") {
                break;
            }
        }
        Ok((start.elapsed(), String::from_utf8_lossy(&said).into_owned()))
    });
    let (took, said) = ended.await??;
    assert!(said.starts_with("HTTP/1.1 408") && took < Duration::from_secs(25), "{took:?}: {said}");
    Ok(())
}

/// Where others can reach the service, links open what they show, and everything else wants the owner's key.
#[tokio::test]
async fn a_link_opens_what_it_shows_and_nothing_else() -> Outcome {
    let app = App::start_with(&["--allow-host", "depth.example", "--public-url", "https://depth.example"])?;
    let key = app.owner_key()?;
    assert!(key.len() == 40 && !app.said.contains(&key), "{}", app.said);
    let http = Client::new();
    let at = |path: &str| format!("{}{path}", app.address);
    let status = async |request: reqwest::RequestBuilder| -> Outcome<StatusCode> {
        Ok(request.send().await?.status())
    };
    assert_eq!(status(http.get(at("/api/projects"))).await?, 401);
    assert_eq!(status(http.get(at("/api/projects")).header("Host", "depth.example")).await?, 401);
    assert_eq!(status(http.get(at("/"))).await?, 200, "the page itself");
    assert_eq!(status(http.get(at("/healthz"))).await?, 200);
    let open = |key: &str| http.post(at("/api/session")).json(&json!({"key": key}));
    let opened = open(&key).send().await?;
    assert_eq!(opened.status(), 204);
    let cookie = opened.headers()["set-cookie"].to_str()?.to_owned();
    for flag in ["HttpOnly", "SameSite=Strict", "Secure", "Path=/"] {
        assert!(cookie.contains(flag), "{cookie}");
    }
    let session = cookie.split(';').next().unwrap().to_owned();
    let with = |request: reqwest::RequestBuilder| request.header("Cookie", &session);
    let list: Value = with(http.get(at("/api/projects"))).send().await?.json().await?;
    let id = list[0]["id"].as_str().unwrap().to_owned();
    let shared = with(http.post(at(&format!("/api/projects/{id}/shares"))).json(&json!({"scene": "kiosk"})));
    let link: Value = shared.send().await?.json().await?;
    let token = link["token"].as_str().unwrap();
    assert_eq!(status(http.get(at(&format!("/s/{token}")))).await?, 200);
    assert_eq!(status(http.get(at(&format!("/api/shared/{token}")))).await?, 200);
    assert_eq!(status(http.get(at(&format!("/api/shared/{token}/picture.png")))).await?, 200);
    assert_eq!(status(http.delete(at(&format!("/api/projects/{id}")))).await?, 401);
    assert_eq!(status(http.delete(at(&format!("/api/shares/{token}")))).await?, 401);
    // Tries are slowed.
    let mut answers = Vec::new();
    for _ in 0..8 {
        answers.push(status(open("wrong")).await?.as_u16());
    }
    assert_eq!((answers[0], answers[7]), (401, 429), "{answers:?}");
    assert_eq!(status(with(http.delete(at("/api/session")))).await?, 204);
    assert_eq!(status(with(http.get(at("/api/projects")))).await?, 401, "the session has ended");
    Ok(())
}

/// Files that take their readers to the limit are refused, or are drawings that are no icons, and the service goes on.
#[tokio::test]
async fn hostile_files_are_refused() -> Outcome {
    let app = App::start()?;
    let http = Client::new();
    let circles: String =
        (0..19_000).map(|i| format!("<circle cx='{}' cy='{}' r='9'/>", i % 140 * 7, i / 140 * 7)).collect();
    let svg = format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 1000 1000'>{circles}</svg>");
    let deep = format!(
        "<svg xmlns='http://www.w3.org/2000/svg'>{}</svg>",
        ["<g>", "</g>"].map(|tag| tag.repeat(100_000)).concat()
    );
    let filters = "<filter id='f'><feMorphology radius='900'/><feTurbulence numOctaves='99999'/></filter>";
    let heavy = format!(
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'>{filters}{}</svg>",
        "<rect filter='url(#f)' width='9' height='9'/>".repeat(9_000)
    );
    for (file, right, words) in
        [(svg, 201, "\"is_black\":true"), (deep, 422, "expected"), (heavy, 422, "expected")]
    {
        let upload = http
            .post(format!("{}/api/assets?name=x", app.address))
            .header("Content-Type", "image/svg+xml")
            .body(file);
        let answer = upload.send().await?;
        let status = answer.status();
        let text = answer.text().await?;
        assert!(status == right && text.contains(words) && !text.contains("\"icon\""), "{status}: {text}");
    }
    let css = format!("a{{--a:red;box-shadow:{}}}", "var(--a),".repeat(12_000));
    let body =
        json!({"project": serde_json::from_str::<Value>(DEMO)?, "format": "css", "files": [{"text": css}]});
    assert_eq!(http.post(format!("{}/api/import", app.address)).json(&body).send().await?.status(), 200);
    assert_eq!(http.get(format!("{}/healthz", app.address)).send().await?.status(), 200);
    Ok(())
}
