//! What becomes of the rows of a column.

use super::case::{Case, Subject};
use super::model::Counts;
use crate::reading::Contested;
use crate::typed::Kind;

/// What becomes of every row; each counts once.
pub(super) fn counts(case: &Case<'_>) -> Counts {
    let (rows, missing) = (case.evidence.rows, case.evidence.missing);
    let values = case.values();
    let mut placeholder = case.evidence.placeholder;
    let (read, contested) = match &case.subject {
        Subject::Layouts(_) => by_layouts(case),
        Subject::Forms(_) => by_forms(case),
        Subject::Numbers(numbers) => {
            let (rows, zeros) = numbers.rows(&case.evidence.numbers);
            placeholder += zeros;
            (0, rows)
        }
        Subject::Amounts(amounts) => (0, amounts.rows.rows),
        Subject::Measures(_) | Subject::OtherLanguage(_) | Subject::None => (0, 0),
    };
    // Rows of which the sequence does not say the year.
    let open_years = match case.subject {
        Subject::Layouts(_) | Subject::Forms(_) => case.evidence.open_years.min(read),
        _ => 0,
    };
    let (read, contested) = (read - open_years, contested + open_years);
    let zeros = placeholder - case.evidence.placeholder;
    // Saved evidence may be damaged.
    let unreadable = values.saturating_sub(zeros.saturating_add(read).saturating_add(contested));
    Counts { rows, read, missing, placeholder, unreadable, contested }
}

/// Rows that the given layouts read, and those that they contest.
fn by_layouts(case: &Case<'_>) -> (u64, u64) {
    let given = &case.evidence.given;
    let own = |(kind, rows): (&Kind, &u64)| if case.is_own(*kind) { *rows } else { 0 };
    let read: u64 = given.read.iter().map(own).sum();
    let disagree: u64 = given.contested.values().sum();
    let (read, contested) = match case.asserted.contested {
        Contested::Prefer => (read + given.contested.iter().map(own).sum::<u64>(), 0),
        Contested::Empty => (read, disagree),
    };
    (read + case.typed_rows(), contested + given.of_other_rows.rows)
}

/// Rows that what is in play reads in one way, and those that it takes for different moments.
fn by_forms(case: &Case<'_>) -> (u64, u64) {
    let (mut read, mut contested) = (0, 0);
    for form in &case.forms {
        for ((fits, _), tally) in
            form.group.tallies.iter().filter(|((_, kind), _)| case.is_own(*kind))
        {
            if fits.differ(&form.in_play) {
                contested += tally.rows;
            } else if form.in_play.iter().any(|alternative| fits.fits(*alternative)) {
                read += tally.rows;
            }
        }
    }
    let counted = case.counted().filter(|(kind, _)| Some(*kind) == case.kind());
    (read + case.typed_rows() + counted.map_or(0, |(_, rows)| rows), contested)
}

/// The most digits of a fraction of a second.
pub(super) fn fraction_digits(case: &Case<'_>) -> u8 {
    let given = &case.evidence.given;
    let Some(kind) = case.kind() else { return 0 };
    match case.subject {
        Subject::Layouts(_) => given.fraction_digits,
        Subject::Forms(_) => {
            let groups = case.evidence.groups.values().flat_map(|group| &group.tallies);
            let written = groups
                .filter(|((_, own), _)| case.is_own(*own))
                .map(|(_, tally)| tally.fraction_digits);
            let typed = case.asserted.typed(case.evidence, kind).map(|tally| tally.fraction_digits);
            let counted = case.options.serials.map(|_| given.fraction_digits);
            written.chain(typed).chain(counted).max().unwrap_or(0)
        }
        _ => 0,
    }
}
