//! Colours as the renderer needs them, and the arithmetic on them.

mod names;
mod text;

use std::sync::OnceLock;

use color::{AlphaColor, ColorSpace as _, Oklab, Oklch, Srgb};

pub use names::COLOUR_NAMES;
pub use text::solid_text;
pub use text::{colour_text, css_text, percent};

/// A colour in gamma-encoded sRGB, not premultiplied, each part from 0 to 1.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Rgba {
    /// Red.
    pub r: f32,
    /// Green.
    pub g: f32,
    /// Blue.
    pub b: f32,
    /// Opacity.
    pub a: f32,
}

/// A text is not a colour.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum ColourError {
    /// Not understood at all.
    #[error(
        "expected a CSS colour such as #2f7d6b, rgb(47 125 107 / 40%) or oklch(0.6 0.1 170), found \"{0}\""
    )]
    Unknown(String),
    /// Understood, but it needs a context that a document does not have.
    #[error("{0} is not supported: write the colour out")]
    Unsupported(&'static str),
}

const NEED_A_CONTEXT: [&str; 5] = ["currentcolor", "color-mix(", "light-dark(", "var(", "calc("];

/// Reads a colour in CSS Color 4 syntax. Out-of-gamut results are clipped per channel, as browsers do.
///
/// # Errors
/// [`ColourError`], naming the text or what it asks for.
pub fn parse_css_colour(text: &str) -> Result<Rgba, ColourError> {
    let text = text.trim();
    let lower = text.to_ascii_lowercase();
    if let Some(what) = NEED_A_CONTEXT.iter().find(|what| lower.contains(**what)) {
        return Err(ColourError::Unsupported(what.trim_end_matches('(')));
    }
    if lower.contains("(from ") {
        return Err(ColourError::Unsupported("a relative colour"));
    }
    let parsed = parse_absolute(text).ok_or_else(|| ColourError::Unknown(text.to_owned()))?;
    let rgba = Rgba::from_srgb(parsed.to_alpha_color::<Srgb>());
    // Numbers out of a float's range become infinities, which are no colour.
    if rgba.parts().iter().all(|part| part.is_finite()) {
        Ok(rgba)
    } else {
        Err(ColourError::Unknown(text.to_owned()))
    }
}

/// A colour that needs no context, in the space it is written in. Names are read with an E as with an A (CSS Color 4,
/// section 6.1).
pub fn parse_absolute(text: &str) -> Option<color::DynamicColor> {
    let parsed = color::parse_color(text);
    parsed.or_else(|_| color::parse_color(&text.to_ascii_lowercase().replace("grey", "gray"))).ok()
}

impl Rgba {
    /// A colour from its parts, clipped to 0..=1.
    #[must_use]
    pub fn new(r: f32, g: f32, b: f32, a: f32) -> Self {
        let clip = |part: f32| part.clamp(0.0, 1.0);
        Self { r: clip(r), g: clip(g), b: clip(b), a: clip(a) }
    }

    /// Red, green, blue, alpha.
    #[must_use]
    pub fn parts(self) -> [f32; 4] {
        [self.r, self.g, self.b, self.a]
    }

    /// The bits of the four channels: equal for the same colour, for hashing.
    #[must_use]
    pub fn bits(self) -> [u32; 4] {
        self.parts().map(f32::to_bits)
    }

    /// The same colour with its alpha multiplied.
    #[must_use]
    pub fn faded(self, opacity: f64) -> Self {
        Self { a: (f64::from(self.a) * opacity) as f32, ..self }
    }

    /// The same with an opacity that is written with few decimals: in steps a fortieth of those that 8 bits have.
    #[must_use]
    pub fn tidied(self) -> Self {
        Self { a: ((f64::from(self.a) * 1e4).round() / 1e4) as f32, ..self }
    }

    /// Red, green and blue multiplied by alpha, then alpha.
    #[must_use]
    pub fn premultiplied(self) -> [f32; 4] {
        [self.r * self.a, self.g * self.a, self.b * self.a, self.a]
    }

    /// The colour of a premultiplied pixel.
    #[must_use]
    pub fn from_premultiplied(pixel: [f32; 4]) -> Self {
        let [r, g, b, a] = pixel;
        if a <= 0.0 { Self::default() } else { Self::new(r / a, g / a, b / a, a) }
    }

    /// The colour with an amount added to its OKLCH lightness (CSS Color 4, "oklch()"), clipped per channel.
    #[must_use]
    pub fn lightened(self, amount: f64) -> Self {
        let [l, c, h, a] = self.srgb().convert::<Oklch>().components;
        let l = (l + amount as f32).clamp(0.0, 1.0);
        Self::from_srgb(AlphaColor::<Oklch>::new([l, c, h, a]).convert::<Srgb>())
    }

    /// OKLab lightness from 0 to 1 (CSS Color 4, "oklab()"), of the colour without its alpha.
    #[must_use]
    pub fn lightness(self) -> f32 {
        self.srgb().convert::<Oklab>().components[0]
    }

    /// Hue, saturation and lightness of the colour (CSS Color 4, "hsl()"), in degrees, % and %.
    #[must_use]
    pub fn hsl(self) -> [f32; 3] {
        let [h, s, l, _] = self.srgb().convert::<color::Hsl>().components;
        [h, s, l]
    }

    /// Lightness from 0 to 1, chroma, and hue in degrees (CSS Color 4, "oklch()").
    #[must_use]
    pub fn oklch(self) -> [f32; 3] {
        let [l, c, h, _] = self.srgb().convert::<Oklch>().components;
        [l, c, h]
    }

