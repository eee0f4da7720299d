//! The shadows of a height that a piece could be given.

use super::recipe::black;
use crate::model::{
    Coat, Degrees, Factor, HeightPx, Light, Opacity, PerHeight, Project, Raised, RaisedShadow, Rig, Wear,
};

/// A height under a project's first light: with the shadows that heights under it have already, else those of the usual light.
pub(super) fn height(project: &Project) -> Raised {
    let light = project.lights.first();
    let like = light.and_then(|light| like_others(project, light));
    let (rig, shadows) = like.unwrap_or_else(|| (Rig::usual(), usual_shadows()));
    Raised {
        height: HeightPx::clamped(12.0),
        bearing: Degrees::clamped(0.0),
        follows: light.map(|light| light.id.clone()),
        rig,
        colour: black(),
        shadows,
    }
}

fn like_others(project: &Project, light: &Light) -> Option<(Rig, Vec<RaisedShadow>)> {
    let of_pieces =
        project.scenes.iter().flat_map(|scene| &scene.pieces).filter_map(|piece| match &piece.wear {
            Wear::Coats(own) => Some(&own.coats),
            Wear::Finish(_) => None,
        });
    let coats: Vec<&Coat> =
        project.finishes.iter().map(|finish| &finish.coats).chain(of_pieces).flatten().collect();
    let heights = coats.into_iter().filter_map(|coat| coat.kind.raised());
    let of_light =
        |raised: &&Raised| raised.follows.as_ref() == Some(&light.id) && Some(raised.rig) == light.rig;
    heights.into_iter().find(of_light).map(|raised| (raised.rig, raised.shadows.clone()))
}

/// What [`crate::solve::shadows_under`] finds for the usual light.
fn usual_shadows() -> Vec<RaisedShadow> {
    let shadow = |[distance, blur, spread, opacity]: [f64; 4]| RaisedShadow {
        distance: PerHeight::clamped(distance),
        blur: Factor::clamped(blur),
        spread: PerHeight::clamped(spread),
        opacity: Opacity::clamped(opacity),
    };
    [[0.8388, 0.12, -0.01, 0.4013], [0.1988, 0.6925, -0.27, 0.3758], [-0.1819, 2.8533, -0.8933, 0.2586]]
        .map(shadow)
        .to_vec()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::solve::shadows_under;

    #[test]
    fn shadows_of_the_usual_light_are_those_that_are_found() {
        let found = shadows_under(20.0, &Rig::usual(), 3);
        assert_eq!(found.len(), usual_shadows().len());
        for (kept, found) in usual_shadows().iter().zip(found) {
            let offs = [
                kept.distance.get() - found.distance.get(),
                kept.blur.get() - found.blur.get(),
                kept.spread.get() - found.spread.get(),
                kept.opacity.get() - found.opacity.get(),
            ];
            assert!(offs.iter().all(|off| off.abs() < 0.01), "{kept:?}, {found:?}");
        }
    }
}
