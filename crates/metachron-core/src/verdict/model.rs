//! What was said of a column, what it amounts to, and what would settle it: data only.

use jiff::civil::Date;
use strum::{Display, IntoStaticStr, VariantArray};

use super::answer::Answer;
use super::as_written::AsWritten;
use super::finding::{CountedBeside, Finding, Harmed};
use super::mixture::FoundSplit;
use super::ruled_out::RuledOut;
use super::signal::Signal;
use crate::calendar::Calendar;
use crate::duration::Unit;
use crate::epoch::Epoch;
use crate::evidence::{Evidence, ObserveOptions, TypedTally, Witness};
use crate::layout::Layout;
use crate::lexicon::Locale;
use crate::order::{Alternative, Order};
use crate::reading::{Contested, Reading, Repair, Split, Written, Zoning};
use crate::typed::{Anchor, Kind, TypedValue};
use crate::zone::Abbreviation;

/// What the evidence of a column amounts to.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, VariantArray, IntoStaticStr, Display,
)]
#[strum(serialize_all = "kebab-case")]
pub enum Verdict {
    /// Not temporal, or less than half of the values are.
    NotADate,
    /// One reading fits, and every rival is excluded.
    Decided,
    /// Several readings fit; something soft favours one.
    Leaning,
    /// Several readings fit and nothing speaks for one.
    Undecided,
    /// There are values that only the one and values that only the other reading fits.
    Mixed,
    /// An earlier import has read the column wrongly and left its marks.
    Misread,
}

impl Verdict {
    /// Whether a person has to answer before the column can be converted.
    ///
    /// ```
    /// use metachron_core::verdict::Verdict;
    /// assert!(Verdict::Mixed.is_open() && !Verdict::Decided.is_open() && !Verdict::NotADate.is_open());
    /// ```
    pub fn is_open(self) -> bool {
        matches!(self, Verdict::Leaning | Verdict::Undecided | Verdict::Mixed | Verdict::Misread)
    }
}

/// What was said of a column before it was looked at, by the analyst or by what is known of its table; and what day it is.
#[derive(Debug, Clone, Default)]
pub struct Asserted {
    /// The kind of the values.
    pub kind: Option<Kind>,
    /// The order of all-digit dates.
    pub order: Option<Order>,
    /// Where the values were written, by the analyst's claim.
    pub written_in: Option<Locale>,
    /// Values whose right answer is known.
    pub answers: Vec<Answer>,
    /// The calendar that they are counted by.
    pub calendar: Option<Calendar>,
    /// The year of the first row, where values have none.
    pub year: Option<i16>,
    /// Which of its days a period becomes.
    pub anchor: Option<Anchor>,
    /// What an earlier import did.
    pub repair: Option<Repair>,
    /// Which rows are written how, where that is not the same for all.
    pub split: Option<Split<Written>>,
    /// What the rest of the table says of the order.
    pub signals: Vec<Signal>,
    /// Whether the column's name speaks of dates.
    pub speaks_of_dates: bool,
    /// Whether it speaks of lengths of time.
    pub speaks_of_lengths: bool,
    /// Whether the name of the column speaks of years.
    pub speaks_of_years: bool,
    /// Whether it speaks of weeks.
    pub speaks_of_weeks: bool,
    /// Whether it speaks of quarters of a year.
    pub speaks_of_quarters: bool,
    /// The origin of the numbers of the file, if it has one.
    pub own_epoch: Option<Epoch>,
    /// What settles from where numbers count.
    pub counted_beside: Option<CountedBeside>,
    /// Another column of the table that shows what an import did.
    pub harmed_beside: Option<Harmed>,
    /// One of the files that were put together, which shows by itself what an import did.
    pub harmed_part: Option<Harmed>,
    /// Whether the century of two-digit years was said, and not just assumed.
    pub century: bool,
    /// Where the clocks stood.
    pub zoning: Option<Zoning>,
    /// What becomes of contested rows.
    pub contested: Contested,
    /// The day that counts as today.
    pub as_of: Date,
}

impl Asserted {
    /// Nothing is known but what day it is.
    pub fn nothing(as_of: Date) -> Asserted {
        Asserted { as_of, ..Asserted::default() }
    }

    /// What a value of this kind is when it is read.
    pub(crate) fn reads(&self, kind: Kind) -> Kind {
        let kind = match (self.repair, kind) {
            (Some(Repair::MonthYear), Kind::Date | Kind::DateTime) => Kind::Month,
            _ => kind,
        };
        match kind {
            // Whoever says where the clocks stood has made moments of them.
            Kind::DateTime if self.zoning.is_some() => Kind::Instant,
            kind if self.anchor.is_some() => kind.anchored(),
            kind => kind,
        }
    }

    /// What is known, as a reading by these layouts.
    pub(super) fn reading(
        &self,
        kind: Kind,
        layouts: Vec<Layout>,
        options: &ObserveOptions,
    ) -> Reading {
        Reading {
            kind,
            layouts,
            split: None,
            serials: options.serials,
            terms: options.terms,
            years: options.years.clone(),
            anchor: self.anchor,
            repair: self.repair.unwrap_or(Repair::None),
            zoning: self.zoning.clone().filter(|_| kind == Kind::Instant),
            contested: self.contested,
        }
    }

