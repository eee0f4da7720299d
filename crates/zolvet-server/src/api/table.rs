//! Every route of the service: its address, who may call it, and its handler.
//!
//! Nothing else answers under these addresses: a route is found here or not at all, and it is registered behind the gate of
//! its caller. A test holds this list and the description of the interface to the same addresses and methods.

use actix_web::dev::{AppService, HttpServiceFactory};
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::from_fn;
use actix_web::{FromRequest, Handler, HttpResponse, Responder, ResponseError, Route, web};

use super::{
    assets, audit, description, handoff, live, offers, pages, preview, projects, queries, revisions, session,
    shares,
};
use zolvet_queries::{QUERIES, Query};

use crate::access::{Caller, gate};
use crate::error::ApiError;
use crate::health;

/// A route of the service.
pub struct Entry {
    pub path: &'static str,
    pub method: Method,
    pub caller: Caller,
    route: Route,
}

/// All routes under `/api`, and those that say whether the service is there.
pub fn table() -> Vec<Entry> {
    let mut all = for_others();
    all.extend(stored());
    all.extend(computed());
    all.extend(queries());
    all
}

/// Routes that answer without the owner's key.
fn for_others() -> Vec<Entry> {
    use Caller::{AnyPage, Anyone, Visitor};
    vec![
        get("/healthz", Anyone, health::health),
        get("/readyz", Anyone, health::ready),
        post("/api/session", Anyone, session::open_session),
        delete("/api/session", Anyone, session::close_session),
        get("/api/shared/{token}", Visitor, shares::read),
        get("/api/shared/{token}/look.png", Visitor, shares::shared_look),
        get("/api/shared/{token}/picture.png", Visitor, shares::shared_picture),
        get("/s/{token}/depth.css", AnyPage, live::sheet),
        get("/s/{token}/tokens.json", AnyPage, live::tokens),
        get("/s/{token}/events", AnyPage, live::events),
    ]
}

/// Projects, and the resources of each.
fn stored() -> Vec<Entry> {
    use Caller::Owner;
    vec![
        get("/api/openapi.json", Owner, description),
        get("/api/projects", Owner, projects::list),
        post("/api/projects", Owner, projects::create),
        get("/api/projects/{id}", Owner, projects::read),
        put("/api/projects/{id}", Owner, projects::save),
        delete("/api/projects/{id}", Owner, projects::delete),
        get("/api/projects/{id}/revisions", Owner, revisions::revisions),
        get("/api/projects/{id}/revisions/{revision}", Owner, revisions::read_revision),
        post("/api/projects/{id}/revisions/{revision}/restore", Owner, revisions::restore),
        put("/api/projects/{id}/revisions/{revision}/name", Owner, revisions::name_revision),
        get("/api/projects/{id}/finishes/{finish}/earlier", Owner, revisions::earlier),
        post("/api/projects/{id}/shares", Owner, shares::create),
        get("/api/projects/{id}/shares", Owner, shares::list),
        delete("/api/shares/{token}", Owner, shares::revoke),
        get("/api/trash", Owner, projects::trash),
        delete("/api/trash/{id}", Owner, projects::purge),
        post("/api/trash/{id}/restore", Owner, projects::undelete),
        post("/api/assets", Owner, assets::upload),
        get("/api/assets/{id}", Owner, assets::read),
        post("/api/pages", Owner, pages::upload),
        get("/api/pages/{id}", Owner, pages::frame),
        post("/api/pages/{id}/offers", Owner, pages::offers),
    ]
}

/// Routes that need more than a query to the core: two media types, an archive, progress, files read.
fn computed() -> Vec<Entry> {
    use Caller::Owner;
    vec![
        post("/api/preview", Owner, preview::preview),
        get("/api/falloffs", Owner, offers::offer_falloffs),
        get("/api/demo", Owner, offers::offer_demo),
        post("/api/bundle", Owner, handoff::export_bundle),
        post("/api/import", Owner, handoff::import),
        post("/api/audit", Owner, audit::audit_project),
    ]
}

/// Queries to the core.
fn queries() -> Vec<Entry> {
    let route = |query: &'static Query| {
        let answer = move |context, body| queries::answer(query, context, body);
        post(query.path, Caller::Owner, answer)
    };
    QUERIES.iter().map(route).collect()
}

