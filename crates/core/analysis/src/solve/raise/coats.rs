//! Shadows that were found for a height as a coat of a document, which is a function of its height.

use super::around::{Around, PLACES, reach};
use super::plate::Plate;
use super::rig::LightRig;
use super::stack::RaisedStack;
use crate::blend::BlendMode;
use crate::geometry::RoundedBox;
use crate::model::{
    Coat, CoatKind, ColourSource, CssColour, Degrees, Factor, HeightPx, Id, Opacity, PerHeight, Raised,
    RaisedShadow,
};
use crate::resolve::{self, PaintOp, ShadowPaint};
use crate::solve::error::SolveError;
use crate::solve::shadow::Shadow;

/// The coat of a stack for a height. It takes its bearing from a shared light where it `follows` one.
#[must_use]
pub fn raised_coat(stack: &RaisedStack, height: f64, rig: &LightRig, follows: Option<Id>) -> Coat {
    let (x, y) = rig.away();
    let digits = |value: f64| (value / height * 1e4).round() / 1e4 + 0.0;
    let shadow = |shadow: &Shadow| RaisedShadow {
        distance: PerHeight::clamped(digits(shadow.dx * x + shadow.dy * y)),
        blur: Factor::clamped(digits(shadow.blur)),
        spread: PerHeight::clamped(digits(shadow.spread)),
        opacity: Opacity::clamped(shadow.opacity),
    };
    let raised = Raised {
        height: HeightPx::clamped(height),
        bearing: Degrees::clamped(rig.bearing),
        follows,
        rig: rig.written(),
        colour: ColourSource::Literal(CssColour::black()),
        shadows: stack.shadows.iter().map(shadow).collect(),
    };
    Coat {
        id: Id::numbered("raised", 1),
        name: "Height".to_owned(),
        on: true,
        opacity: Opacity::clamped(1.0),
        blend: BlendMode::Normal,
        kind: CoatKind::Raised(raised),
    }
}

/// The same coat at another height.
#[must_use]
pub fn at_height(coat: &Coat, height: f64) -> Coat {
    let mut coat = coat.clone();
    if let CoatKind::Raised(raised) = &mut coat.kind {
        raised.height = HeightPx::clamped(height);
    }
    coat
}

/// How far the coat of a height is from what a plate casts at a height under a light.
#[must_use]
pub fn error(coat: &Coat, shape: RoundedBox, height: f64, rig: &LightRig) -> SolveError {
    let CoatKind::Raised(raised) = &coat.kind else { return SolveError::default() };
    let (x, y) = rig.away();
    let shadow = |one: &RaisedShadow| Shadow {
        dx: x * one.distance.get() * height,
        dy: y * one.distance.get() * height,
        blur: one.blur.get() * height,
        spread: one.spread.get() * height,
        opacity: one.opacity.get(),
        colour: [0.0; 3],
    };
    let shadows: Vec<Shadow> = raised.shadows.iter().map(shadow).collect();
    Around::new(shape, &Plate::new(shape, height, rig), reach(height, rig), PLACES).error(&shadows)
}

/// A coat as a shadow that darkens white, if it is a drop shadow of one colour.
#[must_use]
pub fn darkening(coat: &resolve::Coat) -> Option<Shadow> {
    let PaintOp::Shadow(shadow) = &coat.op else { return None };
    let ShadowPaint::Colour(colour) = shadow.paint else { return None };
    let dark = 1.0 - (colour.r + colour.g + colour.b) / 3.0;
    (!coat.op.is_on_surface()).then(|| Shadow {
        dx: shadow.dx,
        dy: shadow.dy,
        blur: shadow.blur,
        spread: shadow.spread,
        opacity: f64::from(colour.a * dark),
        colour: [0.0; 3],
    })
}
