//! Findings from finished pictures: faint text and edges, banding, coats that change no pixel.

use std::cell::OnceCell;
use std::collections::BTreeSet;

use serde_json::json;

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Limits, Location, Severity};
use super::fix::Fix;
use super::stack_findings::Statement;
use super::stacks::{PieceIndex, coats_place};
use crate::budget;
use crate::colour::{Rgba, colour_text};
use crate::compose::{RenderOptions, Rounding, Viewport, picture, render};
use crate::geometry::{StrokeSide, StrokeStyle, TextShape};
use crate::measure::{
    EdgeProbe, EdgeVisibility, Observer, TextContrast, banded, contrast, edge_view, for_text, luminance,
    surroundings,
};
use crate::model::{self, Fill, Id, Shape, Surface, Wear};
use crate::patch::pointer;
use crate::picture::Picture;
use crate::resolve::{Coat, Paint, PaintOp, Piece, Scene, Shadow};
use crate::syntax::{number_text, tidy};

/// Why faint text matters.
pub(super) const FAINT_TEXT: &str =
    "WCAG 2.2, SC 1.4.3: below it people with weak sight, or in bright light, cannot read it.";

/// The findings from the picture of one scene.
pub(super) struct SceneVisibility {
    pub findings: Vec<Finding>,
    /// Coats of stacks that change a pixel of it.
    pub changing: Vec<(usize, Id)>,
}

