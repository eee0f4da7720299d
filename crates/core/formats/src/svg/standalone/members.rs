//! The members of a group that is drawn as one thing, with the coats on it.

use std::fmt::Write as _;

use kurbo::{Rect, Vec2};

use super::Writer;
use crate::blend::BlendMode;
use crate::markup::{blend_style, data, transform};
use crate::resolve::{Coat, PaintOp, Piece, surface_sigma};
use crate::svg::strokes::crosses_the_edge;

impl Writer<'_> {
    /// Its members over one another, then the coats on all of them, each cut to the union of the members.
    pub(super) fn members(&mut self, group: &Piece) {
        let blur = self.blur(surface_sigma(&group.coats), painted_bounds(group));
        let _ = writeln!(self.text, "<g{blur} style=\"isolation:isolate\">");
        for member in &group.members {
            self.piece(member, None);
        }
        let outline = data(&(group.outer.place() * group.outer.silhouette.outline().path.clone()));
        let on = |coat: &&Coat| coat.op.is_on_surface() && !matches!(coat.op, PaintOp::Blur(_));
        for coat in group.coats.iter().rev().filter(on) {
            let is_across = crosses_the_edge(coat);
            let cut = if is_across { String::new() } else { self.cut(&outline, group) };
            // The mask makes a layer of its own, so the layer is blended and not its content.
            let _ = writeln!(self.text, "<g{}{cut}{}>", transform(group.place()), blend_style(coat.blend));
            self.on(group, &Coat { blend: BlendMode::Normal, ..coat.clone() });
            self.text.push_str("</g>\n");
        }
        self.text.push_str("</g>\n");
    }
}

/// Where anything of a piece may be painted on the scene, in px: its silhouette with the coats under it, and its members.
fn painted_bounds(piece: &Piece) -> Rect {
    let own = piece.place().transform_rect_bbox(piece.outer.bounds());
    let with_coats = piece.coats.iter().fold(own, |all, coat| match &coat.op {
        PaintOp::Shadow(shadow) if !coat.op.is_on_surface() => {
            // Three standard deviations of a blur.
            let reach = shadow.spread.max(0.0) + shadow.blur * 1.5;
            all.union((own + Vec2::new(shadow.dx, shadow.dy)).inflate(reach, reach))
        }
        PaintOp::Extrude(extrude) => all.union(own + Vec2::new(extrude.dx, extrude.dy)),
        PaintOp::Cast(cast) => {
            let reach = own.height() * (cast.shear.abs() + cast.squash.abs())
                + cast.blur_far.max(cast.blur_near) * 1.5;
            all.union(own.inflate(reach, reach))
        }
        PaintOp::Shadow(_)
        | PaintOp::Highlight(_)
        | PaintOp::Tint(_)
        | PaintOp::Stroke { .. }
        | PaintOp::Blur(_)
        | PaintOp::Backdrop(_) => all,
    });
    piece.members.iter().map(painted_bounds).fold(with_coats, |all, member| all.union(member))
}
