//! The routes under `/api`.

mod assets;
mod audit;
mod handoff;
mod live;
mod offers;
mod pages;
mod preview;
mod projects;
mod queries;
mod revisions;
mod session;
mod shares;
mod table;

use std::future::{Ready, ready};

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, HttpResponse, web};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::{IntoParams, OpenApi};
use zolvet_core::asset::Assets;
use zolvet_core::model::Project;
use zolvet_queries::QueryError;
use zolvet_store::{Document, Page};

use crate::client::Client;
use crate::error::ApiError;
use crate::request::JsonBody;
use crate::resources::ClientResources;
use crate::scheduler::Scheduler;

pub use session::KeyAttempts;
pub use table::{for_anyone, other_method, routes};

/// The whole interface, in OpenAPI.
#[utoipa::path(get, path = "/api/openapi.json",
    responses((status = 200, body = Object, content_type = "application/json"))
)]
async fn description() -> Result<HttpResponse, ApiError> {
    let json = openapi().map_err(ApiError::internal)?;
    Ok(HttpResponse::Ok().content_type("application/json").body(json))
}

/// Everything a route needs of a request: its client, and the scheduler.
pub struct RequestContext {
    pub scheduler: web::Data<Scheduler>,
    pub client: Client,
    pub request: HttpRequest,
}

impl FromRequest for RequestContext {
    type Error = ApiError;
    type Future = Ready<Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let client = match Client::from_request(request, payload).into_inner() {
            Ok(client) => client,
            Err(error) => return ready(Err(error)),
        };
        let scheduler = request.app_data::<web::Data<Scheduler>>().cloned();
        let scheduler = scheduler.ok_or_else(|| ApiError::internal("the service has no scheduler"));
        ready(scheduler.map(|scheduler| Self { scheduler, client, request: request.clone() }))
    }
}

impl RequestContext {
    /// Answers a request in a format.
    async fn bytes<Q>(
        self,
        media_type: &'static str,
        body: JsonBody<Q>,
        answer: impl Fn(&ClientResources<'_>, &Q) -> Result<Vec<u8>, ApiError> + Send + Sync + 'static,
    ) -> Result<HttpResponse, ApiError>
    where
        Q: DeserializeOwned + Send + Sync + 'static,
    {
        Ok(respond(media_type, self.scheduler.run_request(self.client, body, answer).await?))
    }

    /// Answers a request of a link: computed once for each revision, and cached.
    async fn cached(
        self,
        what: impl Into<String>,
        media_type: &'static str,
        (scene, stored): (String, Document),
        answer: impl Fn(&ClientResources<'_>, &str, &Document) -> Result<Vec<u8>, ApiError>
        + Send
        + Sync
        + 'static,
    ) -> Result<HttpResponse, ApiError> {
        let what = what.into();
        let bytes = self
            .scheduler
            .run(self.client, move |resources| {
                let key = format!("{what} {} {} {scene}", stored.id, stored.revision);
                if let Some(cached) = resources.shared.get(&key) {
                    return Ok(cached);
                }
                let made = web::Bytes::from(answer(resources, &scene, &stored)?);
                if !zolvet_core::budget::is_stopped() {
                    resources.shared.insert(key, made.clone());
                }
                Ok(made)
            })
            .await?;
        Ok(HttpResponse::Ok().content_type(media_type).body(bytes))
    }
}

/// Something as JSON.
fn json(value: &impl Serialize) -> Result<Vec<u8>, ApiError> {
    serde_json::to_vec(value).map_err(ApiError::internal)
}

/// A response with these bytes.
fn respond(media_type: &str, bytes: Vec<u8>) -> HttpResponse {
    HttpResponse::Ok().content_type(media_type).body(bytes)
}

/// How many entries a list has, of which an answer holds a part.
pub const TOTAL: &str = "X-Total";

/// Which part of a list.
#[derive(Debug, Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PageQuery {
    /// How many entries come before it; none when left out.
    from: Option<u32>,
    /// How many entries it has at most, from 1 to 500; 500 when left out.
    most: Option<u32>,
}

impl PageQuery {
    fn page(self) -> Result<Page, ApiError> {
        let most = self.most.unwrap_or(Page::MAX);
        if !(1..=Page::MAX).contains(&most) {
            return Err(ApiError::invalid_at("most", format!("expected 1 to 500 entries, found {most}")));
        }
        Ok(Page { from: self.from.unwrap_or(0), most })
    }
}

/// The description of the interface, as JSON.
///
/// # Errors
/// When it cannot be written as JSON.
pub fn openapi() -> Result<String, serde_json::Error> {
    let mut description = Description::openapi();
    queries::describe(&mut description);
    let mut value = serde_json::to_value(description)?;
    if let Some(paths) = value.get_mut("paths").and_then(Value::as_object_mut) {
        for (path, operations) in paths {
            for operation in
                operations.as_object_mut().into_iter().flat_map(|operations| operations.values_mut())
            {
                describe_problems(path, operation);
            }
        }
    }
    serde_json::to_string_pretty(&value)
}

/// Describes the answers that any operation of its kind may give, and that problems are problem documents.
fn describe_problems(path: &str, operation: &mut Value) {
    let has_body = operation.get("requestBody").is_some();
    let has_parameters = operation.get("parameters").is_some();
    let Some(responses) = operation.get_mut("responses").and_then(Value::as_object_mut) else { return };
    let problem = json!({"schema": {"$ref": "#/components/schemas/ProblemDocument"}});
    let mut statuses = vec![403, 500];
    if path.starts_with("/api/") {
        statuses.extend([401, 503]);
    }
    if path.starts_with("/s/") {
        statuses.push(503);
    }
    if has_body {
        statuses.extend([408, 409, 413, 415, 422]);
    }
    if has_parameters {
        statuses.extend([404, 409, 422]);
    }
    if has_body || has_parameters {
        statuses.push(507);
    }
    for status in statuses {
        responses.entry(status.to_string()).or_insert(json!({"description": "", "content": {}}));
    }
    for (status, response) in responses.iter_mut() {
        if status.starts_with('4') || status.starts_with('5') {
            response["content"] = json!({"application/problem+json": problem});
        }
    }
}

/// The whole interface, for OpenAPI.
#[derive(utoipa::OpenApi)]
#[openapi(
    info(title = "Zolvet", description = "Depth for interfaces: projects, pictures, reports and links."),
    paths(
        crate::health::health,
        crate::health::ready,
        description,
        session::open_session,
        session::close_session,
        projects::list,
        projects::create,
        projects::read,
        projects::save,
        projects::delete,
        projects::trash,
        projects::undelete,
        projects::purge,
        revisions::revisions,
        revisions::read_revision,
        revisions::name_revision,
        revisions::restore,
        revisions::earlier,
        assets::upload,
        pages::upload,
        pages::frame,
        pages::offers,
        assets::read,
        preview::preview,
        offers::offer_falloffs,
        offers::offer_demo,
        handoff::export_bundle,
        handoff::import,
        audit::audit_project,
        shares::create,
        shares::list,
        shares::revoke,
        shares::read,
        shares::shared_picture,
        shares::shared_look,
        live::sheet,
        live::tokens,
        live::events,
    ),
    components(schemas(crate::error::ProblemDocument, zolvet_queries::HeldProject))
)]
struct Description;

/// The project inside a request, decoded and checked. Pointers in errors are those of the request.
fn project_in(value: &Value) -> Result<Project, ApiError> {
    let checked = Project::from_value(value).and_then(|project| Assets::check(&project).map(|()| project));
    Ok(checked.map_err(|problems| QueryError::Invalid(problems).within("/project"))?)
}
