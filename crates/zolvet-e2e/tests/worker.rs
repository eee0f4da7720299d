//! The core in a worker of the page: it answers, byte for byte, what the service answers; it draws without the service, and an
//! open project goes on when that is away.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use proptest::strategy::{Strategy as _, ValueTree as _};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use serde_json::{Value, json};
use thirtyfour::{By, Key};
use zolvet_core::model::Project;
use zolvet_core::picture::Picture;
use zolvet_e2e::plain::{Plain, box_of, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};
use zolvet_samples::questions::right;
use zolvet_samples::{any, library, star};

/// Asks the same of a core in the page and of the service; says what is not answered alike.
const BOTH: &str = "
const [questions] = arguments; const done = arguments[arguments.length - 1];
(async () => {
  if (!window.core) {
    window.core = (await WebAssembly.instantiateStreaming(fetch('/core.wasm'))).instance.exports;
    core.zolvet_start(64 << 20);
  }
  const text = new TextEncoder();
  const put = (first, second) => {
    const room = core.zolvet_room(first.length + second.length);
    const memory = new Uint8Array(core.memory.buffer, room);
    memory.set(first); memory.set(second, first.length);
  };
  const answered = () => new Uint8Array(core.memory.buffer, core.zolvet_answer(), core.zolvet_answer_bytes());
  const ask = (path, body) => {
    const [a, b] = [text.encode(path), text.encode(body)];
    put(a, b);
    return core.zolvet_ask(a.length, b.length);
  };
  const differing = []; let bytes = 0;
  for (const [path, question] of questions) {
    const body = JSON.stringify(question);
    const response = await fetch(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
    const service = new Uint8Array(await response.arrayBuffer());
    let status = ask(path, body);
    if (status === 424) {
      for (const id of JSON.parse(new TextDecoder().decode(answered()))) {
        const file = await fetch('/api/assets/' + id);
        const name = text.encode(id);
        put(name, new Uint8Array(file.ok ? await file.arrayBuffer() : 0));
        core.zolvet_file(name.length);
      }
      status = ask(path, body);
    }
    const worker = answered();
    bytes += worker.length;
    const same = status === response.status && worker.length === service.length && worker.every((byte, i) => byte === service[i]);
    if (!same) {
      const first = Math.max(0, worker.findIndex((byte, i) => byte !== service[i]) - 80);
      const said = (found) => new TextDecoder().decode(found.slice(first, first + 300));
      differing.push({ path, question: body.slice(0, 3000), status: [status, response.status], worker: said(worker), service: said(service) });
    }
  }
  done({ differing, bytes });
})().catch((error) => done({ failed: String(error) }));";

async fn hold_together(browser: &Browser, questions: &[Value]) -> Outcome {
    let answer = browser.driver.execute_async(BOTH, vec![json!(questions)]).await?;
    let answer = answer.json();
    assert_eq!(answer["failed"], Value::Null, "{answer}");
    assert_eq!(answer["differing"], json!([]), "{answer:#}");
    assert!(
        answer["bytes"].as_u64().unwrap() > 1000 * questions.len() as u64 / 10,
        "hardly anything was answered"
    );
    Ok(())
}

/// What is asked about a document: each scene's picture, how its pieces are seen, their reports and code, and what is exported.
fn questions(document: &Value) -> Vec<Value> {
    let mut asked = Vec::new();
    for scene in document["scenes"].as_array().unwrap() {
        let about = json!({"project": document, "scene": scene["id"]});
        let with = |more: Value| {
            let mut question = about.clone();
            question.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
            question
        };
        for scale in [0.93, 2.0] {
            asked.push(json!(["/api/stage", with(json!({"scale": scale, "number": 1}))]));
        }
        asked.push(json!(["/api/stage", with(json!({"number": 1, "as_browser": true}))]));
        for path in ["/api/boxes", "/api/scene-code", "/api/sights"] {
            asked.push(json!([path, about]));
        }
        for piece in scene["pieces"].as_array().unwrap().iter().take(4) {
            asked.push(json!(["/api/resolve", with(json!({"piece": piece["id"]}))]));
        }
    }
    for format in ["css", "tokens"] {
        asked.push(json!(["/api/export", {"project": document, "format": format}]));
    }
    asked
}

/// The same questions about a project that is held: said whole the first time, and afterwards by what has changed.
fn held(questions: &[Value]) -> Vec<Value> {
    let project = &questions[0][1]["project"];
    let about = |(at, question): (usize, &Value)| {
        let mut question = question.clone();
        let version = at as u64 + 1;
        let said = if at == 0 {
            json!({"session": "held", "version": version, "document": project})
        } else {
            let name = json!({"op": "replace", "path": "/name", "value": format!("Version {version}")});
            json!({"session": "held", "version": version, "from": version - 1, "patch": [name]})
        };
        question[1]["project"] = said;
        question
    };
    let whole = questions.iter().filter(|question| question[1]["project"] == *project);
    whole.enumerate().map(about).collect()
}

/// A path with arcs that is turned, with a stroke whose joins are round: what a library computes with sines and cosines.
fn turned_arcs() -> Value {
    let stroke = star::coat(
        "edge",
        "stroke",
        json!({"width": 3, "side": "outside", "join": "round",
        "fill": {"kind": "solid", "colour": "#204030"}}),
    );
    let mut piece = star::star(json!([stroke, star::drop(7.0)]));
    piece["shape"]["d"] = json!("M20 90 A70 40 23 0 1 150 70 a31 47 -11 1 0 12 61 L40 160 Z");
    piece["rotation"] = json!(36.7);
    star::document(json!([piece]))
}

/// Documents as the generator of the core's tests makes them, that are valid.
fn random(count: usize) -> Vec<Value> {
    let config = Config { failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let (any, library) = (any::document(), library::document());
    let documents = (0..).map(|i| {
        let strategy = if i % 4 == 0 { &library } else { &any };
        strategy.new_tree(&mut runner).unwrap().current()
    });
    documents.filter(|document| Project::from_value(document).is_ok()).take(count).collect()
}

/// Every question there is, also about a project that is held; the scenes of the demo, and of a hundred random documents.
#[tokio::test]
async fn worker_and_service_answer_the_same() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let demo: Value = serde_json::from_str(include_str!("../../../demo/quillmere.zolvet.json"))?;
    for question in questions(&demo) {
        hold_together(&browser, &[question]).await?;
    }
    let right: Vec<Value> = right().into_iter().map(|(path, question)| json!([path, question])).collect();
    let scene = &demo["scenes"][0]["id"];
    let others = [
        json!(["/api/thumbnails", {"project": demo, "scene": scene}]),
        // Refusals are answers as well.
        json!(["/api/resolve", {"project": demo, "scene": scene, "piece": "none"}]),
        json!(["/api/boxes", {"project": {"schema": 2}, "scene": "a"}]),
        json!(["/api/boxes", {"project": {"session": "s", "version": 2, "from": 1, "patch": []}, "scene": "a"}]),
    ];
    hold_together(&browser, &right).await?;
    hold_together(&browser, &held(&right)).await?;
    hold_together(&browser, &others).await?;
    hold_together(&browser, &questions(&turned_arcs())).await?;
    for document in random(100) {
        hold_together(&browser, &questions(&document)).await?;
    }
    browser.quit().await
}

/// Requests that the page has sent to the service, but for those to save, for files, and for the findings, which it counts at rest.
const ASKED: &str =
    "return performance.getEntriesByType('resource').map(({ name }) => new URL(name).pathname)
  .filter((path) => path.startsWith('/api/') && !/^\\/api\\/(projects|assets|fonts|audit)/.test(path));";

#[tokio::test]
async fn a_worker_draws_and_the_service_is_not_asked() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.wait_worker().await?;
    bench.choose("Headline").await?;
    bench.settle().await?;
    browser.driver.execute("performance.clearResourceTimings()", Vec::new()).await?;
    let before = bench.stage().await?;
    browser.driver.execute("document.querySelector('[aria-label^=\"Open \"]').click()", Vec::new()).await?;
    bench.type_number("Blur", "31").await?;
    bench.stage_instead_of(&before).await?;
    assert!(bench.read_out().await?.contains("31px"), "{}", bench.read_out().await?);
    assert_eq!(bench.script(ASKED).await?, json!([]));
    // Pictures are drawn by is said, and may be chosen.
    bench.click_named("Shortcuts").await?;
    browser.wait_for("document.querySelector('[data-core=worker]')").await?;
    bench.click_named("The service").await?;
    browser.wait_for("document.querySelector('[role=dialog] [data-core=service]')").await?;
    browser.quit().await
}

