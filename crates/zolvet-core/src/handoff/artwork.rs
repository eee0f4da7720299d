//! Files of somebody's own with depth on them: a finish on a whole file, and a scene's coats back on the file they were given to.

use std::sync::Arc;

use crate::asset::Assets;
use crate::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use crate::geometry::drawing::{Drawing, DrawingFile};
use crate::geometry::icon::SvgError;
use crate::lower::{Fidelity, FidelityNote};
use crate::model::{
    Coat, CoatKind, DrawingShape, Fill, Id, OwnCoats, Piece, Project, Px, Scene, Shape, Size, Wear,
    WornFinish,
};
use crate::picture::Picture;
use crate::report::artwork::{OWN_STROKE, Original, scale_of};
use crate::resolve;
use crate::svg::{Depth, Edge, FileWithDepth, Had, Placing, room_needed, with_depth};

/// A finish under a theme.
#[derive(Debug, Clone, Copy)]
pub struct Worn<'a> {
    /// The project that has it.
    pub project: &'a Project,
    /// The id of the finish.
    pub finish: &'a Id,
    /// The id of the theme.
    pub theme: &'a Id,
}

impl<'a> Worn<'a> {
    /// A finish under the project's first theme.
    #[must_use]
    pub fn at_first(project: &'a Project, finish: &'a Id) -> Option<Self> {
        Some(Self { project, finish, theme: &project.themes.first()?.id })
    }
}

/// How many pixels a picture has.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Pixels {
    /// So many for one px.
    PerPx(f64),
    /// So many on the longer side.
    Longest(f64),
}

/// A file that is to wear a finish.
pub struct Artwork {
    file: DrawingFile,
    drawing: Arc<Drawing>,
    /// Px of the scene for one px of the file.
    scale: f64,
}

impl Artwork {
    /// Reads a file. It is shown with so many px on its longer side; at its own size where none are said.
    ///
    /// # Errors
    /// [`SvgError`] where it cannot be drawn.
    pub fn read(bytes: &[u8], longest: Option<f64>) -> Result<Self, SvgError> {
        let file = DrawingFile::read(bytes)?;
        let drawing = Drawing::cached(&file, &[])?;
        let scale = longest.map_or(1.0, |longest| longest / drawing.width.max(drawing.height));
        Ok(Self { file, drawing, scale })
    }

    /// Its width and height in px.
    #[must_use]
    pub fn size(&self) -> [f64; 2] {
        [self.drawing.width, self.drawing.height].map(|side| side * self.scale)
    }

    /// Its size in whole px. Of many files, those of one size are given the same room, as much as the one that needs most, so that
    /// they stay as large as one another.
    #[must_use]
    pub fn sharing(&self) -> [i64; 2] {
        self.size().map(|side| side.round() as i64)
    }

    /// Px of the file that a finish reaches beyond its edge: left, top, right, bottom.
    #[must_use]
    pub fn room(&self, worn: Worn<'_>) -> [f64; 4] {
        let Some(scene) = self.scene(worn) else { return [0.0; 4] };
        let resolved = scene.resolved(worn.project);
        resolved
            .pieces
            .first()
            .map_or([0.0; 4], |piece| room_needed(&self.file, &self.drawing, piece, self.scale))
    }

    /// The file with a finish on all of it.
    ///
    /// # Errors
    /// [`SvgError`] where it cannot be read.
    pub fn wearing(&self, worn: Worn<'_>, edge: Edge, room: [f64; 4]) -> Result<FileWithDepth, SvgError> {
        let resolved = self.scene(worn).map(|scene| scene.resolved(worn.project));
        let pieces = resolved.as_ref().map_or(&[][..], |scene| &scene.pieces);
        let depths: Vec<Depth<'_>> =
            pieces.iter().map(|piece| Depth { piece, element: None, had: Had::Stays }).collect();
        let placing = Placing { scale: self.scale, edge, room: Some(room) };
        with_depth((&self.file, &self.drawing), &depths, placing)
    }

