//! A dragged offset.

use serde::Deserialize;

use super::bearing::drawn_to;
use super::{SNAP_PX, rounded};
use crate::maths::direction;
use crate::model::{CartesianOffset, FollowingOffset, Offset, PolarOffset};
use crate::quantity::{Degrees, OffsetPx};
use crate::resolve::bearing_of;

/// Px of the screen across a light within which an offset goes on following it.
const FOLLOW_PX: f64 = 24.0;
/// The share of its length across a light within which an offset goes on following it.
const FOLLOW_SHARE: f64 = 0.2;

/// An offset and where its shadow was dragged to.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DraggedOffset {
    /// The offset before.
    pub offset: Offset,
    /// Its bearing in degrees, that of its light where it follows one.
    pub bearing: f64,
    /// Px to the right of the piece.
    pub x: f64,
    /// Px down from the piece.
    pub y: f64,
    /// Bearings of the project's lights, in degrees.
    pub lights: Vec<f64>,
    /// Px of the screen for a px of the scene.
    pub scale: f64,
    /// Drawn to nothing, and to tenths.
    pub fine: bool,
}

/// The offset of the shadow there, in the form it had; one that leaves its light is given along the axes.
#[must_use]
pub fn offset(dragged: &DraggedOffset) -> Offset {
    let &DraggedOffset { x, y, fine, .. } = dragged;
    match &dragged.offset {
        Offset::Following(following) => {
            let (along, across) = fall(dragged.bearing, x, y);
            let stays = across.abs() * dragged.scale < FOLLOW_PX || across.abs() < along.abs() * FOLLOW_SHARE;
            if !stays {
                return Offset::Cartesian(cartesian(dragged));
            }
            let distance = OffsetPx::clamped(rounded(along, fine));
            Offset::Following(FollowingOffset { distance, follows: following.follows.clone() })
        }
        Offset::Polar(polar) => {
            // A negative distance stays negative.
            let turn = if polar.distance.get() < 0.0 { 180.0 } else { 0.0 };
            let free = (bearing_of(x, y) + turn).rem_euclid(360.0);
            let bearing =
                if fine { rounded(free, true) } else { drawn_to(free, &dragged.lights) }.rem_euclid(360.0);
            let distance = OffsetPx::clamped(rounded(fall(bearing, x, y).0, fine));
            Offset::Polar(PolarOffset { distance, bearing: Degrees::clamped(bearing) })
        }
        Offset::Cartesian(_) => Offset::Cartesian(cartesian(dragged)),
    }
}

/// Both lengths, drawn to 0 and to one another.
fn cartesian(&DraggedOffset { x, y, scale, fine, .. }: &DraggedOffset) -> CartesianOffset {
    let near = |length: f64| !fine && length.abs() * scale < SNAP_PX;
    let across = if near(x) { 0.0 } else { rounded(x, fine) };
    let down = if near(y) { 0.0 } else { rounded(y, fine) };
    let is_diagonal = across != 0.0 && down != 0.0 && near(across.abs() - down.abs());
    let down = if is_diagonal { across.abs().copysign(down) } else { down };
    CartesianOffset { x: OffsetPx::clamped(across), y: OffsetPx::clamped(down) }
}

/// The parts of an offset along and across the way a shadow falls under a bearing.
fn fall(bearing: f64, x: f64, y: f64) -> (f64, f64) {
    let away = direction((bearing + 90.0).to_radians());
    (x * away.x + y * away.y, x * away.y - y * away.x)
}

#[cfg(test)]
mod tests {
    use serde_json::{Value, json};

    fn dragged(offset: Value, bearing: f64, to: [f64; 2], more: Value) -> Value {
        let mut request = json!({
            "offset": offset, "bearing": bearing, "x": to[0], "y": to[1], "lights": [], "scale": 1, "fine": false
        });
        request.as_object_mut().unwrap().append(&mut more.as_object().unwrap().clone());
        serde_json::to_value(super::offset(&serde_json::from_value(request).unwrap())).unwrap()
    }

