//! Which coats a filter draws.
//!
//! The filter is run on symbolic pictures instead of on pixels: each step's picture is a stack of layers, each of which
//! is the piece itself or one colour (or the piece's own picture) in a shape made from the silhouette. The layers at
//! the end are read off as coats.

use kurbo::Vec2;

use super::Written;
use super::colour_change::{ColourChange, colour_change, matrix_change};
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::lower::{Input, Operator, Step};

/// The layers a filter draws, bottom to top, and what was approximated or dropped.
#[derive(Debug, Default)]
pub(crate) struct RecognisedFilter {
    pub layers: Vec<Layer>,
    pub diagnostics: Vec<Issue>,
}

/// Something that was not taken as it stands: by which step, whether it is left out, and why.
#[derive(Debug, PartialEq)]
pub struct Issue {
    pub step: usize,
    pub dropped: bool,
    pub why: String,
}

/// Part of a picture.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Layer {
    /// One colour everywhere.
    Flood(Rgba),
    /// The piece, moved and softened.
    Body(Moved),
    /// Something in a shape made from the silhouette.
    Stencil(Stencil),
}

/// How something was moved and blurred.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Moved {
    pub dx: f64,
    pub dy: f64,
    /// σ².
    pub variance: f64,
}

/// A paint in a shape made from the silhouette.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Stencil {
    pub ink: Ink,
    pub blend: BlendMode,
    /// The step that made it last.
    pub step: usize,
    pub moved: Moved,
    /// By how much the silhouette was grown, before it was blurred.
    pub radius: f64,
    /// A curve over coverage, as evenly spaced values.
    pub falloff: Option<Vec<f64>>,
    /// It lies around the shape instead of in it.
    pub around: bool,
    /// It is cut to the silhouette.
    pub inside: bool,
    /// The silhouette is cut out of it.
    pub outside: bool,
}

/// The paint of a shape.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Ink {
    Colour(Rgba),
    /// The piece's own pixels, at an opacity.
    Own(f32),
}

impl Ink {
    fn alpha(self) -> f32 {
        match self {
            Self::Colour(colour) => colour.a,
            Self::Own(opacity) => opacity,
        }
    }

    fn faded(self, by: f64) -> Self {
        match self {
            Self::Colour(colour) => Self::Colour(colour.faded(by)),
            Self::Own(opacity) => Self::Own(opacity * by as f32),
        }
    }
}

impl Moved {
    pub fn is_still(self) -> bool {
        self == Self::default()
    }

    fn moved_by(self, dx: f64, dy: f64) -> Self {
        Self { dx: self.dx + dx, dy: self.dy + dy, ..self }
    }

    fn softer(self, sigma: f64) -> Self {
        Self { variance: self.variance + sigma * sigma, ..self }
    }
}

impl Stencil {
    pub fn silhouette(ink: Ink, step: usize) -> Self {
        let (moved, blend) = (Moved::default(), BlendMode::Normal);
        let (radius, falloff) = (0.0, None);
        Self { ink, blend, step, moved, radius, falloff, around: false, inside: false, outside: false }
    }

    /// It is the whole silhouette, neither moved nor changed.
    pub fn is_whole(&self) -> bool {
        self.moved.is_still() && self.radius == 0.0 && !self.around && !self.outside && self.falloff.is_none()
    }

    /// It contains the whole silhouette, with a sharp edge.
    fn is_solid(&self) -> bool {
        self.radius >= 0.0 && Self { radius: 0.0, ..self.clone() }.is_whole()
    }

    fn is_cut(&self) -> bool {
        self.inside || self.outside
    }

    /// It lies where it did not, and the other way round; so does its falloff.
    fn turned_over(self) -> Self {
        let turned = |values: Vec<f64>| values.iter().rev().map(|value| 1.0 - value).collect();
        Self { around: !self.around, falloff: self.falloff.map(turned), ..self }
    }
}

