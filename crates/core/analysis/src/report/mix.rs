//! Values between two others: lengths and shares linearly, colours in OKLab, and any value that cannot be mixed from
//! the nearer of the two.

use crate::blend::BlendMode;
use crate::colour::mix_oklab;
use crate::geometry::TextShape;
use crate::model::{
    Backdrop, BackdropOrder, Blur, BlurRadius, BoxShape, CartesianOffset, Cast, Coat, CoatKind, ColourOrigin,
    ColourSource, CornerRadius, CssColour, Degrees, Drop, Elevation, EllipseRadius, EllipseShape, Extrude,
    Factor, Falloff, FalloffPoint, Fill, FollowingOffset, Fraction, GradientAngle, GradientDirection,
    GradientFollows, Grain, HeightPx, Highlight, Id, ImageFill, Inner, JoinShape, Length, LightSize,
    LinearFill, NoFill, Offset, OffsetPx, Opacity, PathShape, PerHeight, PictureShape, PlacedShape,
    PolarOffset, Px, RadialFill, Radii, Raised, RaisedShadow, Ramp, RampEnd, RampShadow, Relative,
    RelativePoint, Rig, Shape, Sigma, Signed, Size, SolidFill, Spread, Stop, Stroke, StrokeCap, StrokeJoin,
    StrokeSide, SwatchColour, TakenColour, Tint,
};

/// Something that lies between two others of its kind.
pub(super) trait Mix: Clone {
    /// At `t` from 0 (this) to 1 (the other).
    fn mix(&self, other: &Self, t: f64) -> Self;

    fn nearer(&self, other: &Self, t: f64) -> Self {
        if t < 0.5 { self.clone() } else { other.clone() }
    }
}

/// Decimals of a mixed number: more than anybody types.
const PRECISION: f64 = 1e4;

fn between(from: f64, to: f64, t: f64) -> f64 {
    ((from + (to - from) * t) * PRECISION).round() / PRECISION
}

macro_rules! mix_numbers {
    ($($name:ident),+ $(,)?) => {$(
        impl Mix for $name {
            fn mix(&self, other: &Self, t: f64) -> Self {
                if self == other { *self } else { Self::clamped(between(self.get(), other.get(), t)) }
            }
        }
    )+};
}

macro_rules! mix_structs {
    ($($name:ident { $($field:ident),+ $(,)? })+) => {$(
        impl Mix for $name {
            fn mix(&self, other: &Self, t: f64) -> Self {
                Self { $($field: self.$field.mix(&other.$field, t)),+ }
            }
        }
    )+};
}

/// Enums whose values are mixed where both are of one kind.
macro_rules! mix_enums {
    ($($name:ident { $($variant:ident),+ $(,)? })+) => {$(
        impl Mix for $name {
            fn mix(&self, other: &Self, t: f64) -> Self {
                match (self, other) {
                    $((Self::$variant(a), Self::$variant(b)) => Self::$variant(a.mix(b, t)),)+
                    _ => self.nearer(other, t),
                }
            }
        }
    )+};
}

/// Types without values in between.
macro_rules! take_nearer {
    ($($name:ty),+ $(,)?) => {$(
        impl Mix for $name {
            fn mix(&self, other: &Self, t: f64) -> Self {
                self.nearer(other, t)
            }
        }
    )+};
}

mix_numbers!(
    BlurRadius, Degrees, Elevation, Factor, Fraction, HeightPx, Length, LightSize, OffsetPx, Opacity,
    PerHeight, Px, Relative, Sigma, Signed, Size, Spread,
);

take_nearer!(
    bool,
    String,
    Id,
    BackdropOrder,
    BlendMode,
    ColourOrigin,
    Grain,
    ImageFill,
    JoinShape,
    NoFill,
    PathShape,
    PictureShape,
    RampShadow,
    StrokeCap,
    StrokeJoin,
    StrokeSide,
    TextShape,
);

