//! Coats read off the layers that a filter draws.

use super::filter::{Ink, Layer, Stencil, Written, recognise};
use crate::colour::{Rgba, colour_text};
use crate::geometry::{StrokeJoin, StrokeSide};
use crate::import::DiagnosticKind;
use crate::model::{
    Blur, BlurRadius, CartesianOffset, Coat, CoatKind, ColourOrigin, ColourSource, CssColour, Falloff,
    FalloffPoint, Fill, Fraction, Id, Length, Offset, OffsetPx, Opacity, OutOfRange, Sigma, SolidFill,
    Spread, Stroke, TakenColour, Tint,
};
use crate::syntax::tidy;

/// The coats that a filter stands for, the first nearest the eye, and what they draw otherwise: by which step, where it is one.
pub struct ReadFilter {
    pub coats: Vec<Coat>,
    pub said: Vec<(Option<usize>, DiagnosticKind, String)>,
}

/// Reads the steps of a filter as coats.
pub fn coats_of(written: &[Written]) -> ReadFilter {
    let recognised = recognise(written);
    let kind = |dropped| if dropped { DiagnosticKind::Dropped } else { DiagnosticKind::Approximated };
    let issues = recognised.diagnostics.into_iter();
    let mut stack = Stack {
        coats: Vec::new(),
        said: issues.map(|issue| (Some(issue.step), kind(issue.dropped), issue.why)).collect(),
    };
    stack.read(&recognised.layers);
    stack.cast_from_strokes();
    if !stack.coats.is_empty() {
        stack.remark_differences(written);
    }
    ReadFilter { coats: stack.coats, said: stack.said }
}

/// Coats read off layers, the first nearest the eye.
struct Stack {
    coats: Vec<Coat>,
    said: Vec<(Option<usize>, DiagnosticKind, String)>,
}

impl Stack {
    /// Top to bottom; the piece is the highest layer that is the piece itself.
    fn read(&mut self, layers: &[Layer]) {
        let body = layers.iter().rposition(|layer| matches!(layer, Layer::Body(_)));
        if let (None, true) = (body, !layers.is_empty()) {
            self.say(
                None,
                DiagnosticKind::Approximated,
                "shows the shadows without the piece: a finish keeps it",
            );
        }
        for (at, layer) in layers.iter().enumerate().rev() {
            match layer {
                Layer::Flood(_) => {
                    self.say(
                        None,
                        DiagnosticKind::Dropped,
                        "fills the filter's whole region with a colour: left out",
                    );
                }
                Layer::Body(moved) if Some(at) == body => {
                    if moved.dx != 0.0 || moved.dy != 0.0 {
                        self.say(None, DiagnosticKind::Approximated, "moves the piece: left where it is");
                    }
                    if moved.variance > 0.0 {
                        let sigma = Sigma::new(moved.variance.sqrt());
                        self.push(None, "Blur", 1.0, sigma.map(|sigma| CoatKind::Blur(Blur { sigma })));
                    }
                }
                Layer::Body(moved) => {
                    let shaped = Stencil { moved: *moved, ..Stencil::silhouette(Ink::Own(1.0), usize::MAX) };
                    self.shaped(&shaped, true);
                }
                // Where there is no piece, everything lies under it that is not cut to it.
                Layer::Stencil(shaped) => self.shaped(shaped, body.is_none_or(|body| at < body)),
            }
        }
    }

    /// Says where browsers draw a filter otherwise than the coats that it was read as.
    fn remark_differences(&mut self, written: &[Written]) {
        let coats = &self.coats;
        let mixes = coats.len() > 1 || coats.iter().any(|coat| !matches!(coat.kind, CoatKind::Drop(_)));
        if mixes && written.iter().any(|primitive| primitive.linear) {
            let why = "mixes in linear light, as filters do unless told otherwise: coats mix in sRGB, where they overlap \
                       they look a little different";
            self.say(None, DiagnosticKind::Approximated, why);
        }
        if let Some(soft) = written.iter().position(Written::is_hardly_blurred) {
            let why = "a blur of less than 0.8 px, which browsers leave out where they draw without a graphics card";
            self.say(Some(soft), DiagnosticKind::Approximated, why);
        }
    }

    /// Shadows are cast by the piece with the strokes around it, so these count as part of the spread.
    fn cast_from_strokes(&mut self) {
        let widths = self.coats.iter().filter_map(|coat| Some(coat.kind.stroke()?.width.get()));
        let outside: f64 = widths.sum();
        for coat in &mut self.coats {
            if let CoatKind::Drop(drop) = &mut coat.kind
                && let Ok(spread) = Spread::new(tidy(drop.spread.get() - outside))
            {
                drop.spread = spread;
            }
        }
    }

