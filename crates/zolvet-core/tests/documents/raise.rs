//! Coats for a height, against light that is summed up ray by ray (docs/measuring.md, "Heights").

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Finding, FindingKind, Limits, audit};
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::geometry::RoundedBox;
use zolvet_core::model::{Coat, CoatKind, Elevation, Project, Rig};
use zolvet_core::resolve::{self, split_raised};
use zolvet_core::solve::{LightRig, Plate, RaisedStack, height_of, raise, raise_all, raised_coat, relit};

/// The radical inverse of a number in a base (Halton 1960).
fn radical_inverse(mut number: u32, base: u32) -> f64 {
    let (mut inverse, mut digit) = (0.0, 1.0);
    while number > 0 {
        digit /= f64::from(base);
        inverse += f64::from(number % base) * digit;
        number /= base;
    }
    inverse
}

/// Directions to the light that falls on the ground, each a step to the right and down for one px up, with its share.
struct Rays(Vec<(f64, f64, f64)>);

impl Rays {
    /// So many evenly over the light's disc, weighted by the cosine with which they fall, and so many over the dome, as the cosine has
    /// them.
    fn new(rig: &LightRig, count: u32) -> Self {
        let (bearing, elevation) = (rig.bearing.to_radians(), rig.elevation.to_radians());
        let to_light = [bearing.sin() * elevation.cos(), -bearing.cos() * elevation.cos(), elevation.sin()];
        let level = [bearing.cos(), bearing.sin(), 0.0];
        let up = cross(to_light, level);
        let cos_radius = (rig.size / 2.0).to_radians().cos();
        let disc: Vec<(f64, f64, f64)> = (1..=count)
            .map(|number| {
                // Evenly over the cap by height (Archimedes).
                let cos = 1.0 - radical_inverse(number, 2) * (1.0 - cos_radius);
                let (sin, turn) =
                    ((1.0 - cos * cos).sqrt(), radical_inverse(number, 3) * std::f64::consts::TAU);
                let ray: [f64; 3] = std::array::from_fn(|axis| {
                    cos * to_light[axis] + sin * (turn.cos() * level[axis] + turn.sin() * up[axis])
                });
                (ray[0] / ray[2], ray[1] / ray[2], ray[2])
            })
            .collect();
        let all: f64 = disc.iter().map(|ray| ray.2).sum();
        let mut rays: Vec<(f64, f64, f64)> =
            disc.into_iter().map(|(x, y, cosine)| (x, y, cosine / all * (1.0 - rig.ambient))).collect();
        rays.extend((1..=count).map(|number| {
            let (square, turn) =
                (radical_inverse(number, 2), radical_inverse(number, 3) * std::f64::consts::TAU);
            let (level, up) = (square.sqrt(), (1.0 - square).sqrt());
            (level / up * turn.cos(), level / up * turn.sin(), rig.ambient / f64::from(count))
        }));
        Self(rays)
    }

    /// The share of light that is not kept away by a plate.
    fn light(&self, shape: &RoundedBox, height: f64, x: f64, y: f64) -> f64 {
        let falls = self.0.iter().filter(|(dx, dy, _)| !holds(shape, x + height * dx, y + height * dy));
        falls.map(|(.., share)| share).sum()
    }
}

fn cross(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
}

fn holds(shape: &RoundedBox, x: f64, y: f64) -> bool {
    let (width, height, radius) = (shape.width, shape.height, shape.radii[0].0);
    if x < 0.0 || y < 0.0 || x > width || y > height {
        return false;
    }
    let (dx, dy) =
        ((radius - x).max(x - width + radius).max(0.0), (radius - y).max(y - height + radius).max(0.0));
    dx * dx + dy * dy <= radius * radius
}

/// As sRGB has it (IEC 61966-2-1).
fn encoded(light: f64) -> f64 {
    if light <= 0.003_130_8 { 12.92 * light } else { 1.055 * light.powf(1.0 / 2.4) - 0.055 }
}

/// A height, a light and a box.
struct Case {
    height: f64,
    rig: LightRig,
    shape: RoundedBox,
}

fn plate(width: f64, height: f64, radius: f64) -> RoundedBox {
    RoundedBox::new(width, height, [(radius, radius); 4])
}

