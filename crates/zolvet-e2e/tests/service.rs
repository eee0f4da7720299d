//! The service and the program from outside: what was acknowledged survives, bad input gets a clear answer.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::process::Command;

use reqwest::{Client, RequestBuilder};
use serde_json::{Value, json};
use zolvet_core::css::Specimen;
use zolvet_core::model::CssColour;
use zolvet_core::picture::Picture;
use zolvet_e2e::{App, Outcome, program};
use zolvet_store::Store;

async fn demo(app: &App) -> Outcome<(String, Value)> {
    let http = Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let address = format!("{}/api/projects/{}", app.address, list[0]["id"].as_str().unwrap());
    let stored: Value = http.get(&address).send().await?.json().await?;
    Ok((address, stored["document"].clone()))
}

#[tokio::test]
async fn what_was_acknowledged_survives_a_kill() -> Outcome {
    let mut app = App::start()?;
    let (address, mut document) = demo(&app).await?;
    let http = Client::new();
    for revision in 1..=5 {
        document["name"] = json!(format!("Saved {revision}"));
        document["from_elsewhere"] = json!({"kept": [1, 2.5]});
        let match_it = format!("\"{revision}\"");
        let saved = http.put(&address).header("If-Match", match_it).json(&document).send().await?;
        assert_eq!(saved.status(), 200);
    }
    app.kill_and_restart()?;
    let (_, after) = demo(&app).await?;
    assert_eq!(after, document, "whole, with the fields that this version does not know");
    Ok(())
}

#[tokio::test]
async fn saving_needs_the_revision_it_is_based_on() -> Outcome {
    let app = App::start()?;
    let (address, document) = demo(&app).await?;
    let http = Client::new();
    assert_eq!(http.put(&address).json(&document).send().await?.status(), 428);
    let saved = http.put(&address).header("If-Match", "\"1\"").json(&document).send().await?;
    assert_eq!((saved.status().as_u16(), saved.headers()["etag"].to_str()?), (200, "\"2\""));
    let stale = http.put(&address).header("If-Match", "\"1\"").json(&document).send().await?;
    assert_eq!(stale.status(), 412);
    let problem: Value = stale.json().await?;
    assert_eq!(
        (problem["stored"]["revision"].as_i64(), &problem["stored"]["document"]),
        (Some(2), &document)
    );
    let restored =
        http.post(format!("{address}/revisions/1/restore")).header("If-Match", "\"2\"").send().await?;
    assert_eq!(restored.json::<Value>().await?["revision"], 3);
    Ok(())
}

/// What was stored in schema 1 is read, restored and looked through in schema 3, with the fields that are not understood.
#[tokio::test]
async fn a_document_stored_in_schema_1_is_given_out_and_saved_in_schema_3() -> Outcome {
    let mut app = App::start()?;
    let (_, mut document) = demo(&app).await?;
    document["schema"] = json!(1);
    document["later"] = json!({"schema": 1});
    let finish = document["finishes"][0].as_object_mut().unwrap();
    finish.shift_remove("themes");
    finish.insert("later".to_owned(), json!(true));
    app.kill();
    let store = Store::open(&app.database()).await?;
    let id = store.create("Of old", &document.to_string()).await?.id;
    store.close().await;
    drop(store);
    app.start_again()?;
    let address = format!("{}/api/projects/{id}", app.address);
    let http = Client::new();
    let get = async |path: &str| -> Outcome<Value> {
        Ok(http.get(format!("{address}{path}")).send().await?.error_for_status()?.json().await?)
    };
    let mut expected = document.clone();
    expected["schema"] = json!(3);
    // What this project's prefix was before there were prefixes is somebody else's.
    let project = expected.as_object_mut().unwrap();
    project.insert("prefix_in_schema_1".to_owned(), json!("qa"));
    assert_eq!(get("").await?["document"], expected);
    assert_eq!(get("/revisions/1").await?["document"], expected);
    // A page that was open before sends schema 1 still.
    document["name"] = json!("Of old, changed");
    document["finishes"][0]["note"] = json!("Other");
    let saved = http.put(&address).header("If-Match", "\"1\"").json(&document).send().await?;
    assert_eq!(saved.status(), 200);
    assert_eq!(get("").await?["document"]["schema"], 3);
    let earlier = get("/finishes/laid/earlier").await?;
    assert_eq!((earlier.as_array().unwrap().len(), &earlier[0]["finish"]), (1, &expected["finishes"][0]));
    let restored =
        http.post(format!("{address}/revisions/1/restore")).header("If-Match", "\"2\"").send().await?;
    assert_eq!(restored.status(), 200);
    app.kill();
    let store = Store::open(&app.database()).await?;
    let text = store.read(&id).await?.text;
    assert_eq!(serde_json::from_str::<Value>(&text)?, expected, "written in schema 3");
    Ok(())
}

