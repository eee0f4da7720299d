//! What leaves comes back: tokens, style sheets, project documents.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use std::sync::{Arc, RwLock};

use lightningcss::stylesheet::{ParserOptions, StyleSheet};
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{Format, Pieces, SheetOptions, Style, bundle, export, scss, sheet};
use zolvet_core::incoming::from_project;
use zolvet_core::lower::{Numbers, targets_of};
use zolvet_core::model::{Coat, CoatKind, ColourSource, Finish, Offset, Project, Shape};
use zolvet_core::tokens::{TokenFile, TokenForm, TokenOptions};
use zolvet_core::{css, resolve, tokens};
use zolvet_samples::library::document;

const DEMO: &str = include_str!("../../../../demo/quillmere.zolvet.json");

const EXACT: TokenOptions<'_> =
    TokenOptions { finish: None, numbers: Numbers::Exact, form: TokenForm::Objects };

fn demo() -> Project {
    Project::from_json(DEMO).unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn tokens_out_and_in_give_the_same_project(document in document(), night in any::<bool>()) {
        let project = Project::from_value(&document).unwrap();
        let theme = &project.themes[usize::from(night)].id;
        let file = tokens::write(&project, theme, &Assets::default(), EXACT);
        valid(&file, "");
        let (_, back) = tokens::read(&serde_json::to_string(&file).unwrap()).unwrap();
        // The rest of a project travels in its project file.
        let shared = |project: Project| Project { scenes: Vec::new(), scale: Vec::new(), ..project };
        prop_assert_eq!(back.unwrap(), shared(project.clone()));
        // Values in the older form read as the same, also without what we keep with them.
        let strings = tokens::write(&project, theme, &Assets::default(), TokenOptions { form: TokenForm::Strings, ..EXACT });
        let plain = |file: &Value| tokens::read(&without_extensions(file.clone()).to_string()).unwrap().0;
        let (one, other) = (plain(&file), plain(&strings));
        prop_assert_eq!(one.finishes.iter().map(told).collect::<Vec<_>>(), other.finishes.iter().map(told).collect::<Vec<_>>());
        let modes = tokens::write_modes(&project, &Assets::default(), EXACT);
        let (_, back) = tokens::read(&serde_json::to_string(&modes).unwrap()).unwrap();
        prop_assert_eq!(back.unwrap(), shared(project));
    }

    #[test]
    fn a_project_file_out_and_in_is_the_same_project(document in document()) {
        let project = Project::from_value(&document).unwrap();
        let text = export(&project, &Assets::default(), Format::Json, None, &SheetOptions::default());
        prop_assert_eq!(Project::from_json(&text).unwrap(), project);
    }

    #[test]
    fn an_independent_parser_takes_every_style_sheet(document in document()) {
        let project = Project::from_value(&document).unwrap();
        for style in [Style::Living, Style::Flat] {
            parses(&sheet(&project, &Assets::default(), &SheetOptions { style, scenes: true, ..SheetOptions::default() }));
        }
    }

    #[test]
    fn a_style_sheet_keeps_what_css_holds(numbers in prop::collection::vec((any::<bool>(), -40.0..40.0_f64, -40.0..40.0_f64, 0.0..200.0_f64, -20.0..20.0_f64, "#[0-9a-f]{6}"), 1..6)) {
        let coats: Vec<Value> = numbers.iter().enumerate().map(|(i, (inner, x, y, blur, spread, colour))| json!({
            "id": format!("c{i}"), "name": "c", "on": true, "kind": if *inner { "inner" } else { "drop" },
            "offset": {"x": x, "y": y}, "blur": blur, "spread": spread, "colour": colour})).collect();
        // CSS paints inner shadows over everything else that it paints, drop shadows under it.
        let (inner, drops): (Vec<_>, Vec<_>) = coats.into_iter().partition(|coat| coat["kind"] == "inner");
        let ordered = [inner, drops].concat();
        let document = json!({"schema": 1, "name": "Any", "themes": [{"id": "day", "name": "Day", "scheme": "light"}], "scenes": [],
            "finishes": [{"id": "f", "name": "Card", "coats": ordered}]});
        let project = Project::from_value(&document).unwrap();
        let exact = SheetOptions { numbers: Numbers::Exact, style: Style::Flat, ..SheetOptions::default() };
        let css = sheet(&project, &Assets::default(), &exact);
        let back = css::import(&css);
        let card = back.finishes.iter().find(|finish| finish.name == "any-card").unwrap();
        prop_assert_eq!(told(card), told(&project.finishes[0]));
        // On icons they are a chain, which does not hold everything, and says so.
        prop_assert!(back.diagnostics.iter().all(|diagnostic| diagnostic.message.starts_with(".any-card-icon")), "{:?}", back.diagnostics);
    }
}

