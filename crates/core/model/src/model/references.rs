//! References of a document: shared finishes, lights and swatches, with the place of each reference.

use super::{
    Coat, CoatKind, ColourSource, Fill, Finish, GradientDirection, Id, Offset, Piece, Project, Shape, Stop,
    Wear,
};
use crate::syntax::pointer::child;

/// One reference of a document. Behind `&mut`, so that a visit can put another in its place.
pub enum Reference<'a> {
    /// A piece wears a finish.
    Finish(&'a mut Id),
    /// Something follows a light.
    Light(&'a mut Id),
    /// A colour: written out, a swatch, or taken from something.
    Colour(&'a mut ColourSource),
}

impl Project {
    /// Visits every id that pieces, coats, fills and grounds refer to. The text is the place, as a JSON pointer (RFC
    /// 6901).
    pub fn visit_references(&mut self, visit: &mut dyn FnMut(&str, Reference<'_>)) {
        let mut walk = Walk { visit };
        for (number, finish) in self.finishes.iter_mut().enumerate() {
            walk.finish(&format!("/finishes/{number}"), finish);
        }
        for (number, scene) in self.scenes.iter_mut().enumerate() {
            walk.fill(&format!("/scenes/{number}/ground"), &mut scene.ground);
            walk.pieces(&format!("/scenes/{number}/pieces"), &mut scene.pieces);
        }
    }
}

impl Finish {
    /// As [`Project::visit_references`], from the finish on.
    pub fn visit_references(&mut self, visit: &mut dyn FnMut(&str, Reference<'_>)) {
        Walk { visit }.finish("", self);
    }
}

struct Walk<'v> {
    visit: &'v mut dyn FnMut(&str, Reference<'_>),
}

impl Walk<'_> {
    fn finish(&mut self, at: &str, finish: &mut Finish) {
        self.coats(&format!("{at}/coats"), &mut finish.coats);
        for (theme, coats) in &mut finish.themes {
            self.coats(&child(&format!("{at}/themes"), theme.as_str()), coats);
        }
        for (state, coats) in &mut finish.states {
            self.coats(&format!("{at}/states/{}", state.name()), coats);
        }
    }

    fn pieces(&mut self, at: &str, pieces: &mut [Piece]) {
        for (number, piece) in pieces.iter_mut().enumerate() {
            let at = format!("{at}/{number}");
            self.shape(&format!("{at}/shape"), &mut piece.shape);
            self.fill(&format!("{at}/fill"), &mut piece.fill);
            match &mut piece.wear {
                Wear::Finish(worn) => {
                    (self.visit)(&format!("{at}/wear/finish"), Reference::Finish(&mut worn.finish));
                }
                Wear::Coats(own) => self.coats(&format!("{at}/wear/coats"), &mut own.coats),
            }
            for (state, coats) in &mut piece.states {
                self.coats(&format!("{at}/states/{}", state.name()), coats);
            }
        }
    }

    fn shape(&mut self, at: &str, shape: &mut Shape) {
        self.pieces(&format!("{at}/parts"), shape.parts_mut());
    }

    fn coats(&mut self, at: &str, coats: &mut [Coat]) {
        for (number, coat) in coats.iter_mut().enumerate() {
            self.coat(&format!("{at}/{number}"), &mut coat.kind);
        }
    }

    fn coat(&mut self, at: &str, kind: &mut CoatKind) {
        match kind {
            CoatKind::Drop(drop) => {
                self.offset(at, &mut drop.offset);
                self.colour(&format!("{at}/colour"), &mut drop.colour);
                if let Some(substitute) = &mut drop.substitute {
                    self.shape(&format!("{at}/substitute/shape"), &mut substitute.shape);
                }
            }
            CoatKind::Inner(inner) => {
                self.offset(at, &mut inner.offset);
                self.colour(&format!("{at}/colour"), &mut inner.colour);
            }
            CoatKind::Highlight(highlight) => {
                self.shape(&format!("{at}/spot/shape"), &mut highlight.spot.shape);
                self.fill(&format!("{at}/fill"), &mut highlight.fill);
                self.light(at, highlight.follows.as_mut());
            }
            CoatKind::Tint(tint) => self.fill(&format!("{at}/fill"), &mut tint.fill),
            CoatKind::Stroke(stroke) => self.fill(&format!("{at}/fill"), &mut stroke.fill),
            CoatKind::Extrude(extrude) => {
                self.offset(at, &mut extrude.offset);
                self.colour(&format!("{at}/near"), &mut extrude.near);
                self.colour(&format!("{at}/far"), &mut extrude.far);
            }
            CoatKind::Cast(cast) => {
                self.light(at, cast.follows.as_mut());
                self.colour(&format!("{at}/colour"), &mut cast.colour);
            }
            CoatKind::Ramp(ramp) => {
                for (name, end) in [("near", &mut ramp.near), ("far", &mut ramp.far)] {
                    self.offset(&format!("{at}/{name}"), &mut end.offset);
                    self.colour(&format!("{at}/{name}/colour"), &mut end.colour);
                }
            }
            CoatKind::Raised(raised) => {
                self.light(at, raised.follows.as_mut());
                self.colour(&format!("{at}/colour"), &mut raised.colour);
            }
            CoatKind::Blur(_) | CoatKind::Backdrop(_) => {}
        }
    }

    /// `at` is the place of the offset.
    fn offset(&mut self, at: &str, offset: &mut Offset) {
        if let Offset::Following(following) = offset {
            self.light(&format!("{at}/offset"), Some(&mut following.follows));
        }
    }

    /// `at` is the place of the value that may follow a light.
    fn light(&mut self, at: &str, light: Option<&mut Id>) {
        if let Some(light) = light {
            (self.visit)(&format!("{at}/follows"), Reference::Light(light));
        }
    }

    fn fill(&mut self, at: &str, fill: &mut Fill) {
        match fill {
            Fill::Solid(solid) => self.colour(&format!("{at}/colour"), &mut solid.colour),
            Fill::Linear(linear) => {
                if let GradientDirection::Follows(direction) = &mut linear.direction {
                    self.light(at, Some(&mut direction.follows));
                }
                self.stops(at, &mut linear.stops);
            }
            Fill::Radial(radial) => self.stops(at, &mut radial.stops),
            Fill::None(_) | Fill::Image(_) => {}
        }
    }

    fn stops(&mut self, at: &str, stops: &mut [Stop]) {
        for (number, stop) in stops.iter_mut().enumerate() {
            self.colour(&format!("{at}/stops/{number}/colour"), &mut stop.colour);
        }
    }

    fn colour(&mut self, at: &str, colour: &mut ColourSource) {
        (self.visit)(at, Reference::Colour(colour));
    }
}
