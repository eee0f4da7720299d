//! WCAG 2.2 AA past what axe sees: by keyboard, without dragging, with large text, with forced colours, to a screen reader.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, box_of, card_and_chip, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// Every view of the demo, by what is at the end of its address, and what is there once it is ready.
const VIEWS: [(&str, &str); 4] = [
    (
        "",
        "document.querySelector('canvas')?.dataset.drawn && document.querySelector('[aria-label=Pieces] img')",
    ),
    ("/finishes", "document.querySelectorAll('article img').length > 3"),
    ("/check", "document.querySelectorAll('section[aria-label=Findings] li').length > 1"),
    ("/hand-off", "document.querySelector('section[aria-label=Export] pre')"),
];

/// The first project's address.
async fn demo(browser: &Browser, app: &App) -> Outcome<String> {
    let bench = Workbench::open(browser, &app.address).await?;
    let address = bench.script("return location.pathname").await?;
    Ok(format!("{}{}", app.address, address.as_str().ok_or("no address")?))
}

/// Targets under 24 px that come nearer than 24 px to another: a circle of 24 px about the middle of each such target meets
/// no other target and no circle of another (WCAG 2.2, SC 2.5.8, "Spacing"). What handles on the stage do, fields beside it do
/// too ("Equivalent").
const CROWDED: &str = r#"
const said = (e) => `${e.tagName.toLowerCase()} ${e.getAttribute('aria-label') || e.textContent.trim().slice(0, 30) || e.title}`;
const all = [...document.querySelectorAll('button, a[href], input, select, textarea, summary, [role=slider], [role=menuitem], [role=tab]')]
  .filter((e) => !e.disabled && !e.closest('[inert], [aria-label=Stage]') && e.checkVisibility({ opacityProperty: true, visibilityProperty: true }))
  .map((e) => {
    // What a label names is pressed with it.
    const label = e.labels?.[0];
    const boxes = [e, ...(label ? [label] : [])].map((x) => x.getBoundingClientRect());
    const left = Math.min(...boxes.map((b) => b.left)), top = Math.min(...boxes.map((b) => b.top));
    const right = Math.max(...boxes.map((b) => b.right)), bottom = Math.max(...boxes.map((b) => b.bottom));
    return { e, left, top, right, bottom, w: right - left, h: bottom - top };
  })
  .filter((b) => b.w > 0 && b.h > 0 && b.right > 0 && b.bottom > 0 && b.left < innerWidth && b.top < innerHeight);
const small = (b) => b.w < 23.9 || b.h < 23.9;
const middle = (b) => [(b.left + b.right) / 2, (b.top + b.bottom) / 2];
const meets = (b, other) => {
  const [x, y] = middle(b);
  if (small(other)) { const [u, v] = middle(other); return Math.hypot(x - u, y - v) < 23.9; }
  const dx = Math.max(other.left - x, 0, x - other.right), dy = Math.max(other.top - y, 0, y - other.bottom);
  return Math.hypot(dx, dy) < 11.9;
};
return all.filter(small).flatMap((b) => {
  // A handle lies over what it changes, and what is said in a line of text has the height of the line.
  const other = all.find((o) => o.e !== b.e && !o.e.contains(b.e) && !b.e.contains(o.e) && meets(b, o));
  return other ? [`${said(b.e)} ${Math.round(b.w)}×${Math.round(b.h)} beside ${said(other.e)}`] : [];
});"#;