/// lightningcss reads all of it: no error, no warning, and no declaration it does not know.
fn parses(css: &str) {
    use lightningcss::properties::Property;
    use lightningcss::rules::CssRule;
    let warnings = Arc::new(RwLock::new(Vec::new()));
    let options =
        ParserOptions { error_recovery: true, warnings: Some(Arc::clone(&warnings)), ..Default::default() };
    let sheet = StyleSheet::parse(css, options).map_err(|error| error.to_string()).unwrap();
    let said: Vec<_> = warnings.read().unwrap().iter().map(ToString::to_string).collect();
    assert_eq!(said, Vec::<String>::new(), "{css}");
    assert_eq!(sheet.rules.0.is_empty(), !css.contains('{'));
    for rule in &sheet.rules.0 {
        let CssRule::Style(style) = rule else { continue };
        for property in &style.declarations.declarations {
            // What is not understood is kept as tokens; so are CSS-wide keywords and whatever refers to a property.
            if let Property::Unparsed(unparsed) = property {
                let text = format!("{:?}", unparsed.value);
                assert!(
                    text.contains("Var(")
                        || ["initial", "none"].iter().any(|word| text.contains(&format!("Ident({word:?})"))),
                    "{text}: {css}"
                );
            }
        }
    }
}

#[test]
fn an_independent_parser_takes_the_demo() {
    let project = demo();
    let assets = Assets::carried_by(&project);
    for (style, pieces) in [Style::Living, Style::Flat].into_iter().zip([Pieces::Depth, Pieces::Whole]) {
        parses(&sheet(
            &project,
            &assets,
            &SheetOptions { style, pieces, scenes: true, ..SheetOptions::default() },
        ));
    }
    for scene in &project.scenes {
        for piece in &scene.pieces {
            let (resolved, _) = resolve::piece(&project, scene, piece, &assets);
            let states = resolve::states(&project, scene, piece, &assets);
            for target in targets_of(&resolved, matches!(piece.shape, Shape::Text(_))) {
                let wanted = css::CodeOptions { target: Some(target), ..css::CodeOptions::default() };
                parses(&css::piece_code(&resolved, &piece.shape, &states, wanted).css);
            }
        }
    }
}

/// Fifty pieces in ten scenes wear one finish: changed once, all of them follow, and the sheet changes in one place.
#[test]
fn a_finish_changed_once_changes_fifty_pieces() {
    let coats = |blur: f64| json!([{"id": "d", "name": "Fall", "on": true, "kind": "drop", "offset": {"x": 0, "y": 4}, "blur": blur, "spread": 0, "colour": "#102018"}]);
    let scenes: Vec<Value> = (0..10)
        .map(|scene| {
            let pieces: Vec<Value> = (0..5)
                .map(|piece| json!({"id": format!("p{piece}"), "name": format!("Card {scene} {piece}"), "shape": {"kind": "box", "w": 40, "h": 20, "radii": 4},
                    "x": 50 * piece, "y": 10, "fill": {"kind": "solid", "colour": "#ffffff"}, "wear": {"finish": "f"}}))
                .collect();
            json!({"id": format!("s{scene}"), "name": format!("Scene {scene}"), "width": 300, "height": 100, "theme": "day", "ground": {"kind": "none"}, "pieces": pieces})
        })
        .collect();
    let with = |blur: f64| {
        Project::from_value(
            &json!({"schema": 1, "name": "Many", "themes": [{"id": "day", "name": "Day", "scheme": "light"}],
            "finishes": [{"id": "f", "name": "Lifted", "coats": coats(blur)}], "scenes": scenes}),
        )
        .unwrap()
    };
    let (before, after) = (with(8.0), with(20.0));
    let blurs = |project: &Project| -> Vec<f64> {
        let resolved = project.scenes.iter().map(|scene| resolve::scene(project, scene, &Assets::default()));
        let pieces = resolved.flat_map(|scene| scene.pieces);
        let coats = pieces.flat_map(|piece| piece.coats);
        coats
            .filter_map(
                |coat| {
                    if let resolve::PaintOp::Shadow(shadow) = coat.op { Some(shadow.blur) } else { None }
                },
            )
            .collect()
    };
    assert_eq!((blurs(&before), blurs(&after)), (vec![8.0; 50], vec![20.0; 50]));
    let lines = |project: &Project| -> Vec<String> {
        let flat = SheetOptions { style: Style::Flat, ..SheetOptions::default() };
        sheet(project, &Assets::default(), &flat).lines().map(str::to_owned).collect()
    };
    let (before, after) = (lines(&before), lines(&after));
    assert_eq!(before.len(), after.len());
    let changed: Vec<_> =
        before.iter().zip(&after).filter(|(before, after)| before != after).map(|(line, _)| line).collect();
    assert_eq!(changed, ["  box-shadow: 0 4px 8px #102018;"]);
}

