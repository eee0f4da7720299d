//! Checks that span several places of a document: ids that are unique, references that lead somewhere, counts.

mod shapes;

use std::collections::HashSet;

use super::parts::placed_pieces;
use super::{
    Asset, Coat, CoatKind, ColourSource, Fill, Finish, Fitting, FontUse, GradientDirection, Id, Offset,
    PageGround, Piece, Problem, Project, Stop, Wear,
};
use crate::font::{self, NOT_IN_NAMES};
use crate::geometry::drawing::DrawingFile;
use crate::geometry::text::has_family;
use crate::limits;
use crate::picture;
use crate::syntax::is_selector;
use crate::syntax::pointer::child;

/// Everything wrong with a project that no single value shows.
pub(super) fn check_references(project: &Project) -> Vec<Problem> {
    let mut check = Check::new(project);
    check.project(project);
    check.problems
}

/// As [`check_references`], where nothing but numbers within a part of the project is other than it was when that was checked.
pub(super) fn check_numbers(project: &Project, part: &[&str]) -> Vec<Problem> {
    let mut check = Check::new(project);
    // A part of a group is checked with the whole piece.
    let part = part.get(..4).unwrap_or(part);
    let at = part.iter().map(|token| format!("/{token}")).collect::<String>();
    let number = |at: usize| part.get(at).and_then(|token| token.parse::<usize>().ok());
    let scene = || number(1).and_then(|scene| project.scenes.get(scene));
    match part.first() {
        // A light's are within their bounds wherever they are decoded.
        Some(&"lights") => {}
        Some(&"finishes") => {
            number(1)
                .and_then(|finish| project.finishes.get(finish))
                .into_iter()
                .for_each(|finish| check.finish(&at, finish));
        }
        _ => {
            match scene().zip(number(3)).and_then(|(scene, piece)| Some((scene, scene.pieces.get(piece)?))) {
                Some((scene, piece)) => check.piece(&at, piece, &ids_of(&scene.pieces)),
                None => check.project(project),
            }
        }
    }
    check.problems
}

fn ids_of(pieces: &[Piece]) -> HashSet<&Id> {
    pieces.iter().map(|piece| &piece.id).collect()
}

/// Problems reported for one document.
const MAX_PROBLEMS: usize = 1000;

struct Check<'a> {
    lights: HashSet<&'a Id>,
    swatches: HashSet<&'a Id>,
    finishes: HashSet<&'a Id>,
    themes: HashSet<&'a Id>,
    assets: HashSet<&'a Id>,
    /// The families that the project brings.
    fonts: HashSet<&'a str>,
    problems: Vec<Problem>,
}

impl<'a> Check<'a> {
    fn new(project: &'a Project) -> Self {
        let families = project.assets.iter().filter_map(|asset| Some(asset.font.as_ref()?.family.as_str()));
        Self {
            lights: project.lights.iter().map(|light| &light.id).collect(),
            swatches: project.swatches.iter().map(|swatch| &swatch.id).collect(),
            finishes: project.finishes.iter().map(|finish| &finish.id).collect(),
            themes: project.themes.iter().map(|theme| &theme.id).collect(),
            assets: project.assets.iter().map(|asset| &asset.id).collect(),
            fonts: families.collect(),
            problems: Vec::new(),
        }
    }

