//! A style sheet as it comes.

/// A file with a style sheet.
#[derive(Debug, Clone, Copy)]
pub struct StyleFile<'a> {
    /// Its name, where several are read; empty where none is needed.
    pub name: &'a str,
    /// Its text.
    pub css: &'a str,
}
