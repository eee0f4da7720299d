//! What a picture of one ground cannot tell.

use serde::Serialize;

use super::pixels::Colour;
use crate::solve::shadow::Shadow;
use crate::syntax::round_to;

/// Something that more than one stack would show alike.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(tag = "kind", rename_all = "camelCase")]
pub enum MatchNote {
    /// On one ground a paler colour and less of a darker one are the same: the opacity given is the least, that of the
    /// darkest colour, and any up to the most would look alike.
    Opacity {
        /// Which shadow outside, from 0.
        shadow: usize,
        /// The least opacity.
        least: f64,
        /// The most.
        most: f64,
    },
    /// A little more spread with less opacity looks the same, where nothing is blurred much.
    Spread {
        /// Which shadow outside, from 0.
        shadow: usize,
    },
}

/// A blur of less hardly tells spread and opacity apart, in px.
const LITTLE: f64 = 4.0;

/// What the stack of a picture leaves open.
pub fn notes(outside: &[Shadow], ground: Colour) -> Vec<MatchNote> {
    let of = |(shadow, found): (usize, &Shadow)| {
        let opacity = MatchNote::Opacity { shadow, least: round_to(found.opacity, 3), most: 1.0 };
        let is_open = found.opacity < 0.98 && ground.iter().sum::<f64>() > 0.0;
        let spread = (found.blur < LITTLE).then_some(MatchNote::Spread { shadow });
        is_open.then_some(opacity).into_iter().chain(spread)
    };
    outside.iter().enumerate().flat_map(of).collect()
}