fn without_extensions(mut value: Value) -> Value {
    if let Value::Object(fields) = &mut value {
        fields.shift_remove("$extensions");
        for field in fields.values_mut() {
            *field = without_extensions(field.take());
        }
    }
    value
}

/// The numbers and colours of a finish's shadows.
fn told(finish: &Finish) -> Vec<String> {
    let one = |kind: &CoatKind| match kind {
        CoatKind::Drop(drop) => (drop.offset.clone(), drop.blur, drop.spread, drop.colour.clone()),
        CoatKind::Inner(inner) => (inner.offset.clone(), inner.blur, inner.spread, inner.colour.clone()),
        other => panic!("a {}", other.name()),
    };
    let each = finish.coats.iter().map(|coat| {
        let (offset, blur, spread, colour) = one(&coat.kind);
        let Offset::Cartesian(at) = offset else { panic!("axes") };
        let colour = match colour {
            ColourSource::Literal(colour) => format!("{:?}", colour.rgba()),
            shared => format!("{shared:?}"),
        };
        format!(
            "{} {} {} {} {} {colour}",
            coat.kind.name(),
            at.x.get() + 0.0,
            at.y.get() + 0.0,
            blur.get(),
            spread.get() + 0.0,
        )
    });
    each.collect()
}

/// Checks a token file against the published rules: Design Tokens Format Module 2025.10, §5.1 (names), §5.2 (a token has
/// a value), §5.2.2 (its type), §8.2 (dimension), §9.6 (shadow); Design Tokens Color Module 2025.10, §4.1 (colour).
fn valid(group: &Value, kind: &str) {
    let fields = group.as_object().unwrap();
    let kind = fields.get("$type").map_or(kind, |kind| kind.as_str().unwrap());
    for (name, value) in fields {
        if name.starts_with('$') {
            assert!(["$type", "$value", "$description", "$extensions"].contains(&name.as_str()), "{name}");
            continue;
        }
        assert!(!name.contains(['.', '{', '}']), "{name}");
        match value.get("$value") {
            Some(token) if kind == "color" => valid_colour(token),
            Some(token) if kind == "shadow" => token.as_array().unwrap().iter().for_each(valid_shadow),
            Some(token) if kind == "number" => assert!(token.is_number()),
            Some(_) => panic!("a token of the type \"{kind}\""),
            None => valid(value, kind),
        }
    }
}

fn valid_shadow(shadow: &Value) {
    for side in ["offsetX", "offsetY", "blur", "spread"] {
        assert!(shadow[side]["value"].is_number() && shadow[side]["unit"] == "px", "{side}: {shadow}");
    }
    assert!(shadow["inset"].is_boolean());
    if !shadow["color"].as_str().is_some_and(|alias| alias.starts_with('{') && alias.ends_with('}')) {
        valid_colour(&shadow["color"]);
    }
}

fn valid_colour(colour: &Value) {
    assert_eq!(colour["colorSpace"], "srgb");
    let components = colour["components"].as_array().unwrap();
    assert!(
        components.len() == 3 && components.iter().all(|part| (0.0..=1.0).contains(&part.as_f64().unwrap()))
    );
    assert!((0.0..=1.0).contains(&colour["alpha"].as_f64().unwrap()));
    let hex = colour["hex"].as_str().unwrap();
    assert!(hex.len() == 7 && hex.starts_with('#'), "{hex}");
}

