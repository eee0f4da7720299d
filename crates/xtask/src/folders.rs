//! The front end's folders in their order: a file uses its own folder and those before it.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

use regex::Regex;

use crate::run::{Outcome, root};

/// Folders of `web/src`, the first used by all others.
const ORDER: [&str; 6] = ["messages", "core", "page", "session", "parts", "frame"];
/// Views, which use the folders of [`ORDER`] and not one another.
const VIEWS: [&str; 9] =
    ["account", "bench", "check", "finishes", "handoff", "icons", "pages", "projects", "shared"];
/// A view that is the bench over another ground, and uses its instruments.
const ON_THE_BENCH: &str = "pages";

/// Fails with every import of a later folder or of another view, and with every pair of files that import one another.
pub fn check() -> Outcome {
    let source = root().join("web/src").canonicalize().map_err(|error| error.to_string())?;
    let mut files = Vec::new();
    collect(&source, &mut files)?;
    let import = Regex::new(r"(?:from|import\()\s*'(\.[^']+)'").map_err(|error| error.to_string())?;
    let mut edges = BTreeSet::new();
    for file in &files {
        let text = fs::read_to_string(file).map_err(|error| format!("{}: {error}", file.display()))?;
        for found in import.captures_iter(&text) {
            if let Some(target) = resolve(file, &found[1]) {
                edges.insert((relative(file, &source), relative(&target, &source)));
            }
        }
    }
    let mut wrong: Vec<String> = edges
        .iter()
        .filter(|(from, to)| !may_use(from, to))
        .map(|(from, to)| format!("{from} uses {to}"))
        .collect();
    let pairs = edges.iter().filter(|(from, to)| from < to && edges.contains(&(to.clone(), from.clone())));
    wrong.extend(pairs.map(|(one, other)| format!("{one} and {other} use one another")));
    if wrong.is_empty() {
        Ok(())
    } else {
        Err(format!("folders of web/src out of order:\n{}", wrong.join("\n")))
    }
}

fn may_use(from: &str, to: &str) -> bool {
    let (Some((own, _)), Some((other, _))) = (from.split_once('/'), to.split_once('/')) else {
        // Files beside the folders put views together, and only `views.ts` and the theme are used by them.
        return !from.contains('/') || ["views.ts", "theme.ts"].contains(&to);
    };
    let place = |folder: &str| ORDER.iter().position(|one| *one == folder);
    match (place(own), place(other)) {
        _ if own == other => true,
        (Some(own), Some(other)) => other < own,
        (None, Some(_)) => VIEWS.contains(&own),
        (None, None) => own == ON_THE_BENCH && other == "bench",
        (Some(_), None) => false,
    }
}

fn collect(folder: &Path, files: &mut Vec<PathBuf>) -> Outcome {
    for entry in fs::read_dir(folder).map_err(|error| format!("{}: {error}", folder.display()))? {
        let path = entry.map_err(|error| error.to_string())?.path();
        if path.is_dir() {
            collect(&path, files)?;
        } else if path.extension().is_some_and(|ending| ending == "ts" || ending == "tsx") {
            files.push(path);
        }
    }
    Ok(())
}

/// The file that an import leads to; nothing for styles and data.
fn resolve(file: &Path, import: &str) -> Option<PathBuf> {
    let target = file.parent()?.join(import);
    let endings = [".ts", ".tsx", "/index.ts"];
    let mut tried = endings.iter().map(|ending| PathBuf::from(format!("{}{ending}", target.display())));
    tried.find(|path| path.is_file()).and_then(|path| path.canonicalize().ok())
}

fn relative(file: &Path, source: &Path) -> String {
    file.strip_prefix(source).unwrap_or(file).to_string_lossy().into_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn later_folders_and_other_views_may_not_be_used() {
        assert!(may_use("bench/Stack.tsx", "session/store.ts"));
        assert!(may_use("bench/stage/Stage.tsx", "bench/Stack.tsx"));
        assert!(may_use("ProjectPage.tsx", "check/CheckView.tsx"));
        assert!(!may_use("core/core.ts", "session/store.ts"));
        assert!(!may_use("bench/Stack.tsx", "handoff/Outgoing.tsx"));
        assert!(!may_use("parts/Panel.tsx", "bench/Stack.tsx"));
        assert!(!may_use("session/store.ts", "App.tsx"));
    }
}
