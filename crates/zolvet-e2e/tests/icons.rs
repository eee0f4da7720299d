//! One finish on many files, in the browser: the sheet, and the archive beside what the command line writes.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::collections::BTreeMap;
use std::io::{Cursor, Read as _};
use std::path::{Path, PathBuf};
use std::process::Command;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use tempfile::TempDir;
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{drop_shadow, project};
use zolvet_e2e::{App, Browser, Outcome, program};

const ICONS: [(&str, &str); 4] = [
    (
        "full.svg",
        r#"<svg xmlns="http://www.w3.org/2000/svg" width="24" height="24"><path d="M0 0h24v24H0z"/></svg>"#,
    ),
    (
        "ring.svg",
        r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><circle cx="12" cy="12" r="8" fill="none" stroke="#2f7d6b" stroke-width="3"/></svg>"##,
    ),
    (
        "wide.svg",
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="60" height="30"><rect x="4" y="4" width="40" height="20" rx="5" fill="#c8553d"/></svg>"##,
    ),
    (
        "script.svg",
        r#"<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script>0</script><path d="M0 0h9v9z"/></svg>"#,
    ),
];

/// A project with a finish, and the icons as files.
fn set(folder: &TempDir) -> Outcome<(Value, Vec<PathBuf>)> {
    let coats = json!([drop_shadow("d", 3.0, json!({"blur": 4})), drop_shadow("e", 1.0, json!({"blur": 0}))]);
    let finishes = json!([{"id": "up", "name": "Lifted", "coats": coats}]);
    let document = project("Icons", json!([]), json!({"finishes": finishes}));
    std::fs::write(folder.path().join("p.json"), document.to_string())?;
    let write = |(name, svg): (&str, &str)| {
        let path = folder.path().join(name);
        std::fs::write(&path, svg).map(|()| path)
    };
    Ok((document, ICONS.into_iter().map(write).collect::<Result<_, _>>()?))
}

/// Opens the icons of a project that is made for it.
async fn opened(app: &App, browser: &Browser, document: &Value, files: &[PathBuf]) -> Outcome {
    let http = reqwest::Client::new();
    let made: Value =
        http.post(format!("{}/api/projects", app.address)).json(document).send().await?.json().await?;
    let id = made["id"].as_str().ok_or("no project")?;
    browser.go(&format!("{}/projects/{id}/icons", app.address)).await?;
    browser.wait_for("document.querySelector('input[type=file]')").await?;
    let paths: Vec<String> = files.iter().map(|path| path.display().to_string()).collect();
    browser.driver.find(By::Css("input[type=file]")).await?.send_keys(paths.join("\n")).await?;
    Ok(())
}

/// The files of the archive that a press saves, by their names.
async fn saved(browser: &Browser, button: &str) -> Outcome<BTreeMap<String, Vec<u8>>> {
    browser.driver.execute(KEEPS_ARCHIVES, vec![]).await?;
    browser.click(&By::XPath(format!("//button[. = '{button}']"))).await?;
    browser.wait_for("window.archive !== undefined").await?;
    let text = browser.driver.execute("return window.archive", vec![]).await?.json().clone();
    let bytes = STANDARD.decode(text.as_str().ok_or("no archive")?)?;
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes))?;
    let mut found = BTreeMap::new();
    for at in 0..archive.len() {
        let mut file = archive.by_index(at)?;
        let mut bytes = Vec::new();
        file.read_to_end(&mut bytes)?;
        found.insert(file.name().to_owned(), bytes);
    }
    Ok(found)
}

const KEEPS_ARCHIVES: &str = "
window.archive = undefined;
const make = URL.createObjectURL.bind(URL);
URL.createObjectURL = (blob) => {
  if (blob.type === 'application/zip') {
    const reader = new FileReader();
    reader.onload = () => { window.archive = reader.result.split(',')[1]; };
    reader.readAsDataURL(blob);
  }
  return make(blob);
};";

/// What the command line makes of the same files.
fn applied(folder: &Path, files: &[PathBuf], more: &[&str]) -> Outcome<BTreeMap<String, Vec<u8>>> {
    let out = folder.join("out");
    let mut apply = Command::new(program()?);
    apply.args(["apply", "--finish", "Lifted", "--from"]).arg(folder.join("p.json")).args(files);
    let run = apply.arg("--out-dir").arg(&out).args(more).output()?;
    assert!(matches!(run.status.code(), Some(0 | 1)), "{}", String::from_utf8_lossy(&run.stderr));
    let mut found = BTreeMap::new();
    for entry in std::fs::read_dir(&out)? {
        let entry = entry?;
        found.insert(entry.file_name().to_string_lossy().into_owned(), std::fs::read(entry.path())?);
    }
    std::fs::remove_dir_all(out)?;
    Ok(found)
}

#[tokio::test]
async fn a_set_of_icons_gets_a_finish_and_is_saved() -> Outcome {
    let (app, folder) = (App::start()?, TempDir::new()?);
    let browser = Browser::on(&app).await?;
    let (document, files) = set(&folder)?;
    opened(&app, &browser, &document, &files).await?;
    // Three on light and on dark ground; the fourth says why it is not there.
    browser.wait_for("document.querySelectorAll('li img').length === 6").await?;
    browser.wait_for("document.body.innerText.includes('1 file cannot be drawn')").await?;
    browser.wait_for("document.body.innerText.includes('There are 2 sizes')").await?;

    let archive = saved(&browser, "Save 3 files as ZIP").await?;
    assert_eq!(archive.keys().collect::<Vec<_>>(), ["full.svg", "ring.svg", "wide.svg"]);
    assert_eq!(archive, applied(folder.path(), &files, &[])?);

    // One is left out; pictures at two pixels for one px, the drawing smaller.
    browser.click(&By::Css("input[aria-label='Save ring']")).await?;
    browser.click(&By::XPath("//label[. = 'Shrink the drawing']")).await?;
    browser.click(&By::XPath("//label[. = 'PNG 2×']")).await?;
    let archive = saved(&browser, "Save 2 files as ZIP").await?;
    let kept: Vec<PathBuf> = files.iter().filter(|path| !path.ends_with("ring.svg")).cloned().collect();
    let by_command = applied(folder.path(), &kept, &["--edge", "shrink", "--format", "png", "--scale", "2"])?;
    assert_eq!(archive.keys().collect::<Vec<_>>(), ["full.png", "wide.png"]);
    assert_eq!(archive, by_command);
    browser.end().await
}
