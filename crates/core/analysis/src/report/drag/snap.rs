//! A dragged piece, drawn to the edges and middles of others.

use serde::{Deserialize, Serialize};

use super::SNAP_PX;

/// A box on the scene, in px.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DragBox {
    /// Its left edge.
    pub x: f64,
    /// Its upper edge.
    pub y: f64,
    /// Its width.
    pub w: f64,
    /// Its height.
    pub h: f64,
}

/// The size of a scene, in px.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SceneSize {
    /// Its width.
    pub width: f64,
    /// Its height.
    pub height: f64,
}

/// A box and where it was dragged to.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DraggedBox {
    /// The box there.
    pub dragged: DragBox,
    /// Boxes that it may be drawn to.
    pub others: Vec<DragBox>,
    /// The scene, to whose edges and middle it is drawn too.
    pub scene: SceneSize,
    /// Px of the screen for a px of the scene.
    pub scale: f64,
    /// Drawn to nothing.
    pub fine: bool,
}

/// Where the box lies then.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SnappedBox {
    /// Its left edge.
    pub x: f64,
    /// Its upper edge.
    pub y: f64,
    /// Lines it shares with others, and its distances to them.
    pub guides: Vec<Guide>,
}

/// A line that boxes share, or the distance between two.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Guide {
    /// One end, as x and y.
    pub from: [f64; 2],
    /// The other end.
    pub to: [f64; 2],
    /// The distance in px, where it is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gap: Option<f64>,
}

/// Moves the box onto the nearest edge or middle of another or of the scene, where one is near, on each axis.
#[must_use]
pub fn snap(drag: &DraggedBox) -> SnappedBox {
    let reach = if drag.fine { -1.0 } else { SNAP_PX / drag.scale };
    let SceneSize { width, height } = drag.scene;
    let scene = DragBox { x: 0.0, y: 0.0, w: width, h: height };
    let mut placed = drag.dragged;
    let mut lines = Vec::new();
    for axis in [Axis::Across, Axis::Down] {
        let candidates = drag.others.iter().chain([&scene]).map(|other| axis.span(other));
        let Some(meeting) = nearest(axis.span(&drag.dragged), candidates, reach) else { continue };
        match axis {
            Axis::Across => placed.x += meeting.by,
            Axis::Down => placed.y += meeting.by,
        }
        lines.push((axis, meeting.at));
    }
    let shared = lines.into_iter().map(|(axis, at)| shared_line(axis, at, &placed, drag));
    let guides = shared.chain(gaps(&placed, &drag.others)).collect();
    SnappedBox { x: placed.x, y: placed.y, guides }
}

#[derive(Debug, Clone, Copy)]
enum Axis {
    Across,
    Down,
}

/// A box along one axis.
#[derive(Debug, Clone, Copy)]
struct Span {
    start: f64,
    length: f64,
}

impl Axis {
    fn span(self, of: &DragBox) -> Span {
        match self {
            Self::Across => Span { start: of.x, length: of.w },
            Self::Down => Span { start: of.y, length: of.h },
        }
    }

    fn other(self) -> Self {
        match self {
            Self::Across => Self::Down,
            Self::Down => Self::Across,
        }
    }

    /// The point at `along` on this axis and `beside` on the other.
    fn point(self, along: f64, beside: f64) -> [f64; 2] {
        match self {
            Self::Across => [along, beside],
            Self::Down => [beside, along],
        }
    }
}

impl Span {
    fn end(self) -> f64 {
        self.start + self.length
    }

    /// Its edges and its middle.
    fn marks(self) -> [f64; 3] {
        [self.start, self.start + self.length / 2.0, self.end()]
    }

    fn overlaps(self, other: Self) -> bool {
        other.start < self.end() && self.start < other.end()
    }
}

/// A mark that two boxes come to share.
struct Meeting {
    by: f64,
    at: f64,
}

fn nearest(own: Span, others: impl Iterator<Item = Span>, reach: f64) -> Option<Meeting> {
    let marks = others.flat_map(Span::marks);
    let meetings =
        marks.flat_map(|mark| own.marks().map(|own_mark| Meeting { by: mark - own_mark, at: mark }));
    meetings.filter(|meeting| meeting.by.abs() <= reach).min_by(|a, b| a.by.abs().total_cmp(&b.by.abs()))
}

/// The line at `at`, from one end of all boxes that share it to the other; from edge to edge of the scene where none does.
fn shared_line(axis: Axis, at: f64, placed: &DragBox, drag: &DraggedBox) -> Guide {
    let beside = axis.other();
    let shares = |other: &&DragBox| axis.span(other).marks().iter().any(|mark| (mark - at).abs() < 0.01);
    let mut spans: Vec<Span> = drag.others.iter().filter(shares).map(|other| beside.span(other)).collect();
    if spans.is_empty() {
        let SceneSize { width, height } = drag.scene;
        spans.push(beside.span(&DragBox { x: 0.0, y: 0.0, w: width, h: height }));
    }
    spans.push(beside.span(placed));
    let from = spans.iter().map(|span| span.start).fold(f64::INFINITY, f64::min);
    let to = spans.iter().map(|span| span.end()).fold(f64::NEG_INFINITY, f64::max);
    Guide { from: axis.point(at, from), to: axis.point(at, to), gap: None }
}

