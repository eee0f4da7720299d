//! Findings about pages of somebody's own, and what lies behind their elements (docs/pages.md, "Findings").

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Finding, FindingKind, Limits, audit};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::model::Project;
use zolvet_core::resolve;

fn element(id: &str, y: f64, fitting: Value, coats: Value) -> Value {
    let mut whole = json!({"selector": format!(".{id}"), "behind": "#ffffff"});
    whole.as_object_mut().unwrap().extend(fitting.as_object().unwrap().clone());
    json!({"id": id, "name": format!(".{id}"), "x": 300, "y": y, "shape": {"kind": "box", "w": 160, "h": 48},
        "fill": {"kind": "solid", "colour": "#e8e8e8"}, "wear": {"coats": coats}, "control": true, "fitting": whole})
}

fn shadow(id: &str, more: Value) -> Value {
    let mut coat = json!({"id": id, "name": id, "on": true, "kind": "drop", "offset": {"x": 0, "y": 4}, "blur": 8, "spread": 0, "colour": "#00000040"});
    coat.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    coat
}

fn page(elements: Vec<Value>) -> Project {
    Project::from_value(&json!({"schema": 3, "name": "Page", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "Plots", "media_type": "text/html"}],
        "scenes": [{"id": "s", "name": "Plots", "width": 1280, "height": 2400, "theme": "t", "ground": {"kind": "solid", "colour": "#101010"},
            "page": {"asset": "a"}, "pieces": elements}]}))
    .unwrap()
}

fn findings(project: &Project, kind: FindingKind) -> Vec<Finding> {
    let cache = MaskCache::with_capacity(8 << 20);
    let told = audit(project, &Assets::default(), &Limits::default(), &cache, &mut |_, _| true).unwrap();
    told.findings.into_iter().filter(|finding| finding.kind == kind).collect()
}

fn text(colour: &str, size: f64) -> Value {
    json!({"texts": [{"name": "Book a plot", "x": 20, "y": 12, "w": 90, "h": 22, "colour": colour, "size": size, "weight": 400}]})
}

/// Contrast of greys by the formula of WCAG 2.2 ("relative luminance", "contrast ratio"), worked by hand.
#[test]
fn text_is_measured_on_what_its_element_looks_like() {
    // #767676 on white is 4.54 : 1 (from memory, the darkest grey that is said to pass); on #e8e8e8 it is less.
    let faint =
        findings(&page(vec![element("b", 100.0, text("#767676", 16.0), json!([]))]), FindingKind::FaintText);
    let luminance = |level: f64| ((level / 255.0 + 0.055) / 1.055).powf(2.4);
    let expected = (luminance(232.0) + 0.05) / (luminance(118.0) + 0.05);
    assert_eq!(faint.len(), 1);
    assert!(
        faint[0]
            .message
            .starts_with(&format!("\u{201c}Book a plot\u{201d}: text contrast {expected:.2} : 1")),
        "{faint:?}"
    );
    assert_eq!(faint[0].place.piece.as_ref().unwrap().as_str(), "b");
    let on_page =
        |fitting| findings(&page(vec![element("b", 100.0, fitting, json!([]))]), FindingKind::FaintText);
    assert!(on_page(text("#404040", 16.0)).is_empty(), "dark enough");
    assert!(on_page(text("#767676", 28.0)).is_empty(), "large enough");
    assert_eq!(on_page(text("#40404060", 16.0)).len(), 1, "a clear colour is that of what is behind it");
    // An inner shadow over the surface takes away what the text stood out from.
    let dark = json!([shadow("in", json!({"kind": "inner", "blur": 0, "spread": 200, "colour": "#5a5a5a"}))]);
    let under = page(vec![element("b", 100.0, text("#404040", 16.0), dark)]);
    assert_eq!(findings(&under, FindingKind::FaintText).len(), 1);
}

