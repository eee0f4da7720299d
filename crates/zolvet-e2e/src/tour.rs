//! Whole tasks of a designer, done from a new project by mouse and keyboard, with the gestures counted.
//!
//! A gesture is a click, a drag, a choice from a list, or a value typed into a field.

use thirtyfour::prelude::*;

use crate::workbench::called;
use crate::{Browser, Outcome, Workbench};

/// Somebody at the workbench.
pub struct Designer<'a> {
    browser: &'a Browser,
    /// The bench.
    pub bench: Workbench<'a>,
    /// Its gestures so far.
    pub gestures: u32,
}

/// A task by the name of its picture.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Task {
    /// A button with a shadow in two parts, and a pressed state.
    Button,
    /// An icon of joined shapes with three inner shadows in different colours and a clipped, soft highlight.
    Icon,
    /// A control raised from the ground in the ground's own colour.
    SoftRelief,
    /// A frosted bar over a picture.
    FrostedBar,
    /// Thick letters.
    ThickLetters,
}

impl Task {
    /// All of them.
    pub const ALL: [Self; 5] =
        [Self::Button, Self::Icon, Self::SoftRelief, Self::FrostedBar, Self::ThickLetters];

    /// The choice that its project begins with.
    #[must_use]
    pub fn specimen(self) -> &'static str {
        match self {
            Self::Button => "Button",
            Self::Icon | Self::SoftRelief | Self::FrostedBar => "Card",
            Self::ThickLetters => "Headline",
        }
    }

    /// The name of its picture.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Button => "tour-button",
            Self::Icon => "tour-icon",
            Self::SoftRelief => "tour-soft-relief",
            Self::FrostedBar => "tour-frosted-bar",
            Self::ThickLetters => "tour-thick-letters",
        }
    }
}

impl<'a> Designer<'a> {
    /// Opens a new project with the content a task begins with.
    ///
    /// # Errors
    /// When it does not open.
    pub async fn begin(browser: &'a Browser, address: &str, task: Task) -> Outcome<Self> {
        browser.go(address).await?;
        let begin =
            format!("//section[@aria-label='Begin with']//button[span[text()='{}']]", task.specimen());
        browser.click(&By::XPath(begin)).await?;
        let bench = Workbench::at(browser);
        bench.wait_drawn().await?;
        browser.wait_for("document.querySelector('[aria-label=Read-out] pre')").await?;
        Ok(Self { browser, bench, gestures: 0 })
    }

