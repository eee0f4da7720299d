//! Icons: SVG files read into path data.
//!
//! The drawing becomes what it covers: fills by their rule, strokes as drawn, within clips and masks. Colours, gradients and
//! filters are left out, because an icon is a silhouette here; so is text, which is said. What an icon has no need of and
//! what could do harm is refused.

use usvg::{Options, Tree};

use super::icon_shapes::outline;
pub use super::svg_check::parsed;
use super::svg_check::{Purpose, check};
pub use super::svg_error::SvgError;
use super::svg_error::lines_limit;
use crate::limits;
use crate::syntax::path_text;

/// Decimals of coordinates: finer than any screen shows, and short to read.
const DECIMALS: i32 = 3;

/// The area that an icon covers.
#[derive(Debug, Clone, PartialEq)]
pub struct Icon {
    /// SVG path data, filled by the non-zero rule.
    pub d: String,
    /// The rectangle of the drawing it belongs to: x, y, width, height.
    pub viewbox: [f64; 4],
    /// There is text in the file, which is left out of the silhouette.
    pub has_text: bool,
}

impl Icon {
    /// Reads an SVG file.
    ///
    /// # Errors
    /// [`SvgError`], with the place where there is one.
    pub fn read(svg: &str) -> Result<Self, SvgError> {
        let document = parsed(svg)?;
        check(&document, Purpose::Icon)?;
        let tree = Tree::from_xmltree(&document, &Options::default())
            .map_err(|error| SvgError::Svg(error.to_string()))?;
        let path = outline(&tree)?;
        let size = tree.size();
        let viewbox = [0.0, 0.0, f64::from(size.width()), f64::from(size.height())];
        let count = path.elements().len();
        if count > limits::PATH_ELEMENTS {
            return Err(SvgError::TooLarge { expected: lines_limit(), found: count });
        }
        let has_text = document.descendants().any(|node| {
            node.tag_name().name() == "text"
                && node.descendants().any(|inner| inner.text().is_some_and(|text| !text.trim().is_empty()))
        });
        Ok(Self { d: path_text(&path, DECIMALS), viewbox, has_text })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{BezPath, Shape as _};

    fn icon(body: &str) -> Result<Icon, SvgError> {
        let ns = "xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\"";
        Icon::read(&format!("<svg {ns} viewBox=\"0 0 24 24\">{body}</svg>"))
    }

    #[test]
    fn fills_and_strokes_become_one_outline() {
        let found = icon("<rect x='2' y='2' width='8' height='8'/><path d='M14 4 H20' stroke='red' stroke-width='2' fill='none'/>")
            .expect("an icon");
        assert_eq!(found.viewbox, [0.0, 0.0, 24.0, 24.0]);
        let area = BezPath::from_svg(&found.d).expect("path data").area().abs();
        assert!((area - 76.0).abs() < 0.01, "{area}");
    }

    #[test]
    fn holes_stay_holes_by_either_rule() {
        let ring = "<path fill-rule='evenodd' d='M2 2 H22 V22 H2 Z M8 8 H16 V16 H8 Z'/>";
        let area = BezPath::from_svg(&icon(ring).expect("an icon").d).expect("path data").area().abs();
        assert!((area - 336.0).abs() < 0.01, "{area}");
    }

    /// Invisible parts are not solid: frames without paint, groups that are clear, areas that clips and masks take
    /// away.
    #[test]
    fn only_what_is_seen_is_covered() {
        let square = "<rect x='2' y='2' width='8' height='8'/>";
        for (body, expected) in [
            (format!("<path d='M0 0h24v24H0z' fill='none'/>{square}"), 64.0),
            (format!("<rect width='24' height='24' fill='transparent'/>{square}"), 64.0),
            (format!("<rect width='24' height='24' opacity='0'/>{square}"), 64.0),
            (format!("<rect width='24' height='24' fill-opacity='0'/>{square}"), 64.0),
            (format!("<g opacity='0'><rect width='24' height='24'/></g>{square}"), 64.0),
            (
                format!(
                    "<clipPath id='c'><rect x='2' y='2' width='4' height='8'/></clipPath><g clip-path='url(#c)'>{square}</g>"
                ),
                32.0,
            ),
            (
                format!(
                    "<mask id='m' style='mask-type:alpha'><rect x='2' y='2' width='2' height='8'/></mask><g mask='url(#m)'>{square}</g>"
                ),
                16.0,
            ),
            (
                format!(
                    "<mask id='m'><rect width='24' height='24' fill='white'/><rect x='4' y='4' width='4' height='4'/></mask>\
                     <g mask='url(#m)'>{square}</g>"
                ),
                48.0,
            ),
            (
                format!(
                    "<g transform='translate(4 4)' clip-path='url(#d)'>{square}</g><clipPath id='d'><rect width='4' height='24'/></clipPath>"
                ),
                16.0,
            ),
        ] {
            let area = BezPath::from_svg(&icon(&body).expect(&body).d).expect("path data").area().abs();
            assert!((area - expected).abs() < 0.01, "{body}: {area}");
        }
    }

    #[test]
    fn curves_stay_curves() {
        let curves = |body: &str| {
            icon(body).expect(body).d.matches('C').count() + icon(body).expect(body).d.matches('Q').count()
        };
        let disc = "<circle cx='8' cy='8' r='6'/>";
        assert!((2..=8).contains(&curves(disc)), "{}", curves(disc));
        assert!(curves("<circle cx='12' cy='12' r='8' fill='none' stroke='red' stroke-width='2'/>") >= 4);
        let ring = "<path fill-rule='evenodd' d='M12 2a10 10 0 1 0 0 20 10 10 0 0 0 0-20zm0 4a6 6 0 1 0 0 12 6 6 0 0 0 0-12z'/>";
        let area = BezPath::from_svg(&icon(ring).expect("an icon").d).expect("path data").area().abs();
        assert!((area - std::f64::consts::PI * 64.0).abs() < 0.5 && curves(ring) > 0, "{area}");
        assert!(!icon(disc).expect("a disc").has_text);
        assert!(icon(&format!("{disc}<text y='9'>Ab</text>")).expect("a disc").has_text);
    }

    #[test]
    fn what_could_do_harm_is_refused_with_its_place() {
        for (body, words) in [
            ("<script>alert(1)</script>", "<script> is not taken"),
            ("<rect onclick='x()' width='1' height='1'/>", "the script in onclick"),
            ("<use xlink:href='http://127.0.0.1/a.svg#b'/>", "a reference to another file"),
            ("<image href='a.png'/>", "<image>"),
            ("<rect width='1' height='1' fill='url(http://127.0.0.1/a)'/>", "another file in fill"),
            ("<style>@import 'a.css';</style>", "a style that refers"),
            ("<defs><marker id='m'/></defs>", "<marker>"),
            ("<g>", "expected SVG"),
            ("", "expected at least one shape"),
        ] {
            let error = icon(body).expect_err(body).to_string();
            assert!(error.contains(words), "{body}: {error}");
        }
        let bomb = "<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;'>]><svg xmlns='http://www.w3.org/2000/svg'>&b;</svg>";
        assert!(matches!(Icon::read(bomb), Err(SvgError::Xml { .. })));
    }

    #[test]
    fn elements_that_multiply_are_counted_as_drawn() {
        let mut body = "<g id='a0'><rect width='1' height='1'/></g>".to_owned();
        for i in 1..30 {
            body += &format!("<g id='a{i}'><use href='#a{}'/><use href='#a{}'/></g>", i - 1, i - 1);
        }
        assert!(matches!(icon(&body), Err(SvgError::TooLarge { .. })));
        let looped = "<g id='a'><use href='#b'/></g><g id='b'><use href='#a'/></g>";
        assert!(icon(looped).is_err());
    }
}
