//! `cargo xtask demo`: from a fresh clone to the demo in the browser.

use std::fs;
use std::thread;

use crate::run::{Outcome, command, root};
use crate::{prepare, wasm};

pub fn run() -> Outcome {
    prepare::front_end()?;
    println!("Building the program (some minutes the first time) …");
    command("cargo", &["build", "--profile", "demo", "--quiet", "-p", "zolvet-cli"])?;
    fs::create_dir_all(root().join(".data")).map_err(|error| error.to_string())?;
    // Pages take it up as soon as it is there; until then, and where it cannot be built, the service draws.
    thread::spawn(|| match wasm::build() {
        Ok(()) => println!("Browsers draw by themselves now."),
        Err(reason) => println!("The service goes on drawing for browsers: {reason}"),
    });
    println!("Starting; stop it with Ctrl-C.");
    let folder = wasm::folder();
    let served = folder.to_string_lossy();
    let demo = ["serve", "--demo", "--db", ".data/demo.db", "--browser-core", &served];
    command("target/demo/zolvet", &demo)
}
