//! Fonts that a project brings: what they say of themselves, and any bytes at all, read and set.

#![allow(clippy::unwrap_used, missing_docs)]

use proptest::prelude::*;
use serde_json::json;
use zolvet_core::asset::Assets;
use zolvet_core::font::{Font, FontError};
use zolvet_core::geometry::{TextShape, text};
use zolvet_core::limits;

const TRUETYPE: &[u8] = include_bytes!("../../../../assets/fonts/outfit/outfit-100.ttf");
const OPENTYPE: &[u8] = include_bytes!("letters/test-letters.otf");
const WOFF2: &[u8] = include_bytes!("letters/test-mono.woff2");

fn shape(font: &str, weight: f64) -> TextShape {
    let shape =
        json!({"string": "let sun AV", "font": font, "size": 40, "weight": weight, "line_height": 1.2});
    serde_json::from_value(shape).unwrap()
}

#[test]
fn a_font_says_what_it_is() {
    let told = |bytes: &[u8]| {
        let font = Font::read(bytes).unwrap();
        (
            font.family.clone(),
            font.weights,
            ["Open Font License", "scripts.sil.org/OFL"].iter().any(|said| font.licence.contains(said)),
        )
    };
    // It is called Thin, and its file says 250.
    assert_eq!(told(TRUETYPE), ("Outfit".to_owned(), [250.0, 250.0], true));
    assert_eq!(told(OPENTYPE), ("Test Letters".to_owned(), [600.0, 600.0], true));
    assert_eq!(told(WOFF2), ("Test Mono".to_owned(), [300.0, 700.0], true));
    assert_eq!(Font::read(b"").unwrap_err(), FontError::Unknown);
    assert_eq!(Font::read(b"GIF89a").unwrap_err(), FontError::Unknown);
}

/// Weights of a variable font differ, and another file of the same name is another picture.
#[test]
fn what_is_set_depends_on_weight_and_file() {
    let mono = Font::read(WOFF2).unwrap();
    let [light, bold] =
        [300.0, 700.0].map(|weight| text::outline(&shape("Test Mono", weight), std::slice::from_ref(&mono)));
    assert_ne!(light.path, bold.path);
    let letters = Font::read(OPENTYPE).unwrap().called("Test Mono");
    assert_ne!(text::outline(&shape("Test Mono", 300.0), &[letters]).path, light.path);
}

#[test]
fn no_more_fonts_are_kept_than_memory_allows() {
    let mut assets = Assets::default();
    let mut whole = TRUETYPE.to_vec();
    whole.resize(limits::FONT_BYTES, 0);
    let font = Font::read(&whole).unwrap();
    assert_eq!([(); 2].map(|()| assets.insert_font(font.clone())), [Ok(()), Ok(())]);
    assert!(assets.insert_font(font).unwrap_err().contains("64 MB"));
    whole.push(0);
    assert_eq!(Font::read(&whole).unwrap_err(), FontError::TooLarge);
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 600, failure_persistence: None, ..ProptestConfig::default() })]

    /// A font that was cut or changed on its way is told or set: nothing panics, nothing hangs.
    #[test]
    fn a_broken_font_is_told_or_set(
        which in 0..3_usize,
        changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>(), any::<bool>()), 1..6),
        cut in prop::option::weighted(0.2, any::<prop::sample::Index>()),
    ) {
        let mut bytes = [TRUETYPE, OPENTYPE, WOFF2][which].to_vec();
        for (at, to, early) in changes {
            // Tables are found by what stands at the beginning.
            let place = at.index(if early { bytes.len().min(600) } else { bytes.len() });
            bytes[place] = to;
        }
        if let Some(cut) = cut {
            bytes.truncate(cut.index(bytes.len()));
        }
        if let Ok(font) = Font::read(&bytes) {
            let set = text::outline(&shape("Broken", 400.0), &[font.called("Broken")]);
            prop_assert!(set.width.is_finite() && set.height.is_finite());
        }
    }
}
