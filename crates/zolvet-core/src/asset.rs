//! Pictures that belong to a project, found by their id.

use std::collections::HashMap;
use std::sync::Arc;

use crate::limits;
use crate::model::{Id, Problem, Project};
use crate::picture::Bitmap;

/// The pictures of a project, by their asset's id.
#[derive(Debug, Clone, Default)]
pub struct Assets(HashMap<Id, Arc<Bitmap>>);

impl Assets {
    /// Whether the pictures that a document carries are few and small enough to be in memory at the same time, by what their
    /// files say.
    ///
    /// # Errors
    /// A [`Problem`] at the first that is one too many.
    pub fn check(project: &Project) -> Result<(), Vec<Problem>> {
        let mut pixels = 0;
        for (at, asset) in project.assets.iter().enumerate() {
            let Some(Ok((width, height))) = asset.data.as_ref().map(|data| Bitmap::size_of(data.bytes()))
            else {
                // What cannot be read is left out; drawing says so.
                continue;
            };
            pixels += u64::from(width) * u64::from(height);
            if pixels > limits::DOCUMENT_PIXELS {
                let most = limits::DOCUMENT_PIXELS / 1_000_000;
                let message = format!(
                    "expected pictures of at most {most} million pixels in all, found {pixels} pixels"
                );
                return Err(vec![Problem::new(format!("/assets/{at}/data"), message)]);
            }
        }
        Ok(())
    }

    /// The pictures a document carries in itself. What cannot be read is left out; drawing says so.
    #[must_use]
    pub fn carried_by(project: &Project) -> Self {
        let mut assets = Self::default();
        if Self::check(project).is_err() {
            return assets;
        }
        for asset in &project.assets {
            if let Some(bitmap) = asset.data.as_ref().and_then(|data| Bitmap::decode(data.bytes()).ok()) {
                assets.insert(asset.id.clone(), Arc::new(bitmap));
            }
        }
        assets
    }

    /// Adds a picture.
    pub fn insert(&mut self, id: Id, bitmap: Arc<Bitmap>) {
        self.0.insert(id, bitmap);
    }

    /// A picture.
    #[must_use]
    pub fn get(&self, id: &Id) -> Option<&Arc<Bitmap>> {
        self.0.get(id)
    }
}
