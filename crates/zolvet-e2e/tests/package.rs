//! What is handed off as a package: its page works from a folder, and the read-out offers every form of code.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::path::Path;
use std::process::Command;

use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, bundle};
use zolvet_core::model::Project;
use zolvet_e2e::{App, Browser, Outcome, Workbench};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

fn put_package(folder: &Path) -> Outcome {
    let project = Project::from_json(DEMO).unwrap();
    let document: Value = serde_json::from_str(DEMO)?;
    for file in bundle(&project, &document, &Assets::carried_by(&project), &SheetOptions::default()) {
        let path = folder.join(&file.path);
        std::fs::create_dir_all(path.parent().unwrap())?;
        std::fs::write(path, file.bytes)?;
    }
    Ok(())
}

/// A component that takes its classes from the package: by name, and as a CSS module.
const COMPONENT: &str = "
import type { CSSProperties } from 'react';
import { createRoot } from 'react-dom/client';
import { finishes, lights, properties } from 'depth';
import 'depth/quillmere-allotments.css';
import styles from 'depth/quillmere-allotments.module.css';

function Card({ className, theme }: { className: string; theme?: string }) {
  return <div className={theme}><div data-card className={className} style={{ [properties.fill]: '#fff', [lights.sun]: '90deg' } as CSSProperties} /></div>;
}

createRoot(document.body).render(
  <>
    <Card className={finishes.laid} />
    <Card className={styles.laid} />
    <Card className={finishes.laid} theme=\"dark\" />
    <Card className={styles.laid} theme=\"dark\" />
  </>,
);
";

/// The script and the styles of a page that was checked and built.
fn built(path: &Path, web: &Path) -> Outcome<(String, String)> {
    let run = |script: &str, arguments: &[&str]| -> Outcome {
        let done = Command::new("node").arg(web.join(script)).args(arguments).current_dir(path).output()?;
        assert!(
            done.status.success(),
            "{}{}",
            String::from_utf8_lossy(&done.stdout),
            String::from_utf8_lossy(&done.stderr)
        );
        Ok(())
    };
    run(
        "typescript/bin/tsc",
        &[
            "--noEmit",
            "--strict",
            "--jsx",
            "react-jsx",
            "--module",
            "esnext",
            "--moduleResolution",
            "bundler",
            "--target",
            "es2022",
            "card.tsx",
        ],
    )?;
    run("vite/bin/vite.js", &["build", "--logLevel", "error"])?;
    let (mut script, mut css) = (String::new(), String::new());
    for file in std::fs::read_dir(path.join("dist/assets"))? {
        let file = file?.path();
        let text = std::fs::read_to_string(&file)?;
        if file.extension().is_some_and(|ending| ending == "js") {
            script.push_str(&text)
        } else {
            css.push_str(&text)
        }
    }
    Ok((script, css))
}

