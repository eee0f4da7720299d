//! `cargo xtask demo`: from a fresh clone to the demo in the browser.

use std::fs;

use crate::prepare;
use crate::run::{Outcome, command, root};

pub fn run() -> Outcome {
    prepare::front_end()?;
    println!("Building the program (some minutes the first time) …");
    command("cargo", &["build", "--release", "--quiet", "-p", "zolvet-cli"])?;
    fs::create_dir_all(root().join(".data")).map_err(|error| error.to_string())?;
    println!("Starting; stop it with Ctrl-C.");
    command("target/release/zolvet", &["serve", "--demo", "--db", ".data/demo.db"])
}
