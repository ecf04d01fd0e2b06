//! Years with a fraction, written: the counterpart of their reading.

use jiff::civil::Date;

use crate::layout::YearPart;

/// The year with a fraction by which a value is written: the start of the part of it in which the value lies. None for
/// the 53rd week of a year.
///
/// ```
/// use metachron_core::{layout::YearPart, write::decimal_year};
/// let day = jiff::civil::date(1973, 2, 17);
/// assert_eq!(decimal_year(day, YearPart::Month).as_deref(), Some("1973.0833"));
/// ```
pub fn decimal_year(day: Date, part: YearPart) -> Option<String> {
    let week = day.iso_week_date();
    let (year, at) = match part {
        YearPart::Quarter => (day.year(), (day.month() as u32 - 1) / 3),
        YearPart::Month => (day.year(), day.month() as u32 - 1),
        YearPart::Week => (week.year(), week.week() as u32 - 1),
        YearPart::Day => (day.year(), day.day_of_year() as u32 - 1),
    };
    let parts = part.of(year);
    if at >= parts || year < 0 {
        return None;
    }
    let fraction = (at * 20_000 + parts) / (parts * 2);
    let text = format!("{}.{fraction:04}", crate::typed::year(year));
    Some(text.trim_end_matches('0').trim_end_matches('.').to_owned())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::named::Named;
    use crate::reading::DecimalYear;

    #[test]
    fn what_is_written_reads_back() {
        for part in YearPart::all() {
            let mut day = jiff::civil::date(2003, 1, 1);
            while day.year() < 2006 {
                if let Some(text) = decimal_year(day, part) {
                    let (own, length) = DecimalYear::read(&text, part, false).unwrap();
                    assert_eq!(length, text.len());
                    let first = own.first_day().unwrap();
                    assert_eq!(decimal_year(first, part).as_deref(), Some(text.as_str()), "{day}");
                    assert!(first <= day && day < first.saturating_add(jiff::Span::new().days(93)));
                }
                day = day.tomorrow().unwrap();
            }
        }
        // 2004 has a week 53.
        assert_eq!(decimal_year(jiff::civil::date(2004, 12, 28), YearPart::Week), None);
    }
}
