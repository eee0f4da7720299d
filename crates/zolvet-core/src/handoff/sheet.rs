//! A whole project as one style sheet: finishes once, as custom properties and classes, and the pieces that wear them.

use std::fmt::Write as _;

use super::{Held, Numbers, Target, TrialPiece, hold, trial};
use crate::asset::Assets;
use crate::css::{
    Declaration, Wanted, changes, colour_text, geometry, looks, moves, piece_code, rule, selector, slug,
    state_name,
};
use crate::model::{self, Finish, Id, OwnCoats, Project, Scene, State, Theme, Wear};
use crate::resolve::{self, Context, Piece};

/// What is written.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct SheetWanted {
    /// Only this finish, without pieces.
    pub finish: Option<Id>,
    /// Only under this theme, instead of every theme.
    pub theme: Option<Id>,
    /// How numbers are written.
    pub numbers: Numbers,
}

/// The project as CSS.
#[must_use]
pub fn sheet(project: &Project, assets: &Assets, wanted: &SheetWanted) -> String {
    let writer = Writer { project, assets, wanted };
    let mut text = format!("/* {} */\n", comment(&project.name));
    text.push_str(&writer.roots());
    for finish in writer.finishes() {
        text.push_str(&writer.classes(finish));
    }
    if wanted.finish.is_none() {
        for scene in &project.scenes {
            text.push_str(&writer.scene(scene));
        }
    }
    text
}

/// The finishes as SCSS mixins, with what differs in other themes under `[data-theme]`.
#[must_use]
pub fn scss(project: &Project, assets: &Assets, wanted: &SheetWanted) -> String {
    let writer = Writer { project, assets, wanted };
    let mut text = format!("// {}\n", comment(&project.name).replace('\n', " "));
    for finish in writer.finishes() {
        for on in TrialPiece::ALL {
            text.push_str(&writer.mixin(finish, on));
        }
    }
    text
}

/// A finish on one kind of piece in one state: what its class says.
struct Said {
    on: TrialPiece,
    state: Option<State>,
    lines: Vec<Declaration>,
}

struct Writer<'a> {
    project: &'a Project,
    assets: &'a Assets,
    wanted: &'a SheetWanted,
}

