//! What painting a node by resvg takes, before it is begun.

use usvg::filter::Kind;
use usvg::{Group, Node};

/// Steps of about a nanosecond that the filters of a group may take for each pixel; more is refused when a drawing is read.
pub(super) const MAX_STEPS_A_PIXEL: f64 = 20_000.0;

/// Steps that a pixel takes to be filled, composited, or put through a simple step of a filter.
const PIXEL: f64 = 40.0;

/// Steps that a node takes with all it holds, drawn with `fineness` device pixels for one px.
pub(super) fn steps_of(node: &Node, fineness: f64) -> f64 {
    match node {
        Node::Path(path) => {
            let paints = [path.fill().map(|fill| fill.paint()), path.stroke().map(|stroke| stroke.paint())];
            let tile = |paint: &usvg::Paint| match paint {
                usvg::Paint::Pattern(pattern) => of_group(pattern.root(), fineness),
                usvg::Paint::Color(_) | usvg::Paint::LinearGradient(_) | usvg::Paint::RadialGradient(_) => {
                    0.0
                }
            };
            let tiles: f64 = paints.into_iter().flatten().map(tile).sum();
            tiles + PIXEL * area(path.abs_stroke_bounding_box(), fineness)
        }
        Node::Image(image) => PIXEL * area(image.abs_bounding_box(), fineness),
        Node::Text(text) => of_group(text.flattened(), fineness),
        Node::Group(group) => of_group(group, fineness),
    }
}

fn of_group(group: &Group, fineness: f64) -> f64 {
    let inside: f64 = group.children().iter().map(|child| steps_of(child, fineness)).sum();
    let own = area(group.abs_layer_bounding_box().to_rect(), fineness);
    let cuts: f64 = cuts_of(group).map(|root| PIXEL * own + of_group(root, fineness)).sum();
    inside + cuts + own * (PIXEL + filter_steps(group, fineness))
}

/// The content of the masks and clips that a group is cut by.
fn cuts_of(group: &Group) -> impl Iterator<Item = &Group> {
    let masks = std::iter::successors(group.mask(), |mask| mask.mask()).map(|mask| mask.root());
    let clips = std::iter::successors(group.clip_path(), |clip| clip.clip_path()).map(|clip| clip.root());
    masks.chain(clips)
}

fn area(bounds: usvg::Rect, fineness: f64) -> f64 {
    f64::from(bounds.width()) * f64::from(bounds.height()) * fineness * fineness
}

/// Steps that each pixel takes in the filters of a group.
fn filter_steps(group: &Group, fineness: f64) -> f64 {
    let steps = group.filters().iter().flat_map(|filter| filter.primitives());
    steps.map(|step| of_step(step.kind(), fineness)).sum()
}

/// The most steps that a pixel takes in the filters of any group.
pub(super) fn most_steps(group: &Group, fineness: f64) -> f64 {
    let inside = group.children().iter().map(|child| match child {
        Node::Group(inner) => most_steps(inner, fineness),
        Node::Path(_) | Node::Image(_) | Node::Text(_) => 0.0,
    });
    let cuts = cuts_of(group).map(|root| most_steps(root, fineness));
    inside.chain(cuts).fold(filter_steps(group, fineness), f64::max)
}

/// Steps that each pixel takes in a primitive of a filter.
fn of_step(kind: &Kind, fineness: f64) -> f64 {
    match kind {
        // Every pixel looks at all around it.
        Kind::Morphology(step) => {
            let side = |radius: f32| (2.0 * f64::from(radius) * fineness + 1.0).max(1.0);
            4.0 * side(step.radius_x().get()) * side(step.radius_y().get())
        }
        Kind::ConvolveMatrix(step) => {
            4.0 * f64::from(step.matrix().columns()) * f64::from(step.matrix().rows())
        }
        Kind::Turbulence(step) => 200.0 * f64::from(step.num_octaves()),
        Kind::DiffuseLighting(_) | Kind::SpecularLighting(_) => 4.0 * PIXEL,
        Kind::Image(_) => 4.0 * PIXEL,
        Kind::GaussianBlur(_) | Kind::DropShadow(_) => 4.0 * PIXEL,
        Kind::Blend(_)
        | Kind::ColorMatrix(_)
        | Kind::ComponentTransfer(_)
        | Kind::Composite(_)
        | Kind::DisplacementMap(_)
        | Kind::Flood(_)
        | Kind::Merge(_)
        | Kind::Offset(_)
        | Kind::Tile(_) => PIXEL,
    }
}
