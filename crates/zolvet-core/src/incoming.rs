//! What a file brings into a project, before it does.

use serde::{Deserialize, Serialize};

use crate::model::{Finish, Id, Light, Problem, Project, Swatch};
use crate::names::Taken;
use crate::{css, svg, tokens};

/// What was read, ready to be put into a project whole.
#[derive(Debug, Clone, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Incoming {
    /// Named stacks.
    pub finishes: Vec<Finish>,
    /// Shared colours.
    pub swatches: Vec<Swatch>,
    /// Shared lights that finishes follow.
    pub lights: Vec<Light>,
    /// What was not taken as it stands.
    pub remarks: Vec<Remark>,
}

/// Something that was read otherwise than it stands, or not at all.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Remark {
    /// Where: `line:column`, or a JSON pointer.
    pub place: String,
    /// Whether it is there in another form, or not at all.
    pub what: RemarkKind,
    /// In words.
    pub message: String,
}

/// What became of something in a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RemarkKind {
    /// Taken in another form.
    Approximated,
    /// Left out.
    Dropped,
}

/// A format something comes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum IncomingFormat {
    /// A style sheet.
    Css,
    /// Design tokens.
    Tokens,
    /// The filters of an SVG file.
    Svg,
    /// Another project.
    Json,
}

/// Why a text brings nothing.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum IncomingError {
    /// It is not what it is said to be.
    #[error("{place}: {message}")]
    At {
        /// `line:column`, or a JSON pointer; empty where it is the whole.
        place: String,
        /// What was expected.
        message: String,
    },
    /// It is not a project.
    #[error("not a project")]
    Document(Vec<Problem>),
}

/// What a text would bring.
///
/// # Errors
/// [`IncomingError`] where it cannot be read at all. What of a style sheet or filter is not understood is remarked.
pub fn read(format: IncomingFormat, text: &str) -> Result<Incoming, IncomingError> {
    let at = |place: String, message: String| IncomingError::At { place, message };
    match format {
        IncomingFormat::Css => Ok(css::import(text)),
        IncomingFormat::Tokens => {
            tokens::read(text).map_err(|error| at(error.place, error.message)).map(|read| read.0)
        }
        IncomingFormat::Svg => svg::import(text).map_err(|error| at(String::new(), error.to_string())),
        IncomingFormat::Json => {
            Project::from_json(text).map_err(IncomingError::Document).map(|project| from_project(&project))
        }
    }
}

impl Incoming {
    pub(crate) fn remark(&mut self, place: impl Into<String>, what: RemarkKind, message: impl Into<String>) {
        self.remarks.push(Remark { place: place.into(), what, message: message.into() });
    }

    /// Leaves out the lights that no finish follows.
    pub(crate) fn keep_lights_in_use(&mut self) {
        let text = serde_json::to_string(&self.finishes).unwrap_or_default();
        self.lights.retain(|light| text.contains(&format!("\"follows\":{}", serde_json::json!(light.id))));
    }

    /// Gives everything ids and names that the project has not taken yet. What is there already and just the same is
    /// left out, so that reading a file twice brings nothing new.
    #[must_use]
    pub fn fitted_to(mut self, project: &Project) -> Self {
        self.swatches.retain(|swatch| !project.swatches.contains(swatch));
        self.lights.retain(|light| !project.lights.contains(light));
        self.finishes.retain(|finish| !project.finishes.contains(finish));
        let mut renamed: Vec<(&str, Id, Id)> = Vec::new();
        let mut taken = Taken::of(project.swatches.iter().map(|swatch| swatch.id.as_str()));
        for swatch in &mut self.swatches {
            let fresh = free_id(&mut taken, &swatch.id);
            renamed.push(("swatch", std::mem::replace(&mut swatch.id, fresh.clone()), fresh));
            let some = swatch.values.values().next().cloned();
            for theme in &project.themes {
                if let Some(some) = &some {
                    swatch.values.entry(theme.id.clone()).or_insert_with(|| some.clone());
                }
            }
            swatch.values.retain(|id, _| project.theme(id).is_some());
        }
        let mut taken = Taken::of(project.lights.iter().map(|light| light.id.as_str()));
        for light in &mut self.lights {
            let fresh = free_id(&mut taken, &light.id);
            renamed.push(("follows", std::mem::replace(&mut light.id, fresh.clone()), fresh));
            light.themes.retain(|id, _| project.theme(id).is_some());
        }
        let mut taken = Taken::of(project.finishes.iter().map(|finish| finish.id.as_str()));
        let mut names = Taken::of(project.finishes.iter().map(|finish| finish.name.as_str()));
        for finish in &mut self.finishes {
            finish.id = free_id(&mut taken, &finish.id);
            finish.name = names.free(&finish.name, ' ');
            *finish = referring(finish, &renamed);
        }
        self
    }

    /// Puts everything into a project document, of which nothing else changes: fields that are not understood stay.
    pub fn put_into(self, document: &mut serde_json::Value) {
        let lists = [
            ("swatches", serde_json::to_value(self.swatches)),
            ("lights", serde_json::to_value(self.lights)),
            ("finishes", serde_json::to_value(self.finishes)),
        ];
        for (name, list) in lists {
            let (Ok(serde_json::Value::Array(new)), Some(fields)) = (list, document.as_object_mut()) else {
                continue;
            };
            let entry = fields.entry(name).or_insert_with(|| serde_json::Value::Array(Vec::new()));
            if let serde_json::Value::Array(there) = entry {
                there.extend(new);
            }
        }
    }
}

/// The finishes of another project, with the swatches and lights they refer to.
#[must_use]
pub fn from_project(project: &Project) -> Incoming {
    let text = serde_json::to_string(&project.finishes).unwrap_or_default();
    let used = |id: &Id| text.contains(&format!("\"swatch\":{}", serde_json::json!(id)));
    let mut incoming = Incoming {
        finishes: project.finishes.clone(),
        swatches: project.swatches.iter().filter(|swatch| used(&swatch.id)).cloned().collect(),
        lights: project.lights.clone(),
        remarks: Vec::new(),
    };
    incoming.keep_lights_in_use();
    incoming
}

/// A finish with the ids it refers to replaced.
fn referring(finish: &Finish, renamed: &[(&str, Id, Id)]) -> Finish {
    if renamed.iter().all(|(_, old, new)| old == new) {
        return finish.clone();
    }
    let Ok(mut value) = serde_json::to_value(finish) else { return finish.clone() };
    refer(&mut value, renamed);
    serde_json::from_value(value).unwrap_or_else(|_| finish.clone())
}

fn refer(value: &mut serde_json::Value, renamed: &[(&str, Id, Id)]) {
    match value {
        serde_json::Value::Array(items) => items.iter_mut().for_each(|item| refer(item, renamed)),
        serde_json::Value::Object(fields) => {
            for (name, value) in fields {
                let new = renamed
                    .iter()
                    .find(|(field, old, _)| field == name && value.as_str() == Some(old.as_str()));
                match new {
                    Some((_, _, new)) => *value = serde_json::Value::String(new.as_str().to_owned()),
                    None => refer(value, renamed),
                }
            }
        }
        _ => {}
    }
}

fn free_id(taken: &mut Taken, id: &Id) -> Id {
    Id::new(taken.free(id.as_str(), '.')).unwrap_or_else(|_| id.clone())
}
