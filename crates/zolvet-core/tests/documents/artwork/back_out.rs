//! Drawings that go back to their files with depth on them.

use zolvet_core::budget::Budget;
use zolvet_core::handoff::{file_with_depth, picture_of_file};
use zolvet_core::model::Piece;
use zolvet_core::svg::{Depth, Edge, FileWithDepth, Had, Placing, import, with_depth};

use super::*;

const COATS: &str = r##"{"coats": [
    {"id": "i", "name": "Edge", "on": true, "kind": "inner", "offset": {"x": 0, "y": 2}, "blur": 3, "spread": 0, "colour": "#ffffffb0"},
    {"id": "d", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 3, "y": 8}, "blur": 12, "spread": 0, "colour": "#203050a0"},
    {"id": "t", "name": "Tight", "on": true, "kind": "drop", "offset": {"x": 1, "y": 2}, "blur": 2, "spread": 0, "colour": "#203050c0"}]}"##;

fn coated(svg: &str, size: [f64; 2]) -> Project {
    document(svg.as_bytes(), size, json!({"wear": serde_json::from_str::<Value>(COATS).unwrap()}))
}

/// The file of a project's only drawing with the coats of its pieces.
fn file_of(project: &Project, edge: Edge) -> FileWithDepth {
    let assets = Assets::carried_by(project);
    let scene = resolve::scene(project, &project.scenes[0], &assets);
    let asset = &project.assets[0].id;
    let drawing = assets.drawing(asset).unwrap().unwrap();
    let depths: Vec<Depth<'_>> =
        scene.pieces.iter().map(|piece| Depth { piece, element: None, had: Had::Stays }).collect();
    let placing = Placing { scale: 1.0, edge, room: None };
    with_depth((assets.drawing_file(asset).unwrap(), &drawing), &depths, placing).unwrap()
}

fn by_resvg(svg: &str) -> Picture {
    let tree = resvg::usvg::Tree::from_str(svg, &resvg::usvg::Options::default()).unwrap();
    let (width, height) = (tree.size().width().round() as u32, tree.size().height().round() as u32);
    let mut pixels = resvg::tiny_skia::Pixmap::new(width, height).unwrap();
    pixels.fill(resvg::tiny_skia::Color::WHITE);
    resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut pixels.as_mut());
    Picture { width, height, rgba: pixels.data().to_vec() }
}

const ICON: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" width="96" height="96" viewBox="0 0 48 48"><g fill="#2f7d6d"><rect x="4" y="4" width="40" height="30" rx="6"/><path fill="#e0a030" transform="rotate(30 24 30)" d="M14 30h20v10H14z"/></g></svg>"##;

#[test]
fn without_coats_it_is_the_same_file() {
    let project = document(ICON.as_bytes(), [96.0, 96.0], json!({}));
    assert_eq!(file_of(&project, Edge::Grow).svg, ICON);
}

/// The file of the mock-up's drawing after elements were taken out and given what a closure puts on them.
fn after_taking(elements: &[u32], change: impl Fn(&mut Value)) -> FileWithDepth {
    after_taking_of((MOCK_UP, Edge::Grow), elements, change)
}

/// The same for any drawing of its size.
fn after_taking_of(
    (svg, edge): (&str, Edge),
    elements: &[u32],
    change: impl Fn(&mut Value),
) -> FileWithDepth {
    let mut project = document(svg.as_bytes(), [240.0, 160.0], json!({}));
    for element in elements {
        let assets = Assets::carried_by(&project);
        let pieces = project.scenes[0].all_pieces();
        let shows = |piece: &&&Piece| {
            let shown = artwork(piece, &assets);
            shown.is_some_and(|shown| {
                shown.elements.len() > 1 && shown.elements.iter().any(|one| one.number == *element)
            })
        };
        let id = pieces.iter().find(shows).unwrap().id.as_str().to_owned();
        project = after(&project, &id, *element);
    }
    let mut value = serde_json::to_value(&project).unwrap();
    for part in value["scenes"][0]["pieces"][0]["shape"]["parts"].as_array_mut().unwrap() {
        if part.get("drawn_from").is_some() {
            change(part);
        }
    }
    let project = Project::from_value(&value).unwrap();
    let assets = Assets::carried_by(&project);
    file_with_depth(&project, &project.scenes[0], &project.assets[0].id, edge, &assets).unwrap()
}

