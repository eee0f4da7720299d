//! What is done in a process of its own, as the service does it: the system limits its memory and time.

use serde_json::Value;
use zolvet_server::{Helpers, Refused, Task};

/// Has a helper do a task; what it answers.
pub fn helped(task: Task, question: &Value) -> Result<Value, Refused> {
    let broken = |error: &dyn std::fmt::Display| Refused::Cannot(format!("it could not be done: {error}"));
    let program = std::env::current_exe().map_err(|error| broken(&error))?;
    let question = serde_json::to_vec(question).map_err(|error| broken(&error))?;
    let done = async { Helpers::of_program(program).run(task, &question).await };
    let answer = actix_web::rt::System::new().block_on(done)?;
    serde_json::from_slice(&answer).map_err(|error| broken(&error))
}
