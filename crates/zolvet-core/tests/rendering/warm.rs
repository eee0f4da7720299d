//! What is kept never shows: whatever a document was before, with everything of it still kept, each of its pictures
//! equals, byte for byte, what a new process draws.
//!
//! A short run each time; `PROPTEST_CASES=20000 cargo test --release -p zolvet-core --test rendering warm` is a long one.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use std::hash::{DefaultHasher, Hash, Hasher};
use std::io::Write;
use std::process::{Command, Stdio};

use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::chromium::{self, shown_as_css};
use zolvet_core::compose::{
    CoatFilter, LastPicture, MaskCache, Region, RenderMode, RenderOptions, Rounding, Shown, Viewport,
    picture, redraw, render,
};
use zolvet_core::model::{Id, Project};
use zolvet_core::picture::Picture;
use zolvet_core::resolve;
use zolvet_samples::any::document;

/// A hash of every picture of a project: whole and in parts, at several scales, in each arithmetic, and as browsers draw.
fn pictures(project: &Project, cache: &MaskCache) -> Vec<u64> {
    let assets = Assets::carried_by(project);
    let scene = resolve::scene(project, &project.scenes[0], &assets);
    let (whole, close) =
        (Viewport::whole(&scene, 1.0), Viewport { x: 11.3, y: 7.0, scale: 2.0, width: 90, height: 70 });
    let first = scene.pieces.first().map(|piece| piece.id.clone());
    let coat = scene.pieces.iter().flat_map(|piece| &piece.coats).map(|coat| coat.id.clone()).next();
    let coat = coat.unwrap_or_else(|| Id::new("none").unwrap());
    let parts = [
        RenderOptions::default(),
        RenderOptions { shadow_only: true, ..RenderOptions::default() },
        RenderOptions { piece: first, ..RenderOptions::default() },
        RenderOptions { coats: CoatFilter::None, ..RenderOptions::default() },
        RenderOptions { coats: CoatFilter::Only(coat.clone()), ..RenderOptions::default() },
        RenderOptions { coats: CoatFilter::Without(coat), ..RenderOptions::default() },
    ];
    let hash = |bytes: &[u8]| {
        let mut hasher = DefaultHasher::new();
        bytes.hash(&mut hasher);
        hasher.finish()
    };
    let mut found = Vec::new();
    for mode in [RenderMode::EXACT, chromium::CSS, chromium::SVG] {
        for part in &parts {
            let part = RenderOptions { mode, ..part.clone() };
            for view in [&whole, &close] {
                found.push(hash(&picture(&scene, view, &part, Rounding::Nearest, cache).rgba));
            }
        }
    }
    let floats = render(&scene, &close, &RenderOptions::default(), cache);
    let bits: Vec<u8> =
        floats.pixels.iter().flatten().flat_map(|part| part.to_bits().to_ne_bytes()).collect();
    found.push(hash(&bits));
    found.push(hash(&shown_as_css(&scene, &[], &close, &RenderOptions::default(), cache).rgba));
    found
}

/// Steps that the whole picture of a document takes at most here: some dozens of pictures are drawn of each, and what is large
/// is looked at elsewhere (`budgets`).
const MAX_STEPS: u64 = 60_000_000;

fn takes_little(document: &Value) -> bool {
    Project::from_value(document).is_ok_and(|project| {
        let scene = resolve::scene(&project, &project.scenes[0], &Assets::carried_by(&project));
        let (view, cache) = (Viewport::whole(&scene, 1.0), MaskCache::default());
        let draw = || picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &cache);
        Budget::with_steps(MAX_STEPS).run(draw).is_ok()
    })
}

/// Set for a process that draws what it reads and nothing before.
const FRESH: &str = "ZOLVET_DRAW_FRESH";

