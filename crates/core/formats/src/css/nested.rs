//! A group as code: an element around the elements of its parts.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use kurbo::Point;

use super::copies::{DepthAlone, copies, declarations, react};
use super::declare::Declaration;
use super::rule::Rule;
use super::subject::Subject;
use super::values::values;
use super::write::{Code, CodeOptions, Writer, page};
use crate::lower::{Notes, Target, exact_target, targets_of};
use crate::markup::escaped;
use crate::model::{Id, Shape};
use crate::resolve::{Piece, PieceStates};
use crate::syntax::{UniqueNames, number_text, px, slug};

/// A piece and the pieces in it, to be written as elements in one another.
pub struct CodeElement<'a> {
    /// The piece at rest.
    pub piece: Piece,
    /// Its shape in the document.
    pub shape: &'a Shape,
    /// The piece in its states.
    pub states: PieceStates,
    /// Where it lies in the element around it; `None` for the outermost.
    pub place: Option<ElementPlace>,
    /// The parts of a group, lowest first.
    pub parts: Vec<CodeElement<'a>>,
}

/// Where an element lies in the one around it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ElementPlace {
    /// Its left and top before it is rotated, in px.
    pub at: Point,
    /// Its rotation against the element around it, in degrees.
    pub rotation: f64,
}

/// A group with its parts as code. Its target, its copies and its plain values are those of the group's own element.
#[must_use]
pub fn nested_code(root: &CodeElement<'_>, wanted: CodeOptions) -> Code {
    let mut classes = BTreeMap::new();
    name(root, &mut UniqueNames::default(), &mut classes);
    let mut nested = Nested { wanted, classes, rules: Vec::new(), depth: Vec::new(), filters: String::new() };
    let mut notes = Notes::default();
    let mut after = Vec::new();
    let (outer, html) = nested.element(root, 0, &mut notes, &mut after);
    let text = |rules: &[Rule]| {
        rules.iter().map(Rule::text).chain(after.iter().cloned()).collect::<Vec<_>>().join("\n")
    };
    let css = text(&nested.rules);
    let lines = nested.depth.first().map(|rule| rule.lines.clone()).unwrap_or_default();
    nested.depth.retain(|rule| !rule.lines.is_empty());
    let depth = DepthAlone {
        declarations: declarations(&lines),
        react: react(&lines),
        css: if nested.depth.is_empty() { String::new() } else { text(&nested.depth) },
    };
    Code {
        target: outer.lowered.target,
        targets: targets_of(&root.piece, false),
        copies: copies(&nested.classes[&root.piece.id], &outer.rules),
        page: page(&nested.filters, &html, &css),
        css,
        depth,
        filters: nested.filters,
        html,
        values: values(&wanted.numbers.rounded_piece(&root.piece), wanted.conventions),
        differences: notes.0,
    }
}

/// Gives each element a class of its own.
fn name(element: &CodeElement<'_>, taken: &mut UniqueNames, classes: &mut BTreeMap<Id, String>) {
    classes.insert(element.piece.id.clone(), taken.unique(&slug(&element.piece.name), '-'));
    element.parts.iter().for_each(|part| name(part, taken, classes));
}

struct Nested {
    wanted: CodeOptions,
    classes: BTreeMap<Id, String>,
    rules: Vec<Rule>,
    depth: Vec<Rule>,
    filters: String,
}

impl Nested {
    /// Adds the rules of an element and of those in it, and gives its own code with its markup.
    fn element(
        &mut self,
        element: &CodeElement<'_>,
        indent: usize,
        notes: &mut Notes,
        after: &mut Vec<String>,
    ) -> (Writer, String) {
        let class = self.classes[&element.piece.id].clone();
        let wanted = CodeOptions { target: self.target(element, indent == 0), ..self.wanted };
        let subject = self.subject(&class, &element.states);
        let mut written =
            Writer::write((&element.piece, element.shape), &element.states, (&class, &subject), wanted);
        let depth = written.put_depth_first();
        let is_group = matches!(element.shape, Shape::Group(_));
        if let Some(rest) = written.rules.first_mut() {
            place(&mut rest.lines, element.place, element.shape);
        }
        let states = written.rules.iter().skip(1).cloned();
        self.depth
            .extend(std::iter::once(Rule { selector: format!(".{class}"), lines: depth }).chain(states));
        self.rules.extend(written.rules.iter().cloned());
        self.filters.push_str(&written.filters);
        written.notes.0.iter().cloned().for_each(|note| notes.add(note));
        after.extend(wanted.beneath.into_iter().flat_map(|beneath| written.fallbacks(beneath, &class)));
        let html = if is_group {
            self.around_parts(element, &class, (indent, notes, after))
        } else {
            let inner = crate::markup::element(&written.lowered.element, element.shape, &class);
            inner.lines().fold(String::new(), |mut all, line| {
                let _ = writeln!(all, "{}{line}", " ".repeat(indent));
                all
            })
        };
        (written, html)
    }

    /// The target of an element: the one that is asked for is meant for the outermost. A group in another is drawn as it
    /// was designed where it can be, because the outer one is judged by that.
    fn target(&self, element: &CodeElement<'_>, is_outermost: bool) -> Option<Target> {
        if is_outermost {
            return self.wanted.target;
        }
        let is_group = !element.piece.members.is_empty();
        is_group.then(|| exact_target(&self.wanted.numbers.rounded_piece(&element.piece), false)).flatten()
    }

    /// The markup of a group: a control can be reached by keys and says that it is one.
    fn around_parts(
        &mut self,
        group: &CodeElement<'_>,
        class: &str,
        (indent, notes, after): (usize, &mut Notes, &mut Vec<String>),
    ) -> String {
        let inner: String =
            group.parts.iter().map(|part| self.element(part, indent + 2, notes, after).1).collect();
        let space = " ".repeat(indent);
        let role = if group.states.is_control { " role=\"button\" tabindex=\"0\"" } else { "" };
        let label = escaped(&group.piece.name);
        let label = if group.states.is_control { format!(" aria-label=\"{label}\"") } else { String::new() };
        format!("{space}<div class=\"{class}\"{role}{label}>\n{inner}{space}</div>\n")
    }

    fn subject(&self, class: &str, states: &PieceStates) -> Subject {
        let selector = |piece: &(Id, String)| {
            let own = || slug(&piece.1);
            format!(".{}", self.classes.get(&piece.0).cloned().unwrap_or_else(own))
        };
        let inner = states.inner.iter().map(selector).collect();
        Subject::new(format!(".{class}")).within(states.control.as_ref().map(selector)).around(inner)
    }
}

/// Adds the place of an element; the parts of a group are placed in the group.
fn place(lines: &mut Vec<Declaration>, at: Option<ElementPlace>, shape: &Shape) {
    let mut placed = Vec::new();
    if let Some(ElementPlace { at, rotation }) = at {
        placed.push(Declaration::one("position", "absolute"));
        placed.push(Declaration::one("left", px(at.x)));
        placed.push(Declaration::one("top", px(at.y)));
        if matches!(shape, Shape::Text(_)) {
            // Paragraphs have margins of their own.
            placed.push(Declaration::one("margin", "0"));
        }
        lines.retain(|line| line.name != "rotate");
        if rotation != 0.0 {
            placed.push(Declaration::one("rotate", format!("{}deg", number_text(rotation))));
        }
    } else if matches!(shape, Shape::Group(_)) {
        placed.push(Declaration::one("position", "relative"));
    }
    lines.extend(placed);
}
