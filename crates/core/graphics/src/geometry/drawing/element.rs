//! The elements of a drawing.

use std::borrow::Cow;
use std::ops::Range;

use kurbo::{Affine, BezPath, Point, Rect};

use super::gradient::{Line, Spread};
use super::ink::{Area, Ink, Paint};
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::StrokeStyle;

/// An element of a drawing that is painted as one, or the smallest one that can be.
#[derive(Debug, Clone)]
pub struct Element {
    /// Its name in the file: its title, label, id or text, or the kind of element it is.
    pub name: String,
    /// The names of the groups around it, outermost first.
    pub groups: Vec<String>,
    /// The name of its tag.
    pub tag: String,
    /// The bytes of the file that it stands in, where it is one element of it.
    pub source: Option<Range<usize>>,
    /// From the px that its tag is written in to the drawing's fine units.
    pub place: Affine,
    /// The smallest rectangle around what it paints, in the drawing's fine units.
    pub bounds: Rect,
    /// The smallest one around what it paints before its filters, in the drawing's fine units.
    pub before_filters: Rect,
    /// The reason that nothing smaller can be taken out, where it holds several elements.
    pub bound: Option<Untakeable>,
    /// What it says, where it is one line of text in a font that is at hand.
    pub text: Option<ElementText>,
    pub(super) ink: Ink,
}

/// A line of text in one font.
#[derive(Debug, Clone, PartialEq)]
pub struct ElementText {
    /// The text.
    pub string: String,
    /// The family that it is set in.
    pub family: String,
    /// As CSS has it.
    pub weight: u16,
    /// In the px that it is written in.
    pub size: f64,
    /// Letter spacing in the px that it is written in.
    pub spacing: f64,
    /// From the px that it is written in to the drawing's fine units.
    pub place: Affine,
}

/// An area of an element, filled by the non-zero rule.
#[derive(Debug, Clone)]
pub struct ElementArea<'a> {
    /// In the drawing's fine units.
    pub outline: Cow<'a, BezPath>,
    /// Its paint.
    pub paint: ElementPaint,
    /// The pen that it is a stroke of, in the drawing's fine units.
    pub pen: Option<StrokeStyle>,
}

/// The paint of an area.
#[derive(Debug, Clone)]
pub enum ElementPaint {
    /// One colour.
    Colour(Rgba),
    /// A gradient along a line, with the colours of its ends beyond them.
    Linear(LinearStops),
    /// Any other.
    Other,
}

/// A gradient along a line.
#[derive(Debug, Clone)]
pub struct LinearStops {
    /// Where it starts, in the drawing's fine units.
    pub from: Point,
    /// Where it ends.
    pub to: Point,
    /// A place of the colour of the start, as far from it as the end.
    pub across: Point,
    /// From 0 at the start to 1 at the end, with their colours.
    pub stops: Vec<(f32, Rgba)>,
}

impl Element {
    /// The areas it consists of, lowest first; `None` where it is more than areas in paints.
    #[must_use]
    pub fn areas(&self) -> Option<Vec<ElementArea<'_>>> {
        let mut areas = Vec::new();
        collect(&self.ink, &mut areas).then_some(areas)
    }
}

/// Adds the areas of an ink; whether it is nothing but areas.
fn collect<'a>(ink: &'a Ink, areas: &mut Vec<ElementArea<'a>>) -> bool {
    match ink {
        Ink::Area(area) => {
            areas.push(ElementArea::of(area, 1.0));
            true
        }
        Ink::Run(inks) => inks.iter().all(|ink| collect(ink, areas)),
        Ink::Group(group) => match group.inks.as_slice() {
            // A faded area is one in a faded paint.
            [ink] if group.clips.is_empty() && group.blend == BlendMode::Normal => {
                let [Ink::Area(area)] = alone(ink) else { return false };
                areas.push(ElementArea::of(area, group.opacity));
                true
            }
            _ => false,
        },
        Ink::Node(_) => false,
    }
}

/// What a run of one ink holds.
fn alone(ink: &Ink) -> &[Ink] {
    match ink {
        Ink::Run(inks) if inks.len() == 1 => alone(&inks[0]),
        Ink::Area(_) | Ink::Run(_) | Ink::Group(_) | Ink::Node(_) => std::slice::from_ref(ink),
    }
}

impl<'a> ElementArea<'a> {
    fn of(area: &'a Area, opacity: f32) -> Self {
        Self {
            outline: Cow::Borrowed(&area.outline),
            paint: ElementPaint::of(&area.paint, opacity),
            pen: area.pen,
        }
    }
}

impl ElementPaint {
    fn of(paint: &Paint, opacity: f32) -> Self {
        let faded = |colour: Rgba| colour.faded(f64::from(opacity));
        match paint {
            Paint::Colour(colour) => Self::Colour(faded(*colour)),
            Paint::Gradient(gradient, to_gradient) => match gradient.line {
                Line::Linear { from, to } if gradient.spread == Spread::Pad => {
                    let place = to_gradient.inverse();
                    let stops = gradient.stops.iter().map(|(at, colour)| (*at, faded(*colour))).collect();
                    let across = place * (from + (to - from).turn_90());
                    Self::Linear(LinearStops { from: place * from, to: place * to, across, stops })
                }
                Line::Linear { .. } | Line::Radial { .. } => Self::Other,
            },
        }
    }
}

/// A reason that the elements of a group can be taken out together only.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Untakeable {
    /// The group is faded.
    Opacity,
    /// The group, or an element in it, blends with what lies below.
    Blend,
    /// The group is clipped.
    Clip,
    /// The group is masked.
    Mask,
    /// The group is filtered.
    Filter,
    /// A `use` draws them.
    Use,
}
