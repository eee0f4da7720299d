//! Who sent a request.

use std::future::{Ready, ready};

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest};

/// An open editor, or else everybody at an address.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Client {
    /// Its address, and what it calls itself.
    pub name: String,
    /// The name of this request; a newer one of the same name cancels it.
    pub question: Option<String>,
}

/// Names an editor, so that several at one address get a fair share each.
const EDITOR_HEADER: &str = "zolvet-editor";
/// Names a request that cancels older ones of the same name.
const QUESTION_HEADER: &str = "zolvet-question";
/// Characters of these that count.
const NAME_CHARACTERS: usize = 64;

impl Client {
    /// Who sent a request.
    pub fn of(request: &HttpRequest) -> Self {
        let header = |name: &str| {
            let value = request.headers().get(name)?.to_str().ok()?;
            Some(value.chars().take(NAME_CHARACTERS).collect::<String>())
        };
        let address = request.peer_addr().map_or_else(String::new, |peer| peer.ip().to_string());
        let name = format!("{address} {}", header(EDITOR_HEADER).unwrap_or_default());
        Self { name, question: header(QUESTION_HEADER) }
    }
}

impl FromRequest for Client {
    type Error = std::convert::Infallible;
    type Future = Ready<Result<Self, Self::Error>>;

    fn from_request(request: &HttpRequest, _payload: &mut Payload) -> Self::Future {
        ready(Ok(Self::of(request)))
    }
}
