//! SVG files of somebody's own, drawn by the core and by Chromium at four times the size judged and averaged down.

use std::path::Path;
use std::time::Instant;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::geometry::drawing::{Drawing, DrawingFile};
use zolvet_core::model::{Project, Shape};
use zolvet_core::picture::Picture;
use zolvet_core::report::artwork::take_out;
use zolvet_core::resolve;

use crate::chance::Chance;
use crate::{Difference, Outcome, crop, keep_pictures};

/// Px on the longer side that a drawing is judged at, and how many times larger it is drawn.
const SIDE: f64 = 96.0;
const TIMES: u32 = 4;
/// A ground on which both white and black are seen.
const GROUND_CSS: &str = "#8fa3b5";
const GROUND: [u8; 4] = [0x8f, 0xa3, 0xb5, 0xff];
/// Drawings in a row and in a column of a page.
pub const ACROSS: usize = 4;
/// Pixels from one drawing to the next.
pub const STEP: u32 = SIDE as u32 * TIMES + 16;

/// The name of a file.
#[must_use]
pub fn name(file: &Path) -> String {
    file.file_name().unwrap_or_default().to_string_lossy().into_owned()
}

/// A file, drawn.
pub struct Artwork {
    /// The file's name.
    pub name: String,
    data: String,
    size: [u32; 2],
    ours: Picture,
    elements: usize,
    milliseconds: u128,
    /// Elements that were taken out of it.
    pub taken: Taken,
}

/// Elements that were taken out.
#[derive(Debug, Default)]
pub struct Taken {
    /// Those that became boxes, ellipses and paths.
    pub shapes: usize,
    /// Those that stayed drawings of one element.
    pub drawings: usize,
    /// Those with which the picture changed.
    pub changed: usize,
}

/// Elements of a drawing that are taken out.
const TAKEN: usize = 5;

impl Taken {
    /// Takes out five elements of a drawing of several, spread over it by a seed.
    fn of(project: &Project, ours: &Picture, elements: usize) -> Outcome<Self> {
        let mut taken = Self::default();
        if elements < 2 {
            return Ok(taken);
        }
        let (assets, scene) = (Assets::carried_by(project), &project.scenes[0]);
        let mut chance = Chance::new(elements as u64);
        for _ in 0..TAKEN.min(elements) {
            let element = u32::try_from(chance.below(elements as u64))?;
            let id = &scene.pieces[0].id;
            let change = take_out(project, scene, id, element, &assets).ok_or("no such element")?;
            let mut value = serde_json::to_value(project)?;
            json_patch::patch(&mut value["scenes"][0], &change.patch)?;
            let after = Project::from_value(&value).map_err(|problems| format!("{problems:?}"))?;
            let piece = after.scenes[0].piece(change.chosen[0].as_str()).ok_or("it is lost")?;
            let is_drawing = matches!(piece.shape, Shape::Drawing(_));
            *(if is_drawing { &mut taken.drawings } else { &mut taken.shapes }) += 1;
            let bare = Picture { rgba: GROUND.repeat(ours.rgba.len() / 4), ..*ours };
            let off = Difference::touched(ours, &drawn(&after), &bare);
            taken.changed += usize::from(off.mean > 0.2 || off.p999 > 4);
        }
        Ok(taken)
    }
}

fn drawn(project: &Project) -> Picture {
    let scene = resolve::scene(project, &project.scenes[0], &Assets::carried_by(project));
    let viewport = Viewport::whole(&scene, f64::from(TIMES));
    picture(&scene, &viewport, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default())
}

impl Artwork {
    /// Reads and draws a file, and takes elements out of it.
    ///
    /// # Errors
    /// When it cannot be brought in.
    pub fn read(file: &Path) -> Outcome<Self> {
        Self::new(name(file), &std::fs::read(file)?)
    }