async fn refused(request: RequestBuilder, status: u16, words: &str) -> Outcome {
    let answer = request.send().await?;
    let (found, kind) = (answer.status().as_u16(), answer.headers().get("content-type").cloned());
    let text = answer.text().await?;
    assert_eq!((found, text.contains(words)), (status, true), "expected {status} with {words}: {text}");
    assert_eq!(kind.unwrap(), "application/problem+json");
    Ok(())
}

#[tokio::test]
async fn bad_input_gets_an_answer_that_names_the_place() -> Outcome {
    let app = App::start()?;
    let (project, good) = demo(&app).await?;
    let http = Client::new();
    let with = |pointer: &str, value: Value| {
        let mut bad = good.clone();
        *bad.pointer_mut(pointer).expect(pointer) = value;
        http.put(&project).header("If-Match", "\"1\"").json(&bad)
    };
    let coat = "/finishes/0/coats/0";
    for (pointer, value, words) in [
        (format!("{coat}/blur"), json!(4001), "expected a blur radius from 0 to 4000 px, found 4001"),
        (format!("{coat}/blur"), json!("ten"), "\"/finishes/0/coats/0/blur\""),
        (format!("{coat}/blur"), json!(null), "\"/finishes/0/coats/0/blur\""),
        (format!("{coat}/spread"), json!(-2001), "expected a spread from -2000 to 2000 px"),
        (format!("{coat}/opacity"), json!(1.01), "expected an opacity from 0 to 1"),
        (format!("{coat}/offset"), json!({"x": 1e5, "y": 0}), "\"/finishes/0/coats/0/offset/x\""),
        (
            format!("{coat}/offset"),
            json!({"distance": 1, "follows": "venus"}),
            "expected the id of a light, found \\\"venus\\\"",
        ),
        (format!("{coat}/colour"), json!("bleu"), "expected a CSS colour"),
        (format!("{coat}/colour"), json!({"swatch": "none"}), "expected the id of a swatch"),
        (format!("{coat}/kind"), json!("sparkle"), "\"/finishes/0/coats/0/kind\""),
        ("/scenes/0/theme".to_owned(), json!("noon"), "expected the id of a theme"),
        (
            "/scenes/0/pieces/2/shape/parts/0/wear/finish".to_owned(),
            json!("gone"),
            "expected the id of a finish",
        ),
        ("/scenes/0/pieces/1/id".to_owned(), json!("headline"), "expected a unique id"),
        (
            "/scenes/0/pieces/2/shape/parts/0/shape/w".to_owned(),
            json!(9000),
            "expected a size from 0 to 8192 px",
        ),
        ("/schema".to_owned(), json!(4), "expected schema 1, 2 or 3"),
    ] {
        refused(with(&pointer, value), 422, words).await?;
    }
    assert_eq!(demo(&app).await?.1, good, "nothing of it was stored");
    Ok(())
}

