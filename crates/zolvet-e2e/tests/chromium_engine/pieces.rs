//! Pieces of every shape, joined, turned, clipped and faded.

use serde_json::json;

use crate::case::{Case, STAR, boxed, case, coat, div, leaf_url, piece, shadow, solid, star, svg, with};

pub fn cases() -> Vec<Case> {
    [silhouettes(), joins(), turned(), clipped_and_faded()].concat()
}

fn silhouettes() -> Vec<Case> {
    let drop = |numbers, colour| json!([shadow("d", "drop", numbers, colour)]);
    let picture = json!({"kind": "picture", "asset": "leaf", "w": 120, "h": 90});
    let scaled = json!({"kind": "picture", "asset": "leaf", "w": 240, "h": 180});
    vec![
        case(
            "ellipse",
            json!([piece("p", json!({"kind": "ellipse", "w": 200, "h": 140}), (90.0, 70.0), solid("#2f7d6b"),
                json!([shadow("i", "inner", [0.0, 8.0, 12.0, 0.0], "rgb(255 255 255/.6)"), shadow("d", "drop", [4.0, 10.0, 24.0, 6.0], "rgb(0 0 0/.5)")]))]),
            div("left:90px;top:70px;width:200px;height:140px;border-radius:50%;background:#2f7d6b;box-shadow:inset 0 8px 12px rgb(255 255 255/.6),4px 10px 24px 6px rgb(0 0 0/.5)"),
        ),
        case(
            "path",
            json!([piece("p", star(), (100.0, 60.0), solid("#c05030"), drop([6.0, 8.0, 8.0, 0.0], "rgb(0 0 0/.6)"))]),
            svg(&format!("<path d=\"{STAR}\" fill=#c05030 transform=\"translate(100,60)\" style=\"filter:drop-shadow(6px 8px 4px rgb(0 0 0/.6))\"/>")),
        ),
        case(
            "path, even-odd and scaled",
            json!([piece("p", json!({"kind": "path", "d": "M0 0 H10 V10 H0 Z M2 2 V8 H8 V2 Z", "viewbox": [0, 0, 10, 10], "w": 180, "h": 120}), (100.0, 80.0), solid("#205080"), drop([0.0, 12.0, 20.0, 0.0], "black"))]),
            svg("<path d=\"M0 0 H10 V10 H0 Z M2 2 V8 H8 V2 Z\" fill=#205080 transform=\"translate(100,80) scale(18,12)\" style=\"filter:drop-shadow(0 .8333px 0 transparent)\"/>")
                .replace("style=\"filter:drop-shadow(0 .8333px 0 transparent)\"", "")
                .replace("overflow:visible", "overflow:visible;filter:drop-shadow(0 12px 10px black)"),
        ),
        case(
            "picture",
            json!([piece("p", picture.clone(), (140.0, 100.0), json!({"kind": "none"}), drop([5.0, 9.0, 6.0, 0.0], "rgb(0 0 0/.7)"))]),
            format!("<img src=\"{}\" style=\"left:140px;top:100px;filter:drop-shadow(5px 9px 3px rgb(0 0 0/.7))\">", leaf_url()),
        ),
        case(
            "picture, twice its size",
            json!([piece("p", scaled, (80.0, 60.0), json!({"kind": "none"}), drop([0.0, 16.0, 24.0, 0.0], "#402010"))]),
            format!("<img src=\"{}\" width=240 height=180 style=\"left:80px;top:60px;filter:drop-shadow(0 16px 12px #402010)\">", leaf_url()),
        ),
        case(
            "a picture that is its own shadow",
            json!([piece(
                "p",
                json!({"kind": "picture", "asset": "leaf", "w": 120, "h": 90}),
                (140.0, 100.0),
 json!({"kind": "none"}),
                json!([coat("d", "drop", json!({"offset": {"x": 8, "y": 22}, "blur": 12, "spread": 0, "colour": {"from": "picture"}}))])
            )]),
            format!(
                "<img src=\"{0}\" style=\"left:148px;top:122px;filter:blur(6px)\"><img src=\"{0}\" style=\"left:140px;top:100px\">",
                leaf_url()
            ),
        ),
    ]
}

fn join_of(op: &str) -> serde_json::Value {
    let part = |id, shape, at, fill: &str| piece(id, shape, at, solid(fill), json!([]));
    let parts = [
        part("a", boxed(120.0, 70.0, 0.0), (0.0, 40.0), "#c05030"),
        part("b", json!({"kind": "ellipse", "w": 100, "h": 100}), (70.0, 0.0), "#c05030"),
    ];
    json!({"kind": "join", "op": op, "parts": parts})
}