    /// As [`Self::read`], from the bytes of a file.
    ///
    /// # Errors
    /// As [`Self::read`].
    pub fn new(name: String, bytes: &[u8]) -> Outcome<Self> {
        let start = Instant::now();
        let drawing = Drawing::read(&DrawingFile::read(bytes)?, &[])?;
        let scale = SIDE / drawing.width.max(drawing.height);
        let [w, h] = [drawing.width, drawing.height].map(|side| (side * scale).max(1.0).round());
        let data = STANDARD.encode(bytes);
        let project =
            Project::from_value(&document(&data, [w, h])).map_err(|problems| format!("{problems:?}"))?;
        let ours = drawn(&project);
        let (elements, milliseconds) = (drawing.elements.len(), start.elapsed().as_millis());
        let taken = Taken::of(&project, &ours, elements)?;
        Ok(Self { name, data, size: [w as u32, h as u32], ours, elements, milliseconds, taken })
    }

    /// How far Chromium's picture, the one at a place of the screen, is from ours.
    ///
    /// # Errors
    /// When pictures cannot be kept.
    pub fn compare(&self, screen: &Picture, at: usize) -> Outcome<Difference> {
        let [w, h] = self.size.map(|side| side * TIMES);
        let [x, y] = [at % ACROSS, at / ACROSS].map(|place| place as u32 * STEP);
        let [ours, theirs] = [averaged(&self.ours), averaged(&crop(screen, x, y, w, h))];
        keep_pictures(&self.name, &ours, &theirs)?;
        let bare = Picture { rgba: GROUND.repeat(ours.rgba.len() / 4), ..ours };
        Ok(Difference::touched(&ours, &theirs, &bare))
    }

    /// A line about it.
    #[must_use]
    pub fn line(&self, off: Difference, meets: bool) -> Value {
        json!({"file": self.name, "elements": self.elements, "ms": self.milliseconds, "mean": (off.mean * 100.0).round() / 100.0,
            "p99": off.p99, "p999": off.p999, "within": meets, "shapes": self.taken.shapes, "drawings": self.taken.drawings,
            "changed": self.taken.changed})
    }
}

fn document(data: &str, [w, h]: [f64; 2]) -> Value {
    json!({"schema": 3, "name": "Artwork", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "File", "media_type": DrawingFile::MEDIA_TYPE, "data": data}],
        "scenes": [{"id": "s", "name": "Scene", "width": w, "height": h, "theme": "t",
            "ground": {"kind": "solid", "colour": GROUND_CSS},
            "pieces": [{"id": "p", "name": "Drawing", "x": 0, "y": 0, "wear": {"coats": []},
                "shape": {"kind": "drawing", "asset": "a", "w": w, "h": h}}]}]})
}

/// A page of drawings in rows.
#[must_use]
pub fn page(drawn: &[Artwork]) -> String {
    let images = drawn.iter().enumerate().map(|(at, artwork)| {
        let [x, y] = [at % ACROSS, at / ACROSS].map(|place| place as u32 * STEP);
        let [w, h] = artwork.size.map(|side| side * TIMES);
        let url = format!("data:image/svg+xml;base64,{}", artwork.data);
        format!(
            "<img style=\"position:absolute;left:{x}px;top:{y}px;width:{w}px;height:{h}px\" src=\"{url}\">"
        )
    });
    format!("<!doctype html><body style=\"margin:0;background:{GROUND_CSS}\">{}", images.collect::<String>())
}

/// A picture at a fourth of its size.
fn averaged(picture: &Picture) -> Picture {
    let (width, height) = (picture.width / TIMES, picture.height / TIMES);
    let mut rgba = Vec::with_capacity(width as usize * height as usize * 4);
    for (y, x) in (0..height).flat_map(|y| (0..width).map(move |x| (y, x))) {
        let pixels = (0..TIMES * TIMES).map(|at| picture.at(x * TIMES + at % TIMES, y * TIMES + at / TIMES));
        let sums = pixels
            .fold([0_u32; 4], |sums, pixel| std::array::from_fn(|part| sums[part] + u32::from(pixel[part])));
        rgba.extend(sums.map(|sum| (sum as f32 / (TIMES * TIMES) as f32).round() as u8));
    }
    Picture { width, height, rgba }
}

/// The bar for drawings (docs/drawings.md, "Against Chromium").
#[must_use]
pub fn meets_the_bar(off: Difference) -> bool {
    off.mean <= 1.75 && off.p99 <= 14 && off.p999 <= 20
}
