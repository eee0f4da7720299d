//! Whether everything that comments and pages name is there: files, sections of the project's own pages, and names of
//! the code.

use std::collections::HashSet;
use std::fs;
use std::path::{Path, PathBuf};

use regex::Regex;

use crate::run::{Outcome, root};

/// Folders and pages in which names are looked for.
const PLACES: [&str; 5] = ["crates", "web/src", "docs", "README.md", "CONTRIBUTING.md"];
/// Endings of files whose comments are read, or that are read whole.
const CODE: [&str; 5] = ["rs", "ts", "tsx", "js", "mjs"];
/// Folders of others, and of generated files.
const PASSED_OVER: [&str; 3] = ["node_modules", "target", "dist"];
/// Files that are named and come into being when a command is run, or belong to others.
const ELSEWHERE: [&str; 1] = ["target/package/zolvet"];

/// Checks every comment and page, and reports every name that is not there.
pub fn check() -> Outcome {
    let files = files(root())?;
    let known = Known::collect(&files)?;
    let mut wrong = Vec::new();
    for (path, text) in &known.texts {
        let is_page = path.extension().is_some_and(|ending| ending == "md");
        for (at, line) in text.lines().enumerate() {
            let said = if is_page { Some(line) } else { comment(line) };
            let Some(said) = said else { continue };
            let missing = known.missing(said, is_page);
            wrong.extend(missing.iter().map(|name| format!("{}:{}: {name}", path.display(), at + 1)));
        }
    }
    if wrong.is_empty() { Ok(()) } else { Err(format!("named, and not there:\n{}", wrong.join("\n"))) }
}

/// Names that exist.
struct Known {
    texts: Vec<(PathBuf, String)>,
    /// Files by their paths from the root.
    files: Vec<String>,
    /// Headings as `page.md#heading`.
    headings: HashSet<String>,
    words: HashSet<String>,
    patterns: Patterns,
}

struct Patterns {
    cited: Regex,
    quoted: Regex,
    path: Regex,
    item: Regex,
}

