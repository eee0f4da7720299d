//! The end of a sheet: the replacement where a browser has no `backdrop-filter`, or a reader forces colours of their
//! own.

use super::cascade::{Table, text};
use super::options::Style;
use super::pieces::{ANY, Classes, Named, named};
use super::stacks::{Place, STEPS_A_TRIAL, Stacks};
use crate::budget;
use crate::css::{Subject, ends_in_shadows, unfrosted, with_forced_colours, without_backdrops};
use crate::lower::TrialPiece;
use crate::model::{Coat, CoatKind, Finish, Scene, Wear};
use crate::resolve;

/// The blocks that a sheet ends with.
pub(super) fn fallbacks(stacks: &Stacks<'_>, classes: &Classes) -> Vec<String> {
    if !stacks.project.fallbacks {
        return Vec::new();
    }
    let frosted = frosted(stacks);
    let frosted = (!frosted.is_empty()).then(|| {
        let rules = without_backdrops(&frosted, stacks.wanted.style == Style::Flat);
        format!("/* What is seen through frosted glass on average. */\n{rules}")
    });
    let edged = edged(stacks, classes);
    let edged = (!edged.is_empty()).then(|| {
        let selector = match edged.as_slice() {
            [one] => one.clone(),
            several => format!(":where({})", several.join(", ")),
        };
        format!("/* Edges that only shadows show. */\n{}", with_forced_colours(&selector))
    });
    frosted.into_iter().chain(edged).collect()
}

/// Frosted pieces with the colour that replaces the view through them; those of one colour share a rule.
fn frosted(stacks: &Stacks<'_>) -> String {
    let mut groups: Vec<(String, Vec<Named>)> = Vec::new();
    for (place, name) in places(stacks) {
        if !budget::spend(STEPS_A_TRIAL) {
            break;
        }
        let seen = stacks.themes.all.iter().map(|theme| {
            let scene = Scene { theme: theme.id.clone(), ..place.scene.clone() };
            let resolved = resolve::piece_in_state(stacks.project, &scene, place.piece, None, stacks.assets);
            let beneath = resolve::beneath(stacks.project, &scene, place.piece, stacks.assets);
            unfrosted(&resolved, beneath).into_iter().collect()
        });
        let rules =
            Table::at_rest(seen).rules(&Subject::new(format!(".{ANY}")), stacks.themes, stacks.names, false);
        let body = text(&rules);
        match groups.iter_mut().find(|(other, _)| *other == body) {
            _ if body.is_empty() => {}
            Some((_, names)) => names.push(Named::class(name)),
            None => groups.push((body, vec![Named::class(name)])),
        }
    }
    let rules: Vec<String> = groups.iter().map(|(body, names)| named(body, names)).collect();
    rules.join("\n")
}

/// The frosted pieces of the sheet with their classes; where scenes are not written, the first piece that wears each finish.
fn places<'p>(stacks: &Stacks<'p>) -> Vec<(Place<'p>, String)> {
    let Stacks { project, names, wanted, .. } = stacks;
    let all = project
        .scenes
        .iter()
        .flat_map(|scene| scene.shown_pieces().into_iter().map(move |piece| Place { scene, piece }));
    let frosted: Vec<Place<'_>> = all
        .filter(|place| {
            let coats = project.coats_of(place.piece, &place.scene.theme);
            let is_frosted = |coat: &Coat| coat.on && matches!(coat.kind, CoatKind::Backdrop(_));
            coats.iter().any(is_frosted)
        })
        .collect();
    if wanted.scenes && wanted.finish.is_none() {
        let name =
            |place: &Place<'_>| names.pieces[&(place.scene.id.clone(), place.piece.id.clone())].clone();
        return frosted.into_iter().map(|place| (place, name(&place))).collect();
    }
    let first = |finish: &Finish| {
        let wears =
            |place: &&Place<'p>| matches!(&place.piece.wear, Wear::Finish(worn) if worn.finish == finish.id);
        let place = frosted.iter().find(wears)?;
        Some((*place, names.class(finish, TrialPiece::new(&place.piece.shape))))
    };
    wanted.finishes(project).filter_map(first).collect()
}

/// The classes whose edge only shadows show: of finishes on boxes, and of boxes with coats of their own.
fn edged(stacks: &Stacks<'_>, classes: &Classes) -> Vec<String> {
    let Stacks { project, names, wanted, assets, .. } = stacks;
    let on = TrialPiece::Box;
    let shadowed = |table: &Table| {
        let says =
            |name: &str| table.stacks.iter().flat_map(|stack| &stack[&None]).any(|line| line.name == name);
        says("box-shadow") && !says("border")
    };
    let finishes = wanted.finishes(project).filter_map(|finish| {
        let table = classes.get(&(finish.id.clone(), on.ending()))?;
        shadowed(table).then(|| format!(".{}", names.class(finish, on)))
    });
    let own = project.scenes.iter().filter(|_| wanted.scenes && wanted.finish.is_none()).flat_map(|scene| {
        let pieces = scene.shown_pieces().into_iter().filter(|piece| matches!(piece.wear, Wear::Coats(_)));
        pieces.filter_map(move |piece| {
            let resolved = resolve::piece_in_state(project, scene, piece, None, assets);
            let name = &names.pieces[&(scene.id.clone(), piece.id.clone())];
            ends_in_shadows(&resolved).then(|| format!(".{name}"))
        })
    });
    finishes.chain(own).collect()
}
