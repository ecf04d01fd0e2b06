//! Why a verdict is what it is, in sentences.

use jiff::civil::Date;

use super::{Answer, Estimate, FoundSplit, Signal};
use crate::calendar::Calendar;
use crate::epoch::Epoch;
use crate::evidence::{Back, Witness};
use crate::layout::Layout;
use crate::lexicon::{Difference, Locale};
use crate::moment::{Kind, Moment};
use crate::reading::{Order, Split, Unfit, Zoning};
use crate::zone::{Abbreviation, Zone};

/// One reason; displayed as a sentence.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Reason {
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
    /// Values in the form of a clock time that no clock shows.
    MayBeDurations {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// Hours alone, of which nobody can tell whether they were measured or read off.
    HoursOrClock {
        /// How many.
        rows: u64,
    },
    /// Clock times in a column whose name speaks of lengths of time.
    NameOfLengths,
    /// Clock forms are lengths of time, as other values show.
    Elapsed {
        /// The longest, if it is more than a day.
        longest: Option<Moment>,
    },
    /// Other values have hours, so that two numbers are likely minutes and seconds.
    HoursElsewhere {
        /// How many have.
        rows: u64,
    },
    /// Lengths of time that say too little.
    Untold {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Witness,
        /// What is wrong with it.
        why: Unfit,
    },
    /// Values in the form of a month, quarter or week that do not exist.
    MayBeNumbers {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// Two digits beside a month's name, and no third part.
    DayOrYearAlone,
    /// Digits that run on from 01 in every month.
    RunningNumbers,
    /// Cells that the file has typed already.
    Typed {
        /// How many.
        rows: u64,
    },
    /// Dates and text share the days between them as an import leaves them that exchanged days and
    /// months. All counts are of different ones.
    HalfSwapped {
        /// Dates that a program has written.
        dates: u64,
        /// Of these, with a day above 12.
        late: u64,
        /// Texts in the order of a region.
        texts: u64,
        /// Of these, without a part above 12.
        open: u64,
        /// An honest column looks so once in ten to the power of this.
        power: u32,
    },
    /// Days and months are exchanged back, because the analyst says so.
    Exchanged {
        /// Rows that are dates written by a program.
        rows: u64,
    },
    /// All dates lie in one year, and their days are a run of numbers that years have.
    MonthYear {
        /// The year.
        year: i16,
        /// The first day.
        first: i16,
        /// The last day.
        last: i16,
        /// Different months that were left as text, all with a year that is no day; none where the
        /// days alone tell.
        texts: usize,
    },
    /// There is nothing that an import could have exchanged.
    NothingToRepair,
    /// Days are the years of months, because the analyst says so.
    YearsFromDays {
        /// Rows that are dates written by a program.
        rows: u64,
    },
    /// Something tells the rows of a mixed column apart.
    Split(FoundSplit),
    /// Nothing does.
    NoSplit,
    /// A column would, were it not for a few values.
    NearlySplit {
        /// The column.
        column: String,
        /// Values that speak against it.
        against: u64,
    },
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
    OfOtherRows {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Option<Witness>,
    },
    /// No value can have an order that the analyst has said of some rows.
    NoSuchPart,
    /// The written form allows one order only.
    OneForm,
    /// Hard evidence for one order against another.
    Votes {
        /// The order that they are for.
        winner: Order,
        /// The orders that they exclude.
        losers: Vec<Order>,
        /// Rows.
        rows: u64,
    },
    /// Some evidence, but a typing error would explain it.
    FewVotes {
        /// The order that it is for.
        winner: Order,
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
        orders: Vec<Order>,
        /// Values that fit.
        rows: u64,
    },
    /// Numbers are counted from an origin, because somebody says so.
    Counted {
        /// From which.
        epoch: Epoch,
        /// Rows that are dates then.
        rows: u64,
    },
    /// Numbers that are no date by that.
    NotCounted {
        /// By which epoch.
        epoch: Epoch,
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// Numbers in a column that holds dates otherwise.
    NumbersBeside {
        /// How many.
        rows: u64,
        /// By which epoch they would be dates.
        epoch: Epoch,
        /// The earliest of these.
        earliest: Moment,
        /// The latest.
        latest: Moment,
    },
    /// Numbers that may count days or seconds from several origins.
    MayCount {
        /// Values.
        rows: u64,
        /// How many are zero, which stands for nothing.
        zeros: u64,
        /// Of so many fractions that say enough, these are a clock time.
        clocks: (u64, u64),
        /// Whether the column's name speaks of dates.
        by_name: bool,
        /// Whether they count from the origin that the file has of its own.
        own: bool,
    },
    /// What is soft speaks for one order.
    Soft(Vec<Signal>),
    /// What is soft speaks for several orders.
    SoftDivided(Vec<Signal>),
    /// Many rows on a day that programs write where they have none.
    Spike {
        /// The day.
        day: Date,
        /// Rows.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// There are votes for both sides.
    Mixed {
        /// The one order, its rows and the first of them.
        one: (Order, u64, Witness),
        /// The other.
        other: (Order, u64, Witness),
        /// Rows that fit both.
        both: u64,
    },
    /// A part with two digits is a day, as its values show.
    DaySignature {
        /// The order that follows.
        order: Order,
        /// Different values of the part that is the day.
        day_values: usize,
        /// Different values of the part that is the year.
        year_values: usize,
    },
    /// Two-digit parts that could be day or year.
    DayOrYear {
        /// The order that is likelier.
        order: Order,
        /// The order that is not excluded.
        rival: Order,
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
        orders: Vec<Order>,
        /// Rows on which they differ.
        rows: u64,
    },
    /// Values have a day and no year.
    NoYear {
        /// How many.
        rows: u64,
    },
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
        order: Order,
        /// Rows without evidence of their own.
        rows: u64,
    },
    /// Two-digit years that lead past today.
    Century {
        /// The latest value.
        latest: Moment,
        /// Today.
        as_of: Date,
    },
    /// All names are of this language.
    NamesOf(Locale),
    /// Several languages have all the names, and mean the same by them.
    NamesAlike(Vec<Locale>),
    /// No language has all the names.
    NamesOfSeveral,
    /// Several languages have all the names, and mean different months by them.
    NamesDiffer(Difference),
    /// The analyst has said where the values were written, and nothing speaks against it.
    Claimed {
        /// Where.
        locale: Locale,
        /// The order of dates there.
        order: Order,
    },
    /// The analyst has said where the values were written, but some cannot have its order.
    Contradicted {
        /// Where.
        locale: Locale,
        /// The order of dates there.
        order: Order,
        /// Values that only another order fits.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// The analyst has said where the values were written, but they are of another language.
    OtherLanguage {
        /// Where.
        locale: Locale,
        /// Values that are dates in another language.
        rows: u64,
        /// The first of them.
        lowest: Witness,
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
        order: Order,
    },
    /// Known answers, and values that only another order fits.
    AnswersContradicted {
        /// The answers.
        answers: Vec<Answer>,
        /// How many values.
        rows: u64,
        /// The first of them.
        lowest: Witness,
    },
    /// A known answer that no reading gives.
    NothingGives {
        /// The answer.
        answer: Answer,
        /// What each order gives.
        gives: Vec<(Order, Option<Moment>)>,
    },
    /// A known answer for a value that is written as none of the column is.
    AnswerElsewhere(Answer),
    /// The analyst has said so.
    GivenOrder(Order),
    /// The analyst has given layouts.
    GivenLayouts(Vec<Layout>),
    /// Rows that do not fit what the analyst gave, but would fit otherwise.
    WouldFit {
        /// How many.
        rows: u64,
        /// The first of them, where it is known.
        lowest: Option<Witness>,
    },
    /// Rows that the given layouts take for different moments.
    LayoutsDisagree {
        /// How many.
        rows: u64,
        /// The first of them.
        lowest: Option<Witness>,
    },
    /// Rows of another kind than the column.
    OtherKind {
        /// Their kind.
        kind: Kind,
        /// How many.
        rows: u64,
    },
    /// Numbers are counted by an epoch because they are then the days of another column.
    CountedBeside {
        /// The epoch.
        epoch: Epoch,
        /// How many.
        rows: u64,
        /// The other column.
        column: String,
        /// Rows in which both are the same day, and all that have both.
        same: (u64, u64),
    },
    /// An abbreviation of a zone has several meanings.
    UnclearAbbreviation {
        /// The abbreviation.
        name: Abbreviation,
        /// Rows in which it has.
        rows: u64,
    },
    /// An abbreviation of one season stands beside dates of the other.
    OutOfSeason {
        /// The abbreviation.
        name: Abbreviation,
        /// A place where it is used in its season only.
        place: &'static str,
        /// How many.
        rows: u64,
        /// All rows that have it.
        of: u64,
    },
    /// Offsets change as the clocks of these zones do.
    SeasonalOffsets {
        /// The offsets, in seconds.
        offsets: Vec<i32>,
        /// The zones.
        zones: Vec<Zone>,
    },
    /// The clock goes back where the clocks of these zones were put back.
    PutBack {
        /// The first row that goes back.
        back: Back,
        /// How many do.
        rows: u64,
        /// The zones.
        zones: Vec<Zone>,
    },
    /// Clock times were read where somebody has said that the clocks stood.
    PlacedBy(Zoning),
    /// More written forms than are told apart.
    ManyShapes {
        /// Rows whose form was not looked at any closer.
        rows: u64,
    },
}
