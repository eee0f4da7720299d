//! Style sheets and declaration lists cut into declarations, each with its place (CSS Syntax 3, §5; CSS Nesting 1).

use cssparser::{
    AtRuleParser, CowRcStr, DeclarationParser, ParseError, Parser, ParserState, QualifiedRuleParser,
    RuleBodyItemParser, RuleBodyParser, SourceLocation, StyleSheetParser, ToCss as _, Token,
};

use super::error::CssError;

/// A style rule.
pub(super) struct Rule {
    pub body: Body,
}

/// The text between the braces of a rule, or a list of declarations without a rule.
#[derive(Default)]
pub(super) struct Body {
    pub declarations: Vec<Declaration>,
    /// Line and column of each rule nested in it.
    pub nested: Vec<(u32, u32)>,
    /// The first thing that is neither a declaration nor a rule.
    pub error: Option<CssError>,
}

/// A property, or custom property, and its value as it stands.
#[derive(Clone)]
pub(super) struct Declaration {
    pub name: String,
    pub value: String,
    /// Of the name.
    pub line: u32,
    /// Of the name.
    pub column: u32,
    /// Line and column at which the value begins.
    pub value_at: (u32, u32),
}

impl Body {
    /// Whether nothing stands there at all.
    pub fn is_empty(&self) -> bool {
        self.declarations.is_empty() && self.nested.is_empty() && self.error.is_none()
    }
}

/// Every rule of a style sheet, also those in `@media` and other blocks of rules. Anything else is skipped.
pub(super) fn rules(css: &str) -> Vec<Rule> {
    let mut reader = SheetReader { rules: Vec::new(), depth: 0 };
    reader.read(&mut Parser::new(css));
    reader.rules
}

/// The declarations of a list without a rule, as in a `style` attribute.
pub(super) fn declaration_list(css: &str) -> Body {
    body(&mut Parser::new(css))
}

/// Moves past everything up to the end of the block, brackets included.
pub(super) fn skip_rest(parser: &mut Parser<'_>) {
    while parser.next().is_ok() {}
}

/// Moves past a block that has just been opened. Its text lies before the parser's position from then on.
pub(super) fn skip_block(parser: &mut Parser<'_>) {
    let _ = parser.parse_nested_block(|inner| -> Result<(), ParseError<()>> {
        skip_rest(inner);
        Ok(())
    });
}

/// Blocks of rules that are read inside one another.
const MAX_DEPTH: usize = 16;

/// Collects the rules of a sheet.
struct SheetReader {
    rules: Vec<Rule>,
    depth: usize,
}

impl SheetReader {
    fn read(&mut self, parser: &mut Parser<'_>) {
        for _ in StyleSheetParser::new(parser, self) {}
    }
}

impl<'i> QualifiedRuleParser<'i> for SheetReader {
    type Prelude = ();
    type QualifiedRule = ();
    type Error = ();

    fn parse_prelude(&mut self, input: &mut Parser<'i>) -> Result<(), ParseError<()>> {
        skip_rest(input);
        Ok(())
    }

    fn parse_block(&mut self, (): (), _: &ParserState, input: &mut Parser<'i>) -> Result<(), ParseError<()>> {
        self.rules.push(Rule { body: body(input) });
        Ok(())
    }
}

impl<'i> AtRuleParser<'i> for SheetReader {
    type Prelude = bool;
    type AtRule = ();
    type Error = ();

    /// Whether the block contains style rules: the steps of keyframes are none.
    fn parse_prelude(&mut self, name: CowRcStr<'i>, input: &mut Parser<'i>) -> Result<bool, ParseError<()>> {
        skip_rest(input);
        Ok(!name.to_ascii_lowercase().ends_with("keyframes"))
    }

    fn rule_without_block(&mut self, _: bool, _: &ParserState) -> Result<(), ()> {
        Ok(())
    }

