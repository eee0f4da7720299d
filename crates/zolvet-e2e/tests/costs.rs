//! Requests of little that ask for much: each ends where it is, and what others do goes on.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::time::{Duration, Instant};

use reqwest::{Client, Response};
use serde_json::{Value, json};
use zolvet_e2e::{App, Outcome};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

fn demo() -> Value {
    serde_json::from_str(DEMO).unwrap()
}

async fn import(app: &App, format: &str, text: &str) -> Outcome<Response> {
    let body = json!({"project": demo(), "format": format, "files": [{"text": text}]});
    Ok(Client::new().post(format!("{}/api/import", app.address)).json(&body).send().await?)
}

/// Asks for a piece's boxes of a project that a session holds, after a patch.
async fn patched(app: &App, session: &str, patch: Value) -> Outcome<Response> {
    let ask = |project: Value| {
        let body = json!({"project": project, "scene": "kiosk"}).to_string();
        let asked = Client::new().post(format!("{}/api/boxes", app.address));
        asked.header("Content-Type", "application/json").body(body).send()
    };
    ask(json!({"session": session, "version": 1, "document": demo()})).await?;
    Ok(ask(json!({"session": session, "version": 2, "from": 1, "patch": patch})).await?)
}

/// Milliseconds of processor time that the service itself takes for something.
async fn taken<T>(app: &App, work: impl Future<Output = Outcome<T>>) -> Outcome<(T, u64)> {
    let before = app.processor_time()?;
    let made = work.await?;
    Ok((made, (app.processor_time()? - before) * 10))
}

/// A process of the system has the memory it says; the most it has had, in MB.
fn memory(app: &App) -> Outcome<usize> {
    let status = std::fs::read_to_string(format!("/proc/{}/status", app.process()))?;
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:")).ok_or("no memory is told")?;
    Ok(line.trim().trim_end_matches(" kB").trim().parse::<usize>()? / 1024)
}

/// Selectors that multiply, rules about the same kind of element, and what makes a reader overflow: the service takes next to
/// nothing for them, and is there afterwards.
#[tokio::test]
async fn style_sheets_cost_the_service_nothing() -> Outcome {
    let app = App::start()?;
    let nested = format!(".a{{{}box-shadow:0 0 1px red{}}}", "& & &{".repeat(18), "}".repeat(18));
    let rules = |count: usize| -> String {
        (0..count).map(|i| format!(".c{i} .d{i} .e{i}:hover>a{{box-shadow:0 1px 2px red}}")).collect()
    };
    let sheets = [
        nested,
        rules(2_000),
        rules(10_000),
        "@media x{".repeat(50_000),
        format!("a{{box-shadow:{}", "calc(".repeat(100_000)),
    ];
    for css in sheets {
        let start: String = css.chars().take(40).collect();
        let (answer, ms) = taken(&app, import(&app, "css", &css)).await?;
        let (status, text) = (answer.status(), answer.text().await?);
        println!("{start}: {status}, {ms} ms of the service");
        assert!(status == 200 || (status == 422 && text.contains("expected")), "{start}: {status} {text}");
        assert!(ms < 1_000, "{start}: {ms} ms");
    }
    let deep = |open: &str, close: &str| [open, close].map(|part| part.repeat(30_000)).concat();
    for (format, text) in [
        ("tokens", deep("{\"a\":", "}")),
        ("tokens", format!("{{\"a\":{{\"$value\":\"{{a}}\"}}{}", deep("[", "]"))),
        ("svg", format!("<svg>{}</svg>", deep("<filter>", "</filter>"))),
        ("json", deep("[", "]")),
    ] {
        let answer = import(&app, format, &text).await?;
        assert!([200, 422].contains(&answer.status().as_u16()), "{format}: {}", answer.status());
    }
    assert!(memory(&app)? < 500, "{} MB", memory(&app)?);
    assert_eq!(Client::new().get(format!("{}/healthz", app.address)).send().await?.status(), 200);
    Ok(())
}

