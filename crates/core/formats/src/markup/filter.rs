//! A filter as SVG markup (Filter Effects 1).

use kurbo::{Rect, Size};

use std::fmt::Write as _;

use crate::colour::{Rgba, solid_text};
use crate::lower::{Curve, Graph, Input, Step};
use crate::syntax::number_text;

/// The `<filter>` element, for something `width` × `height` px large whose box starts at 0,0. Its colours are mixed in
/// sRGB, and its region is given in px, so that nothing is cut off.
#[must_use]
pub fn markup(graph: &Graph, id: &str, size: Size) -> String {
    markup_in(graph, id, size.to_rect())
}

/// As [`markup`], for something that lies within a rectangle.
#[must_use]
pub fn markup_in(graph: &Graph, id: &str, bounds: Rect) -> String {
    let [left, top, right, bottom] = graph.reach().map(|side| side.max(0.0).ceil() + 1.0);
    let mut text = format!(
        "<filter id=\"{id}\" filterUnits=\"userSpaceOnUse\" x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" \
         color-interpolation-filters=\"sRGB\">\n",
        number_text(bounds.x0 - left),
        number_text(bounds.y0 - top),
        number_text(bounds.width() + left + right),
        number_text(bounds.height() + top + bottom),
    );
    for (at, step) in graph.steps.iter().enumerate() {
        let _ = writeln!(text, "  {}", step_text(step, at));
    }
    text.push_str("</filter>\n");
    text
}

fn input_text(input: Input) -> String {
    match input {
        Input::Source => "SourceGraphic".to_owned(),
        Input::SourceAlpha => "SourceAlpha".to_owned(),
        Input::Step(at) => name(at),
    }
}

fn name(at: usize) -> String {
    format!("s{}", at + 1)
}

fn step_text(step: &Step, at: usize) -> String {
    let result = format!("result=\"{}\"", name(at));
    let one = |of: &Input| format!("in=\"{}\"", input_text(*of));
    let two =
        |top: &Input, below: &Input| format!("in=\"{}\" in2=\"{}\"", input_text(*top), input_text(*below));
    match step {
        Step::Blur { of, sigma } => {
            format!("<feGaussianBlur {} stdDeviation=\"{}\" {result}/>", one(of), number_text(*sigma))
        }
        Step::Offset { of, dx, dy } => {
            format!(
                "<feOffset {} dx=\"{}\" dy=\"{}\" {result}/>",
                one(of),
                number_text(*dx),
                number_text(*dy)
            )
        }
        Step::Flood(colour) => format!("<feFlood {} {result}/>", flood_text(*colour)),
        Step::Composite { operator, top, below } => {
            format!("<feComposite {} operator=\"{}\" {result}/>", two(top, below), operator.name())
        }
        Step::Arithmetic { k: [k1, k2, k3, k4], top, below } => format!(
            "<feComposite {} operator=\"arithmetic\" k1=\"{k1}\" k2=\"{k2}\" k3=\"{k3}\" k4=\"{k4}\" {result}/>",
            two(top, below)
        ),
        Step::Merge(inputs) => {
            let nodes: String = inputs.iter().map(|input| format!("<feMergeNode {}/>", one(input))).collect();
            format!("<feMerge {result}>{nodes}</feMerge>")
        }
        Step::Blend { mode, top, below } => {
            let mode = serde_json::to_value(mode).unwrap_or_default();
            format!("<feBlend {} mode=\"{}\" {result}/>", two(top, below), mode.as_str().unwrap_or("normal"))
        }
        Step::Matrix { of, rows } => {
            format!("<feColorMatrix {} type=\"matrix\" values=\"{}\" {result}/>", one(of), list(rows))
        }
        Step::Transfer { of, curves } => {
            let functions: String = ["R", "G", "B", "A"]
                .iter()
                .zip(curves.iter())
                .map(|(part, curve)| curve_text(part, curve))
                .collect();
            format!("<feComponentTransfer {} {result}>{functions}</feComponentTransfer>", one(of))
        }
        Step::Morphology { of, radius } => {
            let operator = if *radius < 0.0 { "erode" } else { "dilate" };
            let radius = number_text(radius.abs());
            format!("<feMorphology {} operator=\"{operator}\" radius=\"{radius}\" {result}/>", one(of))
        }
        Step::DropShadow { of, dx, dy, sigma, colour } => format!(
            "<feDropShadow {} dx=\"{}\" dy=\"{}\" stdDeviation=\"{}\" {} {result}/>",
            one(of),
            number_text(*dx),
            number_text(*dy),
            number_text(*sigma),
            flood_text(*colour)
        ),
    }
}

/// Opacity apart from colour: older renderers read no other form.
fn flood_text(colour: Rgba) -> String {
    let opacity = if colour.a >= 1.0 { String::new() } else { format!(" flood-opacity=\"{}\"", colour.a) };
    format!("flood-color=\"{}\"{opacity}", solid_text(colour))
}

fn list(numbers: &[f64]) -> String {
    numbers.iter().map(|number| number_text(*number)).collect::<Vec<_>>().join(" ")
}

fn curve_text(part: &str, curve: &Curve) -> String {
    match curve {
        Curve::Identity => String::new(),
        Curve::Table(values) => format!("<feFunc{part} type=\"table\" tableValues=\"{}\"/>", list(values)),
        Curve::Discrete(values) => {
            format!("<feFunc{part} type=\"discrete\" tableValues=\"{}\"/>", list(values))
        }
        Curve::Linear(slope, intercept) => format!(
            "<feFunc{part} type=\"linear\" slope=\"{}\" intercept=\"{}\"/>",
            number_text(*slope),
            number_text(*intercept)
        ),
        Curve::Gamma(amplitude, exponent, offset) => format!(
            "<feFunc{part} type=\"gamma\" amplitude=\"{}\" exponent=\"{}\" offset=\"{}\"/>",
            number_text(*amplitude),
            number_text(*exponent),
            number_text(*offset)
        ),
    }
}
