//! Everything the workbench shows about one piece: resolved values, code, differences, the edge profile, and coats that
//! could be added to its stack.

mod additions;
pub mod artwork;
mod boxes;
mod code;
mod defaults;
pub mod drag;
mod falloffs;
pub mod finishes;
mod forms;
mod handles;
mod height;
mod interaction;
mod mix;
mod page;
mod recipe;
mod starters;
mod trace;

use serde::Serialize;

use self::handles::{gradient_handles, handles};
use crate::asset::Assets;
use crate::colour::colour_text;
use crate::compose::MaskCache;
use crate::css::{Code, CodeOptions};
use crate::lower::{Density, Direction, Softness};
use crate::measure::{Line, Profile, edge_profile};
use crate::model::{self, Id, Project};
use crate::resolve::{self, ColourContext, Context, Note, PaintOp, Piece, ResolvedOffset};
use crate::solve::can_be_fewer;

pub use additions::{Addition, additions};
pub use boxes::{PieceBox, PieceList, boxes};
pub use defaults::{Defaults, defaults};
pub use falloffs::{NamedFalloff, falloffs};
pub use forms::{COLOUR_NOTATIONS, ColourForms, ColourNotation, NotationPart, colour_forms};
pub use handles::{GradientHandles, Handle, HandleKind};
pub use interaction::{Interaction, RampFields, interaction};
pub use page::{PlacedCode, scene_code};
pub use starters::{Starter, starters};
pub use trace::{Trace, traces};

/// Everything about one piece.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Report {
    /// The piece's id.
    pub piece: Id,
    /// Every coat of its stack, first nearest the eye.
    pub coats: Vec<CoatReport>,
    /// Whether some of its shadows may be combined.
    pub can_be_fewer: bool,
    /// Its code.
    pub code: Code,
    /// Each thing that was left out, with the reason.
    pub notes: Vec<Note>,
    /// Darkness across its edge.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub profile: Option<Profile>,
    /// The line of the gradient it is filled with.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gradient: Option<GradientHandles>,
}

/// The resolved values of one coat.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatReport {
    /// The coat's id.
    pub id: Id,
    /// Both forms of its offset.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub offset: Option<ResolvedOffset>,
    /// Both forms of the offset of a ramp's far end.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub far: Option<ResolvedOffset>,
    /// Its colour as CSS, before the coat's opacity.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub colour: Option<String>,
    /// Its numbers in one line.
    pub summary: String,
    /// The numbers of a drawn shadow as other tools say them, in one line.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub elsewhere: Option<String>,
}

/// Where one coat lies.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatOutline {
    /// The coat.
    pub coat: Id,
    /// Both forms of its offset, or of that of a ramp's near end.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub offset: Option<ResolvedOffset>,
    /// Both forms of the offset of a ramp's far end.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub far: Option<ResolvedOffset>,
    /// Its handles.
    pub handles: Vec<Handle>,
    /// One for each shadow it stands for; none for coats that have no outline of their own, or are off.
    pub traces: Vec<Trace>,
}

/// Where a coat of a piece lies on the scene; `None` when there is no such coat.
#[must_use]
pub fn coat_outline(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    coat: &Id,
    assets: &Assets,
) -> Option<CoatOutline> {
    let context = Context { project, theme: &scene.theme, assets };
    let found = project.shown_coats(scene, piece).iter().find(|other| other.id == *coat)?;
    let offset = found.kind.offset().map(|offset| context.offset(offset));
    let far = far_offset(found, context);
    let (resolved, _) = resolve::piece(project, scene, piece, assets);
    let handles = handles(&resolved, found, context, [offset.as_ref(), far.as_ref()]);
    Some(CoatOutline { coat: coat.clone(), offset, far, handles, traces: traces(&resolved, coat) })
}

fn far_offset(coat: &model::Coat, context: Context<'_>) -> Option<ResolvedOffset> {
    coat.kind.ramp().map(|ramp| context.offset(&ramp.far.offset))
}

/// The piece that a report is about, and how it is measured and written.
#[derive(Debug, Clone, Copy)]
pub struct ReportOptions<'a> {
    /// The piece's id.
    pub piece: &'a str,
    /// Along which the edge profile is measured; without one, from the middle away from the first light.
    pub line: Option<Line>,
    /// How its code is written.
    pub code: CodeOptions,
}

