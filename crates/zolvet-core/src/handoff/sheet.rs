//! A whole project as one style sheet: finishes once, as custom properties and classes, and the pieces that wear them.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use serde::{Deserialize, Serialize};

use crate::asset::Assets;
use crate::budget;
use crate::colour::colour_text;
use crate::css::{
    CodeOptions, Declaration, Rule, changes, geometry, piece_rules, selector, style_declarations,
    transition_declaration,
};
use crate::lower::{Lowered, Numbers, Target, TrialPiece, lower_written, targets_of, trial};
use crate::model::{self, Coat, Finish, Id, OwnCoats, Project, Scene, Shape, State, Theme, Wear};
use crate::resolve::{self, Context};
use crate::syntax::{UniqueNames, slug};

/// The sheet to write.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct SheetOptions {
    /// Only this finish, without pieces.
    pub finish: Option<Id>,
    /// Only under this theme, instead of every theme.
    pub theme: Option<Id>,
    /// How numbers are written.
    pub numbers: Numbers,
    /// Whether links stay links.
    pub style: Style,
}

/// Whether what is linked in the project is linked in its CSS.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Style {
    /// Lights, swatches, own fills and grounds are custom properties, from which the browser computes offsets and colours.
    #[default]
    Living,
    /// Plain values, for old browsers and other programs.
    Flat,
}

/// The project as CSS of plain values: the first theme as it stands, what differs in the others under `[data-theme]` and, where their
/// scheme differs, `prefers-color-scheme`.
pub(super) fn flat(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let writer = Writer::new(project, assets, wanted);
    let mut text = format!("/* {} */\n", comment(&project.name));
    text.push_str(&writer.themed(&|theme| vec![writer.root(theme)]));
    for finish in writer.finishes() {
        let note = if finish.note.is_empty() { String::new() } else { format!(": {}", finish.note) };
        let _ = writeln!(text, "\n/* {} */", comment(&format!("{}{note}", finish.name)));
        for rule in writer.classes(finish) {
            text.push_str(&rule.text());
        }
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
pub fn scss(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let writer = Writer::new(project, assets, wanted);
    let mut text = format!("// {}\n", comment(&project.name));
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

/// Steps that trying a stack on a piece takes.
const STEPS_A_TRIAL: u64 = 100_000;

struct Writer<'a> {
    project: &'a Project,
    assets: &'a Assets,
    wanted: &'a SheetOptions,
    names: Names,
}

/// The names used in the sheet, all different.
pub(super) struct Names {
    pub finishes: BTreeMap<Id, String>,
    pub themes: BTreeMap<Id, String>,
    pub swatches: BTreeMap<Id, String>,
    pub lights: BTreeMap<Id, String>,
    /// By scene and piece.
    pub pieces: BTreeMap<(Id, Id), String>,
}

impl Names {
    pub fn of(project: &Project) -> Self {
        let (mut classes, mut themes, mut swatches) =
            (UniqueNames::default(), UniqueNames::default(), UniqueNames::default());
        let class = |taken: &mut UniqueNames, finish: &Finish| {
            taken.unique_with(&slug(&finish.name), '-', &["-text", "-icon"])
        };
        let finishes =
            project.finishes.iter().map(|finish| (finish.id.clone(), class(&mut classes, finish))).collect();
        let mut pieces = BTreeMap::new();
        for scene in &project.scenes {
            for piece in &scene.pieces {
                let name = classes.unique(&slug(&piece.name), '-');
                pieces.insert((scene.id.clone(), piece.id.clone()), name);
            }
        }
        let theme = |theme: &Theme| (theme.id.clone(), themes.unique(&slug(&theme.name), '-'));
        let themes = project.themes.iter().map(theme).collect();
        let swatch = |swatch: &model::Swatch| (swatch.id.clone(), swatches.unique(&slug(&swatch.name), '-'));
        let swatches = project.swatches.iter().map(swatch).collect();
        let mut lights = UniqueNames::default();
        let light = |light: &model::Light| (light.id.clone(), lights.unique(&slug(&light.name), '-'));
        let lights = project.lights.iter().map(light).collect();
        Self { finishes, themes, swatches, lights, pieces }
    }
}

/// The finishes that a sheet is about.
pub(super) fn wanted_finishes<'a>(
    project: &'a Project,
    wanted: &SheetOptions,
) -> impl Iterator<Item = &'a Finish> {
    let only = wanted.finish.clone();
    project.finishes.iter().filter(move |finish| only.as_ref().is_none_or(|only| finish.id == *only))
}