    /// The distance of two colours in OKLab, alpha left aside (CSS Color 4, "ΔEOK").
    #[must_use]
    pub fn distance(self, other: Self) -> f32 {
        let [a, b] = [self, other].map(|colour| colour.srgb().convert::<Oklab>().components);
        (0..3).map(|i| (a[i] - b[i]).powi(2)).sum::<f32>().sqrt()
    }

    fn srgb(self) -> AlphaColor<Srgb> {
        AlphaColor::new(self.parts())
    }

    fn from_srgb(colour: AlphaColor<Srgb>) -> Self {
        let [r, g, b, a] = colour.components;
        Self::new(r, g, b, a)
    }
}

/// A colour on the straight line between two in OKLab (CSS Color 4, "oklab()"), alpha alike, premultiplied as CSS mixes.
#[must_use]
pub fn mix_oklab(from: Rgba, to: Rgba, t: f32) -> Rgba {
    let [a, b] = [from, to].map(|colour| colour.srgb().convert::<Oklab>().components);
    let alpha = a[3] + (b[3] - a[3]) * t;
    let part = |i: usize| {
        let mixed = a[i] * a[3] * (1.0 - t) + b[i] * b[3] * t;
        if alpha > 0.0 { mixed / alpha } else { 0.0 }
    };
    Rgba::from_srgb(AlphaColor::<Oklab>::new([part(0), part(1), part(2), alpha]).convert::<Srgb>())
}

/// Linear light from gamma-encoded channels (CSS Color 4, §10.2, the transfer function of sRGB).
#[must_use]
pub fn srgb_to_linear(channels: [f32; 3]) -> [f32; 3] {
    Srgb::to_linear_srgb(channels)
}

/// Gamma-encoded channels from linear light.
#[must_use]
pub fn linear_to_srgb(light: [f32; 3]) -> [f32; 3] {
    Srgb::from_linear_srgb(light)
}

/// As [`srgb_to_linear`] for one channel from 0 to 1, read from a table: within 1/100 000 of it, for pictures of many
/// pixels.
#[must_use]
pub fn channel_to_linear(channel: f32) -> f32 {
    static TABLE: OnceLock<Vec<f32>> = OnceLock::new();
    let last = TABLE_STEPS as f32;
    let table =
        TABLE.get_or_init(|| (0..=TABLE_STEPS).map(|at| srgb_to_linear([at as f32 / last; 3])[0]).collect());
    let place = channel.clamp(0.0, 1.0) * last;
    let at = (place as usize).min(TABLE_STEPS - 1);
    table[at] + (table[at + 1] - table[at]) * (place - at as f32)
}

/// Steps of the table of linear light: 16 for each of 8 bits.
const TABLE_STEPS: usize = 4096;

/// The average of colours, weighted and premultiplied as browsers mix them.
#[must_use]
pub fn mean(weighted: &[(f32, Rgba)]) -> Rgba {
    let total: f32 = weighted.iter().map(|(weight, _)| weight).sum();
    let mut sum = [0.0; 4];
    for (weight, colour) in weighted {
        for (sum, part) in sum.iter_mut().zip(colour.premultiplied()) {
            *sum += part * weight / total.max(f32::MIN_POSITIVE);
        }
    }
    Rgba::from_premultiplied(sum)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Worked examples of CSS Color 4: §5.2 (hex), §6.1 (named), §7 (hsl), §8 (hwb), §9.4 (oklab, oklch).
    #[test]
    fn css_color_4_examples() {
        let green = [0.0, 0.501_96, 0.0, 1.0];
        for text in [
            "#008000",
            "green",
            "GREEN",
            "rgb(0 128 0)",
            "rgb(0, 128, 0)",
            "hsl(120 100% 25%)",
            "hwb(120 0% 49.8039%)",
            "oklab(51.975% -0.1403 0.10768)",
            "oklch(51.975% 0.17686 142.495)",
        ] {
            let parsed = parse_css_colour(text).expect(text).parts();
            for (found, expected) in parsed.iter().zip(green) {
                assert!((found - expected).abs() < 0.003, "{text}: {parsed:?}");
            }
        }
        assert_eq!(parse_css_colour("#0f08").expect("hex 4").a, f32::from(0x88_u8) / 255.0);
        assert_eq!(parse_css_colour("#00ff0080").expect("hex 8").a, f32::from(0x80_u8) / 255.0);
        assert_eq!(parse_css_colour("transparent").expect("named").a, 0.0);
    }

    #[test]
    fn refuses_what_it_cannot_know() {
        for text in ["", "#12", "#12345", "bleu", "rgb(1 2)", "rgb(1 2 3", "12px", "url(a)"] {
            assert!(matches!(parse_css_colour(text), Err(ColourError::Unknown(_))), "{text}");
        }
        for text in ["currentColor", "color-mix(in srgb, red, blue)", "rgb(from red r g b)", "var(--a)"] {
            assert!(matches!(parse_css_colour(text), Err(ColourError::Unsupported(_))), "{text}");
        }
    }

    #[test]
    fn out_of_gamut_is_clipped_per_channel() {
        let vivid = parse_css_colour("oklch(0.9 0.4 150)").expect("colour");
        assert_eq!((vivid.r, vivid.g), (0.0, 1.0));
    }

    #[test]
    fn lightening_moves_oklch_lightness() {
        let base = parse_css_colour("#2f7d6b").expect("colour");
        let darker = base.lightened(-0.1);
        assert!((base.lightness() - darker.lightness() - 0.1).abs() < 1e-3);
    }
}
