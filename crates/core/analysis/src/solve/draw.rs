//! Coats for an edge profile that is drawn: its curve is pulled at one place, or given whole.

use kurbo::{Point, Vec2};
use serde::{Deserialize, Serialize};

use super::boxes::BoxField;
use super::curve::Curve;
use super::field::Field;
use super::forward::{Model, PremultipliedLayer};
use super::least_squares::{Objective, Prior, numbers, refine};
use super::masks::MaskField;
use super::reduce::wearing;
use super::rounding::rounded;
use super::search::towards;
use super::shadow::{Freedom, OffsetAxis, Parameter, Shadow, Side};
use super::stack::{Group, is_plain, single_shadows, with_own_ids};
use crate::asset::Assets;
use crate::colour::Rgba;
use crate::compose::MaskCache;
use crate::geometry::{Outline, PlacedSilhouette, Silhouette};
use crate::limits;
use crate::measure::{Line, Profile, ScenePoint, whole_profile};
use crate::model::{self, Coat, Id, Project};
use crate::resolve;

/// Taking hold of the curve at one place.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Pull {
    /// Px outward from the edge; negative inside.
    pub at: f64,
    /// The darkness there that is wanted, in %.
    pub to: f64,
}

/// A stack for a drawn profile.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Drawn {
    /// The whole stack.
    pub coats: Vec<Coat>,
    /// How far its profile is from the wanted one at worst, in % of darkness.
    pub worst: f64,
}

/// Why no stack is drawn.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum CannotDraw {
    /// The profile's line does not lie on the scene.
    #[error("The curve cannot be pulled: no edge of the piece lies on the scene.")]
    NoProfile,
    /// Too many coats are there already.
    #[error("The curve cannot be pulled: it takes one coat more, and a stack has at most {}.", limits::COATS)]
    TooMany,
    /// A profile that becomes lighter is drawn by a ramp or a height, whose shadows move together.
    #[error("A ramp or a height keeps its course: split it into coats first, then pull the curve.")]
    MovesAsOne,
}

/// The line across an edge along which a profile is measured.
#[derive(Clone, Copy)]
pub struct EdgeLine<'a> {
    /// The scene that the piece is part of.
    pub scene: &'a model::Scene,
    /// The id of the piece whose edge it crosses.
    pub piece: &'a Id,
    /// Where it crosses the edge, and which way.
    pub line: Line,
}

/// Resources for drawing a profile.
#[derive(Clone, Copy)]
pub struct RenderResources<'a> {
    /// Pictures and fonts.
    pub assets: &'a Assets,
    /// Masks of earlier pictures.
    pub cache: &'a MaskCache,
}

/// How far a pull is felt, in shares of how far it is from the edge, and at least, in px.
const WIDTH: f64 = 0.6;
const LEAST_WIDTH: f64 = 3.0;
/// How much more the pulled place counts than the others.
const PULLED: f64 = 8.0;
/// Steps of a fit, and fits, each after a look at the real picture.
const STEPS: usize = 10;
const LOOKS: usize = 2;

/// The stack after its profile's curve is pulled: shadows on the side of the edge that was pulled move, those that
/// need to the least the most, and no other coat.
///
/// # Errors
/// [`CannotDraw`] when there is no profile.
pub fn pull(
    project: &Project,
    edge: EdgeLine<'_>,
    means: RenderResources<'_>,
    pull: Pull,
) -> Result<Drawn, CannotDraw> {
    let bench = ProfileFitter::new(project, edge, means)?;
    let side = if pull.at < 0.0 { Side::Inside } else { Side::Outside };
    let now = bench.profile(bench.coats()).ok_or(CannotDraw::NoProfile)?;
    let before = darkness_at(&now, pull.at);
    let width = (pull.at.abs() * WIDTH).max(LEAST_WIDTH);
    let bump = |at: f64| crate::maths::exp(-((at - pull.at) / width).powi(2) / 2.0);
    let wanted: Vec<(f64, f64)> = now
        .samples
        .iter()
        .filter(|sample| (sample.at < 0.0) == (side == Side::Inside))
        .map(|sample| (sample.at, sample.darkness + (pull.to - before) * bump(sample.at)))
        .collect();
    let weights = wanted.iter().map(|(at, _)| 1.0 + PULLED * bump(*at).powi(4)).collect();
    let (coats, group) = bench.with_group(side, pull.at)?;
    let is_added = bench.coats().len() < coats.len();
    if is_added && pull.to < before && bench.coats().iter().any(|coat| is_plain(coat, side)) {
        return Err(CannotDraw::MovesAsOne);
    }
    Ok(bench.fitted(&coats, &group, &now, TargetProfile { at: wanted, weights }))
}