    /// Cells that their file has typed and that are of this kind when read.
    pub(super) fn typed<'e>(
        &self,
        evidence: &'e Evidence,
        kind: Kind,
    ) -> impl Iterator<Item = &'e TypedTally> {
        let all = evidence.typed.iter().filter(move |(own, _)| self.reads(**own) == kind);
        all.map(|(_, tally)| tally)
    }
}

/// What becomes of the rows of a column; each counts once.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Counts {
    /// All rows.
    pub rows: u64,
    /// Rows that are read.
    pub read: u64,
    /// Rows that stand for nothing.
    pub missing: u64,
    /// Rows that are dates only in form.
    pub placeholder: u64,
    /// Rows that the reading does not fit.
    pub unreadable: u64,
    /// Rows that readings still in play take for different moments.
    pub contested: u64,
}

impl Counts {
    /// What becomes of these rows and the next ones.
    pub fn join(&mut self, next: Counts) {
        let Counts { rows, read, missing, placeholder, unreadable, contested } = next;
        self.rows += rows;
        self.read += read;
        self.missing += missing;
        self.placeholder += placeholder;
        self.unreadable += unreadable;
        self.contested += contested;
    }
}

/// One of the ways to read the forms of a column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Contender {
    /// How the form is read.
    pub alternative: Alternative,
    /// Whether it is still in play.
    pub survives: bool,
    /// The layouts, the most frequent first.
    pub layouts: Vec<Layout>,
    /// Rows that it fits.
    pub fits: u64,
    /// Rows that have such a form but that it does not fit.
    pub contradictions: u64,
    /// The first of these.
    pub contradiction: Option<Witness>,
    /// The earliest value.
    pub earliest: Option<TypedValue>,
    /// The latest value.
    pub latest: Option<TypedValue>,
    /// What it makes of [`Judgement::example`].
    pub example: Option<TypedValue>,
}

/// An origin from which the numbers of a column may count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Origin {
    /// The epoch.
    pub epoch: Epoch,
    /// The smallest number as it counts.
    pub earliest: TypedValue,
    /// The largest.
    pub latest: TypedValue,
}

/// Something that would settle an open column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Settle {
    /// All-digit dates have this order; so many rows would then be unreadable.
    Order(Order, u64),
    /// These layouts and no others.
    Layouts(Alternative, Vec<Layout>),
    /// The values are what they seem to be: these layouts.
    AsWritten(AsWritten, Vec<Layout>),
    /// Years, months and days are those of this calendar.
    Calendar(Calendar),
    /// The layouts of both orders: rows that only one fits are read, contested ones stay empty.
    Both(Vec<Layout>),
    /// The names are of the language of this locale.
    WrittenIn(Locale),
    /// Two-digit years lie in the hundred years from this one.
    TwoDigitFrom(i16),
    /// The first row lies in this year.
    Year(i16),
    /// A value, and what it could be, as an example of a known answer.
    Answer(String, TypedValue),
    /// An earlier import did this; beside the layouts that were given, if any.
    Repair(Repair, Vec<Layout>),
    /// Numbers count from this origin.
    Epoch(Epoch),
    /// The values are of this kind.
    Kind(Kind),
    /// Numbers are so many of this unit.
    Unit(Unit),
    /// An abbreviation is meant as in this place.
    Abbreviation(Abbreviation, &'static str),
    /// What was found to tell the rows apart.
    Split(FoundSplit),
    /// Rows beside one value of this column have one order, all others another.
    AllBut {
        /// The column.
        column: String,
        /// The value.
        value: String,
        /// The order of the rows beside it.
        order: Order,
        /// That of all others.
        usual: Order,
    },
    /// A value of this kind would decide.
    Value(Telling),
}

/// A kind of value that would decide an open column.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Telling {
    /// Days above 12.
    LateDays,
    /// Days that run through whole months.
    WholeMonths,
    /// Amounts with hours or seconds beside their `m`.
    HoursBesideM,
    /// Clock forms with a fraction, which ends with seconds.
    Fractions,
    /// Nothing: the language that was said is wrong, and the names show their own.
    NamesThemselves,
}

/// The verdict on a column with all that led to it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Judgement {
    /// The verdict.
    pub verdict: Verdict,
    /// What the values are; none where they are no dates.
    pub kind: Option<Kind>,
    /// The reading that is decided, or favoured where the column leans.
    pub reading: Option<Reading>,
    /// What becomes of the rows.
    pub counts: Counts,
    /// The most digits of a fraction of a second.
    pub fraction_digits: u8,
    /// The ways to read its forms, those in play first.
    pub contenders: Vec<Contender>,
    /// A row that the contenders in play take for different moments.
    pub example: Option<Witness>,
    /// Why, in the order in which it is told.
    pub findings: Vec<Finding>,
    /// Ways of being wrong that a decided column does not have.
    pub ruled_out: Vec<RuledOut>,
    /// What speaks for one of the orders in play and decides nothing.
    pub signals: Vec<Signal>,
    /// Origins from which numbers may count.
    pub origins: Vec<Origin>,
    /// What would settle it.
    pub settle: Vec<Settle>,
    /// Which of these it leans to, where nothing casts doubt on that.
    pub leans_to: Option<Settle>,
}