/// A script's types know the names, and a component draws the same by the package's classes and by those of its module.
#[tokio::test]
async fn a_component_takes_the_package() -> Outcome {
    let folder = tempfile::tempdir()?;
    let (path, web) =
        (folder.path(), Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/node_modules").canonicalize()?);
    put_package(&path.join("node_modules/depth"))?;
    for dependency in ["react", "react-dom", "scheduler", "@types"] {
        std::os::unix::fs::symlink(web.join(dependency), path.join("node_modules").join(dependency))?;
    }
    std::fs::write(path.join("index.html"), "<body><script type=module src=/card.tsx></script>")?;
    std::fs::write(path.join("card.tsx"), COMPONENT)?;
    let (script, css) = built(path, &web)?;
    let browser = Browser::start(1280, 900).await?;
    browser.show(&format!("<!doctype html><style>{css}</style><body></body>")).await?;
    browser.driver.execute("const script = document.createElement('script'); script.textContent = arguments[0]; document.head.append(script);", vec![script.into()]).await?;
    browser.wait_for("document.querySelectorAll('[data-card]').length === 4").await?;
    let shadows = browser
        .driver
        .execute("return [...document.querySelectorAll('[data-card]')].map((card) => getComputedStyle(card).boxShadow)", vec![])
        .await?
        .json()
        .clone();
    let of = |at: usize| shadows[at].as_str().unwrap().to_owned();
    assert!(of(0).contains("-6px 0px 16px -4px"), "{shadows}");
    assert_eq!((of(0), of(2)), (of(1), of(3)), "{shadows}");
    assert_ne!(of(0), of(2), "{shadows}");
    browser.quit().await
}

/// A light turned and a swatch changed on the page change every finish that follows them, in every theme and state.
#[tokio::test]
async fn the_page_turns_its_lights_and_changes_its_swatches() -> Outcome {
    let folder = tempfile::tempdir()?;
    put_package(folder.path())?;
    let package: Value = serde_json::from_slice(&std::fs::read(folder.path().join("package.json"))?)?;
    for file in [&package["style"], &package["sass"]] {
        assert!(folder.path().join(file.as_str().unwrap()).exists(), "{file}");
    }
    let browser = Browser::start(1280, 900).await?;
    browser.go(&format!("file://{}/index.html", folder.path().display())).await?;
    // Without a server, and nothing missing.
    let said = browser
        .driver
        .execute(
            "const shadow = (n) => getComputedStyle(document.querySelectorAll('.qa-laid.specimen')[n]).boxShadow;
             const set = (name, value) => {
               const field = document.querySelector(`[data-property='${name}']`);
               field.value = value;
               field.dispatchEvent(new Event('input', { bubbles: true }));
             };
             const before = [shadow(0), shadow(1)];
             set('--qa-light-sun', '90');
             const turned = [shadow(0), shadow(1)];
             set('--qa-light-moon', '90');
             set('--qa-colour-soil', '#ff0000');
             const images = [...document.images].every((image) => image.complete && image.naturalWidth > 0);
             const states = document.querySelectorAll('[data-theme=day] .qa-lifted.specimen').length;
             return { before, turned, after: [shadow(0), shadow(1)], images, states };",
            vec![],
        )
        .await?
        .json()
        .clone();
    let text = |what: &str, at: usize| said[what][at].as_str().unwrap().to_owned();
    // In the day it follows the sun and is in the colour of soil, at dusk it follows the moon.
    assert!(
        text("before", 0).contains("0px 6px 16px -4px") && text("turned", 0).contains("-6px 0px 16px -4px"),
        "{said}"
    );
    assert_eq!(text("turned", 1), text("before", 1));
    assert!(
        text("after", 0).contains("1 0 0 / 0.2") && text("after", 1).contains("-3px 0px 7px -1px"),
        "{said}"
    );
    assert_eq!((&said["images"], &said["states"]), (&Value::Bool(true), &Value::from(5)));
    browser.quit().await
}

/// The forms of the read-out hold what their names say.
#[tokio::test]
async fn the_read_out_offers_every_form() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    let property = "CSS property: box-shadow";
    for (form, part) in [
        ("Declarations", "box-shadow:\n  inset 0 1px 1px rgb(255 255 255 / 55%),"),
        ("Custom properties", "--open-valve-box-box-shadow:"),
        ("Utility class", "[box-shadow:inset_0_1px_1px_rgb(255_255_255_/_55%)"),
        ("React style object", "boxShadow: 'inset 0 1px 1px"),
    ] {
        bench.choose_in(property, form).await?;
        let text = bench.read_out().await?;
        assert!(text.contains(part), "{form}: {text}");
    }
    bench.script("[...document.querySelectorAll('[aria-label=Read-out] label')].find((label) => label.innerText === 'SVG').click()").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre').innerText.startsWith('<svg')")
        .await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out]').innerText.includes('off on average')")
        .await?;
    bench.choose_in("Copy as: Inline", "CSS background").await?;
    browser
        .wait_for(
            "document.querySelector('[aria-label=Read-out] pre').innerText.includes('.open-valve-box::before')",
        )
        .await?;
    browser.quit().await
}
