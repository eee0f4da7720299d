//! Somebody does random things on the workbench, by mouse, touch and keyboard, with outages, reloads and a second tab in
//! between. Nothing typed is missing, nothing is said on the console, a key always finds something with the focus, and
//! undoing everything gives the beginning.
//!
//! By hand: `ZOLVET_WALK_SECONDS=1200 ZOLVET_SEED=7 cargo test -p zolvet-e2e --test walk -- --nocapture`.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::time::{Duration, Instant};

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_e2e::plain::{Plain, card_and_chip, drop_shadow, piece, project};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

mod commands;

/// Errors of the page, kept across reloads.
const WATCH: &str = "(() => {
    const said = (text) => localStorage.setItem('walk', (localStorage.getItem('walk') ?? '') + text + '\\n');
    window.addEventListener('error', (event) => said('error: ' + event.message));
    window.addEventListener('unhandledrejection', (event) => said('rejection: ' + event.reason));
    const error = console.error;
    console.error = (...words) => { said('console: ' + words.join(' ').slice(0, 300)); error(...words); };
})()";

struct Walk<'a> {
    app: App,
    browser: &'a Browser,
    plain: Plain<'a>,
    state: u64,
    /// Words typed as names that have not been seen in the stored document yet.
    typed: Vec<String>,
    words: u32,
    /// The document as it was when the page was opened, where that is known.
    beginning: Option<Value>,
    away: bool,
    steps: u32,
}

impl<'a> Walk<'a> {
    fn new(app: App, browser: &'a Browser, plain: Plain<'a>, seed: u64) -> Self {
        let state = 0x9E37_79B9_7F4A_7C15 ^ seed;
        let (typed, beginning) = (Vec::new(), None);
        Self { app, browser, plain, state, typed, words: 0, beginning, away: false, steps: 0 }
    }

    fn random(&mut self, below: u64) -> u64 {
        self.state ^= self.state << 13;
        self.state ^= self.state >> 7;
        self.state ^= self.state << 17;
        self.state % below
    }