    /// A picture of it with a finish, on transparency.
    #[must_use]
    pub fn picture(&self, worn: Worn<'_>, (edge, room): (Edge, [f64; 4]), pixels: Pixels) -> Picture {
        let Some(mut scene) = self.scene(worn) else {
            return Picture { width: 0, height: 0, rgba: Vec::new() };
        };
        let [left, top, right, bottom] = room.map(|side| side * self.scale);
        let (width, height) = (scene.width, scene.height);
        match edge {
            Edge::Grow => scene.placed((left, top), 1.0, (width + left + right, height + top + bottom)),
            Edge::Shrink => {
                let factor = ((width - left - right) / width).min((height - top - bottom) / height).max(0.2);
                let x = left + (width - left - right - width * factor) / 2.0;
                let y = top + (height - top - bottom - height * factor) / 2.0;
                scene.placed((x, y), factor, (width, height));
            }
            Edge::Cut => {}
        }
        let resolved = scene.resolved(worn.project);
        let density = match pixels {
            Pixels::PerPx(density) => density,
            Pixels::Longest(longest) => longest / resolved.width.max(resolved.height),
        };
        let viewport = Viewport::whole(&resolved, density);
        let cache = MaskCache::with_capacity(8 << 20);
        picture(&resolved, &viewport, &RenderOptions::default(), Rounding::Nearest, &cache)
    }

    /// A scene of the file alone.
    fn scene(&self, worn: Worn<'_>) -> Option<AloneScene> {
        let id = Id::new("artwork".to_owned()).ok()?;
        let [width, height] = self.size();
        let (w, h) = (Size::clamped(width), Size::clamped(height));
        let piece = Piece {
            shape: Shape::Drawing(DrawingShape { asset: id.clone(), elements: None, w, h }),
            wear: Wear::Finish(WornFinish { finish: worn.finish.clone() }),
            ..Piece::new(id.clone())
        };
        let mut assets = Assets::default();
        assets.insert_drawing(id.clone(), self.file.clone());
        let scene = Scene {
            id,
            name: String::new(),
            width: w,
            height: h,
            theme: worn.theme.clone(),
            ground: Fill::default(),
            pieces: vec![piece],
            reference: None,
            page: None,
        };
        Some(AloneScene { scene, assets, width, height })
    }
}

/// A scene of one drawing.
struct AloneScene {
    scene: Scene,
    assets: Assets,
    width: f64,
    height: f64,
}

impl AloneScene {
    /// Puts the drawing, larger by a factor, at a place of a scene of a size.
    fn placed(&mut self, (x, y): (f64, f64), factor: f64, (width, height): (f64, f64)) {
        (self.scene.width, self.scene.height) = (Size::clamped(width), Size::clamped(height));
        for piece in &mut self.scene.pieces {
            (piece.x, piece.y) = (Px::clamped(x), Px::clamped(y));
            if let Shape::Drawing(drawing) = &mut piece.shape {
                drawing.w = Size::clamped(self.width * factor);
                drawing.h = Size::clamped(self.height * factor);
            }
        }
    }

    fn resolved(&self, project: &Project) -> resolve::Scene {
        resolve::scene(project, &self.scene, &self.assets)
    }
}

