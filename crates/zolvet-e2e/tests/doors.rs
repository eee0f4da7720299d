//! Who may call what, whatever the address looks like and whatever a file says it is.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::os::unix::fs::PermissionsExt as _;
use std::time::Duration;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use reqwest::{Client, StatusCode};
use serde_json::{Value, json};
use zolvet_core::picture::Picture;
use zolvet_e2e::{App, Outcome};
use zolvet_store::Store;

const OPEN_TO_OTHERS: [&str; 2] = ["--allow-host", "depth.example"];

/// An answer as it came over the wire.
struct Answer {
    status: u16,
    head: String,
    body: String,
}

impl Answer {
    /// The page of the front end, which holds nothing.
    fn is_page(&self) -> bool {
        self.status == 200 && self.body.to_ascii_lowercase().starts_with("<!doctype html>")
    }
}

/// Asks with an address just as it is written.
fn ask(app: &App, method: &str, target: &str, more: &str, body: &str) -> Outcome<Answer> {
    let mut stream = TcpStream::connect(app.address.trim_start_matches("http://"))?;
    stream.set_read_timeout(Some(Duration::from_secs(20)))?;
    let length = body.len();
    write!(
        stream,
        "{method} {target} HTTP/1.1\r\nHost: depth.example\r\nConnection: close\r\nContent-Type: application/json\r\n\
         Content-Length: {length}\r\nIf-Match: \"1\"\r\n{more}\r\n{body}"
    )?;
    let mut answer = Vec::new();
    // A connection that is reset after its answer has answered.
    let _ = stream.read_to_end(&mut answer);
    let answer = String::from_utf8_lossy(&answer).into_owned();
    let (head, body) = answer.split_once("\r\n\r\n").unwrap_or((&answer, ""));
    let status = head.split(' ').nth(1).and_then(|status| status.parse().ok()).unwrap_or(0);
    let body = body.split_once("\r\n").filter(|_| head.contains("chunked")).map_or(body, |(_, rest)| rest);
    Ok(Answer { status, head: head.to_owned(), body: body.to_owned() })
}

/// Every way to write a path that may lead to the same place.
fn ways(path: &str) -> Vec<String> {
    let encoded = |from: &str, to: &str| path.replacen(from, to, 1);
    let all: String =
        path.bytes().map(|byte| if byte == b'/' { "/".into() } else { format!("%{byte:02X}") }).collect();
    vec![
        path.to_owned(),
        encoded("/api", "/%61pi"),
        encoded("/api", "/a%70i"),
        encoded("/api", "/%2561pi"),
        encoded("/api/", "/api%2F"),
        encoded("/api/", "/api%5C"),
        encoded("/api/", "/api\\"),
        encoded("/api/", "//api/"),
        encoded("/api/", "/api//"),
        encoded("/api/", "/api/./"),
        encoded("/api/", "/x/../api/"),
        encoded("/api/", "/x/%2e%2e/api/"),
        encoded("/api/", "/api;x=1/"),
        encoded("/api/", "/API/"),
        encoded("/api", "/%EF%BC%8Fapi"),
        format!("{path}/"),
        format!("{path}."),
        format!("{path}%00"),
        format!("{path}?x=/api/shared/none"),
        format!("{path}#/api/shared/none"),
        format!("http://depth.example{path}"),
        format!("http://127.0.0.1{path}"),
        format!("/api/shared/..{path}"),
        format!("/api/shared/x/../../..{path}"),
        format!("/api/session/..{path}"),
        all,
    ]
}

/// A link of the demo, made by its owner, and the project it belongs to.
async fn link(app: &App) -> Outcome<(String, String)> {
    let (http, session) = (Client::new(), app.session().await?);
    let list = http.get(format!("{}/api/projects", app.address)).header("Cookie", &session).send().await?;
    let project = list.json::<Value>().await?[0]["id"].as_str().unwrap().to_owned();
    let shares =
        http.post(format!("{}/api/projects/{project}/shares", app.address)).header("Cookie", &session);
    let link: Value = shares.json(&json!({"scene": "kiosk"})).send().await?.json().await?;
    Ok((project, link["token"].as_str().unwrap().to_owned()))
}

