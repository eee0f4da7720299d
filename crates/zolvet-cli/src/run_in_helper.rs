//! Work in a process of its own, as in the service: the system limits its memory and time.

use serde_json::Value;
use zolvet_host::{Helpers, Task};
use zolvet_queries::QueryError;

/// Has a helper do a task, and returns its answer.
pub fn run_in_helper(task: Task, request: &Value) -> Result<Value, QueryError> {
    let broken = |error: &dyn std::fmt::Display| QueryError::Cannot(format!("it could not be done: {error}"));
    let program = std::env::current_exe().map_err(|error| broken(&error))?;
    let request = serde_json::to_vec(request).map_err(|error| broken(&error))?;
    let done = async { Helpers::new(program).run(task, &request).await };
    let answer = actix_web::rt::System::new().block_on(done)?;
    serde_json::from_slice(&answer).map_err(|error| broken(&error))
}
