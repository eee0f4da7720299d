//! Sheets for pages of somebody's own (docs/pages.md, "What leaves").

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{
    SheetOptions, Style, bundle, fittings_sheet, live_sheet, live_tokens, sheet as sheet_of,
};
use zolvet_core::model::{Project, State};

fn drop(id: &str, y: f64) -> Value {
    json!({"id": id, "name": id, "on": true, "kind": "drop", "offset": {"x": 0, "y": y}, "blur": 8, "spread": 0, "colour": "#00000040"})
}

/// A page with one fitting, of which some fields are said.
fn page(fitting: Value, more: Value) -> Project {
    let mut piece = json!({"id": "p", "name": ".card", "x": 0, "y": 0, "shape": {"kind": "box", "w": 200, "h": 90}, "control": true,
        "wear": {"coats": [drop("d", 4.0)]}, "states": {"hover": [drop("d", 9.0)]}});
    for (key, value) in more.as_object().unwrap() {
        piece[key] = value.clone();
    }
    piece["fitting"] = fitting;
    Project::from_value(&json!({"schema": 3, "name": "Page", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "Plots", "media_type": "text/html"}],
        "scenes": [{"id": "s", "name": "Plots", "width": 800, "height": 600, "theme": "t", "ground": {"kind": "none"},
            "page": {"asset": "a"}, "pieces": [piece]}]}))
    .unwrap()
}

fn sheet(project: &Project, shown: Option<State>) -> String {
    let wanted = SheetOptions { style: Style::Flat, ..SheetOptions::default() };
    fittings_sheet(project, &Assets::default(), &project.scenes[0], &wanted, shown)
}

#[test]
fn a_sheet_has_the_selectors_of_the_page_and_nothing_but_depth() {
    let css = sheet(&page(json!({"selector": ".card"}), json!({})), None);
    let expected = "/* Plots. Load after your own sheets. */\n\n.card {\n  box-shadow: 0 4px 8px rgb(0 0 0 / 25.1%);\n}\n\n\
        @media (hover: hover) {\n  .card:hover {\n    box-shadow: 0 9px 8px rgb(0 0 0 / 25.1%);\n  }\n}\n";
    assert_eq!(css, expected);
    assert_eq!(sheet(&page(json!({"selector": ".card"}), json!({"hidden": true})), None), "");
    assert_eq!(sheet(&page(json!({"selector": ".card"}), json!({"coats_on": false})), None), "");
}

/// A rule is as strong as it has to be, and a list of selectors is one (Selectors 4, "Calculating a selector's specificity").
#[test]
fn a_rule_is_as_strong_as_it_has_to_be() {
    for (strength, selector, rest, hover) in [
        ("weightless", ".a, .b", ":where(.a, .b) {", ":where(.a, .b):hover {"),
        ("plain", ".a, .b", ":is(.a, .b) {", ":is(.a, .b):hover {"),
        ("doubled", ".a", ":root .a {", ":root .a:hover {"),
        ("important", ".a", ".a {\n  box-shadow: 0 4px 8px rgb(0 0 0 / 25.1%) !important;", ".a:hover {"),
    ] {
        let css = sheet(&page(json!({"selector": selector, "strength": strength}), json!({})), None);
        assert!(css.contains(rest) && css.contains(hover), "{strength}: {css}");
    }
}

/// The element's own shadow lies below the coats, or is replaced: also where the coats need none.
#[test]
fn own_shadows_stay_below_or_go() {
    let own = "rgb(0, 0, 0) 0px 1px 2px 0px";
    let keeps = sheet(&page(json!({"selector": ".a", "own": own, "keeps_own": true}), json!({})), None);
    assert!(
        keeps.contains(&format!("box-shadow:\n    0 4px 8px rgb(0 0 0 / 25.1%),\n    {own};")),
        "{keeps}"
    );
    let goes = sheet(&page(json!({"selector": ".a", "own": own}), json!({})), None);
    assert!(!goes.contains(own), "{goes}");
    let none = json!({"wear": {"coats": []}, "states": {}});
    assert!(
        sheet(&page(json!({"selector": ".a", "own": own}), none.clone()), None).contains("box-shadow: none;")
    );
    assert_eq!(sheet(&page(json!({"selector": ".a", "own": own, "keeps_own": true}), none), None), "");
}

#[test]
fn a_state_is_shown_at_rest() {
    let css = sheet(&page(json!({"selector": ".card"}), json!({})), Some(State::Hover));
    assert!(css.contains(".card {\n  box-shadow: 0 9px 8px") && !css.contains(":hover"), "{css}");
    let css = sheet(&page(json!({"selector": ".card"}), json!({})), Some(State::Focus));
    assert!(css.contains(".card {\n  box-shadow: 0 4px 8px") && !css.contains(":focus"), "{css}");
}

