//! The order of cascade layers (CSS Cascade 5, section 6.4): later ones win, a layer wins over those within it, and
//! unlayered rules win over all.

use std::collections::HashMap;

/// Layers as they were named.
#[derive(Debug, Default)]
pub(super) struct Layers {
    layers: Vec<Layer>,
    by_name: HashMap<(Option<usize>, String), usize>,
}

#[derive(Debug, Default)]
struct Layer {
    within: Vec<usize>,
    outer: Option<usize>,
}

/// Layers within layers that are told apart.
const MAX_DEPTH: usize = 24;

/// How a layer ranks among all, for normal declarations.
pub(super) type Rank = usize;

impl Layers {
    /// The layer of a name such as `base.forms`, within another; one of its own where there is no name.
    pub fn enter(&mut self, outer: Option<usize>, name: Option<&str>) -> usize {
        let Some(name) = name else { return self.add(outer) };
        let mut at = outer;
        for part in name.split('.').take(MAX_DEPTH) {
            let key = (at, part.trim().to_owned());
            let known = self.by_name.get(&key).copied();
            let layer = known.unwrap_or_else(|| self.add(at));
            self.by_name.insert(key, layer);
            at = Some(layer);
        }
        at.unwrap_or_default()
    }

    fn add(&mut self, outer: Option<usize>) -> usize {
        let layer = self.layers.len();
        self.layers.push(Layer { within: Vec::new(), outer });
        if let Some(outer) = outer {
            self.layers[outer].within.push(layer);
        }
        layer
    }

    /// The rank of each layer; `usize::MAX` is left for unlayered rules.
    pub fn ranks(&self) -> Vec<Rank> {
        let (mut ranks, mut next) = (vec![0; self.layers.len()], 0);
        for (at, _) in self.layers.iter().enumerate().filter(|(_, layer)| layer.outer.is_none()) {
            self.rank(at, &mut ranks, &mut next);
        }
        ranks
    }

    fn rank(&self, at: usize, ranks: &mut [Rank], next: &mut Rank) {
        for inner in &self.layers[at].within {
            self.rank(*inner, ranks, next);
        }
        ranks[at] = *next;
        *next += 1;
    }
}