/// A step's picture; nothing where it is not understood.
type Picture = Option<Vec<Layer>>;

/// The result of a filter's last step.
pub(crate) fn recognise(written: &[Written]) -> RecognisedFilter {
    let mut run = Run { pictures: Vec::with_capacity(written.len()), diagnostics: Vec::new() };
    for (at, primitive) in written.iter().enumerate() {
        let mut picture = match &primitive.step {
            Ok(step) => run.step(step, at),
            Err(why) => {
                run.say(at, true, why);
                None
            }
        };
        // Pictures of pictures of pictures grow without end.
        if picture.as_ref().is_some_and(|layers| layers.len() > MAX_LAYERS) {
            run.say(at, true, "piles up more layers than any stack has");
            picture = None;
        }
        run.pictures.push(picture);
    }
    let layers = run.pictures.pop().flatten().unwrap_or_default();
    RecognisedFilter { layers, diagnostics: run.diagnostics }
}

/// Layers of a picture, at most.
const MAX_LAYERS: usize = 256;

struct Run {
    pictures: Vec<Picture>,
    diagnostics: Vec<Issue>,
}

impl Run {
    fn say(&mut self, step: usize, dropped: bool, why: &str) {
        self.diagnostics.push(Issue { step, dropped, why: why.to_owned() });
    }

    fn picture(&self, input: Input, at: usize) -> Picture {
        match input {
            Input::Source => Some(vec![Layer::Body(Moved::default())]),
            Input::SourceAlpha => {
                let black = Ink::Colour(Rgba::new(0.0, 0.0, 0.0, 1.0));
                Some(vec![Layer::Stencil(Stencil::silhouette(black, at))])
            }
            Input::Step(step) => self.pictures.get(step).cloned().flatten(),
        }
    }

    /// The picture of a step. A step that cannot be recognised is reported once, where it begins.
    fn step(&mut self, step: &Step, at: usize) -> Picture {
        match step {
            Step::Flood(colour) => Some(vec![Layer::Flood(*colour)]),
            Step::Merge(inputs) => Some(self.merge(inputs, at)),
            Step::Composite { operator, top, below } => {
                self.composite(*operator, Inputs { top: *top, below: *below }, at)
            }
            Step::Arithmetic { k, top, below } => {
                self.arithmetic(*k, Inputs { top: *top, below: *below }, at)
            }
            Step::Blend { mode, top, below } => self.blend(*mode, Inputs { top: *top, below: *below }, at),
            Step::DropShadow { of, dx, dy, sigma, colour } => {
                let caster = self.picture(*of, at)?;
                if caster.iter().any(|layer| matches!(layer, Layer::Stencil(shaped) if !shaped.inside)) {
                    self.say(
                        at,
                        false,
                        "cast by the shadows before it too: taken as a shadow of the piece alone",
                    );
                }
                let mut shadow = Stencil::silhouette(Ink::Colour(*colour), at);
                shadow.moved = Moved::default().moved_by(*dx, *dy).softer(*sigma);
                Some(std::iter::once(Layer::Stencil(shadow)).chain(caster).collect())
            }
            Step::Blur { of, sigma } => {
                self.map(*of, at, "blurs what was cut before", |layer| blurred(layer, *sigma, at))
            }
            Step::Offset { of, dx, dy } => {
                self.map(*of, at, "moves what was cut before", |layer| moved(layer, Vec2::new(*dx, *dy), at))
            }
            Step::Morphology { of, radius } => {
                self.map(*of, at, "grows what was softened or cut before", |layer| grown(layer, *radius, at))
            }
            Step::Matrix { of, rows } => {
                let Some((change, alpha)) = matrix_change(rows) else {
                    self.say(at, true, "mixes colours in a way that is not depth");
                    return None;
                };
                self.map(*of, at, UNCLEAR, |layer| recoloured(layer, change, &|value| alpha.at(value), at))
            }
            Step::Transfer { of, curves } => {
                let Some(change) = colour_change(curves) else {
                    self.say(at, true, "changes colours in a way that is not depth");
                    return None;
                };
                self.map(*of, at, UNCLEAR, |layer| {
                    recoloured(layer, change, &|alpha| curves[3].at(alpha), at)
                })
            }
        }
    }

