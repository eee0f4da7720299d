//! Fonts that a project brings, in a sheet: rules whose addresses are to be filled in, for the files stay with the
//! people who may use them (CSS Fonts 4, "The @font-face rule").

use std::collections::BTreeSet;
use std::fmt::Write as _;

use super::cascade::comment;
use crate::css::family_text;
use crate::model::{Asset, FontUse, Piece, Project, Shape};
use crate::syntax::{number_text, slug};

/// A rule for each font that is brought and used by a piece that is shown.
pub(super) fn font_faces(project: &Project) -> Vec<String> {
    let mut used = BTreeSet::new();
    for piece in project.scenes.iter().flat_map(|scene| &scene.pieces).filter(|piece| !piece.hidden) {
        families_of(piece, &mut used);
    }
    let own = project.assets.iter().filter_map(|asset| Some((asset, asset.font.as_ref()?)));
    own.filter(|(_, font)| used.contains(font.family.as_str()))
        .map(|(asset, font)| rule(asset, font))
        .collect()
}

fn families_of<'p>(piece: &'p Piece, used: &mut BTreeSet<&'p str>) {
    if let Shape::Text(text) = &piece.shape {
        used.insert(&text.font);
    }
    piece.shape.parts().iter().for_each(|part| families_of(part, used));
}

fn rule(asset: &Asset, font: &FontUse) -> String {
    let FontUse { family, weights: [low, high], licence } = font;
    let weight = |weight: f32| number_text(f64::from(weight));
    let weights = if low == high { weight(*low) } else { format!("{} {}", weight(*low), weight(*high)) };
    let (ending, format) = match asset.media_type.as_str() {
        "font/woff2" => ("woff2", "woff2"),
        "font/otf" => ("otf", "opentype"),
        _ => ("ttf", "truetype"),
    };
    let file = format!("{}-{}.{ending}", slug(family), weights.replace(' ', "-"));
    let mut text = format!("/* Fill in where the file of {} lies.", comment(family));
    if !licence.is_empty() {
        let _ = write!(text, " Its licence: {}", comment(licence));
    }
    let family = family_text(family);
    let _ = write!(
        text,
        " */\n@font-face {{\n  font-family: {family};\n  font-weight: {weights};\n  src: url(\"{file}\") format(\"{format}\");\n}}\n"
    );
    text
}
