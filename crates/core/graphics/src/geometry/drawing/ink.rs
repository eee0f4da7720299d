//! What an element is painted with.

use std::sync::Arc;

use kurbo::{Affine, BezPath, Rect};

use super::gradient::Gradient;
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::StrokeStyle;

/// What an element is painted with, in the drawing's fine units, lowest first.
#[derive(Debug, Clone)]
pub(super) enum Ink {
    /// An area in one paint.
    Area(Area),
    /// Several, straight onto what lies below.
    Run(Vec<Ink>),
    /// Several as one thing.
    Group(Isolated),
    /// A node of the tree that the file was read into, painted by resvg.
    Node(NodePath),
}

impl Ink {
    /// Adds what painting it takes; a node touches the bounds of its element at most.
    pub fn count(&self, bounds: Rect, painting: &mut Painting) {
        match self {
            Self::Area(area) => {
                painting.areas += 1;
                painting.area += area.bounds.area();
                painting.length += area.length;
            }
            Self::Run(inks) => inks.iter().for_each(|ink| ink.count(bounds, painting)),
            Self::Group(group) => {
                group.inks.iter().for_each(|ink| ink.count(bounds, painting));
                painting.area += bounds.area() * (1 + group.clips.len()) as f64;
            }
            Self::Node(node) => {
                painting.nodes += 1;
                painting.node_area += bounds.area();
                painting.node_steps += node.steps;
            }
        }
    }
}

impl Ink {
    /// Bytes of memory that its outlines take.
    pub fn outline_bytes(&self) -> usize {
        let bytes = |outline: &BezPath| size_of_val(outline.elements());
        match self {
            Self::Area(area) => bytes(&area.outline),
            Self::Run(inks) => inks.iter().map(Self::outline_bytes).sum(),
            Self::Group(group) => {
                let clips: usize = group.clips.iter().map(|clip| bytes(clip)).sum();
                clips + group.inks.iter().map(Self::outline_bytes).sum::<usize>()
            }
            Self::Node(_) => 0,
        }
    }

    /// Whether resvg paints some of it.
    pub fn has_nodes(&self) -> bool {
        match self {
            Self::Area(_) => false,
            Self::Run(inks) => inks.iter().any(Self::has_nodes),
            Self::Group(group) => group.inks.iter().any(Self::has_nodes),
            Self::Node(_) => true,
        }
    }
}

/// An area filled with a paint.
#[derive(Debug, Clone)]
pub(super) struct Area {
    /// Filled by the non-zero rule.
    pub outline: Arc<BezPath>,
    pub bounds: Rect,
    /// The length of its outline.
    pub length: f64,
    /// The pen that it is a stroke of, in the drawing's fine units.
    pub pen: Option<StrokeStyle>,
    pub paint: Paint,
}

/// A paint of ours.
#[derive(Debug, Clone)]
pub(super) enum Paint {
    Colour(Rgba),
    /// A gradient, and the way to it from the drawing's fine units.
    Gradient(Arc<Gradient>, Affine),
}

/// Inks that are painted over one another first, then clipped, faded and blended together.
#[derive(Debug, Clone)]
pub(super) struct Isolated {
    pub inks: Vec<Ink>,
    pub clips: Vec<Arc<BezPath>>,
    pub opacity: f32,
    pub blend: BlendMode,
}

/// The places of a node and the groups around it, each in its group's list.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct NodePath {
    pub places: Vec<usize>,
    /// The blend mode of the node, a group.
    pub blend: BlendMode,
    /// Steps of about a nanosecond that it takes with a pixel for each square of a fine unit.
    pub steps: f64,
}

/// What painting some elements takes.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Painting {
    /// Areas that our raster paints.
    pub areas: usize,
    /// Square px within their bounds.
    pub area: f64,
    /// Length of their outlines in px.
    pub length: f64,
    /// Nodes that resvg paints.
    pub nodes: usize,
    /// Steps of about a nanosecond that they take in all, with a pixel for each square px.
    pub node_steps: f64,
    /// Square px within their bounds.
    pub node_area: f64,
}
