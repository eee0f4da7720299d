//! Where a sheet lands: on pages with sheets of others, in themes within themes, in shadow roots.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, Style, sheet};
use zolvet_core::lower::Numbers;
use zolvet_core::model::Project;
use zolvet_e2e::{Browser, Outcome, assert_same, computed};

const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

fn css(document: &Value, wanted: SheetOptions) -> String {
    let project = Project::from_value(document).unwrap();
    sheet(&project, &Assets::carried_by(&project), &SheetOptions { numbers: Numbers::Exact, ..wanted })
}

fn demo() -> Value {
    serde_json::from_str(DEMO).unwrap()
}

/// An element for every class that a sheet defines with this prefix, and what others commonly call theirs.
fn elements(prefix: &str) -> String {
    let names = [
        "laid",
        "lifted",
        "pressed",
        "sunk",
        "hung",
        "night-card",
        "enamel-icon",
        "carved-text",
        "frosted-pane",
    ];
    let own = names
        .iter()
        .map(|name| format!("<div class=\"{prefix}-{name}\" data-what=\"{prefix}-{name}\"></div>"));
    let common = ["progress", "card", "button", "rule", "icon", "light-box"];
    let others = common.iter().map(|name| {
        format!("<div class=\"{name}\" style=\"--fill: 3px; --light: 2; padding: var(--fill)\" data-what=\"{name}\"></div>")
    });
    own.chain(others).collect()
}

/// Two projects on one page, in either order, change nothing of one another, nor of what others call theirs.
#[tokio::test]
async fn two_projects_on_one_page_leave_one_another_alone() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let mut other = demo();
    other["prefix"] = json!("zz");
    other["lights"][0]["bearing"] = json!(120);
    other["swatches"][0]["values"]["day"] = json!("#b03060");
    other["finishes"][1]["coats"][0]["blur"] = json!(9);
    for style in [Style::Living, Style::Flat] {
        let wanted = || SheetOptions { style, scenes: true, ..SheetOptions::default() };
        let (ours, theirs) = (css(&demo(), wanted()), css(&other, wanted()));
        for (mine, added, prefix) in [(&ours, &theirs, "qa"), (&theirs, &ours, "zz")] {
            let alone = computed(&browser, mine, &elements(prefix), "").await?;
            for both in [format!("{mine}{added}"), format!("{added}{mine}")] {
                assert_same(&alone, &computed(&browser, &both, &elements(prefix), "").await?);
            }
        }
    }
    browser.quit().await
}

/// On the page of a component library or of utility classes a sheet says what it says alone, and the library what it does.
#[tokio::test]
async fn pages_of_libraries_stay_as_they_are() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let ours = css(&demo(), SheetOptions::default());
    let theirs = "<button class=\"btn btn-primary button\" data-what=\"button\">B</button>
        <div class=\"card shadow-lg dark\" data-what=\"card\"><div class=\"progress shadow\" data-what=\"progress\"></div></div>
        <div class=\"mantine-Paper-root\" data-what=\"paper\"></div>";
    for library in [
        "crates/zolvet-e2e/sheets/node_modules/bootstrap/dist/css/bootstrap.css",
        "crates/zolvet-e2e/sheets/node_modules/tailwindcss/dist/tailwind.css",
        "web/node_modules/@mantine/core/styles.layer.css",
    ] {
        let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
        let library = std::fs::read_to_string(root.join(library))?;
        let alone = computed(&browser, &library, theirs, "").await?;
        let shadows = shadows_of(&browser, &ours).await?;
        for both in [format!("{library}{ours}"), format!("{ours}{library}")] {
            assert_same(&alone, &computed(&browser, &both, theirs, "").await?);
            assert_eq!(shadows_of(&browser, &both).await?, shadows);
        }
    }
    browser.quit().await
}

/// What the classes of a sheet say of depth on a page with these sheets.
async fn shadows_of(browser: &Browser, css: &str) -> Outcome<Value> {
    browser.show(&format!("<!doctype html><style>{css}</style>{}", elements("qa"))).await?;
    let found = browser
        .driver
        .execute(
            "return [...document.querySelectorAll('[class^=qa-]')].map((element) => {
               const { boxShadow, textShadow, filter, backdropFilter } = getComputedStyle(element);
               return [boxShadow, textShadow, filter, backdropFilter];
             });",
            vec![],
        )
        .await?;
    Ok(found.json().clone())
}

