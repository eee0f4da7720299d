//! `cargo run -p zolvet-e2e --bin judge FILE…`: compares our reading of each style sheet with Chromium's computed
//! values.

use zolvet_core::css::StyleFile;
use zolvet_e2e::{Browser, Outcome, judge};

#[tokio::main]
async fn main() -> Outcome {
    let browser = Browser::with_mouse(1280, 800).await?;
    let verbose = std::env::args().any(|argument| argument == "--all");
    for path in std::env::args().skip(1).filter(|argument| !argument.starts_with("--")) {
        let css = std::fs::read_to_string(&path)?;
        let found = judge(&browser, &[StyleFile { name: "", css: &css }]).await?;
        let most = if verbose { usize::MAX } else { 6 };
        println!(
            "{path}: {} declarations, {} set from outside, {:.1} % of the others read; {} values compared, {} wrong",
            found.declarations,
            found.open,
            found.share() * 100.0,
            found.compared,
            found.wrong.len()
        );
        for line in found.wrong.iter().take(most) {
            println!("    wrong: {line}");
        }
        for line in found.unread.iter().take(most) {
            println!("    not read: {line}");
        }
    }
    browser.quit().await
}
