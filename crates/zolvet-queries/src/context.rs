//! Everything a query may read: the open projects, their assets, the mask cache.

use std::sync::Arc;

use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::compose::MaskCache;
use zolvet_core::font::Font;
use zolvet_core::geometry::drawing::DrawingFile;
use zolvet_core::limits;
use zolvet_core::model::{Asset, PageGround, Piece, Project, Scene};
use zolvet_core::picture::Bitmap;

use crate::QueryError;
use crate::open_projects::OpenProjects;

/// Where the files of assets come from.
pub trait Files {
    /// A picture; `None` where there is none that can be read.
    ///
    /// # Errors
    /// When what keeps it fails.
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, QueryError>;

    /// A font; `None` where there is none that can be read.
    ///
    /// # Errors
    /// When what keeps it fails.
    fn font(&self, asset: &Asset) -> Result<Option<Font>, QueryError>;

    /// A drawing; `None` where there is none that can be read.
    ///
    /// # Errors
    /// When what keeps it fails.
    fn drawing(&self, asset: &Asset) -> Result<Option<DrawingFile>, QueryError>;
}

/// Everything a query may read.
#[derive(Clone, Copy)]
pub struct QueryContext<'a> {
    /// The files of assets.
    pub files: &'a dyn Files,
    /// Projects that the client has sent before.
    pub held: &'a OpenProjects,
    /// The client that asks, as far as it is known: none is given documents that another holds.
    pub owner: &'a str,
    /// The cache of masks.
    pub cache: &'a MaskCache,
}

impl QueryContext<'_> {
    /// Decodes and checks the project of a request: the whole document, or the changes to one that is open.
    /// Pointers in errors are those of the request.
    ///
    /// # Errors
    /// When the document is not valid, or the one it is a change of is not held.
    pub fn project(&self, value: &Value) -> Result<Arc<Project>, QueryError> {
        self.held.project(self.owner, value).map_err(|error| error.within("/project"))
    }

    /// The pictures, drawings and fonts of a project. A picture that is not there is left out, and drawing says so.
    ///
    /// # Errors
    /// When they are too many pixels or bytes, or what keeps them fails.
    pub fn assets(&self, project: &Project) -> Result<Assets, QueryError> {
        Assets::check(project).map_err(QueryError::Invalid)?;
        let (mut assets, mut pixels) = (Assets::default(), 0);
        for (at, asset) in project.assets.iter().enumerate() {
            let place = format!("/assets/{at}");
            if let Some(said) = &asset.font {
                if let Some(font) = self.files.font(asset)? {
                    let added = assets.insert_font(font.called(&said.family));
                    added.map_err(|message| QueryError::invalid_at(&place, message))?;
                }
                continue;
            }
            if asset.media_type == DrawingFile::MEDIA_TYPE {
                if let Some(file) = self.files.drawing(asset)? {
                    assets.insert_drawing(asset.id.clone(), file);
                }
                continue;
            }
            if asset.media_type == PageGround::MEDIA_TYPE {
                continue;
            }
            let Some(bitmap) = self.files.picture(asset)? else { continue };
            pixels += u64::from(bitmap.picture.width) * u64::from(bitmap.picture.height);
            if pixels > limits::DOCUMENT_PIXELS {
                let most = limits::DOCUMENT_PIXELS / 1_000_000;
                let message = format!("expected pictures of at most {most} million pixels in all");
                return Err(QueryError::invalid_at(&place, message));
            }
            assets.insert(asset.id.clone(), bitmap);
        }
        Ok(assets)
    }
}

/// Finds the scene that a request names.
///
/// # Errors
/// When the project has none of this id.
pub fn scene_in<'a>(project: &'a Project, id: &str) -> Result<&'a Scene, QueryError> {
    let unknown = || QueryError::invalid_at("/scene", format!("expected the id of a scene, found \"{id}\""));
    project.scene(id).ok_or_else(unknown)
}

/// Finds the piece that a request names.
///
/// # Errors
/// When the scene has none of this id.
pub fn piece_in<'a>(scene: &'a Scene, id: &str) -> Result<&'a Piece, QueryError> {
    scene.piece(id).ok_or_else(|| {
        QueryError::invalid_at("/piece", format!("expected the id of a piece, found \"{id}\""))
    })
}
