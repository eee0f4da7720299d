//! `zolvet apply`: one finish on many SVG files.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicUsize, Ordering};

use clap::ValueEnum;
use zolvet_core::budget::Budget;
use zolvet_core::handoff::{Artwork, Pixels, Worn};
use zolvet_core::lower::FidelityNote;
use zolvet_core::model::{Id, Project};
use zolvet_core::svg::Edge;

use crate::error::{CliError, read_project};
use crate::files::{print, read_bytes, write_whole};

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet apply --from project.zolvet.json --finish Lifted icons/*.svg --out-dir raised
  zolvet apply --from project.zolvet.json --finish Lifted icons/*.svg --out-dir raised --format png --scale 2")]
pub struct Arguments {
    /// The project that has the finish.
    #[arg(long)]
    from: PathBuf,
    /// The name or id of a finish.
    #[arg(long)]
    finish: String,
    /// SVG files, packed or not.
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// The folder that the files are written to, under their names.
    #[arg(long)]
    out_dir: PathBuf,
    /// The files with depth on them, or pictures of them.
    #[arg(long, value_enum, default_value_t = Format::Svg)]
    format: Format,
    /// Pixels of a picture for one px.
    #[arg(long, default_value_t = 1, value_parser = clap::value_parser!(u8).range(1..=4))]
    scale: u8,
    /// Px on the longer side at which the finish is laid on; the size that a file says when left out.
    #[arg(long)]
    size: Option<f64>,
    /// What becomes of depth beyond a file's edge; files of one size are given the same room.
    #[arg(long, value_enum, default_value_t = Beyond::Grow)]
    edge: Beyond,
}

#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Format {
    Svg,
    Png,
}

#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Beyond {
    /// The file becomes larger.
    Grow,
    /// The drawing becomes smaller.
    Shrink,
    /// It is cut off.
    Cut,
}

impl Beyond {
    fn edge(self) -> Edge {
        match self {
            Self::Grow => Edge::Grow,
            Self::Shrink => Edge::Shrink,
            Self::Cut => Edge::Cut,
        }
    }
}

/// Writes the files; whether one could not be.
pub fn run(arguments: &Arguments) -> Result<bool, CliError> {
    if arguments.size.is_some_and(|size| !(1.0..=4096.0).contains(&size)) {
        return Err(CliError::Argument("--size: expected 1 to 4096 px".to_owned()));
    }
    let project = read_project(&arguments.from)?;
    let finish = finish(&project, &arguments.finish)?;
    let no_theme = || CliError::Argument("--from: expected a project with a theme".to_owned());
    let worn = Worn::at_first(&project, &finish).ok_or_else(no_theme)?;
    std::fs::create_dir_all(&arguments.out_dir)
        .map_err(|source| CliError::File { path: arguments.out_dir.clone(), source })?;
    let (mut failed, mut taken) = (false, BTreeMap::new());
    let mut fail = |path: &Path, error: &str| {
        failed = true;
        crate::note!("zolvet: {}: {error}", path.display());
    };
    let mut read = Vec::new();
    let artworks = each(&arguments.files, |path| {
        let artwork = artwork(path, arguments)?;
        let room = artwork.room(worn);
        Ok::<_, String>((artwork, room))
    });
    for (path, artwork) in arguments.files.iter().zip(artworks) {
        match artwork.and_then(|(artwork, room)| Ok((out_path(path, arguments, &mut taken)?, artwork, room)))
        {
            Ok((out, artwork, room)) => read.push((path, out, artwork, room)),
            Err(error) => fail(path, &error),
        }
    }
    let edge = arguments.edge.edge();
    let mut rooms: BTreeMap<[i64; 2], [f64; 4]> = BTreeMap::new();
    for (_, _, artwork, own) in &read {
        let room = rooms.entry(artwork.sharing()).or_default();
        *room = std::array::from_fn(|side| room[side].max(own[side]));
    }
    let room_of = |artwork: &Artwork| rooms.get(&artwork.sharing()).copied().unwrap_or_default();
    let mut said: BTreeMap<String, usize> = BTreeMap::new();
    let (count, done) = (read.len(), AtomicUsize::new(0));
    let outcomes = each(&read, |(_, out, artwork, _)| {
        let (bytes, notes) = written(worn, arguments, (artwork, edge, room_of(artwork)))?;
        write_whole(out, &bytes).map_err(|error| error.to_string())?;
        crate::progress::step(done.fetch_add(1, Ordering::Relaxed) + 1, count);
        Ok::<_, String>(notes)
    });
    let mut count = 0;
    for ((path, ..), outcome) in read.iter().zip(outcomes) {
        match outcome {
            Ok(notes) => {
                count += 1;
                notes.into_iter().for_each(|note| *said.entry(note.message).or_default() += 1);
            }
            Err(error) => fail(path, &error),
        }
    }
    print(table(count, &said).as_bytes())?;
    Ok(failed)
}

/// Works on each of some items, on all cores; the answers are in their order.
fn each<T: Sync, R: Send>(items: &[T], work: impl Fn(&T) -> R + Sync) -> Vec<R> {
    let (next, threads) = (AtomicUsize::new(0), std::thread::available_parallelism().map_or(1, usize::from));
    let run = || {
        let mut done = Vec::new();
        while let at = next.fetch_add(1, Ordering::Relaxed)
            && let Some(item) = items.get(at)
        {
            done.push((at, work(item)));
        }
        done
    };
    let mut all: Vec<(usize, R)> = std::thread::scope(|scope| {
        let workers: Vec<_> = (0..threads).map(|_| scope.spawn(run)).collect();
        workers.into_iter().filter_map(|worker| worker.join().ok()).flatten().collect()
    });
    all.sort_by_key(|(at, _)| *at);
    all.into_iter().map(|(_, answer)| answer).collect()
}

fn finish(project: &Project, name: &str) -> Result<Id, CliError> {
    let found = project.finishes.iter().find(|finish| finish.name == name || finish.id.as_str() == name);
    let unknown = || CliError::Argument(format!("--finish: no finish \"{name}\" in {}", project.name));
    Ok(found.ok_or_else(unknown)?.id.clone())
}

fn artwork(path: &Path, arguments: &Arguments) -> Result<Artwork, String> {
    let bytes = read_bytes(path).map_err(|error| error.to_string())?;
    let read = Budget::default().run(|| Artwork::read(&bytes, arguments.size));
    read.map_err(|error| error.to_string())?.map_err(|error| error.to_string())
}

/// Where a file is written: under its own name.
fn out_path(
    path: &Path,
    arguments: &Arguments,
    taken: &mut BTreeMap<PathBuf, PathBuf>,
) -> Result<PathBuf, String> {
    let ending = if arguments.format == Format::Svg { "svg" } else { "png" };
    let name = path.file_stem().ok_or("expected the name of a file")?;
    let out = arguments.out_dir.join(name).with_extension(ending);
    match taken.insert(out.clone(), path.to_owned()) {
        Some(other) => Err(format!("expected another name: {} is written there", other.display())),
        None => Ok(out),
    }
}

type Written = (Vec<u8>, Vec<FidelityNote>);

fn written(
    worn: Worn<'_>,
    arguments: &Arguments,
    (artwork, edge, room): (&Artwork, Edge, [f64; 4]),
) -> Result<Written, String> {
    let work = || match arguments.format {
        Format::Svg => {
            let file = artwork.wearing(worn, edge, room).map_err(|error| error.to_string())?;
            Ok((file.svg.into_bytes(), file.notes))
        }
        Format::Png => {
            let picture = artwork.picture(worn, (edge, room), Pixels::PerPx(f64::from(arguments.scale)));
            Ok((picture.to_png().map_err(|error| error.to_string())?, Vec::new()))
        }
    };
    Budget::default().run(work).map_err(|error| error.to_string())?
}

/// What was approximated, and in how many files.
fn table(count: usize, said: &BTreeMap<String, usize>) -> String {
    let files = |count: usize| if count == 1 { "1 file".to_owned() } else { format!("{count} files") };
    let mut text = format!("{} written\n", files(count));
    for (message, count) in said {
        let _ = writeln!(text, "{:>9}  {message}", files(*count));
    }
    text
}
