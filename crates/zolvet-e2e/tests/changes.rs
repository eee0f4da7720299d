//! What the page sends instead of a document: its changes, made by the front end's own code, make the core's project into
//! the one of the changed document.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use std::io::Write as _;
use std::path::Path;
use std::process::{Command, Stdio};

use proptest::strategy::{Strategy as _, ValueTree as _};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use serde_json::{Value, json};
use zolvet_core::model::Project;
use zolvet_samples::{any, library};

/// Reads pairs of documents, and writes the changes between each. In the second run what is alike in both is the same
/// object, as the page has it after an edit, and only what is not the same object is looked into.
const NODE: &str = "
const fs = require('node:fs');
const ts = require('typescript');
const source = fs.readFileSync('src/core/changes.ts', 'utf8');
const { outputText } = ts.transpileModule(source, { compilerOptions: { module: ts.ModuleKind.CommonJS } });
const made = { exports: {} };
new Function('exports', outputText)(made.exports);
const shared = (before, after) => {
  if (JSON.stringify(before) === JSON.stringify(after)) return before;
  if (Array.isArray(before) && Array.isArray(after)) {
    return after.map((value, at) => {
      const text = JSON.stringify(value);
      return before.find((other) => JSON.stringify(other) === text) ?? shared(before[at], value);
    });
  }
  const both = [before, after].every((value) => typeof value === 'object' && value !== null && !Array.isArray(value));
  if (!both) return after;
  return Object.fromEntries(Object.entries(after).map(([key, value]) => [key, shared(before[key], value)]));
};
const pairs = JSON.parse(fs.readFileSync(0, 'utf8'));
const all = pairs.map(([before, after]) => [after, shared(before, after)].map((to) => made.exports.changesBetween(before, to)));
process.stdout.write(JSON.stringify(all));
";

fn changes_between(pairs: &Value) -> Vec<Value> {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    let mut node = Command::new("node")
        .args(["-e", NODE])
        .current_dir(web)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    node.stdin.take().unwrap().write_all(pairs.to_string().as_bytes()).unwrap();
    let output = node.wait_with_output().unwrap();
    assert!(output.status.success());
    serde_json::from_slice(&output.stdout).unwrap()
}

/// Valid documents as the generators of the core's tests make them, each followed by itself with a piece taken away, one
/// moved and one added where it stays valid.
fn documents(count: usize) -> Vec<Value> {
    let config = Config { failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let (any, library) = (any::document(), library::document());
    let mut documents: Vec<Value> = Vec::new();
    for at in 0..count {
        let strategy = if at % 3 == 0 { &library } else { &any };
        let document = strategy.new_tree(&mut runner).unwrap().current();
        let edited = edited(document.clone());
        // As the page has them: in the newest form.
        let valid = [document, edited].into_iter().filter_map(|document| Project::from_value(&document).ok());
        documents.extend(valid.map(|project| serde_json::to_value(project).unwrap()));
    }
    documents
}

/// The name of documents that were edited.
const EDITED: &str = "A/name~with \"marks\"";

fn edited(mut document: Value) -> Value {
    document["name"] = json!(EDITED);
    let pieces = document["scenes"][0]["pieces"].as_array_mut().unwrap();
    if let Some(mut piece) = pieces.pop() {
        (piece["id"], piece["x"]) = (json!("another"), json!(-7.25));
        pieces.insert(0, piece);
    }
    document
}

#[test]
fn the_changes_between_two_documents_make_one_into_the_other() {
    let documents = documents(110);
    assert!(documents.len() > 80, "{} are valid", documents.len());
    let pairs: Vec<Value> = documents.windows(2).map(|pair| json!(pair)).collect();
    let (mut said, mut whole) = (0, 0);
    for (pair, both) in pairs.iter().zip(changes_between(&json!(pairs))) {
        let (before, after) =
            (Project::from_value(&pair[0]).unwrap(), Project::from_value(&pair[1]).unwrap());
        for changes in both.as_array().unwrap() {
            let patch: json_patch::Patch = serde_json::from_value(changes.clone()).unwrap();
            assert_eq!(before.edited(&patch.0), Ok(after.clone()), "{changes:#}");
        }
        if pair[1]["name"] == EDITED {
            said += both[1].to_string().len();
            whole += pair[1].to_string().len();
        }
    }
    assert!(said < whole, "edits took {said} bytes, whole documents {whole}");
}
