//! Design tokens in and out: the Design Tokens Community Group's format, report of 2025.10 ("Design Tokens Format
//! Module", sections named beside what follows them).

mod error;
mod modes;
mod read;
mod resolver;
mod set;
mod spelling;
mod text;
mod token;
mod values;
mod words;
mod write;

pub use error::TokenError;
pub use read::{read, read_files};
pub use set::TokenFile;
pub use write::{TokenForm, TokenOptions, write, write_modes};

/// The key for values that the format itself cannot express (§5.2.3, "Extensions").
pub const EXTENSION: &str = "app.zolvet";
