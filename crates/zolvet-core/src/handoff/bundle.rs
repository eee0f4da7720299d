//! Everything a project leaves in, as the files of one archive.

use std::fmt::Write as _;

use serde_json::Value;

use super::export::pretty;
use super::{Format, SheetOptions, export};
use crate::asset::Assets;
use crate::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use crate::css::{CodeOptions, piece_code};
use crate::geometry::text::FAMILIES;
use crate::lower::{TRIAL_SIZE, TrialPiece, trial};
use crate::markup::escaped;
use crate::model::{Finish, OwnCoats, Project, Scene, Theme, Wear};
use crate::svg::standalone;
use crate::syntax::{UniqueNames, slug};
use crate::{budget, resolve};

/// A file of a bundle.
#[derive(Debug, Clone, PartialEq)]
pub struct File {
    /// Its path in the bundle.
    pub path: String,
    /// What is in it.
    pub bytes: Vec<u8>,
}

/// Everything a project leaves in, with a page to look at and a README that says what each file is. `document` is the
/// project as it is stored, with unknown fields.
#[must_use]
pub fn bundle(project: &Project, document: &Value, assets: &Assets, wanted: &SheetOptions) -> Vec<File> {
    let bundle = Bundle::new(project, assets, wanted);
    let mut files = bundle.code();
    files.extend(bundle.scenes());
    files.extend(fonts());
    files.push(file(format!("{}.zolvet.json", bundle.name), pretty(document)));
    files.push(file("index.html", bundle.page()));
    files.insert(0, file("README.md", bundle.readme()));
    files
}

fn file(path: impl Into<String>, text: impl Into<Vec<u8>>) -> File {
    File { path: path.into(), bytes: text.into() }
}