#[tokio::test]
async fn targets_are_large_enough_or_far_enough_apart() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let project = demo(&browser, &app).await?;
    let bench = Workbench::at(&browser);
    for (view, ready) in VIEWS {
        browser.go(&format!("{project}{view}")).await?;
        browser.wait_for(ready).await?;
        browser.quiet().await?;
        assert_eq!(bench.script(CROWDED).await?, json!([]), "{view}");
    }
    browser.go(&project).await?;
    bench.wait_drawn().await?;
    bench.choose("Open valve box").await?;
    bench.settle().await?;
    assert_eq!(bench.script(CROWDED).await?, json!([]), "a chosen piece");
    bench.click_named("Open Its own colour on the panel").await?;
    bench.settle().await?;
    assert_eq!(bench.script(CROWDED).await?, json!([]), "an open coat");
    bench.click_named("Close Its own colour on the panel").await?;
    bench.click_named("Edit piece").await?;
    bench.settle().await?;
    assert_eq!(bench.script(CROWDED).await?, json!([]), "an open piece");
    browser.go(&app.address).await?;
    browser.wait_for("document.querySelector('main ul a')").await?;
    assert_eq!(bench.script(CROWDED).await?, json!([]), "the projects");
    browser.quit().await
}

/// Text at 200 % (SC 1.4.4): a window of 1280 × 800 zoomed to twice its size has room for 640 × 400 px.
#[tokio::test]
async fn text_of_twice_the_size_loses_nothing() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let project = demo(&browser, &app).await?;
    let bench = Workbench::at(&browser);
    browser.resize(640, 400).await?;
    for (view, ready) in VIEWS {
        browser.go(&format!("{project}{view}")).await?;
        browser.wait_for(ready).await?;
        let wide = bench.script("return document.documentElement.scrollWidth").await?;
        assert!(wide.as_f64() <= Some(640.0), "{view}: {wide} px wide");
        // Words are not cut off: what hides its overflow holds what it says, or shows it in a title.
        let cut = "return [...document.querySelectorAll('main button, main label, main h1, main h2, main h3')].filter((e) => {
            const style = getComputedStyle(e);
            return e.checkVisibility() && style.overflow !== 'visible' && e.scrollWidth > e.clientWidth + 1 && e.clientWidth > 0 && !e.title && !e.closest('[title]');
        }).map((e) => e.textContent)";
        assert_eq!(bench.script(cut).await?, json!([]), "{view}");
    }
    browser.quit().await
}

/// Forced colours (CSS Color Adjustment 1): what is looked at keeps its colours, what is chosen is outlined.
#[tokio::test]
async fn forced_colours_leave_the_work_as_it_is() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.settle().await?;
    let colours = "return [...document.querySelectorAll('[data-colour]')].map((e) => getComputedStyle(e).backgroundColor)";
    let (before, stage) = (bench.script(colours).await?, bench.stage().await?);
    assert!(before.as_array().is_some_and(|colours| colours.len() > 3), "{before}");
    let forced = json!({"features": [{"name": "forced-colors", "value": "active"}]});
    browser.driver.cdp().send_raw("Emulation.setEmulatedMedia", forced).await?;
    browser.quiet().await?;
    assert_eq!(bench.script(colours).await?, before);
    assert_eq!(bench.stage().await?, stage);
    let chosen = "return getComputedStyle(document.querySelector('[aria-label=Pieces] [aria-pressed=true]')).outlineStyle";
    assert_eq!(bench.script(chosen).await?, json!("solid"));
    let unframed = "return [...document.querySelectorAll('[aria-label=Pieces] img, canvas')].filter((e) => getComputedStyle(e).display === 'none').length";
    assert_eq!(bench.script(unframed).await?, json!(0));
    browser.quit().await
}

const FOCUSED: &str = "return document.activeElement === document.body ? 'nothing' : document.activeElement.getAttribute('aria-label') || document.activeElement.textContent.trim()";

