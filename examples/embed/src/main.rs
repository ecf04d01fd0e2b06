//! Reads a column of record batches inside a program: each batch is looked at where it is, what was seen is joined, judged
//! once, and the reading is applied to every batch again.
//!
//! ```text
//! batches -> observe (anywhere) -> join (in their order) -> judge (once) -> apply (anywhere)
//! ```
//!
//! Nothing of `metachron-core` is promised to stay as it is.

use std::sync::Arc;
use std::thread;

use metachron_core::apply::{Compiled, Outcome};
use metachron_core::evidence::{DifferentOptions, Evidence, ObserveOptions, ObservePlan, Observer};
use metachron_core::infer::conclude;
use metachron_core::verdict::{Asserted, Judgement};
use metachron_core::write::iso;

/// The values of one column in some rows that follow each other; none where there is none.
type Batch = Vec<Option<&'static str>>;

/// What was seen of one batch.
fn look(plan: &Arc<ObservePlan>, batch: &Batch) -> Evidence {
    let mut observer = Observer::of(Arc::clone(plan));
    for (row, value) in (1..).zip(batch) {
        observer.observe(row, value.unwrap_or_default());
    }
    observer.finish()
}

/// Looks at all batches at once, and judges what was seen.
///
/// # Errors
/// The reasons why the column is not decided: somebody has to say how it is written.
fn judge(batches: &[Batch]) -> Result<Compiled, Box<Judgement>> {
    let options = ObserveOptions::default();
    let plan = Arc::new(ObservePlan::new(options.clone(), 0));
    let seen: Vec<Evidence> = thread::scope(|scope| {
        let workers: Vec<_> =
            batches.iter().map(|batch| scope.spawn(|| look(&plan, batch))).collect();
        workers.into_iter().filter_map(|worker| worker.join().ok()).collect()
    });
    let all: Result<Evidence, DifferentOptions> =
        seen.into_iter().try_fold(Evidence::empty(&options), Evidence::join);
    // All were looked at by one plan.
    let all = all.unwrap_or_else(|_| Evidence::empty(&options));
    let inference = conclude(&all, &options, &Asserted::nothing(jiff::civil::date(2026, 1, 1)));
    inference.compiled.ok_or_else(|| Box::new(inference.judgement))
}

/// The values of a batch in ISO 8601; none where a value cannot be read.
fn apply(reading: &Compiled, batch: &Batch) -> Vec<Option<String>> {
    let read = |(row, value): (u64, &Option<&str>)| match reading.apply(row, (*value)?) {
        Outcome::Read(fit) => {
            let mut text = String::new();
            iso(&mut text, fit.moment, fit.fraction_digits).ok()?;
            Some(text)
        }
        _ => None,
    };
    (1..).zip(batch).map(read).collect()
}

/// What stations have noted: a batch that could be read in two ways, and one that tells in which.
fn batches() -> Vec<Batch> {
    vec![
        vec![Some("03/04/2024"), None, Some("05/04/2024")],
        vec![Some("13/04/2024"), Some("14/05/2024"), Some("no date"), Some("28/06/2024")],
    ]
}

#[allow(clippy::print_stdout)]
fn main() {
    match judge(&batches()) {
        Ok(reading) => {
            for batch in batches() {
                println!("{:?}", apply(&reading, &batch));
            }
        }
        Err(judgement) => println!("it is open: {:?}", judgement.findings),
    }
}

#[cfg(test)]
mod tests {
    use metachron_core::verdict::Verdict;

    use super::*;

    #[test]
    fn what_one_batch_leaves_open_the_other_decides() {
        let reading = judge(&batches()).map_err(|judgement| judgement.verdict);
        let reading = reading.expect("three dates tell the order");
        let read: Vec<_> = batches().iter().map(|batch| apply(&reading, batch)).collect();
        let date = |text: &str| Some(text.to_owned());
        assert_eq!(read[0], [date("2024-04-03"), None, date("2024-04-05")]);
        assert_eq!(read[1], [date("2024-04-13"), date("2024-05-14"), None, date("2024-06-28")]);
        let open = judge(&batches()[..1]).map_err(|judgement| judgement.verdict).err();
        assert_eq!(open, Some(Verdict::Undecided));
    }
}
