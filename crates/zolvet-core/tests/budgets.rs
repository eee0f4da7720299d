//! Whatever is asked within the limits ends: without a panic, within the memory of one request, and within the steps that
//! stand for five seconds; or it is refused before it is begun, with the limit named.
//!
//! Time is no test. It only raises an alarm, at ten times what the steps taken stand for.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use std::fmt::Write as _;
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use cpu_time::ProcessTime;
use peak_alloc::PeakAlloc;
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Limits, audit};
use zolvet_core::budget::{Budget, REQUEST_STEPS, Stopped};
use zolvet_core::chromium::{self, predicted, shown_as_css};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::{self, CodeOptions};
use zolvet_core::geometry::icon::Icon;
use zolvet_core::handoff::{Format, SheetOptions, bundle, export};
use zolvet_core::incoming::{self, IncomingFile, IncomingFormat};
use zolvet_core::lower::{Numbers, Target, lower};
use zolvet_core::measure::{project_faithfulness, surroundings};
use zolvet_core::model::Project;
use zolvet_core::picture::{Bitmap, Picture};
use zolvet_core::{report, resolve, tokens};
use zolvet_samples::any::document;

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;

/// Bytes that one request may take, with all that it keeps.
const MAX_BYTES: usize = 512 << 20;
/// Bytes of masks that are kept meanwhile.
const CACHE_BYTES: u64 = 64 << 20;

/// One test at a time, from its first allocation to its last, so that no other's memory is measured with its own.
fn alone() -> MutexGuard<'static, ()> {
    static ALONE: Mutex<()> = Mutex::new(());
    ALONE.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Does something within the budget of a request, and looks at what it took.
fn within<T>(what: &str, work: impl FnOnce() -> T) -> Result<T, Stopped> {
    let (budget, before) = (Budget::default(), MEMORY.current_usage());
    MEMORY.reset_peak_usage();
    let start = ProcessTime::now();
    let outcome = budget.run(work);
    let (took, bytes) = (start.elapsed(), MEMORY.peak_usage().saturating_sub(before));
    let steps = if outcome.is_ok() { budget.steps_taken() } else { 0 };
    println!(
        "{what}: {} million steps, {} MB, {took:?}{}",
        steps / 1_000_000,
        bytes >> 20,
        outcome.as_ref().err().map_or_else(String::new, |why| format!(", refused: {why}"))
    );
    assert!(bytes <= MAX_BYTES, "{what} took {} MB", bytes >> 20);
    assert!(steps <= REQUEST_STEPS, "{what} took {steps} steps");
    // A step is a nanosecond of a core or less; what takes none is small; what is refused may have been worked on.
    let worth = if outcome.is_ok() { steps } else { REQUEST_STEPS };
    let alarm = Duration::from_nanos(worth * 10) + Duration::from_secs(10);
    assert!(took < alarm, "{what} took {took:?} for {steps} steps");
    outcome
}

fn scenes(pieces: &Value) -> Value {
    json!({
        "schema": 1, "name": "nasty", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 1000, "height": 800, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}]
    })
}