/// The distance to the nearest box on each side, of those that it would meet there.
fn gaps(placed: &DragBox, others: &[DragBox]) -> Vec<Guide> {
    let mut guides = Vec::new();
    for axis in [Axis::Across, Axis::Down] {
        let (own, own_beside) = (axis.span(placed), axis.other().span(placed));
        let passed = || others.iter().filter(|other| own_beside.overlaps(axis.other().span(other)));
        let before = passed()
            .filter(|other| axis.span(other).end() <= own.start)
            .max_by(|a, b| axis.span(a).end().total_cmp(&axis.span(b).end()));
        let after = passed()
            .filter(|other| axis.span(other).start >= own.end())
            .min_by(|a, b| axis.span(a).start.total_cmp(&axis.span(b).start));
        let distance = |from: f64, to: f64, other: &DragBox| {
            let beside = axis.other().span(other);
            let middle = (own_beside.start.max(beside.start) + own_beside.end().min(beside.end())) / 2.0;
            Guide { from: axis.point(from, middle), to: axis.point(to, middle), gap: Some(to - from) }
        };
        guides.extend(before.map(|other| distance(axis.span(other).end(), own.start, other)));
        guides.extend(after.map(|other| distance(own.end(), axis.span(other).start, other)));
    }
    guides.retain(|guide| guide.gap != Some(0.0));
    guides
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(x: f64, y: f64, w: f64, h: f64) -> DragBox {
        DragBox { x, y, w, h }
    }

    fn small(x: f64, y: f64) -> DragBox {
        at(x, y, 100.0, 60.0)
    }

    fn snapped(dragged: DragBox, others: &[DragBox], reach: f64) -> SnappedBox {
        let scene = SceneSize { width: 1000.0, height: 800.0 };
        snap(&DraggedBox { dragged, others: others.to_vec(), scene, scale: SNAP_PX / reach, fine: false })
    }

    #[test]
    fn a_box_is_drawn_to_what_is_near_and_to_nothing_else() {
        let cases = [
            ("left to left", small(304.0, 640.0), 300.0, 640.0),
            ("right to left", small(197.0, 640.0), 200.0, 640.0),
            ("middle to middle", small(347.0, 640.0), 350.0, 640.0),
            ("top to bottom", small(640.0, 303.0), 640.0, 300.0),
            ("middle to middle, down", small(640.0, 222.0), 640.0, 220.0),
            ("the scene's right edge", small(896.0, 500.0), 900.0, 500.0),
            ("the scene's middle", small(453.0, 640.0), 450.0, 640.0),
            ("just near", small(306.0, 640.0), 300.0, 640.0),
            ("not near", small(307.0, 640.0), 307.0, 640.0),
        ];
        for (what, dragged, x, y) in cases {
            let placed = snapped(dragged, &[at(300.0, 200.0, 200.0, 100.0)], 6.0);
            assert_eq!((placed.x, placed.y), (x, y), "{what}");
        }
        let nearer = snapped(small(302.0, 500.0), &[small(300.0, 0.0), small(303.0, 100.0)], 6.0);
        assert_eq!(nearer.x, 303.0);
    }

    #[test]
    fn a_shared_line_goes_from_one_end_of_all_to_the_other() {
        let placed = snapped(small(302.0, 640.0), &[at(300.0, 200.0, 200.0, 100.0)], 6.0);
        assert_eq!(placed.guides[0], Guide { from: [300.0, 200.0], to: [300.0, 700.0], gap: None });
        let alone = snapped(small(4.0, 333.0), &[], 6.0);
        assert_eq!(
            alone.guides[0],
            Guide { from: [0.0, 0.0], to: [0.0, 800.0], gap: None },
            "the scene's edge"
        );
    }

    #[test]
    fn the_distance_to_the_nearest_box_on_each_side_is_told_and_to_no_other() {
        let places =
            [[0.0, 400.0], [150.0, 400.0], [700.0, 400.0], [400.0, 100.0], [400.0, 700.0], [900.0, 0.0]];
        let others = places.map(|[x, y]| small(x, y));
        let placed = snapped(small(411.0, 409.0), &others, 0.5);
        let gaps: Vec<f64> = placed.guides.iter().filter_map(|guide| guide.gap).collect();
        assert_eq!(gaps, [161.0, 189.0, 249.0, 231.0]);
        let left = placed.guides.iter().find(|guide| guide.gap == Some(161.0)).unwrap();
        assert_eq!((left.from, left.to), ([250.0, 434.5], [411.0, 434.5]));
        let touching = snapped(small(200.0, 400.0), &[small(100.0, 400.0)], 0.5);
        assert!(touching.guides.iter().all(|guide| guide.gap.is_none()));
    }

    proptest::proptest! {
        #[test]
        fn a_box_moves_by_no_more_than_is_near_and_a_second_time_not_at_all(
            boxes in proptest::collection::vec((0.0..1000.0, 0.0..800.0, 1.0..300.0, 1.0..200.0), 1..7),
        ) {
            let boxes: Vec<DragBox> = boxes.into_iter().map(|(x, y, w, h)| at(x, y, w, h)).collect();
            let (dragged, others) = (boxes[0], &boxes[1..]);
            let first = snapped(dragged, others, 6.0);
            proptest::prop_assert!((first.x - dragged.x).abs() <= 6.0 && (first.y - dragged.y).abs() <= 6.0);
            let second = snapped(DragBox { x: first.x, y: first.y, ..dragged }, others, 6.0);
            proptest::prop_assert!((second.x - first.x).abs() < 1e-9 && (second.y - first.y).abs() < 1e-9);
        }
    }
}