/// Four heights, three lights, two boxes.
fn cases() -> Vec<Case> {
    let rigs = [
        LightRig::new(20.0, 50.0, 8.0, 0.4),
        LightRig::new(0.0, 70.0, 4.0, 0.6),
        LightRig::new(-45.0, 35.0, 12.0, 0.25),
    ];
    let shapes = [plate(240.0, 160.0, 16.0), plate(96.0, 40.0, 20.0)];
    let of = |height: f64| {
        rigs.into_iter().flat_map(move |rig| shapes.into_iter().map(move |shape| Case { height, rig, shape }))
    };
    [2.0, 6.0, 14.0, 32.0].into_iter().flat_map(of).collect()
}

/// The closed form is what rays add up to.
#[test]
fn light_is_what_rays_add_up_to() {
    for Case { height, rig, shape } in cases() {
        let (rays, plate) = (Rays::new(&rig, 4096), Plate::new(shape, height, &rig));
        let mut worst: f64 = 0.0;
        for number in 1..=160 {
            let x = (radical_inverse(number, 2) * 2.0 - 0.5) * shape.width;
            let y = (radical_inverse(number, 3) * 2.0 - 0.5) * shape.height;
            worst = worst.max((rays.light(&shape, height, x, y) - plate.light(x, y)).abs());
        }
        assert!(worst < 0.02, "height {height}, {rig:?}, {shape:?}: {worst}");
    }
}

/// The picture of the coats on white ground.
fn drawn(stack: &RaisedStack, case: &Case, room: f64) -> (Vec<u8>, usize) {
    let coats = [raised_coat(stack, case.height, &case.rig, None)];
    let RoundedBox { width, height, radii } = case.shape;
    let project = Project::from_value(&json!({
        "schema": 3, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": width + 2.0 * room, "height": height + 2.0 * room, "theme": "t", "ground": {"kind": "solid", "colour": "#fff"},
            "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": width, "h": height, "radii": radii[0].0}, "x": room, "y": room,
                "fill": {"kind": "solid", "colour": "#fff"}, "wear": {"coats": coats}}]}]
    }))
    .unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let cache = MaskCache::with_capacity(16 << 20);
    let view = Viewport::whole(&scene, 1.0);
    let picture = picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &cache);
    (picture.rgba, view.width as usize)
}

/// Pictures of three coats beside light that is summed up ray by ray, outside the plate.
#[test]
fn three_coats_are_like_the_light() {
    let mut near = 0;
    for case in cases() {
        let Case { height, rig, shape } = &case;
        let stack = raise(*shape, *height, rig, 3);
        let room = (rig.distance() * height + 5.0 * height + 8.0).ceil();
        let (rgba, width) = drawn(&stack, &case, room);
        let rays = Rays::new(rig, 2048);
        // A light's penumbra is as wide as its disc is seen from the ground, at that height.
        let penumbra = height * (rig.size.to_radians()) / rig.elevation.to_radians().sin();
        let mut offs = Vec::new();
        let rows = rgba.len() / 4 / width;
        let step = ((rows * width) as f64 / 6000.0).sqrt().max(1.0);
        let mut down = 0.0;
        while (down as usize) < rows {
            let mut across = 0.0;
            while (across as usize) < width {
                let (column, row) = (across as usize, down as usize);
                let (x, y) = (column as f64 + 0.5 - room, row as f64 + 0.5 - room);
                let inside = x > -1.0 && y > -1.0 && x < shape.width + 1.0 && y < shape.height + 1.0;
                let wanted = encoded(rays.light(shape, *height, x, y)) * 255.0;
                let seen = f64::from(rgba[(row * width + column) * 4]);
                if !inside && wanted.min(seen) < 254.5 {
                    offs.push((seen - wanted).abs());
                }
                across += step;
            }
            down += step;
        }
        offs.sort_by(f64::total_cmp);
        let mean = offs.iter().sum::<f64>() / offs.len() as f64;
        let (p99, worst) = (offs[offs.len() * 99 / 100], offs[offs.len() - 1]);
        let most = if penumbra > 3.0 { 6.0 } else { 14.0 };
        println!(
            "{height} {} {}: mean {mean:.2}, 99 % {p99:.2}, worst {worst:.2} of {most}",
            rig.elevation, shape.width
        );
        assert!(mean <= 2.0 && p99 <= 12.0 && worst <= 22.0, "height {height}, {rig:?}, {shape:?}");
        near += usize::from(mean <= 1.0 && p99 <= 7.0 && worst <= most);
    }
    assert!(near >= NEAR, "{near} of 24 are near");
}

