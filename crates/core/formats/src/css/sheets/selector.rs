//! Selectors (Selectors 4), as the `selectors` crate reads and matches them: the decisions it leaves to its users.

use std::borrow::Borrow;
use std::fmt::{self, Write};

use cssparser::{Parser, ToCss, serialize_identifier, serialize_string};
use selectors::parser::{
    NonTSPseudoClass, ParseRelative, PseudoElement, SelectorImpl, SelectorList, SelectorParseErrorKind,
};

type ParseError = cssparser::ParseError<SelectorParseErrorKind>;

/// A selector of a style sheet.
pub(super) type Selector = selectors::parser::Selector<Css>;
/// One of its parts.
pub(super) type Component = selectors::parser::Component<Css>;

/// Selectors as style sheets have them.
#[derive(Debug, Clone)]
pub(super) struct Css;

impl SelectorImpl for Css {
    type ExtraMatchingData<'a> = ();
    type AttrValue = Quoted;
    type Identifier = Name;
    type LocalName = Name;
    type NamespaceUrl = Name;
    type NamespacePrefix = Name;
    type BorrowedNamespaceUrl = str;
    type BorrowedLocalName = str;
    type NonTSPseudoClass = PseudoClass;
    type PseudoElement = Pseudo;
}

/// An identifier.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(super) struct Name(pub String);

impl From<&str> for Name {
    fn from(text: &str) -> Self {
        Self(text.to_owned())
    }
}

impl Borrow<str> for Name {
    fn borrow(&self) -> &str {
        &self.0
    }
}

impl ToCss for Name {
    fn to_css<W: Write>(&self, out: &mut W) -> fmt::Result {
        serialize_identifier(&self.0, out)
    }
}

impl precomputed_hash::PrecomputedHash for Name {
    /// FNV-1a.
    fn precomputed_hash(&self) -> u32 {
        const_fnv1a_hash::fnv1a_hash_str_32(&self.0)
    }
}

/// The value of an attribute.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Quoted(pub String);

impl From<&str> for Quoted {
    fn from(text: &str) -> Self {
        Self(text.to_owned())
    }
}

impl AsRef<str> for Quoted {
    fn as_ref(&self) -> &str {
        &self.0
    }
}

impl ToCss for Quoted {
    fn to_css<W: Write>(&self, out: &mut W) -> fmt::Result {
        serialize_string(&self.0, out)
    }
}

/// A pseudo-class that says something about more than the tree, such as `:hover`, with its argument.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(super) struct PseudoClass(pub String);

impl ToCss for PseudoClass {
    fn to_css<W: Write>(&self, out: &mut W) -> fmt::Result {
        write!(out, ":{}", self.0)
    }
}

impl NonTSPseudoClass for PseudoClass {
    fn is_active_or_hover(&self) -> bool {
        matches!(self.0.as_str(), "active" | "hover")
    }

    fn is_user_action_state(&self) -> bool {
        self.is_active_or_hover() || self.0.starts_with("focus")
    }
}

/// A pseudo-element, with its argument.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(super) struct Pseudo(pub String);

impl ToCss for Pseudo {
    fn to_css<W: Write>(&self, out: &mut W) -> fmt::Result {
        write!(out, "::{}", self.0)
    }
}

impl PseudoElement for Pseudo {
    fn accepts_state_pseudo_classes(&self) -> bool {
        self.0.starts_with("-webkit-") || self.0.starts_with("file-selector")
    }

    fn is_before_or_after(&self) -> bool {
        matches!(self.0.as_str(), "before" | "after")
    }
}

/// Selectors within selectors, beyond which a rule is not read.
const MAX_DEPTH: usize = 24;
/// Characters of the selectors of one rule, and of each one in nested rules.
const MAX_LENGTH: usize = 20_000;

/// The selectors of a rule; within a rule, `parents` are those of the rule around it (CSS Nesting 1).
///
/// # Errors
/// Nothing more than that it is not understood: then the browser passes over the rule as a whole.
pub(super) fn parse(text: &str, parents: Option<&SelectorList<Css>>) -> Option<SelectorList<Css>> {
    if text.len() > MAX_LENGTH || deepest(text) > MAX_DEPTH {
        return None;
    }
    let relative = if parents.is_some() { ParseRelative::ForNesting } else { ParseRelative::No };
    let mut input = Parser::new(text);
    let found = input.parse_entirely(|input| SelectorList::parse(&Reader, input, relative)).ok()?;
    if let Some(parents) = parents {
        return Some(found.replace_parent_selector(parents));
    }
    // Outside of rules `&` is the root (CSS Nesting 1, section 3).
    if found.slice().iter().any(|one| one.has_parent_selector()) {
        let root = Parser::new(":root")
            .parse_entirely(|input| SelectorList::parse(&Reader, input, ParseRelative::No))
            .ok()?;
        return Some(found.replace_parent_selector(&root));
    }
    Some(found)
}

