//! How a piece's surface is drawn, and the states it can be in.

use serde::{Deserialize, Serialize};

/// How a piece's surface is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Surface {
    /// Drawn.
    #[default]
    Keep,
    /// A hole: drop shadows stay outside it, inner shadows in it.
    CutOut,
    /// Not drawn; the coats are.
    Hide,
}

/// A state of a piece other than at rest.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum State {
    /// The pointer is over it.
    Hover,
    /// It is pressed.
    Pressed,
    /// The keyboard is on it.
    Focus,
    /// It cannot be used.
    Disabled,
}

impl State {
    /// In the order of their rules: a button that is pressed is under the pointer too, and may have the focus.
    pub const WEAKEST_FIRST: [Self; 4] = [Self::Hover, Self::Focus, Self::Pressed, Self::Disabled];

    /// Whether nothing of what is said for weaker states stays. What only hover says stays where the focus is added to it, as
    /// its ring does.
    #[must_use]
    pub fn stands_alone(self) -> bool {
        matches!(self, Self::Pressed | Self::Disabled)
    }

    /// The state's name, as the document and exported files write it.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Hover => "hover",
            Self::Pressed => "pressed",
            Self::Focus => "focus",
            Self::Disabled => "disabled",
        }
    }
}