    fn project(&mut self, project: &'a Project) {
        self.name("", &project.name);
        let finding = |at: usize| format!("/accepted/{at}/note");
        for (i, accepted) in project.accepted.iter().enumerate() {
            self.characters(&finding(i), &accepted.note, limits::NOTE_CHARACTERS);
        }
        for (i, theme) in project.themes.iter().enumerate() {
            self.name(&format!("/themes/{i}"), &theme.name);
            self.selectors(&format!("/themes/{i}/selectors"), &theme.selectors);
        }
        for (i, asset) in project.assets.iter().enumerate() {
            self.name(&format!("/assets/{i}"), &asset.name);
            self.media_type(&format!("/assets/{i}/media_type"), asset);
            self.drawing_file(&format!("/assets/{i}/data"), asset);
            if let Some(font) = &asset.font {
                self.font(&format!("/assets/{i}/font"), font);
            }
        }
        let fonts = project.assets.iter().filter(|asset| asset.font.is_some()).count();
        if fonts > limits::FONTS {
            let message = format!("expected at most {} fonts, found {fonts}", limits::FONTS);
            self.problem("/assets", message);
        }
        if project.themes.is_empty() {
            self.problem("/themes", "expected at least one theme");
        }
        self.unique("/themes", project.themes.iter().map(|theme| &theme.id));
        self.unique("/swatches", project.swatches.iter().map(|swatch| &swatch.id));
        self.unique("/lights", project.lights.iter().map(|light| &light.id));
        self.unique("/finishes", project.finishes.iter().map(|finish| &finish.id));
        self.unique("/scenes", project.scenes.iter().map(|scene| &scene.id));
        self.unique("/assets", project.assets.iter().map(|asset| &asset.id));
        for (i, swatch) in project.swatches.iter().enumerate() {
            self.name(&format!("/swatches/{i}"), &swatch.name);
            self.swatch_values(&format!("/swatches/{i}/values"), &swatch.values, &project.themes);
        }
        for (i, light) in project.lights.iter().enumerate() {
            self.name(&format!("/lights/{i}"), &light.name);
            for theme in light.themes.keys() {
                self.theme(&child(&format!("/lights/{i}/themes"), theme.as_str()), theme);
            }
        }
        for (i, finish) in project.finishes.iter().enumerate() {
            self.finish(&format!("/finishes/{i}"), finish);
        }
        for (i, id) in project.scale.iter().enumerate() {
            self.expect_known(&format!("/scale/{i}"), "finish", id, self.finishes.contains(id));
        }
        for (i, scene) in project.scenes.iter().enumerate() {
            self.scene(&format!("/scenes/{i}"), scene);
        }
    }

    fn finish(&mut self, at: &str, finish: &'a Finish) {
        self.name(at, &finish.name);
        self.characters(&format!("{at}/note"), &finish.note, limits::NOTE_CHARACTERS);
        self.coats(&format!("{at}/coats"), &finish.coats);
        for (theme, coats) in &finish.themes {
            let at = child(&format!("{at}/themes"), theme.as_str());
            self.theme(&at, theme);
            self.coats(&at, coats);
        }
        self.states(&format!("{at}/states"), &finish.states);
    }

    fn swatch_values(&mut self, at: &str, values: &'a super::ThemeColours, themes: &'a [super::Theme]) {
        for theme in values.keys() {
            self.theme(&child(at, theme.as_str()), theme);
        }
        for theme in themes {
            if !values.contains_key(&theme.id) {
                self.problem(at, format!("expected a value for theme \"{}\"", theme.id));
            }
        }
    }

    fn scene(&mut self, at: &str, scene: &'a super::Scene) {
        self.name(at, &scene.name);
        self.theme(&format!("{at}/theme"), &scene.theme);
        self.fill(&format!("{at}/ground"), &scene.ground);
        let all = placed_pieces(&format!("{at}/pieces"), &scene.pieces);
        let mut ids = HashSet::new();
        for (at, piece) in &all {
            if !ids.insert(&piece.id) {
                let message = format!("expected a unique id, found \"{}\" again", piece.id);
                self.problem(&format!("{at}/id"), message);
            }
        }
        let found = all.len();
        if found > limits::PIECES {
            self.problem(
                &format!("{at}/pieces"),
                format!("expected at most {} pieces, found {found}", limits::PIECES),
            );
        }
        self.pieces(&format!("{at}/pieces"), &scene.pieces);
        if let Some(reference) = &scene.reference {
            self.asset(&format!("{at}/reference/asset"), &reference.asset);
        }
        if let Some(page) = &scene.page {
            self.asset(&format!("{at}/page/asset"), &page.asset);
        }
    }

    fn pieces(&mut self, at: &str, pieces: &'a [Piece]) {
        let ids = ids_of(pieces);
        for (i, piece) in pieces.iter().enumerate() {
            self.piece(&format!("{at}/{i}"), piece, &ids);
        }
    }

