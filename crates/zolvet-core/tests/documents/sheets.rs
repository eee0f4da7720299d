//! Style sheets in, as the cascade has them. What Chromium computes from whole sheets is compared in `zolvet-e2e`.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use serde_json::json;
use zolvet_core::css::{Settings, StyleFile, import, import_files};
use zolvet_core::import::{DiagnosticKind, Incoming};
use zolvet_core::model::{Coat, CoatKind, ColourSource, Finish, Offset, Project, State};

/// A coat in short: kind, x, y, blur, spread, colour.
fn short(coat: &Coat) -> String {
    let shadow = |kind: &str, offset: &Offset, blur: f64, spread: f64, colour: &ColourSource| {
        let Offset::Cartesian(at) = offset else { panic!("axes") };
        let colour = match colour {
            ColourSource::Literal(colour) => colour.text().to_owned(),
            ColourSource::Swatch(colour) => colour.swatch.to_string(),
            ColourSource::From(_) => "taken".to_owned(),
        };
        format!("{kind} {} {} {blur} {spread} {colour}", at.x.get(), at.y.get())
    };
    match &coat.kind {
        CoatKind::Drop(drop) => {
            shadow("drop", &drop.offset, drop.blur.get(), drop.spread.get(), &drop.colour)
        }
        CoatKind::Inner(inner) => {
            shadow("inner", &inner.offset, inner.blur.get(), inner.spread.get(), &inner.colour)
        }
        CoatKind::Blur(blur) => format!("blur {}", blur.sigma.get()),
        CoatKind::Backdrop(backdrop) => format!("backdrop {}", backdrop.sigma.get()),
        other => other.name().to_owned(),
    }
}

fn stack(coats: &[Coat]) -> String {
    coats.iter().map(short).collect::<Vec<_>>().join(", ")
}

fn finish<'i>(incoming: &'i Incoming, name: &str) -> &'i Finish {
    let found = incoming.finishes.iter().find(|finish| finish.name == name);
    found.unwrap_or_else(|| panic!("{name} in {:?}", names(incoming)))
}

fn names(incoming: &Incoming) -> Vec<&str> {
    incoming.finishes.iter().map(|finish| finish.name.as_str()).collect()
}

/// What `.a` is at rest.
fn a(css: &str) -> String {
    let read = import(css);
    read.finishes
        .iter()
        .find(|finish| finish.name == "a")
        .map_or_else(String::new, |finish| stack(&finish.coats))
}

#[test]
fn the_cascade_decides() {
    for (css, expected) in [
        // CSS Cascade 5, section 6: order, specificity, importance, layers.
        (".a { box-shadow: 0 1px red } .a { box-shadow: 0 2px red }", "drop 0 2 0 0 red"),
        (".a { box-shadow: 0 1px red } .a { box-shadow: none }", ""),
        (".a { box-shadow: 0 1px red; box-shadow: 0 2px red }", "drop 0 2 0 0 red"),
        (".b.a { box-shadow: 0 1px red } .a { box-shadow: 0 2px red }", "drop 0 2 0 0 red"),
        (".a { box-shadow: 0 1px red !important } .a { box-shadow: 0 2px red }", "drop 0 1 0 0 red"),
        (
            "@layer x, y; @layer y { .a { box-shadow: 0 1px red } } @layer x { .a { box-shadow: 0 2px red } }",
            "drop 0 1 0 0 red",
        ),
        (".a { box-shadow: 0 1px red } @layer x { .a { box-shadow: 0 2px red } }", "drop 0 1 0 0 red"),
        (
            "@layer x { .a { box-shadow: 0 1px red !important } } .a { box-shadow: 0 2px red !important }",
            "drop 0 1 0 0 red",
        ),
        // The Compatibility Standard, section 3.3: the prefixed name is an alias.
        (".a { -webkit-box-shadow: 0 1px red; box-shadow: 0 2px red }", "drop 0 2 0 0 red"),
        // CSS Syntax 3, section 2.2: what is not understood is passed over.
        (".a { box-shadow: 0 1px red; box-shadow: 0 -1px -2px red }", "drop 0 1 0 0 red"),
        (".a { filter: blur(1px); filter: alpha(opacity=50) }", "blur 1"),
        ("@media print { .a { box-shadow: 0 9px red } } .a { box-shadow: 0 1px red }", "drop 0 1 0 0 red"),
        (
            "@supports not (display: grid) { .a { box-shadow: 0 9px red } } .a { box-shadow: 0 1px red }",
            "drop 0 1 0 0 red",
        ),
        (
            ".a { box-shadow: 0 1px red } @media (min-width: 60em) { .a { box-shadow: 0 2px red } }",
            "drop 0 2 0 0 red",
        ),
        // CSS Color 4, section 6.1: both spellings are names.
        (".a { box-shadow: 0 1px grey }", "drop 0 1 0 0 grey"),
        // CSS Fonts 4, section 2.5: percentages of the size around it, also within calculations.
        (
            ":root { --of: 20; font-size: calc(var(--of) / 16 * 100%) } .a { box-shadow: 0 .1rem red }",
            "drop 0 2 0 0 red",
        ),
        // CSS Nesting 1.
        (".a { box-shadow: 0 1px red; & { box-shadow: 0 2px red } }", "drop 0 2 0 0 red"),
        ("\u{feff}@charset \"utf-8\"; .a { box-shadow: 0 1px red }", "drop 0 1 0 0 red"),
    ] {
        let found = a(css);
        assert_eq!(found.split(", ").next().unwrap_or("").to_owned(), expected, "{css}");
    }
    // CSS Nesting 1, section 3: outside of rules `&` is the root.
    let of_root = import("& .a { box-shadow: 0 1px red }");
    assert_eq!(stack(&finish(&of_root, "root a").coats), "drop 0 1 0 0 red");
}

