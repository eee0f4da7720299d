//! What looking over a large project costs: 100 scenes of the demo's largest, whose pieces wear 500 finishes that differ
//! from its "Lifted" in softness and opacity.

#![allow(clippy::unwrap_used, missing_docs)]

use criterion::{Criterion, criterion_group, criterion_main};
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Limits, audit};
use zolvet_core::compose::MaskCache;
use zolvet_core::model::Project;

const SCENES: usize = 100;
const FINISHES: usize = 500;

fn large() -> Value {
    let mut project: Value =
        serde_json::from_str(include_str!("../../../demo/quillmere.zolvet.json")).unwrap();
    let lifted = project["finishes"].as_array().unwrap().iter().find(|finish| finish["name"] == "Lifted");
    let lifted = lifted.unwrap().clone();
    let kiosk = project["scenes"][0].clone();
    let finishes = (0..FINISHES).map(|at| {
        let mut finish = lifted.clone();
        (finish["id"], finish["name"]) = (json!(format!("large-{at}")), json!(format!("Lifted {at}")));
        let softer = 0.5 + 1.5 * (at * 137 % FINISHES) as f64 / FINISHES as f64;
        let stronger = 0.6 + 0.6 * (at * 211 % FINISHES) as f64 / FINISHES as f64;
        vary(&mut finish, softer, stronger);
        finish
    });
    let finishes: Vec<Value> = finishes.collect();
    let scenes = (0..SCENES).map(|at| {
        let mut scene = kiosk.clone();
        scene["id"] = json!(format!("scene-{at}"));
        for (i, piece) in scene["pieces"].as_array_mut().unwrap().iter_mut().enumerate() {
            if piece["wear"].get("finish").is_some() {
                piece["wear"]["finish"] = json!(format!("large-{}", (at * 31 + i * 17) % FINISHES));
            }
        }
        scene
    });
    project["scenes"] = scenes.collect();
    project["finishes"].as_array_mut().unwrap().extend(finishes);
    project["accepted"] = json!([]);
    project
}

/// Multiplies every blur and every opacity.
fn vary(value: &mut Value, softer: f64, stronger: f64) {
    match value {
        Value::Object(fields) => {
            for (name, value) in fields {
                match (name.as_str(), value.as_f64()) {
                    ("blur", Some(blur)) => *value = json!(blur * softer),
                    ("opacity", Some(opacity)) => *value = json!((opacity * stronger).min(1.0)),
                    _ => vary(value, softer, stronger),
                }
            }
        }
        Value::Array(items) => items.iter_mut().for_each(|item| vary(item, softer, stronger)),
        _ => {}
    }
}

fn looked_over(criterion: &mut Criterion) {
    let document = large();
    let project = Project::from_value(&document).unwrap();
    let assets = Assets::carried_by(&project);
    let mut group = criterion.benchmark_group("audit");
    group.sample_size(10);
    group.bench_function(format!("{SCENES} scenes, {FINISHES} finishes"), |bencher| {
        bencher.iter(|| {
            let cache = MaskCache::default();
            audit(&project, &assets, &Limits::default(), &cache, &mut |_, _| true)
        });
    });
    group.finish();
}

criterion_group!(benches, looked_over);
criterion_main!(benches);
