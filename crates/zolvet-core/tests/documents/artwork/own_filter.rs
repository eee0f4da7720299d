//! Filters of a file as coats of the elements that have them (docs/drawings.md, "Filters of the file").

use zolvet_core::handoff::file_with_depth;
use zolvet_core::model::Piece;
use zolvet_core::report::artwork::{AsCoats, as_coats};
use zolvet_core::svg::{Edge, FileWithDepth};

use super::*;

/// A card (a group with two shapes), a badge whose filter a rule puts on it, a chip with a function, and one that is turned.
const FILTERED: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" width="240" height="160">
  <style>#badge { filter: url("#inset") }</style>
  <filter id="lift" x="-40%" y="-40%" width="180%" height="180%" color-interpolation-filters="sRGB"><feDropShadow dx="0" dy="2" stdDeviation="3" flood-color="#203050" flood-opacity="0.5"/></filter>
  <filter id="inset" color-interpolation-filters="sRGB"><feOffset in="SourceAlpha" dy="4" result="moved"/><feGaussianBlur in="moved" stdDeviation="3" result="soft"/><feComposite in="SourceAlpha" in2="soft" operator="out" result="edge"/><feFlood flood-color="#503010" flood-opacity="0.6"/><feComposite in2="edge" operator="in" result="shade"/><feMerge><feMergeNode in="SourceGraphic"/><feMergeNode in="shade"/></feMerge></filter>
  <rect id="panel" width="240" height="160" fill="#e8efe6"/>
  <g id="card" filter="url(#lift)" transform="translate(20 20) scale(2)"><rect width="50" height="30" rx="5" fill="#ffffff"/><circle cx="12" cy="15" r="6" fill="#2f7d6d"/></g>
  <circle id="badge" cx="190" cy="60" r="24" fill="#d49b32"/>
  <rect id="chip" x="30" y="110" width="80" height="30" rx="8" fill="#2f7d6d" stroke="#1d5145" stroke-width="2" style="filter: drop-shadow(2px 3px 2px #000000a0)"/>
  <rect id="turned" x="150" y="110" width="60" height="20" fill="#b0413e" transform="rotate(10 180 120)" filter="url(#lift)"/>
</svg>"##;

/// The project with one element taken out, and the id of its piece.
fn taken(svg: &str, element: u32) -> (Project, Id) {
    let project = document(svg.as_bytes(), [240.0, 160.0], json!({}));
    let project = after(&project, "art", element);
    let own = |piece: &&Piece| piece.drawn_from.is_some();
    let id = project.scenes[0].all_pieces().into_iter().find(own).unwrap().id.clone();
    (project, id)
}

fn offered(project: &Project, id: &Id) -> Option<AsCoats> {
    let scene = &project.scenes[0];
    as_coats((project, scene), scene.piece(id.as_str()).unwrap(), &Assets::carried_by(project))
}

/// The project where a piece became what is offered, with its coats changed.
fn made(project: &Project, id: &Id, change: impl Fn(&mut Value)) -> Project {
    let found = offered(project, id).unwrap();
    let mut value = serde_json::to_value(project).unwrap();
    let parts = value["scenes"][0]["pieces"][0]["shape"]["parts"].as_array_mut().unwrap();
    let part = parts.iter_mut().find(|part| part["id"] == json!(id)).unwrap();
    part["shape"] = json!(found.shape);
    part["fill"] = json!(found.fill);
    part["x"] = json!(found.x);
    part["y"] = json!(found.y);
    part["drawn_from"] = json!(found.drawn_from);
    part["wear"] = json!({"coats": found.coats});
    change(&mut part["wear"]["coats"]);
    Project::from_value(&value).unwrap()
}

fn back(project: &Project) -> FileWithDepth {
    let assets = Assets::carried_by(project);
    file_with_depth(project, &project.scenes[0], &project.assets[0].id, Edge::Grow, &assets).unwrap()
}

