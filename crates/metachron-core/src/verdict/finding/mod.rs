//! Everything that can be found out about a column: what it is and its figures, and not a sentence.

mod imports;
mod languages;
mod lengths;
mod numbers;
mod zones;

use jiff::civil::Date;

use super::answer::Answer;
use super::mixture::{Apart, Estimate, FoundSplit};
use super::signal::Signal;
use crate::calendar::Calendar;
use crate::evidence::{Occurrences, Witness};
use crate::layout::Layout;
use crate::lexicon::Locale;
use crate::order::{Alternative, Order};
use crate::reading::Split;
use crate::typed::{Kind, TypedValue};

pub use imports::{Harmed, ImportFinding};
pub use languages::LanguageFinding;
pub use lengths::LengthFinding;
pub use numbers::{CountedBeside, NumberFinding};
pub use zones::ZoneFinding;

/// One thing that was found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Finding {
    /// What numbers count.
    Numbers(NumberFinding),
    /// Lengths of time, and clock forms that may be some.
    Lengths(LengthFinding),
    /// Where the clocks stood.
    Zones(ZoneFinding),
    /// What an earlier import did.
    Imports(ImportFinding),
    /// The language of the names.
    Languages(LanguageFinding),
    /// The table has no rows.
    NoRows,
    /// The column is empty.
    AllMissing,
    /// Too few values can be dates.
    NotDates {
        /// Values that can.
        fit: u64,
        /// All values that are not missing.
        values: u64,
    },
    /// Numbers that could be dates written in digits, but may be so by chance.
    ByChance {
        /// Values.
        rows: u64,
        /// Different ones.
        dates: u64,
    },
    /// Values in the form of a month, quarter or week that do not exist.
    MayBeNumbers(Occurrences),
    /// So many different values name a year and the one behind it: seasons, and no months.
    Seasons(u64),
    /// Different marks stand between the parts of the values.
    UnevenMarks,
    /// Years of two digits where another calendar is the usual one.
    ShortYears {
        /// Rows that have such a year.
        rows: u64,
        /// The calendar that is usual where they were written.
        usual: Calendar,
    },
    /// Two digits beside a month's name, and no third part.
    DayOrYearAlone,
    /// Digits that run on from 1 in every month, or in every year.
    RunningNumbers {
        /// Whether they begin anew with the year; else with the month.
        in_years: bool,
    },
    /// So many cells are typed already by their file.
    Typed(u64),
    /// Something tells the rows of a mixed column apart.
    Split(FoundSplit),
    /// Nothing does.
    NoSplit {
        /// Whether all columns beside were looked at that may tell rows apart.
        of_all: bool,
    },
    /// A column would, were it not for a few values.
    NearlySplit {
        /// The column.
        column: String,
        /// Values that speak against it.
        against: u64,
    },
    /// Values on which the layouts disagree, all of them read by the first one.
    Preferred {
        /// These.
        rows: Occurrences,
        /// How many of them are likely wrong, if that can be told.
        wrong: Option<Estimate>,
    },
    /// Values that nothing reads but year, day, month.
    YearDayMonth {
        /// These.
        rows: Occurrences,
        /// Whether the column is no date unless they are read so.
        are_needed: bool,
    },
    /// Months, where the name of the column speaks of weeks.
    WeeksOrMonths {
        /// So many.
        rows: u64,
    },
    /// Months, none of which goes beyond the number of quarters.
    QuartersOrMonths {
        /// So many.
        rows: u64,
        /// Whether the name of the column speaks of quarters.
        by_name: bool,
    },
    /// Twelve digits whose year may have four or two.
    TwelveDigits {
        /// So many that are moments if it has four.
        rows: u64,
        /// Those that are none.
        unread: u64,
    },
    /// Clocks show hours from 1 to 12 alone.
    TwelveHours {
        /// So many of them.
        rows: u64,
        /// Those that lie before the row above, on the same day.
        back: u64,
    },
    /// Rows that something sets apart could be read either way, all of them: they may be of another hand than those
    /// whose order is known.
    UntoldHand {
        /// What does.
        apart: Apart,
        /// The rows.
        rows: u64,
        /// Different dates, or those that are kept of them.
        dates: u64,
        /// The order of the others.
        order: Alternative,
        /// If they were written alike, none would tell by chance once in ten to the power of this.
        power: u32,
    },
    /// Rows go on in time, apart from those that could be read either way.
    OutOfStep {
        /// The order that puts them in time.
        order: Alternative,
        /// Different dates that only this order puts near the rows above them.
        dates: u64,
        /// Those that only one order does.
        of: u64,
        /// In a column that is read rightly it is so once in ten to the power of this.
        power: u32,
    },
    /// Dates lie outside the time of those that can be read in one way only.
    OutOfTime {
        /// The order that puts them in it.
        order: Alternative,
        /// These different dates.
        dates: u64,
        /// That time: the first month and the last one.
        months: (TypedValue, TypedValue),
        /// In a column that is read rightly it is so once in ten to the power of this.
        power: u32,
    },
    /// Years of two digits stand at the other end in all rows, as their values show.
    TurnedEnds {
        /// The order that follows.
        order: Alternative,
        /// Different values of the part that is the day.
        day_values: usize,
        /// Different values of the part that is the year.
        year_values: usize,
    },
    /// Years of two digits stand at the other end in some rows.
    OtherEnd {
        /// The order that puts these among the years of most rows.
        order: Alternative,
        /// Their different dates.
        dates: u64,
        /// In a column that is read rightly it is so once in ten to the power of this.
        power: u32,
    },
    /// Rows are sorted, but as another order takes them than the one that was decided.
    SortedElsewhere(Signal),
    /// How many contested rows each order would make wrong.
    Wrong {
        /// Rows that could be either.
        contested: u64,
        /// Under each order.
        orders: [Estimate; 2],
    },
    /// The analyst has said which rows are written how.
    GivenSplit(Split<Vec<Layout>>),
    /// Rows that only a layout of other rows fits.
    OfOtherRows(Occurrences),
    /// No value can have an order that the analyst has said of some rows.
    NoSuchPart,
    /// The written form allows one order only.
    OneForm,
    /// Hard evidence for one order against another.
    Votes {
        /// The order that they are for.
        winner: Alternative,
        /// The orders that they exclude.
        losers: Vec<Alternative>,
        /// Rows.
        rows: u64,
        /// Whether these are all other orders that the form allows.
        are_all: bool,
    },
    /// Some evidence, but a typing error would explain it.
    FewVotes {
        /// The order that it is for.
        winner: Alternative,
        /// The order that it is against.
        loser: Alternative,
        /// Rows.
        rows: u64,
        /// Different dates among them.
        dates: u64,
        /// All different dates.
        of: u64,
    },
    /// No value tells the orders apart.
    Ambiguous {
        /// The orders in play.
        orders: Vec<Alternative>,
        /// Values that fit.
        rows: u64,
    },
    /// What is soft speaks for one order.
    Soft(Vec<Signal>),
    /// What is soft speaks for several orders.
    SoftDivided(Vec<Signal>),
    /// Many rows on a day that programs write where they have none.
    Spike {
        /// The day.
        day: Date,
        /// The rows.
        rows: Occurrences,
    },
    /// Years below 100 that would lie among all others with a century before them.
    LostCentury {
        /// Different dates with such a year.
        dates: u64,
        /// The first of them.
        example: Date,
        /// The first and the last year of all others.
        others: (i16, i16),
    },
    /// There are votes for both sides.
    Mixed {
        /// The one order, its rows and the first of them.
        one: (Alternative, u64, Witness),
        /// The other.
        other: (Alternative, u64, Witness),
        /// Rows that fit both.
        both: u64,
    },
    /// Rows that only another order fits, and by that lie far from the years of all others: typing errors.
    FarByOtherOrder {
        /// That order.
        order: Alternative,
        /// The rows.
        rows: Occurrences,
    },
    /// A part with two digits is a day, as its values show.
    DaySignature {
        /// The order that follows.
        order: Alternative,
        /// Different values of the part that is the day.
        day_values: usize,
        /// Different values of the part that is the year.
        year_values: usize,
    },
    /// Two-digit parts that could be day or year.
    DayOrYear {
        /// The order that is likelier.
        order: Alternative,
        /// The order that is not excluded.
        rival: Alternative,
        /// Different values of the part that is the day in the likelier order.
        day_values: usize,
        /// Different values of the other part.
        year_values: usize,
    },
    /// They are counted by another calendar.
    InCalendar {
        /// Which.
        calendar: Calendar,
        /// The locale that has it, where nobody said it.
        usual: Option<Locale>,
    },
    /// Known answers agree with several readings, which differ elsewhere.
    AnswersLeave {
        /// The orders.
        orders: Vec<Alternative>,
        /// Rows on which they differ.
        rows: u64,
    },
    /// So many values have a day and no year.
    NoYear(u64),
    /// The year of the first row is known, and those of the others follow.
    YearOfFirst {
        /// That year.
        year: i16,
        /// The rows at which another year begins.
        turns: Vec<u64>,
        /// Rows whose year the sequence leaves open.
        open: u64,
    },
    /// Dates with other separators are decided, these are not.
    OtherForm {
        /// The order of the others.
        order: Alternative,
        /// Rows without evidence of their own.
        rows: u64,
    },
    /// Two-digit years that lead past today.
    Century {
        /// The latest value.
        latest: TypedValue,
        /// Today.
        as_of: Date,
    },
    /// The analyst has said where the values were written, and nothing speaks against it.
    Claimed {
        /// Where.
        locale: Locale,
        /// The order of dates there.
        order: Alternative,
    },
    /// The analyst has said where the values were written, but some cannot have its order.
    Contradicted {
        /// Where.
        locale: Locale,
        /// The order of dates there.
        order: Alternative,
        /// Values that only another order fits.
        rows: Occurrences,
    },
    /// Most years lie where those of another calendar would.
    UnusualYears {
        /// The first of them.
        first: i16,
        /// The last.
        last: i16,
    },
    /// Known answers that one order gives.
    Answered {
        /// The answers.
        answers: Vec<Answer>,
        /// The order.
        order: Alternative,
    },
    /// Known answers, and values that only another order fits.
    AnswersContradicted {
        /// The answers.
        answers: Vec<Answer>,
        /// The values.
        rows: Occurrences,
    },
    /// A known answer that no reading gives.
    NothingGives {
        /// The answer.
        answer: Answer,
        /// What each order gives.
        gives: Vec<(Alternative, Option<TypedValue>)>,
    },
    /// A known answer for a value that is written as none of the column is.
    AnswerElsewhere(Answer),
    /// The analyst has said so.
    GivenOrder(Order),
    /// The analyst has given layouts.
    GivenLayouts(Vec<Layout>),
    /// Rows that do not fit what the analyst gave, but would fit otherwise.
    WouldFit(Occurrences),
    /// Rows that the given layouts take for different moments.
    LayoutsDisagree(Occurrences),
    /// Rows of another kind than the column.
    OtherKind {
        /// Their kind.
        kind: Kind,
        /// How many.
        rows: u64,
    },
    /// More written forms than are told apart: those of so many rows were not looked at any closer.
    ManyShapes(u64),
}

