//! Offsets in both forms.

use serde::Serialize;

use super::angle::sin_cos_degrees;
use super::scene::Context;
use crate::colour::Rgba;
use crate::model::{Id, Light, Offset};

/// An offset as it comes out, in both forms.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ResolvedOffset {
    /// To the right, in px.
    pub x: f64,
    /// Down, in px.
    pub y: f64,
    /// In px; negative towards the light.
    pub distance: f64,
    /// Where the light comes from, in degrees from 0 up to 360: 0° is the top, 90° the right.
    pub bearing: f64,
    /// The light it follows.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub follows: Option<Id>,
}

impl Context<'_> {
    /// Both forms of an offset.
    #[must_use]
    pub fn offset(&self, offset: &Offset) -> ResolvedOffset {
        match offset {
            Offset::Cartesian(at) => {
                let (x, y) = (at.x.get(), at.y.get());
                let bearing = bearing_of(x, y);
                ResolvedOffset { x, y, distance: crate::maths::hypot(x, y), bearing, follows: None }
            }
            Offset::Polar(polar) => under_bearing(polar.distance.get(), polar.bearing.get(), None),
            Offset::Following(following) => {
                let light = Some(following.follows.clone());
                under_bearing(following.distance.get(), self.bearing(&following.follows), light)
            }
        }
    }

    /// A light's bearing under the theme.
    #[must_use]
    pub fn bearing(&self, light: &Id) -> f64 {
        let Some(light) = self.light(light) else {
            return 0.0;
        };
        let here = light.themes.get(self.theme).and_then(|theme| theme.bearing);
        here.unwrap_or(light.bearing).get()
    }

    /// The colour of the light that is followed, or of the first there is, with its strength.
    pub(super) fn light_colour(&self, followed: Option<&Id>) -> Rgba {
        let followed = followed.and_then(|id| self.light(id)).or(self.project.lights.first());
        let Some(light) = followed else {
            return Rgba::new(1.0, 1.0, 1.0, 1.0);
        };
        let here = light.themes.get(self.theme);
        let colour = here.and_then(|theme| theme.colour.as_ref()).unwrap_or(&light.colour).rgba();
        let strength = here.and_then(|theme| theme.strength).unwrap_or(light.strength);
        let faded = colour.faded(strength.get());
        Rgba::new(faded.r, faded.g, faded.b, faded.a)
    }

    fn light(&self, id: &Id) -> Option<&Light> {
        self.project.lights.iter().find(|light| light.id == *id)
    }
}

/// The bearing of the light that would throw a shadow to `x`, `y`: from 0 up to 360 degrees, 0 for no offset.
#[must_use]
pub fn bearing_of(x: f64, y: f64) -> f64 {
    if x == 0.0 && y == 0.0 {
        return 0.0;
    }
    // `+ 0.0` turns a negative zero into a plain one.
    crate::maths::atan2(-x, y).to_degrees().rem_euclid(360.0) + 0.0
}

fn under_bearing(distance: f64, bearing: f64, follows: Option<Id>) -> ResolvedOffset {
    let (sin, cos) = sin_cos_degrees(bearing);
    ResolvedOffset {
        x: -distance * sin + 0.0,
        y: distance * cos + 0.0,
        distance,
        bearing: bearing.rem_euclid(360.0),
        follows,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn shadows_fall_away_from_the_light() {
        let at = |distance, bearing| {
            let offset = under_bearing(distance, bearing, None);
            (offset.x, offset.y)
        };
        assert_eq!(at(8.0, 0.0), (0.0, 8.0));
        assert_eq!(at(8.0, 90.0), (-8.0, 0.0));
        assert_eq!(at(8.0, 180.0), (0.0, -8.0));
        assert_eq!(at(8.0, -90.0), (8.0, 0.0));
        assert_eq!(at(-8.0, 0.0), (0.0, -8.0));
    }

    #[test]
    fn both_forms_agree() {
        for (x, y) in [(3.0, 4.0), (-3.0, 4.0), (3.0, -4.0), (-3.0, -4.0), (0.0, -2.0)] {
            let back = under_bearing(f64::hypot(x, y), bearing_of(x, y), None);
            assert!((back.x - x).abs() < 1e-12 && (back.y - y).abs() < 1e-12, "{back:?}");
        }
    }
}
