//! Coats of every kind.

use serde_json::json;

use crate::case::{
    Case, STAR, blended, boxed, case, coat, div, piece, shadow, solid, star, svg, swept_star, with,
};

pub fn cases() -> Vec<Case> {
    [strokes(), on_the_surface_and_behind(), under_the_piece(), thickness_and_substitutes()].concat()
}

fn strokes() -> Vec<Case> {
    let stroke = |side, join, width, fill| {
        coat("s", "stroke", json!({"width": width, "side": side, "join": join, "fill": fill}))
    };
    let on_star = |coats| json!([piece("p", star(), (100.0, 60.0), solid("#e0a030"), coats)]);
    let lined = |width: f64, join: &str, order: &str| {
        svg(&format!(
            "<path d=\"{STAR}\" fill=#e0a030 stroke=#203050 stroke-width={width} stroke-linejoin={join} stroke-miterlimit=4 paint-order={order} transform=\"translate(100,60)\"/>"
        ))
    };
    let card = |coats| json!([piece("p", boxed(200.0, 120.0, 24.0), (100.0, 90.0), solid("#2f7d6b"), coats)]);
    let ring = solid("#203050");
    vec![
        case(
            "stroke across, mitred",
            on_star(json!([stroke("centre", "miter", 10.0, ring.clone())])),
            lined(10.0, "miter", "normal"),
        ),
        case(
            "stroke outside, rounded",
            on_star(json!([stroke("outside", "round", 9.0, ring.clone())])),
            lined(18.0, "round", "stroke"),
        ),
        case(
            "stroke outside, bevelled",
            on_star(json!([stroke("outside", "bevel", 9.0, ring.clone())])),
            lined(18.0, "bevel", "stroke"),
        ),
        case(
            "a border and what it casts",
            card(json!([
                shadow("i", "inner", [0.0, 6.0, 8.0, 0.0], "rgb(0 0 0/.6)"),
                stroke("outside", "miter", 7.0, ring.clone()),
                shadow("d", "drop", [0.0, 12.0, 16.0, 2.0], "rgb(0 0 0/.6)")
            ])),
            div(
                "left:93px;top:83px;width:200px;height:120px;border-radius:31px;border:7px solid #203050;background:#2f7d6b;box-shadow:inset 0 6px 8px rgb(0 0 0/.6),0 12px 16px 2px rgb(0 0 0/.6)",
            ),
        ),
        case(
            "a border inside",
            card(json!([
                shadow("i", "inner", [0.0, 6.0, 8.0, 0.0], "rgb(0 0 0/.6)"),
                stroke("inside", "miter", 7.0, ring)
            ])),
            div(
                "left:100px;top:90px;width:200px;height:120px;box-sizing:border-box;border-radius:24px;border:7px solid #203050;background:#2f7d6b;box-shadow:inset 0 6px 8px rgb(0 0 0/.6)",
            ),
        ),
    ]
}

fn on_the_surface_and_behind() -> Vec<Case> {
    let card = |coats| json!([piece("p", boxed(200.0, 120.0, 24.0), (100.0, 90.0), solid("#2f7d6b"), coats)]);
    vec![
        case(
            "tint",
            card(json!([coat("t", "tint", json!({"opacity": 0.5, "fill": {"kind": "linear", "angle": 180, "stops": [{"at": 0, "colour": "white"}, {"at": 1, "colour": "black"}]}}))])),
            div("left:100px;top:90px;width:200px;height:120px;border-radius:24px;background:linear-gradient(180deg,rgb(255 255 255/.5),rgb(0 0 0/.5)),#2f7d6b"),
        ),
        case(
            "blur",
            card(json!([coat("b", "blur", json!({"sigma": 3})), coat("c", "blur", json!({"sigma": 4})), shadow("i", "inner", [0.0, 10.0, 6.0, 0.0], "white")])),
            div("left:100px;top:90px;width:200px;height:120px;border-radius:24px;background:#2f7d6b;box-shadow:inset 0 10px 6px white;filter:blur(5px)"),
        ),
        case(
            "highlight",
            card(json!([coat("h", "highlight", json!({"spot": {"shape": {"kind": "ellipse", "w": 160, "h": 50}, "x": 20, "y": -14}, "fill": {"kind": "linear", "angle": 180, "stops": [{"at": 0, "colour": "white"}, {"at": 1, "colour": "rgb(255 255 255/.3)"}]}, "blur": 16}))])),
            format!("<div style=\"left:100px;top:90px;width:200px;height:120px;border-radius:24px;background:#2f7d6b;overflow:hidden\">{}</div>",
                div("left:20px;top:-14px;width:160px;height:50px;border-radius:50%;background:linear-gradient(180deg,white,rgb(255 255 255/.3));filter:blur(8px)")),
        ),
        blended(
            "backdrop",
            json!([
                piece("a", boxed(60.0, 200.0, 0.0), (120.0, 40.0), solid("#101010"), json!([])),
                piece("b", boxed(30.0, 180.0, 0.0), (230.0, 60.0), solid("#ffffff"), json!([])),
                piece("p", boxed(220.0, 120.0, 28.0), (90.0, 90.0), solid("rgb(255 255 255/.2)"), json!([coat("f", "backdrop", json!({"sigma": 9, "saturation": 1.6, "brightness": 0.9}))])),
            ]),
            [
                div("left:120px;top:40px;width:60px;height:200px;background:#101010"),
                div("left:230px;top:60px;width:30px;height:180px;background:#fff"),
                div("left:90px;top:90px;width:220px;height:120px;border-radius:28px;background:rgb(255 255 255/.2);backdrop-filter:blur(9px) saturate(1.6) brightness(.9)"),
            ].concat(),
        ),
        case(
            "inner shadow of a path, and a falloff",
            json!([piece("p", star(), (100.0, 60.0), solid("#e0a030"), json!([
                shadow("i", "inner", [0.0, 6.0, 10.0, 0.0], "rgb(60 0 0/.8)"),
                with(shadow("d", "drop", [0.0, 14.0, 24.0, 0.0], "#203050"), "falloff", json!({"points": [{"from": 0, "to": 0}, {"from": 0.25, "to": 0.7}, {"from": 0.5, "to": 0.1}, {"from": 0.75, "to": 0.9}, {"from": 1, "to": 1}]})),
            ]))]),
            svg(&format!("<filter id=f x=0 y=0 width=400 height=300 filterUnits=userSpaceOnUse color-interpolation-filters=sRGB>\
                <feGaussianBlur in=SourceAlpha stdDeviation=12 /><feOffset dy=14 /><feComponentTransfer result=s><feFuncA type=table tableValues=\"0 .7 .1 .9 1\"/></feComponentTransfer>\
                <feFlood flood-color=#203050 /><feComposite in2=s operator=in result=d />\
                <feGaussianBlur in=SourceAlpha stdDeviation=5 /><feOffset dy=6 result=hole /><feFlood flood-color=\"rgb(60 0 0)\" flood-opacity=.8 />\
                <feComposite in2=hole operator=out /><feComposite in2=SourceAlpha operator=in result=i />\
                <feMerge><feMergeNode in=d /><feMergeNode in=SourceGraphic /><feMergeNode in=i /></feMerge></filter>\
                <g filter=\"url(#f)\"><path d=\"{STAR}\" fill=#e0a030 transform=\"translate(100,60)\"/></g>")),
        ),
    ]
}