/// The best stack of at most so many coats for a whole curve, on a piece without coats.
///
/// # Errors
/// [`CannotDraw`] when there is no profile.
pub fn draw(
    project: &Project,
    edge: EdgeLine<'_>,
    means: RenderResources<'_>,
    curve: &Curve,
    max_coats: usize,
) -> Result<Drawn, CannotDraw> {
    let bench = ProfileFitter::new(project, edge, means)?;
    let bare = bench.profile(&[]).ok_or(CannotDraw::NoProfile)?;
    let (near, far) = curve.ends();
    let mut coats = Vec::new();
    for side in [Side::Outside, Side::Inside] {
        let is_drawn = if side == Side::Outside { far > 0.0 } else { near < 0.0 };
        if is_drawn {
            coats.extend(bench.grown(side, curve, &bare, max_coats));
        }
    }
    let shown = bench.profile(&coats).ok_or(CannotDraw::NoProfile)?;
    let is_drawn = |at: f64| if at < 0.0 { near < 0.0 } else { far > 0.0 };
    let offs = shown.samples.iter().filter(|sample| is_drawn(sample.at));
    let worst = offs.map(|sample| (sample.darkness - curve.at(sample.at) * 100.0).abs()).fold(0.0, f64::max);
    Ok(Drawn { coats, worst })
}

/// A profile that is wanted: px from the edge and darkness in %, and how much each place counts.
struct TargetProfile {
    at: Vec<(f64, f64)>,
    weights: Vec<f64>,
}

/// A piece, the line its profile is seen along, and the resources to draw it with.
struct ProfileFitter<'a> {
    project: &'a Project,
    scene: &'a model::Scene,
    piece: &'a model::Piece,
    resolved: resolve::Piece,
    assets: &'a Assets,
    line: Line,
    cache: &'a MaskCache,
}

impl<'a> ProfileFitter<'a> {
    fn new(
        project: &'a Project,
        EdgeLine { scene, piece, line }: EdgeLine<'a>,
        RenderResources { assets, cache }: RenderResources<'a>,
    ) -> Result<Self, CannotDraw> {
        let piece = scene.piece(piece.as_str()).ok_or(CannotDraw::NoProfile)?;
        let resolved = resolve::piece(project, scene, piece, assets).0;
        Ok(Self { project, scene, piece, resolved, assets, line, cache })
    }

