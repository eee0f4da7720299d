//! `cargo xtask same BEFORE [DOCUMENT]`: whether another build of the program answers as this one does, byte for byte.
//!
//! Pictures, exports, reports and audits of the demo, of every starter on each of its pieces, and of random documents are
//! asked of both. For changes that must change nothing: keep the program of before the change, and name its path. A document
//! named after it takes the demo's place, such as the demo of that time, where the program of before cannot read today's.

use std::path::{Path, PathBuf};
use std::process::{Child, Command};

use proptest::strategy::{Strategy as _, ValueTree as _};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use reqwest::Client;
use serde_json::{Value, json};
use zolvet_e2e::{Outcome, program, started};

const DEMO: &str = include_str!("../../../../demo/quillmere.zolvet.json");
/// Random documents that are asked about; `ZOLVET_CASES` says otherwise.
const DOCUMENTS: usize = 200;
/// Pieces of a scene that are reported on.
const PIECES: usize = 2;

#[tokio::main]
async fn main() -> Outcome {
    let before = std::env::args().nth(1).ok_or("the path of the program of before is missing")?;
    let folder = tempfile::tempdir()?;
    let [before, after] = [
        Side::start(PathBuf::from(before), folder.path(), "before")?,
        Side::start(program()?, folder.path(), "after")?,
    ];
    let demo = match std::env::args().nth(2) {
        Some(path) => std::fs::read_to_string(path)?,
        None => DEMO.to_owned(),
    };
    let demo: Value = serde_json::from_str(&demo)?;
    let mut count = Count::default();
    count.document("the demo", &demo, &before, &after).await?;
    for (name, document) in with_starters(&demo, &after).await? {
        count.document(&name, &document, &before, &after).await?;
    }
    let cases = std::env::var("ZOLVET_CASES").ok().and_then(|cases| cases.parse().ok());
    for (number, document) in random_documents(cases.unwrap_or(DOCUMENTS))?.into_iter().enumerate() {
        count.document(&format!("document {number}"), &document, &before, &after).await?;
    }
    println!("{} documents, {} answers, {} differ", count.documents, count.answers, count.different);
    if count.different > 0 { Err("not the same".into()) } else { Ok(()) }
}

/// A program, and the service it runs.
struct Side {
    program: PathBuf,
    service: Child,
    address: String,
    http: Client,
    file: PathBuf,
}

impl Side {
    fn start(program: PathBuf, folder: &Path, name: &str) -> Outcome<Self> {
        let mut command = Command::new(&program);
        command.args(["serve", "--listen", "127.0.0.1:0", "--db"]).arg(folder.join(format!("{name}.db")));
        let (service, address, _) = started(command)?;
        Ok(Self { program, service, address, http: Client::new(), file: folder.join(format!("{name}.json")) })
    }

    /// The answers of the command line.
    fn run(&self, arguments: &[&str]) -> Outcome<Vec<u8>> {
        let output = Command::new(&self.program).args(arguments).current_dir(self.folder()?).output()?;
        let code = format!("{:?}", output.status.code());
        Ok([output.stdout, output.stderr, code.into_bytes()].concat())
    }

    /// The picture that the command line draws.
    fn picture(&self, arguments: &[&str]) -> Outcome<Vec<u8>> {
        let file = self.file.with_extension("png");
        let name = file.to_str().ok_or("a folder whose name is no text")?;
        let said = self.run(&[&["render", self.name()?, "--out", name], arguments].concat())?;
        let drawn = std::fs::read(&file).unwrap_or_default();
        // What is not there is not drawn the same next time.
        let _ = std::fs::remove_file(&file);
        Ok([drawn, said].concat().into_iter().collect())
    }

    /// The answers of the service.
    async fn ask(&self, path: &str, body: &Value) -> Outcome<Vec<u8>> {
        let answer = self.http.post(format!("{}/api/{path}", self.address)).json(body).send().await?;
        let status = answer.status().to_string().into_bytes();
        Ok([status, answer.bytes().await?.to_vec()].concat())
    }

    fn name(&self) -> Outcome<&str> {
        Ok(self.file.to_str().ok_or("a folder whose name is no text")?)
    }

    fn folder(&self) -> Outcome<&Path> {
        Ok(self.file.parent().ok_or("no folder")?)
    }
}

