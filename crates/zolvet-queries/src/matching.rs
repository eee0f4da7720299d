//! Stacks found on pictures.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde::{Deserialize, Serialize};
use zolvet_core::colour::colour_text;
use zolvet_core::model::Coat;
use zolvet_core::picture::{Bitmap, Picture, png_data_url};
use zolvet_core::solve::{
    MOST_PIXELS, MatchNote, MatchRequest, MatchedPicture, MatchedStack, PlacedBox, SolveError, drawn_match,
    match_picture, matched_coats,
};

use crate::pictures::to_png;
use crate::{QueryContext, QueryError};

/// A picture of an element, to find its stack.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PictureRequest {
    /// A PNG, JPEG or WebP file in Base64 (RFC 4648, §4).
    file: String,
    /// Pixels of the picture for one CSS px; where nobody says, as the file says, or 1.
    density: Option<f64>,
    /// Where the element is; it is looked for where nobody says.
    place: Option<FoundPlace>,
    /// The radius of its corners in CSS px, where its place is given.
    radius: Option<f64>,
    /// The most shadows on each side of its outline; 3 where nobody says.
    most: Option<usize>,
}

/// The stacks of a picture. Lengths are in CSS px.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MatchAnswer {
    /// The size of the whole picture.
    size: [f64; 2],
    /// Pixels of the picture for one CSS px.
    density: f64,
    /// The element's border box.
    place: FoundPlace,
    /// The radius of its corners.
    radius: f64,
    /// The colour it lies on.
    ground: String,
    /// The colour of its surface.
    fill: String,
    /// The width and colour of its border.
    border: Option<FoundBorder>,
    /// The element with what is around it on the picture: a PNG as a data URL.
    picture: String,
    /// The best stack for each number of shadows, fewest first.
    by_count: Vec<MatchedCoats>,
    /// Which of them is worth its shadows, from 0.
    suggested: usize,
    /// What the picture cannot tell, in sentences.
    notes: Vec<String>,
}

/// An element's border box on a picture, in CSS px.
#[derive(Serialize, Deserialize, Clone, Copy)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FoundPlace {
    /// Its left side.
    x: f64,
    /// Its upper side.
    y: f64,
    /// Its width.
    w: f64,
    /// Its height.
    h: f64,
}

/// A border that was found.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FoundBorder {
    /// Its width.
    width: f64,
    /// Its colour, as it is seen.
    colour: String,
}

/// A stack that was found, and how it looks.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MatchedCoats {
    /// Its number of shadows.
    shadows: usize,
    /// Its coats, with a stroke for a border.
    coats: Vec<Coat>,
    /// How far off it is.
    error: SolveError,
    /// The element with it as a browser draws it, as large as the picture: a PNG as a data URL.
    drawn: String,
    /// Where the two differ, sixteen times as strong, on white: a PNG as a data URL.
    difference: String,
}

/// The most shadows on one side that are looked for.
const MOST: usize = 6;

/// Finds the stack of a picture.
///
/// # Errors
/// The place where the request is not as expected; that the picture shows no box.
pub fn match_stack(context: &QueryContext<'_>, request: &PictureRequest) -> Result<MatchAnswer, QueryError> {
    let bytes = STANDARD.decode(&request.file);
    let bytes =
        bytes.map_err(|error| QueryError::invalid_at("/file", format!("expected Base64: {error}")))?;
    let bitmap =
        Bitmap::decode(&bytes).map_err(|error| QueryError::invalid_at("/file", error.to_string()))?;
    if u64::from(bitmap.picture.width) * u64::from(bitmap.picture.height) > MOST_PIXELS {
        let expected = format!("expected at most {MOST_PIXELS} pixels: cut the picture around the element");
        return Err(QueryError::invalid_at("/file", expected));
    }
    let density = request.density.or_else(|| Picture::density_of_png(&bytes)).unwrap_or(1.0);
    if !(0.5..=4.0).contains(&density) {
        return Err(QueryError::invalid_at("/density", "expected 0.5 to 4"));
    }
    let most = request.most.unwrap_or(3);
    if !(1..=MOST).contains(&most) {
        return Err(QueryError::invalid_at("/most", format!("expected 1 to {MOST}")));
    }
    let place = request.place.map(|place| placed(place, request.radius, density, &bitmap.picture));
    let asked = MatchRequest {
        picture: &bitmap.picture,
        density,
        place: place.transpose()?,
        is_compressed: zolvet_core::picture::media_type(&bytes) != Some("image/png"),
        most,
    };
    let found = match_picture(&asked).ok_or_else(|| QueryError::cannot(NO_BOX))?;
    Drawing { context, picture: &bitmap.picture, density, found: &found }.answer()
}

/// Why a stack is not drawn.
const TOO_LARGE: &str = "this picture is too large to draw its element again: cut it around the element";

/// Why there is no stack.
const NO_BOX: &str = "no box with an edge all around was found on this picture: lay one over it";