impl Auditor<'_> {
    /// The checks of one scene's picture.
    pub(super) fn visibility(&self, at: usize) -> SceneVisibility {
        let scene = &self.scenes[at];
        let mut findings = Vec::new();
        for (piece_at, model) in self.project.scenes[at].pieces.iter().enumerate() {
            if budget::is_stopped() {
                break;
            }
            let Some(below) = scene.pieces.iter().position(|piece| piece.id == model.id) else { continue };
            findings.extend(self.faint_text_in(PieceIndex { scene: at, piece: piece_at }, scene, below));
            findings.extend(match &model.shape {
                Shape::Text(text) if self.is_wanted(FindingKind::FaintText) => {
                    self.faint_text(PieceIndex { scene: at, piece: piece_at }, scene, below, text)
                }
                Shape::Text(_) => None,
                _ if self.is_wanted(FindingKind::FaintEdge) && is_used(model, self.project) => {
                    self.faint_edge(PieceIndex { scene: at, piece: piece_at }, scene, below)
                }
                Shape::Box(_)
                | Shape::Ellipse(_)
                | Shape::Path(_)
                | Shape::Picture(_)
                | Shape::Drawing(_)
                | Shape::Join(_)
                | Shape::Group(_) => None,
            });
        }
        if self.is_wanted(FindingKind::Banding) {
            findings.extend(self.bands(at, scene));
        }
        let unseen = self.is_wanted(FindingKind::NothingToSee);
        SceneVisibility { findings, changing: if unseen { self.changing(at, scene) } else { Vec::new() } }
    }

    fn faint_text(
        &self,
        index: PieceIndex,
        scene: &Scene,
        below: usize,
        text: &TextShape,
    ) -> Option<Finding> {
        let piece = &scene.pieces[below];
        let needed = for_text(text.size.get(), text.weight.get());
        let found = self.observer().letters(scene, below, text.size.get())?;
        if found.contrast >= needed {
            return None;
        }
        let model = &self.project.scenes[index.scene].pieces[index.piece];
        let legible = legible(&piece.fill, &found, needed, &model.fill).into_iter().find(|(colour, _)| {
            let mut tried = scene.clone();
            tried.pieces[below].fill = Paint::Solid(*colour);
            self.observer()
                .letters(&tried, below, text.size.get())
                .is_some_and(|found| found.contrast >= needed)
        });
        let pointer = pointer!["scenes", index.scene, "pieces", index.piece, "fill"];
        let fix = legible.map(|(_, fill)| Fix::set("Make the letters stand out", pointer, fill));
        Some(Finding {
            key: format!("faint_text/{}/{}", self.project.scenes[index.scene].id, model.id),
            kind: FindingKind::FaintText,
            severity: Severity::Error,
            place: self.piece_place(index.scene, model, Some(found.place)),
            message: format!(
                "Text contrast {:.2} : 1 in its worst place, needs {needed} : 1.",
                found.contrast
            ),
            why: FAINT_TEXT.to_owned(),
            fix,
            accepted: None,
        })
    }

    pub(super) fn observer(&self) -> Observer<'_> {
        let Limits { screen, sight: conditions, density, .. } = *self.limits;
        Observer { screen, conditions, density, cache: self.cache }
    }

    fn faint_edge(&self, index: PieceIndex, scene: &Scene, below: usize) -> Option<Finding> {
        let piece = &scene.pieces[below];
        if piece.surface == Surface::Hide {
            return None;
        }
        let needed = self.limits.edge_contrast;
        let observer = self.observer();
        let edge = observer.edge(scene, below);
        let sharp = edge.sharp(piece);
        if sharp.points.is_empty() || sharp.weakest >= needed {
            return None;
        }
        let found = edge.edge_visibility(piece);
        let carrier = carrier(piece, mean(&edge.roughly(piece)), |piece| mean(&edge.roughly(piece)));
        let model = &self.project.scenes[index.scene].pieces[index.piece];
        let fix = self.stroked(index, piece, &edge);
        let carried = carrier.map_or_else(String::new, |name| format!(" {name} carries most of it."));
        let place = found.points.iter().min_by(|a, b| a.contrast.total_cmp(&b.contrast));
        let faint = found.points.iter().filter(|point| point.contrast < needed);
        let marks =
            faint.map(|point| [point.at.x, point.at.y].map(|at| (at * 10.0).round() / 10.0)).collect();
        let area = place.map(|point| [point.at.x - 12.0, point.at.y - 12.0, 24.0, 24.0]);
        Some(Finding {
            key: format!("faint_edge/{}/{}", self.project.scenes[index.scene].id, model.id),
            kind: FindingKind::FaintEdge,
            severity: Severity::Warning,
            place: Location { marks, ..self.piece_place(index.scene, model, area) },
            message: format!(
                "Edge contrast {:.2} : 1, needs {} : 1, along its weakest tenth. When squinting {:.0} % of it is left.{carried}",
                found.weakest,
                number_text(needed),
                found.squinted * 100.0
            ),
            why: "WCAG 2.2, SC 1.4.11: what can be used has to be told from what is around it.".to_owned(),
            fix,
            accepted: None,
        })
    }

    /// A stroke inside the edge that makes it be seen: the narrowest and least dark, or least light, that does.
    fn stroked(&self, index: PieceIndex, piece: &Piece, edge: &EdgeProbe<'_>) -> Option<Fix> {
        let needed = self.limits.edge_contrast;
        let base = Rgba { a: 1.0, ..piece.fill.mean()? };
        let theme = &self.project.scenes[index.scene].theme;
        let model = &self.project.scenes[index.scene].pieces[index.piece];
        let drawn = |width: f64, colour: Rgba| {
            let op = PaintOp::Stroke {
                style: StrokeStyle {
                    width,
                    side: StrokeSide::Inside,
                    join: Default::default(),
                    cap: Default::default(),
                },
                paint: Paint::Solid(colour),
            };
            let (id, name) = (Id::numbered(SEEN_EDGE, 1), String::new());
            let stroke = Coat { id, name, op, colour: None, opacity: 1.0, blend: Default::default() };
            // An edge that was given earlier gives way.
            let kept = piece.coats.iter().filter(|coat| coat.id.as_str() != SEEN_EDGE).cloned();
            piece.with_coats(std::iter::once(stroke).chain(kept).collect())
        };
        let may_do = |stroked: &Piece| edge.roughly(stroked).weakest >= needed;
        let does = |width: f64, shift: f64| {
            let stroked = drawn(width, base.lightened(shift));
            may_do(&stroked) && edge.sharp(&stroked).weakest >= needed
        };
        // Where the widest does not do, nothing narrower does; where the strongest does not, nothing weaker.
        let widest = [-1.0, 1.0].into_iter().filter(|way| may_do(&drawn(3.0, base.lightened(way * 0.7))));
        let widest: Vec<f64> = widest.collect();
        let mut strongest = [1.0, 2.0, 3.0].into_iter().map(|width| {
            let ways = widest.iter().copied().filter(|way| does(width, way * 0.7));
            (width, ways.collect::<Vec<f64>>())
        });
        let (width, ways) = strongest.find(|(_, ways)| !ways.is_empty())?;
        let mut weaker = [0.2, 0.35, 0.5].into_iter().flat_map(|step| ways.iter().map(move |way| way * step));
        let shift = weaker.find(|shift| does(width, *shift)).or(ways.first().map(|way| way * 0.7))?;
        let stroke = json!({"id": SEEN_EDGE, "name": "Edge to be seen", "on": true, "kind": "stroke", "width": width,
            "side": "inside", "fill": {"kind": "solid", "colour": colour_text(base.lightened(shift))}});
        let mut coats = vec![stroke];
        let kept = self.project.coats_of(model, theme).iter().filter(|coat| coat.id.as_str() != SEEN_EDGE);
        coats.extend(kept.filter_map(|coat| serde_json::to_value(coat).ok()));
        let (what, pointer) = match &model.wear {
            Wear::Coats(_) => {
                ("Give it an edge", pointer!["scenes", index.scene, "pieces", index.piece, "wear", "coats"])
            }
            Wear::Finish(worn) => {
                let finish = self.project.finishes.iter().position(|finish| finish.id == worn.finish)?;
                ("Give its finish an edge", coats_place(self.project, finish, theme))
            }
        };
        Some(Fix::set(format!("{what} of {width} px"), pointer, coats))
    }

    pub(super) fn piece_place(&self, at: usize, piece: &model::Piece, area: Option<[f64; 4]>) -> Location {
        let scene = &self.project.scenes[at];
        Location {
            name: format!("{}, {}", piece.name, scene.name),
            scene: Some(scene.id.clone()),
            piece: Some(piece.id.clone()),
            area,
            ..Location::default()
        }
    }

    /// Coats of stacks that change a pixel of a scene, as far as no other scene has shown that yet.
    fn changing(&self, at: usize, scene: &Scene) -> Vec<(usize, Id)> {
        let mut found = Vec::new();
        for (stack_at, stack) in self.stacks.iter().enumerate() {
            let wearers = stack.wearers.iter().filter(|wearer| wearer.scene == at);
            for wearer in wearers {
                let id = &self.project.scenes[at].pieces[wearer.piece].id;
                let Some(place) = scene.pieces.iter().position(|piece| piece.id == *id) else { continue };
                let mut sights = Sights::new(self, scene, place);
                for coat in stack.unseen() {
                    if budget::is_stopped() {
                        break;
                    }
                    let known = (stack_at, coat.clone());
                    if !found.contains(&known) && sights.show(coat) {
                        found.push(known);
                    }
                }
            }
        }
        found
    }

    /// Coats that changed no pixel in any scene.
    pub(super) fn never_seen(&mut self) {
        let mut found = Vec::new();
        for stack in self.stacks.iter().filter(|stack| !stack.wearers.is_empty()) {
            for coat in stack.coats.iter().filter(|coat| !stack.visible.contains(&coat.id)) {
                // What is clear at rest is there to fade in.
                let fades = stack.finish.is_some_and(|finish| finish.transition.is_some());
                if !coat.on || (fades && coat.opacity.get() == 0.0) {
                    continue;
                }
                let Some(at) = stack.coats.iter().position(|other| other.id == coat.id) else { continue };
                let statement = Statement {
                    kind: FindingKind::NothingToSee,
                    severity: Severity::Hint,
                    message: "It changes no pixel on anything that has it.".to_owned(),
                    why: "A coat that nobody can see costs time to paint, and misleads whoever reads the stack.",
                };
                found.push(self.finding(
                    stack,
                    Some(coat),
                    statement,
                    Some(Fix::set("Switch it off", stack.field_pointer(at, "on"), false)),
                ));
            }
        }
        found.into_iter().for_each(|finding| self.report(finding));
    }

    /// Wide faint shadows that 8 bits turn into bands: at the same places, however dense the screen.
    fn bands(&self, at: usize, scene: &Scene) -> Vec<Finding> {
        let viewport = Viewport::whole(scene, 1.0);
        let wide: BTreeSet<&Id> =
            scene.pieces.iter().filter(|piece| softest(piece).is_some()).map(|piece| &piece.id).collect();
        if wide.is_empty() {
            return Vec::new();
        }
        let draw = |scene: &Scene| render(scene, &viewport, &RenderOptions::default(), self.cache);
        let canvas = draw(scene);
        let with = banded(&canvas);
        let mut found = Vec::new();
        for (place, piece) in scene.pieces.iter().enumerate().filter(|(_, piece)| wide.contains(&piece.id)) {
            if budget::is_stopped() {
                break;
            }
            let Some(coat) = softest(piece) else { continue };
            let mut bare = scene.clone();
            bare.pieces[place] =
                piece.with_coats(piece.coats.iter().filter(|other| other.id != coat).cloned().collect());
            let without = banded(&draw(&bare));
            let new: Vec<usize> =
                (0..with.len()).filter(|at| with[*at] && without.get(*at) == Some(&false)).collect();
            let share = new.len() as f64 / with.len().max(1) as f64;
            let has = |wearer: &PieceIndex| {
                wearer.scene == at && self.project.scenes[at].pieces[wearer.piece].id == piece.id
            };
            let stack = self.stacks.iter().find(|stack| stack.wearers.iter().any(has));
            let Some(stack) = stack.filter(|_| share > self.limits.banding) else { continue };
            let Some(coat_at) = stack.coats.iter().position(|other| other.id == coat) else { continue };
            let shadow = matches!(stack.coats[coat_at].kind, model::CoatKind::Drop(_));
            let fix = shadow.then(|| {
                let grain = json!({"amount": 0.06, "size": 1, "seed": 7});
                Fix::set("Break the steps with a little grain", stack.field_pointer(coat_at, "grain"), grain)
            });
            let statement = Statement {
                kind: FindingKind::Banding,
                severity: Severity::Hint,
                message: format!("It shows steps over {:.0} % of the scene in 8 bits.", share * 100.0),
                why: "A wide faint shadow has fewer greys than pixels, and the eye finds the lines between them.",
            };
            let mut finding = self.finding(stack, Some(&stack.coats[coat_at]), statement, fix);
            finding.place.scene = Some(self.project.scenes[at].id.clone());
            finding.place.area = around(&new, viewport.width as usize);
            finding.place.marks = steps(&canvas.to_picture(Rounding::Nearest), &new);
            found.push(finding);
        }
        found
    }
}

