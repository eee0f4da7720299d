//! A project as large as a whole product: two hundred pieces in a scene, three hundred finishes, a hundred scenes.

use serde_json::{Value, json};

use crate::plain::{box_of, drop_shadow, piece};

/// Pieces of the first scene; the first of them has [`COATS`] of its own, every second one wears a finish.
pub const PIECES: usize = 200;
/// Coats of one piece.
pub const COATS: usize = 64;
/// Finishes, of four coats each.
pub const FINISHES: usize = 300;
/// Scenes; all but the first have a few pieces.
pub const SCENES: usize = 100;

/// The project's document.
#[must_use]
pub fn large() -> Value {
    let finishes: Vec<Value> = (0..FINISHES).map(finish).collect();
    let scenes: Vec<Value> = (0..SCENES).map(scene).collect();
    json!({
        "schema": 2, "name": "Whole product",
        "themes": [{"id": "day", "name": "Day", "scheme": "light"}],
        "finishes": finishes, "scenes": scenes,
    })
}

fn finish(at: usize) -> Value {
    let coats: Vec<Value> = (0..4)
        .map(|coat| {
            drop_shadow(&format!("f{at}-{coat}"), (coat * 3 + at % 7) as f64, json!({"opacity": 0.2}))
        })
        .collect();
    json!({"id": format!("finish-{at}"), "name": format!("Finish {at}"), "coats": coats})
}

fn scene(at: usize) -> Value {
    let count = if at == 0 { PIECES } else { 5 };
    let pieces: Vec<Value> = (0..count).map(|number| tile(at, number)).collect();
    json!({
        "id": format!("scene-{at}"), "name": format!("Scene {at}"), "width": 1280, "height": 900, "theme": "day",
        "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces,
    })
}

/// A small box in a grid of twenty columns.
fn tile(scene: usize, number: usize) -> Value {
    let place = (20.0 + (number % 20) as f64 * 62.0, 20.0 + (number / 20) as f64 * 86.0);
    let coats: Vec<Value> = match (scene, number) {
        (0, 0) => {
            (0..COATS).map(|coat| drop_shadow(&format!("c{coat}"), coat as f64 / 4.0, json!({}))).collect()
        }
        _ => vec![drop_shadow(&format!("c-{scene}-{number}"), 3.0, json!({}))],
    };
    let mut tile = piece(&format!("Tile {scene}-{number}"), box_of(44.0, 60.0), place, json!(coats));
    if number % 2 == 1 {
        tile["wear"] = json!({"finish": format!("finish-{}", (scene + number) % FINISHES)});
    }
    tile
}
