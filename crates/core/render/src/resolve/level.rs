//! A list of pieces and where it lies: a scene's own, or the parts of a group on it.

use kurbo::{Affine, Point, Rect};

use super::scene::place_in;
use super::shape::silhouette;
use crate::asset::Assets;
use crate::model::{Degrees, Piece, Px, Shape, State};
use crate::syntax::tidy;

/// Pieces of one list, lowest first, and the way from their px to the scene's.
#[derive(Clone, Copy)]
pub(super) struct Level<'a> {
    pub pieces: &'a [Piece],
    place: Affine,
    /// Of all groups around it together, in degrees.
    rotation: f64,
    shows: Shows,
}

/// The state in which the pieces of a list are shown.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Shows {
    /// Their own, or that of the group around them.
    Own(Option<State>),
    /// This one, whatever the document says.
    Set(Option<State>),
}

impl<'a> Level<'a> {
    /// The list of a scene. The parts of a join are placed in the join as if that were one.
    pub fn of_scene(pieces: &'a [Piece]) -> Self {
        Self { pieces, place: Affine::IDENTITY, rotation: 0.0, shows: Shows::Own(None) }
    }

    /// The first pieces of the list.
    pub fn first(self, count: usize) -> Self {
        Self { pieces: &self.pieces[..count], ..self }
    }

    /// The same list with its pieces in a state, `None` at rest.
    pub fn in_state(self, state: Option<State>) -> Self {
        Self { shows: Shows::Set(state), ..self }
    }

    /// The state in which a piece of this list is shown.
    pub fn state_of(self, piece: &Piece) -> Option<State> {
        match self.shows {
            Shows::Own(around) => piece.shown_in(around),
            Shows::Set(state) => state,
        }
    }

    /// The parts of a group in this list.
    pub fn inside(self, group: &'a Piece, assets: &Assets) -> Self {
        let own = place_in(box_size(group, assets), group.x.get(), group.y.get(), group.rotation.get());
        Self {
            pieces: group.shape.parts(),
            place: self.place * own,
            rotation: self.rotation + group.rotation.get(),
            shows: match self.shows {
                Shows::Own(_) => Shows::Own(self.state_of(group)),
                Shows::Set(state) => Shows::Set(state),
            },
        }
    }

    /// Left, top and rotation, on the scene, of a piece of this list whose box has a size.
    pub fn place_box(self, piece: &Piece, (width, height): (f64, f64)) -> (f64, f64, f64) {
        let (x, y) = (piece.x.get(), piece.y.get());
        let rotation = self.rotation + piece.rotation.get();
        if self.rotation == 0.0 {
            // A move alone is exact.
            let by = self.place.translation();
            return (x + by.x, y + by.y, rotation);
        }
        let middle = self.place * Point::new(x + width / 2.0, y + height / 2.0);
        (middle.x - width / 2.0, middle.y - height / 2.0, rotation)
    }
}

/// The parts of a group as pieces of the list that it is in, where they lie.
#[must_use]
pub fn separated(group: &Piece, assets: &Assets) -> Vec<Piece> {
    let level = Level::of_scene(&[]).inside(group, assets);
    let place = |part: &Piece| {
        let (x, y, rotation) = level.place_box(part, box_size(part, assets));
        let [x, y] = [x, y].map(|at| Px::clamped(tidy(at)));
        Piece { x, y, rotation: Degrees::clamped(rotation), ..part.clone() }
    };
    level.pieces.iter().map(place).collect()
}

/// Width and height of a piece's box: a group's reaches as far as those of its parts.
#[must_use]
pub fn box_size(piece: &Piece, assets: &Assets) -> (f64, f64) {
    let Shape::Group(group) = &piece.shape else { return silhouette(&piece.shape, assets).size() };
    let boxes = group.parts.iter().filter(|part| !part.hidden).map(|part| {
        let (width, height) = box_size(part, assets);
        let place = place_in((width, height), part.x.get(), part.y.get(), part.rotation.get());
        place.transform_rect_bbox(Rect::new(0.0, 0.0, width, height))
    });
    boxes.fold((0.0, 0.0), |(width, height), part| (width.max(part.x1), height.max(part.y1)))
}