    fn bench(&self) -> &Workbench<'_> {
        &self.plain.bench
    }

    async fn is(&self, condition: &str) -> Outcome<bool> {
        Ok(self.bench().script(&format!("return Boolean({condition})")).await? == json!(true))
    }

    /// One random thing. What a browser refuses because something else lies there is no failure.
    async fn step(&mut self) -> Outcome {
        self.steps += 1;
        self.decide().await?;
        let what = self.random(100);
        // During an outage what was typed may be typed over, undone or removed before it is ever stored.
        if self.away && (30..82).contains(&what) {
            self.typed.clear();
        }
        let done = match what {
            0..10 => self.choose().await,
            10..24 => self.drag(false).await,
            24..30 => self.drag(true).await,
            30..60 => self.key().await,
            60..76 => self.name().await,
            76..82 => self.press_button().await,
            82..88 => self.number().await,
            88..92 => self.outage(),
            92..95 => self.reload().await,
            95..97 => self.second_tab().await,
            _ => self.bench().press(Key::Escape + "").await,
        };
        match done {
            Err(error)
                if error.to_string().contains("intercepted") || error.to_string().contains("stale") =>
            {
                Ok(())
            }
            Err(error) if error.to_string().contains("not interactable") => Ok(()),
            done => done.map_err(|error| format!("step {} ({what}): {error}", self.steps).into()),
        }
    }

    /// A question that stands in the way is answered.
    async fn decide(&mut self) -> Outcome {
        if self.is("[...document.querySelectorAll('[role=dialog]')].some((d) => d.textContent.includes('changed elsewhere'))").await? {
            let choices = ["Keep mine", "Decide later", "Open theirs, save mine separately"];
            let choice = choices[self.random(if self.away { 2 } else { 3 }) as usize];
            let _ = self.bench().click_named(choice).await;
            tokio::time::sleep(Duration::from_millis(500)).await;
        }
        Ok(())
    }

    async fn choose(&mut self) -> Outcome {
        let at = self.random(64);
        let script = format!(
            "const all = document.querySelectorAll('[aria-label=Pieces] [class*=row] button'); all[{at} % (all.length || 1)]?.click()"
        );
        self.bench().script(&script).await.map(|_| ())
    }

    async fn drag(&mut self, by_touch: bool) -> Outcome {
        let (x, y) = (self.random(580) as f64 + 10.0, self.random(380) as f64 + 10.0);
        let (dx, dy) = (self.random(160) as i64 - 80, self.random(120) as i64 - 60);
        let (x, y) = self.bench().on_screen(x, y).await?;
        if !by_touch {
            let chain = self.browser.driver.action_chain().move_to(x, y).click_and_hold();
            chain.move_by_offset(dx / 2, dy / 2).move_by_offset(dx / 2, dy / 2).release().perform().await?;
            return Ok(());
        }
        for (kind, part) in [("touchStart", 0), ("touchMove", 1), ("touchMove", 2), ("touchEnd", 2)] {
            let point = json!([{"x": x + dx * part / 2, "y": y + dy * part / 2}]);
            let points = if kind == "touchEnd" { json!([]) } else { point };
            let event = json!({"type": kind, "touchPoints": points});
            self.browser.driver.cdp().send_raw("Input.dispatchTouchEvent", event).await?;
        }
        Ok(())
    }

    async fn key(&mut self) -> Outcome {
        let plain = [Key::Left, Key::Right, Key::Up, Key::Down, Key::Tab, Key::Escape, Key::Delete, Key::Tab];
        match self.random(14) {
            at @ 0..8 => self.bench().press(plain[at as usize].clone() + "").await?,
            8 => self.bench().press("]").await?,
            9 => self.bench().press("b").await?,
            10 => self.bench().chord("z").await?,
            11 => self.bench().chord("d").await?,
            12 => self.bench().chord("c").await?,
            _ => self.bench().chord("v").await?,
        }
        // Two frames later something has the focus.
        let wait = "const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(() => done(document.activeElement === document.body))));";
        let lost = self.browser.driver.execute_async(wait, vec![]).await?.json().clone();
        if lost == json!(true) { Err("the focus is on the body after a key".into()) } else { Ok(()) }
    }

    /// Types a name that nothing else has, and goes on without waiting for it to be taken.
    async fn name(&mut self) -> Outcome {
        let fields =
            self.browser.driver.find_all(By::Css("[aria-label=Stack] article input[class*=name]")).await?;
        if fields.is_empty() {
            return self.choose().await;
        }
        let field = &fields[self.random(fields.len() as u64) as usize];
        self.words += 1;
        let word = format!("word{}x", self.words);
        field.click().await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(word.as_str()).await?;
        self.typed.push(word);
        match self.random(3) {
            0 => self.bench().press(Key::Enter + "").await?,
            1 => self.choose().await?,
            _ => self.drag(false).await?,
        }
        self.seen().await
    }

    /// What was typed is in what is stored, once the service is there.
    async fn seen(&mut self) -> Outcome {
        if self.away {
            return Ok(());
        }
        for _ in 0..120 {
            let text = self.plain.document().await?.to_string();
            self.typed.retain(|word| !text.contains(word.as_str()));
            if self.typed.is_empty() {
                return Ok(());
            }
            self.decide().await?;
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        Err(format!("{:?} was typed and is not stored", self.typed).into())
    }

    async fn press_button(&mut self) -> Outcome {
        let at = self.random(400);
        // What leaves the page, opens a file or throws whole stacks away is left alone; removals can be undone.
        let script = format!(
            "const all = [...document.querySelectorAll('[aria-label=Stack] button, [aria-label=Stack] input[type=checkbox], header button[aria-label=Undo], header button[aria-label=Redo]')].filter((b) => !b.disabled && !/Save as|Start from|Paste|file/.test(b.textContent)); all[{at} % (all.length || 1)]?.click()"
        );
        self.seen().await?;
        self.bench().script(&script).await.map(|_| ())
    }

    async fn number(&mut self) -> Outcome {
        let fields = self
            .browser
            .driver
            .find_all(By::Css("[aria-label=Stack] input[inputmode=decimal]:enabled"))
            .await?;
        if fields.is_empty() {
            return self.choose().await;
        }
        let field = &fields[self.random(fields.len() as u64) as usize];
        field.click().await?;
        let number = self.random(40).to_string();
        field.send_keys(number).await?;
        self.choose().await
    }

    fn outage(&mut self) -> Outcome {
        if self.away {
            self.app.start_again()?;
        } else {
            self.app.kill();
        }
        self.away = !self.away;
        Ok(())
    }

    /// The page is opened anew: sometimes in the middle of things.
    async fn reload(&mut self) -> Outcome {
        if self.away {
            self.outage()?;
        }
        let calm = self.random(2) == 0;
        if calm {
            self.settle().await?;
        }
        self.browser.driver.refresh().await?;
        self.bench().wait_drawn().await?;
        self.settle().await?;
        self.beginning = if calm { Some(self.plain.document().await?) } else { None };
        self.seen().await
    }

    /// Another tab changes the project meanwhile.
    async fn second_tab(&mut self) -> Outcome {
        if self.away {
            self.outage()?;
        }
        self.seen().await?;
        let first = self.browser.driver.window().await?;
        let second = self.browser.driver.new_tab().await?;
        self.browser.driver.switch_to_window(second).await?;
        self.browser.go(&format!("{}/projects/{}", self.app.address, self.plain.id)).await?;
        self.bench().wait_drawn().await?;
        self.choose().await?;
        tokio::time::sleep(Duration::from_millis(300)).await;
        let done = self.number().await;
        self.settle().await?;
        self.browser.driver.close_window().await?;
        self.browser.driver.switch_to_window(first).await?;
        done
    }

    /// Waits until everything is saved, whatever has to be decided for it.
    async fn settle(&mut self) -> Outcome {
        if self.away {
            self.outage()?;
        }
        for _ in 0..300 {
            if self
                .is("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Resolve…')")
                .await?
            {
                let _ = self.bench().click_named("Resolve…").await;
                let _ = self.bench().click_named("Keep mine").await;
            }
            self.decide().await?;
            tokio::time::sleep(Duration::from_millis(100)).await;
            if self.is("document.querySelector('[data-state=saved]')").await? {
                return Ok(());
            }
        }
        let note = self.bench().script("return document.querySelector('[data-state]')?.textContent").await?;
        Err(format!("it is never saved: {note}").into())
    }

    /// Everything undone is the beginning, and everything done again is the end.
    async fn there_and_back(&mut self) -> Outcome {
        self.settle().await?;
        self.seen().await?;
        let end = self.plain.document().await?;
        let all = |name: &str, most: u64| {
            format!(
                "const done = arguments[0]; const next = (left) => {{ const b = document.querySelector('header button[aria-label={name}]'); if (left === 0 || b.disabled) return done(left); b.click(); setTimeout(() => next(left - 1), 0); }}; next({most});"
            )
        };
        let left = self.browser.driver.execute_async(all("Undo", 200), vec![]).await?.json().clone();
        self.settle().await?;
        if let Some(beginning) = self.beginning.clone().filter(|_| left != json!(0)) {
            assert_eq!(self.plain.document().await?, beginning, "everything is undone");
        }
        // No more than that: what was undone on the way is still to be done again.
        let undone = 200 - left.as_u64().unwrap_or_default();
        self.browser.driver.execute_async(all("Redo", undone), vec![]).await?;
        self.settle().await?;
        assert_eq!(self.plain.document().await?, end, "everything is done again");
        Ok(())
    }
}

