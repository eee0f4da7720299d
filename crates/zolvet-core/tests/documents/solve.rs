//! Stacks found: fewer coats for the same look, and coats for a drawn edge profile (docs/measuring.md, "Stacks").
//!
//! Errors are those of the real renderer, in 255ths at the worst pixel on white and on black ground. What is held here
//! on some random stacks was run by hand on 100 of each, with two seeds (`ZOLVET_SOLVE_RUNS=100 ZOLVET_SOLVE_SEED=…`).

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::MaskCache;
use zolvet_core::measure::{Line, Profile, whole_profile};
use zolvet_core::model::Project;
use zolvet_core::resolve;
use zolvet_core::solve::{
    CannotDraw, CannotReduce, Curve, Drawn, EdgeLine, Holds, Pull, Reduced, RenderResources, draw, pull,
    reduce,
};

/// Xorshift (Marsaglia 2003).
struct Random(u64);

impl Random {
    fn new(seed: u64) -> Self {
        let seed = std::env::var("ZOLVET_SOLVE_SEED").map_or(seed, |text| text.parse().unwrap());
        Self(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1)
    }

    fn share(&mut self) -> f64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 >> 11) as f64 / (1_u64 << 53) as f64
    }

    fn between(&mut self, least: f64, most: f64) -> f64 {
        least + (most - least) * self.share()
    }
}

fn runs(few: usize) -> usize {
    std::env::var("ZOLVET_SOLVE_RUNS").map_or(few, |text| text.parse().unwrap())
}

fn reduced(coats: &Value, holds: Holds) -> Reduced {
    reduced_on(16.0, coats, holds)
}

fn reduced_on(radius: f64, coats: &Value, holds: Holds) -> Reduced {
    let project = with_coats(radius, coats);
    let scene = &project.scenes[0];
    reduce(&project, scene, &scene.pieces[0], &Assets::default(), holds).unwrap()
}

/// A white card with such corners that wears these.
fn with_coats(radius: f64, coats: &Value) -> Project {
    let document = json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 480, "height": 440, "theme": "t", "ground": {"kind": "solid", "colour": "#fff"},
            "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": 240, "h": 160, "radii": radius}, "x": 120, "y": 100,
                "fill": {"kind": "solid", "colour": "#fff"}, "wear": {"coats": coats}}]}]
    });
    Project::from_value(&document).unwrap()
}

fn of_count(reduced: &Reduced, count: usize) -> f64 {
    if reduced.shadows <= count {
        return 0.0;
    }
    let exact = reduced.by_count.iter().rfind(|found| found.shadows <= count);
    exact.map_or(f64::INFINITY, |found| found.error.worst)
}

/// A soft ramp of docs/rendering.md, "Ramps": far distance 6 to 60 (even in its logarithm), far blur 1 to 2.5 times that, near
/// distance 0 to 3 and blur 1 px and up to twice that more, in half of them a spread down to −0.3 of the distance, 4 to 16 steps,
/// growth 1 to 2, lean ±0.6, total opacity 0.08 to 0.6, half of them from the top, others from up to 60° beside it.
fn soft_ramp(random: &mut Random) -> Value {
    let far = random.between(6_f64.ln(), 60_f64.ln()).exp();
    let far_blur = far * random.between(1.0, 2.5);
    let near = random.between(0.0, 3.0);
    let near_blur = 1.0 + near * random.between(0.0, 2.0);
    let spread = if random.share() < 0.5 { 0.0 } else { -far * random.between(0.0, 0.3) };
    let bearing = if random.share() < 0.5 { 0.0 } else { random.between(-60.0, 60.0) };
    let shadow = |distance: f64, blur: f64, spread: f64| json!({"offset": {"distance": distance, "bearing": bearing}, "blur": blur, "spread": spread, "colour": "#000"});
    json!([{"id": "r", "name": "Ramp", "on": true, "opacity": 1, "kind": "ramp", "shadow": "drop",
        "near": shadow(near, near_blur, 0.0), "far": shadow(far, far_blur, spread), "count": random.between(4.0, 17.0) as u32,
        "growth": random.between(1.0, 2.0), "lean": random.between(-0.6, 0.6), "total": random.between(0.08, 0.6)}])
}

