//! Stacks found on pictures of cards that Chromium drew, drawn again by it (docs/measuring.md, "Bars"). `ZOLVET_CASES=200` makes
//! a long run, `ZOLVET_SEED` another one.

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

use std::path::Path;
use std::time::Instant;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::json;
use zolvet_core::picture::{Bitmap, Picture};
use zolvet_core::solve::{MatchRequest, MatchedPicture, MatchedStack, Shadow, match_picture};
use zolvet_e2e::cards::Card;
use zolvet_e2e::chance::Chance;
use zolvet_e2e::{Browser, Difference, Outcome};

/// A number that a long run sets.
fn given(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().and_then(|text| text.parse().ok()).unwrap_or(usual)
}

async fn open(browser: &Browser, card: &Card) -> Outcome {
    let (width, height) = card.page_size();
    let screen =
        json!({"width": width, "height": height, "deviceScaleFactor": card.density, "mobile": false});
    browser.driver.cdp().send_raw("Emulation.setDeviceMetricsOverride", screen).await?;
    Ok(())
}

/// A page as a file of a kind.
async fn drawn(browser: &Browser, page: &str, is_jpeg: bool) -> Outcome<Picture> {
    browser.show(page).await?;
    let format = if is_jpeg { json!({"format": "jpeg", "quality": 90}) } else { json!({"format": "png"}) };
    let shot = browser.driver.cdp().send_raw("Page.captureScreenshot", format).await?;
    let data = shot["data"].as_str().ok_or("the browser sent no picture")?;
    Ok(Bitmap::decode(&STANDARD.decode(data)?)?.picture)
}

fn layer(shadow: &Shadow, inset: &str) -> String {
    let [r, g, b] = shadow.colour.map(|channel| (channel * 255.0).round());
    let Shadow { dx, dy, blur, spread, opacity, .. } = shadow;
    format!("{inset}{dx}px {dy}px {blur}px {spread}px rgb({r} {g} {b} / {opacity:.4})")
}

/// A found stack as the card it stands for.
fn page_of(found: &MatchedPicture, stack: &MatchedStack) -> String {
    let rgb = |colour: zolvet_core::colour::Rgba| {
        let [r, g, b] = [colour.r, colour.g, colour.b].map(|channel| (channel * 255.0).round());
        format!("rgb({r} {g} {b})")
    };
    let place = &found.place;
    let outside = stack.outside.iter().map(|shadow| layer(shadow, ""));
    let inside = stack.inside.iter().map(|shadow| layer(shadow, "inset "));
    let layers: Vec<String> = outside.chain(inside).collect();
    let border = found.border.map(|(width, colour)| format!("border:{width}px solid {};", rgb(colour)));
    format!(
        "<!doctype html><style>html{{background:{}}}body{{margin:0}}div{{position:absolute;box-sizing:border-box;\
         left:{}px;top:{}px;width:{}px;height:{}px;border-radius:{}px;background:{};{}box-shadow:{}}}</style><div></div>",
        rgb(found.ground),
        place.left,
        place.top,
        place.width,
        place.height,
        place.radius,
        rgb(found.fill),
        border.unwrap_or_default(),
        if layers.is_empty() { "none".to_owned() } else { layers.join(",") },
    )
}

/// Whether all sides are within half a px and the radius within one.
fn is_found([x, y, width, height]: [f64; 4], radius: f64, found: &MatchedPicture) -> bool {
    let place = &found.place;
    let sides = [place.left - x, place.top - y, place.right() - x - width, place.bottom() - y - height];
    sides.iter().all(|off| off.abs() <= 0.5) && (place.radius - radius).abs() <= 1.0
}

