//! Running a filter on a picture as browsers do it: each step in 8 bits, blurs as running means.

use std::rc::Rc;

use super::boxes::boxes;
use crate::blend::{Pixel, blend, in_8_bits, over_in_8_bits};
use crate::blur::blurs;
use crate::budget;
use crate::colour::Rgba;
use crate::compose::Canvas;
use crate::lower::{Graph, Input, Operator, Step};
use crate::raster::{Mask, Rect};

impl Graph {
    /// Applies the filter to a picture with `scale` pixels for one px. The result is clipped to the picture.
    ///
    /// A picture between is made when it is first used and dropped once it has been used last, so that few are there at
    /// a time however many steps there are. The work it takes, [`Graph::cost`], is taken off the budget before.
    #[must_use]
    pub fn run(&self, source: &Canvas, scale: f64) -> Canvas {
        let Some(last) = self.steps.len().checked_sub(1) else { return source.clone() };
        let mut left = vec![0; self.steps.len()];
        left[last] = 1;
        for input in self.steps.iter().flat_map(Step::inputs) {
            if let Input::Step(at) = input
                && let Some(uses) = left.get_mut(at)
            {
                *uses += 1;
            }
        }
        let made = vec![None; self.steps.len()];
        let mut run = Run { graph: self, source, scale, alpha: None, left, made };
        Rc::unwrap_or_clone(run.picture(Input::Step(last)))
    }

    /// Steps of work that it takes on a picture of so many pixels.
    pub fn cost(&self, pixels: u64) -> u64 {
        let pictures: usize = self.steps.iter().map(|step| step.inputs().len().max(1)).sum();
        (pictures as u64).saturating_mul(pixels).saturating_mul(STEPS_A_PIXEL)
    }

    fn is_blurred(&self, input: &Input, scale: f64) -> bool {
        let Input::Step(at) = input else { return false };
        matches!(self.steps.get(*at), Some(Step::Blur { sigma, .. }) if blurs(sigma * scale))
    }
}

impl Step {
    /// Its input.
    fn inputs(&self) -> Vec<Input> {
        match self {
            Self::Flood(_) => Vec::new(),
            Self::Blur { of, .. }
            | Self::Offset { of, .. }
            | Self::Matrix { of, .. }
            | Self::Transfer { of, .. }
            | Self::Morphology { of, .. }
            | Self::DropShadow { of, .. } => vec![*of],
            Self::Composite { top, below, .. }
            | Self::Arithmetic { top, below, .. }
            | Self::Blend { top, below, .. } => vec![*top, *below],
            Self::Merge(inputs) => inputs.clone(),
        }
    }
}

/// A filter at work.
struct Run<'a> {
    graph: &'a Graph,
    source: &'a Canvas,
    scale: f64,
    alpha: Option<Rc<Canvas>>,
    /// How many later steps still read the picture of each step.
    left: Vec<usize>,
    made: Vec<Option<Rc<Canvas>>>,
}

/// Steps of work for each pixel of each picture that a step works on.
const STEPS_A_PIXEL: u64 = 60;

/// Pictures that a step works with.
const AT_A_TIME: u64 = 4;

