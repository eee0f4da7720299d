//! Lowering: a piece as a target can express it.

use serde::{Deserialize, Serialize};

use super::solid::{is_solid, note_filter_on_group};
use crate::blend::{BlendMode, mode_text};
use crate::blur::blurs;
use crate::colour::mix_oklab;
use crate::geometry::Silhouette;
use crate::lower::{Fidelity, Graph, LITTLE_BLUR, Notes, Numbers, Step, piece_filter, shadow_chain};
use crate::model::Surface;
use crate::resolve::{Coat, Paint, PaintOp, Piece, Shadow, ShadowKind, ShadowPaint, surface_sigma};
use crate::syntax::px;

/// A way for CSS to draw a piece's depth.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Target {
    /// `box-shadow`, with borders and backgrounds (CSS Backgrounds and Borders 3): boxes and ellipses.
    BoxShadow,
    /// `text-shadow` (CSS Text Decoration 3): text.
    TextShadow,
    /// A chain of `drop-shadow()` (Filter Effects 1): icons, pictures and everything else.
    DropShadow,
    /// An SVG filter that CSS refers to (Filter Effects 1).
    SvgFilter,
}

/// The filter applied to an element.
#[derive(Debug, Clone, PartialEq)]
pub enum LoweredFilter {
    /// A list of CSS filter functions.
    Functions(Graph),
    /// An SVG filter, to be put into the page.
    Svg(Graph),
}

/// A piece lowered to a target.
#[derive(Debug, Clone, PartialEq)]
pub struct Lowered {
    /// The target.
    pub target: Target,
    /// The coats that the element's own CSS properties express, in painting order.
    pub element: Piece,
    /// The filter on the painted element.
    pub filter: Option<LoweredFilter>,
    /// Each difference.
    pub notes: Notes,
}

/// Below this opacity a layer vanishes when a browser rounds it to 8 bits (measured in Chromium 156).
const FAINTEST: f32 = 0.002;
/// Browsers never draw `box-shadow` and `text-shadow` softer than this blur radius (measured in Chromium 156).
const SOFTEST: f64 = 256.0;
/// Copies an extrusion is written as, at most; more slow browsers down.
const COPIES: f64 = 100.0;

/// A piece in a target with its numbers as they are written: those of its coats, and those that lowering them comes to.
#[must_use]
pub fn lower_written(piece: &Piece, target: Target, numbers: Numbers) -> Lowered {
    let mut lowered = lower(&numbers.rounded_piece(piece), target);
    lowered.element = numbers.rounded_piece(&lowered.element);
    if let Some(LoweredFilter::Functions(graph)) = &mut lowered.filter {
        for step in &mut graph.steps {
            match step {
                Step::DropShadow { dx, dy, sigma, colour, .. } => {
                    for length in [dx, dy, sigma] {
                        *length = numbers.length(*length);
                    }
                    *colour = numbers.colour(*colour);
                }
                Step::Blur { sigma, .. } => *sigma = numbers.length(*sigma),
                _ => {}
            }
        }
    }
    lowered
}

/// The targets a silhouette can be drawn in, the most natural first.
#[must_use]
pub fn targets_of(piece: &Piece, is_text: bool) -> Vec<Target> {
    match &piece.silhouette {
        Silhouette::Box(_) => vec![Target::BoxShadow, Target::DropShadow, Target::SvgFilter],
        _ if is_text => vec![Target::TextShadow, Target::DropShadow, Target::SvgFilter],
        Silhouette::Outline(_) | Silhouette::Alpha(_) | Silhouette::Drawing(_) => {
            vec![Target::DropShadow, Target::SvgFilter]
        }
    }
}

/// The target that expresses the piece best: the fewest coats dropped, then the fewest approximated, then the most natural.
#[must_use]
pub fn best_target(piece: &Piece, is_text: bool) -> Lowered {
    let lowered = targets_of(piece, is_text).into_iter().map(|target| lower(piece, target));
    let cost = |lowered: &Lowered| {
        let count = |fidelity| lowered.notes.0.iter().filter(|note| note.fidelity == fidelity).count();
        // An SVG filter has to be put into the page: it is not proposed for a trifle.
        let dropped = count(Fidelity::Dropped);
        if lowered.target == Target::SvgFilter {
            (dropped, 1, 0)
        } else {
            (dropped, 0, count(Fidelity::Approximated))
        }
    };
    let mut best: Option<Lowered> = None;
    for other in lowered {
        if best.as_ref().is_none_or(|best| cost(&other) < cost(best)) {
            best = Some(other);
        }
    }
    best.unwrap_or_else(|| lower(piece, Target::SvgFilter))
}

