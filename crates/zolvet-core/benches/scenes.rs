//! Whole pictures at 1280×800: cold (nothing kept), with one coat changed, and beside resvg on the equivalent SVG. The
//! last thing printed is a table with the ratios. `cargo bench -p zolvet-core --bench scenes`.

#![allow(missing_docs, clippy::unwrap_used, clippy::expect_used)]

use std::fmt::Write as _;
use std::hint::black_box;
use std::path::Path;

use criterion::{BatchSize, Criterion};
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::model::{self, Project};
use zolvet_core::resolve::{self, Scene};

/// As the program has it.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

const SIZE: (u32, u32) = (1280, 800);

/// Ten points.
const STAR: &str = "M300 0 L366 198 L576 198 L408 324 L471 522 L300 402 L129 522 L192 324 L24 198 L234 198 Z";
const CARD: &str =
    "M32 0 H608 A32 32 0 0 1 640 32 V368 A32 32 0 0 1 608 400 H32 A32 32 0 0 1 0 368 V32 A32 32 0 0 1 32 0 Z";

/// Offset down, σ, colour, opacity.
type Drop = (f64, f64, &'static str, f64);

const SIX: [Drop; 6] = [
    (1.0, 1.0, "#102018", 0.3),
    (3.0, 3.0, "#102018", 0.25),
    (8.0, 8.0, "#102018", 0.2),
    (14.0, 16.0, "#102018", 0.2),
    (24.0, 28.0, "#102018", 0.15),
    (40.0, 40.0, "#102018", 0.15),
];

/// A glowing tube (docs/measuring.md, "Facts"): blur 10 to 2000, that is σ 5 to 1000.
const SEVEN: [Drop; 7] = [
    (0.0, 5.0, "#40ffb0", 1.0),
    (0.0, 25.0, "#40ffb0", 1.0),
    (0.0, 50.0, "#40ffb0", 1.0),
    (0.0, 100.0, "#40ffb0", 1.0),
    (0.0, 200.0, "#40ffb0", 1.0),
    (0.0, 500.0, "#40ffb0", 1.0),
    (0.0, 1000.0, "#40ffb0", 0.5),
];

struct Bench {
    name: &'static str,
    scene: Scene,
    svg: Option<String>,
}

fn main() {
    let mut criterion = Criterion::default().configure_from_args().sample_size(20);
    let benches = benches();
    for bench in &benches {
        let mut group = criterion.benchmark_group(bench.name);
        group
            .bench_function("cold", |b| b.iter(|| draw(black_box(&bench.scene), 1.0, &MaskCache::default())));
        if let Some(svg) = &bench.svg {
            let tree = resvg::usvg::Tree::from_str(svg, &resvg::usvg::Options::default()).unwrap();
            group.sample_size(10);
            group.bench_function("resvg", |b| {
                b.iter(|| {
                    let mut pixels = resvg::tiny_skia::Pixmap::new(SIZE.0, SIZE.1).unwrap();
                    resvg::render(
                        black_box(&tree),
                        resvg::tiny_skia::Transform::identity(),
                        &mut pixels.as_mut(),
                    );
                    pixels
                });
            });
        }
        group.finish();
    }
    one_coat_of_ten(&mut criterion);
    by_number(&mut criterion);
    criterion.final_summary();
    print_table(&benches);
}

fn draw(scene: &Scene, scale: f64, cache: &MaskCache) -> zolvet_core::picture::Picture {
    picture(scene, &Viewport::whole(scene, scale), &RenderOptions::default(), Rounding::Nearest, cache)
}

/// Ten mixed coats: everything worked out anew, letters, strokes and thickness included, from the document to the
/// picture; and the same with all of it kept but one coat, whose blur changes from picture to picture.
fn one_coat_of_ten(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group(HEADLINE);
    let assets = Assets::default();
    let whole = |project: &Project, cache: &MaskCache| {
        draw(&resolve::scene(project, &project.scenes[0], &assets), 1.0, cache)
    };
    let mut size = 170.0;
    let mut anew = || {
        size += 1e-6;
        headline(size)
    };
    group.bench_function("cold", |b| {
        b.iter_batched(&mut anew, |project| whole(&project, &MaskCache::default()), BatchSize::SmallInput);
    });
    let (mut project, cache) = (headline(170.0), MaskCache::default());
    let mut blur = 20.0;
    group.bench_function("one coat changed", |b| {
        b.iter(|| {
            blur = if blur > 40.0 { 20.0 } else { blur + 0.013 };
            if let model::Wear::Coats(own) = &mut project.scenes[0].pieces[0].wear
                && let model::CoatKind::Drop(drop) = &mut own.coats[7].kind
            {
                drop.blur = model::BlurRadius::new(blur).unwrap();
            }
            whole(&project, &cache)
        });
    });
    group.finish();
}

const HEADLINE: &str = "ten mixed coats on a headline";

/// Time by the number of coats, and by the number of pixels.
fn by_number(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("by coats");
    for count in [1, 2, 4, 8, 16, 32] {
        let drops: Vec<Drop> = (0..count).map(|i| SIX[i % 6]).collect();
        let scene = on(
            json!({"kind": "path", "d": STAR, "viewbox": [0, 0, 600, 522], "w": 600, "h": 522}),
            &drops,
            "#e0d8c8",
        );
        group.bench_function(count.to_string(), |b| b.iter(|| draw(&scene, 1.0, &MaskCache::default())));
    }
    group.finish();
    let mut group = criterion.benchmark_group("by pixels");
    let scene = card();
    for scale in [0.5, 1.0, 2.0, 4.0] {
        group.bench_function(scale.to_string(), |b| b.iter(|| draw(&scene, scale, &MaskCache::default())));
    }
    group.finish();
}

fn benches() -> Vec<Bench> {
    let star = || json!({"kind": "path", "d": STAR, "viewbox": [0, 0, 600, 522], "w": 600, "h": 522});
    let demo: Value = serde_json::from_str(include_str!("../../../demo/quillmere.zolvet.json")).unwrap();
    let demo = Project::from_value(&demo).unwrap();
    let assets = Assets::carried_by(&demo);
    let mut benches = vec![
        Bench {
            name: "six drop shadows on a card",
            scene: card(),
            svg: Some(svg(CARD, (320.0, 180.0), &SIX, "#e0d8c8")),
        },
        Bench {
            name: "six drop shadows on a star",
            scene: on(star(), &SIX, "#e0d8c8"),
            svg: Some(svg(STAR, (340.0, 140.0), &SIX, "#e0d8c8")),
        },
        Bench {
            name: "seven glows on a star",
            scene: on(star(), &SEVEN, "#101412"),
            svg: Some(svg(STAR, (340.0, 140.0), &SEVEN, "#101412")),
        },
    ];
    for (i, scene) in demo.scenes.iter().enumerate() {
        let name = [
            "demo: first scene",
            "demo: second scene",
            "demo: third scene",
            "demo: fourth scene",
            "demo: fifth scene",
        ];
        let Some(name) = name.get(i) else { break };
        benches.push(Bench { name, scene: resolve::scene(&demo, scene, &assets), svg: None });
    }
    benches
}

fn card() -> Scene {
    on(json!({"kind": "box", "w": 640, "h": 400, "radii": 32}), &SIX, "#e0d8c8")
}

fn on(shape: Value, drops: &[Drop], ground: &str) -> Scene {
    let coats: Vec<Value> = drops
        .iter()
        .enumerate()
        .map(|(i, (y, sigma, colour, opacity))| {
            json!({"id": format!("c{i}"), "name": "c", "on": true, "kind": "drop", "offset": {"x": 0, "y": y}, "blur": sigma * 2.0, "spread": 0, "colour": colour, "opacity": opacity})
        })
        .collect();
    let at = if shape["kind"] == "box" { (320, 180) } else { (340, 140) };
    scene(
        json!([{"id": "p", "name": "p", "shape": shape, "x": at.0, "y": at.1, "fill": {"kind": "solid", "colour": "#fbf9f3"}, "wear": {"coats": coats}}]),
        ground,
    )
}

fn headline(size: f64) -> Project {
    let white = json!({"kind": "linear", "angle": 180, "stops": [{"at": 0, "colour": "#fff"}, {"at": 1, "colour": "#fff0"}]});
    let shadow = |id: &str, kind: &str, y: f64, blur: f64, colour: &str, opacity: f64| json!({"id": id, "name": id, "on": true, "kind": kind, "offset": {"x": 0, "y": y}, "blur": blur, "spread": 0, "colour": colour, "opacity": opacity});
    let coats = json!([
        {"id": "h", "name": "h", "on": true, "kind": "highlight", "spot": {"shape": {"kind": "ellipse", "w": 900, "h": 90}, "x": 40, "y": -20}, "fill": {"kind": "solid", "colour": "#ffffff"}, "blur": 30, "opacity": 0.5},
        {"id": "t", "name": "t", "on": true, "kind": "tint", "fill": white, "opacity": 0.3},
        shadow("i1", "inner", 3.0, 4.0, "#ffffff", 0.6),
        shadow("i2", "inner", -4.0, 8.0, "#002010", 0.4),
        {"id": "s", "name": "s", "on": true, "kind": "stroke", "width": 2, "side": "outside", "join": "round", "fill": {"kind": "solid", "colour": "#0c3a2e"}},
        shadow("d1", "drop", 1.0, 2.0, "#001008", 0.4),
        shadow("d2", "drop", 6.0, 12.0, "#001008", 0.3),
        shadow("d3", "drop", 16.0, 20.0, "#001008", 0.3),
        {"id": "e", "name": "e", "on": true, "kind": "extrude", "offset": {"x": 12, "y": 14}, "near": "#1f5546", "far": "#0a241c"},
        {"id": "k", "name": "k", "on": true, "kind": "cast", "shear": 0.4, "squash": -0.4, "anchor": 0.8, "blur_near": 2, "blur_far": 24, "colour": "#001008", "fade": 0.8, "opacity": 0.4}
    ]);
    let text = json!({"kind": "text", "string": "Quillmere", "font": "Archivo Black", "size": size, "weight": 400, "line_height": 1.2});
    project(
        json!([{"id": "p", "name": "p", "shape": text, "x": 140, "y": 260, "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}}]),
        "#e0d8c8",
    )
}

fn scene(pieces: Value, ground: &str) -> Scene {
    let project = project(pieces, ground);
    resolve::scene(&project, &project.scenes[0], &Assets::default())
}

fn project(pieces: Value, ground: &str) -> Project {
    let document = json!({
        "schema": 1, "name": "bench", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": SIZE.0, "height": SIZE.1, "theme": "t",
            "ground": {"kind": "solid", "colour": ground}, "pieces": pieces}]
    });
    Project::from_value(&document).unwrap()
}

/// The same as SVG: one filter that casts every shadow from the source's alpha.
fn svg(path: &str, (x, y): (f64, f64), drops: &[Drop], ground: &str) -> String {
    let (width, height) = SIZE;
    let (mut steps, mut merge) = (String::new(), String::new());
    for (i, (dy, sigma, colour, opacity)) in drops.iter().enumerate() {
        let _ = write!(
            steps,
            "<feGaussianBlur in='SourceAlpha' stdDeviation='{sigma}'/><feOffset dy='{dy}' result='b{i}'/>\
             <feFlood flood-color='{colour}' flood-opacity='{opacity}'/><feComposite in2='b{i}' operator='in' result='d{i}'/>"
        );
        merge.insert_str(0, &format!("<feMergeNode in='d{i}'/>"));
    }
    format!(
        "<svg xmlns='http://www.w3.org/2000/svg' width='{width}' height='{height}'>\
         <filter id='f' x='0' y='0' width='{width}' height='{height}' filterUnits='userSpaceOnUse' color-interpolation-filters='sRGB'>\
         {steps}<feMerge>{merge}<feMergeNode in='SourceGraphic'/></feMerge></filter><rect width='100%' height='100%' fill='{ground}'/>\
         <g filter='url(#f)'><path transform='translate({x} {y})' d='{path}' fill='#fbf9f3'/></g></svg>"
    )
}

fn print_table(benches: &[Bench]) {
    println!("\n| picture, 1280×800 | cold, ms | resvg, ms | times faster |\n| --- | --- | --- | --- |");
    for bench in benches {
        let Some(ours) = median(bench.name, "cold") else { continue };
        let (theirs, ratio) = match median(bench.name, "resvg").filter(|_| bench.svg.is_some()) {
            Some(theirs) => (format!("{theirs:.1}"), format!("{:.0}", theirs / ours)),
            None => (String::new(), String::new()),
        };
        println!("| {} | {ours:.2} | {theirs} | {ratio} |", bench.name);
    }
    if let (Some(cold), Some(changed)) = (median(HEADLINE, "cold"), median(HEADLINE, "one coat changed")) {
        println!("| {HEADLINE} | {cold:.2} | | |\n");
        println!("One coat of the ten changed: {changed:.2} ms, {:.2} of a cold picture.", changed / cold);
    }
    for (group, steps) in
        [("by coats", vec!["1", "2", "4", "8", "16", "32"]), ("by pixels", vec!["0.5", "1", "2", "4"])]
    {
        let times: Vec<String> =
            steps.iter().filter_map(|step| Some(format!("{step}: {:.2} ms", median(group, step)?))).collect();
        println!("{group}: {}", times.join(", "));
    }
}

/// The median in milliseconds that criterion has just found.
fn median(group: &str, name: &str) -> Option<f64> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/criterion");
    let group = group.replace([':', '/'], "_");
    let text = std::fs::read_to_string(folder.join(group).join(name).join("new/estimates.json")).ok()?;
    let estimates: Value = serde_json::from_str(&text).ok()?;
    Some(estimates["median"]["point_estimate"].as_f64()? / 1e6)
}