impl Run<'_> {
    fn picture(&mut self, input: Input) -> Rc<Canvas> {
        let at = match input {
            Input::Step(at) if at < self.made.len() => at,
            Input::SourceAlpha => {
                let source = self.source;
                let alpha = || Rc::new(mapped(source, |[.., a]| [0.0, 0.0, 0.0, a]));
                return Rc::clone(self.alpha.get_or_insert_with(alpha));
            }
            Input::Source | Input::Step(_) => return Rc::new(self.source.clone()),
        };
        self.left[at] = self.left[at].saturating_sub(1);
        if let Some(made) = &self.made[at] {
            let made = Rc::clone(made);
            if self.left[at] == 0 {
                self.made[at] = None;
            }
            return made;
        }
        let made = Rc::new(self.make(at));
        if self.left[at] > 0 {
            self.made[at] = Some(Rc::clone(&made));
        }
        made
    }

    fn make(&mut self, at: usize) -> Canvas {
        let (graph, scale) = (self.graph, self.scale);
        let pixels = self.source.pixels.len() as u64;
        // Intermediate results, and the working memory of one step.
        let pictures = self.made.iter().flatten().count() as u64 + AT_A_TIME;
        if !budget::allow_memory(pictures * pixels * size_of::<Pixel>() as u64) {
            return self.source.clone();
        }
        let mut made = match &graph.steps[at] {
            // What a blur made is moved by whole pixels (measured in Chromium 156).
            Step::Offset { of, dx, dy } if graph.is_blurred(of, scale) => {
                self.picture(*of).moved((dx * scale).round(), (dy * scale).round())
            }
            // One after the other, so that only one of them has to be there.
            Step::Merge(inputs) => inputs.iter().fold(self.nothing(), |below, input| {
                let top = self.picture(*input);
                zip_pixels(&top, &below, over_in_8_bits)
            }),
            Step::Flood(colour) => {
                Canvas { pixels: vec![colour.premultiplied(); self.source.pixels.len()], ..*self.source }
            }
            step => {
                let inputs: Vec<Rc<Canvas>> =
                    step.inputs().into_iter().map(|input| self.picture(input)).collect();
                match inputs.as_slice() {
                    [of] => apply_unary(step, of, scale),
                    [top, below] => apply_binary(step, top, below),
                    _ => self.nothing(),
                }
            }
        };
        made.round_to_8_bits();
        made
    }

    fn nothing(&self) -> Canvas {
        Canvas::new(self.source.width, self.source.height)
    }
}

/// A step that works on one picture.
fn apply_unary(step: &Step, picture: &Canvas, scale: f64) -> Canvas {
    match step {
        Step::Blur { sigma, .. } => blurred(picture, sigma * scale),
        Step::Offset { dx, dy, .. } => picture.moved(dx * scale, dy * scale),
        Step::Matrix { rows, .. } => recoloured(picture, |colour| times(rows, colour)),
        Step::Transfer { curves, .. } => {
            recoloured(picture, |colour| std::array::from_fn(|i| curves[i].at(f64::from(colour[i])) as f32))
        }
        Step::Morphology { radius, .. } => grown(picture, radius * scale),
        Step::DropShadow { dx, dy, sigma, colour, .. } => {
            let soft = blurred(&mapped(picture, |[.., a]| [0.0, 0.0, 0.0, a]), sigma * scale);
            let solid = in_8_bits(colour.premultiplied());
            let mut shadow =
                mapped(&soft.moved(dx * scale, dy * scale), |[.., a]| solid.map(|part| part * a));
            shadow.round_to_8_bits();
            zip_pixels(picture, &shadow, over_in_8_bits)
        }
        _ => picture.clone(),
    }
}

/// A step that works on two pictures.
fn apply_binary(step: &Step, top: &Canvas, below: &Canvas) -> Canvas {
    match step {
        Step::Composite { operator, .. } => {
            zip_pixels(top, below, |top, below| composite(*operator, top, below))
        }
        Step::Arithmetic { k, .. } => zip_pixels(top, below, |top, below| arithmetic(*k, top, below)),
        Step::Blend { mode, .. } => zip_pixels(top, below, |top, below| blend(*mode, top, below)),
        _ => top.clone(),
    }
}

/// Blurred as [`boxes`] do it; transparent around it.
fn blurred(canvas: &Canvas, sigma: f64) -> Canvas {
    if !blurs(sigma) {
        return canvas.clone();
    }
    let rect = Rect::new(0, 0, canvas.width as i32, canvas.height as i32);
    let mut blurred = Canvas::new(canvas.width, canvas.height);
    for part in 0..4 {
        let plane = Mask::new(rect, canvas.pixels.iter().map(|pixel| pixel[part]).collect());
        if plane.values().all(|value| value == 0.0) {
            continue;
        }
        let plane = boxes(&plane, sigma, rect);
        for (pixel, value) in blurred.pixels.iter_mut().zip(plane.values()) {
            pixel[part] = value;
        }
    }
    blurred
}

fn mapped(canvas: &Canvas, work: impl Fn(Pixel) -> Pixel) -> Canvas {
    Canvas { pixels: canvas.pixels.iter().map(|pixel| work(*pixel)).collect(), ..*canvas }
}

fn zip_pixels(top: &Canvas, below: &Canvas, work: impl Fn(Pixel, Pixel) -> Pixel) -> Canvas {
    let pixels = top.pixels.iter().zip(&below.pixels).map(|(top, below)| work(*top, *below)).collect();
    Canvas { pixels, ..*top }
}

