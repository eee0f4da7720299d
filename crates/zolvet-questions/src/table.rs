//! Questions by their path, as the service and the worker name them.

use serde::Serialize;
use serde::de::DeserializeOwned;

use crate::{Desk, Refusal};

/// What comes back for a question.
pub type Reply = Result<Vec<u8>, Refusal>;

/// Answers the question of a path in JSON; `None` where there is no such question.
#[must_use]
pub fn answer(path: &str, question: &[u8], desk: &Desk<'_>) -> Option<Reply> {
    let asked = TABLE.iter().find(|(known, _)| *known == path)?.1;
    Some(asked(desk, question))
}

/// The paths of all questions.
pub fn paths() -> impl Iterator<Item = &'static str> {
    TABLE.iter().map(|(path, _)| *path)
}

/// Reads a question and answers it.
pub type Answer = fn(&Desk<'_>, &[u8]) -> Reply;

/// Wraps the function that answers a question.
macro_rules! json {
    ($answer:path) => {
        |desk, question| in_json(desk, question, $answer)
    };
}

/// All but plain pictures, whose size the service says in its headers. Those of the stage are bytes and no JSON.
const TABLE: [(&str, Answer); 23] = [
    ("/api/stage", |desk, question| Ok(crate::stage(desk, &read(question)?)?.bytes())),
    ("/api/thumbnails", json!(crate::thumbnails)),
    ("/api/starters", json!(crate::offer_starters)),
    ("/api/blends", json!(crate::offer_blends)),
    ("/api/finishes", json!(crate::finish_cards)),
    ("/api/finishes/steps", json!(crate::finish_steps)),
    ("/api/finishes/differences", json!(crate::finish_differences)),
    ("/api/export", json!(crate::export)),
    ("/api/faithful", json!(crate::faithful)),
    ("/api/faithful/project", json!(crate::faithful_project)),
    ("/api/drawing", json!(crate::drawn_alone)),
    ("/api/audit/fewer", json!(crate::find_fewer_shadows)),
    ("/api/sights", json!(crate::sights)),
    ("/api/solve/reduce", json!(crate::reduce_stack)),
    ("/api/solve/draw", json!(crate::pull_profile)),
    ("/api/resolve", json!(crate::resolve)),
    ("/api/boxes", json!(crate::piece_boxes)),
    ("/api/arrange", json!(crate::arrange)),
    ("/api/split", json!(crate::split)),
    ("/api/outline", json!(crate::outline)),
    ("/api/css", json!(crate::read_css)),
    ("/api/colours", json!(crate::colours)),
    ("/api/scene-code", json!(crate::placed_code)),
];

/// Reads a question.
///
/// # Errors
/// The place where it is no JSON, or not what is expected.
pub fn read<Q: DeserializeOwned>(question: &[u8]) -> Result<Q, Refusal> {
    serde_json::from_slice(question).map_err(|error| {
        let place = format!("{}:{}", error.line(), error.column());
        Refusal::invalid_at(&place, error.to_string())
    })
}

fn in_json<Q: DeserializeOwned, A: Serialize>(
    desk: &Desk<'_>,
    question: &[u8],
    answer: fn(&Desk<'_>, &Q) -> Result<A, Refusal>,
) -> Reply {
    to_json(&answer(desk, &read(question)?)?)
}

fn to_json(answer: &impl Serialize) -> Reply {
    serde_json::to_vec(answer).map_err(Refusal::internal)
}