#[test]
fn what_other_programs_keep_with_a_token_survives() {
    let project = demo();
    let mut file = tokens::write(&project, &project.themes[0].id, &Assets::default(), EXACT);
    file["finish"]["Lifted"]["$extensions"]["org.example"] = json!({"kept": [1, 2]});
    let (_, back) = tokens::read(&file.to_string()).unwrap();
    let again = tokens::write(&back.unwrap(), &project.themes[0].id, &Assets::default(), EXACT);
    assert_eq!(again["finish"]["Lifted"]["$extensions"]["org.example"], json!({"kept": [1, 2]}));
}

#[test]
fn a_value_changed_elsewhere_wins_over_what_was_kept() {
    let project = demo();
    let mut file = tokens::write(&project, &project.themes[0].id, &Assets::default(), EXACT);
    file["finish"]["Laid"]["$value"][1]["blur"]["value"] = json!(33);
    let (incoming, _) = tokens::read(&file.to_string()).unwrap();
    let laid = incoming.finishes.iter().find(|finish| finish.name == "Laid").unwrap();
    let CoatKind::Drop(drop) = &laid.coats[1].kind else { panic!("a drop shadow") };
    assert_eq!(drop.blur.get(), 33.0);
    // In the file of a theme with other coats, it is those that were changed.
    let mut file = tokens::write(&project, &project.themes[1].id, &Assets::default(), EXACT);
    file["finish"]["Laid"]["$value"][1]["blur"]["value"] = json!(44);
    let (incoming, _) = tokens::read(&file.to_string()).unwrap();
    let laid = incoming.finishes.iter().find(|finish| finish.name == "Laid").unwrap();
    assert_eq!(laid.coats, project.finishes[0].coats);
    let CoatKind::Drop(drop) = &laid.themes[&project.themes[1].id][1].kind else { panic!("a drop shadow") };
    assert_eq!(drop.blur.get(), 44.0);
}

/// A finish with other coats in the dark theme: its sheet, mixin and tokens say so, and its class stays one.
#[test]
fn a_theme_with_other_coats_changes_the_properties_of_the_class() {
    let project = demo();
    let finish = Some(project.finishes[0].id.clone());
    let wanted = SheetOptions { finish, style: Style::Flat, ..SheetOptions::default() };
    let css = sheet(&project, &Assets::default(), &wanted);
    let dark = css.split_once("--qa-box-shadow-dusk:").unwrap().1.split_once(';').unwrap().0;
    assert!(dark.contains("7px -1px rgb(0 0 0 / 50%)"), "{dark}");
    assert!(css.contains("@media (prefers-color-scheme: dark)"), "{css}");
    assert_eq!(css.matches(".qa-laid {").count(), 2, "{css}");
    assert!([":root", ":host {", "* {"].iter().all(|global| !css.contains(global)), "{css}");
    parses(&css);
    let scss = scss(&project, &Assets::default(), &wanted);
    assert!(scss.contains("7px -1px rgb(0 0 0 / 50%)"), "{scss}");
    let tokens = |theme: usize| {
        let file = tokens::write(&project, &project.themes[theme].id, &Assets::default(), EXACT);
        file["finish"]["Laid"]["$value"].as_array().unwrap().len()
    };
    assert_eq!((tokens(0), tokens(1)), (3, 2));
}

#[test]
fn aliases_references_and_older_forms_are_read() {
    let file = r##"{
        "brand": {"$type": "color", "ink": {"$value": "#102030"}, "deep": {"$value": "{brand.ink}"}},
        "size": {"$type": "dimension", "soft": {"$value": "1rem"}},
        "elevation": {"$type": "shadow", "low": {"$value": {"color": "{brand.deep}", "offsetX": "0", "offsetY": "2px", "blur": {"$ref": "#/size/soft/$value"}, "spread": "0px"}},
            "copy": {"$value": "{elevation.low}"}}}"##;
    let (incoming, project) = tokens::read(file).unwrap();
    assert!(project.is_none());
    let names: Vec<_> = incoming.finishes.iter().map(|finish| finish.name.as_str()).collect();
    assert_eq!(names, ["elevation/low", "elevation/copy"]);
    for finish in &incoming.finishes {
        let CoatKind::Drop(drop) = &finish.coats[0].kind else { panic!("a drop shadow") };
        assert_eq!(drop.blur.get(), 16.0);
        let ColourSource::Swatch(swatch) = &drop.colour else { panic!("an alias stays a shared colour") };
        assert_eq!(swatch.swatch.as_str(), "brand/deep");
    }
    assert!(
        incoming
            .diagnostics
            .iter()
            .any(|diagnostic| diagnostic.place == "/size/soft/$value" && diagnostic.message.contains("16 px"))
    );
    // One token that is not understood is left out, and said.
    for (broken, place) in [
        (
            r#"{"a": {"$type": "shadow", "b": {"$value": {"color": "{no.where}", "offsetX": "0", "offsetY": "0"}}}}"#,
            "/a/b/$value/color",
        ),
        (r#"{"a": 3, "b": {"$value": 1}}"#, "/a"),
    ] {
        let (read, _) = tokens::read(broken).unwrap();
        assert!(read.finishes.is_empty() && read.diagnostics[0].place.starts_with(place), "{read:?}");
    }
    assert!(tokens::read("{").unwrap_err().place.starts_with("1:"));
}

