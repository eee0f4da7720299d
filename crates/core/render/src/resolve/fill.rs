//! Fills of the document as paints of plain numbers.

use std::sync::Arc;

use super::colour::ColourContext;
use super::paint::{ColourStop, Paint};
use super::scene::Context;
use crate::colour::Rgba;
use crate::model::{ColourSource, Fill, GradientDirection, Stop};

impl Context<'_> {
    /// A fill of plain colours, taken from nothing that is there already.
    pub(super) fn paint(&self, fill: &Fill, report: &mut impl FnMut(String)) -> Paint {
        self.coat_paint(fill, &ColourContext::default(), report)
    }

    /// A fill whose colours may be taken from the surface below the coat.
    pub(super) fn coat_paint(
        &self,
        fill: &Fill,
        around: &ColourContext<'_>,
        report: &mut impl FnMut(String),
    ) -> Paint {
        match fill {
            Fill::None(_) => Paint::None,
            Fill::Solid(solid) => Paint::Solid(self.fill_colour(&solid.colour, around, report)),
            Fill::Linear(linear) => {
                let angle = match &linear.direction {
                    GradientDirection::Angle(angle) => angle.angle.get(),
                    GradientDirection::Follows(light) => self.bearing(&light.follows) + 180.0,
                };
                Paint::Linear { angle, stops: self.stops(&linear.stops, around, report) }
            }
            Fill::Radial(radial) => Paint::Radial {
                centre: (radial.centre.x.get(), radial.centre.y.get()),
                radius: radial.radius.get(),
                stops: self.stops(&radial.stops, around, report),
            },
            Fill::Image(image) => match self.assets.get(&image.asset) {
                Some(bitmap) => Paint::Image { bitmap: Arc::clone(bitmap), fit: image.fit, bare: false },
                None => {
                    report(format!("the picture \"{}\" is not here: left empty", image.asset));
                    Paint::None
                }
            },
        }
    }

    fn stops(
        &self,
        stops: &[Stop],
        around: &ColourContext<'_>,
        report: &mut impl FnMut(String),
    ) -> Vec<ColourStop> {
        let resolve = |stop: &Stop| ColourStop {
            at: stop.at.get(),
            colour: self.fill_colour(&stop.colour, around, report),
        };
        stops.iter().map(resolve).collect()
    }

    fn fill_colour(
        &self,
        source: &ColourSource,
        around: &ColourContext<'_>,
        report: &mut impl FnMut(String),
    ) -> Rgba {
        self.colour(source, around).unwrap_or_else(|why| {
            report(why);
            Rgba::default()
        })
    }
}
