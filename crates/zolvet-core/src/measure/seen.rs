//! A piece of a scene as it is seen: its edge, its letters.

use serde::Serialize;

use super::contrast::{FOR_PARTS, for_text};
use super::edge::{EdgeSight, edge_sight, edge_view};
use super::screens::Screen;
use super::sight::Sight;
use super::text::{TextSight, letters_alone, text_sight};
use crate::colour::Rgba;
use crate::compose::{MaskCache, Part, View, render};
use crate::model::{Id, Shape, Surface};
use crate::resolve::{Paint, Piece, Scene};

/// What pieces are looked at on, and from where.
#[derive(Clone, Copy)]
pub struct Eye<'a> {
    /// The screen, or the eye itself.
    pub screen: Screen,
    /// Where it is.
    pub sight: Sight,
    /// What is drawn for it is kept in.
    pub cache: &'a MaskCache,
}

/// How well a piece can be seen, in numbers.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceSight {
    /// The contrast of text in its worst place, or that which nine tenths of an edge reach.
    pub contrast: f64,
    /// What text of this size needs (WCAG 2.2, SC 1.4.3), or a part of an interface (SC 1.4.11).
    pub needed: f64,
    /// Of an edge: the share of its difference in luminance that a squinting eye is left with.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub squinted: Option<f64>,
}

impl Eye<'_> {
    /// The same eye wide open.
    #[must_use]
    pub fn open(&self) -> Self {
        Self { sight: Sight { degrees: 0.0, ..self.sight }, ..*self }
    }

    /// Measures a piece of a scene; nothing where it draws nothing that could be measured.
    #[must_use]
    pub fn measures(&self, scene: &Scene, piece: &Id, shape: &Shape) -> Option<PieceSight> {
        let at = scene.pieces.iter().position(|other| other.id == *piece)?;
        if let Shape::Text(text) = shape {
            let needed = for_text(text.size.get(), text.weight.get());
            let found = self.letters(scene, at, text.size.get())?;
            return Some(PieceSight { contrast: found.contrast, needed, squinted: None });
        }
        let found = self.edge(scene, at, &scene.pieces[at]);
        let measured = !found.points.is_empty() && scene.pieces[at].surface != Surface::Hide;
        measured.then_some(PieceSight {
            contrast: found.weakest,
            needed: FOR_PARTS,
            squinted: Some(found.squinted),
        })
    }

    /// The contrast of the letters at a place of a scene's list of pieces with what is really behind them; `size` is that
    /// of the type in px.
    #[must_use]
    pub fn letters(&self, scene: &Scene, at: usize, size: f64) -> Option<TextSight> {
        let piece = &scene.pieces[at];
        if piece.surface != Surface::Keep || piece.opacity <= 0.0 {
            return None;
        }
        let view = edge_view(piece, scene, 2.0);
        let draw = |scene: &Scene| render(scene, &view, &Part::default(), self.cache);
        let shown = draw(&up_to(scene, at, piece.clone()));
        let behind = draw(&up_to(scene, at, Piece { surface: Surface::Hide, ..piece.clone() }));
        let white = Paint::Solid(Rgba::new(1.0, 1.0, 1.0, 1.0));
        let bare = Piece { fill: white, opacity: 1.0, ..piece.with_coats(Vec::new()) };
        let mask = draw(&Scene { ground: Paint::None, pieces: vec![bare], ..scene.clone() });
        let letters = self.screen.seen(&letters_alone(&shown, &behind, &mask));
        text_sight(&letters, &self.screen.seen(&behind), &view, size)
    }

    /// The edge of a piece in place of the one at `at`. What lies on it, such as its label, is no part of its edge.
    #[must_use]
    pub fn edge(&self, scene: &Scene, at: usize, piece: &Piece) -> EdgeSight {
        // What the eye mixes in from farther out has to be drawn too.
        let view: View = edge_view(piece, scene, 8.0 + 3.5 * self.sight.sigma());
        let drawn = render(&up_to(scene, at, piece.clone()), &view, &Part::default(), self.cache);
        edge_sight(piece, &self.screen.seen(&drawn), &view, self.sight.sigma())
    }
}

/// A scene up to a place, with another piece there.
fn up_to(scene: &Scene, at: usize, piece: Piece) -> Scene {
    Scene { pieces: scene.pieces[..at].iter().cloned().chain([piece]).collect(), ..scene.clone() }
}
