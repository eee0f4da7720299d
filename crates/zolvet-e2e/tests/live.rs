//! Live addresses: a page of another origin loads what is saved, and follows it (docs/pages.md, "Live addresses").

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::io::{BufRead, BufReader, Read, Write};
use std::net::{TcpListener, TcpStream};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use reqwest::{Client, Method, Response, StatusCode};
use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{box_of, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome};

/// A project with one card, and a link that follows its scene.
struct Followed {
    app: App,
    id: String,
    document: Value,
    revision: i64,
    token: String,
}

impl Followed {
    async fn new() -> Outcome<Self> {
        let app = App::start()?;
        let card = piece(
            "card",
            box_of(200.0, 120.0),
            (40.0, 40.0),
            json!([drop_shadow("d", 6.0, json!({"blur": 14}))]),
        );
        let document = project("Followed", json!([card]), json!({}));
        let made: Value = post(&format!("{}/api/projects", app.address), &document).await?.json().await?;
        let id = made["id"].as_str().ok_or_else(|| made.to_string())?.to_owned();
        let mut followed = Self { app, id, document, revision: 1, token: String::new() };
        followed.token = followed.link(true).await?;
        Ok(followed)
    }

    async fn link(&self, follows: bool) -> Outcome<String> {
        let scene = self.document["scenes"][0]["id"].clone();
        let address = format!("{}/api/projects/{}/shares", self.app.address, self.id);
        let link: Value = post(&address, &json!({"scene": scene, "follows": follows})).await?.json().await?;
        Ok(link["token"].as_str().ok_or_else(|| link.to_string())?.to_owned())
    }

    /// Saves the card's shadow with another blur.
    async fn save(&mut self, blur: u32) -> Outcome {
        self.document["scenes"][0]["pieces"][0]["wear"]["coats"][0]["blur"] = json!(blur);
        let address = format!("{}/api/projects/{}", self.app.address, self.id);
        let based = Client::new().put(address).header("If-Match", format!("\"{}\"", self.revision));
        let saved: Value = based.json(&self.document).send().await?.error_for_status()?.json().await?;
        self.revision = saved["revision"].as_i64().unwrap();
        Ok(())
    }

    fn address(&self, token: &str, rest: &str) -> String {
        format!("{}/s/{token}/{rest}", self.app.address)
    }

    async fn get(&self, rest: &str, headers: &[(&str, &str)]) -> Outcome<Response> {
        ask(Method::GET, &self.address(&self.token, rest), headers).await
    }
}

async fn post(address: &str, body: &Value) -> Outcome<Response> {
    Ok(Client::new().post(address).json(body).send().await?.error_for_status()?)
}

async fn ask(method: Method, address: &str, headers: &[(&str, &str)]) -> Outcome<Response> {
    let asked = Client::new().request(method, address);
    Ok(headers.iter().fold(asked, |asked, (name, value)| asked.header(*name, *value)).send().await?)
}

fn header<'a>(answer: &'a Response, name: &str) -> &'a str {
    answer.headers().get(name).map_or("", |value| value.to_str().unwrap())
}

const ELSEWHERE: (&str, &str) = ("Origin", "http://elsewhere.example");