    fn parse_block(
        &mut self,
        holds_rules: bool,
        _: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<(), ParseError<()>> {
        if holds_rules && self.depth < MAX_DEPTH {
            self.depth += 1;
            self.read(input);
            self.depth -= 1;
        }
        skip_rest(input);
        Ok(())
    }
}

fn body(parser: &mut Parser<'_>) -> Body {
    let (mut body, mut reader) = (Body::default(), BodyReader);
    for item in RuleBodyParser::new(parser, &mut reader) {
        match item {
            Ok(Item::Declaration(declaration)) => body.declarations.push(declaration),
            Ok(Item::Rule(place)) => body.nested.push(place),
            Err((_, text, at)) => {
                body.error.get_or_insert_with(|| body_error(text, at));
            }
        }
    }
    body
}

/// An error for text in a body that is neither a declaration nor a rule.
fn body_error(text: &str, at: SourceLocation) -> CssError {
    let message = match Parser::new(text).next() {
        Ok(Token::Ident(name)) => format!("expected a colon after {name}"),
        Ok(token) => format!("expected a property, found {}", token.to_css_string()),
        Err(_) => "expected a property".to_owned(),
    };
    let (line, column) = place(at);
    CssError::new(line, column, message)
}

/// Reads one thing of a rule's body after the other.
struct BodyReader;

enum Item {
    Declaration(Declaration),
    /// A nested rule, by its line and column.
    Rule((u32, u32)),
}

impl<'i> DeclarationParser<'i> for BodyReader {
    type Declaration = Item;
    type Error = ();

    fn parse_value(
        &mut self,
        name: CowRcStr<'i>,
        input: &mut Parser<'i>,
        start: &ParserState,
    ) -> Result<Item, ParseError<()>> {
        let is_custom = name.starts_with("--");
        input.skip_whitespace();
        let value_at = place(input.current_source_location());
        let value_start = input.position();
        while let Ok(token) = input.next() {
            // With a block in braces it is a nested rule such as `a:hover { … }`, unless any value is allowed.
            if !is_custom && matches!(token, Token::CurlyBracketBlock) {
                return Err(ParseError::unexpected_token());
            }
        }
        let value = input.slice_from(value_start).trim().to_owned();
        let name = if is_custom { name.to_string() } else { name.to_ascii_lowercase() };
        let (line, column) = place(start.source_location());
        Ok(Item::Declaration(Declaration { name, value, line, column, value_at }))
    }
}

impl<'i> QualifiedRuleParser<'i> for BodyReader {
    type Prelude = ();
    type QualifiedRule = Item;
    type Error = ();

    fn parse_prelude(&mut self, input: &mut Parser<'i>) -> Result<(), ParseError<()>> {
        skip_rest(input);
        Ok(())
    }

    fn parse_block(
        &mut self,
        (): (),
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<Item, ParseError<()>> {
        skip_rest(input);
        Ok(Item::Rule(place(start.source_location())))
    }
}

impl<'i> AtRuleParser<'i> for BodyReader {
    type Prelude = ();
    type AtRule = Item;
    type Error = ();

    fn parse_prelude(&mut self, _: CowRcStr<'i>, input: &mut Parser<'i>) -> Result<(), ParseError<()>> {
        skip_rest(input);
        Ok(())
    }

    fn parse_block(
        &mut self,
        (): (),
        start: &ParserState,
        input: &mut Parser<'i>,
    ) -> Result<Item, ParseError<()>> {
        skip_rest(input);
        Ok(Item::Rule(place(start.source_location())))
    }
}

impl RuleBodyItemParser<'_, Item, ()> for BodyReader {
    fn parse_declarations(&self) -> bool {
        true
    }

    fn parse_qualified(&self) -> bool {
        true
    }
}

/// Cut at commas that lie in no brackets.
pub(super) fn split_at_commas(value: &str) -> Vec<String> {
    let (mut depth, mut parts) = (0_i32, vec![String::new()]);
    for letter in value.chars() {
        match letter {
            '(' => depth += 1,
            ')' => depth -= 1,
            ',' if depth == 0 => {
                parts.push(String::new());
                continue;
            }
            _ => {}
        }
        if let Some(last) = parts.last_mut() {
            last.push(letter);
        }
    }
    parts
}

/// Line and column, both counted from 1.
fn place(location: SourceLocation) -> (u32, u32) {
    (location.line + 1, location.column)
}
