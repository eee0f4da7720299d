//! JSON for reading: a value that fits on a line is on one.

use serde_json::Value;

/// Characters of a line.
const WIDTH: usize = 120;

/// A value as text, two spaces to a level.
pub(super) fn readable(value: &Value) -> String {
    let mut text = String::new();
    write(value, 0, 0, &mut text);
    text.push('\n');
    text
}

/// Writes a value that begins `indent` levels in, after `before` characters of its line.
fn write(value: &Value, indent: usize, before: usize, text: &mut String) {
    let line = one_line(value);
    if 2 * indent + before + line.len() <= WIDTH || !matches!(value, Value::Object(_) | Value::Array(_)) {
        return text.push_str(&line);
    }
    let (open, close) = if value.is_object() { ('{', '}') } else { ('[', ']') };
    text.push(open);
    let mut next = |name: Option<&String>, value: &Value, first: bool| {
        text.push_str(if first { "\n" } else { ",\n" });
        text.push_str(&"  ".repeat(indent + 1));
        let name = name.map_or_else(String::new, |name| format!("{}: ", Value::from(name.as_str())));
        text.push_str(&name);
        write(value, indent + 1, name.len() + 1, text);
    };
    match value {
        Value::Object(fields) => {
            fields.iter().enumerate().for_each(|(at, (name, value))| next(Some(name), value, at == 0));
        }
        Value::Array(items) => {
            items.iter().enumerate().for_each(|(at, item)| next(None, item, at == 0));
        }
        _ => {}
    }
    text.push('\n');
    text.push_str(&"  ".repeat(indent));
    text.push(close);
}

fn one_line(value: &Value) -> String {
    match value {
        Value::Object(fields) if fields.is_empty() => "{}".to_owned(),
        Value::Object(fields) => {
            let each = fields
                .iter()
                .map(|(name, value)| format!("{}: {}", Value::from(name.as_str()), one_line(value)));
            format!("{{ {} }}", each.collect::<Vec<_>>().join(", "))
        }
        Value::Array(items) => format!("[{}]", items.iter().map(one_line).collect::<Vec<_>>().join(", ")),
        // Whole numbers without a point.
        Value::Number(number) => {
            let text = number.to_string();
            text.strip_suffix(".0").map(str::to_owned).unwrap_or(text)
        }
        other => other.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_fits_is_on_one_line_and_reads_back() {
        let value = serde_json::json!({ "short": { "value": 6.0, "unit": "px" }, "empty": {}, "long": ["x".repeat(60), "y".repeat(60)] });
        let text = readable(&value);
        assert!(text.contains("  \"short\": { \"value\": 6, \"unit\": \"px\" },\n"), "{text}");
        assert!(text.lines().all(|line| line.len() <= WIDTH), "{text}");
        let back: Value = serde_json::from_str(&text).unwrap_or_default();
        assert_eq!(
            (back["long"].clone(), back["empty"].clone()),
            (value["long"].clone(), value["empty"].clone())
        );
    }
}
