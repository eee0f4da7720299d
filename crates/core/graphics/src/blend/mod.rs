//! Blending and compositing: Compositing and Blending Level 1, §5 (simple alpha), §9 and §10 (blend modes).

use serde::{Deserialize, Serialize};

/// How a layer's colour mixes with what is below it (Compositing and Blending 1, `<blend-mode>`).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs, reason = "the names are the standard's own")]
pub enum BlendMode {
    #[default]
    Normal,
    Multiply,
    Screen,
    Overlay,
    Darken,
    Lighten,
    ColorDodge,
    ColorBurn,
    HardLight,
    SoftLight,
    Difference,
    Exclusion,
    Hue,
    Saturation,
    Color,
    Luminosity,
}

impl BlendMode {
    /// All sixteen, in the standard's order.
    pub const ALL: [Self; 16] = [
        Self::Normal,
        Self::Multiply,
        Self::Screen,
        Self::Overlay,
        Self::Darken,
        Self::Lighten,
        Self::ColorDodge,
        Self::ColorBurn,
        Self::HardLight,
        Self::SoftLight,
        Self::Difference,
        Self::Exclusion,
        Self::Hue,
        Self::Saturation,
        Self::Color,
        Self::Luminosity,
    ];
}

/// A premultiplied pixel: red, green, blue, alpha.
pub type Pixel = [f32; 4];

/// Composites `source` over `backdrop` (§5.1, source over; both premultiplied).
#[inline(always)]
#[must_use]
pub fn over(source: Pixel, backdrop: Pixel) -> Pixel {
    let visible = 1.0 - source[3];
    std::array::from_fn(|part| source[part] + backdrop[part] * visible)
}

/// As [`over`], in 8 bits as Chromium's rasteriser does it: the backdrop's part is ⌊backdrop·(256 − α)/256⌋ (measured
/// in Chromium 156). Both have to be in 8 bits already.
#[inline]
#[must_use]
pub fn over_in_8_bits(source: Pixel, backdrop: Pixel) -> Pixel {
    let keep = 256 - in_255ths(source[3]);
    std::array::from_fn(|i| source[i] + (in_255ths(backdrop[i]) * keep / 256) as f32 / 255.0)
}

/// A pixel with its parts rounded to 8 bits.
#[inline]
#[must_use]
pub fn in_8_bits(pixel: Pixel) -> Pixel {
    pixel.map(|part| in_255ths(part) as f32 / 255.0)
}

/// A part of 1 in 8 bits, to the nearest.
#[inline]
#[must_use]
pub fn in_255ths(part: f32) -> u32 {
    // Conversion to an integer takes what is below 0 as 0.
    ((part * 255.0 + 0.5) as u32).min(255)
}

/// Blends `source` with `backdrop` and composites the result over it (§10: Cs = (1 − αb)·Cs + αb·B(Cb, Cs)).
#[inline(always)]
#[must_use]
pub fn blend(mode: BlendMode, source: Pixel, backdrop: Pixel) -> Pixel {
    let least = |a: f32, b: f32| if a < b { a } else { b };
    match mode {
        BlendMode::Normal => over(source, backdrop),
        BlendMode::Multiply => premultiplied(source, backdrop, |s, b, _, _| s * b),
        BlendMode::Screen => premultiplied(source, backdrop, |s, b, sa, ba| s * ba + b * sa - s * b),
        BlendMode::Darken => premultiplied(source, backdrop, |s, b, sa, ba| least(s * ba, b * sa)),
        BlendMode::Lighten => premultiplied(source, backdrop, |s, b, sa, ba| -least(-s * ba, -b * sa)),
        _ if source[3] <= 0.0 || backdrop[3] <= 0.0 => over(source, backdrop),
        _ => divided(mode, source, backdrop),
    }
}

/// As [`blend`], for modes that need colours divided by their alpha.
fn divided(mode: BlendMode, source: Pixel, backdrop: Pixel) -> Pixel {
    let cs = unpremultiplied(source);
    let cb = unpremultiplied(backdrop);
    let mixed = mode.mix(cb, cs);
    let [alpha_s, alpha_b] = [source[3], backdrop[3]];
    let part = |i: usize| alpha_s * ((1.0 - alpha_b) * cs[i] + alpha_b * mixed[i]);
    over([part(0), part(1), part(2), alpha_s], backdrop)
}

/// Modes that need no colour divided by its alpha: `mix` is αs·αb·B(Cb, Cs) in premultiplied parts, to which come
/// source and backdrop where the other is not (§5.1).
#[inline(always)]
fn premultiplied(source: Pixel, backdrop: Pixel, mix: impl Fn(f32, f32, f32, f32) -> f32) -> Pixel {
    let (sa, ba) = (source[3], backdrop[3]);
    let part = |i: usize| {
        let (s, b) = (source[i], backdrop[i]);
        s * (1.0 - ba) + b * (1.0 - sa) + mix(s, b, sa, ba)
    };
    [part(0), part(1), part(2), sa + ba * (1.0 - sa)]
}

fn unpremultiplied(pixel: Pixel) -> [f32; 3] {
    std::array::from_fn(|i| (pixel[i] / pixel[3]).min(1.0))
}

impl BlendMode {
    /// The blend function B(Cb, Cs).
    fn mix(self, cb: [f32; 3], cs: [f32; 3]) -> [f32; 3] {
        match self {
            Self::Hue => set_luminosity(set_saturation(cs, saturation(cb)), luminosity(cb)),
            Self::Saturation => set_luminosity(set_saturation(cb, saturation(cs)), luminosity(cb)),
            Self::Color => set_luminosity(cs, luminosity(cb)),
            Self::Luminosity => set_luminosity(cb, luminosity(cs)),
            Self::Normal
            | Self::Multiply
            | Self::Screen
            | Self::Overlay
            | Self::Darken
            | Self::Lighten
            | Self::ColorDodge
            | Self::ColorBurn
            | Self::HardLight
            | Self::SoftLight
            | Self::Difference
            | Self::Exclusion => std::array::from_fn(|i| self.mix_channel(cb[i], cs[i])),
        }
    }

