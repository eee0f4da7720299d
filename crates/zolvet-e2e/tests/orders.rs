//! What the front end decides by itself, run without a browser: sessions of one project, the browser's keeper and the service in
//! random orders of events (`web/tests/orders.ts`), and single rules (the other files in `web/tests`).

#![allow(clippy::unwrap_used, missing_docs)]

use std::path::{Path, PathBuf};
use std::process::Command;

/// Compiles the model with the front end's own compiler and lets it run.
#[test]
fn whatever_the_order_every_piece_of_work_is_saved_or_kept() {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    let folder = tempfile::tempdir().unwrap();
    let compiled = Command::new("node")
        .arg(web.join("node_modules/typescript/bin/tsc"))
        .args(["-p", "tests/tsconfig.json", "--outDir"])
        .arg(folder.path())
        .current_dir(&web)
        .output()
        .unwrap();
    assert!(compiled.status.success(), "{}", String::from_utf8_lossy(&compiled.stdout));
    // By hand: another first seed and as many walks as one has time for.
    let seed = std::env::var("ZOLVET_SEED").unwrap_or_else(|_| "1".to_owned());
    let walks = std::env::var("ZOLVET_WALKS").unwrap_or_else(|_| "4000".to_owned());
    let walked = Command::new("node")
        .arg(folder.path().join("tests/orders.js"))
        .args([&seed, &walks])
        .output()
        .unwrap();
    assert!(walked.status.success(), "{}", String::from_utf8_lossy(&walked.stderr));
    assert_eq!(String::from_utf8_lossy(&walked.stdout).trim(), format!("{walks} walks"));
}

#[test]
fn rules_of_the_front_end() {
    tried("logic");
}

#[test]
fn rules_of_a_session() {
    tried("session");
}

#[test]
fn rules_of_what_the_core_holds() {
    tried("held");
}

#[test]
fn rules_of_questions_and_answers() {
    tried("answers");
}

#[test]
fn rules_of_pieces_and_coats() {
    tried("pieces");
}

#[test]
fn rules_of_the_stage() {
    tried("stage");
}

/// Bundles a file of `web/tests` with the front end's own bundler.
fn bundled(name: &str, folder: &Path) -> PathBuf {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    let bundle = folder.join("tests.mjs");
    let bundled = Command::new("node")
        .arg(web.join("node_modules/rolldown/bin/cli.mjs"))
        .args([&format!("tests/{name}.ts"), "--platform", "node", "-o"])
        .arg(&bundle)
        .current_dir(&web)
        .output()
        .unwrap();
    assert!(bundled.status.success(), "{}", String::from_utf8_lossy(&bundled.stderr));
    bundle
}

/// Lets Node's own runner try the tests of a file.
fn tried(name: &str) {
    let folder = tempfile::tempdir().unwrap();
    let bundle = bundled(name, folder.path());
    let tried = Command::new("node").args(["--test", "--test-reporter=tap"]).arg(&bundle).output().unwrap();
    let said = String::from_utf8_lossy(&tried.stdout);
    assert!(tried.status.success(), "{said}{}", String::from_utf8_lossy(&tried.stderr));
    assert!(said.contains("# skipped 0") && said.contains("# todo 0"), "{said}");
}
