//! Where a coat really lies: its outline after offset and spread, and where it has faded out.

use kurbo::Affine;
use serde::Serialize;

use crate::geometry::{PlacedSilhouette, Silhouette};
use crate::model::Id;
use crate::resolve::{Cast, Highlight, PaintOp, Piece, Shadow, ShadowKind};
use crate::syntax::path_text;

/// The outline of one shadow, patch or far end on the scene.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Trace {
    /// After offset and spread: SVG path data in the scene's px. Empty when the spread leaves nothing.
    pub edge: String,
    /// Where it has faded out, one blur radius farther; `None` without blur, and for steps between the ends of a ramp.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub faded: Option<String>,
}

/// The traces of a coat: none without an outline of its own, one for each step of a ramp.
#[must_use]
pub fn traces(piece: &Piece, coat: &Id) -> Vec<Trace> {
    let drawn: Vec<_> = piece.coats.iter().filter(|drawn| drawn.id == *coat).collect();
    let last = drawn.len().saturating_sub(1);
    // Moving an edge takes long for joins and letters, and nobody wants to see where every step of a ramp ends.
    let traced = drawn.iter().enumerate().map(|(i, drawn)| trace(piece, &drawn.op, i == 0 || i == last));
    traced.flatten().collect()
}

fn trace(piece: &Piece, op: &PaintOp, is_end: bool) -> Option<Trace> {
    match op {
        PaintOp::Shadow(shadow) => shadow_trace(piece, shadow, is_end),
        PaintOp::Highlight(spot) => Some(spot_trace(piece, spot)),
        PaintOp::Extrude(extrude) => {
            let far = Affine::translate((extrude.dx, extrude.dy)) * piece.place() * piece.outer.place();
            Some(Trace {
                edge: silhouette_path(&piece.outer.silhouette.simplified(CLOSENESS), far),
                faded: None,
            })
        }
        PaintOp::Cast(cast) => Some(cast_trace(piece, cast)),
        PaintOp::Tint(_) | PaintOp::Stroke { .. } | PaintOp::Blur(_) | PaintOp::Backdrop(_) => None,
    }
}

fn shadow_trace(piece: &Piece, shadow: &Shadow, is_end: bool) -> Option<Trace> {
    let inner = matches!(shadow.kind, ShadowKind::Inner);
    // The hole of an inner shadow shrinks where a drop shadow grows.
    let outward = if inner { -1.0 } else { 1.0 };
    let body = match (&shadow.substitute, inner) {
        (Some((silhouette, at)), _) => PlacedSilhouette { silhouette: silhouette.clone(), x: at.x, y: at.y },
        (None, true) => piece.inner.clone()?,
        (None, false) => piece.outer.clone(),
    };
    let place = Affine::translate((shadow.dx, shadow.dy)) * piece.place() * body.place();
    let body = body.silhouette.simplified(CLOSENESS);
    let at = |spread: f64| moved(&body, outward * spread, place);
    let faded = (is_end && shadow.blur > 0.0).then(|| at(shadow.spread + shadow.blur)).flatten();
    Some(Trace { edge: at(shadow.spread).unwrap_or_default(), faded })
}

fn spot_trace(piece: &Piece, spot: &Highlight) -> Trace {
    let place = piece.place() * spot.place;
    let at = |by: f64| moved(&spot.silhouette.simplified(CLOSENESS), by, place);
    let faded = (spot.blur > 0.0).then(|| at(spot.blur)).flatten();
    Trace { edge: at(0.0).unwrap_or_default(), faded }
}

/// The sheared and squashed silhouette, as `compose` throws it.
fn cast_trace(piece: &Piece, cast: &Cast) -> Trace {
    // The anchor line is level however the piece is turned: the floor does not turn with it.
    let thrown = cast.projection(piece.y + cast.anchor);
    let place = thrown * piece.place() * piece.outer.place();
    Trace { edge: silhouette_path(&piece.outer.silhouette.simplified(CLOSENESS), place), faded: None }
}

/// How far each step of making a trace may take it from the edge it stands for, in px: it is a line to be seen, and made anew
/// while a hand moves.
const CLOSENESS: f64 = 0.03;
/// Decimals of coordinates: a hundredth of a px.
const DECIMALS: i32 = 2;

/// SVG path data of a silhouette with its edge moved outward; nothing where nothing is left.
fn moved(silhouette: &Silhouette, by: f64, place: Affine) -> Option<String> {
    let moved = silhouette.approximate_spread(by, CLOSENESS)?;
    Some(silhouette_path(&moved.silhouette, place * moved.place()))
}

