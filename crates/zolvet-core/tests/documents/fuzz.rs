//! Whatever is put in, the answer is a result or an error with a place: no panic, no hang. A short run each time;
//! `PROPTEST_CASES=200000 cargo test --release -p zolvet-core --test fuzz` is a long one.

#![allow(clippy::unwrap_used, missing_docs)]

use std::time::Duration;

use cpu_time::ThreadTime;
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Limits, audit};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::{self, CodeOptions, piece_code, read};
use zolvet_core::geometry::icon::Icon;
use zolvet_core::model::Project;
use zolvet_core::picture::Bitmap;
use zolvet_core::resolve::{self, PieceStates};
use zolvet_core::{report, svg, tokens};
use zolvet_samples::any::{document, number};

/// The longest anything within the limits may take of the processor.
const PATIENCE: Duration = Duration::from_secs(5);

fn in_time<T>(what: &str, work: impl FnOnce() -> T) -> T {
    let start = ThreadTime::now();
    let result = work();
    assert!(start.elapsed() < PATIENCE, "{what} took {:?}", start.elapsed());
    result
}

fn draw(project: &Project) {
    let assets = Assets::carried_by(project);
    assert!(project.assets.iter().all(|asset| assets.get(&asset.id).is_some()));
    let cache = MaskCache::with_capacity(8 << 20);
    let scene = resolve::scene(project, &project.scenes[0], &assets);
    for scale in [1.0, 0.3] {
        let drawn = picture(
            &scene,
            &Viewport::whole(&scene, scale),
            &RenderOptions::default(),
            Rounding::Nearest,
            &cache,
        );
        assert_eq!(drawn.rgba.len(), drawn.width as usize * drawn.height as usize * 4);
    }
    for piece in &project.scenes[0].pieces {
        let (resolved, _) = resolve::piece(project, &project.scenes[0], piece, &assets);
        let _ = piece_code(&resolved, &piece.shape, &PieceStates::default(), CodeOptions::default());
        let code = CodeOptions::default();
        let options = report::ReportOptions { piece: piece.id.as_str(), line: None, code };
        assert!(report::report(project, &project.scenes[0], options, &assets, &cache).is_some());
        for coat in project.shown_coats(&project.scenes[0], piece) {
            let outline = report::coat_outline(project, &project.scenes[0], piece, &coat.id, &assets);
            assert!(outline.is_some());
        }
    }
}

/// What may stand for the value of a token.
fn token() -> BoxedStrategy<Value> {
    let leaf = prop_oneof![
        number(),
        prop::sample::select(vec![
            "{$root}",
            "{t}",
            "{a.b}",
            "#123456",
            "1px",
            "2rem",
            "red",
            "{}",
            "{t.$value.color}",
            ""
        ])
        .prop_map(|text| json!(text)),
        Just(json!({"value": 3, "unit": "px"})),
        Just(json!({"colorSpace": "srgb", "components": [0.1, 0.2, "none"], "alpha": 0.5})),
        Just(json!({"$ref": "#/t"})),
    ];
    let shadow = (leaf.clone(), leaf.clone(), leaf.clone(), any::<bool>()).prop_map(|(color, x, blur, inset)| {
        json!({"color": color, "offsetX": x, "offsetY": {"value": 1, "unit": "px"}, "blur": blur, "spread": 0, "inset": inset})
    });
    prop_oneof![leaf, shadow.clone(), prop::collection::vec(shadow, 0..4).prop_map(|list| json!(list))]
        .boxed()
}

