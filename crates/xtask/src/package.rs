//! `cargo xtask package`: the program as it is handed out, with everything in it.

use std::fs;

use crate::run::{Outcome, command, root};
use crate::{prepare, wasm};

/// Where it comes to lie.
const PROGRAM: &str = "target/package/zolvet";

pub fn run() -> Outcome {
    // One without the core for browsers is not handed out.
    wasm::build()?;
    wasm::embed()?;
    prepare::front_end()?;
    command("cargo", &["build", "--release", "--quiet", "-p", "zolvet-cli"])?;
    let package = root().join(PROGRAM);
    fs::create_dir_all(root().join("target/package")).map_err(|error| error.to_string())?;
    fs::copy(root().join("target/release/zolvet"), package).map_err(|error| error.to_string())?;
    println!("{PROGRAM} is one file that needs no other.");
    Ok(())
}