/// For a file in a page: rules for elements with an id, as functions where those are enough, else with filters of its own.
#[test]
fn in_a_page_it_is_css() {
    let wear = |coats: Value| move |part: &mut Value| part["wear"] = json!({"coats": coats.clone()});
    let drop = json!({"id": "d", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 0, "y": 4}, "blur": 6,
        "spread": 0, "colour": "#203050a0"});
    let inline = after_taking(&[3], wear(json!([drop]))).inline;
    assert_eq!(inline.css, "#button {\n  filter: drop-shadow(0 4px 3px rgb(32 48 80 / 62.7451%));\n}\n");
    assert_eq!((inline.filters.as_str(), inline.notes.len()), ("", 0));
    let inner = json!({"id": "i", "name": "Edge", "on": true, "kind": "inner", "offset": {"x": 0, "y": 2}, "blur": 3,
        "spread": 0, "colour": "#ffffffb0"});
    let inline = after_taking(&[3], wear(json!([inner]))).inline;
    assert_eq!(inline.css, "#button {\n  filter: url(#zolvet-depth-1);\n}\n");
    assert!(inline.filters.contains("<filter id=\"zolvet-depth-1\""), "{}", inline.filters);
    // The ellipse has no id, and what CSS cannot select is said.
    let inline = after_taking(&[9], wear(json!([drop]))).inline;
    assert_eq!(inline.css, "");
    assert!(inline.notes[0].message.contains("no id"), "{:?}", inline.notes);
    let whole = file_of(&coated(ICON, [96.0, 96.0]), Edge::Grow).inline;
    assert!(whole.css.starts_with("svg {\n  filter: url("), "{}", whole.css);
}

/// In a page an element keeps the filters it has, and its size: a smaller drawing is for files.
#[test]
fn css_adds_to_the_filters_of_an_element() {
    let svg = r##"<svg xmlns="http://www.w3.org/2000/svg" width="240" height="160"><filter id="soft"><feGaussianBlur stdDeviation="1"/></filter>
        <rect width="20" height="20"/><rect id="bar" x="10" y="120" width="220" height="30" filter="url(#soft)"/></svg>"##;
    let drop = json!({"id": "d", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 0, "y": 20}, "blur": 6, "spread": 0,
        "colour": "#000000"});
    let file =
        after_taking_of((svg, Edge::Shrink), &[1], |part| part["wear"] = json!({"coats": [drop.clone()]}));
    assert!(file.svg.contains("<g transform=\"matrix("), "the drawing is smaller: {}", file.svg);
    assert_eq!(file.inline.css, "#bar {\n  filter: url(#soft) drop-shadow(0 20px 3px #000);\n}\n");
}

/// What was changed of an element besides its coats stays out of the file, and that is said.
#[test]
fn changes_that_do_not_go_back_are_said() {
    let messages = |change: &dyn Fn(&mut Value)| -> Vec<String> {
        after_taking(&[3, 5], change).notes.into_iter().map(|note| note.message).collect()
    };
    assert_eq!(messages(&|_| ()), Vec::<String>::new());
    let button = |change: fn(&mut Value)| {
        move |part: &mut Value| {
            if part["name"] == "button" {
                change(part);
            }
        }
    };
    let refilled = messages(&button(|part| part["fill"]["colour"] = json!("#c8553d")));
    assert_eq!(refilled, ["button: its fill was changed: the file keeps its own"]);
    // A text that was made one of ours is no change; its words are.
    let project = document(MOCK_UP.as_bytes(), [240.0, 160.0], json!({}));
    let taken = after(&project, "art", 2);
    let Shape::Group(group) = &taken.scenes[0].pieces[0].shape else { panic!("a group") };
    let text = artwork(&group.parts[1], &Assets::carried_by(&taken)).unwrap().as_text.unwrap();
    let text = serde_json::to_value(&text).unwrap();
    let said = |words: &str| {
        let file = after_taking(&[2], |part| {
            for key in ["shape", "fill", "x", "y"] {
                part[key] = text[key].clone();
            }
            part["shape"]["string"] = json!(words);
        });
        file.notes.into_iter().map(|note| note.message).collect::<Vec<_>>()
    };
    assert_eq!(said("Row seven"), Vec::<String>::new());
    assert_eq!(said("Row eight"), ["Row seven: its shape or place was changed: the file keeps its own"]);
    let moved = messages(&button(|part| part["x"] = json!(36)));
    assert_eq!(moved, ["button: its shape or place was changed: the file keeps its own"]);
}

