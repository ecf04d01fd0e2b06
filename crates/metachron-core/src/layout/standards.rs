//! Written forms that a standard gives a name to.

/// A standard's layout under its name.
#[derive(Debug, PartialEq, Eq)]
pub struct Standard {
    /// The name that may be used in place of a layout.
    pub name: &'static str,
    /// What it stands for, in our notation.
    pub layout: &'static str,
    /// Where it is laid down.
    pub source: &'static str,
}

/// All standards, sorted by name.
pub static STANDARDS: [Standard; 2] = [
    Standard {
        name: "common-log",
        layout: "{day:02}/{month:short}/{year}:{hour:02}:{minute:02}:{second:02} {offset:basic}",
        source: "W3C httpd, Logging Control, Common Logfile Format, date",
    },
    Standard {
        name: "rfc-3339",
        layout: "{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}[.{fraction}]{offset:colon}",
        source: "RFC 3339, section 5.6, date-time",
    },
];

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::Layout;

    #[test]
    fn standards_are_sorted_unique_and_usable() {
        assert!(STANDARDS.is_sorted_by(|a, b| a.name < b.name));
        for standard in &STANDARDS {
            let named = Layout::parse(standard.name).unwrap();
            let spelled = Layout::parse(standard.layout).unwrap();
            assert_eq!(named.to_string(), standard.name);
            assert_eq!(named.kind(), spelled.kind());
            assert_eq!(named.alternatives(), spelled.alternatives());
        }
    }
}
