//! The element that CSS rules are for.

use std::fmt::Write as _;

use super::paint::{filled, own_picture_url};
use crate::blend::{BlendMode, mode_text};
use crate::geometry::Silhouette;
use crate::markup::{data, escaped, transform};
use crate::model::{Shape, Surface};
use crate::resolve::{Paint, Piece};
use crate::syntax::number_text;

/// A piece without its coats as HTML: a `div` for a box, a `p` for text, an inline `svg` for an icon, an `img` for a
/// picture.
#[must_use]
pub fn element(piece: &Piece, shape: &Shape, class: &str) -> String {
    if let Shape::Text(text) = shape {
        return format!("<p class=\"{class}\">{}</p>\n", escaped(&text.string));
    }
    match &piece.silhouette {
        Silhouette::Box(_) => format!("<div class=\"{class}\"></div>\n"),
        Silhouette::Alpha(_) | Silhouette::Drawing(_) => {
            let url = own_picture_url(piece);
            format!("<img class=\"{class}\" alt=\"{}\" src=\"{url}\">\n", escaped(&piece.name))
        }
        Silhouette::Outline(_) => icon(piece, class),
    }
}

fn icon(piece: &Piece, class: &str) -> String {
    let (width, height) = piece.silhouette.size();
    let (w, h) = (number_text(width), number_text(height));
    let mut text = format!(
        "<svg class=\"{class}\" viewBox=\"0 0 {w} {h}\" width=\"{w}\" height=\"{h}\" overflow=\"visible\" role=\"img\" aria-label=\"{}\">\n",
        escaped(&piece.name)
    );
    if piece.surface == Surface::Keep {
        text.push_str(&painted(piece, class));
    }
    text.push_str("</svg>\n");
    text
}

/// The fill of a piece and of the parts it is joined from, in its own px.
pub fn painted(piece: &Piece, id: &str) -> String {
    let outline = piece.silhouette.outline();
    let mut text = String::new();
    if piece.parts.is_empty() || piece.fill != Paint::None {
        let fill = filled(&piece.fill, &format!("{id}-fill"), piece.silhouette.size().into());
        let _ = writeln!(text, "{}<path d=\"{}\"{}/>", fill.definition, data(&outline.path), fill.attributes);
    }
    if !piece.parts.is_empty() {
        let clip = format!("{id}-join");
        let _ = writeln!(text, "<clipPath id=\"{clip}\"><path d=\"{}\"/></clipPath>", data(&outline.path));
        let _ = writeln!(text, "<g clip-path=\"url(#{clip})\">");
        for (at, part) in piece.parts.iter().enumerate() {
            let inner = painted(part, &format!("{id}-{at}"));
            let mut group = mixing_attributes(part);
            if let Some(clip) = &part.clip {
                let path = clip.place * clip.silhouette.outline().path.clone();
                let _ = writeln!(
                    text,
                    "<clipPath id=\"{id}-{at}-clip\"><path d=\"{}\"/></clipPath>",
                    data(&path)
                );
                let _ = write!(group, " clip-path=\"url(#{id}-{at}-clip)\"");
            }
            let _ = writeln!(text, "<g{group}><g{}>{inner}</g></g>", transform(part.place()));
        }
        text.push_str("</g>\n");
    }
    text
}

/// Blend mode and opacity of a piece as attributes of a group; nothing where it is normal and solid.
pub(crate) fn mixing_attributes(piece: &Piece) -> String {
    let mut attributes = blend_style(piece.blend);
    if piece.opacity < 1.0 {
        let _ = write!(attributes, " opacity=\"{}\"", number_text(piece.opacity));
    }
    attributes
}

/// The style of a blend mode, with the space before it; nothing for normal.
pub(crate) fn blend_style(mode: BlendMode) -> String {
    if mode == BlendMode::Normal {
        String::new()
    } else {
        format!(" style=\"mix-blend-mode:{}\"", mode_text(mode))
    }
}
