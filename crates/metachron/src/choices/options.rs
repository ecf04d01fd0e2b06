//! Which option of the command line says what a key of a column says.

/// The keys of a column in a readings file, each with the option that says the same of a column, if one does.
pub const COLUMN_KEYS: [(&str, Option<&str>); 30] = [
    ("into", Some("into")),
    ("kind", Some("kind")),
    ("unit", Some("unit")),
    ("verdict", None),
    ("accepted", None),
    ("convert", None),
    ("written_in", Some("written-in")),
    ("order", Some("order")),
    ("layouts", Some("layout")),
    ("known", Some("known")),
    ("two_digit_from", Some("two-digit-from")),
    ("calendar", Some("calendar")),
    ("reform", Some("reform")),
    ("year", Some("year")),
    ("anchor", Some("anchor")),
    ("repair", Some("repair")),
    ("epoch", Some("epoch")),
    ("otherwise", None),
    ("contested", Some("contested")),
    // The option of this name speaks of the whole file.
    ("missing", None),
    ("zone", Some("zone")),
    ("zone_from", Some("zone-from")),
    ("zones", None),
    ("skipped_clock", Some("skipped-clock")),
    ("repeated_clock", Some("repeated-clock")),
    ("offset_wins", Some("offset-wins")),
    ("abbreviations", Some("abbreviation")),
    ("sequence_by", Some("sequence-by")),
    ("require", Some("require")),
    ("allow", None),
];

/// What may be said of the whole file as well, where no column is named.
pub const OF_FILE: [&str; 7] = [
    "two_digit_from",
    "written_in",
    "skipped_clock",
    "repeated_clock",
    "offset_wins",
    "abbreviations",
    "sequence_by",
];

/// The option that says what a key says, without its dashes.
pub fn option_for(key: &str) -> Option<&'static str> {
    COLUMN_KEYS.iter().find(|(own, _)| *own == key).and_then(|(_, option)| *option)
}

/// The same as it is called in messages; keys that are not a column's have options of their name.
pub fn option_of(key: &str) -> String {
    option_for(key).map_or_else(|| format!("--{}", key.replace('_', "-")), |own| format!("--{own}"))
}

/// The options that say something of a column.
pub fn column_options() -> impl Iterator<Item = &'static str> {
    COLUMN_KEYS.iter().filter_map(|(_, option)| *option)
}
