//! Tasks of helpers: files of others are read, and queries answered that may take long.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::budget::Budget;
use zolvet_core::compose::MaskCache;
use zolvet_core::font::Font;
use zolvet_core::geometry::DrawnShape;
use zolvet_core::geometry::drawing::{Drawing, DrawingFile};
use zolvet_core::geometry::icon::{Icon, SvgError};
use zolvet_core::incoming::{self, IncomingError, IncomingFile, IncomingFormat, IncomingSettings};
use zolvet_core::model::{Asset, Project};
use zolvet_core::picture::{Bitmap, Picture};
use zolvet_queries::{Files, OpenProjects, Place, Query, QueryContext, QueryError};

use crate::helper::{expected, icon};
use crate::pages;

/// A task for a helper.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Task {
    /// Decodes a picture: its pixels.
    Picture,
    /// Decodes a picture: its width and height in CSS px.
    PictureSize,
    /// Reads an SVG file as an icon.
    Icon,
    /// Reads an SVG file as a drawing, and draws it: what it is.
    Drawing,
    /// Reads a font: its tables, unpacked.
    Font,
    /// Reads files that are to go into a project.
    Import,
    /// Reads a page, alone or with its files in an archive: one file, and what it is.
    Page,
    /// Rebuilds a page for a frame.
    PageFrame,
    /// Finds selectors for an element of a page: its number in the first line, the page after that.
    PageOffers,
    /// Answers a query to the core that may take long, by its path.
    Query(&'static str),
}

impl Task {
    /// The task of a name.
    pub(crate) fn named(name: &str) -> Option<Self> {
        let simple = [
            Self::Picture,
            Self::PictureSize,
            Self::Icon,
            Self::Drawing,
            Self::Font,
            Self::Import,
            Self::Page,
            Self::PageFrame,
            Self::PageOffers,
        ];
        let query = || Query::at(name).filter(|query| query.place == Place::Helper);
        let found = simple.into_iter().find(|task| task.name() == name);
        found.or_else(|| query().map(|query| Self::Query(query.path)))
    }

    pub(crate) fn name(self) -> &'static str {
        match self {
            Self::Picture => "picture",
            Self::PictureSize => "picture-size",
            Self::Icon => "icon",
            Self::Drawing => "drawing",
            Self::Font => "font",
            Self::Import => "import",
            Self::Page => "page",
            Self::PageFrame => "page-frame",
            Self::PageOffers => "page-offers",
            Self::Query(path) => path,
        }
    }

    /// Seconds of computing that it may take.
    #[must_use]
    pub fn seconds(self) -> u64 {
        // A build for tests is compiled without most optimisations.
        let slowness = if cfg!(debug_assertions) { 4 } else { 1 };
        slowness
            * match self {
                Self::Query(_) => 10,
                Self::Picture
                | Self::PictureSize
                | Self::Icon
                | Self::Drawing
                | Self::Font
                | Self::Import
                | Self::Page
                | Self::PageFrame
                | Self::PageOffers => 5,
            }
    }

    /// The longest answer in bytes: of a picture, its pixels.
    pub(crate) fn max_answer(self) -> u64 {
        match self {
            Self::Picture => 4 * zolvet_core::limits::PICTURE_PIXELS + 1,
            Self::PictureSize
            | Self::Icon
            | Self::Drawing
            | Self::Font
            | Self::Import
            | Self::Page
            | Self::PageFrame
            | Self::PageOffers
            | Self::Query(_) => 64 << 20,
        }
    }

    pub(crate) fn too_much(self) -> String {
        let what =
            if matches!(self, Self::Query(_)) { "work that takes" } else { "a file that can be read in" };
        format!(
            "expected {what} at most {} seconds of one core and {} MB of memory",
            self.seconds(),
            crate::helper::MEMORY >> 20
        )
    }
}