fn picture_of(project: &Project) -> Vec<u8> {
    let scene = resolve::scene(project, &project.scenes[0], &Assets::default());
    let (view, cache) = (Viewport::whole(&scene, 1.0), MaskCache::with_capacity(8 << 20));
    picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &cache).rgba
}

/// Each element has its own ground, wherever on the page it is.
#[test]
fn an_element_lies_on_its_own_ground() {
    let far = element(
        "far",
        2000.0,
        json!({"behind": "#ff0000"}),
        json!([shadow("d", json!({"colour": "#000000"}))]),
    );
    let near = element("near", 100.0, json!({}), json!([]));
    let mut project = page(vec![near, far]);
    // The id of a plate is one that no piece has.
    project.scenes[0].pieces[0].id = zolvet_core::model::Id::new("behind-0").unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let drawn = picture_of(&project);
    let at = |x: usize, y: usize| drawn[(y * 1280 + x) * 4..][..3].to_vec();
    assert_eq!((at(250, 120), at(250, 2020), at(10, 1000)), (vec![255; 3], vec![255, 0, 0], vec![16; 3]));
    assert_eq!((at(320, 120), at(320, 2020)), (vec![0xe8; 3], vec![0xe8; 3]), "elements lie on them");
    assert!(at(380, 2052)[0] < 255, "and cast on them");
    // What lies on another element has no ground that is seen around the other.
    let mut nested = element("track", 110.0, json!({"behind": "#00ff00"}), json!([]));
    nested["shape"] = json!({"kind": "box", "w": 20, "h": 4});
    nested["x"] = json!(320);
    let both = page(vec![element("card", 100.0, json!({}), json!([])), nested]);
    let drawn_both = picture_of(&both);
    assert_eq!(drawn_both[(90 * 1280 + 330) * 4..][..3], [255; 3]);
    let mut ids: Vec<&str> = scene.pieces.iter().map(|piece| piece.id.as_str()).collect();
    ids.sort_unstable();
    ids.dedup();
    assert_eq!(ids.len(), scene.pieces.len());
}

/// Elements that are there to be used need an edge (WCAG 2.2, SC 1.4.11), cards do not.
#[test]
fn what_is_used_needs_an_edge() {
    let faint = |used: bool| {
        findings(&page(vec![element("b", 100.0, json!({"used": used}), json!([]))]), FindingKind::FaintEdge)
    };
    assert_eq!((faint(true).len(), faint(false).len()), (1, 0));
}

/// All elements together are painted: so many of a kind count so many times.
#[test]
fn layers_of_a_page_are_counted_together() {
    let stack =
        || json!([shadow("a", json!({})), shadow("b", json!({"blur": 2})), shadow("c", json!({"blur": 30}))]);
    let counted = |cards: u32| {
        let elements = vec![
            element("card", 100.0, json!({"count": cards}), stack()),
            element("button", 300.0, json!({"count": 20}), json!([shadow("a", json!({}))])),
        ];
        findings(&page(elements), FindingKind::PaintBudget)
    };
    assert!(counted(126).is_empty(), "126 × 3 + 20 layers are 398");
    let over = counted(127);
    assert_eq!(over.len(), 1);
    assert!(
        over[0].message.starts_with("401 shadow layers on the page")
            && over[0].message.contains("381 of them are those of .card"),
        "{over:?}"
    );
}

/// Lights that disagree between elements of one page.
#[test]
fn elements_agree_on_the_light() {
    let lit = |id: &str, y: f64, dx: f64, dy: f64| {
        element(id, y, json!({}), json!([shadow("d", json!({"offset": {"x": dx, "y": dy}}))]))
    };
    let told = findings(
        &page(vec![
            lit("a", 100.0, 0.0, 8.0),
            lit("b", 300.0, 0.0, 6.0),
            lit("c", 500.0, 0.0, 9.0),
            lit("d", 700.0, 9.0, -2.0),
        ]),
        FindingKind::LightsDisagree,
    );
    assert_eq!(told.len(), 1);
    assert_eq!(told[0].place.piece.as_ref().unwrap().as_str(), "d");
}
