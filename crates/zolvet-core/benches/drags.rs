//! What a dragged value costs: the demo's scenes, with one value that is another one for every picture, and only what it
//! changes drawn anew. Decoding the document is left out. `cargo bench -p zolvet-core --bench drags`.

#![allow(missing_docs, clippy::unwrap_used)]

use std::time::{Duration, Instant};

use criterion::Criterion;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{LastPicture, MaskCache, RenderOptions, Rounding, Viewport, redraw};
use zolvet_core::model::Project;
use zolvet_core::resolve;

/// As the program has it.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Device pixels for one CSS px.
const SCALES: [f64; 2] = [1.0, 2.0];

/// What is dragged in a scene, where it is in the document, and its value for a number of the picture.
struct Drag {
    name: &'static str,
    scene: usize,
    pointer: String,
    value: fn(usize) -> Value,
}

fn main() {
    let mut criterion = Criterion::default().configure_from_args().sample_size(20);
    let document = one_light();
    for drag in drags(&document) {
        for scale in SCALES {
            let name = format!("{} {scale}x", drag.name);
            criterion
                .bench_function(&name, |b| b.iter_custom(|count| dragged(&drag, &document, scale, count)));
        }
    }
    criterion.final_summary();
}

/// The demo, in which everything that follows a light follows the first.
fn one_light() -> Value {
    let text = include_str!("../../../demo/quillmere.zolvet.json");
    let light =
        |text: String, id: &str| text.replace(&format!("\"follows\": \"{id}\""), "\"follows\": \"sun\"");
    serde_json::from_str(&light(light(text.to_owned(), "low"), "moon")).unwrap()
}

fn drags(document: &Value) -> Vec<Drag> {
    let at =
        |list: &Value, id: &str| list.as_array().unwrap().iter().position(|one| one["id"] == id).unwrap();
    let finish = |id: &str, coat: usize, value: &str| {
        format!("/finishes/{}/coats/{coat}/{value}", at(&document["finishes"], id))
    };
    let piece = |scene: usize, id: &str, value: &str| {
        format!("/scenes/{scene}/pieces/{}/{value}", at(&document["scenes"][scene]["pieces"], id))
    };
    let blur = |i: usize| json!(5.0 + (i * 7 % 40) as f64 + i as f64 / 1024.0);
    let bearing = |i: usize| json!((i as f64 * 15.3) % 360.0);
    let count = |i: usize| json!(2 + i % 7);
    let offset = |i: usize| json!({"x": (i % 30) as f64 + i as f64 / 1024.0, "y": 8});
    let light = || "/lights/0/bearing".to_owned();
    let drag = |name, scene, pointer, value| Drag { name, scene, pointer, value };
    vec![
        drag("kiosk blur", 0, finish("lifted", 2, "blur"), blur),
        drag("kiosk light", 0, light(), bearing),
        drag("night blur", 1, piece(1, "clock", "wear/coats/0/blur"), blur),
        drag("night light", 1, light(), bearing),
        drag("marker near blur", 2, finish("enamel", 4, "near/blur"), blur),
        drag("marker near offset", 2, finish("enamel", 4, "near/offset"), offset),
        drag("marker light", 2, light(), bearing),
        drag("marker count", 2, finish("enamel", 4, "count"), count),
        drag("marker join", 2, piece(2, "sign", "shape/parts/0/x"), |i| {
            json!(151.0 + (i % 90) as f64 * 0.9 + i as f64 / 1024.0)
        }),
        drag("label blur", 3, piece(3, "paper", "wear/coats/3/blur"), blur),
        drag("label light", 3, light(), bearing),
        drag("bar blur", 4, finish("frosted", 3, "blur"), blur),
        drag("bar light", 4, light(), bearing),
        drag("bar place", 4, piece(4, "pane", "x"), |i| {
            json!(100.0 + (i % 90) as f64 * 0.9 + i as f64 / 1024.0)
        }),
        drag("bar sigma", 4, finish("frosted", 4, "sigma"), blur),
    ]
}

/// The time that so many pictures take, one after the other.
fn dragged(drag: &Drag, document: &Value, scale: f64, count: u64) -> Duration {
    let (mut document, cache) = (document.clone(), MaskCache::with_capacity(192 << 20));
    let assets = Assets::carried_by(&Project::from_value(&document).unwrap());
    let mut shown = None;
    let mut taken = Duration::ZERO;
    // The first picture is drawn whole, and is none of a drag.
    for i in 0..=count as usize {
        *document.pointer_mut(&drag.pointer).unwrap() = (drag.value)(i);
        let project = Project::from_value(&document).unwrap();
        let start = Instant::now();
        let scene = resolve::scene(&project, &project.scenes[drag.scene], &assets);
        let view = Viewport::whole(&scene, scale);
        let last = LastPicture { rounding: Rounding::Nearest, last: shown.as_ref() };
        let redrawn = redraw(&scene, &view, &RenderOptions::default(), last, &cache).unwrap();
        shown = Some(redrawn.shown);
        if i > 0 {
            taken += start.elapsed();
        }
    }
    taken
}