/// Cases that are within a mean of 1, 7 at 99 % and 14 at worst, 6 where the light's penumbra is wider than 3 px. Of a low light and a
/// wide penumbra, whose shadow is drawn out, three round shadows miss the worst places.
const NEAR: usize = 13;

/// Twice as high, the light's own shadow lies twice as far away and is twice as soft.
#[test]
fn twice_as_high_is_twice_as_far() {
    for rig in
        [LightRig::default(), LightRig::new(0.0, 65.0, 6.0, 0.5), LightRig::new(-30.0, 40.0, 10.0, 0.3)]
    {
        for height in [4.0, 8.0, 13.0] {
            let shape = plate(12.0 * height + 20.0, 12.0 * height + 60.0, 12.0);
            let [low, high] = [height, 2.0 * height].map(|height| raise(shape, height, &rig, 3).shadows[0]);
            let far = |x: f64, y: f64| (x * x + y * y).sqrt();
            let (offset, blur) = (far(high.dx, high.dy) / far(low.dx, low.dy), high.blur / low.blur);
            assert!(
                (offset / 2.0 - 1.0).abs() <= 0.02 && (blur / 2.0 - 1.0).abs() <= 0.05,
                "height {height}, {rig:?}: {offset}, {blur}"
            );
        }
    }
}

/// Asked back, a raised stack says its height. Here of every third case; all of them were run by hand.
#[test]
fn a_raised_stack_says_its_height() {
    for Case { height, rig, shape } in cases().into_iter().step_by(3) {
        let stack = raise(shape, height, &rig, 3);
        let said = height_of(&stack.shadows, shape, &rig).expect("a height");
        // Of a shadow that is nearer than a pixel, a picture shows little.
        let most = if height < 4.0 { 0.8 } else { 0.05 * height };
        assert!((said.height - height).abs() <= most, "height {height}, {rig:?}, {shape:?}: {said:?}");
    }
    assert!(height_of(&[], plate(100.0, 60.0, 8.0), &LightRig::default()).is_none());
}

/// Finishes of a list of heights are one function of the height: lengths in proportion, the same opacities.
#[test]
fn heights_of_a_list_are_one_function() {
    let (shape, rig) = (plate(240.0, 160.0, 16.0), LightRig::default());
    let all = raise_all(shape, &[4.0, 16.0, 32.0], &rig, 2, None);
    let shadows = |at: usize| split_raised(&all[at].0, all[at].0.kind.raised().unwrap());
    let blurs = |coats: Vec<Coat>| -> Vec<f64> {
        coats
            .iter()
            .map(|coat| if let CoatKind::Drop(drop) = &coat.kind { drop.blur.get() } else { 0.0 })
            .collect()
    };
    let opacities = |at: usize| -> Vec<f64> { shadows(at).iter().map(|coat| coat.opacity.get()).collect() };
    let (low, high) = (blurs(shadows(0)), blurs(shadows(2)));
    assert!(low.iter().zip(&high).all(|(low, high)| (high - 8.0 * low).abs() < 1e-9), "{low:?} {high:?}");
    assert_eq!(opacities(0), opacities(2));
    // The highest is nearly as good as one that is found for it alone.
    let (error, alone) = (all[2].1, raise(shape, 32.0, &rig, 2).error);
    assert!(error.mean <= alone.mean + 1.5, "{error:?}, alone {alone:?}");
}

