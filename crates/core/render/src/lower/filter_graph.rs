//! A piece's coats as a filter.

use crate::blend::BlendMode;
use crate::blur::blurs;
use crate::colour::{Rgba, mix_oklab};
use crate::lower::{Curve, Fidelity, Graph, Input, LITTLE_BLUR, Notes, Operator, Step};
use crate::model::Surface;
use crate::resolve::{Coat, Extrude, Paint, PaintOp, Piece, Shadow, ShadowKind, ShadowPaint, surface_sigma};

/// A falloff is written as this many evenly spaced values.
const TABLE: usize = 33;
/// Copies that an extrusion is written as, at most.
const COPIES: f64 = 100.0;

/// The drop shadows of a piece as a chain, each cast by the piece and the shadows before it (Filter Effects 1,
/// "drop-shadow()"); the blur of the piece comes last.
#[must_use]
pub fn shadow_chain<'a>(shadows: impl IntoIterator<Item = &'a Shadow>, sigma: f64) -> Graph {
    let mut graph = Graph::default();
    let mut last = Input::Source;
    for shadow in shadows {
        let (dx, dy, sigma, colour) = (shadow.dx, shadow.dy, shadow.blur / 2.0, shadow.colour());
        last = graph.add(Step::DropShadow { of: last, dx, dy, sigma, colour });
    }
    if sigma > 0.0 {
        graph.add(Step::Blur { of: last, sigma });
    }
    graph
}

/// A piece's coats as a filter on the piece painted with its fill alone, which has to be opaque.
#[must_use]
pub fn piece_filter(piece: &Piece, notes: &mut Notes) -> Graph {
    let mut builder = Builder { graph: Graph::default(), piece, notes };
    builder.piece();
    builder.graph
}

struct Builder<'a, 'n> {
    graph: Graph,
    piece: &'a Piece,
    notes: &'n mut Notes,
}

impl Builder<'_, '_> {
    /// Bottom to top: the coats under the piece, then its surface with the coats on it.
    fn piece(&mut self) {
        let coats: Vec<&Coat> = self.piece.coats.iter().rev().collect();
        let body = self.body();
        let mut layers: Vec<Input> = Vec::new();
        for coat in coats.iter().filter(|coat| !coat.op.is_on_surface()) {
            if coat.blend != BlendMode::Normal && !matches!(coat.op, PaintOp::Backdrop(_)) {
                let what = "a filter does not see what lies behind: normal instead of its blend mode";
                self.notes.differs(coat, Fidelity::Approximated, what);
            }
            layers.extend(self.under(coat, body));
        }
        if let Some(group) = self.group(&coats) {
            layers.push(group);
        }
        if let [only] = layers.as_slice()
            && *only == Input::Step(self.graph.steps.len().wrapping_sub(1))
        {
            return;
        }
        self.graph.add(Step::Merge(layers));
    }

    /// The caster of coats under the piece: the silhouette with the strokes outside it.
    fn body(&mut self) -> Input {
        let outside: f64 = self.piece.coats.iter().map(|coat| edge_reach(coat).0).sum();
        self.grown(Input::SourceAlpha, outside)
    }

    /// The surface with the coats on it; `None` where neither is drawn.
    fn group(&mut self, coats: &[&Coat]) -> Option<Input> {
        let mut group = (self.piece.surface == Surface::Keep).then_some(Input::Source);
        let inside: f64 = coats.iter().map(|coat| edge_reach(coat).1).sum();
        let hollow = self.grown(Input::SourceAlpha, -inside);
        for coat in coats.iter().filter(|coat| coat.op.is_on_surface()) {
            if let Some(layer) = self.on(coat, hollow) {
                group = Some(match group {
                    None => layer,
                    Some(below) if coat.blend == BlendMode::Normal => {
                        self.composite(Operator::Over, layer, below)
                    }
                    Some(below) => self.graph.add(Step::Blend { mode: coat.blend, top: layer, below }),
                });
            }
        }
        let sigma = surface_sigma(&self.piece.coats);
        match group {
            Some(of) if sigma > 0.0 => Some(self.graph.add(Step::Blur { of, sigma })),
            group => group,
        }
    }