/// A piece lowered to a target.
#[must_use]
pub fn lower(piece: &Piece, target: Target) -> Lowered {
    let mut lowering = Lowering { piece, target, notes: Notes::default() };
    lowering.note_clip();
    let (coats, mut filter);
    filter = None;
    match target {
        Target::BoxShadow | Target::TextShadow => {
            coats = lowering.native(true);
            let sigma = surface_sigma(&piece.coats);
            lowering.softens(sigma);
            if sigma > 0.0 {
                lowering.softens_shadows();
                filter = Some(LoweredFilter::Functions(shadow_chain([], sigma)));
            }
        }
        Target::DropShadow => {
            let chained = lowering.chained();
            coats = lowering.native(false);
            let sigma = surface_sigma(&piece.coats);
            lowering.softens(sigma);
            let graph = shadow_chain(chained.iter(), sigma);
            filter = (!graph.steps.is_empty()).then_some(LoweredFilter::Functions(graph));
        }
        Target::SvgFilter => {
            coats = lowering.without_backdrops();
            let graph = piece_filter(piece, &mut lowering.notes);
            filter = (!graph.steps.is_empty()).then_some(LoweredFilter::Svg(graph));
        }
    }
    let mut element = Piece { clip: None, ..piece.clone() };
    if !element.parts.is_empty() {
        lowering.bare(&mut element.parts);
        element.joined = None;
    }
    element = element.with_coats(coats);
    lowering.fill(&mut element, filter.as_ref());
    Lowered { target, element, filter, notes: lowering.notes }
}

pub(super) struct Lowering<'a> {
    pub piece: &'a Piece,
    target: Target,
    pub notes: Notes,
}