/// The theme of the nearest element that begins one holds, on the element itself as on what it lies in, in any nesting; where there
/// is none, the reader's preference does.
#[tokio::test]
async fn the_nearest_theme_holds() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let begins = [
        ("", ""),
        ("class=\"light\"", "day"),
        ("data-theme=\"day\"", "day"),
        ("class=\"dark\"", "dusk"),
        ("data-theme=\"dark\"", "dusk"),
    ];
    let own = [("", ""), ("light", "day"), ("dark", "dusk")];
    let mut html = String::new();
    let mut expected = Vec::new();
    for (outer, outer_theme) in begins {
        for (inner, inner_theme) in begins {
            for (class, own_theme) in own {
                html.push_str(&format!(
                    "<div {outer}><p {inner}><b class=\"qa-laid {class}\"></b><b class=\"qa-lifted {class}\"></b></p></div>"
                ));
                let nearest =
                    [own_theme, inner_theme, outer_theme].into_iter().find(|theme| !theme.is_empty());
                expected.push(nearest.unwrap_or_default());
            }
        }
    }
    const SHADOWS: &str =
        "return [...document.querySelectorAll('b')].map((element) => getComputedStyle(element).boxShadow)";
    let shown = async |css: &str, html: &str| -> Outcome<Vec<String>> {
        browser.show(&format!("<!doctype html><style>{css}</style>{html}")).await?;
        let found = browser.driver.execute(SHADOWS, vec![]).await?.json().clone();
        Ok(serde_json::from_value(found)?)
    };
    let mut only = Vec::new();
    for theme in ["day", "dusk"] {
        let theme = serde_json::from_value(json!(theme))?;
        let sheet = css(&demo(), SheetOptions { theme: Some(theme), ..SheetOptions::default() });
        only.push(shown(&sheet, "<b class=\"qa-laid\"></b><b class=\"qa-lifted\"></b>").await?);
    }
    assert!(only[0][0] != only[1][0] && only[0][1] != only[1][1], "{only:?}");
    for preference in ["light", "dark"] {
        let media = json!({"features": [{"name": "prefers-color-scheme", "value": preference}]});
        browser.driver.cdp().send_raw("Emulation.setEmulatedMedia", media).await?;
        let found = shown(&css(&demo(), SheetOptions::default()), &html).await?;
        for (at, pair) in found.chunks(2).enumerate() {
            let is_dusk = expected[at] == "dusk" || (expected[at].is_empty() && preference == "dark");
            assert_eq!(pair, &only[usize::from(is_dusk)][..], "{at}: {} under {preference}", expected[at]);
        }
    }
    browser.quit().await
}

/// In a shadow root a sheet works by itself; a light and a theme of the page reach it, and an own fill stays on its element. On the
/// root of a page nothing is set.
#[tokio::test]
async fn it_works_in_a_shadow_root() -> Outcome {
    let browser = Browser::start(1280, 800).await?;
    let sheet = css(&demo(), SheetOptions::default());
    browser.show("<!doctype html><div id=host></div><div id=dark class=dark></div>").await?;
    let script = "const sheet = new CSSStyleSheet(); sheet.replaceSync(arguments[0]);
        const within = (host) => {
          const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' });
          root.adoptedStyleSheets = [sheet];
          root.innerHTML = '<div class=\"qa-lifted\" style=\"--qa-fill: red\"><div class=\"qa-lifted\"></div></div><div class=\"qa-lifted\"></div><div class=\"qa-laid\"></div>';
          return [...root.querySelectorAll('div')].map((element) => getComputedStyle(element).boxShadow);
        };
        const host = document.getElementById('host');
        const plain = within(host);
        host.style.setProperty('--qa-light-sun', '90deg');
        const turned = within(host);
        host.style.removeProperty('--qa-light-sun');
        // Where a theme begins is known to a page that has the sheet too.
        document.adoptedStyleSheets = [sheet];
        const dark = within(document.getElementById('dark'));
        const style = getComputedStyle(document.documentElement);
        const set = [...style].filter((name) => name.startsWith('--qa'));
        return { plain, turned, dark, set };";
    let found = browser.driver.execute(script, vec![json!(sheet)]).await?.json().clone();
    let text = |what: &str, at: usize| found[what][at].as_str().unwrap_or_default().to_owned();
    assert_ne!(text("plain", 0), "none", "{found:#}");
    assert_ne!(text("plain", 0), text("plain", 1), "an own fill is not inherited: {found:#}");
    assert_eq!(text("plain", 1), text("plain", 2));
    assert_ne!(text("plain", 3), text("turned", 3), "a light of the page reaches it");
    assert_ne!(text("plain", 3), text("dark", 3), "a theme of the page reaches it");
    assert_eq!(found["set"], json!([]), "nothing is set on the root");
    browser.quit().await
}
