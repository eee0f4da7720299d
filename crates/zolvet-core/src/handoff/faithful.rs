//! How close a target comes to what was designed: its picture is drawn as a browser will draw it, and compared.

use serde::Serialize;

use super::browser::painted_as;
use super::{Fidelity, FidelityNote, Held, HeldFilter, Target};
use crate::blend::{BlendMode, blend, over_in_8_bits};
use crate::compose::{Canvas, Manner, MaskCache, Part, Rounding, View, render, render_onto};
use crate::filter::{Graph, Step};
use crate::geometry::{RoundedBox, Silhouette};
use crate::model::{Id, Surface};
use crate::picture::Picture;
use crate::resolve::{Draws, Paint, Piece, Scene};

/// How close a target comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Faithfulness {
    /// Which target.
    pub target: Target,
    /// The mean difference of red, green and blue where the piece draws anything, in 1/255.
    pub mean: f64,
    /// The largest difference, in 1/255.
    pub worst: u8,
    /// The share of values, where the piece draws anything, that are more than 5/255 off.
    pub beyond: f64,
    /// How each coat comes through, first nearest the eye; those not named are exact.
    pub coats: Vec<CoatFidelity>,
    /// What differs, in words.
    pub notes: Vec<FidelityNote>,
}

/// How one coat comes through.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatFidelity {
    /// The coat.
    pub coat: Id,
    /// Its name.
    pub name: String,
    /// Nothing where it is exact.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fidelity: Option<Fidelity>,
}

/// What was designed beside what a browser will show.
#[derive(Debug, Clone, PartialEq)]
pub struct Predicted {
    /// What lies below the piece, alone.
    pub before: Picture,
    /// As it was designed.
    pub designed: Picture,
    /// As a browser draws what the target holds.
    pub shown: Picture,
}

impl Predicted {
    /// White where both pictures are alike, black where they are 32/255 apart or more.
    #[must_use]
    pub fn difference(&self) -> Picture {
        let apart = |(a, b): (&[u8], &[u8])| {
            let most = a.iter().zip(b).take(3).map(|(a, b)| a.abs_diff(*b)).max().unwrap_or(0);
            let grey = 255 - most.saturating_mul(8);
            [grey, grey, grey, 255]
        };
        let pairs = self.designed.rgba.chunks(4).zip(self.shown.rgba.chunks(4));
        Picture { rgba: pairs.flat_map(apart).collect(), ..self.designed }
    }
}

/// Compares what a piece was designed as with what a browser will show of it.
#[must_use]
pub fn faithfulness(piece: &Piece, held: &Held, predicted: &Predicted) -> Faithfulness {
    let (mut sum, mut worst, mut beyond, mut count) = (0_u64, 0, 0_u64, 0_u64);
    let pictures = [&predicted.before, &predicted.designed, &predicted.shown].map(|p| p.rgba.chunks(4));
    let [before, designed, shown] = pictures;
    for ((before, designed), shown) in before.zip(designed).zip(shown) {
        if before == designed && before == shown {
            continue;
        }
        for (a, b) in designed.iter().zip(shown).take(3) {
            let apart = a.abs_diff(*b);
            sum += u64::from(apart);
            worst = worst.max(apart);
            beyond += u64::from(apart > 5);
        }
        count += 3;
    }
    let share = |part: u64| part as f64 / count.max(1) as f64;
    let notes = held.notes.0.clone();
    let mut coats: Vec<CoatFidelity> = Vec::new();
    for coat in &piece.coats {
        if coats.last().is_some_and(|last| last.coat == coat.id) {
            continue;
        }
        let said = notes.iter().filter(|note| note.coat.as_ref() == Some(&coat.id));
        let fidelity = said.map(|note| note.fidelity).max();
        coats.push(CoatFidelity { coat: coat.id.clone(), name: coat.name.clone(), fidelity });
    }
    Faithfulness { target: held.target, mean: share(sum), worst, beyond: share(beyond), coats, notes }
}