/// A piece in its scene, drawn from nearer and from farther, to be compared with its picture without one of its coats.
struct Sights<'a> {
    auditor: &'a Auditor<'a>,
    scene: &'a Scene,
    place: usize,
    /// The scene as it is without the coat that was looked at last.
    bare: Scene,
    /// Most coats are visible at a corner or close by, and drawing that is faster than drawing all their surroundings.
    views: [(Viewport, OnceCell<Picture>); 3],
}

impl<'a> Sights<'a> {
    fn new(auditor: &'a Auditor<'a>, scene: &'a Scene, place: usize) -> Self {
        let piece = &scene.pieces[place];
        let close = edge_view(piece, scene, CLOSE);
        let views = [corner(close), close, surroundings(piece, scene)];
        let view = |view: Viewport| (view.on_screen_of(auditor.limits.density), OnceCell::new());
        Self { auditor, scene, place, bare: scene.clone(), views: views.map(view) }
    }

    /// Whether a coat changes a pixel.
    fn show(&mut self, coat: &Id) -> bool {
        let piece = &self.scene.pieces[self.place];
        // The resolver reports what is not drawn at all.
        if !piece.coats.iter().any(|drawn| drawn.id == *coat) {
            return true;
        }
        let kept = piece.coats.iter().filter(|drawn| drawn.id != *coat).cloned().collect();
        self.bare.pieces[self.place] = piece.with_coats(kept);
        self.views.iter().any(|(view, with)| {
            let (with, without) =
                (with.get_or_init(|| self.render(self.scene, view)), self.render(&self.bare, view));
            let least = self.auditor.limits.least_seen;
            with.rgba.iter().zip(&without.rgba).any(|(a, b)| a.abs_diff(*b) >= least)
        })
    }