#[tokio::test]
async fn focus_is_kept_where_something_is_removed_moved_or_closed() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let coats = json!([
        drop_shadow("One", 2.0, json!({})),
        drop_shadow("Two", 6.0, json!({})),
        drop_shadow("Three", 12.0, json!({}))
    ]);
    let pieces = json!([
        piece("Card", box_of(200.0, 120.0), (60.0, 60.0), coats),
        piece("Chip", box_of(80.0, 40.0), (400.0, 60.0), json!([]))
    ]);
    let plain = Plain::open(&app, &browser, &project("Focus", pieces, json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Open Two").await?;
    // Moved by its menu, without a drag (SC 2.5.7).
    bench.choose_in("More", "Move up").await?;
    plain.holds("/scenes/0/pieces/0/wear/coats/0/id", json!("Two")).await?;
    assert_eq!(bench.script(FOCUSED).await?, "More", "the menu that moved it");
    bench.choose_in("More", "Move down").await?;
    plain.holds("/scenes/0/pieces/0/wear/coats/1/id", json!("Two")).await?;
    bench.choose_in("More", "Remove").await?;
    browser.wait_for("document.activeElement !== document.body").await?;
    assert_eq!(bench.script(FOCUSED).await?, "Open Three", "what stands in its place");
    // A panel gives the focus back to what opened it.
    bench.click_named("Add a coat: under it").await?;
    browser.wait_for("document.querySelector('.mantine-Popover-dropdown img')").await?;
    bench.press(Key::Escape + "").await?;
    browser.wait_for("!document.querySelector('.mantine-Popover-dropdown') && document.activeElement !== document.body").await?;
    assert_eq!(bench.script(FOCUSED).await?, "Add a coat: under it");
    // A piece that is removed from the shelf, which a slow machine draws anew long after.
    browser.driver.cdp().send_raw("Emulation.setCPUThrottlingRate", json!({"rate": 8})).await?;
    bench.script("document.querySelector('[aria-label=Pieces] [aria-pressed=true]').focus()").await?;
    bench.press(Key::Delete + "").await?;
    browser.wait_for("document.querySelectorAll('[aria-label=Pieces] [title]').length < 3 && document.activeElement.tabIndex >= 0").await?;
    let chip = bench.script("return document.activeElement.outerHTML.slice(0, 200)").await?;
    assert_eq!(bench.script(FOCUSED).await?, "Chip", "{chip}");
    browser.quit().await
}

/// That work is saved is said once, and not after every keystroke (SC 4.1.3).
#[tokio::test]
async fn that_it_is_saved_is_said_once() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Said", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    browser.wait_for("[...document.querySelectorAll('header [role=status], [role=status]')].some((e) => e.textContent === 'Saved')").await?;
    bench.script("window.said = []; for (const e of document.querySelectorAll('[role=status]')) new MutationObserver(() => said.push(e.textContent)).observe(e, { childList: true, characterData: true, subtree: true })").await?;
    bench.click_named("Open Soft").await?;
    for blur in ["13", "14", "15"] {
        bench.type_number("Blur", blur).await?;
        bench.settle().await?;
    }
    tokio::time::sleep(std::time::Duration::from_millis(1800)).await;
    assert_eq!(bench.script("return said").await?, json!([]), "nothing has gone wrong meanwhile");
    browser.quit().await
}

/// Reduced motion: nothing moves by itself (SC 2.3.3; Media Queries 5, "prefers-reduced-motion").
#[tokio::test]
async fn reduced_motion_moves_nothing() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let reduced = json!({"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]});
    browser.driver.cdp().send_raw("Emulation.setEmulatedMedia", reduced).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.click_named("All coats").await?;
    bench.click_named("Start from").await?;
    let moving = "return document.getAnimations().filter((a) => a.playState === 'running' && a.effect.getComputedTiming().duration > 1).length";
    assert_eq!(bench.script(moving).await?, json!(0));
    browser.quit().await
}

/// The bench's parts are resized by clicks on their edges, which drag nothing (SC 2.5.7).
#[tokio::test]
async fn parts_are_resized_without_a_drag() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Parts", card_and_chip(), json!({}))).await?;
    for (orientation, part) in [("horizontal", "width"), ("vertical", "height")] {
        let measure = format!(
            "const edge = document.querySelector('[role=separator][aria-orientation={orientation}]'); \
             const part = '{part}' === 'width' ? edge.previousElementSibling : edge.nextElementSibling; \
             return part.getBoundingClientRect().{part}"
        );
        let mut sizes = vec![plain.bench.script(&measure).await?.as_f64().unwrap_or_default()];
        for _ in 0..2 {
            let edge = format!("[role=separator][aria-orientation={orientation}]");
            browser.click(&By::Css(&edge)).await?;
            sizes.push(plain.bench.script(&measure).await?.as_f64().unwrap_or_default());
        }
        assert!(sizes.windows(2).all(|pair| pair[1] > pair[0] + 20.0), "{part}: {sizes:?}");
    }
    browser.quit().await
}

