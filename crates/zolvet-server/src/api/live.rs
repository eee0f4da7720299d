//! Live addresses: the depth of a scene as it is now, for pages of other origins, and news of changes (docs/pages.md, "Live
//! addresses").

use std::hash::{DefaultHasher, Hash as _, Hasher as _};

use actix_web::http::StatusCode;
use actix_web::http::header::{CACHE_CONTROL, ETag, EntityTag, IfNoneMatch};
use actix_web::{HttpMessage as _, HttpRequest, HttpResponse, web};
use serde::Deserialize;
use utoipa::IntoParams;
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, Style, live_sheet, live_tokens};
use zolvet_core::model::{Prefix, Project, Scene};
use zolvet_store::Store;

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::live_streams::LiveStreams;

/// Says which revision an answer shows.
const REVISION: &str = "Zolvet-Revision";

/// How a sheet is written. What else is in the address is left to pages, which may add to it what they like.
#[derive(Deserialize, IntoParams)]
pub struct LiveQuery {
    /// Living when left out.
    style: Option<Style>,
    /// The cascade layer that everything is in.
    layer: Option<Prefix>,
}

/// The sheet of a scene at its project's newest revision.
#[utoipa::path(get, path = "/s/{token}/depth.css",
    operation_id = "live_sheet",
    params(("token" = String, Path), LiveQuery),
    responses(
        (status = 200, content_type = "text/css", body = String),
        (status = 304),
        (status = 404, body = ProblemDocument),
        (status = 422, body = ProblemDocument)
    )
)]
pub async fn sheet(
    store: web::Data<Store>,
    context: RequestContext,
    token: web::Path<String>,
    query: web::Query<LiveQuery>,
) -> Result<HttpResponse, ApiError> {
    let LiveQuery { style, layer } = query.into_inner();
    let wanted = SheetOptions { style: style.unwrap_or_default(), layer, ..SheetOptions::default() };
    let what = serde_json::to_string(&wanted).map_err(ApiError::internal)?;
    answer(&store, context, &token, ("text/css; charset=utf-8", what), move |project, assets, scene| {
        live_sheet(project, assets, scene, &wanted)
    })
    .await
}

/// The tokens of the finishes worn in a scene, at its project's newest revision.
#[utoipa::path(get, path = "/s/{token}/tokens.json",
    operation_id = "live_tokens",
    params(("token" = String, Path)),
    responses(
        (status = 200, content_type = "application/json", body = Object),
        (status = 304),
        (status = 404, body = ProblemDocument)
    )
)]
pub async fn tokens(
    store: web::Data<Store>,
    context: RequestContext,
    token: web::Path<String>,
) -> Result<HttpResponse, ApiError> {
    answer(&store, context, &token, ("application/json", "tokens".to_owned()), live_tokens).await
}

/// Tells of each new revision, as server-sent events (HTML, section 9.2): its number is the event's data and id.
#[utoipa::path(get, path = "/s/{token}/events",
    operation_id = "live_events",
    params(("token" = String, Path)),
    responses(
        (status = 200, content_type = "text/event-stream", body = String),
        (status = 404, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
pub async fn events(
    store: web::Data<Store>,
    streams: web::Data<LiveStreams>,
    token: web::Path<String>,
    request: HttpRequest,
) -> Result<HttpResponse, ApiError> {
    let known = request.headers().get("Last-Event-ID").and_then(|id| id.to_str().ok()?.parse().ok());
    let stream = streams.open(&store, &token, known).await?;
    Ok(HttpResponse::Ok()
        .content_type("text/event-stream")
        .insert_header((CACHE_CONTROL, "no-store"))
        // An event that waits to be compressed with the next comes too late.
        .insert_header(("Content-Encoding", "identity"))
        .streaming(stream))
}

/// Answers with what is made of a scene at its project's newest revision: computed once for each, and cached; not sent to those
/// who have it already.
async fn answer(
    store: &Store,
    context: RequestContext,
    token: &str,
    (media_type, what): (&'static str, String),
    make: impl Fn(&Project, &Assets, &Scene) -> String + Send + Sync + 'static,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, request } = context;
    let live = store.live(token).await?;
    let revision = live.revision;
    let bytes = scheduler
        .run(client, move |resources| {
            let key = format!("live {what} {} {revision} {}", live.project_id, live.scene_id);
            if let Some(cached) = resources.shared.get(&key) {
                return Ok(cached);
            }
            let stored = resources.read(&live.project_id, Some(revision))?;
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            // A scene that is gone is gone for the link too.
            let scene = project.scene(&live.scene_id).ok_or_else(|| ApiError::missing("link"))?;
            let assets = resources.query_context().assets(&project)?;
            let made = web::Bytes::from(make(&project, &assets, scene));
            if !zolvet_core::budget::is_stopped() {
                resources.shared.insert(key, made.clone());
            }
            Ok(made)
        })
        .await?;
    let tag = tag_of(&bytes);
    let is_known = is_known(&request, &tag);
    let mut response = HttpResponse::build(if is_known { StatusCode::NOT_MODIFIED } else { StatusCode::OK });
    response
        .insert_header(ETag(tag))
        .insert_header((CACHE_CONTROL, "no-cache"))
        .insert_header((REVISION, revision.to_string()));
    if is_known {
        return Ok(response.finish());
    }
    Ok(response.content_type(media_type).body(bytes))
}

/// Weak, as the same bytes may be sent packed or not (RFC 9110, section 8.8.1).
fn tag_of(bytes: &[u8]) -> EntityTag {
    let mut hasher = DefaultHasher::new();
    bytes.hash(&mut hasher);
    EntityTag::new_weak(format!("{:016x}", hasher.finish()))
}

fn is_known(request: &HttpRequest, tag: &EntityTag) -> bool {
    match request.get_header::<IfNoneMatch>() {
        Some(IfNoneMatch::Any) => true,
        Some(IfNoneMatch::Items(tags)) => tags.iter().any(|known| known.weak_eq(tag)),
        None => false,
    }
}