/// The file of a drawing with the coats that a scene gives it and the elements taken out of it. `None` where the scene has no such
/// drawing, or it cannot be read.
#[must_use]
pub fn file_with_depth(
    project: &Project,
    scene: &Scene,
    asset: &Id,
    edge: Edge,
    assets: &Assets,
) -> Option<FileWithDepth> {
    let file = assets.drawing_file(asset)?;
    let drawing = assets.drawing(asset)?.ok()?;
    let pieces = scene.all_pieces();
    let rest = rest_of(&pieces, asset);
    // Without it, the size is that of what was taken out.
    let of_it = |piece: &&&Piece| piece.drawn_from.as_ref().is_some_and(|from| from.asset == *asset);
    let taken = || pieces.iter().filter(of_it).find_map(|piece| scale_of((project, scene), piece, assets));
    let scale = rest.map(|(_, shape)| shape.w.get() / drawing.width).or_else(taken).unwrap_or(1.0);
    let whole = DrawingShape {
        asset: asset.clone(),
        elements: None,
        w: Size::clamped(drawing.width * scale),
        h: rest.map_or(Size::clamped(drawing.height * scale), |(_, shape)| shape.h),
    };
    let back = BackOut { project, scene, whole, rest: rest.map(|(piece, _)| piece), assets };
    let shown = |piece: &&Piece| !scene.path_to(&piece.id).iter().any(|around| around.hidden);
    let mut notes = Vec::new();
    let mut found = Vec::new();
    for piece in pieces.iter().copied().filter(shown) {
        let Worth { coats, what } = back.worth(piece);
        notes.extend(what.into_iter().map(|what| FidelityNote {
            coat: None,
            fidelity: Fidelity::Dropped,
            message: format!("{}: {what}", piece.name),
        }));
        found.extend(coats.map(|coats| (piece, coats)));
    }
    let resolved: Vec<(resolve::Piece, Option<usize>, Had)> = found
        .into_iter()
        .map(|(piece, GivenCoats { coats, element, had })| {
            let worn = Piece { wear: Wear::Coats(OwnCoats { coats }), ..piece.clone() };
            (resolve::piece(project, scene, &worn, assets).0, element, had)
        })
        .collect();
    let depths: Vec<Depth<'_>> =
        resolved.iter().map(|(piece, element, had)| Depth { piece, element: *element, had: *had }).collect();
    let mut file = with_depth((file, &drawing), &depths, Placing { scale, edge, room: None }).ok()?;
    file.notes.extend(notes);
    Some(file)
}

/// A drawing of a scene whose file is written.
struct BackOut<'a> {
    project: &'a Project,
    scene: &'a Scene,
    /// All of it.
    whole: DrawingShape,
    /// What is left of it beside what was taken out.
    rest: Option<&'a Piece>,
    assets: &'a Assets,
}

/// What a piece gives to the file.
#[derive(Default)]
struct Worth {
    coats: Option<GivenCoats>,
    /// What of it the file does not get.
    what: Vec<&'static str>,
}

/// Coats for an element, or for all of a drawing.
struct GivenCoats {
    coats: Vec<Coat>,
    element: Option<usize>,
    had: Had,
}

impl BackOut<'_> {
    fn worth(&self, piece: &Piece) -> Worth {
        let from = piece.drawn_from.as_ref().filter(|from| from.asset == self.whole.asset);
        let is_part = matches!(&piece.shape, Shape::Drawing(shape) if shape.asset == self.whole.asset);
        let own = |coat: &&Coat| coat.on && !is_own_stroke(coat, piece);
        let coats = self.project.shown_coats(self.scene, piece);
        let coats = if piece.coats_on { coats } else { &[] };
        let coats: Vec<Coat> = coats.iter().filter(own).cloned().collect();
        let original =
            from.and_then(|_| Original::of((self.project, self.scene), piece, &self.whole, self.assets));
        let mut what = Vec::new();
        if let Some(original) = &original {
            let changed = original.changed(piece, self.rest);
            what.extend(changed.fill.then_some("its fill was changed: the file keeps its own"));
            what.extend(changed.shape.then_some("its shape or place was changed: the file keeps its own"));
        }
        let goes = from.is_some_and(|from| from.filter_as_coats);
        if goes && original.is_some_and(|original| are_alike(&original.coats, &coats)) {
            return Worth { coats: None, what };
        }
        if coats.is_empty() && !goes {
            return Worth { coats: None, what };
        }
        let had = if goes { Had::Goes } else { Had::Stays };
        let element = from.map(|from| from.element as usize);
        let has_place = element.is_some() || is_whole(piece, &self.whole.asset);
        if !has_place && is_part {
            what.push("coats on several elements that are left have no place in the file");
        }
        Worth { coats: has_place.then_some(GivenCoats { coats, element, had }), what }
    }
}

