//! The content and the form of a hand-off.

use serde::{Deserialize, Serialize};

use crate::lower::{Numbers, TrialPiece};
use crate::model::{Finish, Id, Prefix, Project, Theme, Wear};
use crate::svg::Backdrops;
use crate::tokens::TokenForm;

/// The sheet to write.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct SheetOptions {
    /// Only the finish with this id, without pieces.
    pub finish: Option<Id>,
    /// Only under the theme with this id, instead of every theme.
    pub theme: Option<Id>,
    /// How numbers are written.
    pub numbers: Numbers,
    /// Whether links stay links.
    pub style: Style,
    /// For which kinds of pieces finishes are written.
    pub forms: Forms,
    /// The pieces of scenes too, not the library alone.
    pub scenes: bool,
    /// The rules that are written for the scenes' pieces.
    pub pieces: Pieces,
    /// The cascade layer that everything is in.
    pub layer: Option<Prefix>,
    /// Lights are registered, and so can be animated.
    pub register_lights: bool,
    /// Where only colours differ between a light and a dark theme, they are written as one value that follows `color-scheme`.
    pub light_dark: bool,
    /// Plain values stand before living ones, for browsers without relative colours.
    pub older_colours: bool,
    /// Written as a CSS module: classes are local to it.
    pub module: bool,
    /// In which form tokens are written.
    pub token_form: TokenForm,
    /// Tokens of all themes in one file, as modes, instead of those of one theme.
    pub modes: bool,
    /// The replacement in SVG for a blur of the backdrop.
    pub backdrops: Backdrops,
}

/// Whether links of the project become links in its CSS.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Style {
    /// Lights, swatches, own fills and grounds are custom properties, from which the browser computes offsets and colours.
    #[default]
    Living,
    /// Plain values, for old browsers and other programs.
    Flat,
}

/// For which kinds of pieces finishes are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Forms {
    /// For those that wear them; for boxes where none does.
    #[default]
    Worn,
    /// For boxes, text and icons.
    All,
}

/// The rules that are written for the scenes' pieces.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Pieces {
    /// Their depth: shadows, filters and borders, and the background where coats are part of it.
    #[default]
    Depth,
    /// Size, type and fill too.
    Whole,
}

impl SheetOptions {
    /// The finishes that are written.
    pub(super) fn finishes<'a>(&self, project: &'a Project) -> impl Iterator<Item = &'a Finish> {
        let only = self.finish.clone();
        project.finishes.iter().filter(move |finish| only.as_ref().is_none_or(|only| finish.id == *only))
    }

    /// The themes that are written.
    pub(super) fn themes<'a>(&self, project: &'a Project) -> Vec<&'a Theme> {
        let chosen = |theme: &&Theme| self.theme.as_ref().is_none_or(|only| theme.id == *only);
        project.themes.iter().filter(chosen).collect()
    }

    /// The kinds of pieces that a finish is written for.
    pub(super) fn forms(&self, project: &Project, finish: &Finish) -> Vec<TrialPiece> {
        let pieces = || project.scenes.iter().flat_map(crate::model::Scene::all_pieces);
        let wears = |on: TrialPiece| {
            pieces().any(|piece| {
                matches!(&piece.wear, Wear::Finish(worn) if worn.finish == finish.id)
                    && TrialPiece::new(&piece.shape) == on
            })
        };
        let forms: Vec<_> =
            TrialPiece::ALL.into_iter().filter(|on| self.forms == Forms::All || wears(*on)).collect();
        if forms.is_empty() { vec![TrialPiece::for_finish(finish)] } else { forms }
    }
}
