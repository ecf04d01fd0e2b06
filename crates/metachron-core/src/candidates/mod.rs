//! The layouts that a value of some shape could have.

mod coarse;
mod lengths;
mod machine;
mod shape;
mod cursor;
mod yearless;
mod parted;

use serde::{Deserialize, Serialize};

use crate::layout::{Field, Layout};
use crate::lexicon::{Length, LocaleFormat, Piece, PieceKind, Senses, pieces};
use crate::order::{Alternative, Order};
use crate::reading::{Fit, Terms, interpret};
use crate::typed::Kind;
use crate::zone::Zones;

pub use shape::{Shape, without_zone};

use cursor::Cursor;

/// One way to read a shape.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Candidate {
    /// How it takes the numbers of the form.
    pub alternative: Alternative,
    /// The layout.
    pub layout: Layout,
}

/// What a written form looks like, as far as it bears on how its values are judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Style {
    /// Parts of a date with something between them.
    Parted,
    /// Parts of a date in digits with different marks between them: `2023, 4; 17`.
    Uneven,
    /// Digits alone, the year being four of them.
    Digits,
    /// Digits alone, the year being two of them.
    DigitsShortYear,
    /// Digits alone, a date and a clock time.
    DigitsClock,
    /// A time of day.
    Time,
    /// No day.
    Coarse,
    /// No day, unless two digits beside a month's name are one.
    CoarseOpen,
    /// A day and no year.
    Yearless,
    /// As machines write.
    Machine,
    /// A length of time.
    Length,
}

impl Style {
    /// Whether a date in digits has a year that counts, where digits may be anything: others are numbers.
    pub fn counts(self, fit: &Fit) -> bool {
        !matches!(self, Style::Digits | Style::DigitsClock | Style::Uneven) || fit.is_of_our_time()
    }
}

/// How a length of time is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Measure {
    /// Amounts with their units: `1 h 30 min`.
    Amounts,
    /// So many numbers with colons between them: `27:15`.
    Clock(u8),
    /// ISO 8601: `PT1H30M`.
    Iso,
    /// Days before a clock: `1 day, 3:04:05`.
    DaysAndClock,
    /// Amounts whose `m` is open.
    OpenM,
    /// Numbers alone.
    Number,
    /// Hours alone, which may be read off a clock: `7 h`.
    Hours,
}

/// What values have in common that are judged together. Nothing is inherited from one form to
/// another: other separators, or years of another length, may come from another source.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub struct Form {
    /// What it looks like.
    pub style: Style,
    /// What stands between the parts of the date, or whatever else tells it from others.
    pub separators: String,
    /// Of a length of time, or of a time of day that may be one: how it is measured.
    pub measure: Option<Measure>,
    /// The ways in which its numbers can be taken.
    pub alternatives: Vec<Alternative>,
}

impl Form {
    /// Whether dates of digits begin with the year, so that nobody would read them otherwise than year, month, day.
    pub fn is_year_first(&self) -> bool {
        self.style == Style::Parted && self.alternatives == [Alternative::Ymd]
    }
}

/// All ways to read a shape.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Family {
    /// The form. Shapes that share it are judged together.
    pub form: Form,
    /// Whether the month is a number, so that an order of digits can be asked for.
    pub all_digits: bool,
    /// The candidates, at least one, in the order of [`Alternative`].
    pub candidates: Vec<Candidate>,
}

impl Family {
    fn new(style: Style, separators: String, all_digits: bool, all: Vec<Candidate>) -> Family {
        let alternatives = all.iter().map(|candidate| candidate.alternative).collect();
        let form = Form { style, separators, measure: None, alternatives };
        Family { form, all_digits, candidates: all }
    }

    /// The form has one reading.
    fn one(style: Style, separators: String, layout: Layout) -> Family {
        Family::of(style, separators, Alternative::Only, layout)
    }

    fn of(style: Style, separators: String, alternative: Alternative, layout: Layout) -> Family {
        Family::new(style, separators, false, vec![Candidate { alternative, layout }])
    }

