//! The effect of a stack of shadows on the surface under it, and its derivative by every number of every shadow.

use super::field::{Coverage, Field};
use super::shadow::{Freedom, Parameter, Shadow, Side};

/// The transmitted share of the ground, and the premultiplied red, green and blue that a stack adds to it.
pub type PremultipliedLayer = [f64; 4];

/// Where a stack is looked at, and which of its numbers may move.
pub struct Model<'a> {
    /// Where.
    pub field: &'a dyn Field,
    /// Which kind of shadows.
    pub side: Side,
    /// Which numbers.
    pub freedom: &'a Freedom,
    /// Whether colours count. In one colour for all, only the transmittance does.
    pub coloured: bool,
    /// The colour under the stack at every place, where it is known: then only what is seen of both counts, in red, green
    /// and blue.
    pub ground: Option<&'a [[f64; 3]]>,
}

/// The colour at one place and its derivatives; reused for the next place.
pub struct JacobianRow {
    /// By channel, then by parameter.
    pub of: [Vec<f64>; 4],
    /// The layer below each shadow, and last the ground.
    below: Vec<PremultipliedLayer>,
    parameters: Vec<Parameter>,
}

impl JacobianRow {
    /// Room for the slopes of so many shadows.
    #[must_use]
    pub fn new(freedom: &Freedom, shadows: usize) -> Self {
        let parameters = freedom.parameters();
        let of = std::array::from_fn(|_| vec![0.0; parameters.len() * shadows]);
        Self { of, below: vec![GROUND; shadows + 1], parameters }
    }
}

/// Steps that the coverage of a shadow at one place takes, of the budget of a request.
const STEPS_A_PLACE: u64 = 80;

/// Nothing over a ground that shows through.
const GROUND: PremultipliedLayer = [0.0, 0.0, 0.0, 1.0];

impl Model<'_> {
    /// Channels that count.
    #[must_use]
    pub fn channels(&self) -> std::ops::Range<usize> {
        match (self.ground, self.coloured) {
            (Some(_), _) => 0..3,
            (None, true) => 0..4,
            (None, false) => 3..4,
        }
    }

    /// The coverage of each shadow.
    #[must_use]
    pub fn coverages(&self, shadows: &[Shadow]) -> Vec<Coverage> {
        if !crate::budget::spend((self.field.count() * shadows.len()) as u64 * STEPS_A_PLACE) {
            return vec![Coverage::zeros(self.field.count()); shadows.len()];
        }
        shadows.iter().map(|shadow| self.cover(shadow)).collect()
    }

    /// The coverage of one shadow.
    #[must_use]
    pub fn cover(&self, shadow: &Shadow) -> Coverage {
        let mut coverage = match self.side {
            Side::Outside => self.field.cover(shadow),
            Side::Inside => {
                let mut hole = self.field.cover(&Shadow { spread: -shadow.spread, ..*shadow });
                hole.invert();
                hole
            }
        };
        coverage.clip(self.field.visible_shares());
        coverage
    }

    /// The colour at every place.
    #[must_use]
    pub fn compose(&self, shadows: &[Shadow]) -> Vec<PremultipliedLayer> {
        self.seen_with(shadows, &self.coverages(shadows))
    }

    /// The same, of coverages that are known.
    #[must_use]
    pub fn seen_with(&self, shadows: &[Shadow], coverages: &[Coverage]) -> Vec<PremultipliedLayer> {
        let layer = |place| self.over_ground(veil(shadows, coverages, place), place);
        (0..self.field.count()).map(layer).collect()
    }

    /// A layer with the ground at a place seen through it, where that is known.
    fn over_ground(&self, layer: PremultipliedLayer, place: usize) -> PremultipliedLayer {
        let Some(ground) = self.ground else { return layer };
        let [r, g, b] = ground[place];
        let [own_r, own_g, own_b, shows] = layer;
        [own_r + shows * r, own_g + shows * g, own_b + shows * b, shows]
    }

    /// The colour at a place and its derivatives. The first shadow is nearest the eye.
    pub fn slopes(
        &self,
        shadows: &[Shadow],
        coverages: &[Coverage],
        place: usize,
        slopes: &mut JacobianRow,
    ) -> PremultipliedLayer {
        let JacobianRow { of, below, parameters } = slopes;
        for (number, (shadow, coverage)) in shadows.iter().zip(coverages).enumerate().rev() {
            below[number] = laid(&below[number + 1], shadow, coverage.value[place]);
        }
        let mut above = 1.0;
        for (number, (shadow, coverage)) in shadows.iter().zip(coverages).enumerate() {
            let alpha = shadow.opacity * coverage.value[place];
            let under = &below[number + 1];
            let channels = if self.ground.is_some() { 0..4 } else { self.channels() };
            for channel in channels {
                let own = if channel < 3 { shadow.colour[channel] } else { 0.0 };
                let by_alpha = above * (own - under[channel]);
                for (which, parameter) in parameters.iter().enumerate() {
                    of[channel][number * parameters.len() + which] = match parameter {
                        Parameter::Channel(of) if *of == channel => above * alpha,
                        Parameter::Channel(_) => 0.0,
                        Parameter::Opacity => by_alpha * coverage.value[place],
                        _ => by_alpha * shadow.opacity * self.by_coverage(coverage, *parameter, place),
                    };
                }
            }
            above *= 1.0 - alpha;
        }
        if let Some(ground) = self.ground {
            let [r, g, b, by_shown] = of;
            for (slopes, ground) in [r, g, b].into_iter().zip(ground[place]) {
                slopes.iter_mut().zip(&*by_shown).for_each(|(slope, shown)| *slope += ground * shown);
            }
        }
        self.over_ground(below[0], place)
    }

    fn by_coverage(&self, coverage: &Coverage, parameter: Parameter, place: usize) -> f64 {
        use super::shadow::OffsetAxis;
        match (parameter, self.freedom.axis) {
            (Parameter::Distance, OffsetAxis::Along { x, y }) => {
                coverage.dx[place] * x + coverage.dy[place] * y
            }
            (Parameter::X, _) => coverage.dx[place],
            (Parameter::Y, _) => coverage.dy[place],
            (Parameter::Blur, _) => coverage.blur[place],
            (Parameter::Spread, _) => coverage.spread[place],
            (Parameter::Distance | Parameter::Opacity | Parameter::Channel(_), _) => 0.0,
        }
    }
}

/// The effect of a stack at a place (source over, Porter and Duff, as Compositing and Blending 1, §9.1.4, has it).
fn veil(shadows: &[Shadow], coverages: &[Coverage], place: usize) -> PremultipliedLayer {
    let from_below = shadows.iter().zip(coverages).rev();
    from_below.fold(GROUND, |below, (shadow, coverage)| laid(&below, shadow, coverage.value[place]))
}

fn laid(below: &PremultipliedLayer, shadow: &Shadow, coverage: f64) -> PremultipliedLayer {
    let alpha = shadow.opacity * coverage;
    let [r, g, b] = shadow.colour;
    let [under_r, under_g, under_b, shows] = below.map(|channel| channel * (1.0 - alpha));
    [under_r + alpha * r, under_g + alpha * g, under_b + alpha * b, shows]
}