/// Sheet and tokens follow the newest revision, for pages of any origin, and are sent only to those who do not have them.
#[tokio::test]
async fn what_is_saved_is_there() -> Outcome {
    let mut followed = Followed::new().await?;
    let first = followed.get("depth.css", &[ELSEWHERE]).await?;
    assert_eq!((first.status(), header(&first, "content-type")), (StatusCode::OK, "text/css; charset=utf-8"));
    assert_eq!((header(&first, "cache-control"), header(&first, "zolvet-revision")), ("no-cache", "1"));
    assert_eq!(header(&first, "access-control-allow-origin"), "*");
    assert_eq!(header(&first, "access-control-allow-credentials"), "");
    assert_eq!(header(&first, "cross-origin-resource-policy"), "cross-origin");
    assert_eq!(header(&first, "x-content-type-options"), "nosniff");
    let tag = header(&first, "etag").to_owned();
    assert!(first.text().await?.contains("14px"));
    let known = followed.get("depth.css", &[ELSEWHERE, ("If-None-Match", &tag)]).await?;
    assert_eq!((known.status(), known.content_length()), (StatusCode::NOT_MODIFIED, Some(0)));
    for others in ["\"other\"", "W/\"other\", \"more\"", "nonsense"] {
        assert_eq!(followed.get("depth.css", &[("If-None-Match", others)]).await?.status(), StatusCode::OK);
    }
    assert_eq!(
        followed.get("depth.css", &[("If-None-Match", "*")]).await?.status(),
        StatusCode::NOT_MODIFIED
    );
    followed.save(33).await?;
    let next = followed.get("depth.css", &[("If-None-Match", &tag)]).await?;
    assert_eq!((next.status(), header(&next, "zolvet-revision")), (StatusCode::OK, "2"));
    assert!(next.text().await?.contains("33px"));
    let flat = followed.get("depth.css?style=flat&layer=depth&revision=7", &[]).await?.text().await?;
    assert!(flat.contains("@layer depth {") && !flat.contains("var(--"), "{flat}");
    assert_eq!(followed.get("depth.css?layer=a{b", &[]).await?.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let tokens = followed.get("tokens.json", &[ELSEWHERE]).await?;
    assert_eq!(header(&tokens, "content-type"), "application/json");
    assert!(tokens.json::<Value>().await?.is_object());
    let preflight =
        ask(Method::OPTIONS, &followed.address(&followed.token, "depth.css"), &[ELSEWHERE]).await?;
    assert_eq!(preflight.status(), StatusCode::NO_CONTENT);
    assert_eq!(header(&preflight, "access-control-allow-headers"), "If-None-Match, Last-Event-ID");
    let head = ask(Method::HEAD, &followed.address(&followed.token, "depth.css"), &[]).await?;
    assert_eq!((head.status(), header(&head, "zolvet-revision")), (StatusCode::OK, "2"));
    Ok(())
}

/// A link that is revoked, frozen, unknown or of a project in the trash has no live addresses: all look the same.
#[tokio::test]
async fn what_is_revoked_is_gone() -> Outcome {
    let mut followed = Followed::new().await?;
    let frozen = followed.link(false).await?;
    for token in [frozen.as_str(), "0".repeat(32).as_str(), "%00", "a b"] {
        for rest in ["depth.css", "tokens.json", "events"] {
            let answer = ask(Method::GET, &followed.address(token, rest), &[]).await?;
            assert_eq!(answer.status(), StatusCode::NOT_FOUND, "{token}/{rest}");
        }
    }
    let mut stream = followed.get("events", &[]).await?;
    assert_eq!(stream.chunk().await?.unwrap(), "id: 1\n\n");
    // The page of such a link shows the newest revision, too.
    let shown = |address: &str, token: &str| format!("{address}/api/shared/{token}");
    followed.save(29).await?;
    let page = ask(Method::GET, &shown(&followed.app.address, &followed.token), &[]).await?.text().await?;
    let then = ask(Method::GET, &shown(&followed.app.address, &frozen), &[]).await?.text().await?;
    assert!(page.contains("blur 29") && !then.contains("blur 29"));
    assert_eq!(stream.chunk().await?.unwrap(), "id: 2\ndata: 2\n\n");
    let project = format!("{}/api/projects/{}", followed.app.address, followed.id);
    ask(Method::DELETE, &project, &[]).await?.error_for_status()?;
    assert_eq!(followed.get("depth.css", &[]).await?.status(), StatusCode::NOT_FOUND, "in the trash");
    assert!(stream.chunk().await?.is_none(), "the stream has ended");
    let back = format!("{}/api/trash/{}/restore", followed.app.address, followed.id);
    ask(Method::POST, &back, &[]).await?.error_for_status()?;
    assert_eq!(followed.get("depth.css", &[]).await?.status(), StatusCode::OK);
    let link = format!("{}/api/shares/{}", followed.app.address, followed.token);
    ask(Method::DELETE, &link, &[]).await?.error_for_status()?;
    let gone = followed.get("depth.css", &[ELSEWHERE]).await?;
    assert_eq!((gone.status(), header(&gone, "access-control-allow-origin")), (StatusCode::NOT_FOUND, "*"));
    Ok(())
}

/// Pages of other origins may ask nothing else, however its path is written; cookies are not read.
#[tokio::test]
async fn nothing_else_is_open_to_other_origins() -> Outcome {
    let followed = Followed::new().await?;
    let port: u16 = followed.app.address.rsplit(':').next().unwrap().parse()?;
    let token = &followed.token;
    let paths = [
        "/api/projects".to_owned(),
        format!("/api/shared/{token}"),
        format!("/s/{token}"),
        format!("/s/{token}/../../api/projects"),
        format!("/s/{token}/%2e%2e/%2e%2e/api/projects"),
        format!("/s/{token}%2fdepth.css"),
        format!("/s/{token}/depth.css/"),
        "/s/..%2fapi%2fprojects/depth.css/..".to_owned(),
        "//api/projects".to_owned(),
        "/%61pi/projects".to_owned(),
        "/".to_owned(),
    ];
    for path in paths {
        let answer = raw(
            port,
            &format!("GET {path} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nOrigin: http://elsewhere.example\r\n"),
        )?;
        assert!(
            !answer.contains("200 OK") && !answer.contains("access-control-allow-origin"),
            "{path}: {answer}"
        );
    }
    let open = raw(
        port,
        &format!(
            "GET /s/{token}/depth.css HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nOrigin: null\r\nCookie: zolvet_session=x\r\n"
        ),
    )?;
    assert!(open.contains("200 OK") && !open.to_lowercase().contains("set-cookie"), "{open}");
    let host = raw(port, &format!("GET /s/{token}/depth.css HTTP/1.1\r\nHost: elsewhere.example\r\n"))?;
    assert!(host.contains("403"), "a foreign host is refused here too: {host}");
    Ok(())
}

/// A request as it is written, and the answer's head and body.
fn raw(port: u16, request: &str) -> Outcome<String> {
    let mut stream = TcpStream::connect(("127.0.0.1", port))?;
    stream.write_all(format!("{request}Connection: close\r\n\r\n").as_bytes())?;
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer)?;
    Ok(String::from_utf8_lossy(&answer).to_lowercase().replace("200 ok", "200 OK"))
}

