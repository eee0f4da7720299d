//! Everything a project leaves in, as the files of one archive.

use std::fmt::Write as _;

use serde_json::{Value, json};

use super::export::{Format, export, pretty};
use super::fittings::fittings_sheet;
use super::json::readable;
use super::module::{constant_types, constants, module_types};
use super::names::Names;
use super::options::{SheetOptions, Style};
use super::page::Page;
use super::without_pages::without_pages;
use crate::asset::Assets;
use crate::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use crate::geometry::text::FAMILIES;
use crate::lower::Fidelity;
use crate::model::{Project, Scene, Theme};
use crate::svg::standalone;
use crate::syntax::{UniqueNames, slug};
use crate::{budget, resolve};

/// A file of a bundle.
#[derive(Debug, Clone, PartialEq)]
pub struct File {
    /// Its path in the bundle.
    pub path: String,
    /// Its content.
    pub bytes: Vec<u8>,
}

/// A project in every format, with a page to look at and a README that explains each file. `document` is the project as
/// it is stored, with unknown fields.
#[must_use]
pub fn bundle(project: &Project, document: &Value, assets: &Assets, wanted: &SheetOptions) -> Vec<File> {
    let (pages, sheets) = page_sheets(project, assets, wanted);
    let project = &*without_pages(project);
    let bundle = Bundle::new(project, assets, wanted);
    let mut files = bundle.code();
    files.extend(sheets);
    let (scenes, left_out) = bundle.scenes();
    files.extend(scenes);
    files.extend(fonts());
    files.push(file(format!("{}.zolvet.json", bundle.name), pretty(document)));
    let css = format!("{}.css", bundle.name);
    let sheet = files.iter().find(|file| file.path == css).map(|file| file.bytes.clone()).unwrap_or_default();
    let page = Page {
        project,
        assets,
        wanted,
        sheet: &String::from_utf8_lossy(&sheet),
        file: &css,
        scenes: bundle
            .scenes
            .iter()
            .map(|(scene, name)| (scene.name.as_str(), format!("scenes/{name}@2x.png"), scene.width.get()))
            .collect(),
    };
    let html = page.html();
    files.push(file("index.html", html));
    files.insert(0, file("README.md", bundle.readme(&left_out, &pages)));
    files
}

