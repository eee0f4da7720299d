//! The tasks of docs/tour.md, each from a new project: by hand, with the gestures counted, and by keyboard alone.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use thirtyfour::prelude::*;
use zolvet_core::picture::Picture;
use zolvet_e2e::tour::{Designer, Task};
use zolvet_e2e::{App, Browser, Outcome, Workbench};

/// The gestures each task takes, as docs/tour.md has them.
const GESTURES: [(Task, u32); 5] = [
    (Task::Button, 7),
    (Task::Icon, 22),
    (Task::SoftRelief, 6),
    (Task::FrostedBar, 10),
    (Task::ThickLetters, 6),
];

#[tokio::test]
async fn each_task_is_done_in_the_gestures_the_tour_says() -> Outcome {
    let app = App::start()?;
    let browser = Browser::start(1280, 800).await?;
    let picture = ground_picture()?;
    for (task, expected) in GESTURES {
        let mut designer = Designer::begin(&browser, &app.address, task).await?;
        let before = designer.bench.stage().await?;
        designer.perform(task, &picture.path().display().to_string()).await?;
        assert_eq!(designer.gestures, expected, "{}", task.name());
        assert_ne!(designer.bench.stage().await?, before, "{}", task.name());
        let made = last_piece(&app).await?;
        assert!(holds(task, &made), "{}: {made}", task.name());
    }
    browser.quit().await
}

/// The scene's ground and the piece on top of it, as they were saved.
async fn last_piece(app: &App) -> Outcome<Value> {
    let http = reqwest::Client::new();
    let list: Value = http.get(format!("{}/api/projects", app.address)).send().await?.json().await?;
    let id = list[0]["id"].as_str().ok_or("no project")?;
    let stored: Value = http.get(format!("{}/api/projects/{id}", app.address)).send().await?.json().await?;
    let scene = &stored["document"]["scenes"][0];
    let piece = scene["pieces"].as_array().and_then(|pieces| pieces.last()).ok_or("no piece")?;
    // A card or button is a group: the part of it with coats.
    let parts = piece["shape"]["parts"].as_array().filter(|_| piece["shape"]["kind"] == "group");
    let worn = parts.into_iter().flatten().find(|part| part["wear"]["coats"] != json!([]));
    Ok(json!({"ground": scene["ground"]["kind"], "piece": worn.unwrap_or(piece)}))
}

/// Whether what was made is what the task asks for.
fn holds(task: Task, made: &Value) -> bool {
    let piece = &made["piece"];
    let coats = piece["wear"]["coats"].as_array().cloned().unwrap_or_default();
    let of = |kind: &str| coats.iter().filter(|coat| coat["kind"] == kind).count();
    match task {
        Task::Button => of("drop") == 2 && piece["states"]["pressed"][0]["kind"] == "inner",
        Task::Icon => {
            let colours: std::collections::HashSet<_> = coats
                .iter()
                .filter(|coat| coat["kind"] == "inner")
                .map(|coat| coat["colour"].to_string())
                .collect();
            piece["shape"]["parts"].as_array().is_some_and(|parts| parts.len() == 2)
                && colours.len() == 3
                && of("highlight") == 1
        }
        Task::SoftRelief => of("drop") == 4 && piece["fill"]["colour"] == "#e6e6e6",
        Task::FrostedBar => of("backdrop") == 1 && made["ground"] == "image",
        Task::ThickLetters => of("extrude") == 1 && piece["shape"]["string"] == "Thick",
    }
}

/// A picture with something to be frosted in it.
fn ground_picture() -> Outcome<tempfile::NamedTempFile> {
    let file = tempfile::Builder::new().suffix(".png").tempfile()?;
    let pixel = |i: u32| {
        let (x, y) = (i % 64, i / 64);
        let leaf = (x / 8 + y / 8) % 2 == 0;
        if leaf { [60, 130, 80, 255] } else { [230, 220, 170, 255] }
    };
    let rgba = (0..64 * 42).flat_map(pixel).collect();
    std::fs::write(file.path(), Picture { width: 64, height: 42, rgba }.to_png()?)?;
    Ok(file)
}

/// Every task with no mouse at all; what the tour drags is typed.
#[tokio::test]
async fn each_task_is_done_by_keyboard_alone() -> Outcome {
    each_task(&Browser::start(1280, 800).await?, Means::Keys).await
}

