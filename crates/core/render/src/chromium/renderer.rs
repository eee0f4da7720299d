//! How Chromium draws coverage and layers, where it differs from the exact picture (docs/rendering.md, "Chromium").

use kurbo::{Affine, Rect as Bounds, Shape as _};

use super::boxes::boxes;
use super::letters::Lightness;
use super::nine_patch::{self, DeviceBox};
use super::raster::{rasterize_coarsely, rasterize_corners};
use crate::blend::{Pixel, in_255ths};
use crate::blur::{self, Blurred};
use crate::colour::Rgba;
use crate::compose::{Coverage, MaskCache, RenderMode, Renderer};
use crate::geometry::{RoundedBox, Silhouette};
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect, rasterize};

/// As Chromium draws CSS: shadows never softer than it draws them, each layer rounded to 8 bits by itself.
pub const CSS: RenderMode = RenderMode::with_renderer(&Css);
/// As Chromium draws SVG files, in which every blur is a filter.
pub const SVG: RenderMode = RenderMode::with_renderer(&Svg);

/// The softest σ of a box or text shadow in device pixels (docs/rendering.md, "Chromium", measured in Chromium 156 at 1x and 2x).
const MAX_SIGMA: f64 = 128.0;
/// How far the ring of an inner shadow goes around its piece at the most, in device pixels (measured in Chromium 156).
const WIDEST_RING: f64 = 128.0;

struct Css;
struct Svg;

impl Renderer for Css {
    fn name(&self) -> &'static str {
        "Chromium, CSS"
    }

    fn coverage(&self, coverage: &Coverage<'_>, clip: Rect, cache: &MaskCache) -> Blurred {
        let mask = ring(coverage)
            .map(|ring| around_hole(coverage, ring, clip, cache))
            .or_else(|| shadow_of_box(coverage, clip))
            .unwrap_or_else(|| render_mask(coverage, clip, cache, nine_patch::blurred));
        Blurred::Fine(mask)
    }

    fn is_unbounded(&self, coverage: &Coverage<'_>) -> bool {
        ring(coverage).is_some()
    }

    /// Letters that are not blurred are drawn heavier the lighter they are.
    fn luminance_class(&self, coverage: &Coverage<'_>, colour: Rgba) -> Option<u8> {
        let is_text = matches!(coverage.silhouette, Silhouette::Outline(outline) if outline.text().is_some());
        let by_colour = is_text && coverage.sigma <= 0.0 && coverage.spread == 0.0;
        by_colour.then(|| Lightness::from_colour(colour).0)
    }

    fn max_sigma(&self) -> f64 {
        MAX_SIGMA
    }

    fn clips_each_layer(&self) -> bool {
        true
    }

    fn composite(&self, colour: [u32; 4], coverage: f32, below: Pixel) -> Pixel {
        composite(colour, coverage, below)
    }
}

impl Renderer for Svg {
    fn name(&self) -> &'static str {
        "Chromium, SVG"
    }

    fn coverage(&self, coverage: &Coverage<'_>, clip: Rect, cache: &MaskCache) -> Blurred {
        Blurred::Fine(render_mask(coverage, clip, cache, boxes))
    }

    fn is_unbounded(&self, _: &Coverage<'_>) -> bool {
        false
    }

    fn luminance_class(&self, _: &Coverage<'_>, _: Rgba) -> Option<u8> {
        None
    }

    fn max_sigma(&self) -> f64 {
        f64::INFINITY
    }

    fn clips_each_layer(&self) -> bool {
        false
    }

    fn composite(&self, colour: [u32; 4], coverage: f32, below: Pixel) -> Pixel {
        composite(colour, coverage, below)
    }
}

/// A colour, in 8 bits, composited through coverage: coverage in 8 bits too, and x·y / 255 taken as ⌊(x·y + x) / 256⌋ (measured
/// in Chromium 156: of six ways to round, this comes closest).
fn composite(colour: [u32; 4], coverage: f32, below: Pixel) -> Pixel {
    let coverage = in_255ths(coverage);
    if coverage == 0 {
        return below;
    }
    let scaled = |value: u32, by: u32| value * (by + 1) / 256;
    let source = colour.map(|part| scaled(part, coverage));
    let kept = 255 - source[3];
    std::array::from_fn(|i| (source[i] + scaled(in_255ths(below[i]), kept)) as f32 / 255.0)
}

