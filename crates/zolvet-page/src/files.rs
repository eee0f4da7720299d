//! The files of a page, found by what it refers to.

use std::collections::{BTreeSet, HashMap};

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use percent_encoding::percent_decode_str;
use url::Url;

/// A file that a page comes in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PageFile {
    /// Its path within what was chosen, with `/` between folders, or its address.
    pub name: String,
    /// Its content.
    pub bytes: Vec<u8>,
}

/// Files by their addresses, and what was looked for in vain.
pub struct Files<'a> {
    by_address: HashMap<String, &'a [u8]>,
    missing: BTreeSet<String>,
}

/// References that are named at most.
const MAX_MISSING: usize = 200;

impl<'a> Files<'a> {
    pub fn new(files: &'a [PageFile]) -> Self {
        let by_address = files
            .iter()
            .filter_map(|file| Some((address_of(&file.name)?.to_string(), file.bytes.as_slice())));
        Self { by_address: by_address.collect(), missing: BTreeSet::new() }
    }

    /// No files: what is not in the page itself is missing.
    pub fn none() -> Self {
        Self { by_address: HashMap::new(), missing: BTreeSet::new() }
    }

    /// The file that a reference leads to, and its address.
    pub fn find(&mut self, reference: &str, base: &Url) -> Option<(&'a [u8], Url)> {
        let address = base.join(reference.trim()).ok();
        let found = address.and_then(|address| Some((self.at(&address)?, address)));
        if found.is_none() && self.missing.len() < MAX_MISSING {
            self.missing.insert(reference.trim().chars().take(200).collect());
        }
        found
    }

    fn at(&self, address: &Url) -> Option<&'a [u8]> {
        let mut address = address.clone();
        address.set_fragment(None);
        let by = |address: &Url| self.by_address.get(address.as_str()).copied();
        by(&address)
            .or_else(|| {
                address.set_query(None);
                by(&address)
            })
            .or_else(|| self.below_root(&address))
    }

    /// The only file whose path ends in that of an address: the root of a site may be a folder of what was chosen.
    fn below_root(&self, address: &Url) -> Option<&'a [u8]> {
        let path = address.path();
        let is_below = |known: &&String| known.ends_with(path);
        let mut found = self.by_address.keys().filter(|_| path.len() > 1).filter(is_below);
        let only = found.next().filter(|_| found.next().is_none())?;
        self.by_address.get(only).copied()
    }

    /// A reference as data within the page; `None` where it leads nowhere in the page.
    pub fn data(&mut self, reference: &str, base: &Url) -> Option<String> {
        let reference = reference.trim();
        if let Some(data) = reference.get(..5).filter(|start| start.eq_ignore_ascii_case("data:")) {
            return harmless_data(&reference[data.len()..]).then(|| reference.to_owned());
        }
        let (bytes, address) = self.find(reference, base)?;
        let media_type = media_type(bytes, &address)?;
        Some(format!("data:{media_type};base64,{}", STANDARD.encode(bytes)))
    }

    pub fn missing(self) -> Vec<String> {
        self.missing.into_iter().collect()
    }
}

/// Whether a `data:` address, from behind the colon, holds a picture or a font. SVG in it is drawn as a picture, which runs nothing.
fn harmless_data(rest: &str) -> bool {
    let kind = rest.split([';', ',']).next().unwrap_or_default().trim().to_ascii_lowercase();
    let family = kind.split('/').next().unwrap_or_default();
    ["image", "font"].contains(&family)
        || kind.starts_with("application/") && kind.contains("font")
        || kind == "application/octet-stream"
}

/// The address of a file by its name: its own, or one in a folder that is nowhere.
pub fn address_of(name: &str) -> Option<Url> {
    match Url::parse(name) {
        Ok(address) if !address.cannot_be_a_base() || address.scheme() == "cid" => Some(address),
        _ => {
            let path = name.replace('\\', "/");
            let mut address = Url::parse("https://page.invalid/").ok()?;
            address.set_path(&path);
            Some(address)
        }
    }
}

/// The media type of a picture or font: by its first bytes, else by its name.
fn media_type(bytes: &[u8], address: &Url) -> Option<&'static str> {
    let starts: [(&[u8], &str); 9] = [
        (b"\x89PNG", "image/png"),
        (b"\xff\xd8\xff", "image/jpeg"),
        (b"GIF8", "image/gif"),
        (b"wOF2", "font/woff2"),
        (b"wOFF", "font/woff"),
        (b"OTTO", "font/otf"),
        (b"\0\x01\0\0", "font/ttf"),
        (b"\0\0\x01\0", "image/x-icon"),
        (b"BM", "image/bmp"),
    ];
    if let Some((_, known)) = starts.iter().find(|(start, _)| bytes.starts_with(start)) {
        return Some(known);
    }
    if bytes.starts_with(b"RIFF") && bytes.get(8..12) == Some(b"WEBP") {
        return Some("image/webp");
    }
    let path = percent_decode_str(address.path()).decode_utf8_lossy().to_ascii_lowercase();
    let start = String::from_utf8_lossy(&bytes[..bytes.len().min(1024)]).to_ascii_lowercase();
    (path.ends_with(".svg") || start.contains("<svg"))
        .then_some("image/svg+xml")
        .or_else(|| path.ends_with(".avif").then_some("image/avif"))
}