fn placed(
    FoundPlace { x, y, w: width, h: height }: FoundPlace,
    radius: Option<f64>,
    density: f64,
    picture: &Picture,
) -> Result<PlacedBox, QueryError> {
    let (right, bottom) = (f64::from(picture.width) / density, f64::from(picture.height) / density);
    let is_inside = x >= 0.0 && y >= 0.0 && x + width <= right && y + height <= bottom;
    if !is_inside || width < 4.0 || height < 4.0 {
        let expected = format!("expected a box of at least 4 px within {right} × {bottom} px");
        return Err(QueryError::invalid_at("/place", expected));
    }
    let most = width.min(height) / 2.0;
    let radius = radius.unwrap_or(0.0).clamp(0.0, most);
    Ok(PlacedBox { left: x, top: y, width, height, radius }.scaled(density))
}

/// Found stacks, drawn beside their picture.
struct Drawing<'a> {
    context: &'a QueryContext<'a>,
    picture: &'a Picture,
    density: f64,
    found: &'a MatchedPicture,
}

impl Drawing<'_> {
    fn answer(&self) -> Result<MatchAnswer, QueryError> {
        let Self { picture, density, found, .. } = self;
        let [x, y, width, height] = self.window();
        let shown = crop(picture, [x, y, width, height]);
        let stacks = found.by_count.iter().map(|stack| self.stack(stack, &shown));
        let PlacedBox { left, top, width, height, radius } = found.place;
        let border = found.border.map(|(width, colour)| FoundBorder { width, colour: colour_text(colour) });
        Ok(MatchAnswer {
            size: [picture.width, picture.height].map(|side| f64::from(side) / density),
            density: *density,
            place: FoundPlace { x: left, y: top, w: width, h: height },
            radius,
            ground: colour_text(found.ground),
            fill: colour_text(found.fill),
            border,
            picture: png_data_url(&to_png(&shown)?),
            by_count: stacks.collect::<Result<_, _>>()?,
            suggested: found.suggested,
            notes: found.notes.iter().map(sentence).collect(),
        })
    }

    /// The part of the picture that the element and its shadows take, in its pixels: x, y, width and height.
    fn window(&self) -> [u32; 4] {
        let reach = self.found.by_count.iter().flat_map(|stack| &stack.outside);
        let reach = reach.map(zolvet_core::solve::Shadow::reach).fold(24.0, f64::max).min(160.0);
        let place = self.found.place.scaled(self.density);
        let reach = reach * self.density;
        let from = |at: f64| (at - reach).floor().max(0.0) as u32;
        let to = |at: f64, most: u32| ((at + reach).ceil() as u32).min(most);
        let (left, top) = (from(place.left), from(place.top));
        let (right, bottom) =
            (to(place.right(), self.picture.width), to(place.bottom(), self.picture.height));
        [left, top, right.saturating_sub(left).max(1), bottom.saturating_sub(top).max(1)]
    }

    fn stack(&self, stack: &MatchedStack, shown: &Picture) -> Result<MatchedCoats, QueryError> {
        let coats = matched_coats(self.found, stack);
        let size = (self.picture.width as usize, self.picture.height as usize);
        let view = (self.density, size);
        let drawn = drawn_match(self.found, stack, view, self.window(), self.context.cache);
        let drawn = drawn.ok_or_else(|| QueryError::cannot(TOO_LARGE))?;
        let difference = difference(shown, &drawn);
        Ok(MatchedCoats {
            shadows: stack.outside.len() + stack.inside.len(),
            error: stack.error,
            drawn: png_data_url(&to_png(&drawn)?),
            difference: png_data_url(&to_png(&difference)?),
            coats,
        })
    }
}

fn crop(picture: &Picture, [x, y, width, height]: [u32; 4]) -> Picture {
    let rows = (y..y + height).flat_map(|y| (x..x + width).map(move |x| (x, y)));
    let rgba = rows.flat_map(|(x, y)| picture.at(x, y)).collect();
    Picture { width, height, rgba }
}

/// How much stronger differences are shown than they are.
const STRONGER: u16 = 16;

fn difference(a: &Picture, b: &Picture) -> Picture {
    let pixels = a.rgba.chunks_exact(4).zip(b.rgba.chunks_exact(4));
    let of = |(a, b): (&[u8], &[u8])| -> [u8; 4] {
        let channel = |at: usize| {
            let off = u16::from(a[at].abs_diff(b[at])) * STRONGER;
            255 - u8::try_from(off).unwrap_or(255)
        };
        [channel(0), channel(1), channel(2), 255]
    };
    Picture { width: a.width, height: a.height, rgba: pixels.flat_map(of).collect() }
}

fn sentence(note: &MatchNote) -> String {
    match note {
        MatchNote::Opacity { shadow, least, most } => {
            let per_cent = |share: f64| (share * 1000.0).round() / 10.0;
            format!(
                "Drop shadow {}: {} % to {} % opacity look alike here, with a darker or paler colour; this is the darkest.",
                shadow + 1,
                per_cent(*least),
                per_cent(*most)
            )
        }
        MatchNote::Spread { shadow } => format!(
            "Drop shadow {}: with so little blur, a px of spread and some opacity can stand for one another.",
            shadow + 1
        ),
    }
}