#[tokio::test]
async fn bad_requests_get_an_answer_that_says_what_is_wrong() -> Outcome {
    let app = App::start()?;
    let (project, good) = demo(&app).await?;
    let http = Client::new();
    let raw = |body: String| http.put(&project).header("If-Match", "\"1\"").body(body);
    let send = |body: String| raw(body).header("Content-Type", "application/json");
    refused(raw("{}".to_owned()), 415, "Expected a Content-Type of application/json").await?;
    refused(send("{\"schema\": 1,\n  oops".to_owned()), 422, "2:3").await?;
    refused(send(good.to_string().replace("\"blur\":16", "\"blur\":NaN")), 422, "1:").await?;
    refused(send(good.to_string().replace("\"blur\":16", "\"blur\":1e999")), 422, "number out of range")
        .await?;
    refused(send(format!("[{}]", "[".repeat(100_000))), 422, "recursion").await?;
    let huge = format!("{{\"x\":\"{}\"}}", "x".repeat(8 << 20));
    refused(send(huge), 422, "xpected at most 8 MB").await?;
    refused(send("x".repeat(9 << 20)), 413, "may have 8 MB").await?;

    let api = |path: &str| format!("{}/api/{path}", app.address);
    refused(http.post(api("css")).json(&json!({"css": "box-shadow: 0 0\n 1lh red"})), 422, "\"2:2\"").await?;
    let preview = |extra: Value| {
        let mut body = json!({"project": good, "scene": "kiosk"});
        body.as_object_mut().unwrap().extend(extra.as_object().unwrap().clone());
        http.post(api("preview")).json(&body)
    };
    refused(preview(json!({"scene": "attic"})), 422, "expected the id of a scene").await?;
    refused(preview(json!({"scale": 99})), 422, "expected a scale from 0.05 to 16").await?;
    refused(preview(json!({"scale": 10})), 422, "expected a picture of at most 8192 px a side").await?;
    refused(http.get(api("projects/none")), 404, "There is no such project").await?;
    refused(http.get(api("shared/none")), 404, "There is no such link").await?;
    refused(http.get(api("nothing")), 404, "There is no such").await?;
    refused(http.get(api("projects")).header("Origin", "http://elsewhere.example"), 403, "not ours").await?;
    refused(http.get(api("projects")).header("Host", "elsewhere.example"), 403, "not ours").await?;
    assert_eq!(demo(&app).await?.1, good, "nothing of it was stored");
    Ok(())
}

#[tokio::test]
async fn past_what_it_can_bear_the_service_says_so_and_goes_on() -> Outcome {
    let app = App::start()?;
    let (_, document) = demo(&app).await?;
    let http = Client::new();
    let mut asked = tokio::task::JoinSet::new();
    for i in 0..90 {
        // A scale of its own, so that nothing comes from the cache.
        let body = json!({"project": document, "scene": "night", "scale": 1.0 + f64::from(i) / 100.0});
        let request = http.post(format!("{}/api/preview", app.address)).json(&body);
        asked.spawn(async move { request.send().await.map(|answer| answer.status().as_u16()) });
    }
    let mut answers = Vec::new();
    while let Some(answer) = asked.join_next().await {
        answers.push(answer??);
    }
    let count = |status: u16| answers.iter().filter(|answer| **answer == status).count();
    assert!(count(503) > 0 && count(200) >= 16 && count(200) + count(503) == 90, "{answers:?}");
    let one = json!({"project": document, "scene": "night"});
    assert_eq!(http.post(format!("{}/api/preview", app.address)).json(&one).send().await?.status(), 200);
    Ok(())
}

