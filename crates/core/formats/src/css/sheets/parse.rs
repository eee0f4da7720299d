//! Style sheets cut into rules, with nesting undone and the conditions of each kept (CSS Syntax 3, §5; CSS Nesting 1; CSS
//! Conditional Rules 5; CSS Cascade 5, "Cascade Layers"; CSS Properties and Values API 1).

use std::collections::HashMap;

use cssparser::{
    AtRuleParser, CowRcStr, DeclarationParser, ParseError, Parser, ParserState, QualifiedRuleParser,
    RuleBodyItemParser, RuleBodyParser, SourceLocation, StyleSheetParser,
};
use selectors::parser::SelectorList;

use super::layers::Layers;
use super::nesting::{Parents, UnreadReason};
use super::selector::Css;
use super::text::{declared, rest, skip_rest, without_comments, without_importance};

/// Everything that style sheets say about depth, in the order of the cascade.
#[derive(Default)]
pub(super) struct Sheet {
    pub rules: Vec<StyleRule>,
    pub layers: Layers,
    /// Custom properties that are registered, by name.
    pub registered: HashMap<String, Registered>,
    /// Keyframes that move something about depth.
    pub keyframes: Vec<(Place, String)>,
    /// Each rule that was skipped as a whole, and its place.
    pub passed_over: Vec<(Place, SkippedRule)>,
}

/// Where something stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Place {
    /// Which of the files.
    pub file: usize,
    /// From 1.
    pub line: u32,
    /// From 1.
    pub column: u32,
}

/// Something that is not read as a whole.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum SkippedRule {
    /// A rule whose selector browsers do not know, with its selector.
    Selector(String),
    /// A file that is brought in, by its address.
    Import(String),
    /// A rule within `@scope`.
    Scope,
    /// A rule that lies too deep.
    Depth,
}

/// A style rule.
pub(super) struct StyleRule {
    pub selectors: SelectorList<Css>,
    /// The selectors as they stand, those of the rules around it before them.
    pub text: String,
    pub declarations: Vec<Declaration>,
    /// All of them have to hold.
    pub conditions: Vec<Condition>,
    /// Its layer; none for rules that lie in no layer.
    pub layer: Option<usize>,
    pub place: Place,
}

/// A condition that a rule stands under.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) enum Condition {
    Media(String),
    Supports(String),
    /// No element of ours is a container.
    Container,
    /// Only for the moment in which an element appears.
    StartingStyle,
}

/// A declaration that matters for depth.
#[derive(Debug, Clone)]
pub(super) struct Declaration {
    /// In lower case, but for custom properties.
    pub name: String,
    /// Without comments and `!important`.
    pub value: String,
    pub important: bool,
    pub place: Place,
}

/// A registered custom property.
#[derive(Debug, Clone, Default)]
pub(super) struct Registered {
    pub syntax: String,
    pub inherits: bool,
    pub initial: Option<String>,
}

/// Properties that say something about depth.
pub(super) const DEPTH: [&str; 6] =
    ["box-shadow", "text-shadow", "filter", "backdrop-filter", "-webkit-box-shadow", "-webkit-filter"];

/// Properties that the values of others depend on, or that say how something moves.
const CONTEXT: [&str; 10] = [
    "all",
    "color",
    "color-scheme",
    "font",
    "font-size",
    "transition",
    "transition-property",
    "transition-duration",
    "transition-timing-function",
    "-webkit-transition",
];

/// Reads a file as a part of a sheet, all of it under a condition where there is one.
pub(super) fn add_file(sheet: &mut Sheet, file: usize, css: &str, condition: Option<Condition>) {
    let around = BlockContext { conditions: condition.into_iter().collect(), ..BlockContext::default() };
    let mut reader = Reader { sheet, file, around };
    let mut parser = Parser::new(css.trim_start_matches('\u{feff}'));
    reader.rules(&mut parser);
}

/// Blocks of rules that are read inside one another.
const MAX_DEPTH: usize = 24;
/// The rules that enclose those being read.
#[derive(Default, Clone)]
struct BlockContext {
    conditions: Vec<Condition>,
    layer: Option<usize>,
    /// The selectors of the rule around them.
    parents: Option<Parents>,
    depth: usize,
}

struct Reader<'s> {
    sheet: &'s mut Sheet,
    file: usize,
    around: BlockContext,
}

/// The beginning of an at-rule.
enum AtRule {
    Condition(Condition),
    Layer(Vec<String>),
    Property(String),
    Keyframes(String),
    Import(String),
    Scope,
    /// Says nothing about elements.
    Other,
}

