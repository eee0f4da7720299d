//! Controls: buttons, fields and the like. Only a control has states, and every piece in one follows the nearest around it.

use std::collections::BTreeMap;

use super::{Coat, Id, OwnCoats, Piece, Project, Scene, Shape, State, Wear};

impl Piece {
    /// The piece with these coats in every state.
    #[must_use]
    pub fn wearing(&self, coats: Vec<Coat>) -> Self {
        let wear = Wear::Coats(OwnCoats { coats });
        Self { wear, states: BTreeMap::new(), shows: None, ..self.clone() }
    }

    /// The controls within it, at any depth.
    #[must_use]
    pub fn inner_controls(&self) -> Vec<&Self> {
        let mut found = Vec::new();
        if let Shape::Group(group) = &self.shape {
            for part in &group.parts {
                found.extend(part.control.then_some(part));
                found.extend(part.inner_controls());
            }
        }
        found
    }
}

impl Project {
    /// The coats of each state of a piece, its own or those of the finish it wears.
    #[must_use]
    pub fn states_of<'a>(&'a self, piece: &'a Piece) -> &'a BTreeMap<State, Vec<Coat>> {
        let Wear::Finish(worn) = &piece.wear else { return &piece.states };
        let finish = self.finishes.iter().find(|finish| finish.id == worn.finish);
        finish.map_or(&piece.states, |finish| &finish.states)
    }

    /// The coats of a piece in a state under a theme: those at rest where the state has none.
    #[must_use]
    pub fn coats_in_state<'a>(&'a self, piece: &'a Piece, theme: &Id, state: Option<State>) -> &'a [Coat] {
        let there = state.and_then(|state| self.states_of(piece).get(&state));
        there.map_or_else(|| self.coats_of(piece, theme), Vec::as_slice)
    }

    /// The coats of a piece as its scene shows it.
    #[must_use]
    pub fn shown_coats<'a>(&'a self, scene: &'a Scene, piece: &'a Piece) -> &'a [Coat] {
        self.coats_in_state(piece, &scene.theme, scene.shown_state(&piece.id))
    }

    /// The control that a piece of a scene follows: the nearest around it, or itself. A piece with states that lies in none
    /// is one by itself.
    #[must_use]
    pub fn control_of<'a>(&'a self, scene: &'a Scene, piece: &'a Piece) -> Option<&'a Piece> {
        let path = scene.path_to(&piece.id);
        let nearest = path.iter().rev().find(|other| other.control).copied();
        nearest.or_else(|| (!self.states_of(piece).is_empty()).then_some(piece))
    }
}

impl Scene {
    /// The groups around a piece, outermost first, then the piece itself; empty for no piece of the scene.
    #[must_use]
    pub fn path_to(&self, id: &Id) -> Vec<&Piece> {
        let (mut path, mut list) = (Vec::new(), self.pieces.as_slice());
        while let Some(piece) = list.iter().find(|piece| piece.find(id).is_some()) {
            path.push(piece);
            if piece.id == *id {
                return path;
            }
            list = piece.shape.parts();
        }
        Vec::new()
    }

    /// The state in which pictures show a piece: its own, or that of the control around it.
    #[must_use]
    pub fn shown_state(&self, id: &Id) -> Option<State> {
        self.path_to(id).into_iter().fold(None, |around, piece| piece.shown_in(around))
    }
}

impl Piece {
    /// The state in which it is shown, in a group that is shown in a state. A control in another does not follow that.
    #[must_use]
    pub fn shown_in(&self, around: Option<State>) -> Option<State> {
        if self.control { self.shows } else { self.shows.or(around) }
    }
}