#[test]
fn variables_belong_to_their_elements() {
    for (css, expected) in [
        (":root { --s: 0 1px red } :root { --s: 0 2px red } .a { box-shadow: var(--s) }", "drop 0 2 0 0 red"),
        (".b { --s: 0 1px red } .a { box-shadow: var(--s, 0 2px red) }", "drop 0 2 0 0 red"),
        // CSS Custom Properties 1, sections 2 and 3: cycles, empty values, and what comes of values that are none.
        (":root { --s: var(--t); --t: var(--s) } .a { box-shadow: var(--s, 0 2px red) }", "drop 0 2 0 0 red"),
        (".a { --s: initial; box-shadow: var(--s, 0 3px red) }", "drop 0 3 0 0 red"),
        (".a { --i: ; box-shadow: var(--i) 0 3px red }", "drop 0 3 0 0 red"),
        (".a { box-shadow: 0 1px red; box-shadow: var(--nothing) }", ""),
        (".a { --s: 1px; box-shadow: 0 1px red; box-shadow: var(--s) }", ""),
        // CSS Properties and Values API 1, section 2.
        (
            "@property --y { syntax: '<length>'; inherits: false; initial-value: 4px } .a { box-shadow: 0 var(--y) red }",
            "drop 0 4 0 0 red",
        ),
        // Font sizes, and colours of the text.
        (
            "html { font-size: 10px } .a { font-size: 2em; box-shadow: 1em 1rem 0 .5em }",
            "drop 20 10 0 10 #000000",
        ),
        (".a { color: #123456; box-shadow: 0 1px currentColor }", "drop 0 1 0 0 #123456"),
        (".a { color: #123456; box-shadow: 0 1px }", "drop 0 1 0 0 #123456"),
    ] {
        assert_eq!(a(css), expected, "{css}");
    }
}

