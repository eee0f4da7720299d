//! Finishes on specimens, among themselves.

use actix_web::{HttpResponse, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::asset::Assets;
use zolvet_core::compose::{RenderOptions, Rounding, Viewport, picture};
use zolvet_core::lower::{TrialPiece, trial};
use zolvet_core::model::{Finish, Id, OwnCoats, Project, State, Wear};
use zolvet_core::picture::png_data_url;
use zolvet_core::report::finishes::{Height, between, differences, heights};
use zolvet_core::resolve;

use super::{RequestContext, made, project_in};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;
use crate::resources::Resources;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(finish_cards).service(finish_steps).service(finish_differences);
}

/// Which finishes are shown.
#[derive(Deserialize, ToSchema)]
pub struct CardsRequest {
    /// The project document; its scenes are not needed.
    #[schema(value_type = Project)]
    project: Value,
    /// The theme they are shown under.
    theme: Id,
    /// Only this one.
    finish: Option<Id>,
    /// In this state instead of at rest, where it has coats for it.
    state: Option<State>,
}

/// The finishes on specimens, and how high they stand.
#[derive(Serialize, ToSchema)]
pub struct Cards {
    /// In the project's order.
    cards: Vec<Card>,
    /// Those of the height scale first, in its order.
    heights: Vec<Height>,
}

/// One finish on a box, letters and an icon, each on light and on dark ground.
#[derive(Serialize, ToSchema)]
pub struct Card {
    /// The finish.
    finish: Id,
    /// The pictures.
    specimens: Vec<SpecimenPicture>,
}

/// A finish on one specimen.
#[derive(Serialize, ToSchema)]
pub struct SpecimenPicture {
    /// What wears it.
    on: TrialPiece,
    /// On dark ground.
    dark: bool,
    /// A PNG as a data URL, 320 × 240 px.
    picture: String,
}

/// Pictures of finishes on specimens.
#[utoipa::path(
    request_body = CardsRequest,
    responses((status = 200, body = Cards), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/finishes")]
pub async fn finish_cards(
    context: RequestContext,
    body: JsonBody<CardsRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            if project.theme(&body.theme).is_none() {
                return Err(ApiError::invalid_at("/theme", "expected the id of a theme"));
            }
            let shown =
                project.finishes.iter().filter(|one| body.finish.as_ref().is_none_or(|id| one.id == *id));
            let assets = resources.assets(&project)?;
            let cards =
                shown.map(|finish| card((&project, &assets), &body.theme, finish, body.state, resources));
            let cards = cards.collect::<Result<_, _>>()?;
            Ok(Cards { cards, heights: heights(&project, &body.theme, &assets) })
        })
        .await
}

fn card(
    (project, assets): (&Project, &Assets),
    theme: &Id,
    finish: &Finish,
    state: Option<State>,
    resources: &Resources,
) -> Result<Card, ApiError> {
    let coats =
        state.and_then(|state| finish.states.get(&state)).map_or(finish.coats_in(theme), Vec::as_slice);
    let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
    let mut specimens = Vec::new();
    for (on, dark) in TrialPiece::ALL.into_iter().flat_map(|on| [(on, false), (on, true)]) {
        let scene = trial(theme, &wear, on, dark);
        let scene = resolve::scene(project, &scene, assets);
        let view = Viewport::whole(&scene, 1.0);
        let png =
            picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &resources.cache).to_png();
        let png = made(png.map_err(ApiError::internal)?)?;
        specimens.push(SpecimenPicture { on, dark, picture: png_data_url(&png) });
    }
    Ok(Card { finish: finish.id.clone(), specimens })
}

/// Two finishes of a project.
#[derive(Deserialize, ToSchema)]
pub struct TwoFinishes {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of the lower one, or the first.
    low: Id,
    /// The id of the higher one, or the second.
    high: Id,
    /// How many steps between them, from 1 to 16.
    count: Option<usize>,
}

impl TwoFinishes {
    fn of<'a>(&self, project: &'a Project) -> Result<(&'a Finish, &'a Finish), ApiError> {
        let find = |id: &Id, place: &str| {
            let found = project.finishes.iter().find(|finish| finish.id == *id);
            found.ok_or_else(|| ApiError::invalid_at(place, "expected the id of a finish"))
        };
        Ok((find(&self.low, "/low")?, find(&self.high, "/high")?))
    }
}

/// The steps that are missing between two finishes, lowest first, to be given ids of their own.
#[utoipa::path(
    request_body = TwoFinishes,
    responses((status = 200, body = Vec<Finish>), (status = 422, body = ProblemDocument))
)]
#[post("/api/finishes/steps")]
pub async fn finish_steps(
    context: RequestContext,
    body: JsonBody<TwoFinishes>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |_, body| {
            let project = project_in(&body.project)?;
            let (low, high) = body.of(&project)?;
            let count = body.count.unwrap_or(1);
            if !(1..=16).contains(&count) {
                return Err(ApiError::invalid_at("/count", "expected 1 to 16 steps"));
            }
            Ok(between(low, high, count))
        })
        .await
}

/// How two finishes differ, coat by coat, in words.
#[utoipa::path(
    request_body = TwoFinishes,
    responses((status = 200, body = Vec<String>), (status = 422, body = ProblemDocument))
)]
#[post("/api/finishes/differences")]
pub async fn finish_differences(
    context: RequestContext,
    body: JsonBody<TwoFinishes>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |_, body| {
            let project = project_in(&body.project)?;
            let (low, high) = body.of(&project)?;
            Ok(differences(low, high, &project.themes))
        })
        .await
}
