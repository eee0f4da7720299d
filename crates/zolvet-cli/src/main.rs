//! The `zolvet` program: serve, render, export, import.

mod audit;
mod error;
mod export;
mod files;
mod import;
mod render;
mod serve;

use std::process::ExitCode;

use clap::{Parser, Subcommand};

/// Pictures are large and short-lived: memory for the next is taken from the last, not from the system page by page.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Depth for interfaces: compose shadows, see them, ship them.
#[derive(Parser)]
#[command(version, about)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the application.
    Serve(serve::Arguments),
    /// Draw a scene of a project, or a specimen of some CSS, as a PNG.
    Render(render::Arguments),
    /// Write a project, or one finish of it, as code, tokens, SVG or an archive of everything.
    Export(export::Arguments),
    /// Bring a style sheet, token file or project into a project file.
    Import(import::Arguments),
    /// Read a file of others for the service, within limits of time and memory.
    #[command(hide = true)]
    ReadFile {
        /// What it is: picture or icon.
        what: String,
    },
    /// Look a project over: what is hard to see, what disagrees. Exit code 1 when a finding is an error.
    Audit(audit::Arguments),
}

/// Nothing that a file says makes this process larger, or lets it run longer: the system ends it before.
fn read_file(what: &str) -> ExitCode {
    use rlimit::Resource;
    let limits = [(Resource::DATA, zolvet_server::MEMORY), (Resource::CPU, zolvet_server::SECONDS)];
    let set = limits.into_iter().try_for_each(|(resource, most)| resource.set(most, most));
    match set.map_err(|error| error.to_string()).and_then(|()| zolvet_server::read_file(what)) {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{message}");
            ExitCode::from(2)
        }
    }
}

fn main() -> ExitCode {
    let outcome = match Arguments::parse().command {
        Command::Serve(arguments) => serve::run(arguments).map(|()| false),
        Command::Render(arguments) => render::run(&arguments).map(|()| false),
        Command::Export(arguments) => export::run(&arguments).map(|()| false),
        Command::Import(arguments) => import::run(&arguments).map(|()| false),
        Command::Audit(arguments) => audit::run(&arguments),
        Command::ReadFile { what } => return read_file(&what),
    };
    match outcome {
        Ok(false) => ExitCode::SUCCESS,
        // Something was found that a build should stop at.
        Ok(true) => ExitCode::FAILURE,
        Err(error) => {
            eprintln!("zolvet: {error}");
            ExitCode::from(2)
        }
    }
}