    /// A piece among those of these ids.
    fn piece(&mut self, at: &str, piece: &'a Piece, ids: &HashSet<&Id>) {
        self.name(at, &piece.name);
        self.fill(&format!("{at}/fill"), &piece.fill);
        if let Some(fitting) = &piece.fitting {
            self.fitting(&format!("{at}/fitting"), fitting);
        }
        if let Some(clip) = &piece.clip_to {
            self.expect_known(&format!("{at}/clip_to"), "piece", clip, ids.contains(clip));
        }
        if let Some(original) = &piece.alternative_of {
            self.expect_known(&format!("{at}/alternative_of"), "piece", original, ids.contains(original));
        }
        match &piece.wear {
            Wear::Finish(worn) => {
                let known = self.finishes.contains(&worn.finish);
                self.expect_known(&format!("{at}/wear/finish"), "finish", &worn.finish, known);
            }
            Wear::Coats(own) => self.coats(&format!("{at}/wear/coats"), &own.coats),
        }
        self.states(&format!("{at}/states"), &piece.states);
        self.shape(&format!("{at}/shape"), &piece.shape);
    }

    /// A drawing in a document is one that may be drawn.
    fn drawing_file(&mut self, at: &str, asset: &Asset) {
        let data = asset.data.as_ref().filter(|_| asset.media_type == DrawingFile::MEDIA_TYPE);
        if let Some(Err(error)) = data.map(|data| DrawingFile::read(data.bytes())) {
            self.problem(at, error.to_string());
        }
    }

    /// The type of a file is told by its bytes, and is one that a project has a use for.
    fn fitting(&mut self, at: &str, fitting: &Fitting) {
        let is_short = |text: &str| text.chars().count() <= limits::NOTE_CHARACTERS;
        if !is_selector(&fitting.selector) || !is_short(&fitting.selector) {
            self.problem(&format!("{at}/selector"), "expected a selector, such as .card");
        }
        let ends = |letter: char| letter.is_control() || ";{}<>\\\"'".contains(letter);
        if fitting.own.contains(ends) || !is_short(&fitting.own) {
            self.problem(&format!("{at}/own"), "expected shadows as CSS has them");
        }
        if fitting.texts.len() > limits::FITTED_TEXTS {
            let message =
                format!("expected at most {} texts, found {}", limits::FITTED_TEXTS, fitting.texts.len());
            self.problem(&format!("{at}/texts"), message);
        }
        for (i, text) in fitting.texts.iter().enumerate() {
            self.name(&format!("{at}/texts/{i}"), &text.name);
        }
    }

    fn media_type(&mut self, at: &str, asset: &Asset) {
        let others = [DrawingFile::MEDIA_TYPE, PageGround::MEDIA_TYPE];
        let known = picture::MEDIA_TYPES.iter().chain(&others).chain(&font::MEDIA_TYPES);
        let found = asset.data.as_ref().and_then(|data| {
            let bytes = data.bytes();
            let found = font::media_type(bytes).or_else(|| picture::media_type(bytes));
            found.or_else(|| DrawingFile::is_like(bytes).then_some(DrawingFile::MEDIA_TYPE))
        });
        let message = match found {
            Some(found) if found != asset.media_type => format!("expected {found}, which the file is"),
            None if !known.clone().any(|known| *known == asset.media_type) => {
                format!("expected one of {}", known.copied().collect::<Vec<_>>().join(", "))
            }
            _ => return,
        };
        self.problem(at, format!("{message}, found \"{}\"", asset.media_type.escape_debug()));
    }

    fn font(&mut self, at: &str, font: &FontUse) {
        let at_family = format!("{at}/family");
        self.characters(&at_family, &font.family, limits::NAME_CHARACTERS);
        self.characters(&format!("{at}/licence"), &font.licence, limits::NOTE_CHARACTERS);
        let means = |letter: char| letter.is_control() || NOT_IN_NAMES.contains(&letter);
        if font.family.trim().is_empty() || font.family.contains(means) || has_family(&font.family) {
            let message = "expected a name without quotes, backslashes and angle brackets, and not that of a font that ships";
            self.problem(&at_family, message);
        }
        let [low, high] = font.weights;
        if !(1.0..=high).contains(&low) || high > 1000.0 {
            self.problem(
                &format!("{at}/weights"),
                "expected the lowest and the highest weight, from 1 to 1000",
            );
        }
    }

