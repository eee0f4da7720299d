//! A coat of several shadows, above all a ramp, as the shadows it stands for (docs/rendering.md, "Ramps").

use super::colour::ColourContext;
use super::raised::split_raised;
use super::scene::Context;
use crate::colour::{Rgba, mix_oklab};
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourSource, CssColour, FollowingOffset, Id, Offset,
    OffsetPx, Opacity, OutOfRange, PolarOffset, Ramp, RampShadow, Spread,
};

/// One step of a ramp.
struct Step {
    /// From 0 for the nearest.
    number: usize,
    /// How far it lies from the near end (0) to the far one (1).
    u: f64,
    /// Its share of the total opacity's exponent.
    share: f64,
}

impl Context<'_> {
    /// The ordinary coats that a coat of several shadows stands for, nearest first; nothing where it stands for itself. It is drawn
    /// from these, so splitting it changes no pixel.
    ///
    /// # Errors
    /// When a value in between leaves its range, which values between two in range do not.
    pub fn split(&self, coat: &Coat, around: &ColourContext<'_>) -> Option<Result<Vec<Coat>, OutOfRange>> {
        match &coat.kind {
            CoatKind::Ramp(ramp) => Some(self.split_ramp(coat, ramp, around)),
            CoatKind::Raised(raised) => Some(Ok(split_raised(coat, raised))),
            CoatKind::Drop(_)
            | CoatKind::Inner(_)
            | CoatKind::Highlight(_)
            | CoatKind::Tint(_)
            | CoatKind::Stroke(_)
            | CoatKind::Blur(_)
            | CoatKind::Extrude(_)
            | CoatKind::Cast(_)
            | CoatKind::Backdrop(_) => None,
        }
    }

    fn split_ramp(
        &self,
        coat: &Coat,
        ramp: &Ramp,
        around: &ColourContext<'_>,
    ) -> Result<Vec<Coat>, OutOfRange> {
        let places = steps(ramp.count, ramp.growth.get());
        let weights: Vec<f64> = places.iter().map(|u| 1.0 + ramp.lean.get() * (2.0 * u - 1.0)).collect();
        let whole: f64 = weights.iter().sum();
        let steps = places.into_iter().zip(weights).enumerate();
        let steps = steps.map(|(number, (u, weight))| Step { number, u, share: weight / whole });
        steps.map(|step| self.step(coat, ramp, around, &step)).collect()
    }

    fn step(
        &self,
        coat: &Coat,
        ramp: &Ramp,
        around: &ColourContext<'_>,
        &Step { number, u, share }: &Step,
    ) -> Result<Coat, OutOfRange> {
        let mix = |near: f64, far: f64| near + (far - near) * u;
        let (near, far) = (&ramp.near, &ramp.far);
        let offset = self.offset_between(&near.offset, &far.offset, u)?;
        let blur = BlurRadius::new(mix(near.blur.get(), far.blur.get()))?;
        let spread = Spread::new(mix(near.spread.get(), far.spread.get()))?;
        let colour = self.colour_between(&near.colour, &far.colour, u, around);
        let make = match ramp.shadow {
            RampShadow::Drop => CoatKind::drop,
            RampShadow::Inner => CoatKind::inner,
        };
        let opacity = 1.0 - crate::maths::powf(1.0 - ramp.total.get(), share);
        Ok(Coat {
            id: Id::step_of(&coat.id, number + 1),
            name: format!("{} {}", coat.name, number + 1),
            on: coat.on,
            opacity: Opacity::new(opacity * coat.opacity.get())?,
            blend: coat.blend,
            kind: make(offset, blur, spread, colour),
        })
    }

    /// Distances are mixed where both ends share a bearing, offsets along the axes otherwise; both are the same
    /// straight line.
    fn offset_between(&self, near: &Offset, far: &Offset, u: f64) -> Result<Offset, OutOfRange> {
        let mix = |near: f64, far: f64| OffsetPx::new(near + (far - near) * u);
        Ok(match (near, far) {
            (Offset::Following(near), Offset::Following(far)) if near.follows == far.follows => {
                let distance = mix(near.distance.get(), far.distance.get())?;
                Offset::Following(FollowingOffset { distance, follows: near.follows.clone() })
            }
            (Offset::Polar(near), Offset::Polar(far)) if near.bearing == far.bearing => {
                let distance = mix(near.distance.get(), far.distance.get())?;
                Offset::Polar(PolarOffset { distance, bearing: near.bearing })
            }
            (near, far) => {
                let (near, far) = (self.offset(near), self.offset(far));
                Offset::Cartesian(CartesianOffset { x: mix(near.x, far.x)?, y: mix(near.y, far.y)? })
            }
        })
    }

    /// Mixed in OKLab; one source at both ends stays what it is.
    fn colour_between(
        &self,
        near: &ColourSource,
        far: &ColourSource,
        u: f64,
        around: &ColourContext<'_>,
    ) -> ColourSource {
        if near == far {
            return near.clone();
        }
        let plain = |source| self.colour(source, around).unwrap_or(Rgba::new(0.0, 0.0, 0.0, 1.0));
        ColourSource::Literal(CssColour::from_rgba(mix_oklab(plain(near), plain(far), u as f32)))
    }
}

/// How far each of `count` steps lies between the near end (0) and the far one (1):
/// (gⁱ − 1)/(gⁿ⁻¹ − 1) for growth g ≠ 1, i/(n − 1) for g = 1, 1 for one step.
#[must_use]
pub fn steps(count: u32, growth: f64) -> Vec<f64> {
    let last = count.saturating_sub(1);
    let place = |i: u32| {
        let even = f64::from(i) / f64::from(last);
        // Near 1, differences of powers lose all their digits; the limit is the even ramp.
        if (growth - 1.0).abs() < 1e-9 {
            return even;
        }
        let (done, whole) = (
            crate::maths::powf(growth, f64::from(i)) - 1.0,
            crate::maths::powf(growth, f64::from(last)) - 1.0,
        );
        (done / whole).clamp(0.0, 1.0)
    };
    if last == 0 { vec![1.0; count as usize] } else { (0..=last).map(place).collect() }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn steps_grow_as_the_formula_says() {
        assert_eq!(steps(1, 2.0), [1.0]);
        assert_eq!(steps(3, 1.0), [0.0, 0.5, 1.0]);
        assert_eq!(steps(4, 2.0), [0.0, 1.0 / 7.0, 3.0 / 7.0, 1.0]);
        assert_eq!(steps(64, 100.0).last(), Some(&1.0));
        assert!(steps(64, 1e-12).iter().all(|u| (0.0..=1.0).contains(u)));
    }
}
