//! Stand-alone SVG files of the demo's scenes as Chromium, resvg and librsvg draw them, against the core's own pictures.

#![allow(clippy::expect_used, clippy::unwrap_used, missing_docs)]

use std::io::Write as _;
use std::process::{Command, Stdio};

use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::lower::Fidelity;
use zolvet_core::model::Project;
use zolvet_core::picture::Picture;
use zolvet_core::resolve;
use zolvet_core::svg::{Backdrops, standalone};
use zolvet_e2e::{Browser, Difference, Outcome, crop, keep_pictures};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

fn by_resvg(svg: &str) -> Outcome<Picture> {
    let tree = resvg::usvg::Tree::from_str(svg, &resvg::usvg::Options::default())?;
    let (width, height) = (tree.size().width() as u32, tree.size().height() as u32);
    let mut pixels = resvg::tiny_skia::Pixmap::new(width, height).ok_or("no room")?;
    resvg::render(&tree, resvg::tiny_skia::Transform::identity(), &mut pixels.as_mut());
    Ok(Picture { width, height, rgba: pixels.data().to_vec() })
}

fn by_librsvg(svg: &str) -> Outcome<Picture> {
    let mut program = Command::new("rsvg-convert").stdin(Stdio::piped()).stdout(Stdio::piped()).spawn()?;
    program.stdin.take().ok_or("no way in")?.write_all(svg.as_bytes())?;
    let output = program.wait_with_output()?;
    assert!(output.status.success(), "see above");
    Ok(Picture::from_png(&output.stdout)?)
}

#[tokio::test]
async fn three_renderers_draw_what_the_core_draws() -> Outcome {
    let project = Project::from_json(DEMO).unwrap();
    let (assets, cache) = (Assets::carried_by(&project), MaskCache::default());
    let browser = Browser::start(1400, 1000).await?;
    let mut failures = Vec::new();
    for scene in &project.scenes {
        let resolved = resolve::scene(&project, scene, &assets);
        let bare = resolve::Scene { pieces: Vec::new(), ..resolved.clone() };
        let drawn = |scene: &resolve::Scene| {
            picture(scene, &Viewport::whole(scene, 1.0), &RenderOptions::default(), Rounding::Nearest, &cache)
        };
        let (ours, ground) = (drawn(&resolved), drawn(&bare));
        // What SVG cannot hold is drawn in as a picture; left out, it is said.
        let file = standalone(&resolved, Backdrops::Pictures);
        let without = standalone(&resolved, Backdrops::LeftOut);
        assert_eq!(
            without.notes.iter().any(|note| note.fidelity == Fidelity::Dropped),
            scene.name == "Greenhouse bar"
        );
        browser.show(&format!("<!doctype html><body style=\"margin:0\">{}", file.svg)).await?;
        let chromium = crop(&browser.picture().await?, 0, 0, ours.width, ours.height);
        for (who, theirs) in
            [("Chromium", chromium), ("resvg", by_resvg(&file.svg)?), ("librsvg", by_librsvg(&file.svg)?)]
        {
            let off = Difference::touched(&ours, &theirs, &ground);
            println!("{:14} {who:9} {off:?}", scene.name);
            if !off.meets_the_bar_but_for_edges() {
                keep_pictures(&format!("{}-{who}", scene.name), &ours, &theirs)?;
                failures.push(format!("{} in {who}: {off:?}", scene.name));
            }
        }
    }
    assert!(failures.is_empty(), "{failures:#?}");
    browser.quit().await
}