    fn states(&mut self, at: &str, states: &'a std::collections::BTreeMap<super::State, Vec<Coat>>) {
        for (state, coats) in states {
            self.coats(&format!("{at}/{}", state.name()), coats);
        }
    }

    fn coats(&mut self, at: &str, coats: &'a [Coat]) {
        if coats.len() > limits::COATS {
            self.problem(at, format!("expected at most {} coats, found {}", limits::COATS, coats.len()));
        }
        self.unique(at, coats.iter().map(|coat| &coat.id));
        for (i, coat) in coats.iter().enumerate() {
            self.coat(&format!("{at}/{i}"), coat);
        }
    }

    fn coat(&mut self, at: &str, coat: &'a Coat) {
        self.name(at, &coat.name);
        match &coat.kind {
            CoatKind::Drop(drop) => {
                self.offset(&format!("{at}/offset"), &drop.offset);
                self.colour(&format!("{at}/colour"), &drop.colour);
                self.falloff(&format!("{at}/falloff"), drop.falloff.as_ref());
                if let Some(substitute) = &drop.substitute {
                    self.outline(&format!("{at}/substitute/shape"), &substitute.shape);
                }
            }
            CoatKind::Inner(inner) => {
                self.offset(&format!("{at}/offset"), &inner.offset);
                self.colour(&format!("{at}/colour"), &inner.colour);
                self.falloff(&format!("{at}/falloff"), inner.falloff.as_ref());
            }
            CoatKind::Highlight(highlight) => {
                self.outline(&format!("{at}/spot/shape"), &highlight.spot.shape);
                self.fill(&format!("{at}/fill"), &highlight.fill);
                self.follows(&format!("{at}/follows"), highlight.follows.as_ref());
            }
            CoatKind::Tint(tint) => self.fill(&format!("{at}/fill"), &tint.fill),
            CoatKind::Stroke(stroke) => self.fill(&format!("{at}/fill"), &stroke.fill),
            CoatKind::Blur(_) | CoatKind::Backdrop(_) => {}
            CoatKind::Extrude(extrude) => {
                self.offset(&format!("{at}/offset"), &extrude.offset);
                self.colour(&format!("{at}/near"), &extrude.near);
                self.colour(&format!("{at}/far"), &extrude.far);
            }
            CoatKind::Cast(cast) => {
                self.follows(&format!("{at}/follows"), cast.follows.as_ref());
                self.colour(&format!("{at}/colour"), &cast.colour);
            }
            CoatKind::Ramp(ramp) => self.ramp(at, ramp),
            CoatKind::Raised(raised) => {
                self.follows(&format!("{at}/follows"), raised.follows.as_ref());
                self.colour(&format!("{at}/colour"), &raised.colour);
                let count = raised.shadows.len();
                if !(1..=limits::RAISED_SHADOWS).contains(&count) {
                    let message = format!("expected 1 to {} shadows, found {count}", limits::RAISED_SHADOWS);
                    self.problem(&format!("{at}/shadows"), message);
                }
            }
        }
    }

    fn ramp(&mut self, at: &str, ramp: &'a super::Ramp) {
        if !(1..=limits::RAMP_STEPS).contains(&ramp.count) {
            let message = format!("expected 1 to {} shadows, found {}", limits::RAMP_STEPS, ramp.count);
            self.problem(&format!("{at}/count"), message);
        }
        if ramp.growth.get() <= 0.0 {
            self.problem(&format!("{at}/growth"), "expected a growth above 0");
        }
        if ramp.lean.get().abs() >= 1.0 {
            self.problem(&format!("{at}/lean"), "expected a lean between -1 and 1, ends excluded");
        }
        if ramp.total.get() > limits::RAMP_TOTAL {
            self.problem(
                &format!("{at}/total"),
                format!("expected a total opacity up to {}", limits::RAMP_TOTAL),
            );
        }
        for (name, end) in [("near", &ramp.near), ("far", &ramp.far)] {
            self.offset(&format!("{at}/{name}/offset"), &end.offset);
            self.colour(&format!("{at}/{name}/colour"), &end.colour);
        }
    }