#[test]
fn states_themes_and_letters_are_told_apart() {
    let css = ":root { --near: 0 1px 2px rgb(0 0 0 / .3) }\n\
        .dark { --near: 0 1px 2px rgb(0 0 0 / .9) }\n\
        @media (prefers-color-scheme: dark) { :root { --near: 0 1px 2px rgb(0 0 0 / .9) } }\n\
        .card { color: red; box-shadow: var(--near); text-shadow: 0 1px blue; transition: color 1s, box-shadow .2s ease-in }\n\
        .card:hover, .tile:focus-visible { box-shadow: 0 2px 4px black }\n\
        button:active { box-shadow: inset 0 1px black }\n\
        a.box { -webkit-filter: drop-shadow(1px 2px 3px red) hue-rotate(9deg) }\n\
        .menu:hover > .item { box-shadow: 0 0 1px 1px var(--near-colour, red) }\n\
        .card::before { backdrop-filter: blur(8px) saturate(1.4) }\n\
        @keyframes lift { 50% { box-shadow: 0 0 1px red } }";
    let read = import(css);
    let near = finish(&read, "near");
    assert_eq!(read.uses[&near.id], 1);
    let card = finish(&read, "card");
    assert_eq!(stack(&card.coats), "drop 0 1 2 0 rgb(0 0 0 / 0.3)");
    assert_eq!(stack(card.themes.values().next().unwrap()), "drop 0 1 2 0 rgb(0 0 0 / 0.9)");
    assert_eq!(stack(&card.states[&State::Hover]), "drop 0 2 4 0 black");
    assert_eq!(
        card.transition.as_ref().map(|moves| (moves.duration, moves.curve.as_str())),
        Some((200, "ease-in"))
    );
    assert_eq!(stack(&finish(&read, "card text").coats), "drop 0 1 0 0 blue");
    assert_eq!(stack(&finish(&read, "tile").states[&State::Focus]), "drop 0 2 4 0 black");
    assert_eq!(stack(&finish(&read, "button").states[&State::Pressed]), "inner 0 1 0 0 black");
    // drop-shadow() takes σ itself (Filter Effects 1): 3px are a blur radius of 6.
    assert_eq!(stack(&finish(&read, "a.box").coats), "drop 1 2 6 0 red");
    assert_eq!(stack(&finish(&read, "menu > item").states[&State::Hover]), "drop 0 0 1 1 red");
    assert_eq!(stack(&finish(&read, "card before").coats), "backdrop 8");
    let said: Vec<_> = read.diagnostics.iter().map(|one| (one.kind, one.message.as_str())).collect();
    assert_eq!(
        said,
        [
            (DiagnosticKind::Dropped, "@keyframes lift moves shadows or filters: a finish does not move"),
            (DiagnosticKind::Approximated, "filter: hue-rotate() is not depth: left out"),
        ]
    );
}

/// What is not understood is said once a construct, with how often and where first.
#[test]
fn remarks_are_made_once_a_construct() {
    let rules = (0..300).map(|i| {
        format!(".x{i} {{ box-shadow: 0 0 1lh red }}\n.y{i}::-moz-thumb {{ box-shadow: 0 0 1px red }}\n")
    });
    let read = import(&rules.collect::<String>());
    assert!(read.finishes.is_empty());
    let said: Vec<_> =
        read.diagnostics.iter().map(|one| (one.message.as_str(), one.count, one.places.len())).collect();
    assert_eq!(
        said,
        [
            ("selectors of other browsers: :-moz-, :-ms- and :-o-", 300, 3),
            ("the unit lh is not followed", 300, 3)
        ]
    );
}

/// Colours of a state that differ by theme become swatches; everything else is held by the finish itself.
#[test]
fn a_state_in_another_theme_has_its_colours() {
    let css = ":root { --ring: #0a0 } [data-theme=dark] { --ring: #0f0 }\n\
        .a { box-shadow: 0 1px black } .a:focus-visible { box-shadow: 0 0 0 3px var(--ring) }";
    let read = import(css);
    let held = finish(&read, "a");
    assert_eq!(stack(&held.states[&State::Focus]), "drop 0 0 0 3 swatch-css-1");
    let values: Vec<_> = read.swatches[0].values.values().map(|colour| colour.text().to_owned()).collect();
    assert_eq!(values, ["#0f0", "#0a0"]);
    // Into a project without a dark theme: it is added, and other swatches have a value in it.
    let mut document = json!({"schema": 2, "name": "Back", "themes": [{"id": "day", "name": "Day", "scheme": "light"}],
        "swatches": [{"id": "ink", "name": "Ink", "values": {"day": "#123"}}], "scenes": [], "scale": []});
    let project = Project::from_value(&document).unwrap();
    read.clone().fitted_to(&project).put_into(&mut document);
    let project = Project::from_value(&document).unwrap();
    assert_eq!(project.themes.len(), 2);
    // The same once more brings nothing.
    let again = read.fitted_to(&project);
    assert_eq!((again.finishes.len(), again.swatches.len(), again.themes.len()), (0, 0, 0));
}

#[test]
fn several_files_are_one_sheet() {
    let files = [
        StyleFile { name: "use.css", css: "@import \"set.css\"; .a { box-shadow: var(--s) }" },
        StyleFile { name: "set.css", css: ":root { --s: 0 var(--y) red } .a { box-shadow: none }" },
    ];
    let settings = Settings { root_font_size: None, set: [("--y".to_owned(), "3px".to_owned())].into() };
    assert_eq!(stack(&finish(&import_files(&files, &settings), "a").coats), "drop 0 3 0 0 red");
    let read = import_files(&files, &Settings::default());
    assert_eq!(read.asked.keys().collect::<Vec<_>>(), ["--y"]);
    assert_eq!(read.diagnostics[0].message, "--y is set nowhere: give it a value");
    assert_eq!(read.diagnostics[0].place, "use.css:1:25");
}

