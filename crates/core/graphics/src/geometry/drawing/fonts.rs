//! Fonts for texts in drawings: those that ship, and those that a project brings.

use std::collections::BTreeSet;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use usvg::fontdb::{Database, Family, ID, Query, Source, Stretch, Style, Weight};
use usvg::{FontFamily, FontResolver};

use crate::font::Font;
use crate::geometry::text::FAMILIES;

/// The fonts that ship, with those of a project.
pub(super) fn database(fonts: &[Font]) -> Arc<Database> {
    static SHIPPED: OnceLock<Arc<Database>> = OnceLock::new();
    let shipped = SHIPPED.get_or_init(|| {
        let mut database = Database::new();
        for face in FAMILIES.iter().flat_map(|family| family.faces) {
            database.load_font_source(Source::Binary(Arc::new(face.data)));
        }
        Arc::new(database)
    });
    if fonts.is_empty() {
        return Arc::clone(shipped);
    }
    let mut database = Database::clone(shipped);
    for font in fonts {
        let data: Arc<dyn AsRef<[u8]> + Send + Sync> = Arc::new(Bytes(Arc::clone(font.data())));
        database.load_font_source(Source::Binary(data));
    }
    Arc::new(database)
}

struct Bytes(Arc<Vec<u8>>);

impl AsRef<[u8]> for Bytes {
    fn as_ref(&self) -> &[u8] {
        &self.0
    }
}

/// The families that texts ask for and that are not at hand.
#[derive(Default)]
pub(super) struct MissingFamilies(Mutex<BTreeSet<String>>);

impl MissingFamilies {
    /// Their names, in alphabetical order.
    pub fn names(&self) -> Vec<String> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).iter().cloned().collect()
    }

    /// Chooses the first family that is at hand, or the first of ours in its place, and notes the family that was wanted.
    pub fn resolver(&self) -> FontResolver<'_> {
        let select = move |wanted: &usvg::Font, database: &mut Arc<Database>| -> Option<ID> {
            let find = |name: &str| {
                database.query(&Query {
                    families: &[Family::Name(name)],
                    weight: Weight(wanted.weight()),
                    stretch: Stretch::Normal,
                    style: match wanted.style() {
                        usvg::FontStyle::Normal => Style::Normal,
                        usvg::FontStyle::Italic => Style::Italic,
                        usvg::FontStyle::Oblique => Style::Oblique,
                    },
                })
            };
            let named = |family: &FontFamily| match family {
                FontFamily::Named(name) => Some(name.clone()),
                FontFamily::Serif
                | FontFamily::SansSerif
                | FontFamily::Cursive
                | FontFamily::Fantasy
                | FontFamily::Monospace => None,
            };
            let names: Vec<String> = wanted.families().iter().filter_map(named).collect();
            if let Some(found) = names.iter().find_map(|name| find(name)) {
                return Some(found);
            }
            if let Some(first) = names.into_iter().next() {
                self.0.lock().unwrap_or_else(PoisonError::into_inner).insert(first);
            }
            find(FAMILIES[0].name)
        };
        let select_fallback = FontResolver::default_fallback_selector();
        FontResolver { select_font: Box::new(select), select_fallback }
    }
}
