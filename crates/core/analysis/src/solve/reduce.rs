//! Fewer coats for the same look.

use serde::{Deserialize, Serialize};

use super::error::{Pictures, SolveError};
use super::exchange::{Refined, Refiner};
use super::field::{Field, Places};
use super::fields::{Fields, Part};
use super::forward::Model;
use super::masks::MaskField;
use super::places::around;
use super::rounding::rounded;
use super::search::{Candidate, by_count};
use super::shadow::{Freedom, Shadow, Side};
use super::stack::{Group, groups, is_plain, with_own_ids};
use crate::asset::Assets;
use crate::geometry::Silhouette;
use crate::limits;
use crate::model::{self, Coat, Project, Wear};
use crate::parallel::parallel_map;
use crate::resolve;

/// The capabilities that a reduced stack may use.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct Holds {
    /// The most shadows, counted together; no more than eight are looked for, and four on text, icons and joins.
    pub coats: usize,
    /// Whether shadows can be spread.
    pub spread: bool,
    /// Whether there are inner shadows.
    pub inset: bool,
}

impl Default for Holds {
    fn default() -> Self {
        Self { coats: MAX_SHADOWS, spread: true, inset: true }
    }
}

/// The most shadows that are looked for.
pub const MAX_SHADOWS: usize = 8;
/// The most on text, icons and joins, where each look takes much longer.
const MAX_OF_OUTLINES: usize = 4;
/// The most shapes that a finish is looked at on.
const SHAPES: usize = 3;

/// A stack with fewer coats, for each number of shadows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reduced {
    /// Shadows that the stack draws now; a ramp counts as many as it stands for.
    pub shadows: usize,
    /// Best for each number of shadows, fewest first.
    pub by_count: Vec<FewerCoats>,
    /// Each coat that was not changed or was left out, in words.
    pub notes: Vec<String>,
}

/// A stack of so many shadows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FewerCoats {
    /// How many shadows it draws.
    pub shadows: usize,
    /// The whole stack, with everything in it that is no plain shadow.
    pub coats: Vec<Coat>,
    /// How far its picture is from that of the stack it stands for.
    pub error: SolveError,
}

/// Whether some shadows of a stack, as it is drawn on a piece, may be combined.
#[must_use]
pub fn can_be_fewer(coats: &[Coat], worn: &resolve::Piece) -> bool {
    groups(coats, worn).iter().any(|group| group.shadows.len() > 1)
}

/// Why there are no fewer coats.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum CannotReduce {
    /// Nothing in the stack can be found anew.
    #[error(
        "Nothing here can be combined: it takes drop or inner shadows in normal blend, without falloff or grain."
    )]
    NoShadows,
    /// Only inner shadows, which are not held.
    #[error("All shadows here are inner ones: a tool without inner shadows shows none of them.")]
    OnlyInner,
    /// One shadow cannot become fewer.
    #[error("Nothing here can be combined: it takes two shadows of one kind.")]
    OneShadow,
}

/// The best stacks of fewer shadows for the coats a piece wears in its scene's theme, on every shape they are worn by.
///
/// Drop shadows and inner shadows are found apart, since none is seen where the other is, and put together so that the
/// worse of both is best. Errors are those of the real renderer.
///
/// # Errors
/// [`CannotReduce`] when there is nothing to be made fewer.
pub fn reduce(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    assets: &Assets,
    holds: Holds,
) -> Result<Reduced, CannotReduce> {
    let shapes = shapes(project, scene, piece, assets);
    let is_slow = shapes.iter().any(|shape| !shape.silhouette.is_box());
    let holds =
        Holds { coats: holds.coats.min(if is_slow { MAX_OF_OUTLINES } else { MAX_SHADOWS }), ..holds };
    let coats = project.shown_coats(scene, piece);
    let worn = resolve::piece(project, scene, piece, assets).0;
    let all = groups(coats, &worn);
    let input: usize = all.iter().map(|group| group.shadows.len()).sum();
    let wanted: Vec<Group> =
        all.into_iter().filter(|group| holds.inset || group.side == Side::Outside).collect();
    if wanted.is_empty() {
        return Err(if input > 0 { CannotReduce::OnlyInner } else { CannotReduce::NoShadows });
    }
    let is_poor = holds != Holds { coats: holds.coats, ..Holds::default() };
    if input == wanted.len() && !is_poor {
        return Err(CannotReduce::OneShadow);
    }
    let pictures = Pictures::new(&shapes, &worn.coats);
    let resolved = |stack: &[Coat]| resolve::piece(project, scene, &wearing(piece, stack), assets).0.coats;
    let stay: Vec<Candidate> = wanted.iter().map(unchanged).collect();
    let found: Vec<Vec<Candidate>> = (0..wanted.len())
        .map(|of| {
            let with = |shadows: &[Shadow]| {
                let own = Candidate { shadows: shadows.to_vec(), worst: 0.0 };
                let chosen: Vec<&Candidate> =
                    stay.iter().enumerate().map(|(at, stay)| if at == of { &own } else { stay }).collect();
                resolved(&rewritten(coats, &wanted, &chosen, holds))
            };
            let field = |also: &[Places]| field(&wanted[of], &shapes, also);
            let bench = Refiner { pictures: &pictures, field: &field, resolved: &with };
            candidates(&wanted[of], &shapes, &bench, holds)
        })
        .collect();
    let mut by_count = Vec::new();
    // Of what can stay as it is, nothing is gained by as many shadows.
    let stays = wanted.iter().all(|group| keeps(group, holds));
    let most = holds.coats.min(if stays && !is_poor { input - 1 } else { input });
    for count in 1..=most {
        let choices = together(&found, count).map_or_else(|| one_side(&found, count), |all| vec![all]);
        let pictured = choices.iter().map(|chosen| {
            let stack = rewritten(coats, &wanted, chosen, holds);
            let error = pictures.error(&resolved(&stack));
            FewerCoats { shadows: count, coats: stack, error }
        });
        // A bright line that is left out is much at its few pixels; what is missed is the larger part.
        by_count.extend(pictured.min_by(|a, b| a.error.mean.total_cmp(&b.error.mean)));
    }
    Ok(Reduced { shadows: input, by_count, notes: notes(coats, holds) })
}