/// What [`fresh`] starts draws the document it is given; without one, two new processes draw the same.
#[test]
fn a_new_process_draws_what_it_reads() {
    if std::env::var_os(FRESH).is_some() {
        let project = Project::from_json(&std::io::read_to_string(std::io::stdin()).unwrap()).unwrap();
        println!("\nDRAWN {}", json!(pictures(&project, &MaskCache::default())));
        return;
    }
    let document = json!({"schema": 1, "name": "n", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 60, "height": 50, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": []}]});
    assert_eq!(fresh(&document), fresh(&document));
}

/// The same in a process that has kept nothing.
fn fresh(document: &Value) -> Vec<u64> {
    let mut child = Command::new(std::env::current_exe().unwrap())
        .args(["--exact", "warm::a_new_process_draws_what_it_reads", "--nocapture"])
        .env(FRESH, "1")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(document.to_string().as_bytes()).unwrap();
    let output = child.wait_with_output().unwrap();
    let text = String::from_utf8(output.stdout).unwrap();
    let line = text.lines().find_map(|line| line.strip_prefix("DRAWN ")).unwrap_or_else(|| panic!("{text}"));
    serde_json::from_str(line).unwrap()
}

/// The places of a value that a change can be made at: numbers, truths and words.
fn places(value: &Value, at: &str, found: &mut Vec<String>) {
    match value {
        Value::Object(fields) => {
            fields.iter().for_each(|(name, value)| places(value, &format!("{at}/{name}"), found))
        }
        Value::Array(items) => {
            items.iter().enumerate().for_each(|(i, item)| places(item, &format!("{at}/{i}"), found))
        }
        Value::Null => {}
        _ => found.push(at.to_owned()),
    }
}

/// Words that stand for one another.
const WORDS: [&[&str]; 10] = [
    &["normal", "multiply", "screen", "color-burn", "luminosity"],
    &["keep", "cut_out", "hide"],
    &["add", "subtract", "intersect", "exclude"],
    &["outside", "centre", "inside"],
    &["miter", "round", "bevel"],
    &["cover", "contain", "tile", "stretch"],
    &["fill", "ground", "light", "picture"],
    &["drop", "inner"],
    &["box", "ellipse"],
    &["left", "right", "centre"],
];

fn changed(value: &Value, chance: u64) -> Value {
    match value {
        Value::Bool(on) => json!(!on),
        Value::Number(number) => {
            let number = number.as_f64().unwrap_or(0.0);
            json!([number + 1.0, number * 0.5, number + 0.25, 0.0, number + 37.0, 1.0][chance as usize % 6])
        }
        Value::String(word) => match WORDS.iter().find(|words| words.contains(&word.as_str())) {
            Some(words) => json!(words[chance as usize % words.len()]),
            None if word.starts_with('#') => json!(["#102030", "#f0e0d0", "#abcdef80"][chance as usize % 3]),
            None => json!(format!("{word}i")),
        },
        other => other.clone(),
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, max_global_rejects: 1_000_000, ..ProptestConfig::with_cases(
        std::env::var("PROPTEST_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(12)
    ) })]

    #[test]
    fn warm_equals_fresh(first in document(), choices in prop::collection::vec((any::<u64>(), any::<u64>()), 1..6)) {
        prop_assume!(Project::from_value(&first).is_ok_and(|project| project.scenes[0].pieces.iter().any(|piece| !project.coats_of(piece, &project.scenes[0].theme).is_empty())));
        prop_assume!(takes_little(&first));
        let cache = MaskCache::default();
        let (mut document, mut history) = (first, Vec::new());
        pictures(&Project::from_value(&document).unwrap(), &cache);
        for (place, chance) in choices {
            let mut found = Vec::new();
            places(&document["scenes"][0], "/scenes/0", &mut found);
            let at = &found[place as usize % found.len()];
            let mut next = document.clone();
            let value = next.pointer_mut(at).unwrap();
            *value = changed(value, chance);
            // What is no document any more changes nothing.
            let Ok(project) = Project::from_value(&next) else { continue };
            if next == document || !takes_little(&next) {
                continue;
            }
            history.push(format!("{at}: {} to {}", document.pointer(at).unwrap(), next.pointer(at).unwrap()));
            document = next;
            prop_assert_eq!(pictures(&project, &cache), fresh(&document), "after {:?} in {}", history, document);
        }
    }
}

/// How many values of two pictures differ, and by how much at most.
fn apart(a: &[u8], b: &[u8]) -> (usize, u8) {
    let steps = a.iter().zip(b).map(|(a, b)| a.abs_diff(*b)).filter(|step| *step > 0);
    (steps.clone().count(), steps.max().unwrap_or(0))
}

/// A picture that is kept up with a document by drawing only what differs.
#[derive(Default)]
struct Followed {
    picture: Option<(Picture, Shown)>,
    /// The rectangles drawn last.
    drawn: Vec<[u32; 4]>,
}

impl Followed {
    /// Draws what differs; an error where that does not make the picture as it is when drawn as a whole.
    fn follow(
        &mut self,
        project: &Project,
        view: impl Fn(&resolve::Scene) -> Viewport,
        cache: &MaskCache,
    ) -> Result<(), String> {
        let scene = resolve::scene(project, &project.scenes[0], &Assets::carried_by(project));
        let (view, options) = (view(&scene), RenderOptions::default());
        let last = self.picture.as_ref().map(|(_, shown)| shown);
        let redrawn =
            redraw(&scene, &view, &options, LastPicture { rounding: Rounding::Dithered, last }, cache)
                .unwrap();
        let (width, height) = (view.width, view.height);
        let before = self.picture.take().map(|(picture, _)| picture);
        let mut rgba = before.map(|picture| picture.rgba).unwrap_or_default();
        rgba.resize((width * height * 4) as usize, 0);
        for Region { place: [x, y, across, _], rgba: part } in &redrawn.regions {
            for (row, pixels) in part.chunks((across * 4) as usize).enumerate() {
                let start = (((y + row as u32) * width + x) * 4) as usize;
                rgba[start..start + pixels.len()].copy_from_slice(pixels);
            }
        }
        let whole = redraw(
            &scene,
            &view,
            &options,
            LastPicture { rounding: Rounding::Dithered, last: None },
            &MaskCache::default(),
        )
        .unwrap();
        self.drawn = redrawn.regions.iter().map(|region| region.place).collect();
        match apart(&rgba, &whole.regions[0].rgba) {
            (0, _) => {}
            (count, most) => {
                return Err(format!("{count} values differ, by up to {most}; drawn anew {:?}", self.drawn));
            }
        }
        self.picture = Some((Picture { width, height, rgba }, redrawn.shown));
        Ok(())
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, max_shrink_iters: 300, max_global_rejects: 1_000_000, ..ProptestConfig::with_cases(
        std::env::var("PROPTEST_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(20)
    ) })]

    /// A picture of which only what differs is drawn anew is, at every change, the one that is drawn as a whole.
    #[test]
    fn drawing_what_differs_is_enough(first in document(), choices in prop::collection::vec((any::<u64>(), any::<u64>()), 1..12)) {
        prop_assume!(Project::from_value(&first).is_ok_and(|project| project.scenes[0].pieces.len() > 1));
        prop_assume!(takes_little(&first));
        let cache = MaskCache::default();
        let (mut whole, mut close) = (Followed::default(), Followed::default());
        // What is too large to be kept is painted where it is seen, and looks the same.
        let (small, mut forgetful) = (MaskCache::with_capacity(60_000), Followed::default());
        let (mut document, mut before) = (first, Value::Null);
        for (place, chance) in choices {
            let Ok(project) = Project::from_value(&document) else { continue };
            let followed = [
                whole.follow(&project, |scene| Viewport::whole(scene, 1.0), &cache),
                close.follow(&project, |_| Viewport { x: 11.3, y: 7.0, scale: 2.0, width: 90, height: 70 }, &cache),
                forgetful.follow(&project, |scene| Viewport::whole(scene, 1.5), &small),
            ];
            prop_assert!(followed.iter().all(Result::is_ok), "{followed:?}\nfrom {before}\nto {document}");
            before = document.clone();
            let mut found = Vec::new();
            places(&document["scenes"][0], "/scenes/0", &mut found);
            let at = &found[place as usize % found.len()];
            let mut next = document.clone();
            let value = next.pointer_mut(at).unwrap();
            *value = changed(value, chance);
            if takes_little(&next) {
                document = next;
            }
        }
    }
}

