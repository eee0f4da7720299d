//! Small stand-ins for screens and eyes that cannot be here: a picture as it would be seen on, or with, them.

use serde::{Deserialize, Serialize};

use crate::blend::Pixel;
use crate::colour::{linear_to_srgb, srgb_to_linear};
use crate::compose::Canvas;

/// A screen, a light around it, or an eye.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Screen {
    /// As it is.
    Plain,
    /// Turned down to a quarter of its light in a lit room, which adds a fiftieth of its full light.
    Dim,
    /// Sunlight on it adds a fifth of its full light everywhere: black is raised.
    Sunlight,
    /// A poor panel: black gives a tenth of the light of white.
    LowContrast,
    /// 6 bits a channel instead of 8.
    SixBits,
    /// A warm night filter at 2700 K.
    Night,
    /// Eyes that see red less, or not.
    Protan(Deficiency),
    /// Eyes that see green less, or not.
    Deutan(Deficiency),
    /// Eyes that see blue less, or not.
    Tritan(Deficiency),
}

/// How much is missing.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Deficiency {
    /// From 0 to 1.
    pub severity: f32,
}

impl Screen {
    /// A picture as it is seen.
    #[must_use]
    pub fn apply(self, canvas: &Canvas) -> Canvas {
        if self == Self::Plain {
            return canvas.clone();
        }
        Canvas { pixels: canvas.pixels.iter().map(|pixel| self.pixel(*pixel)).collect(), ..*canvas }
    }

    /// A premultiplied pixel as it is seen.
    pub(super) fn pixel(self, pixel: Pixel) -> Pixel {
        let [r, g, b, a] = pixel;
        if a <= 0.0 || self == Self::Plain {
            return pixel;
        }
        let [r, g, b] = self.colour([r, g, b].map(|part| (part / a).clamp(0.0, 1.0)));
        [r * a, g * a, b * a, a]
    }

    /// A colour as it is seen, both gamma-encoded.
    fn colour(self, colour: [f32; 3]) -> [f32; 3] {
        let in_light = |work: &dyn Fn([f32; 3]) -> [f32; 3]| {
            linear_to_srgb(work(srgb_to_linear(colour)).map(|light| light.clamp(0.0, 1.0)))
        };
        // Reflected light raises white too, and the eye adapts to the lightest colour.
        let raised = |of: f32, by: f32| in_light(&|light| light.map(|part| (part * of + by) / (of + by)));
        match self {
            Self::Plain => colour,
            Self::Dim => raised(0.25, 0.02),
            Self::Sunlight => raised(1.0, 0.2),
            Self::LowContrast => raised(0.9, 0.1),
            Self::SixBits => colour.map(|part| (part * 63.0).round() / 63.0),
            Self::Night => in_light(&|light| std::array::from_fn(|i| light[i] * WARM[i])),
            Self::Protan(severity) => in_light(&|light| turned(&PROTAN, severity, light)),
            Self::Deutan(severity) => in_light(&|light| turned(&DEUTAN, severity, light)),
            Self::Tritan(severity) => in_light(&|light| turned(&TRITAN, severity, light)),
        }
    }
}

/// Light of a black body at 2700 K in linear sRGB, its red taken as 1 (Planck's law and the 2° observer of CIE 1931,
/// computed with colour-science 0.4.7).
const WARM: [f32; 3] = [1.0, 0.42, 0.10];

/// The published table has eleven severities; between two of them the matrices are interpolated.
fn turned(table: &[[f32; 9]; 11], Deficiency { severity }: Deficiency, light: [f32; 3]) -> [f32; 3] {
    let place = severity.clamp(0.0, 1.0) * 10.0;
    let low = (place.floor() as usize).min(9);
    let share = place - low as f32;
    let at = |i: usize| table[low][i] + (table[low + 1][i] - table[low][i]) * share;
    std::array::from_fn(|row| (0..3).map(|column| at(row * 3 + column) * light[column]).sum())
}

// Machado, Oliveira and Fernandes 2009, "A Physiologically-based Model for Simulation of Color Vision Deficiency", IEEE
// Transactions on Visualization and Computer Graphics 15(6), table of matrices for linear RGB by severity, 0 to 1.