/// Measuring, picking and setting points by keys alone (SC 2.1.1), and measuring by two clicks (SC 2.5.7).
#[tokio::test]
async fn tools_of_the_stage_need_no_drag_and_no_pointer() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let plain = Plain::open(&app, &browser, &project("Tools", card_and_chip(), json!({}))).await?;
    let bench = &plain.bench;
    bench.click_named("Measure").await?;
    bench.press(" ").await?;
    for _ in 0..3 {
        browser
            .driver
            .action_chain()
            .key_down(Key::Shift)
            .send_keys(Key::Right + "")
            .key_up(Key::Shift)
            .perform()
            .await?;
    }
    bench.press(Key::Down + "").await?;
    bench.press(" ").await?;
    let told = bench.script("return document.querySelector('[aria-label=Stage] output').textContent").await?;
    assert!(told.as_str().is_some_and(|told| told.contains("30") && told.contains('1')), "{told}");
    let stage = browser.driver.find(By::Css("[aria-label=Stage] canvas")).await?;
    for (x, y) in [(-100, -40), (-60, -40)] {
        browser.driver.action_chain().move_to_element_with_offset(&stage, x, y).click().perform().await?;
    }
    let told = bench.script("return document.querySelector('[aria-label=Stage] output').textContent").await?;
    let scale = bench
        .script("return document.querySelector('[data-width]').getBoundingClientRect().width / 600")
        .await?;
    let across = (40.0 / scale.as_f64().unwrap() * 10.0).round() / 10.0;
    assert!(told.as_str().is_some_and(|told| told.contains(&across.to_string())), "{told}, not {across}");
    bench.press(Key::Escape + "").await?;

    bench.click_named("Pick colour").await?;
    bench.press(" ").await?;
    browser.wait_for("document.querySelector('[aria-label=\"Copy #e8e4da\"]')").await?;
    bench.press(Key::Escape + "").await?;

    bench.choose_in("Add piece", "Path, drawn point by point").await?;
    browser.quiet().await?;
    for (key, times) in [(Key::Right, 4), (Key::Down, 3), (Key::Left, 5)] {
        bench.press(" ").await?;
        for _ in 0..times {
            browser
                .driver
                .action_chain()
                .key_down(Key::Shift)
                .send_keys(key.clone() + "")
                .key_up(Key::Shift)
                .perform()
                .await?;
        }
    }
    bench.click_named("Smooth last point").await?;
    bench.click_named("Close the path").await?;
    plain.holds("/scenes/0/pieces/2/shape/kind", json!("path")).await?;
    let d = plain.document().await?.pointer("/scenes/0/pieces/2/shape/d").cloned().unwrap_or_default();
    assert!(d.as_str().is_some_and(|d| d.contains('C')), "the last point is smooth: {d}");
    browser.quit().await
}

/// A falloff by numbers: no point has to be dragged (SC 2.5.7).
#[tokio::test]
async fn a_falloff_is_made_by_numbers() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let falloff = json!({"falloff": {"points": [{"from": 0.0, "to": 0.0}, {"from": 1.0, "to": 1.0}]}});
    let pieces = json!([piece(
        "Card",
        box_of(200.0, 120.0),
        (60.0, 60.0),
        json!([drop_shadow("Soft", 8.0, falloff)])
    )]);
    let plain = Plain::open(&app, &browser, &project("Falloff", pieces, json!({}))).await?;
    let bench = &plain.bench;
    bench.choose("Card").await?;
    bench.click_named("Open Soft").await?;
    bench.unfold().await?;
    bench.click_named("Add point").await?;
    let points = "/scenes/0/pieces/0/wear/coats/0/falloff/points";
    plain.holds(&format!("{points}/1/from"), json!(0.5)).await?;
    let field = bench.named("Drawn at point 2").await?;
    field.send_keys(Key::Control + "a").await?;
    field.send_keys("80").await?;
    field.send_keys(Key::Enter + "").await?;
    plain.holds(&format!("{points}/1/to"), json!(0.8)).await?;
    bench.click_named("Remove point").await?;
    plain.holds(&format!("{points}/2"), Value::Null).await?;
    browser.quit().await
}

