//! SVG files of somebody's own: come in as Chromium draws them, and go back with depth on them as the scene shows it, by Chromium,
//! resvg and librsvg.

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

use std::io::Write as _;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use thirtyfour::{By, Key};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::handoff::file_with_depth;
use zolvet_core::model::{Id, Project};
use zolvet_core::picture::Picture;
use zolvet_core::report::artwork::{artwork, take_out};
use zolvet_core::resolve;
use zolvet_core::svg::Edge;
use zolvet_e2e::artwork::{ACROSS, Artwork, STEP, meets_the_bar, page};
use zolvet_e2e::tour::Designer;
use zolvet_e2e::{App, Browser, Difference, Outcome, crop, keep_pictures};

/// Icons of a package, which nobody here drew, that are compared.
const ICONS: usize = 64;

/// Gradients with and without a focus, a clip, an opacity, a blend mode, dashes and a mask.
const KINDS: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 80">
  <linearGradient id="l" gradientTransform="rotate(30)"><stop offset=".2" stop-color="#2f7d6d"/><stop offset=".9" stop-color="#f0c04a" stop-opacity=".4"/></linearGradient>
  <radialGradient id="r" fx=".3" fy=".3" spreadMethod="reflect" r=".3"><stop stop-color="#fff"/><stop offset="1" stop-color="#b0413e"/></radialGradient>
  <clipPath id="c"><circle cx="90" cy="20" r="14"/></clipPath>
  <mask id="m"><rect x="60" y="40" width="60" height="40" fill="url(#r)"/></mask>
  <rect width="50" height="34" x="4" y="4" rx="8" fill="url(#l)"/>
  <ellipse cx="28" cy="58" rx="22" ry="16" fill="url(#r)"/>
  <g clip-path="url(#c)" opacity=".7"><rect x="70" y="4" width="40" height="30" fill="#2f7d6d"/><rect x="80" y="14" width="40" height="30" fill="#e0a030"/></g>
  <path d="M60 10q10 30 40 50" fill="none" stroke="#26413c" stroke-width="3" stroke-dasharray="7 4" stroke-linecap="round"/>
  <g mask="url(#m)"><rect x="62" y="44" width="50" height="30" fill="#26413c"/></g>
  <rect x="40" y="36" width="24" height="24" fill="#7a9a3a" style="mix-blend-mode:multiply"/>
</svg>"##;

fn icons() -> Outcome<Vec<PathBuf>> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/node_modules/@tabler/icons/icons");
    let mut files = Vec::new();
    for kind in ["filled", "outline"] {
        for entry in std::fs::read_dir(folder.join(kind))? {
            files.push(entry?.path());
        }
    }
    files.sort();
    let step = files.len() / ICONS;
    Ok(files.into_iter().step_by(step).take(ICONS).collect())
}