    /// Drops an SVG file on *Projects*, and waits for it on the bench.
    ///
    /// # Errors
    /// When it does not come in.
    pub async fn dropped(browser: &'a Browser, address: &str, name: &str, svg: &str) -> Outcome<Self> {
        browser.go(address).await?;
        browser.wait_for("document.querySelector('[aria-label=\"Begin with\"] button')").await?;
        let drop = "const data = new DataTransfer(); data.items.add(new File([arguments[1]], arguments[0], { type: 'image/svg+xml' }));
            window.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));";
        browser.driver.execute(drop, vec![name.into(), svg.into()]).await?;
        browser.wait_for("document.querySelector('[aria-label=Elements]')").await?;
        let bench = Workbench::at(browser);
        bench.wait_drawn().await?;
        Ok(Self { browser, bench, gestures: 1 })
    }

    /// Does a task, to its end. A picture for the ground is needed for one of them.
    ///
    /// # Errors
    /// When something is not there that it needs.
    pub async fn perform(&mut self, task: Task, picture: &str) -> Outcome {
        match task {
            Task::Button => self.button().await,
            Task::Icon => self.icon().await,
            Task::SoftRelief => self.soft_relief().await,
            Task::FrostedBar => self.frosted_bar(picture).await,
            Task::ThickLetters => self.thick_letters().await,
        }?;
        self.bench.settle().await
    }

    async fn button(&mut self) -> Outcome {
        self.colour("Fill colour", "#ffffff", "#2f7d6b").await?;
        self.start_from("Two-part shadow").await?;
        self.click("Pressed").await?;
        self.start_from("Pressed in").await
    }

    async fn icon(&mut self) -> Outcome {
        self.colour("Fill colour", "#ffffff", "#2f8a74").await?;
        self.add("Ellipse").await?;
        self.colour("Fill colour", "#fbf9f3", "#5fb468").await?;
        self.drag("[aria-label=Stage] canvas ~ span", (0, -90)).await?;
        self.also("Card face").await?;
        self.click("Join into one silhouette").await?;
        for (coat, colour) in [("Pressed in", "#0c3a2e"), ("Lit edge", "#e9ffd0"), ("Pressed in", "#ffd27a")]
        {
            self.coat(coat).await?;
            self.typed("Colour, as CSS", colour).await?;
        }
        self.number("y", "-9").await?;
        self.coat("Highlight").await?;
        self.drag("[aria-label='Place of Highlight']", (-30, 10)).await
    }

    async fn soft_relief(&mut self) -> Outcome {
        self.click("Pick colour").await?;
        let sheet = By::Css("[aria-label=Stage] [class*=sheet] [class*=sheet]");
        self.browser
            .with(&sheet, async |sheet| {
                let chain = self.browser.driver.action_chain().move_to_element_with_offset(sheet, -200, -120);
                chain.click().perform().await
            })
            .await?;
        self.gestures += 1;
        self.click("Use for the fill of Card face").await?;
        self.click("Done").await?;
        self.start_from("Soft relief").await
    }

    async fn frosted_bar(&mut self, picture: &str) -> Outcome {
        self.click("Ground").await?;
        let file = self.browser.driver.query(By::Css("[aria-label='Ground, picture file']")).first().await?;
        file.send_keys(picture).await?;
        self.gestures += 2;
        self.browser.wait_for("document.querySelector('[aria-label=\"Ground, picture\"]')").await?;
        // A press elsewhere closes what was opened.
        self.click("Edit piece").await?;
        self.number("Width", "480").await?;
        self.number("Height", "96").await?;
        self.number("Left", "80").await?;
        self.typed("Fill colour, as CSS", "rgb(255 255 255 / 0.25)").await?;
        self.start_from("Frosted pane").await
    }

    async fn thick_letters(&mut self) -> Outcome {
        let text = By::Css("[aria-label=Stage] canvas ~ span");
        self.browser
            .with(&text, async |text| {
                let chain = self.browser.driver.action_chain().move_to_element_center(text);
                chain.double_click().perform().await
            })
            .await?;
        self.gestures += 1;
        let field = self
            .browser
            .driver
            .query(By::Css("[aria-label='Text of Headline, on the stage']"))
            .first()
            .await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys("Thick").await?;
        field.send_keys(Key::Escape + "").await?;
        self.gestures += 2;
        self.bench.settle().await?;
        self.drag("[aria-label='Size of Headline, bottom right corner']", (90, 30)).await?;
        self.start_from("Thick letters").await
    }

    /// Clicks the element of this name.
    ///
    /// # Errors
    /// When there is nothing of that name.
    pub async fn click(&mut self, name: &str) -> Outcome {
        self.gestures += 1;
        self.bench.click_named(name).await
    }

    /// Chooses one more piece.
    async fn also(&mut self, name: &str) -> Outcome {
        let path = format!("//section[@aria-label='Pieces']//button[span[text()='{name}']]");
        self.browser
            .with(&By::XPath(path), async |other| {
                let chain = self.browser.driver.action_chain().key_down(Key::Shift).click_element(other);
                chain.key_up(Key::Shift).perform().await
            })
            .await?;
        self.gestures += 1;
        Ok(())
    }

    async fn number(&mut self, label: &str, value: &str) -> Outcome {
        self.gestures += 1;
        self.bench.type_number(label, value).await
    }

    /// Opens a colour and types another; Enter takes it and closes the field.
    async fn colour(&mut self, label: &str, old: &str, new: &str) -> Outcome {
        self.click(&format!("{label}: {old}")).await?;
        self.typed(&format!("{label}, as CSS"), new).await?;
        self.browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await
    }

    /// Types a text into the field of this name, over its content.
    async fn typed(&mut self, field: &str, text: &str) -> Outcome {
        self.browser.type_over(&called(field), text).await?;
        self.gestures += 1;
        self.bench.settle().await
    }

    async fn add(&mut self, what: &str) -> Outcome {
        self.click("Add piece").await?;
        let item = By::XPath(format!("//*[@role='menuitem'][normalize-space(.)='{what}']"));
        self.browser.click(&item).await?;
        self.gestures += 1;
        self.bench.settle().await
    }

    /// Takes one of the stacks to start from.
    ///
    /// # Errors
    /// When it is not offered.
    pub async fn start_from(&mut self, name: &str) -> Outcome {
        self.click("Start from").await?;
        let starter = By::XPath(format!("//button[span[text()='{name}'] and small]"));
        self.browser.click(&starter).await?;
        self.gestures += 1;
        self.bench.settle().await
    }

    /// Adds a coat by its picture.
    async fn coat(&mut self, name: &str) -> Outcome {
        self.bench.add_coat(name).await?;
        self.gestures += 2;
        self.bench.settle().await
    }

    async fn drag(&mut self, selector: &str, (x, y): (i64, i64)) -> Outcome {
        self.browser
            .with(&By::Css(selector), async |handle| {
                let chain =
                    self.browser.driver.action_chain().move_to_element_center(handle).click_and_hold();
                let moved = chain.move_by_offset(x / 2, y / 2).move_by_offset(x - x / 2, y - y / 2);
                moved.release().perform().await
            })
            .await?;
        self.gestures += 1;
        self.bench.settle().await
    }
}