    fn render(&self, scene: &Scene, view: &Viewport) -> Picture {
        picture(scene, view, &RenderOptions::default(), Rounding::Nearest, self.auditor.cache)
    }
}

/// The lower left corner of a view.
fn corner(view: Viewport) -> Viewport {
    let height = view.height.min(CORNER);
    let y = view.y + f64::from(view.height - height) / view.scale;
    Viewport { y, width: view.width.min(CORNER), height, ..view }
}

/// Marks of a finding, at most.
const MARKS: usize = 1200;

/// Where, among pixels counted row by row, one grey turns into the next to the right or below.
fn steps(picture: &Picture, pixels: &[usize]) -> Vec<[f64; 2]> {
    let width = picture.width as usize;
    let colour = |at: usize| picture.rgba.get(at * 4..at * 4 + 3);
    let turns = |at: usize| {
        [at + 1, at + width].iter().any(|next| colour(*next).is_some_and(|next| Some(next) != colour(at)))
    };
    let inside: BTreeSet<usize> = pixels.iter().copied().collect();
    let kept = |at: &usize| inside.contains(&(at + 1)) && inside.contains(&(at + width)) && turns(*at);
    let found: Vec<usize> = pixels.iter().copied().filter(kept).collect();
    let apart = found.len().div_ceil(MARKS).max(1);
    let middle = |at: usize| [(at % width) as f64 + 1.0, (at / width) as f64 + 1.0];
    found.into_iter().step_by(apart).map(middle).collect()
}