#[test]
fn soft_ramps_come_down_to_six_and_to_four() {
    let mut random = Random::new(1);
    let count = runs(8);
    let (mut in_six, mut in_four) = (0, 0);
    for number in 0..count {
        let found = reduced(&soft_ramp(&mut random), Holds { coats: 6, ..Holds::default() });
        let (six, four) = (of_count(&found, 6), of_count(&found, 4));
        println!("{number}: {} shadows, six {six:.2}, four {four:.2}", found.shadows);
        in_six += usize::from(six <= 0.5);
        in_four += usize::from(four <= 1.0);
    }
    println!("within 0.5 in six: {in_six}, within 1.0 in four: {in_four}, of {count}");
    assert!(in_six * 10 >= count * 9 && in_four * 10 >= count * 9, "{in_six} and {in_four} of {count}");
}

/// A stack in which everything doubles from shadow to shadow (common practice, no published source).
fn doubling(count: u32, opacity: f64) -> Value {
    let shadow = |step: u32| {
        let length = 1 << step;
        json!({"id": format!("s{step}"), "name": format!("S{step}"), "on": true, "opacity": opacity, "kind": "drop",
            "offset": {"x": 0, "y": length}, "blur": length, "spread": 0, "colour": "#000"})
    };
    (0..count).map(shadow).collect()
}

#[test]
fn a_doubling_stack_of_six_comes_down_to_three() {
    let found = reduced(&doubling(6, 0.1), Holds { coats: 3, ..Holds::default() });
    assert_eq!(found.shadows, 6);
    let worst = of_count(&found, 3);
    println!("doubling: {worst:.2}");
    assert!(worst <= 3.5, "{worst}");
    let errors: Vec<f64> = found.by_count.iter().map(|fewer| fewer.error.worst).collect();
    assert!(errors.windows(2).all(|pair| pair[1] <= pair[0]), "{errors:?}");
}

/// Any silhouette: a drop of water, whose masks are the renderer's.
#[test]
fn a_stack_on_an_icon_comes_down_as_well() {
    let document = json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 300, "height": 300, "theme": "t", "ground": {"kind": "solid", "colour": "#fff"},
            "pieces": [{"id": "p", "name": "P", "shape": {"kind": "path", "d": "M40 0C60 40 80 60 80 90A40 40 0 0 1 0 90C0 60 20 40 40 0Z",
                "viewbox": [0, 0, 80, 130], "w": 80, "h": 130}, "x": 110, "y": 60,
                "fill": {"kind": "solid", "colour": "#fff"}, "wear": {"coats": doubling(5, 0.1)}}]}]
    });
    let project = Project::from_value(&document).unwrap();
    let scene = &project.scenes[0];
    let holds = Holds { coats: 3, ..Holds::default() };
    let found = reduce(&project, scene, &scene.pieces[0], &Assets::default(), holds).unwrap();
    let errors: Vec<f64> = found.by_count.iter().map(|fewer| fewer.error.worst).collect();
    println!("icon: {errors:?}");
    assert!(errors.len() == 3 && errors[2] <= 5.0 && errors[2] < errors[0], "{errors:?}");
}

/// What is rounded is what people type: whole px and per cents wherever the picture does not get worse.
#[test]
fn numbers_are_what_people_type() {
    let shadow = |id: &str, opacity: f64, blur: f64| json!({"id": id, "name": id, "on": true, "opacity": opacity, "kind": "drop", "offset": {"x": 0, "y": 8}, "blur": blur, "spread": -4, "colour": "#000"});
    // The second is hardly there: what is left is the first, and not some numbers near it.
    let found = reduced(
        &json!([shadow("a", 0.2, 24.0), shadow("b", 0.0002, 30.0)]),
        Holds { coats: 1, ..Holds::default() },
    );
    let one = serde_json::to_value(&found.by_count[0].coats[0]).unwrap();
    let numbers = [&one["offset"]["y"], &one["blur"], &one["spread"], &one["opacity"]];
    assert_eq!(numbers, [&json!(8.0), &json!(24.0), &json!(-4.0), &json!(0.2)]);
}