    fn coats(&self) -> &'a [Coat] {
        self.project.shown_coats(self.scene, self.piece)
    }

    /// The profile of the piece with these coats, drawn as the stage draws it.
    fn profile(&self, coats: &[Coat]) -> Option<Profile> {
        let mut scene = self.scene.opened_to(&self.piece.id);
        *scene.piece_mut(&self.piece.id)? = wearing(self.piece, coats);
        let resolved = resolve::scene(self.project, &scene, self.assets);
        whole_profile(&resolved, &self.piece.id, self.line, self.cache)
    }

    /// The shadows of a side, and the stack; one shadow is added where there are none.
    fn with_group(&self, side: Side, at: f64) -> Result<(Vec<Coat>, Group), CannotDraw> {
        let mut coats = self.coats().to_vec();
        if let Some(group) = single_shadows(&coats, &self.resolved, side) {
            return Ok((coats, group));
        }
        if coats.len() >= limits::COATS {
            return Err(CannotDraw::TooMany);
        }
        let reach = at.abs().max(2.0);
        let first =
            Shadow { dx: 0.0, dy: 0.0, blur: reach * 2.0, spread: 0.0, opacity: 0.02, colour: [0.0; 3] };
        let empty = Group::empty(side);
        let added = empty.to_coats(&[Shadow { dy: reach / 2.0, ..first }]);
        match side {
            Side::Outside => coats.extend(added),
            Side::Inside => drop(coats.splice(0..0, added)),
        }
        let coats = with_own_ids(coats, self.coats());
        let piece = resolve::piece(self.project, self.scene, &wearing(self.piece, &coats), self.assets).0;
        let group = single_shadows(&coats, &piece, side);
        group.map(|group| (coats, group)).ok_or(CannotDraw::NoProfile)
    }

    /// Where on the piece a sample is, in its own px.
    fn place(&self, profile: &Profile, at: f64) -> (f64, f64) {
        let ScenePoint { x, y } = profile.edge;
        let outward = self.outward();
        let middle = |value: f64| value.floor() + 0.5;
        let on_scene = Point::new(middle(x + outward.x * at), middle(y + outward.y * at));
        let own = on_scene - Vec2::new(self.resolved.x, self.resolved.y);
        (own.x, own.y)
    }

    fn outward(&self) -> Vec2 {
        let (sin, cos) = crate::maths::sin_cos(self.line.bearing.to_radians());
        Vec2::new(-sin, cos)
    }

    fn field(&self, profile: &Profile, side: Side, wanted: &TargetProfile) -> Box<dyn Field> {
        let places: Vec<(f64, f64)> = wanted.at.iter().map(|(at, _)| self.place(profile, *at)).collect();
        let plain = || PlacedSilhouette::plain(self.resolved.silhouette.clone());
        let body = match side {
            Side::Outside => self.resolved.outer.clone(),
            Side::Inside => self.resolved.inner.clone().unwrap_or_else(plain),
        };
        let places: Vec<(f64, f64)> = places.iter().map(|(x, y)| (x - body.x, y - body.y)).collect();
        let weights = wanted.weights.clone();
        match body.silhouette {
            Silhouette::Box(shape) if self.resolved.rotation == 0.0 => {
                Box::new(BoxField::along(shape, &places, weights))
            }
            other if self.resolved.rotation == 0.0 => Box::new(MaskField::along(other, &places, weights)),
            other @ (Silhouette::Box(_)
            | Silhouette::Outline(_)
            | Silhouette::Alpha(_)
            | Silhouette::Drawing(_)) => Box::new(MaskField::along(self.turned(&other), &places, weights)),
        }
    }

    /// A silhouette as it lies on the scene, about the middle of its box.
    fn turned(&self, silhouette: &Silhouette) -> Silhouette {
        let (width, height) = silhouette.size();
        let middle = Point::new(width / 2.0, height / 2.0);
        let turn = crate::maths::rotation_about(self.resolved.rotation.to_radians(), middle);
        Silhouette::Outline(Outline::new(turn * silhouette.outline().path.clone(), width, height).into())
    }

    /// The stack with a group's shadows moved towards the target.
    fn fitted(&self, coats: &[Coat], group: &Group, now: &Profile, wanted: TargetProfile) -> Drawn {
        let freedom = freedom(group, &self.resolved);
        let field = self.field(now, group.side, &wanted);
        let model =
            Model { field: &*field, side: group.side, freedom: &freedom, coloured: false, ground: None };
        let at = numbers(&model, &group.shadows);
        let strength = group.shadows.iter().flat_map(|_| freedom.parameters()).map(strength).collect();
        let prior = Prior { at, strength };
        let mut shadows = group.shadows.clone();
        let mut seen = model.compose(&shadows);
        let mut shown: Vec<f64> = wanted.at.iter().map(|(at, _)| darkness_at(now, *at)).collect();
        let mut best = Drawn { coats: coats.to_vec(), worst: f64::INFINITY };
        for _ in 0..LOOKS {
            let target: Vec<PremultipliedLayer> = seen
                .iter()
                .zip(shown.iter().zip(&wanted.at))
                .map(|(seen, (shown, (_, wanted)))| darker(seen, wanted - shown))
                .collect();
            let goal = Objective {
                target: &target,
                power: 1,
                scale: 1.0,
                prior: Some(&prior),
                held: &[],
                is_ground_free: false,
            };
            refine(&model, &goal, &mut shadows, STEPS);
            let stack = rewritten(coats, group, &shadows.iter().map(tidied).collect::<Vec<_>>());
            let Some(profile) = self.profile(&stack) else { break };
            shown = wanted.at.iter().map(|(at, _)| darkness_at(&profile, *at)).collect();
            seen = model.compose(&shadows);
            let offs = shown.iter().zip(&wanted.at).map(|(shown, (_, wanted))| (shown - wanted).abs());
            let worst = offs.fold(0.0, f64::max);
            if worst < best.worst {
                best = Drawn { coats: stack, worst };
            }
        }
        best
    }

    /// Shadows for a whole curve on one side, from none.
    fn grown(&self, side: Side, curve: &Curve, bare: &Profile, most: usize) -> Vec<Coat> {
        let on_side = |at: f64| (at < 0.0) == (side == Side::Inside);
        let at: Vec<(f64, f64)> = bare
            .samples
            .iter()
            .filter(|sample| on_side(sample.at))
            .map(|sample| (sample.at, curve.at(sample.at) * 100.0))
            .collect();
        let wanted = TargetProfile { weights: vec![1.0; at.len()], at };
        let (near, far) = curve.ends();
        let reach = if side == Side::Outside { far } else { -near }.max(1.0);
        let outward = self.outward();
        // A dark inner edge lies where the piece ends when its hole is moved away from there.
        let way = if side == Side::Outside { outward } else { -outward };
        let first = |share: f64, count: usize| Shadow {
            dx: way.x * reach * share * 0.4,
            dy: way.y * reach * share * 0.4,
            blur: reach * share,
            spread: 0.0,
            opacity: 0.4 / count as f64,
            colour: [0.0; 3],
        };
        let starts = |count: usize| {
            let by = |power: f64| -> Vec<Shadow> {
                (1..=count)
                    .map(|number| first(crate::maths::powf(number as f64 / count as f64, power), count))
                    .collect()
            };
            vec![by(1.0), by(2.0)]
        };
        let group = Group::empty(side);
        let mut freedom = freedom(&group, &self.resolved);
        freedom.axis = OffsetAxis::Along { x: way.x, y: way.y };
        freedom.spread = true;
        let field = self.field(bare, side, &wanted);
        let model = Model { field: &*field, side, freedom: &freedom, coloured: false, ground: None };
        let clear: PremultipliedLayer = [0.0, 0.0, 0.0, 1.0];
        let ground = self.ground(side);
        let target: Vec<PremultipliedLayer> =
            wanted.at.iter().map(|(_, darkness)| darker_on(&clear, ground, *darkness)).collect();
        let found = towards(&model, &target, most, starts);
        let best = found.iter().min_by(|a, b| a.worst.total_cmp(&b.worst));
        best.map_or_else(Vec::new, |best| group.to_coats(&rounded(&model, &target, best).shadows))
    }

    /// The surface that is darkened, as one colour: outside, the one the piece lies on; inside, its fill over that.
    fn ground(&self, side: Side) -> Rgba {
        let beneath = resolve::beneath(self.project, self.scene, self.piece, self.assets);
        let fill = self.resolved.fill.mean().filter(|_| side == Side::Inside);
        let laid = |fill: Rgba| {
            let [r, g, b] = [fill.r, fill.g, fill.b].map(|channel| f64::from(channel * fill.a));
            laid_on(&[r, g, b, f64::from(1.0 - fill.a)], beneath)
        };
        fill.map_or(beneath, laid)
    }
}

