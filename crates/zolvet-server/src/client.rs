//! The sender of a request, as far as the service knows it by itself: by session, by link, by address.
//!
//! The name that a client gives itself only divides the share of the sender it belongs to.

use std::collections::HashMap;
use std::future::{Ready, ready};
use std::net::IpAddr;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpMessage as _, HttpRequest};

use crate::error::ApiError;

/// The kind of admission of a request. Each kind has one share of the service, divided among those of the kind.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Principal {
    /// Somebody at an address who has shown nothing.
    Stranger(IpAddr),
    /// Somebody at an address who has a link, by its token.
    Visitor(IpAddr, String),
    /// Somebody on this machine, where nobody else can reach the service.
    Local(IpAddr),
    /// The owner, by the token of a session.
    Session(String),
}

impl Principal {
    /// A name for the share that all of its kind have together, and one for its own part of it.
    fn shares(&self) -> [String; 2] {
        match self {
            Self::Stranger(address) => [OUTSIDE.to_owned(), format!("stranger {address}")],
            Self::Visitor(address, token) => [OUTSIDE.to_owned(), format!("visitor {address} {token}")],
            Self::Local(address) => [INSIDE.to_owned(), format!("local {address}")],
            Self::Session(token) => [INSIDE.to_owned(), format!("session {token}")],
        }
    }
}

/// The share of strangers and of visitors of links.
pub const OUTSIDE: &str = "outside";
/// The share of owners.
const INSIDE: &str = "inside";

/// The sender of a request, and the name of the request.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Client {
    /// The names of its shares, from the largest: all of its kind, the account it was admitted as, the editor.
    pub shares: [String; 3],
    /// The name of this request, with its editor's; a newer one of the same name cancels it.
    pub request: Option<String>,
}

/// Names an editor, so that several of one principal divide its share evenly.
const EDITOR_HEADER: &str = "zolvet-editor";
/// Names a request that cancels older ones of the same name.
const QUESTION_HEADER: &str = "zolvet-question";
/// Characters of these that count.
const MAX_NAME_CHARACTERS: usize = 64;

impl Client {
    /// The sender of a request.
    ///
    /// # Errors
    /// 403 where the request was admitted by no route.
    pub fn identify(request: &HttpRequest) -> Result<Self, ApiError> {
        let principal =
            request.extensions().get::<Principal>().cloned().ok_or_else(ApiError::not_admitted)?;
        let header = |name: &str| {
            let value = request.headers().get(name)?.to_str().ok()?;
            Some(value.chars().take(MAX_NAME_CHARACTERS).collect::<String>())
        };
        let [kind, owner] = principal.shares();
        let editor = header(EDITOR_HEADER).unwrap_or_default();
        // What one editor calls a request is not what another calls one, whatever share they have.
        let request = header(QUESTION_HEADER).map(|request| format!("{editor}\n{request}"));
        let has_share = kind == INSIDE && EDITORS.is_known(&owner, &editor);
        let editor = if has_share { editor } else { String::new() };
        Ok(Self { shares: [kind, owner, editor], request })
    }

    /// The sender as it was admitted, without the name that the client gives itself.
    pub fn owner(&self) -> &str {
        &self.shares[1]
    }

    /// Whether it has shown nothing but an address, or a link.
    pub fn is_outside(&self) -> bool {
        self.shares[0] == OUTSIDE
    }
}

impl FromRequest for Client {
    type Error = ApiError;
    type Future = Ready<Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, _payload: &mut Payload) -> Self::Future {
        ready(Self::identify(request))
    }
}

/// Editors that were there for a while. A name gets a share of its own only then; before, all new names have one together,
/// so that a new name with each request gains nothing.
struct Editors(Mutex<Option<HashMap<String, HashMap<String, Seen>>>>);

static EDITORS: Editors = Editors(Mutex::new(None));

#[derive(Clone, Copy)]
struct Seen {
    first: Instant,
    last: Instant,
}

/// How long a name has to be there until it has a share of its own.
const PROBATION: Duration = Duration::from_secs(1);
/// How long a name that is not seen is remembered.
const FORGOTTEN_AFTER: Duration = Duration::from_secs(5);
/// Names that are remembered of one principal, and principals whose names are.
const MAX_NAMES: usize = 512;
const MAX_PRINCIPALS: usize = 256;

impl Editors {
    fn is_known(&self, owner: &str, editor: &str) -> bool {
        if editor.is_empty() {
            return false;
        }
        let now = Instant::now();
        let mut owners = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let owners = owners.get_or_insert_default();
        if owners.len() >= MAX_PRINCIPALS && !owners.contains_key(owner) {
            owners.retain(|_, names| names.values().any(|seen| now - seen.last < FORGOTTEN_AFTER));
            if owners.len() >= MAX_PRINCIPALS {
                return false;
            }
        }
        let names = owners.entry(owner.to_owned()).or_default();
        if let Some(seen) = names.get_mut(editor) {
            if now - seen.last > FORGOTTEN_AFTER {
                seen.first = now;
            }
            seen.last = now;
            return now - seen.first >= PROBATION;
        }
        if names.len() >= MAX_NAMES {
            names.retain(|_, seen| now - seen.last < FORGOTTEN_AFTER);
        }
        if names.len() < MAX_NAMES {
            names.insert(editor.to_owned(), Seen { first: now, last: now });
        }
        false
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_has_a_share_of_its_own_once_it_was_there_for_a_while() {
        let editors = Editors(Mutex::new(None));
        assert!(!editors.is_known("a", "new"));
        for number in 0..2 * MAX_NAMES {
            assert!(!editors.is_known("a", &format!("rotating {number}")));
        }
        std::thread::sleep(PROBATION);
        assert!(editors.is_known("a", "new"), "others that come and go do not drive it out");
        assert!(!editors.is_known("b", "new"), "somebody else's name is another");
        assert!(!editors.is_known("a", ""));
    }
}
