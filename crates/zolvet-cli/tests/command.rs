//! The program as a person or a script runs it.

#![allow(clippy::unwrap_used, missing_docs)]

use std::fs;
use std::io::{Read as _, Write as _};
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
    let script = format!("umask 037; '{}' import a.css --into fresh.json", env!("CARGO_BIN_EXE_zolvet"));
    let made = Command::new("sh").args(["-c", &script]).current_dir(folder.0.path()).status().unwrap();
    assert!(made.success());
    let fresh = fs::metadata(folder.0.path().join("fresh.json")).unwrap();
    assert_eq!(fresh.permissions().mode() & 0o777, 0o640, "what the shell leaves of 0666");
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

#[test]
fn a_project_begins_with_new_or_with_an_import() {
    let folder = Folder::new();
    let made = folder.run(&["new", "field-kiosk.zolvet.json"]);
    assert_eq!(said(&made), (0, String::new()));
    let text = fs::read_to_string(folder.0.path().join("field-kiosk.zolvet.json")).unwrap();
    let document: Value = serde_json::from_str(&text).unwrap();
    assert_eq!((&document["name"], &document["schema"]), (&Value::from("Field kiosk"), &Value::from(3)));
    let (code, why) = said(&folder.run(&["new", "field-kiosk.zolvet.json"]));
    assert!(code == 2 && why.contains("it is there already"), "{why}");
    assert_eq!(said(&folder.run(&["new", "demo.zolvet.json", "--demo"])).0, 0);
    assert!(folder.finishes("demo.zolvet.json") > 0);
    folder.file("site.css", ".card { box-shadow: 0 1px 2px red }");
    let read = folder.run(&["import", "site.css", "--into", "project.zolvet.json"]);
    assert_eq!((said(&read).0, folder.finishes("project.zolvet.json")), (0, 1), "{read:?}");
    assert_eq!(said(&folder.run(&["export", "project.zolvet.json", "--out", "depth.css"])).0, 0);
}

/// Errors of the system are said in words, with the path and without numbers.
#[test]
fn files_that_are_not_there_are_said_in_words() {
    let folder = Folder::new();
    folder.file("a.css", ".a { box-shadow: 0 1px red }");
    for (arguments, expected) in [
        (vec!["export", "none.json"], "none.json: there is no such file or folder"),
        (vec!["import", "none.css", "--dry-run"], "none.css: there is no such file or folder"),
        (vec!["export", "."], ".: it is a folder, expected a file"),
        (
            vec!["import", "a.css", "--into", "a.css/b.zolvet.json"],
            "a.css/b.zolvet.json: a part of the path is a file",
        ),
        (vec!["verify", "--db", "none.db"], "none.db: "),
        (vec!["serve", "--db", "none/at/all.db"], "none/at/all.db: there is no such file or folder"),
    ] {
        let (code, why) = said(&folder.run(&arguments));
        assert!(
            code == 2 && why.contains(expected) && !why.contains("os error"),
            "{arguments:?}: {code} {why}"
        );
    }
}

/// Whoever writes a picture to a terminal by mistake is told so; a file or pipe takes it.
#[test]
fn pictures_go_to_files_and_pipes() {
    let folder = Folder::new();
    let draw = ["render", "--css", "box-shadow: 0 1px red", "--out", "-"];
    assert!(folder.run(&draw).stdout.starts_with(b"\x89PNG"));
    let zolvet = env!("CARGO_BIN_EXE_zolvet");
    let typed = format!("{zolvet} render --css 'box-shadow: 0 1px red' --out -");
    let seen = Command::new("script")
        .args(["-qec", &typed, "/dev/null"])
        .current_dir(folder.0.path())
        .output()
        .unwrap();
    let seen = String::from_utf8_lossy(&seen.stdout);
    assert!(seen.contains("expected a file or another program") && !seen.contains("PNG\r"), "{seen}");
}

