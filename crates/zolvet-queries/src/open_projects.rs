//! Projects that are held between questions, so that only what changes has to be sent.

use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, PoisonError};

use json_patch::PatchOperation;
use serde::Deserialize;
use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::compose::Shown;
use zolvet_core::limits;
use zolvet_core::model::Project;

use crate::QueryError;

/// Versions of a project that are held: questions that are on their way at the same time name different ones.
const VERSIONS: usize = 8;
/// Pictures of which it is known what they were made from.
const PICTURES: usize = 4;
/// Sessions that are held at most.
const MAX_SESSIONS: usize = 256;
/// Characters of the name of a session.
const MAX_NAME_CHARACTERS: usize = 128;

/// A project that a session holds: opened with a document, afterwards said by what has changed.
#[derive(Debug, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeldProject {
    /// A name of up to 128 characters that nobody else can guess, made by whoever asks.
    session: String,
    /// The version that the question is about, which is held from now on.
    version: u64,
    /// The whole document of this version.
    #[cfg_attr(feature = "schema", schema(value_type = Option<Project>))]
    document: Option<Value>,
    /// The version that was held before.
    from: Option<u64>,
    /// What has changed since that: a JSON Patch (RFC 6902) with `add`, `replace` and `remove`.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(value_type = Vec<Object>))]
    patch: Vec<PatchOperation>,
}

/// A project document, or one that a session holds.
#[derive(Debug, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum ProjectOrHeld {
    /// The whole document.
    Project(Box<Project>),
    /// One that is held, or is to be held from now on.
    Held(HeldProject),
}

/// The projects of all sessions.
#[derive(Debug)]
pub struct OpenProjects {
    /// Bytes of documents that may be held in all, as text.
    capacity: usize,
    /// Those used last at the end.
    sessions: Mutex<Vec<Session>>,
}

#[derive(Debug)]
struct Session {
    /// Whoever asks, as far as that is known, and the name of the session.
    key: (String, String),
    /// The newest at the end.
    versions: VecDeque<Version>,
    /// What pictures were made from, by their numbers, the newest at the end.
    shown: VecDeque<(u64, Arc<Shown>)>,
}

#[derive(Debug, Clone)]
struct Version {
    number: u64,
    /// As text, about.
    bytes: usize,
    project: Arc<Project>,
}

type Key = (String, String);

impl Session {
    fn is_of(&self, owner: &str, name: &str) -> bool {
        self.key.0 == owner && self.key.1 == name
    }

    fn bytes(&self) -> usize {
        self.versions.iter().map(|version| version.bytes).sum()
    }
}

impl OpenProjects {
    /// Holds nothing yet, and documents of at most this many bytes of text in all.
    #[must_use]
    pub const fn with_capacity(capacity: usize) -> Self {
        Self { capacity, sessions: Mutex::new(Vec::new()) }
    }

    /// The project a question says, in either way.
    ///
    /// # Errors
    /// When the document is not valid, or the version it is a change of is not held or cannot be changed like that.
    pub fn project(&self, owner: &str, value: &Value) -> Result<Arc<Project>, QueryError> {
        if value.get("session").is_none() || value.get("schema").is_some() {
            return decoded(value).map(Arc::new);
        }
        let held = HeldProject::deserialize(value)
            .map_err(|error| QueryError::invalid_at("", format!("expected a held project: {error}")))?;
        if held.session.chars().count() > MAX_NAME_CHARACTERS {
            let message = format!("expected at most {MAX_NAME_CHARACTERS} characters");
            return Err(QueryError::invalid_at("/session", message));
        }
        let key = (owner.to_owned(), held.session.clone());
        if let Some(version) = self.find(&key, held.version) {
            return Ok(version.project);
        }
        let version = self.version(&key, &held)?;
        let project = Arc::clone(&version.project);
        self.hold(key, version);
        Ok(project)
    }

    /// A version that is not held yet.
    fn version(&self, key: &Key, held: &HeldProject) -> Result<Version, QueryError> {
        if let Some(document) = &held.document {
            let bytes = serde_json::to_string(document).map_err(QueryError::internal)?.len();
            return Ok(Version { number: held.version, bytes, project: Arc::new(decoded(document)?) });
        }
        let before = held.from.and_then(|from| self.find(key, from)).ok_or(QueryError::Lost)?;
        let grown: usize = held.patch.iter().map(|operation| operation.to_string().len()).sum();
        let bytes = before.bytes + grown;
        if bytes > limits::DOCUMENT_BYTES {
            // The whole document says how large it has really become.
            return Err(QueryError::Lost);
        }
        // What cannot be made of it, the whole document says why.
        let project = before.project.edited(&held.patch).map_err(|_| QueryError::Lost)?;
        Ok(Version { number: held.version, bytes, project: Arc::new(project) })
    }