fn project(piece: Value) -> Project {
    Project::from_value(&with(piece)).unwrap()
}

fn with(piece: Value) -> Value {
    json!({"schema": 1, "name": "t", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 420, "height": 160, "theme": "t", "ground": {"kind": "none"}, "pieces": [piece]}]})
}

/// Defects that were there: pictures that differ in one thing only, which was not told apart.
#[test]
fn what_differs_in_one_thing_is_told_apart() {
    let gradient = json!({"kind": "linear", "angle": 90, "stops": [{"at": 0, "colour": "#f00"}, {"at": 1, "colour": "#00f"}]});
    let text = |width: Value| {
        json!({"id": "p", "name": "p", "x": 10, "y": 10, "fill": gradient, "wear": {"coats": []},
        "shape": {"kind": "text", "string": "Row 7", "font": "Figtree", "size": 40, "weight": 700, "line_height": 1.2, "width": width}})
    };
    let own = |w: f64| {
        json!({"id": "p", "name": "p", "x": 40, "y": 30, "fill": gradient, "shape": {"kind": "box", "w": w, "h": 60},
        "wear": {"coats": [{"id": "d", "name": "d", "on": true, "kind": "drop", "offset": {"x": 8, "y": 30}, "blur": 6, "spread": 0,
            "colour": {"from": "picture"}, "substitute": {"shape": {"kind": "ellipse", "w": 90, "h": 30}, "x": 0, "y": 40}}]}})
    };
    let thick = |hole: f64| {
        json!({"id": "p", "name": "p", "x": 40, "y": 30, "fill": {"kind": "none"}, "wear": {"coats": [
        {"id": "e", "name": "e", "on": true, "kind": "extrude", "offset": {"x": 60, "y": 0}, "near": "#f00", "far": "#00f"}]},
        "shape": {"kind": "path", "d": format!("M0 0 H60 V60 H0 Z M20 20 V40 H{hole} V20 Z"), "viewbox": [0, 0, 60, 60], "w": 60, "h": 60}})
    };
    let part = |id: &str, x: f64, shape: Value, fill: Value| json!({"id": id, "name": id, "x": x, "y": 0, "shape": shape, "fill": fill, "wear": {"coats": []}});
    let side = json!({"kind": "box", "w": 40, "h": 60});
    let join = |parts: [Value; 2]| json!({"kind": "join", "op": "add", "rounding": 6, "parts": parts});
    let joined = |surface: &str| {
        let own = join([
            part("a", 0.0, side.clone(), gradient.clone()),
            part("b", 30.0, side.clone(), json!({"kind": "solid", "colour": "#0a6"})),
        ]);
        let parts =
            [part("c", 0.0, own, json!({"kind": "none"})), part("d", 90.0, side.clone(), gradient.clone())];
        json!({"id": "p", "name": "p", "x": 40, "y": 30, "fill": {"kind": "none"}, "wear": {"coats": []}, "surface": surface, "shape": join(parts)})
    };
    for (before, after) in [
        (text(json!(null)), text(json!(380))),
        (own(90.0), own(120.0)),
        (thick(40.0), thick(25.0)),
        (joined("keep"), joined("hide")),
        (joined("hide"), joined("keep")),
    ] {
        let cache = MaskCache::default();
        let _ = pictures(&project(before), &cache);
        let (warm, anew) = (pictures(&project(after.clone()), &cache), fresh(&with(after.clone())));
        assert_eq!(warm, anew, "{after}");
    }
}

