//! Scenes of groups within groups as code: a hundred by chance, drawn by Chromium from nested elements, beside our own
//! picture where the code is exact, and beside the picture that was promised where it is not (docs/measuring.md, "Bars"). `ZOLVET_CASES=1000` makes a long run.

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

use std::fmt::Write as _;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::chromium::{CSS, scene_of_code};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::CodeOptions;
use zolvet_core::geometry::text::FAMILIES;
use zolvet_core::lower::{Numbers, best_target, scene_with_carried_shadows};
use zolvet_core::model::{Project, Scene};
use zolvet_core::picture::Picture;
use zolvet_core::report::{ReportOptions, report, scene_code};
use zolvet_core::resolve;
use zolvet_e2e::chance::Chance;
use zolvet_e2e::{Browser, Difference, keep_pictures};

const SIZE: (u32, u32) = (420, 320);
/// Scenes whose code is exact, at least, in a hundred.
const MIN_EXACT: usize = 50;

#[tokio::test]
async fn nested_elements_show_what_was_designed_or_promised() {
    let browser = Browser::start(SIZE.0, SIZE.1).await.expect("Chromium");
    let (mut exact, mut worst, mut failures) = (0, [0.0_f64; 2], String::new());
    let scenes = std::env::var("ZOLVET_CASES").map_or(100, |cases| cases.parse().unwrap());
    for seed in 0..scenes {
        let project = Project::from_value(&document(&mut Chance::new(seed))).unwrap();
        let found = compared(&project, &browser).await;
        exact += usize::from(found.is_exact);
        let worst = &mut worst[usize::from(found.is_exact)];
        *worst = worst.max(found.difference.mean);
        if !found.difference.meets_the_bar_but_for_edges() {
            let kind = if found.is_exact { "exact" } else { "promised" };
            let _ = writeln!(failures, "{seed} {kind}: {:?}", found.difference);
            keep_pictures(&format!("nested-{seed}"), &found.ours, &found.theirs).expect("written");
        }
    }
    browser.quit().await.expect("the end");
    println!("{exact} of {scenes} are exact; worst means: promised {:.2}, exact {:.2}", worst[0], worst[1]);
    assert!(failures.is_empty(), "{failures}");
    assert!(exact * 100 >= MIN_EXACT * scenes as usize, "{exact}");
}

struct Compared {
    is_exact: bool,
    difference: Difference,
    ours: Picture,
    theirs: Picture,
}

async fn compared(project: &Project, browser: &Browser) -> Compared {
    let (scene, assets, cache) = (&project.scenes[0], Assets::default(), MaskCache::default());
    let carried = scene_with_carried_shadows(project, scene, &assets);
    let resolved = resolve::scene(project, &carried, &assets);
    let view = Viewport::whole(&resolved, 1.0);
    let differs = scene.pieces.iter().any(|piece| {
        let options = ReportOptions { piece: piece.id.as_str(), line: None, code: CodeOptions::default() };
        let code = report(project, scene, options, &assets, &cache).unwrap().code;
        !code.differences.is_empty()
    });
    let options = RenderOptions { mode: CSS, ..RenderOptions::default() };
    let draw = |scene: &resolve::Scene| picture(scene, &view, &options, Rounding::Nearest, &cache);
    let ours = if differs {
        let lowered = resolved
            .pieces
            .iter()
            .map(|piece| best_target(&Numbers::default().rounded_piece(piece), is_text(&carried, piece)));
        scene_of_code(&resolved, &lowered.collect::<Vec<_>>(), &view, &cache)
    } else {
        draw(&resolved)
    };
    let ground = draw(&resolve::Scene { pieces: Vec::new(), ..resolved.clone() });
    browser.show(&page(project, scene, &assets)).await.expect("the page");
    let theirs = browser.picture().await.expect("a picture");
    Compared { is_exact: !differs, difference: Difference::touched(&ours, &theirs, &ground), ours, theirs }
}

fn is_text(scene: &Scene, piece: &resolve::Piece) -> bool {
    scene.piece(piece.id.as_str()).is_some_and(|model| model.shape.name() == "text")
}

/// Each piece's code in a shadow root of its own, as the workbench shows it.
fn page(project: &Project, scene: &Scene, assets: &Assets) -> String {
    let mut page =
        "<!doctype html><meta charset=utf-8><style>html{background:#e8e4da}body{margin:0;overflow:hidden}"
            .to_owned();
    let figtree = FAMILIES.iter().find(|family| family.name == "Figtree").unwrap();
    for face in figtree.faces {
        let data = STANDARD.encode(face.data);
        let weight = face.weight;
        let _ = write!(
            page,
            "@font-face{{font-family:Figtree;font-weight:{weight};src:url(data:font/ttf;base64,{data})}}"
        );
    }
    page += "</style>";
    for code in scene_code(project, scene, None, assets) {
        let _ = write!(
            page,
            "<div style=\"position:absolute;left:{}px;top:{}px\"><template shadowrootmode=open>\
             <style>:host>*{{position:absolute;left:0;top:0;margin-block:0;text-rendering:geometricPrecision}}</style>{}</template></div>",
            code.x, code.y, code.page
        );
    }
    page
}

