//! Filters: pictures made from a picture, step by step (Filter Effects 1, "Filter primitives").
//!
//! A CSS `filter` list and an SVG `<filter>` are both a [`Graph`]. A piece is put into one ([`super::piece_filter`],
//! [`super::shadow_chain`]) and written as markup ([`crate::markup`]); and it is run on a picture, so that what a browser
//! will show is known before it is shown ([`Graph::run`], in [`crate::chromium`]).

use crate::blend::BlendMode;
use crate::colour::Rgba;

/// A filter: each step may use the pictures of steps before it; the last is the result.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Graph {
    /// In the order they are run in.
    pub steps: Vec<Step>,
}

/// A picture that a step works on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Input {
    /// The source graphic: the input of the filter.
    Source,
    /// Its alpha alone, in black.
    SourceAlpha,
    /// The result of an earlier step.
    Step(usize),
}

/// One filter primitive. Lengths are in px; colours are gamma-encoded sRGB, the space everything is done in.
#[derive(Debug, Clone, PartialEq)]
pub enum Step {
    /// `feGaussianBlur`: σ alike along both axes.
    Blur {
        /// The input that is blurred.
        of: Input,
        /// The Gaussian's σ.
        sigma: f64,
    },
    /// `feOffset`.
    Offset {
        /// The input that is moved.
        of: Input,
        /// To the right.
        dx: f64,
        /// Down.
        dy: f64,
    },
    /// `feFlood`.
    Flood(Rgba),
    /// `feComposite`: two pictures by a Porter and Duff operator.
    Composite {
        /// Which operator.
        operator: Operator,
        /// `in`.
        top: Input,
        /// `in2`.
        below: Input,
    },
    /// `feComposite` by numbers: k₁·top·below + k₂·top + k₃·below + k₄, on premultiplied colours.
    Arithmetic {
        /// The four numbers.
        k: [f64; 4],
        /// `in`.
        top: Input,
        /// `in2`.
        below: Input,
    },
    /// `feMerge`: first is lowest.
    Merge(Vec<Input>),
    /// `feBlend`.
    Blend {
        /// Which of the sixteen modes.
        mode: BlendMode,
        /// `in`.
        top: Input,
        /// `in2`.
        below: Input,
    },
    /// `feColorMatrix`: four rows of five, on colours that are not premultiplied.
    Matrix {
        /// The input that is recoloured.
        of: Input,
        /// Row by row: what red, green, blue, alpha and 1 add to red, then to green, blue, alpha.
        rows: [f64; 20],
    },
    /// `feComponentTransfer`: a curve for red, green, blue and alpha, on colours that are not premultiplied.
    Transfer {
        /// The input that is recoloured.
        of: Input,
        /// For red, green, blue, alpha.
        curves: Box<[Curve; 4]>,
    },
    /// `feMorphology` with one radius along both axes: a square dilates (or, negative, erodes) its input.
    Morphology {
        /// The input that is grown.
        of: Input,
        /// By how much; negative shrinks.
        radius: f64,
    },
    /// `feDropShadow`: a blurred, coloured copy of the alpha under the input.
    DropShadow {
        /// The input that casts it.
        of: Input,
        /// To the right.
        dx: f64,
        /// Down.
        dy: f64,
        /// The Gaussian's σ.
        sigma: f64,
        /// The shadow's colour.
        colour: Rgba,
    },
}

/// A Porter and Duff operator (Compositing and Blending 1, §9.1).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs, reason = "the names are the standard's own")]
pub enum Operator {
    Over,
    In,
    Out,
    Atop,
    Xor,
    Lighter,
}

/// A curve for one part of a colour.
#[derive(Debug, Clone, PartialEq)]
pub enum Curve {
    /// As it is.
    Identity,
    /// Straight lines through evenly spaced values.
    Table(Vec<f64>),
    /// Evenly wide steps.
    Discrete(Vec<f64>),
    /// A slope and an intercept.
    Linear(f64, f64),
    /// Amplitude, exponent, offset.
    Gamma(f64, f64, f64),
}

impl Graph {
    /// Adds a step and gives its picture.
    pub fn add(&mut self, step: Step) -> Input {
        self.steps.push(step);
        Input::Step(self.steps.len() - 1)
    }

    /// How far, in px, any of its steps draws around the source graphic: left, top, right, bottom.
    #[must_use]
    pub fn reach(&self) -> [f64; 4] {
        self.reaches().iter().fold([0.0; 4], |a, b| std::array::from_fn(|side| a[side].max(b[side])))
    }

    /// How far, in px, its result reaches beyond the source graphic: left, top, right, bottom.
    #[must_use]
    pub fn result_reach(&self) -> [f64; 4] {
        self.reaches().last().copied().unwrap_or_default()
    }

