//! Coats made of plain numbers, for effects that a piece could be given.

use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::model::{
    Backdrop, BlurRadius, CartesianOffset, Cast, Coat, CoatKind, ColourOrigin, ColourSource, CssColour,
    Degrees, EllipseShape, Extrude, Factor, Fill, FollowingOffset, Fraction, GradientAngle,
    GradientDirection, GradientFollows, Highlight, Id, Length, LinearFill, Offset, OffsetPx, Opacity, Piece,
    PlacedShape, Project, Px, Relative, Shape, Sigma, Signed, Size, Spread, Stop, Stroke, StrokeCap,
    StrokeJoin, StrokeSide, TakenColour,
};
use crate::resolve;

/// The piece that coats are made for, and the light they follow.
pub(super) struct Recipe {
    light: Option<Id>,
    /// Width of the silhouette's box in px.
    pub width: f64,
    /// Height of the silhouette's box in px.
    pub height: f64,
}

/// Blur radius, spread (both in px) and opacity of a shadow.
pub(super) struct Softness(pub f64, pub f64, pub f64);

impl Recipe {
    pub fn new(project: &Project, piece: &Piece, assets: &Assets) -> Self {
        let light = project.lights.first().map(|light| light.id.clone());
        let (width, height) = resolve::silhouette(&piece.shape, assets).size();
        Self { light, width, height }
    }

    /// The shorter side of the silhouette's box, in px.
    pub fn shorter_side(&self) -> f64 {
        self.width.min(self.height)
    }

    /// Away from the light by a distance in px; straight down without a light, and at no distance.
    pub fn offset(&self, distance: f64) -> Offset {
        match &self.light {
            Some(light) if distance != 0.0 => {
                let distance = OffsetPx::clamped(distance);
                Offset::Following(FollowingOffset { distance, follows: light.clone() })
            }
            _ => offset(0.0, distance),
        }
    }

    /// A drop shadow away from the light.
    pub fn drop(&self, name: &str, distance: f64, soft: Softness, colour: ColourSource) -> Coat {
        drop(name, self.offset(distance), soft, colour)
    }

    /// An inner shadow along the edge nearest the light.
    pub fn inner(&self, name: &str, distance: f64, soft: Softness, colour: ColourSource) -> Coat {
        inner(name, self.offset(distance), soft, colour)
    }

    /// A white patch of light; lengths in px, whole and at least 1 but for its place.
    pub fn highlight(&self, name: &str, patch: Patch, opacity: f64) -> Coat {
        let size = |length: f64| Size::clamped(length.max(1.0));
        let shape = Shape::Ellipse(EllipseShape { w: size(patch.width), h: size(patch.height) });
        let place = PlacedShape { shape: Box::new(shape), x: Px::clamped(patch.x), y: Px::clamped(patch.y) };
        let highlight = Highlight {
            spot: place,
            fill: Fill::solid(white()),
            blur: BlurRadius::clamped(patch.blur),
            follows: self.light.clone(),
        };
        faint(coat(name, CoatKind::Highlight(Box::new(highlight))), opacity)
    }

    /// From white near the light to black; from the top down without a light.
    pub fn light_to_dark(&self) -> Fill {
        let direction = match &self.light {
            Some(light) => GradientDirection::Follows(GradientFollows { follows: light.clone() }),
            None => GradientDirection::Angle(GradientAngle { angle: Degrees::clamped(180.0) }),
        };
        Fill::Linear(LinearFill { direction, stops: stops(white(), black()) })
    }

    /// Solid thickness away from the light, in the piece's own colour.
    pub fn thickness(&self, length: f64) -> Coat {
        let (near, far) = (own_lightness(-0.12), own_lightness(-0.3));
        coat("Thickness", CoatKind::Extrude(Extrude { offset: self.offset(length), near, far }))
    }
}

