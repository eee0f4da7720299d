//! SVG files come in whole, and their elements are taken out without a change of the picture (docs/drawings.md).

#![allow(clippy::unwrap_used, missing_docs)]

mod back_out;
mod own_filter;

use std::io::Write as _;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::{Assets, media_type};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::geometry::drawing::{Drawing, DrawingFile};
use zolvet_core::model::{Id, Project, Shape};
use zolvet_core::picture::Picture;
use zolvet_core::report::artwork::{artwork, element_at, take_out};
use zolvet_core::resolve;

/// A small mock-up: a panel, a card with a heading and a button, a round badge with a check mark, and what binds elements.
const MOCK_UP: &str = r##"<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE svg>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 240 160">
  <style>.ink { fill: #26413c } #card rect { stroke: #c9c2b0; stroke-width: 2 }</style>
  <defs>
    <linearGradient id="sky" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="#d8e6dc"/><stop offset="1" stop-color="#aac4b4"/></linearGradient>
    <radialGradient id="dot"><stop offset="0" stop-color="#f6e27a"/><stop offset="1" stop-color="#d49b32" stop-opacity="0.6"/></radialGradient>
    <clipPath id="page"><rect width="240" height="160"/></clipPath>
    <symbol id="leaf" viewBox="0 0 10 10"><path d="M5 0C9 3 9 7 5 10C1 7 1 3 5 0Z"/></symbol>
    <mask id="half"><rect width="120" height="160" fill="#fff"/></mask>
  </defs>
  <g clip-path="url(#page)">
    <rect id="panel" width="240" height="160" fill="url(#sky)"/>
    <g id="card" transform="translate(20 24)">
      <title>Plot card</title>
      <rect width="120" height="80" rx="10" fill="#fbf7ec"/>
      <text class="ink" x="12" y="28" font-family="Figtree" font-size="16">Row seven</text>
      <rect id="button" x="12" y="44" width="64" height="24" rx="12" fill="#2f7d6d"/>
    </g>
    <circle aria-label="Badge" cx="190" cy="50" r="24" fill="url(#dot)"/>
    <path id="check" d="M178 50l8 9 16-18" fill="none" stroke="#26413c" stroke-width="5" stroke-linecap="round" stroke-dasharray="60"/>
    <g id="shade" opacity="0.5"><rect x="150" y="100" width="40" height="30"/><rect x="170" y="110" width="40" height="30"/></g>
    <use id="sprig" xlink:href="#leaf" x="100" y="110" width="30" height="30" fill="#7a9a3a"/>
    <rect id="veil" mask="url(#half)" x="90" y="70" width="60" height="20" fill="#b0413e"/>
    <ellipse cx="40" cy="130" rx="24" ry="10" fill="#26413c" fill-opacity="0.4"/>
  </g>
</svg>"##;

fn document(svg: &[u8], size: [f64; 2], more: Value) -> Project {
    let mut piece = json!({"id": "art", "name": "Mock-up", "x": 30, "y": 20, "wear": {"coats": []},
        "shape": {"kind": "drawing", "asset": "a", "w": size[0], "h": size[1]}});
    for (key, value) in more.as_object().unwrap() {
        piece[key] = value.clone();
    }
    Project::from_value(&json!({"schema": 3, "name": "Artwork",
        "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "File", "media_type": "image/svg+xml", "data": STANDARD.encode(svg)}],
        "scenes": [{"id": "s", "name": "Scene", "width": 300, "height": 200, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": [piece]}]}))
    .unwrap()
}

fn drawn(project: &Project) -> Picture {
    let scene = resolve::scene(project, &project.scenes[0], &Assets::carried_by(project));
    let viewport = Viewport::whole(&scene, 2.0);
    picture(&scene, &viewport, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default())
}

/// A document after an element of one of its pieces is taken out.
fn after(project: &Project, piece: &str, element: u32) -> Project {
    let assets = Assets::carried_by(project);
    let scene = &project.scenes[0];
    let taken = take_out(project, scene, &Id::new(piece.to_owned()).unwrap(), element, &assets).unwrap();
    let mut value = serde_json::to_value(project).unwrap();
    json_patch::patch(&mut value["scenes"][0], &taken.patch).unwrap();
    Project::from_value(&value).unwrap()
}

/// The mean and the 99.9th percentile of differences over the pixels in which one of two pictures differs from a third.
fn apart(a: &Picture, b: &Picture) -> (f64, u8) {
    let mut differences: Vec<u8> = a.rgba.iter().zip(&b.rgba).map(|(a, b)| a.abs_diff(*b)).collect();
    differences.sort_unstable();
    let sum: f64 = differences.iter().map(|difference| f64::from(*difference)).sum();
    (sum / differences.len() as f64, differences[differences.len() * 999 / 1000])
}

fn names_of(project: &Project) -> Vec<String> {
    let found = artwork(&project.scenes[0].pieces[0], &Assets::carried_by(project)).unwrap();
    found.elements.into_iter().rev().map(|element| element.name).collect()
}

#[test]
fn elements_have_the_names_of_the_file_in_painting_order() {
    let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], json!({}));
    let names = names_of(&project);
    assert_eq!(
        names,
        ["panel", "Rectangle", "Row seven", "button", "Badge", "check", "shade", "sprig", "veil", "Ellipse"]
    );
    let found = artwork(&project.scenes[0].pieces[0], &Assets::carried_by(&project)).unwrap();
    let named = |name: &str| found.elements.iter().find(|element| element.name == name).unwrap();
    assert_eq!(named("button").groups, ["Plot card"]);
    assert_eq!(named("button").place, [31.0, 67.0, 66.0, 26.0]);
    assert_eq!(named("button").bound, None);
    assert_eq!(named("shade").bound, Some("The group is faded as one."));
    // A copy of a single path is that path.
    assert_eq!((named("sprig").bound, named("sprig").tag.as_str()), (None, "use"));
    assert!(found.missing_families.is_empty());
}

#[test]
fn an_element_is_taken_out_without_a_change_of_the_picture() {
    for more in [
        json!({}),
        json!({"rotation": 17, "opacity": 0.8}),
        json!({"wear": {"coats": [
        {"id": "d", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 3, "y": 8}, "blur": 12, "spread": 0,
            "colour": "#20305080"}]}}),
    ] {
        let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], more);
        let before = drawn(&project);
        for element in 0..10 {
            let (mean, p999) = apart(&before, &drawn(&after(&project, "art", element)));
            assert!(mean <= 0.2 && p999 <= 4, "{}: {mean} {p999}", names_of(&project)[element as usize]);
        }
    }
}

#[test]
fn plain_elements_become_boxes_ellipses_and_paths() {
    let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], json!({}));
    for (element, kind) in [
        (0, "box"),
        (1, "box"),
        (3, "box"),
        (4, "drawing"),
        (5, "path"),
        (6, "drawing"),
        (7, "path"),
        (8, "drawing"),
        (9, "ellipse"),
    ] {
        let taken = after(&project, "art", element);
        let Shape::Group(group) = &taken.scenes[0].pieces[0].shape else { panic!("a group") };
        let found = group.parts.iter().find(|part| !part.name.starts_with("Mock-up")).unwrap();
        assert_eq!(found.shape.name(), kind, "{}", found.name);
    }
    let button = after(&project, "art", 3);
    let Shape::Group(group) = &button.scenes[0].pieces[0].shape else { panic!("a group") };
    let value = serde_json::to_value(&group.parts[1]).unwrap();
    assert_eq!(value["shape"], json!({"kind": "box", "w": 64.0, "h": 24.0, "radii": 12.0}));
    assert_eq!(
        (&value["x"], &value["y"], &value["fill"]["colour"]),
        (&json!(32.0), &json!(68.0), &json!("#2f7d6d"))
    );
}

