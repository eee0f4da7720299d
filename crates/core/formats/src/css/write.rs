//! Writing a piece as CSS, in the target that expresses it best or the one that is asked for, with its states.

use serde::Serialize;

use super::copies::{Copies, DepthAlone, copies, declarations, depth_of, react, split_layers};
use super::declare::{Declaration, geometry, style_declarations};
use super::fallback::{ends_in_shadows, unfrosted, with_forced_colours, without_backdrops};
use super::rule::{Rule, changes, said_anew, transition_declaration};
use super::subject::Subject;
use super::values::values;
use crate::colour::Rgba;
use crate::lower::{
    Conventions, FidelityNote, Lowered, LoweredFilter, Notes, Numbers, Target, best_target, lower_written,
    targets_of,
};
use crate::markup::markup;
use crate::model::{Id, Shape, State};
use crate::resolve::{PaintOp, Piece, PieceStates};
use crate::syntax::slug;

/// A piece's code, and how close the target comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Code {
    /// The target that the CSS uses.
    pub target: Target,
    /// The targets it could use, the most natural first.
    pub targets: Vec<Target>,
    /// CSS rules: the piece at rest, its depth first, then its states.
    pub css: String,
    /// The same without its size, letters and fill.
    pub depth: DepthAlone,
    /// The piece at rest in other forms.
    pub copies: Copies,
    /// SVG filters that the CSS refers to. Empty where there are none.
    pub filters: String,
    /// The element the rules are for.
    pub html: String,
    /// All three, to be put into a page.
    pub page: String,
    /// The stack as plain values, one line a coat, to be typed into another program.
    pub values: String,
    /// Each difference; empty where the CSS is exact.
    pub differences: Vec<FidelityNote>,
}

/// How a piece is to be written.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct CodeOptions {
    /// In which target; without one, or with one that cannot draw its shape, the target that expresses it best.
    pub target: Option<Target>,
    /// How its numbers are written.
    pub numbers: Numbers,
    /// The form of the plain values; without one, several forms side by side.
    pub conventions: Option<Conventions>,
    /// The colour beneath it: with it, the code contains fallbacks for browsers without `backdrop-filter` and for
    /// readers that force colours.
    pub beneath: Option<Rgba>,
}

/// A piece with its states as code.
#[must_use]
pub fn piece_code(piece: &Piece, shape: &Shape, states: &PieceStates, wanted: CodeOptions) -> Code {
    let class = slug(&piece.name);
    let selector = |(_, name): &(Id, String)| format!(".{}", slug(name));
    let subject = Subject::new(format!(".{class}"))
        .within(states.control.as_ref().map(selector))
        .around(states.inner.iter().map(selector).collect());
    let mut written = Writer::write((piece, shape), states, (&class, &subject), wanted);
    let depth = written.put_depth_first();
    let after: Vec<String> =
        wanted.beneath.into_iter().flat_map(|beneath| written.fallbacks(beneath, &class)).collect();
    let blocks = |rules: &[Rule]| {
        rules.iter().map(Rule::text).chain(after.iter().cloned()).collect::<Vec<_>>().join("\n")
    };
    let css = blocks(&written.rules);
    let states = written.rules.get(1..).unwrap_or_default();
    let rest = Rule { selector: format!(".{class}"), lines: depth };
    let depth = DepthAlone {
        declarations: declarations(&rest.lines),
        react: react(&rest.lines),
        css: if rest.lines.is_empty() && states.is_empty() {
            String::new()
        } else {
            blocks(&[&[rest], states].concat())
        },
    };
    let html = crate::markup::element(&written.lowered.element, shape, &class);
    Code {
        target: written.lowered.target,
        targets: targets_of(piece, matches!(shape, Shape::Text(_))),
        copies: copies(&class, &written.rules),
        page: page(&written.filters, &html, &css),
        css,
        depth,
        filters: written.filters,
        html,
        values: values(&wanted.numbers.rounded_piece(piece), wanted.conventions),
        differences: written.notes.0,
    }
}

/// Filters, elements and rules for a page.
pub(super) fn page(filters: &str, html: &str, css: &str) -> String {
    let hidden = "<svg width=\"0\" height=\"0\" style=\"position:absolute\" aria-hidden=\"true\">";
    let filters = match filters {
        "" => String::new(),
        filters => format!("{hidden}\n{filters}</svg>\n"),
    };
    format!("{filters}{html}<style>\n{css}</style>\n")
}