/// What a poor target holds: nothing else is in the stacks that are found for it.
#[test]
fn poor_targets_get_what_they_hold() {
    let mut coats = doubling(4, 0.12);
    let inner = json!({"id": "i", "name": "Inner", "on": true, "opacity": 0.5, "kind": "inner", "offset": {"x": 0, "y": 1}, "blur": 2, "spread": 1, "colour": "#fff"});
    let stroke = json!({"id": "k", "name": "Line", "on": true, "opacity": 1, "kind": "stroke", "width": 1, "side": "inside", "join": "miter", "cap": "butt", "fill": {"kind": "solid", "colour": "#ccc"}});
    let all = coats.as_array_mut().unwrap();
    all.insert(0, inner);
    all.insert(0, stroke);
    all[3]["spread"] = json!(-1);
    let found = reduced(&coats, Holds { coats: 1, spread: false, inset: false });
    let stack = serde_json::to_value(&found.by_count[0].coats).unwrap();
    let kinds: Vec<&Value> = stack.as_array().unwrap().iter().map(|coat| &coat["kind"]).collect();
    assert_eq!(kinds, ["stroke", "drop"]);
    assert_eq!(stack[1]["spread"], 0.0);
    assert_eq!(found.notes, ["“Line” stays as it is.", "One inner shadow is left out."]);
}

/// A single shadow is of the side that is missed most; what a tool does not hold at all is said.
#[test]
fn one_shadow_is_of_one_side() {
    let shadow = |kind: &str, opacity: f64| json!({"id": kind, "name": kind, "on": true, "opacity": opacity, "kind": kind, "offset": {"x": 0, "y": 4}, "blur": 6, "spread": 0, "colour": "#000"});
    for (drop, inner, kept) in [(0.1, 0.6, "inner"), (0.6, 0.1, "drop")] {
        let coats = json!([shadow("inner", inner), shadow("drop", drop)]);
        let found = reduced(&coats, Holds { coats: 1, spread: false, inset: true });
        let stack = serde_json::to_value(&found.by_count[0].coats).unwrap();
        assert_eq!(stack.as_array().unwrap().len(), 1);
        assert_eq!(stack[0]["kind"], kept);
        assert!(found.by_count[0].error.worst > 10.0, "the other is missed");
    }
    // A groove is its shade, and not the line of light on its edge.
    let lip = json!({"id": "lip", "name": "lip", "on": true, "opacity": 0.7, "kind": "drop", "offset": {"x": 0, "y": 1}, "blur": 0, "spread": 0, "colour": "#fff"});
    let groove = json!([shadow("inner", 0.3), lip]);
    let found = reduced(&groove, Holds { coats: 1, spread: false, inset: true });
    assert_eq!(serde_json::to_value(&found.by_count[0].coats).unwrap()[0]["kind"], "inner");
    let project = with_coats(16.0, &json!([shadow("inner", 0.5)]));
    let scene = &project.scenes[0];
    let poor = Holds { coats: 1, spread: false, inset: false };
    let refused = reduce(&project, scene, &scene.pieces[0], &Assets::default(), poor);
    assert_eq!(refused, Err(CannotReduce::OnlyInner));
}

fn stack_under_the_light(random: &mut Random, count: usize) -> Value {
    let shadow = |number: usize| {
        json!({"id": format!("s{number}"), "name": "S", "on": true, "opacity": random.between(0.05, 0.4), "kind": "drop",
            "offset": {"x": 0, "y": random.between(1.0, 20.0)}, "blur": random.between(2.0, 30.0), "spread": 0, "colour": "#000"})
    };
    (0..count).map(shadow).collect()
}