/// A text can be made one of ours: at its place, with letters at quarters of a px.
#[test]
fn a_line_of_text_can_be_made_text() {
    let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], json!({}));
    let assets = Assets::carried_by(&project);
    let taken = after(&project, "art", 2);
    let Shape::Group(group) = &taken.scenes[0].pieces[0].shape else { panic!("a group") };
    let found = artwork(&group.parts[1], &assets).unwrap().as_text.unwrap();
    let value = serde_json::to_value(&found).unwrap();
    assert_eq!(
        (&value["shape"]["string"], &value["shape"]["font"], &value["shape"]["size"]),
        (&json!("Row seven"), &json!("Figtree"), &json!(16.0))
    );
    assert_eq!(value["fill"]["colour"], json!("#26413c"));
    let mut changed = taken.clone();
    let Shape::Group(group) = &mut changed.scenes[0].pieces[0].shape else { panic!("a group") };
    let line = &mut group.parts[1];
    (line.shape, line.fill, line.x, line.y) = (found.shape, found.fill, found.x, found.y);
    let (mean, p999) = apart(&drawn(&taken), &drawn(&changed));
    assert!(mean < 0.3 && p999 < 90, "{mean} {p999}");
    // Where it is large enough to be taken out as a path, that can be made the same text.
    let large = include_str!("../../../../demo/plot-card.svg");
    let large = document(large.as_bytes(), [420.0, 280.0], json!({}));
    let at = names_of(&large).iter().position(|name| name == "Row seven").unwrap();
    let taken = after(&large, "art", at as u32);
    let Shape::Group(group) = &taken.scenes[0].pieces[0].shape else { panic!("a group") };
    let line = &group.parts[1];
    let found = artwork(line, &Assets::carried_by(&large)).unwrap().as_text.unwrap();
    let text = serde_json::to_value(&found.shape).unwrap();
    assert_eq!((line.shape.name(), &text["size"], &text["weight"]), ("path", &json!(22.0), &json!(600.0)));
    // What is turned in the file, and what is no text, is none of ours.
    assert!(artwork(&project.scenes[0].pieces[0], &assets).unwrap().as_text.is_none());
    let turned = MOCK_UP.replace("x=\"12\" y=\"28\"", "transform=\"rotate(4)\" x=\"12\" y=\"28\"");
    let turned = after(&document(turned.as_bytes(), [240.0, 160.0], json!({})), "art", 2);
    let Shape::Group(group) = &turned.scenes[0].pieces[0].shape else { panic!("a group") };
    assert!(artwork(&group.parts[1], &Assets::carried_by(&turned)).unwrap().as_text.is_none());
}

