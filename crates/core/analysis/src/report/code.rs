//! A piece of a scene as code, a group with its parts.

use kurbo::Point;

use crate::asset::Assets;
use crate::css::{Code, CodeElement, CodeOptions, ElementPlace, nested_code, piece_code};
use crate::lower::scene_with_carried_shadows;
use crate::model::{Piece, Project, Scene, Shape};
use crate::resolve::{self, PieceStates};

/// In which states a piece is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Written {
    /// At rest, with the rules of its states.
    Live,
    /// As pictures show it.
    AsShown,
}

/// The code of a piece. The shadows of a group are on the part that can carry them.
pub fn code(
    project: &Project,
    scene: &Scene,
    piece: &Piece,
    (written, options): (Written, CodeOptions),
    assets: &Assets,
) -> Code {
    let carried = scene_with_carried_shadows(project, scene, assets);
    let piece = carried.piece(piece.id.as_str()).unwrap_or(piece);
    let writer = ElementWriter { project, scene: &carried, assets, written };
    let element = writer.element(piece, None);
    match piece.shape {
        Shape::Group(_) => nested_code(&element, options),
        Shape::Box(_)
        | Shape::Ellipse(_)
        | Shape::Path(_)
        | Shape::Text(_)
        | Shape::Picture(_)
        | Shape::Drawing(_)
        | Shape::Join(_) => piece_code(&element.piece, element.shape, &element.states, options),
    }
}

struct ElementWriter<'a> {
    project: &'a Project,
    scene: &'a Scene,
    assets: &'a Assets,
    written: Written,
}

impl ElementWriter<'_> {
    fn element<'p>(&self, piece: &'p Piece, place: Option<ElementPlace>) -> CodeElement<'p> {
        let Self { project, scene, assets, .. } = self;
        let (resolved, states) = match self.written {
            Written::Live => (
                resolve::piece_in_state(project, scene, piece, None, assets),
                resolve::states(project, scene, piece, assets),
            ),
            Written::AsShown => (resolve::piece(project, scene, piece, assets).0, PieceStates::default()),
        };
        let parts = match &piece.shape {
            Shape::Group(group) => {
                group.parts.iter().filter(|part| !part.hidden).map(|part| self.part(part)).collect()
            }
            Shape::Box(_)
            | Shape::Ellipse(_)
            | Shape::Path(_)
            | Shape::Text(_)
            | Shape::Picture(_)
            | Shape::Drawing(_)
            | Shape::Join(_) => Vec::new(),
        };
        CodeElement { piece: resolved, shape: &piece.shape, states, place, parts }
    }

    fn part<'p>(&self, part: &'p Piece) -> CodeElement<'p> {
        let at = Point::new(part.x.get(), part.y.get());
        self.element(part, Some(ElementPlace { at, rotation: part.rotation.get() }))
    }
}