/// One finish for each look, with the rules of all that have it.
#[test]
fn looks_are_counted() {
    let read =
        import(".a, .b { box-shadow: 0 1px red } .c { box-shadow: 0 1px red } .d { box-shadow: 0 2px red }")
            .by_look();
    assert_eq!(names(&read), ["a", "d"]);
    assert_eq!(read.uses[&finish(&read, "a").id], 3);
}

/// A finish has no state for two at once, nor for the focus that a click leaves: they are held where they say nothing else, or
/// where nothing says what the stronger state is by itself.
#[test]
fn between_two_states() {
    let told = |css: &str| {
        let read = import(css);
        let said: Vec<String> = read.diagnostics.iter().map(|one| one.message.clone()).collect();
        (finish(&read, "a").clone(), said.iter().any(|text| text.contains("two states at once")))
    };
    let (finish, said) = told(".a { box-shadow: 0 1px red } .a:active:focus { box-shadow: 0 2px red }");
    assert_eq!((stack(&finish.states[&State::Pressed]), said), ("drop 0 2 0 0 red".to_owned(), false));
    let plain = ".a { box-shadow: 0 1px red } .a:disabled { box-shadow: none }";
    let (finish, said) = told(&format!("{plain} .a:disabled:hover {{ box-shadow: none }}"));
    assert_eq!((stack(&finish.states[&State::Disabled]), said), (String::new(), false));
    let (_, said) = told(&format!("{plain} .a:disabled:hover {{ box-shadow: 0 3px red }}"));
    assert!(said);
    // A colour spelled otherwise is no other look.
    let (finish, _) = told(".a { box-shadow: 0 1px #f00 } .a:hover { box-shadow: 0 1px red }");
    assert!(finish.states.is_empty());
    // What a state is in another theme only, and cannot be held, leaves no state that is as at rest.
    let dark = "[data-theme=dark] .a:hover { box-shadow: 0 9px 9px red }";
    let (finish, _) =
        told(&format!(".a {{ box-shadow: 0 1px red }} .a:hover {{ box-shadow: 0 1px red }} {dark}"));
    assert!(finish.states.is_empty());
    let ring = ".a:focus { box-shadow: 0 0 0 2px red }";
    let (finish, said) = told(&format!("{ring} .a:focus:not(:focus-visible) {{ box-shadow: none }}"));
    assert_eq!((stack(&finish.states[&State::Focus]), said), ("drop 0 0 0 2 red".to_owned(), false));
    let (_, said) = told(&format!("{ring} .a:focus:not(:focus-visible) {{ box-shadow: 0 1px red }}"));
    assert!(said);
}

/// Every finish with its stack at rest and in the themes.
fn all(incoming: &Incoming) -> Vec<String> {
    let told = |finish: &Finish| {
        let themes = finish.themes.iter().map(|(theme, coats)| format!("; {theme}: {}", stack(coats)));
        format!("{}: {}{}", finish.name, stack(&finish.coats), themes.collect::<String>())
    };
    incoming.finishes.iter().map(told).collect()
}

fn remarks(incoming: &Incoming) -> Vec<&str> {
    incoming.diagnostics.iter().map(|one| one.message.as_str()).collect()
}

/// What changes only a custom property, a colour or a size makes a finish of its own.
#[test]
fn variants_are_finishes_of_their_own() {
    for (css, expected) in [
        (
            ".a { --s: 0 1px red; box-shadow: var(--s) } .a.x { --s: 0 2px blue }",
            vec!["a: drop 0 1 0 0 red", "a.x: drop 0 2 0 0 blue"],
        ),
        (
            ".a { --s: 0 1px red; box-shadow: var(--s) } .a-x { --s: 0 2px blue } .b { --s: 0 9px red }",
            vec!["a: drop 0 1 0 0 red", "a.a-x: drop 0 2 0 0 blue"],
        ),
        (
            ".a { box-shadow: 2px 2px; color: #010101 } .a.red { color: red } .red { color: red }",
            vec!["a: drop 2 2 0 0 #010101", "a.red: drop 2 2 0 0 #ff0000"],
        ),
        (
            ".a { box-shadow: 0 .5em red; font-size: 20px } .a.l { font-size: 40px }",
            vec!["a: drop 0 10 0 0 red", "a.l: drop 0 20 0 0 red"],
        ),
        // What changes nothing is no variant.
        (".a { box-shadow: 2px 2px red } .a.b { color: blue }", vec!["a: drop 2 2 0 0 red"]),
        (
            ".a { --s: 0 1px red; box-shadow: var(--s) } .a:hover { --s: 0 2px red } .p .a.x { --s: 0 3px red }",
            vec!["a: drop 0 1 0 0 red", "p a.x: drop 0 3 0 0 red"],
        ),
    ] {
        assert_eq!(all(&import(css)), expected, "{css}");
    }
    let unpaired = import(".a { --s: 0 1px red; box-shadow: var(--s) } .b { --s: 0 9px red }");
    assert_eq!(remarks(&unpaired), ["--s is set by other classes too: an element that has both is not read"]);
}