impl Known {
    fn collect(files: &[PathBuf]) -> Result<Self, String> {
        let pattern = |text: &str| Regex::new(text).map_err(|error| error.to_string());
        let patterns = Patterns {
            cited: pattern(r#"docs/([a-z_-]+\.md)(?:, "([^"]+)")?"#)?,
            quoted: pattern("`([^`]+)`")?,
            path: pattern(
                r"^(?:[A-Za-z0-9_.{},/-]+/[A-Za-z0-9_.{},-]+\.(?:mjs|js|json|toml)|[A-Za-z0-9_.{},/-]+\.(?:rs|tsx?|md))$",
            )?,
            item: pattern(
                r"^(?:[A-Z][A-Za-z0-9]*(?:::[A-Za-z_][A-Za-z0-9_]*)+|[A-Z][a-z0-9]+(?:[A-Z][a-z0-9]+)+|[a-z]+(?:_[a-z0-9]+)+)$",
            )?,
        };
        let word = pattern("[A-Za-z_][A-Za-z0-9_]*")?;
        let mut known = Self {
            texts: Vec::new(),
            files: files.iter().map(|path| path.display().to_string()).collect(),
            headings: HashSet::new(),
            words: HashSet::new(),
            patterns,
        };
        for path in files.iter().filter(|path| is_read(path)) {
            let text = fs::read_to_string(root().join(path))
                .map_err(|error| format!("{}: {error}", path.display()))?;
            let name = path.file_name().unwrap_or_default().to_string_lossy();
            if name.ends_with(".md") {
                let headings = text.lines().filter_map(|line| line.strip_prefix('#'));
                let heading = |line: &str| format!("{name}#{}", line.trim_start_matches('#').trim());
                known.headings.extend(headings.map(heading));
            } else {
                let code = text.lines().filter(|line| comment(line).is_none());
                for line in code {
                    known.words.extend(word.find_iter(line).map(|found| found.as_str().to_owned()));
                }
            }
            known.words.extend(path.file_stem().map(|stem| stem.to_string_lossy().into_owned()));
            known.texts.push((path.clone(), text));
        }
        Ok(known)
    }

    /// Names on a line that do not exist.
    fn missing(&self, line: &str, is_page: bool) -> Vec<String> {
        let mut missing = Vec::new();
        for cited in self.patterns.cited.captures_iter(line) {
            let page = &cited[1];
            if !self.is_file(&format!("docs/{page}")) {
                missing.push(format!("docs/{page}"));
            } else if let Some(section) = cited
                .get(2)
                .filter(|section| !self.headings.contains(&format!("{page}#{}", section.as_str())))
            {
                missing.push(format!("docs/{page} has no section {:?}", section.as_str()));
            }
        }
        for quoted in self.patterns.quoted.captures_iter(line) {
            let quoted = &quoted[1];
            if self.patterns.path.is_match(quoted) {
                missing.extend(unfolded(quoted).into_iter().filter(|path| !self.is_file(path)));
            } else if is_page && self.patterns.item.is_match(quoted) {
                missing
                    .extend(quoted.split("::").filter(|name| !self.words.contains(*name)).map(str::to_owned));
            }
        }
        missing
    }

    /// Whether a file has this path, or one that ends like it.
    fn is_file(&self, path: &str) -> bool {
        let inner = format!("/{path}");
        ELSEWHERE.contains(&path) || self.files.iter().any(|file| file == path || file.ends_with(&inner))
    }
}

/// The comment on a line of code.
fn comment(line: &str) -> Option<&str> {
    let line = line.trim_start();
    ["///", "//!", "//", "/**", "*"].iter().find_map(|mark| line.strip_prefix(mark))
}

/// A path with names in braces as the paths it stands for.
fn unfolded(path: &str) -> Vec<String> {
    let Some((before, rest)) = path.split_once('{') else { return vec![path.to_owned()] };
    let Some((inside, after)) = rest.split_once('}') else { return vec![path.to_owned()] };
    inside.split(',').flat_map(|one| unfolded(&format!("{before}{one}{after}"))).collect()
}

fn is_read(path: &Path) -> bool {
    let ending = path.extension().unwrap_or_default().to_string_lossy();
    let is_placed = PLACES.iter().any(|place| path.starts_with(place));
    is_placed && (ending == "md" || CODE.contains(&&*ending))
}

/// Every file of the project, by its path from the root.
fn files(root: &Path) -> Result<Vec<PathBuf>, String> {
    let (mut found, mut folders) = (Vec::new(), vec![root.to_owned()]);
    while let Some(folder) = folders.pop() {
        for entry in
            fs::read_dir(&folder).map_err(|error| format!("{}: {error}", folder.display()))?.flatten()
        {
            let (path, name) = (entry.path(), entry.file_name());
            if !path.is_dir() {
                found.push(path.strip_prefix(root).unwrap_or(&path).to_owned());
            } else if !PASSED_OVER.iter().any(|other| name == *other)
                && !name.to_string_lossy().starts_with(".git")
            {
                folders.push(path);
            }
        }
    }
    found.sort();
    Ok(found)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_that_are_not_there_are_said() {
        let page = PathBuf::from("docs/words.md");
        let mut known = Known::collect(&[page]).unwrap();
        known.files.push("crates/core/render/src/compose/tile.rs".to_owned());
        known.words.extend(["BlendMode".to_owned(), "Normal".to_owned()]);
        for (line, missing) in [
            ("`compose/tile.rs` and `BlendMode::Normal`", vec![]),
            ("`compose/{tile,tiles}.rs`", vec!["compose/tiles.rs"]),
            ("`BlendMode::Abnormal`", vec!["Abnormal"]),
            ("docs/words.md, \"Our own words\"", vec![]),
            ("docs/words.md, \"Their words\"", vec!["docs/words.md has no section \"Their words\""]),
            ("docs/deeds.md", vec!["docs/deeds.md"]),
        ] {
            assert_eq!(known.missing(line, true), missing, "{line}");
        }
    }
}
