//! Fills, and blend modes of pieces, tints and shadows.

use serde_json::json;

use crate::case::{Case, MODES, blended, boxed, case, cell, coat, div, leaf_url, piece, shadow, solid, with};

pub fn fills() -> Vec<Case> {
    let stops = json!([{"at": 0, "colour": "#f4d35e"}, {"at": 0.35, "colour": "rgb(238 99 82/.7)"}, {"at": 1, "colour": "#083d77"}]);
    let css = "#f4d35e,rgb(238 99 82/.7) 35%,#083d77";
    let of = |fill| json!([piece("p", boxed(300.0, 180.0, 30.0), (50.0, 60.0), fill, json!([]))]);
    let html = |background: &str| {
        div(&format!(
            "left:50px;top:60px;width:300px;height:180px;border-radius:30px;background:{background}"
        ))
    };
    let image = |fit| json!({"kind": "image", "asset": "leaf", "fit": fit});
    let url = leaf_url();
    vec![
        case(
            "linear",
            of(json!({"kind": "linear", "angle": 137, "stops": stops})),
            html(&format!("linear-gradient(137deg,{css})")),
        ),
        case(
            "linear, hard stop",
            of(
                json!({"kind": "linear", "angle": 90, "stops": [{"at": 0.3, "colour": "red"}, {"at": 0.3, "colour": "blue"}]}),
            ),
            html("linear-gradient(90deg,red 30%,blue 30%)"),
        ),
        case(
            "radial",
            of(json!({"kind": "radial", "centre": {"x": 0.3, "y": 0.25}, "radius": 170, "stops": stops})),
            html(&format!("radial-gradient(circle 170px at 30% 25%,{css})")),
        ),
        case("picture, cover", of(image("cover")), html(&format!("url({url}) center/cover"))),
        case("picture, contain", of(image("contain")), html(&format!("url({url}) center/contain no-repeat"))),
        case("picture, tiled", of(image("tile")), html(&format!("url({url}) 0 0"))),
        case("picture, stretched", of(image("stretch")), html(&format!("url({url}) 0 0/100% 100%"))),
    ]
}

pub fn blending() -> Vec<Case> {
    let fill = "rgb(90 160 210/.8)";
    let pieces: Vec<_> = MODES
        .iter()
        .enumerate()
        .map(|(i, mode)| {
            let (x, y) = cell(i);
            with(piece(mode, boxed(84.0, 60.0, 12.0), (x, y), solid(fill), json!([])), "blend", json!(mode))
        })
        .collect();
    let divs: String = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        div(&format!("left:{x}px;top:{y}px;width:84px;height:60px;border-radius:12px;background:{fill};mix-blend-mode:{mode}"))
    }).collect();
    let tinted: Vec<_> = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        let gradient = json!({"kind": "linear", "angle": 0, "stops": [{"at": 0, "colour": "#20406080"}, {"at": 1, "colour": "#ffd08090"}]});
        let tint = coat("t", "tint", json!({"fill": gradient, "blend": mode}));
        piece(mode, boxed(84.0, 60.0, 0.0), (x, y), solid("#b05a3c"), json!([tint]))
    }).collect();
    let backgrounds: String = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        div(&format!("left:{x}px;top:{y}px;width:84px;height:60px;background:linear-gradient(0deg,#20406080,#ffd08090),#b05a3c;background-blend-mode:{mode},normal"))
    }).collect();
    let shadows: Vec<_> = MODES
        .iter()
        .enumerate()
        .map(|(i, mode)| {
            let (x, y) = cell(i);
            let coat =
                with(shadow("d", "drop", [3.0, 4.0, 10.0, 0.0], "rgb(60 200 120/.8)"), "blend", json!(mode));
            piece(
                mode,
                boxed(60.0, 40.0, 0.0),
                (x + 8.0, y + 8.0),
                json!({"kind": "none"}),
                json!([with(coat, "knock_out", json!(false))]),
            )
        })
        .collect();
    let blurred: String = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        div(&format!("left:{}px;top:{}px;width:60px;height:40px;background:rgb(60 200 120/.8);filter:blur(5px);mix-blend-mode:{mode}", x + 11.0, y + 12.0))
    }).collect();
    vec![
        blended("blend modes of pieces", json!(pieces), divs),
        case("blend modes of tints", json!(tinted), backgrounds),
        blended("blend modes of shadows", json!(shadows), blurred),
    ]
}