/// One of many siblings is neither the first nor the last; what is, is told.
#[test]
fn places_among_siblings_do_not_decide_for_all() {
    let read = import(".a { box-shadow: 0 1px red } .a:first-child { box-shadow: none }");
    assert_eq!(all(&read), ["a: drop 0 1 0 0 red"]);
    assert_eq!(remarks(&read), ["takes away what others of its kind have: such an element has no finish"]);
    let read = import(".a { box-shadow: 0 1px red } .a:not(:last-child) { box-shadow: 0 2px red }");
    assert_eq!(all(&read), ["a: drop 0 1 0 0 red", "a: drop 0 2 0 0 red"]);
}

/// Dark themes in the ways of libraries: a class of the root or the body, whatever it is called, and whatever does nothing but
/// give custom properties of the root other values.
#[test]
fn themes_are_told_by_what_they_do() {
    let plain = ":root { --s: 0 1px red } .a { box-shadow: var(--s) }";
    for dark in [
        ".x-theme-dark { --s: 0 2px red }",
        ".v-theme--dark { --s: 0 2px red }",
        "body.body--dark { --s: 0 2px red }",
        ":where(.x-dark) { --s: 0 2px red }",
        "[data-x=dark] { --s: 0 2px red }",
        "[dark] { --s: 0 2px red }",
        "body.body--dark .a { box-shadow: 0 2px red }",
        ".v-theme--dark .a { box-shadow: 0 2px red }",
    ] {
        let read = import(&format!("{plain} {dark}"));
        let a = all(&read).into_iter().find(|one| one.starts_with("a:"));
        assert_eq!(a.as_deref(), Some("a: drop 0 1 0 0 red; dark: drop 0 2 0 0 red"), "{dark}");
    }
    let other = import(&format!("{plain} .ocean {{ --s: 0 3px red }}"));
    assert!(
        all(&other).contains(&"a: drop 0 1 0 0 red; ocean: drop 0 3 0 0 red".to_owned()),
        "{:?}",
        all(&other)
    );
    // A kind of button is no theme.
    let kind = import(".btn { --b: 0 1px red; box-shadow: var(--b) } .btn-dark { --b: 0 2px red }");
    assert_eq!(all(&kind), ["btn: drop 0 1 0 0 red", "btn.btn-dark: drop 0 2 0 0 red"]);
}

#[test]
fn light_and_dark_files_are_themes() {
    let light = StyleFile { name: "light.css", css: ".a { box-shadow: 0 1px red }" };
    let dark = StyleFile { name: "dark.css", css: ".a { box-shadow: 0 2px red }" };
    for files in [[light, dark], [dark, light]] {
        let read = import_files(&files, &Settings::default());
        assert_eq!(all(&read), ["a: drop 0 1 0 0 red; dark: drop 0 2 0 0 red"]);
        assert!(remarks(&read).contains(&"a file for one scheme, by its name: read as a theme"));
    }
    assert_eq!(all(&import_files(&[dark], &Settings::default())), ["a: drop 0 2 0 0 red"]);
}

/// CSS Custom Properties 1, section 3: what is put in the place of `var()` are tokens, which do not become others.
#[test]
fn tokens_do_not_grow_together() {
    let both = ":root { --a: 1; --b: 2px } .a { box-shadow: 0 3px red }";
    for (value, expected) in [
        ("var(--a)var(--b) red", ""),
        ("var(--b)var(--b) red", "drop 2 2 0 0 red"),
        ("var(--a)px var(--b) red", ""),
        ("0 var(--b)red", "drop 0 2 0 0 red"),
    ] {
        assert_eq!(a(&format!("{both} .a {{ box-shadow: {value} }}")), expected, "{value}");
    }
}

