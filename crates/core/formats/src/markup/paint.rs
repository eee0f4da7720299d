//! Fills as SVG paint servers (SVG 2, "Paint Servers").

use kurbo::Size;

use std::fmt::Write as _;

use percent_encoding::{AsciiSet, utf8_percent_encode};

use crate::colour::solid_text;
use crate::geometry::Silhouette;
use crate::markup::{data, escaped, transform};
use crate::picture::{Picture, png_data_url};
use crate::resolve::{ColourStop, Highlight, Paint, Piece, gradient_line};
use crate::syntax::number_text;

/// The fill of a shape: a definition it needs, and its attributes with the space before them.
pub(crate) struct Filled {
    pub definition: String,
    pub attributes: String,
}

/// A fill over a box that starts at 0,0.
pub(crate) fn filled(paint: &Paint, id: &str, Size { width, height }: Size) -> Filled {
    let definition = match paint {
        Paint::None => return Filled { definition: String::new(), attributes: " fill=\"none\"".to_owned() },
        Paint::Solid(colour) => {
            let opacity =
                if colour.a >= 1.0 { String::new() } else { format!(" fill-opacity=\"{}\"", colour.a) };
            let attributes = format!(" fill=\"{}\"{opacity}", solid_text(*colour));
            return Filled { definition: String::new(), attributes };
        }
        Paint::Linear { angle, stops } => {
            let (from, to) = gradient_line(*angle, width, height);
            let [x1, y1, x2, y2] = [from.x, from.y, to.x, to.y].map(number_text);
            format!(
                "<linearGradient id=\"{id}\" gradientUnits=\"userSpaceOnUse\" x1=\"{x1}\" y1=\"{y1}\" x2=\"{x2}\" y2=\"{y2}\">{}</linearGradient>\n",
                stops_text(stops)
            )
        }
        Paint::Radial { centre, radius, stops } => format!(
            "<radialGradient id=\"{id}\" gradientUnits=\"userSpaceOnUse\" cx=\"{}\" cy=\"{}\" r=\"{}\">{}</radialGradient>\n",
            number_text(centre.0 * width),
            number_text(centre.1 * height),
            number_text(*radius),
            stops_text(stops)
        ),
        Paint::Image { .. } => picture(paint, id, Size { width, height }),
    };
    Filled { definition, attributes: format!(" fill=\"url(#{id})\"") }
}

/// A picture as a pattern, drawn at two pixels for one px.
fn picture(paint: &Paint, id: &str, Size { width, height }: Size) -> String {
    let (w, h) = (number_text(width), number_text(height));
    format!(
        "<pattern id=\"{id}\" patternUnits=\"userSpaceOnUse\" width=\"{w}\" height=\"{h}\">\
         <image width=\"{w}\" height=\"{h}\" preserveAspectRatio=\"none\" href=\"{}\"/></pattern>\n",
        picture_url(paint, Size { width, height })
    )
}

/// A picture or drawing as a data URL: its own pixels, two for one px.
pub(crate) fn own_picture_url(piece: &Piece) -> String {
    let (width, height) = piece.silhouette.size();
    match &piece.silhouette {
        Silhouette::Drawing(drawn) => {
            let picture = drawn.picture((width.max(height) * 2.0).clamp(1.0, 4096.0));
            png_data_url(&picture.to_png().unwrap_or_default())
        }
        Silhouette::Box(_) | Silhouette::Outline(_) | Silhouette::Alpha(_) => {
            picture_url(&piece.fill.with_alpha(), Size { width, height })
        }
    }
}

