//! A document's coats as the solver's shadows, and back.

use std::borrow::Cow;
use std::collections::BTreeSet;

use super::shadow::{OffsetAxis, Shadow, Side};
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourOrigin, ColourSource, CssColour, FollowingOffset, Id,
    Offset, OffsetPx, Opacity, PolarOffset, RampShadow, Spread,
};
use crate::resolve::{self, PaintOp, ShadowPaint};

/// The shadows on one side of a silhouette that can be found anew.
#[derive(Debug, Clone)]
pub struct Group {
    /// Which side.
    pub side: Side,
    /// As drawn; the first is nearest the eye.
    pub shadows: Vec<Shadow>,
    /// The direction that their offsets may move in.
    pub axis: OffsetAxis,
    /// Whether they have different colours.
    pub coloured: bool,
    members: Vec<Coat>,
    writing: Writing,
}

/// Values that all coats of a group share in the document.
#[derive(Debug, Clone)]
struct Writing {
    /// An offset of distance 1 along the axis, where all are written by distance.
    bearing: Option<(Offset, (f64, f64))>,
    colour: Option<ColourSource>,
    knock_out: Option<bool>,
}

/// The shadows on one side that each are a coat of their own, and none of a ramp or a height.
#[must_use]
pub fn single_shadows(coats: &[Coat], resolved: &resolve::Piece, side: Side) -> Option<Group> {
    let single: Vec<Coat> = coats
        .iter()
        .filter(|coat| !matches!(coat.kind, CoatKind::Ramp(_) | CoatKind::Raised(_)))
        .cloned()
        .collect();
    group(&single, resolved, side)
}

/// The groups of a stack: drop shadows and inner shadows of one colour each, in normal blend, without falloff or grain.
#[must_use]
pub fn groups(coats: &[Coat], resolved: &resolve::Piece) -> Vec<Group> {
    [Side::Outside, Side::Inside].into_iter().filter_map(|side| group(coats, resolved, side)).collect()
}

/// A stack in which every found coat has an id of its own, different from those of unchanged coats.
#[must_use]
pub fn with_own_ids(mut stack: Vec<Coat>, before: &[Coat]) -> Vec<Coat> {
    let mut taken: BTreeSet<Id> =
        before.iter().filter(|coat| stack.contains(coat)).map(|coat| coat.id.clone()).collect();
    for coat in stack.iter_mut().filter(|coat| !before.contains(coat)) {
        let mut number = 1;
        while taken.contains(&coat.id) {
            coat.id = Id::numbered("found", number);
            number += 1;
        }
        taken.insert(coat.id.clone());
    }
    stack
}

/// Whether a coat is found anew.
#[must_use]
pub fn is_plain(coat: &Coat, side: Side) -> bool {
    let takes_picture = |colour: &ColourSource| matches!(colour, ColourSource::From(from) if from.from == ColourOrigin::Picture);
    let is_shadow = match &coat.kind {
        CoatKind::Drop(drop) => {
            side == Side::Outside
                && drop.falloff.is_none()
                && drop.grain.is_none()
                && drop.substitute.is_none()
                && !takes_picture(&drop.colour)
        }
        CoatKind::Inner(inner) => {
            side == Side::Inside
                && inner.falloff.is_none()
                && inner.grain.is_none()
                && !takes_picture(&inner.colour)
        }
        CoatKind::Ramp(ramp) => (ramp.shadow == RampShadow::Drop) == (side == Side::Outside),
        CoatKind::Raised(_) => side == Side::Outside,
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Blur(_)
        | CoatKind::Backdrop(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_) => false,
    };
    coat.on && coat.blend == BlendMode::Normal && is_shadow
}

fn group(coats: &[Coat], resolved: &resolve::Piece, side: Side) -> Option<Group> {
    let members: Vec<Coat> = coats.iter().filter(|coat| is_plain(coat, side)).cloned().collect();
    let drawn = resolved.coats.iter().filter(|coat| members.iter().any(|member| member.id == coat.id));
    let shadows: Vec<Shadow> = drawn.filter_map(shadow_of).collect();
    if shadows.is_empty() {
        return None;
    }
    let axis = OffsetAxis::fit(&shadows);
    let first = shadows[0].colour;
    let differs = |shadow: &Shadow| {
        shadow.colour.iter().zip(first).any(|(channel, of_first)| (channel - of_first).abs() > 0.5 / 255.0)
    };
    let writing = Writing::new(&members, axis);
    Some(Group { side, coloured: shadows.iter().any(differs), shadows, axis, members, writing })
}

