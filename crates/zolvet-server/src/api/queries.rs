//! Queries to the core: their routes and their description are made from the registry.

use actix_web::HttpResponse;
use serde_json::Value;
use utoipa::openapi::path::{HttpMethod, OperationBuilder, PathItem};
use utoipa::openapi::request_body::RequestBodyBuilder;
use utoipa::openapi::{Components, Content, OpenApi, Required, ResponseBuilder};
use zolvet_host::Task;
use zolvet_queries::schemas::QuerySchemas;
use zolvet_queries::{Place, QUERIES, Query};

use super::RequestContext;
use crate::error::ApiError;
use crate::request::JsonBody;
use crate::resources::ClientResources;

/// Answers a query.
pub async fn answer(
    query: &'static Query,
    context: RequestContext,
    body: JsonBody<Value>,
) -> Result<HttpResponse, ApiError> {
    match query.place {
        Place::Service => answer_here(query, context, body).await,
        Place::Helper => answer_by_helper(query, context, body).await,
    }
}

async fn answer_here(
    query: &'static Query,
    context: RequestContext,
    body: JsonBody<Value>,
) -> Result<HttpResponse, ApiError> {
    let compute =
        move |resources: &ClientResources<'_>| Ok(query.answer(body.bytes(), &resources.query_context())?);
    let answer = context.scheduler.run(context.client, compute).await?;
    let mut response = HttpResponse::Ok();
    response.content_type(query.media_type);
    if !answer.compresses {
        response.insert_header(("Content-Encoding", "identity"));
    }
    Ok(response.body(answer.bytes))
}

/// A helper holds no projects and has no store, so that it is sent the whole document with its files.
async fn answer_by_helper(
    query: &'static Query,
    context: RequestContext,
    body: JsonBody<Value>,
) -> Result<HttpResponse, ApiError> {
    let whole = move |resources: &ClientResources<'_>| {
        let mut request = body.value()?;
        let project = resources.query_context().project(&request["project"])?;
        let document = serde_json::to_value(&*project).map_err(ApiError::internal)?;
        request["project"] = resources.with_files(&project, document)?;
        super::json(&request)
    };
    let request = context.scheduler.run(context.client.clone(), whole).await?;
    let answer = context.scheduler.run_helper(context.client, Task::Query(query.path), &request).await?;
    Ok(super::respond(query.media_type, answer))
}

/// Adds all queries to the description of the interface.
pub fn describe(description: &mut OpenApi) {
    let components = description.components.get_or_insert_with(Components::new);
    for query in &QUERIES {
        let QuerySchemas { request, answer, components: referred } = (query.schemas)();
        let content = Content::new(Some(request));
        let body =
            RequestBodyBuilder::new().content("application/json", content).required(Some(Required::True));
        let response = ResponseBuilder::new().content(query.media_type, Content::new(Some(answer)));
        let operation = OperationBuilder::new()
            .tag("queries")
            .summary(Some(query.summary))
            .operation_id(Some(query.operation))
            .request_body(Some(body.build()))
            .response("200", response.build());
        let item = PathItem::new(HttpMethod::Post, operation.build());
        description.paths.paths.insert(query.path.to_owned(), item);
        components.schemas.extend(referred);
    }
}
