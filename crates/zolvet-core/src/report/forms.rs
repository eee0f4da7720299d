//! One colour in the forms people type it in, and how far two lie apart.

use serde::Serialize;

use crate::colour::{ColourError, Rgba, parse_css_colour};

/// A colour in several forms.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColourForms {
    /// In hexadecimal, rounded to 8 bits.
    pub hex: String,
    /// Red, green and blue from 0 to 255.
    pub rgb: [f32; 3],
    /// Hue in degrees, saturation and lightness in % (CSS Color 4, "hsl()").
    pub hsl: [f32; 3],
    /// Lightness in %, chroma, and hue in degrees (CSS Color 4, "oklch()").
    pub oklch: [f32; 3],
    /// From 0 to 1.
    pub alpha: f32,
    /// How far it is from the first colour asked about: the distance in OKLab (ΔE OK; CSS Color 4, "Sample code for
    /// ΔEOK"), alpha left aside.
    pub difference: f32,
}

/// The forms of colours in CSS syntax, each with its distance from the first.
///
/// # Errors
/// The place of the first text that is no colour, and what is the matter with it.
pub fn colour_forms(texts: &[String]) -> Result<Vec<ColourForms>, (usize, ColourError)> {
    let parse = |(at, text): (usize, &String)| parse_css_colour(text).map_err(|error| (at, error));
    let colours: Vec<Rgba> = texts.iter().enumerate().map(parse).collect::<Result<_, _>>()?;
    let first = colours.first().copied().unwrap_or_default();
    Ok(colours.into_iter().map(|colour| forms(colour, first)).collect())
}

fn forms(colour: Rgba, first: Rgba) -> ColourForms {
    let Rgba { r, g, b, a } = colour;
    let byte = |part: f32| (part * 255.0).round() as u8;
    let alpha = if a < 1.0 { format!("{:02x}", byte(a)) } else { String::new() };
    let [lightness, chroma, hue] = colour.oklch();
    ColourForms {
        hex: format!("#{:02x}{:02x}{:02x}{alpha}", byte(r), byte(g), byte(b)),
        rgb: [r, g, b].map(|part| part * 255.0),
        hsl: colour.hsl(),
        oklch: [lightness * 100.0, chroma, hue],
        alpha: a,
        difference: colour.distance(first),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// CSS Color 4, "oklch()" and "hsl()": worked values of #ff0000 and lime; ΔE OK of black and white is 1 by definition.
    #[test]
    fn forms_are_those_of_the_standard() {
        let found = colour_forms(&["#ff0000".into(), "lime".into()]).expect("colours");
        let near = |found: [f32; 3], wanted: [f32; 3]| {
            assert!(found.iter().zip(wanted).all(|(a, b)| (a - b).abs() < 0.01), "{found:?} {wanted:?}");
        };
        near(found[0].oklch, [62.796, 0.2577, 29.234]);
        near(found[1].hsl, [120.0, 100.0, 50.0]);
        near(found[1].oklch, [86.644, 0.2948, 142.495]);
        let greys = colour_forms(&["black".into(), "white".into()]).expect("colours");
        assert!((greys[1].difference - 1.0).abs() < 1e-3);
        assert_eq!(colour_forms(&["#fff".into(), "mud".into()]).map_err(|(at, _)| at), Err(1));
    }
}
