//! A reading: everything needed to turn the values of a column into typed ones.

mod letters;
mod folds;
mod split;
mod unfit;
mod offset;
mod decimal_years;
mod fields;
mod placing;
mod terms;
mod resolve;
mod years;
mod quantities;
mod lengths;
mod interpret;

use jiff::civil::{Date, Time};
use strum::{IntoStaticStr, VariantArray};

use crate::epoch::{Epoch, Number};
use crate::layout::Layout;
pub use crate::order::Order;
use crate::typed::{Anchor, Kind, TypedValue};
pub use decimal_years::DecimalYear;
pub use fields::Fields;
pub(crate) use fields::{FIRST_OF_ERA, Sign};
pub use folds::{FoldObserver, Folds};
pub use interpret::interpret;
pub use lengths::length_in_words;
pub(crate) use lengths::{length, told};
pub(crate) use letters::{inside_a_run, ordinal_ending, same_letter};
pub use offset::WrittenOffset;
pub use placing::{Changes, Moved, RepeatedClock, SkippedClock, Stated, Zoning};
pub(crate) use quantities::{NumberMarks, begins_in_words, is_numeral};
pub use resolve::resolve;
pub use split::{RowParts, RowPlace, Split, Written};
pub use terms::{Century, Clocks, Terms};
pub use unfit::Unfit;
pub use years::{RowYear, Years};

/// What becomes of a row that several layouts of a reading take for different moments.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "lowercase")]
pub enum Contested {
    /// It stays empty and is reported.
    #[default]
    Empty,
    /// The earlier layout has it.
    Prefer,
}

/// What an earlier import did to a column.
#[derive(Debug, Clone, Copy, PartialEq, Eq, VariantArray, IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub enum Repair {
    /// It exchanged day and month of the values in which both can be a month, and left the others as
    /// text: dates that it wrote are exchanged back.
    HalfSwapped,
    /// It exchanged day and month of every value, and whoever knows it says so: all are exchanged back.
    Swapped,
    /// It took a month and a two-digit year for a day of the year of the import: the day is the year.
    MonthYear,
    /// Nothing.
    None,
}

/// What the numbers of a column count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Serials {
    /// From where, and in which unit.
    pub epoch: Epoch,
    /// Whether they are times of day, fractions of the first one; only then zero is a value, elsewhere it
    /// stands for nothing.
    pub are_times: bool,
}

impl Serials {
    /// Reads a value if it is a number. A day is its first moment in a column of clock times.
    ///
    /// # Errors
    /// Why it is no date.
    pub fn read(self, value: &str) -> Option<Result<Fit, Unfit>> {
        let number = Number::parse(value)?;
        let read = self.epoch.read(number);
        let is_first_day = |date: Date| self.epoch.zero() == Some(date);
        Some(match read {
            Ok(moment) if self.are_times => match moment {
                TypedValue::DateTime(clock) if is_first_day(clock.date()) => {
                    let time = TypedValue::Time(clock.time());
                    Ok(Fit::whole(time, time.fraction_digits()))
                }
                TypedValue::Date(date) if is_first_day(date) => {
                    Ok(Fit::whole(TypedValue::Time(Time::midnight()), 0))
                }
                other => Err(Unfit::OtherKind { value: other.kind(), column: Kind::Time }),
            },
            Ok(moment) => Ok(Fit::whole(moment, moment.fraction_digits())),
            Err(why) => Err(Unfit::NotCounted(self.epoch, why)),
        })
    }

    /// Whether a value is a zero that stands for nothing.
    pub fn is_placeholder(self, value: &str) -> bool {
        !self.are_times && Number::parse(value).is_some_and(Number::is_zero)
    }
}

/// Everything needed to turn a column's values into typed ones.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Reading {
    /// What the values become.
    pub kind: Kind,
    /// The written forms, in order of preference.
    pub layouts: Vec<Layout>,
    /// Which of them are those of which rows, where rows differ.
    pub split: Option<Split<Vec<Layout>>>,
    /// What numbers count, where they do.
    pub serials: Option<Serials>,
    /// What the values leave open.
    pub terms: Terms,
    /// The years of values that have none, where they are known.
    pub years: Option<Years>,
    /// Which of its days a period becomes; none where it stays one.
    pub anchor: Option<Anchor>,
    /// What an earlier import did that is undone.
    pub repair: Repair,
    /// Where the clocks stood, where the values do not say it and somebody does.
    pub zoning: Option<Zoning>,
    /// What becomes of contested rows.
    pub contested: Contested,
}

/// A value that a layout fits.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Fit {
    /// The typed value.
    pub moment: TypedValue,
    /// The digits of its fraction of a second.
    pub fraction_digits: u8,
    /// The day as it is written, before an offset moved it to another; a time has none.
    pub written: Option<Date>,
    /// Whether the year was written with two digits.
    pub short_year: bool,
    /// Whether it has a day and no year.
    pub yearless: bool,
    /// Whether it stood in a leap second, which is read as the first moment of the next minute.
    pub leap_second: bool,
    /// What it says of where its clock stood.
    pub stated: Stated,
    /// What was decided about a clock time that never was, or came twice.
    pub moved: Option<Moved>,
}

impl Fit {
    /// Whether its year is one that dates in tables usually have; a time has none.
    pub fn is_of_our_time(&self) -> bool {
        self.written.is_none_or(|date| (1500..=2200).contains(&date.year()))
    }

    /// A value that leaves nothing open.
    pub fn whole(moment: TypedValue, fraction_digits: u8) -> Fit {
        let (written, short_year) = (moment.date(), false);
        let (yearless, leap_second) = (false, false);
        let (stated, moved) = (Stated::Nothing, None);
        Fit { moment, fraction_digits, written, short_year, yearless, leap_second, stated, moved }
    }

    /// The same, if what it says of its zone has one meaning.
    ///
    /// # Errors
    /// If it is an abbreviation of several meanings, or of none that is known.
    pub fn settled(self) -> Result<Fit, Unfit> {
        match self.stated {
            Stated::Abbreviation(name, clock) if name.only_meaning(clock.year()).is_none() => {
                Err(Unfit::UnclearAbbreviation(name))
            }
            _ => Ok(self),
        }
    }
}
