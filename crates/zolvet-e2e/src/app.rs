//! A running Zolvet, with a database of its own.

use std::io::{BufRead, BufReader, Read};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};

use tempfile::TempDir;

use crate::Outcome;

/// The program under test, serving on a port of its own.
pub struct App {
    /// Where it answers, without a slash at the end.
    pub address: String,
    child: Child,
    folder: TempDir,
}

impl App {
    /// Starts it with the demo project in a new database.
    ///
    /// # Errors
    /// When it is not built or does not start.
    pub fn start() -> Outcome<Self> {
        let folder = TempDir::new()?;
        let (child, address) = serve(&folder.path().join("zolvet.db"), "127.0.0.1:0")?;
        Ok(Self { address, child, folder })
    }

    /// Kills it without warning, as a power cut would, and starts it again on the same database.
    ///
    /// # Errors
    /// When it does not start again.
    pub fn kill_and_restart(&mut self) -> Outcome {
        self.kill();
        (self.child, self.address) = serve(&self.folder.path().join("zolvet.db"), "127.0.0.1:0")?;
        Ok(())
    }

    /// Starts it again on the same database and the same port, after it was killed.
    ///
    /// # Errors
    /// When it does not start again.
    pub fn start_again(&mut self) -> Outcome {
        let listen = self.address.trim_start_matches("http://").to_owned();
        (self.child, self.address) = serve(&self.folder.path().join("zolvet.db"), &listen)?;
        Ok(())
    }

    /// Kills it without warning.
    pub fn kill(&mut self) {
        // Killing what has stopped already changes nothing.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

impl Drop for App {
    fn drop(&mut self) {
        self.kill();
    }
}

/// The `zolvet` program of the build that the tests belong to.
///
/// # Errors
/// When it is not there.
pub fn program() -> Outcome<PathBuf> {
    let test = std::env::current_exe()?;
    let folder = test.ancestors().find(|folder| folder.join("zolvet").is_file());
    let folder = folder.ok_or("the zolvet program is not built: `cargo build -p zolvet-cli` first")?;
    Ok(folder.join("zolvet"))
}

fn serve(database: &Path, listen: &str) -> Outcome<(Child, String)> {
    let mut child = Command::new(program()?)
        .args(["serve", "--demo", "--listen", listen, "--db"])
        .arg(database)
        .stdout(Stdio::piped())
        .spawn()?;
    let mut output = BufReader::new(child.stdout.take().ok_or("no output to read")?);
    let mut line = String::new();
    loop {
        line.clear();
        if output.read_line(&mut line)? == 0 {
            return Err("zolvet stopped before it named its address".into());
        }
        if let Some(start) = line.find("http://") {
            let address = line[start..].trim().trim_end_matches('/').to_owned();
            std::thread::spawn(move || output.read_to_end(&mut Vec::new()));
            return Ok((child, address));
        }
    }
}
