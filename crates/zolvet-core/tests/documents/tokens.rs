//! Token files in, in the spellings that files have besides the format's own (common practice, no published source).

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use zolvet_core::import::Incoming;
use zolvet_core::model::{Coat, CoatKind, ColourSource, Offset};
use zolvet_core::tokens::{TokenFile, read, read_files};

fn short(coat: &Coat) -> String {
    let (kind, offset, blur, spread, colour) = match &coat.kind {
        CoatKind::Drop(one) => ("drop", &one.offset, one.blur.get(), one.spread.get(), &one.colour),
        CoatKind::Inner(one) => ("inner", &one.offset, one.blur.get(), one.spread.get(), &one.colour),
        other => panic!("{}", other.name()),
    };
    let Offset::Cartesian(at) = offset else { panic!("axes") };
    let colour = match colour {
        ColourSource::Literal(colour) => {
            let colour = colour.rgba();
            format!("{:.0} {:.0} {:.0} {:.2}", colour.r * 255.0, colour.g * 255.0, colour.b * 255.0, colour.a)
        }
        other => format!("{other:?}"),
    };
    format!("{kind} {} {} {blur} {spread} ({colour})", at.x.get(), at.y.get())
}

/// Every finish with its stack at rest and in the themes.
fn all(incoming: &Incoming) -> Vec<String> {
    let stack = |coats: &[Coat]| coats.iter().map(short).collect::<Vec<_>>().join(", ");
    let each = incoming.finishes.iter().map(|finish| {
        let themes = finish.themes.iter().map(|(theme, coats)| format!("; {theme}: {}", stack(coats)));
        format!("{}: {}{}", finish.name, stack(&finish.coats), themes.collect::<String>())
    });
    each.collect()
}

#[test]
fn shadows_are_read_in_the_spellings_that_files_have() {
    let grey = "drop 0 2 4 0 (0 0 0 0.20)";
    for (text, expected) in [
        // An alpha or an opacity beside the colour, or around it.
        (
            r##"{"s": {"$type": "shadow", "$value": [{"color": "#000000", "alpha": 0.2, "offsetX": {"value": 0, "unit": "px"},
            "offsetY": {"value": 2, "unit": "px"}, "blur": {"value": 4, "unit": "px"}}]}}"##,
            vec![format!("s: {grey}")],
        ),
        (
            r##"{"s": {"$type": "shadow", "$value": {"color": {"color": "#000", "alpha": 0.2}, "offsetX": "0px", "offsetY": "2px",
            "blur": "4px"}}}"##,
            vec![format!("s: {grey}")],
        ),
        (
            r##"{"s": {"x": 0, "y": 2, "blur": 4, "color": "#000", "opacity": "20%"}}"##,
            vec![format!("s: {grey}")],
        ),
        // Types of their own, and none.
        (
            r##"{"s": {"value": {"x": "0", "y": "2", "blur": "4", "spread": "0", "color": "rgba(0,0,0,.2)", "type": "dropShadow"},
            "type": "boxShadow"}}"##,
            vec![format!("s: {grey}")],
        ),
        (
            r#"{"s": {"value": "0 2px 4px rgba(0, 0, 0, 0.2);", "type": "text", "category": "box-shadow"}}"#,
            vec![format!("s: {grey}")],
        ),
        (r#"{"s": {"$value": "0 2px 4px rgba(0, 0, 0, 0.2)"}}"#, vec![format!("s: {grey}")]),
        (
            r##"{"s": {"attributes": {"group": "shadow"}, "value": [{"radius": 4, "offset": {"x": 0, "y": 2}, "color": "#000", "opacity": 0.2}]}}"##,
            vec![format!("s: {grey}")],
        ),
        (
            r##"[{"name": "s", "$value": "0 2px 4px #0003", "original": {"$value": "{t}"}}]"##,
            vec![format!("s: {grey}")],
        ),
        (
            r##"{"s": {"value": "0 2px 4px #0003", "original": {"$value": "{t}"}, "filePath": "s.json"}}"##,
            vec![format!("s: {grey}")],
        ),
    ] {
        assert_eq!(all(&read(text).unwrap().0), expected, "{text}");
    }
}

