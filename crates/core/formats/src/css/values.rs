//! A stack as plain values, to be typed into another program.

use std::fmt::Write as _;

use super::text::{backdrop_text, paint_text};
use crate::blend::{BlendMode, mode_text};
use crate::colour::{Rgba, colour_text};
use crate::lower::Conventions;
use crate::resolve::{PaintOp, Piece, Shadow, ShadowKind, bearing_of};
use crate::syntax::{number_text, px};

/// One line a coat: its kind, and every number with its unit; a shadow's in the usual forms side by side where no
/// convention is chosen.
pub(super) fn values(piece: &Piece, conventions: Option<Conventions>) -> String {
    let mut text = String::new();
    for coat in &piece.coats {
        let (kind, numbers) = numbers(&coat.op, conventions);
        let opacity = match &coat.op {
            PaintOp::Shadow(_) => String::new(),
            _ if coat.opacity >= 1.0 => String::new(),
            PaintOp::Highlight(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_)
            | PaintOp::Extrude(_)
            | PaintOp::Cast(_) => format!(" at {} %", number_text(coat.opacity * 100.0)),
        };
        let blend = match coat.blend {
            BlendMode::Normal => String::new(),
            mode => format!(", blend {}", mode_text(mode)),
        };
        let _ = writeln!(text, "{} ({kind}): {numbers}{opacity}{blend}", coat.name);
    }
    text
}

fn numbers(op: &PaintOp, conventions: Option<Conventions>) -> (&'static str, String) {
    match op {
        PaintOp::Shadow(shadow) if shadow.kind == ShadowKind::Inner => {
            ("inner shadow", shadow_values(shadow, conventions))
        }
        PaintOp::Shadow(shadow) => ("drop shadow", shadow_values(shadow, conventions)),
        PaintOp::Highlight(spot) => {
            let at = spot.place.translation();
            let paint = paint_text(&spot.paint);
            ("highlight", format!("x {}, y {}, blur {}, {paint}", px(at.x), px(at.y), px(spot.blur)))
        }
        PaintOp::Tint(paint) => ("tint", paint_text(paint)),
        PaintOp::Stroke { style, paint } => {
            ("stroke", format!("{} {}, {}", px(style.width), style.side.name(), paint_text(paint)))
        }
        PaintOp::Blur(sigma) => ("blur", format!("σ {}", px(*sigma))),
        PaintOp::Backdrop(backdrop) => ("backdrop", backdrop_text(backdrop)),
        PaintOp::Extrude(extrude) => {
            let (near, far) = (colour_text(extrude.near), colour_text(extrude.far));
            ("extrude", format!("x {}, y {}, {near} to {far}", px(extrude.dx), px(extrude.dy)))
        }
        PaintOp::Cast(cast) => {
            let numbers = format!(
                "shear {}, squash {}, anchor {}, blur {} to {}, fade {} %, {}",
                number_text(cast.shear),
                number_text(cast.squash),
                px(cast.anchor),
                px(cast.blur_near),
                px(cast.blur_far),
                number_text(cast.fade * 100.0),
                colour_text(cast.colour)
            );
            ("cast", numbers)
        }
    }
}

fn shadow_values(shadow: &Shadow, conventions: Option<Conventions>) -> String {
    let colour = shadow.colour();
    if let Some(Conventions { softness, direction, density }) = conventions {
        return format!(
            "{}, {}, {} at {}",
            direction.text(shadow.dx, shadow.dy),
            softness.text(shadow.blur, shadow.spread),
            colour_text(Rgba { a: 1.0, ..colour }),
            density.text(f64::from(colour.a)),
        );
    }
    format!(
        "x {}, y {} (distance {}, light from {}°), blur {} (σ {}), spread {}, {} at {} %",
        px(shadow.dx),
        px(shadow.dy),
        px(crate::maths::hypot(shadow.dx, shadow.dy)),
        number_text(bearing_of(shadow.dx, shadow.dy)),
        px(shadow.blur),
        px(shadow.blur / 2.0),
        px(shadow.spread),
        colour_text(Rgba { a: 1.0, ..colour }),
        number_text(percent(colour.a)),
    )
}

/// An opacity in percent, without the noise of single precision: 0.1 is 10, not 10.000000149.
fn percent(opacity: f32) -> f64 {
    opacity.to_string().parse::<f64>().map_or(0.0, |exact| (exact * 1e14).round() / 1e12)
}
