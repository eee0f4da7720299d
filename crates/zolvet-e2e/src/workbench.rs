//! The workbench as a person uses it: by names, mouse and keyboard.

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::picture::Picture;

use crate::{Browser, Outcome};

/// An open workbench.
pub struct Workbench<'a> {
    browser: &'a Browser,
}

impl<'a> Workbench<'a> {
    /// Opens the first project of the list.
    ///
    /// # Errors
    /// When it does not open.
    pub async fn open(browser: &'a Browser, address: &str) -> Outcome<Self> {
        browser.go(address).await?;
        browser.wait_for("document.querySelector('main ul a')").await?;
        browser.click(&By::Css("main ul a")).await?;
        let bench = Self { browser };
        bench.wait_drawn().await?;
        Ok(bench)
    }

    /// The workbench of the project that is open.
    #[must_use]
    pub fn at(browser: &'a Browser) -> Self {
        Self { browser }
    }

    /// Waits until the stage, the small pictures and the saving are done.
    ///
    /// # Errors
    /// When they do not get done.
    pub async fn wait_drawn(&self) -> Outcome {
        self.browser.wait_for("document.querySelector('canvas')?.dataset.drawn && document.querySelector('[aria-label=Pieces] img')").await
    }

    /// Waits until a worker of the page draws.
    ///
    /// # Errors
    /// When none comes to draw.
    pub async fn wait_worker(&self) -> Outcome {
        self.browser.wait_for("document.documentElement.dataset.core === 'worker'").await
    }

    /// Waits until everything is saved and drawn.
    ///
    /// # Errors
    /// When that does not happen.
    pub async fn settle(&self) -> Outcome {
        self.browser.quiet().await?;
        self.browser.wait_for("document.querySelector('[data-state=saved]')").await?;
        self.browser
            .wait_for("[...document.querySelectorAll('canvas[data-drawn]')].every((e) => e.dataset.picture === 'fresh')")
            .await?;
        self.browser.quiet().await
    }

    /// Chooses a piece on the shelf.
    ///
    /// # Errors
    /// When there is no such piece.
    pub async fn choose(&self, piece: &str) -> Outcome {
        self.unfold_to(piece).await?;
        let path = format!("//section[@aria-label='Pieces']//button[span[text()='{piece}']]");
        self.browser.click(&By::XPath(path)).await?;
        self.browser.wait_for("document.querySelector('[aria-label=Stack] h2')").await?;
        self.browser.wait_for("document.querySelector('[aria-label=Read-out] pre')").await
    }

