//! A project as a style sheet in which links stay links: lights and swatches once, as custom properties; a class for each
//! finish; and the pieces, each with its own fill and what it lies on. Themes and states change only what they change.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;

use super::links::{FILL, GROUND, Links, Properties, ground_of, takes};
use super::sheet::{
    Names, SheetOptions, class, comment, kind, shared, target, themed, wanted_finishes, wanted_themes,
};
use crate::asset::Assets;
use crate::budget;
use crate::colour::{Rgba, colour_text};
use crate::css::{
    CodeOptions, Declaration, Rule, changes, geometry, piece_rules, selector, style_declarations,
    transition_declaration,
};
use crate::lower::{TrialPiece, lower_written, targets_of, trial};
use crate::model::{self, Coat, ColourOrigin, Fill, Finish, Id, OwnCoats, Project, Scene, Shape, Wear};
use crate::resolve::{self, Context, Paint};
use crate::syntax::number_text;

/// Steps that trying a stack on a piece takes.
const STEPS_A_TRIAL: u64 = 100_000;

/// The whole sheet.
pub(super) fn sheet(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    let names = Names::of(project);
    let named = |start: &str, names: &BTreeMap<Id, String>| {
        names.iter().map(|(id, name)| (id.clone(), format!("{start}{name}"))).collect()
    };
    let properties = Properties {
        lights: named("--light-", &names.lights),
        swatches: named("--colour-", &names.swatches),
    };
    let writer = Writer { project, assets, wanted, names, properties };
    let finishes: String = writer.finishes().map(|finish| writer.finish(finish)).collect();
    let scenes: String = match wanted.finish {
        None => project.scenes.iter().map(|scene| writer.scene(scene)).collect(),
        Some(_) => String::new(),
    };
    let body = format!("{finishes}{scenes}");
    format!("/* {} */\n{}{body}", comment(&project.name), writer.head(&body))
}

struct Writer<'a> {
    project: &'a Project,
    assets: &'a Assets,
    wanted: &'a SheetOptions,
    names: Names,
    properties: Properties,
}

/// A piece of the project, or one that a finish is tried on.
struct Place<'p> {
    scene: &'p Scene,
    piece: &'p model::Piece,
    on: TrialPiece,
}