const PROTAN: [[f32; 9]; 11] = [
    [1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0],
    [0.856167, 0.182038, -0.038205, 0.029342, 0.955115, 0.015544, -0.00288, -0.001563, 1.004443],
    [0.734766, 0.334872, -0.069637, 0.05184, 0.919198, 0.028963, -0.004928, -0.004209, 1.009137],
    [0.630323, 0.465641, -0.095964, 0.069181, 0.890046, 0.040773, -0.006308, -0.007724, 1.014032],
    [0.539009, 0.579343, -0.118352, 0.082546, 0.866121, 0.051332, -0.007136, -0.011959, 1.019095],
    [0.458064, 0.679578, -0.137642, 0.092785, 0.846313, 0.060902, -0.007494, -0.016807, 1.024301],
    [0.38545, 0.769005, -0.154455, 0.100526, 0.829802, 0.069673, -0.007442, -0.02219, 1.029632],
    [0.319627, 0.849633, -0.169261, 0.106241, 0.815969, 0.07779, -0.007025, -0.028051, 1.035076],
    [0.259411, 0.923008, -0.18242, 0.110296, 0.80434, 0.085364, -0.006276, -0.034346, 1.040622],
    [0.203876, 0.990338, -0.194214, 0.112975, 0.794542, 0.092483, -0.005222, -0.041043, 1.046265],
    [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
];
const DEUTAN: [[f32; 9]; 11] = [
    [1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0],
    [0.866435, 0.177704, -0.044139, 0.049567, 0.939063, 0.01137, -0.003453, 0.007233, 0.99622],
    [0.760729, 0.319078, -0.079807, 0.090568, 0.889315, 0.020117, -0.006027, 0.013325, 0.992702],
    [0.675425, 0.43385, -0.109275, 0.125303, 0.847755, 0.026942, -0.00795, 0.018572, 0.989378],
    [0.605511, 0.52856, -0.134071, 0.155318, 0.812366, 0.032316, -0.009376, 0.023176, 0.9862],
    [0.547494, 0.607765, -0.155259, 0.181692, 0.781742, 0.036566, -0.01041, 0.027275, 0.983136],
    [0.498864, 0.674741, -0.173604, 0.205199, 0.754872, 0.039929, -0.011131, 0.030969, 0.980162],
    [0.457771, 0.731899, -0.18967, 0.226409, 0.731012, 0.042579, -0.011595, 0.034333, 0.977261],
    [0.422823, 0.781057, -0.203881, 0.245752, 0.709602, 0.044646, -0.011843, 0.037423, 0.974421],
    [0.392952, 0.82361, -0.216562, 0.263559, 0.69021, 0.046232, -0.01191, 0.040281, 0.97163],
    [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
];
const TRITAN: [[f32; 9]; 11] = [
    [1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0],
    [0.92667, 0.092514, -0.019184, 0.021191, 0.964503, 0.014306, 0.008437, 0.054813, 0.93675],
    [0.89572, 0.13333, -0.02905, 0.029997, 0.9454, 0.024603, 0.013027, 0.104707, 0.882266],
    [0.905871, 0.127791, -0.033662, 0.026856, 0.941251, 0.031893, 0.01341, 0.148296, 0.838294],
    [0.948035, 0.08949, -0.037526, 0.014364, 0.946792, 0.038844, 0.010853, 0.193991, 0.795156],
    [1.017277, 0.027029, -0.044306, -0.006113, 0.958479, 0.047634, 0.006379, 0.248708, 0.744913],
    [1.104996, -0.046633, -0.058363, -0.032137, 0.971635, 0.060503, 0.001336, 0.317922, 0.680742],
    [1.193214, -0.109812, -0.083402, -0.058496, 0.97941, 0.079086, -0.002346, 0.403492, 0.598854],
    [1.257728, -0.139648, -0.118081, -0.078003, 0.975409, 0.102594, -0.003316, 0.501214, 0.502102],
    [1.278864, -0.125333, -0.153531, -0.084748, 0.957674, 0.127074, -0.000989, 0.601151, 0.399838],
    [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
];

#[cfg(test)]
mod tests {
    use super::*;

    fn seen(screen: Screen, colour: [f32; 3]) -> [f32; 3] {
        screen.colour(colour)
    }

    /// The rows of the published matrices sum to 1: greys stay as they are, at every severity.
    #[test]
    fn greys_stay_grey_for_every_eye() {
        for table in [&PROTAN, &DEUTAN, &TRITAN] {
            for matrix in table {
                for row in matrix.chunks(3) {
                    assert!((row.iter().sum::<f32>() - 1.0).abs() < 3e-6, "{row:?}");
                }
            }
        }
    }

    /// The published matrix for a full lack of green takes linear red to 0.367, 0.280, -0.012.
    #[test]
    fn the_table_is_the_published_one() {
        let full = Deficiency { severity: 1.0 };
        let [r, g, b] = srgb_to_linear(seen(Screen::Deutan(full), [1.0, 0.0, 0.0]));
        assert!((r - 0.367_322).abs() < 1e-4 && (g - 0.280_085).abs() < 1e-4 && b == 0.0, "{r} {g} {b}");
        let half = srgb_to_linear(seen(Screen::Protan(Deficiency { severity: 0.55 }), [0.0, 1.0, 0.0]));
        assert!((half[0] - (0.679_578 + 0.769_005) / 2.0).abs() < 1e-4, "{half:?}");
        assert_eq!(
            seen(Screen::Tritan(Deficiency { severity: 0.0 }), [0.5, 0.25, 0.75]).map(|p| (p * 1e5).round()),
            [50_000.0, 25_000.0, 75_000.0]
        );
    }

    #[test]
    fn light_around_a_screen_takes_contrast() {
        // White and black as 1.2 and 0.2 of the light: 6 to 1.
        let black = srgb_to_linear(seen(Screen::Sunlight, [0.0; 3]))[0];
        assert!((black - 0.2 / 1.2).abs() < 1e-6);
        assert_eq!(seen(Screen::SixBits, [1.0 / 255.0; 3]), [0.0; 3]);
        assert_eq!(seen(Screen::Plain, [0.3; 3]), [0.3; 3]);
    }
}
