//! Finishes on specimens, among themselves.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::lower::{TrialPiece, trial};
use zolvet_core::model::{Finish, Id, OwnCoats, Project, State, Wear};
use zolvet_core::picture::png_data_url;
use zolvet_core::report::finishes::{Height, between, differences, heights};
use zolvet_core::resolve;

use crate::{QueryContext, QueryError, charge};

/// Which finishes are shown.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CardsRequest {
    /// The project document; its scenes are not needed.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The theme they are shown under.
    theme: Id,
    /// Only this one.
    finish: Option<Id>,
    /// In this state instead of at rest, where it has coats for it.
    state: Option<State>,
}

/// The finishes on specimens, and how high they stand.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cards {
    /// In the project's order.
    cards: Vec<Card>,
    /// Finishes of the height scale first, in its order.
    heights: Vec<Height>,
}

/// One finish on a box, letters and an icon, each on light and on dark ground.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Card {
    /// The finish.
    finish: Id,
    /// The pictures.
    specimens: Vec<SpecimenPicture>,
}

/// A finish on one specimen.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SpecimenPicture {
    /// Its wearers.
    on: TrialPiece,
    /// On dark ground.
    dark: bool,
    /// A PNG as a data URL, 320 × 240 px.
    picture: String,
}

/// Pictures of finishes on specimens.
///
/// # Errors
/// The place where the request is not as expected.
pub fn finish_cards(context: &QueryContext<'_>, request: &CardsRequest) -> Result<Cards, QueryError> {
    let project = context.project(&request.project)?;
    if project.theme(&request.theme).is_none() {
        return Err(QueryError::invalid_at("/theme", "expected the id of a theme"));
    }
    let shown = project.finishes.iter().filter(|one| request.finish.as_ref().is_none_or(|id| one.id == *id));
    let assets = context.assets(&project)?;
    let cards =
        shown.map(|finish| card((&project, &assets), &request.theme, finish, request.state, context.cache));
    let cards = cards.collect::<Result<_, _>>()?;
    Ok(Cards { cards, heights: heights(&project, &request.theme, &assets) })
}

fn card(
    (project, assets): (&Project, &Assets),
    theme: &Id,
    finish: &Finish,
    state: Option<State>,
    cache: &MaskCache,
) -> Result<Card, QueryError> {
    let coats =
        state.and_then(|state| finish.states.get(&state)).map_or(finish.coats_in(theme), Vec::as_slice);
    let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
    let mut specimens = Vec::new();
    for (on, dark) in TrialPiece::ALL.into_iter().flat_map(|on| [(on, false), (on, true)]) {
        let scene = trial(theme, &wear, on, dark);
        let scene = resolve::scene(project, &scene, assets);
        let view = Viewport::whole(&scene, 1.0);
        let png = picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, cache).to_png();
        let png = charge(png.map_err(QueryError::internal)?);
        specimens.push(SpecimenPicture { on, dark, picture: png_data_url(&png) });
    }
    Ok(Card { finish: finish.id.clone(), specimens })
}

/// Two finishes of a project.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TwoFinishes {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of the lower one, or the first.
    low: Id,
    /// The id of the higher one, or the second.
    high: Id,
    /// How many steps between them, from 1 to 16.
    count: Option<usize>,
}

impl TwoFinishes {
    fn find_both<'a>(&self, project: &'a Project) -> Result<(&'a Finish, &'a Finish), QueryError> {
        let find = |id: &Id, place: &str| {
            let found = project.finishes.iter().find(|finish| finish.id == *id);
            found.ok_or_else(|| QueryError::invalid_at(place, "expected the id of a finish"))
        };
        Ok((find(&self.low, "/low")?, find(&self.high, "/high")?))
    }
}

/// The steps that are missing between two finishes, lowest first, to be given ids of their own.
///
/// # Errors
/// The place where the request is not as expected.
pub fn finish_steps(context: &QueryContext<'_>, request: &TwoFinishes) -> Result<Vec<Finish>, QueryError> {
    let project = context.project(&request.project)?;
    let (low, high) = request.find_both(&project)?;
    let count = request.count.unwrap_or(1);
    if !(1..=16).contains(&count) {
        return Err(QueryError::invalid_at("/count", "expected 1 to 16 steps"));
    }
    Ok(between(low, high, count))
}

/// How two finishes differ, coat by coat, in words.
///
/// # Errors
/// The place where the request is not as expected.
pub fn finish_differences(
    context: &QueryContext<'_>,
    request: &TwoFinishes,
) -> Result<Vec<String>, QueryError> {
    let project = context.project(&request.project)?;
    let (low, high) = request.find_both(&project)?;
    Ok(differences(low, high, &project.themes))
}