/// Coverage, sharp or blurred by `blur`.
fn render_mask(
    coverage: &Coverage<'_>,
    clip: Rect,
    cache: &MaskCache,
    blur: fn(&Mask, f64, Rect) -> Mask,
) -> Mask {
    if coverage.sigma > 0.0 {
        return blurred(coverage, clip, cache, blur).unwrap_or_else(|| Mask::empty(Rect::default()));
    }
    let mut mask = sharp(coverage, clip, cache);
    if let Some(lightness) = coverage.luminance_class {
        Lightness(lightness).apply(&mut mask);
    }
    mask
}

/// `None` where nothing is left of the shape.
fn blurred(
    coverage: &Coverage<'_>,
    clip: Rect,
    cache: &MaskCache,
    blur: fn(&Mask, f64, Rect) -> Mask,
) -> Option<Mask> {
    let sharp = coverage.not_blurred();
    let (source, _) = sharp.source(clip.grown(blur::reach(coverage.sigma)))?;
    match &*sharp.clipped(source, cache) {
        Blurred::Fine(mask) => Some(blur(mask, coverage.sigma, clip)),
        Blurred::Coarse(_) => None,
    }
}

fn sharp(coverage: &Coverage<'_>, clip: Rect, cache: &MaskCache) -> Mask {
    match coverage.silhouette {
        Silhouette::Box(rounded) => match rounded.spread(coverage.spread) {
            Some(spread) => {
                rasterize_corners(&spread.corners(), coverage.place * coverage.spread_shift(), clip)
            }
            None => Mask::empty(Rect::default()),
        },
        Silhouette::Outline(outline) if coverage.spread == 0.0 => {
            rasterize_coarsely(&outline.path, coverage.place, clip)
        }
        Silhouette::Outline(_) | Silhouette::Alpha(_) | Silhouette::Drawing(_) => coverage.sharp(clip, cache),
    }
}

/// The outer edge, in device pixels, of the ring that casts an inner shadow: no wider than it needs at the most, so that
/// wide blurs run out at its outer edge too (measured in Chromium 156).
fn ring(coverage: &Coverage<'_>) -> Option<Bounds> {
    let (Silhouette::Box(rounded), Some(moved)) = (coverage.silhouette, coverage.hole) else { return None };
    if coverage.sigma <= 0.0 || coverage.is_toned() || !is_upright(coverage.place) {
        return None;
    }
    let place = Affine::translate(-moved) * coverage.place;
    let casts = place.transform_rect_bbox(Bounds::new(0.0, 0.0, rounded.width, rounded.height));
    let wide = 2.0 * coverage.sigma + coverage.spread_pixels().max(0.0);
    let around = casts.inflate(wide, wide);
    let most = f64::from(nine_patch::margin(coverage.sigma)).min(WIDEST_RING);
    Some(around.union(around + moved).intersect(casts.inflate(most, most)))
}

/// Everything but the shadow that a ring casts into its hole.
fn around_hole(coverage: &Coverage<'_>, ring: Bounds, clip: Rect, cache: &MaskCache) -> Mask {
    let reach = blur::reach(coverage.sigma);
    let cast = rasterize(&ring.to_path(0.1), Affine::IDENTITY, clip.grown(reach));
    let cast = nine_patch::blurred(&cast, coverage.sigma, clip);
    let hole =
        blurred(coverage, clip, cache, nine_patch::blurred).unwrap_or_else(|| Mask::empty(Rect::default()));
    let mut mask = Mask::empty(clip);
    for_each_row(mask.values_mut(), clip.width(), |row, line| {
        let y = clip.y0 + row;
        for (x, value) in (clip.x0..).zip(line) {
            *value = (1.0 - cast.at(x, y) + hole.at(x, y)).clamp(0.0, 1.0);
        }
    });
    mask
}

/// The blurred shadow of an upright box; nothing for all else.
fn shadow_of_box(coverage: &Coverage<'_>, clip: Rect) -> Option<Mask> {
    let Silhouette::Box(rounded) = coverage.silhouette else { return None };
    if coverage.sigma <= 0.0 || coverage.hole.is_some() || !is_upright(coverage.place) {
        return None;
    }
    let [across, _, _, down, ..] = coverage.place.as_coeffs();
    let spread = rounded.spread(coverage.spread)?;
    let at = (coverage.place * coverage.spread_shift()).translation();
    let (width, height) = (spread.width * across, spread.height * down);
    let rounded = RoundedBox { width, height, radii: spread.radii.map(|(x, y)| (x * across, y * down)) };
    nine_patch::shadow(&DeviceBox { x: at.x, y: at.y, rounded }, coverage.sigma, clip)
}

/// Whether a transform only moves and scales, by the same factor in x and y.
fn is_upright(place: Affine) -> bool {
    let [across, b, c, down, ..] = place.as_coeffs();
    b == 0.0 && c == 0.0 && across > 0.0 && across == down
}