impl<'a> Writer<'a> {
    fn finishes(&self) -> impl Iterator<Item = &'a Finish> {
        wanted_finishes(self.project, self.wanted)
    }

    fn themed(&self, rules: &dyn Fn(&Id) -> Vec<Rule>) -> String {
        themed(&wanted_themes(self.project, self.wanted), &self.names, rules)
    }

    /// What the rest of the sheet refers to: registered, so that it can be animated and is never missing, and set.
    fn head(&self, body: &str) -> String {
        let used = |name: &str| body.contains(&format!("var({name})"));
        let mut text = String::new();
        let mut register = |name: &str, syntax: &str, inherits: bool, initial: &str| {
            let _ = writeln!(
                text,
                "@property {name} {{\n  syntax: \"<{syntax}>\";\n  inherits: {inherits};\n  initial-value: {initial};\n}}"
            );
        };
        for angle in self.properties.lights.values().filter(|name| used(name)) {
            register(angle, "angle", true, "0deg");
        }
        if used(FILL) {
            register(FILL, "color", false, "#fff");
        }
        if used(GROUND) {
            register(GROUND, "color", true, "#fff");
        }
        if !text.is_empty() {
            text.push('\n');
        }
        let all = self.wanted.finish.is_none();
        text.push_str(&self.themed(&|theme| {
            let context = Context { project: self.project, theme, assets: self.assets };
            let lights = self.properties.lights.iter().filter(|(_, name)| used(name));
            let angle = |(id, name): (&Id, &String)| {
                Declaration::one(name.clone(), format!("{}deg", number_text(context.bearing(id))))
            };
            let swatches = self.project.swatches.iter().filter_map(|swatch| {
                let name = self.properties.swatches.get(&swatch.id)?;
                let colour = self.wanted.numbers.colour(context.swatch(&swatch.id));
                (all || used(name)).then(|| Declaration::one(name.clone(), colour_text(colour)))
            });
            let lines: Vec<_> = lights.map(angle).chain(swatches).collect();
            if lines.is_empty() { Vec::new() } else { vec![Rule { selector: ":root".to_owned(), lines }] }
        }));
        text
    }

    /// The kinds of pieces that a finish is on; on none yet, it is written for boxes.
    fn forms(&self, finish: &Finish) -> BTreeSet<u8> {
        let wears =
            |piece: &&model::Piece| matches!(&piece.wear, Wear::Finish(worn) if worn.finish == finish.id);
        let pieces = self.project.scenes.iter().flat_map(|scene| &scene.pieces);
        let mut forms: BTreeSet<u8> = pieces.filter(wears).map(|piece| kind(&piece.shape) as u8).collect();
        if forms.is_empty() {
            forms.insert(TrialPiece::Box as u8);
        }
        forms
    }

    fn finish(&self, finish: &Finish) -> String {
        let note = if finish.note.is_empty() { String::new() } else { format!(": {}", finish.note) };
        let mut text = format!("\n/* {} */\n", comment(&format!("{}{note}", finish.name)));
        let forms = self.forms(finish);
        for on in TrialPiece::ALL.into_iter().filter(|on| forms.contains(&(*on as u8))) {
            text.push_str(&self.themed(&|theme| self.classes(finish, on, theme)));
        }
        text
    }

    fn class(&self, finish: &Finish, on: TrialPiece) -> String {
        format!(".{}", class(&self.names, finish, on))
    }

    /// The class of a finish on one kind of piece, at rest and in its states.
    fn classes(&self, finish: &Finish, on: TrialPiece, theme: &Id) -> Vec<Rule> {
        if !budget::spend(STEPS_A_TRIAL * (1 + finish.states.len() as u64)) {
            return Vec::new();
        }
        let tried = |coats: &[Coat]| {
            let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
            let scene = trial(theme, &wear, on, false);
            self.worn(&Place { scene: &scene, piece: &scene.pieces[0], on })
        };
        self.with_states(&self.class(finish, on), finish, theme, &tried)
    }

    /// The rules of a stack at rest and in the states of its finish, by what writes the declarations of its coats.
    fn with_states(
        &self,
        class: &str,
        finish: &Finish,
        theme: &Id,
        worn: &dyn Fn(&[Coat]) -> Vec<Declaration>,
    ) -> Vec<Rule> {
        let mut rest = worn(finish.coats_in(theme));
        let states: Vec<Rule> = finish
            .states
            .iter()
            .map(|(state, coats)| Rule {
                selector: selector(class, *state),
                lines: changes(&rest, &worn(coats)),
            })
            .filter(|rule| !rule.lines.is_empty())
            .collect();
        if !states.is_empty() {
            let transition = finish.transition.as_ref();
            rest.extend(transition.and_then(|transition| transition_declaration(&rest, transition)));
        }
        let mut rules = vec![Rule { selector: class.to_owned(), lines: rest }];
        rules.retain(|rule| !rule.lines.is_empty());
        rules.extend(states);
        rules
    }

    /// The declarations of a piece's coats that do not depend on its size and fill, with their links.
    fn worn(&self, place: &Place<'_>) -> Vec<Declaration> {
        let Place { scene, piece, on } = place;
        let (resolved, _) = resolve::piece(self.project, scene, piece, self.assets);
        let lowered = lower_written(&resolved, target(*on), self.wanted.numbers);
        let lines = shared(&lowered, &piece.shape);
        self.links(scene, self.project.coats_of(piece, &scene.theme), &resolved).living(&lowered, lines)
    }

    fn links<'l>(&'l self, scene: &'l Scene, coats: &'l [Coat], resolved: &resolve::Piece) -> Links<'l> {
        Links {
            context: Context { project: self.project, theme: &scene.theme, assets: self.assets },
            properties: &self.properties,
            coats,
            fill: fill_of(resolved),
            ground: ground_of(coats, resolved),
            numbers: self.wanted.numbers,
        }
    }

    /// The pieces of a scene; those that look alike share their rules.
    fn scene(&self, scene: &Scene) -> String {
        let mut groups: Vec<(String, Vec<String>)> = Vec::new();
        for piece in scene.pieces.iter().filter(|piece| !piece.hidden) {
            if !budget::spend(STEPS_A_TRIAL) {
                break;
            }
            let finish = match &piece.wear {
                Wear::Finish(worn) => self.project.finishes.iter().find(|finish| finish.id == worn.finish),
                Wear::Coats(_) => None,
            };
            // The name that is free in the sheet.
            let name = self.names.pieces[&(scene.id.clone(), piece.id.clone())].clone();
            let piece = model::Piece { name: ANY.to_owned(), ..piece.clone() };
            let mut text = "\n".to_owned();
            if let Some(finish) = finish {
                let _ = writeln!(text, "/* with {} */", self.class(finish, kind(&piece.shape)));
            }
            text.push_str(&self.themed(&|theme| {
                let scene = Scene { theme: theme.clone(), ..scene.clone() };
                match finish {
                    Some(finish) => self.wearer(&scene, &piece, finish),
                    None => self.own(&scene, &piece),
                }
            }));
            match groups.iter_mut().find(|(body, _)| *body == text) {
                Some((_, names)) => names.push(name),
                None => groups.push((text, vec![name])),
            }
        }
        let text: String = groups.iter().map(|(body, names)| named(body, names)).collect();
        if text.is_empty() { text } else { format!("\n/* Scene: {} */\n{text}", comment(&scene.name)) }
    }

    /// A piece with a finish: its own shape and fill, what it lies on where its coats take a colour from that, and what
    /// comes out otherwise on it than its class says.
    fn wearer(&self, scene: &Scene, piece: &model::Piece, finish: &Finish) -> Vec<Rule> {
        let on = kind(&piece.shape);
        let class = format!(".{}", piece.name);
        let coats: Vec<&Coat> =
            finish.coats_in(&scene.theme).iter().chain(finish.states.values().flatten()).collect();
        let (resolved, _) = resolve::piece(self.project, scene, piece, self.assets);
        let lowered = lower_written(&resolved, target(on), self.wanted.numbers);
        let own = shared(&lowered, &piece.shape);
        let mut all = style_declarations(&lowered, &piece.shape, "");
        all.retain(|line| !own.contains(line));
        let mut lines = geometry(&lowered.element, &piece.shape);
        lines.retain(|line| !all.iter().any(|other| other.name == line.name));
        let uses = |from| coats.iter().any(|coat| takes(coat, from));
        lines.extend(self.painted((scene, piece), &resolved, all, uses(ColourOrigin::Fill)));
        if uses(ColourOrigin::Ground) {
            let ground = ground_of(finish.coats_in(&scene.theme), &resolved).unwrap_or_default();
            lines.push(Declaration::one(GROUND, colour_text(self.wanted.numbers.colour(ground))));
        }
        let here = |coats: &[Coat]| {
            let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
            self.worn(&Place { scene, piece: &model::Piece { wear, ..piece.clone() }, on })
        };
        let shared_rules = self.classes(finish, on, &scene.theme);
        let named = self.class(finish, on);
        let mut rules = vec![Rule { selector: class.clone(), lines }];
        for rule in self.with_states(&class, finish, &scene.theme, &here) {
            let same = rule.selector.replace(&class, &named);
            let theirs = shared_rules.iter().find(|other| other.selector == same);
            let differs = |line: &Declaration| theirs.is_none_or(|theirs| !theirs.lines.contains(line));
            let lines: Vec<_> = rule.lines.into_iter().filter(differs).collect();
            match rules.iter_mut().find(|other| other.selector == rule.selector) {
                Some(other) => other.lines.extend(lines),
                None if lines.is_empty() => {}
                None => rules.push(Rule { selector: rule.selector, lines }),
            }
        }
        rules
    }

    /// The declarations of a piece's fill, with the fill as a custom property where its coats refer to it, and a swatch by
    /// its name.
    fn painted(
        &self,
        (scene, piece): (&Scene, &model::Piece),
        resolved: &resolve::Piece,
        lines: Vec<Declaration>,
        referred: bool,
    ) -> Vec<Declaration> {
        let fill = match &resolved.fill {
            Paint::Solid(colour) => self.wanted.numbers.colour(*colour),
            _ => self.wanted.numbers.colour(fill_of(resolved)),
        };
        let colour = colour_text(fill);
        let said = match &piece.fill {
            Fill::Solid(solid) => self.links(scene, &[], resolved).source(Some(&solid.colour), fill),
            _ => colour.clone(),
        };
        let mut painted = Vec::new();
        if referred {
            painted.push(Declaration::one(FILL, said.clone()));
        }
        let value = if referred { format!("var({FILL})") } else { said };
        let solid = matches!(piece.fill, Fill::Solid(_));
        painted.extend(lines.into_iter().map(|line| match (line.name.as_ref(), line.values.as_slice()) {
            ("background" | "color", [only]) if solid && *only == colour => {
                Declaration::one(line.name.clone(), value.clone())
            }
            _ => line,
        }));
        painted
    }

    /// A piece with coats of its own, in its most natural target: what an SVG filter needs is not in the sheet.
    fn own(&self, scene: &Scene, piece: &model::Piece) -> Vec<Rule> {
        let coats = self.project.coats_of(piece, &scene.theme);
        if !budget::spend(STEPS_A_TRIAL * (1 + coats.len() as u64)) {
            return Vec::new();
        }
        let (resolved, _) = resolve::piece(self.project, scene, piece, self.assets);
        let states = resolve::states(self.project, scene, piece, self.assets);
        let is_text = matches!(piece.shape, Shape::Text(_));
        let Some(target) = targets_of(&resolved, is_text).first().copied() else { return Vec::new() };
        let numbers = self.wanted.numbers;
        let options = CodeOptions { target: Some(target), numbers, ..CodeOptions::default() };
        let mut rules = piece_rules(&resolved, &piece.shape, &states, options);
        let class = format!(".{}", piece.name);
        let places = states.coats.iter().map(|(state, there)| {
            let coats = piece.states.get(state).map_or(&[][..], Vec::as_slice);
            (selector(&class, *state), coats, there)
        });
        for (selector, coats, piece_there) in std::iter::once((class.clone(), coats, &resolved)).chain(places)
        {
            let lowered = lower_written(piece_there, target, numbers);
            for rule in rules.iter_mut().filter(|rule| rule.selector == selector) {
                let lines = std::mem::take(&mut rule.lines);
                rule.lines = self.links(scene, coats, piece_there).living(&lowered, lines);
            }
        }
        let referred = coats.iter().chain(piece.states.values().flatten());
        let referred = referred.into_iter().any(|coat| takes(coat, ColourOrigin::Fill));
        if let Some(rest) = rules.first_mut() {
            rest.lines = self.painted((scene, piece), &resolved, std::mem::take(&mut rest.lines), referred);
            if let Some(ground) = ground_of(coats, &resolved) {
                rest.lines.push(Declaration::one(GROUND, colour_text(numbers.colour(ground))));
            }
        }
        rules
    }
}

/// Stands for the class of a piece while it is not known which others look alike: letters that are kept in a class.
const ANY: &str = "ǂpieceǂ";

/// Rules for any piece as rules for these: each line of a selector once for each name.
fn named(body: &str, names: &[String]) -> String {
    let any = format!(".{ANY}");
    let mut text = String::new();
    for line in body.lines() {
        if !line.contains(&any) {
            let _ = writeln!(text, "{line}");
            continue;
        }
        let (selector, end) = line
            .strip_suffix(" {")
            .map_or_else(|| (line.trim_end_matches(','), ","), |selector| (selector, " {"));
        let each = names.iter().map(|name| selector.replace(&any, &format!(".{name}")));
        let _ = writeln!(text, "{}{end}", each.collect::<Vec<_>>().join(",\n"));
    }
    text
}

/// The fill of a piece as one colour: its mean.
fn fill_of(piece: &resolve::Piece) -> Rgba {
    piece.fill.mean().map(|mean| Rgba { a: 1.0, ..mean }).unwrap_or_default()
}