/// Every task by fingers on a tablet: what is tapped is hit where it lies, and numbers are typed on its keyboard.
#[tokio::test]
async fn each_task_is_done_by_touch() -> Outcome {
    let browser = Browser::with_fingers(1024, 768).await?;
    each_task(&browser, Means::Fingers).await
}

/// The first start, and every task, by somebody who hears the page: all there is to find things by are the roles and names that
/// Chromium tells assistive programs.
#[tokio::test]
async fn each_task_is_done_by_the_names_of_the_accessibility_tree() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let person = Person::begin(&browser, &app.address, Task::Button, Means::Names).await?;
    person.start_from("Two-part shadow").await?;
    // A browser lets nothing be copied but what a key or a pointer asked for.
    person.reach("Copy CSS").await?;
    person.press(Key::Enter).await?;
    person.node(&PRESSED, "Copied").await?;
    each_task(&browser, Means::Names).await
}

/// What the tasks are done by.
#[derive(Clone, Copy, PartialEq)]
enum Means {
    Keys,
    Fingers,
    Names,
}

async fn each_task(browser: &Browser, means: Means) -> Outcome {
    let app = App::start()?;
    let picture = ground_picture()?;
    for (task, _) in GESTURES {
        let person = Person::begin(browser, &app.address, task, means).await?;
        match task {
            Task::Button => person.button().await,
            Task::Icon => person.icon().await,
            Task::SoftRelief => person.soft_relief().await,
            Task::FrostedBar => person.frosted_bar(&picture.path().display().to_string()).await,
            Task::ThickLetters => person.thick_letters().await,
        }
        .map_err(|error| format!("{}: {error}", task.name()))?;
        person.bench.settle().await?;
        let made = last_piece(&app).await?;
        assert!(holds(task, &made), "{}: {made}", task.name());
    }
    browser.end().await
}

/// From the first start to the copied CSS of a shadow in two parts.
#[tokio::test]
async fn the_first_shadow_is_copied_within_eight_gestures() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut designer = Designer::begin(&browser, &app.address, Task::Button).await?;
    designer.start_from("Two-part shadow").await?;
    designer.click("Copy CSS").await?;
    browser
        .wait_for("[...document.querySelectorAll('button')].some((b) => b.textContent === 'Copied')")
        .await?;
    let css = designer.bench.read_out().await?;
    assert!(css.contains("0 1.5px 2px") && css.contains("0 10px 24px -2px"), "{css}");
    // Choosing what to begin with is a gesture too.
    assert!(designer.gestures < 8, "{}", designer.gestures);
    browser.quit().await
}

/// From *Projects* to the CSS of a labelled button that is raised, and pressed in: eight gestures with the choice.
#[tokio::test]
async fn a_labelled_button_is_raised_pressed_and_copied_in_eight_gestures() -> Outcome {
    let app = App::start()?;
    let browser = Browser::on(&app).await?;
    let mut designer = Designer::begin(&browser, &app.address, Task::Button).await?;
    designer.start_from("Two-part shadow").await?;
    designer.click("Pressed").await?;
    designer.start_from("Pressed in").await?;
    designer.click("Button").await?;
    designer.click("Copy CSS").await?;
    is_whole_button(&browser, &designer.bench).await?;
    assert!(designer.gestures < 8, "{}", designer.gestures);
    browser.end().await
}

/// The same by keys, and by fingers.
#[tokio::test]
async fn a_labelled_button_is_raised_by_keys_and_by_fingers() -> Outcome {
    let app = App::start()?;
    for means in [Means::Keys, Means::Fingers] {
        let is_touched = means == Means::Fingers;
        let browser =
            if is_touched { Browser::with_fingers(1024, 768).await? } else { Browser::on(&app).await? };
        let person = Person::begin(&browser, &app.address, Task::Button, means).await?;
        person.button().await?;
        person.take("Button").await?;
        person.take("Copy CSS").await?;
        is_whole_button(&browser, &person.bench).await?;
        browser.end().await?;
    }
    Ok(())
}

async fn is_whole_button(browser: &Browser, bench: &Workbench<'_>) -> Outcome {
    browser
        .wait_for("[...document.querySelectorAll('button')].some((b) => b.textContent === 'Copied')")
        .await?;
    let css = bench.read_out().await?;
    for part in [".button-face {", "0 10px 24px -2px", ".button:active .button-face {", "inset 0 6px 10px"] {
        assert!(css.contains(part), "{part}: {css}");
    }
    Ok(())
}

