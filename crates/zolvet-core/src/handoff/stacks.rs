//! The declarations of a finish on each kind of piece, in every theme and state.

use super::cascade::{BETWEEN, Stack, Table};
use super::computed::ComputedProperties;
use super::links::{FallbackColours, Links, Properties, ground_of, takes};
use super::names::Names;
use super::options::{SheetOptions, Style};
use super::parts::{Shadows, shared};
use super::themes::Themes;
use crate::asset::Assets;
use crate::budget;
use crate::colour::{Rgba, css_text};
use crate::css::{Declaration, style_declarations, transition_declaration};
use crate::lower::{Lowered, TrialPiece, fill_of, lower_written, specimen};
use crate::model::{Coat, ColourOrigin, Fill, Finish, Id, Piece, Project, Scene, Shape, State, Theme};
use crate::resolve::{self, Context, PaintOp};
use crate::syntax::number_text;

/// Steps that trying a stack on a piece takes.
pub(super) const STEPS_A_TRIAL: u64 = 100_000;

/// The writer of stacks.
pub(super) struct Stacks<'a> {
    pub project: &'a Project,
    pub assets: &'a Assets,
    pub wanted: &'a SheetOptions,
    pub names: &'a Names,
    pub themes: &'a Themes<'a>,
    /// How lights, swatches and own fills are written.
    pub properties: Properties,
    /// Their properties that are computed on each element.
    pub computed: ComputedProperties,
}

/// A piece in its scene.
#[derive(Clone, Copy)]
pub(super) struct Place<'p> {
    pub scene: &'p Scene,
    pub piece: &'p Piece,
}

impl<'a> Stacks<'a> {
    /// Everything that the stacks of a project are written with.
    pub fn new(
        (project, assets): (&'a Project, &'a Assets),
        wanted: &'a SheetOptions,
        names: &'a Names,
        themes: &'a Themes<'a>,
    ) -> Self {
        let context = |theme: &'a Theme| Context { project, theme: &theme.id, assets };
        let angle = |id: &Id| {
            let angle = |theme: &&'a Theme| format!("{}deg", number_text(context(theme).bearing(id)));
            themes.all.iter().map(angle).collect()
        };
        let colour = |id: &Id| {
            let colour = |theme: &&'a Theme| css_text(wanted.numbers.colour(context(theme).swatch(id)));
            themes.all.iter().map(colour).collect()
        };
        let lights = project.lights.iter().map(|light| (&light.id, angle(&light.id)));
        let swatches = project.swatches.iter().map(|swatch| (&swatch.id, colour(&swatch.id)));
        let (computed, properties) = ComputedProperties::new(names, lights, swatches);
        Self { project, assets, wanted, names, themes, properties, computed }
    }

    /// The class of a finish on one kind of piece.
    pub fn class(&self, finish: &Finish, on: TrialPiece) -> Table {
        self.class_in_parts(finish, on, self.plain_class(finish, on))
    }

    /// The class of a finish from its declarations with every list whole.
    pub fn class_in_parts(&self, finish: &Finish, on: TrialPiece, table: Table) -> Table {
        match self.themes.all.first() {
            Some(theme) => self.in_parts(finish.coats_in(&theme.id), table, &self.names.class(finish, on)),
            None => table,
        }
    }

    /// The class of a finish with every list whole.
    pub fn plain_class(&self, finish: &Finish, on: TrialPiece) -> Table {
        let specimen = self.specimen(finish, on);
        self.finish(finish, Place { scene: &specimen.0, piece: &specimen.1 })
    }