fn joins() -> Vec<Case> {
    let drop = |numbers, colour| json!([shadow("d", "drop", numbers, colour)]);
    let joined = |body: &str| {
        svg(&format!(
            "<g fill=#c05030 transform=\"translate(100,80)\" style=\"filter:drop-shadow(6px 10px 5px rgb(0 0 0/.6))\">{body}</g>"
        ))
    };
    let circle = "M70 50 a50 50 0 1 0 100 0 a50 50 0 1 0 -100 0 Z";
    vec![
        case(
            "join, added",
            json!([piece(
                "p",
                join_of("add"),
                (100.0, 80.0),
                json!({"kind": "none"}),
                drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)")
            )]),
            joined(&format!("<path d=\"M0 40 H120 V110 H0 Z\"/><path d=\"{circle}\"/>")),
        ),
        case(
            "join, excluded",
            json!([piece(
                "p",
                join_of("exclude"),
                (100.0, 80.0),
                solid("#c05030"),
                drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)")
            )]),
            joined(&format!("<path fill-rule=evenodd d=\"M0 40 H120 V110 H0 Z {circle}\"/>")),
        ),
        case(
            "join, subtracted",
            json!([piece(
                "p",
                join_of("subtract"),
                (100.0, 80.0),
                json!({"kind": "none"}),
                drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)")
            )]),
            joined(&format!(
                "<clipPath id=c><path clip-rule=evenodd d=\"M-99 -99 H300 V300 H-99 Z {circle}\"/></clipPath><path d=\"M0 40 H120 V110 H0 Z\" clip-path=\"url(#c)\"/>"
            )),
        ),
        case(
            "join, intersected",
            json!([piece(
                "p",
                join_of("intersect"),
                (100.0, 80.0),
                json!({"kind": "none"}),
                drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)")
            )]),
            joined(&format!(
                "<clipPath id=c><path d=\"{circle}\"/></clipPath><path d=\"M0 40 H120 V110 H0 Z\" clip-path=\"url(#c)\"/>"
            )),
        ),
    ]
}

fn turned() -> Vec<Case> {
    let drop = |numbers, colour| json!([shadow("d", "drop", numbers, colour)]);
    vec![case(
        "rotated box, its shadow not turned",
        json!([with(
            piece(
                "p",
                boxed(160.0, 90.0, 20.0),
                (120.0, 100.0),
                solid("#2f7d6b"),
                drop([0.0, 14.0, 10.0, 0.0], "rgb(0 0 0/.6)")
            ),
            "rotation",
            json!(17)
        )]),
        format!(
            "<section style=\"filter:drop-shadow(0 14px 5px rgb(0 0 0/.6))\">{}</section>",
            div(
                "left:120px;top:100px;width:160px;height:90px;border-radius:20px;background:#2f7d6b;rotate:17deg"
            )
        ),
    )]
}

fn clipped_and_faded() -> Vec<Case> {
    let drop = |numbers, colour| json!([shadow("d", "drop", numbers, colour)]);
    vec![
        case(
            "clipped to another piece",
            json!([
                piece("a", boxed(200.0, 120.0, 40.0), (100.0, 90.0), solid("#ffffff"), json!([])),
                with(
                    piece(
                        "b",
                        boxed(160.0, 90.0, 0.0),
                        (180.0, 60.0),
                        solid("#2f7d6b"),
                        drop([0.0, 6.0, 16.0, 4.0], "black")
                    ),
                    "clip_to",
                    json!("a")
                ),
            ]),
            format!(
                "<div style=\"left:100px;top:90px;width:200px;height:120px;border-radius:40px;background:#fff;overflow:hidden\">{}</div>",
                div(
                    "left:80px;top:-30px;width:160px;height:90px;background:#2f7d6b;box-shadow:0 6px 16px 4px black"
                )
            ),
        ),
        case(
            "half see-through with its shadows",
            json!([with(
                piece(
                    "p",
                    boxed(180.0, 110.0, 24.0),
                    (110.0, 90.0),
                    solid("#2f7d6b"),
                    json!([
                        shadow("i", "inner", [0.0, 6.0, 8.0, 0.0], "white"),
                        shadow("d", "drop", [10.0, 14.0, 20.0, 0.0], "black")
                    ])
                ),
                "opacity",
                json!(0.45)
            )]),
            div(
                "left:110px;top:90px;width:180px;height:110px;border-radius:24px;background:#2f7d6b;box-shadow:inset 0 6px 8px white,10px 14px 20px black;opacity:.45",
            ),
        ),
    ]
}
