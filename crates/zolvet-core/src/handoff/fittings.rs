//! A sheet for a page of somebody's own: the page's own selectors, and nothing but depth (docs/pages.md, "What leaves").

use super::cascade::{MediaRule, Stack, Table, comment, text, within};
use super::names::Names;
use super::options::SheetOptions;
use super::sheet::{in_layer, join_blocks, registrations, theme_rules};
use super::stacks::{Place, Stacks};
use super::themes::Themes;
use crate::asset::Assets;
use crate::css::{Declaration, Subject};
use crate::lower::with_carried_shadows;
use crate::model::{Finish, Fitting, Id, Piece, Project, Scene, State, Strength, Wear};

/// The sheet of a scene's page, to be loaded after the page's own. With a state, what elements look like in it holds at rest: that is
/// how a state is shown.
#[must_use]
pub fn fittings_sheet(
    project: &Project,
    assets: &Assets,
    scene: &Scene,
    wanted: &SheetOptions,
    shown: Option<State>,
) -> String {
    let project: &Project = &with_carried_shadows(project, assets);
    let names = Names::new(project);
    let themes = Themes::new(project, wanted, &names);
    let stacks = Stacks::new((project, assets), wanted, &names, &themes);
    let mut parts = Vec::new();
    let mut computed: Vec<String> = Vec::new();
    for piece in &scene.pieces {
        let Some(fitting) = piece.fitting.as_ref().filter(|_| !piece.hidden && piece.coats_on) else {
            continue;
        };
        let selector = fitting.strength.selector(&fitting.selector);
        let table = table_of(&stacks, Place { scene, piece }, fitting, shown);
        let mut rules = table.rules(&Subject::new(&selector), &themes, &names, false);
        if fitting.strength == Strength::Important {
            rules.iter_mut().for_each(important);
        }
        let rules = text(&rules);
        if stacks.computed.are_in(&rules) && !computed.contains(&selector) {
            computed.push(selector);
        }
        parts.push(rules);
    }
    let said = parts.concat();
    let lights = (!computed.is_empty()).then(|| {
        let rules = stacks.computed.rules(&computed, &said, &themes);
        let rules: Vec<String> = rules.iter().map(|(media, rule)| within(*media, &rule.text())).collect();
        format!("/* Lights and swatches where they are worn. */\n{}", rules.join("\n"))
    });
    let body = join_blocks(lights.into_iter().chain(parts));
    if body.is_empty() {
        return body;
    }
    let head = format!("/* {}. Load after your own sheets. */\n", comment(&scene.name));
    let inside = join_blocks([theme_rules(&themes, &body), body.clone()]);
    join_blocks([head, registrations(&stacks, &body), in_layer(wanted, &inside)])
}

/// The declarations of the coats that elements wear.
fn table_of(stacks: &Stacks<'_>, place: Place<'_>, fitting: &Fitting, shown: Option<State>) -> Table {
    let own = own_finish(place.piece);
    let finish = match &place.piece.wear {
        Wear::Finish(worn) => stacks.project.finishes.iter().find(|finish| finish.id == worn.finish),
        Wear::Coats(_) => own.as_ref(),
    };
    let Some(finish) = finish else { return Table::default() };
    let mut table = stacks.finish(finish, place);
    for stack in &mut table.stacks {
        if let Some(state) = shown {
            let there = stack.remove(&Some(state)).or_else(|| stack.remove(&None)).unwrap_or_default();
            *stack = Stack::from([(None, there)]);
        }
        stack.values_mut().for_each(|lines| with_own(lines, fitting));
    }
    if shown.is_some() {
        table.transition = None;
    }
    table
}

/// Coats of its own as those of a finish.
fn own_finish(piece: &Piece) -> Option<Finish> {
    let Wear::Coats(own) = &piece.wear else { return None };
    Some(Finish {
        id: Id::new("own-coats".to_owned()).ok()?,
        name: piece.name.clone(),
        note: String::new(),
        coats: own.coats.clone(),
        themes: Default::default(),
        states: piece.states.clone(),
        transition: None,
        made_with: None,
        extensions: serde_json::Map::new(),
    })
}

const SHADOWS: &str = "box-shadow";

/// The declarations of one state with the element's own shadow below, or without it.
fn with_own(lines: &mut Vec<Declaration>, fitting: &Fitting) {
    let own = fitting.own.trim();
    if own.is_empty() || own == "none" {
        return;
    }
    let shadows = lines.iter_mut().find(|line| line.name == SHADOWS);
    match (shadows, fitting.keeps_own) {
        (Some(line), true) => line.values.push(own.to_owned()),
        (None, true) | (Some(_), false) => {}
        (None, false) => lines.push(Declaration::one(SHADOWS, "none")),
    }
}

fn important(one: &mut MediaRule) {
    for line in one.rule.lines.iter_mut().filter(|line| !line.name.starts_with("--")) {
        if let Some(last) = line.values.last_mut() {
            last.push_str(" !important");
        }
    }
}
