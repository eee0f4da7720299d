//! Pages of somebody's own: elements are given depth where they live, and nothing in a page gets out (docs/pages.md).

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::net::TcpListener;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{drop_shadow, project};
use zolvet_e2e::{App, Browser, Outcome};
use zolvet_store::Store;

const PLOTS: &str = r#"<!doctype html><html lang="en"><title>Plots</title><style>
    body { margin: 0; background: #f3f0e6; font: 16px sans-serif } main { padding: 40px; display: grid; grid-template-columns: 1fr 1fr; gap: 40px }
    .card { height: 120px; border-radius: 12px; background: #fff; box-shadow: 0 1px 2px #0003 } button.primary { transition: all 1s; border: 0 }
    </style><body><header><button class="primary">Book</button> <a href="/elsewhere">Elsewhere</a></header>
    <main><article class="card">One</article><article class="card">Two</article><article class="card">Three</article></main>"#;

/// Opens the view of a page in a project that is made for it, and gives the address of its frame. The page stands in the document as
/// it is.
async fn opened(app: &App, browser: &Browser, html: &str) -> Outcome<String> {
    let asset = Store::asset_id(html.as_bytes());
    let coats =
        json!([drop_shadow("d", 6.0, json!({"blur": 14})), drop_shadow("e", 1.0, json!({"blur": 2}))]);
    let more = json!({
        "finishes": [{"id": "up", "name": "Lifted", "coats": coats}],
        "assets": [{"id": asset, "name": "Plots", "media_type": "text/html", "data": STANDARD.encode(html)}],
    });
    let mut document = project("Pages", json!([]), more);
    let theme = document["themes"][0]["id"].clone();
    document["scenes"]
        .as_array_mut()
        .unwrap()
        .push(json!({"id": "own", "name": "Plots", "width": 1280, "height": 800, "theme": theme,
        "ground": {"kind": "none"}, "pieces": [], "page": {"asset": asset}}));
    let made =
        reqwest::Client::new().post(format!("{}/api/projects", app.address)).json(&document).send().await?;
    let made: Value = made.json().await?;
    let id = made["id"].as_str().ok_or_else(|| made.to_string())?;
    browser.go(&format!("{}/projects/{id}/page", app.address)).await?;
    browser.wait_for(&format!("{FRAME}?.contentDocument?.querySelector('style[data-zolvet=calm]')")).await?;
    Ok(format!("/api/pages/{asset}"))
}

const FRAME: &str = "document.querySelector('iframe')";

/// Presses the middle of the first element of the page that a selector selects.
async fn press(browser: &Browser, selector: &str) -> Outcome {
    let place = format!(
        "const frame = {FRAME}; const at = frame.getBoundingClientRect(); const scale = at.width / frame.offsetWidth;
         const box = frame.contentDocument.querySelector({selector:?}).getBoundingClientRect();
         return [at.left + (box.left + box.width / 2) * scale, at.top + (box.top + box.height / 2) * scale]"
    );
    let place = browser.driver.execute(place, vec![]).await?.json().clone();
    let at = |axis: usize| place[axis].as_f64().unwrap().round() as i64;
    Ok(browser.driver.action_chain().move_to(at(0), at(1)).click().perform().await?)
}

async fn said(browser: &Browser, script: &str) -> Outcome<Value> {
    Ok(browser.driver.execute(format!("return {script}"), vec![]).await?.json().clone())
}

/// The computed shadows of the cards, in a document.
const SHADOWS: &str =
    "[...PAGE.querySelectorAll('.card')].map((card) => PAGE.defaultView.getComputedStyle(card).boxShadow)";

/// All cards get a finish in three gestures; a page that loads the sheet after its own looks the same.
#[tokio::test]
async fn all_cards_are_raised_and_the_sheet_does_it_again() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    opened(&app, &browser, PLOTS).await?;
    let frame = format!("{FRAME}.contentDocument");
    let before = said(&browser, &SHADOWS.replace("PAGE", &frame)).await?;
    press(&browser, ".card").await?;
    browser.wait_for("document.querySelector('input[type=radio]:checked')?.value === '.card'").await?;
    browser.click(&By::XPath("//button[. = 'Lifted']")).await?;
    let shadows = SHADOWS.replace("PAGE", &frame);
    browser.wait_for(&format!("{shadows}.every((shadow) => shadow.includes('14px'))")).await?;
    let shown = said(&browser, &shadows).await?;
    assert_ne!(before, shown);
    browser.wait_for("document.querySelector('[aria-label=\"Sheet for the page\"] pre')?.textContent.includes('box-shadow')").await?;
    let sheet =
        said(&browser, "document.querySelector('[aria-label=\"Sheet for the page\"] pre').textContent")
            .await?;
    let sheet = sheet.as_str().unwrap();
    assert!(
        sheet.contains(".card {") && !sheet.contains("background") && !sheet.contains("width"),
        "{sheet}"
    );
    let page = tempfile::tempdir()?;
    let file = page.path().join("plots.html");
    std::fs::write(&file, PLOTS.replace("</style>", &format!("</style><style>{sheet}</style>")))?;
    browser.go(&format!("file://{}", file.display())).await?;
    assert_eq!(said(&browser, &SHADOWS.replace("PAGE", "document")).await?, shown);
    browser.end().await
}

/// By keys alone, from *Projects* to the copied sheet; the file is chosen as its dialog does.
#[tokio::test]
async fn all_cards_are_raised_by_keys() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    browser.go(&format!("{}/", app.address)).await?;
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("plots.html");
    std::fs::write(&file, PLOTS)?;
    let press = |keys: TypingData| async { browser.driver.action_chain().send_keys(keys).perform().await };
    browser.wait_for("document.querySelector('main button')").await?;
    let active = "document.activeElement?.textContent";
    let mut tabs = 0;
    while said(&browser, active).await? != json!("Page (HTML)") {
        press(Key::Tab + "").await?;
        tabs += 1;
        assert!(tabs < 12, "it is reached from the top of the page");
    }
    let chosen = By::Css("input[type=file][aria-label='File: Page (HTML)']");
    browser.driver.find(chosen).await?.send_keys(file.display().to_string()).await?;
    browser.wait_for(&format!("{FRAME}?.contentDocument?.querySelector('style[data-zolvet=calm]')")).await?;
    browser.wait_for(&format!("document.activeElement === {FRAME}")).await?;
    for key in [Key::Down, Key::Down, Key::Right, Key::Enter] {
        press(key + "").await?;
    }
    browser.wait_for("document.activeElement?.value === '.card' && document.activeElement.checked").await?;
    tabs = 0;
    while said(&browser, active).await? != json!("Two-part shadow") {
        press(Key::Tab + "").await?;
        tabs += 1;
        assert!(tabs < 6, "finishes follow the selectors");
    }
    press(Key::Enter + "").await?;
    let shadows = SHADOWS.replace("PAGE", &format!("{FRAME}.contentDocument"));
    browser.wait_for(&format!("{shadows}.every((shadow) => shadow.includes('24px'))")).await?;
    browser.wait_for("document.querySelector('[aria-label=\"Sheet for the page\"] pre')?.textContent.includes('.card')").await?;
    browser.wait_for(&format!("document.activeElement === {FRAME}")).await?;
    let keep = format!(
        "{FRAME}.contentDocument.addEventListener('copy', (event) => {{ window.copied = event.clipboardData.getData('text/plain') }})"
    );
    browser.driver.execute(keep, vec![]).await?;
    browser
        .driver
        .action_chain()
        .key_down(Key::Control)
        .send_keys("c")
        .key_up(Key::Control)
        .perform()
        .await?;
    browser.wait_for("window.copied?.includes('.card {') && window.copied.includes('box-shadow')").await?;
    browser.end().await
}