/// What a slider is dragged to is on the stage and in the page while the pointer is still pressed, without a question to the
/// service; releasing it makes one step.
#[tokio::test]
async fn stage_and_page_follow_a_pressed_pointer() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.wait_worker().await?;
    bench.choose("Open valve box").await?;
    browser.click(&By::Css("[aria-label^='Open Its own colour']")).await?;
    bench.type_number("Blur", "20").await?;
    let before = settled(&bench).await?;
    browser.driver.execute("performance.clearResourceTimings()", Vec::new()).await?;
    let thumb = bench.script(THUMB).await?;
    let (x, y) = (thumb[0].as_i64().unwrap(), thumb[1].as_i64().unwrap());
    let mut drag = browser.driver.action_chain().move_to(x, y).click_and_hold();
    for _ in 0..12 {
        drag = drag.move_by_offset(2, 0);
    }
    drag.perform().await?;
    let held = settled(&bench).await?;
    let numbers = bench.script(NUMBERS).await?;
    let blur = numbers[0].as_str().unwrap().to_owned();
    assert!(blur.parse::<f64>().unwrap() > 21.0 && numbers[1] == numbers[0], "{numbers}");
    assert!(bench.read_out().await?.contains(&format!("{blur}px")), "{}", bench.read_out().await?);
    assert!(held != before);
    browser.driver.action_chain().release().perform().await?;
    assert!(settled(&bench).await? == held);
    assert_eq!(bench.script(ASKED).await?, json!([]));
    bench.chord("z").await?;
    assert!(settled(&bench).await? == before);
    assert_eq!(bench.script(NUMBERS).await?, json!(["20", "20"]));
    bench.type_number("Blur", &blur).await?;
    assert!(settled(&bench).await? == held);
    browser.quit().await
}

