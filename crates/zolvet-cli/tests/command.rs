//! The program as a person or a script runs it.

#![allow(clippy::unwrap_used, missing_docs)]

use std::fs;
use std::io::Write as _;
use std::os::unix::fs::{PermissionsExt as _, symlink};
use std::path::PathBuf;
use std::process::{Command, Output, Stdio};

use serde_json::Value;
use tempfile::TempDir;

const EMPTY: &str = r#"{"schema": 2, "name": "Empty", "themes": [{"id": "day", "name": "Day", "scheme": "light"}], "scenes": [], "scale": []}"#;

struct Folder(TempDir);

impl Folder {
    fn new() -> Self {
        Self(TempDir::new().unwrap())
    }

    fn file(&self, name: &str, text: &str) -> PathBuf {
        let path = self.0.path().join(name);
        fs::write(&path, text).unwrap();
        path
    }

    fn run(&self, arguments: &[&str]) -> Output {
        let mut command = Command::new(env!("CARGO_BIN_EXE_zolvet"));
        command.current_dir(self.0.path()).args(arguments).output().unwrap()
    }

    fn finishes(&self, name: &str) -> usize {
        let text = fs::read_to_string(self.0.path().join(name)).unwrap();
        serde_json::from_str::<Value>(&text).unwrap()["finishes"].as_array().map_or(0, Vec::len)
    }
}

fn said(output: &Output) -> (i32, String) {
    (output.status.code().unwrap(), String::from_utf8_lossy(&output.stderr).into_owned())
}

#[test]
fn import_reads_several_files_by_their_endings() {
    let folder = Folder::new();
    folder.file("p.json", EMPTY);
    folder.file("a.css", ":root { --s: 0 1px 2px var(--ink) }");
    folder.file("b.css", ".card { box-shadow: var(--s) } .hint { box-shadow: 0 0 1lh red }");
    let dry = [
        "import",
        "a.css",
        "b.css",
        "--into",
        "p.json",
        "--set",
        "--ink=#123",
        "--dry-run",
        "--report",
        "json",
    ];
    let output = folder.run(&dry);
    let report: Value = serde_json::from_slice(&output.stdout).unwrap();
    assert_eq!((output.status.code(), &report["written"]), (Some(0), &Value::Bool(false)));
    assert_eq!(report["finishes"][0]["name"], "s");
    assert_eq!(report["diagnostics"][0]["place"], "b.css:1:40");
    assert_eq!(folder.finishes("p.json"), 0);
    // Strict: something was dropped, so that nothing is written.
    let strict = folder.run(&["import", "a.css", "b.css", "--into", "p.json", "--strict"]);
    assert_eq!((strict.status.code(), folder.finishes("p.json")), (Some(1), 0));
    let quiet =
        folder.run(&["import", "a.css", "b.css", "--into", "p.json", "--set", "--ink=#123", "--quiet"]);
    assert_eq!((quiet.status.code(), quiet.stdout.len(), folder.finishes("p.json")), (Some(0), 0, 1));
    // Once more brings nothing new.
    folder.run(&["import", "a.css", "b.css", "--into", "p.json", "--set", "--ink=#123"]);
    assert_eq!(folder.finishes("p.json"), 1);
    let (code, why) = said(&folder.run(&["import", "a.css", "p.json", "--into", "p.json"]));
    assert!(code == 2 && why.contains("files of one kind"), "{why}");
}

/// A project that is written can be opened again: what would be too large is not.
#[test]
fn what_is_written_can_be_opened() {
    let folder = Folder::new();
    folder.file("p.json", EMPTY);
    let list =
        (0..60).map(|i| format!("{i}px 1px 2px 3px rgb(1 2 3 / 0.{i})")).collect::<Vec<_>>().join(", ");
    let sheet: String = (0..700).map(|i| format!(".c{i} {{ box-shadow: {list}, {i}px 0 red }}\n")).collect();
    folder.file("large.css", &sheet);
    let (code, why) = said(&folder.run(&["import", "large.css", "--into", "p.json", "--every-name"]));
    assert!(code == 2 && why.contains("at most 8 MB"), "{why}");
    assert_eq!(fs::read_to_string(folder.0.path().join("p.json")).unwrap(), EMPTY);
}