/// Primitives that lead to one another in every way.
const FILTER_PART: &str = "(<feGaussianBlur (in='([a-c]|SourceGraphic)' )?stdDeviation='[0-9]{1,4}( [0-9])?' (result='[a-c]')?/>\
|<feMerge result='[a-c]'>(<feMergeNode in='([a-c]|SourceGraphic)'/>){0,4}</feMerge>|<feOffset dx='-?[0-9]{1,6}' dy='[0-9]'/>\
|<feComposite operator='(in|out|atop|over|xor|lighter)' in='[a-c]' in2='(SourceAlpha|[a-c])' (result='[a-c]')?/>\
|<feComposite operator='arithmetic' k1='[01]' k2='-?1' k3='1' in2='SourceAlpha'/>|<feColorMatrix values='0 0 0 0 .3 0 0 0 0 .2 0 0 0 0 1 0 0 0 -?[0-9] [01]'/>\
|<feColorMatrix values='[0-9 .-]{0,30}'/>|<feFlood flood-color='#[0-9a-f]{3}' flood-opacity='.[0-9]' result='[a-c]'/>\
|<feMorphology (operator='dilate' )?radius='[0-9]{1,4}'/>|<feDropShadow dy='[0-9]' stdDeviation='[0-9]' (in='[a-c]')?/>\
|<feComponentTransfer><feFuncA type='(table|discrete)' tableValues='[01 .]{0,8}'/></feComponentTransfer>|<feBlend mode='(multiply|screen|x)' in2='[a-c]'/>|<feTile/>|[<>a-z'=/ ]{0,9})";