mix_structs! {
    Coat { id, name, on, opacity, blend, kind }
    Drop { offset, blur, spread, colour, knock_out, falloff, grain, substitute }
    Inner { offset, blur, spread, colour, falloff, grain }
    Highlight { spot, fill, blur, follows }
    Tint { fill }
    Stroke { width, side, join, cap, fill }
    Blur { sigma }
    Extrude { offset, near, far }
    Cast { shear, squash, anchor, follows, blur_near, blur_far, colour, fade }
    Backdrop { sigma, saturation, brightness, order }
    RampEnd { offset, blur, spread, colour }
    RaisedShadow { distance, blur, spread, opacity }
    Rig { elevation, size, ambient }
    CartesianOffset { x, y }
    PolarOffset { distance, bearing }
    FollowingOffset { distance, follows }
    FalloffPoint { from, to }
    Falloff { points }
    SwatchColour { swatch, lightness }
    TakenColour { from, lightness }
    SolidFill { colour }
    LinearFill { direction, stops }
    GradientAngle { angle }
    GradientFollows { follows }
    RadialFill { centre, radius, stops }
    RelativePoint { x, y }
    Stop { at, colour }
    PlacedShape { shape, x, y }
    BoxShape { w, h, radii }
    EllipseShape { w, h }
    EllipseRadius { x, y }
}

mix_enums! {
    CoatKind { Drop, Inner, Highlight, Tint, Stroke, Blur, Extrude, Cast, Backdrop, Ramp, Raised }
    Offset { Cartesian, Polar, Following }
    ColourSource { Literal, Swatch, From }
    Fill { None, Solid, Linear, Radial, Image }
    GradientDirection { Angle, Follows }
    Shape { Box, Ellipse, Path, Text, Picture, Join }
    Radii { All, Each }
    CornerRadius { Circle, Ellipse }
}

impl Mix for Ramp {
    fn mix(&self, other: &Self, t: f64) -> Self {
        let count = f64::from(self.count) + (f64::from(other.count) - f64::from(self.count)) * t;
        Self {
            shadow: self.shadow.mix(&other.shadow, t),
            near: self.near.mix(&other.near, t),
            far: self.far.mix(&other.far, t),
            // Between two counts that fit; half a shadow does not exist.
            count: count.round() as u32,
            growth: self.growth.mix(&other.growth, t),
            lean: self.lean.mix(&other.lean, t),
            total: self.total.mix(&other.total, t),
        }
    }
}

impl Mix for Raised {
    fn mix(&self, other: &Self, t: f64) -> Self {
        // Of different numbers of shadows there is none in between.
        if self.shadows.len() != other.shadows.len() {
            return self.nearer(other, t);
        }
        let shadows = self.shadows.iter().zip(&other.shadows).map(|(one, other)| one.mix(other, t));
        Self {
            height: self.height.mix(&other.height, t),
            bearing: self.bearing.mix(&other.bearing, t),
            follows: self.follows.mix(&other.follows, t),
            rig: self.rig.mix(&other.rig, t),
            colour: self.colour.mix(&other.colour, t),
            shadows: shadows.collect(),
        }
    }
}

impl Mix for CssColour {
    fn mix(&self, other: &Self, t: f64) -> Self {
        if self == other {
            self.clone()
        } else {
            Self::from_rgba(mix_oklab(self.rgba(), other.rgba(), t as f32))
        }
    }
}

impl<T: Mix> Mix for Option<T> {
    fn mix(&self, other: &Self, t: f64) -> Self {
        match (self, other) {
            (Some(a), Some(b)) => Some(a.mix(b, t)),
            _ => self.nearer(other, t),
        }
    }
}

impl<T: Mix> Mix for Vec<T> {
    fn mix(&self, other: &Self, t: f64) -> Self {
        if self.len() != other.len() {
            return self.nearer(other, t);
        }
        self.iter().zip(other).map(|(a, b)| a.mix(b, t)).collect()
    }
}

impl<T: Mix, const N: usize> Mix for [T; N] {
    fn mix(&self, other: &Self, t: f64) -> Self {
        std::array::from_fn(|at| self[at].mix(&other[at], t))
    }
}

impl<T: Mix> Mix for Box<T> {
    fn mix(&self, other: &Self, t: f64) -> Self {
        Self::new((**self).mix(other, t))
    }
}
