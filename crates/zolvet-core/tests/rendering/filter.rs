//! Filters run by the core against resvg's pictures of the same filters as markup (Filter Effects 1).

#![allow(clippy::unwrap_used, missing_docs)]

use zolvet_core::blend::BlendMode;
use zolvet_core::colour::Rgba;
use zolvet_core::compose::{Canvas, Rounding};
use zolvet_core::lower::{Curve, Graph, Input, Operator, Step};
use zolvet_core::markup::markup;

const SIDE: u32 = 120;

/// A half see-through orange box on a solid green one, on nothing: whole pixels, so that both draw the same.
fn source() -> Canvas {
    let mut canvas = Canvas::new(SIDE, SIDE);
    for y in 30..90_usize {
        for x in 24..84_usize {
            let orange = x >= 54;
            let colour = if orange { Rgba::new(0.8, 0.4, 0.2, 0.6) } else { Rgba::new(0.2, 0.6, 0.4, 1.0) };
            canvas.pixels[y * SIDE as usize + x] = colour.premultiplied();
        }
    }
    canvas
}

/// resvg's picture of the same source under the same filter.
fn reference(graph: &Graph) -> Vec<u8> {
    let filter = markup(graph, "f", (f64::from(SIDE), f64::from(SIDE)).into());
    let svg = format!(
        "<svg xmlns='http://www.w3.org/2000/svg' width='{SIDE}' height='{SIDE}'>{filter}<g filter='url(#f)'>\
         <rect x='24' y='30' width='30' height='60' fill='#339966'/>\
         <rect x='54' y='30' width='30' height='60' fill='#cc6633' fill-opacity='.6'/></g></svg>"
    );
    let tree = resvg::usvg::Tree::from_str(&svg, &resvg::usvg::Options::default()).unwrap();
    let mut pixels = resvg::tiny_skia::Pixmap::new(SIDE, SIDE).unwrap();
    resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut pixels.as_mut());
    // Premultiplied: what is nearly transparent has no colour to compare.
    pixels.data().to_vec()
}

fn ours(graph: &Graph) -> Vec<u8> {
    let canvas = graph.run(&source(), 1.0);
    canvas.pixels.iter().flatten().map(|part| (part.clamp(0.0, 1.0) * 255.0).round() as u8).collect()
}

/// The mean and the largest difference, in 1/255.
fn apart(graph: &Graph) -> (f64, u8) {
    let (a, b) = (ours(graph), reference(graph));
    let each = || a.iter().zip(&b).map(|(a, b)| a.abs_diff(*b));
    (each().map(f64::from).sum::<f64>() / a.len() as f64, each().max().unwrap_or(0))
}

fn one(step: Step) -> Graph {
    Graph { steps: vec![step] }
}

/// A blue flood with a soft edge, below or above the source.
fn with_flood(step: impl Fn(Input) -> Step) -> Graph {
    let mut graph = Graph::default();
    let flood = graph.add(Step::Flood(Rgba::new(0.2, 0.3, 0.9, 0.7)));
    graph.add(step(flood));
    graph
}

#[test]
fn every_step_is_drawn_as_resvg_draws_it() {
    let of = Input::Source;
    let curves = |curve: Curve| Box::new([curve.clone(), curve.clone(), curve, Curve::Identity]);
    let mut rows = [0.0; 20];
    for (at, value) in [(0, 0.3), (1, 0.5), (4, 0.1), (6, 0.8), (12, 0.6), (10, 0.2), (18, 0.5)] {
        rows[at] = value;
    }
    // Black: resvg gamma-encodes the colour of this one step twice.
    let shadow = Step::DropShadow { of, dx: 9.0, dy: 6.0, sigma: 1.8, colour: Rgba::new(0.0, 0.0, 0.0, 0.5) };
    for (name, graph) in [
        ("offset", one(Step::Offset { of, dx: 7.0, dy: -5.0 })),
        ("grown", one(Step::Morphology { of, radius: 5.0 })),
        ("shrunk", one(Step::Morphology { of, radius: -7.0 })),
        ("matrix", one(Step::Matrix { of, rows })),
        ("table", one(Step::Transfer { of, curves: curves(Curve::Table(vec![0.1, 0.9, 0.4])) })),
        ("discrete", one(Step::Transfer { of, curves: curves(Curve::Discrete(vec![0.2, 0.6, 1.0])) })),
        ("linear", one(Step::Transfer { of, curves: curves(Curve::Linear(0.5, 0.25)) })),
        ("gamma", one(Step::Transfer { of, curves: curves(Curve::Gamma(0.9, 2.0, 0.05)) })),
        (
            "arithmetic",
            with_flood(|below| Step::Arithmetic { k: [0.5, 0.4, 0.3, 0.05], top: Input::Source, below }),
        ),
        ("merge", with_flood(|flood| Step::Merge(vec![flood, Input::SourceAlpha, Input::Source]))),
    ] {
        let (mean, worst) = apart(&graph);
        assert!(mean <= 0.5 && worst <= 3, "{name}: mean {mean}, worst {worst}");
    }
    // resvg's blurs are quick stand-ins for a Gaussian; an exact one is the reference in blur.rs.
    for (name, graph) in [("blur", one(Step::Blur { of, sigma: 4.0 })), ("drop shadow", one(shadow))] {
        let (mean, worst) = apart(&graph);
        assert!(mean <= 1.0 && worst <= 16, "{name}: mean {mean}, worst {worst}");
    }
    for operator in
        [Operator::Over, Operator::In, Operator::Out, Operator::Atop, Operator::Xor, Operator::Lighter]
    {
        if operator == Operator::Lighter {
            // resvg does not know it; Compositing and Blending 1, §9.1.13: the sum, at most 1.
            let graph = with_flood(|flood| Step::Composite { operator, top: Input::Source, below: flood });
            let at = graph.run(&source(), 1.0).at(40, 60);
            assert!((at.g - 0.81).abs() < 0.01 && at.a == 1.0, "{at:?}");
            continue;
        }
        let graph = with_flood(|flood| Step::Composite { operator, top: Input::Source, below: flood });
        let (mean, worst) = apart(&graph);
        assert!(mean <= 0.5 && worst <= 2, "{operator:?}: mean {mean}, worst {worst}");
    }
    for mode in BlendMode::ALL {
        let graph = with_flood(|flood| Step::Blend { mode, top: Input::Source, below: flood });
        // resvg mixes these four in whole steps of 8 bits; Chromium's pictures of them are compared in chromium_engine.rs.
        let whole =
            matches!(mode, BlendMode::Hue | BlendMode::Saturation | BlendMode::Color | BlendMode::Luminosity);
        let most = if whole { 12 } else { 3 };
        let (mean, worst) = apart(&graph);
        assert!(mean <= 0.6 && worst <= most, "{mode:?}: mean {mean}, worst {worst}");
    }
}

#[test]
fn a_chain_shadows_the_shadows_before_it() {
    let shadow =
        |of, dx| Step::DropShadow { of, dx, dy: 0.0, sigma: 0.0, colour: Rgba::new(0.0, 0.0, 0.0, 1.0) };
    let chain = Graph { steps: vec![shadow(Input::Source, 20.0), shadow(Input::Step(0), 10.0)] };
    // The box ends at 84; its shadow at 104; the shadow of that at 114 (Filter Effects 1, "drop-shadow()").
    let picture = chain.run(&source(), 1.0).to_picture(Rounding::Nearest);
    assert!(picture.at(110, 60)[3] > 0 && picture.at(115, 60)[3] == 0);
    assert_eq!(chain.reach(), [0.0, 0.0, 30.0, 0.0]);
}
