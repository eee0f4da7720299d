//! Filter markup in: each primitive of a `<filter>` as a step (Filter Effects 1, "Filter primitives").

use std::collections::BTreeMap;

use usvg::roxmltree::Node;

use super::styles::Styles;

use crate::blend::BlendMode;
use crate::colour::{Rgba, linear_to_srgb, parse_css_colour};
use crate::lower::{Curve, Input, Operator, Step};
use crate::syntax::LineIndex;

/// One primitive as it stands in a file.
#[derive(Debug)]
pub struct Written {
    /// `line:column`.
    pub place: String,
    /// The element's name.
    pub name: String,
    /// The step, or why it is not supported.
    pub step: Result<Step, String>,
    /// It mixes colours in linear light, which is the default.
    pub linear: bool,
}

impl Written {
    /// Whether it blurs so little that box blurs, which browsers draw it with on the processor, are one pixel wide: Filter
    /// Effects 1, "feGaussianBlur", makes them `floor(σ · 3 √(2π) / 4 + 0.5)` wide.
    pub fn is_hardly_blurred(&self) -> bool {
        let sigma = match &self.step {
            Ok(Step::Blur { sigma, .. } | Step::DropShadow { sigma, .. }) => *sigma,
            _ => return false,
        };
        let width = sigma * 3.0 * (std::f64::consts::TAU).sqrt() / 4.0 + 0.5;
        sigma > 0.0 && width < 2.0
    }
}

/// Primitives that are read of one filter.
pub(crate) const MAX_PRIMITIVES: usize = 500;

/// The primitives of a `<filter>` element, in their order, [`MAX_PRIMITIVES`] at most.
pub(crate) fn primitives(filter: Node<'_, '_>, styles: &Styles<'_>, lines: &LineIndex<'_>) -> Vec<Written> {
    let mut names = BTreeMap::new();
    let elements = filter.children().filter(Node::is_element);
    let known = elements.filter(|node| !["title", "desc", "metadata"].contains(&node.tag_name().name()));
    known
        .take(MAX_PRIMITIVES)
        .enumerate()
        .map(|(at, node)| {
            let reader = Reader { node, at, names: &names, linear: is_linear(node, styles), styles };
            let step = reader.step();
            if let Some(result) = node.attribute("result") {
                names.insert(result.to_owned(), at);
            }
            let name = node.tag_name().name().to_owned();
            Written { place: lines.place(node.range().start), name, step, linear: is_linear(node, styles) }
        })
        .collect()
}

/// `color-interpolation-filters` is inherited, and is linearRGB from the start.
fn is_linear(node: Node<'_, '_>, styles: &Styles<'_>) -> bool {
    let said = styles.inherited(node, "color-interpolation-filters");
    !said.is_some_and(|value| value.eq_ignore_ascii_case("sRGB"))
}

struct Reader<'a, 'input> {
    node: Node<'a, 'input>,
    at: usize,
    names: &'a BTreeMap<String, usize>,
    linear: bool,
    styles: &'a Styles<'a>,
}

impl Reader<'_, '_> {
    fn step(&self) -> Result<Step, String> {
        Ok(match self.node.tag_name().name() {
            "feGaussianBlur" => Step::Blur { of: self.input("in")?, sigma: self.sigma("0")? },
            "feOffset" => Step::Offset {
                of: self.input("in")?,
                dx: self.number("dx", 0.0)?,
                dy: self.number("dy", 0.0)?,
            },
            "feFlood" => Step::Flood(self.flood()?),
            "feDropShadow" => Step::DropShadow {
                of: self.input("in")?,
                dx: self.number("dx", 2.0)?,
                dy: self.number("dy", 2.0)?,
                sigma: self.sigma("2")?,
                colour: self.flood()?,
            },
            "feComposite" => self.composite()?,
            "feMerge" => self.merge()?,
            "feBlend" => {
                Step::Blend { mode: self.blend_mode()?, top: self.input("in")?, below: self.input("in2")? }
            }
            "feColorMatrix" => Step::Matrix { of: self.input("in")?, rows: self.matrix()? },
            "feComponentTransfer" => {
                Step::Transfer { of: self.input("in")?, curves: Box::new(self.curves()?) }
            }
            "feMorphology" => self.morphology()?,
            other => return Err(format!("{other} is not taken as depth")),
        })
    }

