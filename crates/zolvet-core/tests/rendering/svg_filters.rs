//! SVG in and out. Filters as people write them, read as coats and drawn by the core, against resvg's pictures of the
//! filters themselves (Filter Effects 1).

#![allow(clippy::unwrap_used, missing_docs)]

use std::fmt::Write as _;

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::lower::{Notes, TrialPiece, piece_filter, trial};
use zolvet_core::markup::markup;
use zolvet_core::model::{Coat, CoatKind, ColourSource, Offset, Project, Wear, WornFinish};
use zolvet_core::{resolve, svg};

const SIDE: u32 = 200;

/// A box with round corners in the middle, wearing coats.
fn project(coats: &Value) -> Project {
    let piece = json!({"id": "p", "name": "P", "shape": {"kind": "box", "w": 90, "h": 80, "radii": 18}, "x": 55, "y": 60,
        "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}});
    Project::from_value(&json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": SIDE, "height": SIDE, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": [piece]}]
    }))
    .unwrap()
}

fn ours(coats: &Value) -> Vec<u8> {
    let project = project(coats);
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    picture(
        &scene,
        &Viewport::whole(&scene, 1.0),
        &RenderOptions::default(),
        Rounding::Nearest,
        &MaskCache::default(),
    )
    .rgba
}

fn file(filter: &str) -> String {
    format!(
        "<svg xmlns='http://www.w3.org/2000/svg' width='{SIDE}' height='{SIDE}'>{filter}\
         <rect width='100%' height='100%' fill='#e8e4da'/>\
         <rect x='55' y='60' width='90' height='80' rx='18' fill='#2f7d6b' filter='url(#f)'/></svg>"
    )
}

fn resvgs(svg: &str) -> Vec<u8> {
    let tree = resvg::usvg::Tree::from_str(svg, &resvg::usvg::Options::default()).unwrap();
    let mut pixels = resvg::tiny_skia::Pixmap::new(SIDE, SIDE).unwrap();
    resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut pixels.as_mut());
    pixels.take()
}

/// The mean difference, and the share of values further apart than 5 of 255.
fn apart(a: &[u8], b: &[u8]) -> (f64, f64) {
    let each = || a.iter().zip(b).map(|(a, b)| a.abs_diff(*b));
    let total: f64 = each().map(f64::from).sum();
    (total / a.len() as f64, each().filter(|by| *by > 5).count() as f64 / a.len() as f64)
}

/// A region with room for everything.
const SRGB: &str = "id='f' filterUnits='userSpaceOnUse' x='-100' y='-100' width='400' height='400' \
                    color-interpolation-filters='sRGB'";
/// The same, in linear light by default.
const LINEAR: &str = "id='f' filterUnits='userSpaceOnUse' x='-100' y='-100' width='400' height='400'";

