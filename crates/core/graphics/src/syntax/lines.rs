//! Lines and columns of places in a text.

/// Finds the line and column of any place in a text in a time that does not grow with the text.
#[derive(Debug)]
pub struct LineIndex<'a> {
    text: &'a str,
    /// Every so many characters, in the order of the text.
    marks: Vec<Mark>,
}

/// A place whose line and column are known.
#[derive(Debug, Clone, Copy)]
struct Mark {
    byte: usize,
    line: u32,
    column: u32,
}

/// Characters from one mark to the next.
const APART: usize = 256;

impl<'a> LineIndex<'a> {
    /// Of a text, which is read once.
    pub fn new(text: &'a str) -> Self {
        let start = Mark { byte: 0, line: 1, column: 1 };
        let mut marks = vec![start];
        let mut at = start;
        for (passed, letter) in text.chars().enumerate() {
            if passed > 0 && passed % APART == 0 {
                marks.push(at);
            }
            at = at.after(letter);
        }
        Self { text, marks }
    }

    /// Line and column of a byte of the text, both counted from 1, columns in characters. A byte beyond the end has the
    /// place of the end.
    pub fn position(&self, byte: usize) -> (u32, u32) {
        let after = self.marks.partition_point(|mark| mark.byte <= byte);
        let mut at = self.marks[after.saturating_sub(1)];
        for letter in self.text[at.byte..].chars() {
            if at.byte + letter.len_utf8() > byte {
                break;
            }
            at = at.after(letter);
        }
        (at.line, at.column)
    }

    /// Where a byte of the text is, as `line:column`.
    pub fn place(&self, byte: usize) -> String {
        let (line, column) = self.position(byte);
        format!("{line}:{column}")
    }
}

impl Mark {
    fn after(self, letter: char) -> Self {
        let byte = self.byte + letter.len_utf8();
        if letter == '\n' {
            Self { byte, line: self.line + 1, column: 1 }
        } else {
            Self { byte, line: self.line, column: self.column + 1 }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn places_are_where_counting_from_the_start_finds_them() {
        let text = "ab\n\nç𝄞d\r\n".repeat(300) + &"é".repeat(1000);
        let index = LineIndex::new(&text);
        for (byte, _) in text.char_indices().chain([(text.len(), ' ')]) {
            let before = &text[..byte];
            let line = before.matches('\n').count() as u32 + 1;
            let column = before.rsplit('\n').next().unwrap_or_default().chars().count() as u32 + 1;
            assert_eq!(index.position(byte), (line, column), "{byte}");
        }
        assert_eq!(index.position(usize::MAX), index.position(text.len()));
        assert_eq!(LineIndex::new("").place(0), "1:1");
    }
}
