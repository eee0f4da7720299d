//! What is asked of a picture, and what is found on it.

use super::notes::MatchNote;
use super::place::PlacedBox;
use crate::colour::Rgba;
use crate::picture::Picture;
use crate::solve::error::SolveError;
use crate::solve::shadow::Shadow;

/// A picture to find a stack on.
#[derive(Debug, Clone, Copy)]
pub struct MatchRequest<'a> {
    /// The picture.
    pub picture: &'a Picture,
    /// Pixels of the picture for one CSS px.
    pub density: f64,
    /// Where the element is, in pixels of the picture; it is looked for where nobody says.
    pub place: Option<PlacedBox>,
    /// Whether the picture was compressed with loss, as JPEG is.
    pub is_compressed: bool,
    /// The most shadows on each side of the outline.
    pub most: usize,
}

/// What was found on a picture. Lengths are in CSS px, from the picture's upper left corner.
#[derive(Debug, Clone)]
pub struct MatchedPicture {
    /// The element's border box.
    pub place: PlacedBox,
    /// The colour that it lies on.
    pub ground: Rgba,
    /// The colour of its surface.
    pub fill: Rgba,
    /// The width and colour of its border.
    pub border: Option<(f64, Rgba)>,
    /// The best stack for each number of shadows, none first.
    pub by_count: Vec<MatchedStack>,
    /// Which of them is worth its shadows: those after it are hardly nearer.
    pub suggested: usize,
    /// What a picture cannot tell.
    pub notes: Vec<MatchNote>,
}

/// A stack for a picture.
#[derive(Debug, Clone)]
pub struct MatchedStack {
    /// Outside of the outline; the first is nearest the eye.
    pub outside: Vec<Shadow>,
    /// Inside it.
    pub inside: Vec<Shadow>,
    /// How far off it is at the pixels that belong to the element and its ground.
    pub error: SolveError,
}
