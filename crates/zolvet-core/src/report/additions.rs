//! Coats to add: each a real coat, made for this piece, so that it can be shown on it before it is chosen.

use serde::Serialize;

use crate::blend::BlendMode;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourOrigin, ColourSource, CssColour, FollowingOffset, Id,
    Offset, OffsetPx, Opacity, OutOfRange, Project, Spread, TakenColour,
};

/// A coat that could be added.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Addition {
    /// What it does, in a few words.
    pub says: &'static str,
    /// The coat, to be given an id of its own.
    pub coat: Coat,
}

/// One row of the list below: kind, name, what it says, distance, blur, spread, colour, opacity, blend mode.
struct Recipe {
    inner: bool,
    name: &'static str,
    says: &'static str,
    lengths: [f64; 3],
    colour: Option<&'static str>,
    opacity: f64,
    blend: BlendMode,
}

const fn recipe(
    inner: bool,
    name: &'static str,
    says: &'static str,
    lengths: [f64; 3],
    colour: Option<&'static str>,
    opacity: f64,
) -> Recipe {
    Recipe { inner, name, says, lengths, colour, opacity, blend: BlendMode::Normal }
}

/// Numbers after the trade facts of DESIGN §12 (common practice, no published source).
const RECIPES: [Recipe; 6] = [
    recipe(false, "Drop shadow", "soft, from the main light", [8.0, 16.0, 0.0], Some("#000000"), 0.25),
    recipe(
        false,
        "Contact shadow",
        "tight and dark, where it touches",
        [1.0, 2.0, 0.0],
        Some("#000000"),
        0.35,
    ),
    recipe(false, "Own-colour shadow", "the piece's colour on the ground", [6.0, 10.0, 0.0], None, 0.4),
    recipe(true, "Pressed in", "dark along the edge near the light", [6.0, 10.0, 0.0], Some("#000000"), 0.4),
    recipe(true, "Lit edge", "bright along the edge near the light", [1.0, 1.0, 0.0], Some("#ffffff"), 0.7),
    Recipe {
        blend: BlendMode::Screen,
        ..recipe(false, "Glow", "light all round, on dark grounds", [0.0, 24.0, 2.0], None, 0.8)
    },
];

/// The coats that could be added to a piece of this project; those with an offset follow its first light.
///
/// # Errors
/// Never for the numbers above; they are checked like any others.
pub fn additions(project: &Project) -> Result<Vec<Addition>, OutOfRange> {
    let light = project.lights.first().map(|light| &light.id);
    RECIPES.iter().enumerate().map(|(i, recipe)| addition(i, recipe, light)).collect()
}

fn addition(number: usize, recipe: &Recipe, light: Option<&Id>) -> Result<Addition, OutOfRange> {
    let [distance, blur, spread] = recipe.lengths;
    let distance = OffsetPx::new(distance)?;
    let offset = match light {
        Some(light) if distance.get() != 0.0 => {
            Offset::Following(FollowingOffset { distance, follows: light.clone() })
        }
        _ => Offset::Cartesian(CartesianOffset { x: OffsetPx::default(), y: distance }),
    };
    let (blur, spread) = (BlurRadius::new(blur)?, Spread::new(spread)?);
    let own = ColourSource::From(TakenColour { from: ColourOrigin::Fill, lightness: None });
    let literal = recipe.colour.and_then(|text| CssColour::parse(text).ok());
    let colour = literal.map_or(own, ColourSource::Literal);
    let make = if recipe.inner { CoatKind::inner } else { CoatKind::drop };
    let kind = make(offset, blur, spread, colour);
    let coat = Coat {
        id: Id::numbered("addition", number),
        name: recipe.name.to_owned(),
        on: true,
        opacity: Opacity::new(recipe.opacity)?,
        blend: recipe.blend,
        kind,
    };
    Ok(Addition { says: recipe.says, coat })
}
