//! What values leave open and a reading fixes: language, century, year, zones, clock changes, unit.

use jiff::civil::Date;

use crate::calendar::Calendar;
use crate::duration::Unit;
use crate::layout::{ShortYears, StandardRules};
use crate::lexicon::{Lexicon, Locale};
use crate::zone::Zones;

use super::Changes;

/// The hundred years in which two-digit years lie.
///
/// ```
/// use metachron_core::reading::Century;
/// assert_eq!(Century::default().place(68), 2068); // as POSIX.1-2017, strptime, %y has it
/// assert_eq!(Century::default().place(69), 1969);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Century {
    /// The first of the hundred years.
    pub from: i16,
}

impl Default for Century {
    fn default() -> Century {
        Century { from: 1969 }
    }
}

impl Century {
    /// The first of the hundred years, and that of those which end with the year of a day: two-digit years that lie
    /// after it by the one may be meant by the other.
    ///
    /// ```
    /// use metachron_core::reading::Century;
    /// let today = jiff::civil::date(2026, 4, 1);
    /// assert_eq!(Century { from: 1969 }.first_years(today), [1969, 1927]);
    /// ```
    pub fn first_years(self, today: Date) -> [i16; 2] {
        [self.from, today.year() - 99]
    }

    /// The year that the last two digits `short` stand for.
    ///
    /// ```
    /// use metachron_core::reading::Century;
    /// let century = Century { from: 1950 };
    /// assert_eq!((century.place(49), century.place(50)), (2049, 1950));
    /// ```
    pub fn place(self, short: i16) -> i16 {
        self.place_in(Calendar::Gregorian, short)
    }

    /// The same in the years of another calendar.
    pub fn place_in(self, calendar: Calendar, short: i16) -> i16 {
        let first = jiff::civil::Date::new(self.from, 1, 1).map(|day| calendar.year_of(day));
        let from = first.unwrap_or(self.from);
        from + (short - from).rem_euclid(100)
    }
}

/// What values leave open and their reading says: the language of their names, and what their
/// numbers count.
///
/// ```
/// use metachron_core::lexicon::{Lexicon, Locale};
/// use metachron_core::reading::Terms;
/// let italian = Terms::of(Lexicon::of(Locale::named("it").unwrap()));
/// assert_eq!(italian.century.place(24), 2024);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Terms {
    /// The words that are read: those of every language where none is said.
    pub lexicon: Lexicon,
    /// Where two-digit years lie.
    pub century: Century,
    /// The day that counts as today, for standards that count two-digit years from it.
    pub today: Option<Date>,
    /// The year of values that have none.
    pub year: Option<i16>,
    /// The first day of the Gregorian calendar, where days before it are of the Julian one.
    pub reform: Option<Date>,
    /// The zones that are known, and what abbreviations mean.
    pub zones: Zones,
    /// How clock times are read where the clocks were changed.
    pub changes: Changes,
    /// What clock forms without a date are.
    pub clocks: Clocks,
    /// What numbers of a length of time count that have no unit beside them.
    pub unit: Option<Unit>,
}

/// What a clock form without a date is: `1:30`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Clocks {
    /// A time of day.
    #[default]
    OfDay,
    /// A length of time.
    Elapsed,
}

impl Default for Terms {
    fn default() -> Terms {
        Terms {
            lexicon: Lexicon::every(),
            century: Century::default(),
            today: None,
            year: None,
            reform: None,
            zones: Zones::bundled(),
            changes: Changes::default(),
            clocks: Clocks::OfDay,
            unit: None,
        }
    }
}

impl Terms {
    /// Nothing is said but the words.
    pub fn of(lexicon: Lexicon) -> Terms {
        Terms { lexicon, ..Terms::default() }
    }

    /// These terms where a standard has rules of its own.
    pub fn under(self, rules: StandardRules) -> Terms {
        let from = match (rules.short_years, self.today) {
            (ShortYears::From(year), _) => year,
            (ShortYears::NearToday, Some(today)) => today.year() - 49,
            _ => self.century.from,
        };
        let lexicon = if rules.english { Lexicon::english() } else { self.lexicon };
        Terms { lexicon, century: Century { from }, ..self }
    }

    /// The language of the names, if one is said.
    pub fn written_in(&self) -> Option<Locale> {
        self.lexicon.locale()
    }
}