    /// The same, measured like this.
    fn measured(mut self, measure: Measure) -> Family {
        self.form.measure = Some(measure);
        self
    }
}

/// Every way to read a normalised value, or none if it cannot be a date.
///
/// `name_length` says by which of its names to call the month, where a single value leaves it
/// open (`May`). An order that no region writes is tried only when it is `asked` for. A lexicon of
/// one locale also tries that locale's own written forms.
///
/// ```
/// use metachron_core::candidates::candidates;
/// use metachron_core::reading::Terms;
/// let layouts = |value| -> Vec<String> {
///     let family = candidates(value, Terms::default(), None, None).unwrap();
///     family.candidates.iter().map(|candidate| candidate.layout.to_string()).collect()
/// };
/// assert_eq!(layouts("03/04/2024 9:15"), [
///     "{day}/{month}/{year} {hour}:{minute}",
///     "{month}/{day}/{year} {hour}:{minute}",
/// ]);
/// assert_eq!(layouts("3 de abril de 2024"), ["{day} de {month:name} de {year}"]);
/// ```
pub fn candidates(
    value: &str,
    terms: Terms,
    name_length: Option<Length>,
    asked: Option<Order>,
) -> Option<Family> {
    if value.len() > LONGEST {
        return None;
    }
    let pieces: Vec<Piece<'_>> = pieces(value, terms.lexicon).collect();
    let small_years = terms.lexicon.calendar().has_small_years();
    let family = lengths::elapsed(value, &pieces, terms)
        .or_else(|| compact(&pieces, small_years))
        .or_else(|| machine::machine(value, terms))
        .or_else(|| lengths::surely(&pieces))
        .or_else(|| time_alone(&pieces))
        .or_else(|| lengths::amounts(value, &pieces, terms))
        // Whoever says the year has said that `Mar 15` has none.
        .or_else(|| terms.year.and_then(|_| yearless::yearless(&pieces, name_length, terms.zones)))
        .or_else(|| coarse::coarse(&pieces, name_length))
        .or_else(|| parted::parted(&pieces, name_length, asked, terms))
        .or_else(|| yearless::yearless(&pieces, name_length, terms.zones))
        .or_else(|| parted::uneven(&pieces, asked, terms))
        .or_else(|| lengths::length(value, &pieces, terms))
        .or_else(|| of_locale(value, terms));
    // What is written as the locale does it is no typing error, whatever else it looks like.
    let reads =
        |own: &Family| own.candidates.iter().any(|c| interpret(&c.layout, value, terms).is_ok());
    match family {
        Some(own) if terms.written_in().is_some() && !reads(&own) => {
            of_locale(value, terms).or(Some(own))
        }
        family => family,
    }
}

/// Bytes of the longest value that is looked at as a date; a long text is cut in no time only where
/// spaces stand between its words.
const LONGEST: usize = 512;

