//! The formats a project leaves in, and all of them together.

use std::fmt::Write as _;

use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::{SheetWanted, TRIAL_SIZE, TrialPiece, scss, sheet, trial};
use crate::asset::Assets;
use crate::compose::{MaskCache, Part, Rounding, View, picture};
use crate::css::{Wanted, piece_code, slug};
use crate::model::{Id, OwnCoats, Project, Scene, Wear};
use crate::resolve;
use crate::svg::standalone;
use crate::tokens;

/// A format a project leaves in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Format {
    /// A style sheet.
    Css,
    /// Mixins.
    Scss,
    /// Design tokens, of one theme.
    Tokens,
    /// A stand-alone picture of a scene, or of a finish on a box.
    Svg,
    /// The project itself.
    Json,
}

/// A project as text. `scene` is which one an SVG shows; the first where none is named.
#[must_use]
pub fn export(
    project: &Project,
    assets: &Assets,
    format: Format,
    scene: Option<&str>,
    wanted: &SheetWanted,
) -> String {
    match format {
        Format::Css => sheet(project, assets, wanted),
        Format::Scss => scss(project, assets, wanted),
        Format::Tokens => {
            let theme = wanted.theme.as_ref().or_else(|| project.themes.first().map(|theme| &theme.id));
            let file =
                theme.map(|id| tokens::write(project, id, assets, wanted.finish.as_ref(), wanted.numbers));
            pretty(&file.unwrap_or_default())
        }
        Format::Svg => svg(project, assets, scene, wanted),
        Format::Json => pretty(&serde_json::to_value(project).unwrap_or_default()),
    }
}

fn pretty(value: &Value) -> String {
    let mut text = serde_json::to_string_pretty(value).unwrap_or_default();
    text.push('\n');
    text
}

fn svg(project: &Project, assets: &Assets, scene: Option<&str>, wanted: &SheetWanted) -> String {
    let finish =
        wanted.finish.as_ref().and_then(|id| project.finishes.iter().find(|finish| finish.id == *id));
    let theme = wanted.theme.as_ref().or_else(|| project.themes.first().map(|theme| &theme.id));
    let shown: Option<Scene> = match (finish, theme) {
        (Some(finish), Some(theme)) => {
            let wear = Wear::Coats(OwnCoats { coats: finish.coats.clone() });
            trial(theme, &wear, TrialPiece::Box, false)
        }
        _ => scene.map_or_else(|| project.scenes.first(), |key| project.scene(key)).cloned(),
    };
    let Some(mut shown) = shown else { return String::new() };
    if let Some(theme) = &wanted.theme {
        shown.theme = theme.clone();
    }
    standalone(&resolve::scene(project, &shown, assets)).svg
}

/// A file of a bundle.
#[derive(Debug, Clone, PartialEq)]
pub struct File {
    /// Its path in the bundle.
    pub path: String,
    /// What is in it.
    pub bytes: Vec<u8>,
}

/// Everything a project leaves in, with a page to look at and a README that says what each file is.
#[must_use]
pub fn bundle(project: &Project, document: &Value, assets: &Assets, wanted: &SheetWanted) -> Vec<File> {
    let name = slug(&project.name);
    let mut files = Vec::new();
    let mut add = |path: String, bytes: Vec<u8>| files.push(File { path, bytes });
    let text = |format, theme: Option<&Id>| {
        let wanted = SheetWanted { theme: theme.cloned(), ..wanted.clone() };
        export(project, assets, format, None, &wanted).into_bytes()
    };
    add("README.md".to_owned(), readme(project, &name).into_bytes());
    add("index.html".to_owned(), page(project, assets, &name, wanted).into_bytes());
    add(format!("{name}.css"), text(Format::Css, None));
    add(format!("_{name}.scss"), text(Format::Scss, None));
    for theme in &project.themes {
        add(format!("tokens/{}.tokens.json", slug(&theme.name)), text(Format::Tokens, Some(&theme.id)));
    }
    let cache = MaskCache::default();
    for scene in &project.scenes {
        let resolved = resolve::scene(project, scene, assets);
        let scene_name = slug(&scene.name);
        add(format!("scenes/{scene_name}.svg"), standalone(&resolved).svg.into_bytes());
        for (ending, part) in
            [("", Part::default()), ("-shadow", Part { shadow_only: true, ..Part::default() })]
        {
            let picture = picture(&resolved, &View::whole(&resolved, 2.0), &part, Rounding::Nearest, &cache);
            add(format!("scenes/{scene_name}{ending}@2x.png"), picture.to_png().unwrap_or_default());
        }
    }
    add(format!("{name}.zolvet.json"), pretty(document).into_bytes());
    files
}

