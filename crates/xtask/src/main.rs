//! The project's own chores; [`HELP`] lists them.

mod demo;
mod direction;
mod folders;
mod icons;
mod kinds;
mod package;
mod prepare;
mod programs;
mod references;
mod run;
mod size;
mod test;
mod wasm;

use std::process::ExitCode;

const HELP: &str = "cargo xtask demo         set everything up and serve the demo on http://127.0.0.1:4180/
cargo xtask test         everything CI checks; installs Chromium and ChromeDriver where they are missing
cargo xtask check        what of it takes minutes: forms, lints, types, the tests that need no browser
cargo xtask direction    whether the modules of the core use only modules before them
cargo xtask folders      whether folders of the front end use only folders before them
cargo xtask size         whether files, functions and parameter lists are short enough to read
cargo xtask kinds        whether every match over coats, shapes, fills and targets names all of them
cargo xtask references   whether files, sections and names that comments and pages name are there
cargo xtask types        make the front end's types anew from the service's description of itself
cargo xtask wasm         build the core for browsers; with --embed also into the next program
cargo xtask package      the program to hand out, as one file: target/package/zolvet
cargo xtask screenshots  take the pictures in docs/screenshots anew
cargo xtask drag         measure input to painted stage in every scene, by service and worker; --slow over a slow network, --worker without the service
cargo xtask crowd        measure nine editors beside a client that does its worst, how evenly fifty wait, saves beside a hundred, an attack; --fifty, --savers, --attack only these
cargo xtask large        measure opening, scrolling and typing in a project of 200 pieces, 300 finishes, 100 scenes
cargo xtask artwork FOLDER  draw SVG files whole beside Chromium, and take elements out of them
cargo xtask icons        how filters of icons in Debian's packages are read, beside Chromium's drawing
cargo xtask same BEFORE  whether another build of the program answers as this one does, byte for byte";

fn main() -> ExitCode {
    let outcome = match std::env::args().nth(1).as_deref() {
        Some("demo") => demo::run(),
        Some("test") => test::run(),
        Some("check") => test::check(),
        Some("direction") => direction::check(),
        Some("folders") => folders::check(),
        Some("size") => size::check(),
        Some("kinds") => kinds::check(),
        Some("references") => references::check(),
        Some("package") => package::run(),
        Some("wasm") => wasm::run(&arguments()),
        Some("types") => prepare::types(),
        Some("screenshots") => with_browser("screenshots", &["docs/screenshots"]),
        Some("drag") => with_browser("drag", &arguments()),
        Some("large") => with_browser("large", &arguments()),
        Some("crowd") => with_browser("crowd", &arguments()),
        Some("icons") => icons::compare(),
        Some("same") => with_browser("same", &arguments()),
        Some("artwork") => with_browser("artwork", &arguments()),
        _ => {
            println!("{HELP}");
            return ExitCode::from(2);
        }
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("xtask: {message}");
            ExitCode::FAILURE
        }
    }
}

/// Runs one of the browser programs of zolvet-e2e against a release build.
fn with_browser(program: &str, arguments: &[impl AsRef<str>]) -> run::Outcome {
    prepare::browser()?;
    prepare::front_end()?;
    run::command("cargo", &["build", "--release", "-p", "zolvet-cli", "-p", "zolvet-e2e"])?;
    let arguments: Vec<&str> = arguments.iter().map(AsRef::as_ref).collect();
    run::command(&format!("target/release/{program}"), &arguments)
}

/// The arguments after the chore's name.
fn arguments() -> Vec<String> {
    std::env::args().skip(2).collect()
}