/// A document with parts of most kinds.
const SMALL: &str = r##"{"schema":2,"name":"f","themes":[{"id":"t","name":"T","scheme":"light"}],"swatches":[{"id":"s","name":"S","values":{"t":"#123"}}],
"finishes":[{"id":"f","name":"F","coats":[{"kind":"drop","id":"d","name":"D","on":true,"offset":{"x":1,"y":2},"blur":3,"spread":0,"colour":{"swatch":"s"}}]}],
"scenes":[{"id":"a","name":"A","width":60,"height":50,"theme":"t","ground":{"kind":"solid","colour":"#e8e4da"},"pieces":[
{"id":"p","name":"P","shape":{"kind":"box","w":20,"h":10,"radii":[1,2,{"x":1,"y":2},3]},"x":5,"y":5,"fill":{"kind":"solid","colour":{"swatch":"s"}},"wear":{"finish":"f"}},
{"id":"q","name":"Q","shape":{"kind":"ellipse","w":20,"h":10},"x":5,"y":5,"fill":{"kind":"solid","colour":"#fff"},"wear":{"coats":[]}}]}]}"##;

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn documents(document in document()) {
        let project = Project::from_value(&document);
        prop_assume!(project.is_ok());
        in_time("drawing", || draw(&project.unwrap()));
    }

    /// A document with something else in one place is read from its text as from its values, or refused for the same reason.
    #[test]
    fn text_and_values(at in any::<prop::sample::Index>(), long in 0..12_usize, put in "[\\[\\]{}\":,a-z0-9.e-]{0,12}|null|true|\"kind\":\"box\",|-1e9|\"unknown\":(1e999|\"\\\\ud800\"|[0-9]{400}|2),") {
        let mut text = SMALL.to_owned();
        prop_assert!(Project::from_json(&text).is_ok());
        let from = at.index(text.len());
        text.replace_range(from..(from + long).min(SMALL.len()), &put);
        let read = in_time("reading", || Project::from_json(&text));
        match serde_json::from_str::<Value>(&text) {
            Ok(value) => prop_assert_eq!(read, Project::from_value(&value)),
            Err(_) => prop_assert!(read.is_err()),
        }
    }

    #[test]
    fn css(text in "(box-shadow|text-shadow|filter)?:?[a-z0-9#(){}:;,./*! \n-]{0,80}") {
        if let Err(error) = in_time("reading", || read(&text)) {
            prop_assert!(error.line >= 1 && error.column >= 1);
        }
    }

    #[test]
    fn svg(parts in prop::collection::vec("(<path d='[MLCAZ0-9 .-]{0,20}'/>|<rect width='[0-9]{1,4}' height='9' stroke='red'/>|<use href='#[a-c]'/>|<g id='[a-c]'>|</g>|[<>a-z'=/ ]{0,9})", 0..8)) {
        let text = format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 24 24'>{}</svg>", parts.concat());
        let _ = in_time("reading", || Icon::read(&text));
    }

    #[test]
    fn filters(parts in prop::collection::vec(FILTER_PART, 0..24), linear in any::<bool>()) {
        let space = if linear { "" } else { " color-interpolation-filters='sRGB'" };
        let text = format!("<svg><filter id='f'{space}>{}</filter></svg>", parts.concat());
        if let Ok(read) = in_time("reading", || svg::import(&text)) {
            let mut document = json!({"schema": 1, "name": "f", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": []});
            read.put_into(&mut document);
            prop_assert!(Project::from_value(&document).is_ok(), "{document}");
        }
    }

    #[test]
    fn style_sheets(text in "([.#:]?[a-c]{1,2}|@media x|:is\\(|\\)|[{}]|box-shadow:|--a:|var\\(--a\\)|0 1px 2px|red|inset|filter:|blur\\(2px\\)|;|,| |/\\*|\\*/|[a-z0-9(){}\"'&>-]{0,6}){0,40}") {
        let read = in_time("reading", || css::import(&text));
        let mut document = json!({"schema": 1, "name": "f", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": []});
        read.put_into(&mut document);
        prop_assert!(Project::from_value(&document).is_ok(), "{document}");
    }

    #[test]
    fn tokens(text in "(\\{|\\}|\"\\$?(root|type|value|a|b)\":|\"(color|shadow|dimension|\\{a\\}|\\{a\\.b\\}|\\{\\$root\\}|#fff|1px|2rem)\"|,|\\[|\\]|[0-9.-]{1,4}|\"[a-zA-Z]{1,8}\":?){0,40}", shadow in token()) {
        for text in [text, json!({"t": {"$type": "shadow", "$value": shadow}}).to_string(), json!({"$root": {"$type": "color", "$value": shadow}}).to_string()] {
            if let Ok((read, _)) = in_time("reading", || tokens::read(&text)) {
                let mut document = json!({"schema": 1, "name": "f", "themes": [{"id": "theme-1", "name": "T", "scheme": "light"}], "scenes": []});
                read.put_into(&mut document);
                prop_assert!(Project::from_value(&document).is_ok(), "{document}");
            }
        }
    }

    #[test]
    fn documents_with_modes(shadow in token(), order in prop::collection::vec("#/(sets/s|modifiers/m|nothing|)|other.json", 0..5), broken in 0..6_usize) {
        let kept = |what: &str| json!({"app.zolvet": {what: {"id": "a", "of": "a", "name": "hover", "coats": [], "bearing": 1}}});
        let group = json!({"f": {"$type": "shadow", "one": {"$value": shadow, "$extensions": kept("finish")},
            "two": {"$value": [], "$extensions": kept("state")}, "three": {"$value": 1, "$extensions": kept("light")}}});
        let mut file = json!({"sets": {"s": {"sources": [group, {"$ref": "#/sets/s/sources/0"}]}},
            "modifiers": {"m": {"contexts": {"a": [group], "b": []}, "default": "b"}},
            "resolutionOrder": order.iter().map(|to| json!({"$ref": to})).collect::<Vec<_>>(),
            "$extensions": {"app.zolvet": {"themes": [{"id": "t", "name": "T", "scheme": "light"}]}}});
        let places = ["/sets/s/sources", "/modifiers/m/contexts", "/modifiers/m/default", "/resolutionOrder", "/$extensions/app.zolvet/themes"];
        if let Some(place) = places.get(broken).and_then(|place| file.pointer_mut(place)) {
            *place = json!([1]);
        }
        if let Ok((read, _)) = in_time("reading", || tokens::read(&file.to_string())) {
            let mut document = json!({"schema": 1, "name": "f", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": []});
            read.fitted_to(&Project::from_value(&document).unwrap()).put_into(&mut document);
            prop_assert!(Project::from_value(&document).is_ok(), "{document}");
        }
    }

    #[test]
    fn pictures(head in 0..4_usize, bytes in prop::collection::vec(any::<u8>(), 0..200)) {
        let heads: [&[u8]; 4] = [b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR", b"\xff\xd8\xff\xe0\0\x10JFIF", b"RIFF\xff\0\0\0WEBPVP8 ", b""];
        let file = [heads[head], &bytes].concat();
        let _ = in_time("reading", || Bitmap::decode(&file));
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(16) })]

    /// Whatever is looked over is looked over to its end.
    #[test]
    fn audits(document in document()) {
        let project = Project::from_value(&document);
        prop_assume!(project.is_ok());
        let (limits, cache) = (Limits::default(), MaskCache::default());
        prop_assert!(audit(&project.unwrap(), &Assets::default(), &limits, &cache, &mut |_, _| true).is_some());
    }
}