#[test]
fn links_permissions_and_devices_are_respected() {
    let folder = Folder::new();
    let project = folder.file("p.json", EMPTY);
    fs::set_permissions(&project, fs::Permissions::from_mode(0o640)).unwrap();
    symlink("p.json", folder.0.path().join("link.json")).unwrap();
    folder.file("a.css", ".card { box-shadow: 0 1px red }");
    folder.run(&["import", "a.css", "--into", "link.json"]);
    assert!(folder.0.path().join("link.json").is_symlink());
    assert_eq!(folder.finishes("p.json"), 1);
    assert_eq!(fs::metadata(&project).unwrap().permissions().mode() & 0o777, 0o640);
    let there = folder.run(&["export", "p.json", "--out", "/dev/null"]);
    let (code, why) = said(&there);
    assert!(code == 2 && why.contains("--format is needed"), "{why}");
    assert_eq!(
        folder.run(&["export", "p.json", "--format", "css", "--out", "/dev/null"]).status.code(),
        Some(0)
    );
    let out = folder.run(&["export", "p.json", "--out", "-"]);
    assert!(String::from_utf8_lossy(&out.stdout).contains("-card {"));
    let (code, why) = said(&folder.run(&["export", "p.json", "--out", "nowhere/x.css"]));
    assert!(code == 2 && why.contains("nowhere/x.css: ") && !why.contains(".tmp"), "{why}");
}

/// A reader that stops listening ends nothing half-way, and nothing is complained about.
#[test]
fn a_closed_pipe_ends_quietly() {
    let folder = Folder::new();
    folder.file("p.json", EMPTY);
    let sheet: String = (0..4000).map(|i| format!(".c{i} {{ box-shadow: {i}px 0 red }}\n")).collect();
    folder.file("a.css", &sheet);
    let mut child = Command::new(env!("CARGO_BIN_EXE_zolvet"))
        .current_dir(folder.0.path())
        .args(["import", "a.css", "--into", "p.json"])
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    drop(child.stdout.take());
    let output = child.wait_with_output().unwrap();
    assert_eq!(said(&output), (0, String::new()));
    assert_eq!(folder.finishes("p.json"), 4000);
}

#[test]
fn packed_drawings_and_standard_input_are_read() {
    let folder = Folder::new();
    folder.file("p.json", EMPTY);
    let svg = r#"<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd"><svg xmlns="http://www.w3.org/2000/svg"><filter id="raised"><feDropShadow dx="0" dy="2" stdDeviation="3"/></filter></svg>"#;
    let mut packed = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
    packed.write_all(svg.as_bytes()).unwrap();
    fs::write(folder.0.path().join("a.svgz"), packed.finish().unwrap()).unwrap();
    let output = folder.run(&["import", "a.svgz", "--into", "p.json"]);
    assert_eq!((said(&output), folder.finishes("p.json")), ((0, String::new()), 1));
}

#[test]
fn what_cannot_be_meant_is_refused() {
    let folder = Folder::new();
    folder.file("p.json", EMPTY);
    let many = format!("box-shadow: {}", vec!["0 1px red"; 65].join(", "));
    for (arguments, expected) in [
        (vec!["render", "--css", "box-shadow:", "--out", "a.png"], "found nothing"),
        (
            vec!["render", "--css", "box-shadow: 0 1px red; colour: red", "--out", "a.png"],
            "1:24: expected box-shadow",
        ),
        (vec!["render", "--css", &many, "--out", "a.png"], "at most 64 shadows"),
        (vec!["render", "--css", "box-shadow: 0 1px red", "--out", "a.jpg"], "expected a .png"),
        (
            vec!["export", "p.json", "--format", "tokens", "--whole-pieces"],
            "--whole-pieces changes nothing of tokens",
        ),
        (vec!["export", "p.json", "--format", "css", "--scene", "x"], "--scene changes nothing of css"),
        (
            vec!["import", "p.json", "--format", "json", "--into", "p.json", "--set", "--a=1"],
            "are for style sheets",
        ),
    ] {
        let (code, why) = said(&folder.run(&arguments));
        assert!(code == 2 && why.contains(expected), "{arguments:?}: {code} {why}");
    }
    // What is approximated is said; the last of a property counts.
    let output = folder.run(&["render", "--css", "filter: hue-rotate(9deg) blur(2px)", "--out", "a.png"]);
    assert!(
        said(&output) == (0, "zolvet: --css 1:1: hue-rotate() is not depth: left out\n".to_owned()),
        "{output:?}"
    );
}

#[test]
fn help_has_examples_and_shells_can_complete() {
    let folder = Folder::new();
    for command in ["serve", "render", "export", "import", "audit", "completions", "man"] {
        let text = folder.run(&[command, "--help"]).stdout;
        assert!(String::from_utf8_lossy(&text).contains("Example"), "{command}");
    }
    for shell in ["bash", "zsh", "fish"] {
        assert!(String::from_utf8_lossy(&folder.run(&["completions", shell]).stdout).contains("zolvet"));
    }
    assert!(String::from_utf8_lossy(&folder.run(&["man"]).stdout).contains(".TH zolvet"));
}
