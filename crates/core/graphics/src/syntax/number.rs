//! Numbers and lengths as text.

/// The shortest decimal that reads back as the same number.
#[must_use]
pub fn number_text(value: f64) -> String {
    // `+ 0.0` writes a negative zero as 0.
    (value + 0.0).to_string()
}

/// A number rounded to so many decimals, to the nearest.
pub fn round_to(value: f64, decimals: i32) -> f64 {
    let unit = 10_f64.powi(decimals);
    (value * unit).round() / unit
}

/// A number without the noise of single precision, sums and trigonometry: rounded to six decimals.
pub fn tidy(value: f64) -> f64 {
    round_to(value, 6)
}

/// A length in px as CSS writes it; zero needs no unit.
pub fn px(value: f64) -> String {
    if value == 0.0 { "0".to_owned() } else { format!("{}px", number_text(value)) }
}
