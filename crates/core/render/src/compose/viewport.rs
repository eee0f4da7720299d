//! The part of a scene that is drawn, its scale, and the options it is drawn with.

use kurbo::Affine;

use super::masks::coverage::RenderMode;
use crate::limits;
use crate::model::Id;
use crate::raster::Rect;
use crate::resolve::Scene;

/// The part of the scene that is drawn, and how large.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Viewport {
    /// The scene's x at the picture's left edge.
    pub x: f64,
    /// The scene's y at the picture's top edge.
    pub y: f64,
    /// Device pixels for one CSS px.
    pub scale: f64,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
}

impl Viewport {
    /// The whole of a scene.
    #[must_use]
    pub fn whole(scene: &Scene, scale: f64) -> Self {
        let pixels = |length: f64| (length * scale).round().max(1.0) as u32;
        let (width, height) = (pixels(scene.width), pixels(scene.height));
        Self { x: 0.0, y: 0.0, scale, width, height }
    }

    /// The scale a scene is drawn at where one is wished for, or the largest that keeps the picture within its limits.
    #[must_use]
    pub fn largest_scale(scene: &Scene, wished: f64) -> f64 {
        let (width, height) = (scene.width.max(1.0), scene.height.max(1.0));
        let by_side = f64::from(limits::PICTURE_SIDE) / width.max(height);
        // Sides are rounded to whole pixels, which may be half a pixel more.
        let by_area = (limits::PICTURE_PIXELS as f64 * 0.999 / (width * height)).sqrt();
        wished.min(by_side).min(by_area)
    }

    /// Checks that a picture of this size is within its limits.
    ///
    /// # Errors
    /// In words.
    pub fn check_size(&self) -> Result<(), String> {
        let (side, pixels) = (self.width.max(self.height), u64::from(self.width) * u64::from(self.height));
        if side > limits::PICTURE_SIDE {
            return Err(format!(
                "expected a picture of at most {} px a side, found {side}",
                limits::PICTURE_SIDE
            ));
        }
        if pixels > limits::PICTURE_PIXELS {
            return Err(format!("expected a picture of at most 32 million pixels, found {pixels}"));
        }
        Ok(())
    }

    /// The same part on a screen with `density` device pixels for one CSS px, from 1 to 4; fewer where that would be more
    /// than 4096 across or down.
    #[must_use]
    pub fn on_screen_of(self, density: f64) -> Self {
        let most = (4096.0 / f64::from(self.width.max(self.height).max(1))).clamp(1.0, 4.0);
        let density = if density.is_finite() { density.clamp(1.0, most) } else { 1.0 };
        let side = |pixels: u32| (f64::from(pixels) * density).round() as u32;
        Self { scale: self.scale * density, width: side(self.width), height: side(self.height), ..self }
    }

    pub(super) fn window(&self) -> Rect {
        let side = |pixels: u32| i32::try_from(pixels).unwrap_or(i32::MAX);
        Rect::new(0, 0, side(self.width), side(self.height))
    }

    /// From the scene's px to device pixels.
    #[must_use]
    pub fn transform(&self) -> Affine {
        Affine::scale(self.scale) * Affine::translate((-self.x, -self.y))
    }

    /// Some of its pixels, or pixels beyond its edges.
    pub(super) fn part(&self, window: Rect) -> Part<'_> {
        Part { viewport: self, window }
    }

    pub(super) fn whole_part(&self) -> Part<'_> {
        self.part(self.window())
    }
}

/// Pixels of a viewport, counted as it counts them: whatever is worked out on a grid is the same for every part.
#[derive(Clone, Copy)]
pub(super) struct Part<'a> {
    pub viewport: &'a Viewport,
    pub window: Rect,
}

/// Which pieces and coats are drawn, and how.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RenderOptions {
    /// Only this piece.
    pub piece: Option<Id>,
    /// Without ground and fills: the coats alone, on transparency.
    pub shadow_only: bool,
    /// Which coats.
    pub coats: CoatFilter,
    /// Exactly, or as another renderer does.
    pub mode: RenderMode,
}

/// Which coats are drawn.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Default)]
pub enum CoatFilter {
    /// All that are on.
    #[default]
    All,
    /// None: the bare pieces.
    None,
    /// One of each piece that has it.
    Only(Id),
    /// All but one.
    Without(Id),
}

impl CoatFilter {
    pub(super) fn includes(&self, coat: &Id) -> bool {
        match self {
            Self::All => true,
            Self::None => false,
            Self::Only(only) => only == coat,
            Self::Without(left_out) => left_out != coat,
        }
    }
}
