//! Work on files of others, in processes of their own: reading them, and solving for long.
//!
//! A helper is this program, started ahead, which reads one task from its input, writes the answer, and ends. The system
//! limits its memory and time, so that whatever makes it abort, overflow or hang ends there; ending it is how it is cancelled.

use std::io::{Read as _, Write as _};
use std::path::PathBuf;
use std::process::Stdio;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use tokio::io::{AsyncReadExt as _, AsyncWriteExt as _};
use tokio::process::{Child, Command};
use tokio::sync::Semaphore;
use zolvet_core::font::Font;
use zolvet_core::geometry::icon::Icon;
use zolvet_core::picture::{Bitmap, Picture};
use zolvet_queries::QueryError;

use crate::priority::{Priority, lower_priority};
use crate::task::{self, Task};

/// Bytes of memory that a helper may take.
pub const MEMORY: u64 = 512 << 20;
/// The argument the program is started with.
pub const HELP: &str = "help-with-task";
/// Helpers that are started ahead.
const PREPARED: usize = 2;
/// Helpers that work at the same time.
const MAX_WORKING: usize = 3;
/// How long a helper may take in all for each second that it may compute: others compute beside it.
const PATIENCE: u32 = 8;
/// How often it is checked whether the computation that waits for a helper was cancelled.
const LOOK: Duration = Duration::from_millis(5);
/// The code a helper exits with when it refuses its task, with a reason.
const REFUSED: u8 = 3;

/// The input is not as expected.
pub(crate) fn expected(message: impl ToString) -> QueryError {
    QueryError::invalid_at("", message.to_string())
}

/// Helpers of one program. Clones share them.
#[derive(Debug, Clone)]
pub struct Helpers(Arc<Shared>);

#[derive(Debug)]
struct Shared {
    program: PathBuf,
    prepared: Mutex<Vec<Child>>,
    working: Semaphore,
}

impl Helpers {
    /// Helpers that are this program, started with [`HELP`].
    #[must_use]
    pub fn new(program: PathBuf) -> Self {
        Self(Arc::new(Shared { program, prepared: Mutex::default(), working: Semaphore::new(MAX_WORKING) }))
    }

    /// Starts helpers ahead. Called within the runtime that they are to be watched by.
    pub fn prepare(&self) {
        let mut prepared = self.0.prepared.lock().unwrap_or_else(PoisonError::into_inner);
        while prepared.len() < PREPARED {
            match self.start() {
                Ok(child) => prepared.push(child),
                Err(error) => {
                    tracing::error!(%error, "no helper can be started");
                    return;
                }
            }
        }
    }

    /// A helper that was started ahead and is still there.
    fn ready(&self) -> Option<Child> {
        let mut prepared = self.0.prepared.lock().unwrap_or_else(PoisonError::into_inner);
        while let Some(mut child) = prepared.pop() {
            if matches!(child.try_wait(), Ok(None)) {
                return Some(child);
            }
        }
        None
    }

    fn start(&self) -> std::io::Result<Child> {
        Command::new(&self.0.program)
            .arg(HELP)
            // The program's allocator, mimalloc, would map more writable memory at its start than the limit allows; every
            // mapping after that fails, and about one file in a hundred needs one.
            .env("MIMALLOC_ARENA_EAGER_COMMIT", "0")
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .kill_on_drop(true)
            .spawn()
    }

    /// Has a task done; dropped before it is done, the helper is ended.
    ///
    /// # Errors
    /// Why it has no answer: what the helper said, or that it took more than it may.
    pub async fn run(&self, task: Task, input: &[u8]) -> Result<Vec<u8>, QueryError> {
        let broken = |error: &dyn std::fmt::Display| {
            tracing::error!(%error, "a helper could not be used");
            QueryError::TooMuch(task.too_much())
        };
        let _place = self.0.working.acquire().await.map_err(|error| broken(&error))?;
        let ready = self.ready();
        let was_prepared = ready.is_some();
        let mut child = match ready {
            Some(child) => child,
            None => self.start().map_err(|error| broken(&error))?,
        };
        let (Some(mut into), Some(out)) = (child.stdin.take(), child.stdout.take()) else {
            return Err(broken(&"it has no pipes"));
        };
        let feed = async move {
            // It may end before it has taken everything.
            let _ = into.write_all(format!("{}\n", task.name()).as_bytes()).await;
            let _ = into.write_all(input).await;
            drop(into);
        };
        let answer = async move {
            let mut answer = Vec::new();
            out.take(task.max_answer() + 1).read_to_end(&mut answer).await.map(|_| answer)
        };
        let whole = async {
            let ((), answer) = tokio::join!(feed, answer);
            Ok::<_, std::io::Error>((answer?, child.wait().await?))
        };
        let patience = Duration::from_secs(task.seconds()) * PATIENCE;
        let outcome = tokio::time::timeout(patience, whole).await;
        if was_prepared {
            self.prepare();
        }
        let (answer, status) = match outcome {
            Ok(done) => done.map_err(|error| broken(&error))?,
            Err(_) => return Err(QueryError::TooMuch(task.too_much())),
        };
        if status.success() && answer.len() as u64 <= task.max_answer() {
            return Ok(answer);
        }
        let told = status.code() == Some(i32::from(REFUSED));
        let refused = told.then(|| serde_json::from_slice(&answer).ok()).flatten();
        Err(refused.unwrap_or_else(|| QueryError::TooMuch(task.too_much())))
    }

