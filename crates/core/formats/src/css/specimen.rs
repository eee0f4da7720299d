//! One piece on a ground, wearing the depth of some CSS: the command line's `--css` draws it.

use super::{CssError, ReadCss, read};
use crate::asset::Assets;
use crate::geometry::{Align, TextShape};
use crate::limits;
use crate::model::{
    BoxShape, ColourSource, CssColour, Fill, FontSize, Id, Length, LineHeight, OutOfRange, OwnCoats, Piece,
    Prefix, Project, Px, Radii, Scene, SchemaVersion, Scheme, Shape, Size, SolidFill, Spacing, Theme, Wear,
    Weight,
};

/// The subject of a specimen and its ground.
#[derive(Debug, Clone, PartialEq)]
pub struct Specimen {
    /// Declarations separated by `;`.
    pub css: String,
    /// Width and height of the piece, where it is a box.
    pub piece: (f64, f64),
    /// Of the box's corners.
    pub radius: f64,
    /// Of the piece.
    pub fill: CssColour,
    /// Of the ground.
    pub ground: CssColour,
    /// Width and height of the scene.
    pub size: (f64, f64),
    /// Set text instead of a box.
    pub text: Option<String>,
}

/// A specimen that cannot be made.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum SpecimenError {
    /// Its CSS was not understood.
    #[error(transparent)]
    Css(#[from] CssError),
    /// One of its numbers is out of range.
    #[error(transparent)]
    Number(#[from] OutOfRange),
    /// Its CSS says nothing about shadows.
    #[error("1:1: expected box-shadow, text-shadow, filter or backdrop-filter")]
    Nothing,
}

impl Specimen {
    /// The coats of its project that come from a `filter`.
    ///
    /// # Errors
    /// [`SpecimenError`] when its CSS is not understood.
    pub fn filters(&self) -> Result<Vec<Id>, SpecimenError> {
        Ok(self.read()?.filters)
    }

    /// Each thing that is approximated or left out, in words with its place.
    ///
    /// # Errors
    /// [`SpecimenError`] when its CSS is not understood.
    pub fn notes(&self) -> Result<Vec<String>, SpecimenError> {
        Ok(self.read()?.diagnostics)
    }

    /// Its CSS, which says nothing but depth.
    fn read(&self) -> Result<ReadCss, SpecimenError> {
        let mut css = read(&self.css)?;
        if self.text.is_none() && !css.of_letters.is_empty() {
            css.coats.retain(|coat| !css.of_letters.contains(&coat.id));
            css.diagnostics.push("text-shadow is left out: there are no letters without --text".to_owned());
        }
        if let Some(other) = css.others.into_iter().next() {
            return Err(other.into());
        }
        if css.coats.len() > limits::COATS {
            let message = format!("expected at most {} shadows", limits::COATS);
            return Err(CssError::new(1, 1, message).limit(true).into());
        }
        Ok(ReadCss { others: Vec::new(), ..css })
    }

    /// The specimen as a project with one scene; the piece lies at floor((W − w)/2), floor((H − h)/2).
    ///
    /// # Errors
    /// [`SpecimenError`] when its CSS or a number is not understood.
    pub fn project(&self) -> Result<Project, SpecimenError> {
        let css = self.read()?;
        let (width, height) = (Size::new(self.size.0)?, Size::new(self.size.1)?);
        let shape = self.shape()?;
        let (w, h) = crate::resolve::silhouette(&shape, &Assets::default()).size();
        let piece = Piece {
            name: "specimen".to_owned(),
            shape,
            x: Px::new(((width.get() - w) / 2.0).floor())?,
            y: Px::new(((height.get() - h) / 2.0).floor())?,
            fill: solid(&self.fill),
            wear: Wear::Coats(OwnCoats { coats: css.coats }),
            ..Piece::new(Id::numbered("piece", 1))
        };
        let theme = Theme {
            id: Id::numbered("theme", 1),
            name: "specimen".to_owned(),
            scheme: Scheme::Light,
            selectors: Vec::new(),
        };
        let scene = Scene {
            page: None,
            id: Id::numbered("scene", 1),
            name: "specimen".to_owned(),
            width,
            height,
            theme: theme.id.clone(),
            ground: solid(&self.ground),
            pieces: vec![piece],
            reference: None,
        };
        Ok(Project {
            schema: SchemaVersion,
            prefix: Prefix::default(),
            name: "specimen".to_owned(),
            themes: vec![theme],
            swatches: Vec::new(),
            lights: Vec::new(),
            finishes: Vec::new(),
            scale: Vec::new(),
            scenes: vec![scene],
            assets: Vec::new(),
            fallbacks: false,
            accepted: Vec::new(),
        })
    }

    fn shape(&self) -> Result<Shape, OutOfRange> {
        let Some(string) = &self.text else {
            let (w, h) = (Size::new(self.piece.0)?, Size::new(self.piece.1)?);
            let radii = Radii::All(Length::new(self.radius)?);
            return Ok(Shape::Box(BoxShape { w, h, radii }));
        };
        Ok(Shape::Text(TextShape {
            string: string.clone(),
            font: "Figtree".to_owned(),
            size: FontSize::new(32.0)?,
            weight: Weight::new(700.0)?,
            spacing: Spacing::default(),
            line_height: LineHeight::new(1.25)?,
            align: Align::Left,
            width: None,
        }))
    }
}

fn solid(colour: &CssColour) -> Fill {
    Fill::Solid(SolidFill { colour: ColourSource::Literal(colour.clone()) })
}
