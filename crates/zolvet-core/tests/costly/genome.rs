//! Inputs as they are written: fragments of a grammar, repeated, nested and put beside one another. What is changed is what
//! is written, so that a small change can multiply.

/// A source of chance that gives the same for the same seed (xorshift64*, Vigna 2016).
pub struct Chance(u64);

impl Chance {
    pub fn new(seed: u64) -> Self {
        Self(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) | 1)
    }

    pub fn below(&mut self, limit: usize) -> usize {
        self.0 ^= self.0 >> 12;
        self.0 ^= self.0 << 25;
        self.0 ^= self.0 >> 27;
        (self.0.wrapping_mul(0x2545_F491_4F6C_DD1D) >> 33) as usize % limit.max(1)
    }

    pub fn of_list<'a, T>(&mut self, list: &'a [T]) -> &'a T {
        &list[self.below(list.len())]
    }
}

/// What an input is written from. In texts, `#` is the number of the repetition around, and `@` that of the one before.
#[derive(Debug, Clone)]
pub enum Node {
    Text(&'static str),
    Beside(Vec<Node>),
    Repeated(usize, Box<Node>),
    /// Something within a pair of texts, so many times.
    Nested(usize, (&'static str, &'static str), Box<Node>),
}

/// The parts of a language that inputs are made of.
pub struct Grammar {
    /// What begins and ends every input.
    pub around: (&'static str, &'static str),
    pub fragments: &'static [&'static str],
    pub pairs: &'static [(&'static str, &'static str)],
    /// What is between things that stand beside one another.
    pub between: &'static str,
}

/// Bytes of an input.
pub const MAX_BYTES: usize = 48 << 10;

impl Node {
    pub fn any(grammar: &Grammar, chance: &mut Chance, depth: usize) -> Self {
        let inner = |chance: &mut Chance| Box::new(Self::any(grammar, chance, depth.saturating_sub(1)));
        match chance.below(if depth == 0 { 1 } else { 5 }) {
            0 | 1 => Self::Text(chance.of_list::<&str>(grammar.fragments)),
            2 => {
                let count = 2 + chance.below(3);
                Self::Beside((0..count).map(|_| *inner(chance)).collect())
            }
            3 => Self::Repeated(1 << chance.below(8), inner(chance)),
            _ => Self::Nested(1 << chance.below(6), *chance.of_list(grammar.pairs), inner(chance)),
        }
    }

    /// Another like this one.
    pub fn changed(&self, grammar: &Grammar, chance: &mut Chance) -> Self {
        let mut other = self.clone();
        let count = other.count();
        let at = chance.below(count);
        let node = other.nth(&mut { at }).unwrap_or_else(|| unreachable!("{at} of {count}"));
        let own = node.clone();
        *node = match (chance.below(8), own) {
            (0 | 1, Self::Repeated(times, inner)) => Self::Repeated((times * 2).min(1 << 15), inner),
            (0 | 1, Self::Nested(times, pair, inner)) => Self::Nested((times * 2).min(1 << 13), pair, inner),
            (2, Self::Repeated(times, inner) | Self::Nested(times, _, inner)) if times <= 1 => *inner,
            (2, Self::Repeated(times, inner)) => Self::Repeated(times.div_ceil(2), inner),
            (2, Self::Nested(times, pair, inner)) => Self::Nested(times.div_ceil(2), pair, inner),
            (3, own) => Self::Repeated(2 << chance.below(6), Box::new(own)),
            (4, own) => Self::Nested(2 << chance.below(4), *chance.of_list(grammar.pairs), Box::new(own)),
            (5, own) => Self::Beside(vec![own, Self::any(grammar, chance, 2)]),
            (6, own) => Self::Beside(vec![Self::any(grammar, chance, 2), own]),
            _ => Self::any(grammar, chance, 3),
        };
        other
    }

    fn count(&self) -> usize {
        1 + match self {
            Self::Text(_) => 0,
            Self::Beside(all) => all.iter().map(Self::count).sum(),
            Self::Repeated(_, inner) | Self::Nested(_, _, inner) => inner.count(),
        }
    }

    fn nth(&mut self, at: &mut usize) -> Option<&mut Self> {
        if *at == 0 {
            return Some(self);
        }
        *at -= 1;
        match self {
            Self::Text(_) => None,
            Self::Beside(all) => all.iter_mut().find_map(|one| one.nth(at)),
            Self::Repeated(_, inner) | Self::Nested(_, _, inner) => inner.nth(at),
        }
    }

    /// The input; `None` where it would be too large.
    pub fn written(&self, grammar: &Grammar) -> Option<String> {
        let mut text = grammar.around.0.to_owned();
        self.write(grammar, 0, &mut text);
        text.push_str(grammar.around.1);
        (text.len() <= MAX_BYTES).then_some(text)
    }

    fn write(&self, grammar: &Grammar, number: usize, text: &mut String) {
        if text.len() > MAX_BYTES {
            return;
        }
        let put = |part: &str, text: &mut String| {
            let before = number.saturating_sub(1).to_string();
            text.push_str(&part.replace('#', &number.to_string()).replace('@', &before));
        };
        match self {
            Self::Text(part) => put(part, text),
            Self::Beside(all) => {
                for (at, one) in all.iter().enumerate() {
                    if at > 0 {
                        text.push_str(grammar.between);
                    }
                    one.write(grammar, number, text);
                }
            }
            Self::Repeated(times, inner) => {
                for at in 0..*times {
                    if at > 0 {
                        text.push_str(grammar.between);
                    }
                    inner.write(grammar, at, text);
                    if text.len() > MAX_BYTES {
                        return;
                    }
                }
            }
            Self::Nested(times, (open, close), inner) => {
                for at in 0..*times {
                    text.push_str(&open.replace('~', &at.to_string()));
                    if text.len() > MAX_BYTES {
                        return;
                    }
                }
                inner.write(grammar, number, text);
                for _ in 0..*times {
                    text.push_str(close);
                }
            }
        }
    }
}