fn readme(project: &Project, name: &str) -> String {
    let mut text = format!(
        "# {}\n\nDepth for this product, as Zolvet handed it off. Open `index.html` in a browser: it needs no server.\n\n\
         | file | what it is |\n|---|---|\n\
         | `index.html` | every finish and scene to look at |\n\
         | `{name}.css` | finishes as custom properties and classes; the pieces of every scene |\n\
         | `_{name}.scss` | the finishes as mixins |\n",
        project.name
    );
    for theme in &project.themes {
        let _ = writeln!(
            text,
            "| `tokens/{}.tokens.json` | design tokens under the theme {} (Design Tokens Community Group, 2025.10) |",
            slug(&theme.name),
            theme.name
        );
    }
    for scene in &project.scenes {
        let scene_name = slug(&scene.name);
        let _ = writeln!(
            text,
            "| `scenes/{scene_name}.svg` | the scene {}, every coat a shape of its own |",
            scene.name
        );
        let _ = writeln!(text, "| `scenes/{scene_name}@2x.png` | its picture at two pixels for one px |");
        let _ =
            writeln!(text, "| `scenes/{scene_name}-shadow@2x.png` | its shadows alone, on transparency |");
    }
    let _ = writeln!(text, "| `{name}.zolvet.json` | the project itself, to be opened again |");
    text.push_str("\nA finish is worn by giving an element its class: `class=\"lifted\"` for a box, `lifted-text` for text, `lifted-icon` for an icon or picture. Set `data-theme` on the page for another theme.\n");
    text
}

/// A page that works from a folder: each finish on a box, letters and an icon, then the scenes.
fn page(project: &Project, assets: &Assets, name: &str, wanted: &SheetWanted) -> String {
    let mut body = String::new();
    let mut filters = String::new();
    let mut css = String::new();
    let theme = project.themes.first().map(|theme| theme.id.clone());
    for finish in &project.finishes {
        let _ =
            write!(body, "<section>\n<h2>{}</h2>\n<div class=\"row\">\n", crate::svg::escaped(&finish.name));
        for (on, dark) in TrialPiece::ALL.into_iter().flat_map(|on| [(on, false), (on, true)]) {
            let wear = Wear::Coats(OwnCoats { coats: finish.coats.clone() });
            let Some(mut scene) = theme.as_ref().and_then(|theme| trial(theme, &wear, on, dark)) else {
                continue;
            };
            let class =
                format!("{}-{on:?}{}", slug(&finish.name), if dark { "-dark" } else { "" }).to_lowercase();
            scene.pieces[0].name = format!("demo {class}");
            let (piece, _) = resolve::piece(project, &scene, &scene.pieces[0], assets);
            let wanted = Wanted { target: None, numbers: wanted.numbers };
            let code = piece_code(&piece, &scene.pieces[0].shape, &Default::default(), wanted);
            filters.push_str(&code.filters);
            css.push_str(&code.css);
            let _ = writeln!(
                body,
                "<div class=\"cell{}\"><div style=\"position:absolute;left:{}px;top:{}px\">{}</div></div>",
                if dark { " dark" } else { "" },
                piece.x,
                piece.y,
                code.html
            );
        }
        body.push_str("</div>\n</section>\n");
    }
    for scene in &project.scenes {
        let _ = writeln!(
            body,
            "<section>\n<h2>{}</h2>\n<img src=\"scenes/{}@2x.png\" width=\"{}\" alt=\"\">\n</section>",
            crate::svg::escaped(&scene.name),
            slug(&scene.name),
            scene.width.get()
        );
    }
    let (width, height) = TRIAL_SIZE;
    format!(
        "<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<title>{title}</title>\n\
         <link rel=\"stylesheet\" href=\"{name}.css\">\n<style>\nbody {{ font: 16px/1.5 system-ui, sans-serif; margin: 32px; color: #222; background: #fff }}\n\
         h2 {{ font-size: 16px }}\n.row {{ display: flex; flex-wrap: wrap }}\n\
         .cell {{ position: relative; width: {width}px; height: {height}px; background: #e9e5da; overflow: hidden }}\n\
         .cell.dark {{ background: #161b1a }}\n.cell p {{ margin-block: 0 }}\n\
         img {{ max-width: 100%; height: auto }}\n{css}</style>\n\
         <svg width=\"0\" height=\"0\" style=\"position:absolute\" aria-hidden=\"true\">\n{filters}</svg>\n\
         <h1>{title}</h1>\n{body}</html>\n",
        title = crate::svg::escaped(&project.name),
    )
}