/// Roles of what is pressed, buttons taken first, and of what is typed into: some names are those of both.
const PRESSED: [&str; 6] = ["switch", "checkbox", "radio", "menuitem", "link", "button"];
const TYPED_INTO: [&str; 4] = ["textbox", "searchbox", "spinbutton", "combobox"];

/// Somebody who does the tasks.
struct Person<'a> {
    browser: &'a Browser,
    bench: Workbench<'a>,
    means: Means,
}

impl<'a> Person<'a> {
    async fn begin(browser: &'a Browser, address: &str, task: Task, means: Means) -> Outcome<Self> {
        browser.go(address).await?;
        browser.wait_for("document.querySelector('[aria-label=\"Begin with\"] button')").await?;
        let person = Self { browser, bench: Workbench::at(browser), means };
        person.take(task.specimen()).await?;
        person.bench.wait_drawn().await?;
        browser.wait_for("document.querySelector('[aria-label=Read-out] pre')").await?;
        Ok(person)
    }

    async fn button(&self) -> Outcome {
        self.colour("Fill colour: ", "#2f7d6b").await?;
        self.start_from("Two-part shadow").await?;
        assert!(self.bench.read_out().await?.contains("0 10px 24px -2px"));
        match self.means {
            Means::Keys => {
                self.reach("rest").await?;
                self.press(Key::Right).await?;
                self.press(Key::Right).await?;
            }
            Means::Fingers | Means::Names => self.take("Pressed").await?,
        }
        self.start_from("Pressed in").await?;
        assert!(self.bench.read_out().await?.contains("inset 0 6px 10px"));
        Ok(())
    }

    async fn icon(&self) -> Outcome {
        self.colour("Fill colour: ", "#2f8a74").await?;
        self.take("Add piece").await?;
        self.menu_item("Ellipse").await?;
        self.colour("Fill colour: ", "#5fb468").await?;
        self.take("Edit piece").await?;
        self.number("Top", "60").await?;
        self.take("Done").await?;
        match self.means {
            Means::Keys | Means::Names => {
                self.reach("Card face").await?;
                let chain = self.browser.driver.action_chain().key_down(Key::Shift);
                chain.send_keys(Key::Enter + "").key_up(Key::Shift).perform().await?;
            }
            Means::Fingers => {
                self.take("Add to selection").await?;
                self.take("Card face").await?;
            }
        }
        self.take("Join into one silhouette").await?;
        self.bench.settle().await?;
        for (coat, colour) in [("Pressed in", "#0c3a2e"), ("Lit edge", "#e9ffd0"), ("Pressed in", "#ffd27a")]
        {
            self.coat(coat).await?;
            self.typed("Colour, as CSS", colour).await?;
        }
        self.number("y", "-9").await?;
        self.coat("Highlight").await?;
        self.number("Left", "20").await
    }

    async fn soft_relief(&self) -> Outcome {
        self.colour("Fill colour: ", "#e6e6e6").await?;
        self.start_from("Soft relief").await
    }

    async fn frosted_bar(&self, picture: &str) -> Outcome {
        self.take("Ground").await?;
        // The dialog that a file is chosen in belongs to the system.
        let file = By::Css("[aria-label='Ground, picture file']");
        self.browser.driver.query(file).first().await?.send_keys(picture).await?;
        self.browser.wait_for("document.querySelector('[aria-label=\"Ground, picture\"]')").await?;
        self.press(Key::Escape).await?;
        self.take("Edit piece").await?;
        for (label, value) in [("Width", "480"), ("Height", "96"), ("Left", "80")] {
            self.number(label, value).await?;
        }
        self.typed("Fill colour, as CSS", "rgb(255 255 255 / 0.25)").await?;
        self.start_from("Frosted pane").await
    }

    async fn thick_letters(&self) -> Outcome {
        self.take("Edit piece").await?;
        if self.means == Means::Names {
            self.focus(&TYPED_INTO, "Text", "this.focus(); this.select();").await?;
        } else {
            self.reach("Text").await?;
            self.chord("a").await?;
        }
        self.browser.driver.action_chain().send_keys("Thick").perform().await?;
        self.number("Size", "110").await?;
        self.start_from("Thick letters").await
    }

