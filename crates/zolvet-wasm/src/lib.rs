//! The core in a worker of the page.
//!
//! A thin shell without rules of its own: the page's requests go in as JSON, answers come out as bytes, the same as those of
//! the service. There is one thread, and nothing is imported. JavaScript writes a text or file into memory it asked for by
//! [`zolvet_room`], calls, and reads the answer at [`zolvet_answer`] before it calls again.

mod files;
mod worker;

use std::cell::RefCell;

use worker::Worker;

thread_local! {
    static WORKER: RefCell<Worker> = RefCell::new(Worker::new(0));
}

/// Memory that is taken at the start besides that of the cache: growing it step by step takes long in browsers.
const RESERVED: usize = 96 << 20;

/// To be called once, before everything else, with the bytes of the picture cache. Reserved memory is not in use before
/// something is written there.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_start(cache: usize) {
    drop(std::hint::black_box(Vec::<u8>::with_capacity(RESERVED + cache)));
    WORKER.with_borrow_mut(|worker| *worker = Worker::new(cache as u64));
}

/// Room for so many bytes that are to come in; the address holds until the next call.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_room(bytes: usize) -> *mut u8 {
    WORKER.with_borrow_mut(|worker| worker.room(bytes))
}

/// Asks: in the room is the path, of so many bytes, and then the request. The result is the HTTP status that the
/// service would answer with; the body is the answer.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_ask(path: usize, request: usize) -> u32 {
    WORKER.with_borrow_mut(|worker| worker.ask(path, request))
}

/// Takes a file of an asset, which is in the room after the asset's id of `id` bytes. An empty file is one that is not there.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_file(id: usize) {
    WORKER.with_borrow_mut(|worker| worker.file(id));
}

/// Which core this is: the address of its number in hexadecimal, which has 16 digits.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_core() -> *const u8 {
    zolvet_queries::SOURCE_HASH.as_ptr()
}

/// Where the last answer is.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_answer() -> *const u8 {
    WORKER.with_borrow(|worker| worker.answer().as_ptr())
}

/// How many bytes the last answer has.
#[unsafe(no_mangle)]
pub extern "C" fn zolvet_answer_bytes() -> usize {
    WORKER.with_borrow(|worker| worker.answer().len())
}