/// Whether two stacks draw the same, whatever their coats are called.
fn are_alike(some: &[Coat], others: &[Coat]) -> bool {
    let drawn = |coat: &Coat| (coat.on, coat.opacity, coat.blend, coat.kind.clone());
    some.iter().map(drawn).eq(others.iter().map(drawn))
}

/// A picture of a file with depth on it, as the file itself is drawn, with `density` pixels for one px. `asset` is the drawing of the
/// scene that it was made of. `None` where it cannot be read.
#[must_use]
pub fn picture_of_file(
    (project, scene): (&Project, &Scene),
    svg: &str,
    asset: &Id,
    assets: &Assets,
    density: f64,
) -> Option<Picture> {
    let mut assets = assets.clone();
    assets.insert_drawing(asset.clone(), DrawingFile::read(svg.as_bytes()).ok()?);
    let drawing = assets.drawing(asset)?.ok()?;
    let (w, h) = (Size::clamped(drawing.width), Size::clamped(drawing.height));
    let shape = Shape::Drawing(DrawingShape { asset: asset.clone(), elements: None, w, h });
    let piece = Piece { shape, ..Piece::new(asset.clone()) };
    let ground = Fill::default();
    let alone = Scene { width: w, height: h, ground, pieces: vec![piece], reference: None, ..scene.clone() };
    // Drawn as every scene is, so that its work is counted before it is begun.
    let resolved = resolve::scene(project, &alone, &assets);
    let viewport = Viewport::whole(&resolved, density);
    let cache = MaskCache::with_capacity(8 << 20);
    Some(picture(&resolved, &viewport, &RenderOptions::default(), Rounding::Nearest, &cache))
}

/// What is left of a drawing on a scene: it has the whole drawing's size and place.
fn rest_of<'p>(pieces: &[&'p Piece], asset: &Id) -> Option<(&'p Piece, &'p DrawingShape)> {
    pieces.iter().find_map(|piece| match &piece.shape {
        Shape::Drawing(shape) => {
            (shape.asset == *asset && piece.drawn_from.is_none()).then_some((*piece, shape))
        }
        Shape::Box(_)
        | Shape::Ellipse(_)
        | Shape::Path(_)
        | Shape::Text(_)
        | Shape::Picture(_)
        | Shape::Join(_)
        | Shape::Group(_) => None,
    })
}

/// Whether a piece is all of a drawing: the drawing itself, or the group that it became.
fn is_whole(piece: &Piece, asset: &Id) -> bool {
    match &piece.shape {
        Shape::Drawing(shape) => shape.asset == *asset && shape.elements.is_none(),
        Shape::Group(group) => group.parts.iter().any(|part| is_from(part, asset)),
        Shape::Box(_)
        | Shape::Ellipse(_)
        | Shape::Path(_)
        | Shape::Text(_)
        | Shape::Picture(_)
        | Shape::Join(_) => false,
    }
}

/// Whether a piece shows something of a drawing, or was taken out of it.
fn is_from(piece: &Piece, asset: &Id) -> bool {
    let is_part = matches!(&piece.shape, Shape::Drawing(shape) if shape.asset == *asset);
    is_part || piece.drawn_from.as_ref().is_some_and(|from| from.asset == *asset)
}

/// A stroke that an element has in its file already.
fn is_own_stroke(coat: &Coat, piece: &Piece) -> bool {
    piece.drawn_from.is_some() && coat.id.as_str() == OWN_STROKE && matches!(coat.kind, CoatKind::Stroke(_))
}
