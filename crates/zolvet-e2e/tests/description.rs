//! The service answers what its description says: every operation is asked, rightly and wrongly, and each answer has a
//! status, a media type and a body that the description has for it.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::collections::BTreeSet;

use reqwest::{Client, Method};
use serde_json::{Map, Value, json};
use zolvet_e2e::{App, Outcome};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

struct Description(Value);

impl Description {
    fn followed<'a>(&'a self, schema: &'a Value) -> &'a Value {
        match schema["$ref"].as_str() {
            Some(reference) => {
                self.followed(self.0.pointer(reference.trim_start_matches('#')).expect(reference))
            }
            None => schema,
        }
    }

    /// What of a value is not as a schema has it.
    fn wrong(&self, schema: &Value, value: &Value, at: &str) -> Option<String> {
        let schema = self.followed(schema);
        let first = |schemas: &Value| -> Option<Option<String>> {
            let schemas = schemas.as_array()?;
            let wrong: Vec<_> = schemas.iter().map(|schema| self.wrong(schema, value, at)).collect();
            Some(if wrong.contains(&None) { None } else { wrong.into_iter().flatten().next() })
        };
        if let Some(outcome) = first(&schema["oneOf"]).or_else(|| first(&schema["anyOf"])) {
            return outcome;
        }
        if let Some(all) = schema["allOf"].as_array() {
            return all.iter().find_map(|schema| self.wrong(schema, value, at));
        }
        let kinds: Vec<&str> = match &schema["type"] {
            Value::String(kind) => vec![kind],
            Value::Array(kinds) => kinds.iter().filter_map(Value::as_str).collect(),
            _ => return None,
        };
        let fits = |kind: &&str| match *kind {
            "object" => value.is_object(),
            "array" => value.is_array(),
            "string" => value.is_string(),
            "integer" => value.is_i64() || value.is_u64(),
            "number" => value.is_number(),
            "boolean" => value.is_boolean(),
            _ => value.is_null(),
        };
        if !kinds.iter().any(fits) {
            return Some(format!("{at}: {kinds:?} expected, {value} found"));
        }
        let none = Vec::new();
        let required = schema["required"].as_array().unwrap_or(&none).iter().filter_map(Value::as_str);
        if let Some(missing) =
            required.into_iter().find(|name| value.get(*name).is_none() && value.is_object())
        {
            return Some(format!("{at}: {missing} is missing"));
        }
        let empty = Map::new();
        let properties = schema["properties"].as_object().unwrap_or(&empty);
        let fields = value.as_object().unwrap_or(&empty);
        let inside = fields
            .iter()
            .find_map(|(name, value)| self.wrong(properties.get(name)?, value, &format!("{at}/{name}")));
        let items = value.as_array().unwrap_or(&none).iter().enumerate();
        inside.or_else(|| {
            let schema = schema.get("items")?;
            items.into_iter().find_map(|(i, item)| self.wrong(schema, item, &format!("{at}/{i}")))
        })
    }
}

/// Bodies that are right, by operation.
fn right(operation: &str) -> Option<Value> {
    let project: Value = serde_json::from_str(DEMO).unwrap();
    let (scene, piece) = ("kiosk", project["scenes"][0]["pieces"][0]["id"].clone());
    let coat = project["finishes"][0]["coats"][0]["id"].clone();
    let wearer = project["scenes"][0]["pieces"].as_array().unwrap().iter();
    let wearer = wearer.clone().find(|piece| piece["wear"]["finish"] == project["finishes"][0]["id"]);
    let wearer = wearer.map_or(piece.clone(), |piece| piece["id"].clone());
    let finish = |at: usize| project["finishes"][at]["id"].clone();
    Some(match operation {
        "create_project" | "save_project" => project.clone(),
        "preview" => json!({"project": project, "scene": scene, "scale": 0.5}),
        "thumbnails" | "scene_sights" => json!({"project": project, "scene": scene, "piece": piece}),
        "resolve" | "offer_starters" | "faithful" => {
            json!({"project": project, "scene": scene, "piece": piece})
        }
        "outline" | "offer_blends" => {
            json!({"project": project, "scene": scene, "piece": wearer, "coat": coat})
        }
        "piece_boxes" => json!({"project": project, "scene": scene}),
        "arrange" => {
            let pieces =
                json!([project["scenes"][0]["pieces"][0]["id"], project["scenes"][0]["pieces"][1]["id"]]);
            json!({"project": project, "scene": scene, "pieces": pieces, "how": {"kind": "join", "op": "add"}})
        }
        "read_css" => json!({"css": "box-shadow: 0 1px 2px red"}),
        "colours" => json!({"colours": ["red", "oklch(0.7 0.1 120)"]}),
        "finish_cards" => {
            json!({"project": project, "theme": project["themes"][0]["id"], "finish": finish(0)})
        }
        "finish_steps" | "finish_differences" => {
            json!({"project": project, "low": finish(0), "high": finish(1)})
        }
        "export_project" => json!({"project": project, "format": "css"}),
        "read_import" => {
            json!({"project": project, "format": "css", "files": [{"text": ".a{box-shadow:0 0 1px red}"}]})
        }
        "faithful_project" | "export_bundle" | "audit_project" => json!({"project": project}),
        "create_share" => json!({"scene": scene}),
        "open_session" => json!({"key": "none"}),
        _ => return None,
    })
}

