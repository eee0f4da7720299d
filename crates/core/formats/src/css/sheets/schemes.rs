//! Style sheets that come as one file for each scheme.

use super::file::StyleFile;
use super::parse::Condition;
use crate::syntax::schemes_of;

/// The condition that each file stands under: those whose names differ in nothing but the scheme hold in it.
pub(super) fn schemes(files: &[StyleFile<'_>]) -> Vec<Option<Condition>> {
    let of_scheme = |scheme| Condition::Media(format!("(prefers-color-scheme: {scheme})"));
    schemes_of(files.iter().map(|file| file.name)).into_iter().map(|scheme| scheme.map(of_scheme)).collect()
}