    /// Opens a colour, types another and takes it.
    async fn colour(&self, chip: &str, css: &str) -> Outcome {
        self.take(chip).await?;
        self.browser.wait_for("document.querySelector('.mantine-Popover-dropdown')").await?;
        self.typed("Fill colour, as CSS", css).await
    }

    async fn typed(&self, field: &str, text: &str) -> Outcome {
        if self.means == Means::Names {
            self.focus(&TYPED_INTO, field, "this.focus(); this.select();").await?;
        } else {
            self.reach(field).await?;
            self.chord("a").await?;
        }
        self.browser.driver.action_chain().send_keys(text).perform().await?;
        self.press(Key::Enter).await?;
        self.browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await?;
        self.bench.settle().await
    }

    async fn number(&self, label: &str, value: &str) -> Outcome {
        let known = format!(
            "[...document.querySelectorAll('label')].some((l) => l.textContent === '{label}' && l.control && !l.control.disabled)"
        );
        self.browser.wait_for(&known).await?;
        self.typed(label, value).await
    }

    async fn start_from(&self, name: &str) -> Outcome {
        self.take("Start from").await?;
        self.chosen_by_picture(name).await
    }

    async fn coat(&self, name: &str) -> Outcome {
        self.take("Add a coat: on the surface").await?;
        self.chosen_by_picture(name).await
    }

    async fn chosen_by_picture(&self, name: &str) -> Outcome {
        let there = format!(
            "[...document.querySelectorAll('.mantine-Popover-dropdown button span')].some((s) => s.textContent === '{name}')"
        );
        self.browser.wait_for(&there).await?;
        self.take(name).await?;
        self.browser.wait_for("!document.querySelector('.mantine-Popover-dropdown')").await?;
        self.bench.settle().await
    }

    async fn menu_item(&self, name: &str) -> Outcome {
        let here = format!(
            "document.activeElement.role === 'menuitem' && document.activeElement.textContent === '{name}'"
        );
        self.browser.wait_for("document.querySelector('[role=menu]')").await?;
        if self.means != Means::Keys {
            self.take(name).await?;
            return self.browser.wait_for("!document.querySelector('[role=menu]')").await;
        }
        for _ in 0..12 {
            if self.bench.script(&format!("return {here}")).await? == json!(true) {
                self.press(Key::Enter).await?;
                return self.browser.wait_for("!document.querySelector('[role=menu]')").await;
            }
            self.press(Key::Down).await?;
        }
        Err(format!("{name} is not reached in its menu").into())
    }

    /// Goes to a button and presses it, or taps it.
    async fn take(&self, name: &str) -> Outcome {
        match self.means {
            Means::Fingers => self.tap(name).await,
            Means::Names => self.call(&PRESSED, name, "function () { this.click(); }").await,
            Means::Keys => {
                self.reach(name).await?;
                self.press(Key::Enter).await
            }
        }
    }

    /// The node that Chromium tells assistive programs of by this name, or by one that begins with it.
    async fn node(&self, roles: &[&str], name: &str) -> Outcome<u64> {
        let mut names = Vec::new();
        for _ in 0..200 {
            let nodes = self.nodes(roles).await?;
            let name_of = |node: &Value| node["name"]["value"].as_str().unwrap_or_default().trim().to_owned();
            let mut found: Vec<&Value> =
                nodes.iter().filter(|node| name_of(node).starts_with(name)).collect();
            // What was opened last comes last.
            found.sort_by_key(|node| name_of(node) == name);
            if let Some(id) = found.last().and_then(|node| node["backendDOMNodeId"].as_u64()) {
                return Ok(id);
            }
            names = nodes.iter().map(name_of).collect();
            tokio::time::sleep(std::time::Duration::from_millis(50)).await;
        }
        Err(format!("{name} is not in the accessibility tree, which has {}", names.join(", ")).into())
    }

    /// What the accessibility tree has in these roles, and not disabled.
    async fn nodes(&self, roles: &[&str]) -> Outcome<Vec<Value>> {
        let cdp = self.browser.driver.cdp();
        let document = cdp.send_raw("DOM.getDocument", json!({"depth": 0})).await?;
        let mut nodes = Vec::new();
        for role in roles {
            let question = json!({"backendNodeId": document["root"]["backendNodeId"], "role": role});
            let mut found = cdp.send_raw("Accessibility.queryAXTree", question).await?;
            nodes.extend(found["nodes"].as_array_mut().map(std::mem::take).unwrap_or_default());
        }
        let is_off = |node: &Value| {
            let told = node["properties"].as_array().into_iter().flatten();
            told.into_iter().any(|one| one["name"] == "disabled" && one["value"]["value"] == true)
        };
        nodes.retain(|node| node["ignored"] != true && !is_off(node));
        Ok(nodes)
    }

