//! Measuring the edge and the letters of a piece under viewing conditions.

use serde::Serialize;

use super::contrast::{FOR_PARTS, for_text};
use super::edge::{EdgeVisibility, Probes, edge_view};
use super::lying_on::lying_on;
use super::screens::Screen;
use super::squint::ViewingConditions;
use super::text::{TextContrast, glyph_colours, text_contrast};
use crate::colour::Rgba;
use crate::compose::{Canvas, MaskCache, RenderOptions, Viewport, render, render_onto};
use crate::model::{self, FittedText, Fitting, Id, Shape, Surface};
use crate::resolve::{Paint, Piece, Scene};

/// Screen and viewing conditions under which pieces are measured.
#[derive(Clone, Copy)]
pub struct Observer<'a> {
    /// The screen, or a colour vision deficiency.
    pub screen: Screen,
    /// Distance and density.
    pub conditions: ViewingConditions,
    /// Device pixels for one CSS px of the screen, from 1 to 4.
    pub density: f64,
    /// The cache for drawing.
    pub cache: &'a MaskCache,
}

/// The visibility of a piece.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceVisibility {
    /// The contrast of text in its worst place, or the one that nine tenths of an edge reach.
    pub contrast: f64,
    /// Contrast that text of this size needs (WCAG 2.2, SC 1.4.3), or a part of an interface (SC 1.4.11).
    pub needed: f64,
    /// Of an edge: the share of its difference in luminance that a squinting eye is left with.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub squinted: Option<f64>,
}

impl Observer<'_> {
    /// Measures a piece of a scene; nothing where it draws nothing that could be measured.
    #[must_use]
    pub fn measures(&self, scene: &Scene, piece: &Id, shape: &Shape) -> Option<PieceVisibility> {
        let at = scene.pieces.iter().position(|other| other.id == *piece)?;
        if let Shape::Text(text) = shape {
            let needed = for_text(text.size.get(), text.weight.get());
            let found = self.letters(scene, at, text.size.get())?;
            return Some(PieceVisibility { contrast: found.contrast, needed, squinted: None });
        }
        let found = self.edge(scene, at).edge_visibility(&scene.pieces[at]);
        let measured = !found.points.is_empty() && scene.pieces[at].surface != Surface::Hide;
        measured.then_some(PieceVisibility {
            contrast: found.weakest,
            needed: FOR_PARTS,
            squinted: Some(found.squinted),
        })
    }

    /// The text on a piece that falls shortest of the contrast it needs, with its contrast; `None` where no text lies
    /// on the piece.
    #[must_use]
    pub fn text_on<'m>(
        &self,
        scene: &Scene,
        piece: &Id,
        models: &[&'m model::Piece],
    ) -> Option<(&'m model::Piece, PieceVisibility)> {
        let at = scene.pieces.iter().position(|other| other.id == *piece)?;
        let model = |at: usize| models.iter().copied().find(|model| model.id == scene.pieces[at].id);
        let texts = lying_on(scene, at).into_iter().filter_map(model);
        let texts = texts.filter(|model| matches!(model.shape, Shape::Text(_)));
        let measured =
            texts.filter_map(|model| Some((model, self.measures(scene, &model.id, &model.shape)?)));
        let reached = |found: &PieceVisibility| found.contrast / found.needed;
        measured.min_by(|(_, a), (_, b)| reached(a).total_cmp(&reached(b)))
    }

    /// The contrast of the letters at a place of a scene's list of pieces with the picture really behind them; `size`
    /// is that of the type in px.
    #[must_use]
    pub fn letters(&self, scene: &Scene, at: usize, size: f64) -> Option<TextContrast> {
        let piece = &scene.pieces[at];
        if piece.surface != Surface::Keep || piece.opacity <= 0.0 {
            return None;
        }
        let viewport = edge_view(piece, scene, 2.0).on_screen_of(self.density);
        let draw = |scene: &Scene| render(scene, &viewport, &RenderOptions::default(), self.cache);
        let shown = draw(&up_to(scene, at, piece.clone()));
        let behind = draw(&up_to(scene, at, Piece { surface: Surface::Hide, ..piece.clone() }));
        let white = Paint::Solid(Rgba::new(1.0, 1.0, 1.0, 1.0));
        let bare = Piece { fill: white, opacity: 1.0, ..piece.with_coats(Vec::new()) };
        let mask = draw(&Scene { ground: Paint::None, ..scene.with_pieces(vec![bare]) });
        let letters = self.screen.apply(&glyph_colours(&shown, &behind, &mask));
        text_contrast(&letters, &self.screen.apply(&behind), &viewport, size)
    }

    /// The text in an element of a page that falls shortest of the contrast it needs; `at` is the place of the piece that stands
    /// for the element in the scene's list. Where its letters are within its box is not known: all of the box is looked at.
    #[must_use]
    pub fn text_in<'m>(
        &self,
        scene: &Scene,
        at: usize,
        fitting: &'m Fitting,
    ) -> Option<(&'m FittedText, TextContrast, f64)> {
        let piece = &scene.pieces[at];
        let scene = up_to(scene, at, piece.clone());
        let measured = fitting.texts.iter().filter_map(|text| {
            let needed = for_text(text.size.get(), text.weight.get());
            Some((text, self.text_at(&scene, text, (piece.x, piece.y))?, needed))
        });
        let reached = |(_, found, needed): &(&FittedText, TextContrast, f64)| found.contrast / needed;
        measured.min_by(|a, b| reached(a).total_cmp(&reached(b)))
    }

    fn text_at(&self, scene: &Scene, text: &FittedText, (x, y): (f64, f64)) -> Option<TextContrast> {
        let side = |length: f64| length.ceil().clamp(1.0, 2048.0) as u32;
        let place = Viewport {
            x: (x + text.x.get()).floor(),
            y: (y + text.y.get()).floor(),
            scale: 1.0,
            width: side(text.w.get()),
            height: side(text.h.get()),
        };
        let viewport = place.on_screen_of(self.density);
        let behind = render(scene, &viewport, &RenderOptions::default(), self.cache);
        let colour = text.colour.rgba().premultiplied();
        let mut letters = behind.clone();
        for pixel in &mut letters.pixels {
            *pixel = std::array::from_fn(|i| colour[i] + pixel[i] * (1.0 - colour[3]));
        }
        text_contrast(&self.screen.apply(&letters), &self.screen.apply(&behind), &viewport, text.size.get())
    }

    /// The edge of the piece at a place of a scene's list. Pieces on it, such as its label, are no part of its edge.
    #[must_use]
    pub fn edge<'s>(&'s self, scene: &'s Scene, at: usize) -> EdgeProbe<'s> {
        let piece = &scene.pieces[at];
        // The blur of the squint samples pixels farther out, which have to be drawn too.
        let viewport =
            edge_view(piece, scene, 8.0 + 3.5 * self.conditions.sigma()).on_screen_of(self.density);
        let lower = scene.with_pieces(scene.pieces[..at].to_vec());
        let below = render(&lower, &viewport, &RenderOptions::default(), self.cache);
        let probes = Probes::along(piece, viewport);
        let sparse = probes.sparser(viewport);
        EdgeProbe { observer: self, scene, at, viewport, below, probes, sparse }
    }
}

