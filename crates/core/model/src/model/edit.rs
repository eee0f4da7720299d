//! Changes of a project that is decoded already: only changed parts are decoded anew.

use json_patch::PatchOperation;
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

use super::decode::located;
use super::validate::{check_numbers, check_references};
use super::{Piece, Problem, Project, Scene, Shape};

impl Project {
    /// The project after a change, given as a JSON Patch (RFC 6902) of its document with the operations `add`, `replace`
    /// and `remove`. A field that the document leaves out may be replaced, and one that is not there removed: what
    /// has its default is not told from what is not written. What is wrong between two operations on one part is not looked at.
    ///
    /// # Errors
    /// The first place that is not there or takes no such value, or every reference that leads nowhere.
    pub fn edited(&self, patch: &[PatchOperation]) -> Result<Self, Vec<Problem>> {
        check_size(patch).map_err(|problem| vec![problem])?;
        let edits =
            patch.iter().map(Edit::new).collect::<Result<Vec<_>, _>>().map_err(|problem| vec![problem])?;
        let mut project = self.clone();
        let mut large = 0;
        for together in edits.chunk_by(|a, b| a.part() == b.part() && a.is_within() && b.is_within()) {
            large += usize::from(together.iter().any(Edit::is_of_large_part));
            if large > MAX_LARGE_PARTS {
                let message =
                    format!("expected changes of at most {MAX_LARGE_PARTS} whole scenes or projects in turn");
                return Err(vec![Problem::new("/patch", message)]);
            }
            project.edit(together).map_err(|problem| vec![problem])?;
        }
        let is_like = |edit: &Edit<'_>, first: &Edit<'_>| edit.is_number() && edit.part() == first.part();
        let problems = match edits.first() {
            // A number leads nowhere and is no name.
            Some(first) if edits.iter().all(|edit| is_like(edit, first)) => {
                check_numbers(&project, &first.part())
            }
            _ => check_references(&project),
        };
        if problems.is_empty() { Ok(project) } else { Err(problems) }
    }

    /// Makes changes that are all of one part.
    fn edit(&mut self, edits: &[Edit<'_>]) -> Result<(), Problem> {
        let Some(first) = edits.first() else { return Ok(()) };
        match first.part().as_slice() {
            ["scenes", at, "pieces", piece @ ..] => {
                edit_pieces(&mut self.scene_mut(at, first)?.pieces, piece, edits)
            }
            ["scenes", at] if first.is_within() => edit_scene(self.scene_mut(at, first)?, edits),
            ["scenes", at] => edit_list(&mut self.scenes, at, edits, edit_value),
            ["finishes", at] => edit_list(&mut self.finishes, at, edits, edit_value),
            ["lights", at] => edit_list(&mut self.lights, at, edits, edit_value),
            ["swatches", at] => edit_list(&mut self.swatches, at, edits, edit_value),
            ["assets", at] => edit_list(&mut self.assets, at, edits, edit_value),
            _ => edit_value(self, edits),
        }
    }

    fn scene_mut(&mut self, at: &str, edit: &Edit<'_>) -> Result<&mut Scene, Problem> {
        index(at).and_then(|at| self.scenes.get_mut(at)).ok_or_else(|| edit.nowhere())
    }
}

/// Operations of a patch.
const MAX_OPERATIONS: usize = 4_000;
/// Names and places in lists on the way to a changed part: a document has fewer levels.
const MAX_PATH_LENGTH: usize = 64;
/// Parts that are written and read as a whole for a change in them, each time that others are changed in between.
const MAX_LARGE_PARTS: usize = 32;

fn check_size(patch: &[PatchOperation]) -> Result<(), Problem> {
    if patch.len() > MAX_OPERATIONS {
        let message = format!("expected at most {MAX_OPERATIONS} changes at once, found {}", patch.len());
        return Err(Problem::new("/patch", message));
    }
    let is_long = |operation: &PatchOperation| operation.path().count() > MAX_PATH_LENGTH;
    match patch.iter().position(is_long) {
        Some(at) => {
            let message = format!("expected a path of at most {MAX_PATH_LENGTH} parts");
            Err(Problem::new(format!("/patch/{at}/path"), message))
        }
        None => Ok(()),
    }
}

/// One operation of a patch.
struct Edit<'a> {
    path: Vec<String>,
    /// How much of the path leads to the part that is decoded as one.
    depth: usize,
    pointer: String,
    change: Change<'a>,
}

