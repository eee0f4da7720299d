//! Living CSS: what Chromium computes from it is what the flat sheet says, and it follows its lights, swatches and fills.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, Style, sheet};
use zolvet_core::lower::Numbers;
use zolvet_core::model::Project;
use zolvet_e2e::{Browser, Outcome};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

/// States as classes, so that each can be looked at without a hand.
const STATES: [(&str, &str); 4] = [
    (":hover", ".is-hover"),
    (":active", ".is-active"),
    (":focus-visible", ".is-focus"),
    (":disabled", ".is-disabled"),
];

/// Every computed shadow and filter of every element, as numbers: colours in sRGB from 0 to 1, clipped as they are painted.
const COMPUTED: &str = r"
    const probe = document.body.appendChild(document.createElement('i'));
    const known = new Map();
    const colour = (text) => {
        if (!known.has(text)) known.set(text, parts(text));
        return known.get(text);
    };
    const parts = (text) => {
        probe.style.color = `color(from ${text} srgb r g b / alpha)`;
        const [r, g, b, a = 1] = getComputedStyle(probe).color.match(/-?[\d.]+(e-?\d+)?/g).map(Number);
        return [r, g, b].map((part) => Math.min(1, Math.max(0, part))).concat(a);
    };
    const numbers = (value) => {
        const said = [];
        const rest = value.replace(/(rgba?|color|oklch|oklab)\([^()]*\)/g, (text) => { said.push(...colour(text)); return ' '; });
        return [said, (rest.match(/-?[\d.]+(?=px)/g) ?? []).map(Number), rest.replace(/-?[\d.]+px/g, 'N').replace(/\s+/g, ' ').trim()];
    };
    return [...document.querySelectorAll('[data-what]')].map((element) => {
        const style = getComputedStyle(element);
        const all = ['boxShadow', 'textShadow', 'filter', 'backdropFilter', 'color', 'backgroundColor'].map((name) => numbers(style[name]));
        return [element.dataset.what, all];
    });";

fn css(project: &Project, style: Style) -> String {
    // Exact numbers in both: what differs is how they are linked.
    let wanted = SheetOptions { style, numbers: Numbers::Exact, ..SheetOptions::default() };
    let css = sheet(project, &Assets::carried_by(project), &wanted);
    STATES.iter().fold(css, |css, (state, class)| css.replace(state, class))
}

/// An element for every class of a sheet, in every theme and state, each piece with the finish it has.
fn elements(sheet: &str, themes: &[&str]) -> String {
    let mut html = String::new();
    let mut finish = String::new();
    for line in sheet.lines().map(str::trim) {
        if let Some(with) = line.strip_prefix("/* wears .").or_else(|| line.strip_prefix("/* with .")) {
            with.trim_end_matches(" */").clone_into(&mut finish);
            continue;
        }
        if line.is_empty() {
            finish.clear();
        }
        let Some(class) = line.strip_prefix('.').map(|line| line.trim_end_matches([' ', '{', ','])) else {
            continue;
        };
        if class.contains(['.', ':', ' ', '[']) {
            continue;
        }
        for theme in themes {
            for (_, state) in [("", "")].iter().chain(&STATES) {
                let classes = format!("{finish} {class} {}", state.trim_start_matches('.'));
                html.push_str(&format!(
                    "<div data-theme=\"{theme}\"><div class=\"{classes}\" data-what=\"{theme} {class}{state}\"></div></div>"
                ));
            }
        }
    }
    html
}

async fn computed(browser: &Browser, css: &str, html: &str, root: &str) -> Outcome<Vec<(String, Value)>> {
    browser.show(&format!("<!doctype html><style>{css}{root}</style>{html}")).await?;
    let found = browser.driver.execute(COMPUTED, vec![]).await?.json().clone();
    let pair = |one: &Value| (one[0].as_str().unwrap().to_owned(), one[1].clone());
    Ok(found.as_array().ok_or("nothing computed")?.iter().map(pair).collect())
}

