//! From a document to plain numbers: lights followed, swatches looked up, text set, finishes unpacked.
//!
//! Nothing unresolved reaches the renderer. What this version cannot draw yet is left out of the resolved scene
//! and said in its [`Note`]s, so nothing is ignored silently.

mod offset;
mod paint;

use serde::Serialize;

use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::{RoundedBox, Silhouette, text};
use crate::model::{self, CoatKind, ColourOrigin, ColourSource, Id, Project, Shape, Surface};

pub use offset::{ResolvedOffset, bearing_of};
pub use paint::{ColourStop, Paint, Sampler};

/// A scene of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Scene {
    /// In px.
    pub width: f64,
    /// In px.
    pub height: f64,
    /// What the pieces lie on.
    pub ground: Paint,
    /// First is lowest; hidden ones are left out.
    pub pieces: Vec<Piece>,
    /// What could not be drawn.
    pub notes: Vec<Note>,
}

/// A piece of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// Its id.
    pub id: Id,
    /// Its name.
    pub name: String,
    /// Its geometry.
    pub silhouette: Silhouette,
    /// The left of its box.
    pub x: f64,
    /// The top of its box.
    pub y: f64,
    /// In degrees, clockwise about the middle of its box.
    pub rotation: f64,
    /// What it is filled with.
    pub fill: Paint,
    /// What becomes of its surface.
    pub surface: Surface,
    /// Coats that are on; first is nearest the eye.
    pub coats: Vec<Coat>,
    /// Of surface and coats together.
    pub opacity: f64,
    /// How it mixes with the scene.
    pub blend: BlendMode,
}

/// A coat of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Coat {
    /// Its id.
    pub id: Id,
    /// Its name.
    pub name: String,
    /// What it draws.
    pub shadow: Shadow,
    /// Whether it lies on the surface or under it.
    pub layer: Layer,
    /// How it mixes with what is below.
    pub blend: BlendMode,
}

/// Which side of the surface line a shadow lies on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Layer {
    /// An inner shadow, on the surface.
    Inner,
    /// A drop shadow, under it.
    Drop {
        /// Kept out from under the piece.
        knock_out: bool,
    },
}

/// A shadow's numbers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shadow {
    /// To the right, in px.
    pub dx: f64,
    /// Down, in px.
    pub dy: f64,
    /// CSS blur radius in px: twice the Gaussian's σ.
    pub blur: f64,
    /// In px.
    pub spread: f64,
    /// The coat's opacity is in its alpha.
    pub colour: Rgba,
}

/// Something about one coat or piece that a designer must know.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Note {
    /// The piece's name.
    pub piece: String,
    /// The coat's id, when it is about one coat.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coat: Option<Id>,
    /// What is the matter, naming the coat, and what became of it.
    pub message: String,
}

/// Resolves a scene under its theme.
#[must_use]
pub fn scene(project: &Project, scene: &model::Scene) -> Scene {
    let context = Context { project, theme: &scene.theme };
    let mut notes = Vec::new();
    let mut report = |message: String| {
        notes.push(Note { piece: "ground".to_owned(), coat: None, message });
    };
    let ground = context.paint(&scene.ground, &mut report);
    let visible = scene.pieces.iter().filter(|piece| !piece.hidden);
    let pieces = visible.filter_map(|piece| context.piece(piece, &mut notes)).collect();
    Scene { width: scene.width.get(), height: scene.height.get(), ground, pieces, notes }
}

/// Resolves one piece of a scene, hidden or not. `None` when its shape is not drawn yet; the notes say so.
#[must_use]
pub fn piece(project: &Project, scene: &model::Scene, piece: &model::Piece) -> (Option<Piece>, Vec<Note>) {
    let context = Context { project, theme: &scene.theme };
    let mut notes = Vec::new();
    (context.piece(piece, &mut notes), notes)
}

/// What values are looked up in.
#[derive(Clone, Copy)]
pub struct Context<'a> {
    /// Lights, swatches and finishes.
    pub project: &'a Project,
    /// The id of the theme.
    pub theme: &'a Id,
}