    /// A finish on a piece: its declarations that do not depend on the piece's size and fill.
    pub fn finish(&self, finish: &Finish, place: Place<'_>) -> Table {
        let mut table = Vec::new();
        // A piece that wears the finish sets its own fill, and refers to it as the class does.
        let specimen = self.specimen(finish, TrialPiece::new(&place.piece.shape));
        for theme in &self.themes.all {
            if !budget::spend(STEPS_A_TRIAL * (1 + finish.states.len() as u64)) {
                break;
            }
            let scene = Scene { theme: theme.id.clone(), ..place.scene.clone() };
            let place = Place { scene: &scene, ..place };
            let rest = finish.coats_in(&theme.id);
            let ground =
                self.ground(place, std::iter::once(rest).chain(finish.states.values().map(Vec::as_slice)));
            let fallback_colours = self.fallback_colours(finish, theme, &specimen);
            let worn = |coats: &[Coat]| self.finish_declarations(coats, place, ground, &fallback_colours);
            let mut stack = Stack::from([(None, worn(rest))]);
            for (state, coats) in &finish.states {
                stack.insert(Some(*state), worn(coats));
            }
            table.push(stack);
        }
        let transition = finish.transition.as_ref().and_then(|transition| {
            let mut all: Vec<Declaration> = Vec::new();
            for line in table.iter().flat_map(|stack| stack.values()).flatten() {
                if !all.iter().any(|other| other.name == line.name) {
                    all.push(line.clone());
                }
            }
            transition_declaration(&all, transition)
        });
        Table { stacks: table, transition }
    }

    /// The piece that a finish is written for.
    pub fn specimen(&self, finish: &Finish, on: TrialPiece) -> (Scene, Piece) {
        specimen(self.project, self.assets, finish, on)
    }

    /// The fallbacks for the own fill and the ground on elements that set none: those of the specimen.
    fn fallback_colours(
        &self,
        finish: &Finish,
        theme: &Theme,
        (scene, piece): &(Scene, Piece),
    ) -> FallbackColours {
        let scene = Scene { theme: theme.id.clone(), ..scene.clone() };
        let (place, rest) = (Place { scene: &scene, piece }, finish.coats_in(&theme.id));
        let ground =
            self.ground(place, std::iter::once(rest).chain(finish.states.values().map(Vec::as_slice)));
        let resolved = self.resolved(place, rest);
        let fill = self.fill_text(&self.links(&scene, rest, &resolved, None), place, &resolved);
        let ground = ground.map_or_else(String::new, |ground| css_text(self.wanted.numbers.colour(ground)));
        FallbackColours { fill, ground }
    }

    /// The declarations of coats on a piece that do not depend on its size and fill.
    fn finish_declarations(
        &self,
        coats: &[Coat],
        place: Place<'_>,
        ground: Option<Rgba>,
        fallback_colours: &FallbackColours,
    ) -> Vec<Declaration> {
        let resolved = self.resolved(place, coats);
        let on = TrialPiece::new(&place.piece.shape);
        let lowered = lower_written(&resolved, on.target(), self.wanted.numbers);
        let lines = coat_declarations(&lowered, &place.piece.shape);
        let links = Links {
            fallback_colours: fallback_colours.clone(),
            ..self.links(place.scene, coats, &resolved, ground)
        };
        self.linked(&links, &lowered, lines)
    }

    /// A piece of a scene with other coats.
    pub fn resolved_on(&self, scene: &Scene, piece: &Piece, coats: &[Coat]) -> resolve::Piece {
        self.resolved(Place { scene, piece }, coats)
    }

    /// A piece with other coats.
    fn resolved(&self, place: Place<'_>, coats: &[Coat]) -> resolve::Piece {
        let worn = place.piece.wearing(coats.to_vec());
        resolve::piece_in_state(self.project, place.scene, &worn, None, self.assets)
    }

