//! Groups of pieces that are one thing, as elements around others.

use serde_json::{Value, json};

use crate::case::{Case, blended, boxed, case, coat, div, piece, shadow, solid, with};

const GOLD: &str = "#e0a030";
const BLUE: &str = "#3070c0";

pub fn cases() -> Vec<Case> {
    [mixed(), shaded(), within_one_another()].concat()
}

fn group(at: (f64, f64), parts: Value, coats: Value) -> Value {
    let shape = json!({"kind": "group", "parts": parts});
    json!({"id": "g", "name": "g", "shape": shape, "x": at.0, "y": at.1, "wear": {"coats": coats}})
}

/// Two boxes, one over a corner of the other.
fn two() -> Value {
    json!([
        piece("a", boxed(140.0, 90.0, 16.0), (10.0, 10.0), solid(GOLD), json!([])),
        piece("b", boxed(120.0, 80.0, 0.0), (90.0, 60.0), solid(BLUE), json!([])),
    ])
}

fn two_divs() -> String {
    div(&format!("left:10px;top:10px;width:140px;height:90px;border-radius:16px;background:{GOLD}"))
        + &*div(&format!("left:90px;top:60px;width:120px;height:80px;background:{BLUE}"))
}

fn around(style: &str, inside: &str) -> String {
    format!("<div style=\"left:80px;top:60px;width:210px;height:140px;{style}\">{inside}</div>")
}

fn mixed() -> Vec<Case> {
    let plain = || group((80.0, 60.0), two(), json!([]));
    vec![
        case(
            "a faded group",
            json!([with(plain(), "opacity", json!(0.45))]),
            around("opacity:.45", &two_divs()),
        ),
        blended(
            "a group in multiply",
            json!([with(plain(), "blend", json!("multiply"))]),
            around("mix-blend-mode:multiply", &two_divs()),
        ),
        blended(
            "a faded group in screen",
            json!([with(with(plain(), "blend", json!("screen")), "opacity", json!(0.7))]),
            around("mix-blend-mode:screen;opacity:.7", &two_divs()),
        ),
        case(
            "a turned group",
            json!([with(plain(), "rotation", json!(24))]),
            around("transform:rotate(24deg)", &two_divs()),
        ),
        case(
            "a group that softens",
            json!([group((80.0, 60.0), two(), json!([coat("s", "blur", json!({"sigma": 4}))]))]),
            around("filter:blur(4px)", &two_divs()),
        ),
    ]
}

fn shaded() -> Vec<Case> {
    let shade = |numbers| json!([shadow("d", "drop", numbers, "rgb(20 30 60/.7)")]);
    let tint = coat("t", "tint", json!({"fill": solid("rgb(200 20 20/.5)")}));
    let beside = json!([
        piece("a", boxed(90.0, 60.0, 12.0), (0.0, 0.0), solid(GOLD), json!([])),
        piece("b", boxed(90.0, 60.0, 12.0), (120.0, 40.0), solid(BLUE), json!([])),
    ]);
    let over = |colour: &str, left: u32, top: u32| {
        div(&format!(
            "left:{left}px;top:{top}px;width:90px;height:60px;border-radius:12px;background:{colour}"
        ))
    };
    vec![
        case(
            "a group casts one shadow",
            json!([group((80.0, 60.0), two(), shade([4.0, 14.0, 20.0, 0.0]))]),
            around("filter:drop-shadow(4px 14px 10px rgb(20 30 60/.7))", &two_divs()),
        ),
        case(
            "a hard shadow of a faded group",
            json!([with(group((80.0, 60.0), two(), shade([9.0, 12.0, 0.0, 0.0])), "opacity", json!(0.6))]),
            around("filter:drop-shadow(9px 12px 0 rgb(20 30 60/.7));opacity:.6", &two_divs()),
        ),
        case(
            "a tint over a group",
            json!([group((80.0, 60.0), beside, json!([tint]))]),
            around(
                "isolation:isolate",
                &["#e0a030", "rgb(200 20 20/.5)"]
                    .iter()
                    .map(|colour| over(colour, 0, 0))
                    .chain([BLUE, "rgb(200 20 20/.5)"].iter().map(|colour| over(colour, 120, 40)))
                    .collect::<String>(),
            ),
        ),
    ]
}

fn within_one_another() -> Vec<Case> {
    let label = piece("label", boxed(60.0, 12.0, 6.0), (20.0, 30.0), solid("#ffffff"), json!([]));
    let raised = json!([shadow("d", "drop", [0.0, 6.0, 10.0, 0.0], "rgb(0 0 0/.6)")]);
    let button = piece("button", boxed(100.0, 70.0, 14.0), (0.0, 0.0), solid(BLUE), raised);
    let inner = with(group((30.0, 20.0), json!([button, label]), json!([])), "id", json!("inner"));
    let inner_html = |style: &str| {
        format!(
            "<div style=\"left:30px;top:20px;{style}\">{}{}</div>",
            div(&format!(
                "width:100px;height:70px;border-radius:14px;background:{BLUE};box-shadow:0 6px 10px rgb(0 0 0/.6)"
            )),
            div("left:20px;top:30px;width:60px;height:12px;border-radius:6px;background:#fff")
        )
    };
    let card = piece("card", boxed(210.0, 140.0, 20.0), (0.0, 0.0), solid("#fbf9f3"), json!([]));
    let card_html = div("width:210px;height:140px;border-radius:20px;background:#fbf9f3");
    let pane = piece(
        "pane",
        boxed(120.0, 80.0, 10.0),
        (60.0, 40.0),
        solid("rgb(255 255 255/.3)"),
        json!([coat("b", "backdrop", json!({"sigma": 6, "saturation": 1, "brightness": 1}))]),
    );
    let stripes = piece("stripe", boxed(210.0, 30.0, 0.0), (0.0, 60.0), solid("#202428"), json!([]));
    vec![
        case(
            "a button on a card, arranged",
            json!([group((80.0, 60.0), json!([card.clone(), inner.clone()]), json!([]))]),
            around("", &(card_html.clone() + &*inner_html(""))),
        ),
        case(
            "a faded button on a card in multiply",
            json!([with(
                group((80.0, 60.0), json!([card, with(inner, "opacity", json!(0.5))]), json!([])),
                "blend",
                json!("multiply")
            )]),
            around("mix-blend-mode:multiply", &(card_html + &*inner_html("opacity:.5"))),
        ),
        case(
            "what is behind a pane in a faded group is the group",
            json!([
                piece("below", boxed(400.0, 40.0, 0.0), (0.0, 90.0), solid("#c05030"), json!([])),
                with(group((80.0, 60.0), json!([stripes, pane]), json!([])), "opacity", json!(0.8)),
            ]),
            div("left:0;top:90px;width:400px;height:40px;background:#c05030")
                + &*around(
                    "opacity:.8",
                    &(div("top:60px;width:210px;height:30px;background:#202428")
                        + &*div(
                            "left:60px;top:40px;width:120px;height:80px;border-radius:10px;background:rgb(255 255 255/.3);backdrop-filter:blur(6px)",
                        )),
                ),
        ),
    ]
}