/// For each group the candidate that makes the worse of them best, for so many shadows in all.
fn together(found: &[Vec<Candidate>], count: usize) -> Option<Vec<&Candidate>> {
    match found {
        [one] => one.iter().find(|candidate| candidate.shadows.len() == count).map(|found| vec![found]),
        [first, second] => {
            let pairs = first.iter().flat_map(|a| second.iter().map(move |b| (a, b)));
            let fitting = pairs.filter(|(a, b)| a.shadows.len() + b.shadows.len() == count);
            let worse = |(a, b): &(&Candidate, &Candidate)| a.worst.max(b.worst);
            fitting.min_by(|a, b| worse(a).total_cmp(&worse(b))).map(|(a, b)| vec![a, b])
        }
        _ => None,
    }
}

/// For too few shadows to be shared by both groups: each alone, and the other left out.
fn one_side(found: &[Vec<Candidate>], count: usize) -> Vec<Vec<&Candidate>> {
    static NOTHING: Candidate = Candidate { shadows: Vec::new(), worst: 0.0 };
    let alone = |of: usize| {
        let own = found[of].iter().find(|candidate| candidate.shadows.len() == count)?;
        Some((0..found.len()).map(|at| if at == of { own } else { &NOTHING }).collect())
    };
    (0..found.len()).filter_map(alone).collect()
}

/// Whether a group may also stay as it is, while another has fewer shadows.
fn keeps(group: &Group, holds: Holds) -> bool {
    holds.spread || group.shadows.iter().all(|shadow| shadow.spread == 0.0)
}

/// A group as it is.
fn unchanged(group: &Group) -> Candidate {
    Candidate { shadows: group.shadows.clone(), worst: 0.0 }
}

fn candidates(group: &Group, shapes: &[resolve::Piece], bench: &Refiner<'_>, holds: Holds) -> Vec<Candidate> {
    let field = (bench.field)(&vec![Vec::new(); shapes.len()]);
    let room = |piece: &resolve::Piece| {
        let (width, height) = piece.silhouette.size();
        width.min(height) / 2.0 - 0.5
    };
    let room = shapes.iter().map(room).fold(limits::SPREAD, f64::min).max(0.0);
    let (least_spread, most_spread) = match group.side {
        Side::Outside => (-room, limits::SPREAD),
        Side::Inside => (-limits::SPREAD, room),
    };
    let freedom = Freedom {
        axis: group.axis,
        spread: holds.spread,
        blur: true,
        colour: group.coloured,
        least_spread,
        most_spread,
    };
    let model =
        Model { field: &*field, side: group.side, freedom: &freedom, coloured: group.coloured, ground: None };
    let most = holds.coats.min(group.shadows.len() - usize::from(keeps(group, holds)));
    let target = model.compose(&group.shadows);
    let found = by_count(&model, &group.shadows, most);
    let mut found = parallel_map(&found, |candidate| {
        let field = (bench.field)(&vec![Vec::new(); shapes.len()]);
        let start = Refined { candidate: candidate.clone(), field, target: target.clone() };
        let Refined { candidate, field, target } = bench.exchanged(&model, start);
        rounded(&Model { field: &*field, ..model }, &target, &candidate)
    });
    if keeps(group, holds) {
        found.truncate(group.shadows.len() - 1);
        found.push(unchanged(group));
    }
    found
}

