//! Limits on input, storage and rendering (docs/measuring.md, "Bars").

/// Bytes of a project document.
pub const DOCUMENT_BYTES: usize = 8 * 1024 * 1024;
/// Coats in a stack.
pub const COATS: usize = 64;
/// Shadows in a ramp.
pub const RAMP_STEPS: u32 = 64;
/// The opacity of all shadows of a ramp where they overlap.
pub const RAMP_TOTAL: f64 = 0.999;
/// Shadows that are found for a height.
pub const RAISED_SHADOWS: usize = 6;
/// Pieces in a scene.
pub const PIECES: usize = 1000;
/// Parts of a join.
pub const JOIN_PARTS: usize = 200;
/// Px along a side of a picture.
pub const PICTURE_SIDE: u32 = 8192;
/// Pixels of a picture, read or drawn.
pub const PICTURE_PIXELS: u64 = 32_000_000;
/// Pixels of all the pictures of a project.
pub const DOCUMENT_PIXELS: u64 = 48_000_000;
/// Bytes of an uploaded file.
pub const UPLOAD_BYTES: usize = 16 * 1024 * 1024;
/// Bytes of a font, unpacked.
pub const FONT_BYTES: usize = 32 * 1024 * 1024;
/// Bytes of all the fonts of a project, unpacked.
pub const DOCUMENT_FONT_BYTES: usize = 64 * 1024 * 1024;
/// Fonts that a project brings.
pub const FONTS: usize = 24;
/// Lines and curves in one piece of path data.
pub const PATH_ELEMENTS: usize = 10_000;
/// Characters of a set text.
pub const TEXT_CHARACTERS: usize = 2000;
/// Texts of an element of a page that are known.
pub const FITTED_TEXTS: usize = 24;
/// Characters of a name.
pub const NAME_CHARACTERS: usize = 200;
/// Selectors of a theme.
pub const THEME_SELECTORS: usize = 16;
/// Characters of a note.
pub const NOTE_CHARACTERS: usize = 4000;
/// Parts in parts of a join or group.
pub const PART_DEPTH: usize = 8;
/// Px of a spread, outwards and inwards.
pub const SPREAD: f64 = 2000.0;