    fn merge(&mut self, inputs: &[Input], at: usize) -> Vec<Layer> {
        let mut layers = Vec::new();
        for input in inputs {
            layers.extend(self.picture(*input, at).into_iter().flatten());
            // The caller reports that these are too many.
            if layers.len() > MAX_LAYERS {
                break;
            }
        }
        layers
    }

    /// Works on every layer of a picture; `why` is reported where that cannot be done.
    fn map(&mut self, input: Input, at: usize, why: &str, work: impl Fn(Layer) -> Option<Layer>) -> Picture {
        let layers = self.picture(input, at)?;
        let worked: Picture = layers.into_iter().map(work).collect();
        if worked.is_none() {
            self.say(at, true, why);
        }
        worked
    }

    fn composite(&mut self, operator: Operator, Inputs { top, below }: Inputs, at: usize) -> Picture {
        let (top, below) = (self.picture(top, at), self.picture(below, at));
        let found = match operator {
            // Of two inputs, the one that is understood stays.
            Operator::Over => return Some(below.into_iter().chain(top).flatten().collect()),
            Operator::Lighter => {
                self.say(at, false, "adds light: taken as laid over");
                return Some(below.into_iter().chain(top).flatten().collect());
            }
            Operator::In => cut_to(&top?, &below?, at),
            Operator::Out => cut_out(&top?, &below?, at),
            Operator::Atop => {
                let below = below?;
                cut_to(&top?, &below, at).map(|top| below.into_iter().chain(top).collect())
            }
            Operator::Xor => None,
        };
        if found.is_none() {
            self.say(at, true, UNCLEAR);
        }
        found
    }

    fn arithmetic(&mut self, k: [f64; 4], inputs: Inputs, at: usize) -> Picture {
        let operator = match k {
            [0.0, 1.0, 1.0, 0.0] => Operator::Lighter,
            // Where the shape contains the whole silhouette, subtracting and knocking it out are the same.
            [0.0, 1.0, -1.0, 0.0] => Operator::Out,
            [0.0, -1.0, 1.0, 0.0] => {
                return self.composite(Operator::Out, Inputs { top: inputs.below, below: inputs.top }, at);
            }
            [1.0, 0.0, 0.0, 0.0] => Operator::In,
            _ => {
                self.say(at, true, "reckons with pictures in a way that is not depth");
                return None;
            }
        };
        self.composite(operator, inputs, at)
    }

    fn blend(&mut self, mode: BlendMode, Inputs { top, below }: Inputs, at: usize) -> Picture {
        let (top, below) = (self.picture(top, at), self.picture(below, at));
        let mut top = top.unwrap_or_default();
        if mode != BlendMode::Normal && below.as_ref().is_some_and(|below| !below.is_empty()) {
            for layer in &mut top {
                match layer {
                    Layer::Stencil(shaped) => shaped.blend = mode,
                    _ => self.say(at, false, "blends the piece with its own shadows: laid over them instead"),
                }
            }
        }
        Some(below.into_iter().flatten().chain(top).collect())
    }
}

const UNCLEAR: &str = "combines shapes in a way that no coat does";

/// The two inputs of a step that puts pictures together.
#[derive(Clone, Copy)]
struct Inputs {
    top: Input,
    below: Input,
}

