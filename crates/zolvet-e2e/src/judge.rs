//! Chromium as the judge of our reading of style sheets: each element that the import found is built in a real page,
//! and Chromium's computed values are compared with the import, number by number.

use std::collections::{BTreeMap, BTreeSet};

use serde::Deserialize;
use serde_json::{Value, json};
use zolvet_core::css::{ElementReading, PropertyReading, Settings, StyleFile, elements};
use zolvet_core::limits;
use zolvet_core::model::{Coat, CoatKind, ColourSource, Offset};

use crate::{Browser, Outcome};

/// How our reading of style sheets compares with Chromium's computed values.
#[derive(Debug, Default)]
pub struct Judgement {
    /// Declarations of shadows and filters in rules that apply in the window.
    pub declarations: usize,
    /// Declarations that were read on at least one element.
    pub understood: usize,
    /// Declarations whose value is set from outside of the sheets.
    pub open: usize,
    /// Values that were compared.
    pub compared: usize,
    /// Values that differ from Chromium's, in words.
    pub wrong: Vec<String>,
    /// Declarations that were not read, by their selectors.
    pub unread: Vec<String>,
}

impl Judgement {
    /// The share of declarations that were read, of those that the sheets determine themselves.
    #[must_use]
    pub fn share(&self) -> f64 {
        self.understood as f64 / (self.declarations - self.open).max(1) as f64
    }
}

/// A rule as Chromium lists it.
#[derive(Deserialize)]
struct Listed {
    selector: String,
    said: Vec<String>,
    active: bool,
}

/// Chromium's computed values of an element.
#[derive(Deserialize)]
struct Found {
    found: BTreeMap<String, Vec<Vec<f64>>>,
    matching: Vec<usize>,
}

/// Pages that are built at once.
const BATCH: usize = 200;

/// Judges our reading of style sheets.
///
/// # Errors
/// When the browser fails.
pub async fn judge(browser: &Browser, files: &[StyleFile<'_>]) -> Outcome<Judgement> {
    let readings = elements(files, &Settings::default());
    let sheets: Vec<&str> = files.iter().map(|file| file.css).collect();
    browser.show("<!doctype html><html><head></head><body></body></html>").await?;
    let add = "for (const css of arguments[0]) { const style = document.createElement('style'); style.dataset.asked = ''; style.textContent = css; document.head.append(style); } const still = document.createElement('style'); still.textContent = '*, *::before, *::after { transition: none !important; animation: none !important }'; document.head.append(still);";
    browser.driver.execute(add, vec![json!(sheets)]).await?;
    browser.driver.execute(include_str!("judge.js"), vec![]).await?;
    let mut listed: Vec<Listed> = Vec::new();
    let mut said: BTreeMap<(usize, String), BTreeSet<Fate>> = BTreeMap::new();
    let mut judgement = Judgement::default();
    for dark in [false, true] {
        prefer(browser, dark).await?;
        let now: Vec<Listed> = ask(browser, "return window.listed();", Value::Null).await?;
        if listed.is_empty() {
            listed = now;
        } else {
            for (known, new) in listed.iter_mut().zip(now) {
                known.active |= new.active;
            }
        }
        let wanted: Vec<&ElementReading> = readings.iter().filter(|one| one.dark == dark).collect();
        for batch in wanted.chunks(BATCH) {
            let pages: Vec<Value> =
                batch.iter().map(|one| json!({"page": one.page, "pseudo": one.pseudo})).collect();
            let found: Vec<Found> = ask(browser, "return window.judged(arguments[0]);", json!(pages)).await?;
            for (reading, found) in batch.iter().zip(found) {
                judgement.one(reading, &found, &listed, &mut said);
            }
        }
    }
    prefer(browser, false).await?;
    judgement.count(&listed, &said);
    Ok(judgement)
}

async fn ask<T: serde::de::DeserializeOwned>(browser: &Browser, script: &str, argument: Value) -> Outcome<T> {
    let found = browser.driver.execute(script, vec![argument]).await?.json().clone();
    Ok(serde_json::from_value(found)?)
}

async fn prefer(browser: &Browser, dark: bool) -> Outcome {
    let value = if dark { "dark" } else { "light" };
    let features = json!({"features": [{"name": "prefers-color-scheme", "value": value}]});
    browser.driver.cdp().send_raw("Emulation.setEmulatedMedia", features).await?;
    Ok(())
}

/// The outcome of a declaration on one element.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Fate {
    Read,
    Open,
    Not,
}

/// Pseudo-elements whose styles pages can ask for.
const ASKABLE: [&str; 5] = ["before", "after", "first-line", "first-letter", "marker"];

