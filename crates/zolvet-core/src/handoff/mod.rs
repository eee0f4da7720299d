//! What leaves: a piece or finish held by a target, how close that comes, and the texts and files themselves.
//!
//! A target cannot hold everything. [`hold`] says what is left of a piece in one: an element that a browser paints by
//! itself and a filter laid on it. The writers print exactly that, and [`faithfulness`] shows exactly that, so what is
//! promised is what is written.

mod browser;
mod bundle;
mod export;
mod faithful;
mod held;
mod notes;
mod numbers;
mod sheet;
mod trial;
mod whole;

pub use bundle::{File, bundle};
pub use export::{Format, export};
pub use faithful::{Faithfulness, Predicted, faithfulness, predicted, shown_as_css, shown_as_svg};
pub use held::{Held, HeldFilter, Target, best_target, hold, targets_of};
pub use notes::{Fidelity, FidelityNote, Notes};
pub use numbers::Numbers;
pub use sheet::{SheetWanted, scss, sheet};
pub use trial::{TRIAL_SIZE, TrialPiece, trial};
pub use whole::{PieceFaithfulness, project_faithfulness, surroundings};
