//! Looking a whole project over: what is hard to see, what disagrees, what will come out otherwise than meant.
//!
//! Each finding says what, where, why it matters and how bad it is in numbers, and, where there is one, offers a mend: a
//! few values of the document to set. Limits are common practice, no published source, unless a standard is named.

mod colour;
mod depth;
mod library;
mod light;
mod mend;
mod seen;
mod stacks;

use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::asset::Assets;
use crate::compose::MaskCache;
use crate::measure::{Screen, Sight};
use crate::model::{Id, Project};
use crate::resolve::{self, Scene};
use crate::rows::each;

pub use mend::{Edit, Mend, mended};
use mend::{References, references};
use stacks::{Stack, stacks};

/// What was found in a project.
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
    /// The same for the same thing from audit to audit; what accepted findings are told by.
    pub key: String,
    /// What it is about.
    pub kind: FindingKind,
    /// How bad it is.
    pub severity: Severity,
    /// Where.
    pub place: Where,
    /// What was found, with its numbers.
    pub message: String,
    /// Why it matters, in a sentence.
    pub why: String,
    /// What would remove it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mend: Option<Mend>,
    /// Why it was accepted, where it was.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub accepted: Option<String>,
}

/// Where something was found.
#[derive(Debug, Clone, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Where {
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

/// What a finding is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FindingKind {
    /// Text too close to what is behind it.
    FaintText,
    /// An edge of something to be used that is hard to see.
    FaintEdge,
    /// A coat that changes no pixel.
    NothingToSee,
    /// Steps in a wide faint shadow.
    Banding,
    /// A shadow that falls another way than the others of its scene.
    LightsDisagree,
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

/// What is looked for, and from where on it counts.
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
    /// The share of a scene in bands from which on they are told.
    pub banding: f64,
    /// Kinds that are not looked for.
    pub without: Vec<FindingKind>,
    /// The screen, or the eye, that contrast is measured on.
    pub screen: Screen,
    /// From where it is looked at.
    pub sight: Sight,
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
            banding: 0.02,
            without: Vec::new(),
            screen: Screen::Plain,
            sight: Sight::default(),
            density: 1.0,
        }
    }
}

/// What an audit works with.
struct Auditor<'a> {
    project: &'a Project,
    document: &'a Value,
    assets: &'a Assets,
    limits: &'a Limits,
    cache: &'a MaskCache,
    scenes: Vec<Scene>,
    stacks: Vec<Stack<'a>>,
    references: References,
    findings: Vec<Finding>,
}

/// Looks a project over. `document` is the project as JSON, which mends point into; `go_on` is told how much of the work
/// is done, from 0 to 1, and may end it by answering no.
pub fn audit(
    project: &Project,
    document: &Value,
    assets: &Assets,
    limits: &Limits,
    cache: &MaskCache,
    go_on: &mut dyn FnMut(f64) -> bool,
) -> Option<Audit> {
    let scenes = project.scenes.iter().map(|scene| resolve::scene(project, scene, assets)).collect();
    let stacks = stacks(project);
    let (references, findings) = (references(document), Vec::new());
    let mut auditor =
        Auditor { project, document, assets, limits, cache, scenes, stacks, references, findings };
    if !go_on(0.02) {
        return None;
    }
    auditor.library();
    auditor.colours();
    auditor.lights();
    auditor.depth();
    let scenes: Vec<usize> = (0..auditor.scenes.len()).collect();
    for (at, few) in scenes.chunks(AT_ONCE).enumerate() {
        if !go_on(0.1 + 0.9 * (at * AT_ONCE) as f64 / scenes.len() as f64) {
            return None;
        }
        for seen in each(few, |at| auditor.seen(*at)) {
            seen.findings.into_iter().for_each(|finding| auditor.find(finding));
            for (stack, coat) in seen.changing {
                auditor.stacks[stack].seen.insert(coat);
            }
        }
    }
    auditor.never_seen();
    Some(auditor.done())
}

/// Scenes that are looked at side by side, between two words about how far the work has come.
const AT_ONCE: usize = 4;

impl Auditor<'_> {
    /// Puts one id in place of another wherever the document refers to it.
    fn refer(&self, field: &str, from: &Id, to: &Id) -> Vec<Edit> {
        let places = self.references.get(&(field.to_owned(), from.to_string())).into_iter().flatten();
        places.map(|at| Edit::set(at.as_str(), to.as_str())).collect()
    }

    fn find(&mut self, finding: Finding) {
        if self.looks_for(finding.kind) {
            self.findings.push(finding);
        }
    }

    fn looks_for(&self, kind: FindingKind) -> bool {
        !self.limits.without.contains(&kind)
    }

    fn done(self) -> Audit {
        let mut findings = self.findings;
        for finding in &mut findings {
            let accepted = self.project.accepted.iter().find(|accepted| accepted.finding == finding.key);
            finding.accepted = accepted.map(|accepted| accepted.note.clone());
        }
        findings.sort_by_key(|finding| (finding.accepted.is_some(), finding.severity, finding.kind));
        findings.dedup_by(|a, b| a.key == b.key);
        Audit { findings }
    }
}
