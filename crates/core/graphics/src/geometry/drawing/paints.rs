//! Paints and blend modes of the parsed tree as ours.

use std::sync::Arc;

use kurbo::Affine;
use usvg::Group;

use super::gradient::{Gradient, Line, Spread};
use super::ink::Paint;
use super::tree::affine;
use crate::blend::BlendMode;
use crate::colour::Rgba;

/// A paint of ours; `None` for patterns.
pub(super) fn paint(paint: &usvg::Paint, opacity: f32, place: Affine) -> Option<Paint> {
    let stops = |stops: &[usvg::Stop]| {
        stops
            .iter()
            .map(|stop| (stop.offset().get(), colour(stop.color(), stop.opacity().get() * opacity)))
            .collect()
    };
    Some(match paint {
        usvg::Paint::Color(solid) => Paint::Colour(colour(*solid, opacity)),
        usvg::Paint::LinearGradient(gradient) => {
            let [x1, y1, x2, y2] =
                [gradient.x1(), gradient.y1(), gradient.x2(), gradient.y2()].map(f64::from);
            let line = Line::Linear { from: (x1, y1).into(), to: (x2, y2).into() };
            let stops = stops(gradient.stops());
            placed(
                Gradient { line, spread: spread(gradient.spread_method()), stops },
                gradient.transform(),
                place,
            )
        }
        usvg::Paint::RadialGradient(gradient) => {
            let [cx, cy, fx, fy] =
                [gradient.cx(), gradient.cy(), gradient.fx(), gradient.fy()].map(f64::from);
            let [radius, focal_radius] = [gradient.r().get(), gradient.fr().get()].map(f64::from);
            let line = Line::Radial { centre: (cx, cy).into(), radius, focus: (fx, fy).into(), focal_radius };
            let stops = stops(gradient.stops());
            placed(
                Gradient { line, spread: spread(gradient.spread_method()), stops },
                gradient.transform(),
                place,
            )
        }
        usvg::Paint::Pattern(_) => return None,
    })
}

fn placed(gradient: Gradient, own: usvg::Transform, place: Affine) -> Paint {
    Paint::Gradient(Arc::new(gradient), (place * affine(own)).inverse())
}

fn spread(method: usvg::SpreadMethod) -> Spread {
    match method {
        usvg::SpreadMethod::Pad => Spread::Pad,
        usvg::SpreadMethod::Reflect => Spread::Reflect,
        usvg::SpreadMethod::Repeat => Spread::Repeat,
    }
}

fn colour(colour: usvg::Color, opacity: f32) -> Rgba {
    let [r, g, b] = [colour.red, colour.green, colour.blue].map(|part| f32::from(part) / 255.0);
    Rgba::new(r, g, b, opacity)
}

/// How a group mixes with what lies below it.
pub(super) fn blend_mode(group: &Group) -> BlendMode {
    use usvg::BlendMode as Theirs;
    match group.blend_mode() {
        Theirs::Normal => BlendMode::Normal,
        Theirs::Multiply => BlendMode::Multiply,
        // Sums are not among the sixteen modes; the nearest of them lightens as well.
        Theirs::Screen | Theirs::PlusLighter => BlendMode::Screen,
        Theirs::Overlay => BlendMode::Overlay,
        Theirs::Darken => BlendMode::Darken,
        Theirs::Lighten => BlendMode::Lighten,
        Theirs::ColorDodge => BlendMode::ColorDodge,
        Theirs::ColorBurn => BlendMode::ColorBurn,
        Theirs::HardLight => BlendMode::HardLight,
        Theirs::SoftLight => BlendMode::SoftLight,
        Theirs::Difference => BlendMode::Difference,
        Theirs::Exclusion => BlendMode::Exclusion,
        Theirs::Hue => BlendMode::Hue,
        Theirs::Saturation => BlendMode::Saturation,
        Theirs::Color => BlendMode::Color,
        Theirs::Luminosity => BlendMode::Luminosity,
    }
}