impl Drop for Side {
    fn drop(&mut self) {
        // What has stopped already stays stopped.
        let _ = self.service.kill();
        let _ = self.service.wait();
    }
}

#[derive(Default)]
struct Count {
    documents: usize,
    answers: usize,
    different: usize,
}

impl Count {
    async fn document(&mut self, name: &str, document: &Value, before: &Side, after: &Side) -> Outcome {
        self.documents += 1;
        let answers = [answers(document, before).await?, answers(document, after).await?];
        for ((what, before), (_, after)) in answers[0].iter().zip(&answers[1]) {
            self.answers += 1;
            if before != after {
                self.different += 1;
                println!("{name}: {what}: {} and {} bytes differ", before.len(), after.len());
            }
        }
        Ok(())
    }
}

/// Everything that is asked about a document.
async fn answers(document: &Value, side: &Side) -> Outcome<Vec<(String, Vec<u8>)>> {
    std::fs::write(&side.file, document.to_string())?;
    let file = side.name()?;
    let scenes = document["scenes"].as_array().cloned().unwrap_or_default();
    let mut answers = Vec::new();
    for scene in &scenes {
        let name = scene["name"].as_str().unwrap_or_default();
        for flags in [&["--scale", "1"][..], &["--scale", "2"], &["--as-browser"], &["--part", "shadow"]] {
            let arguments = [&["--scene", name], flags].concat();
            answers.push((format!("{name} {flags:?}"), side.picture(&arguments)?));
        }
        for piece in scene["pieces"].as_array().into_iter().flatten().take(PIECES) {
            let asked = json!({"project": document, "scene": scene["id"], "piece": piece["id"]});
            for path in ["resolve", "faithful", "starters"] {
                answers.push((format!("{path} {name} {}", piece["id"]), side.ask(path, &asked).await?));
            }
        }
        let svg = ["export", file, "--format", "svg", "--scene", name];
        answers.push((format!("svg {name}"), side.run(&svg)?));
    }
    for format in ["css", "scss", "tokens", "json", "zip"] {
        answers.push((format.to_owned(), side.run(&["export", file, "--format", format])?));
    }
    answers.push(("whole numbers".to_owned(), side.run(&["export", file, "--numbers", "whole"])?));
    answers.push(("audit".to_owned(), side.run(&["audit", file, "--format", "json"])?));
    Ok(answers.into_iter().map(|(what, answer)| (what, without_side(answer, side))).collect())
}

/// An answer without the name of the file that it was asked about.
fn without_side(answer: Vec<u8>, side: &Side) -> Vec<u8> {
    match (String::from_utf8(answer), side.name()) {
        (Ok(text), Ok(name)) => text.replace(name, "FILE").into_bytes(),
        (Err(bytes), _) => bytes.into_bytes(),
        (Ok(text), Err(_)) => text.into_bytes(),
    }
}

/// The demo's first scene, its first piece in each of the stacks that could be begun with.
async fn with_starters(demo: &Value, side: &Side) -> Outcome<Vec<(String, Value)>> {
    let mut documents = Vec::new();
    for at in 0..demo["scenes"].as_array().map_or(0, Vec::len) {
        let scene = &demo["scenes"][at];
        let asked = json!({"project": demo, "scene": scene["id"], "piece": scene["pieces"][0]["id"]});
        let answer = side.http.post(format!("{}/api/starters", side.address)).json(&asked).send().await?;
        let starters: Value = answer.error_for_status()?.json().await?;
        for starter in starters.as_array().ok_or("no list of starters")? {
            let mut document = demo.clone();
            document["scenes"] = json!([scene]);
            document["scenes"][0]["pieces"][0]["wear"] = json!({"coats": starter["coats"]});
            documents.push((format!("{} on {}", starter["name"], scene["name"]), document));
        }
    }
    Ok(documents)
}

/// Documents that look like chance, the same every time.
fn random_documents(count: usize) -> Outcome<Vec<Value>> {
    let config = Config { failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let strategy = zolvet_samples::any::document();
    (0..count)
        .map(|_| {
            let tree = strategy.new_tree(&mut runner).map_err(|reason| reason.to_string())?;
            Ok(tree.current())
        })
        .collect()
}