/// An edge that can be measured again and again, with other coats on its piece.
pub struct EdgeProbe<'s> {
    observer: &'s Observer<'s>,
    scene: &'s Scene,
    at: usize,
    /// Everything that the blur of the squint samples.
    viewport: Viewport,
    /// The picture below the piece.
    below: Canvas,
    probes: Probes,
    /// Along a part of the edge.
    sparse: Probes,
}

impl EdgeProbe<'_> {
    /// As it is seen with the coats of a piece of the same shape.
    #[must_use]
    pub fn edge_visibility(&self, piece: &Piece) -> EdgeVisibility {
        let drawn = render_onto(&self.below, piece, &self.viewport, self.observer.cache);
        let seen = self.observer.screen.apply(&drawn.unwrap_or_else(|| self.render_scene(piece)));
        self.probes.visibility(&seen, self.observer.conditions.sigma() * self.viewport.scale)
    }

    /// As [`Self::edge_visibility`], without squinting.
    #[must_use]
    pub fn sharp(&self, piece: &Piece) -> EdgeVisibility {
        self.through(&self.probes, piece)
    }

    /// As [`Self::sharp`], of about a quarter of a long edge, to try things with.
    #[must_use]
    pub fn roughly(&self, piece: &Piece) -> EdgeVisibility {
        self.through(&self.sparse, piece)
    }

    fn through(&self, probes: &Probes, piece: &Piece) -> EdgeVisibility {
        let below = probes.strip.crop(&self.below.pixels);
        let drawn = probes.strip.with(piece, &below, self.observer.cache);
        let mut pixels = drawn.unwrap_or_else(|| probes.strip.crop(&self.render_scene(piece).pixels));
        if self.observer.screen != Screen::Plain {
            pixels.iter_mut().for_each(|pixel| *pixel = self.observer.screen.pixel(*pixel));
        }
        probes.unsquinted_visibility(&pixels)
    }

    fn render_scene(&self, piece: &Piece) -> Canvas {
        render(
            &up_to(self.scene, self.at, piece.clone()),
            &self.viewport,
            &RenderOptions::default(),
            self.observer.cache,
        )
    }
}

/// A scene up to a place, with another piece there.
fn up_to(scene: &Scene, at: usize, piece: Piece) -> Scene {
    scene.with_pieces(scene.pieces[..at].iter().cloned().chain([piece]).collect())
}