    #[test]
    fn an_offset_along_the_axes_is_drawn_to_them_and_to_the_diagonal() {
        let to = |x, y, more| dragged(json!({"x": 1, "y": 1}), 0.0, [x, y], more);
        assert_eq!(to(20.4, 41.6, json!({})), json!({"x": 20.0, "y": 42.0}));
        assert_eq!(to(20.44, 41.66, json!({"fine": true})), json!({"x": 20.4, "y": 41.7}));
        assert_eq!(to(4.0, 41.0, json!({})), json!({"x": 0.0, "y": 41.0}));
        assert_eq!(to(4.0, 41.0, json!({"scale": 2})), json!({"x": 4.0, "y": 41.0}), "px of the screen");
        assert_eq!(to(4.0, 41.0, json!({"fine": true})), json!({"x": 4.0, "y": 41.0}));
        assert_eq!(to(30.0, -27.0, json!({})), json!({"x": 30.0, "y": -30.0}));
        assert_eq!(to(1e9, 3e9, json!({})), json!({"x": 10000.0, "y": 10000.0}), "the largest there is");
    }

    #[test]
    fn a_distance_and_bearing_stay_that_and_are_drawn_to_lights() {
        let to = |distance: f64, x, y, more| {
            dragged(json!({"distance": distance, "bearing": 90}), 90.0, [x, y], more)
        };
        assert_eq!(to(10.0, 0.0, 20.0, json!({})), json!({"distance": 20.0, "bearing": 0.0}));
        assert_eq!(to(10.0, 1.0, 20.0, json!({})), json!({"distance": 20.0, "bearing": 0.0}));
        assert_eq!(to(10.0, -20.0, 0.0, json!({})), json!({"distance": 20.0, "bearing": 90.0}));
        let beside = to(10.0, -11.8, 16.2, json!({"lights": [37]}));
        assert_eq!(beside, json!({"distance": 20.0, "bearing": 37.0}), "nearer than 30° and 45°");
        let free = to(10.0, -11.8, 16.2, json!({"lights": [37], "fine": true}));
        assert_eq!(free, json!({"distance": 20.0, "bearing": 36.1}));
        let turned = to(-10.0, 0.0, 20.0, json!({}));
        assert_eq!(turned, json!({"distance": -20.0, "bearing": 180.0}), "towards the light");
    }

    #[test]
    fn an_offset_that_follows_a_light_leaves_it_only_well_beside_it() {
        let to = |x, y, more| dragged(json!({"distance": 10, "follows": "sun"}), 0.0, [x, y], more);
        let following = |distance: f64| json!({"distance": distance, "follows": "sun"});
        assert_eq!(to(0.0, 30.0, json!({})), following(30.0));
        assert_eq!(to(20.0, 30.0, json!({})), following(30.0));
        assert_eq!(to(0.0, -30.0, json!({})), following(-30.0));
        assert_eq!(to(28.0, 200.0, json!({})), following(200.0), "a share of its length");
        assert_eq!(to(30.0, 30.0, json!({})), json!({"x": 30.0, "y": 30.0}));
        assert_eq!(to(15.0, 30.0, json!({"scale": 2})), json!({"x": 15.0, "y": 30.0}));
    }

    proptest::proptest! {
        /// Where it resolves to is where it was dragged, as far as the bearing it is drawn to allows.
        #[test]
        fn it_lies_under_the_hand(x in -80.0..80.0, y in -80.0..80.0, bearing in 0.0..360.0, length in 1.0..60.0_f64) {
            let found = dragged(
                json!({"distance": length, "bearing": bearing}), bearing, [x, y], json!({"lights": [bearing]}),
            );
            let (distance, bearing) = (found["distance"].as_f64().unwrap(), found["bearing"].as_f64().unwrap());
            // CSS px: 0° is a light at the top, whose shadows fall down.
            let (sin, cos) = bearing.to_radians().sin_cos();
            let missed = (x + distance * sin).hypot(y - distance * cos);
            let allowed = x.hypot(y) * (4.01_f64).to_radians().sin() + 0.51;
            proptest::prop_assert!(missed <= allowed, "{missed} of {allowed}");
        }
    }
}
