//! Stacks found: fewer coats for the same look, and coats for a pulled edge profile.

use actix_web::HttpResponse;
use zolvet_core::solve::Drawn;
use zolvet_questions::{self as questions, PullRequest, ReduceRequest, ReducedPictures};

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// Finds the best stacks of fewer coats that look like a piece's own.
#[utoipa::path(post, path = "/api/solve/reduce",
    operation_id = "reduce_stack",
    request_body = ReduceRequest,
    responses((status = 200, body = ReducedPictures), (status = 422, body = ProblemDocument))
)]
pub async fn reduce_stack(
    context: RequestContext,
    body: JsonBody<ReduceRequest>,
) -> Result<HttpResponse, ApiError> {
    context.by_helper("/api/solve/reduce", body).await
}

/// Finds the stack whose edge profile goes where it was pulled, and stays elsewhere.
#[utoipa::path(post, path = "/api/solve/draw",
    operation_id = "pull_profile",
    request_body = PullRequest,
    responses((status = 200, body = Drawn), (status = 422, body = ProblemDocument))
)]
pub async fn pull_profile(
    context: RequestContext,
    body: JsonBody<PullRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::pull_profile).await
}
