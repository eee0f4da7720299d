//! What the workbench shows about one piece: resolved values, code, differences, the edge profile, and what could
//! be added to its stack.

mod additions;

use serde::Serialize;

use crate::compose::MaskCache;
use crate::css::{Code, colour_text, piece_code};
use crate::measure::{Profile, edge_profile};
use crate::model::{self, Id, Project};
use crate::resolve::{self, Context, Note, Paint, ResolvedOffset};

pub use additions::{Addition, additions};

/// Everything about one piece.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Report {
    /// The piece's id.
    pub piece: Id,
    /// Every coat of its stack, first nearest the eye.
    pub coats: Vec<CoatReport>,
    /// Its code.
    pub code: Code,
    /// What is not drawn.
    pub notes: Vec<Note>,
    /// Darkness across its edge.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub profile: Option<Profile>,
}

/// What one coat comes out as.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatReport {
    /// The coat's id.
    pub id: Id,
    /// Both forms of its offset.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub offset: Option<ResolvedOffset>,
    /// Its colour as CSS, before the coat's opacity.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub colour: Option<String>,
    /// Its numbers in one line.
    pub summary: String,
}

/// Reports on a piece of a scene; `None` when there is no such piece.
#[must_use]
pub fn report(project: &Project, scene: &model::Scene, piece: &str, cache: &MaskCache) -> Option<Report> {
    let piece = scene.pieces.iter().find(|other| other.id.as_str() == piece)?;
    let (resolved, notes) = resolve::piece(project, scene, piece);
    let context = Context { project, theme: &scene.theme };
    let fill = resolved.as_ref().map(|piece| &piece.fill);
    let coats = project.coats_of(piece).iter().map(|coat| coat_report(coat, context, fill)).collect();
    let bearing = project.lights.first().map_or(0.0, |light| context.bearing(&light.id));
    let whole = resolve::scene(project, scene);
    let profile = edge_profile(&whole, &piece.id, bearing, cache);
    let nothing = || Code { css: String::new(), values: String::new(), differences: Vec::new() };
    let code = resolved.map_or_else(nothing, |resolved| piece_code(&resolved, &piece.shape));
    Some(Report { piece: piece.id.clone(), coats, code, notes, profile })
}

fn coat_report(coat: &model::Coat, context: Context<'_>, fill: Option<&Paint>) -> CoatReport {
    let (blur, spread, source) = match &coat.kind {
        model::CoatKind::Drop(drop) => (drop.blur, drop.spread, &drop.colour),
        model::CoatKind::Inner(inner) => (inner.blur, inner.spread, &inner.colour),
        other => {
            let summary = format!("{}: not drawn yet", other.name());
            return CoatReport { id: coat.id.clone(), offset: None, colour: None, summary };
        }
    };
    let offset = coat.kind.offset().map(|offset| context.offset(offset));
    let colour =
        coat.kind.offset().and_then(|offset| context.colour(source, fill, offset).ok()).map(colour_text);
    let (x, y) = offset.as_ref().map_or((0.0, 0.0), |offset| (offset.x, offset.y));
    let summary = format!(
        "{} {}  blur {}  spread {}  {} %",
        short(x),
        short(y),
        short(blur.get()),
        short(spread.get()),
        short(coat.opacity.get() * 100.0)
    );
    CoatReport { id: coat.id.clone(), offset, colour, summary }
}

/// A number for reading at a glance: two decimals at most.
fn short(value: f64) -> String {
    ((value * 100.0).round() / 100.0 + 0.0).to_string()
}
