//! Pages of somebody's own (docs/pages.md).
//!
//! A page is read from its files ([`read`]) and rebuilt as one HTML file that runs nothing, leads nowhere and asks nobody
//! ([`rebuild`]); selectors such as a person would write are found for its elements ([`offers`]).

mod attributes;
mod css;
mod files;
mod mhtml;
mod names;
mod offers;
mod read;
mod rebuild;

pub use files::PageFile;
pub use offers::{Offer, Offers, offers};
pub use read::{PageError, ReadPage, read};
pub use rebuild::{ELEMENT, POLICY, rebuild};