/// A peg below a wide plate is moved: nothing is drawn anew where the plate, its shadows and its rim stay as they are.
#[test]
fn of_a_shape_only_what_differs_is_drawn_anew() {
    let fill = json!({"kind": "linear", "angle": 90, "stops": [{"at": 0, "colour": "#2f8a74"}, {"at": 1, "colour": "#226555"}]});
    let part = |id: &str, (x, y): (f64, f64), (w, h): (f64, f64)| {
        json!({"id": id, "name": id, "x": x, "y": y, "fill": fill, "wear": {"coats": []},
            "shape": {"kind": "box", "w": w, "h": h, "radii": 4}})
    };
    let shadow = |id: &str, kind: &str, blur: f64, spread: f64| json!({"id": id, "name": id, "on": true, "kind": kind, "offset": {"x": 2, "y": 3}, "blur": blur, "spread": spread, "colour": "#123a"});
    let peg = |x: f64, surface: &str| {
        let parts = [part("peg", (x, 20.0), (20.0, 70.0)), part("plate", (0.0, 0.0), (360.0, 40.0))];
        let coats = [
            shadow("rim", "inner", 4.0, 0.0),
            shadow("near", "drop", 3.0, 0.0),
            shadow("far", "drop", 24.0, 3.0),
        ];
        project(
            json!({"id": "p", "name": "p", "x": 20, "y": 20, "fill": {"kind": "none"}, "surface": surface,
            "shape": {"kind": "join", "op": "add", "rounding": 5, "parts": parts}, "wear": {"coats": coats}}),
        )
    };
    for surface in ["keep", "cut_out"] {
        let (cache, mut followed) = (MaskCache::default(), Followed::default());
        for x in [30.0, 33.0, 41.5] {
            followed.follow(&peg(x, surface), |scene| Viewport::whole(scene, 1.0), &cache).unwrap();
        }
        let right = followed.drawn.iter().map(|[x, _, width, _]| x + width).max();
        assert!(right.is_some_and(|right| (61..=192).contains(&right)), "{surface}: {:?}", followed.drawn);
    }
}