fn shadow_of(coat: &resolve::Coat) -> Option<Shadow> {
    let PaintOp::Shadow(shadow) = &coat.op else { return None };
    let ShadowPaint::Colour(Rgba { r, g, b, a }) = shadow.paint else { return None };
    Some(Shadow {
        dx: shadow.dx,
        dy: shadow.dy,
        blur: shadow.blur,
        spread: shadow.spread,
        opacity: f64::from(a),
        colour: [r, g, b].map(f64::from),
    })
}

impl Writing {
    fn new(members: &[Coat], axis: OffsetAxis) -> Self {
        let knock_out =
            |member: &Coat| if let CoatKind::Drop(drop) = &member.kind { drop.knock_out } else { None };
        let knock_outs: Vec<Option<bool>> = members.iter().map(knock_out).collect();
        Self {
            bearing: bearing(members, axis),
            colour: shared(members.iter().flat_map(|coat| coat.kind.shadow_ends()).map(|end| end.1))
                .filter(is_whole),
            knock_out: shared(knock_outs.iter()).flatten(),
        }
    }
}

/// A literal colour that lets something through keeps that in its text, and not in the coat's opacity.
fn is_whole(colour: &ColourSource) -> bool {
    match colour {
        ColourSource::Literal(literal) => literal.rgba().a >= 1.0,
        ColourSource::Swatch(_) | ColourSource::From(_) => true,
    }
}

fn shared<'a, T: PartialEq + Clone + 'a>(mut all: impl Iterator<Item = &'a T>) -> Option<T> {
    let first = all.next()?;
    all.all(|other| other == first).then(|| first.clone())
}

/// How a distance along the axis is written, and the direction it is positive in.
fn bearing(members: &[Coat], axis: OffsetAxis) -> Option<(Offset, (f64, f64))> {
    let OffsetAxis::Along { x, y } = axis else { return None };
    let all: Vec<Cow<'_, Offset>> =
        members.iter().flat_map(|coat| coat.kind.shadow_ends()).map(|end| end.0).collect();
    let one = OffsetPx::clamped(1.0);
    let distances: Vec<f64> = all
        .iter()
        .map(|offset| match offset.as_ref() {
            Offset::Following(following) => following.distance.get(),
            Offset::Polar(polar) => polar.distance.get(),
            Offset::Cartesian(_) => 0.0,
        })
        .collect();
    let longest = distances.iter().copied().max_by(|a, b| a.abs().total_cmp(&b.abs()))?;
    let along = if longest < 0.0 { (-x, -y) } else { (x, y) };
    match all.first()?.as_ref() {
        Offset::Following(first) => {
            let same = |offset: &Cow<'_, Offset>| matches!(offset.as_ref(), Offset::Following(other) if other.follows == first.follows);
            let written = FollowingOffset { distance: one, follows: first.follows.clone() };
            all.iter().all(same).then_some((Offset::Following(written), along))
        }
        Offset::Polar(first) => {
            let same = |offset: &Cow<'_, Offset>| matches!(offset.as_ref(), Offset::Polar(other) if other.bearing == first.bearing);
            let written = PolarOffset { distance: one, bearing: first.bearing };
            all.iter().all(same).then_some((Offset::Polar(written), along))
        }
        Offset::Cartesian(_) => None,
    }
}

impl Group {
    /// No shadows, and nothing that new ones would be written like: black, by x and y.
    #[must_use]
    pub fn empty(side: Side) -> Self {
        let writing = Writing { bearing: None, colour: None, knock_out: None };
        let (shadows, members) = (Vec::new(), Vec::new());
        Self { side, shadows, axis: OffsetAxis::Fixed, coloured: false, members, writing }
    }

