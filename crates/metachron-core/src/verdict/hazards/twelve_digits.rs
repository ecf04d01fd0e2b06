//! Twelve digits, `201112101530`: the year in full with hours and minutes behind it, or two digits of it with seconds.

use crate::candidates::Style;
use crate::layout::Layout;
use crate::order::{Alternative, Order};
use crate::verdict::as_written::AsWritten;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::odds::exceed_typing_errors;

/// Where the hours are minutes, those of so many different dates are all below 24 once in 1,500.
const DATES: u64 = 8;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    if !case.is_of_forms() {
        return Vec::new();
    }
    let [form] = &case.forms[..] else { return Vec::new() };
    let State::Decided(own) = form.state else { return Vec::new() };
    let dates = form.group.dates.count(|fits| fits.fits(own));
    let (rows, unread) = (form.rows(), form.group.rows(|fits| !fits.fits_any()));
    let are_few = dates < DATES || exceed_typing_errors(unread, rows + unread);
    let in_short = short_years(own).filter(|_| are_few && may_be_short(form, own));
    let Some(in_short) = in_short else { return Vec::new() };
    let in_full = form.layouts_of(own).cloned().collect();
    let ways = [
        Settle::AsWritten(AsWritten::FullYears, in_full),
        Settle::AsWritten(AsWritten::ShortYears, vec![in_short]),
    ];
    vec![Found::ask(Verdict::Leaning, Finding::TwelveDigits { rows, unread }, ways)]
}

/// Whether every value that is read would be a moment if its year had two digits.
fn may_be_short(form: &JudgedForm<'_>, own: Alternative) -> bool {
    let mut values = form.group.tallies.values().map(|tally| &tally.lowest.value);
    let mut dates = form.group.dates.iter().filter(|(_, fits)| fits.fits(own));
    form.style() == Style::DigitsClock
        && values.all(|value| value.trim().len() == 12)
        && dates.all(|(written, _)| match own {
            // 20 11 12 10 15 30: the year's second half is a month, the month a day, the day an hour.
            Alternative::Ymd => (1..=12).contains(&(written[0] % 100)) && written[2] < 24,
            // 12 10 20 11 15 30: the year's second half is an hour.
            _ => written[2] % 100 < 24,
        })
}

fn short_years(own: Alternative) -> Option<Layout> {
    let date = match Order::try_from(own).ok()? {
        Order::Dmy => "{day:02}{month:02}{year:2}",
        Order::Mdy => "{month:02}{day:02}{year:2}",
        Order::Ymd => "{year:2}{month:02}{day:02}",
        Order::Ydm => return None,
    };
    Layout::parse(&format!("{date}{{hour:02}}{{minute:02}}{{second:02}}")).ok()
}
