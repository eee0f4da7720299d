//! Headless Chromium, driven through ChromeDriver from Debian's packages.

use std::io::{BufRead, BufReader, Read};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::json;
use tempfile::TempDir;
use thirtyfour::error::WebDriverErrorInner;
use thirtyfour::extensions::query::ElementQuery;
use thirtyfour::prelude::*;
use zolvet_core::picture::Picture;

use crate::{App, Outcome};

const CHROMEDRIVER: &str = "/usr/bin/chromedriver";
const FLAGS: [&str; 12] = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
    "--font-render-hinting=none",
    "--disable-lcd-text",
    "--disable-dev-shm-usage",
];

/// Keeps when the page changed last, from now on.
const WATCH_CHANGES: &str = "window.changedAt = performance.now();
    if (!window.changes) {
        window.changes = new MutationObserver(() => { window.changedAt = performance.now(); });
        window.changes.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
    }";

/// A browser with a profile of its own.
pub struct Browser {
    /// The session, for anything the helpers here do not cover.
    pub driver: WebDriver,
    service: Child,
    _profile: TempDir,
}

impl Browser {
    /// Starts a browser with a viewport of this many CSS px at one device pixel each.
    ///
    /// # Errors
    /// When ChromeDriver or Chromium cannot be started.
    pub async fn start(width: u32, height: u32) -> Outcome<Self> {
        Self::start_on(width, height, 1).await
    }

    /// As [`Self::start`], on a screen with so many device pixels for one CSS px.
    ///
    /// # Errors
    /// As [`Self::start`].
    pub async fn start_on(width: u32, height: u32, density: u32) -> Outcome<Self> {
        Self::start_with(width, height, density, &[]).await
    }

    /// As [`Self::start`], with a mouse: without a screen, Chromium has none.
    ///
    /// # Errors
    /// As [`Self::start`].
    pub async fn with_mouse(width: u32, height: u32) -> Outcome<Self> {
        const MOUSE: &str = "--blink-settings=primaryHoverType=2,availableHoverTypes=2,primaryPointerType=4,availablePointerTypes=4";
        Self::start_with(width, height, 1, &[MOUSE]).await
    }

    /// As [`Self::start`], on a screen that is touched and has no mouse.
    ///
    /// # Errors
    /// As [`Self::start`].
    pub async fn with_fingers(width: u32, height: u32) -> Outcome<Self> {
        const FINGERS: &str = "--blink-settings=primaryHoverType=1,availableHoverTypes=1,primaryPointerType=2,availablePointerTypes=2";
        let browser = Self::start_with(width, height, 1, &[FINGERS, "--touch-events=enabled"]).await?;
        let touch = json!({"enabled": true, "maxTouchPoints": 2});
        browser.driver.cdp().send_raw("Emulation.setTouchEmulationEnabled", touch).await?;
        Ok(browser)
    }

    /// Puts a pen down at the first of these places, moves it through the others and lifts it, in CSS px.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn draw(&self, through: &[(f64, f64)]) -> Outcome {
        let cdp = self.driver.cdp();
        let event = |kind: &str, (x, y): (f64, f64), buttons: u32| {
            json!({"type": kind, "x": x, "y": y, "button": "left", "buttons": buttons, "clickCount": 1,
                "pointerType": "pen", "force": 0.5})
        };
        let (first, last) = (through[0], through[through.len() - 1]);
        cdp.send_raw("Input.dispatchMouseEvent", event("mousePressed", first, 1)).await?;
        for at in through {
            cdp.send_raw("Input.dispatchMouseEvent", event("mouseMoved", *at, 1)).await?;
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        cdp.send_raw("Input.dispatchMouseEvent", event("mouseReleased", last, 0)).await?;
        Ok(())
    }