    fn reaches(&self) -> Vec<[f64; 4]> {
        let mut reaches: Vec<[f64; 4]> = Vec::with_capacity(self.steps.len());
        for step in &self.steps {
            let of = |input: &Input| match input {
                Input::Source | Input::SourceAlpha => [0.0; 4],
                Input::Step(at) => reaches.get(*at).copied().unwrap_or([0.0; 4]),
            };
            let most = |a: [f64; 4], b: [f64; 4]| std::array::from_fn(|side| a[side].max(b[side]));
            let moved = |[left, top, right, bottom]: [f64; 4], dx: f64, dy: f64| {
                [left - dx, top - dy, right + dx, bottom + dy]
            };
            reaches.push(match step {
                Step::Blur { of: input, sigma } => of(input).map(|side| side + 3.0 * sigma),
                Step::Offset { of: input, dx, dy } => moved(of(input), *dx, *dy),
                Step::Flood(_) => [0.0; 4],
                Step::Composite { top, below, .. }
                | Step::Arithmetic { top, below, .. }
                | Step::Blend { top, below, .. } => most(of(top), of(below)),
                Step::Merge(inputs) => inputs.iter().map(of).fold([0.0; 4], most),
                Step::Matrix { of: input, .. } | Step::Transfer { of: input, .. } => of(input),
                Step::Morphology { of: input, radius } => of(input).map(|side| side + radius.max(0.0)),
                Step::DropShadow { of: input, dx, dy, sigma, .. } => {
                    most(of(input), moved(of(input), *dx, *dy).map(|side| side + 3.0 * sigma))
                }
            });
        }
        reaches
    }
}

impl Operator {
    /// As `feComposite` writes it.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Over => "over",
            Self::In => "in",
            Self::Out => "out",
            Self::Atop => "atop",
            Self::Xor => "xor",
            Self::Lighter => "lighter",
        }
    }
}

impl Step {
    /// Multiplies every length.
    pub fn scale(&mut self, by: f64) {
        match self {
            Self::Blur { sigma, .. } => *sigma *= by,
            Self::Offset { dx, dy, .. } => (*dx, *dy) = (*dx * by, *dy * by),
            Self::DropShadow { dx, dy, sigma, .. } => {
                (*dx, *dy, *sigma) = (*dx * by, *dy * by, *sigma * by);
            }
            Self::Morphology { radius, .. } => *radius *= by,
            Self::Flood(_)
            | Self::Composite { .. }
            | Self::Arithmetic { .. }
            | Self::Merge(_)
            | Self::Blend { .. }
            | Self::Matrix { .. }
            | Self::Transfer { .. } => {}
        }
    }
}

impl Graph {
    /// The graph with every length multiplied, for a picture that is enlarged by as much afterwards.
    #[must_use]
    pub fn scaled(&self, by: f64) -> Self {
        let mut graph = self.clone();
        for step in &mut graph.steps {
            step.scale(by);
        }
        graph
    }

    /// The graph with every offset rotated by an angle in degrees, for a graph whose result is rotated back afterwards.
    #[must_use]
    pub fn turned(&self, degrees: f64) -> Self {
        let mut graph = self.clone();
        if degrees != 0.0 {
            let (sin, cos) = crate::maths::sin_cos(degrees.to_radians());
            for step in &mut graph.steps {
                if let Step::Offset { dx, dy, .. } | Step::DropShadow { dx, dy, .. } = step {
                    (*dx, *dy) = (*dx * cos - *dy * sin, *dx * sin + *dy * cos);
                }
            }
        }
        graph
    }
}

impl Curve {
    /// The function that maps a channel's value (Filter Effects 1, "feComponentTransfer").
    pub fn at(&self, value: f64) -> f64 {
        match self {
            Self::Identity => value,
            Self::Table(values) => match values.as_slice() {
                [] => value,
                [only] => *only,
                values => {
                    let last = values.len() - 1;
                    let place = value.clamp(0.0, 1.0) * last as f64;
                    let k = (place.floor() as usize).min(last - 1);
                    values[k] + (place - k as f64) * (values[k + 1] - values[k])
                }
            },
            Self::Discrete(values) => {
                let k = (value.clamp(0.0, 1.0) * values.len() as f64).floor() as usize;
                values.get(k.min(values.len().saturating_sub(1))).copied().unwrap_or(value)
            }
            Self::Linear(slope, intercept) => slope * value + intercept,
            Self::Gamma(amplitude, exponent, offset) => {
                amplitude * crate::maths::powf(value, *exponent) + offset
            }
        }
    }
}