#[test]
fn shadows_are_read_from_names_and_values_alone() {
    let grey = "drop 0 2 4 0 (0 0 0 0.20)";
    for (text, expected) in [
        // Names and values and nothing else, in groups and lists.
        (
            r#"{"box-shadow-s": "0 2px 4px rgb(0 0 0 / .2)", "size": "4px", "font": "12px Inter"}"#,
            vec![format!("box-shadow-s: {grey}")],
        ),
        (r#"{"shadows": ["none", "0 2px 4px rgb(0 0 0 / .2)"]}"#, vec![format!("shadows/1: {grey}")]),
        (r#"[{"name": "s", "value": "0 2px 4px rgb(0 0 0 / .2)"}]"#, vec![format!("s: {grey}")]),
        (
            r#"{"props": {"s": {"value": "0 2px 4px rgb(0 0 0 / .2)", "originalValue": "x", "name": "s"}}}"#,
            vec![format!("props/s: {grey}")],
        ),
        (
            r##"{"elevation": {"s": [{"x": 0, "y": 2, "blur": 4, "color": "#0003"}, {"x": 0, "y": 1, "blur": 0, "color": "#0003", "inset": true}]}}"##,
            vec![format!("elevation/s: {grey}, inner 0 1 0 0 (0 0 0 0.20)")],
        ),
        // Aliases with `value` at their end, and within text.
        (
            r##"{"c": {"value": "#000"}, "s": {"value": {"x": 0, "y": 2, "blur": 4, "color": "{c.value}", "opacity": 0.2}, "type": "shadow"}}"##,
            vec![format!("s: {grey}")],
        ),
        (
            r#"{"b": {"value": "4px"}, "s": {"value": "0 2px {b} rgb(0 0 0 / .2)", "type": "shadow"}}"#,
            vec![format!("s: {grey}")],
        ),
        // Each part a token of its own.
        (
            r##"{"s": {"x": {"value": "0px"}, "y": {"value": "2px"}, "blur": {"value": "4px"}, "color": {"value": "#0003"}}}"##,
            vec![format!("s: {grey}")],
        ),
        (
            r##"{"drop-shadow-x": {"value": "0px"}, "drop-shadow-y": {"value": "2px"}, "drop-shadow-blur": {"value": "4px"},
            "drop-shadow-color": {"value": "#0003"}}"##,
            vec![format!("drop-shadow: {grey}")],
        ),
    ] {
        assert_eq!(all(&read(text).unwrap().0), expected, "{text}");
    }
}

#[test]
fn modes_become_themes() {
    let both = "s: drop 0 2 4 0 (0 0 0 0.20); dark: drop 0 2 4 0 (0 0 0 0.60)";
    for text in [
        r#"{"s": {"$value": {"light": "0 2px 4px rgb(0 0 0 / .2)", "dark": "0 2px 4px rgb(0 0 0 / .6)"}}}"#,
        r#"{"s": {"light": "0 2px 4px rgb(0 0 0 / .2)", "dark": "0 2px 4px rgb(0 0 0 / .6)"}}"#,
        r##"{"s": {"x": 0, "y": 2, "blur": 4, "color": {"light": "#0003", "dark": "#0009"}}}"##,
        r##"{"s": {"sets": {"light": {"value": "0 2px 4px #0003"}, "dark": {"value": "0 2px 4px #0009"}}}}"##,
        r##"{"light": {"s": {"value": "0 2px 4px #0003"}}, "dark": {"s": {"value": "0 2px 4px #0009"}}}"##,
        r##"{"s": {"$type": "shadow", "$value": "0 2px 4px #0003",
            "$extensions": {"mode": {"dark": {"$value": "0 2px 4px #0009"}}}}}"##,
        r##"{"version": "2025.10", "resolutionOrder": [{"$ref": "#/modifiers/theme"}], "modifiers": {"theme": {"contexts": {
            "light": [{"s": {"$type": "shadow", "$value": "0 2px 4px #0003"}}],
            "dark": [{"s": {"$type": "shadow", "$value": "0 2px 4px #0009"}}]}}}}"##,
    ] {
        let read = read(text).unwrap().0;
        assert_eq!(all(&read), [both], "{text}");
        assert_eq!(read.themes.len(), 2, "{text}");
    }
    let file = |name, alpha| {
        (name, format!(r##"{{"s": {{"$type": "shadow", "$value": "0 2px 4px #000{alpha}"}}}}"##))
    };
    let files = [file("tokens/light.json", 3), file("tokens/dark.json", 9)];
    let files = files.each_ref().map(|(name, text)| TokenFile { name, text });
    assert_eq!(all(&read_files(&files).unwrap().0), [both]);
}

/// A colour that is not the same in all modes is one swatch with a value for each.
#[test]
fn colours_by_mode_are_swatches_with_two_values() {
    let text = r##"{"c": {"$type": "color", "$value": {"light": "#000", "dark": "#fff"}}}"##;
    let read = read(text).unwrap().0;
    let values: Vec<_> =
        read.swatches[0].values.iter().map(|(theme, value)| format!("{theme} {}", value.text())).collect();
    assert_eq!((read.swatches.len(), values), (1, vec!["dark #fff".to_owned(), "light #000".to_owned()]));
}

/// Aliases in a text do not multiply it, and parts side by side are found however many there are.
#[test]
fn texts_and_parts_are_bounded() {
    let long = "0 1px 1px red,".repeat(900);
    let text = format!(
        r#"{{"a": {{"value": "{long}"}}, "s": {{"type": "shadow", "value": "{}"}}}}"#,
        "{a} ".repeat(2000)
    );
    let read = read(&text).unwrap().0;
    let said = read.diagnostics.iter().find(|one| one.place == "/s/$value").unwrap();
    assert!(said.message.contains("at most 100000 letters"), "{said:?}");
    let parts: String = (0..20_000).map(|at| format!(r#""shadow-n{at}-y": {{"value": "1px"}}, "#)).collect();
    let many =
        format!(r##"{{{parts} "shadow-q-y": {{"value": "1px"}}, "shadow-q-color": {{"value": "#000"}}}}"##);
    let (read, _) = zolvet_core::tokens::read(&many).unwrap();
    assert_eq!(all(&read), ["shadow-q: drop 0 1 0 0 (0 0 0 1.00)"]);
}

/// What cannot be read is said with its place.
#[test]
fn what_is_not_a_shadow_is_said() {
    for (text, place, message) in [
        (
            r#"{"shadow": {"s": "var(--shadow-s)"}}"#,
            "/shadow/s/$value",
            "found the custom property --shadow-s",
        ),
        (r##"{"s": {"$type": "shadow", "$value": "0 2px {b} #000"}}"##, "/s/$value", "found {b}"),
        (
            r##"{"s": {"$type": "shadow", "$value": {"color": "{s}", "offsetX": "0px", "offsetY": "0px"}}}"##,
            "/s",
            "",
        ),
    ] {
        let read = read(text).unwrap().0;
        let one = read.diagnostics.first().unwrap_or_else(|| panic!("{text}"));
        assert!(one.place.starts_with(place) && one.message.contains(message), "{text}: {one:?}");
    }
}

/// Groups that extend others (Format Module 2025.10, §6.4): through several, what a group says itself wins, and neither a
/// circle nor groups that copy one another without end are followed.
#[test]
fn groups_extend_others_through_any_number_and_never_themselves() {
    let shadow = |y: u32| {
        format!(
            r##"{{"$type": "shadow", "$value": {{"color": "#000", "offsetX": "0px", "offsetY": "{y}px", "blur": "0px"}}}}"##
        )
    };
    let text = format!(
        r##"{{"base": {{"near": {}, "far": {}}}, "card": {{"$extends": "{{base}}", "far": {}}},
            "lid": {{"$extends": "#/card"}}, "cup": {{"$extends": {{"$ref": "#/lid"}}, "near": {}}},
            "none": {{"$extends": "{{nobody}}"}}}}"##,
        shadow(1),
        shadow(9),
        shadow(5),
        shadow(3)
    );
    let (read_in, _) = read(&text).unwrap();
    let of = |y: u32| format!("drop 0 {y} 0 0 (0 0 0 1.00)");
    let expected: Vec<String> = [
        ("base/near", 1),
        ("base/far", 9),
        ("card/near", 1),
        ("card/far", 5),
        ("lid/near", 1),
        ("lid/far", 5),
        ("cup/near", 3),
        ("cup/far", 5),
    ]
    .map(|(name, y)| format!("{name}: {}", of(y)))
    .to_vec();
    assert_eq!(all(&read_in), expected, "{:?}", read_in.diagnostics);
    for (text, place, expected) in [
        (r##"{"a": {"b": {"$extends": "{a}"}}}"##, "/a/b", "does not extend itself or one around it"),
        (r##"{"a": {"$extends": "{a}"}}"##, "/a", "does not extend itself or one around it"),
        (
            r##"{"a": {"$extends": "{b}"}, "b": {"$extends": "{a}"}}"##,
            "/a",
            "does not extend itself or one around it",
        ),
    ] {
        let error = read(text).unwrap_err();
        assert_eq!(error.place, place, "{text}: {error:?}");
        assert!(error.message.contains(expected), "{text}: {}", error.message);
    }
    let holds = |other: &str| -> String {
        let members: Vec<_> =
            (0..40).map(|i| format!(r##""h{i}": {{"$extends": "{{{other}}}"}}"##)).collect();
        members.join(",")
    };
    let error = read(&format!(r##"{{"a": {{{}}}, "b": {{{}}}}}"##, holds("b"), holds("a"))).unwrap_err();
    assert!(error.message.contains("at most"), "{}", error.message);
}

/// A file without tokens says so; one with colours alone, or with something that is not understood, has said enough.
#[test]
fn a_file_without_tokens_says_so() {
    let said = |text: &str| -> Vec<String> {
        read(text).unwrap().0.diagnostics.into_iter().map(|one| one.message).collect()
    };
    assert_eq!(said("{}"), ["no token is in this file"]);
    assert_eq!(said(r##"{"group": {"$description": "empty"}}"##), ["no token is in this file"]);
    assert_eq!(said(r##"{"ink": {"$type": "color", "$value": "#123456"}}"##), <[String; 0]>::default());
    let wrong = said(r##"{"s": {"$type": "shadow", "$value": 4}}"##);
    assert!(wrong.len() == 1 && wrong[0] != "no token is in this file", "{wrong:?}");
}

#[test]
fn so_many_groups_extend_others_and_not_one_more() {
    let file = |count: usize| {
        let groups: String =
            (0..count).map(|i| format!(r##", "g{i}": {{"$extends": "{{base}}"}}"##)).collect();
        format!(r##"{{"base": {{"ink": {{"$type": "color", "$value": "#123456"}}}}{groups}}}"##)
    };
    assert_eq!(read(&file(2_000)).unwrap().0.swatches.len(), 2_001);
    let error = read(&file(2_001)).unwrap_err();
    assert_eq!(error.message, "expected at most 2000 groups that extend others");
}