    fn input(&self, name: &str) -> Result<Input, String> {
        input(self.node.attribute(name), self.at, self.names)
    }

    fn number(&self, name: &str, default: f64) -> Result<f64, String> {
        let Some(text) = self.node.attribute(name) else { return Ok(default) };
        number(text).ok_or_else(|| format!("{name}: expected a number, found {text}"))
    }

    fn numbers(&self, name: &str, default: &str) -> Result<Vec<f64>, String> {
        let text = self.node.attribute(name).unwrap_or(default);
        numbers(text).ok_or_else(|| format!("{name}: expected numbers, found {text}"))
    }

    /// Browsers draw no blur with a σ below a third of a pixel (measured in Chromium 156).
    fn sigma(&self, default: &str) -> Result<f64, String> {
        let drawn = |sigma: f64| if 3.0 * sigma <= 1.0 { 0.0 } else { sigma };
        match self.numbers("stdDeviation", default)?.as_slice() {
            [both] if *both >= 0.0 => Ok(drawn(*both)),
            [across, down] if across == down && *across >= 0.0 => Ok(drawn(*across)),
            [_, _] => Err("blurs differently across and down".to_owned()),
            _ => Err("stdDeviation: expected one number or two, none negative".to_owned()),
        }
    }

    fn flood(&self) -> Result<Rgba, String> {
        let text = self.styles.property(self.node, "flood-color").unwrap_or("black");
        let own = text.eq_ignore_ascii_case("currentcolor");
        let own = own.then(|| self.styles.inherited(self.node, "color").unwrap_or("black"));
        let colour = parse_css_colour(own.unwrap_or(text))
            .map_err(|_| format!("flood-color: expected a CSS colour, found {text}"))?;
        let text = self.styles.property(self.node, "flood-opacity").unwrap_or("1");
        let opacity = match text.strip_suffix('%') {
            Some(percent) => number(percent).map(|percent| percent / 100.0),
            None => number(text),
        };
        let opacity = opacity.ok_or_else(|| format!("flood-opacity: expected a number, found {text}"))?;
        Ok(colour.faded(opacity.clamp(0.0, 1.0)))
    }

    fn composite(&self) -> Result<Step, String> {
        let (top, below) = (self.input("in")?, self.input("in2")?);
        let operator = match self.node.attribute("operator").unwrap_or("over") {
            "over" => Operator::Over,
            "in" => Operator::In,
            "out" => Operator::Out,
            "atop" => Operator::Atop,
            "xor" => Operator::Xor,
            "lighter" => Operator::Lighter,
            "arithmetic" => {
                let k = |name| self.number(name, 0.0);
                return Ok(Step::Arithmetic { top, below, k: [k("k1")?, k("k2")?, k("k3")?, k("k4")?] });
            }
            other => return Err(format!("operator: {other} is not known")),
        };
        Ok(Step::Composite { operator, top, below })
    }

    fn merge(&self) -> Result<Step, String> {
        let nodes = self.node.children().filter(|node| node.tag_name().name() == "feMergeNode");
        let inputs: Vec<Input> = nodes
            .take(MAX_PRIMITIVES + 1)
            .map(|node| input(node.attribute("in"), self.at, self.names))
            .collect::<Result<_, _>>()?;
        if inputs.len() > MAX_PRIMITIVES {
            return Err(format!("merges more than {MAX_PRIMITIVES} pictures"));
        }
        Ok(Step::Merge(inputs))
    }

    fn blend_mode(&self) -> Result<BlendMode, String> {
        let text = self.node.attribute("mode").unwrap_or("normal");
        serde_json::from_value(text.into()).map_err(|_| format!("mode: {text} is not known"))
    }

