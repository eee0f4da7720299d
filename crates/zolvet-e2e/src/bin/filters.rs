//! `cargo run -p zolvet-e2e --bin filters FILE…`: the filters of SVG files as we read and draw them, beside Chromium's
//! own drawing of the same filters on the same box. Regions are made wide, so that shadows are compared, not where they
//! are cut.

use serde_json::json;
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::import::Diagnostic;
use zolvet_core::model::{Finish, Project};
use zolvet_core::picture::Picture;
use zolvet_core::{resolve, svg};
use zolvet_e2e::{Browser, Difference, Outcome, crop};

#[tokio::main]
async fn main() -> Outcome {
    let browser = Browser::start(640, 480).await?;
    let (mut files, mut refused, mut within, mut told, mut silent) = (0, 0, 0, 0, 0);
    for path in std::env::args().skip(1) {
        files += 1;
        let text = std::fs::read_to_string(&path)?;
        let read = match svg::import(&text) {
            Ok(read) => read,
            Err(error) => {
                refused += 1;
                println!("refused {path}: {error}");
                continue;
            }
        };
        for finish in &read.finishes {
            let (ours, ground) = (drawn(Some(finish))?, drawn(None)?);
            let theirs = theirs(&browser, &text, &finish.name).await?;
            let off = Difference::touched(&ours, &theirs, &ground);
            if off.meets_the_bar_but_for_edges() {
                within += 1;
            } else if !is_told(&text, &finish.name, &read.diagnostics) {
                silent += 1;
                println!("differs {path}: {}: {off:?}", finish.name);
            } else {
                told += 1;
            }
        }
    }
    println!(
        "{files} files, {refused} refused; filters: {within} within the bar, {told} said to differ, {silent} neither"
    );
    browser.quit().await
}

/// Whether something is said about a filter: at one of its lines.
fn is_told(file: &str, name: &str, diagnostics: &[Diagnostic]) -> bool {
    let line = |at: usize| file[..at].matches('\n').count() + 1;
    let lines = file.find(&format!("id=\"{name}\"")).map(|at| {
        let start = file[..at].rfind("<filter").unwrap_or(at);
        (line(start), line(file[at..].find("</filter>").map_or(file.len(), |end| at + end)))
    });
    let (first, last) = lines.unwrap_or((1, usize::MAX));
    let is_its = |place: &String| {
        let at = place.split(':').next().and_then(|line| line.parse::<usize>().ok());
        at.is_some_and(|at| (first..=last).contains(&at))
    };
    diagnostics.iter().any(|one| {
        // What many filters of a file have in common is said with the places of the first.
        let unlisted = one.count > 1 + one.places.len();
        unlisted || is_its(&one.place) || one.places.iter().any(is_its)
    })
}

/// A box that wears a finish, as the core draws it; without one, the ground alone.
fn drawn(finish: Option<&Finish>) -> Outcome<Picture> {
    let pieces: Vec<_> = finish
        .iter()
        .map(|finish| {
            json!({"id": "p", "name": "Box", "shape": {"kind": "box", "w": 120, "h": 90, "radii": 14}, "x": 100, "y": 75,
                "fill": {"kind": "solid", "colour": "#3f7d6b"}, "wear": {"coats": finish.coats}})
        })
        .collect();
    let document = json!({"schema": 2, "name": "Filter", "themes": [{"id": "day", "name": "Day", "scheme": "light"}], "scale": [],
        "scenes": [{"id": "s", "name": "S", "width": 320, "height": 240, "theme": "day", "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}]});
    let project = Project::from_value(&document).map_err(|problems| format!("{problems:?}"))?;
    let resolved = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let view = Viewport::whole(&resolved, 1.0);
    Ok(picture(&resolved, &view, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default()))
}

/// The same box with the filter itself, as Chromium draws it.
async fn theirs(browser: &Browser, file: &str, id: &str) -> Outcome<Picture> {
    browser.show("<!doctype html><body style='margin:0;background:#e8e4da'></body>").await?;
    let build = "const file = new DOMParser().parseFromString(arguments[0], 'image/svg+xml').documentElement;
        const filters = [...file.getElementsByTagName('filter')];
        // A filter without a name is known by its number.
        const filter = filters.find((one) => one.id === arguments[1]) ?? filters[Number(arguments[1].split(' ')[1]) - 1];
        filter.id ||= arguments[1];
        for (const [name, value] of Object.entries({x: '-100%', y: '-100%', width: '300%', height: '300%', filterUnits: 'objectBoundingBox'})) filter.setAttribute(name, value);
        const away = document.createElement('div');
        away.style = 'position:absolute;width:0;height:0;overflow:hidden';
        away.append(file);
        document.body.append(away);
        document.body.insertAdjacentHTML('beforeend', `<svg width='320' height='240' style='position:absolute;left:0;top:0'><rect x='100' y='75' width='120' height='90' rx='14' fill='#3f7d6b' filter='url(#${CSS.escape(arguments[1])})'/></svg>`);";
    browser.driver.execute(build, vec![json!(file), json!(id)]).await?;
    Ok(crop(&browser.picture().await?, 0, 0, 320, 240))
}