    fn under(&mut self, coat: &Coat, body: Input) -> Option<Input> {
        match &coat.op {
            PaintOp::Shadow(shadow) => {
                let soft = self.coverage(coat, shadow, body);
                let layer = self.flooded(shadow.colour(), Operator::In, soft);
                let knocked = shadow.kind == (ShadowKind::Drop { knock_out: true })
                    || self.piece.surface == Surface::CutOut;
                Some(if knocked { self.composite(Operator::Out, layer, body) } else { layer })
            }
            PaintOp::Extrude(extrude) => Some(self.extrude(coat, extrude, body)),
            PaintOp::Cast(_) => {
                self.notes.differs(coat, Fidelity::Dropped, "a filter cannot slant a shadow: left out");
                None
            }
            PaintOp::Highlight(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_) => None,
        }
    }

    fn on(&mut self, coat: &Coat, hollow: Input) -> Option<Input> {
        match &coat.op {
            PaintOp::Shadow(shadow) => {
                let hole = self.coverage(coat, shadow, hollow);
                let layer = self.flooded(shadow.colour(), Operator::Out, hole);
                Some(self.composite(Operator::In, layer, hollow))
            }
            PaintOp::Tint(paint) => {
                let colour = self.one_colour(coat, paint)?;
                Some(self.flooded(colour.faded(coat.opacity), Operator::In, Input::SourceAlpha))
            }
            PaintOp::Stroke { style, paint } => {
                let colour = self.one_colour(coat, paint)?.faded(coat.opacity);
                self.notes.differs(
                    coat,
                    Fidelity::Approximated,
                    "a filter grows shapes by squares: its corners differ",
                );
                let (out, inward) = style.reach();
                let (outer, inner) =
                    (self.grown(Input::SourceAlpha, out), self.grown(Input::SourceAlpha, -inward));
                let ring = self.composite(Operator::Out, outer, inner);
                Some(self.flooded(colour, Operator::In, ring))
            }
            PaintOp::Highlight(_) => {
                self.notes.differs(
                    coat,
                    Fidelity::Dropped,
                    "a filter knows no shapes but the piece's: left out",
                );
                None
            }
            PaintOp::Blur(_) | PaintOp::Backdrop(_) | PaintOp::Extrude(_) | PaintOp::Cast(_) => None,
        }
    }

    /// The blurred and moved coverage of a shadow's caster, or of the hole an inner shadow lies around, with its falloff.
    fn coverage(&mut self, coat: &Coat, shadow: &Shadow, caster: Input) -> Input {
        let inner = shadow.kind == ShadowKind::Inner;
        let spread = if inner { -shadow.spread } else { shadow.spread };
        if spread != 0.0 {
            self.notes.differs(
                coat,
                Fidelity::Approximated,
                "a filter spreads by squares: its corners differ",
            );
        }
        if shadow.tone.grain.is_some() {
            self.notes.differs(coat, Fidelity::Approximated, "written without its grain");
        }
        if shadow.substitute.is_some() {
            self.notes.differs(coat, Fidelity::Approximated, "cast from the piece instead of its own shape");
        }
        if shadow.paint == ShadowPaint::Picture {
            self.notes.differs(coat, Fidelity::Approximated, "one colour instead of the piece's pixels");
        }
        let moved = [shadow.dx, shadow.dy].iter().any(|by| by.fract() != 0.0);
        if blurs(shadow.blur / 2.0) && moved {
            self.notes.differs(coat, Fidelity::Approximated, "browsers move what is blurred by whole px");
        } else if shadow.blur > 0.0 && !blurs(shadow.blur / 2.0) {
            self.notes.differs(coat, Fidelity::Approximated, LITTLE_BLUR);
        }
        let mut soft = self.grown(caster, spread);
        if shadow.blur > 0.0 {
            soft = self.graph.add(Step::Blur { of: soft, sigma: shadow.blur / 2.0 });
        }
        if shadow.dx != 0.0 || shadow.dy != 0.0 {
            soft = self.graph.add(Step::Offset { of: soft, dx: shadow.dx, dy: shadow.dy });
        }
        match &shadow.tone.falloff {
            None => soft,
            Some(points) => {
                let even = points.iter().all(|(from, _)| (from * (TABLE - 1) as f32).fract().abs() < 1e-4);
                if !even {
                    self.notes.differs(coat, Fidelity::Approximated, "its falloff is written as 33 values");
                }
                let curves = [Curve::Identity, Curve::Identity, Curve::Identity, table(points, inner)];
                self.graph.add(Step::Transfer { of: soft, curves: Box::new(curves) })
            }
        }
    }