fn on_a_card(coats: &Value) -> Project {
    with_coats(16.0, coats)
}

const DOWN: Line = Line { x: 0.0, y: 0.0, bearing: 0.0 };

fn drawn(curve: &Curve, coats: usize) -> Drawn {
    let bare = on_a_card(&json!([]));
    let means = RenderResources { assets: &Assets::default(), cache: &MaskCache::default() };
    let scene = &bare.scenes[0];
    let edge = EdgeLine { scene, piece: &scene.pieces[0].id, line: DOWN };
    draw(&bare, edge, means, curve, coats).unwrap()
}

fn pulled(project: &Project, at: f64, to: f64) -> Result<Drawn, CannotDraw> {
    let means = RenderResources { assets: &Assets::default(), cache: &MaskCache::default() };
    let scene = &project.scenes[0];
    pull(project, EdgeLine { scene, piece: &scene.pieces[0].id, line: DOWN }, means, Pull { at, to })
}

/// A profile as it is measured, drawn again from nothing.
#[test]
fn profiles_of_stacks_come_back() {
    let mut random = Random::new(2);
    let mut worst: f64 = 0.0;
    for number in 0..runs(6) {
        let count = number % 6 + 1;
        let project = on_a_card(&stack_under_the_light(&mut random, count));
        let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
        let profile = whole_profile(&scene, &scene.pieces[0].id, DOWN, &MaskCache::default()).unwrap();
        let outside = profile.samples.iter().filter(|sample| sample.at >= 0.0);
        let curve =
            Curve::through(outside.map(|sample| (sample.at, sample.darkness / 100.0)).collect()).unwrap();
        let found = drawn(&curve, count);
        println!("{count} coats: {:.2} % with {}", found.worst, found.coats.len());
        assert!(found.coats.len() <= count);
        worst = worst.max(found.worst);
    }
    assert!(worst <= 0.5, "{worst} % of darkness");
}

/// Curves that fall from the edge outward and never rise, through 3 to 6 points no nearer than 3 px.
#[test]
fn any_falling_curve_is_drawn_with_four() {
    let mut random = Random::new(3);
    let count = runs(6);
    let mut near = 0;
    for number in 0..count {
        let (mut at, mut darkness) = (0.0, random.between(0.1, 0.5));
        let mut points = vec![(at, darkness)];
        for _ in 0..random.between(2.0, 6.0) as usize {
            at += random.between(3.0, 15.0);
            darkness *= random.between(0.2, 0.9);
            points.push((at, darkness));
        }
        points.push((at + random.between(6.0, 25.0), 0.0));
        let found = drawn(&Curve::through(points).unwrap(), 4);
        println!("curve {number}: {:.2} %", found.worst);
        near += usize::from(found.worst <= 1.5);
    }
    assert!(near * 10 >= count * 8, "{near} of {count} within 1.5 %");
}

/// A pulled place goes where it is pulled; places far from it stay.
#[test]
fn a_pulled_curve_follows_and_stays_elsewhere() {
    let coats = json!([
        {"id": "near", "name": "Near", "on": true, "opacity": 0.3, "kind": "drop", "offset": {"x": 0, "y": 2}, "blur": 4, "spread": 0, "colour": "#000"},
        {"id": "far", "name": "Far", "on": true, "opacity": 0.2, "kind": "drop", "offset": {"x": 0, "y": 14}, "blur": 36, "spread": 0, "colour": "#000"}
    ]);
    let project = on_a_card(&coats);
    let profile = |project: &Project| {
        let scene = resolve::scene(project, &project.scenes[0], &Assets::default());
        whole_profile(&scene, &scene.pieces[0].id, DOWN, &MaskCache::default()).unwrap()
    };
    let at = |profile: &Profile, at: f64| {
        profile.samples.iter().find(|sample| sample.at == at).map_or(0.0, |sample| sample.darkness)
    };
    let before = profile(&project);
    let wanted = at(&before, 20.0) + 3.0;
    let found = pulled(&project, 20.0, wanted).unwrap();
    let after = profile(&on_a_card(&serde_json::to_value(&found.coats).unwrap()));
    assert!((at(&after, 20.0) - wanted).abs() < 0.7, "{} for {wanted}", at(&after, 20.0));
    let moved = |place: f64| (at(&after, place) - at(&before, place)).abs();
    assert!(moved(1.0) < 1.0 && moved(70.0) < 1.0, "{} and {}", moved(1.0), moved(70.0));
    assert_eq!(found.coats.len(), 2);
    // Inside, where there is none, an inner shadow is added.
    let found = pulled(&project, -6.0, 5.0).unwrap();
    let kinds: Vec<Value> =
        found.coats.iter().map(|coat| serde_json::to_value(coat).unwrap()["kind"].clone()).collect();
    assert_eq!(kinds, ["inner", "drop", "drop"]);
    let after = profile(&on_a_card(&serde_json::to_value(&found.coats).unwrap()));
    assert!((at(&after, -6.0) - 5.0).abs() < 1.0, "{}", at(&after, -6.0));
}