/// Drops a file with this name and content on the page that is open.
async fn drop_file(browser: &Browser, name: &str, content: &str) -> Outcome {
    let script = "const brought = new DataTransfer(); brought.items.add(new File([arguments[1]], arguments[0]));
        document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: brought, bubbles: true, cancelable: true }))";
    browser.driver.execute(script, vec![json!(name), json!(content)]).await?;
    Ok(())
}

/// A page is dropped on *Projects* and on its view, and its markup is pasted: each is a page of its own, named after what it is.
#[tokio::test]
async fn a_page_comes_in_by_every_way() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    browser.go(&format!("{}/", app.address)).await?;
    browser.wait_for("document.querySelector('main button')").await?;
    drop_file(&browser, "plots.html", PLOTS).await?;
    let card = format!("{FRAME}?.contentDocument?.querySelector('.card')");
    browser.wait_for(&card).await?;
    let named = |name: &str| format!("{FRAME}?.title === '{name}, as this browser draws it'");
    browser.wait_for(&named("Plots")).await?;
    drop_file(&browser, "seeds.html", "<title>Seeds</title><p class=seed>Beans").await?;
    browser.wait_for(&named("Seeds")).await?;
    browser.wait_for(&format!("{FRAME}?.contentDocument?.querySelector('.seed')")).await?;
    browser.click(&By::XPath("//section[@aria-label='Scene']//button[contains(., 'Seeds')]")).await?;
    browser.click(&By::XPath("//*[@role='menuitem'][. = 'Paste markup…']")).await?;
    browser.type_over(&By::Css("[role=dialog] textarea"), "<aside class=tip>Water early</aside>").await?;
    browser
        .type_over(
            &By::XPath("(//*[@role='dialog']//textarea[not(@aria-hidden)])[2]"),
            ".tip { width: 333px }",
        )
        .await?;
    browser.click(&By::XPath("//button[. = 'Make a page of it']")).await?;
    browser.wait_for(&named("Pasted page")).await?;
    browser
        .wait_for(&format!("{FRAME}?.contentDocument?.querySelector('.tip')?.offsetWidth === 333"))
        .await?;
    browser.end().await
}

