//! Instruments: what a finished picture is measured with.

mod profile;

pub use profile::{Profile, Sample, edge_profile};
