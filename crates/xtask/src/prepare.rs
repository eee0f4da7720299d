//! Preconditions of everything else: the front end, its types, a browser.

use std::fs;
use std::path::Path;

use crate::run::{Outcome, command, command_in, output, root};

/// Installs the front end's packages where they are missing or out of date, and builds it.
pub fn front_end() -> Outcome {
    packages()?;
    println!("Building the front end …");
    command_in("web", "npm", &["run", "--silent", "build"])
}

/// Installs the front end's packages, if the lock file has changed since they were.
pub fn packages() -> Outcome {
    let how = ["ci", "--include=dev", "--no-audit", "--no-fund"];
    installed("web", "the front end's packages (about half a minute)", &how)
}

/// Installs the packages with which receivers of a hand-off read it, for the tests.
pub fn receivers() -> Outcome {
    let how = ["ci", "--ignore-scripts", "--no-audit", "--no-fund"];
    installed("crates/zolvet-e2e/receivers", "linters, compilers and readers of tokens for the tests", &how)
}

/// Installs the style sheets of other people that are read in tests.
pub fn sheets() -> Outcome {
    let how = ["ci", "--ignore-scripts", "--legacy-peer-deps", "--no-audit", "--no-fund"];
    installed("crates/zolvet-e2e/sheets", "style sheets for the tests", &how)
}

/// Installs the packages of a folder, if its lock file has changed since they were.
fn installed(folder: &str, what: &str, how: &[&str]) -> Outcome {
    let there = root().join(folder);
    let lock = fs::read(there.join("package-lock.json")).map_err(|error| error.to_string())?;
    let stamp = there.join("node_modules/.zolvet-lock");
    if fs::read(&stamp).is_ok_and(|installed| installed == lock) {
        return Ok(());
    }
    println!("Installing {what} …");
    command_in(folder, "npm", how)?;
    fs::write(stamp, lock).map_err(|error| error.to_string())
}

/// Writes the description of the HTTP interface, the front end's types and the core's constants for it.
pub fn types() -> Outcome {
    let example =
        |package: &str, name: &str| output("cargo", &["run", "--quiet", "-p", package, "--example", name]);
    write_types(&example("zolvet-server", "openapi")?, &example("zolvet-queries", "constants")?)
}

/// Fails when description, types or constants are not those of the service as it is, of which the examples have been built.
pub fn types_are_fresh() -> Outcome {
    let kept = |file: &str| fs::read_to_string(root().join(file)).map_err(|error| format!("{file}: {error}"));
    let files = ["web/openapi.json", "web/src/core/schema.d.ts", "web/src/core/constants.json"];
    let before = files.into_iter().map(kept).collect::<Result<Vec<_>, _>>()?;
    // With the features that tests have: by itself, an example would have everything compiled again.
    let built = |name: &str| output(&root().join("target/debug/examples").join(name).to_string_lossy(), &[]);
    write_types(&built("openapi")?, &built("constants")?)?;
    for (file, before) in files.iter().zip(before) {
        if kept(file)? != before {
            return Err(format!(
                "{file} was out of date; `cargo xtask types` has written it anew: commit it"
            ));
        }
    }
    Ok(())
}

fn write_types(description: &str, constants: &str) -> Outcome {
    packages()?;
    fs::write(root().join("web/openapi.json"), description).map_err(|error| error.to_string())?;
    fs::write(root().join("web/src/core/constants.json"), constants).map_err(|error| error.to_string())?;
    command_in("web", "npm", &["run", "--silent", "types"])
}

/// Installs Chromium, ChromeDriver and librsvg's program from Debian's packages where they are missing.
pub fn browser() -> Outcome {
    let programs = ["/usr/bin/chromium", "/usr/bin/chromedriver", "/usr/bin/rsvg-convert"];
    if programs.iter().all(|path| Path::new(path).exists()) {
        return Ok(());
    }
    let is_root = output("id", &["-u"]).is_ok_and(|id| id.trim() == "0");
    let manual = "The tests need Chromium, ChromeDriver and librsvg from Debian's packages: \
        `sudo apt-get install chromium chromium-driver librsvg2-bin`";
    if !is_root || !Path::new("/usr/bin/apt-get").exists() {
        return Err(manual.to_owned());
    }
    println!("Installing Chromium, ChromeDriver and librsvg (a minute or two) …");
    command("apt-get", &["update", "-q"])?;
    let packages = ["chromium", "chromium-driver", "librsvg2-bin"];
    let install = [&["install", "-q", "-y", "--no-install-recommends"], &packages[..]].concat();
    command("apt-get", &install).map_err(|error| format!("{error}\n{manual}"))
}
