//! Written variants that CLDR lacks, each with the reason why it may be read so.

use crate::blob::Code;

/// Language, meaning, variant.
pub const VARIANTS: &[(&str, Code, &str)] = &[
    // English: usual four-letter abbreviations beside CLDR's `Sep`, `Tue`, `Thu`.
    ("en", Code::MonthShort(9), "Sept"),
    ("en", Code::WeekdayShort(2), "Tues"),
    ("en", Code::WeekdayShort(4), "Thur"),
    ("en", Code::WeekdayShort(4), "Thurs"),
    ("en", Code::Am, "a.m"),
    ("en", Code::Pm, "p.m"),
    ("en", Code::Ordinal, "st"),
    ("en", Code::Ordinal, "nd"),
    ("en", Code::Ordinal, "rd"),
    ("en", Code::Ordinal, "th"),
    ("en", Code::Bce, "BC"),
    ("en", Code::Ce, "AD"),
    ("en", Code::Bce, "BCE"),
    ("en", Code::Ce, "CE"),
    // French: the first of a month.
    ("fr", Code::Ordinal, "er"),
    // German: month names of three letters, as instruments and old exports cut them.
    ("de", Code::MonthShort(3), "Mrz"),
    ("de", Code::MonthShort(6), "Jun"),
    ("de", Code::MonthShort(7), "Jul"),
    ("de", Code::MonthShort(9), "Sep"),
    // Austrian and Bavarian for January and February.
    ("de", Code::MonthFull(1), "Jänner"),
    ("de", Code::MonthFull(2), "Feber"),
    // Spanish: `setiembre` is as right as `septiembre` (both in the academy's dictionary).
    ("es", Code::MonthFull(9), "setiembre"),
    ("es", Code::MonthShort(9), "set"),
    ("es", Code::MonthShort(9), "sep"),
    ("es", Code::MonthShort(9), "sept"),
    // Italian, Portuguese: abbreviations of three letters.
    ("pt", Code::MonthShort(9), "set"),
    ("it", Code::MonthShort(9), "sett"),
    // Dutch, Danish, Norwegian, Swedish: cut to three letters, or written out to four.
    ("nl", Code::MonthShort(3), "mar"),
    ("da", Code::MonthShort(9), "sept"),
    ("nb", Code::MonthShort(9), "sept"),
    ("sv", Code::MonthShort(9), "sep"),
    // Polish: abbreviations of the short months' genitives.
    ("pl", Code::MonthShort(5), "maj"),
];

/// Words between the fields of dates that the patterns of CLDR lack: `5 of March`.
pub const CONNECTORS: &[&str] = &["of"];
