//! Inputs that are grown towards cost: for each reader, what takes the most bytes of memory, and the most time to guide the
//! search, for a byte of input. What is found is bounded, and what was found once stands below as a case.
//!
//! A short search each time; `ZOLVET_COSTLY_SECONDS=1200 cargo test -p zolvet-core --test costly` is a long one, and
//! `ZOLVET_SEED` begins elsewhere.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

mod costly {
    pub mod genome;
}

use std::alloc::System;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use costly::genome::{Chance, Grammar, Node};
use cpu_time::ThreadTime;
use json_patch::PatchOperation;
use serde_json::Value;
use stats_alloc::{INSTRUMENTED_SYSTEM, Region, StatsAlloc};
use zolvet_core::budget::Budget;
use zolvet_core::css;
use zolvet_core::geometry::icon::Icon;
use zolvet_core::model::Project;
use zolvet_core::{svg, tokens};

#[global_allocator]
static MEMORY: &StatsAlloc<System> = &INSTRUMENTED_SYSTEM;

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

/// What an input cost.
#[derive(Debug, Clone, Copy)]
struct Cost {
    /// Bytes that were asked for, one after another.
    allocated: usize,
    took: Duration,
}

impl Cost {
    fn new(read: &dyn Fn(&str), text: &str) -> Self {
        let region = Region::new(MEMORY);
        // Time of this thread: whatever else runs on the machine costs the input nothing.
        let start = ThreadTime::now();
        // What it refuses has ended.
        let _ = Budget::default().run(|| read(text));
        let took = start.elapsed();
        Self { allocated: region.change().bytes_allocated, took }
    }

    /// What the search looks for: a nanosecond counts as a byte does.
    fn weight(self, text: &str) -> f64 {
        (self.allocated as f64 + self.took.as_nanos() as f64) / (text.len() + 200) as f64
    }
}

/// Bytes that a reader may ask for in all, for each byte it reads, and for any input.
const MAX_BYTES_PER_BYTE: usize = 20_000;
const MAX_BYTES: usize = 64 << 20;
/// Time is no measure: it raises an alarm at what a helper is given for a file of any size.
const ALARM: Duration = Duration::from_secs(5);

fn seconds() -> f64 {
    std::env::var("ZOLVET_COSTLY_SECONDS").ok().and_then(|text| text.parse().ok()).unwrap_or(5.0)
}

/// One search at a time: memory is counted for all threads.
static ALONE: Mutex<()> = Mutex::new(());

/// Grows inputs for a reader, and looks at what each costs.
fn search(name: &str, grammar: &Grammar, read: impl Fn(&str)) {
    let _alone = ALONE.lock().unwrap_or_else(PoisonError::into_inner);
    let seed = std::env::var("ZOLVET_SEED").ok().and_then(|text| text.parse().ok()).unwrap_or(1);
    let (mut chance, start, mut tried) = (Chance::new(seed), Instant::now(), 0_usize);
    // The costliest come first.
    let mut best: Vec<(f64, Node)> = Vec::new();
    let mut costliest = (Cost { allocated: 0, took: Duration::ZERO }, String::new());
    while start.elapsed().as_secs_f64() < seconds() {
        let node = match best.len() {
            0..8 => Node::any(grammar, &mut chance, 4),
            // Somewhere else now and then, so that it does not climb the same hill for ever.
            _ if chance.below(12) == 0 => Node::any(grammar, &mut chance, 5),
            _ => {
                let at = chance.below(best.len()).min(chance.below(best.len()));
                best[at].1.changed(grammar, &mut chance)
            }
        };
        let Some(text) = node.written(grammar) else { continue };
        tried += 1;
        let cost = Cost::new(&read, &text);
        let may = MAX_BYTES + MAX_BYTES_PER_BYTE * text.len();
        let shown: String = text.chars().take(400).collect();
        assert!(
            cost.allocated <= may && cost.took < ALARM,
            "{name}: {cost:?} for {} bytes: {node:?}\n{shown}",
            text.len()
        );
        let weight = cost.weight(&text);
        if cost.took > costliest.0.took {
            costliest = (cost, format!("{} bytes, {shown}", text.len()));
        }
        let at = best.partition_point(|(other, _)| *other > weight);
        if at < 24 {
            best.insert(at, (weight, node));
            best.truncate(24);
        }
    }
    println!("{name}: {tried} inputs tried; the slowest {:?}: {}", costliest.0, costliest.1);
    assert!(tried > 50, "{name}: {tried} inputs tried");
}