/// SVG path data of a silhouette on the scene.
fn silhouette_path(silhouette: &Silhouette, place: Affine) -> String {
    path_text(&(place * silhouette.outline().path.clone()), DECIMALS)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::asset::Assets;
    use crate::model::Project;
    use crate::resolve;
    use kurbo::{BezPath, Shape as _};
    use serde_json::json;

    fn traced(shape: &serde_json::Value, coat: &serde_json::Value) -> Vec<Trace> {
        let document = json!({
            "schema": 1, "name": "t", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
            "scenes": [{"id": "a", "name": "A", "width": 400, "height": 300, "theme": "t", "ground": {"kind": "none"},
                "pieces": [{"id": "p", "name": "P", "shape": shape, "x": 100, "y": 80, "wear": {"coats": [coat]}}]}]
        });
        let project = Project::from_value(&document).expect("a project");
        let scene = &project.scenes[0];
        let (piece, _) = resolve::piece(&project, scene, &scene.pieces[0], &Assets::default());
        traces(&piece, &Id::new("c").expect("an id"))
    }

    fn bounds(path: &str) -> kurbo::Rect {
        BezPath::from_svg(path).expect("path data").bounding_box()
    }

    #[test]
    fn a_drop_shadow_lies_where_offset_and_spread_put_it() {
        let coat = json!({"id": "c", "name": "c", "on": true, "kind": "drop", "offset": {"x": 10, "y": 20}, "blur": 8, "spread": -5, "colour": "#000"});
        for shape in [
            json!({"kind": "box", "w": 60, "h": 40}),
            json!({"kind": "path", "d": "M0 0H60V40H0Z", "viewbox": [0, 0, 60, 40], "w": 60, "h": 40}),
        ] {
            let traces = traced(&shape, &coat);
            let near = |found: kurbo::Rect, wanted: kurbo::Rect| {
                let corners = |r: kurbo::Rect| [r.x0, r.y0, r.x1, r.y1];
                let off = corners(found).into_iter().zip(corners(wanted)).map(|(a, b)| (a - b).abs());
                assert!(off.fold(0.0, f64::max) < 0.02, "{found:?} {wanted:?}");
            };
            near(bounds(&traces[0].edge), kurbo::Rect::new(115.0, 105.0, 165.0, 135.0));
            near(
                bounds(traces[0].faded.as_deref().expect("faded")),
                kurbo::Rect::new(107.0, 97.0, 173.0, 143.0),
            );
        }
    }

    /// The edge of a disc after spread and blur is a circle, and so is the line where it has faded out: lines of few
    /// points, none of them far from the circle.
    #[test]
    fn traces_have_few_points_and_stay_close_to_the_edge() {
        let disc = json!({"kind": "path", "d": "M0 50A50 50 0 0 1 100 50A50 50 0 0 1 0 50Z", "viewbox": [0, 0, 100, 100], "w": 100, "h": 100});
        let coat = json!({"id": "c", "name": "c", "on": true, "kind": "drop", "offset": {"x": 0, "y": 0}, "blur": 20, "spread": 7, "colour": "#000"});
        let traces = traced(&disc, &coat);
        for (text, radius) in [(&traces[0].edge, 57.0), (traces[0].faded.as_ref().expect("faded"), 77.0)] {
            let path = BezPath::from_svg(text).expect("path data");
            assert!(path.elements().len() < 150, "{} points", path.elements().len());
            // Middles of the lines as well, which are farthest from it.
            for line in path.segments() {
                for at in [0.0, 0.5] {
                    let off = (kurbo::ParamCurve::eval(&line, at) - kurbo::Point::new(150.0, 130.0)).hypot()
                        - radius;
                    assert!(off.abs() < 3.0 * CLOSENESS, "{off} from the circle of {radius}");
                }
            }
        }
    }

    #[test]
    fn an_inner_shadow_grows_inward_and_a_ramp_has_a_trace_a_step() {
        let shape = json!({"kind": "box", "w": 60, "h": 40});
        let inner = json!({"id": "c", "name": "c", "on": true, "kind": "inner", "offset": {"x": 0, "y": 3}, "blur": 0, "spread": 4, "colour": "#000"});
        let traces = traced(&shape, &inner);
        assert_eq!(bounds(&traces[0].edge), kurbo::Rect::new(104.0, 87.0, 156.0, 119.0));
        assert_eq!(traces[0].faded, None);
        let end = |y: f64| json!({"offset": {"x": 0, "y": y}, "blur": 2, "spread": 0, "colour": "#000"});
        let ramp = json!({"id": "c", "name": "c", "on": true, "kind": "ramp", "shadow": "drop", "near": end(1.0), "far": end(30.0), "count": 5, "growth": 1, "lean": 0, "total": 0.5});
        let faded: Vec<bool> = traced(&shape, &ramp).iter().map(|trace| trace.faded.is_some()).collect();
        assert_eq!(faded, [true, false, false, false, true]);
    }
}
