//! A page as one file that runs nothing, leads nowhere and asks nobody.

use ego_tree::{NodeId, NodeRef};
use html5ever::driver::{self, ParseOpts};
use html5ever::tendril::TendrilSink as _;
use html5ever::tree_builder::{QuirksMode, TreeBuilderOpts};
use html5ever::{LocalName, QualName, ns};
use scraper::{Html, HtmlTreeSink, Node};
use url::Url;

use crate::attributes::{Holder, kept};
use crate::css::inlined;
use crate::files::Files;

/// What the frame of a page may load: its own styles, and pictures and fonts that it carries. It is sent with the page, and stands
/// in it as well. Frames keep their origin, so that Zolvet can look into them, and run nothing.
pub const POLICY: &str = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; \
    base-uri 'none'; form-action 'none'";

/// The attribute with the number of an element, in document order.
pub const ELEMENT: &str = "data-zolvet-element";

/// Elements that are left out with all that is in them.
const LEFT_OUT: [&str; 20] = [
    "applet",
    "base",
    "embed",
    "fencedframe",
    "frame",
    "frameset",
    "meta",
    "noembed",
    "noframes",
    "object",
    "param",
    "plaintext",
    "portal",
    "script",
    "title",
    "track",
    "xmp",
    "bgsound",
    "basefont",
    "isindex",
];

/// Elements of HTML pages that have no room in the frame for what is in them.
const EMPTIED: [&str; 3] = ["iframe", "video", "audio"];

/// A rebuilt page.
pub struct Rebuilt {
    pub html: String,
    pub elements: usize,
    pub title: String,
}

/// Rebuilds a page that carries all that it needs: what it refers to besides is left out.
#[must_use]
pub fn rebuild(html: &str) -> String {
    match Url::parse("https://page.invalid/") {
        Ok(base) => rebuilt(html, &base, &mut Files::none()).html,
        Err(_) => String::new(),
    }
}

/// Parses as browsers do where scripts do not run.
pub fn parsed(html: &str) -> Html {
    let opts = ParseOpts {
        tree_builder: TreeBuilderOpts { scripting_enabled: false, ..Default::default() },
        ..Default::default()
    };
    driver::parse_document(HtmlTreeSink::new(Html::new_document()), opts).one(html)
}

/// Rebuilds a page with the files that it refers to.
pub fn rebuilt(html: &str, base: &Url, files: &mut Files<'_>) -> Rebuilt {
    let mut page = parsed(html);
    let title = title_of(&page);
    let base = &base_of(&page, base);
    let (mut left, mut number) = (vec![page.tree.root().id()], 0);
    while let Some(id) = left.pop() {
        if rebuild_node(&mut page, id, (base, files), &mut number) {
            let inside = page.tree.get(id).into_iter().flat_map(|node| node.children()).map(|node| node.id());
            let from = left.len();
            left.extend(inside);
            left[from..].reverse();
        }
    }
    let doctype = match page.quirks_mode {
        QuirksMode::NoQuirks => "<!DOCTYPE html>\n",
        QuirksMode::LimitedQuirks => {
            "<!DOCTYPE html PUBLIC \"-//W3C//DTD XHTML 1.0 Transitional//EN\" \"http://www.w3.org/TR/xhtml1/DTD/xhtml1-transitional.dtd\">\n"
        }
        QuirksMode::Quirks => "",
    };
    say_policy(&mut page);
    Rebuilt { html: format!("{doctype}{}", page.root_element().html()), elements: number, title }
}

/// Puts the policy and the encoding first of all into the head, as elements: in text, a value of the page could be taken for it.
fn say_policy(page: &mut Html) {
    let is_head =
        |node: &NodeRef<'_, Node>| node.value().as_element().is_some_and(|one| one.name() == "head");
    let head = page.root_element().children().find(is_head).map(|node| node.id());
    let Some(mut head) = head.and_then(|id| page.tree.get_mut(id)) else { return };
    let meta = |attributes: &[(&str, &str)]| {
        let name = QualName::new(None, ns!(html), LocalName::from("meta"));
        let attribute =
            |(name, value): &(&str, &str)| html5ever::Attribute { name: plain(name), value: (*value).into() };
        Node::Element(scraper::node::Element::new(name, attributes.iter().map(attribute).collect()))
    };
    head.prepend(meta(&[("http-equiv", "Content-Security-Policy"), ("content", POLICY)]));
    head.prepend(meta(&[("charset", "utf-8")]));
}