/// The sheets of a project's pages, living and flat, and for each page its name and that of its files.
fn page_sheets(
    project: &Project,
    assets: &Assets,
    wanted: &SheetOptions,
) -> (Vec<(String, String)>, Vec<File>) {
    let mut names = UniqueNames::default();
    let (mut pages, mut files) = (Vec::new(), Vec::new());
    for scene in project.scenes.iter().filter(|scene| scene.page.is_some()) {
        let sheet =
            |style| fittings_sheet(project, assets, scene, &SheetOptions { style, ..wanted.clone() }, None);
        let living = sheet(Style::Living);
        if living.is_empty() {
            continue;
        }
        let name = names.unique_with(&slug(&scene.name), '-', &[".flat"]);
        files.push(file(format!("pages/{name}.css"), living));
        files.push(file(format!("pages/{name}.flat.css"), sheet(Style::Flat)));
        pages.push((scene.name.clone(), name));
    }
    (pages, files)
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
        let text = |format, wanted: SheetOptions| export(self.project, self.assets, format, None, &wanted);
        let style = |style| SheetOptions { style, ..self.wanted.clone() };
        let name = &self.name;
        let module = SheetOptions { module: true, ..style(Style::Living) };
        let mut files = vec![
            file("package.json", self.package()),
            file(format!("{name}.css"), text(Format::Css, style(Style::Living))),
            file(format!("{name}.flat.css"), text(Format::Css, style(Style::Flat))),
            file(format!("{name}.theme.css"), text(Format::Theme, style(Style::Living))),
            file(format!("_{name}.scss"), text(Format::Scss, style(Style::Living))),
            file(format!("{name}.module.css"), text(Format::Css, module.clone())),
            file(format!("{name}.module.css.d.ts"), module_types(self.project, &module)),
            file("index.js", constants(self.project, self.wanted)),
            file("index.d.ts", constant_types(self.project, self.wanted)),
        ];
        for (theme, name) in &self.themes {
            let wanted = SheetOptions { theme: Some(theme.id.clone()), modes: false, ..self.wanted.clone() };
            files.push(file(format!("tokens/{name}.tokens.json"), text(Format::Tokens, wanted)));
        }
        let modes = SheetOptions { modes: true, ..self.wanted.clone() };
        files.push(file(format!("tokens/{name}.resolver.json"), text(Format::Tokens, modes)));
        files
    }

    /// Makes the folder one that packages can be installed from.
    fn package(&self) -> String {
        let letters = self.name.chars().map(|letter| if letter.is_ascii() { letter } else { '-' });
        let letters: String = letters.collect();
        let plain = letters.trim_matches('-');
        let name = &self.name;
        readable(&json!({
            "name": if plain.is_empty() { "finishes" } else { plain },
            "version": "1.0.0",
            "description": format!("Depth of {}: finishes as CSS, SCSS, tokens, SVG and pictures.", self.project.name),
            "style": format!("{name}.css"),
            "sass": format!("_{name}.scss"),
            "type": "module",
            "types": "./index.d.ts",
            "sideEffects": ["*.css"],
            "exports": {
                ".": {
                    "types": "./index.d.ts",
                    "style": format!("./{name}.css"),
                    "sass": format!("./_{name}.scss"),
                    "default": "./index.js",
                },
                // Types of a style sheet are looked for where a package says so.
                format!("./{name}.module.css"): {
                    "types": format!("./{name}.module.css.d.ts"),
                    "default": format!("./{name}.module.css"),
                },
                "./*": "./*",
            },
        }))
    }

    /// The scenes as SVG and pictures, and each thing that an SVG cannot hold, in words.
    fn scenes(&self) -> (Vec<File>, Vec<String>) {
        let cache = MaskCache::with_capacity(64 << 20);
        let (mut files, mut left_out) = (Vec::new(), Vec::new());
        for (scene, name) in &self.scenes {
            let resolved = resolve::scene(self.project, scene, self.assets);
            let drawn = standalone(&resolved, self.wanted.backdrops);
            let dropped = drawn.notes.iter().filter(|note| note.fidelity == Fidelity::Dropped);
            left_out.push(dropped.map(|note| note.message.as_str()).collect::<Vec<_>>().join("; "));
            files.push(file(format!("scenes/{name}.svg"), drawn.svg));
            let shadow = RenderOptions { shadow_only: true, ..RenderOptions::default() };
            for (ending, part) in [("", RenderOptions::default()), ("-shadow", shadow)] {
                let viewport = Viewport::whole(&resolved, Viewport::largest_scale(&resolved, 2.0));
                let picture = picture(&resolved, &viewport, &part, Rounding::Nearest, &cache);
                let png = picture.to_png().unwrap_or_default();
                // All of them are there until the archive is written.
                if !budget::retain_memory(png.len()) {
                    return (files, left_out);
                }
                files.push(file(format!("scenes/{name}{ending}@2x.png"), png));
            }
        }
        (files, left_out)
    }

    fn readme(&self, left_out: &[String], pages: &[(String, String)]) -> String {
        let name = &self.name;
        let mut text = format!(
            "# {}\n\nDepth for this product, as Zolvet handed it off. Open `index.html` in a browser: it needs no server.\n\n\
             | file | what it is |\n|---|---|\n\
             | `index.html` | every finish in its states and themes, with lights to turn and swatches to change |\n\
             | `package.json` | lets you install this folder: `npm install ./{name}` |\n\
             | `{name}.css` | finishes as classes, lights and swatches as custom properties |\n\
             | `{name}.flat.css` | the same with plain values, for old browsers |\n\
             | `{name}.theme.css` | the finishes as utility classes, an `@utility` each |\n\
             | `{name}.module.css`, `{name}.module.css.d.ts` | the finishes as a CSS module, and its types |\n\
             | `index.js`, `index.d.ts` | the names of classes and custom properties as typed constants |\n\
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
        row(
            &format!("tokens/{name}.resolver.json"),
            "the tokens of all themes as modes (Resolver Module, 2025.10)",
        );
        for (at, (scene, name)) in self.scenes.iter().enumerate() {
            let left_out = left_out.get(at).filter(|text| !text.is_empty());
            let left_out = left_out.map(|text| format!(" ({text})")).unwrap_or_default();
            row(
                &format!("scenes/{name}.svg"),
                &format!("the scene {}, every coat a shape of its own{left_out}", scene.name),
            );
            row(&format!("scenes/{name}@2x.png"), "its picture at two pixels for one px");
            row(&format!("scenes/{name}-shadow@2x.png"), "its shadows alone, on transparency");
        }
        for (page, name) in pages {
            row(
                &format!("pages/{name}.css"),
                &format!("depth for the page {page}, to be loaded after its own sheets"),
            );
            row(&format!("pages/{name}.flat.css"), "the same with plain values");
        }
        row("fonts/fonts.css", "the fonts the pieces are set in");
        for family in &FAMILIES {
            for face in family.faces {
                row(&format!("fonts/{}", face.file), &format!("{}, weight {}", family.name, face.weight));
            }
            row(&licence_path(family.name), "its licence");
        }
        row(&format!("{name}.zolvet.json"), "the project itself, to be opened again");
        text + &self.how_to_use()
    }

    /// How a page takes the classes in.
    fn how_to_use(&self) -> String {
        let Some(finish) = self.project.finishes.first() else { return String::new() };
        let names = Names::new(self.project);
        let class = &names.finishes[&finish.id];
        let fill = names.property("fill");
        let [light, swatch, height] = ["light-…", "colour-…", "height"].map(|name| names.property(name));
        format!(
            "\nGive an element the class of a finish: `class=\"{class}\"` for a box, `{class}-text` for text, `{class}-icon` for \
             an icon or picture, as far as the sheet has them. Set `{fill}` where you set its background: finishes take \
             their own colour from it. Set `{light}` on the page or a part of it to turn a light, `{swatch}` to change \
             a swatch, and `{height}` on an element to the px that it is above the ground, where its finish is made of a height. \
             A theme begins at `data-theme` with its name, or at the selectors that the sheet begins with. \
             Nothing is set on the root, and every name in the sheet has the project's prefix.\n"
        )
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
