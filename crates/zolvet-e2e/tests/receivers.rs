//! What is handed off, read by what its receivers read it with: two linters and parsers of CSS, a compiler of SCSS, and two
//! readers of tokens, all of which know nothing of this project (their versions are in `receivers/package.json`).

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::collections::BTreeSet;
use std::io::Write as _;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

use proptest::strategy::{Strategy as _, ValueTree as _};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{Format, Pieces, SheetOptions, Style, export};
use zolvet_core::lower::Numbers;
use zolvet_core::model::Project;
use zolvet_core::syntax::slug;
use zolvet_core::tokens::{TokenFile, read_files};
use zolvet_e2e::{Browser, Computed, Outcome, assert_same, computed};
use zolvet_samples::library;

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

/// What the receivers make of it.
fn received(asked: &Value) -> Outcome<Value> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/receivers");
    let mut node = Command::new("node")
        .arg("check.mjs")
        .current_dir(folder)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()?;
    node.stdin.take().ok_or("no way in")?.write_all(asked.to_string().as_bytes())?;
    let output = node.wait_with_output()?;
    assert!(output.status.success(), "see above");
    Ok(serde_json::from_slice(&output.stdout)?)
}

/// The demo, and projects that look like chance, the same every time.
fn projects() -> Outcome<Vec<Project>> {
    let config = Config { failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let strategy = library::document();
    let mut projects = vec![Project::from_json(DEMO).unwrap()];
    for _ in 0..20 {
        let document = strategy.new_tree(&mut runner).map_err(|reason| reason.to_string())?.current();
        projects.push(Project::from_value(&document).unwrap());
    }
    Ok(projects)
}

fn written(project: &Project, format: Format, wanted: &SheetOptions) -> String {
    export(project, &Assets::carried_by(project), format, None, wanted)
}

#[test]
fn nobody_who_receives_it_has_a_remark() -> Outcome {
    let (mut css, mut scss, mut tokens) = (Vec::new(), Vec::new(), Vec::new());
    for project in projects()? {
        for (style, pieces) in [(Style::Living, Pieces::Depth), (Style::Flat, Pieces::Whole)] {
            let wanted = SheetOptions { style, pieces, scenes: true, ..SheetOptions::default() };
            css.push(written(&project, Format::Css, &wanted));
            scss.push(written(&project, Format::Scss, &wanted));
        }
        for theme in &project.themes {
            let wanted = SheetOptions { theme: Some(theme.id.clone()), ..SheetOptions::default() };
            tokens.push(written(&project, Format::Tokens, &wanted));
        }
        tokens.push(written(
            &project,
            Format::Tokens,
            &SheetOptions { modes: true, ..SheetOptions::default() },
        ));
    }
    let asked = json!({ "css": css, "scss": scss, "tokens": tokens });
    let remarks = received(&asked)?["remarks"].clone();
    assert_eq!(remarks, json!([]), "{remarks:#}");
    Ok(())
}

/// The bar of the demo's files: what a receiver gets is no longer than it has to be.
#[test]
fn the_demo_is_short() {
    let whole = Project::from_json(DEMO).unwrap();
    let bare = Project { fallbacks: false, ..whole.clone() };
    for (project, format, style, scenes, most) in [
        (&bare, Format::Css, Style::Living, false, 7_800),
        (&whole, Format::Css, Style::Living, false, 8_000),
        (&whole, Format::Css, Style::Living, true, 15_500),
        (&whole, Format::Css, Style::Flat, true, 16_500),
        (&whole, Format::Tokens, Style::Living, false, 40_000),
    ] {
        let text = written(project, format, &SheetOptions { style, scenes, ..SheetOptions::default() });
        assert!(text.len() < most, "{format:?} {style:?}: {} bytes", text.len());
        let decimals = text.split(|letter: char| !letter.is_ascii_digit() && letter != '.');
        let longest =
            decimals.filter_map(|number| number.split_once('.')).map(|(_, after)| after.len()).max();
        assert!(longest <= Some(4), "{format:?} {style:?}: {longest:?} decimals");
    }
}

/// What both readers of tokens make CSS of, and what SCSS is compiled to, computes as our own sheet.
#[tokio::test]
async fn their_css_is_ours() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let mut project = Project::from_json(DEMO).unwrap();
    // Without pieces, finishes in the colour of what wears them have the same specimen everywhere.
    project.scenes.clear();
    let exact = |style| SheetOptions { style, numbers: Numbers::Exact, ..SheetOptions::default() };
    let ours = written(&project, Format::Css, &exact(Style::Flat));
    let names: Vec<String> = project.finishes.iter().map(|finish| slug(&finish.name)).collect();
    let includes: String =
        names.iter().map(|name| format!(".qa-{name} {{ @include qa-{name}; }}\n")).collect();
    let scss = written(&project, Format::Scss, &exact(Style::Flat)) + includes.as_str();
    let found = received(
        &json!({ "css": [], "scss": [scss], "tokens": [written(&project, Format::Tokens, &exact(Style::Flat))] }),
    )?;
    let elements = |class: &str| -> String {
        names.iter().map(|name| format!("<div class=\"{class}{name}\" data-what=\"{name}\"></div>")).collect()
    };
    let wanted = computed(&browser, &ours, &elements("qa-"), "").await?;
    assert_same(
        &wanted,
        &computed(&browser, found["scss"][0].as_str().unwrap(), &elements("qa-"), "").await?,
    );
    for reader in ["terrazzo", "dictionary"] {
        let theirs = found["tokens"][0][reader].as_str().unwrap();
        let used = names.iter().map(|name| format!(".t-{name} {{ box-shadow: var(--finish-{name}) }}\n"));
        let theirs = format!("{theirs}\n{}", used.collect::<String>());
        assert_same(&shadows(&wanted), &shadows(&computed(&browser, &theirs, &elements("t-"), "").await?));
    }
    // A utility is what a rule of its class would be.
    let utilities = written(&project, Format::Theme, &exact(Style::Living)).replace("@utility qa-", ".u-");
    assert_eq!(utilities.matches("\n.u-").count(), names.len(), "one for each finish: {utilities}");
    assert_same(&wanted, &computed(&browser, &utilities, &elements("u-"), "").await?);
    browser.quit().await
}

