//! Running other programs from the project's folder.

use std::path::Path;
use std::process::Command;

pub type Outcome = Result<(), String>;

/// The project's folder.
pub fn root() -> &'static Path {
    Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
}

/// Runs a program, showing what it prints.
pub fn command(program: &str, arguments: &[&str]) -> Outcome {
    command_in(".", program, arguments)
}

/// Runs a program in a folder of the project.
pub fn command_in(folder: &str, program: &str, arguments: &[&str]) -> Outcome {
    let said = format!("{program} {}", arguments.join(" "));
    println!("» {said}");
    let status = Command::new(program)
        .args(arguments)
        .current_dir(root().join(folder))
        .status()
        .map_err(|error| format!("{program} could not be started: {error}"))?;
    if status.success() { Ok(()) } else { Err(format!("{said}: {status}")) }
}

/// The output of a program.
pub fn output(program: &str, arguments: &[&str]) -> Result<String, String> {
    let output = Command::new(program)
        .args(arguments)
        .current_dir(root())
        .output()
        .map_err(|error| format!("{program} could not be started: {error}"))?;
    if !output.status.success() {
        return Err(format!("{program}: {}", String::from_utf8_lossy(&output.stderr)));
    }
    String::from_utf8(output.stdout).map_err(|error| error.to_string())
}