#[test]
fn style_sheets() {
    let grammar = Grammar {
        around: ("", ""),
        between: " ",
        fragments: &[
            ".a{box-shadow:0 1px 2px red}",
            ".c# .d# .e#:hover>a{box-shadow:0 1px 2px red}",
            ".c#{box-shadow:var(--a#)}",
            ":root{--a#:var(--a@) var(--a@);--a0:red}",
            ":root{--a#:calc(var(--a@) + 1px)}",
            "a:hover,a:focus,.b#,.b@ ~ i{text-shadow:0 0 1px red}",
            ".x:not(.y#):is(.a,.b,.c#):has(.d#){filter:blur(2px)}",
            ":is(.a,.b):is(.c,.d) :is(.e,.f){box-shadow:inset 0 0 1px red}",
            "box-shadow:0 0 1px red;",
            "--a#:red;",
            "& &",
            "&.a#,& > &:hover",
            "@property --a#{syntax:'<color>';inherits:true;initial-value:red}",
            "box-shadow:0 1px calc(1px + 2px*(3 + 4)) color-mix(in oklch,red,blue);",
            "transition:box-shadow 1s,filter 2s;",
            "@import 'x#.css';",
            "[data-theme=t#] .a{box-shadow:0 0 1px blue}",
            "li:nth-child(2n + # of .a):hover{box-shadow:none}",
        ],
        pairs: &[
            ("& & &{", "}"),
            (".a~{", "}"),
            ("&:hover,&:focus{", "}"),
            ("@media (min-width:~px){", "}"),
            ("@layer l~{", "}"),
            ("@supports (x:y){", "}"),
            (":is(", ")"),
            (".p:not(", "){box-shadow:none}"),
            (".p{box-shadow:0 0 calc(", ") red}"),
            (".p{--b:", "}"),
            ("var(--a~,", ")"),
            ("(", ")"),
            ("{", "}"),
            ("/*", "*/"),
        ],
    };
    search("style sheets", &grammar, |text| drop(css::import(text)));
}

#[test]
fn declarations() {
    let grammar = Grammar {
        around: ("box-shadow:", ""),
        between: ",",
        fragments: &[
            "0 1px 2px red",
            "inset 1e9px 0 0 1px",
            "color-mix(in oklch,red,blue)",
            "calc(1px*2)",
            "1px",
            "red",
            ";filter:blur(1px)",
            "drop-shadow(0 0 1px red)",
            "min(1px,2px)",
        ],
        pairs: &[
            ("calc(", ")"),
            ("color-mix(in srgb,red,", ")"),
            ("(", ")"),
            ("min(1px,", ")"),
            ("rgb(from ", " r g b)"),
            ("var(--a,", ")"),
        ],
    };
    search("declarations", &grammar, |text| drop(css::read(text)));
}

#[test]
fn token_files() {
    let grammar = Grammar {
        around: ("{", "}"),
        between: ",",
        fragments: &[
            "\"t#\":{\"$type\":\"color\",\"$value\":\"{t@}\"}",
            "\"s#\":{\"$type\":\"shadow\",\"$value\":[\"{s@}\",\"{s@}\"]}",
            "\"s0\":{\"$type\":\"shadow\",\"$value\":{\"color\":\"#fff\",\"offsetX\":\"1px\",\"offsetY\":\"1px\",\"blur\":\"1px\",\"spread\":\"0px\"}}",
            "\"$extends\":\"{g@}\"",
            "\"a#\":{\"$ref\":\"#/a@\"}",
            "\"$type\":\"shadow\"",
            "\"t0\":{\"$value\":\"#fff\",\"$type\":\"color\"}",
        ],
        pairs: &[("\"g~\":{", "}"), ("\"$value\":[{", "}]"), ("\"$extensions\":{", "}")],
    };
    search("token files", &grammar, |text| drop(tokens::read(text)));
}

