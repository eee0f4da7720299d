//! Finishes compared: the height of each, steps between two, and the differences of two.

use std::collections::BTreeSet;

use serde::Serialize;
use serde_json::{Map, Value};

use super::mix::Mix as _;
use crate::asset::Assets;
use crate::lower::{TrialPiece, trial};
use crate::model::{Coat, Finish, Id, Opacity, OwnCoats, Project, Theme, Wear, with_unique_ids};
use crate::resolve::{self, PaintOp, ShadowKind};
use crate::syntax::number_text;

/// How high a finish seems to stand, from its drop shadows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Height {
    /// The finish.
    pub finish: Id,
    /// How far its farthest shadow is moved, in px.
    pub offset: f64,
    /// The blur radius of its softest shadow, in px.
    pub blur: f64,
    /// The spread of its softest shadow, in px.
    pub spread: f64,
    /// The total opacity of its shadows where they overlap, from 0 to 1.
    pub opacity: f64,
    /// Set on a step of the height scale that stands no higher than the one before it: in words.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub flat: Option<String>,
}

/// How high every finish stands on a box under a theme; those of the height scale first, in its order.
#[must_use]
pub fn heights(project: &Project, theme: &Id, assets: &Assets) -> Vec<Height> {
    let of = |id: &Id| project.finishes.iter().find(|finish| finish.id == *id);
    let scale: Vec<&Finish> = project.scale.iter().filter_map(of).collect();
    let mut heights: Vec<Height> =
        scale.iter().map(|finish| height(project, theme, assets, finish)).collect();
    for at in 1..heights.len() {
        let (low, high) = (heights[at - 1].clone(), &mut heights[at]);
        if high.offset <= low.offset && high.blur <= low.blur {
            let name = &scale[at - 1].name;
            high.flat = Some(format!("stands no higher than {name}: neither offset nor blur grows"));
        }
    }
    let others = project.finishes.iter().filter(|finish| !project.scale.contains(&finish.id));
    heights.extend(others.map(|finish| height(project, theme, assets, finish)));
    heights
}

fn height(project: &Project, theme: &Id, assets: &Assets, finish: &Finish) -> Height {
    let mut height =
        Height { finish: finish.id.clone(), offset: 0.0, blur: 0.0, spread: 0.0, opacity: 0.0, flat: None };
    let wear = Wear::Coats(OwnCoats { coats: finish.coats_in(theme).to_vec() });
    let scene = trial(theme, &wear, TrialPiece::Box, false);
    let (piece, _) = resolve::piece(project, &scene, &scene.pieces[0], assets);
    let mut through = 1.0;
    for coat in &piece.coats {
        let PaintOp::Shadow(shadow) = &coat.op else { continue };
        if shadow.kind == ShadowKind::Inner {
            continue;
        }
        height.offset = height.offset.max(crate::maths::hypot(shadow.dx, shadow.dy));
        if shadow.blur >= height.blur {
            (height.blur, height.spread) = (shadow.blur, shadow.spread);
        }
        through *= 1.0 - f64::from(shadow.colour().a);
    }
    height.opacity = 1.0 - through;
    height
}

/// The steps between two finishes, lowest first: lengths are mixed linearly, colours in OKLab, coats of one kind and
/// name (or, failing that, of one kind, in their order) with one another; a coat that only one of them has fades.
#[must_use]
pub fn between(low: &Finish, high: &Finish, count: usize) -> Vec<Finish> {
    let themes: BTreeSet<&Id> = low.themes.keys().chain(high.themes.keys()).collect();
    let step = |number: usize| {
        let t = number as f64 / (count + 1) as f64;
        let mixed = |low: &[Coat], high: &[Coat]| {
            let coats = pairs(low, high).into_iter().filter_map(|pair| mixed_coat(pair, t));
            with_unique_ids(coats.collect())
        };
        let in_theme = |id: &&Id| ((*id).clone(), mixed(low.coats_in(id), high.coats_in(id)));
        Finish {
            id: Id::step_of(&low.id, number),
            name: format!("{} to {} {number}", low.name, high.name),
            note: String::new(),
            coats: mixed(&low.coats, &high.coats),
            themes: themes.iter().map(in_theme).collect(),
            states: Default::default(),
            transition: low.transition.clone(),
            made_with: low.made_with.filter(|_| low.made_with == high.made_with),
            extensions: Map::new(),
        }
    };
    (1..=count).map(step).collect()
}