fn piece(id: usize, shape: &Value, coats: &Value) -> Value {
    json!({"id": id.to_string(), "name": "p", "shape": shape, "x": 100, "y": 100,
        "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}})
}

fn shadow(id: usize, kind: &str, blur: f64, spread: f64) -> Value {
    json!({"id": id.to_string(), "name": "c", "on": true, "kind": kind, "offset": {"x": 1, "y": 2.5}, "blur": blur,
        "spread": spread, "colour": "#000000", "opacity": 0.5})
}

fn boxed(w: f64, h: f64) -> Value {
    json!({"kind": "box", "w": w, "h": h, "radii": 12})
}

fn path(d: &str) -> Value {
    json!({"kind": "path", "d": d, "viewbox": [0, 0, 300, 300], "w": 300, "h": 300})
}

/// A star of so many points whose lines all cross one another.
fn star(points: usize) -> String {
    let at = |i: usize| {
        let angle = (i * (points / 2)) as f64 / points as f64 * std::f64::consts::TAU;
        format!("{:.2} {:.2}", 150.0 + 149.0 * angle.cos(), 150.0 + 149.0 * angle.sin())
    };
    format!("M{}Z", (0..points).map(at).collect::<Vec<_>>().join("L"))
}

fn comb(teeth: usize) -> String {
    let mut d = "M0 300".to_owned();
    for i in 0..teeth {
        let x = i as f64 / teeth as f64 * 300.0;
        let _ = write!(d, "L{x:.3} 0L{:.3} 299", x + 150.0 / teeth as f64);
    }
    d + "L300 300Z"
}

fn join(op: &str, across: usize) -> Value {
    let part = |i: usize, w: f64, h: f64, x: f64, y: f64| {
        json!({"id": i.to_string(), "name": "p", "shape": {"kind": "ellipse", "w": w, "h": h}, "x": x, "y": y,
            "fill": {"kind": "solid", "colour": "#333333"}, "wear": {"coats": []}})
    };
    let step = |i: usize| i as f64 * 6.0;
    let parts: Vec<Value> = (0..across)
        .map(|i| part(i, 600.0, 4.0, 0.0, step(i)))
        .chain((0..across).map(|i| part(across + i, 4.0, 600.0, step(i), 0.0)))
        .collect();
    json!({"kind": "join", "op": op, "parts": parts})
}

/// Documents that ask for as much as they may.
fn nasty_documents() -> Vec<(&'static str, Value)> {
    let stack = |kind: &str, blur: f64, spread: f64| -> Value {
        json!((0..64).map(|i| shadow(i, kind, blur, spread)).collect::<Vec<_>>())
    };
    let crowd = |shape: &Value, coats: &Value| -> Value {
        scenes(&json!((0..60).map(|i| piece(i, shape, coats)).collect::<Vec<_>>()))
    };
    let one = |shape: &Value, coats: Value| scenes(&json!([piece(0, shape, &coats)]));
    let backdrop = json!([{"id": "b", "name": "b", "on": true, "kind": "backdrop", "sigma": 2000}]);
    let extrude = |x: f64| {
        json!([{"id": "e", "name": "e", "on": true, "kind": "extrude", "offset": {"x": x, "y": x},
        "near": "#803010", "far": "#301008"}])
    };
    let stroke = |width: f64| {
        json!([{"id": "s", "name": "s", "on": true, "kind": "stroke", "width": width, "side": "outside",
        "join": "round", "fill": {"kind": "solid", "colour": "#000000"}}])
    };
    let cast = json!([{"id": "c", "name": "c", "on": true, "kind": "cast", "shear": 3, "squash": 2, "anchor": 1,
        "blur_near": 0, "blur_far": 4000, "colour": "#000000", "fade": 0.4}]);
    let stops: Vec<Value> =
        (0..100_000).map(|i| json!({"at": i as f64 / 1e5, "colour": "#123456"})).collect();
    let mut gradients = one(&boxed(900.0, 700.0), json!([]));
    gradients["scenes"][0]["pieces"][0]["fill"] = json!({"kind": "linear", "angle": 40, "stops": stops});
    let mut checkers = one(
        &json!({"kind": "picture", "asset": "c", "w": 300, "h": 300}),
        json!([shadow(0, "drop", 8.0, 4.0)]),
    );
    checkers["assets"] =
        json!([{"id": "c", "name": "c", "media_type": "image/png", "data": base64_png(&checkerboard(3000))}]);
    let mut nested = boxed(50.0, 50.0);
    for _ in 0..7 {
        let part = |i: usize| {
            json!({"id": i.to_string(), "name": "p", "shape": nested, "x": i * 7, "y": i * 3,
            "fill": {"kind": "none"}, "wear": {"coats": []}})
        };
        nested = json!({"kind": "join", "op": "exclude", "parts": [part(0), part(1), part(2)]});
    }
    let long = "Row ".repeat(500);
    let text = json!({"kind": "text", "string": long, "font": "Figtree", "size": 200, "weight": 700, "line_height": 1.0});
    vec![
        ("60 pieces × 64 soft shadows", crowd(&boxed(300.0, 200.0), &stack("drop", 4000.0, 0.0))),
        ("60 pieces × 64 inner shadows", crowd(&boxed(300.0, 200.0), &stack("inner", 5.0, 3.0))),
        ("a pane over everything, σ 2000", one(&boxed(300.0, 200.0), backdrop.clone())),
        ("60 panes", crowd(&boxed(900.0, 700.0), &backdrop)),
        ("a star spread far", one(&path(&star(61)), json!([shadow(0, "drop", 0.0, 2000.0)]))),
        ("a star of 9900 points", one(&path(&star(9900)), stroke(8.0))),
        ("a comb with a wide stroke", one(&path(&comb(2000)), stroke(200.0))),
        ("a thick comb", one(&path(&comb(2000)), extrude(400.0))),
        ("a thick letter", one(&text, extrude(40.0))),
        ("text with 64 shadows", one(&text, stack("drop", 30.0, 2.0))),
        ("a shadow thrown far", one(&boxed(900.0, 700.0), cast)),
        ("90 ellipses excluded", one(&join("exclude", 45), stack("drop", 20.0, 0.0))),
        ("180 ellipses excluded", one(&join("exclude", 90), json!([]))),
        ("180 ellipses intersected", one(&join("intersect", 90), json!([]))),
        ("180 ellipses subtracted", one(&join("subtract", 90), json!([]))),
        ("joins of joins", one(&nested, json!([shadow(0, "drop", 9.0, 2.0)]))),
        ("a gradient of 100000 stops", gradients),
        ("a checkerboard of alpha", checkers),
    ]
}

fn base64_png(png: &[u8]) -> String {
    use base64::Engine as _;
    base64::engine::general_purpose::STANDARD.encode(png)
}

fn checkerboard(side: u32) -> Vec<u8> {
    let rgba = (0..side * side).flat_map(|i| [0, 0, 0, 255 * ((i % side + i / side) % 2) as u8]);
    Picture { width: side, height: side, rgba: rgba.collect() }.to_png().unwrap()
}

/// Everything that is asked about a document, each as a request of its own.
fn ask_everything(name: &str, document: &Value) {
    let Ok(project) = within(&format!("{name}: read"), || Project::from_value(document)).unwrap() else {
        panic!("{name} is no project");
    };
    let Ok(assets) = within(&format!("{name}: pictures"), || Assets::carried_by(&project)) else { return };
    let scene = &project.scenes[0];
    let resolve = || resolve::scene(&project, scene, &assets);
    let draw = |scale: f64, part: &RenderOptions| {
        let resolved = resolve();
        let view = Viewport::whole(&resolved, Viewport::largest_scale(&resolved, scale));
        picture(&resolved, &view, part, Rounding::Nearest, &MaskCache::with_capacity(CACHE_BYTES)).rgba.len()
    };
    for scale in [0.1, 1.0, 4.0, 16.0] {
        let _ = within(&format!("{name}: drawn at {scale}"), || draw(scale, &RenderOptions::default()));
    }
    let as_browsers = RenderOptions { mode: chromium::CSS, ..RenderOptions::default() };
    let _ = within(&format!("{name}: drawn in 8 bits"), || draw(2.0, &as_browsers));
    let _ = within(&format!("{name}: drawn as browsers do"), || {
        let resolved = resolve();
        let cache = MaskCache::with_capacity(CACHE_BYTES);
        shown_as_css(&resolved, &[], &Viewport::whole(&resolved, 1.0), &RenderOptions::default(), &cache)
    });
    let _ = within(&format!("{name}: report"), || {
        let (id, cache) = (scene.pieces[0].id.as_str(), MaskCache::with_capacity(CACHE_BYTES));
        let options = report::ReportOptions { piece: id, line: None, code: CodeOptions::default() };
        report::report(&project, scene, options, &assets, &cache).is_some()
    });
    for target in [Target::DropShadow, Target::SvgFilter] {
        let _ = within(&format!("{name}: as {target:?}"), || {
            let (resolved, cache) = (resolve(), MaskCache::with_capacity(CACHE_BYTES));
            let piece = &resolved.pieces[0];
            predicted(&resolved, &lower(piece, target), &surroundings(piece, &resolved), &cache).is_some()
        });
    }
    let _ = within(&format!("{name}: how close it comes"), || {
        project_faithfulness(&project, &assets, Numbers::default(), &MaskCache::with_capacity(CACHE_BYTES))
            .len()
    });
    for format in [Format::Css, Format::Scss, Format::Tokens, Format::Svg] {
        let _ = within(&format!("{name}: {format:?}"), || {
            export(&project, &assets, format, None, &SheetOptions::default()).len()
        });
    }
    let _ = within(&format!("{name}: bundle"), || {
        bundle(&project, document, &assets, &SheetOptions::default()).len()
    });
    let _ = within(&format!("{name}: audit"), || {
        let cache = MaskCache::with_capacity(CACHE_BYTES);
        audit(&project, &assets, &Limits::default(), &cache, &mut |_, _| true).is_some()
    });
}

/// Five of them each time; with `ZOLVET_LONG=1` all, which takes a quarter of an hour.
#[test]
fn nasty_documents_end() {
    let _alone = alone();
    let long = std::env::var_os("ZOLVET_LONG").is_some();
    let asked = nasty_documents().into_iter().enumerate().filter(|(at, _)| long || at % 4 == 1);
    for (_, (name, document)) in asked {
        ask_everything(name, &document);
    }
}

fn svg(body: &str) -> String {
    format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 1000 1000'>{body}</svg>")
}

#[test]
fn nasty_icons_end() {
    let _alone = alone();
    let circles = |count: usize, apart: f64| -> String {
        (0..count)
            .map(|i| {
                format!("<circle cx='{}' cy='{}' r='9'/>", (i % 140) as f64 * apart, (i / 140) as f64 * apart)
            })
            .collect()
    };
    let nested = |depth: usize| "<g>".repeat(depth) + "<rect width='1' height='1'/>" + &"</g>".repeat(depth);
    let icons = [
        ("500 circles", circles(500, 7.0)),
        ("2000 circles", circles(2000, 7.0)),
        ("19000 circles", circles(19_000, 7.0)),
        ("2000 circles on one another", circles(2000, 0.3)),
        ("a stroked star", format!("<path d='{}' stroke='#000' stroke-width='2' fill='none'/>", star(9900))),
        ("nested styles", format!("<style>g g g g g g g g g g .x {{fill:red}}</style>{}", nested(190))),
        (
            "styles against rectangles",
            format!(
                "<style>{}</style>{}",
                ".a{fill:red}".repeat(20_000),
                "<rect width='9' height='9'/>".repeat(15_000)
            ),
        ),
        ("deeply nested", nested(60_000)),
        (
            "attributes",
            format!(
                "<rect {} width='1' height='1'/>",
                (0..40_000).map(|i| format!("a{i}='' ")).collect::<String>()
            ),
        ),
        ("text", format!("<text>{}</text><rect width='1' height='1'/>", "x".repeat(1_000_000))),
        ("one long path", format!("<path d='M0 0{}'/>", "l1 1".repeat(1_000_000))),
    ];
    for (name, body) in icons {
        let read = within(name, || Icon::read(&svg(&body)).map(|icon| icon.d.len()));
        println!("    {read:?}");
    }
}

/// A file that is read within the budgets: what is wrong with it, its format, and its text.
type NastyFile = (&'static str, IncomingFormat, String);

fn nasty_sheets() -> Vec<NastyFile> {
    let vars = format!("a{{--a:0 0 1px red;box-shadow:{}}}", "var(--a),".repeat(12_000));
    let doubling: String = (0..40).map(|i| format!("--a{i}:var(--a{}) var(--a{});", i + 1, i + 1)).collect();
    let empty: String =
        (0..14).map(|i| format!("--a{i}:{};", format!("var(--a{})", i + 1).repeat(12))).collect();
    let same_name: String =
        (0..8000).map(|i| format!(".a{}{{box-shadow:0 0 1px red}}", " ".repeat(i % 3))).collect();
    let selectors = (0..100_000).map(|i| format!(".a{i}")).collect::<Vec<_>>().join(",");
    let css = |name, text| (name, IncomingFormat::Css, text);
    vec![
        css("12000 var()", vars),
        css("var() that double", format!(":root{{{doubling}--a40:red}}a{{box-shadow:0 0 1px var(--a0)}}")),
        css(
            "var() that multiply nothing",
            format!(":root{{{empty}--a14: }}a{{box-shadow:0 0 1px var(--a0) red}}"),
        ),
        css("100000 rules", ".a,.b{box-shadow:0 1px 2px red}".repeat(100_000)),
        css("100000 selectors", format!("{selectors}{{box-shadow:0 1px 2px red,0 0 3px blue}}")),
        css("500000 shadows", format!("a{{box-shadow:{}}}", "0 0 1px red,".repeat(500_000))),
        css("brackets", format!("a{{box-shadow:{}", "(".repeat(1_000_000))),
        css("blocks", "a{".repeat(500_000)),
        css("rules of one name", same_name),
    ]
}

/// A document that puts the same set together a thousand times.
fn modes_of(groups: &str) -> String {
    let order = vec!["{\"$ref\":\"#/sets/s\"}"; 1_000].join(",");
    format!("{{\"sets\":{{\"s\":{{\"sources\":[{{{groups}\"z\":{{}}}}]}}}},\"resolutionOrder\":[{order}]}}")
}

fn nasty_token_files() -> Vec<NastyFile> {
    let alias: String = (0..60_000).map(|i| format!("\"a{i}\":{{\"$value\":\"{{s}}\"}},")).collect();
    let shadow = json!({"color": "#000", "offsetX": "1px", "offsetY": "1px", "blur": "1px", "spread": "0px"});
    let shadows = json!(vec![shadow; 64]);
    let empty_groups: String = (0..300_000).map(|i| format!("\"{i}\":{{}},")).collect();
    let tokens = |name, text| (name, IncomingFormat::Tokens, text);
    vec![
        tokens("a root token", json!({"$root": {"$type": "color", "$value": "#fff"}}).to_string()),
        tokens(
            "aliases of 64 shadows",
            format!("{{\"$type\":\"shadow\",{alias}\"s\":{{\"$value\":{shadows}}}}}"),
        ),
        tokens("one set again and again", modes_of(&empty_groups)),
        tokens("a long alias", format!("{{\"a\":{{\"$value\":\"{{{}}}\"}}}}", "a.".repeat(1_000_000))),
        tokens(
            "aliases in a ring",
            "{\"$type\":\"color\",\"a\":{\"$value\":\"{b}\"},\"b\":{\"$value\":\"{a}\"}}".to_owned(),
        ),
        tokens("empty groups", format!("{{{empty_groups}\"z\":{{}}}}")),
    ]
}

fn nasty_markup_and_projects() -> Vec<NastyFile> {
    let merges = "<feMergeNode in='a'/>".repeat(400);
    let merged: String = (0..400).map(|_| format!("<feMerge result='a'>{merges}</feMerge>")).collect();
    let filters = "<filter id='f'><feDropShadow/></filter>".repeat(20_000);
    vec![
        (
            "merges of merges",
            IncomingFormat::Svg,
            format!("<svg><filter id='f'><feOffset result='a'/>{merged}</filter></svg>"),
        ),
        ("20000 filters", IncomingFormat::Svg, format!("<svg>{filters}</svg>")),
        ("a project of brackets", IncomingFormat::Json, "[".repeat(8_000_000)),
        ("a project of numbers", IncomingFormat::Json, format!("[{}0]", "0,".repeat(4_000_000))),
    ]
}

#[test]
fn nasty_files_end() {
    let _alone = alone();
    let project = Project::from_value(&scenes(&json!([]))).unwrap();
    let files = [nasty_sheets(), nasty_token_files(), nasty_markup_and_projects()].concat();
    for (name, format, text) in files {
        let file = IncomingFile { name: String::new(), text };
        let read = within(name, || {
            incoming::read(format, std::slice::from_ref(&file), &Default::default()).map(|incoming| {
                let fitted = incoming.fitted_to(&project);
                (fitted.finishes.len(), fitted.diagnostics.len())
            })
        });
        println!("    {}", format!("{read:?}").chars().take(200).collect::<String>());
    }
    assert_eq!(
        tokens::read("{\"$root\":{\"$type\":\"color\",\"$value\":\"#fff\"}}").unwrap().0.swatches[0].name,
        "root"
    );
    let small = css::import(":root{--s:0 1px 2px red}.a{box-shadow:var(--s),var(--s)}");
    assert_eq!(small.finishes[0].coats.len(), 2);
}

/// Thousands of finishes of one name get names of their own, and leave as CSS.
#[test]
fn many_of_one_name_get_names_of_their_own() {
    let _alone = alone();
    let finish =
        |i: usize| json!({"id": i.to_string(), "name": "Lifted", "coats": [shadow(0, "drop", 4.0, 0.0)]});
    let mut document = scenes(&json!([]));
    document["finishes"] = json!((0..8000).map(finish).collect::<Vec<_>>());
    let project = Project::from_value(&document).unwrap();
    let assets = Assets::default();
    let fewer = Project { finishes: project.finishes[..2000].to_vec(), ..project.clone() };
    let text =
        within("2000 finishes: CSS", || export(&fewer, &assets, Format::Css, None, &SheetOptions::default()));
    assert!(text.unwrap().contains("-lifted-2000 {"), "the last has a number of its own");
    let into = Project::from_value(&scenes(&json!([]))).unwrap();
    let fitted =
        within("8000 finishes: fitted", || incoming::from_project(&project).fitted_to(&into)).unwrap();
    assert_eq!(fitted.finishes[7999].name, "Lifted 8000");
}

#[test]
fn nasty_pictures_end() {
    let _alone = alone();
    let header = |width: u32, height: u32| {
        let mut png = Picture { width: 1, height: 1, rgba: vec![0; 4] }.to_png().unwrap();
        png[16..20].copy_from_slice(&width.to_be_bytes());
        png[20..24].copy_from_slice(&height.to_be_bytes());
        png
    };
    let large = Picture { width: 5600, height: 5600, rgba: vec![7; 5600 * 5600 * 4] }.to_png().unwrap();
    let files = [
        ("31 million pixels", large),
        ("a header of 8192 × 8192", header(8192, 8192)),
        ("a header of four thousand million", header(65_535, 65_535)),
        ("a profile that inflates", with_profile(400 << 20)),
        ("a checkerboard", checkerboard(4000)),
    ];
    for (name, file) in files {
        let read = within(name, || Bitmap::decode(&file).map(|bitmap| bitmap.picture.width));
        println!("    {read:?}");
    }
    assert!(matches!(Bitmap::decode(&with_profile(1 << 20)), Ok(bitmap) if bitmap.picture.width == 1));
}

/// A PNG of one pixel whose colour profile is so many bytes of nothing, squeezed.
fn with_profile(bytes: usize) -> Vec<u8> {
    let mut squeezed = Vec::new();
    {
        // The encoder's own stream of a blank picture is as good a squeezed stream as any.
        let side = (bytes as f64).sqrt() as u32;
        let mut encoder = png::Encoder::new(&mut squeezed, side, side);
        encoder.set_color(png::ColorType::Grayscale);
        encoder.set_depth(png::BitDepth::Eight);
        let mut writer = encoder.write_header().unwrap();
        writer.write_image_data(&vec![0; side as usize * side as usize]).unwrap();
    }
    let start = squeezed.windows(4).position(|name| name == b"IDAT").unwrap();
    let length = u32::from_be_bytes(squeezed[start - 4..start].try_into().unwrap()) as usize;
    let mut chunk = b"iCCPa\0\0".to_vec();
    chunk.extend_from_slice(&squeezed[start + 4..start + 4 + length]);
    let mut file = Picture { width: 1, height: 1, rgba: vec![9; 4] }.to_png().unwrap();
    let mut whole = ((chunk.len() - 4) as u32).to_be_bytes().to_vec();
    whole.extend_from_slice(&chunk);
    whole.extend_from_slice(&crc(&chunk).to_be_bytes());
    // After the signature and the header; the profile that says sRGB goes.
    let after_header = 33;
    let srgb = file.windows(4).position(|name| name == b"sRGB").unwrap();
    file.drain(srgb - 4..srgb + 9);
    file.splice(after_header..after_header, whole);
    file
}

/// The check of a chunk (PNG 1.2, §3.4 and its sample code).
fn crc(bytes: &[u8]) -> u32 {
    !bytes.iter().fold(u32::MAX, |sum, byte| {
        (0..8).fold(
            sum ^ u32::from(*byte),
            |sum, _| if sum & 1 == 1 { 0xEDB8_8320 ^ (sum >> 1) } else { sum >> 1 },
        )
    })
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(
        std::env::var("PROPTEST_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(6)
    ) })]

    #[test]
    fn arbitrary_documents_end(document in document()) {
        let _alone = alone();
        if Project::from_value(&document).is_ok_and(|project| !project.scenes[0].pieces.is_empty()) {
            ask_everything("arbitrary", &document);
        }
    }
}