/// The rectangle around pixels that are counted row by row.
fn around(pixels: &[usize], width: usize) -> Option<[f64; 4]> {
    let columns = || pixels.iter().map(|at| at % width.max(1));
    let (left, right) = (columns().min()?, columns().max()?);
    let (top, bottom) = (pixels.first()? / width.max(1), pixels.last()? / width.max(1));
    Some([left, top, right - left + 1, bottom - top + 1].map(|side| side as f64))
}

/// Something that can be used has states of its own, or those of its finish; elements of pages are known to be.
fn is_used(piece: &model::Piece, project: &model::Project) -> bool {
    if let Some(fitting) = &piece.fitting {
        return fitting.used;
    }
    match &piece.wear {
        Wear::Coats(_) => !piece.states.is_empty(),
        Wear::Finish(worn) => {
            let finish = project.finishes.iter().find(|finish| finish.id == worn.finish);
            finish.is_some_and(|finish| !finish.states.is_empty()) && is_shown_used(piece)
        }
    }
}

/// States of a shared finish count for shapes that look like a control; texts and pictures may wear it just for its look.
fn is_shown_used(piece: &model::Piece) -> bool {
    matches!(piece.shape, Shape::Box(_) | Shape::Ellipse(_) | Shape::Path(_) | Shape::Join(_))
}

/// The coat without which an edge loses most of its contrast.
fn carrier(piece: &Piece, all: f64, measure: impl Fn(&Piece) -> f64) -> Option<String> {
    let mut ids: Vec<(&Id, &str)> = piece.coats.iter().map(|coat| (&coat.id, coat.name.as_str())).collect();
    ids.dedup();
    let lost = ids.into_iter().map(|(id, name)| {
        let kept = piece.coats.iter().filter(|coat| coat.id != *id).cloned().collect();
        (all - measure(&piece.with_coats(kept)), name)
    });
    let most = lost.max_by(|a, b| a.0.total_cmp(&b.0));
    most.filter(|(lost, _)| *lost > 0.02).map(|(_, name)| name.to_owned())
}

fn mean(edge: &EdgeVisibility) -> f64 {
    edge.points.iter().map(|point| point.contrast).sum::<f64>() / edge.points.len().max(1) as f64
}

/// The softest shadow of a piece that is wide enough to show steps.
fn softest(piece: &Piece) -> Option<Id> {
    let shadows = piece.coats.iter().filter_map(|coat| {
        let wide = |shadow: &&Shadow| shadow.blur >= 80.0 && shadow.tone.grain.is_none();
        Some((coat.op.shadow().filter(wide)?.blur, &coat.id))
    });
    shadows.max_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, id)| id.clone())
}

/// Fills with another lightness whose contrast is enough where it was worst, the nearest first: as they are drawn, and as
/// the document writes them.
fn legible(paint: &Paint, found: &TextContrast, needed: f64, fill: &Fill) -> Vec<(Rgba, serde_json::Value)> {
    let Paint::Solid(colour) = paint else { return Vec::new() };
    let shifts = (1..=50).flat_map(|step| [f64::from(step) / 50.0, -f64::from(step) / 50.0]);
    let tried = shifts.map(|shift| (shift, colour.lightened(shift)));
    let passing = tried.filter(|(_, colour)| contrast(luminance(*colour), found.behind) >= needed);
    let written = passing.filter_map(|(shift, to)| match fill {
        Fill::Solid(model::SolidFill { colour: model::ColourSource::Swatch(swatch) }) => {
            let before = swatch.lightness.map_or(0.0, |lightness| lightness.get());
            let lightness = tidy(before + shift);
            Some((to, json!({"kind": "solid", "colour": {"swatch": swatch.swatch, "lightness": lightness}})))
        }
        Fill::Solid(_) => Some((to, json!({"kind": "solid", "colour": colour_text(to)}))),
        Fill::None(_) | Fill::Linear(_) | Fill::Radial(_) | Fill::Image(_) => None,
    });
    written.take(MAX_TRIED).collect()
}

/// The id of an edge that a fix gives.
const SEEN_EDGE: &str = "seen-edge";
/// Px of the side of a corner in which many of its coats are seen.
const CORNER: u32 = 48;
/// Px around a piece in which most of its coats are seen.
const CLOSE: f64 = 12.0;
/// Fixes that are drawn to see whether they work.
const MAX_TRIED: usize = 24;
