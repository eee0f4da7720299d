//! The context that values are computed in, and the errors of computing them.

use crate::colour::Rgba;

/// The context that values are computed in.
pub(in super::super) trait ValueContext {
    /// The font size in px.
    fn font_size(&self) -> f64;
    /// The font size of the root in px.
    fn root_font_size(&self) -> f64;
    /// Width and height of the viewport, in px.
    fn viewport(&self) -> (f64, f64) {
        (1280.0, 800.0)
    }
    /// The length that percentages refer to, where they come to one.
    fn whole(&self) -> Option<f64> {
        None
    }
    /// The colour of the text.
    fn current_colour(&self) -> Option<Rgba>;
    /// Whether colours are those of a dark scheme.
    fn is_dark(&self) -> bool {
        false
    }
}

/// The context of an element that no sheet styles: the initial values of browsers.
pub(in super::super) struct Plain;

impl ValueContext for Plain {
    fn font_size(&self) -> f64 {
        16.0
    }

    fn root_font_size(&self) -> f64 {
        16.0
    }

    fn current_colour(&self) -> Option<Rgba> {
        Some(Rgba::new(0.0, 0.0, 0.0, 1.0))
    }
}

/// Why a value does not come to anything.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(in super::super) enum ValueError {
    /// Browsers reject it as well, for this reason.
    Invalid(String),
    /// Browsers take it; the construct is not followed here.
    Construct(String),
}

impl ValueError {
    pub(super) fn invalid(what: impl Into<String>) -> Self {
        Self::Invalid(what.into())
    }
}
