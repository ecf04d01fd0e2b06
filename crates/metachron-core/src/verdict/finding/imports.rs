//! What an earlier import did.

/// A column of a table, or a file of several, in which an import exchanged day and month.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Harmed {
    /// Its name.
    pub name: String,
    /// Whether it is beyond doubt, and does not just seem so.
    pub is_certain: bool,
}

/// What an earlier import did.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum ImportFinding {
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
        /// It is so many times likelier that an import did it: ten to the power of this.
        power: u32,
    },
    /// Days and months of so many dates that a program wrote are exchanged back, because the analyst says so.
    Exchanged(u64),
    /// All dates lie in one year or two, and their days are a short run of numbers that years have.
    MonthYear {
        /// The first year and the last.
        years: (i16, i16),
        /// The first day and the last.
        days: (i16, i16),
        /// Different months that were left as text, all with a year that is no day; none where the
        /// days alone tell.
        texts: usize,
        /// It is so many times likelier that they are years: ten to the power of this.
        power: u32,
    },
    /// What programs have written in one form has no day above 12, and other values have.
    FormWithoutLateDays {
        /// Its different dates.
        dates: u64,
        /// An honest form is so once in ten to the power of this.
        power: u32,
    },
    /// No date has a day above 12: they may be what is left of an import that took days for months.
    NoLateDays {
        /// Different dates.
        dates: u64,
        /// Rows without a value.
        missing: u64,
        /// Honest dates have none by chance: once in ten to the power of this.
        power: u32,
    },
    /// The import has exchanged day and month in another column of the table, or seems to have.
    HarmedBeside(Harmed),
    /// The import has exchanged day and month in one of the files that were put together, or seems to have.
    HarmedPart(Harmed),
    /// There is nothing that an import could have exchanged.
    NothingToRepair,
    /// So many different dates have a day above 12, where all are said to be exchanged.
    NotExchanged(u64),
    /// Days of so many dates that a program wrote are the years of months, because the analyst says so.
    YearsFromDays(u64),
}