/// What a screen reader has of a page, one line each: role, name, value.
async fn heard(browser: &Browser) -> Outcome<Vec<String>> {
    let cdp = browser.driver.cdp();
    cdp.send_raw("Accessibility.enable", json!({})).await?;
    let tree = cdp.send_raw("Accessibility.getFullAXTree", json!({})).await?;
    let nodes = tree["nodes"].as_array().ok_or("no tree")?;
    let text = |node: &Value, field: &str| match &node[field]["value"] {
        Value::String(text) => text.trim().to_owned(),
        Value::Number(number) => number.to_string(),
        _ => String::new(),
    };
    let plain = ["StaticText", "InlineTextBox", "generic", "none", "LineBreak", "RootWebArea"];
    let line = |node: &Value| {
        let role = text(node, "role");
        let quiet = node["ignored"] == json!(true) || plain.contains(&role.as_str());
        let said = format!("{role}: {} {}", text(node, "name"), text(node, "value"));
        (!quiet).then(|| said.trim().to_owned())
    };
    Ok(nodes.iter().filter_map(line).collect())
}

/// The bench to a screen reader (SC 1.3.1, 2.4.6, 4.1.2): landmarks and regions by name, the scene in words, every control with
/// a name, every slider with a value that says what it is.
#[tokio::test]
async fn the_bench_reads_like_a_page() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Open valve box").await?;
    bench.click_named("Open Its own colour on the panel").await?;
    bench.settle().await?;
    let heard = heard(&browser).await?;
    if let Some(file) = std::env::var_os("ZOLVET_KEEP_HEARD") {
        std::fs::write(file, heard.join("\n"))?;
    }
    let count = |start: &str| heard.iter().filter(|line| line.starts_with(start)).count();
    assert_eq!(count("main:"), 1);
    for region in ["Scene", "Stack", "Stage", "Light", "Pieces", "Edge profile", "Visibility", "Read-out"] {
        assert_eq!(count(&format!("region: {region}")), 1, "{region} in {heard:#?}");
    }
    let controls = [
        "button:",
        "link:",
        "textbox:",
        "combobox:",
        "slider:",
        "switch:",
        "checkbox:",
        "radio:",
        "spinbutton:",
        "menuitem:",
        "img:",
        "image:",
    ];
    let nameless: Vec<&String> = heard.iter().filter(|line| controls.contains(&line.trim())).collect();
    let bare = bench.script("return [...document.querySelectorAll('svg:not([aria-hidden]):not([role])')].map((e) => e.parentElement.outerHTML.slice(0, 160))").await?;
    assert!(nameless.is_empty(), "{nameless:?} {bare}");
    let stage = heard.iter().find(|line| {
        line.contains("Kiosk panel:")
            || line.starts_with("img: Kiosk panel")
            || line.starts_with("image: Kiosk panel")
    });
    assert!(stage.is_some_and(|line| line.contains("Open valve")), "{heard:#?}");
    let valueless = "return [...document.querySelectorAll('[role=slider]')].filter((e) => !e.getAttribute('aria-valuetext') && e.getAttribute('aria-valuenow') === null).map((e) => e.getAttribute('aria-label'))";
    assert_eq!(bench.script(valueless).await?, json!([]));
    assert!(heard.iter().any(|line| line.starts_with("heading: Open valve")), "{heard:#?}");
    browser.quit().await
}
