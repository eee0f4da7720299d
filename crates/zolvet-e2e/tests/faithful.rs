//! What faithfulness says a browser will show, against what Chromium shows: every demo finish and every starter, in
//! every target, from the code as it is handed off (docs/measuring.md, "Bars").

#![allow(clippy::expect_used, clippy::unwrap_used, clippy::panic, missing_docs)]

use std::fmt::Write as _;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use zolvet_core::asset::Assets;
use zolvet_core::chromium::{predicted, shown_as_svg};
use zolvet_core::compose::{MaskCache, Viewport};
use zolvet_core::css::{CodeOptions, piece_code};
use zolvet_core::lower::{LITTLE_BLUR, Target, TrialPiece, lower, targets_of, trial};
use zolvet_core::model::{Coat, FontSize, OwnCoats, Project, Px, Scene, Shape, Size, Wear};
use zolvet_core::picture::Picture;
use zolvet_core::report::starters;
use zolvet_core::resolve::{self, PieceStates};
use zolvet_core::svg::{Backdrops, standalone};
use zolvet_e2e::{Browser, Difference, keep_pictures};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

fn page() -> String {
    let font = STANDARD.encode(include_bytes!("../../../assets/fonts/archivo-black/archivo-black-400.ttf"));
    format!(
        "<!doctype html><meta charset=utf-8><style>@font-face{{font-family:'Archivo Black';src:url(data:font/ttf;base64,{font})}}\
         body{{margin:0;overflow:hidden}}#at{{position:absolute}}:where(#at>*){{position:absolute;left:0;top:0;margin-block:0;text-rendering:geometricPrecision}}</style>\
         <style id=css></style><body><div id=filters></div><div id=at></div><p style='position:absolute;left:-999px;font:400 20px \"Archivo Black\"'>0</p>"
    )
}

/// As large as the pictures of the other comparisons, so that the bar means the same.
const WIDTH: u32 = 480;
const HEIGHT: u32 = 360;

fn roomy(mut scene: Scene) -> Scene {
    let (width, height) = (f64::from(WIDTH), f64::from(HEIGHT));
    let (right, down) = ((width - scene.width.get()) / 2.0, (height - scene.height.get()) / 2.0);
    (scene.width, scene.height) = (Size::new(width).unwrap(), Size::new(height).unwrap());
    for piece in &mut scene.pieces {
        if let Shape::Text(text) = &mut piece.shape {
            text.size = FontSize::new(64.0).unwrap();
        }
        piece.x = Px::new(piece.x.get() + right).unwrap();
        piece.y = Px::new(piece.y.get() + down).unwrap();
    }
    scene
}

struct Stack {
    name: String,
    coats: Vec<Coat>,
}

fn stacks(project: &Project) -> Vec<Stack> {
    let finish = |finish: &zolvet_core::model::Finish| Stack {
        name: finish.name.clone(),
        coats: finish.coats.clone(),
    };
    let mut stacks: Vec<Stack> = project.finishes.iter().map(finish).collect();
    let bare = Wear::Coats(OwnCoats { coats: Vec::new() });
    let scene = trial(&project.themes[0].id, &bare, TrialPiece::Box, false);
    let offered = starters(project, &scene.pieces[0], &Assets::default());
    stacks.extend(
        offered.into_iter().map(|starter| Stack { name: starter.name.to_owned(), coats: starter.coats }),
    );
    stacks
}

async fn agrees(on: TrialPiece) {
    let project = Project::from_json(DEMO).expect("the demo");
    let assets = Assets::carried_by(&project);
    let browser = Browser::start(WIDTH, HEIGHT).await.expect("Chromium");
    browser.show(&page()).await.expect("the page");
    let stacks = stacks(&project);
    let stack_count = stacks.len();
    assert_eq!(stack_count, project.finishes.len() + 12, "demo finishes and starters");
    let mut trials =
        Trials { on, browser, cache: MaskCache::default(), compared: 0, failures: String::new() };
    for Stack { name, coats } in stacks {
        let wear = Wear::Coats(OwnCoats { coats });
        let scene = roomy(trial(&project.themes[0].id, &wear, on, false));
        let resolved = resolve::scene(&project, &scene, &assets);
        let shape = &scene.pieces[0].shape;
        for target in targets_of(&resolved.pieces[0], matches!(shape, Shape::Text(_))) {
            trials.compare_css(&name, &resolved, shape, target).await;
        }
        trials.compare_svg(&name, &resolved).await;
    }
    trials.browser.quit().await.expect("the end");
    let targets = if on == TrialPiece::Icon { 2 } else { 3 };
    assert_eq!(trials.compared, stack_count * targets);
    assert!(trials.failures.is_empty(), "not what was promised:\n{}", trials.failures);
}