/// A layer with more blur; `None` where it was cut or had its transfer curve before.
fn blurred(layer: Layer, sigma: f64, at: usize) -> Option<Layer> {
    Some(match layer {
        Layer::Flood(_) => layer,
        _ if sigma == 0.0 => layer,
        Layer::Body(moved) => Layer::Body(moved.softer(sigma)),
        Layer::Stencil(shaped) if shaped.is_cut() || shaped.falloff.is_some() => return None,
        Layer::Stencil(shaped) => {
            Layer::Stencil(Stencil { moved: shaped.moved.softer(sigma), step: at, ..shaped })
        }
    })
}

/// A layer at another offset; `None` where it was cut before.
fn moved(layer: Layer, Vec2 { x: dx, y: dy }: Vec2, at: usize) -> Option<Layer> {
    Some(match layer {
        Layer::Flood(_) => layer,
        Layer::Body(moved) => Layer::Body(moved.moved_by(dx, dy)),
        Layer::Stencil(shaped) if shaped.is_cut() => return None,
        Layer::Stencil(shaped) => {
            Layer::Stencil(Stencil { moved: shaped.moved.moved_by(dx, dy), step: at, ..shaped })
        }
    })
}

/// Grown by squares, as filters do; a coat's spread is round.
fn grown(layer: Layer, radius: f64, at: usize) -> Option<Layer> {
    let shaped = match layer {
        Layer::Stencil(shaped) => shaped,
        Layer::Body(moved) => Stencil { moved, ..Stencil::silhouette(Ink::Own(1.0), at) },
        Layer::Flood(_) => return Some(layer),
    };
    let fits = shaped.moved.variance == 0.0 && !shaped.is_cut() && !shaped.around && shaped.falloff.is_none();
    fits.then_some(Layer::Stencil(Stencil { radius: shaped.radius + radius, step: at, ..shaped }))
}

/// The alpha of a picture as one shape.
fn shape_of(layers: &[Layer], at: usize) -> Option<Stencil> {
    match layers {
        [Layer::Body(moved)] => Some(Stencil { moved: *moved, ..Stencil::silhouette(Ink::Own(1.0), at) }),
        [Layer::Stencil(shaped)] => Some(shaped.clone()),
        // A shape clipped to the piece adds nothing to its alpha.
        [Layer::Body(moved), rest @ ..] if moved.is_still() => {
            let adds = rest.iter().any(|layer| !matches!(layer, Layer::Stencil(shaped) if shaped.inside));
            (!adds).then(|| Stencil::silhouette(Ink::Own(1.0), at))
        }
        _ => None,
    }
}

/// `top` where `mask` is (Compositing and Blending 1, "source in").
fn cut_to(top: &[Layer], mask: &[Layer], at: usize) -> Picture {
    let mask = shape_of(mask, at)?;
    let fading = f64::from(mask.ink.alpha());
    let cut = |layer: &Layer| -> Option<Layer> {
        Some(Layer::Stencil(match layer {
            Layer::Flood(colour) => {
                let ink = Ink::Colour(colour.faded(fading));
                Stencil { ink, step: at, blend: BlendMode::Normal, ..mask.clone() }
            }
            Layer::Stencil(shaped) if mask.is_whole() && !shaped.outside => {
                Stencil { inside: true, ink: shaped.ink.faded(fading), step: at, ..shaped.clone() }
            }
            Layer::Stencil(shaped) if shaped.is_whole() => {
                Stencil { inside: true, ink: shaped.ink.faded(fading), step: at, ..mask.clone() }
            }
            Layer::Body(moved) if mask.is_whole() && moved.is_still() => return Some(layer.clone()),
            Layer::Body(moved) if moved.is_still() => {
                Stencil { inside: true, ink: Ink::Own(fading as f32), step: at, ..mask.clone() }
            }
            _ => return None,
        }))
    };
    top.iter().map(cut).collect()
}