type Pair<'a> = (Option<&'a Coat>, Option<&'a Coat>);

fn pairs<'a>(low: &'a [Coat], high: &'a [Coat]) -> Vec<Pair<'a>> {
    let mut left: Vec<Option<&Coat>> = high.iter().map(Some).collect();
    let mut find = |coat: &Coat, by_name: bool| {
        let alike = |other: &Option<&Coat>| {
            other.is_some_and(|other| {
                other.kind.name() == coat.kind.name() && (!by_name || other.name == coat.name)
            })
        };
        left.iter().position(alike).and_then(|at| left[at].take())
    };
    let named: Vec<_> = low.iter().map(|coat| (coat, find(coat, true))).collect();
    let mut pairs: Vec<Pair<'a>> =
        named.into_iter().map(|(coat, other)| (Some(coat), other.or_else(|| find(coat, false)))).collect();
    pairs.extend(left.into_iter().flatten().map(|coat| (None, Some(coat))));
    pairs
}

fn mixed_coat(pair: Pair<'_>, t: f64) -> Option<Coat> {
    let fade = |coat: &Coat, share: f64| Coat {
        opacity: Opacity::clamped(coat.opacity.get() * share),
        ..coat.clone()
    };
    match pair {
        (Some(low), Some(high)) => Some(low.mix(high, t)),
        (Some(low), None) => Some(fade(low, 1.0 - t)),
        (None, Some(high)) => Some(fade(high, t)),
        (None, None) => None,
    }
}

/// How two finishes differ, coat by coat, in words; under the themes that either has other coats for, those too.
#[must_use]
pub fn differences(a: &Finish, b: &Finish, themes: &[Theme]) -> Vec<String> {
    let mut said = coat_differences((a, &a.coats), (b, &b.coats));
    let has_own = |theme: &&Theme| a.themes.contains_key(&theme.id) || b.themes.contains_key(&theme.id);
    for theme in themes.iter().filter(has_own) {
        let lines = coat_differences((a, a.coats_in(&theme.id)), (b, b.coats_in(&theme.id)));
        said.extend(lines.into_iter().map(|line| format!("{}: {line}", theme.name)));
    }
    said
}

fn coat_differences((a, left): (&Finish, &[Coat]), (b, right): (&Finish, &[Coat])) -> Vec<String> {
    let mut said = Vec::new();
    for pair in pairs(left, right) {
        match pair {
            (Some(left), Some(right)) => {
                let (Ok(from), Ok(to)) = (serde_json::to_value(left), serde_json::to_value(right)) else {
                    continue;
                };
                let mut parts = Vec::new();
                compare("", &from, &to, &mut parts);
                parts.retain(|part| !part.starts_with("id ") && !part.starts_with("name "));
                let name = if left.name == right.name {
                    left.name.clone()
                } else {
                    format!("{} / {}", left.name, right.name)
                };
                if !parts.is_empty() || left.name != right.name {
                    let parts = if parts.is_empty() { "alike".to_owned() } else { parts.join(", ") };
                    said.push(format!("{name}: {parts}"));
                }
            }
            (Some(left), None) => said.push(format!("{}: only in {}", left.name, a.name)),
            (None, Some(right)) => said.push(format!("{}: only in {}", right.name, b.name)),
            (None, None) => {}
        }
    }
    said
}

fn compare(path: &str, a: &Value, b: &Value, parts: &mut Vec<String>) {
    match (a, b) {
        _ if a == b => {}
        (Value::Number(x), Value::Number(y)) if x.as_f64() == y.as_f64() => {}
        (Value::Object(a), Value::Object(b)) => {
            let names = a.keys().chain(b.keys().filter(|name| !a.contains_key(name.as_str())));
            for name in names {
                let path = if path.is_empty() { name.clone() } else { format!("{path} {name}") };
                let missing = Value::Null;
                let of = |map: &Map<String, Value>| map.get(name.as_str()).unwrap_or(&missing).clone();
                compare(&path, &of(a), &of(b), parts);
            }
        }
        _ => parts.push(format!("{path} {} and {}", spelled(a), spelled(b))),
    }
}