    /// As [`Self::run`], from a thread that computes within a budget; ended when that is cancelled.
    ///
    /// # Errors
    /// As [`Self::run`].
    pub fn run_blocking(
        &self,
        task: Task,
        input: &[u8],
        runtime: &tokio::runtime::Handle,
    ) -> Result<Vec<u8>, QueryError> {
        runtime.block_on(async {
            let cancelled = async {
                while !zolvet_core::budget::is_stopped() {
                    tokio::time::sleep(LOOK).await;
                }
            };
            tokio::select! {
                answer = self.run(task, input) => answer,
                () = cancelled => Err(QueryError::Cannot("cancelled".to_owned())),
            }
        })
    }
}

/// A picture from the answer of [`Task::Picture`].
///
/// # Errors
/// When it is no picture of a size that its file says.
pub fn bitmap(file: &[u8], rgba: Vec<u8>) -> Result<Bitmap, QueryError> {
    let (width, height) = Bitmap::size_of(file).map_err(expected)?;
    if rgba.len() != width as usize * height as usize * 4 {
        return Err(expected("expected a PNG, JPEG or WebP picture"));
    }
    Ok(Bitmap::new(Picture { width, height, rgba }))
}

/// Runs the helper in a program that is started with [`HELP`]: reads a task, and writes its answer. Gives the code to
/// exit with.
#[must_use]
pub fn run_task() -> u8 {
    let mut input = Vec::new();
    let mut stdin = std::io::stdin().lock();
    let Some(task) = read_name(&mut stdin) else { return 2 };
    if limit(task.seconds()).is_err() || stdin.read_to_end(&mut input).is_err() {
        return 2;
    }
    let (answer, code) = match task::run(task, &input) {
        Ok(answer) => (answer, 0),
        Err(refused) => (serde_json::to_vec(&refused).unwrap_or_default(), REFUSED),
    };
    let mut out = std::io::stdout().lock();
    if out.write_all(&answer).and_then(|()| out.flush()).is_ok() { code } else { 2 }
}

/// The first line of the input; nothing where nobody has a task.
fn read_name(input: &mut impl std::io::Read) -> Option<Task> {
    let (mut name, mut byte) = (Vec::new(), [0]);
    while name.len() < 64 && input.read_exact(&mut byte).is_ok() {
        if byte[0] == b'\n' {
            return Task::named(std::str::from_utf8(&name).ok()?);
        }
        name.push(byte[0]);
    }
    None
}

/// Nothing that an input says makes this process larger, or lets it run longer: the system ends it before. Everybody else
/// goes first.
fn limit(seconds: u64) -> std::io::Result<()> {
    use rlimit::Resource;
    for (resource, most) in
        [(Resource::DATA, MEMORY), (Resource::CPU, seconds), (Resource::FSIZE, 0), (Resource::CORE, 0)]
    {
        resource.set(most, most)?;
    }
    lower_priority(Priority::Background);
    Ok(())
}

/// Reads an SVG file as an icon.
///
/// # Errors
/// When it is no SVG in UTF-8, or none that can be an icon.
pub(crate) fn icon(bytes: &[u8]) -> Result<Icon, QueryError> {
    let text =
        std::str::from_utf8(bytes).map_err(|error| expected(format!("expected SVG in UTF-8: {error}")))?;
    Icon::read(text).map_err(expected)
}

/// A font from the answer of [`Task::Font`].
///
/// # Errors
/// When it is none.
pub fn font(tables: Vec<u8>) -> Result<Font, QueryError> {
    Font::unpacked(tables).map_err(expected)
}
