//! Questions with extreme numbers, long texts and many parts: each is answered or refused, within what it may take.
//!
//! A short run each time; `PROPTEST_CASES=20000 cargo test -p zolvet-queries --test extremes` is a long one.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

mod common;

use std::time::{Duration, Instant};

use common::NoFiles;
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::budget::{Budget, Stopped};
use zolvet_core::compose::MaskCache;
use zolvet_queries::{OpenProjects, QUERIES, Query, QueryContext, QueryError};
use zolvet_samples::questions;

/// Every path has a question here, which is answered as it is.
#[test]
fn what_is_right_is_answered() {
    let right = questions::right();
    assert!(QUERIES.iter().all(|query| right.contains_key(query.path)));
    assert_eq!(QUERIES.len(), right.len());
    for (path, question) in right {
        let answered = ask(path, &question);
        // No stack of the demo has so many shadows that a finding says so.
        let is_told = path == "/api/audit/fewer" && matches!(answered, Err(QueryError::Cannot(_)));
        assert!(is_told || answered.as_ref().is_ok_and(|answer| !answer.is_empty()), "{path}: {answered:?}");
    }
}

fn ask(path: &str, question: &Value) -> Result<Vec<u8>, QueryError> {
    let (held, cache) = (OpenProjects::with_capacity(1 << 20), MaskCache::with_capacity(8 << 20));
    let context = QueryContext { files: &NoFiles, held: &held, owner: "me", cache: &cache };
    let answer = Query::at(path).unwrap().answer(question.to_string().as_bytes(), &context);
    answer.map(|answer| answer.bytes)
}

/// The pointers of all parts of a value.
fn parts(value: &Value, at: &str, found: &mut Vec<String>) {
    found.push(at.to_owned());
    match value {
        Value::Object(fields) => {
            fields.iter().for_each(|(name, value)| {
                parts(value, &format!("{at}/{}", name.replace('~', "~0").replace('/', "~1")), found);
            });
        }
        Value::Array(items) => {
            items.iter().enumerate().for_each(|(i, item)| parts(item, &format!("{at}/{i}"), found));
        }
        _ => {}
    }
}

const NUMBERS: [f64; 16] = [
    0.0, -1.0, 1e-9, 0.5, 90.0, 2.0, 64.0, 250.0, 1000.0, 4096.0, 10_000.0, -10_000.0, 100_000.0, 1e9, 1e300,
    1.0,
];

/// Another value for a part: an extreme number, a long text, many parts.
fn extreme(value: &Value, chance: usize) -> Value {
    match value {
        Value::Number(_) => json!(NUMBERS[chance % NUMBERS.len()]),
        Value::Bool(is) => json!(!is),
        Value::String(text) if chance.is_multiple_of(8) => json!(text.repeat(200)),
        Value::Array(items) if !items.is_empty() => {
            let many = |count: usize| -> Vec<Value> {
                let numbered = |(i, item): (usize, &Value)| {
                    let mut item = item.clone();
                    if let Some(id) = item.get_mut("id") {
                        *id = json!(format!("n{i}"));
                    }
                    item
                };
                items.iter().cycle().take(count).enumerate().map(numbered).collect()
            };
            json!(many([4, 16, 64, 200][chance % 4]))
        }
        other => other.clone(),
    }
}

/// Steps and bytes as a quick question has them.
const MAX_STEPS: u64 = 600_000_000;
const MAX_BYTES: u64 = 96 << 20;
/// Time is no measure: it raises an alarm where a multiple of those steps is taken by what is not counted.
const ALARM: Duration = Duration::from_secs(12);

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, max_shrink_iters: 100, ..ProptestConfig::with_cases(
        std::env::var("PROPTEST_CASES").ok().and_then(|cases| cases.parse().ok()).unwrap_or(60)
    ) })]

    #[test]
    fn what_is_extreme_ends(which in any::<prop::sample::Index>(), changes in prop::collection::vec((any::<prop::sample::Index>(), any::<usize>()), 1..6)) {
        let right = questions::right();
        let path = *which.get(&right.keys().copied().collect::<Vec<_>>());
        let mut question = right[path].clone();
        let mut changed = Vec::new();
        for (at, chance) in changes {
            let mut found = Vec::new();
            parts(&question, "", &mut found);
            // Most of a question is its project; half of what is changed is beside it or of its first pieces.
            let near: Vec<_> = found.iter().filter(|at| !at.starts_with("/project") || at.starts_with("/project/scenes/0/pieces/0") || at.starts_with("/project/finishes/0")).cloned().collect();
            let at = at.get(if chance % 2 == 0 { &found } else { &near }).clone();
            let value = question.pointer_mut(&at).unwrap();
            *value = extreme(value, chance / 2);
            changed.push(format!("{at}: {}", value.to_string().chars().take(60).collect::<String>()));
        }
        let start = Instant::now();
        let answered = Budget::new(MAX_STEPS, MAX_BYTES).run(|| ask(path, &question));
        let took = start.elapsed();
        prop_assert!(took < ALARM, "{path} took {took:?} with {changed:?}");
        if took > Duration::from_millis(700) {
            println!("{path} took {took:?} with {changed:?}: {}", match &answered {
                Ok(Ok(bytes)) => format!("{} bytes", bytes.len()),
                Ok(Err(refused)) => format!("{refused:?}").chars().take(100).collect(),
                Err(stopped) => format!("{stopped:?}"),
            });
        }
        match answered {
            Ok(Err(QueryError::Internal(why))) => prop_assert!(false, "{path}: {why} with {changed:?}"),
            Err(Stopped::Cancelled) => prop_assert!(false, "{path} was cancelled"),
            _ => {}
        }
    }
}
