//! Text to outlines: shaping and line breaking by parley, glyph outlines by skrifa, from the fonts that ship and those that
//! a project brings.

use std::borrow::Cow;
use std::sync::{Arc, Mutex, PoisonError};

use kurbo::{Affine, BezPath};
use parley::fontique::{Blob, Collection, CollectionOptions, FontInfoOverride, SourceCache};
use parley::{
    Alignment, AlignmentOptions, FontContext, FontFamily, FontFamilyName, FontStyle, FontWeight, GlyphRun,
    Layout, LayoutContext, PositionedLayoutItem, StyleProperty,
};
use skrifa::instance::{LocationRef, Size};
use skrifa::outline::{DrawSettings, OutlineGlyphFormat, OutlinePen};
use skrifa::raw::types::F2Dot14;
use skrifa::{GlyphId, MetadataProvider};

use super::Outline;
use super::outline_cache;
use crate::budget;
use crate::font::{Font, guarded};
use crate::geometry::{Align, SetText, TextShape};

/// A font family that ships with the application, under the SIL Open Font License 1.1.
pub struct Family {
    /// The name in documents and CSS.
    pub name: &'static str,
    /// Its faces, by weight.
    pub faces: &'static [Face],
    /// The text of its licence, which goes wherever the faces go.
    pub licence: &'static str,
}

/// One weight of a family.
pub struct Face {
    /// As CSS has it.
    pub weight: u16,
    /// The file's name, as it is served.
    pub file: &'static str,
    /// A TrueType font.
    pub data: &'static [u8],
}

macro_rules! face {
    ($weight:literal, $folder:literal, $file:literal) => {
        Face {
            weight: $weight,
            file: $file,
            data: include_bytes!(concat!("../../../../../assets/fonts/", $folder, "/", $file)),
        }
    };
}

/// The families that ship.
pub static FAMILIES: [Family; 3] = [
    Family {
        name: "Figtree",
        licence: include_str!("../../../../../assets/fonts/figtree/OFL.txt"),
        faces: &[
            face!(400, "figtree", "figtree-400.ttf"),
            face!(500, "figtree", "figtree-500.ttf"),
            face!(600, "figtree", "figtree-600.ttf"),
            face!(700, "figtree", "figtree-700.ttf"),
            face!(800, "figtree", "figtree-800.ttf"),
        ],
    },
    Family {
        name: "Outfit",
        licence: include_str!("../../../../../assets/fonts/outfit/OFL.txt"),
        faces: &[
            face!(100, "outfit", "outfit-100.ttf"),
            face!(300, "outfit", "outfit-300.ttf"),
            face!(600, "outfit", "outfit-600.ttf"),
        ],
    },
    Family {
        name: "Archivo Black",
        licence: include_str!("../../../../../assets/fonts/archivo-black/OFL.txt"),
        faces: &[face!(400, "archivo-black", "archivo-black-400.ttf")],
    },
];

/// Whether a family ships.
#[must_use]
pub fn has_family(name: &str) -> bool {
    FAMILIES.iter().any(|family| family.name == name)
}

/// The names of the families that ship, for messages.
#[must_use]
pub fn family_names() -> String {
    FAMILIES.iter().map(|family| family.name).collect::<Vec<_>>().join(", ")
}

/// The outline of set text, in its layout box.
///
/// Lines lie where browsers put them: ascent and descent are rounded to whole px, and what the line height leaves
/// is split above and below, rounded down (CSS Inline 3, "Leading", as Chromium 156 does it). `faces` are those of its family
/// that the project brings; without any it is set in one that ships. An empty text or a family that is neither gives an
/// empty outline.
#[must_use]
pub fn outline(text: &TextShape, faces: &[Font]) -> Arc<Outline> {
    // Text is needed for every picture, and hardly ever changes between two.
    outline_cache::outline((text, faces), kurbo::Size::ZERO, || {
        let is_paid = budget::spend(text.string.len() as u64 * STEPS_A_CHARACTER);
        Ok(if is_paid { set_text(text, faces) } else { Outline::new(BezPath::new(), 0.0, 0.0) })
    })
}

/// Steps that setting a character takes.
const STEPS_A_CHARACTER: u64 = 20_000;