/// The depth of a piece at rest in a target, or in the one that expresses it best: declarations of shadows, filters and
/// borders, and none of its layout.
#[must_use]
pub fn depth_code(piece: &Piece, shape: &Shape, target: Option<Target>) -> String {
    let wanted = CodeOptions { target, ..CodeOptions::default() };
    let class = slug(&piece.name);
    let subject = Subject::new(format!(".{class}"));
    depth_of(&Writer::write((piece, shape), &PieceStates::default(), (&class, &subject), wanted).rules)
}

/// The code of one element.
pub(super) struct Writer {
    pub lowered: Lowered,
    /// At rest, then in its states.
    pub rules: Vec<Rule>,
    pub filters: String,
    pub notes: Notes,
}

impl Writer {
    pub fn write(
        (piece, shape): (&Piece, &Shape),
        states: &PieceStates,
        (class, subject): (&str, &Subject),
        wanted: CodeOptions,
    ) -> Self {
        let rest = wanted.numbers.rounded_piece(piece);
        let is_text = matches!(shape, Shape::Text(_));
        let lowered = match wanted.target {
            Some(target) if targets_of(&rest, is_text).contains(&target) => {
                lower_written(piece, target, wanted.numbers)
            }
            _ => best_target(&rest, is_text),
        };
        let notes = lowered.notes.clone();
        let mut writer = Self { lowered, rules: Vec::new(), filters: String::new(), notes };
        writer.lowered.element = wanted.numbers.rounded_piece(&writer.lowered.element);
        let mut lines = writer.lines(&writer.lowered.clone(), shape, class);
        let mut spoken: Vec<String> = Vec::new();
        let with_states =
            State::WEAKEST_FIRST.iter().filter_map(|state| states.coats.iter().find(|(own, _)| own == state));
        for (state, piece) in with_states {
            let there = lower_written(piece, writer.lowered.target, wanted.numbers);
            let name = format!("{class}-{}", state.name());
            let own = writer.lines(&there, shape, &name);
            let mut changed = changes(&lines, &own);
            if state.stands_alone() {
                let known = changed.clone();
                let anew = said_anew(&spoken, &own).into_iter();
                changed.extend(anew.filter(|line| known.iter().all(|other| other.name != line.name)));
            }
            spoken.extend(changed.iter().map(|line| line.name.to_string()));
            if !changed.is_empty() {
                writer.rules.push(Rule { selector: subject.in_state(*state), lines: changed });
            }
            there.notes.0.into_iter().for_each(|note| writer.notes.add(note));
        }
        if !writer.rules.is_empty() {
            let transition = states.transition.as_ref();
            lines.extend(transition.and_then(|transition| transition_declaration(&lines, transition)));
        }
        writer.rules.insert(0, Rule { selector: format!(".{class}"), lines });
        writer
    }

    /// Fallbacks for features that are taken away.
    pub fn fallbacks(&self, beneath: Rgba, class: &str) -> impl Iterator<Item = String> + use<> {
        let selector = format!(".{class}");
        let frosted = unfrosted(&self.lowered.element, beneath).map(|line| {
            let rule = Rule { selector: selector.clone(), lines: vec![line] };
            without_backdrops(&rule.text(), true)
        });
        let edged = ends_in_shadows(&self.lowered.element).then(|| with_forced_colours(&selector));
        frosted.into_iter().chain(edged)
    }

    /// Writes the depth at the beginning of the first rule, and answers with it.
    pub fn put_depth_first(&mut self) -> Vec<Declaration> {
        let is_layer = |op: &PaintOp| matches!(op, PaintOp::Tint(_) | PaintOp::Highlight(_));
        let has_layers = self.lowered.element.coats.iter().any(|coat| is_layer(&coat.op));
        let Some(rest) = self.rules.first_mut() else { return Vec::new() };
        let (depth, body) = split_layers(std::mem::take(&mut rest.lines), has_layers);
        rest.lines = [depth.as_slice(), &body].concat();
        depth
    }

    /// All declarations of a lowered piece; definitions that its filter needs are collected.
    fn lines(&mut self, lowered: &Lowered, shape: &Shape, name: &str) -> Vec<Declaration> {
        if let Some(LoweredFilter::Svg(graph)) = &lowered.filter {
            let graph = graph.turned(-lowered.element.rotation);
            self.filters.push_str(&markup(&graph, name, lowered.element.silhouette.size().into()));
        }
        let style_declarations = style_declarations(lowered, shape, &format!("#{name}"));
        let mut lines = geometry(&lowered.element, shape);
        // A border changes what the size means, so its lines stand in place of the plain ones.
        lines.retain(|line| !style_declarations.iter().any(|other| other.name == line.name));
        lines.extend(style_declarations);
        lines
    }
}