/// Compares predictions with the browser's pictures of the code.
struct Trials {
    on: TrialPiece,
    browser: Browser,
    cache: MaskCache,
    compared: usize,
    failures: String,
}

impl Trials {
    async fn compare_css(&mut self, name: &str, resolved: &resolve::Scene, shape: &Shape, target: Target) {
        let piece = &resolved.pieces[0];
        let options = CodeOptions { target: Some(target), ..CodeOptions::default() };
        let code = piece_code(piece, shape, &PieceStates::default(), options);
        let viewport = Viewport::whole(resolved, 1.0);
        let promised = predicted(resolved, &lower(piece, target), &viewport, &self.cache).unwrap();
        let script = format!(
            "document.body.style.background = '#e9e5da'; document.getElementById('css').textContent = {};
             document.getElementById('filters').innerHTML = '<svg width=0 height=0 style=\"position:absolute\">' + {} + '</svg>';
             const at = document.getElementById('at'); at.style.left = '{}px'; at.style.top = '{}px'; at.innerHTML = {};",
            serde_json::json!(code.css),
            serde_json::json!(code.filters),
            piece.x,
            piece.y,
            serde_json::json!(code.html),
        );
        let theirs = self.shown(script).await;
        let difference = Difference::touched(&promised.shown, &theirs, &promised.before);
        println!("{} {name} {target:?}", numbers(&difference));
        self.compared += 1;
        if !difference.meets_the_bar_but_for_edges() {
            let _ = writeln!(self.failures, "{difference:?} {name} as {target:?}\n{}", code.css);
            self.keep(&format!("{name}-{target:?}"), &promised.shown, &theirs);
        }
    }

    async fn compare_svg(&mut self, name: &str, resolved: &resolve::Scene) {
        let file = standalone(resolved, Backdrops::LeftOut);
        let script = format!(
            "document.getElementById('css').textContent = ''; document.getElementById('filters').innerHTML = '';
             const at = document.getElementById('at'); at.style.left = at.style.top = 0; at.innerHTML = {};",
            serde_json::json!(file.svg)
        );
        let theirs = self.shown(script).await;
        let viewport = Viewport::whole(resolved, 1.0);
        let promised = shown_as_svg(resolved, &viewport, &self.cache);
        let bare = resolve::Scene { pieces: Vec::new(), ..resolved.clone() };
        let ground = shown_as_svg(&bare, &viewport, &self.cache);
        let difference = Difference::touched(&promised, &theirs, &ground);
        let exact = file.notes.iter().all(|note| note.message == LITTLE_BLUR);
        println!("{} {name} SVG{}", numbers(&difference), if exact { "" } else { ", not exact" });
        if exact && !difference.meets_the_bar_but_for_edges() {
            let _ = writeln!(self.failures, "{difference:?} {name} as SVG");
            self.keep(&format!("{name}-svg"), &promised, &theirs);
        }
    }

    async fn shown(&self, script: String) -> Picture {
        self.browser.driver.execute(script, vec![]).await.expect("the code on the page");
        self.browser.picture().await.expect("a picture")
    }

    fn keep(&self, name: &str, promised: &Picture, theirs: &Picture) {
        keep_pictures(&format!("{:?}-{name}", self.on), promised, theirs).expect("written");
    }
}

fn numbers(difference: &Difference) -> String {
    let Difference { mean, p99, p999, worst, .. } = difference;
    format!("{mean:.3} {p99:2} {p999:3} {worst:3} ")
}

#[tokio::test]
async fn boxes_show_what_was_promised() {
    agrees(TrialPiece::Box).await;
}

#[tokio::test]
async fn text_shows_what_was_promised() {
    agrees(TrialPiece::Text).await;
}

#[tokio::test]
async fn icons_show_what_was_promised() {
    agrees(TrialPiece::Icon).await;
}