#[test]
fn svg_filters() {
    let grammar = Grammar {
        around: ("<svg xmlns='http://www.w3.org/2000/svg'>", "</svg>"),
        between: "",
        fragments: &[
            "<feGaussianBlur in='r@' stdDeviation='3' result='r#'/>",
            "<feOffset dx='1' in='r@' result='r#'/>",
            "<feMerge result='r#'><feMergeNode in='r@'/><feMergeNode in='r@'/></feMerge>",
            "<feMergeNode in='r@'/>",
            "<feComposite in='r@' in2='r@' operator='over' result='r#'/>",
            "<feFlood flood-color='red' result='r#'/>",
            "<feDropShadow dx='1' in='r@' result='r#'/>",
            "<rect width='9' height='9' filter='url(#f)'/>",
            "<style>.a{filter:url(#f)}</style>",
        ],
        pairs: &[
            ("<filter id='f'>", "</filter>"),
            ("<g>", "</g>"),
            ("<feMerge>", "</feMerge>"),
            ("<filter id='f~' href='#f'>", "</filter>"),
            ("<!--", "-->"),
        ],
    };
    search("svg filters", &grammar, |text| drop(svg::import(text)));
}

#[test]
fn icons() {
    let grammar = Grammar {
        around: ("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 24 24'>", "</svg>"),
        between: "",
        fragments: &[
            "<g id='g#'><use href='#g@'/><use href='#g@'/></g>",
            "<path id='g0' d='M0 0L9 9L0 9Z'/>",
            "<path d='M0 0C1 9 9 1 9 9S3 1 0 0' stroke='red' stroke-width='3' stroke-dasharray='.01'/>",
            "<circle cx='#' cy='9' r='9'/>",
            "<symbol id='g#'><use href='#g@'/></symbol>",
            "<pattern id='p#' width='1' height='1'><rect fill='url(#p@)' width='9' height='9'/></pattern>",
            "<mask id='m#'><rect mask='url(#m@)' width='9' height='9'/></mask>",
            "<clipPath id='c#'><rect clip-path='url(#c@)' width='9' height='9'/></clipPath>",
            "<rect width='9' height='9' class='a#' fill='url(#p3)' mask='url(#m3)'/>",
            "<style>.a#{fill:red} g>rect:first-child{stroke:red}</style>",
            "<text>a#</text>",
        ],
        pairs: &[
            ("<g>", "</g>"),
            ("<svg>", "</svg>"),
            ("<symbol id='s~'>", "</symbol>"),
            ("<a>", "</a>"),
            ("<switch>", "</switch>"),
            ("<g transform='rotate(3)'>", "</g>"),
            ("<defs>", "</defs>"),
        ],
    };
    search("icons", &grammar, |text| drop(Icon::read(text)));
}

#[test]
fn documents() {
    let grammar = Grammar {
        around: (
            "{\"schema\":2,\"name\":\"n\",\"themes\":[{\"id\":\"t\",\"name\":\"T\",\"scheme\":\"light\"}],\"scenes\":[{\"id\":\"s\",\"name\":\"S\",\"width\":100,\"height\":100,\"theme\":\"t\",\"ground\":{\"kind\":\"none\"},\"pieces\":[",
            "]}]}",
        ),
        between: ",",
        fragments: &[
            "{\"id\":\"p#\",\"name\":\"p\",\"shape\":{\"kind\":\"box\",\"w\":9,\"h\":9},\"x\":1,\"y\":1,\"fill\":{\"kind\":\"none\"},\"wear\":{\"coats\":[]}}",
            "{\"id\":\"p0\",\"name\":\"p\",\"clip_to\":\"p1\",\"shape\":{\"kind\":\"text\",\"string\":\"aaaa\",\"font\":\"Outfit\",\"size\":9},\"x\":1,\"y\":1}",
            "{\"kind\":\"drop\",\"offset\":{\"x\":1,\"y\":1}}",
            "1e308",
            "\"a\"",
        ],
        pairs: &[
            (
                "{\"id\":\"j~\",\"name\":\"j\",\"x\":0,\"y\":0,\"fill\":{\"kind\":\"none\"},\"wear\":{\"coats\":[]},\"shape\":{\"kind\":\"join\",\"op\":\"add\",\"parts\":[",
                "]}}",
            ),
            ("[", "]"),
            ("{\"a~\":", "}"),
        ],
    };
    search("documents", &grammar, |text| drop(Project::from_json(text)));
}