/// Reports on a piece of a scene. `None` when there is no such piece.
#[must_use]
pub fn report(
    project: &Project,
    scene: &model::Scene,
    options: ReportOptions<'_>,
    assets: &Assets,
    cache: &MaskCache,
) -> Option<Report> {
    let piece = scene.piece(options.piece)?;
    let (resolved, notes) = resolve::piece(project, scene, piece, assets);
    let context = Context { project, theme: &scene.theme, assets };
    let worn = project.shown_coats(scene, piece);
    let coats = worn.iter().map(|coat| coat_report(coat, context, &resolved)).collect();
    let can_be_fewer = can_be_fewer(worn, &resolved);
    let bearing = project.lights.first().map_or(0.0, |light| context.bearing(&light.id));
    let whole = resolve::scene(project, &scene.opened_to(&piece.id), assets);
    let line = options.line.unwrap_or(Line { x: 0.0, y: 0.0, bearing });
    let profile = edge_profile(&whole, &piece.id, line, cache);
    let beneath = project.fallbacks.then(|| resolve::beneath(project, scene, piece, assets));
    let written = (code::Written::Live, CodeOptions { beneath, ..options.code });
    let code = code::code(project, scene, piece, written, assets);
    let gradient = gradient_handles(&resolved);
    Some(Report { piece: piece.id.clone(), coats, can_be_fewer, code, notes, profile, gradient })
}

fn coat_report(coat: &model::Coat, context: Context<'_>, piece: &Piece) -> CoatReport {
    let offset = coat.kind.offset().map(|offset| context.offset(offset));
    let drawn = piece.coats.iter().find(|drawn| drawn.id == coat.id);
    // A coat that is off is not resolved; its colour is, as far as it does not need to be drawn for that.
    let own = || context.colour(coat.kind.colour()?, &ColourContext::from_fill(&piece.fill)).ok();
    let colour = drawn.and_then(|drawn| drawn.colour).or_else(own).map(colour_text);
    let at = offset.as_ref().map_or_else(String::new, |at| set([("x", at.x), ("y", at.y)]));
    let numbers = summary(&coat.kind, drawn.map(|drawn| &drawn.op));
    let summary = format!("{at}{numbers} {}\u{a0}%", signed(coat.opacity.get() * 100.0));
    let far = far_offset(coat, context);
    let elsewhere = drawn.and_then(|drawn| elsewhere(&drawn.op));
    CoatReport { id: coat.id.clone(), offset, far, colour, summary, elsewhere }
}

fn elsewhere(op: &PaintOp) -> Option<String> {
    let PaintOp::Shadow(shadow) = op else { return None };
    let alpha = f64::from(shadow.colour().a);
    Some(format!(
        "σ {}; {}; {}; opacity {}, {}",
        short(shadow.blur / 2.0),
        Direction::FallClockwise.text(shadow.dx, shadow.dy),
        Softness::ReachAndHardness.text(shadow.blur, shadow.spread),
        Density::Fraction.text(alpha),
        Density::Hex.text(alpha),
    ))
}

/// A coat's numbers except for its offset and opacity.
fn summary(kind: &model::CoatKind, drawn: Option<&PaintOp>) -> String {
    use model::CoatKind;
    match kind {
        CoatKind::Drop(drop) => blur_and_spread(drop.blur.get(), drop.spread.get()),
        CoatKind::Inner(inner) => blur_and_spread(inner.blur.get(), inner.spread.get()),
        CoatKind::Highlight(highlight) => format!("blur {}", short(highlight.blur.get())),
        CoatKind::Tint(_) => "over the surface".to_owned(),
        CoatKind::Stroke(stroke) => {
            format!("{} px {}", short(stroke.width.get()), stroke.side.name())
        }
        CoatKind::Blur(blur) => format!("σ {}", short(blur.sigma.get())),
        CoatKind::Backdrop(backdrop) => format!("σ {}", short(backdrop.sigma.get())),
        CoatKind::Extrude(_) => "solid".to_owned(),
        CoatKind::Cast(cast) => {
            let (shear, squash) = if let Some(PaintOp::Cast(drawn)) = drawn {
                (drawn.shear, drawn.squash)
            } else {
                (cast.shear.get(), cast.squash.get())
            };
            format!("shear {} squash {}", signed(shear), signed(squash))
        }
        CoatKind::Ramp(ramp) => format!(
            "{} shadows to blur {} total {}\u{a0}%",
            ramp.count,
            short(ramp.far.blur.get()),
            short(ramp.total.get() * 100.0)
        ),
        CoatKind::Raised(raised) => {
            format!("{} px high in {} shadows", short(raised.height.get()), raised.shadows.len())
        }
    }
}

fn blur_and_spread(blur: f64, spread: f64) -> String {
    format!("blur {} {}", signed(blur), set([("spread", spread)])).trim_end().to_owned()
}

/// Values that are not zero, each after its name and with a space after it.
fn set<const N: usize>(values: [(&str, f64); N]) -> String {
    let said = values.into_iter().filter(|(_, value)| *value != 0.0);
    said.map(|(name, value)| format!("{name} {} ", signed(value))).collect()
}

/// A number to be read, with the sign that is as wide as a digit.
fn signed(value: f64) -> String {
    short(value).replace('-', "\u{2212}")
}

/// A number for reading at a glance: two decimals at most.
fn short(value: f64) -> String {
    ((value * 100.0).round() / 100.0 + 0.0).to_string()
}