    /// A version, and its session as the one used last.
    fn find(&self, key: &Key, number: u64) -> Option<Version> {
        let mut sessions = self.sessions.lock().unwrap_or_else(PoisonError::into_inner);
        let at = sessions.iter().position(|session| session.key == *key)?;
        sessions[at..].rotate_left(1);
        let session = sessions.last()?;
        session.versions.iter().find(|version| version.number == number).cloned()
    }

    /// What the picture with this number was made from, in the session of a question.
    pub(crate) fn previous_picture(&self, owner: &str, project: &Value, number: u64) -> Option<Arc<Shown>> {
        let name = project.get("session")?.as_str()?;
        let sessions = self.sessions.lock().unwrap_or_else(PoisonError::into_inner);
        let session = sessions.iter().find(|session| session.is_of(owner, name))?;
        session.shown.iter().find(|(known, _)| *known == number).map(|(_, shown)| Arc::clone(shown))
    }

    /// Notes what a picture was made from, in the session of a question.
    pub(crate) fn show(&self, owner: &str, project: &Value, number: u64, shown: Shown) {
        let name = project.get("session").and_then(Value::as_str).unwrap_or_default();
        let mut sessions = self.sessions.lock().unwrap_or_else(PoisonError::into_inner);
        let Some(session) = sessions.iter_mut().find(|session| session.is_of(owner, name)) else { return };
        session.shown.push_back((number, Arc::new(shown)));
        if session.shown.len() > PICTURES {
            session.shown.pop_front();
        }
    }

    fn hold(&self, key: Key, version: Version) {
        let mut sessions = self.sessions.lock().unwrap_or_else(PoisonError::into_inner);
        let mut session = match sessions.iter().position(|session| session.key == key) {
            Some(at) => sessions.remove(at),
            None => Session { key, versions: VecDeque::new(), shown: VecDeque::new() },
        };
        session.versions.push_back(version);
        if session.versions.len() > VERSIONS {
            session.versions.pop_front();
        }
        sessions.push(session);
        while sessions.len() > 1 {
            if sessions.iter().map(Session::bytes).sum::<usize>() > self.capacity {
                let owner = holds_most(&sessions, Session::bytes);
                if !drop_older_version(&mut sessions, &owner) {
                    drop_session(&mut sessions, &owner);
                }
            } else if sessions.len() > MAX_SESSIONS {
                let owner = holds_most(&sessions, |_| 1);
                drop_session(&mut sessions, &owner);
            } else {
                break;
            }
        }
    }
}

/// Whoever holds the most, the newest session left out.
fn holds_most(sessions: &[Session], weight: impl Fn(&Session) -> usize) -> String {
    let mut held: HashMap<&str, usize> = HashMap::new();
    for session in sessions {
        *held.entry(&session.key.0).or_default() += weight(session);
    }
    let older = sessions[..sessions.len() - 1].iter().map(|session| session.key.0.as_str());
    older.max_by_key(|owner| held.get(owner).copied()).unwrap_or_default().to_owned()
}

/// Drops the oldest version of the session with the most of them; false where each has the two that a change needs.
fn drop_older_version(sessions: &mut [Session], owner: &str) -> bool {
    let own = sessions.iter_mut().filter(|session| session.key.0 == owner && session.versions.len() > 2);
    let longest = own.max_by_key(|session| session.versions.len());
    longest.and_then(|session| session.versions.pop_front()).is_some()
}

/// Drops the session that was used least lately, the newest left out.
fn drop_session(sessions: &mut Vec<Session>, owner: &str) {
    let older = &sessions[..sessions.len() - 1];
    let at = older.iter().position(|session| session.key.0 == owner).unwrap_or(0);
    sessions.remove(at);
}

fn decoded(document: &Value) -> Result<Project, QueryError> {
    let project = Project::from_value(document).map_err(QueryError::Invalid)?;
    Assets::check(&project).map_err(QueryError::Invalid)?;
    Ok(project)
}