/// The themes that a sheet is about.
pub(super) fn wanted_themes<'a>(project: &'a Project, wanted: &SheetOptions) -> Vec<&'a Theme> {
    let chosen = |theme: &&Theme| wanted.theme.as_ref().is_none_or(|only| theme.id == *only);
    project.themes.iter().filter(chosen).collect()
}

/// Rules as they are in the first theme, then what differs in the others.
pub(super) fn themed(themes: &[&Theme], names: &Names, rules: &dyn Fn(&Id) -> Vec<Rule>) -> String {
    let Some((first, others)) = themes.split_first() else { return String::new() };
    let own = rules(&first.id);
    let mut text: String = own.iter().map(Rule::text).collect();
    for theme in others {
        let differing: Vec<Rule> = rules(&theme.id).iter().filter_map(|rule| rule.beyond(&own)).collect();
        if differing.is_empty() {
            continue;
        }
        if theme.scheme != first.scheme {
            let within = |rule: &Rule| rule.within(":root:not([data-theme])").text();
            let inner: String = differing.iter().map(within).collect();
            let scheme = format!("{:?}", theme.scheme).to_lowercase();
            let inner = inner.trim_end().replace('\n', "\n  ");
            let _ = writeln!(text, "@media (prefers-color-scheme: {scheme}) {{\n  {inner}\n}}");
        }
        let place = format!("[data-theme=\"{}\"]", names.themes[&theme.id]);
        text.extend(differing.iter().map(|rule| rule.within(&place).text()));
    }
    text
}

/// The class of a finish on a kind of piece, without its dot.
pub(super) fn class(names: &Names, finish: &Finish, on: TrialPiece) -> String {
    let ending = match on {
        TrialPiece::Box => "",
        TrialPiece::Text => "-text",
        TrialPiece::Icon => "-icon",
    };
    format!("{}{ending}", names.finishes[&finish.id])
}

impl<'a> Writer<'a> {
    fn new(project: &'a Project, assets: &'a Assets, wanted: &'a SheetOptions) -> Self {
        Self { project, assets, wanted, names: Names::of(project) }
    }

