//! Finishes on specimens, among themselves.

use actix_web::HttpResponse;
use zolvet_core::model::Finish;
use zolvet_questions::{self as questions, Cards, CardsRequest, TwoFinishes};

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// Pictures of finishes on specimens.
#[utoipa::path(post, path = "/api/finishes",
    request_body = CardsRequest,
    responses((status = 200, body = Cards), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn finish_cards(
    context: RequestContext,
    body: JsonBody<CardsRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::finish_cards).await
}

/// The steps that are missing between two finishes, lowest first, to be given ids of their own.
#[utoipa::path(post, path = "/api/finishes/steps",
    request_body = TwoFinishes,
    responses((status = 200, body = Vec<Finish>), (status = 422, body = ProblemDocument))
)]
pub async fn finish_steps(
    context: RequestContext,
    body: JsonBody<TwoFinishes>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::finish_steps).await
}

/// How two finishes differ, coat by coat, in words.
#[utoipa::path(post, path = "/api/finishes/differences",
    request_body = TwoFinishes,
    responses((status = 200, body = Vec<String>), (status = 422, body = ProblemDocument))
)]
pub async fn finish_differences(
    context: RequestContext,
    body: JsonBody<TwoFinishes>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::finish_differences).await
}
