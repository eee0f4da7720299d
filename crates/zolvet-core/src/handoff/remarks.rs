//! The comment above a class: which property it takes its own fill from, and which parts of a finish this form lacks.

use super::names::Names;
use super::options::{SheetOptions, Style};
use super::stacks::Stacks;
use super::themes::Themes;
use crate::asset::Assets;
use crate::colour::{Rgba, css_text};
use crate::geometry::StrokeSide;
use crate::lower::{Fidelity, TrialPiece, lower_written, wearers};
use crate::model::{Coat, CoatKind, ColourOrigin, Finish, Project};
use crate::syntax::number_text;

/// The remarks above a class, a line each.
pub(super) fn remarks(stacks: &Stacks<'_>, finish: &Finish, on: TrialPiece, rules: &str) -> Vec<String> {
    let all = [
        own_fill(stacks, finish, on, rules),
        own_height(stacks, finish, rules),
        lacking(stacks, finish, on),
        on_background(finish, on),
    ];
    all.into_iter().flatten().collect()
}

/// The parts of its finishes that a project's classes cannot hold, a line for each class.
#[must_use]
pub fn omissions(project: &Project, assets: &Assets, wanted: &SheetOptions) -> Vec<String> {
    let names = Names::new(project);
    let themes = Themes::new(project, wanted, &names);
    let stacks = Stacks::new((project, assets), wanted, &names, &themes);
    let mut lines = Vec::new();
    for finish in wanted.finishes(project) {
        for on in wanted.forms(project, finish) {
            let lacking = [lacking(&stacks, finish, on), on_background(finish, on)].into_iter().flatten();
            lines.extend(lacking.map(|text| format!(".{}: {text}", names.class(finish, on))));
        }
    }
    lines
}

/// The parts of its finishes that a project's tokens cannot hold, a line for each finish: they are shadows, on boxes.
#[must_use]
pub fn token_omissions(project: &Project, wanted: &SheetOptions) -> Vec<String> {
    let line = |finish: &Finish| {
        let all = std::iter::once(&finish.coats).chain(finish.themes.values()).chain(finish.states.values());
        let left_out =
            all.flat_map(|coats| coats.iter().filter(|coat| coat.on && !is_in_tokens(coat, coats)));
        let mut names: Vec<&str> = left_out.map(|coat| coat.name.as_str()).collect();
        names.sort_unstable();
        names.dedup();
        (!names.is_empty())
            .then(|| format!("{}: without {}: tokens hold shadows only.", finish.name, names.join(", ")))
    };
    wanted.finishes(project).filter_map(line).collect()
}

/// Whether a coat is a shadow in a token: strokes are where they are written as rings.
fn is_in_tokens(coat: &Coat, coats: &[Coat]) -> bool {
    match &coat.kind {
        CoatKind::Stroke(stroke) => {
            let has_backdrop = coats.iter().any(|other| other.on && other.kind.name() == "backdrop");
            stroke.side != StrokeSide::Inside && !has_backdrop
        }
        CoatKind::Drop(_) | CoatKind::Inner(_) | CoatKind::Ramp(_) | CoatKind::Raised(_) => true,
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Blur(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Backdrop(_) => false,
    }
}

/// Where the fill comes from that a finish casts.
fn own_fill(stacks: &Stacks<'_>, finish: &Finish, on: TrialPiece, rules: &str) -> Option<String> {
    let property = &stacks.properties.fill;
    let (takes, sets) = match stacks.wanted.style {
        Style::Living => (
            rules.contains(&format!("var({property}")),
            format!("It takes the fill: set {property} where you set the background. Otherwise it takes"),
        ),
        Style::Flat => (
            std::iter::once(&finish.coats)
                .chain(finish.states.values())
                .flatten()
                .any(|coat| super::links::takes(coat, ColourOrigin::Fill)),
            "It takes the fill:".to_owned(),
        ),
    };
    if !takes {
        return None;
    }
    let specimen = stacks.specimen(finish, on);
    let wearers = wearers(stacks.project, stacks.assets, finish, on);
    let Some((_, first, fill)) = wearers.iter().find(|(_, piece, _)| specimen.1.id == piece.id) else {
        return Some(format!("{sets} that of a plain box."));
    };
    let text_of = |fill: Rgba| css_text(stacks.wanted.numbers.colour(fill));
    let mut text = format!("{sets} that of {}, {}", first.name, text_of(*fill));
    let mut said = vec![*fill];
    for (_, piece, other) in wearers.iter().filter(|(.., other)| other != fill) {
        if said.len() <= NAMED && !said.contains(other) {
            text.push_str(&format!("; {} has {}", piece.name, text_of(*other)));
            said.push(*other);
        }
    }
    Some(text + ".")
}

/// How a page raises an element that wears a finish.
fn own_height(stacks: &Stacks<'_>, finish: &Finish, rules: &str) -> Option<String> {
    let property = &stacks.properties.height;
    let raised = finish.coats.iter().find_map(|coat| coat.kind.raised())?;
    rules.contains(&format!("var({property}, ")).then(|| {
        let height = number_text(raised.height.get());
        format!("It is {height} px high: set {property} to another number to raise or lower an element.")
    })
}

/// Other fills that are named.
const NAMED: usize = 2;

/// The parts that a class for boxes leaves to the background, which is each element's own.
fn on_background(finish: &Finish, on: TrialPiece) -> Option<String> {
    let is_layer = |coat: &&Coat| coat.on && matches!(coat.kind, CoatKind::Tint(_) | CoatKind::Highlight(_));
    let names: Vec<&str> = finish.coats.iter().filter(is_layer).map(|coat| coat.name.as_str()).collect();
    let is_left = on == TrialPiece::Box && !names.is_empty();
    is_left.then(|| format!("Without {}: part of the background.", names.join(", ")))
}

/// The parts of a finish that this form cannot hold.
fn lacking(stacks: &Stacks<'_>, finish: &Finish, on: TrialPiece) -> Option<String> {
    let (scene, piece) = stacks.specimen(finish, on);
    let theme = stacks.themes.all.first()?;
    let resolved = stacks.resolved_on(&scene, &piece, finish.coats_in(&theme.id));
    let lowered = lower_written(&resolved, on.target(), stacks.wanted.numbers);
    let dropped = lowered.notes.0.iter().filter(|note| note.fidelity == Fidelity::Dropped);
    let mut names: Vec<String> = dropped
        .map(|note| {
            let coat = note.coat.as_ref().and_then(|id| resolved.coats.iter().find(|coat| coat.id == *id));
            // A note on a part of a join begins with its name.
            let part = || note.message.split(':').next().unwrap_or_default().to_owned();
            coat.map_or_else(part, |coat| coat.name.clone())
        })
        .collect();
    names.dedup();
    (!names.is_empty()).then(|| format!("Without {}: CSS cannot draw it here.", names.join(", ")))
}