/// Registers all routes.
pub fn routes(config: &mut web::ServiceConfig) {
    let mut resources: Vec<Address> = Vec::new();
    for entry in table() {
        match resources.iter_mut().find(|resource| resource.path == entry.path) {
            Some(resource) => resource.entries.push(entry),
            None => resources.push(Address { path: entry.path, entries: vec![entry] }),
        }
    }
    for resource in resources {
        config.service(resource);
    }
}

/// The answer where no route matches: nothing is there.
pub fn for_anyone<F, Args>(handler: F) -> Route
where
    F: Handler<Args>,
    Args: FromRequest + 'static,
    F::Output: Responder + 'static,
{
    guarded(Caller::Anyone, web::route().to(handler))
}

/// An address with the routes of its methods.
struct Address {
    path: &'static str,
    entries: Vec<Entry>,
}

impl HttpServiceFactory for Address {
    fn register(self, config: &mut AppService) {
        let mut methods: Vec<Method> = self.entries.iter().map(|entry| entry.method.clone()).collect();
        if methods.contains(&Method::GET) {
            methods.push(Method::HEAD);
        }
        let other = move |method: Method| {
            let answer = other_method(&methods, &method);
            async move { answer }
        };
        // Where pages of any origin may ask, they may ask what they may ask.
        let is_for_pages = self.entries.iter().all(|entry| entry.caller == Caller::AnyPage);
        let caller = if is_for_pages { Caller::AnyPage } else { Caller::Anyone };
        let other = guarded(caller, web::route().to(other));
        let mut resource = web::resource(self.path).default_service(other);
        for entry in self.entries {
            resource = resource.route(guarded(entry.caller, entry.route));
        }
        resource.register(config);
    }
}

/// An answer that names the methods an address has (RFC 9110, §9.3.7 and §15.5.6).
pub fn other_method(methods: &[Method], asked: &Method) -> HttpResponse {
    let mut names: Vec<&str> = methods.iter().map(Method::as_str).collect();
    names.push("OPTIONS");
    let names = names.join(", ");
    if asked == Method::OPTIONS {
        return HttpResponse::NoContent().insert_header((header::ALLOW, names)).finish();
    }
    let detail = format!("This address answers to {names}.");
    let error = ApiError::new(StatusCode::METHOD_NOT_ALLOWED, "method", "Another method is needed", detail);
    let mut response = error.error_response();
    if let Ok(names) = header::HeaderValue::from_str(&names) {
        response.headers_mut().insert(header::ALLOW, names);
    }
    response
}

fn guarded(caller: Caller, route: Route) -> Route {
    route.wrap(from_fn(move |request, next| gate(caller, request, next)))
}

fn entry<F, Args>(method: Method, path: &'static str, caller: Caller, handler: F) -> Entry
where
    F: Handler<Args>,
    Args: FromRequest + 'static,
    F::Output: Responder + 'static,
{
    let route = web::method(method.clone()).to(handler);
    Entry { path, method, caller, route }
}

/// Makes an entry for each method.
macro_rules! by_method {
    ($($name:ident $method:ident),+) => {
        $(fn $name<F, Args>(path: &'static str, caller: Caller, handler: F) -> Entry
        where
            F: Handler<Args>,
            Args: FromRequest + 'static,
            F::Output: Responder + 'static,
        {
            entry(Method::$method, path, caller, handler)
        })+
    };
}

by_method!(get GET, post POST, put PUT, delete DELETE);

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use std::collections::BTreeSet;

    use serde_json::Value;

    use super::*;

    #[test]
    fn the_table_and_the_description_have_the_same_routes() {
        let description: Value = serde_json::from_str(&super::super::openapi().unwrap()).unwrap();
        let described: BTreeSet<(String, String)> = description["paths"]
            .as_object()
            .unwrap()
            .iter()
            .flat_map(|(path, item)| {
                item.as_object().unwrap().keys().map(|method| (path.clone(), method.to_uppercase()))
            })
            .collect();
        let listed: BTreeSet<(String, String)> =
            table().iter().map(|entry| (entry.path.to_owned(), entry.method.to_string())).collect();
        assert_eq!(described, listed);
    }

    /// Every route that is not about a link or the service itself is the owner's.
    #[test]
    fn what_is_not_shared_is_the_owners() {
        for entry in table() {
            let expected = match entry.path {
                "/healthz" | "/readyz" | "/api/session" => Caller::Anyone,
                path if path.starts_with("/api/shared/") => Caller::Visitor,
                path if path.starts_with("/s/") => Caller::AnyPage,
                _ => Caller::Owner,
            };
            assert_eq!(entry.caller, expected, "{}", entry.path);
        }
    }
}