fn lengths(coats: &Value) -> Vec<(String, f64, f64, f64)> {
    let number = |value: &Value| value.as_f64().unwrap();
    let shadows = coats.as_array().unwrap().iter().filter(|coat| coat["kind"] != "stroke");
    shadows
        .map(|coat| {
            let offset = &coat["offset"];
            let kind = coat["kind"].as_str().unwrap().to_owned();
            (kind, number(&offset["x"]), number(&offset["y"]), number(&coat["blur"]))
        })
        .collect()
}

/// A filter is read from its element, a rule, or a function; its lengths are those of the element, a blur twice the σ.
#[test]
fn a_filter_becomes_coats() {
    let expected = [(1, "drop", 0.0, 4.0, 12.0), (2, "inner", 0.0, 4.0, 6.0), (3, "drop", 2.0, 3.0, 4.0)];
    for (element, kind, x, y, blur) in expected {
        let (project, id) = taken(FILTERED, element);
        let found = offered(&project, &id).unwrap();
        assert_eq!(lengths(&json!(found.coats)), [(kind.to_owned(), x, y, blur)]);
        assert_eq!(found.remarks, [""; 0], "{element}");
    }
    let (project, id) = taken(FILTERED, 1);
    let Shape::Group(card) = offered(&project, &id).unwrap().shape else { panic!("two shapes") };
    assert!(matches!(
        card.parts.as_slice(),
        [Piece { shape: Shape::Box(_), .. }, Piece { shape: Shape::Ellipse(_), .. }]
    ));
    let (project, id) = taken(FILTERED, 3);
    let chip = offered(&project, &id).unwrap();
    assert!(matches!(chip.shape, Shape::Box(_)) && chip.coats.len() == 2, "its stroke and its shadow");
}

/// Nothing is offered where an element is turned, has no filter, or one that is no depth.
#[test]
fn some_filters_stay_what_they_are() {
    let (project, id) = taken(FILTERED, 4);
    assert_eq!(offered(&project, &id), None);
    let (project, id) = taken(FILTERED, 0);
    assert_eq!(offered(&project, &id), None);
    let (project, id) = taken(&FILTERED.replace("(\"#inset\")", "(#inset) !important"), 2);
    assert_eq!(offered(&project, &id), None);
    for other in [
        "<feTurbulence/>",
        "<feGaussianBlur stdDeviation=\"3 1\"/>",
        "<feColorMatrix type=\"saturate\" values=\"0\"/>",
    ] {
        let (start, rest) = FILTERED.split_once("<feDropShadow").unwrap();
        let (_, rest) = rest.split_once("/>").unwrap();
        let svg = format!("{start}{other}{rest}");
        let (project, id) = taken(&svg, 1);
        assert_eq!(offered(&project, &id), None, "{other}");
    }
}

/// Coats look as the filter did: no more apart than our blur and resvg's, which is three boxes.
#[test]
fn the_picture_hardly_changes() {
    for element in 1..4 {
        let (project, id) = taken(FILTERED, element);
        let before = drawn(&project);
        let after = drawn(&made(&project, &id, |_| {}));
        let (mean, p999) = apart(&before, &after);
        assert!(mean < 0.1 && p999 <= 6, "{element}: {mean} {p999}");
    }
}

/// Back in the file, coats that nobody changed leave it as it is, and others take the place of the filter.
#[test]
fn changed_coats_take_the_filters_place() {
    for (element, attribute) in [
        (1, "<g style=\"filter:url(#zolvet-depth-1)\" id=\"card\" filter=\"url(#lift)\""),
        (2, "<circle style=\"filter:url(#zolvet-depth-1)\" id=\"badge\""),
        (3, "#000000a0);filter:url(#zolvet-depth-1)\""),
    ] {
        let (project, id) = taken(FILTERED, element);
        assert_eq!(back(&made(&project, &id, |_| {})).svg, FILTERED);
        let colour = |coats: &mut Value| {
            let shadow =
                coats.as_array_mut().unwrap().iter_mut().find(|coat| coat["kind"] != "stroke").unwrap();
            shadow["colour"] = json!("#c02040");
        };
        let file = back(&made(&project, &id, colour));
        assert!(file.svg.contains(attribute), "{element}: {}", file.svg);
        assert!(file.svg.contains("flood-color=\"#c02040\"") && file.notes.is_empty(), "{}", file.svg);
        assert!(DrawingFile::read(file.svg.as_bytes()).is_ok(), "{}", file.svg);
        // None of them, and no filter.
        let off = |coats: &mut Value| {
            coats
                .as_array_mut()
                .unwrap()
                .iter_mut()
                .filter(|coat| coat["kind"] != "stroke")
                .for_each(|coat| coat["on"] = json!(false));
        };
        let file = back(&made(&project, &id, off));
        assert!(file.svg.contains("filter:none"), "{}", file.svg);
        assert_eq!(file.svg.matches("<filter").count(), 2, "{}", file.svg);
    }
}