    /// Touches a place of the viewport for a moment, in CSS px.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn tap(&self, x: f64, y: f64) -> Outcome {
        self.touch(&[(x, y)]).await
    }

    /// Puts a finger down at the first of these places, moves it through the others and lifts it.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn touch(&self, through: &[(f64, f64)]) -> Outcome {
        let cdp = self.driver.cdp();
        for (at, (x, y)) in through.iter().enumerate() {
            let kind = if at == 0 { "touchStart" } else { "touchMove" };
            let point = json!({"type": kind, "touchPoints": [{"x": x, "y": y}]});
            cdp.send_raw("Input.dispatchTouchEvent", point).await?;
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        cdp.send_raw("Input.dispatchTouchEvent", json!({"type": "touchEnd", "touchPoints": []})).await?;
        Ok(())
    }

    async fn start_with(width: u32, height: u32, density: u32, more: &[&str]) -> Outcome<Self> {
        let (service, port) = start_service()?;
        let profile = TempDir::new()?;
        let mut capabilities = DesiredCapabilities::chrome();
        for flag in FLAGS.iter().chain(more) {
            capabilities.add_arg(flag)?;
        }
        // What is emulated later lays out in CSS px all the same; a real screen has whole device pixels.
        capabilities.add_arg(&format!("--force-device-scale-factor={density}"))?;
        capabilities.add_arg(&format!("--user-data-dir={}", profile.path().display()))?;
        let driver = WebDriver::new(format!("http://127.0.0.1:{port}"), capabilities).await?;
        let browser = Self { driver, service, _profile: profile };
        browser.resize(width, height).await?;
        Ok(browser)
    }

    /// Starts a browser of 1280 × 800 on the first page of a running Zolvet.
    ///
    /// # Errors
    /// As [`Self::start`].
    pub async fn on(app: &App) -> Outcome<Self> {
        let browser = Self::start(1280, 800).await?;
        browser.go(&app.address).await?;
        Ok(browser)
    }

    /// Sets the viewport; the window's own size is not the viewport's.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn resize(&self, width: u32, height: u32) -> Outcome {
        // 0 keeps the screen's own pixels.
        let metrics = json!({"width": width, "height": height, "deviceScaleFactor": 0, "mobile": false});
        self.driver.cdp().send_raw("Emulation.setDeviceMetricsOverride", metrics).await?;
        Ok(())
    }

    /// Lets the service at an address draw for pages opened from now on, or a worker of the page: "service" or "worker".
    ///
    /// # Errors
    /// When it is not there.
    pub async fn drawn_by(&self, way: &str, address: &str) -> Outcome {
        self.go(address).await?;
        self.driver.execute(format!("localStorage.setItem('zolvet-core', '{way}')"), Vec::new()).await?;
        Ok(())
    }

    /// Opens an address.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn go(&self, address: &str) -> Outcome {
        self.driver.goto(address).await?;
        Ok(())
    }

    /// Shows a page made of this HTML and waits for its fonts.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn show(&self, html: &str) -> Outcome {
        self.driver.goto("about:blank").await?;
        let write = "document.open(); document.write(arguments[0]); document.close();";
        self.driver.execute(write, vec![json!(html)]).await?;
        let wait = "const done = arguments[0]; Promise.all([...document.fonts].map(f => f.load())).then(() => document.fonts.ready).then(() => done(document.fonts.size));";
        self.driver.execute_async(wait, vec![]).await?;
        Ok(())
    }

    /// The picture in the viewport.
    ///
    /// # Errors
    /// When no picture can be taken.
    pub async fn picture(&self) -> Outcome<Picture> {
        let shot = self.driver.cdp().send_raw("Page.captureScreenshot", json!({"format": "png"})).await?;
        let data = shot["data"].as_str().ok_or("the browser sent no picture")?;
        Ok(Picture::from_png(&STANDARD.decode(data)?)?)
    }

    /// Does something with the first thing found. When it is drawn anew in between it is looked for again, as a person does.
    ///
    /// # Errors
    /// When there is no such thing, or what is done with it fails.
    pub async fn with<T>(
        &self,
        what: &By,
        act: impl AsyncFn(&WebElement) -> WebDriverResult<T>,
    ) -> Outcome<T> {
        self.again(|| self.driver.query(what.clone()), act).await
    }

    /// Clicks the first thing found that is displayed.
    ///
    /// # Errors
    /// As [`Self::with`].
    pub async fn click(&self, what: &By) -> Outcome {
        let displayed = || self.driver.query(what.clone()).and_displayed();
        self.again(displayed, async |found| found.click().await).await
    }

    async fn again<T>(
        &self,
        query: impl Fn() -> ElementQuery,
        act: impl AsyncFn(&WebElement) -> WebDriverResult<T>,
    ) -> Outcome<T> {
        let deadline = Instant::now() + Duration::from_secs(40);
        loop {
            let done = async { act(&query().first().await?).await };
            match done.await {
                Err(error) if drawn_anew(&error) && Instant::now() < deadline => {}
                done => return Ok(done?),
            }
        }
    }

    /// Types a text over the content of a field, then Enter.
    ///
    /// # Errors
    /// As [`Self::with`].
    pub async fn type_over(&self, field: &By, text: &str) -> Outcome {
        self.click(field).await?;
        let chain = self.driver.action_chain().key_down(Key::Control).send_keys("a").key_up(Key::Control);
        chain.send_keys(text).send_keys(Key::Enter + "").perform().await?;
        Ok(())
    }

    /// Waits until a condition in the page holds.
    ///
    /// # Errors
    /// When it does not within ninety seconds.
    pub async fn wait_for(&self, condition: &str) -> Outcome {
        let script = format!("return Boolean({condition});");
        let deadline = Instant::now() + Duration::from_secs(90);
        while Instant::now() < deadline {
            let holds = self.driver.execute(script.as_str(), vec![]).await;
            if holds.is_ok_and(|value| value.json() == &json!(true)) {
                return Ok(());
            }
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        Err(format!("this never came true: {condition}").into())
    }

    /// Waits until nothing in the page has changed for as long as a person's hand rests: by then everything that was
    /// begun is shown.
    ///
    /// # Errors
    /// As [`Self::wait_for`].
    pub async fn quiet(&self) -> Outcome {
        self.driver.execute(WATCH_CHANGES, vec![]).await?;
        self.wait_for("performance.now() - window.changedAt > 150").await
    }

    /// Lets every answer take so many ms longer.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn slow_down(&self, latency: u64) -> Outcome {
        let cdp = self.driver.cdp();
        cdp.send_raw("Network.enable", json!({})).await?;
        let conditions =
            json!({"offline": false, "latency": latency, "downloadThroughput": -1, "uploadThroughput": -1});
        cdp.send_raw("Network.emulateNetworkConditions", conditions).await?;
        Ok(())
    }

    /// Ends the session.
    ///
    /// # Errors
    /// When the browser does not answer.
    pub async fn quit(self) -> Outcome {
        self.end().await
    }

    /// Ends the session, for a browser that was passed on.
    ///
    /// # Errors
    /// When the browser does not answer.
    pub async fn end(&self) -> Outcome {
        self.driver.clone().quit().await?;
        Ok(())
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        // The service takes the browser with it; there is nothing to do when it is gone already.
        let _ = self.service.kill();
        let _ = self.service.wait();
    }
}

