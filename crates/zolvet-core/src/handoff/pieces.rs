//! The pieces of a scene in a style sheet: those that wear a finish with their own fill and what they lie on, those with
//! coats of their own whole. A piece without any depth is not part of it.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use super::cascade::{Block, MediaRule, Stack, Table, comment, merged, text};
use super::links::{reference, takes};
use super::options::{Pieces, Style};
use super::stacks::{Place, STEPS_A_TRIAL, Stacks, coat_declarations};
use crate::budget;
use crate::colour::css_text;
use crate::css::{Declaration, Subject, geometry, style_declarations};
use crate::lower::{Lowered, LoweredFilter, Step, Target, TrialPiece, fill_of, lower_written, targets_of};
use crate::model::{Coat, ColourOrigin, Fill, Finish, Id, Piece, Scene, Shape, State, Wear};
use crate::resolve::{self, PaintOp};

/// The declarations of each finish with every list whole, by its id and the suffix of its class.
pub(super) type Classes = BTreeMap<(Id, &'static str), Table>;

/// The pieces of a scene that have depth; those that look alike share their rules. `None` where there are none.
pub(super) fn scene(stacks: &Stacks<'_>, classes: &Classes, scene: &Scene) -> Option<Block> {
    let mut groups: Vec<Group> = Vec::new();
    for piece in scene.shown_pieces() {
        if !budget::spend(STEPS_A_TRIAL) {
            break;
        }
        let name = Named::new(stacks, scene, piece);
        let place = Place { scene, piece };
        let (bodies, worn) = match &piece.wear {
            Wear::Finish(worn) => {
                let finish = stacks.project.finishes.iter().find(|finish| finish.id == worn.finish);
                let on = TrialPiece::new(&piece.shape);
                let said = |finish: &Finish| classes.get(&(finish.id.clone(), on.ending()));
                let bodies = finish.map(|finish| wearer(stacks, place, (finish, said(finish)), &name.piece));
                (bodies.map_or_else(Vec::new, Vec::from), finish.map(|finish| stacks.names.class(finish, on)))
            }
            Wear::Coats(_) => (own_rules(stacks, place, &name.piece).into_iter().collect(), None),
        };
        for body in bodies.into_iter().filter(|body| !body.is_empty()) {
            let (name, worn) = (name.clone(), worn.clone());
            let is_same = |other: &&mut Group| other.body == body && other.worn.is_some() == worn.is_some();
            match groups.iter_mut().find(is_same) {
                Some(group) => group.add(name, worn),
                None => groups.push(Group { body, names: vec![name], worn: worn.map(|worn| vec![worn]) }),
            }
        }
    }
    let texts: Vec<String> = groups.iter().map(Group::text).collect();
    let computed = groups.iter().filter(|group| stacks.computed.are_in(&group.body));
    let selectors = computed.flat_map(|group| &group.names).map(|name| format!(".{}", name.piece)).collect();
    let text = || format!("/* {} */\n\n{}", comment(&scene.name), texts.join("\n"));
    (!texts.is_empty()).then(|| Block { text: text(), selectors, ..Block::default() })
}

/// Pieces that look alike.
struct Group {
    /// Their rules, for any piece.
    body: String,
    names: Vec<Named>,
    /// The classes of the finishes that they wear.
    worn: Option<Vec<String>>,
}

impl Group {
    fn add(&mut self, name: Named, worn: Option<String>) {
        self.names.push(name);
        if let (Some(classes), Some(class)) = (&mut self.worn, worn)
            && !classes.contains(&class)
        {
            classes.push(class);
        }
    }

    fn text(&self) -> String {
        let worn = self
            .worn
            .as_ref()
            .map_or_else(String::new, |classes| format!("/* With .{} */\n", classes.join(" or .")));
        worn + &named(&self.body, &self.names)
    }
}

/// A piece with a finish: its own shape and fill, what it lies on where its coats take a colour from that, and its coats
/// where they come out otherwise on it than its class says.
fn wearer(
    stacks: &Stacks<'_>,
    place: Place<'_>,
    (finish, class): (&Finish, Option<&Table>),
    name: &str,
) -> [String; 2] {
    let on = TrialPiece::new(&place.piece.shape);
    let look = stacks.themes.all.iter().map(|theme| {
        let scene = Scene { theme: theme.id.clone(), ..place.scene.clone() };
        let coats: Vec<&[Coat]> = std::iter::once(finish.coats_in(&theme.id))
            .chain(finish.states.values().map(Vec::as_slice))
            .collect();
        let resolved = resolve::piece_in_state(stacks.project, &scene, place.piece, None, stacks.assets);
        let lowered = lower_written(&resolved, on.target(), stacks.wanted.numbers);
        let own = coat_declarations(&lowered, &place.piece.shape);
        let mut lines = piece_declarations(stacks, &lowered, &place.piece.shape);
        lines.retain(|line| !own.contains(line));
        painted(stacks, Place { scene: &scene, ..place }, &resolved, (lines, &coats))
    });
    let subject = subject(stacks, place);
    let mut rules = Table::at_rest(look).rules(&subject, stacks.themes, stacks.names, false);
    let table = stacks.finish(finish, place);
    let coats = finish.coats_in(&place.scene.theme);
    let resets = resets_while_inner(stacks, &subject, &table);
    let mut states = Vec::new();
    if class != Some(&table) {
        let own = stacks.in_parts(coats, table, name).rules(&subject, stacks.themes, stacks.names, true);
        rules = merged([rules, own].concat());
    } else if subject.follows_another() && !finish.states.is_empty() {
        // Its class says the same at rest, and for states of its own element.
        let in_parts = stacks.class_in_parts(finish, on, table);
        states = in_parts.rules(&subject, stacks.themes, stacks.names, false);
        states.retain(|one| one.rule.selector != subject.at_rest());
    }
    rules.extend(resets);
    [text(&rules), text(&states)]
}

/// The element of a piece, and the control that it follows.
fn subject(stacks: &Stacks<'_>, Place { scene, piece }: Place<'_>) -> Subject {
    let class = |piece: &Piece| format!(".{}", stacks.names.pieces[&(scene.id.clone(), piece.id.clone())]);
    let subject = Subject::new(format!(".{ANY}"));
    let Some(control) = stacks.project.control_of(scene, piece) else { return subject };
    let inner = control.inner_controls().into_iter().map(class).collect();
    subject.within((control.id != piece.id).then(|| format!(".{CONTROL}"))).around(inner)
}

/// The classes of a piece and of the control that it follows.
#[derive(Clone)]
pub(super) struct Named {
    pub piece: String,
    control: String,
}

impl Named {
    pub fn new(stacks: &Stacks<'_>, scene: &Scene, piece: &Piece) -> Self {
        let class = |piece: &Piece| stacks.names.pieces[&(scene.id.clone(), piece.id.clone())].clone();
        let control = stacks.project.control_of(scene, piece).map(class).unwrap_or_default();
        Self { piece: class(piece), control }
    }

    /// A finish's own class, which follows nothing.
    pub fn class(piece: String) -> Self {
        Self { piece, control: String::new() }
    }
}

/// Rules that take back the states that the class of a finish gets while a control within the piece is in them.
fn resets_while_inner(stacks: &Stacks<'_>, subject: &Subject, table: &Table) -> Vec<MediaRule> {
    if !subject.has_inner() || subject.follows_another() {
        return Vec::new();
    }
    let mut all = Vec::new();
    for state in [State::Hover, State::Pressed] {
        let Some(selector) = subject.while_inner(state) else { continue };
        let turned = |stack: &Stack| {
            let there = stack.get(&Some(state))?;
            Some(Stack::from([(None, there.clone()), (Some(state), stack.get(&None)?.clone())]))
        };
        let stacks_turned: Option<Vec<Stack>> = table.stacks.iter().map(turned).collect();
        let Some(stacks_turned) = stacks_turned else { continue };
        let turned = Table { stacks: stacks_turned, transition: None };
        let rules = turned.rules(&Subject::new(subject.at_rest()), stacks.themes, stacks.names, false);
        let own = Subject::new(subject.at_rest()).in_state(state);
        all.extend(rules.into_iter().filter(|one| one.rule.selector == own).map(|mut one| {
            one.rule.selector.clone_from(&selector);
            one
        }));
    }
    all
}

/// A piece with coats of its own, in its most natural target, as far as that needs no SVG filter.
fn own_rules(stacks: &Stacks<'_>, place: Place<'_>, name: &str) -> Option<String> {
    let Place { scene, piece } = place;
    let coats = stacks.project.coats_of(piece, &scene.theme);
    if (coats.is_empty() && piece.states.is_empty())
        || !budget::spend(STEPS_A_TRIAL * (1 + coats.len() as u64))
    {
        return None;
    }
    let mut target = None;
    let mut table = Vec::new();
    for theme in &stacks.themes.all {
        let scene = Scene { theme: theme.id.clone(), ..scene.clone() };
        let resolved = resolve::piece_in_state(stacks.project, &scene, piece, None, stacks.assets);
        let is_text = matches!(piece.shape, Shape::Text(_));
        let target = *target.get_or_insert(*targets_of(&resolved, is_text).first()?);
        let place = Place { scene: &scene, piece };
        let mut stack = Stack::from([(None, own_lines(stacks, place, (&resolved, coats), target))]);
        let states = resolve::states(stacks.project, &scene, piece, stacks.assets);
        for (state, there) in &states.coats {
            let coats = piece.states.get(state).map_or(&[][..], Vec::as_slice);
            stack.insert(Some(*state), own_lines(stacks, place, (there, coats), target));
        }
        table.push(stack);
    }
    let table = stacks.in_parts(coats, Table { stacks: table, transition: None }, name);
    Some(text(&table.rules(&subject(stacks, place), stacks.themes, stacks.names, false)))
}

fn own_lines(
    stacks: &Stacks<'_>,
    place: Place<'_>,
    (resolved, coats): (&resolve::Piece, &[Coat]),
    target: Target,
) -> Vec<Declaration> {
    let lowered = lower_written(resolved, target, stacks.wanted.numbers);
    let rest = stacks.project.coats_of(place.piece, &place.scene.theme);
    let states = place.piece.states.values().map(Vec::as_slice);
    let all: Vec<&[Coat]> = std::iter::once(rest).chain(states).collect();
    let ground = stacks.ground(place, all.iter().copied());
    let links = stacks.links(place.scene, coats, resolved, ground);
    let lines = stacks.linked(&links, &lowered, piece_declarations(stacks, &lowered, &place.piece.shape));
    painted(stacks, place, resolved, (lines, &all))
}

/// The declarations of a lowered piece.
fn piece_declarations(stacks: &Stacks<'_>, lowered: &Lowered, shape: &Shape) -> Vec<Declaration> {
    let style = style_declarations(lowered, shape, "");
    let mut lines = geometry(&lowered.element, shape);
    // A border changes what the size means, so its lines stand in place of the plain ones.
    lines.retain(|line| !style.iter().any(|other| other.name == line.name));
    lines.extend(style);
    if stacks.wanted.pieces == Pieces::Depth {
        let depth = coat_declarations(lowered, shape);
        let layered = lowered
            .element
            .coats
            .iter()
            .any(|coat| matches!(coat.op, PaintOp::Tint(_) | PaintOp::Highlight(_)));
        let shadows = |step: &Step| matches!(step, Step::DropShadow { .. });
        let casts = lowered.element.coats.iter().any(|coat| matches!(coat.op, PaintOp::Shadow(_)))
            || matches!(&lowered.filter, Some(LoweredFilter::Functions(graph)) if graph.steps.iter().any(shadows));
        // The browser turns shadows with their element, so that a rotated one is written for its rotation.
        lines.retain(|line| {
            depth.contains(line)
                || (casts && line.name == "rotate")
                || (layered && line.name.starts_with("background"))
        });
    }
    lines
}

/// The declarations of a piece with its fill and ground as custom properties where its coats refer to them, and the
/// colours of its fill by their swatches.
fn painted(
    stacks: &Stacks<'_>,
    place: Place<'_>,
    resolved: &resolve::Piece,
    (lines, coats): (Vec<Declaration>, &[&[Coat]]),
) -> Vec<Declaration> {
    if stacks.wanted.style == Style::Flat {
        return lines;
    }
    let links = stacks.links(place.scene, &[], resolved, None);
    let numbers = stacks.wanted.numbers;
    let mut painted = Vec::new();
    let plain = numbers.rounded_piece(resolved).fill;
    let fill = links.paint(&place.piece.fill, &plain);
    let solid = matches!(place.piece.fill, Fill::Solid(_));
    let refers = |from| coats.iter().copied().flatten().any(|coat| takes(coat, from));
    let own_fill = &stacks.properties.fill;
    if refers(ColourOrigin::Fill) {
        let value = if solid { fill.1.clone() } else { css_text(numbers.colour(fill_of(resolved))) };
        painted.push(Declaration::one(own_fill.clone(), value));
    }
    if let Some(ground) = stacks.ground(place, coats.iter().copied()) {
        painted.push(Declaration::one(stacks.properties.ground.clone(), css_text(numbers.colour(ground))));
    }
    let fills = |line: &Declaration| ["background", "color"].contains(&line.name.as_ref());
    if refers(ColourOrigin::Fill) && solid && !lines.iter().any(fills) {
        let property = if matches!(place.piece.shape, Shape::Text(_)) { "color" } else { "background" };
        painted.push(Declaration::one(property, fill.0.clone()));
    }
    let named = if solid && refers(ColourOrigin::Fill) { reference(own_fill, "") } else { fill.1 };
    painted.extend(lines);
    for line in &mut painted {
        if let ("background" | "color", Some(last)) = (line.name.as_ref(), line.values.last_mut())
            && *last == fill.0
        {
            last.clone_from(&named);
        }
    }
    painted
}

/// Stands for the class of a piece while it is not known which others look alike: letters that are kept in a class.
pub(super) const ANY: &str = "ǂpieceǂ";
/// Stands for that of the control it follows.
const CONTROL: &str = "ǂcontrolǂ";

/// Rules for any piece as rules for these: each line of a selector once for each name.
pub(super) fn named(body: &str, names: &[Named]) -> String {
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
        let each =
            names.iter().map(|name| selector.replace(ANY, &name.piece).replace(CONTROL, &name.control));
        let _ = writeln!(text, "{}{end}", each.collect::<Vec<_>>().join(",\n"));
    }
    text
}
