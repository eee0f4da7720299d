//! Somebody tries every command there is, in every view, in no order, and types whatever into every field. Whatever comes of
//! it, the document can be saved, the page goes on, and nothing is said on the console.

use super::*;

/// Does one thing among all that can be done, and answers with its name. The first argument chooses the thing, the second the value.
const COMMAND: &str = r#"
const [which, what] = arguments;
const texts = ['', '0', '-5', '12px', '1e9', '50%', 'abc', '#ff0000', 'tomato', 'Größe 名前', '   ', '3*4', '0.25', '90',
    'مرحبا', 'x'.repeat(120)];
const named = (el) => (el.getAttribute('aria-label') || el.textContent || el.placeholder || el.name || '').trim();
// What ends the walk, leaves the project or waits for a file of this machine.
const barred = /^(Delete|Download|Reload|Put .* in the trash|Move to trash|All projects|Try again|Open the demo)|file|Save .* separately|Open theirs|permanently|New window|Duplicate the project|Print/i;
const seen = (el) => {
    const box = el.getBoundingClientRect();
    return box.width > 0 && box.height > 0 && getComputedStyle(el).visibility !== 'hidden' && !el.disabled
        && el.getAttribute('aria-disabled') !== 'true' && !el.closest('[inert]');
};
const selector = 'button, [role=menuitem], [role=option], [role=radio], [role=switch], input:not([type=file]), select, textarea, nav a';
const layers = [...document.querySelectorAll('[role=dialog], [role=menu]')].filter(seen);
// What is in front is taken more often, as people do.
const within = layers.length && which % 4 ? layers[layers.length - 1] : document;
let all = [...within.querySelectorAll(selector)].filter((el) => seen(el) && !barred.test(named(el)));
if (!all.length) all = [...document.querySelectorAll('button')].filter((el) => seen(el) && !barred.test(named(el)));
const el = all[which % (all.length || 1)];
if (!el) return 'nothing';
el.focus();
const type = el.type;
if (el.tagName === 'SELECT') {
    el.selectedIndex = what % el.options.length;
    el.dispatchEvent(new Event('change', { bubbles: true }));
} else if (el.tagName === 'TEXTAREA' || (el.tagName === 'INPUT' && !['checkbox', 'radio', 'color'].includes(type))) {
    const kind = el.tagName === 'TEXTAREA' ? HTMLTextAreaElement : HTMLInputElement;
    const set = Object.getOwnPropertyDescriptor(kind.prototype, 'value').set;
    set.call(el, type === 'range' ? String(what % 100) : texts[what % texts.length]);
    el.dispatchEvent(new Event('input', { bubbles: true }));
    if (what % 3) el.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
    if (what % 2) el.blur();
} else el.click();
return `${el.tagName} ${named(el).slice(0, 60)}`;
"#;

/// Whether the page may store something.
const STORES: &str = "(() => { try { return window.localStorage } catch { return false } })()";

/// Keeps what the console says in the window's name, which outlives reloads also where storage is blocked.
const LISTEN: &str = "(() => {
    const said = (text) => { window.name += text + '\\n'; };
    // That a size is told a frame later is reported as an error, and is none.
    window.addEventListener('error', ({ message }) => message.startsWith('ResizeObserver loop') || said('error: ' + message));
    window.addEventListener('unhandledrejection', (event) => said('rejection: ' + event.reason));
    const error = console.error;
    console.error = (...words) => { said('console: ' + words.join(' ').slice(0, 300)); error(...words); };
})()";

/// A browser in which pages may store nothing.
const BLOCKED: &str = "(() => {
    const blocked = () => { throw new DOMException('The operation is insecure.', 'SecurityError'); };
    for (const name of ['localStorage', 'sessionStorage', 'indexedDB']) {
        Object.defineProperty(window, name, { get: blocked });
    }
})()";

impl Walk<'_> {
    /// One random command; after an outage or a reload now and then.
    async fn command(&mut self) -> Outcome<String> {
        self.steps += 1;
        let (which, what) = (self.random(1 << 30), self.random(1 << 30));
        match which % 97 {
            0 => self.outage().map(|()| "outage".to_owned()),
            1 => self.bench().press(Key::Escape + "").await.map(|()| "Escape".to_owned()),
            2 => self.bench().chord("z").await.map(|()| "Undo".to_owned()),
            3 => self.bench().chord("v").await.map(|()| "Paste".to_owned()),
            4 => self.bench().chord("d").await.map(|()| "Duplicate".to_owned()),
            // Where storage is blocked it is blocked in every tab, and a new one would not be.
            5 if self.is(STORES).await? => self.second_tab().await.map(|()| "another tab".to_owned()),
            _ => {
                let arguments = vec![json!(which / 97), json!(what)];
                let done = self.browser.driver.execute(COMMAND, arguments).await?;
                Ok(done.json().as_str().unwrap_or_default().to_owned())
            }
        }
    }

    /// What was done is saved, the page still shows the project, and nothing went wrong on the way.
    async fn is_well(&mut self, done: &[String]) -> Outcome {
        let said = self.bench().script("return window.name").await?;
        let told: Vec<&str> = done.iter().map(String::as_str).filter(|one| *one != "nothing").collect();
        let last = || told[told.len().saturating_sub(16)..].join("\n  ");
        if said != json!("") {
            return Err(format!("the page said {said} after\n  {}", last()).into());
        }
        if self.is("document.body.textContent.includes('could not be shown')").await? {
            return Err(format!("the page failed after\n  {}", last()).into());
        }
        for _ in 0..4 {
            self.bench().press(Key::Escape + "").await?;
        }
        if let Err(error) = self.settle().await {
            let seen = "return [location.pathname, document.body.innerText.slice(0, 300), ...[...document.querySelectorAll('[role=alert]')].map((a) => a.textContent)].join(' | ')";
            let seen = self.bench().script(seen).await?;
            return Err(format!("{error}; {seen} after\n  {}", last()).into());
        }
        Ok(())
    }

    /// The project is opened anew, at its bench.
    async fn anew(&mut self) -> Outcome {
        self.browser.go(&format!("{}/projects/{}", self.app.address, self.plain.id)).await?;
        self.bench().wait_drawn().await
    }
}

async fn try_every_command(seconds: u64, seed: u64, blocked: bool) -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    for source in [Some(LISTEN), blocked.then_some(BLOCKED)].into_iter().flatten() {
        let script = json!({"source": source});
        browser.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", script).await?;
    }
    let document = serde_json::from_str(include_str!("../../../../demo/quillmere.zolvet.json"))?;
    let plain = Plain::open(&app, &browser, &document).await?;
    let mut walk = Walk::new(app, &browser, plain, seed);
    let start = Instant::now();
    let mut rounds = 0;
    while start.elapsed() < Duration::from_secs(seconds) || rounds == 0 {
        let mut done = Vec::new();
        for _ in 0..40 {
            done.push(walk.command().await?);
        }
        walk.is_well(&done).await?;
        walk.anew().await?;
        rounds += 1;
    }
    println!("{} commands in {rounds} rounds", walk.steps);
    browser.quit().await
}

#[tokio::test]
async fn every_command_leaves_a_document_that_can_be_saved() -> Outcome {
    let (seconds, seed) = (number("ZOLVET_WALK_SECONDS", 30), number("ZOLVET_SEED", 1));
    try_every_command(seconds, seed, false).await
}

#[tokio::test]
async fn so_does_every_command_where_storage_is_blocked() -> Outcome {
    let (seconds, seed) = (number("ZOLVET_WALK_SECONDS", 20), number("ZOLVET_SEED", 1));
    try_every_command(seconds, seed, true).await
}
