//! The names of a table's columns.

use std::collections::{HashMap, HashSet};

use crate::delimited::Record;

/// The columns of a table. Every column has a name of its own, by which it is called.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Header {
    /// The names, from left to right.
    pub names: Vec<String>,
    /// Columns that had no name, or one that was taken, with what the file calls them.
    pub renamed: Vec<(String, String)>,
}

impl Header {
    /// The names in the first record of a table: `column_3` for an empty one, `seen_2` for the
    /// second `seen`.
    pub fn of(record: &Record<'_>) -> Header {
        let mut buffer = String::new();
        let names = (0..record.field_count())
            .map(|index| record.value(index, &mut buffer).trim().to_owned())
            .collect();
        Header::named(names)
    }

    /// These names, each made its own.
    pub fn named(written: Vec<String>) -> Header {
        let all: HashSet<&str> = written.iter().map(String::as_str).collect();
        let mut taken: HashSet<String> = HashSet::new();
        // Where the numbers of a name go on, so that thousands of equal names take no longer.
        let mut numbers: HashMap<&str, usize> = HashMap::new();
        let mut names: Vec<String> = Vec::with_capacity(written.len());
        let mut renamed = Vec::new();
        for (index, own) in written.iter().enumerate() {
            let by_place = || format!("column_{}", index + 1);
            let wanted = if own.is_empty() { by_place() } else { own.clone() };
            let is_free =
                |name: &str| !taken.contains(name) && (name == own || !all.contains(name));
            let number = numbers.entry(own).or_insert(1);
            let mut name = wanted.clone();
            while !is_free(&name) {
                *number += 1;
                name = format!("{wanted}_{number}");
            }
            if name != *own {
                renamed.push((own.clone(), name.clone()));
            }
            taken.insert(name.clone());
            names.push(name);
        }
        Header { names, renamed }
    }

    /// Names for columns without a header: `column_1` and so on.
    ///
    /// ```
    /// use metachron_tables::header::Header;
    /// assert_eq!(Header::numbered(2).names, ["column_1", "column_2"]);
    /// ```
    pub fn numbered(width: usize) -> Header {
        let names = (1..=width).map(|number| format!("column_{number}")).collect();
        Header { names, renamed: Vec::new() }
    }

    /// Where columns stand that the file gives no name.
    pub fn unnamed(&self) -> Vec<usize> {
        let nameless = self.renamed.iter().filter(|(written, _)| written.is_empty());
        let nameless: HashSet<&str> = nameless.map(|(_, name)| name.as_str()).collect();
        let columns = self.names.iter().enumerate();
        columns.filter(|(_, name)| nameless.contains(name.as_str())).map(|(at, _)| at).collect()
    }

    /// Where a column stands.
    ///
    /// ```
    /// use metachron_tables::header::Header;
    /// assert_eq!(Header::numbered(2).position("column_2"), Some(1));
    /// ```
    pub fn position(&self, name: &str) -> Option<usize> {
        self.names.iter().position(|other| other == name)
    }
}

/// The name itself, or with the first number that makes it free.
///
/// ```
/// use metachron_tables::header::free_name;
/// assert_eq!(free_name("seen_typed", |name| name == "seen_typed"), "seen_typed_2");
/// ```
pub fn free_name(wanted: &str, taken: impl Fn(&str) -> bool) -> String {
    let mut name = wanted.to_owned();
    let mut number = 2;
    while taken(&name) {
        name = format!("{wanted}_{number}");
        number += 1;
    }
    name
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::delimited::RecordReader;
    use crate::dialect::Delimiter;

    #[test]
    fn every_column_has_a_name_of_its_own() {
        let line = b"seen,,seen,seen_2,\" ring \",seen\n";
        let mut records = RecordReader::new(&line[..], Delimiter::Comma);
        let header = Header::of(&records.next_record().unwrap().unwrap());
        assert_eq!(header.names, ["seen", "column_2", "seen_3", "seen_2", "ring", "seen_4"]);
        assert_eq!(header.renamed.len(), 3);
        assert_eq!(header.position("seen_2"), Some(3));
        assert_eq!(header.unnamed(), [1]);
    }
}