/// Changes of a held project: long paths, many steps, steps in turn on large parts.
#[tokio::test]
async fn patches_are_bounded_before_they_are_begun() -> Outcome {
    let app = App::start()?;
    let long = json!([{"op": "add", "path": "/a".repeat(50_000), "value": 1}]);
    let many: Vec<Value> =
        (0..20_000).map(|i| json!({"op": "replace", "path": "/name", "value": i.to_string()})).collect();
    let in_turn: Vec<Value> = (0..3_000)
        .map(|i| match i % 2 {
            0 => json!({"op": "replace", "path": "/name", "value": i.to_string()}),
            _ => json!({"op": "replace", "path": "/scenes/0/pieces/0/x", "value": i}),
        })
        .collect();
    let moved: Vec<Value> = (0..3_000)
        .map(|i| match i % 2 {
            0 => {
                json!({"op": "add", "path": "/scenes/0/pieces/0", "value": demo()["scenes"][0]["pieces"][0]})
            }
            _ => json!({"op": "remove", "path": "/scenes/0/pieces/0"}),
        })
        .collect();
    for (name, patch) in
        [("long", long), ("many", json!(many)), ("in turn", json!(in_turn)), ("moved", json!(moved))]
    {
        let (answer, ms) = taken(&app, patched(&app, name, patch)).await?;
        println!("{name}: {}, {ms} ms", answer.status());
        assert!([200, 409, 422].contains(&answer.status().as_u16()), "{name}: {}", answer.status());
        assert!(ms < 2_000, "{name}: {ms} ms");
    }
    let named = patched(&app, &"s".repeat(3 << 20), json!([])).await?;
    let (status, text) = (named.status(), named.text().await?);
    assert!(status == 422 && text.contains("128 characters"), "{status} {text}");
    Ok(())
}

/// Stacks of 8 to 16 shadows of all sizes are reduced by a helper in the time it is given, while the service does next to nothing.
#[tokio::test]
async fn large_stacks_are_reduced_in_time() -> Outcome {
    let app = App::start()?;
    let shadow = |i: usize| {
        json!({"id": i.to_string(), "name": "c", "on": true, "kind": "drop", "offset": {"x": i, "y": 2 * i},
            "blur": 3 * i + 1, "spread": 0, "colour": "#000000", "opacity": 0.1})
    };
    for count in [8, 16] {
        let mut project = demo();
        project["scenes"][0]["pieces"][2]["wear"] =
            json!({"coats": (0..count).map(shadow).collect::<Vec<_>>()});
        let piece = &project["scenes"][0]["pieces"][2]["id"];
        let asked = json!({"project": project, "scene": project["scenes"][0]["id"], "piece": piece});
        let ask = async {
            let address = format!("{}/api/solve/reduce", app.address);
            Ok(Client::new().post(address).json(&asked).send().await?)
        };
        let (answer, own) = taken(&app, ask).await?;
        assert_eq!(answer.status(), 200, "{count} shadows: {}", answer.text().await?);
        let found: Value = answer.json().await?;
        let fewer = found["by_count"].as_array().unwrap();
        assert!(fewer.iter().all(|one| one["shadows"].as_u64().unwrap() < count as u64) && !fewer.is_empty());
        assert!(own < 500, "{count} shadows: the service itself took {own} ms");
    }
    Ok(())
}

/// Connections that claim much and send nothing take no room from those who save.
#[tokio::test]
async fn claims_of_length_reserve_nothing() -> Outcome {
    let app = App::start()?;
    let http = Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let project = list[0]["id"].as_str().unwrap();
    let host = app.address.trim_start_matches("http://");
    let mut claims = Vec::new();
    for number in 0..40 {
        let mut stream = TcpStream::connect(host)?;
        let (method, path) = match number % 4 {
            0 => ("PUT", format!("/api/projects/{project}")),
            1 => ("POST", "/api/preview".to_owned()),
            2 => ("POST", "/api/assets".to_owned()),
            _ => ("POST", "/api/projects".to_owned()),
        };
        write!(
            stream,
            "{method} {path} HTTP/1.1\r\nHost: {host}\r\nContent-Type: application/json\r\nContent-Length: 8000000\r\n\r\n{{"
        )?;
        claims.push(stream);
    }
    // Some send a good part of it and then stand still.
    for stream in claims.iter_mut().take(20) {
        stream.set_write_timeout(Some(Duration::from_millis(200)))?;
        let _ = stream.write_all(&vec![b' '; 4 << 20]);
    }
    let address = format!("{}/api/projects/{project}", app.address);
    for revision in 1..=50 {
        let save = http.put(&address).header("If-Match", format!("\"{revision}\"")).json(&demo());
        let saved = save.send().await?;
        let status = saved.status();
        assert_eq!(status, 200, "save {revision}: {}", saved.text().await?);
    }
    Ok(())
}