/// The log of a service is plain text where it goes to a file.
#[test]
fn logs_have_no_colour_codes() {
    let folder = Folder::new();
    let mut serve = Command::new(env!("CARGO_BIN_EXE_zolvet"));
    serve.current_dir(folder.0.path()).args(["serve", "--listen", "127.0.0.1:0"]).env("RUST_LOG", "debug");
    let mut child = serve.stdout(Stdio::piped()).stderr(Stdio::piped()).spawn().unwrap();
    let mut ready = String::new();
    std::io::BufRead::read_line(&mut std::io::BufReader::new(child.stdout.take().unwrap()), &mut ready)
        .unwrap();
    child.kill().unwrap();
    let log = child.wait_with_output().unwrap().stderr;
    assert!(ready.contains("ready") && !log.is_empty(), "{ready}");
    assert!(!log.contains(&0x1b), "{}", String::from_utf8_lossy(&log));
}

/// Fewer shadows for what is no box are written as values: a file that holds nothing else has no filter to lead to.
#[test]
fn fewer_shadows_of_a_join_are_values() {
    let folder = Folder::new();
    let white = serde_json::json!({"kind": "solid", "colour": "#fff"});
    let part = |x: u32| {
        serde_json::json!({"id": format!("part-{x}"), "name": "Part", "x": x, "y": 0, "fill": white, "wear": {"coats": []},
        "shape": {"kind": "box", "w": 60, "h": 40, "radii": 8}})
    };
    let coat = |at: usize, y: f64| {
        serde_json::json!({"kind": "drop", "id": format!("c{at}"), "name": format!("Drop {at}"), "on": true,
        "offset": {"x": 0, "y": y}, "blur": y * 2.0, "spread": 0, "colour": "#00000033"})
    };
    let document = serde_json::json!({"schema": 3, "name": "Join", "prefix": "j", "scale": [],
        "themes": [{"id": "light", "name": "Light", "scheme": "light"}],
        "finishes": [{"id": "f", "name": "Lifted", "coats": [coat(1, 2.0), coat(2, 4.0), coat(3, 8.0)]}],
        "scenes": [{"id": "s", "name": "S", "width": 240, "height": 180, "theme": "light", "ground": {"kind": "solid", "colour": "#eee"},
            "pieces": [{"id": "p", "name": "P", "x": 60, "y": 60, "fill": white,
                "shape": {"kind": "join", "op": "add", "rounding": 0, "parts": [part(0), part(40)]}, "wear": {"finish": "f"}}]}]});
    folder.file("p.zolvet.json", &document.to_string());
    let found = folder.run(&["solve", "reduce", "p.zolvet.json", "--finish", "Lifted", "--coats", "2"]);
    let css = String::from_utf8_lossy(&found.stdout).into_owned();
    assert!(said(&found).0 == 0 && css.contains("drop-shadow(") && !css.contains("url("), "{found:?}");
}

/// Shadows for a height, and the height that they say.
#[test]
fn a_height_is_raised_and_asked_back() {
    let folder = Folder::new();
    let raised = folder.run(&["solve", "raise", "--height", "12", "--format", "json"]);
    let found: Value = serde_json::from_slice(&raised.stdout).unwrap();
    assert_eq!(found["coats"].as_array().unwrap().len(), 1);
    assert_eq!(found.pointer("/coats/0/shadows").and_then(Value::as_array).map(Vec::len), Some(3));
    assert_eq!(found["by_count"].as_array().unwrap().len(), 3);
    let css = found["css"].as_str().unwrap();
    let said_back = folder.run(&["solve", "raise", "--css", css, "--format", "json"]);
    let height = serde_json::from_slice::<Value>(&said_back.stdout).unwrap()["height"].as_f64().unwrap();
    assert!((height / 12.0 - 1.0).abs() < 0.05, "{height}");
    for (arguments, expected) in [
        (&["--height", "0"][..], "--height: expected a height from 0.5 to 200 px"),
        (&["--height", "9", "--light", "elevation=5"], "--light: expected 15 to 90, found \"elevation=5\""),
        (&["--height", "9", "--light", "warmth=5"], "expected bearing, elevation, size or ambient"),
        (&["--css", "filter: blur(2px)"], "expected drop shadows"),
    ] {
        let (code, text) = said(&folder.run(&[&["solve", "raise"], arguments].concat()));
        assert!(code == 2 && text.contains(expected), "{arguments:?}: {code}, {text}");
    }
}