/// A document with a light and two pieces at heights that follow it, but for what `change` does to the second.
fn two_heights(change: impl Fn(&mut Value)) -> Project {
    let rig = json!({"elevation": 50, "size": 8, "ambient": 0.4});
    let piece = |id: &str, y: f64| {
        json!({"id": id, "name": id, "shape": {"kind": "box", "w": 90, "h": 60}, "x": 40, "y": y, "fill": {"kind": "solid", "colour": "#fff"},
            "wear": {"coats": [{"id": "h", "name": "Height", "on": true, "kind": "raised", "height": 6, "bearing": 0, "follows": "sun", "rig": rig,
                "colour": "#000", "shadows": [{"distance": 0.84, "blur": 0.12, "spread": 0, "opacity": 0.4}]}]}})
    };
    let mut document = json!({"schema": 3, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "lights": [{"id": "sun", "name": "Sun", "bearing": 20, "colour": "#fff", "strength": 1, "rig": rig}],
        "scenes": [{"id": "a", "name": "A", "width": 200, "height": 300, "theme": "t", "ground": {"kind": "solid", "colour": "#eee"},
            "pieces": [piece("low", 30.0), piece("high", 140.0), piece("third", 220.0)]}]});
    change(&mut document);
    Project::from_value(&document).unwrap()
}

fn disagreements(project: &Project) -> Vec<Finding> {
    let cache = MaskCache::with_capacity(16 << 20);
    let found =
        audit(project, &Assets::default(), &Limits::default(), &cache, &mut |_, _| true).unwrap().findings;
    found.into_iter().filter(|one| one.kind == FindingKind::HeightsDisagree).collect()
}

fn fixed(project: &Project, finding: &Finding) -> Project {
    let mut document = serde_json::to_value(project).unwrap();
    json_patch::patch(&mut document, &finding.fix.as_ref().unwrap().patch).unwrap();
    Project::from_value(&document).unwrap()
}

/// Heights that another light casts than the one they follow, or than the others of their scene, are found and mended.
#[test]
fn heights_under_different_lights_are_found_and_mended() {
    assert!(disagreements(&two_heights(|_| ())).is_empty());
    let of_second = "/scenes/0/pieces/1/wear/coats/0";
    let other_rig = two_heights(|document| {
        document["lights"][0]["rig"]["elevation"] = json!(70);
        for at in [0, 2] {
            document["scenes"][0]["pieces"][at]["wear"]["coats"] = json!([]);
        }
    });
    let found = disagreements(&other_rig);
    assert_eq!(found.len(), 1, "{found:?}");
    assert!(found[0].message.contains("50°") && found[0].message.contains("70°"), "{}", found[0].message);
    assert!(disagreements(&fixed(&other_rig, &found[0])).is_empty());
    let other_bearing = two_heights(|document| {
        let coat = document.pointer_mut(of_second).unwrap();
        (coat["follows"], coat["bearing"]) = (Value::Null, json!(200));
    });
    let found = disagreements(&other_bearing);
    assert_eq!(
        found.iter().map(|one| one.place.piece.as_ref().unwrap().as_str()).collect::<Vec<_>>(),
        ["high"]
    );
    assert!(disagreements(&fixed(&other_bearing, &found[0])).is_empty());
}

/// A light that is changed casts all heights that follow it anew: lower, it throws them farther.
#[test]
fn a_changed_light_casts_its_heights_anew() {
    let project = two_heights(|document| {
        document["scenes"][0]["pieces"][2]["wear"]["coats"][0]["follows"] = Value::Null;
    });
    let rig = Rig { elevation: Elevation::clamped(35.0), ..Rig::usual() };
    let light = project.lights[0].id.clone();
    let patch = relit(&project, &light, &rig).unwrap();
    let mut document = serde_json::to_value(&project).unwrap();
    json_patch::patch(&mut document, &patch).unwrap();
    let after = Project::from_value(&document).unwrap();
    assert_eq!(after.lights[0].rig, Some(rig));
    let distance = |project: &Project, piece: usize| {
        let resolved = resolve::scene(project, &project.scenes[0], &Assets::default());
        let shadow = resolved.pieces[piece].coats[0].op.shadow().unwrap().clone();
        (shadow.dx * shadow.dx + shadow.dy * shadow.dy).sqrt()
    };
    for piece in [0, 1] {
        let wanted = 6.0 / 35_f64.to_radians().tan();
        assert!((distance(&after, piece) - wanted).abs() < 0.05, "{}", distance(&after, piece));
    }
    assert_eq!(distance(&after, 2), distance(&project, 2));
    assert!(relit(&project, &project.scenes[0].id, &rig).is_none());
}
