//! `cargo xtask test`: everything CI checks, cheapest first.

use crate::run::{Outcome, command, command_in};
use crate::{direction, prepare, size, wasm};

pub fn run() -> Outcome {
    prepare::browser()?;
    command("cargo", &["fmt", "--all", "--check"])?;
    direction::check()?;
    size::check()?;
    prepare::packages()?;
    command_in("web", "npm", &["run", "--silent", "lint"])?;
    command_in("web", "npm", &["run", "--silent", "typecheck"])?;
    // The program that is tested has the core for browsers in it.
    wasm::build()?;
    wasm::embed()?;
    prepare::front_end()?;
    prepare::types_are_fresh()?;
    command("cargo", &["clippy", "--workspace", "--all-targets", "--", "-D", "warnings"])?;
    prepare::receivers()?;
    prepare::sheets()?;
    // The tests of the interface start the program, so it is built before them.
    command("cargo", &["build", "--workspace"])?;
    // One run tells of everything that fails, not only of the first.
    command("cargo", &["test", "--workspace", "--no-fail-fast"])
}
