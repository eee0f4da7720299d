//! Copies of a database that is in use, and what is acknowledged while the process is killed again and again.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::path::Path;
use std::process::{Command, Output};
use std::sync::atomic::{AtomicI64, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use reqwest::Client;
use serde_json::{Value, json};
use zolvet_core::picture::Picture;
use zolvet_e2e::{App, Outcome, program};
use zolvet_store::{Page, Store};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

fn zolvet(arguments: &[&str], paths: &[&Path]) -> Outcome<Output> {
    Ok(Command::new(program()?).args(arguments).args(paths).output()?)
}

fn verified(database: &Path) -> Outcome<String> {
    let found = zolvet(&["verify", "--db"], &[database])?;
    let said = String::from_utf8_lossy(&[found.stdout, found.stderr].concat()).into_owned();
    assert!(found.status.success(), "{said}");
    Ok(said)
}

/// A copy of the file alone, made by no tool, opens: right after the service began, and once nothing was saved for a while.
#[tokio::test]
async fn a_bare_copy_opens() -> Outcome {
    let folder = tempfile::tempdir()?;
    for round in 0..12 {
        let app = App::start()?;
        let copy = folder.path().join(format!("{round}.db"));
        tokio::time::sleep(Duration::from_millis(round * 17)).await;
        std::fs::copy(app.database(), &copy)?;
        let store = Store::open(&copy).await?;
        store.projects(Page::FIRST).await?;
        store.close().await;
    }
    let app = App::start()?;
    let http = Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let address = format!("{}/api/projects/{}", app.address, list[0]["id"].as_str().unwrap());
    for revision in 1..=5 {
        let save = http.put(&address).header("If-Match", format!("\"{revision}\""));
        assert_eq!(save.json(&serde_json::from_str::<Value>(DEMO)?).send().await?.status(), 200);
    }
    let copy = folder.path().join("rested.db");
    let began = Instant::now();
    loop {
        tokio::time::sleep(Duration::from_secs(3)).await;
        std::fs::copy(app.database(), &copy)?;
        let said = verified(&copy)?;
        if said.starts_with("1 projects, 6 revisions") {
            return Ok(());
        }
        assert!(began.elapsed() < Duration::from_secs(30), "{said}");
    }
}

/// What was answered for.
#[derive(Default)]
struct Acknowledged {
    revision: AtomicI64,
    assets: Mutex<Vec<String>>,
    links: Mutex<Vec<String>>,
}

impl Acknowledged {
    fn count(&self) -> usize {
        let revisions = usize::try_from(self.revision.load(Ordering::Relaxed)).unwrap_or(0);
        revisions + self.assets.lock().unwrap().len() + self.links.lock().unwrap().len()
    }
}

/// Saves, uploads and makes links until the service is gone.
async fn work(address: String, project: String, known: Arc<Acknowledged>) {
    let (http, at) = (Client::new(), |path: &str| format!("{address}{path}"));
    let project = at(&format!("/api/projects/{project}"));
    let saving = async {
        let mut document: Value = serde_json::from_str(DEMO).unwrap();
        loop {
            let last = known.revision.load(Ordering::Relaxed);
            document["name"] = json!(format!("Saved {last}"));
            let save = http.put(&project).header("If-Match", format!("\"{last}\"")).json(&document);
            match save.send().await {
                Ok(answer) if answer.status() == 200 => known.revision.store(last + 1, Ordering::Relaxed),
                _ => return,
            }
        }
    };
    let uploading = async {
        for number in 0..u8::MAX {
            let first = known.assets.lock().unwrap().len() as u8;
            let picture = Picture { width: 40, height: 40, rgba: [first, number, 7, 255].repeat(1600) };
            let upload = http.post(at("/api/assets?name=x")).body(picture.to_png().unwrap());
            let Ok(answer) = upload.send().await else { return };
            let Ok(made) = answer.json::<Value>().await else { return };
            known.assets.lock().unwrap().push(made["asset"]["id"].as_str().unwrap().to_owned());
        }
    };
    let linking = async {
        loop {
            let link = http.post(format!("{project}/shares")).json(&json!({"scene": "kiosk"}));
            let Ok(answer) = link.send().await else { return };
            let Ok(made) = answer.json::<Value>().await else { return };
            known.links.lock().unwrap().push(made["token"].as_str().unwrap().to_owned());
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
    };
    tokio::join!(saving, uploading, linking);
}

/// Forty rounds: saves, uploads, links and backups, and the process is killed somewhere within. Nothing that was answered for is
/// lost, and every backup is whole.
#[tokio::test]
async fn forty_kills_lose_nothing_and_every_backup_is_whole() -> Outcome {
    let mut app = App::start()?;
    let folder = tempfile::tempdir()?;
    let list: Value = Client::new().get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let project = list[0]["id"].as_str().unwrap().to_owned();
    let known = Arc::new(Acknowledged { revision: AtomicI64::new(1), ..Acknowledged::default() });
    let mut backups = 0;
    for round in 0..40_u64 {
        let stored: Value =
            Client::new().get(format!("{}/api/projects/{project}", app.address)).send().await?.json().await?;
        let revision = stored["revision"].as_i64().unwrap();
        let acknowledged = known.revision.load(Ordering::Relaxed);
        assert!(revision >= acknowledged, "round {round}: revision {revision}, acknowledged {acknowledged}");
        known.revision.store(revision, Ordering::Relaxed);
        let start = Instant::now();
        let working = tokio::spawn(work(app.address.clone(), project.clone(), Arc::clone(&known)));
        let copy = folder.path().join(format!("{round}.db"));
        let mut backup =
            Command::new(program()?).args(["backup", "--db"]).arg(app.database()).arg(&copy).spawn()?;
        let begun = known.count();
        while known.count() < begun + 3 {
            assert!(start.elapsed() < Duration::from_secs(30), "round {round}: nothing is acknowledged");
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
        // Somewhere within what follows.
        tokio::time::sleep(Duration::from_millis(round * 13 % 60)).await;
        app.kill();
        if round % 3 == 0 {
            // The copy is killed too; then there is none.
            let _ = backup.kill();
        }
        let copied = tokio::task::spawn_blocking(move || backup.wait()).await??;
        working.await?;
        assert!(copy.exists() || !copied.success(), "what was said to be copied is there");
        if copy.exists() {
            backups += 1;
            verified(&copy)?;
        }
        app.kill_and_restart()?;
    }
    let said = verified(&app.database())?;
    println!("{backups} backups, {said}");
    let http = Client::new();
    let (assets, links) = (known.assets.lock().unwrap().clone(), known.links.lock().unwrap().clone());
    assert!(
        backups > 10 && assets.len() > 20 && links.len() > 20,
        "{backups} {} {}",
        assets.len(),
        links.len()
    );
    for path in assets
        .iter()
        .map(|id| format!("assets/{id}"))
        .chain(links.iter().map(|token| format!("shared/{token}")))
    {
        assert_eq!(http.get(format!("{}/api/{path}", app.address)).send().await?.status(), 200, "{path}");
    }
    Ok(())
}

/// What is damaged is told by its place, with the exit code of a finding.
#[tokio::test]
async fn what_is_damaged_is_told() -> Outcome {
    let app = App::start()?;
    let folder = tempfile::tempdir()?;
    let copy = folder.path().join("copy.db");
    assert!(zolvet(&["backup", "--db"], &[&app.database(), &copy])?.status.success());
    let own = zolvet(&["backup", "--db"], &[&app.database(), &app.database()])?;
    assert_eq!(own.status.code(), Some(2), "not over itself");
    let store = Store::open(&copy).await?;
    store.keep_asset("image/png", b"something").await?;
    store.close().await;
    drop(store);
    let whole = std::fs::read(&copy)?;
    let at = whole.windows(9).position(|window| window == b"something").ok_or("it is not there")?;
    let mut changed = whole.clone();
    changed[at] ^= 1;
    std::fs::write(&copy, &changed)?;
    let found = zolvet(&["verify", "--db"], &[&copy])?;
    let said = String::from_utf8_lossy(&found.stdout).into_owned();
    assert!(found.status.code() == Some(1) && said.contains("is not what it was"), "{said}");
    let none = zolvet(&["verify", "--db"], &[&folder.path().join("none.db")])?;
    assert_eq!(none.status.code(), Some(2));
    assert!(!folder.path().join("none.db").exists(), "looking makes no database");
    Ok(())
}
