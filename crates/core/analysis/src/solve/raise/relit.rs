//! Heights under another light: the same heights, with the shadows that it casts.

use json_patch::Patch;
use jsonptr::PointerBuf;
use serde_json::{Value, json};

use super::coats::raised_coat;
use super::raise;
use super::rig::LightRig;
use crate::geometry::RoundedBox;
use crate::model::{Coat, Id, Project, Raised, RaisedShadow, Rig, SharedReference};
use crate::patch::{pointer, set};

/// A plate that is much wider than the height it is at, as the shadows of such plates are in proportion to their heights.
const WIDE: (f64, f64, f64) = (240.0, 160.0, 16.0);
/// The height of that plate.
const HEIGHT: f64 = 12.0;

/// The shadows that a light casts for each px of a height.
#[must_use]
pub fn shadows_under(bearing: f64, rig: &Rig, count: usize) -> Vec<RaisedShadow> {
    let (width, height, radius) = WIDE;
    let light = LightRig::from_written(bearing, rig);
    let shape = RoundedBox::new(width, height, [(radius, radius); 4]);
    let coat = raised_coat(&raise(shape, HEIGHT, &light, count), HEIGHT, &light, None);
    coat.kind.raised().map_or_else(Vec::new, |raised| raised.shadows.clone())
}

/// Gives a light a rig, and all heights that follow it the shadows that it casts then.
#[must_use]
pub fn relit(project: &Project, light: &Id, rig: &Rig) -> Option<Patch> {
    let at = project.lights.iter().position(|one| one.id == *light)?;
    let bearing = project.lights.get(at)?.bearing.get();
    let mut changes = vec![set(pointer!["lights", at, "rig"], json!(rig))];
    let document = serde_json::to_value(project).ok()?;
    let mut solved: Vec<(usize, Vec<RaisedShadow>)> = Vec::new();
    for place in followers(project, light) {
        let Some(raised) = raised_at(&document, &place) else { continue };
        let count = raised.shadows.len();
        if !solved.iter().any(|(of, _)| *of == count) {
            solved.push((count, shadows_under(bearing, rig, count)));
        }
        let shadows = solved.iter().find(|(of, _)| *of == count).map(|(_, shadows)| shadows);
        changes.push(set(place.with_trailing_token("rig"), json!(rig)));
        changes.push(set(place.with_trailing_token("shadows"), json!(shadows)));
    }
    Some(Patch(changes))
}

/// Where coats are that follow a light.
fn followers(project: &Project, light: &Id) -> Vec<PointerBuf> {
    let mut places = Vec::new();
    project.clone().visit_references(&mut |at, reference| {
        let SharedReference::Light(id) = reference else { return };
        let coat = at.strip_suffix("/follows").filter(|_| id == light);
        places.extend(coat.and_then(|at| PointerBuf::parse(at.to_owned()).ok()));
    });
    places
}

/// The height of a coat of a document; nothing where it has none.
fn raised_at(document: &Value, place: &PointerBuf) -> Option<Raised> {
    let coat: Coat = serde_json::from_value(document.pointer(place.as_str())?.clone()).ok()?;
    coat.kind.raised().cloned()
}