/// A click finds the highest element that paints something there, not the one whose box lies there.
#[test]
fn an_element_is_found_by_what_it_paints() {
    let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], json!({}));
    let (piece, assets) = (&project.scenes[0].pieces[0], Assets::carried_by(&project));
    let names = names_of(&project);
    let at = |x: f64, y: f64| {
        let found = element_at(piece, (x, y), &assets);
        found.map(|number| names[number as usize].as_str())
    };
    assert_eq!(at(60.0, 80.0), Some("button"));
    // In the box of the check mark, beside its line: the badge.
    assert_eq!((at(202.0, 58.0), at(186.0, 59.0)), (Some("Badge"), Some("check")));
    assert_eq!((at(232.0, 152.0), at(-40.0, 20.0)), (Some("panel"), None));
}

/// A drawing in one colour can be an icon in that colour; one in several, or a part of one, cannot.
#[test]
fn a_drawing_in_one_colour_can_be_an_icon() {
    let one = r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 32">
        <circle cx="12" cy="12" r="8" fill="#2f7d6d"/><path d="M24 4h20v20z" fill="none" stroke="#2f7d6d"/></svg>"##;
    let project = document(one.as_bytes(), [96.0, 64.0], json!({}));
    let found = artwork(&project.scenes[0].pieces[0], &Assets::carried_by(&project)).unwrap();
    let icon = found.in_one_colour.unwrap();
    let mut changed = project.clone();
    (changed.scenes[0].pieces[0].shape, changed.scenes[0].pieces[0].fill) = (icon.shape, icon.fill);
    let (mean, p999) = apart(&drawn(&project), &drawn(&changed));
    assert!(mean <= 0.2 && p999 <= 8, "{mean} {p999}");
    for other in
        [one.replace("stroke=\"#2f7d6d\"", "stroke=\"#000\""), one.replace("<path", "<path opacity=\"0.5\"")]
    {
        let project = document(other.as_bytes(), [96.0, 64.0], json!({}));
        let found = artwork(&project.scenes[0].pieces[0], &Assets::carried_by(&project)).unwrap();
        assert!(found.in_one_colour.is_none());
    }
}

