//! Closed lines.

/// A closed line; its last point is joined to its first.
pub type Contour = Vec<[f64; 2]>;