/// Every route of the description, by every way to write its path, without a key, with a wrong one, and with a link's token:
/// nothing but what is for everybody, and what the link shows, is answered.
#[tokio::test]
async fn a_route_answers_those_it_is_for_however_its_path_is_written() -> Outcome {
    let app = App::start_with(&OPEN_TO_OTHERS)?;
    let (project, token) = link(&app).await?;
    let session = app.session().await?;
    let description =
        Client::new().get(format!("{}/api/openapi.json", app.address)).header("Cookie", &session);
    let description: Value = description.send().await?.json().await?;
    let shown = [
        String::new(),
        format!("Cookie: zolvet_session={}\r\n", "0".repeat(40)),
        format!(
            "Cookie: zolvet_session={token}\r\nAuthorization: Bearer {token}\r\nX-Forwarded-For: 127.0.0.1\r\n"
        ),
    ];
    let (mut asked, mut refused) = (0, 0);
    for (template, methods) in description["paths"].as_object().unwrap() {
        let path = template.replace("{token}", &token).replace("{id}", &project);
        let path = path.replace("{revision}", "1").replace("{finish}", "laid");
        for method in methods.as_object().unwrap().keys() {
            for way in ways(&path) {
                for more in &shown {
                    let status = answered_to_nobody(&app, method, &path, (&way, more))?;
                    asked += 1;
                    refused += usize::from(status == 401);
                }
            }
        }
    }
    println!("{asked} requests, {refused} of them refused for want of a key");
    assert!(asked > 4_000 && refused > 300, "{asked} {refused}");
    let http = Client::new();
    let read =
        http.get(format!("{}/api/projects/{project}", app.address)).header("Cookie", &session).send().await?;
    assert_eq!(
        (read.status(), read.headers()["etag"].to_str()?),
        (StatusCode::OK, "\"1\""),
        "nothing was changed"
    );
    assert_eq!(read.headers()["cache-control"], "no-store");
    let opened = http.get(format!("{}/api/shared/{token}", app.address)).send().await?;
    assert_eq!(opened.status(), 200, "the link is still there");
    Ok(())
}

/// Asks by one way to write a path; fails where anything is answered but what is for everybody.
fn answered_to_nobody(app: &App, method: &str, path: &str, (way, more): (&str, &str)) -> Outcome<u16> {
    let is_for_all =
        path.starts_with("/api/shared/") || ["/healthz", "/readyz", "/api/session"].contains(&path);
    let body = if method == "get" || method == "delete" { "" } else { "{}" };
    let answer = ask(app, &method.to_uppercase(), way, more, body)?;
    let is_taken = (200..300).contains(&answer.status) && !answer.is_page();
    assert!(!is_taken || is_for_all, "{method} {way} {more}: {}\n{}", answer.head, answer.body);
    assert!(answer.status < 500 && answer.status != 0, "{method} {way}: {} {}", answer.head, answer.body);
    Ok(answer.status)
}

/// What came through a proxy is no neighbour, by whatever path.
#[tokio::test]
async fn a_proxy_needs_a_public_address() -> Outcome {
    let app = App::start()?;
    for way in ["/api/projects", "/%61pi/projects"] {
        for header in [
            "Forwarded: for=1",
            "Via: 1.1 x",
            "X-Real-IP: 1",
            "CF-Connecting-IP: 1",
            "Client-IP: 1",
            "True-Client-IP: 1",
            "X-Forwarded-Proto: https",
        ] {
            let mut stream = TcpStream::connect(app.address.trim_start_matches("http://"))?;
            write!(stream, "GET {way} HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n{header}\r\n\r\n")?;
            let mut answer = String::new();
            stream.read_to_string(&mut answer)?;
            assert!(answer.starts_with("HTTP/1.1 403"), "{way} {header}: {answer}");
        }
        // One that adds nothing and asks for the address it was told, in the way of old.
        let mut stream = TcpStream::connect(app.address.trim_start_matches("http://"))?;
        write!(stream, "GET {way} HTTP/1.0\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n")?;
        let mut answer = String::new();
        stream.read_to_string(&mut answer)?;
        assert!(answer.starts_with("HTTP/1.0 403"), "{way}: {answer}");
    }
    Ok(())
}

/// Whoever tries keys keeps nobody out who has the right one, and a stray cookie neither.
#[tokio::test]
async fn the_right_key_opens_whatever_strangers_try() -> Outcome {
    let app = App::start_with(&OPEN_TO_OTHERS)?;
    let (http, key) = (Client::new(), app.owner_key()?);
    let mode = std::fs::metadata(app.database().with_added_extension("key"))?.permissions().mode();
    assert_eq!(mode & 0o777, 0o600);
    let open =
        |key: &str| http.post(format!("{}/api/session", app.address)).json(&json!({"key": key})).send();
    let wrong: Vec<_> = (0..100).map(|number| tokio::spawn(open(&format!("{number:040x}")))).collect();
    let mut statuses: Vec<u16> = Vec::new();
    for answer in wrong {
        statuses.push(answer.await??.status().as_u16());
    }
    let free = statuses.iter().filter(|status| **status == 401).count();
    assert_eq!((free, statuses.iter().filter(|status| **status == 429).count()), (5, 95), "{statuses:?}");
    for _ in 0..20 {
        assert_eq!(open(&key).await?.status(), 204);
        assert_eq!(open("wrong").await?.status(), 429, "still one too many");
    }
    let session = app.session().await?;
    let list =
        |cookies: String| http.get(format!("{}/api/projects", app.address)).header("Cookie", cookies).send();
    assert_eq!(list(format!("zolvet_session=stray; {session}")).await?.status(), 200);
    assert_eq!(list(format!("{session}; zolvet_session=stray")).await?.status(), 200);
    assert_eq!(list("zolvet_session=stray".to_owned()).await?.status(), 401);
    let close = http
        .delete(format!("{}/api/session", app.address))
        .header("Cookie", format!("zolvet_session=stray; {session}"));
    assert_eq!(close.send().await?.status(), 204);
    assert_eq!(list(session).await?.status(), 401, "it has ended");
    let large = json!({"key": "x".repeat(20_000)});
    let answer = http.post(format!("{}/api/session", app.address)).json(&large).send().await?;
    assert_eq!(answer.status(), 413, "strangers send little");
    Ok(())
}