/// Aliases into other files, comments, groups that extend others, earlier spellings, and what a resolver puts together.
#[test]
fn token_files_are_one_set() {
    let file = |name, text| TokenFile { name, text };
    let aliased = [
        file(
            "shadow.json",
            r##"{"card": {"$type": "shadow", "$value": {"color": "{ink.soft}", "offsetX": "{size.s}", "offsetY": {"value": 0.25, "unit": "rem"}}}, // ours
            "lid": {"$extends": "{base}", "far": {"$type": "shadow", "$value": [{"color": "#123", "offsetX": "0", "offsetY": "1px", "blur": "2px", "inset": true}]},},}"##,
        ),
        file(
            "base.json",
            r##"{"ink": {"soft": {"$type": "color", "$value": "#00000033"}}, "size": {"s": {"$type": "dimension", "$value": {"value": 3, "unit": "px"}}},
            "base": {"near": {"$type": "shadow", "$value": "0 1px 2px rgb(0 0 0 / 0.3)"}}}"##,
        ),
        file(
            "old.json",
            r##"{"old": {"value": [{"x": "1", "y": "2", "blur": "3", "spread": "4", "color": "#abc", "type": "innerShadow"}], "type": "boxShadow"}}"##,
        ),
    ];
    let (read, _) = tokens::read_files(&aliased).unwrap();
    let found: Vec<_> =
        read.finishes.iter().map(|finish| (finish.name.as_str(), told(finish).join(", "))).collect();
    let names: Vec<_> = found.iter().map(|(name, _)| *name).collect();
    assert_eq!(names, ["card", "lid/near", "lid/far", "base/near", "old"], "{:?}", read.diagnostics);
    assert!(
        found[0].1.starts_with("drop 3 4 0 0 Swatch") && found[2].1.starts_with("inner 0 1 2 0"),
        "{found:?}"
    );
    assert!(found[1].1 == found[3].1 && found[4].1.starts_with("inner 1 2 3 4"), "{found:?}");
    // Once more into a project that has them brings nothing.
    let mut document = json!({"schema": 2, "name": "In", "themes": [{"id": "day", "name": "Day", "scheme": "light"}], "scenes": [], "scale": []});
    let empty = Project::from_value(&document).unwrap();
    read.clone().fitted_to(&empty).put_into(&mut document);
    let project = Project::from_value(&document).unwrap();
    let again = read.fitted_to(&project);
    assert_eq!((again.finishes.len(), again.swatches.len()), (0, 0));
    let resolver = [
        file(
            "all.resolver.json",
            r##"{"version": "2025.10", "resolutionOrder": [{"$ref": "#/sets/base"}], "sets": {"base": {"sources": [{"$ref": "one.json"}]}}}"##,
        ),
        file(
            "tokens/one.json",
            r##"{"a": {"$type": "shadow", "$value": {"color": "#000", "offsetX": "0", "offsetY": "1px"}}}"##,
        ),
    ];
    assert_eq!(tokens::read_files(&resolver).unwrap().0.finishes.len(), 1);
    let missing = tokens::read_files(&resolver[..1]).unwrap_err();
    assert!(missing.message.contains("the file one.json too"), "{missing}");
}

#[test]
fn fields_that_are_not_understood_stay_when_something_comes_in() {
    let mut document: Value = serde_json::from_str(DEMO).unwrap();
    document["later"] = json!({"a": 1});
    document["finishes"][0]["later"] = json!("kept");
    let before = document.clone();
    let project = Project::from_value(&document).unwrap();
    let incoming = css::import(".new { box-shadow: 0 1px 2px red }").fitted_to(&project);
    incoming.put_into(&mut document);
    let count = before["finishes"].as_array().unwrap().len();
    assert_eq!(document["finishes"].as_array().unwrap().len(), count + 1);
    document["finishes"].as_array_mut().unwrap().pop();
    assert_eq!(document, before);
    // The project itself brings nothing that is not there.
    assert_eq!(from_project(&project).fitted_to(&project).finishes, []);
}