/// Dates of digits alone, also where the first part has lost its zero: `20240305`, `5032024`.
fn compact(pieces: &[Piece<'_>], small_years: bool) -> Option<Family> {
    let [Piece { kind: PieceKind::Digits, text }] = pieces else { return None };
    let (style, layouts): (Style, &[(Alternative, &str)]) = match text.len() {
        5..=7 if small_years => {
            (Style::DigitsShortYear, &[(Alternative::Ymd, "{year:era}{month:02}{day:02}")])
        }
        7 | 8 => (
            Style::Digits,
            &[
                (Alternative::Dmy, "{day}{month:02}{year}"),
                (Alternative::Mdy, "{month}{day:02}{year}"),
                (Alternative::Ymd, "{year}{month:02}{day:02}"),
                (Alternative::Ordinal, "{year}{yearday:03}"),
            ],
        ),
        5 | 6 => (
            Style::DigitsShortYear,
            &[
                (Alternative::Dmy, "{day}{month:02}{year:2}"),
                (Alternative::Mdy, "{month}{day:02}{year:2}"),
                (Alternative::Ymd, "{year:2}{month:02}{day:02}"),
            ],
        ),
        12 | 14 | 17 => (
            Style::DigitsClock,
            &[
                (
                    Alternative::Dmy,
                    "{day:02}{month:02}{year}{hour:02}{minute:02}[{second:02}[{fraction:3}]]",
                ),
                (
                    Alternative::Mdy,
                    "{month:02}{day:02}{year}{hour:02}{minute:02}[{second:02}[{fraction:3}]]",
                ),
                (
                    Alternative::Ymd,
                    "{year}{month:02}{day:02}{hour:02}{minute:02}[{second:02}[{fraction:3}]]",
                ),
            ],
        ),
        _ => return None,
    };
    let candidates: Vec<Candidate> = layouts
        .iter()
        .filter_map(|(order, layout)| {
            Some(Candidate { alternative: *order, layout: Layout::parse(layout).ok()? })
        })
        .collect();
    Some(Family::new(style, String::new(), true, candidates))
}

/// A clock time without a date: `7:20 PM`, `14h30`; beside it a length of time, where clocks go on
/// beyond 24 hours.
fn time_alone(pieces: &[Piece<'_>]) -> Option<Family> {
    let text = Cursor { pieces, zones: Zones::bundled() }.time_alone()?;
    let layout = Layout::parse(&text).ok()?;
    let time = Candidate { alternative: Alternative::Only, layout };
    // `7 h` is seven hours as well as seven o'clock.
    let is_hours = matches!(text.trim_start_matches("{hour}").trim(), "h" | "H");
    let all = std::iter::once(time).chain(lengths::beside_time(pieces)).collect();
    let family = Family::new(Style::Time, String::new(), false, all);
    Some(if is_hours { family.measured(Measure::Hours) } else { family })
}

/// The locale's own written forms, those that fit this value.
fn of_locale(value: &str, terms: Terms) -> Option<Family> {
    let locale = terms.written_in()?;
    let dates = [
        LocaleFormat::DateFull,
        LocaleFormat::DateLong,
        LocaleFormat::DateMedium,
        LocaleFormat::DateShort,
    ];
    let texts = dates.into_iter().flat_map(|date| {
        let times = [LocaleFormat::TimeMedium, LocaleFormat::TimeShort];
        let joined = times.into_iter().filter_map(move |time| locale.joined(date, time));
        locale.format(date).map(str::to_owned).into_iter().chain(joined)
    });
    let fits = |layout: &Layout| interpret(layout, value, terms).is_ok();
    let layout = texts.filter_map(|text| Layout::parse(&text).ok()).find(fits)?;
    let alternative = layout.order()?.into();
    let named = layout.has(Field::MonthName) || layout.has(Field::MonthShort);
    let written = whatever_names(&layout.to_string());
    let separators = format!("‹as {locale} writes it›{written}");
    Some(Family::new(Style::Parted, separators, !named, vec![Candidate { alternative, layout }]))
}

/// The field of a month's name: of the length that is said, or else of its own. None if it is no month.
fn month_field(senses: Senses, said: Option<Length>) -> Option<&'static str> {
    let own = senses.month_length()?;
    Some(if said.unwrap_or(own) == Length::Full { "{month:name}" } else { "{month:short}" })
}

/// A layout as the key of a form: full names and short ones stand in the same form, whichever comes first.
fn whatever_names(layout: &str) -> String {
    layout.replace("{month:name}", "{month:short}").replace("{weekday}", "{weekday:short}")
}

/// The kind that a value would have in a form of its own, if it can be read at all.
///
/// ```
/// use metachron_core::{candidates::kind_alone, typed::Kind, reading::Terms};
/// assert_eq!(kind_alone("3/4/2024 9:15", Terms::default()), Some(Kind::DateTime));
/// assert_eq!(kind_alone("13/13/2024", Terms::default()), None);
/// ```
pub fn kind_alone(value: &str, terms: Terms) -> Option<Kind> {
    let family = candidates(value, terms, None, None)?;
    // Digits alone can be anything, and so can those with different marks between them.
    if family.form.style == Style::Uneven || value.bytes().all(|byte| byte.is_ascii_digit()) {
        return None;
    }
    let fits = |candidate: &&Candidate| interpret(&candidate.layout, value, terms).is_ok();
    family.candidates.iter().find(fits)?.layout.kind()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::reading::Clocks;

    fn layouts(value: &str) -> Vec<String> {
        candidates(value, Terms::default(), None, None).map_or(Vec::new(), |family| {
            family.candidates.iter().map(|candidate| candidate.layout.to_string()).collect()
        })
    }

    #[test]
    fn arrangements() {
        for (value, expected) in [
            ("3/4/2024", vec!["{day}/{month}/{year}", "{month}/{day}/{year}"]),
            (
                "03-04-24",
                vec!["{day}-{month}-{year:2}", "{month}-{day}-{year:2}", "{year:2}-{month}-{day}"],
            ),
            ("5. 3. 2024", vec!["{day}. {month}. {year}", "{month}. {day}. {year}"]),
            ("2024-03-05", vec!["{year}-{month}-{day}"]),
            ("2024-03-05T10:15:00+01:00", vec!["rfc-3339"]),
            (
                "2024-03-05 10:15:00.25 +0100",
                vec!["{year}-{month}-{day} {hour}:{minute}:{second}.{fraction} {offset}"],
            ),
            ("5 March 2024", vec!["{day} {month:name} {year}"]),
            (
                "Mar 2nd, 2024 12:00 PM",
                vec!["{month:short} {day:th}, {year} {hour:12}:{minute} {ampm}"],
            ),
            ("Tue, Mar. 5th, 2024", vec!["{weekday:short}, {month:short} {day:th}, {year}"]),
            ("05-Mar-24", vec!["{day}-{month:short}-{year:2}", "{year:2}-{month:short}-{day}"]),
            ("05Mar2024", vec!["{day}{month:short}{year}"]),
            ("Di., 5. März 2024", vec!["{weekday:short}, {day}. {month:name} {year}"]),
            ("5 of March, 2024", vec!["{day} of {month:name}, {year}"]),
            (
                "3/4/2024 7 pm",
                vec![
                    "{day}/{month}/{year} {hour:12} {ampm}",
                    "{month}/{day}/{year} {hour:12} {ampm}",
                ],
            ),
            ("2024-03", vec!["{year}-{month:02}"]),
            ("3/2024", vec!["{month}/{year}"]),
            ("Apr-22", vec!["{month:short}-{year:2}"]),
            ("avr. 2024", vec!["{month:short} {year}"]),
            ("abril de 2024", vec!["{month:name} de {year}"]),
            ("Q3 2024", vec!["Q{quarter} {year}"]),
            ("3Q24", vec!["{quarter}Q{year:2}"]),
            ("2024-Q3", vec!["{year}-Q{quarter}"]),
            ("2024-W05", vec!["{weekyear}-W{week:02}"]),
            ("KW 5/2024", vec!["KW {week}/{weekyear}"]),
            (
                "20240305101112",
                vec![
                    "{day:02}{month:02}{year}{hour:02}{minute:02}[{second:02}[{fraction:3}]]",
                    "{month:02}{day:02}{year}{hour:02}{minute:02}[{second:02}[{fraction:3}]]",
                    "{year}{month:02}{day:02}{hour:02}{minute:02}[{second:02}[{fraction:3}]]",
                ],
            ),
            (
                "20240305T101112Z",
                vec!["{year}{month:02}{day:02}T{hour:02}{minute:02}[{second:02}]{offset}"],
            ),
            (
                "20240305101112Z",
                vec![
                    "{year}{month:02}{day:02}{hour:02}{minute:02}{second:02}[.{fraction}]{offset:basic}",
                ],
            ),
            ("2024-W05-3", vec!["{weekyear}-W{week:02}-{weekday:number}"]),
            ("2024-065", vec!["{year}-{yearday:03}"]),
            (
                "2024:065:14:05:09.250",
                vec!["{year}:{yearday:03}:{hour:02}:{minute:02}:{second:02}[.{fraction}]"],
            ),
            ("2024-03-05T10:15:00+01:00[Europe/Oslo]", vec!["rfc-9557"]),
            ("Sun, 06 Nov 1994 08:49:37 GMT", vec!["http-date"]),
            ("Tue, 5 Mar 2024 10:00:00 +0100", vec!["rfc-5322"]),
            (
                "Tue Mar  5 10:11:12 2024",
                vec![
                    "{weekday:short} {month:short} {day: 2} {hour:02}:{minute:02}:{second:02} {year}",
                ],
            ),
            (
                "Tue Mar 05 2024 10:00:00 GMT+0100 (Central European Standard Time)",
                vec![
                    "{weekday:short} {month:short} {day:02} {year} {hour:02}:{minute:02}:{second:02} {offset}[ ({any})]",
                ],
            ),
            ("2023, 4; 17", vec!["{year}, {month}; {day}"]),
            ("3/4-2024", vec!["{day}/{month}-{year}", "{month}/{day}-{year}"]),
            (
                "D:20240305101112+01'00'",
                vec!["D:{year}{month:02}{day:02}{hour:02}{minute:02}{second:02}{offset}"],
            ),
            ("/Date(1709633472000)/", vec!["/Date({serial:unix-milliseconds})/"]),
            ("令和6年3月5日", vec!["{era}{year:era}年{month}月{day}日"]),
            ("令和元年5月1日", vec!["{era}{year:era}年{month}月{day}日"]),
            ("15 March 44 BC", vec!["{day} {month:name} {year:era} {era}"]),
            ("March 5, AD 2024", vec!["{month:name} {day}, {era} {year:era}"]),
            ("15 มีนาคม พ.ศ. 2567", vec!["{day} {month:name} {era} {year:era}"]),
            ("5 maart 2024 om 07:20 uur", vec!["{day} {month:name} {year} om {hour}:{minute} uur"]),
            ("ngày 5 tháng 3 năm 2024", vec!["ngày {day} {month:name} năm {year}"]),
            ("noon", vec!["{noon}"]),
            // October in one language, November in another.
            ("listopada 2024", vec!["{month:name} {year}"]),
            // A month is no unit, even where another language has such a word.
            ("0000sept", vec![]),
            ("5 March 2024 noon", vec!["{day} {month:name} {year} {noon}"]),
            ("12 midnight", vec!["{hour:12} {ampm}"]),
            ("3:05 in the afternoon", vec!["{hour:12}:{minute} {ampm}"]),
            ("5. März", vec!["{day}. {month:name}"]),
            ("Samstag, 3. Mai", vec!["{weekday}, {day}. {month:name}"]),
            ("Mar  5 10:11:12", vec!["{month:short} {day} {hour}:{minute}:{second}"]),
            ("Mar. 5", vec!["{month:short} {day}"]),
            ("3 de maio", vec!["{day} de {month:name}"]),
            (
                "123:14:05:09.250",
                vec!["{yearday:03}:{hour:02}:{minute:02}:{second:02}[.{fraction}]"],
            ),
            ("2024:03:05 10:11:12", vec!["{year}:{month}:{day} {hour}:{minute}:{second}"]),
            ("05MAR2024:10:11:12", vec!["{day}{month:short}{year}:{hour}:{minute}:{second}"]),
            ("05/Mar/2024:10:11:12 +0100", vec!["common-log"]),
            ("10:15", vec!["{hour}:{minute}", "{hours}:{minutes}"]),
            ("7:20:05 PM", vec!["{hour:12}:{minute}:{second} {ampm}"]),
            ("7 pm", vec!["{hour:12} {ampm}"]),
            ("2.30pm", vec!["{hour:12}.{minute}{ampm}"]),
            ("14h30", vec!["{hour}h{minute}"]),
            ("오후 3:05", vec!["{ampm} {hour:12}:{minute}"]),
            ("10時15分", vec!["{hour}時{minute}分"]),
            (
                "20240305",
                vec![
                    "{day}{month:02}{year}",
                    "{month}{day:02}{year}",
                    "{year}{month:02}{day:02}",
                    "{year}{yearday:03}",
                ],
            ),
            (
                "5 March 2024 at 7:05 p.m.",
                vec!["{day} {month:name} {year} at {hour:12}:{minute} {ampm}"],
            ),
        ] {
            assert_eq!(layouts(value), expected, "{value}");
        }
    }

    #[test]
    fn lengths_of_time() {
        let elapsed = Terms { clocks: Clocks::Elapsed, ..Terms::default() };
        let hours = Terms { unit: Some(crate::duration::Unit::HOURS), ..elapsed };
        for (value, terms, expected) in [
            ("1 day 4 hours 35 min", Terms::default(), vec!["{amounts}"]),
            ("48 SECONDS", Terms::default(), vec!["{amounts}"]),
            ("2h 5m", Terms::default(), vec!["{amounts:minutes}", "{amounts:months}"]),
            ("PT51H20M", Terms::default(), vec!["iso-8601-duration"]),
            (
                "2 days, 3:04:05.5",
                Terms::default(),
                vec!["{days} days, {hours}:{minutes}:{seconds}.{fraction}"],
            ),
            ("-1 day, 23:59:59", Terms::default(), vec!["{days} day, {hours}:{minutes}:{seconds}"]),
            ("1:30", Terms::default(), vec!["{hour}:{minute}", "{hours}:{minutes}"]),
            ("1:30", elapsed, vec!["{hours}:{minutes}", "{minutes}:{seconds}"]),
            ("1:30.5", elapsed, vec!["{hours}:{minutes}", "{minutes}:{seconds}.{fraction}"]),
            ("1h30", elapsed, vec!["{amounts}"]),
            ("100:00", Terms::default(), vec!["{hours}:{minutes}", "{minutes}:{seconds}"]),
            ("123:14:05", Terms::default(), vec!["{hours}:{minutes}:{seconds}"]),
            ("7:20 PM", elapsed, vec!["{hour:12}:{minute} {ampm}"]),
            ("1,5", elapsed, vec!["{amounts}"]),
            ("1,5", hours, vec!["{hours:decimal}"]),
            ("3 kg 20 min", Terms::default(), vec![]),
            // Dates come first.
            ("2024年3月5日", Terms::default(), vec!["{year}年{month}月{day}日"]),
            ("1 year 6 months", Terms::default(), vec!["{amounts}"]),
        ] {
            let family = candidates(value, terms, None, None);
            let found: Vec<String> = family.map_or(Vec::new(), |family| {
                family.candidates.iter().map(|candidate| candidate.layout.to_string()).collect()
            });
            assert_eq!(found, expected, "{value}");
        }
    }

    #[test]
    fn what_cannot_be_a_date_has_no_candidate() {
        for value in [
            "",
            "SK-0417",
            "3/4",
            "1.2",
            "3/4-24",
            "3/4/2024 x",
            "3/4/2024 10",
            "192.168.10.24",
            "555 12 34",
            "5/3/4",
            "12.30",
            "2024.03",
            "3.2024",
            "2024",
            "Q3",
            "W05",
            "1234",
            "123456789",
            "2024 5 March",
            "5 March x",
            "S22.4.29",
            "as of 03/05/24",
            "05/03/24:10:11",
            "Mar 5 10:11:12:13",
            "3 5",
            "Mon",
            "3/4/20245",
            "March 2024 5",
            "5 March 2024 10:15 +",
            "2024-03-05T",
            "Tue5 March 2024",
        ] {
            assert_eq!(layouts(value), Vec::<String>::new(), "{value}");
        }
    }

    #[test]
    fn long_texts_are_no_dates_and_take_no_time() {
        let text = "日月火水木金土".repeat(100_000);
        assert_eq!(layouts(&text), Vec::<String>::new());
        assert_eq!(Shape::of(&text, Terms::default()).text(), "‹long text›");
    }

    #[test]
    fn an_order_that_nobody_writes_is_tried_when_asked_for() {
        let family = candidates("2024-05-03", Terms::default(), None, Some(Order::Ydm)).unwrap();
        let orders: Vec<Alternative> = family.candidates.iter().map(|c| c.alternative).collect();
        assert_eq!(orders, [Alternative::Ymd, Alternative::Ydm]);
    }
}