/// Works on colours that are not premultiplied, each part clipped to its range afterwards.
fn recoloured(canvas: &Canvas, work: impl Fn([f32; 4]) -> [f32; 4]) -> Canvas {
    mapped(canvas, |pixel| {
        let [r, g, b, a] = work(Rgba::from_premultiplied(pixel).parts()).map(|part| part.clamp(0.0, 1.0));
        [r * a, g * a, b * a, a]
    })
}

fn times(rows: &[f64; 20], colour: [f32; 4]) -> [f32; 4] {
    std::array::from_fn(|row| {
        let [r, g, b, a] = colour.map(f64::from);
        let [to_r, to_g, to_b, to_a, more] = std::array::from_fn(|column| rows[row * 5 + column]);
        (to_r * r + to_g * g + to_b * b + to_a * a + more) as f32
    })
}

/// Compositing and Blending 1, §9.1, on premultiplied colours.
fn composite(operator: Operator, top: Pixel, below: Pixel) -> Pixel {
    let (a, b) = (top[3], below[3]);
    let (of_top, of_below) = match operator {
        Operator::Over => return over_in_8_bits(top, below),
        Operator::In => (b, 0.0),
        Operator::Out => (1.0 - b, 0.0),
        Operator::Atop => (b, 1.0 - a),
        Operator::Xor => (1.0 - b, 1.0 - a),
        Operator::Lighter => (1.0, 1.0),
    };
    std::array::from_fn(|i| (top[i] * of_top + below[i] * of_below).min(1.0))
}

/// Filter Effects 1, "feComposite"; no part of a premultiplied colour is more than its alpha.
fn arithmetic(k: [f64; 4], top: Pixel, below: Pixel) -> Pixel {
    let [k1, k2, k3, k4] = k.map(|k| k as f32);
    let sum = |i: usize| (k1 * top[i] * below[i] + k2 * top[i] + k3 * below[i] + k4).clamp(0.0, 1.0);
    let alpha = sum(3);
    [sum(0).min(alpha), sum(1).min(alpha), sum(2).min(alpha), alpha]
}

/// The largest (or, shrinking, smallest) value of each part in a square around each pixel. Radii are whole pixels, as
/// browsers take them.
fn grown(canvas: &Canvas, radius: f64) -> Canvas {
    let reach = radius.abs().round() as usize;
    if reach == 0 {
        return canvas.clone();
    }
    let pick = if radius > 0.0 { f32::max } else { f32::min };
    let (width, height) = (canvas.width as usize, canvas.height as usize);
    let mut across = canvas.clone();
    for row in across.pixels.chunks_mut(width.max(1)) {
        let line = row.to_vec();
        row.copy_from_slice(&widest(&line, reach, pick));
    }
    let mut result = across.clone();
    for x in 0..width {
        let column: Vec<Pixel> = (0..height).map(|y| across.pixels[y * width + x]).collect();
        for (y, pixel) in widest(&column, reach, pick).into_iter().enumerate() {
            result.pixels[y * width + x] = pixel;
        }
    }
    result
}

/// The running extreme over `reach` to either side, transparent beyond the ends, in a time that does not grow with
/// `reach`: each window lies over the end of one block and the start of the next (van Herk, Pattern
/// Recognition Letters 13, 1992).
fn widest(line: &[Pixel], reach: usize, pick: fn(f32, f32) -> f32) -> Vec<Pixel> {
    let window = 2 * reach + 1;
    let both = |a: Pixel, b: Pixel| std::array::from_fn(|i| pick(a[i], b[i]));
    let mut padded = vec![[0.0; 4]; reach];
    padded.extend_from_slice(line);
    padded.resize(padded.len() + reach + window, [0.0; 4]);
    let (mut forward, mut backward) = (padded.clone(), padded.clone());
    for i in 1..padded.len() {
        if i % window != 0 {
            forward[i] = both(forward[i - 1], padded[i]);
        }
    }
    for i in (0..padded.len() - 1).rev() {
        if (i + 1) % window != 0 {
            backward[i] = both(backward[i + 1], padded[i]);
        }
    }
    (0..line.len()).map(|i| both(backward[i], forward[i + window - 1])).collect()
}
