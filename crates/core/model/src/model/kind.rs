//! What coats of all kinds can be asked.

use std::borrow::Cow;

use super::piece::{CoatKind, Drop};
use super::{BlurRadius, ColourSource, Id, Inner, Offset, Raised, Ramp, RampShadow, Spread, Stroke};

/// Where a coat lies in the stack.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CoatLayer {
    /// On the surface of the piece.
    On,
    /// Under the piece.
    Under,
    /// Behind the piece, and seen through it.
    Behind,
}

impl CoatKind {
    /// A drop shadow with nothing special about it.
    #[must_use]
    pub fn drop(offset: Offset, blur: BlurRadius, spread: Spread, colour: ColourSource) -> Self {
        let (knock_out, falloff, grain, substitute) = (None, None, None, None);
        Self::Drop(Drop { offset, blur, spread, colour, knock_out, falloff, grain, substitute })
    }

    /// An inner shadow with nothing special about it.
    #[must_use]
    pub fn inner(offset: Offset, blur: BlurRadius, spread: Spread, colour: ColourSource) -> Self {
        Self::Inner(Inner { offset, blur, spread, colour, falloff: None, grain: None })
    }

    /// The kind's name, as the document writes it.
    #[must_use]
    pub fn name(&self) -> &'static str {
        match self {
            Self::Drop(_) => "drop",
            Self::Inner(_) => "inner",
            Self::Highlight(_) => "highlight",
            Self::Tint(_) => "tint",
            Self::Stroke(_) => "stroke",
            Self::Blur(_) => "blur",
            Self::Extrude(_) => "extrude",
            Self::Cast(_) => "cast",
            Self::Backdrop(_) => "backdrop",
            Self::Ramp(_) => "ramp",
            Self::Raised(_) => "raised",
        }
    }

    /// The ramp, where it is one.
    #[must_use]
    pub fn ramp(&self) -> Option<&Ramp> {
        if let Self::Ramp(ramp) = self { Some(ramp) } else { None }
    }

    /// The shadows of a height, where it is those.
    #[must_use]
    pub fn raised(&self) -> Option<&Raised> {
        if let Self::Raised(raised) = self { Some(raised) } else { None }
    }

    /// The stroke, where it is one.
    #[must_use]
    pub fn stroke(&self) -> Option<&Stroke> {
        if let Self::Stroke(stroke) = self { Some(stroke) } else { None }
    }

    /// The offsets and colours of the shadows it casts along the piece's own edge: one of a drop or inner shadow, both ends of a ramp,
    /// each of a height.
    #[must_use]
    pub fn shadow_ends(&self) -> Vec<(Cow<'_, Offset>, &ColourSource)> {
        let end = |offset, colour| (Cow::Borrowed(offset), colour);
        match self {
            Self::Drop(drop) => vec![end(&drop.offset, &drop.colour)],
            Self::Inner(inner) => vec![end(&inner.offset, &inner.colour)],
            Self::Ramp(ramp) => [&ramp.near, &ramp.far].map(|one| end(&one.offset, &one.colour)).to_vec(),
            Self::Raised(raised) => {
                let ends = raised.shadows.iter().map(|shadow| Cow::Owned(raised.offset(shadow)));
                ends.map(|offset| (offset, &raised.colour)).collect()
            }
            Self::Highlight(_)
            | Self::Tint(_)
            | Self::Stroke(_)
            | Self::Blur(_)
            | Self::Extrude(_)
            | Self::Cast(_)
            | Self::Backdrop(_) => Vec::new(),
        }
    }

    /// Where coats of this kind lie.
    #[must_use]
    pub fn layer(&self) -> CoatLayer {
        match self {
            Self::Drop(_) | Self::Extrude(_) | Self::Cast(_) | Self::Raised(_) => CoatLayer::Under,
            Self::Ramp(ramp) if ramp.shadow == RampShadow::Drop => CoatLayer::Under,
            Self::Backdrop(_) => CoatLayer::Behind,
            Self::Inner(_)
            | Self::Highlight(_)
            | Self::Tint(_)
            | Self::Stroke(_)
            | Self::Blur(_)
            | Self::Ramp(_) => CoatLayer::On,
        }
    }

    /// The offset, for the kinds that have one; a ramp's is that of its near end.
    #[must_use]
    pub fn offset(&self) -> Option<&Offset> {
        match self {
            Self::Drop(drop) => Some(&drop.offset),
            Self::Inner(inner) => Some(&inner.offset),
            Self::Extrude(extrude) => Some(&extrude.offset),
            Self::Ramp(ramp) => Some(&ramp.near.offset),
            Self::Highlight(_)
            | Self::Tint(_)
            | Self::Stroke(_)
            | Self::Blur(_)
            | Self::Cast(_)
            | Self::Backdrop(_)
            | Self::Raised(_) => None,
        }
    }

    /// The main colour, for the kinds that have one; a ramp's is that of its near end.
    #[must_use]
    pub fn colour(&self) -> Option<&ColourSource> {
        match self {
            Self::Drop(drop) => Some(&drop.colour),
            Self::Inner(inner) => Some(&inner.colour),
            Self::Extrude(extrude) => Some(&extrude.near),
            Self::Cast(cast) => Some(&cast.colour),
            Self::Ramp(ramp) => Some(&ramp.near.colour),
            Self::Raised(raised) => Some(&raised.colour),
            Self::Highlight(_) | Self::Tint(_) | Self::Stroke(_) | Self::Blur(_) | Self::Backdrop(_) => None,
        }
    }

    /// The light it follows, for the kinds that follow one without an offset.
    #[must_use]
    pub fn follows(&self) -> Option<&Id> {
        match self {
            Self::Highlight(highlight) => highlight.follows.as_ref(),
            Self::Cast(cast) => cast.follows.as_ref(),
            Self::Raised(raised) => raised.follows.as_ref(),
            Self::Drop(_)
            | Self::Inner(_)
            | Self::Tint(_)
            | Self::Stroke(_)
            | Self::Blur(_)
            | Self::Extrude(_)
            | Self::Backdrop(_)
            | Self::Ramp(_) => None,
        }
    }
}
