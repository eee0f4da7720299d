//! Stacks found on pictures of cards that Chromium drew, drawn again by it (docs/measuring.md, "Bars"). `ZOLVET_CASES=200` makes
//! a long run, `ZOLVET_SEED` another one.

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

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

fn is_found(card: &Card, found: &MatchedPicture) -> bool {
    let [x, y, width, height] = card.place;
    let place = &found.place;
    let sides = [place.left - x, place.top - y, place.right() - x - width, place.bottom() - y - height];
    sides.iter().all(|off| off.abs() <= 0.5) && (place.radius - card.radius).abs() <= 1.0
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
        let (is_box, is_good) = (is_found(&card, &found), off.mean <= 1.0 && off.p99 <= 5);
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
    assert!(boxes * 100 >= cases * 85, "{boxes} of {cases} boxes");
    assert!(good * 100 >= cases * 90, "{good} of {cases} drawn again");
    Ok(())
}