/// What the file is drawn as then is what the scene shows.
#[test]
fn the_file_is_drawn_as_the_scene() {
    for element in 1..4 {
        let (project, id) = taken(FILTERED, element);
        let moved = |coats: &mut Value| {
            let shadow =
                coats.as_array_mut().unwrap().iter_mut().find(|coat| coat["kind"] != "stroke").unwrap();
            shadow["offset"] = json!({"x": 3, "y": 7});
        };
        let scene = made(&project, &id, moved);
        let file = document(back(&scene).svg.as_bytes(), [240.0, 160.0], json!({}));
        let (mean, p999) = apart(&drawn(&scene), &drawn(&file));
        assert!(mean < 0.2 && p999 <= 12, "{element}: {mean} {p999}");
    }
}

/// A filter stands in the px of its own tag, not of what the tag holds.
#[test]
fn lengths_are_those_of_the_tag() {
    let svg = r##"<svg xmlns="http://www.w3.org/2000/svg" width="240" height="160"><filter id="lift" color-interpolation-filters="sRGB"><feDropShadow dx="0" dy="2" stdDeviation="3"/></filter><rect width="20" height="20"/><g id="card" filter="url(#lift)"><rect transform="translate(60 60) scale(3)" width="20" height="10" fill="#2f7d6d"/></g></svg>"##;
    let (project, id) = taken(svg, 1);
    let found = offered(&project, &id).unwrap();
    assert_eq!(lengths(&json!(found.coats)), [("drop".to_owned(), 0.0, 2.0, 6.0)]);
}

/// A file that is one element with a filter gives coats as well, and gets them back at its own scale.
#[test]
fn a_file_of_one_element_has_its_filter_as_coats() {
    let svg = r##"<svg xmlns="http://www.w3.org/2000/svg" width="120" height="80"><filter id="lift" color-interpolation-filters="sRGB"><feDropShadow dx="0" dy="2" stdDeviation="3"/></filter><rect id="card" x="20" y="20" width="80" height="40" rx="6" fill="#2f7d6d" filter="url(#lift)"/></svg>"##;
    // Shown at twice its size.
    let project = document(svg.as_bytes(), [240.0, 160.0], json!({}));
    let scene = &project.scenes[0];
    let found = as_coats((&project, scene), &scene.pieces[0], &Assets::carried_by(&project)).unwrap();
    assert_eq!(lengths(&json!(found.coats)), [("drop".to_owned(), 0.0, 4.0, 12.0)]);
    let mut value = serde_json::to_value(&project).unwrap();
    let piece = &mut value["scenes"][0]["pieces"][0];
    piece["shape"] = json!(found.shape);
    piece["fill"] = json!(found.fill);
    piece["drawn_from"] = json!(found.drawn_from);
    piece["wear"] = json!({"coats": found.coats});
    assert_eq!(back(&Project::from_value(&value).unwrap()).svg, svg);
    value["scenes"][0]["pieces"][0]["wear"]["coats"][0]["offset"] = json!({"x": 0, "y": 12});
    let file = back(&Project::from_value(&value).unwrap());
    assert!(file.svg.contains("dy=\"6\""), "{}", file.svg);
}
