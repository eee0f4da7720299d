//! Reading `box-shadow` and `text-shadow` (CSS Backgrounds and Borders 3, "Drop Shadows"; CSS Text Decoration 3,
//! "Text Shadows") into coats.

use super::error::CssError;
use super::parts::{Kind, Part, bare_value};
use crate::blend::BlendMode;
use crate::limits;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourSource, CssColour, Id, Offset, OffsetPx, Opacity,
    OutOfRange, Spread,
};

/// Which property a shadow comes from.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Property {
    BoxShadow,
    TextShadow,
}

/// The shadows of a value that stands alone; `own` is the colour of those that say none.
///
/// # Errors
/// [`CssError`], counted from the start of the value.
pub(super) fn shadow_list(property: Property, value: &str, own: &CssColour) -> Result<Vec<Coat>, CssError> {
    let mut coats = Vec::new();
    each_layer(property, &bare_value(value), &mut |layer| {
        let colour = layer.colour.clone().unwrap_or_else(|| own.clone());
        coats.push(Layer { colour: Some(colour), ..layer }.coat(coats.len() + 1));
        coats.len()
    })?;
    Ok(coats)
}

/// Appends the shadows of a value, and a diagnostic for each that was approximated.
///
/// # Errors
/// [`CssError`] at the first part that is not understood.
pub(super) fn shadows(
    property: Property,
    parts: &[Part],
    coats: &mut Vec<Coat>,
    diagnostics: &mut Vec<String>,
) -> Result<(), CssError> {
    each_layer(property, parts, &mut |layer| {
        if layer.colour.is_none() {
            let at = parts.first().map_or((1, 1), |part| (part.line, part.column));
            diagnostics.push(format!("{}:{}: no colour given: taken as black", at.0, at.1));
        }
        coats.push(layer.coat(coats.len() + 1));
        coats.len()
    })
}

/// Hands over the layers of a value one by one; `take` says how many there are then.
fn each_layer(
    property: Property,
    parts: &[Part],
    take: &mut dyn FnMut(Layer) -> usize,
) -> Result<(), CssError> {
    let is_none = matches!(parts, [Part { kind: Kind::Word(word), .. }] if word == "none");
    if is_none || parts.is_empty() {
        return Ok(());
    }
    for layer in parts.split(|part| part.kind == Kind::Comma) {
        // The caller reports stacks that are too long.
        if take(Layer::read(property, layer, parts)?) > limits::COATS {
            break;
        }
    }
    Ok(())
}

/// One shadow of a list.
struct Layer {
    inset: bool,
    offset: CartesianOffset,
    blur: BlurRadius,
    spread: Spread,
    colour: Option<CssColour>,
}

impl Layer {
    fn read(property: Property, parts: &[Part], all: &[Part]) -> Result<Self, CssError> {
        let (mut inset, mut colour) = (false, None);
        let mut lengths: Vec<(f64, &Part)> = Vec::new();
        let mut lengths_ended = false;
        for part in parts {
            match &part.kind {
                Kind::Number { value, px } => {
                    if !*px && *value != 0.0 {
                        return Err(part.error(format!("expected a unit after {value}: px")));
                    }
                    if lengths_ended {
                        return Err(part.error("expected the lengths side by side"));
                    }
                    lengths.push((*value, part));
                    continue;
                }
                Kind::OtherUnit(text) => {
                    return Err(part.error(format!("expected a length in px, found {text}")));
                }
                Kind::Word(word) if word == "inset" => {
                    if property == Property::TextShadow {
                        return Err(part.error("text-shadow takes no inset"));
                    }
                    if std::mem::replace(&mut inset, true) {
                        return Err(part.error("inset is given twice"));
                    }
                }
                _ => {
                    if colour.replace(read_colour(part)?).is_some() {
                        return Err(part.error(format!("a second colour: {}", part.text())));
                    }
                }
            }
            lengths_ended = !lengths.is_empty();
        }
        let at = parts.first().or(all.last());
        Self::from_parts(property, inset, colour, &lengths, at)
    }

    fn from_parts(
        property: Property,
        inset: bool,
        colour: Option<CssColour>,
        lengths: &[(f64, &Part)],
        at: Option<&Part>,
    ) -> Result<Self, CssError> {
        let most = if property == Property::BoxShadow { 4 } else { 3 };
        if let Some((_, extra)) = lengths.get(most) {
            let what = if property == Property::BoxShadow { "x, y, blur, spread" } else { "x, y, blur" };
            return Err(extra.error(format!("expected at most {most} lengths ({what})")));
        }
        let (Some(x), Some(y)) = (lengths.first(), lengths.get(1)) else {
            let (line, column) = at.map_or((1, 1), |part| (part.line, part.column));
            return Err(CssError::new(line, column, "expected a shadow: two lengths at least, x and y"));
        };
        Ok(Self {
            inset,
            colour,
            offset: CartesianOffset { x: length(OffsetPx::new, x)?, y: length(OffsetPx::new, y)? },
            blur: lengths.get(2).map_or(Ok(BlurRadius::default()), |at| {
                // Browsers take no negative blur.
                length(BlurRadius::new, at).map_err(|error| error.limit(at.0 > 0.0))
            })?,
            spread: lengths.get(3).map_or(Ok(Spread::default()), |at| length(Spread::new, at))?,
        })
    }

    fn coat(self, number: usize) -> Coat {
        let offset = Offset::Cartesian(self.offset);
        let colour = ColourSource::Literal(self.colour.unwrap_or_else(CssColour::black));
        let (what, make): (_, fn(_, _, _, _) -> _) =
            if self.inset { ("Inner", CoatKind::inner) } else { ("Drop", CoatKind::drop) };
        let (name, kind) = (format!("{what} shadow {number}"), make(offset, self.blur, self.spread, colour));
        let id = Id::numbered("css", number);
        Coat { id, name, on: true, opacity: Opacity::solid(), blend: BlendMode::Normal, kind }
    }
}

fn length<T>(
    make: impl Fn(f64) -> Result<T, OutOfRange>,
    (value, part): &(f64, &Part),
) -> Result<T, CssError> {
    make(*value).map_err(|error| part.error(error.to_string()).limit(true))
}

fn read_colour(part: &Part) -> Result<CssColour, CssError> {
    match &part.kind {
        Kind::Word(_) | Kind::Hash(_) | Kind::Function { .. } => {
            CssColour::parse(&part.text()).map_err(|message| part.error(message))
        }
        _ => Err(part.error(format!("expected a length, a colour or inset, found {}", part.text()))),
    }
}