/// A ramp goes its own way: what is darker than it gets a coat more, and nothing lighter is made of it.
#[test]
fn a_ramp_is_not_pulled_apart() {
    let end = |at: i32| json!({"offset": {"x": 0, "y": at}, "blur": at * 2, "spread": 0, "colour": "#000"});
    let ramp = json!({"id": "drawn-1", "name": "Ramp", "on": true, "opacity": 1, "kind": "ramp", "shadow": "drop", "near": end(1),
        "far": end(20), "count": 12, "growth": 1, "lean": 0, "total": 0.3});
    let project = on_a_card(&json!([ramp]));
    let darker = pulled(&project, 12.0, 40.0).unwrap();
    let ids: Vec<&str> = darker.coats.iter().map(|coat| coat.id.as_str()).collect();
    assert_eq!(ids, ["drawn-1", "found-1"], "the ramp stays, and the new coat has an id of its own");
    assert_eq!(pulled(&project, 12.0, 0.5), Err(CannotDraw::MovesAsOne));
}

/// Shadows of a box with sharp corners in closed form, and nothing of the core: what another optimiser works on.
mod reference {
    use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
    use nalgebra::{DMatrix, DVector, Dyn, Owned};

    /// y, blur, spread, opacity.
    pub type Drop = [f64; 4];

    fn cumulative(z: f64) -> f64 {
        0.5 * libm::erfc(-z / 2.0_f64.sqrt())
    }

    /// What shows through of the ground, at pixels 6 px apart around a box of 240 × 160.
    pub fn shown(drops: &[Drop]) -> Vec<f64> {
        let places = (-60..280).step_by(6).flat_map(|y| (-60..121).step_by(6).map(move |x| (x, y)));
        let outside = places.filter(|(x, y)| *x < 0 || !(0..160).contains(y));
        let at = |(x, y): (i32, i32)| {
            let (x, y) = (f64::from(x) + 0.5, f64::from(y) + 0.5);
            let through = drops.iter().map(|[dy, blur, spread, opacity]| {
                let sigma = (blur * blur / 4.0 + 1.0 / 12.0).sqrt();
                let between = |at: f64, length: f64| {
                    cumulative((at + spread) / sigma) - cumulative((at - length - spread) / sigma)
                };
                1.0 - opacity * between(x, 240.0) * between(y - dy, 160.0)
            });
            through.product()
        };
        outside.map(at).collect()
    }

    struct Problem {
        numbers: DVector<f64>,
        target: Vec<f64>,
    }

    impl Problem {
        /// Blur as a power, opacity as a logistic curve: the package knows no bounds.
        fn drops(numbers: &DVector<f64>) -> Vec<Drop> {
            let all: Vec<&[f64]> = numbers.as_slice().chunks(4).collect();
            all.iter().map(|n| [n[0], n[1].exp(), n[2], 1.0 / (1.0 + (-n[3]).exp())]).collect()
        }

