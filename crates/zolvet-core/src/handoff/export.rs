//! The formats a project leaves in.

use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::json::readable;
use super::options::SheetOptions;
use super::scss::scss;
use super::sheet::sheet;
use super::theme::theme;
use crate::asset::Assets;
use crate::lower::{TrialPiece, trial};
use crate::model::{OwnCoats, Project, Scene, Wear};
use crate::svg::{StandAlone, standalone};
use crate::tokens::TokenOptions;
use crate::{resolve, tokens};

/// A format a project leaves in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Format {
    /// A style sheet.
    Css,
    /// Mixins.
    Scss,
    /// A utility class for each finish, as an `@utility`.
    Theme,
    /// Design tokens, of one theme.
    Tokens,
    /// A stand-alone picture of a scene, or of a finish on a box.
    Svg,
    /// The project itself.
    Json,
}

/// A project as text. `scene` is which one an SVG shows; the first where none is named.
#[must_use]
pub fn export(
    project: &Project,
    assets: &Assets,
    format: Format,
    scene: Option<&str>,
    wanted: &SheetOptions,
) -> String {
    match format {
        Format::Css => sheet(project, assets, wanted),
        Format::Scss => scss(project, assets, wanted),
        Format::Theme => theme(project, assets, wanted),
        Format::Tokens => {
            let options = TokenOptions {
                finish: wanted.finish.as_ref(),
                numbers: wanted.numbers,
                form: wanted.token_form,
            };
            let theme = wanted.theme.as_ref().or_else(|| project.themes.first().map(|theme| &theme.id));
            readable(&match (wanted.modes, theme) {
                (true, _) => tokens::write_modes(project, assets, options),
                (false, Some(theme)) => tokens::write(project, theme, assets, options),
                (false, None) => Value::Null,
            })
        }
        Format::Svg => drawing(project, assets, scene, wanted).svg,
        Format::Json => pretty(&serde_json::to_value(project).unwrap_or_default()),
    }
}

/// JSON for reading.
pub(super) fn pretty(value: &Value) -> String {
    let mut text = serde_json::to_string_pretty(value).unwrap_or_default();
    text.push('\n');
    text
}

/// The chosen scene, or a finish on a box, as a stand-alone picture with its differences from the design.
#[must_use]
pub fn drawing(project: &Project, assets: &Assets, scene: Option<&str>, wanted: &SheetOptions) -> StandAlone {
    let finish =
        wanted.finish.as_ref().and_then(|id| project.finishes.iter().find(|finish| finish.id == *id));
    let theme = wanted.theme.as_ref().or_else(|| project.themes.first().map(|theme| &theme.id));
    let shown: Option<Scene> = match (finish, theme) {
        (Some(finish), Some(theme)) => {
            let wear = Wear::Coats(OwnCoats { coats: finish.coats_in(theme).to_vec() });
            Some(trial(theme, &wear, TrialPiece::Box, false))
        }
        _ => scene.map_or_else(|| project.scenes.first(), |key| project.scene(key)).cloned(),
    };
    let Some(mut shown) = shown else { return StandAlone { svg: String::new(), notes: Vec::new() } };
    if let Some(theme) = &wanted.theme {
        shown.theme = theme.clone();
    }
    standalone(&resolve::scene(project, &shown, assets), wanted.backdrops)
}