/// Does a task.
///
/// # Errors
/// What was expected instead.
pub(crate) fn run(task: Task, input: &[u8]) -> Result<Vec<u8>, QueryError> {
    match task {
        Task::Picture => Ok(Bitmap::decode(input).map_err(expected)?.picture.rgba),
        Task::PictureSize => {
            let picture = Bitmap::decode(input).map_err(expected)?.picture;
            // A screenshot of 2× says so: it is as large as what it shows.
            let density = Picture::density_of_png(input).unwrap_or(1.0);
            json(&[picture.width, picture.height].map(|side| f64::from(side) / density))
        }
        Task::Icon => {
            let Icon { d, viewbox, has_text } = icon(input)?;
            json(&(d, viewbox, has_text))
        }
        Task::Drawing => json(&drawing(input)?),
        Task::Font => Ok(Font::read(input).map_err(expected)?.data().to_vec()),
        Task::Import => import(input),
        Task::Page => json(&pages::read(input)?),
        Task::PageFrame => Ok(pages::frame(input).into_bytes()),
        Task::PageOffers => json(&pages::offers(input)?),
        Task::Query(path) => answer(path, input),
    }
}

/// A drawing that was read and drawn once.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadDrawing {
    /// In px.
    pub width: f64,
    /// In px.
    pub height: f64,
    /// All that it paints is black.
    pub is_black: bool,
    /// Families that its texts ask for and that are not at hand.
    pub missing_families: Vec<String>,
}

/// Pixels on the longer side of the picture that a drawing is tried with.
const TRIED: f64 = 512.0;

fn drawing(input: &[u8]) -> Result<ReadDrawing, QueryError> {
    let read = || -> Result<ReadDrawing, SvgError> {
        let drawing = Arc::new(Drawing::read(&DrawingFile::read(input)?, &[])?);
        let (width, height) = (drawing.width, drawing.height);
        let missing_families = drawing.missing_families.clone();
        let picture = DrawnShape::new(drawing, 0..usize::MAX, width, height).picture(TRIED);
        let mut seen = picture.rgba.as_chunks::<4>().0.iter().filter(|pixel| pixel[3] > 0);
        let is_black = seen.all(|pixel| pixel[..3] == [0, 0, 0]);
        Ok(ReadDrawing { width, height, is_black, missing_families })
    };
    Budget::default().run(read)?.map_err(expected)
}

/// The files to be read.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ImportRequest {
    /// The project it is to go into.
    #[cfg_attr(feature = "schema", schema(value_type = Project))]
    project: Value,
    /// In which format they are.
    format: IncomingFormat,
    /// The files, which are read as one.
    files: Vec<IncomingFile>,
    /// Settings that they do not contain.
    #[serde(default)]
    settings: IncomingSettings,
}

fn import(input: &[u8]) -> Result<Vec<u8>, QueryError> {
    let request: ImportRequest = zolvet_queries::parse(input)?;
    let project = Project::from_value(&request.project);
    let project = project.map_err(|problems| QueryError::Invalid(problems).within("/project"))?;
    let read = || {
        incoming::read(request.format, &request.files, &request.settings).map(|read| read.fitted_to(&project))
    };
    json(&Budget::default().run(read)?.map_err(|error| match error {
        IncomingError::At { place, message } => QueryError::invalid_at(&place, message),
        IncomingError::Document(problems) => QueryError::Invalid(problems),
    })?)
}

fn answer(path: &str, request: &[u8]) -> Result<Vec<u8>, QueryError> {
    let query = Query::at(path).ok_or_else(|| QueryError::Unknown(path.to_owned()))?;
    let (held, cache) = (OpenProjects::with_capacity(0), MaskCache::with_capacity(64 << 20));
    let context = QueryContext { files: &Carried, held: &held, owner: "", cache: &cache };
    Ok(Budget::default().run(|| query.answer(request, &context))??.bytes)
}

/// Files that a document carries, which is all that a helper has.
struct Carried;

impl Files for Carried {
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, QueryError> {
        let data = asset.data.as_ref();
        Ok(data.and_then(|data| Bitmap::decode(data.bytes()).ok()).map(Arc::new))
    }

    fn drawing(&self, asset: &Asset) -> Result<Option<DrawingFile>, QueryError> {
        Ok(asset.data.as_ref().and_then(|data| DrawingFile::read(data.bytes()).ok()))
    }

    fn font(&self, asset: &Asset) -> Result<Option<Font>, QueryError> {
        Ok(asset.data.as_ref().and_then(|data| Font::read(data.bytes()).ok()))
    }
}

fn json(answer: &impl serde::Serialize) -> Result<Vec<u8>, QueryError> {
    serde_json::to_vec(answer).map_err(QueryError::internal)
}
