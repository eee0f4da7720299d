//! Whole stacks to start from, named by us. Their numbers are the trade's (docs/measuring.md, "Facts"; common practice, no
//! published source); lengths of patches and thickness go by the piece's size.

use serde::Serialize;

use super::recipe::{
    Patch, Recipe, Softness, black, blended, coat, drop, faint, floor_shadow, frost, ground, inner, offset,
    own_lightness, stops, stroke, white,
};
use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::model::{
    Coat, CoatKind, CssColour, Fill, Id, Length, Piece, Project, RadialFill, Relative, RelativePoint,
    StrokeSide, Tint,
};

/// A stack to start from.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Starter {
    /// Its name.
    pub name: &'static str,
    /// Its effect, in a few words.
    pub description: &'static str,
    /// Its coats, to be given ids of their own; first is nearest the eye.
    pub coats: Vec<Coat>,
}

/// The stacks that a piece could start from; offsets follow the project's first light.
#[must_use]
pub fn starters(project: &Project, piece: &Piece, assets: &Assets) -> Vec<Starter> {
    let recipe = Recipe::new(project, piece, assets);
    let mut starters = [recipe.raised(), recipe.sunk(), recipe.shining(), recipe.solid_and_flat()].concat();
    for (number, starter) in starters.iter_mut().enumerate() {
        for (coat_number, coat) in starter.coats.iter_mut().enumerate() {
            coat.id = Id::part_of("starter", number, coat_number);
        }
    }
    starters
}

impl Recipe {
    fn raised(&self) -> Vec<Starter> {
        vec![
            Starter {
                name: "Two-part shadow",
                description: "a soft shadow from the main light, a tight dark one where it touches",
                coats: vec![
                    self.drop("Contact", 1.5, Softness(2.0, 0.0, 0.35), black()),
                    self.drop("Key", 10.0, Softness(24.0, -2.0, 0.22), black()),
                ],
            },
            Starter {
                name: "Soft relief",
                description: "raised from the ground itself: two dark shadows, two light ones",
                coats: vec![
                    self.drop("Light, tight", -2.8, Softness(2.0, 0.0, 0.4), ground(0.12)),
                    self.drop("Light, wide", -11.0, Softness(24.0, 0.0, 0.4), ground(0.12)),
                    self.drop("Dark, tight", 2.8, Softness(2.0, 0.0, 0.2), ground(-0.4)),
                    self.drop("Dark, wide", 11.0, Softness(24.0, 0.0, 0.3), ground(-0.4)),
                ],
            },
            Starter {
                name: "Glossy dome",
                description: "bright at the top, dark below, its own dark shadow underneath",
                coats: vec![
                    self.shine(),
                    self.inner("Top light, tight", 4.0, Softness(4.0, -2.0, 0.4), white()),
                    self.inner("Top light", 12.0, Softness(12.0, -8.0, 0.8), white()),
                    self.inner("Lower edge, tight", -4.0, Softness(8.0, 1.0, 0.08), black()),
                    self.inner("Lower edge", -8.0, Softness(8.0, -4.0, 0.12), black()),
                    self.drop("Own dark", 16.0, Softness(16.0, -8.0, 0.6), own_lightness(-0.25)),
                    self.drop("Air around it", 4.0, Softness(40.0, 0.0, 0.14), black()),
                ],
            },
            Starter {
                name: "Ridge",
                description: "a raised rim, lit on one side",
                coats: vec![
                    self.inner("Lit edge", 1.0, Softness(1.0, 0.0, 0.8), white()),
                    self.inner("Shaded edge", -1.0, Softness(1.0, 0.0, 0.35), black()),
                    self.rim(),
                    self.drop("Contact", 1.5, Softness(3.0, 0.0, 0.35), black()),
                ],
            },
        ]
    }

    fn shine(&self) -> Coat {
        let round = |length: f64| length.round().max(1.0);
        let patch = Patch {
            x: round(self.width * 0.1),
            y: round(self.height * 0.06),
            width: round(self.width * 0.8),
            height: round(self.height * 0.36),
            blur: round(self.height * 0.12),
        };
        self.highlight("Shine", patch, 0.35)
    }

    fn rim(&self) -> Coat {
        let width = (self.shorter_side() * 0.05).round().clamp(1.0, 12.0);
        let line = stroke("Rim", width, StrokeSide::Inside, self.light_to_dark());
        blended(faint(line, 0.4), BlendMode::SoftLight)
    }