    /// Unfolds the groups on the shelf until a piece is there.
    async fn unfold_to(&self, piece: &str) -> Outcome {
        let unfolded = format!(
            "(() => {{
                const shelf = document.querySelector('[aria-label=Pieces]');
                const names = [...(shelf?.querySelectorAll('button > span') ?? [])].map((span) => span.textContent);
                if (names.includes({name})) return true;
                shelf?.querySelectorAll('[aria-label^=\"Show parts of\"]').forEach((fold) => fold.click());
                return false;
            }})()",
            name = serde_json::json!(piece)
        );
        self.browser.wait_for(&unfolded).await
    }

    /// Chooses a piece on the shelf while the service is away: nothing is read out of it.
    ///
    /// # Errors
    /// When there is no such piece.
    pub async fn choose_away(&self, piece: &str) -> Outcome {
        self.unfold_to(piece).await?;
        let path = format!("//section[@aria-label='Pieces']//button[span[text()='{piece}']]");
        self.browser.click(&By::XPath(path)).await?;
        self.browser.wait_for("document.querySelector('[aria-label=Stack] h2')").await
    }

    /// Changes to another scene.
    ///
    /// # Errors
    /// When there is no such scene.
    pub async fn scene(&self, name: &str) -> Outcome {
        self.browser
            .click(&By::XPath("//section[@aria-label='Scene']//button[@aria-haspopup='menu']"))
            .await?;
        self.browser.click(&By::XPath(format!("//*[@role='menuitem'][contains(., '{name}')]"))).await?;
        self.browser.quiet().await?;
        self.wait_drawn().await
    }

    /// Clicks the element with this accessible name or text.
    ///
    /// # Errors
    /// When there is nothing of that name.
    pub async fn click_named(&self, name: &str) -> Outcome {
        // What is shown on hover only is clicked all the same.
        self.browser.with(&called(name), async |found| found.click().await).await
    }

    /// Adds a coat by its picture, from the band that offers it.
    ///
    /// # Errors
    /// When no band offers it.
    pub async fn add_coat(&self, name: &str) -> Outcome {
        let band = match name {
            "Pressed in" | "Lit edge" | "Highlight" | "Tint" | "Stroke" | "Blur" => "on the surface",
            "Frosted glass" => "behind it",
            _ => "under it",
        };
        self.click_named(&format!("Add a coat: {band}")).await?;
        let choice = By::XPath(format!("//button[span[text()='{name}'] and small and img]"));
        self.browser.click(&choice).await?;
        self.browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await
    }

    /// Unfolds the values of the open coat that are needed rarely.
    ///
    /// # Errors
    /// When no coat is open.
    pub async fn unfold(&self) -> Outcome {
        let fold = "[aria-label=Stack] article button[aria-controls]";
        let fold = self.browser.driver.query(By::Css(fold)).first().await?;
        if fold.attr("aria-expanded").await?.as_deref() == Some("false") {
            fold.click().await?;
        }
        Ok(())
    }

    /// Opens the menu whose button begins with these words, and chooses an item of it.
    ///
    /// # Errors
    /// When there is no such menu or item.
    pub async fn choose_in(&self, menu: &str, item: &str) -> Outcome {
        let opener = format!(
            "//button[@aria-haspopup='menu'][starts-with(normalize-space(.), '{menu}') or starts-with(@aria-label, '{menu}')]"
        );
        self.browser.click(&By::XPath(opener)).await?;
        self.browser.click(&By::XPath(format!("//*[@role='menuitem'][normalize-space(.)='{item}']"))).await?;
        self.browser.wait_for("!document.querySelector('[role=menu]')").await
    }

    /// Chooses an option of the list of this accessible name.
    ///
    /// # Errors
    /// When there is no such list or option.
    pub async fn pick(&self, list: &str, option: &str) -> Outcome {
        let path = format!("//select[@aria-label='{list}']/option[normalize-space(.)='{option}']");
        self.browser.click(&By::XPath(path)).await?;
        Ok(())
    }

    /// The button, link or switch of this accessible name or text.
    ///
    /// # Errors
    /// When there is none.
    pub async fn named(&self, name: &str) -> Outcome<WebElement> {
        Ok(self.browser.driver.query(called(name)).first().await?)
    }

    /// Types a value into a number field, as a person would: over its content, then Enter.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn type_number(&self, label: &str, text: &str) -> Outcome {
        let path = format!("//label[text()='{label}']/..//input[not(@type='range')]");
        // The other form of an offset can be typed once the core has said it.
        self.browser.driver.query(By::XPath(path.clone())).and_enabled().first().await?;
        self.browser.type_over(&By::XPath(path), text).await
    }

    /// The pixels on the stage.
    ///
    /// # Errors
    /// When there is no stage.
    pub async fn stage(&self) -> Outcome<Picture> {
        // What a worker paints on can be copied, but not be read.
        let script = "const shown = document.querySelector('canvas[data-leaf]:not([hidden])') ?? document.querySelector('canvas');
            const c = document.createElement('canvas'); c.width = shown.width; c.height = shown.height;
            const context = c.getContext('2d'); context.drawImage(shown, 0, 0); const d = context.getImageData(0, 0, c.width, c.height).data;
            let s = ''; for (let i = 0; i < d.length; i += 32768) s += String.fromCharCode(...d.subarray(i, i + 32768)); return [c.width, c.height, btoa(s)];";
        let found = self.browser.driver.execute(script, vec![]).await?.json().clone();
        let side = |i: usize| found[i].as_u64().and_then(|side| u32::try_from(side).ok());
        let (width, height) = (side(0).ok_or("no width")?, side(1).ok_or("no height")?);
        use base64::Engine as _;
        let text = found[2].as_str().ok_or("no pixels")?;
        let rgba = base64::engine::general_purpose::STANDARD.decode(text)?;
        Ok(Picture { width, height, rgba })
    }

    /// The stage once it shows something else.
    ///
    /// # Errors
    /// When it stays as it was for ten seconds.
    pub async fn stage_instead_of(&self, before: &Picture) -> Outcome<Picture> {
        for _ in 0..100 {
            let now = self.stage().await?;
            if now != *before {
                return Ok(now);
            }
            tokio::time::sleep(std::time::Duration::from_millis(100)).await;
        }
        Err("the stage shows what it showed before".into())
    }

    /// The text of the read-out.
    ///
    /// # Errors
    /// When there is none.
    pub async fn read_out(&self) -> Outcome<String> {
        Ok(self.browser.driver.find(By::Css("[aria-label=Read-out] pre")).await?.text().await?)
    }

    /// Goes to the hand-off, makes a link there, and gives its address.
    ///
    /// # Errors
    /// When no link comes of it.
    pub async fn make_link(&self) -> Outcome<String> {
        self.click_named("Hand-off").await?;
        self.browser.quiet().await?;
        self.click_named("Create link").await?;
        self.browser.wait_for("document.querySelector('[aria-label=\"Links made\"] a')").await?;
        let link = self.browser.driver.find(By::Css("[aria-label='Links made'] a")).await?;
        Ok(link.attr("href").await?.ok_or("a link without an address")?)
    }

    /// Runs a script in the page.
    ///
    /// # Errors
    /// When the script fails.
    pub async fn script(&self, script: &str) -> Outcome<Value> {
        Ok(self.browser.driver.execute(script, vec![json!(null)]).await?.json().clone())
    }

    /// Presses keys wherever the focus is.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn press(&self, keys: impl Into<TypingData>) -> Outcome {
        self.browser.driver.action_chain().send_keys(keys).perform().await?;
        Ok(())
    }

    /// Presses a key with Ctrl.
    ///
    /// # Errors
    /// When the browser refuses.
    pub async fn chord(&self, key: &str) -> Outcome {
        let keys = self.browser.driver.action_chain().key_down(Key::Control).send_keys(key);
        keys.key_up(Key::Control).perform().await?;
        Ok(())
    }

    /// Where a place of the open scene, in its px, lies on the screen.
    ///
    /// # Errors
    /// When there is no stage.
    pub async fn on_screen(&self, x: f64, y: f64) -> Outcome<(i64, i64)> {
        let script = format!(
            "const sheet = document.querySelector('[data-room] > div').getBoundingClientRect();
            const scale = sheet.width / Number(document.querySelector('[data-room] > div').dataset.width);
            return [sheet.left + {x} * scale, sheet.top + {y} * scale];"
        );
        let at = self.script(&script).await?;
        let side = |i: usize| at[i].as_f64().map(|side| side.round() as i64).ok_or("no stage");
        Ok((side(0)?, side(1)?))
    }

    /// Clicks a place of the open scene.
    ///
    /// # Errors
    /// When there is no stage.
    pub async fn click_scene(&self, x: f64, y: f64) -> Outcome {
        let (x, y) = self.on_screen(x, y).await?;
        self.browser.driver.action_chain().move_to(x, y).click().perform().await?;
        Ok(())
    }

    /// The stored document of a project, by the service.
    ///
    /// # Errors
    /// When the service does not have it.
    pub async fn stored(&self, address: &str, id: &str) -> Outcome<Value> {
        let answer = reqwest::get(format!("{address}/api/projects/{id}")).await?.error_for_status()?;
        Ok(answer.json().await?)
    }
}

/// The button, link, field or label of this accessible name or text.
pub(crate) fn called(name: &str) -> By {
    By::XPath(format!(
        "//*[self::button or self::a or self::input or self::textarea or self::label][@aria-label='{name}' or normalize-space(.)='{name}' or span/span[text()='{name}'] or span[text()='{name}']]"
    ))
}
