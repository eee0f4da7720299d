//! Queries on pages of somebody's own.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::handoff::{SheetOptions, fittings_sheet};
use zolvet_core::model::State;

use crate::{QueryContext, QueryError, scene_in};

/// A scene that has a page as its ground.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PageSheetRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of the scene.
    scene: String,
    /// The form of the sheet.
    #[serde(default)]
    options: SheetOptions,
    /// The state that elements are shown in at rest.
    #[serde(default)]
    state: Option<State>,
}

/// A sheet for a page.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PageSheet {
    /// The sheet, to be loaded after the page's own.
    css: String,
}

/// The sheet of a scene's page.
///
/// # Errors
/// The place where the request is not as expected.
pub fn page_sheet(context: &QueryContext<'_>, request: &PageSheetRequest) -> Result<PageSheet, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    Ok(PageSheet { css: fittings_sheet(&project, &assets, scene, &request.options, request.state) })
}
