//! Uploaded files are read in a process of their own, where the system limits time and memory.

use std::io::{Read, Write};
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::time::Duration;

use zolvet_core::font::{Font, FontError};
use zolvet_core::geometry::icon::Icon;
use zolvet_core::picture::{Bitmap, Picture};

/// The program to start for each file; without one, files are read in this process.
#[derive(Debug, Clone, Default)]
pub struct ReaderProcess(Option<PathBuf>);

/// The argument the program is started with; the next says what is read.
pub const READ: &str = "read-file";
/// Seconds of computing that reading a file may take.
pub const SECONDS: u64 = 5;
/// Bytes of memory that reading a file may take.
pub const MEMORY: u64 = 512 << 20;
/// How often it is checked whether the request was cancelled.
const LOOK: Duration = Duration::from_millis(5);

impl ReaderProcess {
    /// Starts this program for each file.
    #[must_use]
    pub fn program(path: PathBuf) -> Self {
        Self(Some(path))
    }

    /// Reads a picture.
    ///
    /// # Errors
    /// What was expected.
    pub fn picture(&self, bytes: &[u8]) -> Result<Bitmap, String> {
        // What is no picture, or too large, is told without a process.
        let (width, height) = Bitmap::size_of(bytes).map_err(|error| error.to_string())?;
        if self.0.is_none() {
            return Bitmap::decode(bytes).map_err(|error| error.to_string());
        }
        let rgba = self.read("picture", bytes)?;
        if rgba.len() != width as usize * height as usize * 4 {
            return Err("expected a PNG, JPEG or WebP picture".to_owned());
        }
        Ok(Bitmap::new(Picture { width, height, rgba }))
    }

    /// Reads an icon.
    ///
    /// # Errors
    /// What was expected.
    pub fn icon(&self, bytes: &[u8]) -> Result<Icon, String> {
        if self.0.is_none() {
            return icon(bytes);
        }
        let said = self.read("icon", bytes)?;
        let (d, viewbox) = serde_json::from_slice(&said).map_err(|error| error.to_string())?;
        Ok(Icon { d, viewbox })
    }

    /// Reads a font.
    ///
    /// # Errors
    /// What was expected.
    pub fn font(&self, bytes: &[u8]) -> Result<Font, String> {
        let told = |error: FontError| error.to_string();
        if self.0.is_none() {
            return Font::read(bytes).map_err(told);
        }
        Font::unpacked(self.read("font", bytes)?).map_err(told)
    }

    fn read(&self, what: &str, bytes: &[u8]) -> Result<Vec<u8>, String> {
        let Some(program) = &self.0 else { return Err("there is no program to read with".to_owned()) };
        let failed = |error: std::io::Error| format!("the file could not be read: {error}");
        let mut child = Command::new(program)
            .args([READ, what])
            // The program's allocator, mimalloc, would map more writable memory at its start than the limit allows; every
            // mapping after that fails, and about one file in a hundred needs one.
            .env("MIMALLOC_ARENA_EAGER_COMMIT", "0")
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .map_err(failed)?;
        let pipes = (child.stdin.take(), child.stdout.take(), child.stderr.take());
        let (Some(mut into), Some(mut out), Some(mut said)) = pipes else {
            return Err("the file could not be read: no pipe".to_owned());
        };
        let mut child = Ended(child);
        std::thread::scope(|scope| {
            // It may end before it has taken everything.
            scope.spawn(move || into.write_all(bytes));
            let made = scope.spawn(move || {
                let mut made = Vec::new();
                out.read_to_end(&mut made).map(|_| made)
            });
            let told = scope.spawn(move || {
                let mut told = String::new();
                said.read_to_string(&mut told).map(|_| told)
            });
            let status = loop {
                match child.0.try_wait().map_err(failed)? {
                    Some(status) => break Some(status),
                    None if zolvet_core::budget::is_stopped() => break None,
                    None => std::thread::sleep(LOOK),
                }
            };
            if status.is_none() {
                child.end();
            }
            let broken = || "the file could not be read".to_owned();
            let made = made.join().map_err(|_| broken())?.map_err(failed)?;
            let told = told.join().map_err(|_| broken())?.map_err(failed)?;
            match status {
                Some(status) if status.success() => Ok(made),
                Some(status) if status.code().is_some() => Err(told.trim().to_owned()),
                _ => Err(format!(
                    "expected a file that can be read in {SECONDS} seconds and {} MB of memory",
                    MEMORY >> 20
                )),
            }
        })
    }
}

/// A process that is ended when nobody waits for it.
struct Ended(Child);

impl Ended {
    fn end(&mut self) {
        // Ending what has ended already changes nothing.
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

impl Drop for Ended {
    fn drop(&mut self) {
        self.end();
    }
}

fn icon(bytes: &[u8]) -> Result<Icon, String> {
    let text = std::str::from_utf8(bytes).map_err(|error| format!("expected SVG in UTF-8: {error}"))?;
    Icon::read(text).map_err(|error| error.to_string())
}

/// What the program does that is started with [`READ`]: reads a file from its input and writes what it is.
///
/// # Errors
/// What was expected instead.
pub fn read_file(what: &str) -> Result<(), String> {
    let mut bytes = Vec::new();
    std::io::stdin().read_to_end(&mut bytes).map_err(|error| error.to_string())?;
    let made = match what {
        "picture" => Bitmap::decode(&bytes).map_err(|error| error.to_string())?.picture.rgba,
        "icon" => {
            let Icon { d, viewbox } = icon(&bytes)?;
            serde_json::to_vec(&(d, viewbox)).map_err(|error| error.to_string())?
        }
        "font" => Font::read(&bytes).map_err(|error| error.to_string())?.data().to_vec(),
        other => return Err(format!("expected picture, icon or font, found {other}")),
    };
    std::io::stdout().write_all(&made).map_err(|error| error.to_string())
}