    fn sunk(&self) -> Vec<Starter> {
        let shading = Fill::Radial(RadialFill {
            centre: RelativePoint { x: Relative::clamped(0.5), y: Relative::clamped(0.5) },
            radius: Length::clamped(150.0),
            stops: stops(black(), white()),
        });
        vec![
            Starter {
                name: "Pressed in",
                description: "pushed below the surface, away from the light",
                coats: vec![
                    self.inner("Shade", 6.0, Softness(10.0, 0.0, 0.4), own_lightness(-0.3)),
                    self.inner("Lower light", -1.0, Softness(1.0, 0.0, 0.5), white()),
                ],
            },
            Starter {
                name: "Carved",
                description: "cut into the ground, with a bright edge on the far side",
                coats: vec![
                    self.inner("Depth", 8.0, Softness(18.0, 0.0, 0.6), black()),
                    faint(coat("Shading", CoatKind::Tint(Tint { fill: shading })), 0.25),
                    self.drop("Far edge", 1.0, Softness(1.0, 1.0, 1.0), white()),
                ],
            },
        ]
    }

    fn shining(&self) -> Vec<Starter> {
        let screen = |coat| blended(coat, BlendMode::Screen);
        let tube = TUBE.map(|(blur, opacity)| {
            screen(self.drop(&format!("Glow {blur}"), 0.0, Softness(blur, 0.0, opacity), own_lightness(0.0)))
        });
        vec![
            Starter {
                name: "Glowing tube",
                description: "seven glows, each wider; best on thin type and dark grounds",
                coats: tube.into(),
            },
            Starter {
                name: "Inner and outer glow",
                description: "light all round and within, on dark grounds",
                coats: vec![
                    screen(self.inner("Within", 0.0, Softness(20.0, 2.0, 0.7), own_lightness(0.2))),
                    screen(self.drop("Close", 0.0, Softness(8.0, 1.0, 0.8), own_lightness(0.1))),
                    screen(self.drop("Around", 0.0, Softness(36.0, 4.0, 0.7), own_lightness(0.0))),
                ],
            },
            Starter {
                name: "Frosted pane",
                description: "blurs what lies behind a see-through fill",
                coats: frosted_pane(),
            },
        ]
    }

    fn solid_and_flat(&self) -> Vec<Starter> {
        let depth = (self.shorter_side() * 0.2).clamp(6.0, 35.0).round();
        vec![
            Starter {
                name: "Thick letters",
                description: "solid to the side away from the light, with a shadow at its end",
                coats: vec![
                    self.thickness(depth),
                    self.drop("Behind it", depth + 6.0, Softness(18.0, 0.0, 0.35), black()),
                ],
            },
            Starter {
                name: "Hard edge",
                description: "a flat shadow with no blur, and a rounded line",
                coats: vec![
                    stroke("Line", 3.0, StrokeSide::Outside, Fill::solid(own_lightness(-0.45))),
                    drop("Hard shadow", offset(6.0, 6.0), Softness(0.0, 0.0, 1.0), own_lightness(-0.45)),
                ],
            },
            Starter {
                name: "Floor shadow",
                description: "standing: its shadow runs over the floor and fades",
                coats: vec![
                    floor_shadow("On the floor"),
                    drop("Foot", offset(0.0, 2.0), Softness(4.0, -2.0, 0.4), black()),
                ],
            },
        ]
    }
}

/// Blur radius in px and opacity of each glow of a tube.
const TUBE: [(f64, f64); 7] =
    [(10.0, 1.0), (50.0, 1.0), (100.0, 1.0), (200.0, 1.0), (400.0, 1.0), (1000.0, 1.0), (2000.0, 0.5)];

fn frosted_pane() -> Vec<Coat> {
    let grey = Tint { fill: Fill::solid(CssColour::rgb([0x94; 3])) };
    vec![
        inner("Light edge", offset(0.0, 0.0), Softness(46.0, 0.0, 0.3), white()),
        faint(stroke("Rim", 6.0, StrokeSide::Outside, Fill::solid(white())), 0.3),
        faint(coat("Grey", CoatKind::Tint(grey)), 0.1),
        drop("Below", offset(0.0, 12.0), Softness(24.0, 0.0, 0.1), black()),
        frost(),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn every_starter_is_a_stack() {
        for side in [1.0, 40.0, 8192.0_f64] {
            let document = json!({
                "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
                "lights": [{"id": "l", "name": "L", "bearing": 0, "colour": "#fff", "strength": 1}],
                "scenes": [{"id": "a", "name": "A", "width": 100, "height": 100, "theme": "t", "ground": {"kind": "none"},
                    "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": side, "h": side}, "x": 0, "y": 0, "wear": {"coats": []}}]}]
            });
            let project = Project::from_value(&document).expect("a project");
            let found = starters(&project, &project.scenes[0].pieces[0], &Assets::default());
            assert_eq!(found.len(), 12, "{side}");
            for starter in found {
                let mut with = project.clone();
                with.scenes[0].pieces[0].wear =
                    crate::model::Wear::Coats(crate::model::OwnCoats { coats: starter.coats });
                let back = serde_json::to_value(&with).expect("JSON");
                assert!(Project::from_value(&back).is_ok_and(|back| back == with), "{}", starter.name);
            }
        }
    }
}