/// Each filter, and the coats it is read as, nearest the eye first: offset, blur, spread, colour, opacity.
const RECIPES: [(&str, &str, &str, &[&str]); 13] = [
    (
        "one primitive",
        SRGB,
        "<feDropShadow dx='4' dy='9' stdDeviation='1.5' flood-opacity='.5'/>",
        &["drop 4 9 3 0 #000000 0.5"],
    ),
    (
        "step by step",
        SRGB,
        "<feGaussianBlur in='SourceAlpha' stdDeviation='1.5'/><feOffset dx='-3' dy='6' result='o'/>\
      <feFlood style='flood-color: #8a2010; flood-opacity: 60%'/><feComposite in2='o' operator='in'/>\
      <feMerge><feMergeNode/><feMergeNode in='SourceGraphic'/></feMerge>",
        &["drop -3 6 3 0 #8a2010 0.6"],
    ),
    (
        "coloured by a matrix",
        SRGB,
        "<feOffset in='SourceAlpha' dy='8'/><feGaussianBlur stdDeviation='1.5 1.5'/>\
      <feColorMatrix values='0 0 0 0 .2  0 0 0 0 .1  0 0 0 0 .5  0 0 0 .45 0'/><feBlend in='SourceGraphic' mode='normal'/>",
        &["drop 0 8 3 0 rgb(51 25.5 127.5) 0.45"],
    ),
    (
        "coloured in linear light",
        LINEAR,
        "<feGaussianBlur in='SourceAlpha' stdDeviation='1.5'/>\
      <feColorMatrix values='0 0 0 0 .2  0 0 0 0 .1  0 0 0 0 .5  0 0 0 .8 0' result='c'/>\
      <feMerge><feMergeNode in='c'/><feMergeNode in='SourceGraphic'/></feMerge>",
        &["drop 0 0 3 0 color(srgb 0.4845292 0.34919018 0.7353569) 0.8"],
    ),
    (
        "inner, cut out",
        SRGB,
        "<feOffset in='SourceAlpha' dx='3' dy='5'/><feGaussianBlur stdDeviation='1.5' result='b'/>\
      <feComposite in='SourceGraphic' in2='b' operator='out' result='i'/><feFlood flood-color='#fff' flood-opacity='.7'/>\
      <feComposite in2='i' operator='in'/><feComposite in2='SourceGraphic'/>",
        &["inner 3 5 3 0 #ffffff 0.7"],
    ),
    (
        "inner, by numbers",
        SRGB,
        "<feOffset in='SourceAlpha' dy='-6'/><feGaussianBlur stdDeviation='1.5'/>\
      <feComposite in2='SourceAlpha' operator='arithmetic' k2='-1' k3='1'/>\
      <feColorMatrix values='0 0 0 0 0  0 0 0 0 0  0 0 0 0 .2  0 0 0 .6 0'/><feBlend in2='SourceGraphic'/>",
        &["inner 0 -6 3 0 #000033 0.6"],
    ),
    (
        "inner, turned inside out",
        SRGB,
        "<feComponentTransfer in='SourceAlpha'><feFuncA type='table' tableValues='1 0'/></feComponentTransfer>\
      <feGaussianBlur stdDeviation='1.9'/><feOffset dx='5' dy='5' result='o'/><feFlood flood-color='#001008' flood-opacity='.8'/>\
      <feComposite in2='o' operator='in'/><feComposite in2='SourceGraphic' operator='atop'/>",
        &["inner 5 5 3.8 0 #001008 0.8"],
    ),
    (
        "glow and edge",
        SRGB,
        "<feMorphology in='SourceAlpha' operator='dilate' radius='3' result='g'/>\
      <feComposite in2='SourceAlpha' operator='out' result='ring'/><feFlood flood-color='#fff'/><feComposite in2='ring' operator='in' result='edge'/>\
      <feGaussianBlur in='g' stdDeviation='1.9' result='s'/><feFlood flood-color='#f2b632'/><feComposite in2='s' operator='in' result='glow'/>\
      <feMerge><feMergeNode in='glow'/><feMergeNode in='SourceGraphic'/><feMergeNode in='edge'/></feMerge>",
        &["stroke 1", "drop 0 0 3.8 0 #f2b632 1"],
    ),
    (
        "hardened edge",
        SRGB,
        "<feGaussianBlur in='SourceAlpha' stdDeviation='1.9'/>\
      <feComponentTransfer><feFuncA type='linear' slope='2.5' intercept='0'/></feComponentTransfer><feOffset dy='10'/>\
      <feMerge><feMergeNode/><feMergeNode in='SourceGraphic'/></feMerge>",
        &["drop 0 10 3.8 0 #000000 1"],
    ),
    (
        "multiplied",
        SRGB,
        "<feFlood flood-color='#e8b04a' flood-opacity='.5'/><feComposite in2='SourceGraphic' operator='in'/>\
      <feBlend in2='SourceGraphic' mode='multiply'/>",
        &["tint 0.5"],
    ),
    (
        "own picture",
        SRGB,
        "<feGaussianBlur in='SourceGraphic' stdDeviation='1.9'/><feOffset dy='14'/>\
      <feMerge><feMergeNode/><feMergeNode in='SourceGraphic'/></feMerge>",
        &["drop 0 14 3.8 0 own 1"],
    ),
    ("softened", SRGB, "<feGaussianBlur stdDeviation='1.5'/>", &["blur 1"]),
    (
        "knocked out",
        SRGB,
        "<feGaussianBlur in='SourceAlpha' stdDeviation='1.5'/><feOffset dx='9' dy='9'/>\
      <feComposite in2='SourceGraphic' operator='out'/><feComposite in='SourceGraphic'/>",
        &["drop 9 9 3 0 #000000 1"],
    ),
];