#[tokio::test]
async fn the_command_line_draws_the_same_pixels_as_the_preview() -> Outcome {
    let app = App::start()?;
    let css = "box-shadow: inset 0 1px 2px white, 3.5px 6px 10px -2px rgb(20 60 40 / .6)";
    let folder = tempfile::tempdir()?;
    let out = folder.path().join("specimen.png");
    let run = Command::new(program()?)
        .args(["render", "--css", css, "--out"])
        .arg(&out)
        .args(["--repeat", "2"])
        .output()?;
    assert!(run.status.success(), "{run:?}");
    let times: Value = serde_json::from_slice(&run.stdout)?;
    assert_eq!(times["runs"], 2);
    let specimen = Specimen {
        css: css.to_owned(),
        piece: (240.0, 160.0),
        radius: 16.0,
        fill: CssColour::parse("#fff")?,
        ground: CssColour::parse("#e8e4da")?,
        size: (480.0, 360.0),
        text: None,
    };
    let body = json!({"project": specimen.project()?, "scene": "scene-1"});
    let answer = Client::new().post(format!("{}/api/preview", app.address)).json(&body).send().await?;
    let side = |name: &str| answer.headers()[name].to_str().unwrap().parse::<u32>().unwrap();
    let (width, height) = (side("x-width"), side("x-height"));
    let preview = Picture { width, height, rgba: answer.bytes().await?.to_vec() };
    assert_eq!(Picture::from_png(&std::fs::read(out)?)?, preview);
    Ok(())
}

#[test]
fn the_command_line_names_the_place_and_exits_with_2() -> Outcome {
    let folder = tempfile::tempdir()?;
    let out = folder.path().join("none.png");
    let broken = folder.path().join("broken.zolvet.json");
    std::fs::write(&broken, "{\"schema\": 1,\n \"name\": 3}")?;
    let broken = broken.display().to_string();
    for (arguments, words) in [
        (vec!["render", "--css", "box-shadow: 0 1lh", "--out"], "1:15: expected a length in px"),
        (
            vec!["render", "--css", "box-shadow: 0 0", "--fill", "bleu", "--out"],
            "--fill: expected a CSS colour",
        ),
        (
            vec!["render", "--css", "box-shadow: 0 0", "--size", "wide", "--out"],
            "--size: expected WIDTHxHEIGHT",
        ),
        (vec!["render", broken.as_str(), "--out"], "/name: "),
        (vec!["render", "missing.zolvet.json", "--out"], "missing.zolvet.json: "),
    ] {
        let run = Command::new(program()?).args(&arguments).arg(&out).output()?;
        let said = String::from_utf8_lossy(&run.stderr);
        assert_eq!((run.status.code(), said.contains(words)), (Some(2), true), "{arguments:?}: {said}");
        assert!(!out.exists(), "no half-written picture");
    }
    let demo = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/quillmere.zolvet.json");
    let run = Command::new(program()?).args(["export", demo, "--format", "css", "--scenes"]).output()?;
    let css = String::from_utf8(run.stdout)?;
    assert!(
        run.status.success()
            && css
                .contains(".qa-open-valve-box,\n.qa-pressed-face {\n  --qa-fill: var(--qa-colour-leaf-now);"),
        "{css}"
    );
    Ok(())
}

/// A screenshot of 2× that says so is as large as what it shows (PNG, Third Edition, §11.3.4.3); others have their pixels.
#[tokio::test]
async fn a_picture_has_the_size_that_its_density_says() -> Outcome {
    let app = App::start()?;
    // Of 144 per inch, of 192, and of a density that is no screen's, in pixels per metre.
    for (per_metre, wanted) in [(Some(5669), 40.0), (Some(7559), 40.0), (Some(11811), 80.0), (None, 80.0)] {
        let mut file = Vec::new();
        let mut encoder = png::Encoder::new(&mut file, 80, 60);
        encoder.set_color(png::ColorType::Rgb);
        let dims =
            |per_metre| png::PixelDimensions { xppu: per_metre, yppu: per_metre, unit: png::Unit::Meter };
        encoder.set_pixel_dims(per_metre.map(dims));
        encoder.write_header()?.write_image_data(&[120; 80 * 60 * 3])?;
        let upload = Client::new().post(format!("{}/api/assets?name=x", app.address)).body(file);
        let made: Value = upload.send().await?.json().await?;
        assert_eq!(
            (made["width"].as_f64(), made["height"].as_f64()),
            (Some(wanted), Some(wanted * 0.75)),
            "{made}"
        );
    }
    Ok(())
}
