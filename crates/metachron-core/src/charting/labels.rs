//! What stands at the ticks of an axis of time.

use jiff::civil::DateTime;

use crate::calendar::Calendar;
use crate::lexicon::{Length, Lexicon, Locale, LocaleFormat};
use crate::timeline::Step;
use crate::typed::year;

/// How days and months are called at the ticks of an axis.
#[derive(Debug, Clone, Copy)]
pub struct Labels {
    lexicon: Lexicon,
    /// Whether the month stands before the day.
    month_first: bool,
    /// Whether months are called by numbers there.
    in_digits: bool,
}

impl Labels {
    /// Those of English: `5 Mar`, with `2024` below.
    pub fn english() -> Labels {
        Labels { lexicon: Lexicon::english(), month_first: false, in_digits: false }
    }

    /// Those that are usual in a language and region, by the Gregorian calendar (CLDR).
    pub fn of(locale: Locale) -> Labels {
        let lexicon = Lexicon::of(locale).in_calendar(Calendar::Gregorian);
        let short = locale.format(LocaleFormat::DateShort).unwrap_or("");
        let at = |field: &str| short.find(field).unwrap_or(usize::MAX);
        let march = lexicon.month(3, Length::Short, true);
        let in_digits = march.is_empty() || march.starts_with(|c: char| c.is_ascii_digit());
        Labels { lexicon, month_first: at("{month") < at("{day"), in_digits }
    }

    fn day(self, clock: DateTime) -> String {
        let (month, day) = (clock.month().unsigned_abs(), clock.day());
        let name = match self.in_digits {
            true => month.to_string(),
            false => self.lexicon.month(month, Length::Short, false).to_owned(),
        };
        match (self.month_first, self.in_digits) {
            (true, true) => format!("{name}/{day}"),
            (true, false) => format!("{name} {day}"),
            (false, true) => format!("{day}.{name}."),
            (false, false) => format!("{day} {name}"),
        }
    }

    /// What stands at a tick, and below it what it is part of; the latter where that is new only.
    pub(super) fn of_tick(self, clock: DateTime, step: Step) -> (String, String) {
        const DAY: i128 = crate::duration::DAY as i128;
        const MINUTE: i128 = 60_000_000_000;
        let time = clock.time();
        let month = clock.month().unsigned_abs();
        match step {
            Step::Months(months) if months % 12 == 0 => (year(clock.year()), String::new()),
            Step::Months(_) => {
                let name = self.lexicon.month(month, Length::Short, true);
                let name = if name.is_empty() { month.to_string() } else { name.to_owned() };
                (name, year(clock.year()))
            }
            Step::Nanos(nanos) if nanos % DAY == 0 => (self.day(clock), year(clock.year())),
            Step::Nanos(nanos) => {
                let text = match nanos % MINUTE {
                    0 => format!("{:02}:{:02}", time.hour(), time.minute()),
                    _ => time.to_string(),
                };
                (text, format!("{} {}", self.day(clock), year(clock.year())))
            }
        }
    }

    /// Every name that may stand at a tick.
    pub fn names(self) -> impl Iterator<Item = &'static str> {
        let months =
            move |alone| (1..=12).map(move |month| self.lexicon.month(month, Length::Short, alone));
        months(false).chain(months(true))
    }
}