/// Readers that take nothing hold little of the service's memory.
#[tokio::test]
async fn slow_readers_hold_little_memory() -> Outcome {
    let app = App::start()?;
    let http = Client::new();
    let noise: Vec<u8> = (0..1900 * 1900_u32)
        .flat_map(|i| (i.wrapping_mul(2_654_435_761) >> 8).to_le_bytes())
        .take(14 << 20)
        .collect();
    let picture = zolvet_core::picture::Picture { width: 1900, height: 1900, rgba: noise };
    let upload = http.post(format!("{}/api/assets?name=noise", app.address)).body(picture.to_png()?);
    let made: Value = upload.send().await?.error_for_status()?.json().await?;
    let id = made["asset"]["id"].as_str().unwrap();
    let host = app.address.trim_start_matches("http://");
    let mut readers = Vec::new();
    for _ in 0..60 {
        let mut stream = TcpStream::connect(host)?;
        write!(stream, "GET /api/assets/{id} HTTP/1.1\r\nHost: {host}\r\n\r\n")?;
        readers.push(stream);
    }
    tokio::time::sleep(Duration::from_secs(2)).await;
    let held = memory(&app)?;
    println!("{held} MB at most");
    assert!(held < 450, "{held} MB");
    // Somebody who reads gets it all, as those who stand still give way.
    let start = Instant::now();
    loop {
        let answer = http.get(format!("{}/api/assets/{id}", app.address)).send().await?;
        if answer.status() == 200 {
            assert!(answer.bytes().await?.len() > 10 << 20);
            break;
        }
        assert!(answer.status() == 503 && start.elapsed() < Duration::from_secs(20), "{}", answer.status());
    }
    // Whoever came first was served; who came when all places were taken was told so.
    let mut served = 0;
    for reader in &mut readers {
        let mut first = [0; 12];
        reader.read_exact(&mut first)?;
        assert!(matches!(&first, b"HTTP/1.1 200" | b"HTTP/1.1 503"), "{first:?}");
        served += u32::from(&first == b"HTTP/1.1 200");
    }
    println!("{served} of {} were served", readers.len());
    assert!(served > 0);
    Ok(())
}

/// Looking through a long history ends when nobody waits for it, and others are answered meanwhile.
#[tokio::test]
async fn a_long_history_keeps_nobody_waiting() -> Outcome {
    let mut app = App::start()?;
    app.kill();
    let store = zolvet_store::Store::open(&app.database()).await?;
    let mut document = demo();
    let id = store.create("Long", &document.to_string()).await?.id;
    for revision in 1..1_000 {
        document["finishes"][1]["coats"][0]["blur"] = json!(revision % 90);
        store.save(&id, revision, "Long", &document.to_string(), "edited").await?;
    }
    store.close().await;
    drop(store);
    app.start_again()?;
    let http = Client::new();
    let earlier = format!(
        "{}/api/projects/{id}/finishes/{}/earlier",
        app.address,
        document["finishes"][0]["id"].as_str().unwrap()
    );
    let mut all = Vec::new();
    for _ in 0..6 {
        all.push(tokio::spawn(http.get(&earlier).send()));
    }
    tokio::time::sleep(Duration::from_millis(300)).await;
    let mut slowest = Duration::ZERO;
    for _ in 0..30 {
        let start = Instant::now();
        http.get(format!("{}/healthz", app.address)).send().await?.error_for_status()?;
        slowest = slowest.max(start.elapsed());
    }
    println!("the slowest answer took {slowest:?}");
    assert!(slowest < Duration::from_secs(1), "{slowest:?}");
    // Four hang up; what they asked for ends.
    for one in &all[2..] {
        one.abort();
    }
    for one in all.drain(..2) {
        assert_eq!(one.await??.status(), 200);
    }
    tokio::time::sleep(Duration::from_millis(500)).await;
    let before = app.processor_time()?;
    tokio::time::sleep(Duration::from_secs(1)).await;
    let after = app.processor_time()?;
    assert!(after - before < 20, "{} ms of work in a second in which nobody waits", (after - before) * 10);
    Ok(())
}