fn deepest(text: &str) -> usize {
    let (mut depth, mut most) = (0_usize, 0);
    for letter in text.bytes() {
        match letter {
            b'(' | b'[' => depth += 1,
            b')' | b']' => depth = depth.saturating_sub(1),
            _ => {}
        }
        most = most.max(depth);
    }
    most
}

struct Reader;

impl<'i> selectors::parser::Parser<'i> for Reader {
    type Impl = Css;
    type Error = SelectorParseErrorKind;

    fn parse_nth_child_of(&self) -> bool {
        true
    }

    fn parse_is_and_where(&self) -> bool {
        true
    }

    fn parse_has(&self) -> bool {
        true
    }

    fn parse_parent_selector(&self) -> bool {
        true
    }

    fn parse_host(&self) -> bool {
        true
    }

    fn parse_slotted(&self) -> bool {
        true
    }

    fn parse_part(&self) -> bool {
        true
    }

    fn is_is_alias(&self, name: &str) -> bool {
        name.eq_ignore_ascii_case("-webkit-any")
    }

    fn parse_non_ts_pseudo_class(&self, name: &str) -> Result<PseudoClass, ParseError> {
        let name = name.to_ascii_lowercase();
        if PSEUDO_CLASSES.contains(&name.as_str()) { Ok(PseudoClass(name)) } else { Err(unknown()) }
    }

    fn parse_non_ts_functional_pseudo_class(
        &self,
        name: &str,
        arguments: &mut Parser<'i>,
        _after_part: bool,
    ) -> Result<PseudoClass, ParseError> {
        let name = name.to_ascii_lowercase();
        let argument = rest(arguments);
        if ["lang", "dir", "state"].contains(&name.as_str()) {
            Ok(PseudoClass(format!("{name}({argument})")))
        } else {
            Err(unknown())
        }
    }

    fn parse_pseudo_element(&self, name: &str) -> Result<Pseudo, ParseError> {
        let name = name.to_ascii_lowercase();
        // Chromium takes any name with its own prefix (Selectors 4, "Legacy -webkit- Pseudo-Elements").
        if PSEUDO_ELEMENTS.contains(&name.as_str()) || name.starts_with("-webkit-") {
            Ok(Pseudo(name))
        } else {
            Err(unknown())
        }
    }

    fn parse_functional_pseudo_element(
        &self,
        name: &str,
        arguments: &mut Parser<'i>,
    ) -> Result<Pseudo, ParseError> {
        let name = name.to_ascii_lowercase();
        let argument = rest(arguments);
        if name.starts_with("view-transition") || ["highlight", "cue", "picker"].contains(&name.as_str()) {
            Ok(Pseudo(format!("{name}({argument})")))
        } else {
            Err(unknown())
        }
    }
}

fn unknown() -> ParseError {
    ParseError::custom(SelectorParseErrorKind::UnsupportedPseudoClassOrElement)
}

fn rest(input: &mut Parser<'_>) -> String {
    let start = input.position();
    while input.next().is_ok() {}
    input.slice_from(start).trim().to_owned()
}

/// The pseudo-classes that Chromium knows: it skips a rule with any other.
const PSEUDO_CLASSES: [&str; 62] = [
    "active",
    "active-view-transition",
    "any-link",
    "autofill",
    "buffering",
    "checked",
    "corner-present",
    "current",
    "decrement",
    "default",
    "defined",
    "disabled",
    "double-button",
    "enabled",
    "end",
    "focus",
    "focus-visible",
    "focus-within",
    "fullscreen",
    "future",
    "has-slotted",
    "horizontal",
    "hover",
    "in-range",
    "increment",
    "indeterminate",
    "invalid",
    "link",
    "modal",
    "muted",
    "no-button",
    "open",
    "optional",
    "out-of-range",
    "past",
    "paused",
    "picture-in-picture",
    "placeholder-shown",
    "playing",
    "popover-open",
    "read-only",
    "read-write",
    "required",
    "seeking",
    "single-button",
    "stalled",
    "start",
    "target",
    "target-current",
    "user-invalid",
    "user-valid",
    "valid",
    "vertical",
    "visited",
    "volume-locked",
    "window-inactive",
    "xr-overlay",
    "-webkit-any-link",
    "-webkit-autofill",
    "-webkit-drag",
    "-webkit-full-screen",
    "-webkit-full-page-media",
];

const PSEUDO_ELEMENTS: [&str; 18] = [
    "after",
    "backdrop",
    "before",
    "checkmark",
    "column",
    "cue",
    "details-content",
    "file-selector-button",
    "first-letter",
    "first-line",
    "grammar-error",
    "marker",
    "picker-icon",
    "placeholder",
    "scroll-marker",
    "selection",
    "spelling-error",
    "target-text",
];