/// Out of what is left of a drawing in its group more is taken, which lies beside it there.
#[test]
fn one_after_the_other_they_lie_in_one_group() {
    let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], json!({}));
    let before = drawn(&project);
    let first = after(&project, "art", 3);
    let Shape::Group(group) = &first.scenes[0].pieces[0].shape else { panic!("a group") };
    let rest = group.parts.last().unwrap().id.clone();
    let second = after(&first, rest.as_str(), 5);
    let Shape::Group(group) = &second.scenes[0].pieces[0].shape else { panic!("a group") };
    let names: Vec<&str> = group.parts.iter().map(|part| part.name.as_str()).collect();
    assert_eq!(names, ["Mock-up, below", "button", "Mock-up, below", "check", "Mock-up, above"]);
    let (mean, p999) = apart(&before, &drawn(&second));
    assert!(mean <= 0.2 && p999 <= 4, "{mean} {p999}");
}

#[test]
fn a_drawing_keeps_its_place_and_is_the_same_from_the_cache() {
    let project = document(MOCK_UP.as_bytes(), [120.0, 80.0], json!({}));
    let cache = MaskCache::default();
    let assets = Assets::carried_by(&project);
    let mut scene = resolve::scene(&project, &project.scenes[0], &assets);
    for x in [30.0, 41.0, 41.37, -60.0, 30.0] {
        scene.pieces[0].x = x;
        let with = |cache: &MaskCache| {
            picture(
                &scene,
                &Viewport::whole(&scene, 1.0),
                &RenderOptions::default(),
                Rounding::Nearest,
                cache,
            )
        };
        assert!(with(&cache) == with(&MaskCache::default()), "at {x}");
    }
}

#[test]
fn what_could_do_harm_is_refused_with_its_place() {
    let svg =
        |body: &str| format!("<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'>\n{body}</svg>");
    let fine = "<rect width='4' height='4'/>";
    for (body, words) in [
        ("<script>x()</script>", "2:1: <script> is not taken"),
        ("<rect OnClick='x()' width='1' height='1'/>", "2:1: the script in OnClick"),
        ("<image href='a.png' width='1' height='1'/>", "a reference to another file (a.png)"),
        ("<image href='file:///etc/hosts' width='1' height='1'/>", "a reference to another file"),
        ("<a href='JavaScript:x()'><rect width='1' height='1'/></a>", "a reference to another file"),
        ("<rect fill='url(#a) url(http://127.0.0.1/b)' width='1' height='1'/>", "another file in fill"),
        ("<style>/* url(#x) */ rect { fill: url(//127.0.0.1/a.svg#b) }</style>", "a style that refers"),
        ("<style>@IMPORT 'a.css';</style>", "a style that refers"),
        ("<iframe/>", "<iframe> is not taken"),
    ] {
        let error = DrawingFile::read(svg(&format!("{body}{fine}")).as_bytes()).unwrap_err().to_string();
        assert!(error.contains(words), "{body}: {error}");
    }
    for body in [
        "<a href='https://example.org/'><rect width='1' height='1'/></a>",
        "<image href='data:image/png;base64,AAAA' width='1' height='1'/>",
        "<style>@font-face { src: url(data:font/woff2;base64,AAAA) } text { fill: url(#g) }</style>",
        "<switch><foreignObject requiredExtensions='x'/><g/></switch>",
    ] {
        let file = DrawingFile::read(svg(&format!("{body}{fine}")).as_bytes()).unwrap();
        assert_eq!(Drawing::read(&file, &[]).map(|drawing| drawing.elements.is_empty()), Ok(false), "{body}");
    }
}