/// The outline of a text as browsers place it: each glyph at a quarter of a px across (measured in Chromium 156), so
/// that the picture here equals the page.
fn set_text(text: &TextShape, faces: &[Font]) -> Outline {
    let Set { glyphs, width, height } = set(text, faces, 1.0);
    let placed = glyphs.into_iter().map(|glyph| {
        let at = Affine::translate((to_quarters(glyph.x), glyph.baseline));
        at * glyph.path
    });
    Outline::from_glyphs(
        placed,
        kurbo::Size { width, height },
        &SetText { shape: text.clone(), faces: faces.to_vec() },
    )
}

/// A text, set.
pub struct Set {
    /// In their order.
    pub glyphs: Vec<Glyph>,
    /// Of the box.
    pub width: f64,
    /// Of the box.
    pub height: f64,
}

/// A glyph and where it stands.
pub struct Glyph {
    /// Where its origin is, from the left of the box.
    pub x: f64,
    /// Where it stands, from the top of the box.
    pub baseline: f64,
    /// Its outline about its origin.
    pub path: BezPath,
    /// Whether its font is drawn with cubic curves.
    pub has_cubics: bool,
}

/// Sets a text in device pixels, `scale` of them for one px: ascent, descent and leading are rounded there.
#[must_use]
pub fn set(text: &TextShape, faces: &[Font], scale: f64) -> Set {
    if !faces.is_empty() {
        let placed = || place_glyphs(text, &Engine::with_faces(faces).lay_out(text, scale), scale);
        let nothing = || Set { glyphs: Vec::new(), width: 0.0, height: 0.0 };
        return guarded(placed).unwrap_or_else(nothing);
    }
    let mut engine = Engine::acquire();
    let layout = engine.lay_out(text, scale);
    engine.release();
    place_glyphs(text, &layout, scale)
}

fn place_glyphs(text: &TextShape, layout: &Layout<()>, scale: f64) -> Set {
    let line_height = text.size.get() * scale * text.line_height.get();
    let mut glyphs = Vec::new();
    let mut lines = 0;
    for line in layout.lines() {
        let top = f64::from(lines) * line_height;
        for item in line.items() {
            if let PositionedLayoutItem::GlyphRun(run) = item {
                append_run(&mut glyphs, &run, top, line_height);
            }
        }
        lines += 1;
    }
    let width = text.width.map_or_else(|| f64::from(layout.full_width()), |width| width.get() * scale);
    Set { glyphs, width, height: f64::from(lines) * line_height }
}

struct Engine {
    fonts: FontContext,
    layouts: LayoutContext<()>,
}

/// Engines that nobody sets with: no text waits for another to be set.
static FREE: Mutex<Vec<Engine>> = Mutex::new(Vec::new());
/// Engines in the pool.
const ENGINES: usize = 8;

impl Engine {
    /// An engine from the pool, or a new one where all are in use.
    fn acquire() -> Self {
        let pooled = FREE.lock().unwrap_or_else(PoisonError::into_inner).pop();
        pooled.unwrap_or_else(Self::new)
    }

    fn release(self) {
        let mut free = FREE.lock().unwrap_or_else(PoisonError::into_inner);
        if free.len() < ENGINES {
            free.push(self);
        }
    }
}

impl Engine {
    /// An engine for the faces of one family that a project brings.
    fn with_faces(faces: &[Font]) -> Self {
        let mut collection = Collection::new(CollectionOptions { shared: false, system_fonts: false });
        for face in faces {
            let [low, high] = face.weights;
            let named = FontInfoOverride {
                family_name: Some(&face.family),
                style: Some(FontStyle::Normal),
                // The weights of a variable font are those of its axis.
                weight: (low == high).then(|| FontWeight::new(low)),
                ..FontInfoOverride::default()
            };
            collection.register_fonts(Blob::new(Arc::clone(face.data()) as _), Some(named));
        }
        let fonts = FontContext { collection, source_cache: SourceCache::default() };
        Self { fonts, layouts: LayoutContext::new() }
    }

