//! Names of tokens as words.

/// The words of a name in any of the ways that names are written.
pub(super) fn words_of(name: &str) -> Vec<String> {
    let (mut words, mut before) = (vec![String::new()], ' ');
    for letter in name.chars() {
        let is_start = letter.is_uppercase() && !before.is_uppercase();
        if !letter.is_alphanumeric() || is_start {
            words.push(String::new());
        }
        if let Some(last) = words.last_mut().filter(|_| letter.is_alphanumeric()) {
            last.extend(letter.to_lowercase());
        }
        before = letter;
    }
    words.retain(|word| !word.is_empty());
    words
}