    fn finishes(&self) -> impl Iterator<Item = &'a Finish> {
        wanted_finishes(self.project, self.wanted)
    }

    fn themes(&self) -> Vec<&'a Theme> {
        wanted_themes(self.project, self.wanted)
    }

    fn themed(&self, rules: &dyn Fn(&Id) -> Vec<Rule>) -> String {
        themed(&self.themes(), &self.names, rules)
    }

    /// The custom properties of swatches and finishes.
    fn root(&self, theme: &Id) -> Rule {
        let mut lines = Vec::new();
        if self.wanted.finish.is_none() {
            let context = Context { project: self.project, theme, assets: self.assets };
            for swatch in &self.project.swatches {
                let name = format!("--colour-{}", self.names.swatches[&swatch.id]);
                lines.push(Declaration::one(name, colour_text(context.swatch(&swatch.id))));
            }
        }
        for finish in self.finishes() {
            for said in self.said(finish, theme) {
                let named = |line: &Declaration| self.property(finish, said.on, said.state, line);
                lines.extend(said.lines.iter().map(named));
            }
        }
        Rule { selector: ":root".to_owned(), lines }
    }

    /// A declaration of a finish as a custom property.
    fn property(
        &self,
        finish: &Finish,
        on: TrialPiece,
        state: Option<State>,
        line: &Declaration,
    ) -> Declaration {
        let state = state.map_or_else(String::new, |state| format!("-{}", state.name()));
        let name = line.name.trim_start_matches('-');
        let on = match on {
            TrialPiece::Text if !name.starts_with("text-") => "text-",
            TrialPiece::Icon => "icon-",
            TrialPiece::Box | TrialPiece::Text => "",
        };
        let name = format!("--{}{state}-{on}{name}", self.names.finishes[&finish.id]);
        Declaration { name: name.into(), values: line.values.clone() }
    }

    fn class(&self, finish: &Finish, on: TrialPiece) -> String {
        class(&self.names, finish, on)
    }

    /// The declarations of a finish on each kind of piece, at rest and in its states.
    fn said(&self, finish: &Finish, theme: &Id) -> Vec<Said> {
        let mut said = Vec::new();
        for on in TrialPiece::ALL {
            if !budget::spend(STEPS_A_TRIAL * (1 + finish.states.len() as u64)) {
                break;
            }
            let style_declarations = |coats: &[Coat]| {
                let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
                let scene = trial(theme, &wear, on, false);
                self.worn(&scene, &scene.pieces[0], on)
            };
            let rest = style_declarations(finish.coats_in(theme));
            for (state, coats) in &finish.states {
                let lines = changes(&rest, &style_declarations(coats));
                said.push(Said { on, state: Some(*state), lines });
            }
            said.push(Said { on, state: None, lines: rest });
        }
        said.sort_by_key(|said| said.state);
        said
    }

    /// The declarations of a piece's coats that do not depend on its size and fill.
    fn worn(&self, scene: &Scene, piece: &model::Piece, on: TrialPiece) -> Vec<Declaration> {
        let (resolved, _) = resolve::piece(self.project, scene, piece, self.assets);
        shared(&lower_written(&resolved, target(on), self.wanted.numbers), &piece.shape)
    }

    fn classes(&self, finish: &Finish) -> Vec<Rule> {
        let Some(theme) = self.themes().first().map(|theme| &theme.id) else { return Vec::new() };
        let all = self.said(finish, theme);
        let mut rules = Vec::new();
        for said in &all {
            let named = |line: &Declaration| {
                let property = self.property(finish, said.on, said.state, line);
                Declaration::one(line.name.clone(), format!("var({})", property.name))
            };
            let mut lines: Vec<_> = said.lines.iter().map(named).collect();
            let has_states = all.iter().any(|other| other.state.is_some() && other.on == said.on);
            if said.state.is_none() && has_states {
                lines.extend(
                    finish
                        .transition
                        .as_ref()
                        .and_then(|transition| transition_declaration(&said.lines, transition)),
                );
            }
            let class = format!(".{}", self.class(finish, said.on));
            let selector = said.state.map_or_else(|| class.clone(), |state| selector(&class, state));
            if !lines.is_empty() {
                rules.push(Rule { selector, lines });
            }
        }
        rules
    }

    fn mixin(&self, finish: &Finish, on: TrialPiece) -> String {
        let themes = self.themes();
        let Some((first, others)) = themes.split_first() else { return String::new() };
        let of = |theme: &Theme| -> Vec<Rule> {
            let said = self.said(finish, &theme.id).into_iter().filter(|said| said.on == on);
            let rule = |said: Said| Rule {
                selector: said.state.map_or_else(|| "&".to_owned(), |state| selector("&", state)),
                lines: said.lines,
            };
            said.map(rule).filter(|rule| !rule.lines.is_empty()).collect()
        };
        let own = of(first);
        if own.is_empty() {
            return String::new();
        }
        let mut inner = String::new();
        for rule in &own {
            if rule.selector == "&" {
                inner.extend(rule.lines.iter().map(|line| line.text(0)));
            } else {
                inner.push_str(&rule.text());
            }
        }
        for theme in others {
            let place = format!("[data-theme=\"{}\"]", self.names.themes[&theme.id]);
            let differing = of(theme).into_iter().filter_map(|rule| rule.beyond(&own));
            inner.extend(differing.map(|rule| rule.within(&place).text()));
        }
        format!("\n@mixin {} {{\n  {}\n}}\n", self.class(finish, on), inner.trim_end().replace('\n', "\n  "))
    }

    fn scene(&self, scene: &Scene) -> String {
        let mut text = String::new();
        for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
            let finish = match &piece.wear {
                Wear::Finish(worn) => self.project.finishes.iter().find(|finish| finish.id == worn.finish),
                Wear::Coats(_) => None,
            };
            // The name that is free in the sheet.
            let name = self.names.pieces[&(scene.id.clone(), piece.id.clone())].clone();
            let piece = model::Piece { name, ..piece.clone() };
            text.push('\n');
            if let Some(finish) = finish {
                let _ = writeln!(text, "/* wears .{} */", self.class(finish, kind(&piece.shape)));
            }
            text.push_str(&self.themed(&|theme| {
                let scene = Scene { theme: theme.clone(), ..scene.clone() };
                match finish {
                    Some(finish) => vec![self.wearer(&scene, &piece, finish)],
                    None => self.own(&scene, &piece),
                }
            }));
        }
        if text.is_empty() { text } else { format!("\n/* Scene: {} */\n{text}", comment(&scene.name)) }
    }

    /// A piece with coats of its own, in its most natural target: what an SVG filter needs is not in the sheet.
    fn own(&self, scene: &Scene, piece: &model::Piece) -> Vec<Rule> {
        if !budget::spend(STEPS_A_TRIAL * (1 + self.project.coats_of(piece, &scene.theme).len() as u64)) {
            return Vec::new();
        }
        let (resolved, _) = resolve::piece(self.project, scene, piece, self.assets);
        let states = resolve::states(self.project, scene, piece, self.assets);
        let is_text = matches!(piece.shape, Shape::Text(_));
        let target = targets_of(&resolved, is_text).first().copied();
        let numbers = self.wanted.numbers;
        piece_rules(
            &resolved,
            &piece.shape,
            &states,
            CodeOptions { target, numbers, ..CodeOptions::default() },
        )
    }

    /// A piece that wears a finish: its own shape and fill; and where the finish comes out otherwise on it, because it
    /// takes a colour from the piece or the ground, the finish's properties again, including those of its states.
    fn wearer(&self, scene: &Scene, piece: &model::Piece, finish: &Finish) -> Rule {
        let (resolved, _) = resolve::piece(self.project, scene, piece, self.assets);
        let on = kind(&piece.shape);
        let lowered = lower_written(&resolved, target(on), self.wanted.numbers);
        let own = shared(&lowered, &piece.shape);
        let all = style_declarations(&lowered, &piece.shape, "");
        let mut lines = geometry(&lowered.element, &piece.shape);
        lines.retain(|line| !all.iter().any(|other| other.name == line.name));
        lines.extend(all.into_iter().filter(|line| !own.contains(line)));
        for said in self.said(finish, &scene.theme).into_iter().filter(|said| said.on == on) {
            let here = match said.state {
                None => own.clone(),
                Some(state) => {
                    let coats = finish.states.get(&state).cloned().unwrap_or_default();
                    let wear = Wear::Coats(OwnCoats { coats });
                    changes(&own, &self.worn(scene, &model::Piece { wear, ..piece.clone() }, on))
                }
            };
            let differing = here.iter().filter(|line| !said.lines.contains(line));
            lines.extend(differing.map(|line| self.property(finish, on, said.state, line)));
        }
        Rule { selector: format!(".{}", slug(&piece.name)), lines }
    }
}

