//! Found shadows and borders as coats of a document.

use super::found::{MatchedPicture, MatchedStack};
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::model::{
    Coat, CoatKind, ColourSource, CssColour, Fill, Id, Length, Opacity, SolidFill, Stroke, StrokeCap,
    StrokeJoin, StrokeSide,
};
use crate::solve::shadow::{Shadow, Side};
use crate::solve::stack::Group;

/// The coats of a stack that was found, nearest the eye first: a border as a stroke, inner shadows, drop shadows.
#[must_use]
pub fn coats(found: &MatchedPicture, stack: &MatchedStack) -> Vec<Coat> {
    of(found.border, &stack.outside, &stack.inside)
}

/// The same, of a border's width and colour and of shadows that begin inside it, as they do in CSS and in a document.
pub fn of(border: Option<(f64, Rgba)>, outside: &[Shadow], inside: &[Shadow]) -> Vec<Coat> {
    let mut all: Vec<Coat> = border.into_iter().map(stroke).collect();
    all.extend(Group::empty(Side::Inside).to_coats(inside));
    all.extend(Group::empty(Side::Outside).to_coats(outside));
    all
}

fn stroke((width, colour): (f64, Rgba)) -> Coat {
    let stroke = Stroke {
        width: Length::clamped(width),
        side: StrokeSide::Inside,
        join: StrokeJoin::default(),
        cap: StrokeCap::default(),
        fill: Fill::Solid(SolidFill { colour: ColourSource::Literal(CssColour::from_rgba(colour)) }),
    };
    Coat {
        id: Id::numbered("border", 1),
        name: "Border".to_owned(),
        on: true,
        opacity: Opacity::clamped(1.0),
        blend: BlendMode::Normal,
        kind: CoatKind::Stroke(stroke),
    }
}
