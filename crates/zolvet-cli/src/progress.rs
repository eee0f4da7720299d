//! One line on a terminal about work that takes longer than a second.

use std::io::{IsTerminal as _, Write as _};
use std::sync::mpsc::{RecvTimeoutError, Sender, channel};
use std::sync::{Mutex, PoisonError};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

static LINE: Mutex<Option<Line>> = Mutex::new(None);

struct Line {
    ends: Sender<()>,
    drawn_by: JoinHandle<()>,
}

/// Prints progress from now on, once the work has taken a second. Nothing where nobody looks: standard error is no
/// terminal.
pub fn begin(what: &'static str) {
    if !std::io::stderr().is_terminal() {
        return;
    }
    let (ends, ended) = channel();
    let begun = Instant::now();
    let drawn_by = std::thread::spawn(move || {
        let mut is_there = false;
        while ended.recv_timeout(Duration::from_secs(1)) == Err(RecvTimeoutError::Timeout) {
            is_there = true;
            let _ = write!(std::io::stderr(), "\r{what}:{} {} s", done(), begun.elapsed().as_secs());
        }
        if is_there {
            // ECMA-48, section 8.3.41, "EL": the line is erased.
            let _ = write!(std::io::stderr(), "\r\u{1b}[K");
        }
    });
    *LINE.lock().unwrap_or_else(PoisonError::into_inner) = Some(Line { ends, drawn_by });
}

static STEP: Mutex<Option<(usize, usize)>> = Mutex::new(None);

/// Says how much is done.
pub fn step(number: usize, of: usize) {
    *STEP.lock().unwrap_or_else(PoisonError::into_inner) = Some((number, of));
}

/// How much is done, where that is known.
fn done() -> String {
    let step = *STEP.lock().unwrap_or_else(PoisonError::into_inner);
    step.map_or_else(String::new, |(number, of)| format!(" {number} of {of},"))
}

/// Takes the line away: something else is said, or all is done.
pub fn end() {
    let line = LINE.lock().unwrap_or_else(PoisonError::into_inner).take();
    if let Some(Line { ends, drawn_by }) = line {
        drop(ends);
        let _ = drawn_by.join();
    }
}