impl<'a> Writer<'a> {
    fn finishes(&self) -> impl Iterator<Item = &'a Finish> {
        let only = self.wanted.finish.clone();
        self.project.finishes.iter().filter(move |finish| only.as_ref().is_none_or(|only| finish.id == *only))
    }

    fn themes(&self) -> Vec<&'a Theme> {
        let chosen = |theme: &&Theme| self.wanted.theme.as_ref().is_none_or(|only| theme.id == *only);
        self.project.themes.iter().filter(chosen).collect()
    }

    /// Custom properties: of the first theme at the root, of the others where they differ.
    fn roots(&self) -> String {
        let themes = self.themes();
        let Some((first, others)) = themes.split_first() else { return String::new() };
        let own = self.properties(&first.id);
        let mut text = block(":root", &own);
        for theme in others {
            let differing: Vec<_> =
                self.properties(&theme.id).into_iter().filter(|property| !own.contains(property)).collect();
            if differing.is_empty() {
                continue;
            }
            if theme.scheme != first.scheme {
                let inner = block(":root:not([data-theme])", &differing).replace('\n', "\n  ");
                let scheme = format!("{:?}", theme.scheme).to_lowercase();
                let _ =
                    writeln!(text, "@media (prefers-color-scheme: {scheme}) {{\n  {}\n}}", inner.trim_end());
            }
            text.push_str(&block(&format!("[data-theme=\"{}\"]", slug(&theme.name)), &differing));
        }
        text
    }

    fn properties(&self, theme: &Id) -> Vec<(String, String)> {
        let mut properties = Vec::new();
        if self.wanted.finish.is_none() {
            let context = Context { project: self.project, theme, assets: self.assets };
            for swatch in &self.project.swatches {
                let colour = colour_text(context.swatch(&swatch.id));
                properties.push((format!("--colour-{}", slug(&swatch.name)), colour));
            }
        }
        for finish in self.finishes() {
            for said in self.said(finish, theme) {
                for line in said.lines {
                    properties.push((property(finish, &said.on, said.state, line.name), line.value()));
                }
            }
        }
        properties
    }

    /// What a finish says on each kind of piece, at rest and in its states.
    fn said(&self, finish: &Finish, theme: &Id) -> Vec<Said> {
        let mut said = Vec::new();
        for on in TrialPiece::ALL {
            let rest = self.looks(&finish.coats, theme, on);
            for (state, coats) in &finish.states {
                let lines = changes(&rest, &self.looks(coats, theme, on));
                said.push(Said { on, state: Some(*state), lines });
            }
            said.push(Said { on, state: None, lines: rest });
        }
        said.sort_by_key(|said| said.state);
        said
    }

    fn looks(&self, coats: &[model::Coat], theme: &Id, on: TrialPiece) -> Vec<Declaration> {
        let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
        let Some(scene) = trial(theme, &wear, on, false) else { return Vec::new() };
        let (piece, _) = resolve::piece(self.project, &scene, &scene.pieces[0], self.assets);
        let held = hold(&self.wanted.numbers.of_piece(&piece), target(on));
        shared(&held, &scene.pieces[0])
    }

    fn classes(&self, finish: &Finish) -> String {
        let Some(theme) = self.themes().first().map(|theme| &theme.id) else { return String::new() };
        let mut text = format!("\n/* {} */\n", comment(&finish.name));
        if !finish.note.is_empty() {
            text = format!("\n/* {}: {} */\n", comment(&finish.name), comment(&finish.note));
        }
        let all = self.said(finish, theme);
        for said in &all {
            let class = class(finish, &said.on);
            let named = |line: &Declaration| Declaration {
                name: line.name,
                values: vec![format!("var({})", property(finish, &said.on, said.state, line.name))],
            };
            let mut lines: Vec<_> = said.lines.iter().map(named).collect();
            let changes = all.iter().any(|other| other.state.is_some() && other.on == said.on);
            if said.state.is_none() && changes {
                lines
                    .extend(finish.transition.as_ref().and_then(|transition| moves(&said.lines, transition)));
            }
            if !lines.is_empty() {
                let class = format!(".{class}");
                let selector = said.state.map_or_else(|| class.clone(), |state| selector(&class, state));
                text.push_str(&rule(&selector, &lines));
            }
        }
        text
    }

    fn mixin(&self, finish: &Finish, on: TrialPiece) -> String {
        let themes = self.themes();
        let Some((first, others)) = themes.split_first() else { return String::new() };
        let of = |theme: &Theme| {
            self.said(finish, &theme.id).into_iter().filter(|said| said.on == on).collect::<Vec<_>>()
        };
        let mut text = String::new();
        let own = of(first);
        if own.iter().all(|said| said.lines.is_empty()) {
            return text;
        }
        let _ = writeln!(text, "\n@mixin {} {{", class(finish, &on));
        for (at, said) in own.iter().enumerate() {
            let mut lines: String = said.lines.iter().map(|line| line.text(2)).collect();
            for theme in others {
                let there = of(theme);
                let other = there.get(at).filter(|other| other.lines != said.lines);
                if let Some(other) = other {
                    let inner: String = other.lines.iter().map(|line| line.text(4)).collect();
                    let _ = write!(lines, "  [data-theme=\"{}\"] & {{\n{inner}  }}\n", slug(&theme.name));
                }
            }
            match said.state {
                None => text.push_str(&lines),
                Some(_) if lines.is_empty() => {}
                Some(state) => {
                    let inner = lines.replace("\n  ", "\n    ");
                    let _ = write!(
                        text,
                        "  {} {{\n  {}  }}\n",
                        selector("&", state).replace('\n', "\n  "),
                        inner
                    );
                }
            }
        }
        text.push_str("}\n");
        text
    }

    fn scene(&self, scene: &Scene) -> String {
        let mut scene = scene.clone();
        if let Some(theme) = &self.wanted.theme {
            scene.theme = theme.clone();
        }
        let mut text = String::new();
        for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
            let (resolved, _) = resolve::piece(self.project, &scene, piece, self.assets);
            let worn = match &piece.wear {
                Wear::Finish(worn) => self.project.finishes.iter().find(|finish| finish.id == worn.finish),
                Wear::Coats(_) => None,
            };
            text.push('\n');
            match worn {
                Some(finish) => text.push_str(&self.wearer(&scene, piece, &resolved, finish)),
                None => {
                    let states = resolve::states(self.project, &scene, piece, self.assets);
                    let wanted = Wanted { target: None, numbers: self.wanted.numbers };
                    let code = piece_code(&resolved, &piece.shape, &states, wanted);
                    for note in &code.differences {
                        let _ = writeln!(text, "/* {} */", comment(&note.message));
                    }
                    text.push_str(&code.css);
                }
            }
        }
        if text.is_empty() { text } else { format!("\n/* Scene: {} */\n{text}", comment(&scene.name)) }
    }

    /// A piece that wears a finish: its own shape and fill; and where the finish comes out otherwise on it, because it
    /// takes a colour from the piece or the ground, the finish's properties anew.
    fn wearer(&self, scene: &Scene, piece: &model::Piece, resolved: &Piece, finish: &Finish) -> String {
        let on = kind(piece, resolved);
        let held = hold(&self.wanted.numbers.of_piece(resolved), target(on));
        let own = shared(&held, piece);
        let class_says = self.looks(&finish.coats, &scene.theme, on);
        let mut lines = geometry(&held.element, &piece.shape);
        let all = looks(&held, &piece.shape, "");
        let elsewhere = |line: &&Declaration| {
            !own.iter().any(|other| other.name == line.name) && line.name != "background-image"
        };
        lines.retain(|line| !all.iter().any(|other| other.name == line.name));
        lines.extend(all.iter().filter(elsewhere).cloned());
        let mut text = format!("/* wears .{} */\n", class(finish, &on));
        let mut body = rule(&format!(".{}", slug(&piece.name)), &lines);
        let differing = own.iter().filter(|line| !class_says.contains(line));
        let set: String = differing
            .map(|line| format!("  {}: {};\n", property(finish, &on, None, line.name), line.value()))
            .collect();
        if !set.is_empty() {
            body.truncate(body.len() - 2);
            body.push_str(&set);
            body.push_str("}\n");
        }
        text.push_str(&body);
        text
    }
}