/// The parameters that move on a line across one edge: offsets along the direction they have, blurs, opacities; spreads
/// only where no offset can.
fn freedom(group: &Group, piece: &resolve::Piece) -> Freedom {
    let (width, height) = piece.silhouette.size();
    let room = (width.min(height) / 2.0 - 0.5).max(0.0);
    let (least_spread, most_spread) = match group.side {
        Side::Outside => (-room, limits::SPREAD),
        Side::Inside => (-limits::SPREAD, room),
    };
    let spread = group.axis == OffsetAxis::Fixed;
    Freedom { axis: group.axis, spread, blur: true, colour: false, least_spread, most_spread }
}

/// Penalty for moving a parameter from its start: per px of length, per unit of opacity, relative to the share of the
/// ground that shows through.
fn strength(parameter: Parameter) -> f64 {
    match parameter {
        Parameter::Opacity => 0.01,
        _ => 0.0005,
    }
}

/// Tenths of a px and of a per cent: nobody sees less on a curve.
fn tidied(shadow: &Shadow) -> Shadow {
    let tenth = |value: f64| (value * 10.0).round() / 10.0;
    Shadow {
        dx: tenth(shadow.dx),
        dy: tenth(shadow.dy),
        blur: tenth(shadow.blur),
        spread: tenth(shadow.spread),
        opacity: (shadow.opacity * 1000.0).round() / 1000.0,
        ..*shadow
    }
}

