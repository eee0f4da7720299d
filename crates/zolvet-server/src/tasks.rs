//! What helpers do.

use std::sync::Arc;

use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::budget::Budget;
use zolvet_core::compose::MaskCache;
use zolvet_core::font::Font;
use zolvet_core::geometry::icon::Icon;
use zolvet_core::incoming::{self, IncomingError, IncomingFile, IncomingFormat, IncomingSettings};
use zolvet_core::model::{Asset, Project};
use zolvet_core::picture::Bitmap;
use zolvet_questions::{Desk, Files, HeldProjects, Refusal};

use crate::helper::{Refused, Task, icon};

/// Does a task.
///
/// # Errors
/// What was expected instead.
pub fn done(task: Task, input: &[u8]) -> Result<Vec<u8>, Refused> {
    match task {
        Task::Picture => Ok(Bitmap::decode(input).map_err(Refused::expected)?.picture.rgba),
        Task::PictureSize => {
            let picture = Bitmap::decode(input).map_err(Refused::expected)?.picture;
            json(&(picture.width, picture.height))
        }
        Task::Icon => {
            let Icon { d, viewbox, has_text } = icon(input)?;
            json(&(d, viewbox, has_text))
        }
        Task::Font => Ok(Font::read(input).map_err(Refused::expected)?.data().to_vec()),
        Task::Import => import(input),
        Task::Question(path) => answer(path, input),
    }
}

/// What is to be read.
#[derive(Deserialize, ToSchema)]
pub struct ImportRequest {
    /// The project it is to go into.
    #[schema(value_type = Project)]
    project: Value,
    /// In which format they are.
    format: IncomingFormat,
    /// The files, which are read as one.
    files: Vec<IncomingFile>,
    /// What they do not say themselves.
    #[serde(default)]
    settings: IncomingSettings,
}

fn import(input: &[u8]) -> Result<Vec<u8>, Refused> {
    let request: ImportRequest = serde_json::from_slice(input).map_err(|error| {
        Refused::Invalid(vec![(format!("{}:{}", error.line(), error.column()), error.to_string())])
    })?;
    let project = Project::from_value(&request.project).map_err(|problems| {
        let within =
            problems.into_iter().map(|problem| (format!("/project{}", problem.pointer), problem.message));
        Refused::Invalid(within.collect())
    })?;
    let read = || {
        incoming::read(request.format, &request.files, &request.settings).map(|read| read.fitted_to(&project))
    };
    let read = Budget::default().run(read).map_err(|stopped| Refused::TooMuch(stopped.to_string()))?;
    json(&read.map_err(|error| match error {
        IncomingError::At { place, message } => Refused::Invalid(vec![(place, message)]),
        IncomingError::Document(problems) => problems.into(),
    })?)
}

fn answer(path: &str, question: &[u8]) -> Result<Vec<u8>, Refused> {
    let (held, cache) = (HeldProjects::with_capacity(0), MaskCache::with_capacity(64 << 20));
    let desk = Desk { files: &Carried, held: &held, owner: "", cache: &cache };
    let reply = Budget::default().run(|| zolvet_questions::answer(path, question, &desk));
    match reply {
        Ok(Some(Ok(answer))) => Ok(answer),
        Ok(Some(Err(Refusal::Invalid(problems)))) => Err(problems.into()),
        Ok(Some(Err(refusal))) => Err(Refused::Cannot(refusal.to_string())),
        Ok(None) => Err(Refused::Cannot(format!("There is no such question: {path}."))),
        Err(stopped) => Err(Refused::TooMuch(stopped.to_string())),
    }
}

/// Files that a document carries, which is all that a helper has.
struct Carried;

impl Files for Carried {
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, Refusal> {
        let data = asset.data.as_ref();
        Ok(data.and_then(|data| Bitmap::decode(data.bytes()).ok()).map(Arc::new))
    }

    fn font(&self, asset: &Asset) -> Result<Option<Font>, Refusal> {
        Ok(asset.data.as_ref().and_then(|data| Font::read(data.bytes()).ok()))
    }
}

fn json(answer: &impl serde::Serialize) -> Result<Vec<u8>, Refused> {
    serde_json::to_vec(answer).map_err(|error| Refused::Cannot(error.to_string()))
}