/// Every selector is listed with the element before and after, in pictures by this browser and as CSS.
#[tokio::test]
async fn what_changes_is_seen() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    opened(&app, &browser, PLOTS).await?;
    for selector in [".card", "button.primary"] {
        press(&browser, selector).await?;
        browser.click(&By::XPath("//button[. = 'Lifted']")).await?;
        browser
            .wait_for("document.querySelector('[aria-label=\"On this page\"] [aria-pressed=true]')")
            .await?;
    }
    browser.wait_for("document.querySelector('[aria-label=\"Sheet for the page\"] pre')?.textContent.includes('.primary')").await?;
    browser.click(&By::XPath("//button[. = 'What changes']")).await?;
    let pictures = "[...document.querySelectorAll('[role=dialog] iframe')]";
    browser
        .wait_for(&format!(
            "{pictures}.length === 4 && {pictures}.every((one) => one.style.visibility === 'visible')"
        ))
        .await?;
    let shown = said(
        &browser,
        &format!("{pictures}.map((one) => {{ const page = one.contentDocument;
            const place = one.parentElement.getBoundingClientRect(); const scale = one.getBoundingClientRect().width / one.offsetWidth;
            const element = page.querySelector(one.title.split(',')[0]); const box = element.getBoundingClientRect(); const at = one.getBoundingClientRect();
            const inside = at.left + box.left * scale >= place.left && at.left + box.right * scale <= place.right + 1
                && at.top + box.top * scale >= place.top && at.top + box.bottom * scale <= place.bottom + 1;
            return [one.title, page.defaultView.getComputedStyle(element).boxShadow.includes('14px'), inside] }})"),
    )
    .await?;
    let expected = json!([
        [".card, Before", false, true],
        [".card, After", true, true],
        [".primary, Before", false, true],
        [".primary, After", true, true]
    ]);
    assert_eq!(shown, expected);
    let said_of = said(
        &browser,
        "[...document.querySelectorAll('[role=dialog] figcaption')].map((one) => one.textContent)",
    )
    .await?;
    assert!(
        said_of[0].as_str().unwrap().contains("0px 1px 2px") && said_of[1].as_str().unwrap().contains("14px"),
        "{said_of}"
    );
    browser.end().await
}

/// In a layer the sheet loses against rules of the page in none: that is said, and the form that wins is a press away.
#[tokio::test]
async fn a_layer_that_loses_is_told() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    opened(&app, &browser, PLOTS).await?;
    press(&browser, ".card").await?;
    browser.click(&By::XPath("//button[. = 'Lifted']")).await?;
    let sheet = "document.querySelector('[aria-label=\"Sheet for the page\"]')";
    browser.wait_for(&format!("{sheet}.textContent.includes('box-shadow')")).await?;
    browser.type_over(&By::Css("[aria-label='Cascade layer of the sheet']"), "depth").await?;
    browser.wait_for(&format!("{sheet}.textContent.includes('@layer depth')")).await?;
    browser
        .wait_for(&format!("{sheet}.querySelector('[role=status]')?.textContent.includes('.card')"))
        .await?;
    browser.click(&By::XPath("//button[. = 'Write !important']")).await?;
    browser
        .wait_for(&format!(
            "!{sheet}.querySelector('[role=status]') && {sheet}.textContent.includes('!important')"
        ))
        .await?;
    let text = said(&browser, &format!("{sheet}.querySelector('pre').textContent")).await?;
    let page = tempfile::tempdir()?;
    let file = page.path().join("plots.html");
    std::fs::write(
        &file,
        PLOTS.replace("</style>", &format!("</style><style>{}</style>", text.as_str().unwrap())),
    )?;
    browser.go(&format!("file://{}", file.display())).await?;
    let shadows = said(&browser, &SHADOWS.replace("PAGE", "document")).await?;
    assert!(
        shadows.as_array().unwrap().iter().all(|shadow| shadow.as_str().unwrap().contains("14px")),
        "{shadows}"
    );
    browser.end().await
}