/// The same within 0.01 px and half a step of 8-bit colour.
fn assert_same(one: &[(String, Value)], other: &[(String, Value)]) {
    assert!(one.len() == other.len() && !one.is_empty());
    for ((what, a), (_, b)) in one.iter().zip(other) {
        for (a, b) in a.as_array().unwrap().iter().zip(b.as_array().unwrap()) {
            assert_eq!(a[2], b[2], "{what}: {a} and {b}");
            for (part, most) in [(0, 0.501 / 255.0), (1, 0.01)] {
                let (a, b) = (a[part].as_array().unwrap(), b[part].as_array().unwrap());
                let near =
                    |(a, b): (&Value, &Value)| (a.as_f64().unwrap() - b.as_f64().unwrap()).abs() <= most;
                assert!(a.len() == b.len() && a.iter().zip(b).all(near), "{what}: {a:?} and {b:?}");
            }
        }
    }
}

/// The pieces of a sheet, not its finishes by themselves: those have another fill in either sheet.
fn pieces(html_of: &str) -> &str {
    html_of.split_once("/* Scene: ").map_or("", |(_, scenes)| scenes)
}

#[tokio::test]
async fn living_and_flat_come_to_the_same() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let project = Project::from_json(DEMO).unwrap();
    let (living, flat) = (css(&project, Style::Living), css(&project, Style::Flat));
    let html = elements(pieces(&flat), &["day", "dusk"]);
    let (one, other) =
        (computed(&browser, &living, &html, "").await?, computed(&browser, &flat, &html, "").await?);
    assert_same(&one, &other);
    browser.quit().await
}

/// Turning a light, or changing a swatch, in the shipped sheet is the same as changing it in the project.
#[tokio::test]
async fn it_follows_its_lights_and_swatches() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let document: Value = serde_json::from_str(DEMO)?;
    let project = Project::from_json(DEMO).unwrap();
    let (living, flat) = (css(&project, Style::Living), css(&project, Style::Flat));
    let html = elements(pieces(&flat), &["day"]);
    let cases =
        [(20.0, "#7a1f5c"), (95.5, "#0c2d48"), (180.0, "#d0e040"), (271.0, "#ffffff"), (359.0, "#3a3a3a")];
    for (angle, colour) in cases {
        let mut changed = document.clone();
        changed["lights"][0]["bearing"] = json!(angle);
        changed["swatches"][0]["values"]["day"] = json!(colour);
        let flat = css(&Project::from_value(&changed).unwrap(), Style::Flat);
        let root = format!(":root {{ --light-sun: {angle}deg; --colour-leaf: {colour} }}");
        let (one, other) =
            (computed(&browser, &living, &html, &root).await?, computed(&browser, &flat, &html, "").await?);
        assert_same(&one, &other);
    }
    browser.quit().await
}

/// On a new element with another fill, a finish that casts the piece's own colour casts that one.
#[tokio::test]
async fn a_finish_takes_the_fill_of_a_new_element() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let living = css(&Project::from_json(DEMO).unwrap(), Style::Living);
    let html = "<div class=\"lifted\" data-what=\"new\" style=\"--fill: #c02040; background: var(--fill)\"></div>
        <div data-what=\"wanted\" style=\"box-shadow: 0 10px 18px -6px oklch(from #c02040 calc(l - 0.1) c h / 0.6)\"></div>";
    let found = computed(&browser, &living, html, "").await?;
    let colours = |one: &Value| {
        one[0][0].as_array().unwrap().iter().map(|part| part.as_f64().unwrap()).collect::<Vec<_>>()
    };
    let (new, wanted) = (colours(&found[0].1), colours(&found[1].1));
    let last = &new[new.len() - 4..];
    assert!(last.iter().zip(&wanted).all(|(a, b)| (a - b).abs() < 0.002), "{last:?} and {wanted:?}");
    browser.quit().await
}
