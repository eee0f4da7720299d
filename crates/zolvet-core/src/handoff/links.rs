//! What a shadow of the project is linked to, as custom properties in CSS: its light, its swatch, its piece's own fill or
//! the ground, so that the browser computes offsets and colours from them (CSS Values 4, "Trigonometric Functions";
//! CSS Color 5, "Relative Colors").

use kurbo::Vec2;

use std::collections::BTreeMap;

use crate::colour::{Rgba, css_text, percent};
use crate::css::{Declaration, circle, interpolation, paint_text};
use crate::lower::{Graph, Lowered, LoweredFilter, Numbers, Step, fewest};
use crate::model::{Coat, CoatKind, ColourOrigin, ColourSource, Fill, GradientDirection, Id, Offset, Stop};
use crate::resolve::{ColourStop, Context, Paint, PaintOp, Shadow, ShadowKind, ShadowPaint};
use crate::syntax::{number_text, px};

/// How values refer to a project's lights and swatches, to an own fill and a ground.
#[derive(Debug, Default)]
pub(super) struct Properties {
    pub lights: BTreeMap<Id, LightProperties>,
    /// The property of a swatch.
    pub swatches: BTreeMap<Id, String>,
    /// `--PREFIX-fill`: the own fill of an element, which its rule sets beside its background.
    pub fill: String,
    /// `--PREFIX-ground`: the colour that an element lies on.
    pub ground: String,
    /// `--PREFIX-height`: how many px an element is above the ground.
    pub height: String,
}

/// A light in a sheet.
#[derive(Debug)]
pub(super) struct LightProperties {
    /// The property of its angle.
    pub angle: String,
    /// The properties that say where under the light a shadow falls that lies 1 px away.
    pub x: String,
    pub y: String,
}

/// The fallbacks for an own fill and a ground, as CSS; empty where the element itself sets them.
#[derive(Debug, Clone, Default)]
pub(super) struct FallbackColours {
    pub fill: String,
    pub ground: String,
}

/// The links of one stack on one piece, under one theme.
pub(super) struct Links<'a> {
    pub context: Context<'a>,
    pub properties: &'a Properties,
    pub coats: &'a [Coat],
    /// The piece's fill as one colour.
    pub fill: Rgba,
    /// The fallbacks for both where an element sets none.
    pub fallback_colours: FallbackColours,
    /// The colour beneath it, where its coats agree on that.
    pub ground: Option<Rgba>,
    pub numbers: Numbers,
}

/// How far apart a colour and the browser's computed value may be, in 255ths.
const SAME: f32 = 0.51;