    /// The colour beneath a piece, as far as its coats, at rest and in its states, take one from there.
    pub fn ground<'c>(&self, place: Place<'_>, stacks: impl IntoIterator<Item = &'c [Coat]>) -> Option<Rgba> {
        stacks.into_iter().find_map(|coats| {
            let taken = coats.iter().any(|coat| takes(coat, ColourOrigin::Ground));
            taken.then(|| ground_of(coats, &self.resolved(place, coats))).flatten()
        })
    }

    /// The fill of a piece as one colour, with its links.
    pub fn fill_text(&self, links: &Links<'_>, place: Place<'_>, resolved: &resolve::Piece) -> String {
        match &place.piece.fill {
            Fill::Solid(_) if resolved.fill.mean().is_some_and(|mean| mean.a >= 1.0) => {
                links.paint(&place.piece.fill, &self.wanted.numbers.rounded_piece(resolved).fill).1
            }
            Fill::None(_) | Fill::Solid(_) | Fill::Linear(_) | Fill::Radial(_) | Fill::Image(_) => {
                css_text(self.wanted.numbers.colour(fill_of(resolved)))
            }
        }
    }

    /// The bearing of a light as CSS.
    pub fn angle(&self, theme: &Theme, light: &Id) -> String {
        format!("{}deg", number_text(self.context(&theme.id).bearing(light)))
    }

    /// The value of a swatch as it is written.
    pub fn swatch(&self, theme: &Theme, swatch: &Id) -> Rgba {
        self.wanted.numbers.colour(self.context(&theme.id).swatch(swatch))
    }

    fn context<'c>(&'c self, theme: &'c Id) -> Context<'c> {
        Context { project: self.project, theme, assets: self.assets }
    }

    /// Declarations with the shadows of one coat together and, in a living sheet, with their links.
    pub fn linked(&self, links: &Links<'_>, lowered: &Lowered, lines: Vec<Declaration>) -> Vec<Declaration> {
        let lines = match self.wanted.style {
            Style::Living => links.living(lowered, lines),
            Style::Flat => lines,
        };
        let by_coat = |line: Declaration| match line.name.as_ref() {
            "box-shadow" | "text-shadow" => Declaration { values: by_coat(lowered, line.values), ..line },
            _ => line,
        };
        lines.into_iter().map(by_coat).collect()
    }

    pub fn links<'l>(
        &'l self,
        scene: &'l Scene,
        coats: &'l [Coat],
        resolved: &resolve::Piece,
        ground: Option<Rgba>,
    ) -> Links<'l> {
        Links {
            context: self.context(&scene.theme),
            properties: &self.properties,
            coats,
            fill: fill_of(resolved),
            fallback_colours: FallbackColours::default(),
            ground,
            numbers: self.wanted.numbers,
        }
    }

    /// Lists of shadows in parts that states and themes share, by the names of the coats at rest.
    pub fn in_parts(&self, coats: &[Coat], table: Table, class: &str) -> Table {
        let rest = table.stacks.first().and_then(|stack| stack.get(&None::<State>));
        let Some(line) = rest.into_iter().flatten().find(|line| line.name.ends_with("-shadow")) else {
            return table;
        };
        // What differs between themes is chosen whole.
        if table.stacks.windows(2).any(|pair| pair[0] != pair[1]) {
            return table;
        }
        let (property, count) = (line.name.clone(), line.values.len());
        let casting = |coat: &&Coat| {
            coat.on && ["drop", "inner", "ramp", "raised", "extrude"].contains(&coat.kind.name())
        };
        let coats: Vec<String> = coats.iter().filter(casting).map(|coat| coat.name.clone()).collect();
        // Where some coats are not in the list, numbers are sure names.
        let coats =
            if coats.len() == count { coats } else { (1..=count).map(|at| format!("shadow {at}")).collect() };
        shared(table, class, &Shadows { property: &property, coats, names: self.names })
    }
}

/// The shadows of a list, those of one coat together.
fn by_coat(lowered: &Lowered, shadows: Vec<String>) -> Vec<String> {
    let casting = |coat: &&resolve::Coat| matches!(coat.op, PaintOp::Shadow(_));
    let mut values: Vec<String> = Vec::new();
    let mut last = None;
    for (coat, text) in lowered.element.coats.iter().filter(casting).zip(shadows) {
        match values.last_mut().filter(|_| last == Some(&coat.id)) {
            Some(value) => value.extend([BETWEEN, &text]),
            None => values.push(text),
        }
        last = Some(&coat.id);
    }
    values
}

/// The declarations that do not depend on a piece's size and fill.
pub(super) fn coat_declarations(lowered: &Lowered, shape: &Shape) -> Vec<Declaration> {
    const SHARED: [&str; 6] =
        ["box-shadow", "text-shadow", "filter", "-webkit-backdrop-filter", "backdrop-filter", "border"];
    style_declarations(lowered, shape, "")
        .into_iter()
        .filter(|line| SHARED.contains(&line.name.as_ref()))
        .collect()
}