/// Filters that look at a wide surrounding of every pixel, or at noise of many octaves, are refused before they are run.
#[test]
fn filters_that_take_too_long_are_refused() {
    for (step, is_read) in [
        ("<feMorphology radius='1'/>", true),
        ("<feMorphology operator='dilate' radius='60'/>", false),
        ("<feTurbulence baseFrequency='.1' numOctaves='3'/>", true),
        ("<feTurbulence baseFrequency='.1' numOctaves='999'/>", false),
        ("<feGaussianBlur stdDeviation='500'/>", true),
    ] {
        let svg = format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='90' height='90'><filter id='f'>{step}</filter>\
             <g clip-path='url(#c)'><rect filter='url(#f)' width='60' height='60'/></g><clipPath id='c'><circle r='50'/></clipPath></svg>"
        );
        let read = Drawing::read(&DrawingFile::read(svg.as_bytes()).unwrap(), &[]);
        assert_eq!(read.is_ok(), is_read, "{step}");
        if let Err(error) = read {
            assert!(error.to_string().contains("filters of at most 20000 steps a pixel"), "{error}");
        }
    }
}

#[test]
fn packed_and_wide_files_are_read() {
    let mut packed = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::default());
    packed.write_all(MOCK_UP.as_bytes()).unwrap();
    let packed = packed.finish().unwrap();
    let wide: Vec<u8> =
        "\u{feff}".chars().chain(MOCK_UP.chars()).flat_map(|letter| (letter as u16).to_le_bytes()).collect();
    for bytes in [MOCK_UP.as_bytes(), &packed, &wide] {
        assert_eq!(media_type(bytes), Some("image/svg+xml"));
        assert_eq!(DrawingFile::read(bytes).unwrap().text(), MOCK_UP);
    }
    for other in ["<html><svg/></html>", "<!-- <svg> --><p/>", "svg", ""] {
        assert_eq!(media_type(other.as_bytes()), None, "{other}");
    }
    // A packed file unpacks to no more than a file may have.
    let mut bomb = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::best());
    bomb.write_all(b"<svg xmlns='http://www.w3.org/2000/svg'>").unwrap();
    (0..20).for_each(|_| bomb.write_all(&vec![b' '; 1 << 20]).unwrap());
    let error = DrawingFile::read(&bomb.finish().unwrap()).unwrap_err().to_string();
    assert!(error.contains("at most 16 MB"), "{error}");
}

#[test]
fn a_family_that_is_missing_is_named() {
    let svg = "<svg xmlns='http://www.w3.org/2000/svg' width='90' height='30'><text y='20' font-family='Nowhere Sans, serif'>Ab</text></svg>";
    let drawing = Drawing::read(&DrawingFile::read(svg.as_bytes()).unwrap(), &[]).unwrap();
    assert_eq!(drawing.missing_families, ["Nowhere Sans"]);
    let project = document(svg.as_bytes(), [90.0, 30.0], json!({}));
    let scene = &project.scenes[0];
    let (_, notes) = resolve::piece(&project, scene, &scene.pieces[0], &Assets::carried_by(&project));
    assert!(notes.iter().any(|note| note.message.contains("Nowhere Sans")), "{notes:?}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    /// Files in which something is cut out, doubled or changed are read or refused, and drawn.
    #[test]
    fn broken_files_are_read_or_refused(at in 0..MOCK_UP.len(), length in 0_usize..40, to in 0..MOCK_UP.len(), letter in "[<>\"'/&#0-9a-z(){} ]{0,3}") {
        let mut bytes = MOCK_UP.as_bytes().to_vec();
        let end = (at + length).min(bytes.len());
        let part: Vec<u8> = bytes.drain(at..end).collect();
        let to = to.min(bytes.len());
        bytes.splice(to..to, part.into_iter().chain(letter.into_bytes()));
        if let Ok(file) = DrawingFile::read(&bytes) && Drawing::read(&file, &[]).is_ok() {
            let picture = drawn(&document(&bytes, [48.0, 32.0], json!({})));
            prop_assert_eq!(picture.rgba.len(), 600 * 400 * 4);
        }
    }
}