/// Draws a piece of a scene, with everything below it, as it was designed and as a browser draws what is held of it.
/// `None` when there is no such piece.
#[must_use]
pub fn predicted(scene: &Scene, held: &Held, view: &View, cache: &MaskCache) -> Option<Predicted> {
    let at = scene.pieces.iter().position(|piece| piece.id == held.element.id)?;
    let with = |pieces: Vec<Piece>| Scene {
        pieces: scene.pieces[..at].iter().cloned().chain(pieces).collect(),
        notes: Vec::new(),
        ..scene.clone()
    };
    let exact = |pieces: Vec<Piece>| render(&with(pieces), view, &Part::default(), cache);
    let (before, piece) = (exact(Vec::new()), &scene.pieces[at]);
    let designed = render_onto(&before, piece, view, cache).unwrap_or_else(|| exact(vec![piece.clone()]));
    let [before, designed] = [before, designed].map(|canvas| canvas.to_picture(Rounding::Nearest));
    let shown = match &held.filter {
        None => browser(&with(painted_as(&held.element, held.target, view.scale)), view, cache),
        Some(filter) => {
            let frost = only(&held.element, true);
            let mut below = browser(&with(vec![frost]), view, cache);
            below.round_to_8_bits();
            let own = match filter {
                HeldFilter::Functions(graph) => filtered(held, &by_whole_px(graph), view, cache),
                HeldFilter::Svg(graph) => filtered(held, graph, view, cache),
            };
            let (opacity, mode) = (held.element.opacity as f32, held.element.blend);
            for (below, own) in below.pixels.iter_mut().zip(&own.pixels) {
                *below = match mode {
                    BlendMode::Normal if opacity >= 1.0 => over_in_8_bits(*own, *below),
                    mode => blend(mode, own.map(|part| part * opacity), *below),
                };
            }
            below
        }
    };
    Some(Predicted { before, designed, shown: shown.to_picture(Rounding::Nearest) })
}

/// `drop-shadow()` moves by whole px, rounded down (measured in Chromium 156).
fn by_whole_px(graph: &Graph) -> Graph {
    let mut graph = graph.clone();
    for step in &mut graph.steps {
        if let Step::DropShadow { dx, dy, .. } = step {
            (*dx, *dy) = (dx.floor(), dy.floor());
        }
    }
    graph
}

/// A scene as a browser draws its stand-alone SVG file, as far as the file is exact.
#[must_use]
pub fn shown_as_svg(scene: &Scene, view: &View, cache: &MaskCache) -> Picture {
    let part = Part { manner: Manner::Svg, ..Part::default() };
    render(scene, view, &part, cache).to_picture(Rounding::Nearest)
}

fn browser(scene: &Scene, view: &View, cache: &MaskCache) -> Canvas {
    render(scene, view, &Part { manner: Manner::Css, ..Part::default() }, cache)
}

/// The element alone with only its backdrop coats, nothing of itself drawn; or all but those.
fn only(element: &Piece, backdrops: bool) -> Piece {
    let mut piece = element.clone();
    piece.coats.retain(|coat| matches!(coat.draws, Draws::Backdrop(_)) == backdrops);
    if backdrops {
        piece.surface = Surface::Hide;
        piece.parts.clear();
        if !piece.silhouette.is_box() {
            // `backdrop-filter` fills the element's box, whatever is painted in it.
            let (width, height) = piece.silhouette.size();
            piece.silhouette = Silhouette::Box(RoundedBox::new(width, height, [(0.0, 0.0); 4]));
            return piece.with_coats(piece.coats.clone());
        }
    }
    piece
}

/// The element, painted on nothing and put through its filter; what lies around the view is taken in as far as the
/// filter reaches.
fn filtered(held: &Held, graph: &Graph, view: &View, cache: &MaskCache) -> Canvas {
    let own = Piece { opacity: 1.0, blend: Default::default(), ..only(&held.element, false) };
    // Nothing of the filter lies farther from the piece than it reaches.
    let far = graph.reach().into_iter().fold(0.0, f64::max);
    let bounds = own.place().transform_rect_bbox(own.outer.bounds()).inflate(far, far);
    let (right, bottom) =
        (view.x + f64::from(view.width) / view.scale, view.y + f64::from(view.height) / view.scale);
    let margin = |beyond: f64| (beyond.clamp(0.0, far) * view.scale).ceil().min(MARGIN);
    let [left, top, right, bottom] =
        [view.x - bounds.x0, view.y - bounds.y0, bounds.x1 - right, bounds.y1 - bottom].map(margin);
    let wide = View {
        x: view.x - left / view.scale,
        y: view.y - top / view.scale,
        width: view.width + (left + right) as u32,
        height: view.height + (top + bottom) as u32,
        ..*view
    };
    let size = (f64::from(wide.width) / wide.scale, f64::from(wide.height) / wide.scale);
    let alone =
        Scene { width: size.0, height: size.1, ground: Paint::None, pieces: vec![own], notes: Vec::new() };
    let mut painted = browser(&alone, &wide, cache);
    painted.round_to_8_bits();
    graph.run(&painted, view.scale).part(left as u32, top as u32, view.width, view.height)
}

/// Pixels around a picture that a filter can draw from, at most.
const MARGIN: f64 = 600.0;
