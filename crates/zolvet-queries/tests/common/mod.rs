//! What tests of questions share.

use std::sync::Arc;

use zolvet_core::font::Font;
use zolvet_core::model::Asset;
use zolvet_core::picture::Bitmap;
use zolvet_queries::{Files, QueryError};

/// A place without files.
pub struct NoFiles;

impl Files for NoFiles {
    fn picture(&self, _asset: &Asset) -> Result<Option<Arc<Bitmap>>, QueryError> {
        Ok(None)
    }

    fn font(&self, _asset: &Asset) -> Result<Option<Font>, QueryError> {
        Ok(None)
    }
}
