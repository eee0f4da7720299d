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
    let border = found.border.map_or(0.0, |(width, _)| width);
    // CSS begins inner shadows inside the border, a document at the piece's edge.
    let inside: Vec<Shadow> =
        stack.inside.iter().map(|shadow| Shadow { spread: shadow.spread + border, ..*shadow }).collect();
    let mut all: Vec<Coat> = found.border.into_iter().map(stroke).collect();
    all.extend(Group::empty(Side::Inside).to_coats(&inside));
    all.extend(Group::empty(Side::Outside).to_coats(&stack.outside));
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