/// The file is pictured as it is drawn, grown edge and all.
#[test]
fn the_file_is_pictured_with_its_depth() {
    let project = coated(ICON, [96.0, 96.0]);
    let file = file_of(&project, Edge::Grow);
    let assets = Assets::carried_by(&project);
    let asset = &project.assets[0].id;
    let of = |density| picture_of_file((&project, &project.scenes[0]), &file.svg, asset, &assets, density);
    let picture = of(2.0).unwrap();
    // Its work is counted like that of any picture.
    assert!(Budget::with_steps(1_000).run(|| of(4.0)).is_err());
    let theirs = by_resvg(&file.svg);
    assert_eq!((picture.width, picture.height), (theirs.width * 2, theirs.height * 2));
    let shadow =
        picture.rgba[((theirs.height * 2 - 24) * picture.width + picture.width / 2) as usize * 4 + 3];
    assert!(shadow > 0, "there is a shadow below the old edge");
}

/// Depth falls as on the scene where a file turns its elements: from a group around what turns the element alone, or else between
/// a pair of groups that takes the turn back and gives it again.
#[test]
fn depth_of_turned_elements_falls_as_on_the_scene() {
    let coats = json!([{"id": "d", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 0, "y": 12}, "blur": 4, "spread": 0,
        "colour": "#000000a0"}]);
    let file = |body: &str| {
        let svg = format!(
            r##"<svg xmlns="http://www.w3.org/2000/svg" width="240" height="160"><rect width="20" height="20"/>{body}</svg>"##
        );
        let project = after(&document(svg.as_bytes(), [240.0, 160.0], json!({})), "art", 1);
        let mut value = serde_json::to_value(&project).unwrap();
        value["scenes"][0]["ground"] = json!({"kind": "solid", "colour": "#fff"});
        value["scenes"][0]["pieces"][0]["x"] = json!(0);
        value["scenes"][0]["pieces"][0]["y"] = json!(0);
        let parts = value["scenes"][0]["pieces"][0]["shape"]["parts"].as_array_mut().unwrap();
        let part = parts.iter_mut().find(|part| part.get("drawn_from").is_some()).unwrap();
        part["wear"] = json!({"coats": coats.clone()});
        let project = Project::from_value(&value).unwrap();
        let assets = Assets::carried_by(&project);
        let file =
            file_with_depth(&project, &project.scenes[0], &project.assets[0].id, Edge::Cut, &assets).unwrap();
        let ours = resolve::scene(&project, &project.scenes[0], &assets);
        let viewport = Viewport::whole(&ours, 1.0);
        let ours =
            picture(&ours, &viewport, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default());
        let (cropped, theirs) =
            (Picture { width: 240, height: 160, rgba: rows(&ours, 240, 160) }, by_resvg(&file.svg));
        let (mean, p999) = apart(&cropped, &theirs);
        assert!(mean < 0.5 && p999 <= 35, "{mean} {p999}: {}", file.svg);
        file.svg
    };
    let shape = r##"<rect x="100" y="50" width="60" height="30" fill="#2f7d6d"/>"##;
    let alone = file(&format!("<g transform=\"rotate(20 130 65)\">{shape}</g>"));
    assert!(alone.contains("<g filter=\"url(#zolvet-depth-1)\"><g transform"), "{alone}");
    let own = file(&shape.replace("<rect", "<rect transform=\"rotate(20 130 65)\""));
    assert!(own.contains("<g filter=\"url(#zolvet-depth-1)\"><rect transform"), "{own}");
    let beside = file(&format!(
        "<g transform=\"rotate(20 130 65)\">{shape}<circle cx=\"60\" cy=\"100\" r=\"9\"/></g>"
    ));
    assert!(beside.contains("<g filter=\"url(#zolvet-depth-1)\" transform=\"matrix("), "{beside}");
}