#[tokio::test]
async fn drawings_come_in_as_chromium_draws_them() -> Outcome {
    let side = STEP * ACROSS as u32;
    let browser = Browser::start(side, side).await?;
    let mut drawn = vec![Artwork::new("kinds".to_owned(), KINDS.as_bytes())?];
    for file in icons()? {
        drawn.push(Artwork::read(&file)?);
    }
    assert_eq!(drawn.len(), ICONS + 1);
    let (mut failures, mut shapes) = (Vec::new(), 0);
    for chunk in drawn.chunks(ACROSS * ACROSS) {
        browser.show(&page(chunk)).await?;
        let screen = browser.picture().await?;
        for (at, artwork) in chunk.iter().enumerate() {
            let off = artwork.compare(&screen, at)?;
            let meets = meets_the_bar(off) && artwork.taken.changed == 0;
            shapes += artwork.taken.shapes;
            failures.extend((!meets).then(|| artwork.line(off, meets).to_string()));
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
    assert!(shapes > ICONS, "{shapes} elements became shapes");
    browser.quit().await
}

/// A panel with a card, a button turned a little, and a badge with a check mark on it.
const MOCK_UP: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 210 140" width="420" height="280">
  <style>.leaf{fill:#2f7d6d}</style>
  <rect id="panel" width="210" height="140" rx="9" fill="#cfe0d4"/>
  <g transform="translate(18 22)">
    <rect id="card" width="105" height="70" rx="7" fill="#fbf7ec"/>
    <g transform="rotate(-8 40 54)"><rect id="button" class="leaf" x="11" y="46" width="52" height="16" rx="8"/></g>
  </g>
  <circle id="badge" cx="165" cy="48" r="19" fill="#f0c04a"/>
  <path id="check" d="M156 48l6 7 12-14" fill="none" stroke="#26413c" stroke-width="4"/>
</svg>"##;

fn drop(y: f64, blur: f64, colour: &str) -> Value {
    json!({"id": format!("d{y}"), "name": "Drop", "on": true, "kind": "drop", "offset": {"x": y / 3.0, "y": y}, "blur": blur,
        "spread": 0, "colour": colour})
}

/// The mock-up at its own size, with some of its elements taken out and raised.
fn raised() -> Outcome<Project> {
    let mut value = json!({"schema": 3, "name": "Mock-up", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "File", "media_type": "image/svg+xml", "data": STANDARD.encode(MOCK_UP)}],
        "scenes": [{"id": "s", "name": "Scene", "width": 420, "height": 280, "theme": "t",
            "ground": {"kind": "solid", "colour": "#fff"},
            "pieces": [{"id": "art", "name": "Mock-up", "x": 0, "y": 0, "wear": {"coats": []},
                "shape": {"kind": "drawing", "asset": "a", "w": 420, "h": 280}}]}]});
    let inner = json!({"id": "i", "name": "Edge", "on": true, "kind": "inner", "offset": {"x": 0, "y": 2}, "blur": 2, "spread": 0,
        "colour": "#ffffffa0"});
    let coats = [
        ("card", json!([drop(10.0, 22.0, "#20305070"), drop(2.0, 3.0, "#20305060")])),
        ("button", json!([inner, drop(6.0, 8.0, "#10403090")])),
        ("badge", json!([drop(8.0, 12.0, "#50300080")])),
    ];
    for (name, coats) in coats {
        let project = Project::from_value(&value).map_err(|problems| format!("{problems:?}"))?;
        let (assets, scene) = (Assets::carried_by(&project), &project.scenes[0]);
        let found = scene.all_pieces().into_iter().find_map(|piece| {
            let elements = artwork(piece, &assets)?.elements;
            let element = elements.into_iter().find(|element| element.name == name)?;
            Some((piece.id.clone(), element.number))
        });
        let (piece, element) = found.ok_or("no such element")?;
        let taken = take_out(&project, scene, &piece, element, &assets).ok_or("it cannot be taken out")?;
        json_patch::patch(&mut value["scenes"][0], &taken.patch)?;
        let parts = value["scenes"][0]["pieces"][0]["shape"]["parts"].as_array_mut().ok_or("no group")?;
        let part = parts.iter_mut().find(|part| part["name"] == name).ok_or("it is lost")?;
        part["wear"] = json!({"coats": coats});
    }
    Ok(Project::from_value(&value).map_err(|problems| format!("{problems:?}"))?)
}

fn by_resvg(svg: &str) -> Outcome<Picture> {
    let tree = resvg::usvg::Tree::from_str(svg, &resvg::usvg::Options::default())?;
    let (width, height) = (tree.size().width() as u32, tree.size().height() as u32);
    let mut pixels = resvg::tiny_skia::Pixmap::new(width, height).ok_or("no room")?;
    pixels.fill(resvg::tiny_skia::Color::WHITE);
    resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut pixels.as_mut());
    Ok(Picture { width, height, rgba: pixels.data().to_vec() })
}