fn spelled(value: &Value) -> String {
    match value {
        Value::Null => "none".to_owned(),
        Value::String(text) => text.clone(),
        Value::Number(number) => number_text(number.as_f64().unwrap_or_default()),
        other => other.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn finish(name: &str, coats: Value) -> Finish {
        serde_json::from_value(json!({"id": name, "name": name, "coats": coats})).unwrap()
    }

    fn drop(name: &str, y: f64, blur: f64, colour: &str) -> Value {
        json!({"id": name, "name": name, "on": true, "kind": "drop", "offset": {"x": 0, "y": y}, "blur": blur,
            "spread": 0, "colour": colour})
    }

    fn ramp(count: u32, far: f64) -> Value {
        let end = |y: f64| json!({"offset": {"distance": y, "bearing": 0}, "blur": y * 2.0, "spread": 0, "colour": "#000000"});
        json!({"id": "r", "name": "r", "on": true, "kind": "ramp", "shadow": "drop", "near": end(1.0), "far": end(far),
            "count": count, "growth": 1.5, "lean": 0, "total": 0.4})
    }

    #[test]
    fn steps_lie_evenly_between_and_what_one_lacks_fades() {
        let low = finish("low", json!([drop("Key", 2.0, 4.0, "#000000"), ramp(4, 10.0)]));
        let high = finish(
            "high",
            json!([drop("Far", 1.0, 1.0, "#ff0000"), drop("Key", 10.0, 28.0, "#000000"), ramp(8, 30.0)]),
        );
        let steps = between(&low, &high, 3);
        assert_eq!(steps.len(), 3);
        let value = serde_json::to_value(&steps[1].coats).unwrap();
        assert_eq!((value[0]["offset"]["y"].as_f64(), value[0]["blur"].as_f64()), (Some(6.0), Some(16.0)));
        assert_eq!((value[1]["count"].as_u64(), value[1]["far"]["blur"].as_f64()), (Some(6), Some(40.0)));
        assert_eq!((value[2]["name"].as_str(), value[2]["opacity"].as_f64()), (Some("Far"), Some(0.5)));
    }

    #[test]
    fn a_step_tells_coats_of_one_id_apart() {
        let mut inner = drop("Key", 1.0, 2.0, "#000000");
        inner["kind"] = json!("inner");
        let (low, high) =
            (finish("low", json!([drop("Key", 2.0, 4.0, "#000000")])), finish("high", json!([inner])));
        let steps = between(&low, &high, 1);
        let ids: Vec<&str> = steps[0].coats.iter().map(|coat| coat.id.as_str()).collect();
        assert_eq!(ids, ["Key", "Key.2"]);
    }

    #[test]
    fn differences_are_said_by_coat() {
        let a = finish("a", json!([drop("Key", 2.0, 4.0, "#000000"), drop("Rim", 1.0, 0.0, "#ffffff")]));
        let b = finish("b", json!([drop("Key", 2.0, 6.0, "#102030")]));
        assert_eq!(
            differences(&a, &b, &[]),
            ["Key: blur 4 and 6, colour #000000 and #102030", "Rim: only in a"]
        );
        assert!(differences(&a, &a.clone(), &[]).is_empty());
    }

    #[test]
    fn a_step_that_does_not_grow_is_told() {
        let document = json!({"schema": 1, "name": "p", "themes": [{"id": "t", "name": "t", "scheme": "light"}], "scenes": [],
            "scale": ["one", "two", "three"],
            "finishes": [{"id": "one", "name": "one", "coats": [drop("k", 4.0, 8.0, "#0008")]},
                {"id": "two", "name": "two", "coats": [drop("k", 4.0, 6.0, "#0008")]},
                {"id": "three", "name": "three", "coats": [drop("k", 9.0, 18.0, "#0008")]}]});
        let project = Project::from_value(&document).unwrap();
        let heights = heights(&project, &project.themes[0].id, &Assets::default());
        let flat: Vec<bool> = heights.iter().map(|height| height.flat.is_some()).collect();
        assert_eq!(flat, [false, true, false]);
        assert_eq!(heights[2].blur, 18.0);
    }
}