fn under_the_piece() -> Vec<Case> {
    vec![
        case(
            "cast, evenly soft",
            json!([piece(
                "p",
                star(),
                (100.0, 30.0),
                solid("#c05030"),
                json!([coat(
                    "c",
                    "cast",
                    json!({"shear": 0.5, "squash": -0.35, "anchor": 1, "blur_near": 6, "blur_far": 6, "colour": "rgb(0 0 0/.6)", "fade": 0})
                )])
            )]),
            format!(
                "{}{}",
                svg(&format!(
                    "<g style=\"filter:blur(3px)\"><path d=\"{STAR}\" fill=\"rgb(0 0 0/.6)\" transform=\"matrix(1 0 -.5 -.35 110 297) translate(100,30)\"/></g>"
                )),
                svg(&format!("<path d=\"{STAR}\" fill=#c05030 transform=\"translate(100,30)\"/>"))
            ),
        ),
        case(
            "a drop shadow that runs on under a see-through box",
            json!([piece(
                "p",
                boxed(160.0, 90.0, 0.0),
                (110.0, 90.0),
                solid("rgb(255 255 255/.4)"),
                json!([with(
                    shadow("d", "drop", [8.0, 10.0, 12.0, 0.0], "black"),
                    "knock_out",
                    json!(false)
                )])
            )]),
            format!(
                "{}{}",
                div("left:118px;top:100px;width:160px;height:90px;background:black;filter:blur(6px)"),
                div("left:110px;top:90px;width:160px;height:90px;background:rgb(255 255 255/.4)")
            ),
        ),
    ]
}

fn thickness_and_substitutes() -> Vec<Case> {
    vec![
        case(
            "thickness",
            json!([piece(
                "p",
                star(),
                (80.0, 40.0),
                solid("#e0a030"),
                json!([coat(
                    "e",
                    "extrude",
                    json!({"offset": {"x": 37, "y": 24}, "near": "#803010", "far": "#803010"})
                )])
            )]),
            svg(&format!(
                "<g transform=\"translate(80,40)\"><path d=\"{}\" fill=#803010 /><path d=\"{STAR}\" fill=#e0a030 /></g>",
                swept_star(37.0, 24.0)
            )),
        ),
        case(
            "a substitute shape",
            json!([piece(
                "p",
                json!({"kind": "ellipse", "w": 120, "h": 120}),
                (140.0, 60.0),
                solid("#c05030"),
                json!([with(
                    shadow("d", "drop", [0.0, 0.0, 14.0, 0.0], "rgb(0 0 0/.7)"),
                    "substitute",
                    json!({"shape": {"kind": "ellipse", "w": 100, "h": 22}, "x": 10, "y": 112})
                )])
            )]),
            format!(
                "{}{}",
                div(
                    "left:150px;top:172px;width:100px;height:22px;border-radius:50%;background:rgb(0 0 0/.7);filter:blur(7px)"
                ),
                div("left:140px;top:60px;width:120px;height:120px;border-radius:50%;background:#c05030")
            ),
        ),
    ]
}