/// Few streams a link, each from where its reader was; a service that stops ends them at once.
#[tokio::test]
async fn few_listen_to_a_link() -> Outcome {
    let mut followed = Followed::new().await?;
    let mut streams = Vec::new();
    for _ in 0..8 {
        streams.push(followed.get("events", &[]).await?.error_for_status()?);
    }
    assert_eq!(followed.get("events", &[]).await?.status(), StatusCode::SERVICE_UNAVAILABLE);
    streams.pop();
    let missed = loop {
        let answer = followed.get("events", &[("Last-Event-ID", "0")]).await?;
        if answer.status().is_success() {
            break answer;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    };
    assert_eq!(header(&missed, "content-type"), "text/event-stream");
    let mut missed = missed;
    let mut told = String::new();
    while !told.contains("data: 1\n\n") {
        told += &String::from_utf8_lossy(&missed.chunk().await?.unwrap());
    }
    let begun = Instant::now();
    assert!(followed.app.stop("TERM")?.success());
    assert!(begun.elapsed() < Duration::from_secs(2), "it waits for no listener");
    Ok(())
}

/// Serves one page, which may be changed, at an origin of its own.
fn page_server(html: Arc<Mutex<String>>) -> Outcome<String> {
    let listener = TcpListener::bind("127.0.0.1:0")?;
    let address = format!("http://{}/", listener.local_addr()?);
    std::thread::spawn(move || {
        for mut stream in listener.incoming().flatten() {
            let mut line = String::new();
            let mut reader = BufReader::new(&stream);
            while reader.read_line(&mut line).is_ok_and(|read| read > 2) {}
            let body = html.lock().unwrap().clone();
            let answer = format!(
                "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
                body.len()
            );
            // A browser that went away needs no answer.
            let _ = stream.write_all(answer.as_bytes());
        }
    });
    Ok(address)
}

/// The lines that the view offers make a page of another origin follow within a second, without a moment that has no depth.
#[tokio::test]
async fn a_page_elsewhere_follows_by_the_lines_that_are_offered() -> Outcome {
    let mut followed = Followed::new().await?;
    let browser = Browser::on(&followed.app).await?;
    browser.go(&format!("{}/projects/{}/hand-off", followed.app.address, followed.id)).await?;
    browser.click(&By::XPath("//button[. = 'Live address']")).await?;
    browser.wait_for("document.querySelectorAll('[role=dialog] code').length === 3").await?;
    let lines = browser
        .driver
        .execute(
            "return [...document.querySelectorAll('[role=dialog] code')].map((line) => line.textContent)",
            vec![],
        )
        .await?;
    let lines = lines.json().clone();
    let class = followed.get("depth.css?style=flat", &[]).await?.text().await?;
    let class = class
        .lines()
        .find_map(|line| line.strip_prefix('.')?.split([' ', ',']).next().map(str::to_owned))
        .expect("a class");
    let html = Arc::new(Mutex::new(format!(
        "<!doctype html><title>Elsewhere</title>{}{}<div class={class:?}>Row</div>",
        lines[0].as_str().unwrap(),
        lines[1].as_str().unwrap()
    )));
    let elsewhere = page_server(html)?;
    browser.go(&elsewhere).await?;
    let shadow = "getComputedStyle(document.querySelector('div')).boxShadow";
    browser.wait_for(&format!("{shadow}.includes('14px')")).await?;
    let watch = format!(
        "window.bare = 0; const look = () => {{ if ({shadow} === 'none') window.bare += 1; requestAnimationFrame(look) }}; look()"
    );
    browser.driver.execute(watch, vec![]).await?;
    for blur in [20, 26, 32] {
        followed.save(blur).await?;
        let saved = Instant::now();
        browser.wait_for(&format!("{shadow}.includes('{blur}px')")).await?;
        assert!(saved.elapsed() < Duration::from_secs(1), "{:?}", saved.elapsed());
    }
    let left = browser
        .driver
        .execute("return [window.bare, document.querySelectorAll('link').length]", vec![])
        .await?;
    assert_eq!(left.json(), &json!([0, 1]));
    // Revoked, the page keeps what it has, and hears nothing more.
    let link = format!("{}/api/shares/{}", followed.app.address, followed.token);
    ask(Method::DELETE, &link, &[]).await?.error_for_status()?;
    followed.save(50).await?;
    tokio::time::sleep(Duration::from_secs(1)).await;
    browser.wait_for(&format!("{shadow}.includes('32px')")).await?;
    browser.end().await
}
