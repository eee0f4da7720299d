//! Projects that are held between questions: what is said by changes answers as what is said whole.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

mod common;

use common::NoFiles;
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::compose::MaskCache;
use zolvet_core::model::Project;
use zolvet_queries::{OpenProjects, Query, QueryContext, QueryError};
use zolvet_samples::library;

fn ask(held: &OpenProjects, path: &str, question: &Value) -> Result<Vec<u8>, QueryError> {
    ask_as("me", held, path, question)
}

fn ask_as(owner: &str, held: &OpenProjects, path: &str, question: &Value) -> Result<Vec<u8>, QueryError> {
    let cache = MaskCache::default();
    let context = QueryContext { files: &NoFiles, held, owner, cache: &cache };
    let answer = Query::at(path).unwrap().answer(question.to_string().as_bytes(), &context);
    answer.map(|answer| answer.bytes)
}

fn document(name: &str) -> Value {
    json!({"schema": 2, "name": name, "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 60, "height": 50, "theme": "t", "ground": {"kind": "solid", "colour": "#e8e4da"},
            "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": 20, "h": 10, "radii": 2}, "x": 5, "y": 5,
                "fill": {"kind": "solid", "colour": "#ffffff"}, "wear": {"coats": []}}]}]})
}

fn boxes(project: Value) -> Value {
    json!({"project": project, "scene": "a"})
}

fn found(held: &OpenProjects, project: Value) -> Result<Value, QueryError> {
    ask(held, "/api/boxes", &boxes(project)).map(|bytes| serde_json::from_slice(&bytes).unwrap())
}

#[test]
fn a_change_is_of_the_version_it_names() {
    let held = OpenProjects::with_capacity(1 << 20);
    let open = json!({"session": "s", "version": 1, "document": document("One")});
    assert_eq!(found(&held, open).unwrap()[0]["x"], 5.0);
    let patch = |at: f64| json!([{"op": "replace", "path": "/scenes/0/pieces/0/x", "value": at}]);
    for (version, at) in [(2, 7.0), (3, 9.0)] {
        let moved = json!({"session": "s", "version": version, "from": 1, "patch": patch(at)});
        assert_eq!(found(&held, moved).unwrap()[0]["x"], at);
    }
    // A version that is held need not be said again.
    assert_eq!(found(&held, json!({"session": "s", "version": 2})).unwrap()[0]["x"], 7.0);
    let unknown = json!({"session": "s", "version": 9, "from": 8, "patch": []});
    assert_eq!(found(&held, unknown), Err(QueryError::Lost));
    assert_eq!(found(&held, json!({"session": "other", "version": 2})), Err(QueryError::Lost));
}

/// The whole document is wanted then, which says what is wrong with it and where.
#[test]
fn a_change_that_cannot_be_made_is_not_held() {
    let held = OpenProjects::with_capacity(1 << 20);
    found(&held, json!({"session": "s", "version": 1, "document": document("One")})).unwrap();
    let wrong = [
        json!({"op": "replace", "path": "/scenes/0/pieces/0/x", "value": "far"}),
        json!({"op": "replace", "path": "/scenes/0/pieces/4/x", "value": 1}),
        json!({"op": "remove", "path": "/themes"}),
        json!({"op": "move", "from": "/name", "path": "/scale"}),
        json!({"op": "replace", "path": "/scenes/0/pieces/0/wear", "value": {"finish": "f"}}),
    ];
    for operation in wrong {
        let change = json!({"session": "s", "version": 2, "from": 1, "patch": [operation]});
        assert_eq!(found(&held, change.clone()), Err(QueryError::Lost), "{change}");
        assert_eq!(found(&held, json!({"session": "s", "version": 2})), Err(QueryError::Lost));
    }
    let mut invalid = document("One");
    invalid["scenes"][0]["pieces"][0]["x"] = json!("far");
    let whole = found(&held, json!({"session": "s", "version": 2, "document": invalid}));
    let Err(QueryError::Invalid(problems)) = whole else { panic!("{whole:?}") };
    assert_eq!(problems[0].pointer, "/project/scenes/0/pieces/0/x");
}