    fn extrude(&mut self, coat: &Coat, extrude: &Extrude, body: Input) -> Input {
        self.notes.differs(coat, Fidelity::Approximated, "written as hard copies close to one another");
        let copies = (crate::maths::hypot(extrude.dx, extrude.dy) * 2.0).ceil().clamp(1.0, COPIES);
        let mut layers = Vec::new();
        for copy in (1..=copies as u32).rev() {
            let share = f64::from(copy) / copies;
            let (dx, dy) = (extrude.dx * share, extrude.dy * share);
            let moved = self.graph.add(Step::Offset { of: body, dx, dy });
            let colour = mix_oklab(extrude.near, extrude.far, share as f32);
            layers.push(self.flooded(colour, Operator::In, moved));
        }
        let solid = self.graph.add(Step::Merge(layers));
        if coat.opacity >= 1.0 {
            return solid;
        }
        let mut rows = [0.0; 20];
        for (at, value) in [(0, 1.0), (6, 1.0), (12, 1.0), (18, coat.opacity)] {
            rows[at] = value;
        }
        self.graph.add(Step::Matrix { of: solid, rows })
    }

    fn one_colour(&mut self, coat: &Coat, paint: &Paint) -> Option<Rgba> {
        if !matches!(paint, Paint::Solid(_)) {
            self.notes.differs(coat, Fidelity::Approximated, "a filter has no gradients: its mean colour");
        }
        paint.mean()
    }

    fn grown(&mut self, of: Input, radius: f64) -> Input {
        if radius == 0.0 { of } else { self.graph.add(Step::Morphology { of, radius }) }
    }

    fn flooded(&mut self, colour: Rgba, operator: Operator, mask: Input) -> Input {
        let flood = self.graph.add(Step::Flood(colour));
        self.composite(operator, flood, mask)
    }

    fn composite(&mut self, operator: Operator, top: Input, below: Input) -> Input {
        self.graph.add(Step::Composite { operator, top, below })
    }
}

/// How far a stroke reaches outside and inside the edge.
fn edge_reach(coat: &Coat) -> (f64, f64) {
    coat.op.stroke().map_or((0.0, 0.0), |(style, _)| style.reach())
}

/// A falloff as evenly spaced values; that of a hole is turned over, as it counts for the area around it.
fn table(points: &[(f32, f32)], of_hole: bool) -> Curve {
    let at = |from: f32| {
        let after = points.iter().position(|(place, _)| *place >= from);
        match after {
            None => points.last().map_or(from, |(_, to)| *to),
            Some(0) => points[0].1,
            Some(i) => {
                let ((x0, y0), (x1, y1)) = (points[i - 1], points[i]);
                y0 + (y1 - y0) * ((from - x0) / (x1 - x0).max(1e-6))
            }
        }
    };
    let value = |i: usize| {
        let from = i as f32 / (TABLE - 1) as f32;
        f64::from(if of_hole { 1.0 - at(1.0 - from) } else { at(from) })
    };
    let values = (0..TABLE).map(value);
    // Six decimals are finer than any picture, and keep the text readable.
    Curve::Table(values.map(crate::syntax::tidy).collect())
}