/// A project's own sheet knows nothing of its pages, whose elements have no classes of ours; in a bundle each has a sheet.
#[test]
fn pages_are_no_part_of_the_projects_own_sheet() {
    let project = page(json!({"selector": ".card"}), json!({}));
    let wanted = SheetOptions { scenes: true, ..SheetOptions::default() };
    let css = sheet_of(&project, &Assets::default(), &wanted);
    assert!(!css.contains("card") && !css.contains("box-shadow"), "{css}");
    let document = serde_json::to_value(&project).unwrap();
    let files = bundle(&project, &document, &Assets::default(), &wanted);
    assert!(files.iter().all(|file| !file.path.starts_with("scenes/")));
    let pages = files.iter().filter(|file| file.path.starts_with("pages/"));
    let pages: Vec<(&str, String)> =
        pages.map(|file| (file.path.as_str(), String::from_utf8(file.bytes.clone()).unwrap())).collect();
    let flat = sheet(&project, None);
    assert_eq!(pages[1], ("pages/plots.flat.css", flat));
    assert!(pages[0].0 == "pages/plots.css" && pages[0].1.contains(".card {"), "{pages:?}");
    let readme = files.iter().find(|file| file.path == "README.md").unwrap();
    assert!(String::from_utf8_lossy(&readme.bytes).contains("`pages/plots.css`"));
    let bare = bundle(
        &page(json!({"selector": ".a"}), json!({"hidden": true})),
        &document,
        &Assets::default(),
        &wanted,
    );
    assert!(bare.iter().all(|file| !file.path.starts_with("pages/")));
}

/// What is typed as a selector, or read from a page, cannot become another rule.
#[test]
fn nothing_else_is_written_into_a_sheet() {
    let problems = |fitting: Value| {
        let value = serde_json::to_value(page(json!({"selector": ".a"}), json!({}))).unwrap();
        let mut value = value;
        value["scenes"][0]["pieces"][0]["fitting"] = fitting;
        Project::from_value(&value).err().map(|problems| problems[0].pointer.clone())
    };
    let at = |field: &str| Some(format!("/scenes/0/pieces/0/fitting/{field}"));
    for wrong in ["", "a {} b", ".a; b", "@import 'x'", ".a /* x", ".a[b"] {
        assert_eq!(problems(json!({"selector": wrong})), at("selector"), "{wrong}");
    }
    for wrong in ["0 0 1px red; color: red", "0 0 1px red } a { b: c", "url('x')", "</style>"] {
        assert_eq!(problems(json!({"selector": ".a", "own": wrong})), at("own"), "{wrong}");
    }
    let mut value = serde_json::to_value(page(json!({"selector": ".a"}), json!({}))).unwrap();
    value["scenes"][0]["page"]["asset"] = json!("gone");
    let found = Project::from_value(&value).unwrap_err();
    assert_eq!(found[0].pointer, "/scenes/0/page/asset");
}

/// A live address gives its scene and the finishes worn in it, and nothing else of the project.
#[test]
fn a_live_address_gives_its_scene_alone() {
    let finish = |id: &str| json!({"id": id, "name": id, "coats": [drop("d", 4.0)]});
    let piece = |id: &str, finish: &str| json!({"id": id, "name": id, "x": 0, "y": 0, "shape": {"kind": "box", "w": 90, "h": 90}, "wear": {"finish": finish}});
    let scene = |id: &str, pieces: Value| json!({"id": id, "name": id, "width": 800, "height": 600, "theme": "t", "ground": {"kind": "none"}, "pieces": pieces});
    let project = Project::from_value(&json!({"schema": 3, "name": "Live", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "finishes": [finish("shown"), finish("secret")],
        "scenes": [scene("one", json!([piece("plate", "shown")])), scene("other", json!([piece("hidden-plan", "secret")]))]}))
    .unwrap();
    let wanted = SheetOptions::default();
    let (one, assets) = (&project.scenes[0], Assets::default());
    for text in [live_sheet(&project, &assets, one, &wanted), live_tokens(&project, &assets, one)] {
        assert!(
            text.contains("shown") && !text.contains("secret") && !text.contains("hidden-plan"),
            "{text}"
        );
    }
    let page = page(json!({"selector": ".card"}), json!({}));
    let sheet = fittings_sheet(&page, &assets, &page.scenes[0], &wanted, None);
    assert_eq!(live_sheet(&page, &assets, &page.scenes[0], &wanted), sheet);
}
