//! What tests of questions share.

use std::sync::Arc;

use zolvet_core::font::Font;
use zolvet_core::geometry::drawing::DrawingFile;
use zolvet_core::model::Asset;
use zolvet_core::picture::Bitmap;
use zolvet_queries::{Files, QueryError};

/// A place without files but for drawings that a document carries.
pub struct NoFiles;

impl Files for NoFiles {
    fn drawing(&self, asset: &Asset) -> Result<Option<DrawingFile>, QueryError> {
        Ok(asset.data.as_ref().and_then(|data| DrawingFile::read(data.bytes()).ok()))
    }

    fn picture(&self, _asset: &Asset) -> Result<Option<Arc<Bitmap>>, QueryError> {
        Ok(None)
    }

    fn font(&self, _asset: &Asset) -> Result<Option<Font>, QueryError> {
        Ok(None)
    }
}