/// The first pixels of the first rows of a picture.
fn rows(picture: &Picture, width: usize, height: usize) -> Vec<u8> {
    let all = picture.rgba.chunks_exact(picture.width as usize * 4);
    all.take(height).flat_map(|row| row[..width * 4].to_vec()).collect()
}

/// Whether all letters of a text stand in another in their order.
fn is_left(whole: &str, text: &str) -> bool {
    let mut rest = whole.chars();
    text.chars().all(|letter| rest.any(|other| other == letter))
}

#[test]
fn what_is_inserted_takes_nothing_away() {
    for svg in [ICON, MOCK_UP] {
        for edge in [Edge::Cut, Edge::Shrink] {
            let found = file_of(&coated(svg, [96.0, 96.0]), edge);
            assert!(is_left(&found.svg, svg) && found.svg.len() > svg.len(), "{}", found.svg);
        }
    }
    let cut = file_of(&coated(ICON, [96.0, 96.0]), Edge::Cut);
    assert!(cut.notes.iter().any(|note| note.message.contains("cut off")), "{:?}", cut.notes);
}

/// The edge grows by what the depth needs, and what is drawn then is what the scene shows.
#[test]
fn a_grown_file_is_drawn_as_the_scene() {
    let project = coated(ICON, [96.0, 96.0]);
    let file = file_of(&project, Edge::Grow);
    let theirs = by_resvg(&file.svg);
    assert!(theirs.width > 96 && theirs.height > 96, "{}", file.svg);
    let mut value = serde_json::to_value(&project).unwrap();
    value["scenes"][0]["ground"] = json!({"kind": "solid", "colour": "#fff"});
    let project = Project::from_value(&value).unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::carried_by(&project));
    let viewport = Viewport::whole(&scene, 1.0);
    let ours =
        picture(&scene, &viewport, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default());
    let view: Vec<f64> = file
        .svg
        .split("viewBox=\"")
        .nth(1)
        .unwrap()
        .split('"')
        .next()
        .unwrap()
        .split(' ')
        .map(|number| number.parse().unwrap())
        .collect();
    let mut differences = Vec::new();
    for (y, x) in (0..theirs.height).flat_map(|y| (0..theirs.width).map(move |x| (y, x))) {
        let left = 30 + (view[0] * 2.0).round() as i64;
        let top = 20 + (view[1] * 2.0).round() as i64;
        let own = ours.at((i64::from(x) + left) as u32, (i64::from(y) + top) as u32);
        let other = theirs.at(x, y);
        if own != [255; 4] || other != [255; 4] {
            differences.extend((0..3).map(|part| own[part].abs_diff(other[part])));
        }
    }
    differences.sort_unstable();
    let mean = differences.iter().map(|one| f64::from(*one)).sum::<f64>() / differences.len() as f64;
    let at = |share: usize| differences[differences.len() * share / 1000];
    assert!(mean <= 1.75 && at(990) <= 14 && at(999) <= 30, "{mean} {} {}", at(990), at(999));
}

#[test]
fn the_coats_are_recognised_when_it_comes_back() {
    let file = file_of(&coated(ICON, [96.0, 96.0]), Edge::Grow);
    let back = import(&file.svg).unwrap();
    let kinds: Vec<String> = back.finishes[0]
        .coats
        .iter()
        .map(|coat| serde_json::to_value(coat).unwrap()["kind"].as_str().unwrap().to_owned())
        .collect();
    assert_eq!(kinds, ["inner", "drop", "drop"]);
}

/// A shrunk drawing leaves room for all of its depth within the size that the file has.
#[test]
fn a_shrunk_file_keeps_its_size() {
    let file = file_of(&coated(ICON, [96.0, 96.0]), Edge::Shrink);
    let theirs = by_resvg(&file.svg);
    assert_eq!((theirs.width, theirs.height), (96, 96));
    let edge = |x: u32, y: u32| theirs.at(x, y).iter().all(|part| *part >= 252);
    assert!((0..96).all(|at| edge(at, 0) && edge(at, 95) && edge(0, at) && edge(95, at)));
}