fn field(group: &Group, shapes: &[resolve::Piece], also: &[Places]) -> Box<dyn Field> {
    let inside = group.side == Side::Inside;
    let part = |(shape, (piece, also)): (usize, (&resolve::Piece, &Places))| {
        let body = if inside { piece.inner.as_ref()? } else { &piece.outer };
        let also: Places = also.iter().map(|(x, y)| (x - body.x, y - body.y)).collect();
        let field: Box<dyn Field> = match &body.silhouette {
            Silhouette::Box(shape) => Box::new(around(*shape, &group.shadows, group.side, &also)),
            other @ (Silhouette::Outline(_) | Silhouette::Alpha(_) | Silhouette::Drawing(_)) => {
                let reach = group.shadows.iter().map(Shadow::reach).fold(0.0, f64::max).min(800.0);
                Box::new(MaskField::new(other.clone(), if inside { 0.0 } else { reach }, inside, &also))
            }
        };
        Some(Part { shape, x: body.x, y: body.y, field })
    };
    Box::new(Fields::new(shapes.iter().zip(also).enumerate().filter_map(part).collect()))
}

/// The piece, and others of other shapes that wear the same finish: the largest and the smallest.
fn shapes(
    project: &Project,
    scene: &model::Scene,
    piece: &model::Piece,
    assets: &Assets,
) -> Vec<resolve::Piece> {
    let own = resolve::piece(project, scene, piece, assets).0;
    let Wear::Finish(worn) = &piece.wear else { return vec![own] };
    let wearers = project.scenes.iter().flat_map(|scene| {
        let wears =
            |other: &&model::Piece| matches!(&other.wear, Wear::Finish(other) if other.finish == worn.finish);
        scene.all_pieces().into_iter().filter(wears).map(move |piece| (scene, piece))
    });
    let mut others: Vec<resolve::Piece> = wearers
        .map(|(scene, piece)| resolve::piece(project, scene, piece, assets).0)
        .filter(|other| other.silhouette.is_box() && other.silhouette != own.silhouette)
        .collect();
    let area = |piece: &resolve::Piece| {
        let (width, height) = piece.silhouette.size();
        width * height
    };
    others.sort_by(|a, b| area(a).total_cmp(&area(b)));
    others.dedup_by(|a, b| a.silhouette == b.silhouette);
    let mut shapes = vec![own];
    shapes.extend(others.pop());
    shapes.extend(others.into_iter().next());
    shapes.truncate(SHAPES);
    shapes
}

/// The stack with its shadows replaced; the new ones stand where the first of theirs stood.
fn rewritten(coats: &[Coat], groups: &[Group], chosen: &[&Candidate], holds: Holds) -> Vec<Coat> {
    let mut stack = Vec::new();
    let mut written = vec![false; groups.len()];
    let stays = |of: usize| chosen[of].shadows == groups[of].shadows;
    for coat in coats {
        let of = groups.iter().position(|group| is_plain(coat, group.side));
        match of {
            Some(of) if stays(of) => stack.push(coat.clone()),
            Some(of) if !written[of] => {
                written[of] = true;
                stack.extend(groups[of].to_coats(&chosen[of].shadows));
            }
            Some(_) => {}
            None if !holds.inset && is_plain(coat, Side::Inside) => {}
            None => stack.push(coat.clone()),
        }
    }
    with_own_ids(stack, coats)
}

fn notes(coats: &[Coat], holds: Holds) -> Vec<String> {
    let is_found = |coat: &&Coat| is_plain(coat, Side::Outside) || is_plain(coat, Side::Inside);
    let kept: Vec<String> = coats
        .iter()
        .filter(|coat| coat.on && !is_found(coat))
        .map(|coat| format!("“{}”", coat.name))
        .collect();
    let left_out = coats.iter().filter(|coat| !holds.inset && is_plain(coat, Side::Inside)).count();
    let mut notes = Vec::new();
    match kept.as_slice() {
        [] => {}
        [one] => notes.push(format!("{one} stays as it is.")),
        several => notes.push(format!("{} stay as they are.", several.join(", "))),
    }
    match left_out {
        0 => {}
        1 => notes.push("One inner shadow is left out.".to_owned()),
        several => notes.push(format!("{several} inner shadows are left out.")),
    }
    notes
}

/// A piece with a stack of its own.
pub(super) fn wearing(piece: &model::Piece, coats: &[Coat]) -> model::Piece {
    piece.wearing(coats.to_vec())
}
