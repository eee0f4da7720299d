//! The grid that changed rectangles are put together from.

use crate::raster::Rect;

/// Rows and columns of a cell.
pub(in crate::compose) const ROWS: i32 = 16;
pub(in crate::compose) const COLUMNS: i32 = 32;

/// Some cells of a window, which starts at 0.
pub(in crate::compose) struct Cells {
    window: Rect,
    /// Cells in a row.
    across: usize,
    marked: Vec<bool>,
}

impl Cells {
    /// All of them, or none.
    pub fn new(window: Rect, are_marked: bool) -> Self {
        let cells = |pixels: usize, size: i32| pixels.div_ceil(size as usize);
        let (across, down) = (cells(window.width(), COLUMNS), cells(window.height(), ROWS));
        Self { window, across, marked: vec![are_marked; across * down] }
    }

    /// Whether the cell of a pixel of the window is one of them.
    pub fn hold(&self, x: i32, y: i32) -> bool {
        debug_assert!(x >= 0 && y >= 0 && x < self.window.x1 && y < self.window.y1);
        self.marked[(y / ROWS) as usize * self.across + (x / COLUMNS) as usize]
    }

    /// For each row of cells its first row of pixels and the cells.
    pub fn rows_mut(&mut self) -> impl Iterator<Item = (i32, &mut [bool])> {
        let rows = self.marked.chunks_mut(self.across.max(1)).enumerate();
        rows.map(|(row, cells)| (row as i32 * ROWS, cells))
    }

    /// Disjoint rectangles that hold all of them.
    pub fn rectangles(&self) -> Vec<Rect> {
        let mut rectangles: Vec<Rect> = Vec::new();
        let mut above: Vec<usize> = Vec::new();
        for (row, cells) in self.marked.chunks(self.across.max(1)).enumerate() {
            let top = row as i32 * ROWS;
            let mut here = Vec::new();
            for (from, to) in runs(cells) {
                let next = Rect::new(from * COLUMNS, top, to * COLUMNS, top + ROWS).intersect(self.window);
                let alike = |at: &usize| (rectangles[*at].x0, rectangles[*at].x1) == (next.x0, next.x1);
                let at = above.iter().copied().find(alike).unwrap_or(rectangles.len());
                match rectangles.get_mut(at) {
                    Some(grown) => grown.y1 = next.y1,
                    None => rectangles.push(next),
                }
                here.push(at);
            }
            above = here;
        }
        rectangles
    }

    /// Adds the cells that share a pixel with a rectangle and are told by `is_one`, which gets the pixels of a cell.
    pub fn add(&mut self, rect: Rect, is_one: impl Fn(Rect) -> bool) {
        let window = self.window;
        let rect = rect.intersect(window);
        if rect.is_empty() {
            return;
        }
        let columns = rect.x0 / COLUMNS..(rect.x1 - 1) / COLUMNS + 1;
        let rows = rect.y0 / ROWS..(rect.y1 - 1) / ROWS + 1;
        for (column, row) in rows.flat_map(|row| columns.clone().map(move |column| (column, row))) {
            let marked = &mut self.marked[row as usize * self.across + column as usize];
            let (x0, y0) = (column * COLUMNS, row * ROWS);
            let cell = Rect::new(x0, y0, x0 + COLUMNS, y0 + ROWS).intersect(window);
            *marked = *marked || is_one(cell);
        }
    }
}

/// The first and the end of each run of marked cells.
fn runs(cells: &[bool]) -> Vec<(i32, i32)> {
    let mut runs: Vec<(i32, i32)> = Vec::new();
    for at in (0..cells.len()).filter(|at| cells[*at]) {
        let at = at as i32;
        match runs.last_mut() {
            Some(last) if last.1 == at => last.1 += 1,
            _ => runs.push((at, at + 1)),
        }
    }
    runs
}
