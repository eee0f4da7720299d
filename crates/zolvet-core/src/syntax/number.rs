//! Numbers and lengths as text.

/// The shortest decimal that reads back as the same number.
#[must_use]
pub fn number_text(value: f64) -> String {
    // `+ 0.0` writes a negative zero as 0.
    (value + 0.0).to_string()
}

/// What single precision, sums and trigonometry leave behind is not written: six decimals are kept.
pub(crate) fn tidy(value: f64) -> f64 {
    (value * 1e6).round() / 1e6
}

pub(crate) fn px(value: f64) -> String {
    if value == 0.0 { "0".to_owned() } else { format!("{}px", number_text(value)) }
}