fn numbers(coat: &Coat) -> String {
    let (opacity, kind) = (coat.opacity.get(), coat.kind.name());
    let (offset, blur, spread, colour) = match &coat.kind {
        CoatKind::Drop(drop) => (&drop.offset, drop.blur, drop.spread, &drop.colour),
        CoatKind::Inner(inner) => (&inner.offset, inner.blur, inner.spread, &inner.colour),
        _ => return format!("{kind} {opacity}"),
    };
    let Offset::Cartesian(at) = offset else { return kind.to_owned() };
    let colour = match colour {
        ColourSource::Literal(colour) => colour.text().to_owned(),
        _ => "own".to_owned(),
    };
    format!("{kind} {} {} {} {} {colour} {opacity}", at.x.get(), at.y.get(), blur.get(), spread.get())
}

#[test]
fn filters_as_people_write_them_are_read_as_what_they_draw() {
    for (name, region, steps, expected) in RECIPES {
        let svg = file(&format!("<filter {region}>{steps}</filter>"));
        let read = svg::import(&svg).unwrap();
        let coats = &read.finishes[0].coats;
        let found: Vec<_> = coats.iter().map(numbers).collect();
        assert_eq!(found, expected, "{name}: {:?}", read.diagnostics);
        // Squares beside round spreads.
        let rough = if read.diagnostics.is_empty() { 1.0 } else { 4.0 };
        let (mean, share) = apart(&ours(&serde_json::to_value(coats).unwrap()), &resvgs(&svg));
        // resvg's blurs are quick stand-ins for a Gaussian; an exact one is the reference in blur.rs.
        assert!(mean <= 0.25 * rough && share <= 0.015 * rough, "{name}: mean {mean}, {share} beyond 5");
    }
}

#[test]
fn what_is_not_depth_is_said_with_its_place() {
    let svg = "<svg xmlns='http://www.w3.org/2000/svg'>\n\
         <filter id='a'><feTurbulence result='t'/>\n<feDropShadow in='SourceGraphic' dx='2' stdDeviation='1 2'/></filter>\n\
         <filter id='b' primitiveUnits='objectBoundingBox'><feGaussianBlur stdDeviation='.1'/></filter>\n\
         <filter id='c' color-interpolation-filters='sRGB'><feDropShadow/>\n<feDropShadow dy='4'/></filter>\n\
         <filter id='d'><feDropShadow flood-color='nonsense'/></filter>\n\
         <filter id='e'><feGaussianBlur stdDeviation='5000'/></filter>\n\
         <filter id='g'><feGaussianBlur in='SourceAlpha' stdDeviation='8' result='b'/><feFlood flood-color='#fff0c0'/>\
         <feComposite in2='b' operator='in'/>\n<feComposite in2='SourceAlpha' operator='in'/><feComposite in2='SourceGraphic'/></filter></svg>";
    let read = svg::import(svg).unwrap();
    let said: Vec<_> = read
        .diagnostics
        .iter()
        .map(|diagnostic| format!("{} {}", diagnostic.place, diagnostic.message))
        .collect();
    assert_eq!(
        said,
        [
            "2:16 feTurbulence: feTurbulence is not taken as depth",
            "3:1 feDropShadow: blurs differently across and down",
            "4:1 its lengths are parts of what it is laid on, which is not in the filter",
            "6:1 feDropShadow: cast by the shadows before it too: taken as a shadow of the piece alone",
            "7:16 feDropShadow: flood-color: expected a CSS colour, found nonsense",
            "8:1 expected a σ from 0 to 2000 px, found 5000: left out",
            "10:1 feComposite: lies in a changed copy of the piece, cut to the piece: left out",
        ]
    );
    let names: Vec<_> =
        read.finishes.iter().map(|finish| (finish.name.as_str(), finish.coats.len())).collect();
    assert_eq!(names, [("c", 2)]);
    let error = svg::import("<svg><filter></svg>").unwrap_err();
    assert!(error.to_string().starts_with("1:14: expected SVG"), "{error}");
}

