//! Work that is done on several threads and taken in its order.

use std::collections::BTreeMap;
use std::ops::ControlFlow;
use std::sync::mpsc::{Receiver, channel};
use std::sync::{Mutex, PoisonError};
use std::thread;

/// What stands where in the order.
type Numbered<T> = (u64, T);

/// Has jobs done by so many threads, and takes what they come to in the order of the jobs, until it wants no more.
///
/// `next` gives one job after the other, in the room that one which is done had; `begin` begins a worker, which does
/// one job at a time; `take` is called by the thread that called this. No more jobs are under way than one for each
/// thread and one more, which is made ready.
pub fn in_order<Job, Done, Worker>(
    threads: usize,
    mut next: impl FnMut(Job) -> Option<Job> + Send,
    begin: impl Fn() -> Worker + Sync,
    mut take: impl FnMut(Done) -> ControlFlow<()>,
) where
    Job: Default + Send,
    Done: Send,
    Worker: FnMut(&Job) -> Done,
{
    let (give_job, jobs) = channel::<Numbered<Job>>();
    let jobs = Mutex::new(jobs);
    thread::scope(|scope| {
        let (give_room, rooms) = channel::<Job>();
        let (give_done, all_done) = channel::<Numbered<(Job, Done)>>();
        for _ in 0..=threads {
            // It is there to be received below.
            let _ = give_room.send(Job::default());
        }
        scope.spawn(move || {
            // Whoever wants no more gives no more room.
            for (number, room) in (0..).zip(rooms) {
                let Some(job) = next(room) else { break };
                if give_job.send((number, job)).is_err() {
                    break;
                }
            }
        });
        for _ in 0..threads {
            let (give_done, begin, jobs) = (give_done.clone(), &begin, &jobs);
            scope.spawn(move || {
                let mut worker = begin();
                while let Some((number, job)) = receive(jobs) {
                    let done = worker(&job);
                    if give_done.send((number, (job, done))).is_err() {
                        break;
                    }
                }
            });
        }
        drop(give_done);
        let mut waiting = BTreeMap::new();
        let mut turn = 0;
        for (number, done) in all_done {
            waiting.insert(number, done);
            while let Some((job, done)) = waiting.remove(&turn) {
                turn += 1;
                if take(done).is_break() {
                    return;
                }
                // Nobody may be there any more who wants it.
                let _ = give_room.send(job);
            }
        }
    });
}

fn receive<T>(from: &Mutex<Receiver<T>>) -> Option<T> {
    from.lock().unwrap_or_else(PoisonError::into_inner).recv().ok()
}

#[cfg(test)]
mod tests {
    use std::sync::atomic::{AtomicU64, Ordering};

    use super::*;

    /// Numbers up to this one, as jobs.
    fn numbers(most: u64) -> impl FnMut(u64) -> Option<u64> + Send {
        let mut last = 0;
        move |_| {
            last += 1;
            (last <= most).then_some(last)
        }
    }

    #[test]
    fn what_is_done_is_taken_in_order_whoever_did_it() {
        for threads in [1, 2, 7] {
            let mut taken = Vec::new();
            let work = || {
                |job: &u64| {
                    // Some jobs take longer than others.
                    let rounds = job % 17 * 1_000;
                    (*job, (0..rounds).fold(0_u64, |sum, own| sum.wrapping_mul(31) ^ own))
                }
            };
            in_order(threads, numbers(500), work, |(job, _)| {
                taken.push(job);
                ControlFlow::Continue(())
            });
            assert!(taken.into_iter().eq(1..=500), "{threads}");
        }
    }

    #[test]
    fn whoever_wants_no_more_gets_no_more() {
        let done = AtomicU64::new(0);
        let work = || |job: &u64| done.fetch_add(1, Ordering::Relaxed).min(*job);
        let mut taken = 0;
        in_order(3, numbers(u64::MAX), work, |_| {
            taken += 1;
            if taken < 100 { ControlFlow::Continue(()) } else { ControlFlow::Break(()) }
        });
        assert_eq!(taken, 100);
        assert!(done.into_inner() <= 100 + 3 + 1);
    }
}