fn title_of(page: &Html) -> String {
    let is_title =
        |node: &NodeRef<'_, Node>| node.value().as_element().is_some_and(|one| one.name() == "title");
    let title = page.tree.root().descendants().find(is_title);
    let texts = title.into_iter().flat_map(|title| title.descendants());
    let text: String =
        texts.filter_map(|node| node.value().as_text().map(|text| text.text.to_string())).collect();
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// What the references of a page start from (HTML, "The base element").
fn base_of(page: &Html, base: &Url) -> Url {
    let said = page.tree.root().descendants().find_map(|node| {
        let element = node.value().as_element().filter(|element| element.name() == "base")?;
        element.attr("href").map(str::to_owned)
    });
    said.and_then(|said| base.join(&said).ok()).unwrap_or_else(|| base.clone())
}

/// Rebuilds a node, and says whether what is in it is to be rebuilt as well.
fn rebuild_node(
    page: &mut Html,
    id: NodeId,
    (base, files): (&Url, &mut Files<'_>),
    number: &mut usize,
) -> bool {
    let Some(node) = page.tree.get(id) else { return false };
    let element = match node.value() {
        Node::Element(element) => element,
        Node::Comment(_) | Node::ProcessingInstruction(_) => {
            detach(page, id);
            return false;
        }
        Node::Doctype(_) | Node::Text(_) | Node::Document | Node::Fragment => return true,
    };
    let tag = element.name.local.to_ascii_lowercase().to_string();
    let is_html = element.name.ns == ns!(html);
    if is_sheet(element, &tag) {
        let sheet = sheet_of(element, base, files);
        let Some((css, media)) = sheet else {
            detach(page, id);
            return false;
        };
        in_its_place(page, id, (&css, &media));
        number_element(page, id, number);
        return false;
    }
    // Titles of SVG name what is drawn.
    let is_left_out = LEFT_OUT.contains(&tag.as_str()) && (is_html || tag != "title");
    if tag == "link" || is_left_out || changes_links(element, &tag) {
        detach(page, id);
        return false;
    }
    if tag == "style" {
        let text = text_of(node);
        let css = inlined(&text, base, files);
        set_text(page, id, &css);
    }
    if EMPTIED.contains(&tag.as_str()) {
        empty(page, id);
    }
    let holder = Holder { tag: &tag, is_html, base };
    let Some(mut node) = page.tree.get_mut(id) else { return false };
    let Node::Element(element) = node.value() else { return false };
    let attributes = std::mem::take(&mut element.attrs);
    for (name, value) in attributes {
        // Chromium writes the roots of shadow trees under a name of its own into files that it saves.
        let name =
            if tag == "template" && &*name.local == "shadowmode" { plain("shadowrootmode") } else { name };
        if let Some(value) = kept(&name, &value, &holder, files) {
            element.attrs.insert(name, value);
        }
    }
    if is_html {
        number_element(page, id, number);
    }
    true
}

fn number_element(page: &mut Html, id: NodeId, number: &mut usize) {
    let Some(mut node) = page.tree.get_mut(id) else { return };
    if let Node::Element(element) = node.value() {
        element.attrs.insert(plain(ELEMENT), number.to_string().into());
        *number += 1;
    }
}

fn plain(name: &str) -> QualName {
    QualName::new(None, ns!(), LocalName::from(name))
}

/// Whether an element of SVG animates an address or a handler.
fn changes_links(element: &scraper::node::Element, tag: &str) -> bool {
    let animates = ["animate", "set", "animatetransform", "animatemotion"].contains(&tag);
    let name = element.attr("attributeName").or_else(|| element.attr("attributename")).unwrap_or_default();
    animates && (name.to_ascii_lowercase().contains("href") || name.to_ascii_lowercase().starts_with("on"))
}

fn is_sheet(element: &scraper::node::Element, tag: &str) -> bool {
    let relation = element.attr("rel").unwrap_or_default().to_ascii_lowercase();
    let words: Vec<&str> = relation.split_ascii_whitespace().collect();
    tag == "link"
        && words.contains(&"stylesheet")
        && !words.contains(&"alternate")
        && element.attr("disabled").is_none()
}

/// The sheet of a link, as the text of a style element, and its media.
fn sheet_of(element: &scraper::node::Element, base: &Url, files: &mut Files<'_>) -> Option<(String, String)> {
    let (bytes, address) = match element.attr("href")? {
        data if data.trim_start().starts_with("data:") => return None,
        reference => files.find(reference, base)?,
    };
    let css = inlined(&String::from_utf8_lossy(bytes), &address, files);
    Some((css, element.attr("media").unwrap_or_default().to_owned()))
}

/// Puts a style element in the place of a link.
fn in_its_place(page: &mut Html, id: NodeId, (css, media): (&str, &str)) {
    let name = QualName::new(None, ns!(html), LocalName::from("style"));
    let media =
        (!media.is_empty()).then(|| html5ever::Attribute { name: plain("media"), value: media.into() });
    let element = scraper::node::Element::new(name, media.into_iter().collect());
    if let Some(mut node) = page.tree.get_mut(id) {
        *node.value() = Node::Element(element);
    }
    set_text(page, id, css);
}

fn text_of(node: NodeRef<'_, Node>) -> String {
    node.descendants().filter_map(|inner| inner.value().as_text().map(|text| text.text.to_string())).collect()
}

fn set_text(page: &mut Html, id: NodeId, text: &str) {
    empty(page, id);
    if let Some(mut node) = page.tree.get_mut(id) {
        node.append(Node::Text(scraper::node::Text { text: text.into() }));
    }
}

fn empty(page: &mut Html, id: NodeId) {
    let children: Vec<NodeId> =
        page.tree.get(id).into_iter().flat_map(|node| node.children()).map(|node| node.id()).collect();
    for child in children {
        detach(page, child);
    }
}

fn detach(page: &mut Html, id: NodeId) {
    if let Some(mut node) = page.tree.get_mut(id) {
        node.detach();
    }
}