/// A picture of a specimen, and its shadow back from it.
#[test]
fn a_stack_is_found_on_a_picture() {
    let folder = Folder::new();
    let css = "box-shadow: 0 6px 18px rgb(0 0 0 / 0.3)";
    let (code, text) = said(&folder.run(&["render", "--css", css, "--out", "card.png"]));
    assert_eq!(code, 0, "{text}");
    let output = folder.run(&["solve", "match", "card.png", "--format", "json"]);
    let found: Value = serde_json::from_slice(&output.stdout).unwrap();
    let coat = &found["coats"][0];
    let number = |value: &Value| value.as_f64().unwrap_or(f64::NAN);
    assert_eq!(found["coats"].as_array().map(Vec::len), Some(1), "{found}");
    assert!((number(&coat["offset"]["y"]) - 6.0).abs() <= 0.5, "{coat}");
    assert!((number(&coat["blur"]) - 18.0).abs() <= 2.0, "{coat}");
    assert!(found["css"].as_str().unwrap().starts_with("box-shadow:"), "{found}");
    fs::write(folder.0.path().join("none.png"), b"none").unwrap();
    for (arguments, expected) in [
        (&["none.png"][..], "none.png"),
        (&["card.png", "--at", "1,2"], "--at: expected X,Y,WxH"),
        (&["card.png", "--coats", "9"], "9 is not in 1..=6"),
    ] {
        let (code, text) = said(&folder.run(&[&["solve", "match"], arguments].concat()));
        assert!(code == 2 && text.contains(expected), "{arguments:?}: {code}, {text}");
    }
}

#[test]
fn everything_goes_by_the_name_of_the_program() {
    let folder = Folder::new();
    let manual = String::from_utf8_lossy(&folder.run(&["man"]).stdout).into_owned();
    for expected in [".TH zolvet ", ".TH zolvet-import ", ".TH zolvet-solve-reduce "] {
        assert!(manual.contains(expected), "{expected}");
    }
    for arguments in [&["--version"][..], &["--help"], &["import", "--help"], &["man"]] {
        let text = String::from_utf8_lossy(&folder.run(arguments).stdout).into_owned();
        assert!(text.contains("zolvet") && !text.contains("zolvet-cli"), "{arguments:?}: {text}");
    }
}

/// What takes longer than a second says so in one line on a terminal, which is gone before anything else is written.
#[test]
fn a_long_task_is_said_on_a_terminal() {
    let folder = Folder::new();
    folder.file("p.json", EMPTY);
    let pipe = folder.0.path().join("late.css");
    assert!(Command::new("mkfifo").arg(&pipe).status().unwrap().success());
    let program = env!("CARGO_BIN_EXE_zolvet");
    let mut terminal = Command::new("script")
        .args(["--quiet", "--return", "--command"])
        .arg(format!("'{program}' import late.css --into p.json"))
        .arg("/dev/null")
        .current_dir(folder.0.path())
        .stdin(Stdio::null())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut shown = terminal.stdout.take().unwrap();
    let mut text = Vec::new();
    let has = |text: &[u8], part: &str| String::from_utf8_lossy(text).contains(part);
    while !has(&text, "\rreading: 1 s") {
        let mut some = [0; 64];
        let count = shown.read(&mut some).unwrap();
        assert!(count > 0, "ended without a line: {}", String::from_utf8_lossy(&text));
        text.extend(&some[..count]);
    }
    fs::write(&pipe, ".card { box-shadow: 0 1px red }").unwrap();
    shown.read_to_end(&mut text).unwrap();
    assert!(terminal.wait().unwrap().success());
    let text = String::from_utf8(text).unwrap();
    let (line, rest) = text.split_once("\r\u{1b}[K").unwrap();
    assert!(line.starts_with("\rreading: 1 s") && !line.contains('\n'), "{text:?}");
    assert!(rest.contains("card: drop") && !rest.contains("reading:"), "{text:?}");
    assert_eq!(folder.finishes("p.json"), 1);
}

