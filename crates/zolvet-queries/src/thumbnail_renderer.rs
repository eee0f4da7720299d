//! Small pictures of single pieces.

use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::measure::{closeup, lying_on};
use zolvet_core::model::{Piece, Project, Scene, Shape};
use zolvet_core::picture::{Picture, png_data_url};
use zolvet_core::resolve;

use crate::QueryError;
use crate::pictures::to_png;

/// Width and height of small pictures, at two device pixels each.
const SMALL: (u32, u32) = (112, 72);

/// Where small pictures of single pieces are taken.
pub struct ThumbnailRenderer<'a> {
    /// The project.
    pub project: &'a Project,
    /// The scene that the pieces are in.
    pub scene: &'a Scene,
    /// Its files.
    pub assets: &'a Assets,
    /// The cache of masks.
    pub cache: &'a MaskCache,
}

impl ThumbnailRenderer<'_> {
    /// One piece on its ground, fitted into a small picture with room for its shadows.
    pub fn scene_thumbnail(&self, piece: &Piece) -> Result<String, QueryError> {
        Ok(png_data_url(&self.fitted(piece, SMALL)?))
    }

    /// The same, with the pieces on it: a button with its label.
    pub fn stack_thumbnail(&self, piece: &Piece) -> Result<String, QueryError> {
        let mut worn = self.scene.opened_to(&piece.id);
        if let Some(other) = worn.piece_mut(&piece.id) {
            *other = Piece { hidden: false, coats_on: true, ..piece.clone() };
        }
        let mut resolved = resolve::scene(self.project, &worn, self.assets);
        let Some(at) = resolved.pieces.iter().position(|other| other.id == piece.id) else {
            return self.scene_thumbnail(piece);
        };
        let shown = std::iter::once(at).chain(lying_on(&resolved, at));
        resolved.pieces = shown.map(|at| resolved.pieces[at].clone()).collect();
        Ok(png_data_url(&self.fit(&resolved, SMALL)?))
    }

    /// One piece on its ground, as a PNG of this many pixels.
    pub fn fitted(&self, piece: &Piece, size: (u32, u32)) -> Result<Vec<u8>, QueryError> {
        self.fit(&self.single_piece_scene(piece), size)
    }

    /// A scene about its first piece, as a PNG of this many pixels.
    fn fit(&self, resolved: &resolve::Scene, size: (u32, u32)) -> Result<Vec<u8>, QueryError> {
        let [x, y, w, h] = box_of(resolved);
        let (width, height) = (f64::from(size.0), f64::from(size.1));
        let room = (width * 0.66 / w).min(height * 0.62 / h).min(2.0);
        // Nothing of what lies around the scene is shown.
        let scale = room.max(width / resolved.width).max(height / resolved.height);
        let at = [x + w / 2.0, y + h / 2.0];
        self.about(resolved, at, scale, size)
    }

    /// A piece to be compared with its look under other coats.
    pub fn before(&self, piece: &Piece) -> Before<'_> {
        let scene = self.single_piece_scene(piece);
        let view = surroundings(&scene);
        Before { renderer: self, view, picture: self.render(&scene, &view) }
    }

    fn render(&self, scene: &resolve::Scene, view: &Viewport) -> Picture {
        picture(scene, view, &RenderOptions::default(), Rounding::Nearest, self.cache)
    }

    /// The scene with this piece and nothing else.
    fn single_piece_scene(&self, piece: &Piece) -> resolve::Scene {
        let mut alone = self.scene.opened_to(&piece.id);
        alone.pieces.retain(|other| other.find(&piece.id).is_some());
        if alone.pieces.is_empty() {
            alone.pieces.push(piece.clone());
        }
        for group in self.scene.path_to(&piece.id) {
            if let Some(Piece { shape: Shape::Group(group), .. }) = alone.piece_mut(&group.id)
                && group.parts.iter().any(|part| part.find(&piece.id).is_some())
            {
                group.parts.retain(|part| part.find(&piece.id).is_some());
            }
        }
        if let Some(other) = alone.piece_mut(&piece.id) {
            *other = Piece { hidden: false, coats_on: true, clip_to: None, ..piece.clone() };
        }
        resolve::scene(self.project, &alone, self.assets)
    }

    /// A small picture about a place of the scene, or as near to it as the scene goes.
    fn small(&self, scene: &resolve::Scene, at: [f64; 2], scale: f64) -> Result<String, QueryError> {
        Ok(png_data_url(&self.about(scene, at, scale, SMALL)?))
    }

    fn about(
        &self,
        scene: &resolve::Scene,
        at: [f64; 2],
        scale: f64,
        (width, height): (u32, u32),
    ) -> Result<Vec<u8>, QueryError> {
        let from = |middle: f64, shown: u32, whole: f64| {
            let shown = f64::from(shown) / scale;
            (middle - shown / 2.0).clamp(0.0, (whole - shown).max(0.0))
        };
        let (x, y) = (from(at[0], width, scene.width), from(at[1], height, scene.height));
        to_png(&self.render(scene, &Viewport { x, y, scale, width, height }))
    }
}

/// A piece as it is before something is changed in its stack.
pub struct Before<'a> {
    renderer: &'a ThumbnailRenderer<'a>,
    view: Viewport,
    picture: Picture,
}

impl Before<'_> {
    /// The piece with other coats, as near as the change shows best.
    pub fn becomes(&self, after: &Piece) -> Result<String, QueryError> {
        let Self { renderer, view, picture } = self;
        let scene = renderer.single_piece_scene(after);
        let aspect = f64::from(SMALL.0) / f64::from(SMALL.1);
        let Some(part) = closeup(picture, &renderer.render(&scene, view), aspect) else {
            return renderer.scene_thumbnail(after);
        };
        let middle = [
            view.x + (part.x + part.width / 2.0) / view.scale,
            view.y + (part.y + part.height / 2.0) / view.scale,
        ];
        let scale = f64::from(SMALL.0) / part.width * view.scale;
        renderer.small(&scene, middle, scale.min(NEAREST))
    }
}

/// Device pixels for one px in the nearest picture of a coat: edges stay recognisable.
const NEAREST: f64 = 6.0;

/// Pixels of the longer side of the picture in which a coat is looked for.
const SEARCHED: f64 = 480.0;

/// A piece and its surroundings, as far as the scene goes.
fn surroundings(scene: &resolve::Scene) -> Viewport {
    let [x, y, w, h] = box_of(scene);
    let room = 48.0 + w.max(h) / 4.0;
    let span = |from: f64, length: f64, whole: f64| {
        let (low, high) = ((from - room).clamp(0.0, whole), (from + length + room).clamp(0.0, whole));
        if high - low < 1.0 { (0.0, whole) } else { (low, high - low) }
    };
    let ((x, width), (y, height)) = (span(x, w, scene.width), span(y, h, scene.height));
    let scale = (SEARCHED / width.max(height)).min(1.0);
    let pixels = |length: f64| (length * scale).round().max(1.0) as u32;
    Viewport { x, y, scale, width: pixels(width), height: pixels(height) }
}

/// Place and size of a scene's first piece.
fn box_of(scene: &resolve::Scene) -> [f64; 4] {
    scene.pieces.first().map_or([0.0, 0.0, 1.0, 1.0], |piece| {
        let (w, h) = piece.silhouette.size();
        [piece.x, piece.y, w.max(1.0), h.max(1.0)]
    })
}