    fn matrix(&self) -> Result<[f64; 20], String> {
        let mut rows = [0.0; 20];
        let kind = self.node.attribute("type").unwrap_or("matrix");
        match kind {
            "matrix" => {
                let identity = "1 0 0 0 0 0 1 0 0 0 0 0 1 0 0 0 0 0 1 0";
                let values = self.numbers("values", identity)?;
                if values.len() != 20 {
                    return Err(format!("values: expected 20 numbers, found {}", values.len()));
                }
                rows.copy_from_slice(&values);
                if self.linear {
                    // A colour that is put in is meant in linear light.
                    for row in
                        rows.chunks_mut(5).take(3).filter(|row| row[..4].iter().all(|part| *part == 0.0))
                    {
                        row[4] = encoded(row[4]);
                    }
                }
            }
            "luminanceToAlpha" => {
                rows[15..18].copy_from_slice(&[0.2125, 0.7154, 0.0721]);
            }
            other => return Err(format!("type: {other} is not depth")),
        }
        Ok(rows)
    }

    fn curves(&self) -> Result<[Curve; 4], String> {
        let mut curves = [Curve::Identity, Curve::Identity, Curve::Identity, Curve::Identity];
        for node in self.node.children().filter(Node::is_element) {
            let at = match node.tag_name().name() {
                "feFuncR" => 0,
                "feFuncG" => 1,
                "feFuncB" => 2,
                "feFuncA" => 3,
                _ => continue,
            };
            let own = Reader { node, ..*self };
            let values = || own.numbers("tableValues", "");
            curves[at] = match node.attribute("type").unwrap_or("identity") {
                "table" => Curve::Table(values()?),
                "discrete" => Curve::Discrete(values()?),
                "linear" => Curve::Linear(own.number("slope", 1.0)?, own.number("intercept", 0.0)?),
                "gamma" => Curve::Gamma(
                    own.number("amplitude", 1.0)?,
                    own.number("exponent", 1.0)?,
                    own.number("offset", 0.0)?,
                ),
                _ => Curve::Identity,
            };
            if let (Curve::Linear(slope, intercept), true, true) = (&mut curves[at], self.linear, at < 3)
                && *slope == 0.0
            {
                *intercept = encoded(*intercept);
            }
        }
        Ok(curves)
    }

    fn morphology(&self) -> Result<Step, String> {
        let radius = match self.numbers("radius", "0")?.as_slice() {
            [both] if *both >= 0.0 => *both,
            [across, down] if across == down && *across >= 0.0 => *across,
            _ => return Err("grows differently across and down".to_owned()),
        };
        let shrinks = self.node.attribute("operator") != Some("dilate");
        Ok(Step::Morphology { of: self.input("in")?, radius: if shrinks { -radius } else { radius } })
    }
}

/// The meaning of an `in`: without one, the step before, or the source graphic for the first step.
fn input(text: Option<&str>, at: usize, names: &BTreeMap<String, usize>) -> Result<Input, String> {
    let before = || at.checked_sub(1).map_or(Input::Source, Input::Step);
    match text.map(str::trim) {
        None | Some("") => Ok(before()),
        Some("SourceGraphic") => Ok(Input::Source),
        Some("SourceAlpha") => Ok(Input::SourceAlpha),
        Some(what @ ("BackgroundImage" | "BackgroundAlpha" | "FillPaint" | "StrokePaint")) => {
            Err(format!("{what} is not known to browsers"))
        }
        // An unknown name is treated as no name (Filter Effects 1, "in").
        Some(name) => Ok(names.get(name).copied().map_or_else(before, Input::Step)),
    }
}

fn number(text: &str) -> Option<f64> {
    text.trim().trim_end_matches("px").parse().ok().filter(|number: &f64| number.is_finite())
}

fn numbers(text: &str) -> Option<Vec<f64>> {
    let parts = text.split(|letter: char| letter.is_whitespace() || letter == ',');
    parts.filter(|part| !part.is_empty()).map(number).collect()
}

/// A channel of linear light as a gamma-encoded one.
fn encoded(channel: f64) -> f64 {
    let [encoded, ..] = linear_to_srgb([channel.clamp(0.0, 1.0) as f32; 3]);
    f64::from(encoded)
}