impl Context<'_> {
    fn piece(&self, piece: &model::Piece, notes: &mut Vec<Note>) -> Option<Piece> {
        let mut report = |coat: Option<&model::Coat>, message: String| {
            let coat = coat.map(|coat| coat.id.clone());
            notes.push(Note { piece: piece.name.clone(), coat, message });
        };
        let Some(silhouette) = silhouette(&piece.shape) else {
            report(None, format!("a {} is not drawn yet: left out", piece.shape.name()));
            return None;
        };
        if piece.clip_to.is_some() {
            report(None, "clipping to another piece is not drawn yet: drawn unclipped".to_owned());
        }
        let fill = self.paint(&piece.fill, &mut |message| report(None, message));
        let coats = if piece.coats_on { self.project.coats_of(piece) } else { &[] };
        let resolved = coats.iter().filter(|coat| coat.on).filter_map(|coat| {
            self.coat(coat, piece, &fill).map_err(|message| report(Some(coat), message)).ok()
        });
        Some(Piece {
            id: piece.id.clone(),
            name: piece.name.clone(),
            coats: resolved.collect(),
            silhouette,
            x: piece.x.get(),
            y: piece.y.get(),
            rotation: piece.rotation.get(),
            fill,
            surface: piece.surface,
            opacity: piece.opacity.get(),
            blend: piece.blend,
        })
    }

    /// One coat, or why it is not drawn.
    fn coat(&self, coat: &model::Coat, piece: &model::Piece, fill: &Paint) -> Result<Coat, String> {
        let not_yet = |what: &str| format!("\"{}\": {what} is not drawn yet: left out", coat.name);
        let boxy = matches!(piece.shape, Shape::Box(_) | Shape::Ellipse(_));
        let (offset, blur, spread, colour, layer) = match &coat.kind {
            CoatKind::Drop(drop) => {
                let unmet = [
                    (drop.falloff.is_some(), "a falloff"),
                    (drop.grain.is_some(), "grain"),
                    (drop.substitute.is_some(), "a substitute shape"),
                ];
                refuse(&unmet, not_yet)?;
                let layer = Layer::Drop { knock_out: drop.knock_out.unwrap_or(boxy) };
                (&drop.offset, drop.blur, drop.spread, &drop.colour, layer)
            }
            CoatKind::Inner(inner) => {
                let unmet = [(inner.falloff.is_some(), "a falloff"), (inner.grain.is_some(), "grain")];
                refuse(&unmet, not_yet)?;
                (&inner.offset, inner.blur, inner.spread, &inner.colour, Layer::Inner)
            }
            other => return Err(not_yet(&format!("a coat of kind {}", other.name()))),
        };
        let colour = self.colour(colour, Some(fill), offset).map_err(|what| not_yet(&what))?;
        let offset = self.offset(offset);
        let shadow = Shadow {
            dx: offset.x,
            dy: offset.y,
            blur: blur.get(),
            spread: spread.get(),
            colour: colour.faded(coat.opacity.get()),
        };
        let (id, name) = (coat.id.clone(), coat.name.clone());
        Ok(Coat { id, name, shadow, layer, blend: coat.blend })
    }

    /// A coat's colour as it comes out, before the coat's opacity; or what is not drawn yet.
    ///
    /// # Errors
    /// Names the colour source that this version cannot compute.
    pub fn colour(
        &self,
        source: &ColourSource,
        fill: Option<&Paint>,
        offset: &model::Offset,
    ) -> Result<Rgba, String> {
        let (base, lightness) = match source {
            ColourSource::Literal(colour) => (colour.rgba(), None),
            ColourSource::Swatch(swatch) => (self.swatch(&swatch.swatch), swatch.lightness),
            ColourSource::From(taken) => {
                let base = match taken.from {
                    ColourOrigin::Fill => {
                        let fill = fill.ok_or("a fill's own colour")?;
                        fill.mean().map(|mean| Rgba { a: 1.0, ..mean }).unwrap_or_default()
                    }
                    ColourOrigin::Light => self.light_colour(offset),
                    ColourOrigin::Ground => return Err("the ground as a colour".to_owned()),
                    ColourOrigin::Picture => return Err("the picture as a colour".to_owned()),
                };
                (base, taken.lightness)
            }
        };
        Ok(lightness.map_or(base, |amount| base.lightened(amount.get())))
    }

    fn swatch(&self, id: &Id) -> Rgba {
        let swatch = self.project.swatches.iter().find(|swatch| swatch.id == *id);
        let value = swatch.and_then(|swatch| swatch.values.get(self.theme));
        value.map(model::CssColour::rgba).unwrap_or_default()
    }
}

fn refuse(unmet: &[(bool, &str)], not_yet: impl Fn(&str) -> String) -> Result<(), String> {
    match unmet.iter().find(|(asked, _)| *asked) {
        Some((_, what)) => Err(not_yet(what)),
        None => Ok(()),
    }
}

/// The geometry of a shape, or `None` when it is not drawn yet.
#[must_use]
pub fn silhouette(shape: &Shape) -> Option<Silhouette> {
    match shape {
        Shape::Box(shape) => {
            let radii = corner_radii(shape.radii);
            Some(Silhouette::Box(RoundedBox::new(shape.w.get(), shape.h.get(), radii)))
        }
        Shape::Ellipse(shape) => Some(Silhouette::Box(RoundedBox::ellipse(shape.w.get(), shape.h.get()))),
        Shape::Text(shape) => Some(Silhouette::Outline(text::outline(shape))),
        Shape::Path(_) | Shape::Picture(_) | Shape::Join(_) => None,
    }
}

fn corner_radii(radii: model::Radii) -> [(f64, f64); 4] {
    match radii {
        model::Radii::All(radius) => [(radius.get(), radius.get()); 4],
        model::Radii::Each(corners) => corners.map(|corner| match corner {
            model::CornerRadius::Circle(radius) => (radius.get(), radius.get()),
            model::CornerRadius::Ellipse(radius) => (radius.x.get(), radius.y.get()),
        }),
    }
}