/// Each step takes the one before it twice: as many layers as there are atoms, if nobody counted.
#[test]
fn a_filter_that_doubles_itself_is_cut_short() {
    let doubling = "<feMerge><feMergeNode/><feMergeNode/></feMerge>".repeat(600);
    let svg = format!("<svg><filter id='f'><feDropShadow/>{doubling}</filter></svg>");
    let read = svg::import(&svg).unwrap();
    assert_eq!(read.finishes, []);
    assert!(
        read.diagnostics.iter().any(|diagnostic| diagnostic.message.contains("piles up more layers")),
        "{:?}",
        read.diagnostics
    );
}

/// What we write as a filter comes back as the coats it was written from.
#[test]
fn our_own_filters_come_back() {
    let shadow = |kind: &str, x: i32, blur: i32, spread: i32, colour: &str| json!({"kind": kind, "offset": {"x": x, "y": 6}, "blur": blur, "spread": spread, "colour": colour});
    let mut coats = json!([
        shadow("inner", 2, 6, 3, "#ffffff"),
        {"kind": "tint", "fill": {"kind": "solid", "colour": "#e8b04a"}, "opacity": 0.25, "blend": "multiply"},
        shadow("inner", -4, 0, 0, "#102030"),
        shadow("drop", 3, 12, -4, "#203050"),
        shadow("drop", 0, 44, 0, "#8a2010"),
    ]);
    coats[3]["falloff"] =
        json!({"points": [{"from": 0, "to": 0}, {"from": 0.25, "to": 0.75}, {"from": 1, "to": 1}]});
    coats[3]["knock_out"] = json!(true);
    coats[4]["knock_out"] = json!(false);
    for (at, coat) in coats.as_array_mut().unwrap().iter_mut().enumerate() {
        let (id, on) = (json!(format!("c{at}")), json!(true));
        (coat["id"], coat["name"], coat["on"]) = (id.clone(), id, on);
    }
    let project = project(&coats);
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let written = markup(&piece_filter(&scene.pieces[0], &mut Notes::default()), "f", (90.0, 80.0).into());
    let mut svg = String::new();
    write!(svg, "<svg xmlns='http://www.w3.org/2000/svg'>{written}</svg>").unwrap();
    let back = svg::import(&svg).unwrap();
    let squares =
        |diagnostic: &&zolvet_core::import::Diagnostic| !diagnostic.message.contains("grows by squares");
    assert_eq!(back.diagnostics.iter().filter(squares).count(), 0, "{:?}", back.diagnostics);
    let parsed = |coats: &Value| -> Vec<CoatKind> {
        coats.as_array().unwrap().iter().map(|coat| serde_json::from_value(coat.clone()).unwrap()).collect()
    };
    let found: Vec<_> = back.finishes[0].coats.iter().map(|coat| coat.kind.clone()).collect();
    assert_eq!(found, parsed(&coats));
    let tint = &back.finishes[0].coats[1];
    assert_eq!((tint.opacity.get(), tint.blend), (0.25, zolvet_core::blend::BlendMode::Multiply));
}

/// Every finish of the demo as a stand-alone SVG, in resvg and in the core.
#[test]
fn stand_alone_files_are_drawn_by_resvg_as_by_the_core() {
    let project = Project::from_json(include_str!("../../../../demo/quillmere.zolvet.json")).unwrap();
    let theme = &project.themes[0].id;
    for finish in &project.finishes {
        for on in TrialPiece::ALL {
            let wear = Wear::Finish(WornFinish { finish: finish.id.clone() });
            let scene = trial(theme, &wear, on, false);
            let resolved = resolve::scene(&project, &scene, &Assets::default());
            let file = svg::standalone(&resolved, svg::Backdrops::LeftOut);
            let tree = resvg::usvg::Tree::from_str(&file.svg, &resvg::usvg::Options::default()).unwrap();
            let mut pixels = resvg::tiny_skia::Pixmap::new(320, 240).unwrap();
            resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut pixels.as_mut());
            let (view, cache) = (Viewport::whole(&resolved, 1.0), MaskCache::default());
            let ours = picture(&resolved, &view, &RenderOptions::default(), Rounding::Nearest, &cache);
            let (mean, share) = apart(&ours.rgba, pixels.data());
            // The bar (docs/measuring.md, "Bars").
            assert!(mean <= 1.25 && share <= 0.01, "{} {on:?}: mean {mean}, {share} beyond 5", finish.name);
        }
    }
}