    /// Gives the focus to the node of this name.
    async fn focus(&self, roles: &[&str], name: &str, how: &str) -> Outcome {
        // What was opened or closed just now has the focus for a moment.
        self.browser.quiet().await?;
        self.call(roles, name, &format!("function () {{ {how} }}")).await
    }

    /// Does something with the node of this name, as assistive programs do.
    async fn call(&self, roles: &[&str], name: &str, function: &str) -> Outcome {
        let cdp = self.browser.driver.cdp();
        let node = self.node(roles, name).await?;
        let object = cdp.send_raw("DOM.resolveNode", json!({"backendNodeId": node})).await?;
        let arguments = json!({"objectId": object["object"]["objectId"], "functionDeclaration": function});
        cdp.send_raw("Runtime.callFunctionOn", arguments).await?;
        Ok(())
    }

    async fn chord(&self, key: &str) -> Outcome {
        self.bench.chord(key).await
    }
    /// Goes on with Tab until what is focused starts with this name, as a person listening would.
    async fn reach(&self, name: &str) -> Outcome {
        match self.means {
            Means::Fingers => return self.tap(name).await,
            Means::Names => return self.focus(&PRESSED, name, "this.focus();").await,
            Means::Keys => {}
        }
        let focused = "const e = document.activeElement; const said = e.cloneNode(true); said.querySelectorAll('[aria-hidden=true]').forEach((n) => n.remove()); return e === document.body ? '' : (e.getAttribute('aria-label') || e.type === 'radio' && e.value || e.labels?.[0]?.textContent || said.textContent || '').trim()";
        for _ in 0..140 {
            let said = self.browser.driver.execute(focused, vec![]).await?.json().clone();
            if said.as_str().is_some_and(|said| said.starts_with(name)) {
                let ring = "return document.activeElement.matches(':focus-visible')";
                assert_eq!(
                    self.browser.driver.execute(ring, vec![]).await?.json(),
                    &json!(true),
                    "{name} shows that it is focused"
                );
                return Ok(());
            }
            self.press(Key::Tab).await?;
        }
        Err(format!("{name} is not reached by keyboard").into())
    }

    /// Touches what starts with this name, in its middle, once it has been scrolled into view.
    async fn tap(&self, name: &str) -> Outcome {
        let find = format!(
            "const heard = (e) => {{ const copy = e.cloneNode(true); copy.querySelectorAll('[aria-hidden=true]').forEach((n) => n.remove()); return copy.textContent; }};
             const said = (e) => (e.getAttribute('aria-label') || e.labels?.[0]?.textContent || heard(e) || '').trim();
             const there = [...document.querySelectorAll('button, a, input:not([type=file]), textarea, [role=menuitem], label')];
             const found = there.filter((e) => said(e).startsWith({name:?}) && e.getBoundingClientRect().width > 0 && e.checkVisibility());
             const front = found.filter((e) => e.closest('.mantine-Popover-dropdown, [role=menu]'));
             const those = front.length > 0 ? front : found;
             const one = those.find((e) => said(e) === {name:?}) ?? those[0];
             if (!one) return null;
             one.scrollIntoView({{ block: 'nearest' }});
             const box = one.getBoundingClientRect();
             const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
             const hit = document.elementFromPoint(x, y);
             return one.contains(hit) || hit?.contains(one) || one.labels?.[0]?.contains(hit) ? [x, y] : null"
        );
        for _ in 0..100 {
            let place = self.bench.script(&find).await?;
            if let (Some(x), Some(y)) = (place[0].as_f64(), place[1].as_f64()) {
                return self.browser.tap(x, y).await;
            }
            tokio::time::sleep(std::time::Duration::from_millis(50)).await;
        }
        Err(format!("{name} cannot be touched").into())
    }

    async fn press(&self, key: Key) -> Outcome {
        self.browser.driver.action_chain().send_keys(key + "").perform().await?;
        Ok(())
    }
}
