//! Steps of the height scale that are none, and what may be put in their place.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{FindingKind, Limits, audit};
use zolvet_core::compose::MaskCache;
use zolvet_core::model::Project;

/// Between two steps that nobody sees there is nothing to be put: a fix that gave it would be taken back by the next.
#[test]
fn a_step_is_not_put_between_two_that_look_alike() {
    let unseen = |blur: f64| {
        json!([{"id": "c", "name": "c", "on": true, "kind": "drop", "offset": {"x": 0, "y": 0}, "blur": blur, "spread": 0,
            "colour": "#000000", "opacity": 0.05, "blend": "screen"}])
    };
    let step = |id: &str, coats: Value| json!({"id": id, "name": id, "coats": coats});
    let document = json!({"schema": 2, "name": "Steps", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "finishes": [step("one", unseen(0.0)), step("two", json!([])), step("three", unseen(1.0))],
        "scale": ["one", "two", "three"], "scenes": []});
    let project = Project::from_value(&document).unwrap();
    let cache = MaskCache::default();
    let audit = audit(&project, &Assets::default(), &Limits::default(), &cache, &mut |_, _| true).unwrap();
    let flat = audit.findings.iter().find(|finding| finding.kind == FindingKind::FlatStep).unwrap();
    assert_eq!(flat.fix.as_ref().unwrap().title, "Take it off the scale");
}