impl Lowering<'_> {
    fn note_clip(&mut self) {
        if self.piece.clip.is_some() {
            self.notes
                .whole(Fidelity::Dropped, "It is clipped to another piece: CSS is written without that");
        }
    }

    /// The element of a join shows the fills of its parts.
    fn bare(&mut self, parts: &mut [Piece]) {
        for part in parts {
            for coat in &part.coats {
                self.dropped(coat, &format!("it lies on a part, {}: left out", part.name));
            }
            self.bare(&mut part.parts);
            part.joined = None;
            *part = part.with_coats(Vec::new());
        }
    }

    /// Strokes, inner shadows, highlights and tints are painted in this order in any stack.
    fn native(&mut self, with_drops: bool) -> Vec<Coat> {
        let (mut strokes, mut shadows, mut layers, mut drops) =
            (Vec::new(), Vec::new(), Vec::new(), Vec::new());
        for coat in &self.piece.coats {
            match &coat.op {
                PaintOp::Shadow(shadow) if shadow.kind == ShadowKind::Inner => {
                    shadows.extend(self.inner(coat, shadow, !layers.is_empty()));
                }
                PaintOp::Shadow(shadow) if with_drops => drops.extend(self.drop(coat, shadow)),
                PaintOp::Extrude(_) if with_drops => drops.extend(self.copies(coat)),
                PaintOp::Extrude(_) => self.dropped(coat, "a chain of shadows cannot hold it: left out"),
                PaintOp::Tint(_) | PaintOp::Highlight(_) => layers.extend(self.background(coat)),
                PaintOp::Stroke { .. } => match self.rings(coat) {
                    Some(rings) => strokes.extend(rings),
                    None => {
                        let is_border = |coat: &Coat| matches!(coat.op, PaintOp::Stroke { .. });
                        let first = !strokes.iter().any(is_border);
                        strokes.extend(self.border(coat, first));
                    }
                },
                PaintOp::Cast(_) => self.dropped(coat, "CSS cannot slant a shadow: left out"),
                PaintOp::Shadow(_) | PaintOp::Blur(_) | PaintOp::Backdrop(_) => {}
            }
        }
        strokes.append(&mut shadows);
        strokes.append(&mut layers);
        strokes.append(&mut drops);
        strokes.extend(self.backdrops());
        strokes
    }

    fn is_box(&self) -> bool {
        self.piece.silhouette.is_box()
    }

    fn dropped(&mut self, coat: &Coat, what: &str) {
        self.notes.differs(coat, Fidelity::Dropped, what);
    }

    pub(super) fn approximated(&mut self, coat: &Coat, what: &str) {
        self.notes.differs(coat, Fidelity::Approximated, what);
    }

    fn inner(&mut self, coat: &Coat, shadow: &Shadow, under_layers: bool) -> Option<Coat> {
        if !self.is_box() {
            let what = match self.target {
                Target::TextShadow => "text-shadow has no inner shadows: left out",
                Target::BoxShadow | Target::DropShadow | Target::SvgFilter => {
                    "drop-shadow() has no inner shadows: left out"
                }
            };
            self.dropped(coat, what);
            return None;
        }
        if under_layers {
            self.approximated(coat, "inner shadows always lie over tints and highlights in CSS");
        }
        let mut plain = self.plain(coat, shadow);
        if let PaintOp::Shadow(kept) = &mut plain.op {
            kept.spread += self.ringed().1;
        }
        Some(plain)
    }

    fn drop(&mut self, coat: &Coat, shadow: &Shadow) -> Option<Coat> {
        let mut plain = self.plain(coat, shadow);
        let PaintOp::Shadow(kept) = &mut plain.op else { return None };
        let knocked =
            shadow.kind == (ShadowKind::Drop { knock_out: true }) || self.piece.surface == Surface::CutOut;
        if self.target == Target::BoxShadow {
            let shown_through = !is_solid(self.piece);
            if !knocked && shown_through {
                self.approximated(coat, "box-shadow never shows under the box itself");
            }
            kept.kind = ShadowKind::Drop { knock_out: true };
            kept.spread = self.grown_by_ring(coat, kept.spread);
        } else {
            if knocked {
                self.approximated(coat, "text-shadow runs on under the letters: not knocked out");
            }
            kept.kind = ShadowKind::Drop { knock_out: false };
            if shadow.spread != 0.0 {
                let spread = px(shadow.spread);
                self.approximated(coat, &format!("text-shadow has no spread: written without its {spread}"));
                kept.spread = 0.0;
            }
        }
        Some(plain)
    }

    /// The drop shadows, as a chain of `drop-shadow()` expresses them.
    fn chained(&mut self) -> Vec<Shadow> {
        let mut chain: Vec<Shadow> = Vec::new();
        for coat in &self.piece.coats {
            let PaintOp::Shadow(shadow) = &coat.op else { continue };
            let ShadowKind::Drop { knock_out } = shadow.kind else { continue };
            let plain = self.plain(coat, shadow);
            let PaintOp::Shadow(mut kept) = plain.op else { continue };
            if shadow.spread != 0.0 {
                let spread = px(shadow.spread);
                self.approximated(
                    coat,
                    &format!("drop-shadow() has no spread: written without its {spread}"),
                );
                kept.spread = 0.0;
            }
            if (knock_out || self.piece.surface == Surface::CutOut) && !self.piece.fill.is_opaque() {
                self.approximated(coat, "drop-shadow() runs on under the piece: not knocked out");
            }
            if shadow.dx.fract() != 0.0 || shadow.dy.fract() != 0.0 {
                let (dx, dy) = (px(shadow.dx.floor()), px(shadow.dy.floor()));
                self.approximated(coat, &format!("browsers move drop-shadow() by whole px: by {dx} {dy}"));
            }
            if shadow.blur > 0.0 && !blurs(shadow.blur / 2.0) {
                self.approximated(coat, LITTLE_BLUR);
            }
            if !chain.is_empty() {
                self.approximated(coat, "in a chain it is cast by the shadows before it too");
            }
            chain.push(kept);
        }
        chain
    }

    /// A shadow with the parts that every CSS shadow can have.
    fn plain(&mut self, coat: &Coat, shadow: &Shadow) -> Coat {
        if coat.blend != BlendMode::Normal {
            let mode = mode_text(coat.blend);
            self.approximated(coat, &format!("CSS shadows have no blend mode: normal instead of {mode}"));
        }
        if shadow.blur > SOFTEST && self.target != Target::DropShadow {
            self.approximated(coat, "browsers draw no shadow softer than a blur of 256px");
        }
        let faintness = shadow.colour().a;
        if faintness > 0.0 && faintness < FAINTEST {
            self.approximated(coat, "too faint for browsers, which round each shadow to 8 bits: it vanishes");
        }
        for (asked, what) in [
            (shadow.tone.falloff.is_some(), "CSS shadows have no falloff of their own: the usual one"),
            (shadow.tone.grain.is_some(), "CSS shadows have no grain: smooth"),
            (shadow.substitute.is_some(), "CSS shadows have the shape of the piece"),
            (
                shadow.paint == ShadowPaint::Picture,
                "CSS shadows have one colour: the mean of the piece's pixels",
            ),
        ] {
            if asked {
                self.approximated(coat, what);
            }
        }
        let paint = match shadow.paint {
            ShadowPaint::Picture => {
                let mean = self.piece.fill.mean().unwrap_or_default();
                ShadowPaint::Colour(mean.faded(coat.opacity))
            }
            colour => colour,
        };
        let (tone, substitute) = (Default::default(), None);
        let op = PaintOp::Shadow(Shadow { paint, tone, substitute, ..shadow.clone() });
        Coat { op, blend: BlendMode::Normal, ..coat.clone() }
    }

    /// An extrusion as hard shadows close to one another, nearest first.
    fn copies(&mut self, coat: &Coat) -> Vec<Coat> {
        let PaintOp::Extrude(extrude) = &coat.op else { return Vec::new() };
        let length = crate::maths::hypot(extrude.dx, extrude.dy);
        let copies = (length * 2.0).ceil().clamp(1.0, COPIES);
        self.approximated(coat, &format!("written as {copies} hard shadows close to one another"));
        if coat.opacity < 1.0 {
            self.approximated(coat, "copies lie on one another: solid where it is see-through");
        }
        let knock_out = self.target == Target::BoxShadow;
        let copy = |number: u32| {
            let share = f64::from(number) / copies;
            let shadow = Shadow {
                dx: extrude.dx * share,
                dy: extrude.dy * share,
                blur: 0.0,
                spread: self.ringed().0,
                paint: ShadowPaint::Colour(mix_oklab(extrude.near, extrude.far, share as f32).tidied()),
                kind: ShadowKind::Drop { knock_out },
                tone: Default::default(),
                substitute: None,
            };
            Coat { op: PaintOp::Shadow(shadow), opacity: 1.0, blend: BlendMode::Normal, ..coat.clone() }
        };
        (1..=copies as u32).map(copy).collect()
    }

    /// Tints and highlights are layers of a box's background, each with its own blend mode.
    fn background(&mut self, coat: &Coat) -> Option<Coat> {
        let paint = match &coat.op {
            PaintOp::Tint(paint) => paint,
            PaintOp::Highlight(spot) => &spot.paint,
            PaintOp::Shadow(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_)
            | PaintOp::Extrude(_)
            | PaintOp::Cast(_) => return None,
        };
        if !self.is_box() {
            self.dropped(coat, "only boxes have layered backgrounds: left out");
            return None;
        }
        if matches!(paint, Paint::Image { .. }) {
            self.dropped(coat, "a picture is not written into CSS: left out");
            return None;
        }
        (*paint != Paint::None).then(|| coat.clone())
    }

    /// The first stroke that is no ring is a border.
    fn border(&mut self, coat: &Coat, first: bool) -> Option<Coat> {
        let PaintOp::Stroke { style, paint } = &coat.op else { return None };
        if !self.is_box() || !first {
            let what =
                if first { "CSS cannot hold it here: left out" } else { "a box has one border: left out" };
            self.dropped(coat, what);
            return None;
        }
        let mut kept = coat.clone();
        if coat.blend != BlendMode::Normal {
            let mode = mode_text(coat.blend);
            self.approximated(coat, &format!("borders have no blend mode: normal instead of {mode}"));
            kept.blend = BlendMode::Normal;
        }
        let colour = paint.mean()?;
        if !matches!(paint, Paint::Solid(_)) {
            self.approximated(coat, "a border has one colour: the mean of its fill");
        }
        kept.op = PaintOp::Stroke { style: *style, paint: Paint::Solid(colour) };
        Some(kept)
    }

    /// `backdrop-filter` is always solid, normal, and as large as the border box: for boxes only.
    fn backdrops(&mut self) -> Vec<Coat> {
        let mut kept = Vec::new();
        for coat in self.piece.coats.iter().filter(|coat| matches!(coat.op, PaintOp::Backdrop(_))) {
            if !self.is_box() {
                self.dropped(coat, "backdrop-filter fills the box, not the silhouette: left out");
                continue;
            }
            if coat.opacity < 1.0 || coat.blend != BlendMode::Normal {
                self.approximated(coat, "backdrop-filter is always solid and normal");
            }
            kept.push(Coat { opacity: 1.0, blend: BlendMode::Normal, ..coat.clone() });
        }
        kept
    }

    /// A filter needs the piece solid, and browsers put the result of `backdrop-filter` through the filter too.
    fn without_backdrops(&mut self) -> Vec<Coat> {
        for coat in self.piece.coats.iter().filter(|coat| matches!(coat.op, PaintOp::Backdrop(_))) {
            self.dropped(coat, "browsers put what lies behind through the filter too: left out");
        }
        Vec::new()
    }

    /// Says where `filter: blur()` is too little to blur anything.
    fn softens(&mut self, sigma: f64) {
        let softening = |coat: &&Coat| matches!(coat.op, PaintOp::Blur(_));
        if let Some(coat) = self.piece.coats.iter().find(softening).filter(|_| sigma > 0.0 && !blurs(sigma)) {
            self.approximated(coat, LITTLE_BLUR);
        }
    }

    fn softens_shadows(&mut self) {
        let drop =
            |coat: &&Coat| matches!(&coat.op, PaintOp::Shadow(shadow) if shadow.kind != ShadowKind::Inner);
        if let Some(coat) = self.piece.coats.iter().find(drop) {
            self.approximated(coat, "filter: blur() softens shadows with the piece");
        }
    }

    /// Sets the element's fill, as far as the target supports it.
    fn fill(&mut self, element: &mut Piece, filter: Option<&LoweredFilter>) {
        if matches!(element.silhouette, Silhouette::Alpha(_) | Silhouette::Drawing(_)) {
            return;
        }
        if matches!(self.piece.fill, Paint::Image { .. }) && self.piece.surface == Surface::Keep {
            self.notes
                .whole(Fidelity::Dropped, "The picture that fills it is not written into CSS: left out");
            element.fill = Paint::None;
        }
        let gradient = matches!(element.fill, Paint::Linear { .. } | Paint::Radial { .. });
        let shadowed = element.coats.iter().any(|coat| matches!(coat.op, PaintOp::Shadow(_)));
        if self.target == Target::TextShadow && gradient && shadowed && element.surface == Surface::Keep {
            let what = "A gradient on text is a background to CSS, over which text-shadow would lie: its mean colour";
            self.notes.whole(Fidelity::Approximated, what);
            element.fill = element.fill.mean().map_or(Paint::None, Paint::Solid);
        }
        let seen = is_solid(element);
        let is_group = !element.members.is_empty();
        match filter {
            Some(_) if is_group => note_filter_on_group(self.piece, &mut self.notes),
            Some(LoweredFilter::Svg(_)) if !seen => {
                // The filter takes the silhouette from what is painted, so that has to be solid.
                if element.surface == Surface::Keep && element.fill != Paint::None {
                    let what = "A filter takes the silhouette from the fill: written solid";
                    self.notes.whole(Fidelity::Approximated, what);
                }
                let colour = element.fill.mean().unwrap_or_default();
                element.fill = Paint::Solid(crate::colour::Rgba { a: 1.0, ..colour });
                element.surface = Surface::Keep;
            }
            Some(LoweredFilter::Functions(_)) if !seen && self.target == Target::DropShadow => {
                let what = "drop-shadow() is cast by what is painted: as see-through as the fill";
                self.notes.whole(Fidelity::Approximated, what);
            }
            _ => {}
        }
    }
}
