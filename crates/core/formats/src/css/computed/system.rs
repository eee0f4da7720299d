//! System colours (CSS Color 4, section 6.2 and appendix A), as Chromium has them on Linux: measured with `getComputedStyle` in
//! both schemes.

use crate::colour::Rgba;

/// A system colour by its name in lower case.
pub(super) fn system_colour(name: &str, is_dark: bool) -> Option<Rgba> {
    let (_, light, dark) = COLOURS.iter().find(|(names, _, _)| names.contains(&name))?;
    let [r, g, b, a] = if is_dark { *dark } else { *light }.map(|part| f32::from(part) / 255.0);
    Some(Rgba::new(r, g, b, a))
}

type Channels = [u8; 4];

const BLACK: Channels = [0, 0, 0, 255];
const WHITE: Channels = [255, 255, 255, 255];
const NEAR_BLACK: Channels = [18, 18, 18, 255];
const GREY: Channels = [128, 128, 128, 255];

const COLOURS: [(&[&str], Channels, Channels); 17] = [
    (
        &[
            "canvas",
            "activecaption",
            "appworkspace",
            "background",
            "inactivecaption",
            "infobackground",
            "menu",
            "scrollbar",
            "window",
        ],
        WHITE,
        NEAR_BLACK,
    ),
    (
        &[
            "canvastext",
            "buttonborder",
            "buttontext",
            "fieldtext",
            "activeborder",
            "captiontext",
            "inactiveborder",
            "infotext",
            "menutext",
            "threeddarkshadow",
            "threedhighlight",
            "threedlightshadow",
            "threedshadow",
            "windowframe",
            "windowtext",
        ],
        BLACK,
        WHITE,
    ),
    (
        &["buttonface", "buttonhighlight", "buttonshadow", "threedface"],
        [239, 239, 239, 255],
        [107, 107, 107, 255],
    ),
    (&["field"], WHITE, [59, 59, 59, 255]),
    (&["graytext", "inactivecaptiontext"], GREY, GREY),
    (&["highlight"], [0, 65, 198, 204], [0, 65, 198, 204]),
    (&["highlighttext"], WHITE, WHITE),
    (&["linktext", "-webkit-link"], [0, 0, 238, 255], [158, 158, 255, 255]),
    (&["visitedtext"], [85, 26, 139, 255], [208, 173, 240, 255]),
    (&["activetext", "-webkit-activelink"], [255, 0, 0, 255], [255, 0, 0, 255]),
    (&["mark"], [255, 255, 0, 255], [255, 255, 0, 255]),
    (&["marktext"], BLACK, BLACK),
    (&["selecteditem"], [25, 103, 210, 255], [153, 200, 255, 255]),
    (&["selecteditemtext"], WHITE, [59, 59, 59, 255]),
    (&["-webkit-text"], BLACK, WHITE),
    (&["accentcolor"], [0, 117, 255, 255], [0, 117, 255, 255]),
    (&["accentcolortext"], WHITE, WHITE),
];
