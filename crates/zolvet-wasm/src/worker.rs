//! State between requests, and answering one.

use zolvet_core::budget::Budget;
use zolvet_core::compose::MaskCache;
use zolvet_queries::{OpenProjects, Query, QueryContext, QueryError};

use crate::files::PageFiles;

/// Bytes of held documents, as text.
const HELD_BYTES: usize = 32 << 20;

/// One project's worth of the core.
pub struct Worker {
    files: PageFiles,
    held: OpenProjects,
    cache: MaskCache,
    room: Vec<u8>,
    answer: Vec<u8>,
}

impl Worker {
    /// Keeps masks and tiles of so many bytes.
    pub fn new(cache: u64) -> Self {
        Self {
            files: PageFiles::default(),
            held: OpenProjects::with_capacity(HELD_BYTES),
            cache: MaskCache::with_capacity(cache),
            room: Vec::new(),
            answer: Vec::new(),
        }
    }

    /// Room for the next input.
    pub fn room(&mut self, bytes: usize) -> *mut u8 {
        self.room.clear();
        self.room.resize(bytes, 0);
        self.room.as_mut_ptr()
    }

    /// The last answer.
    pub fn answer(&self) -> &[u8] {
        &self.answer
    }

    /// Takes a file that is in the room after its asset's id.
    pub fn file(&mut self, id: usize) {
        let (id, bytes) = self.room.split_at(id.min(self.room.len()));
        self.files.take(String::from_utf8_lossy(id).into_owned(), bytes.to_vec());
    }

    /// Answers the request in the room after its path, and says the status.
    pub fn ask(&mut self, path: usize, request: usize) -> u32 {
        let room = std::mem::take(&mut self.room);
        let (path, rest) = room.split_at(path.min(room.len()));
        let request = &rest[..request.min(rest.len())];
        let budget = Budget::default();
        let asked = budget.run(|| self.reply(&String::from_utf8_lossy(path), request));
        let (status, bytes) = match asked {
            Ok(Ok(bytes)) => (200, bytes),
            Ok(Err(error)) => refused(&error),
            Err(stopped) => refused(&stopped.into()),
        };
        self.answer = bytes;
        status
    }

    fn reply(&self, path: &str, request: &[u8]) -> Result<Vec<u8>, QueryError> {
        let context = QueryContext { files: &self.files, held: &self.held, owner: "", cache: &self.cache };
        let query = Query::at(path).ok_or_else(|| QueryError::Unknown(path.to_owned()))?;
        Ok(query.answer(request, &context)?.bytes)
    }
}

fn refused(error: &QueryError) -> (u32, Vec<u8>) {
    let document = error.document();
    let body = match error {
        // The page brings them and asks again.
        QueryError::Files(ids) => serde_json::to_vec(ids),
        _ => serde_json::to_vec(&document),
    };
    (u32::from(document.status), body.unwrap_or_default())
}
