//! `cargo xtask artwork FOLDER`: how SVG files of others come in. Each is brought in as a drawing and drawn by the core and by
//! Chromium, both at four times the size judged (96 px on the longer side) and averaged down; a line says how far they are apart
//! over the pixels that something touches, and how many of five elements were taken out as shapes, as drawings of one element, and
//! with a change of the picture. A measurement, not a test.

use std::path::PathBuf;

use serde_json::json;
use zolvet_e2e::artwork::{ACROSS, Artwork, STEP, meets_the_bar, name, page};
use zolvet_e2e::{Browser, Outcome};

#[tokio::main]
async fn main() -> Outcome {
    let folder = std::env::args().nth(1).ok_or("the folder of the files is missing")?;
    let mut files: Vec<PathBuf> =
        std::fs::read_dir(folder)?.map(|entry| Ok(entry?.path())).collect::<Outcome<_>>()?;
    files.sort();
    let side = STEP * ACROSS as u32;
    let browser = Browser::start(side, side).await?;
    let (mut refused, mut within, mut beyond) = (0, 0, 0);
    for chunk in files.chunks(ACROSS * ACROSS) {
        let mut drawn = Vec::new();
        for file in chunk {
            match Artwork::read(file) {
                Ok(artwork) => drawn.push(artwork),
                Err(error) => {
                    refused += 1;
                    println!("{}", json!({"file": name(file), "refused": error.to_string()}));
                }
            }
        }
        browser.show(&page(&drawn)).await?;
        let screen = browser.picture().await?;
        for (at, artwork) in drawn.iter().enumerate() {
            let off = artwork.compare(&screen, at)?;
            let meets = meets_the_bar(off);
            *(if meets { &mut within } else { &mut beyond }) += 1;
            println!("{}", artwork.line(off, meets));
        }
    }
    println!("{}", json!({"files": files.len(), "refused": refused, "within": within, "beyond": beyond}));
    browser.quit().await
}