fn document(chance: &mut Chance) -> Value {
    let mut count = 0;
    let pieces: Vec<Value> = (0..2)
        .map(|at| {
            let mut piece = group(chance, 1, &mut count);
            (piece["x"], piece["y"]) = (json!(30 + at * 190), json!(40 + chance.below(60)));
            piece
        })
        .collect();
    json!({
        "schema": 3, "name": "nested", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": SIZE.0, "height": SIZE.1, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}]
    })
}

/// A card or button: a face, what lies on it, and sometimes a group among that.
fn group(chance: &mut Chance, depth: u64, count: &mut u32) -> Value {
    let (w, h) = (170 - depth * 30, 150 - depth * 30);
    let mut parts = vec![face(chance, (w, h), count)];
    for _ in 0..chance.below(3) {
        let mut part = match chance.below(if depth < 3 { 4 } else { 3 }) {
            0 => text(chance, count),
            1 => face(chance, (w / 3, h / 4), count),
            2 => ellipse(chance, count),
            _ => group(chance, depth + 1, count),
        };
        (part["x"], part["y"]) = (json!(8 + chance.below(w / 3)), json!(8 + chance.below(h / 3)));
        parts.push(part);
    }
    let mut whole = piece("group", json!({"kind": "group", "parts": parts}), count);
    whole.as_object_mut().unwrap().remove("fill");
    match chance.below(6) {
        0 => whole["opacity"] = json!(chance.tenths(0.3, 0.9)),
        1 => whole["blend"] = json!(chance.of(&["multiply", "screen"])),
        2 => {
            whole["wear"] = json!({"coats": [{"id": "b", "name": "blur", "on": true, "kind": "blur", "sigma": chance.tenths(1.0, 4.0)}]})
        }
        3 | 4 => whole["wear"] = json!({"coats": shadows(chance)}),
        _ => {}
    }
    whole
}

fn face(chance: &mut Chance, (w, h): (u64, u64), count: &mut u32) -> Value {
    let mut face = piece("face", json!({"kind": "box", "w": w, "h": h, "radii": chance.below(20)}), count);
    let mut coats = match chance.below(3) {
        0 => Vec::new(),
        _ => shadows(chance),
    };
    if chance.below(4) == 0 {
        face["fill"]["colour"] = json!(format!("#{:06x}c0", chance.below(1 << 24)));
        coats = vec![
            json!({"id": "f", "name": "frost", "on": true, "kind": "backdrop", "sigma": 4, "saturate": 1}),
        ];
    } else {
        face["fill"]["colour"] = json!(format!("#{:06x}", chance.below(1 << 24)));
    }
    face["wear"] = json!({"coats": coats});
    face
}

fn ellipse(chance: &mut Chance, count: &mut u32) -> Value {
    let mut ellipse = piece("dot", json!({"kind": "ellipse", "w": 30 + chance.below(20), "h": 30}), count);
    ellipse["fill"]["colour"] = json!(format!("#{:06x}", chance.below(1 << 24)));
    ellipse["wear"] = json!({"coats": shadows(chance)});
    ellipse
}

fn text(chance: &mut Chance, count: &mut u32) -> Value {
    let shape = json!({"kind": "text", "string": chance.of(&["Open", "Row 7", "Now"]), "font": "Figtree", "weight": 600,
        "size": 18, "line_height": 1.2});
    let mut text = piece("text", shape, count);
    text["fill"]["colour"] = json!(chance.of(&["#ffffff", "#1e2120"]));
    text
}

fn piece(name: &str, shape: Value, count: &mut u32) -> Value {
    *count += 1;
    json!({"id": format!("{name}-{count}"), "name": name, "shape": shape, "x": 0, "y": 0,
        "fill": {"kind": "solid", "colour": "#fff"}, "wear": {"coats": []}})
}

fn shadows(chance: &mut Chance) -> Vec<Value> {
    let shadow = |chance: &mut Chance, at: u64| {
        let offset = json!({"x": chance.below(9) as i64 - 4, "y": chance.below(12)});
        let colour = format!("#{:06x}{:02x}", chance.below(1 << 20), 60 + chance.below(120));
        json!({"id": at.to_string(), "name": "shadow", "on": true, "kind": "drop", "offset": offset,
            "blur": chance.below(16), "spread": 0, "colour": colour})
    };
    (0..=chance.below(2)).map(|at| shadow(chance, at)).collect()
}
