//! A drawn edge profile: darkness by distance from the edge.

/// A smooth curve through points that never turns between them: cubics with the slopes of Fritsch and Carlson (1980,
/// "Monotone Piecewise Cubic Interpolation").
#[derive(Debug, Clone, PartialEq)]
pub struct Curve {
    points: Vec<(f64, f64)>,
    slopes: Vec<f64>,
}

/// Why a curve cannot be drawn.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum CurveError {
    /// One point is no curve.
    #[error("expected at least two points, as in 0:0.30,12:0")]
    TooFew,
    /// A point is no pair of numbers.
    #[error("expected px:darkness with darkness from 0 to 1, found {0}")]
    NotAPoint(String),
    /// Two points lie at one distance.
    #[error("expected each distance once, found {0} twice")]
    Twice(String),
}

impl Curve {
    /// Through points of px from the edge and darkness, in any order.
    ///
    /// # Errors
    /// [`CurveError`] when there are too few, or two at one distance.
    pub fn through(mut points: Vec<(f64, f64)>) -> Result<Self, CurveError> {
        points.sort_by(|a, b| a.0.total_cmp(&b.0));
        if points.len() < 2 {
            return Err(CurveError::TooFew);
        }
        if let Some(pair) = points.windows(2).find(|pair| pair[0].0 == pair[1].0) {
            return Err(CurveError::Twice(pair[0].0.to_string()));
        }
        let slopes = slopes(&points);
        Ok(Self { points, slopes })
    }

    /// From `0:0.30,4:0.18,12:0.07,30:0`: px from the edge, negative inside, and darkness from 0 to 1.
    ///
    /// # Errors
    /// [`CurveError`] naming the point.
    pub fn parse(text: &str) -> Result<Self, CurveError> {
        let point = |part: &str| {
            let wrong = || CurveError::NotAPoint(part.trim().to_owned());
            let (at, darkness) = part.split_once(':').ok_or_else(wrong)?;
            let number = |text: &str| text.trim().parse::<f64>().ok().filter(|number| number.is_finite());
            let (at, darkness) = (number(at).ok_or_else(wrong)?, number(darkness).ok_or_else(wrong)?);
            let is_in_range = (0.0..=1.0).contains(&darkness) && at.abs() <= 4000.0;
            if is_in_range { Ok((at, darkness)) } else { Err(wrong()) }
        };
        Self::through(text.split(',').map(point).collect::<Result<_, _>>()?)
    }

    /// Darkness at a distance; beyond its ends as at them.
    #[must_use]
    pub fn at(&self, at: f64) -> f64 {
        let after = self.points.partition_point(|point| point.0 <= at);
        if after == 0 {
            return self.points[0].1;
        }
        let Some(&(to, to_value)) = self.points.get(after) else {
            return self.points[after - 1].1;
        };
        let (from, from_value) = self.points[after - 1];
        let width = to - from;
        let t = (at - from) / width;
        let (t2, t3) = (t * t, t * t * t);
        from_value * (2.0 * t3 - 3.0 * t2 + 1.0)
            + self.slopes[after - 1] * width * (t3 - 2.0 * t2 + t)
            + to_value * (3.0 * t2 - 2.0 * t3)
            + self.slopes[after] * width * (t3 - t2)
    }

    /// The nearest and the farthest distance.
    #[must_use]
    pub fn ends(&self) -> (f64, f64) {
        (self.points[0].0, self.points[self.points.len() - 1].0)
    }
}

fn slopes(points: &[(f64, f64)]) -> Vec<f64> {
    let secants: Vec<f64> =
        points.windows(2).map(|pair| (pair[1].1 - pair[0].1) / (pair[1].0 - pair[0].0)).collect();
    let between = |at: usize| {
        let (before, after) = (secants[at - 1], secants[at]);
        // The harmonic mean lies within what keeps both sides from turning.
        if before * after <= 0.0 { 0.0 } else { 2.0 * before * after / (before + after) }
    };
    let last = points.len() - 1;
    let slope = |at: usize| match at {
        0 => secants[0],
        at if at == last => secants[last - 1],
        at => between(at),
    };
    (0..points.len()).map(slope).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_curve_goes_through_its_points_and_never_turns_between() {
        let curve = Curve::parse("0:0.30, 4:0.18, 12:0.07, 30:0").unwrap();
        assert_eq!([0.0, 4.0, 12.0, 30.0, 90.0].map(|at| curve.at(at)), [0.30, 0.18, 0.07, 0.0, 0.0]);
        let steps: Vec<f64> = (0..=300).map(|step| curve.at(f64::from(step) / 10.0)).collect();
        assert!(steps.windows(2).all(|pair| pair[1] <= pair[0] + 1e-12));
    }

    #[test]
    fn what_is_no_curve_is_named() {
        assert_eq!(Curve::parse("0:0.3"), Err(CurveError::TooFew));
        assert_eq!(Curve::parse("0:0.3,x:0"), Err(CurveError::NotAPoint("x:0".to_owned())));
        assert_eq!(Curve::parse("0:0.3,4:30"), Err(CurveError::NotAPoint("4:30".to_owned())));
        assert_eq!(Curve::parse("0:0.3,0:0.1"), Err(CurveError::Twice("0".to_owned())));
    }
}