/// The target for a kind of piece that wears a finish.
pub(super) fn target(on: TrialPiece) -> Target {
    match on {
        TrialPiece::Box => Target::BoxShadow,
        TrialPiece::Text => Target::TextShadow,
        TrialPiece::Icon => Target::DropShadow,
    }
}

pub(super) fn kind(shape: &Shape) -> TrialPiece {
    match shape {
        Shape::Text(_) => TrialPiece::Text,
        Shape::Box(_) | Shape::Ellipse(_) => TrialPiece::Box,
        Shape::Path(_) | Shape::Picture(_) | Shape::Join(_) => TrialPiece::Icon,
    }
}

/// The declarations that do not depend on a piece's size and fill.
pub(super) fn shared(lowered: &Lowered, shape: &Shape) -> Vec<Declaration> {
    const SHARED: [&str; 6] =
        ["box-shadow", "text-shadow", "filter", "-webkit-backdrop-filter", "backdrop-filter", "border"];
    style_declarations(lowered, shape, "")
        .into_iter()
        .filter(|line| SHARED.contains(&line.name.as_ref()))
        .collect()
}

/// A text in a comment, on one line: CSS ends a line at `\r` and `\f` too (CSS Syntax Module 3, "Preprocessing the input
/// stream"), and others at U+2028 and U+2029.
pub(super) fn comment(text: &str) -> String {
    let ends_line = |letter: char| letter.is_control() || ['\u{2028}', '\u{2029}'].contains(&letter);
    text.replace(ends_line, " ").replace("*/", "* /")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_stays_within_its_comment() {
        assert_eq!(comment("a */ b { } \r\n@import 'x';\u{c}c\u{2028}d"), "a * / b { }   @import 'x'; c d");
        assert_eq!(comment("*\u{0}/"), "* /");
    }
}