    fn mix_channel(self, cb: f32, cs: f32) -> f32 {
        match self {
            Self::Multiply => cb * cs,
            Self::Screen => screen(cb, cs),
            Self::Overlay => hard_light(cs, cb),
            Self::Darken => cb.min(cs),
            Self::Lighten => cb.max(cs),
            Self::ColorDodge if cb <= 0.0 => 0.0,
            Self::ColorDodge if cs >= 1.0 => 1.0,
            Self::ColorDodge => (cb / (1.0 - cs)).min(1.0),
            Self::ColorBurn if cb >= 1.0 => 1.0,
            Self::ColorBurn if cs <= 0.0 => 0.0,
            Self::ColorBurn => 1.0 - ((1.0 - cb) / cs).min(1.0),
            Self::HardLight => hard_light(cb, cs),
            Self::SoftLight => soft_light(cb, cs),
            Self::Difference => (cb - cs).abs(),
            Self::Exclusion => cb + cs - 2.0 * cb * cs,
            Self::Normal | Self::Hue | Self::Saturation | Self::Color | Self::Luminosity => cs,
        }
    }
}

fn screen(cb: f32, cs: f32) -> f32 {
    cb + cs - cb * cs
}

fn hard_light(cb: f32, cs: f32) -> f32 {
    if cs <= 0.5 { cb * 2.0 * cs } else { screen(cb, 2.0 * cs - 1.0) }
}

fn soft_light(cb: f32, cs: f32) -> f32 {
    if cs <= 0.5 {
        return cb - (1.0 - 2.0 * cs) * cb * (1.0 - cb);
    }
    let d = if cb <= 0.25 { ((16.0 * cb - 12.0) * cb + 4.0) * cb } else { cb.sqrt() };
    cb + (2.0 * cs - 1.0) * (d - cb)
}

fn luminosity([r, g, b]: [f32; 3]) -> f32 {
    0.3 * r + 0.59 * g + 0.11 * b
}

fn saturation([r, g, b]: [f32; 3]) -> f32 {
    r.max(g).max(b) - r.min(g).min(b)
}

fn set_luminosity(colour: [f32; 3], target: f32) -> [f32; 3] {
    let shift = target - luminosity(colour);
    clip_colour(colour.map(|part| part + shift))
}

fn clip_colour(colour: [f32; 3]) -> [f32; 3] {
    let l = luminosity(colour);
    let low = colour[0].min(colour[1]).min(colour[2]);
    let high = colour[0].max(colour[1]).max(colour[2]);
    let mut clipped = colour;
    if low < 0.0 {
        clipped = clipped.map(|part| l + (part - l) * l / (l - low));
    }
    if high > 1.0 {
        clipped = clipped.map(|part| l + (part - l) * (1.0 - l) / (high - l));
    }
    clipped
}

fn set_saturation(colour: [f32; 3], target: f32) -> [f32; 3] {
    let low = colour[0].min(colour[1]).min(colour[2]);
    let range = saturation(colour);
    if range <= 0.0 { [0.0; 3] } else { colour.map(|part| (part - low) * target / range) }
}

/// The mode as CSS names it (Compositing and Blending 1, §5.1).
pub fn mode_text(mode: BlendMode) -> String {
    serde_json::to_value(mode).ok().and_then(|name| name.as_str().map(str::to_owned)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Compositing and Blending 1, §9.1.1 to §9.1.12 worked by hand on one pair of colours (0.6 below, 0.4 above).
    #[test]
    fn separable_formulas() {
        let below = [0.6, 0.6, 0.6, 1.0];
        let above = [0.4, 0.4, 0.4, 1.0];
        let expected = [
            (BlendMode::Normal, 0.4),
            (BlendMode::Multiply, 0.24),
            (BlendMode::Screen, 0.76),
            (BlendMode::Overlay, 0.52),
            (BlendMode::Darken, 0.4),
            (BlendMode::Lighten, 0.6),
            (BlendMode::ColorDodge, 1.0),
            (BlendMode::ColorBurn, 0.0),
            (BlendMode::HardLight, 0.48),
            (BlendMode::SoftLight, 0.552),
            (BlendMode::Difference, 0.2),
            (BlendMode::Exclusion, 0.52),
        ];
        for (mode, value) in expected {
            let found = blend(mode, above, below)[0];
            assert!((found - value).abs() < 1e-6, "{mode:?}: {found}");
        }
    }

    #[test]
    fn non_separable_modes_keep_luminosity() {
        let below = [0.2, 0.5, 0.7, 1.0];
        let above = [0.9, 0.3, 0.1, 1.0];
        for mode in [BlendMode::Hue, BlendMode::Saturation, BlendMode::Color] {
            let [r, g, b, _] = blend(mode, above, below);
            assert!((luminosity([r, g, b]) - luminosity([0.2, 0.5, 0.7])).abs() < 1e-5, "{mode:?}");
        }
        let [r, g, b, _] = blend(BlendMode::Luminosity, above, below);
        assert!((luminosity([r, g, b]) - luminosity([0.9, 0.3, 0.1])).abs() < 1e-5);
    }

    #[test]
    fn blending_fades_with_the_backdrop() {
        let source = [0.5, 0.25, 0.0, 0.5];
        assert_eq!(blend(BlendMode::Multiply, source, [0.0; 4]), source);
    }
}
