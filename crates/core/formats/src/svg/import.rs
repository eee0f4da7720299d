//! SVG filters in: every filter of a file that draws depth becomes a finish named after it.

use std::collections::HashSet;

use usvg::roxmltree::{Document, Node};

use crate::colour::colour_text;
use crate::geometry::icon::{SvgError, parsed};
use crate::geometry::{StrokeJoin, StrokeSide};
use crate::import::{DiagnosticKind, FileRoom, Incoming};
use crate::model::{
    Blur, BlurRadius, CartesianOffset, Coat, CoatKind, ColourOrigin, ColourSource, CssColour, DepthProperty,
    Falloff, FalloffPoint, Fill, Finish, Fraction, Id, Length, Offset, OffsetPx, Opacity, OutOfRange, Sigma,
    SolidFill, Spread, Stroke, TakenColour, Tint,
};
use crate::svg::filter::{Ink, Layer, MAX_PRIMITIVES, Stencil, Styles, Written, primitives, recognise};
use crate::syntax::{LineIndex, tidy};
use crate::{budget, limits};

/// The message about a file without filters.
pub const NO_FILTER: &str = "no filter is in this file";

/// Reads the filters of an SVG file. Anything that is not depth is left out and reported with its line and column.
///
/// # Errors
/// [`SvgError`] where it is no XML, or too large.
pub fn import(svg: &str) -> Result<Incoming, SvgError> {
    let document = parsed(svg)?;
    let (mut incoming, mut left) = (Incoming::default(), FileRoom::default());
    let (lines, styles) = (LineIndex::new(svg), Styles::new(&document));
    let of_masks = referenced_by_masks(&document, &styles);
    for node in document.descendants().filter(|node| node.tag_name().name() == "filter") {
        if budget::is_stopped() {
            break;
        }
        if node.attribute("id").is_some_and(|id| of_masks.contains(id)) {
            let message = "filters of masks: what they paint is not seen";
            incoming.diagnostic(lines.place(node.range().start), DiagnosticKind::Dropped, message);
            continue;
        }
        filter(node, &styles, &lines, &mut incoming, &mut left);
    }
    if incoming.finishes.is_empty() && incoming.diagnostics.is_empty() {
        let start = document.root_element().range().start;
        incoming.diagnostic(lines.place(start), DiagnosticKind::Dropped, NO_FILTER);
    }
    Ok(incoming)
}

/// The filters that only the content of masks and clips is drawn with.
fn referenced_by_masks(document: &Document<'_>, styles: &Styles<'_>) -> HashSet<String> {
    let (mut inside, mut outside) = (HashSet::new(), HashSet::new());
    for node in document.descendants().filter(Node::is_element) {
        let Some(text) = styles.property(node, "filter") else { continue };
        let hidden =
            node.ancestors().take(200).any(|around| ["mask", "clipPath"].contains(&around.tag_name().name()));
        for part in text.split("url(").skip(1) {
            let name =
                part.split(')').next().unwrap_or_default().trim_matches(['"', '\'', ' ', '#']).to_owned();
            if hidden {
                inside.insert(name)
            } else {
                outside.insert(name)
            };
        }
    }
    inside.retain(|name| !outside.contains(name));
    inside
}

/// The element with a filter's steps: its own, or another that it refers to (SVG 1.1, section 15.3, "xlink:href").
fn with_steps<'a, 'i>(node: Node<'a, 'i>) -> Node<'a, 'i> {
    let mut found = node;
    for _ in 0..8 {
        if found.children().any(|child| child.is_element()) {
            break;
        }
        let href =
            found.attribute("href").or_else(|| found.attribute(("http://www.w3.org/1999/xlink", "href")));
        let Some(id) = href.and_then(|href| href.strip_prefix('#')) else { break };
        let is_it =
            |node: &Node<'_, '_>| node.tag_name().name() == "filter" && node.attribute("id") == Some(id);
        let Some(other) = found.document().descendants().find(is_it) else { break };
        found = other;
    }
    found
}

