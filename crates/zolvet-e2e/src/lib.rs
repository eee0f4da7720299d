//! Helpers of the tests of the real interface: headless Chromium, a running Zolvet, and pictures to compare.

mod app;
pub mod artwork;
mod browser;
pub mod cards;
pub mod chance;
mod computed;
mod difference;
mod judge;
pub mod large;
pub mod plain;
pub mod slow_network;
pub mod tour;
mod workbench;

pub use app::{App, program, started};
pub use browser::Browser;
pub use computed::{Computed, assert_same, computed};
pub use difference::{Difference, crop, keep_pictures};
pub use judge::{Judgement, judge};
pub use workbench::Workbench;

/// An error of a test helper.
pub type Failure = Box<dyn std::error::Error + Send + Sync>;
/// The result of a test helper.
pub type Outcome<T = ()> = Result<T, Failure>;