#[tokio::test]
async fn random_cards_are_found_and_drawn_again() -> Outcome {
    let (cases, seed) = (given("ZOLVET_CASES", 20), given("ZOLVET_SEED", 5));
    let mut chance = Chance::new(seed);
    let browser = Browser::start(480, 360).await?;
    let (mut boxes, mut good, mut exact, mut seconds) = (0, 0, 0, 0.0);
    for case in 0..cases {
        let (outside, inside) = (1 + chance.below(3), chance.below(3));
        let card = Card::new(&mut chance, outside, inside);
        open(&browser, &card).await?;
        let clean = drawn(&browser, &card.page(&card.css(), false), false).await?;
        let picture = drawn(&browser, &card.page(&card.css(), card.has_text), card.is_jpeg).await?;
        let request = MatchRequest {
            picture: &picture,
            density: f64::from(card.density),
            place: None,
            is_compressed: card.is_jpeg,
            most: 3,
        };
        let begun = Instant::now();
        let found = match_picture(&request);
        seconds += begun.elapsed().as_secs_f64();
        let Some(found) = found else {
            println!("{case}: nothing found on {}", card.to_json());
            continue;
        };
        let stack = &found.by_count[found.suggested];
        let again = drawn(&browser, &page_of(&found, stack), false).await?;
        let bare = drawn(&browser, &card.bare_page(), false).await?;
        let off = Difference::touched(&again, &clean, &bare);
        let (is_box, is_good) = (is_found(card.place, card.radius, &found), off.mean <= 1.0 && off.p99 <= 5);
        exact += u64::from(off.mean <= 0.5 && off.p99 <= 3);
        boxes += u64::from(is_box);
        good += u64::from(is_good);
        if !is_box || !is_good {
            println!("{case}: box {is_box}, {off:?}, by itself {:?}", stack.error);
            println!("  {:?}\n  {}\n  {}", found.place, card.to_json(), page_of(&found, stack));
        }
    }
    browser.end().await?;
    println!(
        "of {cases}: {boxes} boxes, {good} drawn again, {exact} within 0.5 and 3, {:.2} s each",
        seconds / cases as f64
    );
    assert!(boxes * 100 >= cases * 90, "{boxes} of {cases} boxes");
    assert!(good * 100 >= cases * 90, "{good} of {cases} drawn again");
    assert!(exact * 100 >= cases * 60, "{exact} of {cases} within 0.5 and 3");
    Ok(())
}

/// Twenty elements as other people's sheets have them: package and sheet, classes of the page, the element, and styles of its own.
const ELEMENTS: [(&str, &str, &str, &str); 20] = [
    (BOOTSTRAP, "", "<div id=it class='card shadow-sm'><div class=card-body>Tide tables</div></div>", ""),
    (
        BOOTSTRAP,
        "bg-light",
        "<div id=it class='card shadow'><div class=card-body>Tide tables</div></div>",
        "",
    ),
    (BOOTSTRAP, "", "<div id=it class='card shadow-lg'><div class=card-body>Tide tables</div></div>", ""),
    (BOOTSTRAP, "", "<div id=it class='toast show'><div class=toast-body>Saved.</div></div>", ""),
    (BOOTSTRAP, "bg-dark", "<div id=it class='rounded-pill bg-body shadow-lg'></div>", "min-height:60px"),
    (BULMA, "", "<div id=it class=box>Tide tables</div>", ""),
    (BULMA, "", "<div id=it class=card><div class=card-content>Tide tables</div></div>", ""),
    (
        BULMA,
        "",
        "<div class=dropdown style='position:static'><div id=it class=dropdown-content><a class=dropdown-item>Tide tables</a></div></div>",
        "",
    ),
    (PICO, "", "<article id=it>Tide tables</article>", ""),
    (TAILWIND, "bg-gray-100", "<div id=it class='bg-white rounded shadow p-4'>Tide tables</div>", ""),
    (TAILWIND, "bg-gray-100", "<div id=it class='bg-white rounded-lg shadow-md p-4'>Tide tables</div>", ""),
    (TAILWIND, "bg-indigo-50", "<div id=it class='bg-white rounded-xl shadow-lg p-4'>Tide tables</div>", ""),
    (TAILWIND, "bg-white", "<div id=it class='bg-gray-50 rounded-2xl shadow-xl'></div>", ""),
    (TAILWIND, "bg-blue-200", "<div id=it class='bg-white rounded-3xl shadow-2xl p-4'>Tide tables</div>", ""),
    (
        TAILWIND,
        "bg-white",
        "<div id=it class='bg-gray-200 rounded-lg shadow-inner p-4'>Tide tables</div>",
        "",
    ),
    (UIKIT, "", "<div id=it class='uk-card uk-card-default uk-card-body'>Tide tables</div>", ""),
    (UIKIT, "", "<div id=it class='uk-card uk-card-primary uk-card-body uk-box-shadow-large'>Tide</div>", ""),
    (
        UIKIT,
        "uk-background-muted",
        "<div id=it class='uk-background-default uk-box-shadow-bottom-small uk-box-shadow-medium'></div>",
        "",
    ),
    (SPECTRE, "", "<ul id=it class=menu><li class=menu-item>Tide tables</li></ul>", ""),
    (HALFMOON, "", "<div id=it class='card shadow'><div class=card-body>Tide tables</div></div>", ""),
];

