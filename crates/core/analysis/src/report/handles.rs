//! Where the handles of a coat and of a gradient lie on the scene, and which way they are dragged.

use kurbo::{Affine, Point, Vec2};
use serde::Serialize;

use crate::geometry::Silhouette;
use crate::measure::ScenePoint;
use crate::model::{Coat, CoatKind, Id, Raised};
use crate::resolve::{Context, Highlight, Paint, PaintOp, Piece, ResolvedOffset, gradient_line};

/// A handle of a coat on the scene.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Handle {
    /// The value it changes.
    pub kind: HandleKind,
    /// Where it is.
    pub at: ScenePoint,
    /// The point that a line connects it with.
    pub from: ScenePoint,
    /// The handle's own two axes: a drag changes its first value by the dot product with the first, and so on.
    pub axes: [[f64; 2]; 2],
}

/// The value that a handle changes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HandleKind {
    /// An offset, or that of a ramp's near end: x and y.
    Offset,
    /// The offset of a ramp's far end: x and y.
    FarOffset,
    /// The place of a highlight: x and y.
    Place,
    /// The size of a highlight: width and height, half of each.
    Size,
    /// The blur of a highlight: px along the first axis.
    Blur,
    /// The far end of a cast shadow: shear and squash.
    FarEnd,
    /// A height: px along the first axis.
    Height,
}

/// The line of a gradient that fills a piece.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GradientHandles {
    /// Where its first stop can be: the start of the line, or the centre of the circle.
    pub start: ScenePoint,
    /// Where its last stop can be: the end of the line, or a point of the circle.
    pub end: ScenePoint,
    /// The piece's own two axes.
    pub axes: [[f64; 2]; 2],
}

const UPRIGHT: [[f64; 2]; 2] = [[1.0, 0.0], [0.0, 1.0]];

/// The handles of a coat of a piece; none of a coat that is not drawn.
pub(crate) fn handles(
    piece: &Piece,
    coat: &Coat,
    context: Context<'_>,
    [near, far]: [Option<&ResolvedOffset>; 2],
) -> Vec<Handle> {
    let centre = point(piece.place() * middle(&piece.silhouette));
    let offset = |kind: HandleKind, offset: &ResolvedOffset| {
        let at = ScenePoint { x: centre.x + offset.x, y: centre.y + offset.y };
        Handle { kind, at, from: centre, axes: UPRIGHT }
    };
    let drawn = piece.coats.iter().find(|drawn| drawn.id == coat.id).map(|drawn| &drawn.op);
    let offsets = || {
        let near = near.map(|near| offset(HandleKind::Offset, near));
        let far = far.map(|far| offset(HandleKind::FarOffset, far));
        near.into_iter().chain(far).collect()
    };
    match &coat.kind {
        CoatKind::Highlight(model) => {
            let Some(PaintOp::Highlight(highlight)) = drawn else { return offsets() };
            highlight_handles(piece, highlight, light_turn(context, model.follows.as_ref())).into()
        }
        CoatKind::Cast(_) => {
            let Some(PaintOp::Cast(cast)) = drawn else { return offsets() };
            let height = cast.anchor.max(1.0);
            let from = ScenePoint { x: centre.x, y: piece.y + cast.anchor };
            let at = ScenePoint { x: from.x + cast.shear * height, y: from.y - cast.squash * height };
            let axes = [[1.0 / height, 0.0], [0.0, -1.0 / height]];
            vec![Handle { kind: HandleKind::FarEnd, at, from, axes }]
        }
        CoatKind::Drop(_)
        | CoatKind::Inner(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Blur(_)
        | CoatKind::Backdrop(_)
        | CoatKind::Extrude(_)
        | CoatKind::Ramp(_) => offsets(),
        CoatKind::Raised(raised) => height_handle(raised, centre, context).into_iter().collect(),
    }
}

/// A piece's height where its light's own shadow lies; where that lies under the piece, above it.
fn height_handle(raised: &Raised, from: ScenePoint, context: Context<'_>) -> Option<Handle> {
    let height = raised.height.get();
    let key = context.offset(&raised.offset(raised.shadows.first()?));
    let (x, y) = (key.x / height, key.y / height);
    let square = x * x + y * y;
    let (x, y, square) = if square > NEAR * NEAR { (x, y, square) } else { (0.0, -1.0, 1.0) };
    let at = ScenePoint { x: from.x + x * height, y: from.y + y * height };
    // So that a drag along the way to the handle is the height that puts it there.
    let axes = [[x / square, y / square], [0.0, 0.0]];
    Some(Handle { kind: HandleKind::Height, at, from, axes })
}

/// A shadow that is nearer than this for each px of its height cannot be dragged.
const NEAR: f64 = 0.1;

/// How far a highlight that follows a light is turned about the middle of its piece, in radians.
fn light_turn(context: Context<'_>, light: Option<&Id>) -> f64 {
    light.map_or(0.0, |light| context.bearing(light).to_radians())
}

fn highlight_handles(piece: &Piece, highlight: &Highlight, light_turn: f64) -> [Handle; 3] {
    let place = piece.place() * highlight.place;
    let (width, height) = highlight.silhouette.size();
    let from = point(place * middle(&highlight.silhouette));
    let axes = axes_of(piece.place());
    let handle = |kind, at: Point, axes| Handle { kind, at: point(place * at), from, axes };
    [
        handle(
            HandleKind::Place,
            middle(&highlight.silhouette),
            axes_of(piece.place() * crate::maths::rotation(light_turn)),
        ),
        handle(HandleKind::Size, Point::new(width, height), axes),
        handle(HandleKind::Blur, Point::new(width + highlight.blur, height / 2.0), axes),
    ]
}

/// The handles of the gradient that fills a piece; `None` for other fills.
pub(crate) fn gradient_handles(piece: &Piece) -> Option<GradientHandles> {
    let (width, height) = piece.silhouette.size();
    let (start, end) = match &piece.fill {
        Paint::Linear { angle, .. } => gradient_line(*angle, width, height),
        Paint::Radial { centre, radius, .. } => {
            let centre = Point::new(centre.0 * width, centre.1 * height);
            (centre, centre + Vec2::new(*radius, 0.0))
        }
        Paint::None | Paint::Solid(_) | Paint::Image { .. } => return None,
    };
    let place = piece.place();
    Some(GradientHandles { start: point(place * start), end: point(place * end), axes: axes_of(place) })
}

fn middle(silhouette: &Silhouette) -> Point {
    let (width, height) = silhouette.size();
    Point::new(width / 2.0, height / 2.0)
}

/// The axes of a space that is only turned and moved, on the scene.
pub(crate) fn axes_of(place: Affine) -> [[f64; 2]; 2] {
    let [a, b, c, d, ..] = place.as_coeffs();
    [[a, b], [c, d]]
}

fn point(at: Point) -> ScenePoint {
    ScenePoint { x: at.x, y: at.y }
}
