//! Finishes on specimens, among themselves.

use actix_web::{HttpResponse, post, web};
use zolvet_core::model::Finish;
use zolvet_questions::{self as questions, Cards, CardsRequest, TwoFinishes};

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(finish_cards).service(finish_steps).service(finish_differences);
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
    context.json(body, questions::finish_cards).await
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
    context.json(body, questions::finish_steps).await
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
    context.json(body, questions::finish_differences).await
}
