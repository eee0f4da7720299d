//! Whole tasks of a designer, done from an empty project by mouse and keyboard, with the gestures counted.
//!
//! A gesture is a click, a drag, a choice from a list, or a value typed into a field.

use thirtyfour::prelude::*;

use crate::{Browser, Outcome, Workbench};

/// Somebody at the workbench.
pub struct Designer<'a> {
    browser: &'a Browser,
    /// The bench.
    pub bench: Workbench<'a>,
    /// What it took so far.
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
    /// Opens a new project.
    ///
    /// # Errors
    /// When it does not open.
    pub async fn begin(browser: &'a Browser, address: &str) -> Outcome<Self> {
        browser.go(address).await?;
        let new = By::XPath("//button[normalize-space(.)='New project']");
        browser.driver.query(new).first().await?.click().await?;
        let bench = Workbench::at(browser);
        bench.wait_drawn().await?;
        Ok(Self { browser, bench, gestures: 0 })
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
        self.piece("Card").await?;
        self.click("Edit piece").await?;
        self.number("Width", "180").await?;
        self.number("Height", "56").await?;
        self.colour("Fill colour", "#ffffff", "#2f7d6b").await?;
        self.start_from("Contact and key").await?;
        self.click("Pressed").await?;
        self.click("Use own coats").await?;
        self.click("Clear").await?;
        self.coat("Pressed in").await
    }

    async fn icon(&mut self) -> Outcome {
        self.piece("Card").await?;
        self.click("Edit piece").await?;
        self.number("Height", "120").await?;
        self.colour("Fill colour", "#ffffff", "#2f8a74").await?;
        self.add("Ellipse").await?;
        self.colour("Fill colour", "#fbf9f3", "#5fb468").await?;
        self.drag("[aria-label=Stage] canvas ~ span", (0, -62)).await?;
        self.also("Card").await?;
        self.click("Join into one silhouette").await?;
        for (coat, old, new) in [
            ("Pressed in", "#000000", "#0c3a2e"),
            ("Lit edge", "#ffffff", "#e9ffd0"),
            ("Pressed in", "#000000", "#ffd27a"),
        ] {
            self.coat(coat).await?;
            self.colour("Colour", old, new).await?;
        }
        self.number("y", "-9").await?;
        self.coat("Highlight").await?;
        self.drag("[aria-label='Place of Highlight']", (-30, 10)).await
    }

    async fn soft_relief(&mut self) -> Outcome {
        self.piece("Card").await?;
        self.click("Pick colour").await?;
        let sheet = "[aria-label=Stage] [class*=sheet] [class*=sheet]";
        let sheet = self.browser.driver.query(By::Css(sheet)).first().await?;
        self.browser
            .driver
            .action_chain()
            .move_to_element_with_offset(&sheet, -200, -120)
            .click()
            .perform()
            .await?;
        self.gestures += 1;
        self.click("Use for the fill of Card").await?;
        self.click("Done").await?;
        self.start_from("Soft relief").await
    }

    async fn frosted_bar(&mut self, picture: &str) -> Outcome {
        self.click("Ground").await?;
        let file = self.browser.driver.query(By::Css("[aria-label='Ground, picture file']")).first().await?;
        file.send_keys(picture).await?;
        self.gestures += 2;
        self.browser.wait_for("document.querySelector('[aria-label=\"Ground, which picture\"]')").await?;
        self.escape().await?;
        self.piece("Card").await?;
        self.click("Edit piece").await?;
        self.number("Width", "480").await?;
        self.number("Height", "96").await?;
        self.number("Left", "80").await?;
        self.colour("Fill colour", "#ffffff", "rgb(255 255 255 / 0.25)").await?;
        self.start_from("Frosted pane").await
    }

    async fn thick_letters(&mut self) -> Outcome {
        self.add("Text").await?;
        let text = self.browser.driver.query(By::Css("[aria-label=Stage] canvas ~ span")).first().await?;
        self.browser.driver.action_chain().move_to_element_center(&text).double_click().perform().await?;
        self.gestures += 1;
        let field =
            self.browser.driver.query(By::Css("[aria-label='Text of Text, on the stage']")).first().await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys("Thick").await?;
        field.send_keys(Key::Escape + "").await?;
        self.gestures += 2;
        self.bench.settle().await?;
        self.drag("[aria-label='Size of Text, bottom right corner']", (90, 30)).await?;
        self.start_from("Thick letters").await
    }

    async fn click(&mut self, name: &str) -> Outcome {
        self.gestures += 1;
        self.bench.click_named(name).await
    }

    async fn piece(&mut self, name: &str) -> Outcome {
        self.gestures += 1;
        self.bench.choose(name).await
    }

    /// Chooses one more piece.
    async fn also(&mut self, name: &str) -> Outcome {
        let path = format!("//section[@aria-label='Pieces']//button[span[text()='{name}']]");
        let other = self.browser.driver.query(By::XPath(path)).first().await?;
        let chain = self.browser.driver.action_chain().key_down(Key::Shift).click_element(&other);
        chain.key_up(Key::Shift).perform().await?;
        self.gestures += 1;
        Ok(())
    }

    async fn number(&mut self, label: &str, value: &str) -> Outcome {
        self.gestures += 1;
        self.bench.type_number(label, value).await
    }

    /// Opens a colour, types another, and leaves it.
    async fn colour(&mut self, label: &str, old: &str, new: &str) -> Outcome {
        self.click(&format!("{label}: {old}")).await?;
        let field = self.bench.named(&format!("{label}, as CSS")).await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(new).await?;
        field.send_keys(Key::Enter + "").await?;
        self.gestures += 1;
        self.escape().await
    }

    async fn escape(&mut self) -> Outcome {
        self.browser.driver.action_chain().send_keys(Key::Escape + "").perform().await?;
        self.gestures += 1;
        self.browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await
    }

    async fn add(&mut self, what: &str) -> Outcome {
        self.click("Add piece").await?;
        let item = By::XPath(format!("//*[@role='menuitem'][normalize-space(.)='{what}']"));
        self.browser.driver.query(item).and_displayed().first().await?.click().await?;
        self.gestures += 1;
        self.bench.settle().await
    }

    /// Takes one of the stacks to start from.
    async fn start_from(&mut self, name: &str) -> Outcome {
        self.click("Start from").await?;
        let starter = By::XPath(format!("//button[span[text()='{name}'] and small]"));
        self.browser.driver.query(starter).and_displayed().first().await?.click().await?;
        self.gestures += 1;
        self.bench.settle().await
    }

    /// Adds a coat by its picture.
    async fn coat(&mut self, name: &str) -> Outcome {
        let choice =
            By::XPath(format!("//section[@aria-label='Stack']//button[span[text()='{name}'] and small]"));
        self.browser.driver.query(choice).first().await?.click().await?;
        self.gestures += 1;
        self.bench.settle().await
    }

    async fn drag(&mut self, selector: &str, (x, y): (i64, i64)) -> Outcome {
        let handle = self.browser.driver.query(By::Css(selector)).first().await?;
        let chain = self.browser.driver.action_chain().move_to_element_center(&handle).click_and_hold();
        chain.move_by_offset(x / 2, y / 2).move_by_offset(x - x / 2, y - y / 2).release().perform().await?;
        self.gestures += 1;
        self.bench.settle().await
    }
}
