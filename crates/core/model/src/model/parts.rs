//! Pieces within pieces.

use super::{Id, Opacity, Piece, Scene, Shape, Surface};
use crate::blend::BlendMode;

impl Piece {
    /// The same, to be changed.
    pub fn find_mut(&mut self, id: &Id) -> Option<&mut Self> {
        if self.id == *id {
            return Some(self);
        }
        let Shape::Group(group) = &mut self.shape else { return None };
        group.parts.iter_mut().find_map(|part| part.find_mut(id))
    }

    /// The piece of an id: itself, or one in it where it is a group.
    #[must_use]
    pub fn find(&self, id: &Id) -> Option<&Self> {
        if self.id == *id {
            return Some(self);
        }
        let Shape::Group(group) = &self.shape else { return None };
        group.parts.iter().find_map(|part| part.find(id))
    }
}

impl Shape {
    /// The pieces it is made of, where it is a join or a group.
    #[must_use]
    pub fn parts(&self) -> &[Piece] {
        match self {
            Self::Join(join) => &join.parts,
            Self::Group(group) => &group.parts,
            Self::Box(_)
            | Self::Ellipse(_)
            | Self::Path(_)
            | Self::Text(_)
            | Self::Picture(_)
            | Self::Drawing(_) => &[],
        }
    }

    /// As [`Self::parts`], to be changed.
    pub fn parts_mut(&mut self) -> &mut [Piece] {
        match self {
            Self::Join(join) => &mut join.parts,
            Self::Group(group) => &mut group.parts,
            Self::Box(_)
            | Self::Ellipse(_)
            | Self::Path(_)
            | Self::Text(_)
            | Self::Picture(_)
            | Self::Drawing(_) => &mut [],
        }
    }
}

impl Scene {
    /// The piece of an id, in a group or not.
    #[must_use]
    pub fn piece(&self, id: &str) -> Option<&Piece> {
        self.all_pieces().into_iter().find(|piece| piece.id.as_str() == id)
    }

    /// The same, to be changed.
    pub fn piece_mut(&mut self, id: &Id) -> Option<&mut Piece> {
        self.pieces.iter_mut().find_map(|piece| piece.find_mut(id))
    }

    /// The scene with the groups around a piece only arranging their parts, so that the piece is drawn by itself.
    #[must_use]
    pub fn opened_to(&self, id: &Id) -> Self {
        let mut opened = self.clone();
        let path: Vec<Id> = self.path_to(id).iter().map(|piece| piece.id.clone()).collect();
        for group in path.iter().filter(|other| *other != id) {
            if let Some(group) = opened.piece_mut(group) {
                *group = Piece {
                    opacity: Opacity::solid(),
                    blend: BlendMode::Normal,
                    surface: Surface::Keep,
                    clip_to: None,
                    shows: group.shows,
                    ..group.wearing(Vec::new())
                };
            }
        }
        opened
    }

    /// Every piece with those in groups, at any depth: a group, then its parts.
    #[must_use]
    pub fn all_pieces(&self) -> Vec<&Piece> {
        with_parts(&self.pieces, |_| true)
    }

    /// As [`Self::all_pieces`], without what is hidden by itself or with a group around it.
    #[must_use]
    pub fn shown_pieces(&self) -> Vec<&Piece> {
        with_parts(&self.pieces, |piece| !piece.hidden)
    }
}

fn with_parts(pieces: &[Piece], is_wanted: impl Fn(&Piece) -> bool) -> Vec<&Piece> {
    let (mut found, mut left) = (Vec::new(), pieces.iter().rev().collect::<Vec<_>>());
    while let Some(piece) = left.pop() {
        if !is_wanted(piece) {
            continue;
        }
        found.push(piece);
        if let Shape::Group(group) = &piece.shape {
            left.extend(group.parts.iter().rev());
        }
    }
    found
}

/// The pointer to a piece from its scene on, as names and numbers, by its places in the lists from the scene's own inward.
#[must_use]
pub fn piece_tokens(place: &[usize]) -> Vec<String> {
    let inner = |at: &usize| ["shape".to_owned(), "parts".to_owned(), at.to_string()];
    let (first, others) = place.split_at(place.len().min(1));
    let outer = first.iter().map(ToString::to_string);
    std::iter::once("pieces".to_owned()).chain(outer).chain(others.iter().flat_map(inner)).collect()
}

/// Pieces with those in groups, at any depth, each with its place in the document.
pub(super) fn placed_pieces<'a>(at: &str, pieces: &'a [Piece]) -> Vec<(String, &'a Piece)> {
    let list = |at: &str, pieces: &'a [Piece]| {
        let placed = pieces.iter().enumerate().map(|(number, piece)| (format!("{at}/{number}"), piece));
        placed.rev().collect::<Vec<_>>()
    };
    let (mut found, mut left) = (Vec::new(), list(at, pieces));
    while let Some((at, piece)) = left.pop() {
        if let Shape::Group(group) = &piece.shape {
            left.extend(list(&format!("{at}/shape/parts"), &group.parts));
        }
        found.push((at, piece));
    }
    found
}