/// What a kind of piece is drawn in when it wears a finish.
fn target(on: TrialPiece) -> Target {
    match on {
        TrialPiece::Box => Target::BoxShadow,
        TrialPiece::Text => Target::TextShadow,
        TrialPiece::Icon => Target::DropShadow,
    }
}

fn kind(piece: &model::Piece, resolved: &Piece) -> TrialPiece {
    match (&piece.shape, resolved.silhouette.is_box()) {
        (model::Shape::Text(_), _) => TrialPiece::Text,
        (_, true) => TrialPiece::Box,
        _ => TrialPiece::Icon,
    }
}

/// The declarations that do not depend on a piece's size and fill.
fn shared(held: &Held, piece: &model::Piece) -> Vec<Declaration> {
    const SHARED: [&str; 6] =
        ["box-shadow", "text-shadow", "filter", "-webkit-backdrop-filter", "backdrop-filter", "border"];
    looks(held, &piece.shape, "").into_iter().filter(|line| SHARED.contains(&line.name)).collect()
}

fn class(finish: &Finish, on: &TrialPiece) -> String {
    match on {
        TrialPiece::Box => slug(&finish.name),
        TrialPiece::Text => format!("{}-text", slug(&finish.name)),
        TrialPiece::Icon => format!("{}-icon", slug(&finish.name)),
    }
}

fn property(finish: &Finish, on: &TrialPiece, state: Option<State>, name: &str) -> String {
    let state = state.map_or_else(String::new, |state| format!("-{}", state_name(state)));
    let name = name.trim_start_matches('-');
    let on = match on {
        TrialPiece::Text if !name.starts_with("text-") => "text-",
        TrialPiece::Icon => "icon-",
        TrialPiece::Box | TrialPiece::Text => "",
    };
    format!("--{}{state}-{on}{name}", slug(&finish.name))
}

fn block(selector: &str, properties: &[(String, String)]) -> String {
    let mut text = format!("{selector} {{\n");
    for (name, value) in properties {
        let _ = writeln!(text, "  {name}: {value};");
    }
    text.push_str("}\n");
    text
}

fn comment(text: &str) -> String {
    text.replace("*/", "* /")
}