/// The place and size of a patch of light, relative to the piece, in px.
pub(super) struct Patch {
    pub x: f64,
    pub y: f64,
    pub width: f64,
    pub height: f64,
    pub blur: f64,
}

/// An offset along the axes, in px.
pub(super) fn offset(x: f64, y: f64) -> Offset {
    Offset::Cartesian(CartesianOffset { x: OffsetPx::clamped(x), y: OffsetPx::clamped(y) })
}

pub(super) fn drop(name: &str, offset: Offset, soft: Softness, colour: ColourSource) -> Coat {
    shadow(CoatKind::drop, name, offset, soft, colour)
}

pub(super) fn inner(name: &str, offset: Offset, soft: Softness, colour: ColourSource) -> Coat {
    shadow(CoatKind::inner, name, offset, soft, colour)
}

fn shadow(
    kind: fn(Offset, BlurRadius, Spread, ColourSource) -> CoatKind,
    name: &str,
    offset: Offset,
    Softness(blur, spread, opacity): Softness,
    colour: ColourSource,
) -> Coat {
    faint(coat(name, kind(offset, BlurRadius::clamped(blur), Spread::clamped(spread), colour)), opacity)
}

/// A coat that is yet to be given an id of its own.
pub(super) fn coat(name: &str, kind: CoatKind) -> Coat {
    Coat::new(Id::named("new"), name, kind)
}

/// A coat at an opacity.
pub(super) fn faint(coat: Coat, opacity: f64) -> Coat {
    Coat { opacity: Opacity::clamped(opacity), ..coat }
}

/// A coat with a blend mode.
pub(super) fn blended(coat: Coat, blend: BlendMode) -> Coat {
    Coat { blend, ..coat }
}

pub(super) fn stroke(name: &str, width: f64, side: StrokeSide, fill: Fill) -> Coat {
    let (join, cap) = (StrokeJoin::Round, StrokeCap::default());
    coat(name, CoatKind::Stroke(Stroke { width: Length::clamped(width), side, join, cap, fill }))
}

/// A shadow on a floor that falls to the right and away from the viewer.
pub(super) fn floor_shadow(name: &str) -> Coat {
    let cast = Cast {
        shear: Relative::clamped(0.5),
        squash: Relative::clamped(-0.4),
        anchor: Relative::clamped(1.0),
        follows: None,
        blur_near: BlurRadius::clamped(2.0),
        blur_far: BlurRadius::clamped(18.0),
        colour: black(),
        fade: Fraction::clamped(0.7),
    };
    faint(coat(name, CoatKind::Cast(cast)), 0.35)
}

/// Frost behind a pane.
pub(super) fn frost() -> Coat {
    let (sigma, saturation) = (Sigma::clamped(10.0), Some(Factor::clamped(1.2)));
    coat(
        "Frost",
        CoatKind::Backdrop(Backdrop { sigma, saturation, brightness: None, order: Default::default() }),
    )
}

/// Two stops, at the start and the end of a gradient.
pub(super) fn stops(start: ColourSource, end: ColourSource) -> Vec<Stop> {
    let stop = |at, colour| Stop { at: Fraction::clamped(at), colour };
    vec![stop(0.0, start), stop(1.0, end)]
}

pub(super) fn black() -> ColourSource {
    CssColour::black().into()
}

pub(super) fn white() -> ColourSource {
    CssColour::rgb([0xff; 3]).into()
}

/// The piece's own colour, darker or lighter.
pub(super) fn own_lightness(lightness: f64) -> ColourSource {
    derived_colour(ColourOrigin::Fill, lightness)
}

/// The colour of the ground, darker or lighter.
pub(super) fn ground(lightness: f64) -> ColourSource {
    derived_colour(ColourOrigin::Ground, lightness)
}

fn derived_colour(from: ColourOrigin, lightness: f64) -> ColourSource {
    let lightness = (lightness != 0.0).then(|| Signed::clamped(lightness));
    TakenColour { from, lightness }.into()
}
