//! Pictures and fonts that belong to a project.

use std::collections::HashMap;
use std::sync::Arc;

use crate::font::{self, Font};
use crate::geometry::drawing::{Drawing, DrawingFile};
use crate::geometry::icon::SvgError;
use crate::limits;
use crate::model::{Id, PageGround, Problem, Project};
use crate::picture::{self, Bitmap};

/// The media type of a file by its first bytes; `None` for types that a project has no use for.
#[must_use]
pub fn media_type(bytes: &[u8]) -> Option<&'static str> {
    font::media_type(bytes)
        .or_else(|| picture::media_type(bytes))
        .or_else(|| DrawingFile::is_like(bytes).then_some(DrawingFile::MEDIA_TYPE))
}

/// The files of a project.
#[derive(Debug, Clone, Default)]
pub struct Assets {
    /// By their asset's id.
    pictures: HashMap<Id, Arc<Bitmap>>,
    /// By their asset's id.
    drawings: HashMap<Id, DrawingFile>,
    /// In the order of the document.
    fonts: Vec<Font>,
}

impl Assets {
    /// Whether the pictures that a document carries are few and small enough to be in memory at the same time, by the
    /// sizes in their files.
    ///
    /// # Errors
    /// A [`Problem`] at the first that is one too many.
    pub fn check(project: &Project) -> Result<(), Vec<Problem>> {
        let mut pixels = 0;
        for (at, asset) in project.assets.iter().enumerate() {
            if [DrawingFile::MEDIA_TYPE, PageGround::MEDIA_TYPE].contains(&asset.media_type.as_str()) {
                continue;
            }
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

    /// The pictures a document carries in itself. One that cannot be read is left out; drawing says so.
    #[must_use]
    pub fn carried_by(project: &Project) -> Self {
        let mut assets = Self::default();
        if Self::check(project).is_err() {
            return assets;
        }
        for asset in &project.assets {
            if let Some(said) = &asset.font {
                let font = asset.data.as_ref().and_then(|data| Font::read(data.bytes()).ok());
                // What is too much for memory is left out, as what cannot be read is.
                if let Some(font) = font {
                    let _ = assets.insert_font(font.called(&said.family));
                }
                continue;
            }
            if asset.media_type == DrawingFile::MEDIA_TYPE {
                let file = asset.data.as_ref().and_then(|data| DrawingFile::read(data.bytes()).ok());
                assets.drawings.extend(file.map(|file| (asset.id.clone(), file)));
                continue;
            }
            if asset.media_type == PageGround::MEDIA_TYPE {
                continue;
            }
            if let Some(bitmap) = asset.data.as_ref().and_then(|data| Bitmap::decode(data.bytes()).ok()) {
                assets.insert(asset.id.clone(), Arc::new(bitmap));
            }
        }
        assets
    }

    /// Adds a picture.
    pub fn insert(&mut self, id: Id, bitmap: Arc<Bitmap>) {
        self.pictures.insert(id, bitmap);
    }

    /// A picture.
    #[must_use]
    pub fn get(&self, id: &Id) -> Option<&Arc<Bitmap>> {
        self.pictures.get(id)
    }

    /// Adds a drawing.
    pub fn insert_drawing(&mut self, id: Id, file: DrawingFile) {
        self.drawings.insert(id, file);
    }

    /// The file of a drawing.
    #[must_use]
    pub fn drawing_file(&self, id: &Id) -> Option<&DrawingFile> {
        self.drawings.get(id)
    }

    /// A drawing, its texts set in the fonts of the project; `None` where it is not here.
    ///
    /// # Errors
    /// [`SvgError`] where it draws nothing, or too much.
    pub fn drawing(&self, id: &Id) -> Option<Result<Arc<Drawing>, SvgError>> {
        Some(Drawing::cached(self.drawings.get(id)?, &self.fonts))
    }

    /// Adds a font, under the name that the document gives it.
    ///
    /// # Errors
    /// When all fonts together are too large to be in memory at the same time.
    pub fn insert_font(&mut self, font: Font) -> Result<(), String> {
        let bytes: usize = self.fonts.iter().chain([&font]).map(|font| font.data().len()).sum();
        if bytes > limits::DOCUMENT_FONT_BYTES {
            let most = limits::DOCUMENT_FONT_BYTES >> 20;
            return Err(format!("expected fonts of at most {most} MB in all, unpacked"));
        }
        self.fonts.push(font);
        Ok(())
    }

    /// The faces of a family that the project brings; none for families that ship.
    #[must_use]
    pub fn faces(&self, family: &str) -> Vec<Font> {
        self.fonts.iter().filter(|font| font.family == family).cloned().collect()
    }
}
