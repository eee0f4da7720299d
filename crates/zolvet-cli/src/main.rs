//! The `zolvet` program: serve, render, export, import.

mod apply;
mod audit;
mod blank;
mod database;
mod drawings;
mod error;
mod export;
mod files;
mod import;
mod matching;
mod progress;
mod raise;
mod render;
mod run_in_helper;
mod serve;
mod solve;

use std::process::ExitCode;

use clap::{CommandFactory as _, Parser, Subcommand};

/// Prints a line on standard error, in the place of the progress line.
#[macro_export]
macro_rules! note {
    ($($said:tt)*) => {{
        $crate::progress::end();
        eprintln!($($said)*);
    }};
}

/// Pictures are large and short-lived: memory for the next is taken from the last, not from the system page by page.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Depth for interfaces: compose shadows, see them, ship them.
#[derive(Parser)]
#[command(
    name = "zolvet",
    version,
    about,
    after_help = "Examples:
  zolvet serve --demo
  zolvet new project.zolvet.json
  zolvet import site.css --into project.zolvet.json
  zolvet export project.zolvet.json --format css --out depth.css"
)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the application.
    Serve(serve::Arguments),
    /// Make a project file.
    New(blank::Arguments),
    /// Draw a scene of a project, or a specimen of some CSS, as a PNG.
    Render(render::Arguments),
    /// Write a project, or one finish of it, as code, tokens, SVG or an archive of everything.
    Export(export::Arguments),
    /// Bring a style sheet, token file or project into a project file.
    Import(import::Arguments),
    /// Lay one finish on many SVG files. Exit code 1 when one could not be read.
    Apply(apply::Arguments),
    /// Do one task for the service, within limits of time and memory.
    #[command(hide = true)]
    HelpWithTask,
    /// Copy a database as it is at one moment, also while it is served.
    Backup(database::BackupArguments),
    /// Look a database over: its file, every revision, every uploaded file. Exit code 1 when something is wrong.
    Verify(database::VerifyArguments),
    /// Look a project over for parts that are hard to see and parts that disagree. Exit code 1 when a finding is an
    /// error.
    Audit(audit::Arguments),
    /// Find stacks: fewer shadows for the same look, or shadows for an edge profile.
    Solve(solve::Arguments),
    /// Write the completions of a shell's commands.
    #[command(after_help = "Example:\n  zolvet completions bash > /etc/bash_completion.d/zolvet")]
    Completions {
        /// For which shell.
        shell: clap_complete::Shell,
    },
    /// Write the manual page.
    #[command(after_help = "Example:\n  zolvet man > /usr/local/share/man/man1/zolvet.1")]
    Man,
}

fn completions(shell: clap_complete::Shell) -> Result<(), error::CliError> {
    let mut text = Vec::new();
    clap_complete::generate(shell, &mut Arguments::command(), "zolvet", &mut text);
    files::print(&text)
}

/// The program's page, and those of its commands after it.
fn manual() -> Result<(), error::CliError> {
    let (mut text, mut pages) = (Vec::new(), Vec::new());
    pages_of(Arguments::command(), "zolvet", &mut pages);
    for page in pages {
        clap_mangen::Man::new(page).render(&mut text).map_err(error::CliError::Output)?;
    }
    files::print(&text)
}

/// A command as it is typed, and the commands within it.
fn pages_of(command: clap::Command, typed: &str, pages: &mut Vec<clap::Command>) {
    pages.push(
        command
            .clone()
            .name(typed.replace(' ', "-"))
            .bin_name(typed.to_owned())
            .display_name(typed.replace(' ', "-")),
    );
    for inner in command.get_subcommands().filter(|command| !command.is_hide_set()) {
        pages_of(inner.clone(), &format!("{typed} {}", inner.get_name()), pages);
    }
}

/// A message while a command takes its time.
fn under_way(command: &Command) -> Option<&'static str> {
    Some(match command {
        Command::Render(_) => "drawing",
        Command::Export(_) => "writing",
        Command::Import(_) => "reading",
        Command::Apply(_) => "laying on",
        Command::Audit(_) | Command::Verify(_) => "looking",
        Command::Solve(_) => "searching",
        Command::Backup(_) => "copying",
        Command::Serve(_)
        | Command::New(_)
        | Command::HelpWithTask
        | Command::Completions { .. }
        | Command::Man => {
            return None;
        }
    })
}

fn main() -> ExitCode {
    let command = Arguments::parse().command;
    if let Some(what) = under_way(&command) {
        progress::begin(what);
    }
    let outcome = match command {
        Command::Serve(arguments) => serve::run(arguments).map(|()| false),
        Command::New(arguments) => blank::run(&arguments).map(|()| false),
        Command::Render(arguments) => render::run(&arguments).map(|()| false),
        Command::Export(arguments) => export::run(&arguments).map(|()| false),
        Command::Import(arguments) => import::run(&arguments),
        Command::Apply(arguments) => apply::run(&arguments),
        Command::Audit(arguments) => audit::run(&arguments),
        Command::Solve(arguments) => solve::run(&arguments).map(|()| false),
        Command::Completions { shell } => completions(shell).map(|()| false),
        Command::Man => manual().map(|()| false),
        Command::HelpWithTask => return ExitCode::from(zolvet_host::run_task()),
        Command::Backup(arguments) => database::backup(&arguments).map(|()| false),
        Command::Verify(arguments) => database::verify(&arguments),
    };
    progress::end();
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
