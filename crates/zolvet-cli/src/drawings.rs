//! SVG files that come into a project as drawings: each becomes a scene of its size.

use std::path::Path;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use zolvet_core::budget::Budget;
use zolvet_core::geometry::drawing::{Drawing, DrawingFile};
use zolvet_core::syntax::{UniqueNames, slug};

/// A file that draws something.
pub struct IncomingDrawing {
    /// Its name without the ending.
    pub name: String,
    /// Elements it consists of.
    pub elements: usize,
    size: [f64; 2],
    text: String,
}

impl IncomingDrawing {
    /// Reads a file; `None` where it draws nothing.
    pub fn read(path: &Path, text: &str) -> Option<Self> {
        let read = || Drawing::read(&DrawingFile::read(text.as_bytes()).ok()?, &[]).ok();
        let drawing = Budget::default().run(read).ok()??;
        Some(Self {
            name: path.file_stem()?.to_string_lossy().into_owned(),
            elements: drawing.elements.len(),
            size: [drawing.width, drawing.height].map(|side| side.round().max(1.0)),
            text: text.to_owned(),
        })
    }

    /// Adds the file, and a scene with it at the top left on white, after the drawing.
    pub fn put_into(&self, document: &mut Value) {
        let theme = document["themes"][0]["id"].clone();
        let asset = added(
            document,
            "assets",
            |id| json!({"id": id, "name": self.name, "media_type": DrawingFile::MEDIA_TYPE, "data": STANDARD.encode(&self.text)}),
            &self.name,
        );
        let [width, height] = self.size;
        added(
            document,
            "scenes",
            |id| {
                json!({"id": id, "name": self.name, "width": width, "height": height, "theme": theme,
                "ground": {"kind": "solid", "colour": "#ffffff"},
                "pieces": [{"id": "drawing", "name": self.name, "x": 0, "y": 0, "wear": {"coats": []},
                    "shape": {"kind": "drawing", "asset": asset, "w": width, "h": height}}]})
            },
            &self.name,
        );
    }
}

/// Adds an item to a list of a document, under an id made from a name; gives the id.
fn added(document: &mut Value, list: &str, item: impl FnOnce(&str) -> Value, name: &str) -> String {
    if !document[list].is_array() {
        document[list] = json!([]);
    }
    let items = document[list].as_array_mut();
    let taken = items.iter().flat_map(|items| items.iter()).filter_map(|item| item["id"].as_str());
    let named = slug(name);
    let id = UniqueNames::new(taken).unique(if named.is_empty() { "drawing" } else { &named }, '-');
    if let Some(items) = document[list].as_array_mut() {
        items.push(item(&id));
    }
    id
}
