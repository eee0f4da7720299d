//! `cargo xtask test`: everything CI checks, cheapest first. `cargo xtask check`: what takes minutes of it.

use std::process::Command;

use crate::run::{Outcome, command, command_in, root};
use crate::{direction, prepare, size, wasm};

pub fn run() -> Outcome {
    prepare::browser()?;
    form()?;
    // The program that is tested has the core for browsers in it.
    wasm::build()?;
    wasm::embed()?;
    prepare::front_end()?;
    prepare::types_are_fresh()?;
    clippy()?;
    prepare::receivers()?;
    prepare::sheets()?;
    // The tests of the interface start the program, so it is built before them.
    command("cargo", &["build", "--workspace"])?;
    // One run tells of everything that fails, not only of the first.
    command("cargo", &["test", "--workspace", "--no-fail-fast"])
}

/// Forms, lints, types, and the tests that need no browser, the random ones with fewer cases.
pub fn check() -> Outcome {
    form()?;
    prepare::types_are_fresh()?;
    clippy()?;
    let few = [("PROPTEST_CASES", "24"), ("ZOLVET_COSTLY_SECONDS", "1")];
    let tests = ["test", "--workspace", "--exclude", "zolvet-e2e", "--no-fail-fast"];
    println!("» cargo {}", tests.join(" "));
    let status = Command::new("cargo").args(tests).envs(few).current_dir(root()).status();
    let status = status.map_err(|error| format!("cargo could not be started: {error}"))?;
    if status.success() { Ok(()) } else { Err(format!("the tests: {status}")) }
}

fn form() -> Outcome {
    command("cargo", &["fmt", "--all", "--check"])?;
    direction::check()?;
    size::check()?;
    prepare::packages()?;
    command_in("web", "npm", &["run", "--silent", "lint"])?;
    command_in("web", "npm", &["run", "--silent", "typecheck"])
}

fn clippy() -> Outcome {
    command("cargo", &["clippy", "--workspace", "--all-targets", "--", "-D", "warnings"])
}
