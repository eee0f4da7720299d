//! `cargo xtask test`: everything CI checks, cheapest first.

use crate::run::{Outcome, command, command_in};
use crate::{direction, prepare, size};

pub fn run() -> Outcome {
    prepare::browser()?;
    command("cargo", &["fmt", "--all", "--check"])?;
    direction::check()?;
    size::check()?;
    prepare::packages()?;
    command_in("web", "npm", &["run", "--silent", "lint"])?;
    command_in("web", "npm", &["run", "--silent", "typecheck"])?;
    prepare::front_end()?;
    prepare::types_are_fresh()?;
    command("cargo", &["clippy", "--workspace", "--all-targets", "--", "-D", "warnings"])?;
    prepare::receivers()?;
    // The tests of the interface start the program, so it is built before them.
    command("cargo", &["build", "--workspace"])?;
    command("cargo", &["test", "--workspace"])
}