/// What is empty or has its default may have been left out of what is held.
#[test]
fn what_was_left_out_can_be_changed() {
    let held = OpenProjects::with_capacity(1 << 20);
    found(&held, json!({"session": "s", "version": 1, "document": document("One")})).unwrap();
    let patch = json!([
        {"op": "add", "path": "/accepted/0", "value": {"finding": "f", "note": ""}},
        {"op": "add", "path": "/scenes/0/pieces/0/states/hover", "value": []},
        {"op": "remove", "path": "/scenes/0/pieces/0/rotation"},
        {"op": "replace", "path": "/fallbacks", "value": true},
    ]);
    assert!(found(&held, json!({"session": "s", "version": 2, "from": 1, "patch": patch})).is_ok());
}

#[test]
fn the_sessions_used_last_are_held() {
    let document = document("One");
    let held = OpenProjects::with_capacity(document.to_string().len() * 3);
    let open = |name: &str| json!({"session": name, "version": 1, "document": document});
    for name in ["a", "b", "c"] {
        found(&held, open(name)).unwrap();
    }
    found(&held, json!({"session": "a", "version": 1})).unwrap();
    found(&held, open("d")).unwrap();
    assert_eq!(found(&held, json!({"session": "b", "version": 1})), Err(QueryError::Lost));
    for name in ["a", "c", "d"] {
        assert!(found(&held, json!({"session": name, "version": 1})).is_ok(), "{name}");
    }
}

/// Where documents take more than may be held, versions go that no change needs before whole sessions do.
#[test]
fn older_versions_go_before_sessions() {
    let document = document("One");
    let held = OpenProjects::with_capacity(document.to_string().len() * 40);
    let open = |name: &str| json!({"session": name, "version": 1, "document": document});
    let patch = |at: u64| json!([{"op": "replace", "path": "/scenes/0/pieces/0/x", "value": at % 9}]);
    for name in ["a", "b", "c"] {
        found(&held, open(name)).unwrap();
    }
    for version in 2..20 {
        for name in ["a", "b", "c"] {
            let change =
                json!({"session": name, "version": version, "from": version - 1, "patch": patch(version)});
            assert_eq!(found(&held, change).unwrap()[0]["x"], (version % 9) as f64, "{name} {version}");
        }
    }
    assert_eq!(found(&held, json!({"session": "a", "version": 12})), Err(QueryError::Lost));
}

/// The first picture is whole; the one after a change is what has changed, and nothing where nothing has.
#[test]
fn the_stage_is_sent_where_it_changes() {
    let held = OpenProjects::with_capacity(1 << 20);
    let stage = |project: Value, number: u64, after: Value| {
        let question = json!({"project": project, "scene": "a", "number": number, "after": after});
        let bytes = ask(&held, "/api/stage", &question).unwrap();
        let words: Vec<u32> =
            bytes.chunks(4).map(|word| u32::from_le_bytes(word.try_into().unwrap())).collect();
        let count = words[2] as usize;
        let places: Vec<Vec<u32>> = (0..count).map(|at| words[3 + at * 4..7 + at * 4].to_vec()).collect();
        let pixels: u32 = places.iter().map(|place| place[2] * place[3]).sum();
        assert_eq!(bytes.len(), 12 + 16 * count + pixels as usize * 4);
        (words[..2].to_vec(), places)
    };
    let whole = (vec![60, 50], vec![vec![0, 0, 60, 50]]);
    let open = json!({"session": "s", "version": 1, "document": document("One")});
    assert_eq!(stage(open, 1, json!(null)), whole);
    let moved = json!([{"op": "replace", "path": "/scenes/0/pieces/0/x", "value": 8}]);
    let (_, places) = stage(json!({"session": "s", "version": 2, "from": 1, "patch": moved}), 2, json!(1));
    assert_eq!(places, [vec![0, 0, 32, 16]]);
    assert_eq!(stage(json!({"session": "s", "version": 2}), 3, json!(2)).1, Vec::<Vec<u32>>::new());
    // What came before is not known.
    assert_eq!(stage(json!({"session": "s", "version": 2}), 4, json!(77)), whole);
}

