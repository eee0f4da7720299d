//! A scene or piece as an SVG file that needs nothing else: every coat is a shape of its own, so that other programs can
//! take it apart.

mod members;

use std::fmt::Write as _;

use kurbo::{Affine, BezPath, Rect, Shape as _, Size};

use super::backdrop::{BackdropPicture, Backdrops, backdrop};
use super::strokes::{crosses_the_edge, lie_below};
use crate::blur::blurs;
use crate::colour::{mix_oklab, solid_text};
use crate::geometry::{PlacedSilhouette, Silhouette, StrokeStyle};
use crate::lower::{Fidelity, FidelityNote, LITTLE_BLUR, Notes, piece_filter};
use crate::markup::{blend_style, blur_filter, data, escaped, filled, markup, mixing_attributes, transform};
use crate::model::Surface;
use crate::resolve::{
    Cast, Coat, Extrude, Paint, PaintOp, Piece, Scene, Shadow, ShadowKind, ShadowPaint, surface_sigma,
};
use crate::syntax::number_text;

/// An SVG file, and its differences from the design.
#[derive(Debug, Clone, PartialEq)]
pub struct StandAlone {
    /// The file's text.
    pub svg: String,
    /// Each difference.
    pub notes: Vec<FidelityNote>,
}

/// Nothing of a scene lies farther out, in px.
const EVERYWHERE: f64 = 20000.0;
/// Slices that an extrusion of two colours is written as.
const SLICES: u32 = 48;

/// A scene with all its pieces.
#[must_use]
pub fn standalone(scene: &Scene, backdrops: Backdrops) -> StandAlone {
    within(scene, backdrops, Rect::new(0.0, 0.0, scene.width, scene.height), "")
}

/// A part of a scene; `prefix` begins its ids.
pub(super) fn within(scene: &Scene, backdrops: Backdrops, shown: Rect, prefix: &str) -> StandAlone {
    let (text, definitions) = (String::new(), String::new());
    let mut writer = Writer { prefix, text, definitions, count: 0, notes: Notes::default() };
    let size = Size::new(scene.width, scene.height);
    let ground = writer.fill(&scene.ground, size);
    if scene.ground != Paint::None {
        let _ = writeln!(
            writer.text,
            "<rect width=\"{}\" height=\"{}\"{ground}/>",
            number_text(size.width),
            number_text(size.height)
        );
    }
    for (at, piece) in scene.pieces.iter().enumerate() {
        let behind = match backdrops {
            Backdrops::LeftOut => None,
            Backdrops::Pictures => backdrop(scene, at),
        };
        writer.piece(piece, behind.as_ref());
    }
    let [x, y, w, h] = [shown.x0, shown.y0, shown.width(), shown.height()].map(number_text);
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}\" height=\"{h}\" viewBox=\"{x} {y} {w} {h}\">\n\
         <defs>\n{}</defs>\n{}</svg>\n",
        writer.definitions, writer.text
    );
    StandAlone { svg, notes: writer.notes.0 }
}

struct Writer<'a> {
    prefix: &'a str,
    text: String,
    definitions: String,
    count: usize,
    notes: Notes,
}