/// The slider of the blur and the field beside it.
const NUMBERS: &str = "const slider = document.querySelector('[aria-label=\"Blur, slider\"]');
  return [slider.value, slider.parentElement.querySelector('[inputmode]').value]";
/// Where the thumb of that slider is: half of it hangs over at either end.
const THUMB: &str = "const slider = document.querySelector('[aria-label=\"Blur, slider\"]');
  const { x, y, width, height } = slider.getBoundingClientRect();
  const share = (slider.value - slider.min) / (slider.max - slider.min);
  return [Math.round(x + 8 + (width - 16) * share), Math.round(y + height / 2)]";

/// Without the service, a project that is open is drawn, edited, read as code and exported; it is saved when the service is back.
#[tokio::test]
async fn an_open_project_goes_on_without_the_service() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.wait_worker().await?;
    bench.choose("Headline").await?;
    bench.settle().await?;
    app.kill();
    let before = bench.stage().await?;
    browser.driver.execute("document.querySelector('[aria-label^=\"Open \"]').click()", Vec::new()).await?;
    bench.type_number("Blur", "33").await?;
    bench.stage_instead_of(&before).await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre').textContent.includes('33px')")
        .await?;
    bench.click_named("Hand-off").await?;
    bench.click_named("Options").await?;
    bench.pick("Pieces", "Those of scenes, shadows only").await?;
    browser.wait_for("document.querySelector('main pre')?.textContent.includes('33px')").await?;
    app.start_again()?;
    browser.wait_for("document.querySelector('[data-state=saved]')").await?;
    let list: Value = reqwest::get(format!("{}/api/projects", app.address)).await?.json().await?;
    let stored = bench.stored(&app.address, list[0]["id"].as_str().unwrap()).await?;
    assert!(stored["document"].to_string().contains("\"blur\":33"), "what was changed meanwhile is saved");
    browser.quit().await
}

/// A page that asks the service goes on with another one that holds nothing of its project.
#[tokio::test]
async fn a_lost_session_is_made_anew() -> Outcome {
    let mut app = App::start()?;
    let browser = Browser::on(&app).await?;
    browser.drawn_by("service", &app.address).await?;
    let bench = Workbench::open(&browser, &app.address).await?;
    bench.choose("Headline").await?;
    bench.settle().await?;
    browser.driver.execute("document.querySelector('[aria-label^=\"Open \"]').click()", Vec::new()).await?;
    for blur in ["21", "35"] {
        let before = bench.stage().await?;
        bench.type_number("Blur", blur).await?;
        bench.stage_instead_of(&before).await?;
        bench.settle().await?;
        app.kill();
        app.start_again()?;
    }
    assert_ne!(bench.script(ASKED).await?, json!([]));
    browser.quit().await
}

