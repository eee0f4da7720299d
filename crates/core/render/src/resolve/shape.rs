//! Shapes to silhouettes.

use std::sync::Arc;

use kurbo::Affine;

use super::paint::Paint;
use super::scene::{Context, Piece, place_of};
use crate::asset::Assets;
use crate::geometry::{
    AlphaShape, DrawnShape, JoinOp, Outline, Part, RoundedBox, Silhouette, joined, path_outline, text,
};
use crate::maths::snapped;
use crate::model::{self, Shape};
use crate::raster::Fit;

/// The geometry of a shape; a picture that is missing has the box it was given.
#[must_use]
pub fn silhouette(shape: &Shape, assets: &Assets) -> Silhouette {
    resolve(shape, assets, &mut |_| ()).0
}

impl Context<'_> {
    /// The geometry of a shape, and its own paint.
    pub(super) fn silhouette(
        &self,
        shape: &Shape,
        report: &mut impl FnMut(String),
    ) -> (Silhouette, Option<Paint>) {
        resolve(shape, self.assets, report)
    }
}

fn resolve(shape: &Shape, assets: &Assets, report: &mut impl FnMut(String)) -> (Silhouette, Option<Paint>) {
    let silhouette = match shape {
        Shape::Box(shape) => {
            let radii = corner_radii(shape.radii);
            Silhouette::Box(RoundedBox::new(shape.w.get(), shape.h.get(), radii))
        }
        Shape::Ellipse(shape) => Silhouette::Box(RoundedBox::ellipse(shape.w.get(), shape.h.get())),
        Shape::Text(shape) => Silhouette::Outline(set(shape, assets, report)),
        Shape::Path(shape) => Silhouette::Outline(path(shape)),
        Shape::Picture(picture) => {
            let (width, height) = (picture.w.get(), picture.h.get());
            let Some(bitmap) = assets.get(&picture.asset) else {
                report(format!("the picture \"{}\" is not here: left empty", picture.asset));
                return (Silhouette::Box(RoundedBox::new(width, height, [(0.0, 0.0); 4])), Some(Paint::None));
            };
            let bitmap = Arc::clone(bitmap);
            let fill = Paint::Image { bitmap: Arc::clone(&bitmap), fit: Fit::Stretch, bare: true };
            return (Silhouette::Alpha(Arc::new(AlphaShape { bitmap, width, height })), Some(fill));
        }
        Shape::Drawing(drawing) => return drawn(drawing, assets, report),
        Shape::Join(join) => joined_parts(&join.parts, join.op, join.rounding.get(), assets),
        Shape::Group(group) => joined_parts(&group.parts, JoinOp::Add, 0.0, assets),
    };
    (silhouette, None)
}

/// A drawing, with a picture of it for colours that are taken from it.
fn drawn(
    shape: &model::DrawingShape,
    assets: &Assets,
    report: &mut impl FnMut(String),
) -> (Silhouette, Option<Paint>) {
    let (width, height) = (shape.w.get(), shape.h.get());
    let empty = || (Silhouette::Box(RoundedBox::new(width, height, [(0.0, 0.0); 4])), Some(Paint::None));
    let drawing = match assets.drawing(&shape.asset) {
        Some(Ok(drawing)) => drawing,
        Some(Err(error)) => {
            report(format!("the drawing \"{}\": {error}: left empty", shape.asset));
            return empty();
        }
        None => {
            report(format!("the drawing \"{}\" is not here: left empty", shape.asset));
            return empty();
        }
    };
    if !drawing.missing_families.is_empty() {
        let families = drawing.missing_families.join(", ");
        report(format!(
            "fonts of the drawing that are not here: {families}: set in {}",
            text::FAMILIES[0].name
        ));
    }
    let run = shape.elements.map_or(0..usize::MAX, |run| run.from as usize..run.to as usize);
    let drawn = DrawnShape::new(drawing, run, width, height);
    let fill = Paint::Image { bitmap: drawn.colours(), fit: Fit::Stretch, bare: true };
    (Silhouette::Drawing(Arc::new(drawn)), Some(fill))
}

/// The silhouette of parts that are not hidden, where they lie in their join or group.
fn joined_parts(parts: &[model::Piece], op: JoinOp, rounding: f64, assets: &Assets) -> Silhouette {
    let shown: Vec<_> = parts.iter().filter(|part| !part.hidden).collect();
    let silhouettes: Vec<_> = shown.iter().map(|part| silhouette(&part.shape, assets)).collect();
    let parts: Vec<_> = shown
        .iter()
        .zip(&silhouettes)
        .map(|(part, silhouette)| Part {
            silhouette,
            place: place_of(silhouette, part.x.get(), part.y.get(), part.rotation.get()),
        })
        .collect();
    joined(&parts, op, rounding)
}

/// A text in its font; in one that ships where that is not here.
fn set(shape: &model::TextShape, assets: &Assets, report: &mut impl FnMut(String)) -> Arc<Outline> {
    let faces = assets.faces(&shape.font);
    if !faces.is_empty() || text::has_family(&shape.font) {
        let outline = text::outline(shape, &faces);
        if !faces.is_empty() && outline.path.elements().is_empty() && !shape.string.trim().is_empty() {
            report(format!("the font \"{}\" has none of these letters: left empty", shape.font));
        }
        return outline;
    }
    let instead = text::FAMILIES[0].name;
    report(format!("the font \"{}\" is not here: set in {instead}", shape.font));
    text::outline(&model::TextShape { font: instead.to_owned(), ..shape.clone() }, &[])
}

/// The silhouette of pieces with the strokes outside them; `place` leads from where they lie to the join or group.
pub(super) fn join_of(pieces: &[Piece], op: JoinOp, rounding: f64, place: Affine) -> Silhouette {
    let parts: Vec<_> = pieces
        .iter()
        .map(|piece| {
            let body = &piece.outer;
            Part { silhouette: &body.silhouette, place: snapped(place * piece.place() * body.place()) }
        })
        .collect();
    joined(&parts, op, rounding)
}

fn path(shape: &model::PathShape) -> Arc<Outline> {
    // The text was parsed when the document was checked.
    let path = crate::maths::path(&shape.d).unwrap_or_default();
    path_outline(&path, shape.viewbox, shape.w.get(), shape.h.get(), shape.rounding.get())
}

fn corner_radii(radii: model::Radii) -> [(f64, f64); 4] {
    match radii {
        model::Radii::All(radius) => [(radius.get(), radius.get()); 4],
        model::Radii::Each(corners) => corners.map(|corner| match corner {
            model::CornerRadius::Circle(radius) => (radius.get(), radius.get()),
            model::CornerRadius::Ellipse(radius) => (radius.x.get(), radius.y.get()),
        }),
    }
}