/// One finish on a set of files: names are kept, those of one size have the same room, and a file that is none stops no other.
#[test]
fn a_finish_is_laid_on_many_files() {
    let folder = Folder::new();
    let finish = r##"{"id": "up", "name": "Lifted", "coats": [{"id": "d", "name": "Drop", "on": true, "kind": "drop",
        "offset": {"x": 0, "y": 6}, "blur": 8, "spread": 0, "colour": "#00000080"}]}"##;
    folder.file("p.json", &EMPTY.replace("\"scenes\"", &format!("\"finishes\": [{finish}], \"scenes\"")));
    let icon =
        |body: &str| format!("<svg xmlns='http://www.w3.org/2000/svg' width='24' height='24'>{body}</svg>");
    folder.file("full.svg", &icon("<path d='M0 0h24v24H0z'/>"));
    folder.file("small.svg", &icon("<circle cx='12' cy='12' r='3'/>"));
    folder.file("none.svg", "<svg");
    // Of another size: it needs no room, and is given none.
    let dot =
        "<svg xmlns='http://www.w3.org/2000/svg' width='90' height='90'><path d='M44 44h2v2h-2z'/></svg>";
    folder.file("dot.svg", dot);
    let apply = |more: &[&str]| {
        let all = "apply --from p.json --finish Lifted full.svg none.svg small.svg dot.svg --out-dir out";
        folder.run(&all.split(' ').chain(more.iter().copied()).collect::<Vec<_>>())
    };
    let output = apply(&[]);
    let (code, why) = said(&output);
    assert!(code == 1 && why.contains("none.svg: 1:"), "{code} {why}");
    assert!(String::from_utf8_lossy(&output.stdout).starts_with("3 files written\n"));
    let read = |name: &str| fs::read_to_string(folder.0.path().join("out").join(name)).unwrap();
    // Blur 8 is a σ of 4, which reaches 12 px to the sides and 18 px down.
    for name in ["full.svg", "small.svg"] {
        assert!(
            read(name).contains("viewBox=\"-12 -6 48 48\"") && read(name).contains("width='48'"),
            "{}",
            read(name)
        );
    }
    assert!(
        read("dot.svg").contains("width='90'") && !read("dot.svg").contains("viewBox"),
        "{}",
        read("dot.svg")
    );
    assert_eq!(apply(&["--format", "png", "--scale", "2"]).status.code(), Some(1));
    let png = fs::read(folder.0.path().join("out/small.png")).unwrap();
    assert_eq!(&png[16..24], &[0, 0, 0, 96, 0, 0, 0, 96], "width and height of the picture");
    let (code, why) = said(&folder.run(&[
        "apply",
        "--from",
        "p.json",
        "--finish",
        "Up there",
        "full.svg",
        "--out-dir",
        "out",
    ]));
    assert!(code == 2 && why.contains("no finish \"Up there\""), "{why}");
}

/// An SVG file becomes a scene of its size, on white, with the drawing at its top left.
#[test]
fn a_drawing_comes_in_as_a_scene() {
    let folder = Folder::new();
    folder.file(
        "Mock up.svg",
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 90 60'><rect width='90' height='60' fill='#2f7d6d'/><circle cx='20' cy='20' r='9' fill='#f0c04a'/></svg>",
    );
    let output = folder.run(&["import", "Mock up.svg", "--into", "new.json", "--strict"]);
    assert_eq!(said(&output), (0, String::new()));
    assert!(
        String::from_utf8_lossy(&output.stdout)
            .contains("drawing Mock up: elements that can be taken out: 2")
    );
    let text = fs::read_to_string(folder.0.path().join("new.json")).unwrap();
    let document: Value = serde_json::from_str(&text).unwrap();
    let scene = &document["scenes"][0];
    assert_eq!(
        (&scene["name"], &scene["width"], &scene["height"]),
        (&"Mock up".into(), &90.0.into(), &60.0.into())
    );
    assert_eq!(
        (&scene["pieces"][0]["x"], &scene["pieces"][0]["shape"]["kind"]),
        (&0.into(), &"drawing".into())
    );
    let drawn = folder.run(&["render", "new.json", "--out", "drawn.png"]);
    assert_eq!(said(&drawn), (0, String::new()));
    // The middle of the picture has the colour of the rectangle.
    let png = fs::read(folder.0.path().join("drawn.png")).unwrap();
    let picture = zolvet_core::picture::Picture::from_png(&png).unwrap();
    assert_eq!(picture.at(60, 40), [0x2f, 0x7d, 0x6d, 255]);
    // Once more under another id.
    folder.run(&["import", "Mock up.svg", "--into", "new.json"]);
    let text = fs::read_to_string(folder.0.path().join("new.json")).unwrap();
    let document: Value = serde_json::from_str(&text).unwrap();
    assert_eq!(document["scenes"][1]["id"], "mock-up-2");
}