impl Links<'_> {
    /// The declarations of a lowered piece with its links in place of their values.
    pub fn living(&self, lowered: &Lowered, mut lines: Vec<Declaration>) -> Vec<Declaration> {
        // Browsers that know relative colours need no prefix.
        lines.retain(|line| !line.name.starts_with("-webkit-"));
        // The browser turns shadows with their element; a light stays where it is.
        if lowered.element.rotation != 0.0 {
            return lines;
        }
        lines.into_iter().map(|line| self.line(lowered, line)).collect()
    }

    fn line(&self, lowered: &Lowered, line: Declaration) -> Declaration {
        match (line.name.as_ref(), &lowered.filter) {
            ("box-shadow" | "text-shadow", _) => {
                let coats: Vec<&crate::resolve::Coat> =
                    lowered.element.coats.iter().filter(|coat| coat.op.shadow().is_some()).collect();
                let shadows = coats.iter().enumerate().filter_map(|(at, coat)| {
                    let before = coats[..at].iter().filter(|other| other.id == coat.id).count();
                    Some(self.shadow((&coat.id, before), coat.op.shadow()?))
                });
                Declaration { values: shadows.collect(), ..line }
            }
            ("filter", Some(LoweredFilter::Functions(graph))) => {
                Declaration { values: self.functions(graph), ..line }
            }
            _ => line,
        }
    }

    /// A fill as CSS writes it, and with its links.
    pub fn paint(&self, fill: &Fill, paint: &Paint) -> (String, String) {
        let flat = paint_text(paint);
        let living = match fill {
            Fill::Solid(solid) => {
                let Paint::Solid(colour) = paint else { return (flat.clone(), flat) };
                self.source(Some(&solid.colour), *colour)
            }
            Fill::Linear(linear) => {
                let Paint::Linear { angle, stops } = paint else { return (flat.clone(), flat) };
                let angle = match &linear.direction {
                    GradientDirection::Follows(light) => self.properties.lights.get(&light.follows),
                    GradientDirection::Angle(_) => None,
                }
                .map_or_else(
                    || format!("{}deg", number_text(angle.rem_euclid(360.0))),
                    |light| format!("calc({} + 180deg)", light.angle),
                );
                let stops = self.stops(&linear.stops, stops);
                format!("linear-gradient({angle}{}, {stops})", interpolation(&stops))
            }
            Fill::Radial(radial) => {
                let Paint::Radial { centre, radius, stops } = paint else { return (flat.clone(), flat) };
                let stops = self.stops(&radial.stops, stops);
                format!(
                    "radial-gradient({}{}, {stops})",
                    circle((*centre).into(), *radius),
                    interpolation(&stops)
                )
            }
            Fill::None(_) | Fill::Image(_) => flat.clone(),
        };
        (flat, living)
    }

    fn stops(&self, sources: &[Stop], stops: &[ColourStop]) -> String {
        let text = |(source, stop): (&Stop, &ColourStop)| {
            format!("{} {}%", self.source(Some(&source.colour), stop.colour), number_text(stop.at * 100.0))
        };
        let mut texts: Vec<String> = sources.iter().zip(stops).map(text).collect();
        // A gradient of one colour needs it twice.
        if texts.len() == 1 {
            texts.push(texts[0].clone());
        }
        texts.join(", ")
    }

    /// A shadow by the coat that casts it, and the number of those which that casts before it.
    fn shadow(&self, (id, number): (&Id, usize), shadow: &Shadow) -> String {
        let coat = self.coats.iter().find(|coat| coat.id == *id);
        if let Some(raised) = coat.and_then(|coat| coat.kind.raised())
            && let Some(text) = self.of_height(raised, number, shadow)
        {
            return format!("{text} {}", self.colour(coat, shadow.colour()));
        }
        let inset = if shadow.kind == ShadowKind::Inner { "inset " } else { "" };
        let spread = if shadow.spread == 0.0 { String::new() } else { format!(" {}", px(shadow.spread)) };
        let offset = self.offset(coat, Vec2::new(shadow.dx, shadow.dy));
        format!("{inset}{offset} {}{spread} {}", px(shadow.blur), self.colour(coat, shadow.colour()))
    }

    /// A chain of filter functions, each of which is found by its numbers among the coats.
    fn functions(&self, graph: &Graph) -> Vec<String> {
        let texts = graph.steps.iter().filter_map(|step| match step {
            Step::DropShadow { dx, dy, sigma, colour, .. } => {
                let coat = self.coats.iter().find(|coat| self.is_cast_by(coat, Vec2::new(*dx, *dy), *colour));
                let offset = self.offset(coat, Vec2::new(*dx, *dy));
                Some(format!("drop-shadow({offset} {} {})", px(*sigma), self.colour(coat, *colour)))
            }
            Step::Blur { sigma, .. } => Some(format!("blur({})", px(*sigma))),
            _ => None,
        });
        texts.collect()
    }

    fn is_cast_by(&self, coat: &Coat, offset: Vec2, colour: Rgba) -> bool {
        let source = sources(coat).and_then(|(source, _)| self.base(source));
        self.along(coat, offset).is_some() && source.is_none_or(|(_, _, seen)| is_same(seen, colour))
    }

    /// The light that a coat with one offset follows, and how far away it is.
    fn following<'c>(&self, coat: &'c Coat) -> Option<(f64, &'c Id)> {
        match coat.kind.offset()? {
            Offset::Following(following) => {
                Some((self.numbers.length(following.distance.get()), &following.follows))
            }
            _ => None,
        }
    }

    /// Both parts of an offset: so many times the vector of the light that it follows, where it follows one.
    fn offset(&self, coat: Option<&Coat>, Vec2 { x: dx, y: dy }: Vec2) -> String {
        let plain = format!("{} {}", px(dx), px(dy));
        let Some((light, distance)) = coat.and_then(|coat| self.along(coat, Vec2::new(dx, dy))) else {
            return plain;
        };
        let Some(LightProperties { x, y, .. }) =
            self.properties.lights.get(light).filter(|_| distance != 0.0)
        else {
            return plain;
        };
        if distance == 1.0 {
            return format!("var({x}) var({y})");
        }
        let times = number_text(distance);
        format!("calc({times} * var({x})) calc({times} * var({y}))")
    }

    /// The light an offset lies along, and how far: that of a coat, or of a step of a ramp whose ends follow one light.
    fn along<'c>(&self, coat: &'c Coat, Vec2 { x: dx, y: dy }: Vec2) -> Option<(&'c Id, f64)> {
        let (typed, light) = self.following(coat)?;
        let (sin, cos) = crate::maths::sin_cos(self.context.bearing(light).to_radians());
        let distance = match &coat.kind {
            CoatKind::Ramp(ramp) => match &ramp.far.offset {
                Offset::Following(far) if far.follows == *light => fewest(dy * cos - dx * sin, 0.001),
                _ => return None,
            },
            CoatKind::Drop(_)
            | CoatKind::Inner(_)
            | CoatKind::Highlight(_)
            | CoatKind::Tint(_)
            | CoatKind::Stroke(_)
            | CoatKind::Blur(_)
            | CoatKind::Extrude(_)
            | CoatKind::Cast(_)
            | CoatKind::Backdrop(_)
            | CoatKind::Raised(_) => typed,
        };
        let off = (dx + distance * sin).abs().max((dy - distance * cos).abs());
        (off < 0.002).then_some((light, distance))
    }

    /// A colour with an opacity, by the swatch, fill or ground it is taken from.
    fn colour(&self, coat: Option<&Coat>, colour: Rgba) -> String {
        let source = coat.and_then(sources).filter(|(near, far)| far.is_none_or(|far| far == *near));
        self.source(source.map(|(near, _)| near), colour)
    }

    /// The same for the result of one source.
    pub fn source(&self, source: Option<&ColourSource>, colour: Rgba) -> String {
        let linked = source.and_then(|source| {
            let (name, lightness, seen) = self.base(source)?;
            is_same(seen, colour).then(|| (name, lightness, colour.a / seen.a.max(f32::MIN_POSITIVE), seen.a))
        });
        let Some((name, lightness, share, opaque)) = linked else { return css_text(colour) };
        let share = self.numbers.share(f64::from(share));
        let alpha = match (share, opaque) {
            (share, _) if (share - 1.0).abs() < 1e-6 => String::new(),
            (share, opaque) if opaque >= 1.0 => format!(" / {}", percent(share as f32)),
            (share, _) => format!(" / calc(alpha * {})", number_text(share)),
        };
        match lightness {
            Some(amount) if amount != 0.0 => {
                let sign = if amount < 0.0 { '-' } else { '+' };
                let by = number_text(amount.abs());
                format!("oklch(from {name} calc(l {sign} {by}) c h{alpha})")
            }
            _ if alpha.is_empty() => name,
            _ => format!("rgb(from {name} r g b{alpha})"),
        }
    }

    /// The source of a colour as CSS, the lightness added to it, and the result.
    fn base(&self, source: &ColourSource) -> Option<(String, Option<f64>, Rgba)> {
        let (text, base, lightness) = match source {
            ColourSource::Literal(_) => return None,
            ColourSource::Swatch(swatch) => {
                let text = self.properties.swatches.get(&swatch.swatch)?;
                (text.clone(), self.context.swatch(&swatch.swatch), swatch.lightness)
            }
            ColourSource::From(taken) => match taken.from {
                ColourOrigin::Fill => (
                    reference(&self.properties.fill, &self.fallback_colours.fill),
                    Rgba { a: 1.0, ..self.fill },
                    taken.lightness,
                ),
                ColourOrigin::Ground => {
                    let text = reference(&self.properties.ground, &self.fallback_colours.ground);
                    (text, self.ground?, taken.lightness)
                }
                ColourOrigin::Light | ColourOrigin::Picture => return None,
            },
        };
        let lightness = lightness.map(crate::model::Signed::get);
        let seen = lightness.map_or(base, |amount| base.lightened(amount));
        Some((text, lightness, seen))
    }
}