#[derive(Clone, Copy)]
enum Change<'a> {
    /// Into a list before the item there, or as a field.
    Add(&'a Value),
    Replace(&'a Value),
    Remove,
}

impl<'a> Edit<'a> {
    fn new(operation: &'a PatchOperation) -> Result<Self, Problem> {
        let (path, change) = match operation {
            PatchOperation::Add(add) => (&add.path, Change::Add(&add.value)),
            PatchOperation::Replace(replace) => (&replace.path, Change::Replace(&replace.value)),
            PatchOperation::Remove(remove) => (&remove.path, Change::Remove),
            _ => return Err(Problem::new("/patch", "expected only add, replace and remove")),
        };
        let pointer = path.to_string();
        let path: Vec<String> = path.tokens().map(|token| token.decoded().into_owned()).collect();
        let depth = part_depth(&path.iter().map(String::as_str).collect::<Vec<_>>());
        Ok(Self { path, depth, pointer, change })
    }

    fn part(&self) -> Vec<&str> {
        self.path[..self.depth].iter().map(String::as_str).collect()
    }

    /// Whether it puts a number in the place of something within a part.
    fn is_number(&self) -> bool {
        self.is_within() && matches!(self.change, Change::Replace(Value::Number(_)))
    }

    /// Whether a whole project, or all pieces of a scene, are written and read for it.
    fn is_of_large_part(&self) -> bool {
        self.depth == 0
            || self.depth == 2
                && self.is_within()
                && self.path[0] == "scenes"
                && self.path.get(2).is_some_and(|field| field == "pieces")
    }

    /// Whether it changes something of the part, and not the part as a whole.
    fn is_within(&self) -> bool {
        self.path.len() > self.depth
    }

    fn nowhere(&self) -> Problem {
        Problem::new(self.pointer.clone(), "expected a place in the project")
    }

    /// Decodes the changed part; the pointer of an error is that of the whole document.
    fn decoded<T: DeserializeOwned>(&self, value: &Value) -> Result<T, Problem> {
        located(value).map_err(|problem| {
            let place: String = self.part().iter().map(|part| format!("/{part}")).collect();
            Problem::new(place + &problem.pointer, problem.message)
        })
    }
}

/// How much of a path leads to the part that is decoded as one: the piece that lies deepest, an entry of another list, or the
/// project.
fn part_depth(path: &[&str]) -> usize {
    match path {
        ["scenes", _, "pieces", _, within @ ..] => {
            let groups =
                within.chunks_exact(3).take_while(|place| matches!(place, ["shape", "parts", _])).count();
            4 + 3 * groups
        }
        ["scenes" | "finishes" | "lights" | "swatches" | "assets", _, ..] => 2,
        _ => 0,
    }
}

fn index(token: &str) -> Option<usize> {
    token.parse().ok()
}

/// Changes a scene; its pieces are decoded only for changes of pieces.
fn edit_scene(scene: &mut Scene, edits: &[Edit<'_>]) -> Result<(), Problem> {
    if edits.iter().any(|edit| edit.path.get(edit.depth).is_some_and(|field| field == "pieces")) {
        return edit_value(scene, edits);
    }
    let pieces = std::mem::take(&mut scene.pieces);
    edit_value(scene, edits)?;
    scene.pieces = pieces;
    Ok(())
}

/// Changes a list of pieces, or a list of parts in it: `path` is the way from the list to the piece.
fn edit_pieces(list: &mut Vec<Piece>, path: &[&str], edits: &[Edit<'_>]) -> Result<(), Problem> {
    let Some(first) = edits.first() else { return Ok(()) };
    match path {
        [at] => edit_list(list, at, edits, edit_piece),
        [at, _, _, within @ ..] => {
            let group = index(at).and_then(|at| list.get_mut(at)).map(|piece| &mut piece.shape);
            let Some(Shape::Group(group)) = group else { return Err(first.nowhere()) };
            edit_pieces(&mut group.parts, within, edits)
        }
        _ => Err(first.nowhere()),
    }
}

/// Changes a piece; the parts of a group are decoded only for changes of its shape.
fn edit_piece(piece: &mut Piece, edits: &[Edit<'_>]) -> Result<(), Problem> {
    if edits.iter().any(|edit| edit.path.get(edit.depth).is_some_and(|field| field == "shape")) {
        return edit_value(piece, edits);
    }
    let mut parts = Vec::new();
    if let Shape::Group(group) = &mut piece.shape {
        std::mem::swap(&mut group.parts, &mut parts);
    }
    edit_value(piece, edits)?;
    if let Shape::Group(group) = &mut piece.shape {
        group.parts = parts;
    }
    Ok(())
}

/// Changes a list, or within an entry of it.
fn edit_list<T: DeserializeOwned>(
    list: &mut Vec<T>,
    at: &str,
    edits: &[Edit<'_>],
    edit_entry: impl FnOnce(&mut T, &[Edit<'_>]) -> Result<(), Problem>,
) -> Result<(), Problem> {
    let Some(first) = edits.first() else { return Ok(()) };
    let at = index(at).filter(|at| *at <= list.len()).ok_or_else(|| first.nowhere())?;
    match first.change {
        Change::Add(value) if !first.is_within() => list.insert(at, first.decoded(value)?),
        _ if at == list.len() => return Err(first.nowhere()),
        Change::Replace(value) if !first.is_within() => list[at] = first.decoded(value)?,
        Change::Remove if !first.is_within() => drop(list.remove(at)),
        Change::Add(_) | Change::Replace(_) | Change::Remove => edit_entry(&mut list[at], edits)?,
    }
    Ok(())
}

/// Changes a part by way of its JSON.
fn edit_value<T: Serialize + DeserializeOwned>(part: &mut T, edits: &[Edit<'_>]) -> Result<(), Problem> {
    let Some(first) = edits.first() else { return Ok(()) };
    let mut value = serde_json::to_value(&*part).map_err(|_| first.nowhere())?;
    for edit in edits {
        let within: Vec<&str> = edit.path[edit.depth..].iter().map(String::as_str).collect();
        change_within(&mut value, &within, edit.change).ok_or_else(|| edit.nowhere())?;
    }
    *part = first.decoded(&value)?;
    Ok(())
}

fn change_within(value: &mut Value, path: &[&str], change: Change<'_>) -> Option<()> {
    match (value, path) {
        (Value::Object(object), [key]) => match change {
            Change::Add(to) | Change::Replace(to) => drop(object.insert((*key).to_owned(), to.clone())),
            Change::Remove => drop(object.shift_remove(*key)),
        },
        (Value::Array(list), [at]) => {
            let at = index(at)?;
            match change {
                Change::Add(to) if at <= list.len() => list.insert(at, to.clone()),
                Change::Replace(to) => *list.get_mut(at)? = to.clone(),
                Change::Remove if at < list.len() => drop(list.remove(at)),
                Change::Add(_) | Change::Remove => return None,
            }
        }
        (Value::Object(object), [key, rest @ ..]) => {
            // What holds only defaults, or nothing, may have been left out.
            let is_list = rest.first().and_then(|at| index(at)).is_some();
            let inner = object.entry(*key).or_insert_with(|| if is_list { json!([]) } else { json!({}) });
            change_within(inner, rest, change)?;
        }
        (Value::Array(list), [at, rest @ ..]) => change_within(list.get_mut(index(at)?)?, rest, change)?,
        _ => return None,
    }
    Some(())
}
