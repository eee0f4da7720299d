//! What a finish is written as: rings for strokes outside, the property it was made with, one value for two schemes, modules.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::css::import;
use zolvet_core::handoff::{SheetOptions, Style, sheet};
use zolvet_core::lower::{Target, lower};
use zolvet_core::model::Project;
use zolvet_core::resolve;
use zolvet_core::tokens::{TokenOptions, write};

fn drop(y: f64, colour: &Value) -> Value {
    json!({"kind": "drop", "id": format!("drop-{y}"), "name": format!("Drop {y}"), "on": true,
        "offset": {"x": 0, "y": y}, "blur": 4, "spread": 0, "colour": colour})
}

fn stroke(width: f64, side: &str, join: &str) -> Value {
    json!({"kind": "stroke", "id": "edge", "name": "Edge", "on": true, "width": width, "side": side, "join": join,
        "fill": {"kind": "solid", "colour": "#ff0000"}})
}

fn piece(id: &str, radius: f64, fill: &str) -> Value {
    json!({"id": id, "name": id, "x": 20, "y": 20, "fill": {"kind": "solid", "colour": fill}, "wear": {"finish": "f"},
        "shape": {"kind": "box", "w": 80, "h": 40, "radii": radius}})
}

fn project(finish: &Value, pieces: &[Value]) -> Project {
    let document = json!({"schema": 3, "name": "Forms", "prefix": "p", "scale": [], "finishes": [finish],
        "themes": [{"id": "light", "name": "Light", "scheme": "light"}, {"id": "dark", "name": "Dark", "scheme": "dark"}],
        "scenes": [{"id": "s", "name": "S", "width": 240, "height": 180, "theme": "light",
            "ground": {"kind": "solid", "colour": "#eee"}, "pieces": pieces}]});
    Project::from_value(&document).unwrap_or_else(|problems| panic!("{problems:?}"))
}

fn written(project: &Project, wanted: &SheetOptions) -> String {
    sheet(project, &Assets::default(), wanted)
}

/// A stroke outside leaves the box as large as it is, and casts shadows with it.
#[test]
fn strokes_outside_are_rings_of_shadow() {
    let finish = json!({"id": "f", "name": "Edged", "coats": [stroke(3.0, "outside", "miter"), drop(6.0, &json!("#0000ff"))]});
    let flat = SheetOptions { style: Style::Flat, ..SheetOptions::default() };
    let css = written(&project(&finish, &[piece("a", 8.0, "#fff")]), &flat);
    let rings = "box-shadow:\n    0 0 0 3px #f00,\n    0 6px 4px 3px #00f;";
    assert!(css.contains(rings), "{css}");
    for other in ["border", "margin", "width", "outline", "box-sizing"] {
        assert!(!css.contains(other), "{other}: {css}");
    }
    let across = json!({"id": "f", "name": "Edged", "coats": [stroke(4.0, "centre", "miter")]});
    let css = written(&project(&across, &[piece("a", 8.0, "#fff")]), &flat);
    assert!(css.contains("inset 0 0 0 2px #f00,\n    0 0 0 2px #f00;"), "{css}");
}

/// Where a ring has other corners than the stroke, that is said.
#[test]
fn rings_that_are_not_exact_are_said() {
    for (radius, join, is_said) in
        [(8.0, "round", false), (0.0, "miter", false), (0.0, "round", true), (2.0, "miter", true)]
    {
        let finish = json!({"id": "f", "name": "Edged", "coats": [stroke(3.0, "outside", join)]});
        let project = project(&finish, &[piece("a", radius, "#fff")]);
        let scene = &project.scenes[0];
        let (resolved, _) = resolve::piece(&project, scene, &scene.pieces[0], &Assets::default());
        let notes = lower(&resolved, Target::BoxShadow).notes.0;
        assert_eq!(!notes.is_empty(), is_said, "{radius} {join}: {notes:?}");
    }
}

/// Frosted glass is as large with a rim as without; what the rim shows of it is said.
#[test]
fn the_rim_of_frosted_glass_is_a_ring() {
    let frost = json!({"id": "g", "name": "Frost", "on": true, "kind": "backdrop", "sigma": 10});
    for (colour, is_said) in [("rgb(255 255 255 / .4)", true), ("#fff", false)] {
        let mut rim = stroke(6.0, "outside", "miter");
        rim["fill"]["colour"] = json!(colour);
        let project = project(
            &json!({"id": "f", "name": "Glass", "coats": [rim, frost]}),
            &[piece("a", 8.0, "rgb(0 0 0 / .1)")],
        );
        let css = written(&project, &SheetOptions { style: Style::Flat, ..SheetOptions::default() });
        assert!(css.contains("0 0 0 6px") && css.contains("backdrop-filter: blur(10px)"), "{css}");
        assert!(!css.contains("border") && !css.contains("margin"), "{css}");
        let scene = &project.scenes[0];
        let (resolved, _) = resolve::piece(&project, scene, &scene.pieces[0], &Assets::default());
        let notes = format!("{:?}", lower(&resolved, Target::BoxShadow).notes.0);
        assert_eq!(notes.contains("what lies behind is blurred in the box"), is_said, "{colour}: {notes}");
    }
}