/// A custom property with its fallback.
pub(super) fn reference(property: &str, fallback: &str) -> String {
    if fallback.is_empty() { format!("var({property})") } else { format!("var({property}, {fallback})") }
}

/// The source of a shadow's colour; for a ramp, that of its far end too.
fn sources(coat: &Coat) -> Option<(&ColourSource, Option<&ColourSource>)> {
    let ends = coat.kind.shadow_ends();
    Some((ends.first()?.1, ends.last().filter(|_| ends.len() > 1).map(|end| end.1)))
}

fn is_same(a: Rgba, b: Rgba) -> bool {
    [a.r - b.r, a.g - b.g, a.b - b.b].iter().all(|off| off.abs() * 255.0 <= SAME)
}

/// Whether a coat takes its colour from the ground or the pieces under it.
pub(super) fn takes(coat: &Coat, from: ColourOrigin) -> bool {
    let is = |source: &ColourSource| matches!(source, ColourSource::From(taken) if taken.from == from);
    sources(coat).is_some_and(|(near, far)| is(near) || far.is_some_and(is))
}

/// The colour that shadows which take it from the ground come to, where they all do.
pub(super) fn ground_of(coats: &[Coat], piece: &crate::resolve::Piece) -> Option<Rgba> {
    let plain = |coat: &&Coat| {
        let (source, _) = sources(coat)?;
        let ColourSource::From(taken) = source else { return None };
        let drawn = piece.coats.iter().find(|drawn| drawn.id == coat.id)?;
        let PaintOp::Shadow(Shadow { paint: ShadowPaint::Colour(colour), .. }) = drawn.op else {
            return None;
        };
        (taken.from == ColourOrigin::Ground && taken.lightness.is_none()).then_some(Rgba { a: 1.0, ..colour })
    };
    coats.iter().find_map(|coat| plain(&coat))
}
