//! `cargo xtask wasm`: the core for browsers.

use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;

use crate::run::{Outcome, command, output, root};

/// The folder it is built in, and the one it is served from.
const BUILT: &str = "target/wasm";
const SERVED: &str = "target/browser-core";
/// Where the front end's build takes it from into the program.
const EMBEDDED: &str = "web/public";
/// The module in the ways it is sent, and the number of the core it was made from.
const FILES: [&str; 3] = ["core.wasm.br", "core.wasm.gz", "core.id"];

/// Debian's compiler that can compile for browsers, where rustup's cannot.
const DEBIAN_COMPILER: &str = "/usr/bin/rustc";
const DEBIAN_SOURCES: &str = "/usr/lib/rustlib/src/rust/library/std/Cargo.toml";
/// The oldest that takes the code.
const OLDEST: u32 = 95;

/// Builds it for the present sources unless that is done; into `--embed`, also for the next program.
pub fn run(arguments: &[String]) -> Outcome {
    build()?;
    if arguments.iter().any(|argument| argument == "--embed") {
        embed()?;
    }
    println!("The core for browsers is in {SERVED}.");
    Ok(())
}

/// The folder that the service is told of.
pub fn folder() -> PathBuf {
    root().join(SERVED)
}

/// Builds it, installing a compiler for it where that may be done.
pub fn build() -> Outcome {
    let compiler = compiler()?;
    println!("Building the core for browsers (some minutes the first time) …");
    compiled(&compiler)?;
    let module = root().join(BUILT).join("wasm32-unknown-unknown/wasm/zolvet_wasm.wasm");
    packed(&module)
}

/// Puts it where the front end's build takes it from.
pub fn embed() -> Outcome {
    for file in FILES {
        let from = root().join(SERVED).join(file);
        fs::copy(&from, root().join(EMBEDDED).join(file)).map_err(|error| format!("{file}: {error}"))?;
    }
    Ok(())
}

/// A compiler for browsers.
enum Compiler {
    /// The one in use, with the target installed.
    Own,
    /// Debian's, with its standard library built from source.
    Debian,
}

fn compiler() -> Result<Compiler, String> {
    let sysroot = output("rustc", &["--print", "sysroot"])?;
    if Path::new(sysroot.trim()).join("lib/rustlib/wasm32-unknown-unknown/lib").exists() {
        return Ok(Compiler::Own);
    }
    if debian_compiles() {
        return Ok(Compiler::Debian);
    }
    let manual = "The core for browsers needs a compiler for them: `rustup target add wasm32-unknown-unknown`, or \
        rustc-web and rust-web-src of 1.95 or later from Debian's packages";
    let is_root = output("id", &["-u"]).is_ok_and(|id| id.trim() == "0");
    if !is_root || !Path::new("/usr/bin/apt-get").exists() {
        return Err(manual.to_owned());
    }
    println!("Installing a compiler for browsers (half a minute) …");
    command("apt-get", &["update", "-q"])?;
    let install = ["install", "-q", "-y", "--no-install-recommends", "rustc-web", "rust-web-src"];
    command("apt-get", &install).map_err(|error| format!("{error}\n{manual}"))?;
    if debian_compiles() { Ok(Compiler::Debian) } else { Err(manual.to_owned()) }
}

fn debian_compiles() -> bool {
    let version = output(DEBIAN_COMPILER, &["--version"]).unwrap_or_default();
    let minor = version.strip_prefix("rustc 1.").and_then(|rest| rest.split('.').next());
    Path::new(DEBIAN_SOURCES).exists() && minor.and_then(|minor| minor.parse().ok()) >= Some(OLDEST)
}

fn compiled(compiler: &Compiler) -> Outcome {
    let mut cargo = Command::new("cargo");
    cargo.current_dir(root()).args(["build", "--profile", "wasm", "-p", "zolvet-wasm", "--lib"]);
    cargo.args(["--target", "wasm32-unknown-unknown", "--target-dir", BUILT]);
    // SIMD is in every browser of the last years; one without it goes on with the service.
    cargo.env("RUSTFLAGS", "-C target-feature=+simd128");
    if let Compiler::Debian = compiler {
        let sysroot = output("rustc", &["--print", "sysroot"])?;
        let linker = Path::new(sysroot.trim()).join("lib/rustlib/x86_64-unknown-linux-gnu/bin/rust-lld");
        cargo.args(["-Zbuild-std=std,panic_abort", "-Zbuild-std-features="]);
        cargo.env("RUSTC", DEBIAN_COMPILER).env("RUSTC_BOOTSTRAP", "1");
        cargo.env("CARGO_TARGET_WASM32_UNKNOWN_UNKNOWN_LINKER", linker);
    }
    let status = cargo.status().map_err(|error| format!("cargo could not be started: {error}"))?;
    if status.success() { Ok(()) } else { Err(format!("the core for browsers: {status}")) }
}

/// Packs it as it is served. Node.js is there for the front end, and has both ways to pack.
fn packed(module: &Path) -> Outcome {
    fs::create_dir_all(root().join(SERVED)).map_err(|error| error.to_string())?;
    let script = "const { readFileSync, writeFileSync, renameSync } = require('fs'); const zlib = require('zlib');
        const [from, to] = process.argv.slice(1); const bytes = readFileSync(from);
        const put = (name, packed) => { writeFileSync(`${to}/${name}.new`, packed); renameSync(`${to}/${name}.new`, `${to}/${name}`); };
        const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), {});
        put('core.id', Buffer.from(exports.memory.buffer, exports.zolvet_core(), 16));
        put('core.wasm.gz', zlib.gzipSync(bytes, { level: 9 }));
        put('core.wasm.br', zlib.brotliCompressSync(bytes, { params: { [zlib.constants.BROTLI_PARAM_QUALITY]: 11, [zlib.constants.BROTLI_PARAM_LGWIN]: 24, [zlib.constants.BROTLI_PARAM_SIZE_HINT]: bytes.length } }));";
    let module = module.to_string_lossy();
    output("node", &["-e", script, &module, &root().join(SERVED).to_string_lossy()]).map(drop)
}
