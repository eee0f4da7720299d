//! The shadows of a height in living CSS: every length is so many times a property, which a page may set on an element to raise it.

use super::links::{LightProperties, Links};
use crate::model::Raised;
use crate::resolve::Shadow;
use crate::syntax::number_text;

/// How far a length that is written may be from the shadow's, in px.
const SAME: f64 = 0.02;

impl Links<'_> {
    /// The offset, blur and spread of one shadow of a height; nothing where it is not what the height makes it.
    pub(super) fn of_height(&self, raised: &Raised, number: usize, shadow: &Shadow) -> Option<String> {
        let of = raised.shadows.get(number)?;
        let height = raised.height.get();
        let (distance, blur, spread) = (of.distance.get(), of.blur.get(), of.spread.get());
        let is_same = (shadow.blur - blur * height).abs() < SAME
            // Shadows of letters have none.
            && (shadow.spread == 0.0 || (shadow.spread - spread * height).abs() < SAME)
            && (crate::maths::hypot(shadow.dx, shadow.dy) - distance.abs() * height).abs() < SAME;
        if !is_same {
            return None;
        }
        let offset = self.offset_of_height(raised, distance);
        let spread =
            if shadow.spread == 0.0 { String::new() } else { format!(" {}", self.length(raised, spread)) };
        Some(format!("{offset} {}{spread}", self.length(raised, blur)))
    }

    fn offset_of_height(&self, raised: &Raised, distance: f64) -> String {
        if let Some(light) = &raised.follows
            && let Some(LightProperties { x, y, .. }) = self.properties.lights.get(light)
        {
            let along = |axis: &str| {
                let times = factor(distance);
                format!("calc({times} * {} * var({axis}))", self.height(raised))
            };
            return format!("{} {}", along(x), along(y));
        }
        let bearing =
            raised.follows.as_ref().map_or(raised.bearing.get(), |light| self.context.bearing(light));
        let (sin, cos) = crate::maths::sin_cos(bearing.to_radians());
        format!("{} {}", self.length(raised, -distance * sin), self.length(raised, distance * cos))
    }

    /// So many px for each px of the height.
    fn length(&self, raised: &Raised, by: f64) -> String {
        let by = factor(by);
        if by == "0" { by } else { format!("calc({by}px * {})", self.height(raised)) }
    }

    fn height(&self, raised: &Raised) -> String {
        super::links::reference(&self.properties.height, &number_text(raised.height.get()))
    }
}

/// A length for each px of height, exact to 0.001 px at the greatest height.
fn factor(value: f64) -> String {
    number_text((value * 1e5).round() / 1e5)
}