/// A number that is said from outside, or else this one.
fn number(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().and_then(|text| text.parse().ok()).unwrap_or(usual)
}

#[tokio::test]
async fn a_random_walk_loses_nothing() -> Outcome {
    let (seconds, seed) = (number("ZOLVET_WALK_SECONDS", 60), number("ZOLVET_SEED", 1));
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    browser.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", json!({"source": WATCH})).await?;
    let mut pieces = card_and_chip();
    let round = json!({"kind": "ellipse", "w": 90, "h": 90});
    let glow = json!([drop_shadow("Glow", 0.0, json!({})), drop_shadow("Far", 20.0, json!({"blur": 30}))]);
    pieces.as_array_mut().unwrap().push(piece("Ball", round, (250.0, 250.0), glow));
    let plain = Plain::open(&app, &browser, &project("Walk", pieces, json!({}))).await?;
    let beginning = Some(plain.document().await?);
    let mut walk = Walk::new(app, &browser, plain, seed);
    walk.beginning = beginning;
    let (start, mut round_trips) = (Instant::now(), 0);
    while start.elapsed() < Duration::from_secs(seconds) || round_trips == 0 {
        for _ in 0..60 {
            walk.step().await?;
        }
        walk.there_and_back().await?;
        round_trips += 1;
    }
    let said = walk.bench().script("return localStorage.getItem('walk')").await?;
    println!("{} steps, {} words, {round_trips} times there and back", walk.steps, walk.words);
    assert_eq!(said, Value::Null, "the page said something went wrong");
    browser.quit().await
}