/// A finding about an element leads to it, on its page.
#[tokio::test]
async fn a_finding_leads_to_its_element() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let faint =
        PLOTS.replace("</style>", ".primary { color: #bbb; background: #fff; margin-top: 1800px }</style>");
    opened(&app, &browser, &faint).await?;
    browser.driver.execute(format!("{FRAME}.contentDocument.defaultView.scrollTo(0, 1600)"), vec![]).await?;
    press(&browser, "button.primary").await?;
    browser.click(&By::XPath("//button[. = 'Lifted']")).await?;
    browser.click(&By::XPath("//nav//a[contains(., 'Check')]")).await?;
    browser.click(&By::XPath("//*[contains(., 'text contrast') and (self::button or @role='button')] | //li//button[contains(., 'text contrast')]")).await?;
    browser.click(&By::XPath("//a[. = 'Open the piece']")).await?;
    browser.wait_for("location.pathname.endsWith('/page')").await?;
    let seen = format!(
        "(() => {{ const box = {FRAME}?.contentDocument?.querySelector('.primary')?.getBoundingClientRect(); return box && box.top > 0 && box.bottom < {FRAME}.offsetHeight }})()"
    );
    browser.wait_for(&seen).await?;
    browser.wait_for("document.querySelector('[aria-label=\"On this page\"] [aria-pressed=true]')?.textContent.includes('.primary')").await?;
    browser.end().await
}

/// A state is shown by choice, an own shadow stays by choice, and holding shows the page as it came.
#[tokio::test]
async fn own_shadows_stay_by_choice() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    opened(&app, &browser, PLOTS).await?;
    press(&browser, ".card").await?;
    browser.click(&By::XPath("//button[. = 'Lifted']")).await?;
    let shadows = SHADOWS.replace("PAGE", &format!("{FRAME}.contentDocument"));
    browser.wait_for(&format!("{shadows}.every((shadow) => shadow.split('rgb').length === 3)")).await?;
    let choose = "const select = document.querySelector('[aria-label=\"Its own shadows\"]');
        Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, 'keeps');
        select.dispatchEvent(new Event('change', { bubbles: true }))";
    browser.driver.execute(choose, vec![]).await?;
    browser.wait_for(&format!("{shadows}.every((shadow) => shadow.split('rgb').length === 4)")).await?;
    browser.end().await
}

/// Counts who comes.
fn outside() -> (u16, Arc<AtomicUsize>) {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let port = listener.local_addr().unwrap().port();
    let came = Arc::new(AtomicUsize::new(0));
    let counted = Arc::clone(&came);
    std::thread::spawn(move || {
        for _ in listener.incoming() {
            counted.fetch_add(1, Ordering::SeqCst);
        }
    });
    (port, came)
}

/// Whatever a page holds that never went through our reader: it runs nothing, reaches nobody, and stays in its frame.
#[tokio::test]
async fn nothing_in_a_page_gets_out() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let (port, came) = outside();
    let hostile = include_str!("pages/hostile.html").replace("OUTSIDE", &format!("127.0.0.1:{port}"));
    let frame = opened(&app, &browser, &hostile).await?;
    for selector in ["#out", "#script", "#send", "#self", "#download"] {
        press(&browser, selector).await?;
    }
    tokio::time::sleep(Duration::from_secs(2)).await;
    assert_eq!(came.load(Ordering::SeqCst), 0, "somebody outside was asked");
    let place = said(&browser, &format!("{FRAME}.contentWindow.location.pathname")).await?;
    assert_eq!(place, frame.as_str());
    let loaded =
        format!("{FRAME}.contentWindow.performance.getEntriesByType('resource').map(({{ name }}) => name)");
    let loaded = said(&browser, &loaded).await?;
    let outward: Vec<&str> = loaded
        .as_array()
        .unwrap()
        .iter()
        .filter_map(Value::as_str)
        .filter(|name| !name.starts_with("data:"))
        .collect();
    assert_eq!(outward, [""; 0]);
    let ran = "[window.ran, document.title.includes('ran'), localStorage.getItem('ran'), navigator.serviceWorker ? (await navigator.serviceWorker.getRegistrations()).length : 0]";
    let ran = browser
        .driver
        .execute_async(format!("const done = arguments[0]; (async () => done({ran}))()"), vec![])
        .await?;
    assert_eq!(*ran.json(), json!([null, false, null, 0]));
    browser.end().await
}

/// The frame alone, opened as a page of its own, runs nothing either; and the policy stands in its header.
#[tokio::test]
async fn the_frame_has_its_policy_wherever_it_is_opened() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let frame =
        opened(&app, &browser, "<script>document.title = 'ran'</script><p onclick=alert(1)>x</p>").await?;
    let answer = reqwest::get(format!("{}{frame}", app.address)).await?;
    let policy = answer.headers()["content-security-policy"].to_str()?.to_owned();
    assert!(
        policy.starts_with("default-src 'none'") && policy.ends_with("sandbox allow-same-origin"),
        "{policy}"
    );
    let text = answer.text().await?;
    assert!(!text.contains("script") && !text.contains("onclick"), "{text}");
    browser.go(&format!("{}{frame}", app.address)).await?;
    assert_ne!(said(&browser, "document.title").await?, "ran");
    browser.end().await
}
