//! Icons out of Debian's packages: their filters as we read them, beside Chromium's drawing of them.

use std::fs;
use std::path::{Path, PathBuf};

use crate::prepare;
use crate::run::{Outcome, command, command_in, root};

/// Packages whose icons have filters, document types or entities of their own.
const PACKAGES: [&str; 13] = [
    "breeze-icon-theme",
    "deepin-icon-theme",
    "elementary-icon-theme",
    "elementary-xfce-icon-theme",
    "gnome-brave-icon-theme",
    "gnome-dust-icon-theme",
    "gnome-icon-theme-nuovo",
    "gnome-icon-theme-suede",
    "gnome-wine-icon-theme",
    "numix-icon-theme",
    "obsidian-icon-theme",
    "openclipart-svg",
    "suru-icon-theme",
];

const FOLDER: &str = "target/icons";

/// Of each package so many icons with a filter, with a document type and without either.
const ICONS_PER_KIND: [usize; 3] = [25, 15, 6];

pub fn compare() -> Outcome {
    prepare::browser()?;
    let mut chosen = Vec::new();
    for package in PACKAGES {
        let mut all = Vec::new();
        icons(&unpacked(package)?, &mut all)?;
        all.sort();
        for (kind, most) in ICONS_PER_KIND.into_iter().enumerate() {
            let of_kind: Vec<&PathBuf> = all.iter().filter(|path| kind_of(path) == kind).collect();
            let step = of_kind.len().div_ceil(most).max(1);
            let picked = of_kind.into_iter().step_by(step);
            chosen.extend(picked.map(|path| path.to_string_lossy().into_owned()));
        }
    }
    let program = ["run", "--quiet", "-p", "zolvet-e2e", "--bin", "filters", "--"];
    let chosen: Vec<&str> = chosen.iter().map(String::as_str).collect();
    println!("{} icons of {} packages", chosen.len(), PACKAGES.len());
    command("cargo", &[&program[..], &chosen].concat())
}

/// The folder that a package is unpacked in, without being installed.
fn unpacked(package: &str) -> Result<PathBuf, String> {
    let there = root().join(FOLDER).join(package);
    if there.is_dir() {
        return Ok(there);
    }
    let failed = |error: std::io::Error| error.to_string();
    fs::create_dir_all(root().join(FOLDER)).map_err(failed)?;
    command_in(FOLDER, "apt-get", &["download", "-q", package])?;
    let is_its = |path: &PathBuf| {
        let name = path.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
        name.starts_with(&format!("{package}_")) && name.ends_with(".deb")
    };
    let mut files = fs::read_dir(root().join(FOLDER)).map_err(failed)?.flatten().map(|entry| entry.path());
    let archive = files.find(is_its).ok_or_else(|| format!("{package} was not downloaded"))?;
    let archive = archive.to_string_lossy().into_owned();
    command_in(FOLDER, "dpkg-deb", &["-x", &archive, package])?;
    Ok(there)
}

/// Every SVG file in a folder.
fn icons(folder: &Path, found: &mut Vec<PathBuf>) -> Outcome {
    for entry in fs::read_dir(folder).map_err(|error| error.to_string())?.flatten() {
        let path = entry.path();
        let kind = entry.file_type().map_err(|error| error.to_string())?;
        if kind.is_dir() {
            icons(&path, found)?;
        } else if kind.is_file() && path.extension().is_some_and(|ending| ending == "svg") {
            found.push(path);
        }
    }
    Ok(())
}

/// Whether an icon has a filter (0), a document type (1) or neither (2).
fn kind_of(path: &Path) -> usize {
    let text = fs::read_to_string(path).unwrap_or_default();
    ["<filter", "<!DOCTYPE"].iter().position(|what| text.contains(what)).unwrap_or(2)
}