    fn falloff(&mut self, at: &str, falloff: Option<&super::Falloff>) {
        let Some(falloff) = falloff else { return };
        let rising = falloff.points.is_sorted_by(|a, b| a.from.get() <= b.from.get());
        if falloff.points.len() < 2 || !rising {
            self.problem(&format!("{at}/points"), "expected at least two points, rising in from");
        }
    }

    fn offset(&mut self, at: &str, offset: &'a Offset) {
        if let Offset::Following(following) = offset {
            self.follows(&format!("{at}/follows"), Some(&following.follows));
        }
    }

    fn fill(&mut self, at: &str, fill: &'a Fill) {
        match fill {
            Fill::None(_) => {}
            Fill::Solid(solid) => self.colour(&format!("{at}/colour"), &solid.colour),
            Fill::Linear(linear) => {
                if let GradientDirection::Follows(light) = &linear.direction {
                    self.follows(&format!("{at}/follows"), Some(&light.follows));
                }
                self.stops(at, &linear.stops);
            }
            Fill::Radial(radial) => self.stops(at, &radial.stops),
            Fill::Image(image) => self.asset(&format!("{at}/asset"), &image.asset),
        }
    }

    fn stops(&mut self, at: &str, stops: &'a [Stop]) {
        if stops.is_empty() || !stops.is_sorted_by(|a, b| a.at.get() <= b.at.get()) {
            self.problem(&format!("{at}/stops"), "expected at least one stop, rising in at");
        }
        for (i, stop) in stops.iter().enumerate() {
            self.colour(&format!("{at}/stops/{i}/colour"), &stop.colour);
        }
    }

    fn colour(&mut self, at: &str, colour: &'a ColourSource) {
        if let ColourSource::Swatch(swatch) = colour {
            let known = self.swatches.contains(&swatch.swatch);
            self.expect_known(&format!("{at}/swatch"), "swatch", &swatch.swatch, known);
        }
    }

    fn follows(&mut self, at: &str, light: Option<&'a Id>) {
        if let Some(light) = light {
            self.expect_known(at, "light", light, self.lights.contains(light));
        }
    }

    fn theme(&mut self, at: &str, theme: &'a Id) {
        self.expect_known(at, "theme", theme, self.themes.contains(theme));
    }

    fn asset(&mut self, at: &str, asset: &'a Id) {
        self.expect_known(at, "asset", asset, self.assets.contains(asset));
    }

    fn expect_known(&mut self, at: &str, what: &str, id: &Id, known: bool) {
        if !known {
            let article = if what.starts_with('a') { "an" } else { "a" };
            self.problem(at, format!("expected the id of {article} {what}, found \"{id}\""));
        }
    }

    fn name(&mut self, at: &str, name: &str) {
        self.characters(&format!("{at}/name"), name, limits::NAME_CHARACTERS);
    }

    fn selectors(&mut self, at: &str, selectors: &[String]) {
        if selectors.len() > limits::THEME_SELECTORS {
            let found = selectors.len();
            self.problem(
                at,
                format!("expected at most {} selectors, found {found}", limits::THEME_SELECTORS),
            );
        }
        for (i, selector) in selectors.iter().enumerate() {
            let at = format!("{at}/{i}");
            self.characters(&at, selector, limits::NAME_CHARACTERS);
            if !is_selector(selector) {
                self.problem(&at, "expected a CSS selector, such as .dark".to_owned());
            }
        }
    }

    fn characters(&mut self, at: &str, text: &str, most: usize) {
        // No text has more characters than bytes.
        if text.len() > most {
            let found = text.chars().count();
            if found > most {
                self.problem(at, format!("expected at most {most} characters, found {found}"));
            }
        }
    }

    fn unique(&mut self, at: &str, ids: impl Iterator<Item = &'a Id>) {
        let mut seen = HashSet::new();
        for (i, id) in ids.enumerate() {
            if !seen.insert(id) {
                self.problem(&format!("{at}/{i}/id"), format!("expected a unique id, found \"{id}\" again"));
            }
        }
    }

    /// As many as anybody reads.
    fn problem(&mut self, pointer: &str, message: impl Into<String>) {
        if self.problems.len() >= MAX_PROBLEMS {
            return;
        }
        self.problems.push(Problem::new(pointer, message));
    }
}
