//! Painting elements of a drawing onto device pixels.

use kurbo::{Affine, Rect as Box, Shape as _};

use super::gradient::PlacedGradient;
use super::ink::{Area, Ink, Isolated, Paint};
use super::read::Drawing;
use super::tree;
use crate::blend::{BlendMode, Pixel, blend, over};
use crate::budget;
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect, Rows, rasterize};

/// Paints a drawing's elements over one another.
pub(super) struct Painter<'a> {
    pub drawing: &'a Drawing,
    /// From the drawing's fine units to device pixels.
    pub place: Affine,
}

impl Painter<'_> {
    /// Some elements over the pixels of a window; nothing beyond the drawing's edge.
    pub fn elements(&self, elements: &[super::Element], window: Rect) -> Rows<Pixel> {
        let page = self.drawing.page();
        let touched =
            elements.iter().map(|element| element.bounds).reduce(|a, b| a.union(b)).unwrap_or_default();
        let mut canvas = Rows::empty(self.device_rect(touched.intersect(page)).intersect(window));
        for element in elements {
            if budget::is_stopped() {
                break;
            }
            self.paint(&element.ink, &mut canvas);
        }
        if self.drawing.overflows {
            let page = rasterize(&page.to_path(0.1), self.place, canvas.rect);
            cover(&mut canvas, &page);
        }
        canvas
    }

    /// The device pixels that a rectangle of the drawing touches.
    fn device_rect(&self, area: Box) -> Rect {
        let bounds = self.place.transform_rect_bbox(area).inflate(1.0, 1.0);
        Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1)
    }

    fn paint(&self, ink: &Ink, canvas: &mut Rows<Pixel>) {
        match ink {
            Ink::Area(area) => self.area(area, canvas),
            Ink::Run(inks) => inks.iter().for_each(|ink| self.paint(ink, canvas)),
            Ink::Group(group) => self.group(group, canvas),
            Ink::Node(node) => {
                let place = self.place * Affine::scale(self.drawing.fineness);
                let tree = self.drawing.tree.as_ref();
                if let Some(pixels) = tree.and_then(|tree| tree::painted(tree, node, place, canvas.rect)) {
                    composite(&pixels, (1.0, node.blend), canvas);
                }
            }
        }
    }

    fn area(&self, area: &Area, canvas: &mut Rows<Pixel>) {
        let seen = self.device_rect(area.bounds).intersect(canvas.rect);
        if seen.is_empty() {
            return;
        }
        let mask = rasterize(&area.outline, self.place, seen);
        match &area.paint {
            Paint::Colour(colour) => {
                let colour = colour.premultiplied();
                each_pixel(&mask, canvas, |_, _, coverage, pixel| {
                    *pixel = over(colour.map(|part| part * coverage), *pixel);
                });
            }
            Paint::Gradient(gradient, to_gradient) => {
                let placed = PlacedGradient { gradient, to_gradient: *to_gradient * self.place.inverse() };
                each_pixel(&mask, canvas, |x, y, coverage, pixel| {
                    *pixel = over(placed.pixel(x, y).map(|part| part * coverage), *pixel);
                });
            }
        }
    }

    fn group(&self, group: &Isolated, canvas: &mut Rows<Pixel>) {
        let bounds = group.inks.iter().filter_map(bounds).reduce(|a, b| a.union(b));
        let rect = bounds.map_or(canvas.rect, |bounds| self.device_rect(bounds).intersect(canvas.rect));
        if rect.is_empty() {
            return;
        }
        let mut own = Rows::empty(rect);
        group.inks.iter().for_each(|ink| self.paint(ink, &mut own));
        for clip in &group.clips {
            let mask = rasterize(clip, self.place, rect);
            cover(&mut own, &mask);
        }
        composite(&own, (group.opacity, group.blend), canvas);
    }
}

/// The smallest rectangle around an ink; `None` where that is not known.
fn bounds(ink: &Ink) -> Option<Box> {
    match ink {
        Ink::Area(area) => Some(area.bounds),
        Ink::Run(inks) => all_bounds(inks),
        Ink::Group(group) => all_bounds(&group.inks),
        Ink::Node(_) => Some(EVERYWHERE),
    }
}

/// A rectangle around every drawing.
const EVERYWHERE: Box = Box::new(-1e6, -1e6, 1e6, 1e6);

fn all_bounds(inks: &[Ink]) -> Option<Box> {
    inks.iter().filter_map(bounds).reduce(|a, b| a.union(b))
}

/// Works on every pixel of a canvas that a mask covers, given with its place and coverage.
fn each_pixel(mask: &Mask, canvas: &mut Rows<Pixel>, work: impl Fn(i32, i32, f32, &mut Pixel) + Sync) {
    let (rect, width) = (canvas.rect, canvas.rect.width());
    let seen = mask.rect.intersect(rect);
    if seen.is_empty() {
        return;
    }
    let rows = (seen.y0 - rect.y0) as usize * width..(seen.y1 - rect.y0) as usize * width;
    for_each_row(&mut canvas.values_mut()[rows], width, |row, pixels| {
        let y = seen.y0 + row;
        let (start, coverage) = mask.span(y, rect.x0, width);
        for (i, coverage) in coverage.iter().enumerate() {
            if *coverage > 0.0 {
                work(rect.x0 + (start + i) as i32, y, *coverage, &mut pixels[start + i]);
            }
        }
    });
}

/// Cuts a canvas to a mask.
fn cover(canvas: &mut Rows<Pixel>, mask: &Mask) {
    let (rect, width) = (canvas.rect, canvas.rect.width());
    for_each_row(canvas.values_mut(), width, |row, pixels| {
        let (start, coverage) = mask.span(rect.y0 + row, rect.x0, width);
        for (i, pixel) in pixels.iter_mut().enumerate() {
            let covered = i.checked_sub(start).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0);
            *pixel = pixel.map(|part| part * covered);
        }
    });
}

/// Composites pixels over a canvas, with an opacity and a blend mode.
fn composite(source: &Rows<Pixel>, (opacity, mode): (f32, BlendMode), canvas: &mut Rows<Pixel>) {
    let (rect, width) = (canvas.rect, canvas.rect.width());
    for_each_row(canvas.values_mut(), width, |row, pixels| {
        let (start, sources) = source.span(rect.y0 + row, rect.x0, width);
        for (pixel, source) in pixels[start..].iter_mut().zip(sources) {
            let source = source.map(|part| part * opacity);
            *pixel = match mode {
                BlendMode::Normal => over(source, *pixel),
                mode => blend(mode, source, *pixel),
            };
        }
    });
}