/// What a worker paints by itself is what the service sends: of one view after another, moved, changed and undone, and of the
/// first one again, which comes back on the canvas that had it.
#[tokio::test]
async fn a_worker_paints_what_the_service_sends() -> Outcome {
    let mut pictures = Vec::new();
    for way in ["worker", "service"] {
        let app = App::start()?;
        let browser = Browser::start(1280, 800).await?;
        browser.drawn_by(way, &app.address).await?;
        let bench = Workbench::open(&browser, &app.address).await?;
        if way == "worker" {
            bench.wait_worker().await?;
        }
        bench.choose("Open valve box").await?;
        browser.click(&By::Css("[aria-label^='Open Its own colour']")).await?;
        bench.type_number("Blur", "31").await?;
        let mut seen = vec![settled(&bench).await?];
        for _ in 0..3 {
            bench.click_named("Zoom in").await?;
            seen.push(settled(&bench).await?);
        }
        // Four times as large, to where the piece ends below.
        let scroll = "document.querySelector('[data-room]').scrollTo(400, 1340)";
        browser.driver.execute(scroll, Vec::new()).await?;
        seen.push(settled(&bench).await?);
        bench.type_number("Blur", "9").await?;
        seen.push(settled(&bench).await?);
        bench.chord("z").await?;
        seen.push(settled(&bench).await?);
        browser.click(&By::Css("[aria-label=Zoom] option[value='0']")).await?;
        seen.push(settled(&bench).await?);
        let painted = bench.script("return document.querySelectorAll('canvas[data-leaf]').length").await?;
        assert_eq!(painted, json!(if way == "worker" { 2 } else { 0 }));
        pictures.push(seen);
        browser.quit().await?;
    }
    let [worker, service] = &pictures[..] else { panic!("two ways") };
    for (step, (a, b)) in worker.iter().zip(service).enumerate() {
        assert!(a == b, "step {step}: {} × {} and {} × {}", a.width, a.height, b.width, b.height);
    }
    let changed: Vec<bool> = worker.windows(2).map(|pair| pair[0] != pair[1]).collect();
    assert_eq!(changed, [true; 7]);
    assert!(worker[0] == worker[7] && worker[4] == worker[6]);
    Ok(())
}

async fn settled(bench: &Workbench<'_>) -> Outcome<Picture> {
    bench.settle().await?;
    bench.stage().await
}

/// What nobody waits for any more does not go on: the worker is ended and made anew, holds the project again, and answers.
#[tokio::test]
async fn what_nobody_waits_for_ends_with_its_worker() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    browser.drawn_by("worker", &app.address).await?;
    let coats: Vec<Value> = (0..16)
        .map(|i| {
            let more = json!({"blur": 3 * i + 2, "opacity": 0.08, "offset": {"x": i % 5, "y": 2 * i + 1}});
            drop_shadow(&format!("Shadow {i}"), 1.0, more)
        })
        .collect();
    let pieces = json!([
        piece("Card", box_of(200.0, 120.0), (60.0, 60.0), json!(coats)),
        piece("Chip", box_of(80.0, 40.0), (400.0, 60.0), json!([drop_shadow("Tight", 2.0, json!({}))]))
    ]);
    let plain = Plain::open(&app, &browser, &project("Many", pieces, json!({}))).await?;
    let bench = &plain.bench;
    bench.wait_worker().await?;
    bench.choose("Card").await?;
    bench.settle().await?;
    bench.choose_in("Stack", "Fewer coats…").await?;
    tokio::time::sleep(std::time::Duration::from_millis(800)).await;
    bench.press(Key::Escape + "").await?;
    browser.wait_for("document.documentElement.dataset.coreRenewed === '1'").await?;
    bench.choose("Chip").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre')?.textContent.includes('0 2px 12px')")
        .await?;
    bench.click_named("Open Tight").await?;
    bench.type_number("Blur", "21").await?;
    browser
        .wait_for("document.querySelector('[aria-label=Read-out] pre')?.textContent.includes('21px')")
        .await?;
    let core = "return [document.documentElement.dataset.core, document.documentElement.dataset.coreRenewed]";
    assert_eq!(bench.script(core).await?, json!(["worker", "1"]));
    browser.quit().await
}
