//! Pages saved as one file with all that they refer to (RFC 2557).

use mail_parser::{MessageParser, MimeHeaders as _, PartType};

use crate::files::PageFile;

/// Whether bytes are such a file.
pub fn is_like(bytes: &[u8]) -> bool {
    let start = String::from_utf8_lossy(&bytes[..bytes.len().min(2000)]).to_ascii_lowercase();
    start.contains("multipart/related") && start.contains("mime-version")
}

/// Its parts by their addresses; the first that is HTML is the page, and comes first.
pub fn parts(bytes: &[u8]) -> Option<Vec<PageFile>> {
    let message = MessageParser::default().parse(bytes)?;
    let (mut page, mut files) = (None, Vec::new());
    for (at, part) in message.parts.iter().enumerate() {
        let bytes = match &part.body {
            PartType::Text(text) | PartType::Html(text) => text.as_bytes().to_vec(),
            PartType::Binary(bytes) | PartType::InlineBinary(bytes) => bytes.to_vec(),
            PartType::Message(_) | PartType::Multipart(_) => continue,
        };
        if let Some(id) = part.content_id() {
            let name = format!("cid:{}", id.trim_matches(['<', '>']));
            files.push(PageFile { name, bytes: bytes.clone() });
        }
        let name = part.content_location().map_or_else(|| format!("part-{at}"), str::to_owned);
        let file = PageFile { name, bytes };
        if page.is_none() && matches!(&part.body, PartType::Html(_)) {
            page = Some(file);
        } else {
            files.push(file);
        }
    }
    files.insert(0, page?);
    Some(files)
}