    /// Whether a coat is one of those that the group was read from.
    #[must_use]
    pub fn has(&self, coat: &Coat) -> bool {
        self.members.iter().any(|member| member.id == coat.id)
    }

    /// Shadows as coats of the document, written as those they stand for were.
    #[must_use]
    pub fn to_coats(&self, shadows: &[Shadow]) -> Vec<Coat> {
        let names = self.names(shadows);
        let all = shadows.iter().zip(names).enumerate();
        all.map(|(number, (shadow, name))| self.coat(shadow, name, number)).collect()
    }

    fn kind_name(&self) -> &'static str {
        match self.side {
            Side::Outside => "Drop shadow",
            Side::Inside => "Inner shadow",
        }
    }

    fn coat(&self, shadow: &Shadow, name: String, number: usize) -> Coat {
        let id = match (self.members.get(number), self.members.first()) {
            (Some(member), _) => member.id.clone(),
            (None, Some(first)) => Id::step_of(&first.id, number + 1),
            (None, None) if self.side == Side::Outside => Id::numbered("drawn", number + 1),
            (None, None) => Id::numbered("drawn-inner", number + 1),
        };
        let literal = || ColourSource::Literal(CssColour::from_rgba(Rgba { a: 1.0, ..shadow.rgba() }));
        let colour = self.writing.colour.clone().unwrap_or_else(literal);
        let (blur, spread) = (BlurRadius::clamped(tidy(shadow.blur)), Spread::clamped(tidy(shadow.spread)));
        let offset = self.offset(shadow);
        let mut kind = match self.side {
            Side::Outside => CoatKind::drop(offset, blur, spread, colour),
            Side::Inside => CoatKind::inner(offset, blur, spread, colour),
        };
        if let CoatKind::Drop(drop) = &mut kind {
            drop.knock_out = self.writing.knock_out;
        }
        let opacity = Opacity::clamped((shadow.opacity * 1e4).round() / 1e4);
        Coat { id, name, on: true, opacity, blend: BlendMode::Normal, kind }
    }

    fn offset(&self, shadow: &Shadow) -> Offset {
        if let Some((written, (x, y))) = &self.writing.bearing {
            let distance = OffsetPx::clamped(tidy(shadow.dx * x + shadow.dy * y));
            return match written {
                Offset::Following(following) => {
                    Offset::Following(FollowingOffset { distance, follows: following.follows.clone() })
                }
                Offset::Polar(PolarOffset { bearing, .. }) => {
                    Offset::Polar(PolarOffset { distance, bearing: *bearing })
                }
                Offset::Cartesian(_) => cartesian(shadow),
            };
        }
        cartesian(shadow)
    }

    /// Gives each shadow the name of the input's shadow of its size, once.
    fn names(&self, shadows: &[Shadow]) -> Vec<String> {
        if self.members.len() < shadows.len() {
            let name = self.members.first().map_or(self.kind_name(), |member| member.name.as_str());
            if shadows.len() == 1 {
                return vec![name.to_owned()];
            }
            return (1..=shadows.len()).map(|number| format!("{name} {number}")).collect();
        }
        let mut free: Vec<(f64, &str)> = self
            .members
            .iter()
            .enumerate()
            .map(|(at, member)| (self.shadows.get(at).map_or(0.0, Shadow::reach), member.name.as_str()))
            .collect();
        let mut take = |shadow: &Shadow| {
            let away = |reach: f64| crate::maths::ln(reach / shadow.reach()).abs();
            let nearest = (0..free.len()).min_by(|a, b| away(free[*a].0).total_cmp(&away(free[*b].0)));
            nearest.map_or_else(|| "Shadow".to_owned(), |at| free.remove(at).1.to_owned())
        };
        shadows.iter().map(&mut take).collect()
    }
}

fn cartesian(shadow: &Shadow) -> Offset {
    let [x, y] = [shadow.dx, shadow.dy].map(|number| OffsetPx::clamped(tidy(number)));
    Offset::Cartesian(CartesianOffset { x, y })
}

/// Hundredths of a px, and no negative zero.
fn tidy(number: f64) -> f64 {
    (number * 100.0).round() / 100.0 + 0.0
}
