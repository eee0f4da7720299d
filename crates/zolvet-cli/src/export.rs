//! `zolvet export`.

use std::path::PathBuf;

use clap::ValueEnum;
use zolvet_core::asset::Assets;
use zolvet_core::css::{Wanted, piece_code};
use zolvet_core::model::{Id, Project, Wear};
use zolvet_core::resolve;

use crate::error::{CliError, read_project};

#[derive(clap::Args)]
pub struct Arguments {
    /// A project file.
    project: PathBuf,
    /// What to write.
    #[arg(long, value_enum, default_value_t = Format::Css)]
    format: Format,
    /// Only pieces that wear the finish of this name.
    #[arg(long)]
    finish: Option<String>,
    /// Under the theme of this name or id, instead of each scene's own.
    #[arg(long)]
    theme: Option<String>,
}

#[derive(Clone, Copy, ValueEnum)]
enum Format {
    Css,
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let project = read_project(&arguments.project)?;
    let finish = arguments.finish.as_deref().map(|name| find_finish(&project, name)).transpose()?;
    let theme = arguments.theme.as_deref().map(|name| find_theme(&project, name)).transpose()?;
    match arguments.format {
        Format::Css => print!("{}", css(&project, finish.as_ref(), theme.as_ref())),
    }
    Ok(())
}

fn css(project: &Project, finish: Option<&Id>, theme: Option<&Id>) -> String {
    let assets = Assets::carried_by(project);
    let mut text = String::new();
    for scene in &project.scenes {
        let mut scene = scene.clone();
        if let Some(theme) = theme {
            scene.theme = theme.clone();
        }
        let mut rules = String::new();
        for piece in &scene.pieces {
            let worn = matches!(&piece.wear, Wear::Finish(worn) if Some(&worn.finish) == finish);
            if finish.is_some() && !worn {
                continue;
            }
            let (resolved, notes) = resolve::piece(project, &scene, piece, &assets);
            for note in &notes {
                eprintln!("zolvet: {}: {}", note.piece, note.message);
            }
            let states = resolve::states(project, &scene, piece, &assets);
            let code = piece_code(&resolved, &piece.shape, &states, Wanted::default());
            for difference in &code.differences {
                rules.push_str(&format!("/* {} */\n", difference.message.replace("*/", "* /")));
            }
            rules.push_str(&code.css);
            rules.push('\n');
        }
        if !rules.is_empty() {
            text.push_str(&format!("/* {} */\n\n{rules}", scene.name.replace("*/", "* /")));
        }
    }
    text
}

fn find_finish(project: &Project, name: &str) -> Result<Id, CliError> {
    let found = project.finishes.iter().find(|finish| finish.name == name || finish.id.as_str() == name);
    let found =
        found.ok_or_else(|| CliError::Argument(format!("--finish: no finish \"{name}\" in the project")))?;
    Ok(found.id.clone())
}

fn find_theme(project: &Project, name: &str) -> Result<Id, CliError> {
    let found = project.themes.iter().find(|theme| theme.name == name || theme.id.as_str() == name);
    let found =
        found.ok_or_else(|| CliError::Argument(format!("--theme: no theme \"{name}\" in the project")))?;
    Ok(found.id.clone())
}
