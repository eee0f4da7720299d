//! A running Zolvet, with a database of its own.

use std::io::{BufRead, BufReader, Read};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, ExitStatus, Stdio};

use tempfile::TempDir;

use crate::Outcome;

/// The program under test, serving on a port of its own.
pub struct App {
    /// Where it answers, without a slash at the end.
    pub address: String,
    /// Its output before that.
    pub said: String,
    child: Child,
    folder: TempDir,
}

impl App {
    /// Starts it with the demo project in a new database.
    ///
    /// # Errors
    /// When it is not built or does not start.
    pub fn start() -> Outcome<Self> {
        Self::start_with(&[])
    }

    /// As [`Self::start`], with more arguments.
    ///
    /// # Errors
    /// As [`Self::start`].
    pub fn start_with(arguments: &[&str]) -> Outcome<Self> {
        let folder = TempDir::new()?;
        let (child, address, said) = serve(&folder.path().join("zolvet.db"), "127.0.0.1:0", arguments)?;
        Ok(Self { address, child, folder, said })
    }

    /// The database file.
    #[must_use]
    pub fn database(&self) -> PathBuf {
        self.folder.path().join("zolvet.db")
    }

    /// The owner's key, which lies beside the database as nobody sits at a terminal.
    ///
    /// # Errors
    /// When there is none.
    pub fn owner_key(&self) -> Outcome<String> {
        let key = std::fs::read_to_string(self.folder.path().join("zolvet.db.key"))?;
        Ok(key.trim().to_owned())
    }

    /// A session of the owner, as the cookie that keeps it.
    ///
    /// # Errors
    /// When the service gives none.
    pub async fn session(&self) -> Outcome<String> {
        let key = serde_json::json!({"key": self.owner_key()?});
        let opened =
            reqwest::Client::new().post(format!("{}/api/session", self.address)).json(&key).send().await?;
        let cookie = opened.error_for_status()?.headers().get("set-cookie").cloned().ok_or("no cookie")?;
        Ok(cookie.to_str()?.split(';').next().unwrap_or_default().to_owned())
    }

    /// The process.
    #[must_use]
    pub fn process(&self) -> u32 {
        self.child.id()
    }

    /// Tells it to stop by a signal, such as `TERM` or `INT`, and waits until it has; says how it ended.
    ///
    /// # Errors
    /// When it cannot be told.
    pub fn stop(&mut self, signal: &str) -> Outcome<ExitStatus> {
        let told =
            Command::new("kill").args([&format!("-{signal}"), &self.child.id().to_string()]).status()?;
        assert!(told.success(), "{told}");
        Ok(self.child.wait()?)
    }

    /// Processor time it has used, in hundredths of a second.
    ///
    /// # Errors
    /// When the system does not tell.
    pub fn processor_time(&self) -> Outcome<u64> {
        let stat = std::fs::read_to_string(format!("/proc/{}/stat", self.process()))?;
        let after_name = stat.rsplit(')').next().unwrap_or_default();
        let fields: Vec<&str> = after_name.split_whitespace().collect();
        let [user, system] = [11, 12].map(|at| fields.get(at).and_then(|field| field.parse::<u64>().ok()));
        Ok(user.ok_or("no user time")? + system.ok_or("no system time")?)
    }

    /// Kills it without warning, as a power cut would, and starts it again on the same database.
    ///
    /// # Errors
    /// When it does not start again.
    pub fn kill_and_restart(&mut self) -> Outcome {
        self.kill();
        (self.child, self.address, self.said) = serve(&self.database(), "127.0.0.1:0", &[])?;
        Ok(())
    }

    /// Starts it again on the same database and the same port, after it was killed.
    ///
    /// # Errors
    /// When it does not start again.
    pub fn start_again(&mut self) -> Outcome {
        let listen = self.address.trim_start_matches("http://").to_owned();
        (self.child, self.address, self.said) = serve(&self.database(), &listen, &[])?;
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

fn serve(database: &Path, listen: &str, arguments: &[&str]) -> Outcome<(Child, String, String)> {
    let mut command = Command::new(program()?);
    command.args(["serve", "--demo", "--listen", listen, "--db"]).arg(database).args(arguments);
    let (child, address, said) = started(command)?;
    Ok((child, address, said))
}

/// Starts a program that serves; gives it with its address and what it printed before that.
///
/// # Errors
/// When it does not start.
pub fn started(mut command: Command) -> Outcome<(Child, String, String)> {
    // A line for each request is for whoever runs the service.
    let mut child = command.env("RUST_LOG", "warn").stdout(Stdio::piped()).spawn()?;
    let mut output = BufReader::new(child.stdout.take().ok_or("no output to read")?);
    let (mut line, mut said) = (String::new(), String::new());
    loop {
        line.clear();
        if output.read_line(&mut line)? == 0 {
            return Err("zolvet stopped before it named its address".into());
        }
        if let Some(start) = line.find("http://") {
            let address = line[start..].trim().trim_end_matches('/').to_owned();
            std::thread::spawn(move || output.read_to_end(&mut Vec::new()));
            return Ok((child, address, said));
        }
        said.push_str(&line);
    }
}
