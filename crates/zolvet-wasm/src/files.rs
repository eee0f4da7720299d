//! The files of assets, as the page brings them.

use std::cell::RefCell;
use std::collections::HashMap;
use std::sync::Arc;

use zolvet_core::font::Font;
use zolvet_core::geometry::drawing::DrawingFile;
use zolvet_core::model::Asset;
use zolvet_core::picture::Bitmap;
use zolvet_queries::{Files, QueryError};

/// Files by their asset's id, those that could not be read as nothing.
#[derive(Default)]
pub struct PageFiles {
    pictures: RefCell<HashMap<String, Option<Arc<Bitmap>>>>,
    fonts: RefCell<HashMap<String, Option<Font>>>,
    drawings: RefCell<HashMap<String, Option<DrawingFile>>>,
    bytes: HashMap<String, Vec<u8>>,
}

impl PageFiles {
    /// Takes a file; an empty one is not there.
    pub fn take(&mut self, id: String, bytes: Vec<u8>) {
        self.pictures.borrow_mut().remove(&id);
        self.fonts.borrow_mut().remove(&id);
        self.drawings.borrow_mut().remove(&id);
        self.bytes.insert(id, bytes);
    }

    /// The decoded file of an asset, decoded once. A file that a document carries is decoded anew each time, since it
    /// may be another under the same id.
    fn cached<T: Clone>(
        &self,
        made: &RefCell<HashMap<String, Option<T>>>,
        asset: &Asset,
        make: impl Fn(&[u8]) -> Option<T>,
    ) -> Result<Option<T>, QueryError> {
        if let Some(data) = &asset.data {
            return Ok(make(data.bytes()));
        }
        let id = asset.id.as_str();
        if let Some(made) = made.borrow().get(id) {
            return Ok(made.clone());
        }
        let Some(bytes) = self.bytes.get(id) else { return Err(QueryError::Files(vec![id.to_owned()])) };
        let fresh = if bytes.is_empty() { None } else { make(bytes) };
        made.borrow_mut().insert(id.to_owned(), fresh.clone());
        Ok(fresh)
    }
}

impl Files for PageFiles {
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, QueryError> {
        self.cached(&self.pictures, asset, |bytes| Bitmap::decode(bytes).ok().map(Arc::new))
    }

    fn font(&self, asset: &Asset) -> Result<Option<Font>, QueryError> {
        self.cached(&self.fonts, asset, |bytes| Font::read(bytes).ok())
    }

    fn drawing(&self, asset: &Asset) -> Result<Option<DrawingFile>, QueryError> {
        self.cached(&self.drawings, asset, |bytes| DrawingFile::read(bytes).ok())
    }
}