impl Writer<'_> {
    fn id(&mut self, what: &str) -> String {
        self.count += 1;
        format!("{}{what}-{}", self.prefix, self.count)
    }

    fn fill(&mut self, paint: &Paint, size: Size) -> String {
        let id = self.id("fill");
        let fill = filled(paint, &id, size);
        self.definitions.push_str(&fill.definition);
        fill.attributes
    }

    /// A blur as a reference to it, with the space before it.
    fn blur(&mut self, sigma: f64, bounds: Rect) -> String {
        if sigma <= 0.0 {
            return String::new();
        }
        let id = self.id("blur");
        self.definitions.push_str(&blur_filter(&id, sigma, bounds));
        format!(" filter=\"url(#{id})\"")
    }

    fn piece(&mut self, piece: &Piece, behind: Option<&BackdropPicture>) {
        let group = self.mixing(piece);
        let _ = writeln!(self.text, "<g{group}>");
        let _ = writeln!(self.text, "<title>{}</title>", escaped(&piece.name));
        match behind {
            Some(behind) => self.behind(piece, behind),
            None => {
                for coat in piece.coats.iter().filter(|coat| matches!(coat.op, PaintOp::Backdrop(_))) {
                    self.notes.differs(
                        coat,
                        Fidelity::Dropped,
                        "SVG does not see what lies behind: left out",
                    );
                }
            }
        }
        if matches!(piece.silhouette, Silhouette::Alpha(_) | Silhouette::Drawing(_)) {
            self.picture(piece);
        } else {
            for coat in piece.coats.iter().rev().filter(|coat| !coat.op.is_on_surface()) {
                self.under(piece, coat);
            }
            self.on_it(piece);
        }
        self.text.push_str("</g>\n");
    }

    /// The surface with the coats on it, as one thing.
    fn on_it(&mut self, piece: &Piece) {
        if !piece.members.is_empty() {
            return self.members(piece);
        }
        let blur = self.blur(surface_sigma(&piece.coats), piece.outer.bounds());
        let _ = writeln!(self.text, "<g{}{blur} style=\"isolation:isolate\">", transform(piece.place()));
        self.surface(piece);
        self.text.push_str("</g>\n");
    }

    /// Blend mode and clip of a piece, as attributes of a group.
    fn mixing(&mut self, piece: &Piece) -> String {
        let clip = piece.clip.as_ref().map(|clip| {
            let path = clip.place * clip.silhouette.outline().path.clone();
            self.mask(&format!("<path d=\"{}\" fill=\"#fff\"/>", data(&path)), path.bounding_box())
        });
        mixing_attributes(piece) + &clip.unwrap_or_default()
    }

    /// A picture's coats are a filter on it: its silhouette is in its pixels.
    fn picture(&mut self, piece: &Piece) {
        let id = self.id("coats");
        let graph = piece_filter(piece, &mut self.notes).turned(-piece.rotation);
        let (width, height) = piece.silhouette.size();
        let filter = if graph.steps.is_empty() {
            String::new()
        } else {
            self.definitions.push_str(&markup(&graph, &id, Size { width, height }));
            format!(" filter=\"url(#{id})\"")
        };
        let url = crate::markup::own_picture_url(piece);
        let _ = writeln!(
            self.text,
            "<image width=\"{}\" height=\"{}\" preserveAspectRatio=\"none\"{}{filter} href=\"{url}\"/>",
            number_text(width),
            number_text(height),
            transform(piece.place()),
        );
    }

    fn under(&mut self, piece: &Piece, coat: &Coat) {
        let style = blend_style(coat.blend);
        match &coat.op {
            PaintOp::Shadow(shadow) => self.drop(piece, coat, shadow),
            PaintOp::Extrude(extrude) => self.extrude(piece, coat, extrude, &style),
            PaintOp::Cast(cast) => self.cast(piece, coat, cast, &style),
            PaintOp::Highlight(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_) => {}
        }
    }

    /// The backdrop of a piece as a picture, cut to the piece.
    fn behind(&mut self, piece: &Piece, behind: &BackdropPicture) {
        let path = piece.place() * piece.outer.place() * piece.outer.silhouette.outline().path.clone();
        let cut = self.mask(&format!("<path d=\"{}\" fill=\"#fff\"/>", data(&path)), path.bounding_box());
        let [x, y, width, height] = behind.at.map(number_text);
        let _ = writeln!(
            self.text,
            "<g{cut}><image x=\"{x}\" y=\"{y}\" width=\"{width}\" height=\"{height}\" preserveAspectRatio=\"none\" href=\"{}\"/></g>",
            behind.url
        );
    }

    fn drop(&mut self, piece: &Piece, coat: &Coat, shadow: &Shadow) {
        self.check(coat, shadow);
        let (body, at) = match &shadow.substitute {
            Some((silhouette, at)) => (PlacedSilhouette::plain(silhouette.clone()), Affine::translate(*at)),
            None => (piece.outer.clone(), Affine::IDENTITY),
        };
        let Some(grown) = body.spread(shadow.spread) else { return };
        let path = piece.place() * at * grown.place() * grown.silhouette.outline().path.clone();
        let path = Affine::translate((shadow.dx, shadow.dy)) * path;
        let blur = self.blur(shadow.blur / 2.0, path.bounding_box());
        let knocked =
            shadow.kind == (ShadowKind::Drop { knock_out: true }) || piece.surface == Surface::CutOut;
        let mask = if knocked { self.outside(piece) } else { String::new() };
        let fill = self.fill(&Paint::Solid(shadow.colour()), Size::ZERO);
        let style = blend_style(coat.blend);
        let name = escaped(&coat.name);
        let _ = writeln!(
            self.text,
            "<g{mask}{style}><path d=\"{}\"{fill}{blur}><title>{name}</title></path></g>",
            data(&path)
        );
    }

    /// A mask of everything but the piece.
    fn outside(&mut self, piece: &Piece) -> String {
        let path = piece.place() * piece.outer.place() * piece.outer.silhouette.outline().path.clone();
        let everywhere = Rect::new(-EVERYWHERE, -EVERYWHERE, EVERYWHERE, EVERYWHERE);
        let shapes = format!(
            "<path d=\"{}\" fill=\"#fff\"/><path d=\"{}\" fill=\"#000\"/>",
            data(&everywhere.to_path(0.1)),
            data(&path)
        );
        self.mask(&shapes, everywhere)
    }

    fn check(&mut self, coat: &Coat, shadow: &Shadow) {
        if shadow.blur > 0.0 && !blurs(shadow.blur / 2.0) {
            self.notes.differs(coat, Fidelity::Approximated, LITTLE_BLUR);
        }
        for (asked, what) in [
            (shadow.tone.falloff.is_some(), "SVG is written without its falloff"),
            (shadow.tone.grain.is_some(), "SVG is written without its grain"),
            (
                shadow.paint == ShadowPaint::Picture,
                "SVG is written in one colour instead of the piece's pixels",
            ),
        ] {
            if asked {
                self.notes.differs(coat, Fidelity::Approximated, what);
            }
        }
    }

    fn extrude(&mut self, piece: &Piece, coat: &Coat, extrude: &Extrude, style: &str) {
        let linear = piece.place().with_translation(kurbo::Vec2::ZERO).inverse();
        let own = (linear * kurbo::Point::new(extrude.dx, extrude.dy)).to_vec2();
        let slices = if extrude.near == extrude.far { 1 } else { SLICES };
        if slices > 1 {
            self.notes.differs(coat, Fidelity::Approximated, "its colours change in 48 steps");
        }
        let faded = Some(coat.opacity).filter(|share| *share < 1.0).map(number_text);
        let opacity = faded.map(|share| format!(" opacity=\"{share}\"")).unwrap_or_default();
        let _ = writeln!(self.text, "<g{opacity}{style}{}>", transform(piece.place() * piece.outer.place()));
        for slice in (1..=slices).rev() {
            let share = f64::from(slice) / f64::from(slices);
            let swept = piece.outer.silhouette.swept(own * share);
            let middle = (f64::from(slice) - 0.5) / f64::from(slices);
            let colour = mix_oklab(extrude.near, extrude.far, middle as f32);
            let fill = self.fill(&Paint::Solid(colour), Size::ZERO);
            let _ = writeln!(self.text, "<path d=\"{}\"{fill}/>", data(&swept.outline().path));
        }
        self.text.push_str("</g>\n");
    }

    fn cast(&mut self, piece: &Piece, coat: &Coat, cast: &Cast, style: &str) {
        if cast.blur_near != cast.blur_far {
            self.notes.differs(coat, Fidelity::Approximated, "SVG is written with the mean of its two blurs");
        }
        let anchor = piece.y + cast.anchor;
        let path = piece.place() * piece.outer.place() * piece.outer.silhouette.outline().path.clone();
        let top = path.bounding_box().y0;
        let projection = cast.projection(anchor);
        let shadow = projection * path;
        let bounds = shadow.bounding_box();
        let blur = self.blur((cast.blur_near + cast.blur_far) / 4.0, bounds);
        let far = projection * kurbo::Point::new(0.0, top);
        let id = self.id("fade");
        let a = cast.colour.a * coat.opacity as f32;
        let _ = writeln!(
            self.definitions,
            "<linearGradient id=\"{id}\" gradientUnits=\"userSpaceOnUse\" x1=\"0\" y1=\"{}\" x2=\"0\" y2=\"{}\">\
             <stop offset=\"0\" stop-color=\"{c}\" stop-opacity=\"{a}\"/><stop offset=\"1\" stop-color=\"{c}\" stop-opacity=\"{}\"/></linearGradient>",
            number_text(anchor),
            number_text(far.y),
            a * (1.0 - cast.fade as f32),
            c = solid_text(cast.colour),
        );
        let _ = writeln!(
            self.text,
            "<path d=\"{}\" fill=\"url(#{id})\"{blur}{style}><title>{}</title></path>",
            data(&shadow),
            escaped(&coat.name)
        );
    }

    /// The fill with the coats on it, in the piece's own px.
    fn surface(&mut self, piece: &Piece) {
        let outline = data(&piece.silhouette.outline().path);
        let coats: Vec<&Coat> = piece.coats.iter().rev().filter(|coat| coat.op.is_on_surface()).collect();
        let (across, on): (Vec<&Coat>, Vec<&Coat>) = coats.iter().partition(|coat| crosses_the_edge(coat));
        let below = lie_below(piece, &across);
        for coat in across.iter().filter(|_| below) {
            self.stroke(piece, coat);
        }
        if on.is_empty() && piece.parts.is_empty() {
            self.fill_of(piece, &outline);
        } else {
            let mut cut = self.cut(&outline, piece);
            let _ = writeln!(self.text, "<g{cut}>");
            self.fill_of(piece, &data(&all_over(piece)));
            self.parts(piece);
            for coat in coats {
                if !crosses_the_edge(coat) {
                    if cut.is_empty() {
                        cut = self.cut(&outline, piece);
                        let _ = writeln!(self.text, "</g>\n<g{cut}>");
                    }
                    self.on(piece, coat);
                } else if !below {
                    if !cut.is_empty() {
                        cut = String::new();
                        self.text.push_str("</g>\n<g>\n");
                    }
                    self.on(piece, coat);
                }
            }
            self.text.push_str("</g>\n");
            return;
        }
        for coat in across.iter().filter(|_| !below) {
            self.on(piece, coat);
        }
    }

    fn fill_of(&mut self, piece: &Piece, path: &str) {
        if piece.surface != Surface::Keep {
            return;
        }
        let between = piece.parts.first().and_then(|part| part.fill.mean()).map_or(Paint::None, Paint::Solid);
        let own = if piece.parts.is_empty() || piece.fill != Paint::None { &piece.fill } else { &between };
        if *own != Paint::None {
            let fill = self.fill(own, piece.silhouette.size().into());
            let _ = writeln!(self.text, "<path d=\"{path}\"{fill}/>");
        }
    }

    fn parts(&mut self, piece: &Piece) {
        if piece.surface != Surface::Keep || piece.parts.is_empty() {
            return;
        }
        let outer = piece.outer.place() * piece.outer.silhouette.outline().path.clone();
        let cut = self.cut(&data(&outer), piece);
        let _ = writeln!(self.text, "<g{cut}>");
        for part in &piece.parts {
            let group = self.mixing(part);
            let place = transform(part.place());
            let _ = writeln!(self.text, "<g{group}><g{place} style=\"isolation:isolate\">");
            self.surface(part);
            self.text.push_str("</g></g>\n");
        }
        self.text.push_str("</g>\n");
    }

    /// Cuts a group to a path of the piece as a whole: renderers take a clip path from each shape by itself, so that
    /// along its edge everything below shines through.
    fn cut(&mut self, path: &str, piece: &Piece) -> String {
        let bounds = piece.outer.bounds().union(piece.silhouette.bounds());
        self.mask(&format!("<path d=\"{path}\" fill=\"#fff\"/>"), bounds)
    }

    fn mask(&mut self, shapes: &str, bounds: Rect) -> String {
        let id = self.id("cut");
        let room = bounds.inflate(2.0, 2.0);
        let [x, y, w, h] =
            [room.x0.floor(), room.y0.floor(), room.width().ceil() + 1.0, room.height().ceil() + 1.0]
                .map(number_text);
        let _ = writeln!(
            self.definitions,
            "<mask id=\"{id}\" maskUnits=\"userSpaceOnUse\" x=\"{x}\" y=\"{y}\" width=\"{w}\" height=\"{h}\">{shapes}</mask>"
        );
        format!(" mask=\"url(#{id})\"")
    }

    fn clip(&mut self, path: &str) -> String {
        let id = self.id("clip");
        let _ = writeln!(self.definitions, "<clipPath id=\"{id}\"><path d=\"{path}\"/></clipPath>");
        format!(" clip-path=\"url(#{id})\"")
    }

    fn on(&mut self, piece: &Piece, coat: &Coat) {
        let mut style = blend_style(coat.blend);
        let name = escaped(&coat.name);
        if !matches!(coat.op, PaintOp::Shadow(_)) && coat.opacity < 1.0 {
            let _ = write!(style, " opacity=\"{}\"", number_text(coat.opacity));
        }
        match &coat.op {
            PaintOp::Shadow(shadow) => self.inner(piece, coat, shadow, &style),
            PaintOp::Tint(paint) => {
                let fill = self.fill(paint, piece.silhouette.size().into());
                let all = data(&all_over(piece));
                let _ = writeln!(self.text, "<path d=\"{all}\"{fill}{style}><title>{name}</title></path>");
            }
            PaintOp::Highlight(spot) => {
                let fill = self.fill(&spot.paint, spot.silhouette.size().into());
                let blur = self.blur(spot.blur / 2.0, spot.silhouette.bounds());
                let path = data(&spot.silhouette.outline().path);
                let place = transform(spot.place);
                let _ = writeln!(
                    self.text,
                    "<g{style}><path d=\"{path}\"{place}{fill}{blur}><title>{name}</title></path></g>"
                );
            }
            PaintOp::Stroke { style: stroke, paint } => {
                let (outer, inner) = stroke.around(&piece.silhouette);
                // What cuts the surface cuts a stroke inside it too.
                let mut ring = if crosses_the_edge(coat) {
                    outer.place() * outer.silhouette.outline().path.clone()
                } else {
                    all_over(piece)
                };
                if let Some(inner) = inner {
                    ring.extend(inner.place() * inner.silhouette.outline().path.clone());
                }
                self.outlined(
                    piece,
                    (stroke, paint),
                    &ring,
                    &format!("{style}><title>{name}</title></path>"),
                );
            }
            PaintOp::Blur(_) | PaintOp::Backdrop(_) | PaintOp::Extrude(_) | PaintOp::Cast(_) => {}
        }
    }

    /// The whole shape that a stroke outside the piece encloses, for the piece to lie on.
    fn stroke(&mut self, piece: &Piece, coat: &Coat) {
        let PaintOp::Stroke { style: stroke, paint } = &coat.op else { return };
        let outer = stroke.around(&piece.silhouette).0;
        let path = outer.place() * outer.silhouette.outline().path.clone();
        let end = format!("><title>{}</title></path>", escaped(&coat.name));
        self.outlined(piece, (stroke, paint), &path, &end);
    }

    /// A path with the fill of a stroke, which lies over the box that the stroke encloses.
    fn outlined(
        &mut self,
        piece: &Piece,
        (stroke, paint): (&StrokeStyle, &Paint),
        path: &BezPath,
        end: &str,
    ) {
        let (width, height) = piece.silhouette.size();
        let out = stroke.reach().0;
        let fill = self.fill(paint, Size::new(width + 2.0 * out, height + 2.0 * out));
        let back = Affine::translate((-out, -out));
        let path = data(&(back.inverse() * path.clone()));
        let _ = writeln!(self.text, "<path d=\"{path}\" fill-rule=\"evenodd\"{}{fill}{end}", transform(back));
    }

    /// Everything around a hole, blurred and seen only inside the silhouette.
    fn inner(&mut self, piece: &Piece, coat: &Coat, shadow: &Shadow, style: &str) {
        self.check(coat, shadow);
        let Some(hollow) = &piece.inner else { return };
        let linear = piece.place().with_translation(kurbo::Vec2::ZERO).inverse();
        let moved = linear * Affine::translate((shadow.dx, shadow.dy)) * linear.inverse();
        let seen = hollow.place() * hollow.silhouette.outline().path.clone();
        let room = 3.0 * shadow.blur + shadow.spread.abs() + crate::maths::hypot(shadow.dx, shadow.dy) + 8.0;
        let frame = seen.bounding_box().inflate(room, room);
        let mut path: BezPath = frame.to_path(0.1);
        if let Some(hole) = hollow.spread(-shadow.spread) {
            path.extend(moved * hole.place() * hole.silhouette.outline().path.clone());
        }
        // The silhouette cuts it already, but for strokes that lie inside.
        let inside = |coat: &Coat| matches!(&coat.op, PaintOp::Stroke { style, .. } if style.reach().1 > 0.0);
        let narrowed = piece.coats.iter().any(inside);
        let clip = if narrowed { self.clip(&data(&seen)) } else { String::new() };
        let blur = self.blur(shadow.blur / 2.0, frame);
        let fill = self.fill(&Paint::Solid(shadow.colour()), Size::ZERO);
        let _ = writeln!(
            self.text,
            "<g{clip}{style}><path d=\"{}\" fill-rule=\"evenodd\"{fill}{blur}><title>{}</title></path></g>",
            data(&path),
            escaped(&coat.name)
        );
    }
}

/// The piece's box and a little around it.
fn all_over(piece: &Piece) -> BezPath {
    piece.silhouette.bounds().inflate(1.0, 1.0).to_path(0.1)
}
