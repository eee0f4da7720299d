//! Reading whole style sheets: a browser's computed styles, element by element, become finishes.
//!
//! Files are cut into rules ([`parse`]). Every selector of a rule about depth is read into the least element it is about
//! ([`sample`]), which is put on a page of its own ([`element`]). There the cascade ([`cascade`]) and the values it leads to
//! ([`style`]) say what the element has of depth ([`depth`]), at rest, in its states and in each theme ([`library`]); and that
//! is what the finishes hold ([`finishes`]).

mod cascade;
mod compound;
mod conditions;
mod depth;
mod element;
mod file;
mod finishes;
mod layers;
mod library;
mod nesting;
mod parse;
mod read;
mod remarks;
mod sample;
mod schemes;
mod selector;
mod settings;
mod style;
mod text;
mod theme;
mod user_agent;
mod variables;
mod variants;

pub use file::StyleFile;
pub use read::{ElementReading, PropertyReading, elements, import, import_files};
pub use settings::Settings;
