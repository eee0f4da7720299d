//! Checks of shapes: paths that can be drawn, fonts that are there, parts of joins and groups.

use super::Check;
use crate::geometry::text::{family_names, has_family};
use crate::limits;
use crate::model::{DrawingShape, ElementRun, GroupShape, JoinShape, PathShape, Shape};

impl<'a> Check<'a> {
    pub(super) fn shape(&mut self, at: &str, shape: &'a Shape) {
        match shape {
            Shape::Picture(picture) => self.asset(&format!("{at}/asset"), &picture.asset),
            Shape::Drawing(drawing) => self.drawing(at, drawing),
            Shape::Join(join) => self.join(at, join),
            Shape::Group(group) => self.group(at, group),
            Shape::Path(path) => self.path(at, path),
            Shape::Text(text) if !self.fonts.contains(text.font.as_str()) && !has_family(&text.font) => {
                let families = family_names();
                let message = format!(
                    "expected one of {families}, or a font among the assets, found \"{}\"",
                    text.font
                );
                self.problem(&format!("{at}/font"), message);
            }
            Shape::Text(text) => {
                self.characters(&format!("{at}/string"), &text.string, limits::TEXT_CHARACTERS);
            }
            Shape::Box(_) | Shape::Ellipse(_) => {}
        }
    }

    fn drawing(&mut self, at: &str, drawing: &'a DrawingShape) {
        self.asset(&format!("{at}/asset"), &drawing.asset);
        if let Some(ElementRun { from, to }) = drawing.elements.filter(|run| run.from >= run.to) {
            let message = format!("expected the place after the last element, more than {from}, found {to}");
            self.problem(&format!("{at}/elements/to"), message);
        }
    }

    fn join(&mut self, at: &str, join: &'a JoinShape) {
        if join.parts.is_empty() || join.parts.len() > limits::JOIN_PARTS {
            let found = join.parts.len();
            self.problem(
                &format!("{at}/parts"),
                format!("expected 1 to {} parts, found {found}", limits::JOIN_PARTS),
            );
        }
        if self.is_too_deep(at) {
            return;
        }
        for (number, part) in join.parts.iter().enumerate() {
            self.expect_outline(&format!("{at}/parts/{number}/shape"), &part.shape);
        }
        self.unique(&format!("{at}/parts"), join.parts.iter().map(|part| &part.id));
        self.pieces(&format!("{at}/parts"), &join.parts);
    }

    fn group(&mut self, at: &str, group: &'a GroupShape) {
        if group.parts.is_empty() {
            self.problem(&format!("{at}/parts"), "expected at least one part");
        }
        if !self.is_too_deep(at) {
            self.pieces(&format!("{at}/parts"), &group.parts);
        }
    }

    /// Whether parts lie in parts too often, which is a problem.
    fn is_too_deep(&mut self, at: &str) -> bool {
        let is_deep = at.matches("/parts/").count() >= limits::PART_DEPTH;
        if is_deep {
            self.problem(at, format!("expected groups and joins no more than {} deep", limits::PART_DEPTH));
        }
        is_deep
    }

    /// A group has no outline of its own.
    fn expect_outline(&mut self, at: &str, shape: &Shape) {
        if matches!(shape, Shape::Group(_)) {
            self.problem(at, "expected a shape with an outline, found a group");
        }
    }

    /// A shape that stands for its outline alone.
    pub(super) fn outline(&mut self, at: &str, shape: &'a Shape) {
        self.expect_outline(at, shape);
        self.shape(at, shape);
    }

    fn path(&mut self, at: &str, path: &PathShape) {
        let [x, y, width, height] = path.viewbox;
        let usable = [x, y, width, height].iter().all(|number| number.abs() <= 1e6);
        if !usable || width <= 1e-6 || height <= 1e-6 {
            let message = "expected x, y, width and height, within a million and larger than nothing";
            self.problem(&format!("{at}/viewbox"), message);
        }
        match crate::maths::path(&path.d) {
            Err(error) => {
                self.problem(&format!("{at}/d"), format!("expected SVG path data: {error}"));
            }
            Ok(parsed) => {
                if parsed.elements().len() > limits::PATH_ELEMENTS {
                    let found = parsed.elements().len();
                    let message =
                        format!("expected at most {} lines and curves, found {found}", limits::PATH_ELEMENTS);
                    self.problem(&format!("{at}/d"), message);
                }
                let bounds = kurbo::Shape::bounding_box(&parsed);
                let reach = [bounds.x0, bounds.y0, bounds.x1, bounds.y1];
                if !reach.iter().all(|number| number.abs() <= 1e6) {
                    self.problem(&format!("{at}/d"), "expected path data within a million of its origin");
                }
            }
        }
    }
}
