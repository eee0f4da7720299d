//! A style sheet as it comes.

/// A file with a style sheet.
#[derive(Debug, Clone, Copy)]
pub struct StyleFile<'a> {
    /// What it is called where several are read; empty where there is no need to say it.
    pub name: &'a str,
    /// Its text.
    pub css: &'a str,
}