    fn shaped(&mut self, shaped: &Stencil, under: bool) {
        let step = Some(shaped.step);
        let own = matches!(shaped.ink, Ink::Own(_));
        if own && shaped.is_whole() {
            // The piece on itself.
            return;
        }
        let sharp = shaped.moved.is_still() && shaped.falloff.is_none();
        let opacity = match shaped.ink {
            Ink::Colour(colour) => f64::from(colour.a),
            Ink::Own(opacity) => f64::from(opacity),
        };
        if shaped.radius != 0.0 {
            self.say(step, DiagnosticKind::Approximated, "grows by squares: a coat's spread is round");
        }
        let (name, kind) = match (shaped.inside, shaped.around) {
            (true, _) if under => {
                return self.say(
                    step,
                    DiagnosticKind::Dropped,
                    "lies within the piece but below it: not seen",
                );
            }
            (true, false) if shaped.is_whole() => ("Tint", Ok(CoatKind::Tint(Tint { fill: fill(shaped) }))),
            (false, false) if shaped.is_whole() && !under => {
                ("Tint", Ok(CoatKind::Tint(Tint { fill: fill(shaped) })))
            }
            (true, true) => ("Inner shadow", inner(shaped)),
            (true, false) => {
                let why = "lies in a changed copy of the piece, cut to the piece: left out";
                return self.say(step, DiagnosticKind::Dropped, why);
            }
            (false, true) => {
                return self.say(step, DiagnosticKind::Dropped, "fills all around the piece: left out");
            }
            (false, false) if sharp && shaped.outside && shaped.radius > 0.0 && !own => {
                ("Stroke", stroke(shaped))
            }
            (false, false) if under || shaped.outside => ("Drop shadow", drop(shaped)),
            (false, false) => {
                return self.say(
                    step,
                    DiagnosticKind::Dropped,
                    "lies over the piece and beyond its edge: left out",
                );
            }
        };
        let blend = shaped.blend;
        self.push(step, name, opacity, kind);
        if let Some(coat) = self.coats.last_mut() {
            coat.blend = blend;
        }
    }

    fn push(&mut self, step: Option<usize>, name: &str, opacity: f64, kind: Result<CoatKind, OutOfRange>) {
        match kind.and_then(|kind| Ok((kind, Opacity::new(tidy(opacity))?))) {
            Ok((kind, opacity)) => {
                let number = self.coats.len() + 1;
                let same = self.coats.iter().filter(|coat| coat.name.starts_with(name)).count() + 1;
                self.coats.push(Coat {
                    id: Id::numbered("svg", number),
                    name: format!("{name} {same}"),
                    on: true,
                    opacity,
                    blend: Default::default(),
                    kind,
                });
            }
            Err(error) => self.say(step, DiagnosticKind::Dropped, &format!("{error}: left out")),
        }
    }

    fn say(&mut self, step: Option<usize>, kind: DiagnosticKind, why: &str) {
        self.said.push((step, kind, why.to_owned()));
    }
}

fn drop(shaped: &Stencil) -> Result<CoatKind, OutOfRange> {
    let mut kind =
        CoatKind::drop(offset(shaped)?, blur(shaped)?, Spread::new(shaped.radius)?, colour(shaped));
    if let CoatKind::Drop(drop) = &mut kind {
        drop.knock_out = Some(shaped.outside);
        drop.falloff = falloff(shaped)?;
    }
    Ok(kind)
}

fn inner(shaped: &Stencil) -> Result<CoatKind, OutOfRange> {
    let mut kind =
        CoatKind::inner(offset(shaped)?, blur(shaped)?, Spread::new(0.0 - shaped.radius)?, colour(shaped));
    if let CoatKind::Inner(inner) = &mut kind {
        inner.falloff = falloff(shaped)?;
    }
    Ok(kind)
}

fn stroke(shaped: &Stencil) -> Result<CoatKind, OutOfRange> {
    let (side, join) = (StrokeSide::Outside, StrokeJoin::Miter);
    let width = Length::new(shaped.radius)?;
    Ok(CoatKind::Stroke(Stroke { width, side, join, cap: Default::default(), fill: fill(shaped) }))
}

fn offset(shaped: &Stencil) -> Result<Offset, OutOfRange> {
    let (x, y) = (OffsetPx::new(tidy(shaped.moved.dx))?, OffsetPx::new(tidy(shaped.moved.dy))?);
    Ok(Offset::Cartesian(CartesianOffset { x, y }))
}

/// A shadow's blur is twice the σ that filters are written with.
fn blur(shaped: &Stencil) -> Result<BlurRadius, OutOfRange> {
    BlurRadius::new(tidy(2.0 * shaped.moved.variance.sqrt()))
}

fn falloff(shaped: &Stencil) -> Result<Option<Falloff>, OutOfRange> {
    let Some(values) = &shaped.falloff else { return Ok(None) };
    let last = (values.len().max(2) - 1) as f64;
    let whole: Vec<(f64, f64)> =
        values.iter().enumerate().map(|(i, value)| (i as f64 / last, value.clamp(0.0, 1.0))).collect();
    let points = corners(&whole)
        .into_iter()
        .map(|(from, to)| Ok(FalloffPoint { from: Fraction::new(from)?, to: Fraction::new(tidy(to))? }));
    Ok(Some(Falloff { points: points.collect::<Result<_, OutOfRange>>()? }))
}

/// The points of a curve without those that lie on the straight line between their neighbours.
fn corners(points: &[(f64, f64)]) -> Vec<(f64, f64)> {
    let on_line = |[before, at, after]: [(f64, f64); 3]| {
        let share = (at.0 - before.0) / (after.0 - before.0);
        (before.1 + (after.1 - before.1) * share - at.1).abs() < 2e-6
    };
    let keeps =
        |i: usize| i == 0 || i + 1 == points.len() || !on_line([points[i - 1], points[i], points[i + 1]]);
    (0..points.len()).filter(|i| keeps(*i)).map(|i| points[i]).collect()
}

/// The colour alone: its opacity is the coat's.
fn colour(shaped: &Stencil) -> ColourSource {
    match shaped.ink {
        Ink::Colour(colour) => ColourSource::Literal(literal(colour)),
        Ink::Own(_) => ColourSource::From(TakenColour { from: ColourOrigin::Picture, lightness: None }),
    }
}

fn fill(shaped: &Stencil) -> Fill {
    Fill::Solid(SolidFill { colour: colour(shaped) })
}

fn literal(colour: Rgba) -> CssColour {
    let text = colour_text(Rgba { a: 1.0, ..colour });
    CssColour::parse(&text).unwrap_or_else(|_| CssColour::black())
}