#[test]
fn patches() {
    let project = Project::from_json(DEMO).unwrap();
    let grammar = Grammar {
        around: ("[", "]"),
        between: ",",
        fragments: &[
            "{\"op\":\"replace\",\"path\":\"/name\",\"value\":\"n#\"}",
            "{\"op\":\"replace\",\"path\":\"/scenes/0/pieces/0/x\",\"value\":#}",
            "{\"op\":\"replace\",\"path\":\"/scenes/0/width\",\"value\":90}",
            "{\"op\":\"add\",\"path\":\"/scenes/0/pieces/0\",\"value\":{\"id\":\"p#\",\"name\":\"p\",\"shape\":{\"kind\":\"box\",\"w\":9,\"h\":9},\"x\":1,\"y\":1,\"fill\":{\"kind\":\"none\"},\"wear\":{\"coats\":[]}}}",
            "{\"op\":\"remove\",\"path\":\"/scenes/0/pieces/0\"}",
            "{\"op\":\"add\",\"path\":\"/finishes/0/coats/0/name\",\"value\":\"c#\"}",
            "{\"op\":\"remove\",\"path\":\"/finishes/1\"}",
            "{\"op\":\"add\",\"path\":\"/x/y/z/0\",\"value\":[]}",
            "{\"op\":\"add\",\"path\":\"/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a/a\",\"value\":1}",
        ],
        pairs: &[
            ("{\"op\":\"add\",\"path\":\"/x\",\"value\":[", "]}"),
            ("{\"op\":\"add\",\"path\":\"/scenes/0/name\",\"value\":{\"a\":", "}}"),
        ],
    };
    search("patches", &grammar, |text| {
        if let Ok(patch) = serde_json::from_str::<Vec<PatchOperation>>(text) {
            drop(project.edited(&patch));
        }
    });
}

/// What was found once: each may take what any input of its size may.
#[test]
fn what_was_found_once_costs_little() {
    let _alone = ALONE.lock().unwrap_or_else(PoisonError::into_inner);
    let may = |what: &str, text: &str, read: &dyn Fn(&str)| {
        let cost = Cost::new(read, text);
        println!("{what}: {} bytes, {cost:?}", text.len());
        assert!(cost.allocated <= MAX_BYTES + MAX_BYTES_PER_BYTE * text.len(), "{what}: {cost:?}");
        assert!(cost.took < ALARM, "{what}: {cost:?}");
    };
    let sheet: &dyn Fn(&str) = &|text| drop(css::import(text));
    let nested = |levels: usize| {
        format!(".a{{{}box-shadow:0 0 1px red{}}}", "& & &{".repeat(levels), "}".repeat(levels))
    };
    may("18 levels that triple", &nested(18), sheet);
    may("24 levels that triple", &nested(24), sheet);
    may(
        "levels with lists",
        &format!("{}box-shadow:0 0 1px red{}", ".a,.b,.c,&:hover{".repeat(20), "}".repeat(20)),
        sheet,
    );
    let tokens: &dyn Fn(&str) = &|text| drop(tokens::read(text));
    let extending = |other: usize| -> String {
        let members: Vec<_> =
            (0..40).map(|i| format!("\"h{i}\":{{\"$extends\":\"{{g{other}}}\"}}")).collect();
        members.join(",")
    };
    may(
        "groups that hold what extends one another",
        &format!("{{\"g0\":{{{}}},\"g1\":{{{}}}}}", extending(1), extending(0)),
        tokens,
    );
    let around: String = (0..40).map(|i| format!("\"g{i}\":{{\"$extends\":\"{{g0}}\",")).collect();
    may("groups that extend one around them", &format!("{{{around}\"s\":{{}}{}}}", "}".repeat(40)), tokens);
    let rules: String =
        (0..2_000).map(|i| format!(".c{i} .d{i} .e{i}:hover>a{{box-shadow:0 1px 2px red}}")).collect();
    may("2,000 rules about one kind of element", &rules, sheet);
    let project = Project::from_json(DEMO).unwrap();
    let patch: &dyn Fn(&str) =
        &|text| drop(project.edited(&serde_json::from_str::<Vec<PatchOperation>>(text).unwrap()));
    let step = |path: &str, value: Value| serde_json::json!({"op": "add", "path": path, "value": value});
    may(
        "a path of 50,000 parts",
        &serde_json::json!([step(&"/a".repeat(50_000), 1.into())]).to_string(),
        patch,
    );
    let in_turn: Vec<Value> = (0..3_000)
        .map(|i| step(if i % 2 == 0 { "/name" } else { "/scenes/0/pieces/0/x" }, i.into()))
        .collect();
    may("steps in turn", &Value::from(in_turn).to_string(), patch);
}
