//! Where a project refers to finishes and swatches, and where its colours are written out.

use std::collections::HashMap;

use jsonptr::PointerBuf;

use crate::colour::Rgba;
use crate::model::{ColourSource, Id, Project, SharedReference};

/// Places of the document, by the things they refer to.
#[derive(Default)]
pub(super) struct References {
    pub finishes: HashMap<Id, Vec<PointerBuf>>,
    pub swatches: HashMap<Id, Vec<PointerBuf>>,
    pub literals: Vec<Literal>,
}

/// A colour that is written out.
pub(super) struct Literal {
    pub pointer: PointerBuf,
    pub colour: Rgba,
}

impl References {
    pub fn new(project: &Project) -> Self {
        let mut found = Self::default();
        project.clone().visit_references(&mut |at, reference| {
            let Ok(pointer) = PointerBuf::parse(at.to_owned()) else { return };
            match reference {
                SharedReference::Finish(id) => found.finishes.entry(id.clone()).or_default().push(pointer),
                SharedReference::Colour(ColourSource::Swatch(colour)) => {
                    let pointer = pointer.with_trailing_token("swatch");
                    found.swatches.entry(colour.swatch.clone()).or_default().push(pointer);
                }
                SharedReference::Colour(ColourSource::Literal(colour)) => {
                    found.literals.push(Literal { pointer, colour: colour.rgba() });
                }
                SharedReference::Colour(ColourSource::From(_)) | SharedReference::Light(_) => {}
            }
        });
        found
    }
}
