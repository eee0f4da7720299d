//! Instruments: what a finished picture is measured with.

mod profile;

pub use profile::{CoatProfile, Line, Place, Profile, Sample, edge_profile};
