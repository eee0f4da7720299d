//! A shadow as the solver sees it: numbers that may move, and how far.

use crate::colour::Rgba;

/// The bounds of [`crate::quantity::OffsetPx`] and [`crate::quantity::BlurRadius`].
const MAX_OFFSET: f64 = 10_000.0;
const MAX_BLUR: f64 = 4000.0;

/// Which side of the surface line a shadow lies on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Side {
    /// Drop shadows, outside the silhouette.
    Outside,
    /// Inner shadows, inside it.
    Inside,
}

/// A shadow of one colour, in normal blend.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shadow {
    /// To the right, in px.
    pub dx: f64,
    /// Down, in px.
    pub dy: f64,
    /// CSS blur radius in px.
    pub blur: f64,
    /// In px.
    pub spread: f64,
    /// From 0 to 1.
    pub opacity: f64,
    /// Its colour; the alpha is not used.
    pub colour: [f64; 3],
}

impl Shadow {
    /// Its colour with its opacity.
    #[must_use]
    pub fn rgba(&self) -> Rgba {
        let [r, g, b] = self.colour.map(|channel| channel as f32);
        Rgba::new(r, g, b, self.opacity as f32)
    }

    /// How far from the silhouette it can be seen, in px: three σ past its edge.
    #[must_use]
    pub fn reach(&self) -> f64 {
        (crate::maths::hypot(self.dx, self.dy) + self.spread.abs() + 1.5 * self.blur).max(1.0)
    }
}

/// The directions that the offsets of a stack may move in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum OffsetAxis {
    /// No shadow is moved.
    Fixed,
    /// All lie on one line through the piece, as under one light: its direction, of length 1.
    Along {
        /// To the right.
        x: f64,
        /// Down.
        y: f64,
    },
    /// Anywhere.
    Free,
}

impl OffsetAxis {
    /// The narrowest that holds every offset.
    #[must_use]
    pub fn fit(shadows: &[Shadow]) -> Self {
        let longest = shadows.iter().map(|shadow| (shadow.dx, shadow.dy)).max_by(|a, b| {
            let length = |(x, y): &(f64, f64)| crate::maths::hypot(*x, *y);
            length(a).total_cmp(&length(b))
        });
        let Some((x, y)) = longest else { return Self::Fixed };
        let length = crate::maths::hypot(x, y);
        if length < 1e-9 {
            return Self::Fixed;
        }
        let (x, y) = (x / length, y / length);
        let is_on_line = |shadow: &Shadow| (shadow.dx * y - shadow.dy * x).abs() < 0.01;
        if shadows.iter().all(is_on_line) { Self::Along { x, y } } else { Self::Free }
    }
}

/// A number of a shadow that the solver moves.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Parameter {
    /// Along the axis of [`OffsetAxis::Along`].
    Distance,
    /// See [`Shadow::dx`].
    X,
    /// See [`Shadow::dy`].
    Y,
    /// See [`Shadow::blur`].
    Blur,
    /// See [`Shadow::spread`].
    Spread,
    /// See [`Shadow::opacity`].
    Opacity,
    /// A channel of the colour.
    Channel(usize),
}

/// The free numbers of every shadow, and their ranges.
#[derive(Debug, Clone, PartialEq)]
pub struct Freedom {
    /// Of the offsets.
    pub axis: OffsetAxis,
    /// Whether spreads move.
    pub spread: bool,
    /// Whether blurs move.
    pub blur: bool,
    /// Whether colours move.
    pub colour: bool,
    /// The least spread that leaves something of the silhouette.
    pub least_spread: f64,
    /// The greatest spread; inner shadows fill the silhouette with it.
    pub most_spread: f64,
}

impl Freedom {
    /// The parameters of one shadow, in order.
    #[must_use]
    pub fn parameters(&self) -> Vec<Parameter> {
        let mut all = match self.axis {
            OffsetAxis::Fixed => Vec::new(),
            OffsetAxis::Along { .. } => vec![Parameter::Distance],
            OffsetAxis::Free => vec![Parameter::X, Parameter::Y],
        };
        all.extend(self.blur.then_some(Parameter::Blur));
        all.extend(self.spread.then_some(Parameter::Spread));
        all.push(Parameter::Opacity);
        all.extend((0..3).filter(|_| self.colour).map(Parameter::Channel));
        all
    }

    /// A parameter of a shadow.
    #[must_use]
    pub fn get(&self, shadow: &Shadow, parameter: Parameter) -> f64 {
        match (parameter, self.axis) {
            (Parameter::Distance, OffsetAxis::Along { x, y }) => shadow.dx * x + shadow.dy * y,
            (Parameter::Distance, _) => 0.0,
            (Parameter::X, _) => shadow.dx,
            (Parameter::Y, _) => shadow.dy,
            (Parameter::Blur, _) => shadow.blur,
            (Parameter::Spread, _) => shadow.spread,
            (Parameter::Opacity, _) => shadow.opacity,
            (Parameter::Channel(channel), _) => shadow.colour[channel],
        }
    }

    /// Sets a parameter, to the nearest value it may have.
    pub fn set(&self, shadow: &mut Shadow, parameter: Parameter, value: f64) {
        let (least, most) = self.bounds(parameter);
        let value = value.clamp(least, most);
        match (parameter, self.axis) {
            (Parameter::Distance, OffsetAxis::Along { x, y }) => {
                (shadow.dx, shadow.dy) = (value * x, value * y);
            }
            (Parameter::Distance, _) => {}
            (Parameter::X, _) => shadow.dx = value,
            (Parameter::Y, _) => shadow.dy = value,
            (Parameter::Blur, _) => shadow.blur = value,
            (Parameter::Spread, _) => shadow.spread = value,
            (Parameter::Opacity, _) => shadow.opacity = value,
            (Parameter::Channel(channel), _) => shadow.colour[channel] = value,
        }
    }

    fn bounds(&self, parameter: Parameter) -> (f64, f64) {
        match parameter {
            Parameter::Distance | Parameter::X | Parameter::Y => (-MAX_OFFSET, MAX_OFFSET),
            Parameter::Blur => (0.0, MAX_BLUR),
            Parameter::Spread => (self.least_spread, self.most_spread),
            // An opacity of exactly 0 would have no slope left in any other direction.
            Parameter::Opacity => (1e-5, 1.0),
            Parameter::Channel(_) => (0.0, 1.0),
        }
    }
}