fn drawn_anew(error: &WebDriverError) -> bool {
    matches!(**error, WebDriverErrorInner::StaleElementReference(_))
}

/// Starts ChromeDriver on a port of its choosing and keeps reading what it prints. The port that it finds free for IPv4 may
/// be taken for IPv6, and then it stops: another try finds another.
fn start_service() -> Outcome<(Child, u16)> {
    try_service().or_else(|_| try_service()).or_else(|_| try_service())
}

fn try_service() -> Outcome<(Child, u16)> {
    let mut child = Command::new(CHROMEDRIVER)
        .arg("--port=0")
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .map_err(|error| format!("{CHROMEDRIVER}: {error}; `cargo xtask test` installs it"))?;
    let mut output = BufReader::new(child.stdout.take().ok_or("no output to read")?);
    let mut line = String::new();
    loop {
        line.clear();
        if output.read_line(&mut line)? == 0 {
            return Err("ChromeDriver stopped before it named its port".into());
        }
        if let Some((_, port)) = line.split_once("on port ") {
            let digits: String = port.chars().take_while(char::is_ascii_digit).collect();
            if let Ok(port) = digits.parse()
                && port != 0
            {
                std::thread::spawn(move || output.read_to_end(&mut Vec::new()));
                return Ok((child, port));
            }
        }
    }
}