impl Judgement {
    fn one(
        &mut self,
        reading: &ElementReading,
        found: &Found,
        listed: &[Listed],
        said: &mut BTreeMap<(usize, String), BTreeSet<Fate>>,
    ) {
        let read: BTreeMap<&str, &PropertyReading> =
            reading.properties.iter().map(|(name, read)| (*name, read)).collect();
        let askable = reading.pseudo.as_deref().is_none_or(|pseudo| ASKABLE.contains(&pseudo));
        for (name, theirs) in &found.found {
            let mut outcome = Fate::Not;
            let ours = match read.get(name.as_str()) {
                Some(PropertyReading::Coats(coats)) => {
                    outcome = Fate::Read;
                    coats.iter().map(numbers).collect()
                }
                Some(PropertyReading::Unset(_)) => {
                    outcome = Fate::Open;
                    Vec::new()
                }
                // An element of the page, which no style sheet has in it.
                Some(PropertyReading::Construct(what)) if what.contains("url()") => {
                    outcome = Fate::Open;
                    Vec::new()
                }
                Some(PropertyReading::Construct(_)) => Vec::new(),
                None => {
                    outcome = Fate::Read;
                    Vec::new()
                }
            };
            let counts = matches!(read.get(name.as_str()), None | Some(PropertyReading::Coats(_)));
            // Text shadows are inherited: an element that says nothing has those around it.
            let silent = !read.contains_key(name.as_str()) && name == "text-shadow";
            if askable && counts && !silent {
                self.compared += 1;
                if !alike(&ours, theirs) {
                    outcome = Fate::Not;
                    let state = reading.state.map_or("rest", |state| state.name());
                    self.wrong.push(format!(
                        "{} ({state}, {}): {name} is read as {ours:?}, Chromium computes {theirs:?}",
                        reading.selector, reading.theme
                    ));
                }
            }
            for rule in &found.matching {
                if listed[*rule].said.iter().any(|property| property == name) {
                    said.entry((*rule, name.clone())).or_default().insert(outcome);
                }
            }
        }
    }

    fn count(&mut self, listed: &[Listed], said: &BTreeMap<(usize, String), BTreeSet<Fate>>) {
        for (at, rule) in listed.iter().enumerate().filter(|(_, rule)| rule.active) {
            for property in &rule.said {
                self.declarations += 1;
                match said.get(&(at, property.clone())).and_then(BTreeSet::first) {
                    Some(Fate::Read) => self.understood += 1,
                    Some(Fate::Open) => self.open += 1,
                    _ => self.unread.push(format!("{} {{ {property} }}", rule.selector)),
                }
            }
        }
    }
}

/// A coat as the numbers that the script gives.
fn numbers(coat: &Coat) -> Vec<f64> {
    let shadow = |kind: f64, offset: &Offset, blur: f64, spread: f64, colour: &ColourSource| {
        let Offset::Cartesian(at) = offset else { return Vec::new() };
        let ColourSource::Literal(colour) = colour else { return Vec::new() };
        let rgba = colour.rgba().parts().map(f64::from);
        [&[kind, at.x.get(), at.y.get(), blur, spread], rgba.as_slice()].concat()
    };
    match &coat.kind {
        CoatKind::Drop(drop) => shadow(0.0, &drop.offset, drop.blur.get(), drop.spread.get(), &drop.colour),
        CoatKind::Inner(inner) => {
            shadow(1.0, &inner.offset, inner.blur.get(), inner.spread.get(), &inner.colour)
        }
        CoatKind::Blur(blur) => vec![2.0, blur.sigma.get()],
        CoatKind::Backdrop(backdrop) => {
            let of = |factor: Option<zolvet_core::model::Factor>| factor.map_or(1.0, |factor| factor.get());
            vec![3.0, backdrop.sigma.get(), of(backdrop.saturation), of(backdrop.brightness)]
        }
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Ramp(_)
        | CoatKind::Raised(_) => Vec::new(),
    }
}

/// Within 0.02 px, and a whole step of 8-bit colour: Chromium keeps opacities of plain colours in 8 bits.
fn alike(ours: &[Vec<f64>], theirs: &[Vec<f64>]) -> bool {
    // A spread that covers everything is held as far as it goes, and said.
    let covers = |a: f64, b: f64| a.abs() == limits::SPREAD && b.abs() > limits::SPREAD;
    let near = |(at, (a, b)): (usize, (&f64, &f64))| {
        (a - b).abs() <= if at > 4 { 1.01 / 255.0 } else { 0.02 } || at == 4 && covers(*a, *b)
    };
    let same = |(ours, theirs): (&Vec<f64>, &Vec<f64>)| {
        ours.len() == theirs.len() && ours.iter().zip(theirs).enumerate().all(near)
    };
    ours.len() == theirs.len() && ours.iter().zip(theirs).all(same)
}