fn by_librsvg(svg: &str) -> Outcome<Picture> {
    let mut program = Command::new("rsvg-convert")
        .args(["--background-color", "white"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()?;
    program.stdin.take().ok_or("no way in")?.write_all(svg.as_bytes())?;
    let output = program.wait_with_output()?;
    assert!(output.status.success(), "see above");
    Ok(Picture::from_png(&output.stdout)?)
}

#[tokio::test]
async fn a_file_goes_back_with_depth_on_it() -> Outcome {
    let project = raised()?;
    let (assets, scene) = (Assets::carried_by(&project), &project.scenes[0]);
    let asset = Id::new("a".to_owned())?;
    let file = file_with_depth(&project, scene, &asset, Edge::Cut, &assets).ok_or("no file")?;
    assert!(file.svg.contains("class=\"leaf\"") && file.svg.matches("<filter ").count() == 3, "{}", file.svg);
    // The turned button's depth falls as on the scene: its filter is outside what turns it.
    assert!(file.svg.contains("\"><g transform=\"rotate(-8 40 54)\">"), "{}", file.svg);
    let resolved = resolve::scene(&project, scene, &assets);
    let drawn = |scene: &resolve::Scene| {
        let cache = MaskCache::default();
        picture(scene, &Viewport::whole(scene, 1.0), &RenderOptions::default(), Rounding::Nearest, &cache)
    };
    let ours = drawn(&resolved);
    let bare = drawn(&resolve::Scene { pieces: Vec::new(), ..resolved.clone() });
    let browser = Browser::start(800, 600).await?;
    let url = format!("data:image/svg+xml;base64,{}", STANDARD.encode(&file.svg));
    browser
        .show(&format!("<!doctype html><body style=\"margin:0;background:#fff\"><img src=\"{url}\">"))
        .await?;
    let chromium = crop(&browser.picture().await?, 0, 0, ours.width, ours.height);
    for (who, theirs) in
        [("Chromium", chromium), ("resvg", by_resvg(&file.svg)?), ("librsvg", by_librsvg(&file.svg)?)]
    {
        keep_pictures(&format!("depth-{who}"), &ours, &theirs)?;
        let off = Difference::touched(&ours, &theirs, &bare);
        println!("{who}: {off:?}");
        assert!(off.mean <= 1.75 && off.p99 <= 14 && off.p999 <= 30, "{who}: {off:?}");
    }
    browser.quit().await
}

async fn dropped<'a>(browser: &'a Browser, app: &App) -> Outcome<Designer<'a>> {
    Designer::dropped(browser, &app.address, "Mock-up.svg", MOCK_UP).await
}

/// The parts of the only piece of the newest project that have coats, by name.
async fn raised_parts(app: &App) -> Outcome<Vec<String>> {
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let id = list[0]["id"].as_str().ok_or("no project")?;
    let stored: Value = http.get(format!("{}/api/projects/{id}", app.address)).send().await?.json().await?;
    let parts =
        stored["document"]["scenes"][0]["pieces"][0]["shape"]["parts"].as_array().ok_or("no parts")?;
    let raised = parts.iter().filter(|part| part["wear"]["coats"] != json!([]));
    Ok(raised.map(|part| part["name"].as_str().unwrap_or_default().to_owned()).collect())
}

/// A card, a button and a badge of a mock-up are raised, and it leaves as a file and as a picture, in 15 gestures with the drop.
#[tokio::test]
async fn a_mock_up_is_raised_by_hand() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut designer = dropped(&browser, &app).await?;
    for (x, y, starter, name) in [
        (290.0, 140.0, "Two-part shadow", "card"),
        (226.0, 222.0, "Glossy dome", "button"),
        (440.0, 194.0, "Ridge", "badge"),
    ] {
        designer.bench.click_scene(x, y).await?;
        designer.gestures += 1;
        browser
            .wait_for(&format!("document.querySelector('[data-region=stack] h2')?.textContent === '{name}'"))
            .await?;
        designer.start_from(starter).await?;
    }
    designer.click("Hand-off").await?;
    designer.click("Your file").await?;
    browser
        .wait_for(
            "document.querySelector('[aria-label=Export] pre')?.textContent.split('<filter ').length === 4",
        )
        .await?;
    designer.click("Save as a file").await?;
    designer.click("Picture").await?;
    designer.click("Save the PNG").await?;
    assert!(designer.gestures <= 16, "{}", designer.gestures);
    assert_eq!(raised_parts(&app).await?, ["card", "button", "badge"]);
    browser.end().await
}