/// What was made with a property is written with it, under the plain name of the class.
#[test]
fn finishes_are_written_with_the_property_they_were_made_with() {
    let css = ".carved { text-shadow: 0 1px 2px #f00 } .leaf { filter: drop-shadow(0 2px 1px #f00) } .card { box-shadow: 0 1px 2px 3px #f00 }";
    let mut document = json!({"schema": 3, "name": "Forms", "prefix": "p", "scale": [], "scenes": [],
        "themes": [{"id": "light", "name": "Light", "scheme": "light"}]});
    let empty = Project::from_value(&document).unwrap();
    import(css).fitted_to(&empty).put_into(&mut document);
    let project = Project::from_value(&document).unwrap();
    let back = written(&project, &SheetOptions::default());
    for rule in [
        ".p-carved {\n  text-shadow: 0 1px 2px #f00;\n}",
        ".p-leaf {\n  filter: drop-shadow(0 2px 1px #f00);\n}",
        ".p-card {\n  box-shadow: 0 1px 2px 3px #f00;\n}",
    ] {
        assert!(back.contains(rule), "{rule}: {back}");
    }
    let kinds = |read: &zolvet_core::import::Incoming| -> Vec<_> {
        read.finishes.iter().map(|finish| finish.made_with).collect()
    };
    assert_eq!(kinds(&import(&back)), kinds(&import(css)));
}

#[test]
fn colours_of_two_schemes_are_one_value_by_choice() {
    let finish = json!({"id": "f", "name": "Lifted", "coats": [drop(2.0, &json!("#111111"))],
        "themes": {"dark": [drop(2.0, &json!("#eeeeee"))]}});
    let project = project(&finish, &[piece("a", 8.0, "#fff")]);
    let wanted = SheetOptions { light_dark: true, ..SheetOptions::default() };
    let css = written(&project, &wanted);
    assert!(css.contains("box-shadow: 0 2px 4px light-dark(#111, #eee);"), "{css}");
    for other in ["@media", "data-theme", "var("] {
        assert!(!css.contains(other), "{other}: {css}");
    }
    assert!(!written(&project, &SheetOptions::default()).contains("light-dark("));
}

/// Browsers without relative colours get plain values, all others the living ones after them.
#[test]
fn plain_values_stand_before_living_ones_by_choice() {
    let own = json!({"from": "fill", "lightness": 0.5});
    let finish = json!({"id": "f", "name": "Lifted", "coats": [drop(2.0, &own)]});
    let project = project(&finish, &[piece("a", 8.0, "#3366cc")]);
    let css = written(&project, &SheetOptions { older_colours: true, ..SheetOptions::default() });
    let (plain, living) = css.split_once("@supports (color: rgb(from #000 r g b))").unwrap();
    assert!(plain.contains(".p-lifted {") && !plain.contains("(from "), "{plain}");
    assert!(living.contains("  .p-lifted {") && living.contains("(from var(--p-fill"), "{living}");
}

/// In a CSS module classes are local, themes and custom properties are not.
#[test]
fn modules_have_local_classes_and_global_themes() {
    let finish = json!({"id": "f", "name": "Lifted up", "coats": [drop(2.0, &json!("#111111"))],
        "themes": {"dark": [drop(3.0, &json!("#eeeeee"))]}});
    let project = project(&finish, &[piece("a", 8.0, "#fff")]);
    let css = written(&project, &SheetOptions { module: true, ..SheetOptions::default() });
    assert!(css.contains(".liftedUp {") && !css.contains(".p-lifted-up"), "{css}");
    assert!(css.contains(":global(.dark)") && css.contains(":global([data-theme=\"dark\"])"), "{css}");
}

/// Tokens fall back to the fill that most pieces have, as style sheets do.
#[test]
fn tokens_cast_the_commonest_fill() {
    let own = json!({"from": "fill", "lightness": 0.0});
    let finish = json!({"id": "f", "name": "Lifted", "coats": [drop(2.0, &own)]});
    let pieces = [piece("a", 8.0, "#ff0000"), piece("b", 8.0, "#0000ff"), piece("c", 8.0, "#0000ff")];
    let project = project(&finish, &pieces);
    let tokens = write(&project, &project.themes[0].id, &Assets::default(), TokenOptions::default());
    let components = &tokens["finish"]["Lifted"]["$value"][0]["color"]["components"];
    assert_eq!(components, &json!([0.0, 0.0, 1.0]), "{tokens}");
}

/// Filter Effects 1, section 5: functions are applied from the first to the last, and their order stays.
#[test]
fn backdrops_keep_the_order_of_their_functions() {
    for value in [
        "saturate(1.8) blur(16px)",
        "blur(16px) saturate(1.8)",
        "brightness(0.5) saturate(1.8) blur(4px)",
        "saturate(1.8) blur(4px) brightness(0.5)",
        "blur(4px) brightness(0.5) saturate(1.8)",
    ] {
        let read = import(&format!(".pane {{ backdrop-filter: {value} }}"));
        let finish = serde_json::to_value(&read.finishes[0]).unwrap();
        let project = project(
            &json!({"id": "f", "name": "Pane", "coats": finish["coats"]}),
            &[piece("a", 8.0, "#ffffff33")],
        );
        let css = written(&project, &SheetOptions { style: Style::Flat, ..SheetOptions::default() });
        assert!(css.contains(&format!("  backdrop-filter: {value};")), "{value}: {css}");
    }
}
