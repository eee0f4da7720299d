//! Names that were made to break out of what they are written into.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, bundle};
use zolvet_core::model::Project;

const DEMO: &str = include_str!("../../../../demo/quillmere.zolvet.json");

/// Names are in any characters; what is made of them are still files with harmless names, SVG that is XML and JSON that is JSON.
#[test]
fn names_of_any_characters_break_nothing() {
    let names = [
        "</script><script>alert(1)</script>",
        "*/ body{display:none} /*",
        "\"><img src=x onerror=alert(1)>",
        "a\r\nSet-Cookie: x=1",
        "../../../etc/x",
        "\u{0}\u{1}\u{b}\u{fffe}\u{ffff}",
        "${alert(1)}`;#{$x}",
        "]]><!---->",
        "\u{2028}\u{202e}",
        "",
        ".",
    ];
    let demo: Value = serde_json::from_str(DEMO).unwrap();
    for name in names {
        let mut document = demo.clone();
        rename(&mut document, name);
        let project = Project::from_value(&document).unwrap();
        for file in bundle(&project, &document, &Assets::carried_by(&project), &SheetOptions::default()) {
            let path = &file.path;
            assert!(path.split('/').all(|part| part.starts_with(|first: char| first.is_ascii_alphanumeric() || first == '_')), "{path:?}");
            assert!(
                path.chars().all(|letter| letter.is_ascii_alphanumeric() || "/._-@".contains(letter)),
                "{path:?}"
            );
            let text = String::from_utf8_lossy(&file.bytes);
            if path.ends_with(".svg") {
                let read = usvg::roxmltree::Document::parse(&text)
                    .unwrap_or_else(|error| panic!("{path} of {name:?}: {error}"));
                assert!(
                    read.descendants().all(|node| !["script", "img"].contains(&node.tag_name().name())),
                    "{path} of {name:?}"
                );
            } else if path.ends_with(".json") {
                assert!(serde_json::from_str::<Value>(&text).is_ok(), "{path} of {name:?}");
            }
        }
    }
}

fn rename(value: &mut Value, name: &str) {
    match value {
        Value::Object(fields) => {
            for (key, field) in fields {
                if ["name", "note"].contains(&key.as_str()) && field.is_string() {
                    *field = json!(name);
                } else {
                    rename(field, name);
                }
            }
        }
        Value::Array(items) => items.iter_mut().for_each(|item| rename(item, name)),
        _ => {}
    }
}
