//! Projects that stay open between queries, so that a client sends only changes.

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

/// Versions kept of an open project: requests that are on their way at the same time name different ones.
const VERSIONS: usize = 8;
/// Pictures of a session whose parts are kept, so that the next one redraws only differences.
const PICTURES: usize = 4;
/// Sessions kept at most.
const MAX_SESSIONS: usize = 256;
/// Characters of the name of a session.
const MAX_NAME_CHARACTERS: usize = 128;

/// A project as a session sends it: first the whole document, afterwards a patch to a version sent before.
#[derive(Debug, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeldProject {
    /// A name of up to 128 characters that nobody else can guess, chosen by the client.
    session: String,
    /// The version that the request is about, which is kept from now on.
    version: u64,
    /// The whole document of this version.
    #[cfg_attr(feature = "schema", schema(value_type = Option<Project>))]
    document: Option<Value>,
    /// The version that the patch changes.
    from: Option<u64>,
    /// The changes: a JSON Patch (RFC 6902) with `add`, `replace` and `remove`.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(value_type = Vec<Object>))]
    patch: Vec<PatchOperation>,
}

/// A project document, or one that a session has open.
#[derive(Debug, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum ProjectOrHeld {
    /// The whole document.
    Project(Box<Project>),
    /// An open one, or one to be kept open from now on.
    Held(HeldProject),
}

/// The projects of all sessions.
#[derive(Debug)]
pub struct OpenProjects {
    /// Bytes of text that all open documents may have together.
    capacity: usize,
    /// Least recently used first.
    sessions: Mutex<Vec<Session>>,
}

#[derive(Debug)]
struct Session {
    /// The client, as far as it is known, and the name of the session.
    key: (String, String),
    /// The newest at the end.
    versions: VecDeque<Version>,
    /// The sources of pictures, by their numbers, the newest at the end.
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
    /// No open projects; all together may have this many bytes of text.
    #[must_use]
    pub const fn with_capacity(capacity: usize) -> Self {
        Self { capacity, sessions: Mutex::new(Vec::new()) }
    }

    /// The project of a request, whole or by its session.
    ///
    /// # Errors
    /// When the document is not valid, or the patched version is not open or does not take the patch.
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

    /// Decodes a version that is not open yet.
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

    /// The parts of the picture with this number, in the session of a request.
    pub(crate) fn previous_picture(&self, owner: &str, project: &Value, number: u64) -> Option<Arc<Shown>> {
        let name = project.get("session")?.as_str()?;
        let sessions = self.sessions.lock().unwrap_or_else(PoisonError::into_inner);
        let session = sessions.iter().find(|session| session.is_of(owner, name))?;
        session.shown.iter().find(|(known, _)| *known == number).map(|(_, shown)| Arc::clone(shown))
    }

    /// Keeps the parts of a picture, in the session of a request.
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

/// The client with the most, apart from the newest session.
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