/// Token files that nobody here wrote, and whether they are written in the format as it was settled. Two of them are resolver
/// files with many others.
const SETS: [(&str, bool); 5] = [
    ("dtcg-examples/github-primer.resolver.json", true),
    ("dtcg-examples/microsoft-fluent.resolver.json", true),
    ("open-props/open-props.resolver.json", true),
    ("@rhds/tokens/json/rhds.tokens.json", false),
    ("@nl-design-system-unstable/voorbeeld-design-tokens/dist/tokens.json", false),
];

fn in_packages(path: &str) -> PathBuf {
    Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/receivers/node_modules")).join(path)
}

/// A file with all that it refers to, as someone chooses a folder.
fn with_others(path: &Path, files: &mut Vec<(String, String)>) -> Outcome {
    let text = std::fs::read_to_string(path)?;
    let name = path.to_string_lossy().into_owned();
    if files.iter().any(|(known, _)| *known == name) {
        return Ok(());
    }
    files.push((name, text.clone()));
    for (_, rest) in text.match_indices("\"$ref\"").map(|(at, found)| text.split_at(at + found.len())) {
        let reference = rest.split('"').nth(1).unwrap_or_default();
        if reference.ends_with(".json") {
            with_others(&path.parent().unwrap().join(reference.trim_start_matches("./")), files)?;
        }
    }
    Ok(())
}

/// Every shadow of these sets, as two readers of tokens read them that know nothing of this project; one of them where a
/// set is older than the format.
#[tokio::test]
async fn token_sets_of_others_are_read_as_others_read_them() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let asked: Vec<Value> =
        SETS.iter().map(|(path, settled)| json!({"path": in_packages(path), "settled": settled})).collect();
    let found = received(&json!({"css": [], "scss": [], "tokens": [], "sets": asked}))?;
    let mut compared = 0;
    for ((path, _), theirs) in SETS.iter().zip(found["sets"].as_array().unwrap()) {
        let mut files = Vec::new();
        with_others(&in_packages(path), &mut files)?;
        let files: Vec<TokenFile<'_>> = files.iter().map(|(name, text)| TokenFile { name, text }).collect();
        let (incoming, _) = read_files(&files).map_err(|error| format!("{path}: {error}"))?;
        let mut document = json!({"schema": 3, "name": "In", "scenes": [], "scale": [],
            "themes": [{"id": "light", "name": "Light", "scheme": "light"}]});
        let empty = Project::from_value(&document).unwrap();
        incoming.fitted_to(&empty).put_into(&mut document);
        let project = Project::from_value(&document).unwrap();
        let exact = SheetOptions { style: Style::Flat, numbers: Numbers::Exact, ..SheetOptions::default() };
        let ours = written(&project, Format::Css, &exact);
        let names: BTreeSet<String> = project.finishes.iter().map(|finish| finish.name.clone()).collect();
        let elements = |class: &str| -> String {
            let one =
                |name: &String| format!("<div class=\"{class}{}\" data-what=\"{name}\"></div>", slug(name));
            names.iter().map(one).collect()
        };
        let wanted = shadows(&computed(&browser, &ours, &elements(""), "").await?);
        for (reader, theirs) in theirs.as_object().unwrap() {
            let listed: BTreeSet<String> = serde_json::from_value(theirs["names"].clone())?;
            assert_eq!(names, listed, "{path}: {reader}");
            let variable =
                |name: &str| name.replace(|letter: char| !letter.is_ascii_alphanumeric(), "-").to_lowercase();
            let used =
                |name: &String| format!(".t-{} {{ box-shadow: var(--{}) }}\n", slug(name), variable(name));
            let used: String = names.iter().map(used).collect();
            let css = format!("{}\n{}", theirs["css"].as_str().unwrap(), used);
            assert_same(&wanted, &shadows(&computed(&browser, &css, &elements("t-"), "").await?));
            compared += names.len();
        }
    }
    assert!(compared >= 79, "{compared}");
    browser.quit().await
}

/// The shadows among what a page computes.
fn shadows(all: &[Computed]) -> Vec<Computed> {
    all.iter().map(|(what, properties)| (what.clone(), properties[..1].to_vec())).collect()
}