fn rewritten(coats: &[Coat], group: &Group, shadows: &[Shadow]) -> Vec<Coat> {
    let mut written = group.to_coats(shadows).into_iter();
    let mut stack = Vec::new();
    for coat in coats {
        if !group.has(coat) {
            stack.push(coat.clone());
        } else if let Some(mut new) = written.next() {
            new.name.clone_from(&coat.name);
            stack.push(new);
        }
    }
    stack.extend(written);
    stack
}

/// Darkness at a place of a profile, in %, between its samples as they are.
fn darkness_at(profile: &Profile, at: f64) -> f64 {
    let after = profile.samples.partition_point(|sample| sample.at < at);
    let (Some(last), Some(first)) = (profile.samples.last(), profile.samples.first()) else { return 0.0 };
    let (Some(to), Some(from)) = (profile.samples.get(after), profile.samples.get(after.wrapping_sub(1)))
    else {
        return if after == 0 { first.darkness } else { last.darkness };
    };
    from.darkness + (to.darkness - from.darkness) * (at - from.at) / (to.at - from.at)
}

/// The colour at a darkness in %, on a white ground and in the colour that is there.
fn darker(seen: &PremultipliedLayer, by: f64) -> PremultipliedLayer {
    let white = Rgba::new(1.0, 1.0, 1.0, 1.0);
    let now = f64::from(white.lightness() - laid_on(seen, white).lightness()) * 100.0;
    darker_on(seen, white, now + by)
}

/// The colour at a darkness in %: more or less of its own colour, or of black where there is none.
fn darker_on(seen: &PremultipliedLayer, ground: Rgba, darkness: f64) -> PremultipliedLayer {
    let alpha = 1.0 - seen[3];
    let colour = if alpha > 1e-6 { [0, 1, 2].map(|channel| seen[channel] / alpha) } else { [0.0; 3] };
    let wanted = f64::from(ground.lightness()) - darkness / 100.0;
    let with = |shows: f64| {
        let [r, g, b] = colour.map(|channel| channel * (1.0 - shows));
        [r, g, b, shows]
    };
    // Lightness grows with what shows through, as shadows are darker than what they lie on.
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..30 {
        let middle = (low + high) / 2.0;
        let is_darker = f64::from(laid_on(&with(middle), ground).lightness()) < wanted;
        if is_darker { low = middle } else { high = middle }
    }
    with((low + high) / 2.0)
}

fn laid_on([r, g, b, shows]: &PremultipliedLayer, ground: Rgba) -> Rgba {
    let on = |added: &f64, ground: f32| (added + f64::from(ground) * shows) as f32;
    Rgba::new(on(r, ground.r), on(g, ground.g), on(b, ground.b), 1.0)
}