/// A defect that was there: each band of a picture began the cells of its blurs anew, and so differed in its last bits.
#[test]
fn a_picture_in_bands_is_the_picture() {
    for (sigma, scale) in [(8.0, 1.53), (8.0, 1.8), (11.0, 1.8), (16.0, 1.8)] {
        let coats = json!([
            // So wide that only few rows of it are held in memory at a time.
            {"id": "d", "name": "d", "on": true, "kind": "drop", "offset": {"x": 3, "y": 5}, "blur": 22, "spread": 2000, "colour": "#0576cf"},
            {"id": "b", "name": "b", "on": true, "kind": "backdrop", "sigma": sigma}]);
        let mut document = with(json!({"id": "p", "name": "p", "x": -40, "y": 45, "fill": {"kind": "none"},
            "surface": "cut_out", "shape": {"kind": "ellipse", "w": 90, "h": 130}, "wear": {"coats": coats}}));
        let behind = json!({"id": "q", "name": "q", "x": -6, "y": 31, "fill": {"kind": "solid", "colour": "#55f163"},
            "shape": {"kind": "ellipse", "w": 49, "h": 91}, "wear": {"coats": []}});
        document["scenes"][0]["pieces"].as_array_mut().unwrap().insert(0, behind);
        let project = Project::from_value(&document).unwrap();
        let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
        let (view, options, cache) =
            (Viewport::whole(&scene, scale), RenderOptions::default(), MaskCache::default());
        let at_once =
            redraw(&scene, &view, &options, LastPicture { rounding: Rounding::Dithered, last: None }, &cache)
                .unwrap();
        let in_bands = picture(&scene, &view, &options, Rounding::Dithered, &cache);
        assert_eq!(apart(&at_once.regions[0].rgba, &in_bands.rgba), (0, 0), "a blur of {sigma} at {scale}");
    }
}

/// A defect that was there: what lies behind a frosted piece far out of view has no pixels, and its blur ended the program.
#[test]
fn a_frosted_piece_out_of_view_adds_nothing() {
    let coats = json!([{"id": "b", "name": "b", "on": true, "kind": "backdrop", "sigma": 12}]);
    let project = project(
        json!({"id": "p", "name": "p", "x": 900, "y": 700, "fill": {"kind": "solid", "colour": "#ffffff40"},
        "shape": {"kind": "box", "w": 90, "h": 60}, "wear": {"coats": coats}}),
    );
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let (view, options) = (Viewport::whole(&scene, 2.0), RenderOptions::default());
    let drawn = picture(&scene, &view, &options, Rounding::Nearest, &MaskCache::default());
    assert!(drawn.rgba.iter().all(|value| *value == 0) && drawn.rgba.len() == 840 * 320 * 4);
}
