//! Small projects of plain pieces, for tests that look at one thing at a time.

use std::time::{Duration, Instant};

use reqwest::Client;
use serde_json::{Value, json};

use crate::{App, Browser, Outcome, Workbench};

/// A project in the browser, and everything needed to ask about it.
pub struct Plain<'a> {
    /// Where the service answers.
    pub address: String,
    /// The project's id.
    pub id: String,
    /// The workbench it is open on.
    pub bench: Workbench<'a>,
}

impl<'a> Plain<'a> {
    /// Makes a project of a document and opens it.
    ///
    /// # Errors
    /// When the service refuses it.
    pub async fn open(app: &App, browser: &'a Browser, project: &Value) -> Outcome<Self> {
        let made = Client::new().post(format!("{}/api/projects", app.address)).json(project).send().await?;
        let made: Value = made.error_for_status()?.json().await?;
        let id = made["id"].as_str().ok_or("no id")?.to_owned();
        browser.go(&format!("{}/projects/{id}", app.address)).await?;
        let bench = Workbench::at(browser);
        bench.wait_drawn().await?;
        Ok(Self { address: app.address.clone(), id, bench })
    }

    /// The stored document.
    ///
    /// # Errors
    /// When the service does not have it.
    pub async fn document(&self) -> Outcome<Value> {
        Ok(self.bench.stored(&self.address, &self.id).await?["document"].take())
    }

    /// Waits until a value of the stored document is this.
    ///
    /// # Errors
    /// When it is not within twenty seconds.
    pub async fn holds(&self, pointer: &str, wanted: Value) -> Outcome {
        let is_wanted =
            |found: &Value| *found == wanted || (found.is_number() && found.as_f64() == wanted.as_f64());
        self.once(pointer, is_wanted).await.map_err(|why| format!("{why}, not {wanted}"))?;
        Ok(())
    }

    /// A value of the stored document as soon as it is another than this.
    ///
    /// # Errors
    /// When it is not within twenty seconds.
    pub async fn holds_instead_of(&self, pointer: &str, before: &Value) -> Outcome<Value> {
        self.once(pointer, |found| found != before).await
    }

    async fn once(&self, pointer: &str, is_so: impl Fn(&Value) -> bool) -> Outcome<Value> {
        let deadline = Instant::now() + Duration::from_secs(20);
        loop {
            let found = self.document().await?.pointer(pointer).cloned().unwrap_or_default();
            if is_so(&found) {
                return Ok(found);
            }
            if Instant::now() > deadline {
                return Err(format!("{pointer} is {found}").into());
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }
}

/// The piece of a name in the first scene that has one, in a group or not.
#[must_use]
pub fn piece_named<'d>(document: &'d Value, name: &str) -> Option<&'d Value> {
    fn within<'d>(pieces: &'d Value, name: &str) -> Option<&'d Value> {
        pieces.as_array()?.iter().find_map(|piece| {
            if piece["name"] == name { Some(piece) } else { within(&piece["shape"]["parts"], name) }
        })
    }
    document["scenes"].as_array()?.iter().find_map(|scene| within(&scene["pieces"], name))
}

/// A project with one scene of 600 × 400, these pieces and further fields.
#[must_use]
pub fn project(name: &str, pieces: Value, more: Value) -> Value {
    let project = json!({
        "schema": 2, "name": name,
        "themes": [{"id": "day", "name": "Day", "scheme": "light"}, {"id": "dusk", "name": "Dusk", "scheme": "dark"}],
        "scenes": [{"id": "s", "name": "Plain", "width": 600, "height": 400, "theme": "dusk",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}],
    });
    with(project, more)
}

/// A white piece with coats of its own.
#[must_use]
pub fn piece(id: &str, shape: Value, at: (f64, f64), coats: Value) -> Value {
    json!({"id": id, "name": id, "shape": shape, "x": at.0, "y": at.1,
        "fill": {"kind": "solid", "colour": "#ffffff"}, "wear": {"coats": coats}})
}

/// A box of a width and height.
#[must_use]
pub fn box_of(w: f64, h: f64) -> Value {
    json!({"kind": "box", "w": w, "h": h})
}

/// A drop shadow straight down, with further fields.
#[must_use]
pub fn drop_shadow(id: &str, y: f64, more: Value) -> Value {
    let coat = json!({"id": id, "name": id, "on": true, "opacity": 0.5, "kind": "drop",
        "offset": {"x": 0, "y": y}, "blur": 12, "spread": 0, "colour": "#000000"});
    with(coat, more)
}

/// A card and a chip, each with a shadow.
#[must_use]
pub fn card_and_chip() -> Value {
    json!([
        piece("Card", box_of(200.0, 120.0), (60.0, 60.0), json!([drop_shadow("Soft", 8.0, json!({}))])),
        piece("Chip", box_of(120.0, 60.0), (400.0, 80.0), json!([drop_shadow("Tight", 2.0, json!({}))]))
    ])
}

fn with(mut value: Value, more: Value) -> Value {
    if let (Value::Object(own), Value::Object(more)) = (&mut value, more) {
        own.extend(more);
    }
    value
}