/// `top` where `mask` is not ("source out").
fn cut_out(top: &[Layer], mask: &[Layer], at: usize) -> Picture {
    let mask = shape_of(mask, at)?;
    if mask.ink.alpha() < 1.0 || mask.is_cut() {
        return None;
    }
    let cut = |layer: &Layer| -> Option<Layer> {
        let turned = |ink, inside| Stencil { ink, inside, step: at, ..mask.clone().turned_over() };
        Some(Layer::Stencil(match layer {
            Layer::Flood(colour) => turned(Ink::Colour(*colour), false),
            Layer::Stencil(shaped) if mask.is_solid() && !shaped.inside => {
                Stencil { outside: true, step: at, ..shaped.clone() }
            }
            Layer::Stencil(shaped) if shaped.is_whole() => turned(shaped.ink, true),
            Layer::Body(moved) if moved.is_still() => turned(Ink::Own(1.0), true),
            Layer::Body(moved) if mask.is_whole() => {
                let ink = Ink::Own(1.0);
                Stencil { moved: *moved, outside: true, ..Stencil::silhouette(ink, at) }
            }
            _ => return None,
        }))
    };
    top.iter().map(cut).collect()
}

/// Values a falloff is sampled at.
const TABLE: usize = 33;

fn recoloured(layer: Layer, change: ColourChange, alpha: &dyn Fn(f64) -> f64, at: usize) -> Option<Layer> {
    let alpha = |value: f64| alpha(value).clamp(0.0, 1.0);
    let tinted = |ink: Ink| match change {
        ColourChange::Keep => ink,
        ColourChange::Set([r, g, b]) => Ink::Colour(Rgba::new(r, g, b, ink.alpha())),
    };
    let shaped = match layer {
        Layer::Flood(colour) => {
            let ink = tinted(Ink::Colour(colour));
            let Ink::Colour(colour) = ink else { return None };
            return Some(Layer::Flood(Rgba { a: alpha(f64::from(colour.a)) as f32, ..colour }));
        }
        Layer::Body(moved) if matches!(change, ColourChange::Keep) && changes_nothing(&alpha) => {
            return Some(Layer::Body(moved));
        }
        Layer::Body(moved) => Stencil { moved, ..Stencil::silhouette(Ink::Own(1.0), at) },
        Layer::Stencil(shaped) => shaped,
    };
    let shaped = Stencil { ink: tinted(shaped.ink), step: at, ..shaped };
    with_alpha(shaped, &alpha).map(Layer::Stencil)
}

fn changes_nothing(alpha: &dyn Fn(f64) -> f64) -> bool {
    (0..=8).map(|i| f64::from(i) / 8.0).all(|value| (alpha(value) - value).abs() < 1e-9)
}

/// A shape with its coverage put through a curve: faded, turned inside out, or with a falloff.
fn with_alpha(shaped: Stencil, alpha: &dyn Fn(f64) -> f64) -> Option<Stencil> {
    let samples: Vec<f64> = (0..TABLE).map(|i| alpha(i as f64 / (TABLE - 1) as f64)).collect();
    let (first, last) = (samples[0], samples[TABLE - 1]);
    let straight = samples
        .iter()
        .enumerate()
        .all(|(i, value)| (value - (first + (last - first) * i as f64 / (TABLE - 1) as f64)).abs() < 1e-6);
    // A sharp edge has no coverage between 0 and 1, so a curve over it changes nothing.
    let sharp = shaped.moved.variance == 0.0 && shaped.falloff.is_none();
    let solid = shaped.ink.alpha() >= 1.0;
    if first == 0.0 && straight {
        return Some(Stencil { ink: shaped.ink.faded(last), ..shaped });
    }
    if !solid || shaped.is_cut() {
        return None;
    }
    if first == 0.0 && sharp {
        return Some(Stencil { ink: shaped.ink.faded(last), ..shaped });
    }
    if first == 1.0 && last == 0.0 && (straight || sharp) {
        return Some(shaped.turned_over());
    }
    (shaped.falloff.is_none() && first == 0.0).then_some(Stencil { falloff: Some(samples), ..shaped })
}
