//! The audit of a whole project: what is hard to see, what is inconsistent, what a target draws differently.
//!
//! Each finding says what, where, why it matters and how bad it is in numbers, and, where there is one, offers a fix: a
//! few values of the document to set. Limits are common practice, no published source, unless a standard is named.

mod auditor;
mod colour;
mod depth;
mod fewer;
mod finding;
mod fix;
mod library;
mod light;
mod references;
mod run;
mod shipped;
mod stack_findings;
mod stacks;
mod visibility;

pub use fewer::{NoFewer, fewer_shadows};
pub use finding::{Audit, Finding, FindingKind, Limits, Location, Severity};
pub use fix::Fix;
pub use run::audit;
