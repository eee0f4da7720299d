//! The `zolvet` program: serve, render, export, import.

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
}

fn main() -> ExitCode {
    let outcome = match Arguments::parse().command {
        Command::Serve(arguments) => serve::run(arguments),
        Command::Render(arguments) => render::run(&arguments),
        Command::Export(arguments) => export::run(&arguments),
        Command::Import(arguments) => import::run(&arguments),
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("zolvet: {error}");
            ExitCode::from(2)
        }
    }
}
