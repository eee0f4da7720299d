//! One piece as an SVG file of its own, for a page to show in place of an element.

use kurbo::{Rect, Shape as _};

use super::backdrop::Backdrops;
use super::standalone::{StandAlone, within};
use crate::lower::{Notes, piece_filter};
use crate::markup::svg_url;
use crate::resolve::{Paint, Piece, Scene};
use crate::syntax::{px, slug};

/// A piece with all its coats as a file, and the ways to put it into a page.
#[derive(Debug, Clone, PartialEq)]
pub struct StandaloneDrawing {
    /// The file, and its differences from the design.
    pub file: StandAlone,
    /// An `<img>` that shows it where the piece is, its shadows beyond.
    pub img: String,
    /// A rule that shows it as the background of an element of the piece's size.
    pub background: String,
}

/// One piece of a scene on no ground.
#[must_use]
pub fn alone(scene: &Scene, piece: &Piece) -> StandaloneDrawing {
    let body =
        (piece.place() * piece.outer.place() * piece.outer.silhouette.outline().path.clone()).bounding_box();
    let [left, top, right, bottom] = piece_filter(piece, &mut Notes::default()).reach();
    let shown = Rect::new(body.x0 - left, body.y0 - top, body.x1 + right, body.y1 + bottom).expand();
    let single = Scene { ground: Paint::None, ..scene.with_pieces(vec![piece.clone()]) };
    let class = slug(&piece.name);
    // Several of them may stand in one page.
    let file = within(&single, Backdrops::LeftOut, shown, &format!("{class}-"));
    let url = svg_url(&file.svg);
    let (width, height) = piece.silhouette.size();
    let out =
        [piece.y - shown.y0, shown.x1 - piece.x - width, shown.y1 - piece.y - height, piece.x - shown.x0];
    let margin = out.map(|side| px(-side)).join(" ");
    let alt = crate::markup::escaped(&piece.name);
    StandaloneDrawing {
        img: format!("<img src=\"{url}\" alt=\"{alt}\" style=\"margin: {margin}\">\n"),
        background: format!(
            ".{class} {{\n  position: relative;\n  width: {};\n  height: {};\n}}\n\n\
             .{class}::before {{\n  content: \"\";\n  position: absolute;\n  inset: {margin};\n  background: url(\"{url}\");\n}}\n",
            px(width),
            px(height),
        ),
        file,
    }
}
