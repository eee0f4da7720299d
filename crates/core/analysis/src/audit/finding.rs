//! Findings and the limits they are reported by.

use serde::{Deserialize, Serialize};

use super::fix::Fix;
use crate::measure::{Screen, ViewingConditions};
use crate::model::Id;

/// Something an audit found in a project.
#[derive(Debug, Clone, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Audit {
    /// Errors first, then warnings, then hints; last those that are accepted.
    pub findings: Vec<Finding>,
}

/// Something a designer should look at.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// The same for the same thing from audit to audit; accepted findings are recognised by it.
    pub key: String,
    /// The subject of the finding.
    pub kind: FindingKind,
    /// How bad it is.
    pub severity: Severity,
    /// Where.
    pub place: Location,
    /// The finding in a sentence, with its numbers.
    pub message: String,
    /// Why it matters, in a sentence.
    pub why: String,
    /// A change that removes it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fix: Option<Fix>,
    /// Why it was accepted, where it was.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub accepted: Option<String>,
}

/// Where something was found.
#[derive(Debug, Clone, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Location {
    /// In words.
    pub name: String,
    /// The scene's id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub scene: Option<Id>,
    /// The piece's id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub piece: Option<Id>,
    /// The finish's id, where the finish itself has to change.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub finish: Option<Id>,
    /// The coat's id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coat: Option<Id>,
    /// Left, top, width and height on the scene, in px.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub area: Option<[f64; 4]>,
    /// Places along an edge that are too faint, on the scene in px.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub marks: Vec<[f64; 2]>,
}

/// The subject of a finding.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FindingKind {
    /// Text with too little contrast to the picture behind it.
    FaintText,
    /// An edge of something to be used that is hard to see.
    FaintEdge,
    /// A coat that changes no pixel.
    NothingToSee,
    /// Steps in a wide faint shadow.
    Banding,
    /// A shadow that falls another way than the others of its scene.
    LightsDisagree,
    /// A height that another light casts than the one it follows, or than most of its scene.
    HeightsDisagree,
    /// A value that is that of a light or swatch, but does not follow it.
    LooseValue,
    /// Two colours that nobody can tell apart.
    NearColours,
    /// Two finishes that nobody can tell apart.
    NearFinishes,
    /// A step of the height scale that is no higher.
    FlatStep,
    /// A dark lower edge above a pale shadow.
    EdgeAndShadow,
    /// A shadow that comes out at the sides where its siblings' do not.
    SideBleed,
    /// A colour in multiply.
    Muddy,
    /// Soft relief on pure black or white.
    PureGround,
    /// Thickness in steps that can be seen.
    Teeth,
    /// Shadows that a chain will double.
    Doubled,
    /// More shadow layers than should be painted.
    PaintBudget,
    /// Shadows that cannot be mixed with those of a state.
    JumpingTransition,
    /// CSS that says nothing for where a browser takes something away.
    NoFallback,
}

/// How bad it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// A published requirement is not met.
    Error,
    /// It will be seen.
    Warning,
    /// It may be meant.
    Hint,
}

/// Which kinds of findings are wanted, and their thresholds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Limits {
    /// Contrast along the edge of a piece that has states (WCAG 2.2, SC 1.4.11).
    pub edge_contrast: f64,
    /// A difference that counts as seen, in 1/255.
    pub least_seen: u8,
    /// Degrees a shadow may fall beside the others.
    pub light_degrees: f64,
    /// The distance in OKLab below which two colours are one.
    pub near_colour: f64,
    /// The mean difference in 1/255 below which two finishes are one.
    pub near_finish: f64,
    /// Shadow layers a stack may have.
    pub shadow_layers: usize,
    /// Shadow layers that all elements of a page together may have.
    pub page_layers: usize,
    /// The share of a scene in bands from which on they are reported.
    pub banding: f64,
    /// Kinds that are not looked for.
    pub without: Vec<FindingKind>,
    /// The screen, or the eye, that contrast is measured on.
    pub screen: Screen,
    /// From where it is looked at.
    pub sight: ViewingConditions,
    /// Device pixels for one CSS px of that screen, from 1 to 4.
    pub density: f64,
}

impl Default for Limits {
    fn default() -> Self {
        Self {
            edge_contrast: crate::measure::FOR_PARTS,
            least_seen: 1,
            light_degrees: 25.0,
            near_colour: 0.02,
            near_finish: 0.5,
            shadow_layers: 12,
            page_layers: 400,
            banding: 0.02,
            without: Vec::new(),
            screen: Screen::Plain,
            sight: ViewingConditions::default(),
            density: 1.0,
        }
    }
}
