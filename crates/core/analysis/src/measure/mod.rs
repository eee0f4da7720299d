//! Instruments: measures of a finished picture.

mod banding;
mod closeup;
mod contrast;
mod edge;
mod faithful;
mod inside;
mod lying_on;
mod observer;
mod profile;
mod project;
mod screens;
mod squint;
mod text;

pub use banding::banded;
pub use closeup::{Part, closeup};
pub use contrast::{FOR_PARTS, contrast, for_text, luminance};
pub use edge::{EdgePoint, EdgeVisibility, edge_view};
pub use faithful::{
    CoatFidelity, Faithfulness, PieceRegion, SvgFaithfulness, can_be_seen, faithfulness, is_clearly_closer,
    svg_faithfulness,
};
pub use lying_on::lying_on;
pub use observer::{EdgeProbe, Observer, PieceVisibility};
pub use profile::{CoatProfile, Line, Profile, Sample, ScenePoint, edge_profile, whole_profile};
pub use project::{PieceFaithfulness, project_faithfulness, surroundings};
pub use screens::{Deficiency, Screen};
pub use squint::{ViewingConditions, squinted};
pub use text::{TextContrast, glyph_colours, text_contrast};