fn filter(
    node: Node<'_, '_>,
    styles: &Styles<'_>,
    lines: &LineIndex<'_>,
    incoming: &mut Incoming,
    left: &mut FileRoom,
) {
    let place = || lines.place(node.range().start);
    let number = incoming.finishes.len() + 1;
    let name = node.attribute("id").map_or_else(|| format!("filter {number}"), str::to_owned);
    if node.attribute("primitiveUnits") == Some("objectBoundingBox") {
        let message = "its lengths are parts of what it is laid on, which is not in the filter";
        return incoming.diagnostic(place(), DiagnosticKind::Dropped, message);
    }
    let source = with_steps(node);
    if source != node {
        let message =
            "a filter that takes its steps from another, which SVG 2 has no more: browsers draw nothing";
        incoming.diagnostic(place(), DiagnosticKind::Approximated, message);
    }
    let written = primitives(source, styles, lines);
    if written.len() == MAX_PRIMITIVES {
        let message = format!("{name}: {MAX_PRIMITIVES} steps are read, what comes after them is left out");
        incoming.diagnostic(place(), DiagnosticKind::Dropped, message);
    }
    let recognised = recognise(&written);
    for said in recognised.diagnostics {
        let kind = if said.dropped { DiagnosticKind::Dropped } else { DiagnosticKind::Approximated };
        let primitive = &written[said.step];
        incoming.diagnostic(&*primitive.place, kind, format!("{}: {}", primitive.name, said.why));
    }
    let mut stack = Stack { coats: Vec::new(), said: Vec::new() };
    stack.read(&recognised.layers);
    stack.cast_from_strokes();
    for (step, kind, why) in stack.said {
        let at = step.and_then(|step| written.get(step));
        let whose = at.map_or_else(String::new, |primitive| format!("{}: ", primitive.name));
        let at = at.map_or_else(place, |primitive| primitive.place.clone());
        incoming.diagnostic(at, kind, format!("{whose}{why}"));
    }
    if stack.coats.is_empty() {
        return;
    }
    remark_differences(&written, &stack.coats, &place(), incoming);
    if stack.coats.len() > limits::COATS {
        stack.coats.truncate(limits::COATS);
        let message = format!("{name}: more than {} coats: the rest is left out", limits::COATS);
        incoming.diagnostic(place(), DiagnosticKind::Dropped, message);
    }
    if !left.take(1, stack.coats.len()) {
        return incoming.diagnostic(place(), DiagnosticKind::Dropped, format!("{name}: {}", FileRoom::LIMIT));
    }
    incoming.finishes.push(finish(number, &name, stack.coats));
}

/// Says where browsers draw a filter otherwise than the coats that it was read as.
fn remark_differences(written: &[Written], coats: &[Coat], place: &str, incoming: &mut Incoming) {
    let mixes = coats.len() > 1 || coats.iter().any(|coat| !matches!(coat.kind, CoatKind::Drop(_)));
    if mixes && written.iter().any(|primitive| primitive.linear) {
        let why = "mixes in linear light, as filters do unless told otherwise: coats mix in sRGB, where they overlap \
                   they look a little different";
        incoming.diagnostic(place, DiagnosticKind::Approximated, why);
    }
    if let Some(soft) = written.iter().find(|primitive| primitive.is_hardly_blurred()) {
        let why =
            "a blur of less than 0.8 px, which browsers leave out where they draw without a graphics card";
        incoming.diagnostic(&*soft.place, DiagnosticKind::Approximated, format!("{}: {why}", soft.name));
    }
}

fn finish(number: usize, name: &str, coats: Vec<Coat>) -> Finish {
    Finish {
        id: Id::numbered("finish-svg", number),
        name: name.chars().take(80).collect(),
        note: String::new(),
        coats,
        themes: Default::default(),
        states: Default::default(),
        transition: None,
        made_with: Some(DepthProperty::Filter),
        extensions: serde_json::Map::new(),
    }
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

fn literal(colour: crate::colour::Rgba) -> CssColour {
    let text = colour_text(crate::colour::Rgba { a: 1.0, ..colour });
    CssColour::parse(&text).unwrap_or_else(|_| CssColour::black())
}
