//! Where something lies that is dragged: offsets and bearings that are drawn to round values and lights, and pieces that are
//! drawn to the edges of others.
//!
//! Common practice, no published source.

mod bearing;
mod offset;
mod snap;

pub use bearing::{DraggedBearing, Precision, bearing};
pub use offset::{DraggedOffset, offset};
pub use snap::{DragBox, DraggedBox, Guide, SceneSize, SnappedBox, snap};

/// Px of the screen within which an offset is drawn to an axis or diagonal, and a piece to others.
const SNAP_PX: f64 = 5.0;

/// To whole units; `fine`, to tenths.
fn rounded(value: f64, fine: bool) -> f64 {
    // `+ 0.0` turns a negative zero into a plain one.
    if fine { (value * 10.0).round() / 10.0 + 0.0 } else { value.round() + 0.0 }
}
