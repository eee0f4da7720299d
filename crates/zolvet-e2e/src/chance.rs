//! Chance that is the same every time.

/// Numbers that look like chance, the same every time.
pub struct Chance(u64);

impl Chance {
    /// The numbers of a seed.
    #[must_use]
    pub fn new(seed: u64) -> Self {
        Self(seed)
    }

    fn bits(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut bits = self.0;
        bits = (bits ^ (bits >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        bits = (bits ^ (bits >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        bits ^ (bits >> 31)
    }

    /// A whole number below another.
    pub fn below(&mut self, most: u64) -> u64 {
        self.bits() % most
    }

    /// A number in a range, to a tenth.
    pub fn tenths(&mut self, from: f64, to: f64) -> f64 {
        from + self.below(((to - from) * 10.0) as u64 + 1) as f64 / 10.0
    }

    /// One of these.
    ///
    /// # Panics
    /// When there are none.
    pub fn of<T: Copy>(&mut self, these: &[T]) -> T {
        these[self.below(these.len() as u64) as usize]
    }

    /// A blur up to `most` px, small ones more often.
    pub fn blur(&mut self, most: f64) -> f64 {
        match self.below(5) {
            0 => 0.0,
            1 | 2 => self.tenths(0.1, 8.0),
            3 => self.tenths(0.0, most.min(60.0)),
            _ => self.tenths(0.0, most),
        }
    }

    /// A colour, opaque more often than not.
    pub fn colour(&mut self) -> String {
        let alpha = self.of(&[255, 255, 216, 128, 60]);
        format!("#{:06x}{alpha:02x}", self.below(1 << 24))
    }
}