const BOOTSTRAP: &str = "bootstrap/dist/css/bootstrap.min.css";
const BULMA: &str = "bulma/css/bulma.min.css";
const PICO: &str = "@picocss/pico/css/pico.min.css";
const TAILWIND: &str = "tailwindcss/dist/tailwind.min.css";
const UIKIT: &str = "uikit/dist/css/uikit.min.css";
const SPECTRE: &str = "spectre.css/dist/spectre.min.css";
const HALFMOON: &str = "halfmoon/css/halfmoon.min.css";

/// Elements of seven packages, by their own sheets, on a screen of 1× and of 2× in turn, found from the picture alone.
#[tokio::test]
async fn elements_of_other_people_are_found_and_drawn_again() -> Outcome {
    let packages = Path::new(env!("CARGO_MANIFEST_DIR")).join("sheets/node_modules");
    let browser = Browser::start(480, 360).await?;
    let (mut boxes, mut good) = (0, 0);
    for (number, (sheet, page, element, own)) in ELEMENTS.iter().enumerate() {
        let density = 1 + number as u32 % 2;
        let (width, height) = if density == 1 { (400, 280) } else { (250, 250) };
        let screen = json!({"width": width, "height": height, "deviceScaleFactor": density, "mobile": false});
        browser.driver.cdp().send_raw("Emulation.setDeviceMetricsOverride", screen).await?;
        let sheet = std::fs::read_to_string(packages.join(sheet))?;
        let (left, top) = if density == 1 { (96, 72) } else { (54, 64) };
        let style = format!(
            "*{{animation:none!important;transition:none!important}}html,body{{margin:0;height:auto}}\
             #it{{position:absolute;left:{left}px;top:{top}px;width:{}px;min-height:90px;margin:0;\
             box-sizing:border-box;display:block;{own}}}",
            if density == 1 { 200 } else { 140 },
        );
        let bare = format!(
            "<!doctype html><meta charset=utf-8><style>{}</style><style>{style}</style><body class='{page}'>",
            without_fonts(&sheet)
        );
        let clean = format!("{bare}<style>*{{color:transparent!important}}</style>{element}");
        let clean = drawn(&browser, &clean, false).await?;
        let picture = drawn(&browser, &format!("{bare}{element}"), false).await?;
        let box_of = "const it = document.getElementById('it'), at = it.getBoundingClientRect();\
             return [at.x, at.y, at.width, at.height, parseFloat(getComputedStyle(it).borderTopLeftRadius), \
             innerWidth - document.documentElement.clientWidth]";
        let at: [f64; 6] =
            serde_json::from_value(browser.driver.execute(box_of, vec![]).await?.json().clone())?;
        let [x, y, width, height, radius, scroll_bar] = at;
        let radius = radius.min(width / 2.0).min(height / 2.0);
        let bare = drawn(&browser, &bare, false).await?;
        let density = f64::from(density);
        let request = MatchRequest { picture: &picture, density, place: None, is_compressed: false, most: 3 };
        let Some(found) = match_picture(&request) else {
            println!("{number}: nothing found on {element}");
            continue;
        };
        let stack = &found.by_count[found.suggested];
        let scrolls = if scroll_bar > 0.0 { "<style>html{overflow-y:scroll}</style>" } else { "" };
        let again = drawn(&browser, &(page_of(&found, stack) + scrolls), false).await?;
        let off = Difference::touched(&again, &clean, &bare);
        let is_box = is_found([x, y, width, height], radius, &found);
        let is_good = off.mean <= 0.5 && off.p99 <= 3;
        boxes += u32::from(is_box);
        good += u32::from(is_good);
        if !is_box || !is_good {
            println!("{number}: box {is_box}, {off:?} of {element}, {at:?}");
            println!("  {:?}\n  {}", found.place, page_of(&found, stack));
        }
    }
    browser.end().await?;
    println!("of {}: {boxes} boxes, {good} drawn again", ELEMENTS.len());
    assert!(good >= 17, "{good} drawn again");
    assert!(boxes >= 17, "{boxes} boxes");
    Ok(())
}

/// A sheet without the fonts that it would fetch.
fn without_fonts(sheet: &str) -> String {
    let mut parts = sheet.split("@font-face");
    let first = parts.next().unwrap_or_default().to_owned();
    parts.fold(first, |sheet, part| sheet + part.split_once('}').map_or("", |rest| rest.1))
}