    fn new() -> Self {
        let options = CollectionOptions { shared: false, system_fonts: false };
        let mut collection = Collection::new(options);
        for family in &FAMILIES {
            for face in family.faces {
                let named = FontInfoOverride {
                    family_name: Some(family.name),
                    weight: Some(FontWeight::new(f32::from(face.weight))),
                    ..FontInfoOverride::default()
                };
                collection.register_fonts(Blob::new(Arc::new(face.data)), Some(named));
            }
        }
        let fonts = FontContext { collection, source_cache: SourceCache::default() };
        Self { fonts, layouts: LayoutContext::new() }
    }

    fn lay_out(&mut self, text: &TextShape, scale: f64) -> Layout<()> {
        let scaled = |length: f64| (length * scale) as f32;
        let string = text.string.as_str();
        let mut builder = self.layouts.ranged_builder(&mut self.fonts, string, 1.0, false);
        let family = FontFamilyName::Named(Cow::Borrowed(text.font.as_str()));
        builder.push_default(StyleProperty::FontFamily(FontFamily::Single(family)));
        builder.push_default(StyleProperty::FontSize(scaled(text.size.get())));
        let weight = FontWeight::new(text.weight.get() as f32);
        builder.push_default(StyleProperty::FontWeight(weight));
        builder.push_default(StyleProperty::LetterSpacing(scaled(text.spacing.get())));
        let mut layout = builder.build(string);
        layout.break_all_lines(text.width.map(|width| scaled(width.get())));
        let alignment = match text.align {
            Align::Left => Alignment::Left,
            Align::Centre => Alignment::Center,
            Align::Right => Alignment::Right,
        };
        layout.align(alignment, AlignmentOptions::default());
        layout
    }
}

fn append_run(glyphs: &mut Vec<Glyph>, run: &GlyphRun<'_, ()>, top: f64, line_height: f64) {
    let font = run.run().font();
    let Ok(font) = skrifa::FontRef::from_index(font.data.data(), font.index) else {
        return;
    };
    let size = run.run().font_size();
    let coords: Vec<F2Dot14> =
        run.run().normalized_coords().iter().map(|coord| F2Dot14::from_bits(coord.to_bits())).collect();
    let location = LocationRef::new(&coords);
    let metrics = font.metrics(Size::new(size), location);
    let (mut ascent, mut descent) = (f64::from(metrics.ascent).round(), f64::from(-metrics.descent).round());
    // Letters that are not bound to whole px keep their feet inside the line where rounding would cut them off.
    if descent < f64::from(-metrics.descent) && ascent >= 1.0 {
        (ascent, descent) = (ascent - 1.0, descent + 1.0);
    }
    let baseline = top + ascent + ((line_height - ascent - descent) / 2.0).floor();
    let outlines = font.outline_glyphs();
    let has_cubics = matches!(outlines.format(), Some(OutlineGlyphFormat::Cff | OutlineGlyphFormat::Cff2));
    for glyph in run.positioned_glyphs() {
        let Some(outline) = outlines.get(GlyphId::new(glyph.id)) else {
            continue;
        };
        let mut pen = Pen(BezPath::new());
        let settings = DrawSettings::unhinted(Size::new(size), location);
        if outline.draw(settings, &mut pen).is_ok() {
            let lift = f64::from(glyph.y - run.baseline());
            let path = Affine::FLIP_Y * pen.0;
            glyphs.push(Glyph { x: f64::from(glyph.x), baseline: baseline + lift, path, has_cubics });
        }
    }
}

/// A place to the nearest quarter of a pixel.
#[must_use]
pub fn to_quarters(x: f64) -> f64 {
    (x * 4.0 + 0.5).floor() / 4.0
}

struct Pen(BezPath);

impl OutlinePen for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.0.move_to((f64::from(x), f64::from(y)));
    }

    fn line_to(&mut self, x: f32, y: f32) {
        self.0.line_to((f64::from(x), f64::from(y)));
    }

    fn quad_to(&mut self, cx: f32, cy: f32, x: f32, y: f32) {
        self.0.quad_to((f64::from(cx), f64::from(cy)), (f64::from(x), f64::from(y)));
    }

    fn curve_to(&mut self, ax: f32, ay: f32, bx: f32, by: f32, x: f32, y: f32) {
        let (a, b) = ((f64::from(ax), f64::from(ay)), (f64::from(bx), f64::from(by)));
        self.0.curve_to(a, b, (f64::from(x), f64::from(y)));
    }

    fn close(&mut self) {
        self.0.close_path();
    }
}