#[test]
fn a_bundle_names_every_file_in_its_readme_and_is_the_same_each_time() {
    let project = demo();
    let document: Value = serde_json::from_str(DEMO).unwrap();
    let assets = Assets::carried_by(&project);
    let files = bundle(&project, &document, &assets, &SheetOptions::default());
    let readme = String::from_utf8(files[0].bytes.clone()).unwrap();
    for file in &files[1..] {
        assert!(readme.contains(&format!("`{}`", file.path)), "{} is not in the README", file.path);
        assert!(!file.bytes.is_empty(), "{} is empty", file.path);
    }
    let usual = SheetOptions::default();
    let mixins = scss(&project, &assets, &usual);
    assert!(mixins.contains("@mixin qa-lifted {") && mixins.contains("&:hover {"), "{mixins}");
    assert_eq!(sheet(&project, &assets, &usual), sheet(&project, &assets, &usual));
}

/// What is read from living CSS is what is read from flat CSS: the browser's arithmetic is done while it is read.
#[test]
fn living_css_comes_in_as_flat_css_does() {
    let project = demo();
    let read = |style: Style| {
        let wanted = SheetOptions { numbers: Numbers::Exact, style, scenes: true, ..SheetOptions::default() };
        css::import(&sheet(&project, &Assets::default(), &wanted))
    };
    let (living, flat) = (read(Style::Living), read(Style::Flat));
    let mut compared = 0;
    for finish in &living.finishes {
        let Some(other) = flat.finishes.iter().find(|other| other.name == finish.name) else { continue };
        // A finish in the colour of the piece is written with another piece's fill.
        if finish.coats.len() != other.coats.len()
            || ["qa-lifted", "qa-pressed"].contains(&finish.name.as_str())
        {
            continue;
        }
        for (one, other) in finish.coats.iter().zip(&other.coats) {
            let numbers = |coat: &Coat| match (&coat.kind, coat.kind.offset()) {
                (CoatKind::Drop(drop), Some(Offset::Cartesian(at))) => {
                    vec![at.x.get(), at.y.get(), drop.blur.get(), drop.spread.get()]
                }
                (CoatKind::Inner(inner), Some(Offset::Cartesian(at))) => {
                    vec![at.x.get(), at.y.get(), inner.blur.get(), inner.spread.get()]
                }
                _ => Vec::new(),
            };
            let near = numbers(one).iter().zip(&numbers(other)).all(|(a, b)| (a - b).abs() < 0.01);
            assert!(near, "{}: {one:?} and {other:?}", finish.name);
            compared += 1;
        }
    }
    assert!(compared > 20, "{compared}");
}

/// A sheet, living or flat, read into an empty project and written again says the same.
#[test]
fn a_sheet_out_and_in_and_out_is_the_same_sheet() {
    let mut project = demo();
    project.scenes.clear();
    let day = project.themes[0].clone();
    let wanted = |style| SheetOptions { style, theme: Some(day.id.clone()), ..SheetOptions::default() };
    let rules = |project: &Project| -> Vec<String> {
        let text = sheet(project, &Assets::default(), &wanted(Style::Flat));
        // A finish in the colour of its piece is read with the fill that a page has where it sets none.
        let kept =
            |rule: &&str| rule.contains('{') && !["lifted", "pressed"].iter().any(|name| rule.contains(name));
        let rules =
            text.split("\n\n").filter(kept).map(|rule| rule.rsplit("*/\n").next().unwrap().trim().to_owned());
        rules.collect()
    };
    for style in [Style::Living, Style::Flat] {
        let exact = SheetOptions { numbers: Numbers::Exact, ..wanted(style) };
        let read = css::import(&sheet(&project, &Assets::default(), &exact));
        // Their names have the prefix already.
        let mut document = json!({"schema": 3, "name": "Back", "themes": [&day], "scenes": [], "scale": []});
        read.put_into(&mut document);
        let back = Project::from_value(&document).unwrap();
        let (before, after) = (rules(&project), rules(&back));
        assert!(before.len() >= 5);
        assert_eq!(before, after, "{style:?}");
    }
}