struct Bundle<'a> {
    project: &'a Project,
    assets: &'a Assets,
    wanted: &'a SheetOptions,
    name: String,
    themes: Vec<(&'a Theme, String)>,
    scenes: Vec<(&'a Scene, String)>,
}

impl<'a> Bundle<'a> {
    fn new(project: &'a Project, assets: &'a Assets, wanted: &'a SheetOptions) -> Self {
        let (mut themes, mut scenes) = (UniqueNames::default(), UniqueNames::default());
        let theme = |theme: &'a Theme| (theme, themes.unique(&slug(&theme.name), '-'));
        // The picture of a scene and that of its shadows lie side by side.
        let scene = |scene: &'a Scene| (scene, scenes.unique_with(&slug(&scene.name), '-', &["-shadow"]));
        let (themes, scenes) =
            (project.themes.iter().map(theme).collect(), project.scenes.iter().map(scene).collect());
        Self { project, assets, wanted, name: slug(&project.name), themes, scenes }
    }

    fn code(&self) -> Vec<File> {
        let text = |format, theme: Option<&Theme>| {
            let wanted = SheetOptions { theme: theme.map(|theme| theme.id.clone()), ..self.wanted.clone() };
            export(self.project, self.assets, format, None, &wanted)
        };
        let mut files = vec![
            file(format!("{}.css", self.name), text(Format::Css, None)),
            file(format!("_{}.scss", self.name), text(Format::Scss, None)),
        ];
        for (theme, name) in &self.themes {
            files.push(file(format!("tokens/{name}.tokens.json"), text(Format::Tokens, Some(theme))));
        }
        files
    }

    fn scenes(&self) -> Vec<File> {
        let cache = MaskCache::with_capacity(64 << 20);
        let mut files = Vec::new();
        for (scene, name) in &self.scenes {
            let resolved = resolve::scene(self.project, scene, self.assets);
            files.push(file(format!("scenes/{name}.svg"), standalone(&resolved).svg));
            let shadow = RenderOptions { shadow_only: true, ..RenderOptions::default() };
            for (ending, part) in [("", RenderOptions::default()), ("-shadow", shadow)] {
                let viewport = Viewport::whole(&resolved, Viewport::largest_scale(&resolved, 2.0));
                let picture = picture(&resolved, &viewport, &part, Rounding::Nearest, &cache);
                let png = picture.to_png().unwrap_or_default();
                // All of them are there until the archive is written.
                if !budget::retain_memory(png.len()) {
                    return files;
                }
                files.push(file(format!("scenes/{name}{ending}@2x.png"), png));
            }
        }
        files
    }

    fn readme(&self) -> String {
        let name = &self.name;
        let mut text = format!(
            "# {}\n\nDepth for this product, as Zolvet handed it off. Open `index.html` in a browser: it needs no server.\n\n\
             | file | what it is |\n|---|---|\n\
             | `index.html` | every finish and scene to look at |\n\
             | `{name}.css` | finishes as custom properties and classes; the pieces of every scene |\n\
             | `_{name}.scss` | the finishes as mixins |\n",
            self.project.name
        );
        let mut row = |path: &str, what: &str| {
            let _ = writeln!(text, "| `{path}` | {what} |");
        };
        for (theme, name) in &self.themes {
            let what = format!(
                "design tokens under the theme {} (Design Tokens Community Group, 2025.10)",
                theme.name
            );
            row(&format!("tokens/{name}.tokens.json"), &what);
        }
        for (scene, name) in &self.scenes {
            row(
                &format!("scenes/{name}.svg"),
                &format!("the scene {}, every coat a shape of its own", scene.name),
            );
            row(&format!("scenes/{name}@2x.png"), "its picture at two pixels for one px");
            row(&format!("scenes/{name}-shadow@2x.png"), "its shadows alone, on transparency");
        }
        row("fonts/fonts.css", "the fonts the pieces are set in");
        for family in &FAMILIES {
            for face in family.faces {
                row(&format!("fonts/{}", face.file), &format!("{}, weight {}", family.name, face.weight));
            }
            row(&licence_path(family.name), "its licence");
        }
        row(&format!("{name}.zolvet.json"), "the project itself, to be opened again");
        if let Some(finish) = self.project.finishes.first() {
            let class = slug(&finish.name);
            let _ = writeln!(
                text,
                "\nA finish is worn by giving an element its class: `class=\"{class}\"` for a box, `{class}-text` for text, \
                 `{class}-icon` for an icon or picture. Set `data-theme` on the page for another theme."
            );
        }
        text
    }

    /// A page that works from a folder: each finish on a box, letters and an icon, then the scenes.
    fn page(&self) -> String {
        let (mut body, mut filters, mut css) = (String::new(), String::new(), String::new());
        for (at, finish) in self.project.finishes.iter().enumerate() {
            let _ = write!(body, "<section>\n<h2>{}</h2>\n<div class=\"row\">\n", escaped(&finish.name));
            for (on, dark) in TrialPiece::ALL.into_iter().flat_map(|on| [(on, false), (on, true)]) {
                let name = format!("demo {at} {on:?}{}", if dark { " dark" } else { "" });
                if let Some(cell) = self.cell(finish, on, dark, &name, (&mut filters, &mut css)) {
                    body.push_str(&cell);
                }
            }
            body.push_str("</div>\n</section>\n");
        }
        for (scene, name) in &self.scenes {
            let _ = writeln!(
                body,
                "<section>\n<h2>{}</h2>\n<img src=\"scenes/{name}@2x.png\" width=\"{}\" alt=\"\">\n</section>",
                escaped(&scene.name),
                scene.width.get()
            );
        }
        let (width, height) = TRIAL_SIZE;
        format!(
            "<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<title>{title}</title>\n\
             <link rel=\"stylesheet\" href=\"fonts/fonts.css\">\n<link rel=\"stylesheet\" href=\"{}.css\">\n<style>\n\
             body {{ font: 16px/1.5 Figtree, sans-serif; margin: 32px; color: #222; background: #fff }}\n\
             h2 {{ font-size: 16px }}\n.row {{ display: flex; flex-wrap: wrap }}\n\
             .cell {{ position: relative; width: {width}px; height: {height}px; background: #e9e5da; overflow: hidden }}\n\
             .cell.dark {{ background: #161b1a }}\n.cell p {{ margin-block: 0 }}\n\
             img {{ max-width: 100%; height: auto }}\n{css}</style>\n\
             <svg width=\"0\" height=\"0\" style=\"position:absolute\" aria-hidden=\"true\">\n{filters}</svg>\n\
             <h1>{title}</h1>\n{body}</html>\n",
            self.name,
            title = escaped(&self.project.name),
        )
    }

    /// A finish on one specimen; what it needs goes to the page's filters and rules.
    fn cell(
        &self,
        finish: &Finish,
        on: TrialPiece,
        dark: bool,
        name: &str,
        (filters, css): (&mut String, &mut String),
    ) -> Option<String> {
        let theme = &self.project.themes.first()?.id;
        let wear = Wear::Coats(OwnCoats { coats: finish.coats_in(theme).to_vec() });
        let mut scene = trial(theme, &wear, on, dark);
        let model = scene.pieces.first_mut()?;
        model.name = name.to_owned();
        let model = model.clone();
        let (piece, _) = resolve::piece(self.project, &scene, &model, self.assets);
        let wanted = CodeOptions { numbers: self.wanted.numbers, ..CodeOptions::default() };
        let code = piece_code(&piece, &model.shape, &Default::default(), wanted);
        filters.push_str(&code.filters);
        css.push_str(&code.css);
        Some(format!(
            "<div class=\"cell{}\"><div style=\"position:absolute;left:{}px;top:{}px\">{}</div></div>\n",
            if dark { " dark" } else { "" },
            piece.x,
            piece.y,
            code.html
        ))
    }
}

/// The fonts that ship, each with its licence.
fn fonts() -> Vec<File> {
    let (mut files, mut css) = (Vec::new(), String::new());
    for family in &FAMILIES {
        for face in family.faces {
            let _ = writeln!(
                css,
                "@font-face {{ font-family: \"{}\"; font-weight: {}; src: url(\"{}\") }}",
                family.name, face.weight, face.file
            );
            files.push(file(format!("fonts/{}", face.file), face.data));
        }
        files.push(file(licence_path(family.name), family.licence));
    }
    files.push(file("fonts/fonts.css", css));
    files
}

fn licence_path(family: &str) -> String {
    format!("fonts/{}-OFL.txt", slug(family))
}
