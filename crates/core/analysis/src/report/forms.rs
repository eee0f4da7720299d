//! One colour in the forms people type it in, and how far two lie apart.

use serde::Serialize;

use crate::colour::{ColourError, Rgba, colour_text, parse_css_colour};

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
    /// The very colour in CSS syntax, with `{alpha}` where its alpha stands, from 0 to 1.
    pub translucent: String,
    /// How far it is from the first colour asked about: the distance in OKLab (ΔE OK; CSS Color 4, "Sample code for
    /// ΔEOK"), alpha left aside.
    pub difference: f32,
}

/// One way to write a colour in numbers, for interfaces that let them be set one by one.
#[derive(Debug, Clone, Copy, Serialize)]
pub struct ColourNotation {
    /// The field of [`ColourForms`] that has the numbers.
    pub form: &'static str,
    /// The three numbers, in order.
    pub parts: [NotationPart; 3],
    /// The colour in CSS syntax (CSS Color 4, sections of the functions); `{0}`, `{1}` and `{2}` stand for the numbers.
    pub opaque: &'static str,
    /// The same with `{alpha}`, from 0 to 1.
    pub translucent: &'static str,
}

/// A number of a [`ColourNotation`].
#[derive(Debug, Clone, Copy, Serialize)]
pub struct NotationPart {
    /// Its letter.
    pub name: &'static str,
    /// Written behind the number; empty where there is none.
    pub unit: &'static str,
    /// The largest value shown; 0 is the smallest.
    pub max: f32,
    /// Decimals that tell 8 bit colours apart.
    pub decimals: u8,
}

/// The notations, the most even for the eye last.
pub const COLOUR_NOTATIONS: [ColourNotation; 3] = [
    ColourNotation {
        form: "rgb",
        parts: [part("R", "", 255.0, 0), part("G", "", 255.0, 0), part("B", "", 255.0, 0)],
        opaque: "rgb({0} {1} {2})",
        translucent: "rgb({0} {1} {2} / {alpha})",
    },
    ColourNotation {
        form: "hsl",
        parts: [part("H", "°", 360.0, 1), part("S", "%", 100.0, 1), part("L", "%", 100.0, 1)],
        opaque: "hsl({0} {1}% {2}%)",
        translucent: "hsl({0} {1}% {2}% / {alpha})",
    },
    ColourNotation {
        form: "oklch",
        parts: [part("L", "%", 100.0, 2), part("C", "", 0.5, 4), part("H", "°", 360.0, 2)],
        opaque: "oklch({0}% {1} {2})",
        translucent: "oklch({0}% {1} {2} / {alpha})",
    },
];

const fn part(name: &'static str, unit: &'static str, max: f32, decimals: u8) -> NotationPart {
    NotationPart { name, unit, max, decimals }
}

/// The forms of colours in CSS syntax, each with its distance from the first.
///
/// # Errors
/// The place of the first text that is no colour, and what is the matter with it.
pub fn colour_forms(texts: &[String]) -> Result<Vec<ColourForms>, (usize, ColourError)> {
    let parse = |(at, text): (usize, &String)| parse_css_colour(text).map_err(|error| (at, error));
    let colours: Vec<Rgba> = texts.iter().enumerate().map(parse).collect::<Result<_, _>>()?;
    let first = colours.first().copied().unwrap_or_default();
    Ok(colours.into_iter().zip(texts).map(|(colour, text)| forms(colour, text, first)).collect())
}

fn forms(colour: Rgba, text: &str, first: Rgba) -> ColourForms {
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
        translucent: translucent(colour, text.trim()),
        difference: colour.distance(first),
    }
}

/// A colour's text with a place for its alpha: functions in the syntax of CSS Color 4 keep their numbers as typed.
fn translucent(colour: Rgba, text: &str) -> String {
    let typed = text.strip_suffix(')').filter(|text| text.contains('(') && !text.contains(','));
    if let Some(typed) = typed {
        let numbers = typed.split('/').next().unwrap_or_default().trim_end();
        return format!("{numbers} / {{alpha}})");
    }
    // Half of the alpha is no whole number of 255ths, so that it is written apart.
    let solid = colour_text(Rgba { a: 0.5, ..colour });
    solid.replace(" / 0.5)", " / {alpha})")
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

    /// Setting the numbers of a colour to the values they have gives the colour back, in every notation.
    #[test]
    fn a_notation_with_a_colours_own_numbers_is_that_colour() {
        for text in ["#2f7d6b", "#c9483366", "#0b1020", "#fff8ee0d", "#808080"] {
            let form = &colour_forms(&[text.to_owned()]).expect("colours")[0];
            for notation in COLOUR_NOTATIONS {
                let numbers = match notation.form {
                    "rgb" => form.rgb,
                    "hsl" => form.hsl,
                    _ => form.oklch,
                };
                let css = if form.alpha < 1.0 { notation.translucent } else { notation.opaque };
                let mut css = css.replace("{alpha}", &format!("{:.4}", form.alpha));
                for (at, (number, part)) in numbers.iter().zip(notation.parts).enumerate() {
                    css = css
                        .replace(&format!("{{{at}}}"), &format!("{number:.*}", usize::from(part.decimals)));
                }
                assert_eq!(colour_forms(&[css.clone()]).expect("colours")[0].hex, form.hex, "{css}");
            }
        }
    }

    /// A colour with another alpha, in the syntax it was typed in.
    #[test]
    fn another_alpha_changes_nothing_else() {
        for (text, wanted) in [
            ("#2f7d6b", "rgb(47 125 107 / {alpha})"),
            ("#2f7d6b80", "rgb(47 125 107 / {alpha})"),
            ("tomato", "rgb(255 99 71 / {alpha})"),
            ("rgba(1, 2, 3, 0.5)", "rgb(1 2 3 / {alpha})"),
            ("oklch(62.5% 0.12 170 / 40%)", "oklch(62.5% 0.12 170 / {alpha})"),
            ("hsl(200 40% 50%)", "hsl(200 40% 50% / {alpha})"),
        ] {
            let form = colour_forms(&[text.to_owned()]).expect("colours").remove(0);
            assert_eq!(form.translucent, wanted);
            let same = wanted.replace("{alpha}", &form.alpha.to_string());
            let same = colour_forms(&[same]).expect("colours").remove(0);
            assert_eq!(same.hex, form.hex, "{text}");
            assert!(same.rgb.iter().zip(form.rgb).all(|(a, b)| (a - b).abs() < 1e-3), "{text}");
        }
    }
}
