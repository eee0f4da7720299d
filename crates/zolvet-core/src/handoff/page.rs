//! The page of a bundle: every finish in each of its states and themes, as the living sheet draws it, with lights to turn
//! and swatches to change.

use std::fmt::Write as _;

use super::names::Names;
use super::options::SheetOptions;
use crate::asset::Assets;
use crate::colour::solid_text;
use crate::lower::{SEEDLING, TrialPiece};
use crate::markup::escaped;
use crate::model::{Finish, Project, Scheme, State, Theme};
use crate::resolve::Context;
use crate::syntax::number_text;

/// The content of the page.
pub(super) struct Page<'a> {
    pub project: &'a Project,
    pub assets: &'a Assets,
    pub wanted: &'a SheetOptions,
    /// The living sheet.
    pub sheet: &'a str,
    /// The file that it is in.
    pub file: &'a str,
    /// The name, the picture and the width of each scene.
    pub scenes: Vec<(&'a str, String, f64)>,
}

/// States as classes, so that they can be seen side by side.
const STATES: [(State, &str, &str); 4] = [
    (State::Hover, ":hover", ".is-hover"),
    (State::Pressed, ":active", ".is-pressed"),
    (State::Focus, ":focus-visible", ".is-focus"),
    (State::Disabled, ":disabled", ".is-disabled"),
];

/// Sets changed values wherever the sheet sets them.
const SCRIPT: &str = "\
addEventListener('input', ({ target: { dataset, value } }) => {
  for (const place of document.querySelectorAll(':root, [data-theme]'))
    place.style.setProperty(dataset.property, value + (dataset.unit ?? ''));
});
";

/// `FILL` stands for the property of an own fill.
const STYLE: &str = "\
body { margin: 32px; font: 16px/1.5 Figtree, sans-serif; color: #222; background: #fff }
h2 { margin: 32px 0 8px; font-size: 16px }
figure { margin: 0 }
p { margin: 0 0 8px }
img { max-width: 100%; height: auto }
form { position: sticky; top: 0; z-index: 1; display: flex; flex-wrap: wrap; gap: 8px 24px; padding: 12px 0; background: #fff }
label { display: flex; align-items: center; gap: 8px }
.row { display: flex; flex-wrap: wrap; background: #e9e5da; color: #222 }
.row.dark { background: #161b1a; color: #ddd }
figure { padding: 40px 36px 16px }
figcaption { margin-top: 40px; font-size: 13px; text-align: center }
.specimen { FILL: var(--specimen, #fbf9f3) }
.dark .specimen { FILL: var(--specimen, #2c3533) }
div.specimen { width: 168px; height: 104px; border-radius: 18px; background: var(FILL) }
span.specimen { font: 112px/1.1 'Archivo Black', sans-serif; color: var(FILL) }
svg.specimen { display: block; overflow: visible; fill: var(FILL) }
";

impl Page<'_> {
    /// The whole page; it needs no server.
    pub fn html(&self) -> String {
        let title = escaped(&self.project.name);
        let mut states = self.sheet.to_owned();
        for (_, selector, class) in STATES {
            states = states.replace(selector, class);
        }
        format!(
            "<!doctype html>\n<html lang=\"en\">\n<meta charset=\"utf-8\">\n<title>{title}</title>\n\
             <link rel=\"stylesheet\" href=\"fonts/fonts.css\">\n<link rel=\"stylesheet\" href=\"{}\">\n\
             <style>\n{}\n/* The same sheet with states as classes, to be seen side by side. */\n{}</style>\n\
             <h1>{title}</h1>\n{}{}{}<script>\n{SCRIPT}</script>\n</html>\n",
            self.file,
            STYLE.replace("FILL", &Names::new(self.project).property("fill")),
            states.replace("</", "<\\/"),
            self.controls(),
            self.finishes(),
            self.scenes(),
        )
    }

    /// Lights to turn, swatches and the fill of the specimens to change.
    fn controls(&self) -> String {
        let names = Names::new(self.project);
        let Some(theme) = self.project.themes.first() else { return String::new() };
        let context = Context { project: self.project, theme: &theme.id, assets: self.assets };
        let mut text = "<form>\n".to_owned();
        for light in &self.project.lights {
            let property = names.property(&format!("light-{}", names.lights[&light.id]));
            if self.sheet.contains(&property) {
                let _ = writeln!(
                    text,
                    "<label>{} <input type=\"range\" max=\"360\" value=\"{}\" data-property=\"{property}\" data-unit=\"deg\"></label>",
                    escaped(&light.name),
                    number_text(context.bearing(&light.id)),
                );
            }
        }
        let colours = self.project.swatches.iter().filter_map(|swatch| {
            let property = names.property(&format!("colour-{}", names.swatches[&swatch.id]));
            let colour = solid_text(context.swatch(&swatch.id));
            self.sheet.contains(&property).then(|| (escaped(&swatch.name), colour, property))
        });
        let fill = ("Fill of the specimens".to_owned(), "#fbf9f3".to_owned(), "--specimen".to_owned());
        for (name, colour, property) in colours.chain([fill]) {
            let _ = writeln!(
                text,
                "<label>{name} <input type=\"color\" value=\"{colour}\" data-property=\"{property}\"></label>"
            );
        }
        text + "</form>\n"
    }

    fn finishes(&self) -> String {
        let names = Names::new(self.project);
        let mut text = String::new();
        for finish in &self.project.finishes {
            let _ = writeln!(text, "<h2>{}</h2>\n<p>{}</p>", escaped(&finish.name), escaped(&finish.note));
            for theme in &self.project.themes {
                text.push_str(&self.row(finish, theme, &names));
            }
        }
        text
    }

    /// A finish under a theme, at rest and in its states, on each kind of piece that it is written for.
    fn row(&self, finish: &Finish, theme: &Theme, names: &Names) -> String {
        let dark = if theme.scheme == Scheme::Dark { " dark" } else { "" };
        let mut text = format!("<div class=\"row{dark}\" data-theme=\"{}\">\n", names.themes[&theme.id]);
        for on in self.wanted.forms(self.project, finish) {
            let class = names.class(finish, on);
            let shown = STATES.iter().filter(|(state, ..)| finish.states.contains_key(state));
            let states = shown.map(|(state, _, class)| (state.name(), class.replace('.', " ")));
            for (what, state) in std::iter::once(("at rest", String::new())).chain(states) {
                let specimen = specimen(on, &format!("specimen {class}{state}"));
                let _ = writeln!(
                    text,
                    "<figure>{specimen}<figcaption>{}, {what}</figcaption></figure>",
                    escaped(&theme.name)
                );
            }
        }
        text + "</div>\n"
    }

    fn scenes(&self) -> String {
        let mut text = String::new();
        for (name, picture, width) in &self.scenes {
            let name = escaped(name);
            let _ =
                writeln!(text, "<h2>{name}</h2>\n<img src=\"{picture}\" width=\"{width}\" alt=\"{name}\">");
        }
        text
    }
}

fn specimen(on: TrialPiece, class: &str) -> String {
    match on {
        TrialPiece::Box => format!("<div class=\"{class}\"></div>"),
        TrialPiece::Text => format!("<span class=\"{class}\">Ag</span>"),
        TrialPiece::Icon => format!(
            "<svg class=\"{class}\" width=\"136\" height=\"150\" viewBox=\"0 0 102 112\" aria-hidden=\"true\"><path d=\"{SEEDLING}\"/></svg>"
        ),
    }
}
