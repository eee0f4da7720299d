//! Documents for tests: any there could be ([`any`]), libraries of finishes that are handed off ([`library`]), and a star that wears
//! coats of every kind ([`star`]); questions about the demo ([`questions`]).

pub mod any;
pub mod library;
pub mod questions;
pub mod star;
