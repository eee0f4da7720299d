//! A number for the core as its sources are, so that the service and the module for browsers know whether they are the same.

use std::path::{Path, PathBuf};
use std::{env, fs};

fn main() -> std::io::Result<()> {
    let here = PathBuf::from(env::var("CARGO_MANIFEST_DIR").unwrap_or_default());
    let mut files = vec![here.join("../../Cargo.lock")];
    for folder in ["../core", "../zolvet-core/src", "src", "../../assets/fonts"] {
        let folder = here.join(folder);
        println!("cargo:rerun-if-changed={}", folder.display());
        collect(&folder, &mut files)?;
    }
    println!("cargo:rerun-if-changed={}", files[0].display());
    files.sort();
    let mut all = Vec::new();
    for file in files {
        all.extend(fs::read(file)?);
    }
    let hash = const_fnv1a_hash::fnv1a_hash_64(&all, None);
    println!("cargo:rustc-env=ZOLVET_CORE={hash:016x}");
    Ok(())
}

fn collect(folder: &Path, files: &mut Vec<PathBuf>) -> std::io::Result<()> {
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            collect(&path, files)?;
        } else {
            files.push(path);
        }
    }
    Ok(())
}