impl Reader<'_> {
    fn rules(&mut self, parser: &mut Parser<'_>) {
        for _ in StyleSheetParser::new(parser, self) {}
    }

    fn place(&self, at: SourceLocation) -> Place {
        Place { file: self.file, line: at.line + 1, column: at.column }
    }

    /// Reads the content of a block, with one more selector around it.
    fn within(
        &mut self,
        at: SourceLocation,
        change: impl FnOnce(&mut BlockContext),
        parser: &mut Parser<'_>,
    ) {
        let before = self.around.clone();
        change(&mut self.around);
        self.around.depth += 1;
        if self.around.depth > MAX_DEPTH {
            let place = self.place(at);
            self.sheet.passed_over.push((place, SkippedRule::Depth));
            skip_rest(parser);
        } else if self.around.parents.is_some() {
            self.body(at, parser);
        } else {
            self.rules(parser);
        }
        skip_rest(parser);
        self.around = before;
    }

    /// The declarations and rules within a style rule.
    fn body(&mut self, at: SourceLocation, parser: &mut Parser<'_>) {
        let mut body = Body { reader: self, declarations: Vec::new(), at };
        for _ in RuleBodyParser::new(parser, &mut body) {}
        body.close();
    }

    fn style_rule(&mut self, prelude: &str, at: SourceLocation, parser: &mut Parser<'_>) {
        let why = match Parents::new(prelude, self.around.parents.as_ref()) {
            Ok(own) => return self.within(at, |around| around.parents = Some(own), parser),
            Err(UnreadReason::TooLarge) => SkippedRule::Depth,
            Err(UnreadReason::NotUnderstood) => SkippedRule::Selector(prelude.to_owned()),
        };
        let start = parser.position();
        skip_rest(parser);
        if speaks_of_depth(parser.slice_from(start)) {
            let place = self.place(at);
            self.sheet.passed_over.push((place, why));
        }
    }

    fn at_rule(&mut self, rule: AtRule, at: SourceLocation, parser: &mut Parser<'_>) {
        match rule {
            AtRule::Condition(condition) => {
                self.within(at, |around| around.conditions.push(condition), parser);
            }
            AtRule::Layer(names) => {
                let layer = self.sheet.layers.enter(self.around.layer, names.first().map(String::as_str));
                self.within(at, |around| around.layer = Some(layer), parser);
            }
            AtRule::Property(name) => self.property(name, parser),
            AtRule::Keyframes(name) => {
                let start = parser.position();
                skip_rest(parser);
                let steps = parser.slice_from(start);
                if speaks_of_depth(steps) {
                    let place = self.place(at);
                    self.sheet.keyframes.push((place, name));
                }
            }
            AtRule::Scope => {
                let place = self.place(at);
                self.sheet.passed_over.push((place, SkippedRule::Scope));
                skip_rest(parser);
            }
            AtRule::Import(_) | AtRule::Other => skip_rest(parser),
        }
    }

    fn at_rule_alone(&mut self, rule: AtRule, at: SourceLocation) {
        match rule {
            AtRule::Layer(names) => {
                for name in names {
                    self.sheet.layers.enter(self.around.layer, Some(&name));
                }
            }
            AtRule::Import(address) => {
                let place = self.place(at);
                self.sheet.passed_over.push((place, SkippedRule::Import(address)));
            }
            _ => {}
        }
    }

    /// `@property` (CSS Properties and Values API 1, section 2).
    fn property(&mut self, name: String, parser: &mut Parser<'_>) {
        let mut found = Registered::default();
        let mut reader = Descriptors { found: Vec::new() };
        for _ in RuleBodyParser::new(parser, &mut reader) {}
        for (name, value) in reader.found {
            match name.as_str() {
                "syntax" => found.syntax = value.trim_matches(['"', '\'']).to_owned(),
                "inherits" => found.inherits = value.eq_ignore_ascii_case("true"),
                "initial-value" => found.initial = Some(value),
                _ => {}
            }
        }
        self.sheet.registered.insert(name, found);
    }
}

/// Whether there may be something about depth in a text that is not read.
fn speaks_of_depth(text: &str) -> bool {
    ["shadow:", "filter:", "shadow :", "filter :"].iter().any(|name| text.contains(name))
}

fn prelude_of<'i>(name: &CowRcStr<'i>, input: &mut Parser<'i>) -> AtRule {
    let text = without_comments(rest(input));
    match name.to_ascii_lowercase().as_str() {
        "media" => AtRule::Condition(Condition::Media(text)),
        "supports" => AtRule::Condition(Condition::Supports(text)),
        "container" => AtRule::Condition(Condition::Container),
        "starting-style" => AtRule::Condition(Condition::StartingStyle),
        "layer" => {
            let names = text.split(',').map(|name| name.trim().to_owned());
            AtRule::Layer(names.filter(|name| !name.is_empty()).collect())
        }
        "property" => AtRule::Property(text),
        "import" => {
            let address = text.trim_start_matches("url(").split([')', ' ']).next().unwrap_or_default();
            AtRule::Import(address.trim_matches(['"', '\'']).to_owned())
        }
        "scope" => AtRule::Scope,
        name if name.ends_with("keyframes") => AtRule::Keyframes(text),
        _ => AtRule::Other,
    }
}

