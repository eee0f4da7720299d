//! Instruments: what a finished picture is measured with.

mod banding;
mod contrast;
mod edge;
mod faithful;
mod profile;
mod project;
mod screens;
mod seen;
mod sight;
mod text;

pub use banding::banded;
pub use contrast::{FOR_PARTS, contrast, for_text, luminance};
pub use edge::{EdgePoint, EdgeSight, edge_view};
pub use faithful::{CoatFidelity, Faithfulness, faithfulness};
pub use profile::{CoatProfile, Line, Place, Profile, Sample, edge_profile, whole_profile};
pub use project::{PieceFaithfulness, project_faithfulness, surroundings};
pub use screens::{Screen, Weakness};
pub use seen::{Eye, PieceSight};
pub use sight::{Sight, squinted};
pub use text::{TextSight, letters_alone, text_sight};
