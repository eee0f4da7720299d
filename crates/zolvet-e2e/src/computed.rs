//! Computed values of a style sheet in Chromium, as numbers.

use crate::{Browser, Outcome};

/// Every computed shadow and filter of every element, as numbers: colours in sRGB from 0 to 1, clipped as they are painted.
const COMPUTED: &str = r"
    const probe = document.body.appendChild(document.createElement('i'));
    const known = new Map();
    const colour = (text) => {
        if (!known.has(text)) known.set(text, parts(text));
        return known.get(text);
    };
    const parts = (text) => {
        probe.style.color = `color(from ${text} srgb r g b / alpha)`;
        const [r, g, b, a = 1] = getComputedStyle(probe).color.match(/-?[\d.]+(e-?\d+)?/g).map(Number);
        return [r, g, b].map((part) => Math.min(1, Math.max(0, part))).concat(a);
    };
    const numbers = (value) => {
        const said = [];
        const rest = value.replace(/(rgba?|color|oklch|oklab)\([^()]*\)/g, (text) => { said.push(...colour(text)); return ' '; });
        return [said, (rest.match(/-?[\d.]+(?=px)/g) ?? []).map(Number), rest.replace(/-?[\d.]+px/g, 'N').replace(/\s+/g, ' ').trim()];
    };
    return [...document.querySelectorAll('[data-what]')].map((element) => {
        const style = getComputedStyle(element);
        const all = ['boxShadow', 'textShadow', 'filter', 'backdropFilter', 'color', 'backgroundColor'].map((name) => numbers(style[name]));
        return [element.dataset.what, all];
    });";

/// Shadows, filters and colours of one element: for each property the parts of its colours, its lengths in px, and the rest.
pub type Computed = (String, Vec<(Vec<f64>, Vec<f64>, String)>);

/// Computed values of the elements that have `data-what`, on a page with these rules.
///
/// # Errors
/// When the browser fails.
pub async fn computed(browser: &Browser, css: &str, html: &str, root: &str) -> Outcome<Vec<Computed>> {
    browser.show(&format!("<!doctype html><style>{css}{root}</style>{html}")).await?;
    let found = browser.driver.execute(COMPUTED, vec![]).await?.json().clone();
    Ok(serde_json::from_value(found)?)
}

/// The same within 0.01 px and half a step of 8-bit colour; opacities within a whole one, for Chromium keeps those of plain
/// colours in 8 bits and rounds them down (measured in Chromium 156).
///
/// # Panics
/// When they differ.
pub fn assert_same(one: &[Computed], other: &[Computed]) {
    assert!(one.len() == other.len() && !one.is_empty());
    for ((what, a), (_, b)) in one.iter().zip(other) {
        for ((colours, lengths, rest), (other_colours, other_lengths, other_rest)) in a.iter().zip(b) {
            assert_eq!(rest, other_rest, "{what}");
            assert!(near(lengths, other_lengths, |_| 0.01), "{what}: {lengths:?} and {other_lengths:?}");
            let off = |at: usize| if at % 4 == 3 { 1.001 / 255.0 } else { 0.501 / 255.0 };
            assert!(near(colours, other_colours, off), "{what}: {colours:?} and {other_colours:?}");
        }
    }
}

fn near(one: &[f64], other: &[f64], most: impl Fn(usize) -> f64) -> bool {
    let pairs = one.iter().zip(other).enumerate();
    one.len() == other.len() && pairs.into_iter().all(|(at, (a, b))| (a - b).abs() <= most(at))
}
