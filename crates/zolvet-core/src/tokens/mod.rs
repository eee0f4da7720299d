//! Design tokens in and out: the Design Tokens Community Group's format, report of 2025.10 ("Design Tokens Format
//! Module", sections named beside what follows them).

mod read;
mod write;

pub use read::{TokenError, read};
pub use write::write;

/// The key for what the format itself cannot express (§5.2.3, "Extensions").
pub const EXTENSION: &str = "app.zolvet";