fn any_value() -> impl Strategy<Value = Value> {
    let leaf = prop_oneof![
        Just(json!(null)),
        any::<bool>().prop_map(Value::from),
        any::<f64>().prop_map(Value::from),
        any::<i64>().prop_map(Value::from),
        ".{0,8}".prop_map(Value::from),
    ];
    leaf.prop_recursive(3, 12, 4, |inner| {
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..4).prop_map(Value::from),
            prop::collection::vec(("[a-z]{0,6}", inner), 0..4)
                .prop_map(|fields| fields.into_iter().collect()),
        ]
    })
}

/// Nearly an operation: places that are there, others, and nonsense.
fn operation() -> impl Strategy<Value = Value> {
    let place = prop_oneof![
        prop::sample::select(vec![
            "",
            "/",
            "/name",
            "/scenes",
            "/scenes/-",
            "/scenes/0",
            "/scenes/0/pieces/0",
            "/scenes/0/pieces/0/x",
            "/scenes/0/pieces/0/wear/coats/0",
            "/scenes/0/pieces/0/shape/parts/0/x",
            "/scenes/0/pieces/1/shape/parts/0/shape/parts/-",
            "/scenes/99999999999999999999",
            "/themes/0/id",
            "/~2",
            "name",
        ])
        .prop_map(str::to_owned),
        "(/[a-z0-9~]{0,5}){0,4}",
    ];
    let op = prop::sample::select(vec!["add", "replace", "remove", "move", "copy", "test", "", "other"]);
    (op, place.clone(), place, any_value())
        .prop_map(|(op, path, from, value)| json!({"op": op, "path": path, "from": from, "value": value}))
}

/// Nearly what a question says of a project that is held.
fn said() -> impl Strategy<Value = Value> {
    let patch = prop_oneof![prop::collection::vec(operation(), 0..4).prop_map(Value::from), any_value()];
    let number = prop_oneof![(0..4_u64).prop_map(Value::from), any_value()];
    (number.clone(), number, patch, prop::option::of(any_value())).prop_map(
        |(version, from, patch, document)| {
            let mut said = json!({"session": "s", "version": version, "from": from, "patch": patch});
            if let Some(document) = document {
                said["document"] = document;
            }
            said
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(60) })]

    /// Changing a project that is decoded gives the project that the changed document is.
    #[test]
    fn a_change_gives_what_the_changed_document_is(before in library::document(), after in library::document()) {
        let patch = json_patch::diff(&before, &after);
        let (before, after) = (Project::from_value(&before), Project::from_value(&after));
        prop_assume!(before.is_ok() && after.is_ok());
        prop_assert_eq!(before.unwrap().edited(&patch.0), after);
    }

    /// Whatever is said of a project that is held, it is answered or refused, and what is held stays.
    #[test]
    fn nonsense_is_refused_and_nothing_held_is_lost(nonsense in prop::collection::vec(prop_oneof![said(), any_value()], 1..6)) {
        let held = OpenProjects::with_capacity(1 << 20);
        found(&held, json!({"session": "s", "version": 1, "document": document("One")})).unwrap();
        for said in nonsense {
            if let Ok(boxes) = found(&held, said) {
                prop_assert!(boxes.is_array());
            }
        }
        let first = json!({"session": "s", "version": 1});
        prop_assert_eq!(&found(&held, first).unwrap()[0]["x"], &json!(5.0));
    }
}

/// Nobody is given what somebody else holds, and whoever holds much lets go of their own first.
#[test]
fn what_is_held_is_its_owners() {
    let held = OpenProjects::with_capacity(1 << 20);
    let open = |session: &str| boxes(json!({"session": session, "version": 1, "document": document("Mine")}));
    let again = |session: &str| boxes(json!({"session": session, "version": 2, "from": 1, "patch": []}));
    let as_owner = |owner: &str, question: Value| ask_as(owner, &held, "/api/boxes", &question);
    assert!(as_owner("me", open("s")).is_ok());
    assert_eq!(as_owner("you", again("s")), Err(QueryError::Lost), "the name alone opens nothing");
    for number in 0..400 {
        assert!(as_owner("you", open(&format!("{number}"))).is_ok());
    }
    assert!(as_owner("me", again("s")).is_ok(), "what others open drives nothing out");
    assert_eq!(as_owner("you", again("0")), Err(QueryError::Lost));
    let long = as_owner("me", open(&"n".repeat(129)));
    assert!(matches!(long, Err(QueryError::Invalid(problems)) if problems[0].pointer == "/project/session"));
}
