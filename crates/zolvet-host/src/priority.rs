//! Which threads and processes run first.

/// How threads and processes go before one another, where threads that answer go first.
#[derive(Debug, Clone, Copy)]
pub enum Priority {
    /// Pictures that somebody waits for.
    Normal,
    /// Helpers, long computations, and clients that have used much. Their work goes on, if slowly, where other programs
    /// use the whole machine: with idle priority it would stand still.
    Background,
}

/// Lets others go before this thread. Where that is not to be had, it is a thread like others.
pub fn lower_priority(priority: Priority) {
    use thread_priority::{
        NormalThreadSchedulePolicy, ThreadPriority, ThreadPriorityValue, ThreadSchedulePolicy,
        set_thread_priority_and_policy, thread_native_id,
    };
    // Values of 0 to 100 stand for a niceness of 20 to -20: of 4 for pictures, of 10 for what comes after. An audit of the demo, which
    // takes 8 s, took 199 s with a niceness of 16 while two other programs used both cores.
    let nice =
        |value: u8| ThreadPriority::Crossplatform(ThreadPriorityValue::try_from(value).unwrap_or_default());
    let priority = match priority {
        Priority::Normal => nice(40),
        Priority::Background => nice(25),
    };
    let policy = ThreadSchedulePolicy::Normal(NormalThreadSchedulePolicy::Other);
    if let Err(error) = set_thread_priority_and_policy(thread_native_id(), priority, policy) {
        tracing::warn!(?error, "computations run with the same priority as answers");
    }
}