/// The same with things missing, of another kind, or out of range.
fn wrong(right: &Value) -> Vec<Value> {
    let mut wrong = vec![json!({}), json!([]), json!(null), json!("text")];
    if let Some(fields) = right.as_object() {
        for (name, value) in fields {
            let with = |other: Value| {
                let mut changed = right.clone();
                changed[name] = other;
                changed
            };
            let mut without = right.clone();
            without.as_object_mut().unwrap().remove(name);
            wrong.push(without);
            wrong.extend([json!(null), json!(-1), json!("none"), json!([1, {}]), json!({"a": {}})].map(with));
            if value.is_number() {
                wrong.extend([json!(0), json!(1e300), json!(100)].map(with));
            }
        }
    }
    for (name, value) in [
        ("density", json!(9)),
        ("scale", json!(99)),
        ("region", json!([0, 0, -1, 5])),
        ("count", json!(99)),
        ("line", json!({"x": 1e9, "y": 0, "bearing": 0})),
    ] {
        let mut changed = right.clone();
        if let Some(fields) = changed.as_object_mut() {
            fields.insert(name.to_owned(), value);
            wrong.push(changed);
        }
    }
    wrong
}

/// One operation of the description.
struct Operation {
    path: String,
    method: Method,
    described: Value,
}

/// The operations of a description; those that delete come last.
fn operations(described: &Value) -> Outcome<Vec<Operation>> {
    let mut operations = Vec::new();
    for (path, methods) in described["paths"].as_object().unwrap() {
        for (method, described) in methods.as_object().unwrap() {
            let method = Method::from_bytes(method.to_uppercase().as_bytes())?;
            operations.push(Operation { path: path.clone(), method, described: described.clone() });
        }
    }
    let order = |operation: &Operation| {
        (operation.method == Method::DELETE, operation.path.clone(), operation.method.to_string())
    };
    operations.sort_by_key(order);
    Ok(operations)
}

impl Operation {
    fn name(&self) -> &str {
        self.described["operationId"].as_str().unwrap_or_default()
    }

    /// What is sent: a body that is right first, then wrong ones.
    fn bodies(&self) -> Vec<Option<Value>> {
        let body = right(self.name());
        let mut bodies: Vec<Option<Value>> = vec![body.clone()];
        bodies.extend(body.iter().flat_map(wrong).map(Some));
        if self.described.get("requestBody").is_some() && body.is_none() {
            bodies.push(Some(json!({"what": "nothing"})));
        }
        bodies
    }

    /// Fails where an answer is not one that is described; says its status.
    async fn check(
        &self,
        description: &Description,
        request: reqwest::RequestBuilder,
        body: Option<&Value>,
    ) -> Outcome<u16> {
        let request = if let Some(body) = body { request.json(body) } else { request };
        let answer = request.send().await?;
        let status = answer.status().as_u16();
        let sent: String = body.map_or_else(String::new, |body| body.to_string().chars().take(120).collect());
        let what = format!("{} {} {} with {sent} answers {status}", self.method, answer.url(), self.name());
        let response = &self.described["responses"][status.to_string()];
        assert!(response.is_object(), "{what}, which is not described");
        assert!(status < 500 || status == 503, "{what}");
        let kind = answer.headers().get("content-type").map(|kind| kind.to_str().unwrap().to_owned());
        let text = answer.bytes().await?;
        let Some(kind) = kind.filter(|_| !text.is_empty()) else { return Ok(status) };
        let essence = kind.split(';').next().unwrap();
        let same = |described: &str| {
            described == essence || (described == "image/*" && essence.starts_with("image/"))
        };
        let content = response["content"].as_object().expect(&what);
        let described = content.iter().find(|(kind, _)| same(kind));
        let (_, described) = described.unwrap_or_else(|| panic!("{what} in {kind}"));
        if essence.ends_with("json") && essence != "application/x-ndjson" {
            let value: Value = serde_json::from_slice(&text)?;
            assert_eq!(description.wrong(&described["schema"], &value, ""), None, "{what}");
        }
        Ok(status)
    }
}

#[tokio::test]
async fn every_answer_is_one_that_is_described() -> Outcome {
    let app = App::start()?;
    let http = Client::new();
    let described: Value = http.get(format!("{}/api/openapi.json", app.address)).send().await?.json().await?;
    let description = Description(described.clone());
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let project = list[0]["id"].as_str().unwrap().to_owned();
    let shares = format!("{}/api/projects/{project}/shares", app.address);
    let link: Value = http.post(&shares).json(&json!({"scene": "kiosk"})).send().await?.json().await?;
    let token = link["token"].as_str().unwrap().to_owned();
    let (mut asked, mut statuses) = (0, BTreeSet::new());
    for operation in operations(&described)? {
        let path = &operation.path;
        let good = path.replace("{token}", &token).replace("{revision}", "1").replace("{id}", &project);
        let bad = path.replace("{token}", "none").replace("{revision}", "77").replace("{id}", "none");
        let matches = [None, Some("\"1\""), Some("\"99\""), Some("x")];
        for address in if good == bad { vec![good] } else { vec![bad, good] } {
            for (number, body) in operation.bodies().iter().enumerate() {
                for matching in if number == 0 { &matches[..] } else { &matches[1..2] } {
                    let url = format!("{}{address}", app.address);
                    let mut request = http.request(operation.method.clone(), url);
                    if let Some(matching) = matching {
                        request = request.header("If-Match", *matching);
                    }
                    statuses.insert(operation.check(&description, request, body.as_ref()).await?);
                    asked += 1;
                }
            }
        }
    }
    println!("{asked} requests, answered by {statuses:?}");
    assert!(
        asked > 300 && statuses.is_superset(&BTreeSet::from([200, 201, 204, 404, 412, 422, 428])),
        "{asked} {statuses:?}"
    );
    Ok(())
}