/// A fill's pixels over a box as a data URL (RFC 2397), two pixels for one px.
fn picture_url(paint: &Paint, Size { width, height }: Size) -> String {
    let pixels = |length: f64| ((length * 2.0).ceil().clamp(1.0, 4096.0)) as u32;
    let (columns, rows) = (pixels(width), pixels(height));
    let step = (width / f64::from(columns), height / f64::from(rows));
    let sampler = paint.sampler(width, height, 2.0);
    let mut rgba = Vec::with_capacity(columns as usize * rows as usize * 4);
    for y in 0..rows {
        for x in 0..columns {
            let at = kurbo::Point::new((f64::from(x) + 0.5) * step.0, (f64::from(y) + 0.5) * step.1);
            let colour = crate::colour::Rgba::from_premultiplied(sampler.at(at));
            rgba.extend(colour.parts().map(|part| (part.clamp(0.0, 1.0) * 255.0).round() as u8));
        }
    }
    let png = Picture { width: columns, height: rows, rgba }.to_png().unwrap_or_default();
    png_data_url(&png)
}

fn stops_text(stops: &[ColourStop]) -> String {
    let mut text = String::new();
    for stop in stops {
        let colour = solid_text(stop.colour);
        let _ = write!(text, "<stop offset=\"{}\" stop-color=\"{colour}\"", number_text(stop.at));
        if stop.colour.a < 1.0 {
            let _ = write!(text, " stop-opacity=\"{}\"", stop.colour.a);
        }
        text.push_str("/>");
    }
    text
}

/// A highlight as the picture of a background layer: an SVG as large as the box, in a data URL.
pub(crate) fn highlight_url(spot: &Highlight, opacity: f64, Size { width, height }: Size) -> String {
    let own = spot.silhouette.size();
    let fill = filled(&spot.paint, "p", own.into());
    let faded = if opacity < 1.0 { format!(" opacity=\"{}\"", number_text(opacity)) } else { String::new() };
    let blurred = if spot.blur > 0.0 { " filter=\"url(#b)\"" } else { "" };
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}\" height=\"{h}\" viewBox=\"0 0 {w} {h}\">{}{}\
         <g{faded}><path d=\"{}\"{}{}{blurred}/></g></svg>",
        blur_filter("b", spot.blur / 2.0, spot.silhouette.bounds()),
        fill.definition,
        data(&spot.silhouette.outline().path),
        fill.attributes,
        transform(spot.place),
        w = number_text(width),
        h = number_text(height),
    );
    format!("url(\"{}\") 0 0 / {}px {}px no-repeat", svg_url(&svg), number_text(width), number_text(height))
}

/// An SVG file as a data URL (RFC 2397).
pub(crate) fn svg_url(svg: &str) -> String {
    format!("data:image/svg+xml,{}", encoded(svg))
}

/// A Gaussian with a filter region large enough for it; nothing for σ 0.
pub(crate) fn blur_filter(id: &str, sigma: f64, bounds: kurbo::Rect) -> String {
    if sigma <= 0.0 {
        return String::new();
    }
    let room = bounds.inflate(3.0 * sigma + 1.0, 3.0 * sigma + 1.0);
    let [x, y, w, h] =
        [room.x0.floor(), room.y0.floor(), room.width().ceil() + 1.0, room.height().ceil() + 1.0]
            .map(number_text);
    format!(
        "<filter id=\"{}\" filterUnits=\"userSpaceOnUse\" x=\"{x}\" y=\"{y}\" width=\"{w}\" height=\"{h}\" \
         color-interpolation-filters=\"sRGB\"><feGaussianBlur stdDeviation=\"{}\"/></filter>\n",
        escaped(id),
        number_text(sigma)
    )
}

/// Characters that must be encoded in an URL in double quotes (RFC 3986, section 2), besides those quotes.
const NOT_IN_URLS: AsciiSet = AsciiSet::EMPTY.add(b'<').add(b'>').add(b'#').add(b'%').add(b'\'').add(b'\\');

/// An SVG file for a data URL in double quotes. Characters outside ASCII may stand in a style sheet as they are.
fn encoded(svg: &str) -> String {
    let mut text = String::with_capacity(svg.len());
    for letter in svg.chars() {
        match letter {
            '"' => text.push('\''),
            '\n' => {}
            _ if letter.is_ascii() => {
                text.extend(utf8_percent_encode(letter.encode_utf8(&mut [0; 4]), &NOT_IN_URLS))
            }
            other => text.push(other),
        }
    }
    text
}