/// Old tricks against one browser, which others drop, do not win; what browsers know is not said to be passed over.
#[test]
fn what_browsers_drop_does_not_win() {
    for hack in ["0 9px #0003\\9", "0 9px red\\9", "0 9px\\0 red", "0 9px red\\0/"] {
        assert_eq!(
            a(&format!(".a {{ box-shadow: 0 1px red; box-shadow: {hack} }}")),
            "drop 0 1 0 0 red",
            "{hack}"
        );
    }
    assert!(a(".a { box-shadow: 0 1px AccentColor }").starts_with("drop 0 1"));
    let own = import("@function --up(--h) { result: 0 var(--h) red } .a { box-shadow: --up(2px) }");
    assert_eq!(remarks(&own), ["--up(), which @function defines, is not followed"]);
}

/// Browsers show no elements in an input or a picture, only beside them.
#[test]
fn elements_in_those_that_hold_none_are_said() {
    let read =
        import("input.a > .in, img .b .in, input.a + .by, label input ~ .by { box-shadow: 0 1px red }");
    assert_eq!(remarks(&read), ["elements in an input, a picture or another element that holds none"]);
    assert_eq!(
        read.finishes.iter().map(|finish| finish.name.as_str()).collect::<Vec<_>>(),
        ["input.a + by", "label input ~ by"]
    );
}

#[test]
fn elements_beyond_the_most_are_counted() {
    let css: String = (0..10_012).map(|i| format!(".c{i} {{ box-shadow: 0 1px red }}")).collect();
    let read = import(&css).by_look();
    assert!(remarks(&read).contains(&"more than 10000 elements: 12 are left out"), "{:?}", remarks(&read));
}

/// Media Queries 4, sections 2.4, 2.5 and 3, in the window that sheets are read for: 1280 × 800, a plain screen.
#[test]
fn conditions_hold_as_in_a_window_of_1280_by_800() {
    for (query, holds) in [
        ("(width > 1280px)", false),
        ("(width >= 1280px)", true),
        ("(width < 1280px)", false),
        ("(width <= 1280px)", true),
        ("(width = 1280px)", true),
        ("(1280px < width)", false),
        ("(1279px < width)", true),
        ("(600px < width <= 1280px)", true),
        ("(600px < width < 1280px)", false),
        ("(1280px <= width <= 1280px)", true),
        ("(1300px > width > 1280px)", false),
        ("(min-width: 1280px)", true),
        ("(min-width: 80.01em)", false),
        ("(max-width: 1279.9px)", false),
        ("(max-height: 50rem) and (min-height: 800px)", true),
        ("(aspect-ratio: 8/5)", true),
        ("(min-aspect-ratio: 16/9)", false),
        ("(min-resolution: 96dpi)", true),
        ("(min-resolution: 1.01dppx)", false),
        ("(color)", true),
        ("(monochrome)", false),
        ("(hover: hover) and (pointer: fine)", true),
        ("(prefers-color-scheme: light)", true),
        ("not all and (width > 1280px)", true),
        ("not all and (width >= 1280px)", false),
        ("not (width > 1280px)", true),
        ("print, (width: 1280px)", true),
        ("print, (width: 1281px)", false),
        ("only screen", true),
        ("speech", false),
        ("(width > 1280px) or (height > 799px)", true),
        ("(width > 1280px) or (height > 800px)", false),
    ] {
        let found =
            a(&format!(".a {{ box-shadow: 0 1px red }} @media {query} {{ .a {{ box-shadow: 0 2px red }} }}"));
        assert_eq!(found, format!("drop 0 {} 0 0 red", if holds { 2 } else { 1 }), "{query}");
    }
}

/// A class with a name of its own is a theme where it changes what shadows are made of, through any number of properties
/// (common practice, no published source).
#[test]
fn a_class_that_changes_what_shadows_are_made_of_is_a_theme() {
    let sheet = |changes: &str| {
        let css = format!(
            ":root {{ --ink: #111; --soft: var(--ink); --near: 0 1px var(--soft); --size: 4px }} \
             .ocean {{ {changes} }} .a {{ box-shadow: var(--near) }}"
        );
        finish(&import(&css), "a").themes.values().map(|coats| stack(coats)).collect::<Vec<_>>()
    };
    assert_eq!(sheet("--near: 0 2px red"), ["drop 0 2 0 0 red"]);
    assert_eq!(sheet("--ink: #eee"), ["drop 0 1 0 0 #eee"]);
    assert_eq!(sheet("--size: 8px"), <[String; 0]>::default());
}