/// The same by keys alone: Enter lists the elements, which stay listed; Tab leads to what is pressed, which is no gesture.
#[tokio::test]
async fn a_mock_up_is_raised_by_keys() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let designer = dropped(&browser, &app).await?;
    let mut keys = Keys { browser: &browser, gestures: designer.gestures };
    keys.browser.driver.execute("document.activeElement?.blur()", vec![]).await?;
    keys.press(Key::Enter).await?;
    browser.wait_for("document.querySelectorAll('[aria-label=Elements] li').length === 5").await?;
    for (element, starter) in [("card", "Two-part shadow"), ("button", "Glossy dome"), ("badge", "Ridge")] {
        keys.reach_and_press(element).await?;
        browser
            .wait_for(&format!(
                "document.querySelector('[data-region=stack] h2')?.textContent === '{element}'"
            ))
            .await?;
        designer.bench.settle().await?;
        keys.reach_and_press("Start from").await?;
        keys.reach_and_press(starter).await?;
        designer.bench.settle().await?;
    }
    for step in ["Hand-off", "Your file"] {
        keys.reach_and_press(step).await?;
    }
    browser
        .wait_for(
            "document.querySelector('[aria-label=Export] pre')?.textContent.split('<filter ').length === 4",
        )
        .await?;
    for step in ["Save as a file", "Picture", "Save the PNG"] {
        keys.reach_and_press(step).await?;
    }
    assert!(keys.gestures <= 16, "{}", keys.gestures);
    assert_eq!(raised_parts(&app).await?, ["card", "button", "badge"]);
    browser.end().await
}

/// Somebody who uses keys alone.
struct Keys<'a> {
    browser: &'a Browser,
    gestures: u32,
}

impl Keys<'_> {
    async fn press(&mut self, key: Key) -> Outcome {
        self.gestures += 1;
        Ok(self.browser.driver.action_chain().send_keys(key + "").perform().await?)
    }

    /// Goes to what begins with a text, and presses it. In a group of choices arrow keys lead on.
    async fn reach_and_press(&mut self, text: &str) -> Outcome {
        for _ in 0..200 {
            let chain = self.browser.driver.action_chain();
            if self.is_reached(text).await? {
                self.gestures += 1;
                let key = if self.in_choices().await? { Key::Space } else { Key::Enter };
                return Ok(chain.send_keys(key + "").perform().await?);
            }
            let key =
                if self.in_choices().await? && self.has_choice(text).await? { Key::Right } else { Key::Tab };
            chain.send_keys(key + "").perform().await?;
        }
        Err(format!("\"{text}\" is not reached by keys").into())
    }

    async fn is_reached(&self, text: &str) -> Outcome<bool> {
        self.said(&format!("((document.activeElement.labels?.[0] ?? document.activeElement).innerText ?? '').trim().startsWith('{text}')"))
            .await
    }

    /// Whether a choice of several has the focus.
    async fn in_choices(&self) -> Outcome<bool> {
        self.said("document.activeElement.type === 'radio'").await
    }

    async fn has_choice(&self, text: &str) -> Outcome<bool> {
        let choices = "[...document.getElementsByName(document.activeElement.name)]";
        self.said(&format!("{choices}.some((one) => one.labels[0].innerText.trim() === '{text}')")).await
    }

    async fn said(&self, what: &str) -> Outcome<bool> {
        let answer = self.browser.driver.execute(format!("return Boolean({what})"), vec![]).await?;
        Ok(answer.json().as_bool().unwrap_or_default())
    }
}

/// Escape leads from an element out to the group that the drawing became.
#[tokio::test]
async fn escape_leads_out_of_a_drawing() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut designer = dropped(&browser, &app).await?;
    designer.click("Show elements").await?;
    browser.click(&By::XPath("//section[@aria-label='Elements']//li//button[contains(., 'button')]")).await?;
    browser.wait_for("document.querySelector('[data-region=stack] h2')?.textContent === 'button'").await?;
    designer.bench.settle().await?;
    browser.driver.execute("document.activeElement?.blur()", vec![]).await?;
    browser.driver.action_chain().send_keys(Key::Escape + "").perform().await?;
    browser.wait_for("document.querySelector('[data-region=stack] h2')?.textContent === 'Mock-up'").await?;
    browser.end().await
}
