//! The audit of a whole project: parts that are hard to see, parts that are inconsistent, parts that a target draws
//! differently.
//!
//! Each finding has a subject, a place, a reason and a severity in numbers, and, where there is one, a fix: a few
//! values of the document to set. Limits are common practice, no published source, unless a standard is named.

mod auditor;
mod colour;
mod depth;
mod fewer;
mod finding;
mod fix;
mod flat;
mod heights;
mod library;
mod light;
mod page;
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