        fn off(&self, numbers: &DVector<f64>) -> DVector<f64> {
            let shown = shown(&Self::drops(numbers));
            DVector::from_iterator(shown.len(), shown.iter().zip(&self.target).map(|(a, b)| a - b))
        }
    }

    impl LeastSquaresProblem<f64, Dyn, Dyn> for Problem {
        type ResidualStorage = Owned<f64, Dyn>;
        type JacobianStorage = Owned<f64, Dyn, Dyn>;
        type ParameterStorage = Owned<f64, Dyn>;

        fn set_params(&mut self, numbers: &DVector<f64>) {
            self.numbers.copy_from(numbers);
        }

        fn params(&self) -> DVector<f64> {
            self.numbers.clone()
        }

        fn residuals(&self) -> Option<DVector<f64>> {
            Some(self.off(&self.numbers))
        }

        fn jacobian(&self) -> Option<DMatrix<f64>> {
            let columns: Vec<DVector<f64>> = (0..self.numbers.len())
                .map(|at| {
                    let (mut less, mut more) = (self.numbers.clone(), self.numbers.clone());
                    less[at] -= 1e-5;
                    more[at] += 1e-5;
                    (self.off(&more) - self.off(&less)) / 2e-5
                })
                .collect();
            Some(DMatrix::from_columns(&columns))
        }
    }

    pub fn worst(drops: &[Drop], target: &[f64]) -> f64 {
        let offs = shown(drops).into_iter().zip(target).map(|(a, b)| (a - b).abs() * 255.0);
        offs.fold(0.0, f64::max)
    }

    /// From one beginning.
    pub fn solved(start: Vec<f64>, target: &[f64]) -> Vec<Drop> {
        let problem = Problem { numbers: DVector::from_vec(start), target: target.to_vec() };
        let (problem, _) = LevenbergMarquardt::new().with_patience(12).minimize(problem);
        Problem::drops(&problem.numbers)
    }
}

/// Hard stacks, of which nothing small is nearly equal: the error is never more than a tenth above the best that another
/// optimiser (the package levenberg-marquardt, a port of MINPACK) finds from 20 random beginnings.
#[test]
fn no_other_optimiser_finds_much_better() {
    let mut random = Random::new(4);
    for number in 0..runs(1) {
        let drops: Vec<reference::Drop> = (0..6)
            .map(|_| [random.between(0.0, 30.0), random.between(2.0, 30.0), 0.0, random.between(0.05, 0.3)])
            .collect();
        let coat = |(at, [y, blur, spread, opacity]): (usize, &reference::Drop)| {
            json!({"id": format!("s{at}"), "name": "S", "on": true, "opacity": opacity, "kind": "drop",
                "offset": {"x": 0, "y": y}, "blur": blur, "spread": spread, "colour": "#000"})
        };
        let coats: Value = drops.iter().enumerate().map(coat).collect();
        let found = reduced_on(0.0, &coats, Holds { coats: 2, ..Holds::default() });
        let ours: Vec<reference::Drop> = found.by_count[1]
            .coats
            .iter()
            .map(|coat| {
                let coat = serde_json::to_value(coat).unwrap();
                let number = |at: &str| coat.pointer(at).unwrap().as_f64().unwrap();
                [number("/offset/y"), number("/blur"), number("/spread"), number("/opacity")]
            })
            .collect();
        let target = reference::shown(&drops);
        let mut best = f64::INFINITY;
        for _ in 0..20 {
            let one = |random: &mut Random| {
                [
                    random.between(0.0, 30.0),
                    random.between(0.5, 3.5),
                    random.between(-3.0, 3.0),
                    random.between(-3.0, 0.5),
                ]
            };
            let start = (0..2).flat_map(|_| one(&mut random)).collect();
            best = best.min(reference::worst(&reference::solved(start, &target), &target));
        }
        let worst = reference::worst(&ours, &target);
        println!("hard stack {number}: {worst:.2}, reference {best:.2}");
        assert!(worst <= best * 1.1, "{worst} against {best}");
    }
}
