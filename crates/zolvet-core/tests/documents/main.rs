//! Documents and everything read into them, written from them, found in them and solved for them.

#![allow(missing_docs)]

mod arrange;
mod artwork;
mod audit;
mod fittings;
mod forms;
mod fuzz;
mod groups;
mod handoff;
mod lowering;
mod matching;
mod names;
mod pages;
mod raise;
mod reading;
mod sheets;
mod solve;
mod tokens;
