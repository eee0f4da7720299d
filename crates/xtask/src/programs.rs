//! The test programs: built all at once, run two at a time; what fails there runs once more alone, and that decides.

use std::collections::VecDeque;
use std::path::PathBuf;
use std::process::{Command, Stdio};
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::Instant;
use std::{fmt, thread};

use serde_json::Value;

use crate::run::{Outcome, root};

/// A program of tests.
pub struct Program {
    pub package: String,
    pub name: String,
    path: PathBuf,
    /// Where its package lies, in which it runs as Cargo runs it.
    folder: PathBuf,
}

/// Builds the whole workspace with its tests, examples and programs; gives the test programs.
///
/// One command with one choice of features: built package by package, the core would be compiled again for each choice.
pub fn built() -> Result<Vec<Program>, String> {
    let arguments = ["test", "--workspace", "--no-run", "--message-format=json-render-diagnostics"];
    println!("» cargo {}", arguments.join(" "));
    let mut cargo = Command::new("cargo");
    let output = cargo.args(arguments).current_dir(root()).stderr(Stdio::inherit()).output();
    let output = output.map_err(|error| format!("cargo could not be started: {error}"))?;
    if !output.status.success() {
        return Err(format!("cargo {}: {}", arguments.join(" "), output.status));
    }
    let messages = String::from_utf8_lossy(&output.stdout);
    Ok(messages.lines().filter_map(|line| Program::from_message(&serde_json::from_str(line).ok()?)).collect())
}

impl Program {
    /// The program of tests that a message of Cargo's names, if it does.
    fn from_message(message: &Value) -> Option<Self> {
        let is_test = message["profile"]["test"].as_bool()?;
        let path = PathBuf::from(message["executable"].as_str()?);
        let folder = PathBuf::from(message["manifest_path"].as_str()?).parent()?.to_owned();
        let package = folder.file_name()?.to_str()?.to_owned();
        let name = message["target"]["name"].as_str()?.to_owned();
        is_test.then_some(Self { package, name, path, folder })
    }

    /// Runs it; its output, and whether all its tests passed.
    fn run(&self, variables: &[(&str, &str)]) -> (String, bool) {
        let mut program = Command::new(&self.path);
        program.current_dir(&self.folder).env("CARGO_MANIFEST_DIR", &self.folder);
        match program.envs(variables.iter().copied()).output() {
            Ok(output) => {
                let said = [output.stdout, output.stderr].concat();
                (String::from_utf8_lossy(&said).into_owned(), output.status.success())
            }
            Err(error) => (format!("it could not be started: {error}"), false),
        }
    }
}

/// Programs that run beside one another: most of them wait for one core while another is free.
const BESIDE: usize = 2;

/// Runs programs, those first that come first; all of them, whatever fails. What fails beside others is run once more alone, and
/// said: there it may have waited too long for a core.
pub fn run(programs: Vec<Program>, variables: &[(&str, &str)]) -> Outcome {
    let count = programs.len();
    let again = run_beside(programs, BESIDE, variables);
    if again.is_empty() {
        return Ok(());
    }
    println!("» once more, alone: {}", names(&again));
    let failed = run_beside(again, 1, variables);
    if failed.is_empty() { Ok(()) } else { Err(format!("of {count} programs failed {}", names(&failed))) }
}

fn names(programs: &[Program]) -> String {
    programs.iter().map(Program::to_string).collect::<Vec<_>>().join(", ")
}

/// Programs that failed.
fn run_beside(programs: Vec<Program>, beside: usize, variables: &[(&str, &str)]) -> Vec<Program> {
    let queue = Mutex::new(VecDeque::from(programs));
    let failed = Mutex::new(Vec::new());
    thread::scope(|scope| {
        for _ in 0..beside {
            scope.spawn(|| {
                while let Some(program) = lock(&queue).pop_front() {
                    let start = Instant::now();
                    let (said, has_passed) = program.run(variables);
                    println!("» {program}, {:.1} s\n{}", start.elapsed().as_secs_f64(), said.trim_end());
                    if !has_passed {
                        lock(&failed).push(program);
                    }
                }
            });
        }
    });
    failed.into_inner().unwrap_or_else(PoisonError::into_inner)
}

fn lock<T>(held: &Mutex<T>) -> MutexGuard<'_, T> {
    held.lock().unwrap_or_else(PoisonError::into_inner)
}

impl fmt::Display for Program {
    fn fmt(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(formatter, "{}/{}", self.package, self.name)
    }
}