/// A finding about one subject is a finding.
macro_rules! findings_about {
    ($($subject:ident: $type:ty),+) => {
        $(impl From<$type> for Finding {
            fn from(own: $type) -> Finding {
                Finding::$subject(own)
            }
        })+
    };
}
findings_about!(
    Numbers: NumberFinding,
    Lengths: LengthFinding,
    Zones: ZoneFinding,
    Imports: ImportFinding,
    Languages: LanguageFinding
);

impl Finding {
    /// A word for what is worth being told whenever the column is converted, although it is no question: values may
    /// be otherwise than they look.
    ///
    /// ```
    /// use metachron_core::verdict::Finding;
    /// assert_eq!(Finding::NoRows.warning(), None);
    /// ```
    pub fn warning(&self) -> Option<&'static str> {
        match self {
            Finding::Spike { .. } => Some("stand-in"),
            Finding::LostCentury { .. } => Some("lost-century"),
            Finding::WouldFit(_) | Finding::YearDayMonth { .. } | Finding::TurnedEnds { .. } => {
                Some("another-order")
            }
            Finding::Century { .. } => Some("century"),
            Finding::UnusualYears { .. } => Some("another-calendar"),
            Finding::QuartersOrMonths { .. } => Some("quarters"),
            Finding::TwelveHours { .. } => Some("twelve-hours"),
            Finding::RunningNumbers { .. } | Finding::MayBeNumbers(_) | Finding::Seasons(_) => {
                Some("no-dates")
            }
            Finding::Lengths(LengthFinding::MayBeThousands { .. }) => Some("thousands"),
            Finding::UntoldHand { .. } | Finding::OtherEnd { .. } => Some("another-hand"),
            Finding::OutOfStep { .. } | Finding::SortedElsewhere(_) | Finding::OutOfTime { .. } => {
                Some("out-of-step")
            }
            Finding::Lengths(LengthFinding::FractionsOrMinutes(_)) => Some("hours-and-minutes"),
            Finding::Preferred { .. } => Some("preferred"),
            Finding::Numbers(NumberFinding::CountedBeside { epoch, beside, .. })
                if *epoch != beside.epoch =>
            {
                Some("another-origin")
            }
            Finding::Imports(
                ImportFinding::HalfSwapped { .. }
                | ImportFinding::HarmedPart(_)
                | ImportFinding::MonthYear { .. }
                | ImportFinding::FormWithoutLateDays { .. }
                | ImportFinding::NoLateDays { .. },
            ) => Some("earlier-import"),
            Finding::Zones(ZoneFinding::OutOfSeason { .. }) => Some("other-season"),
            Finding::Zones(ZoneFinding::PutBack { .. }) => Some("clock-put-back"),
            _ => None,
        }
    }
}