impl<'i> QualifiedRuleParser<'i> for Reader<'_> {
    type Prelude = String;
    type QualifiedRule = ();
    type Error = ();

    fn parse_prelude(&mut self, input: &mut Parser<'i>) -> Result<String, ParseError<()>> {
        Ok(without_comments(rest(input)))
    }

    fn parse_block(
        &mut self,
        prelude: String,
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), ParseError<()>> {
        self.style_rule(&prelude, start.source_location(), input);
        Ok(())
    }
}

impl<'i> AtRuleParser<'i> for Reader<'_> {
    type Prelude = AtRule;
    type AtRule = ();
    type Error = ();

    fn parse_prelude(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
    ) -> Result<AtRule, ParseError<()>> {
        Ok(prelude_of(&name, input))
    }

    fn rule_without_block(&mut self, rule: AtRule, start: &ParserState) -> Result<(), ()> {
        self.at_rule_alone(rule, start.source_location());
        Ok(())
    }

    fn parse_block(
        &mut self,
        rule: AtRule,
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), ParseError<()>> {
        self.at_rule(rule, start.source_location(), input);
        Ok(())
    }
}

/// Reads the body of a style rule. Declarations that follow a rule within it come after that rule.
struct Body<'r, 's> {
    reader: &'r mut Reader<'s>,
    declarations: Vec<Declaration>,
    at: SourceLocation,
}

impl Body<'_, '_> {
    /// Puts the declarations so far into a rule of their own.
    fn close(&mut self) {
        let declarations = std::mem::take(&mut self.declarations);
        let around = &self.reader.around;
        let Some(Parents { list: selectors, text, .. }) =
            around.parents.clone().filter(|_| !declarations.is_empty())
        else {
            return;
        };
        let (conditions, layer) = (around.conditions.clone(), around.layer);
        let place = self.reader.place(self.at);
        let rule = StyleRule { selectors, text, declarations, conditions, layer, place };
        self.reader.sheet.rules.push(rule);
    }
}

impl<'i> DeclarationParser<'i> for Body<'_, '_> {
    type Declaration = ();
    type Error = ();

    fn parse_value(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
        start: &ParserState,
    ) -> Result<(), ParseError<()>> {
        let value = declared(&name, input)?;
        let is_custom = name.starts_with("--");
        let name = if is_custom { name.to_string() } else { name.to_ascii_lowercase() };
        if is_custom || DEPTH.contains(&name.as_str()) || CONTEXT.contains(&name.as_str()) {
            let (value, important) = without_importance(&without_comments(value));
            let place = self.reader.place(start.source_location());
            self.declarations.push(Declaration { name, value, important, place });
        }
        Ok(())
    }
}

impl<'i> QualifiedRuleParser<'i> for Body<'_, '_> {
    type Prelude = String;
    type QualifiedRule = ();
    type Error = ();

    fn parse_prelude(&mut self, input: &mut Parser<'i>) -> Result<String, ParseError<()>> {
        Ok(without_comments(rest(input)))
    }

    fn parse_block(
        &mut self,
        prelude: String,
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), ParseError<()>> {
        self.close();
        self.reader.style_rule(&prelude, start.source_location(), input);
        Ok(())
    }
}

impl<'i> AtRuleParser<'i> for Body<'_, '_> {
    type Prelude = AtRule;
    type AtRule = ();
    type Error = ();

    fn parse_prelude(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
    ) -> Result<AtRule, ParseError<()>> {
        Ok(prelude_of(&name, input))
    }

    fn parse_block(
        &mut self,
        rule: AtRule,
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), ParseError<()>> {
        self.close();
        self.reader.at_rule(rule, start.source_location(), input);
        Ok(())
    }
}

impl RuleBodyItemParser<'_, (), ()> for Body<'_, '_> {
    fn parse_declarations(&self) -> bool {
        true
    }

    fn parse_qualified(&self) -> bool {
        true
    }
}

/// Reads the descriptors of an at-rule.
struct Descriptors {
    found: Vec<(String, String)>,
}

impl<'i> DeclarationParser<'i> for Descriptors {
    type Declaration = ();
    type Error = ();

    fn parse_value(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
        _: &ParserState,
    ) -> Result<(), ParseError<()>> {
        self.found.push((name.to_ascii_lowercase(), without_comments(rest(input)).trim().to_owned()));
        Ok(())
    }
}

impl QualifiedRuleParser<'_> for Descriptors {
    type Prelude = ();
    type QualifiedRule = ();
    type Error = ();
}

impl AtRuleParser<'_> for Descriptors {
    type Prelude = ();
    type AtRule = ();
    type Error = ();
}

impl RuleBodyItemParser<'_, (), ()> for Descriptors {
    fn parse_declarations(&self) -> bool {
        true
    }

    fn parse_qualified(&self) -> bool {
        false
    }
}