/// A picture that is a script too: text after its end.
fn polyglot() -> Outcome<Vec<u8>> {
    let png = Picture { width: 1, height: 1, rgba: vec![255; 4] }.to_png()?;
    Ok([png.as_slice(), b"*/;fetch('/api/projects').then((r) => r.json()).then((all) => all.map(({ id }) => fetch(`/api/projects/${id}`, { method: 'DELETE' })))/*<script>alert(1)</script>"].concat())
}

const SVG: &[u8] = b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>";

/// Makes a project with a file that says of itself what it is.
async fn made_with(app: &App, media_type: &str, bytes: &[u8]) -> Outcome<(StatusCode, String)> {
    let asset = json!({"id": Store::asset_id(bytes), "name": "File", "media_type": media_type, "data": STANDARD.encode(bytes)});
    let document = json!({"schema": 2, "name": "Files", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [], "assets": [asset]});
    let made = Client::new().post(format!("{}/api/projects", app.address)).json(&document).send().await?;
    Ok((made.status(), made.text().await?))
}

/// What a file says of itself has to be what its bytes are, wherever it comes in.
#[tokio::test]
async fn a_file_is_what_its_bytes_are() -> Outcome {
    let app = App::start()?;
    let bytes = polyglot()?;
    let wrong = ["text/html", "text/javascript", "image/svg+xml", "image/jpeg", "image/png\r\nX: 1", ""];
    let wrong = wrong.map(|wrong| (wrong, bytes.as_slice()));
    for (media_type, file) in wrong.into_iter().chain([("text/html", SVG)]) {
        let (status, text) = made_with(&app, media_type, file).await?;
        assert!(status == 422 && text.contains("/assets/0/media_type"), "{media_type:?}: {status} {text}");
    }
    let (status, text) = made_with(&app, "image/svg+xml", SVG).await?;
    assert!(status == 422 && text.contains("/assets/0/data") && text.contains("<script>"), "{status} {text}");
    let (status, made) = made_with(&app, "image/png", &bytes).await?;
    assert_eq!(status, 201);
    let made: Value = serde_json::from_str(&made)?;
    let mut document = made["document"].clone();
    assert_eq!(document["assets"][0].get("data"), None, "it lies apart");
    document["assets"][0]["media_type"] = json!("text/javascript");
    let page = document["assets"][0]["id"].as_str().unwrap().to_owned();
    let page = Client::new().get(format!("{}/api/pages/{page}", app.address)).send().await?;
    assert_eq!(page.status(), 404, "a picture is no page");
    let address = format!("{}/api/projects/{}", app.address, made["id"].as_str().unwrap());
    let save = Client::new().put(address).header("If-Match", "\"1\"").json(&document).send().await?;
    assert_eq!(save.status(), 422);
    Ok(())
}

/// What is kept is served so that no browser runs it, also what an older version kept.
#[tokio::test]
async fn a_file_is_served_so_that_it_never_runs() -> Outcome {
    let mut app = App::start()?;
    app.kill();
    let store = Store::open(&app.database()).await?;
    let html = b"<!doctype html><script>alert(1)</script>";
    let kept = [
        (store.keep_asset("text/javascript", &polyglot()?).await?, "image/png"),
        (store.keep_asset("text/html", html).await?, "application/octet-stream"),
        (store.keep_asset("image/svg+xml", SVG).await?, "application/octet-stream"),
        (store.keep_asset("image/png\r\nSet-Cookie: a=b", b"\x89PNG\r\n\x1a\nnothing").await?, "image/png"),
    ];
    store.close().await;
    app.start_again()?;
    for (id, expected) in kept {
        let answer = Client::new().get(format!("{}/api/assets/{id}", app.address)).send().await?;
        let headers = answer.headers();
        assert_eq!((answer.status(), headers["content-type"].to_str()?), (StatusCode::OK, expected));
        assert_eq!(headers["content-security-policy"], "sandbox; default-src 'none'");
        assert_eq!(headers["x-content-type-options"], "nosniff");
        assert_eq!(headers["content-disposition"], "attachment");
        assert_eq!(headers["cross-origin-resource-policy"], "same-origin");
        assert!(headers.get("set-cookie").is_none());
    }
    Ok(())
}
