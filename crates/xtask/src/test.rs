//! `cargo xtask test`: everything CI checks. `cargo xtask check`: the parts of it that take minutes.

use std::fs;
use std::thread;

use crate::programs::{self, Program};
use crate::run::{Outcome, command, command_in, root};
use crate::{direction, folders, kinds, prepare, references, size, wasm};

/// Tests of the real interface, which start the service and browsers.
const INTERFACE: &str = "zolvet-e2e";
/// Programs that take the longest: begun first, so that none of them is left at the end with a core unused.
const LONGEST: [&str; 7] =
    ["living", "description", "costly", "budgets", "checking", "faithful", "rendering"];

pub fn run() -> Outcome {
    prepare::browser()?;
    form()?;
    prepare::front_end()?;
    prepare::receivers()?;
    prepare::sheets()?;
    // Compiling for browsers leaves a core free for most of its time: nearly everything else is compiled meanwhile.
    thread::scope(|scope| {
        let browsers = scope.spawn(wasm::build);
        let others = clippy().and_then(|()| programs::built().map(drop));
        browsers.join().unwrap_or_else(|_| Err("the core for browsers: it broke".to_owned())).and(others)
    })?;
    // The program that is tested has the core for browsers in it.
    wasm::embed()?;
    prepare::front_end()?;
    let programs = programs::built()?;
    prepare::types_are_fresh()?;
    no_tests_in_docs()?;
    programs::run(longest_first(programs), &[])
}

/// Forms, lints, types, and the tests that need no browser, the random ones with fewer cases.
pub fn check() -> Outcome {
    form()?;
    clippy()?;
    let programs = programs::built()?;
    prepare::types_are_fresh()?;
    let quick = programs.into_iter().filter(|program| program.package != INTERFACE).collect();
    programs::run(quick, &[("PROPTEST_CASES", "24"), ("ZOLVET_COSTLY_SECONDS", "1")])
}

fn form() -> Outcome {
    command("cargo", &["fmt", "--all", "--check"])?;
    direction::check()?;
    folders::check()?;
    size::check()?;
    kinds::check()?;
    references::check()?;
    prepare::packages()?;
    command_in("web", "npm", &["run", "--silent", "lint"])?;
    command_in("web", "npm", &["run", "--silent", "typecheck"])
}

fn clippy() -> Outcome {
    command("cargo", &["clippy", "--workspace", "--all-targets", "--", "-D", "warnings"])
}

fn longest_first(mut programs: Vec<Program>) -> Vec<Program> {
    programs.sort_by_key(|program| {
        LONGEST.iter().position(|name| *name == program.name).unwrap_or(LONGEST.len())
    });
    programs
}

/// Test programs are run one by one, and tests in documentation are in none of them: they would be skipped silently.
fn no_tests_in_docs() -> Outcome {
    let mut folders = vec![root().join("crates")];
    while let Some(folder) = folders.pop() {
        for entry in fs::read_dir(&folder).map_err(|error| error.to_string())?.flatten() {
            let path = entry.path();
            if path.is_dir() && !path.ends_with("node_modules") {
                folders.push(path);
            } else if path.extension().is_some_and(|ending| ending == "rs") {
                let text = fs::read_to_string(&path).map_err(|error| error.to_string())?;
                let is_code = |line: &str| {
                    ["/// ```", "//! ```"].iter().any(|mark| line.trim_start().starts_with(mark))
                };
                if text.lines().any(is_code) {
                    return Err(format!(
                        "{}: code in documentation is run by no test: make it one",
                        path.display()
                    ));
                }
            }
        }
    }
    Ok(())
}
