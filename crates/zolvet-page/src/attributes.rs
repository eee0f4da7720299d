//! Attributes of a page that stay, and what becomes of them.

use html5ever::{QualName, ns};
use scraper::StrTendril;
use url::Url;

use crate::css::inlined;
use crate::files::Files;

/// Attributes that refer to something, or do something, and are left out wherever they stand.
const LEFT_OUT: [&str; 47] = [
    "action",
    "archive",
    "attributionsrc",
    "autofocus",
    "autoplay",
    "background",
    "base",
    "blocking",
    "browsingtopics",
    "cite",
    "classid",
    "code",
    "codebase",
    "command",
    "commandfor",
    "content",
    "crossorigin",
    "data",
    "download",
    "dynsrc",
    "fetchpriority",
    "form",
    "formaction",
    "formmethod",
    "formtarget",
    "http-equiv",
    "icon",
    "imagesizes",
    "imagesrcset",
    "integrity",
    "itemid",
    "loading",
    "longdesc",
    "lowsrc",
    "manifest",
    "method",
    "nonce",
    "object",
    "ping",
    "popovertarget",
    "profile",
    "referrerpolicy",
    "sandbox",
    "srcdoc",
    "target",
    "usemap",
    "xml:base",
];

/// Attributes that hold the address of a picture.
const PICTURES: [&str; 3] = ["src", "poster", "href"];

/// The element that an attribute stands on.
pub struct Holder<'a> {
    pub tag: &'a str,
    pub is_html: bool,
    /// What its references start from.
    pub base: &'a Url,
}

/// The value of an attribute in the rebuilt page; `None` where it is left out.
pub fn kept(name: &QualName, value: &str, holder: &Holder<'_>, files: &mut Files<'_>) -> Option<StrTendril> {
    let local = name.local.to_ascii_lowercase().to_string();
    if local.starts_with("on")
        || LEFT_OUT.contains(&local.as_str())
        || (name.ns == ns!(xml) && local == "base")
    {
        return None;
    }
    if local == "style" {
        return Some(inlined(value, holder.base, files).into());
    }
    if local == "srcset" {
        return srcset(value, holder.base, files).map(Into::into);
    }
    if PICTURES.contains(&local.as_str()) {
        return reference(&local, value, holder, files).map(Into::into);
    }
    if value.to_ascii_lowercase().contains("url(") {
        // Presentation attributes of SVG.
        return Some(inlined(value, holder.base, files).into());
    }
    Some(value.into())
}

fn reference(local: &str, value: &str, holder: &Holder<'_>, files: &mut Files<'_>) -> Option<String> {
    let is_picture = match holder.tag {
        "img" | "input" => local == "src",
        "video" => local == "poster",
        "image" | "feimage" => true,
        _ => false,
    };
    if value.trim_start().starts_with('#') && !holder.is_html {
        return Some(value.to_owned());
    }
    if is_picture {
        // A picture that is missing looks like one that is missing.
        return Some(files.data(value, holder.base).unwrap_or_else(|| "data:,".to_owned()));
    }
    // A link looks like one, and leads nowhere.
    (["a", "area"].contains(&holder.tag) && local == "href").then(|| INERT.to_owned())
}

/// The address of links.
const INERT: &str = "#zolvet-nowhere";

/// A list of pictures for several densities (HTML, "Srcset attributes"), those that are in the page.
fn srcset(value: &str, base: &Url, files: &mut Files<'_>) -> Option<String> {
    let mut found = Vec::new();
    let mut rest = value.trim_start_matches([',', ' ', '\n', '\t', '\r']);
    while !rest.is_empty() {
        let end = rest.find(char::is_whitespace).unwrap_or(rest.len());
        let (address, after) = rest.split_at(end);
        let bare = address.trim_end_matches(',');
        let (descriptor, next) = if bare.len() < address.len() {
            ("", after)
        } else {
            after.split_once(',').unwrap_or((after, ""))
        };
        if let Some(data) = files.data(bare, base) {
            found.push(format!("{data} {}", descriptor.trim()).trim().to_owned());
        }
        rest = next.trim_start_matches([',', ' ', '\n', '\t', '\r']);
    }
    (!found.is_empty()).then(|| found.join(", "))
}
