//! Where a table begins among titles, and where it ends among totals.

/// Where the header stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum WantedHeader {
    /// It is found out.
    #[default]
    Unsaid,
    /// In the first line behind so many.
    Behind(u64),
    /// In this line.
    Line(u64),
    /// There is none: rows begin behind so many lines.
    None(u64),
}

/// A record as it is looked at: its cells, trimmed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FrameRecord {
    /// The line where it begins.
    pub line: u64,
    /// The cells.
    pub cells: Vec<String>,
}

impl FrameRecord {
    /// Whether no cell holds anything and there is only one.
    pub fn is_blank(&self) -> bool {
        matches!(&self.cells[..], [only] if only.is_empty())
    }

    fn filled(&self) -> usize {
        self.cells.iter().filter(|cell| !cell.is_empty()).count()
    }
}

/// How well records make a table.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct TableFit {
    /// Lines before the header.
    pub lines_before: u64,
    /// Better fits have higher scores.
    pub score: (usize, usize),
}

/// Finds the header: the first record of the usual width whose cells are mostly filled and are
/// names, different from each other. None if the records make no table of several columns.
pub fn fit(records: &[FrameRecord]) -> Option<TableFit> {
    let filled: Vec<&FrameRecord> = records.iter().filter(|record| !record.is_blank()).collect();
    let width = usual_width(&filled)?;
    let usual: Vec<&FrameRecord> =
        filled.iter().copied().filter(|r| r.cells.len() == width).collect();
    let needed = (median(usual.iter().map(|record| record.filled())) * 3).div_ceil(5).max(2);
    let mut wide = usual.iter().copied().filter(|record| record.filled() >= needed);
    let first = filled.first()?;
    let (header, widths_needed) = match wide.clone().next() {
        // Whatever stands in the first line is the header if it is as wide as the rest.
        Some(header) if header.line == first.line => (header, 2),
        _ if first.filled() > 1 && first.cells.len() + 1 >= width && is_header(first) => {
            (*first, 2)
        }
        _ => (wide.find(|record| is_header(record))?, 3),
    };
    let body: Vec<&&FrameRecord> =
        filled.iter().filter(|record| record.line >= header.line).collect();
    // A ragged table still has its delimiter in half of its records; one below titles, in more.
    let cut = body.iter().filter(|record| record.cells.len() > 1).count();
    if cut * 5 < body.len() * widths_needed {
        return None;
    }
    let equal = body.iter().filter(|record| record.cells.len() == width).count();
    // Titles are no reason against a table, but a table without any is the simpler one.
    let share = equal * 1_000 / body.len() - usize::from(header.line > 1).min(equal);
    Some(TableFit { lines_before: header.line - 1, score: (share, width) })
}

/// The most frequent number of cells above one; of equally frequent ones the larger.
fn usual_width(records: &[&FrameRecord]) -> Option<usize> {
    let mut widths: Vec<usize> = records.iter().map(|record| record.cells.len()).collect();
    widths.retain(|width| *width > 1);
    widths.sort_unstable();
    widths.chunk_by(|a, b| a == b).max_by_key(|chunk| (chunk.len(), chunk[0])).map(|chunk| chunk[0])
}

fn median(numbers: impl Iterator<Item = usize>) -> usize {
    let mut numbers: Vec<usize> = numbers.collect();
    numbers.sort_unstable();
    numbers.get(numbers.len() / 2).copied().unwrap_or(0)
}

/// Whether most cells are names, and no name stands twice.
fn is_header(record: &FrameRecord) -> bool {
    let mut cells: Vec<&String> = record.cells.iter().filter(|cell| !cell.is_empty()).collect();
    let names = cells.iter().filter(|cell| is_name(cell)).count();
    let all = cells.len();
    cells.sort_unstable();
    cells.dedup();
    names * 5 >= all * 3 && cells.len() == all
}

/// Whether a cell reads as a name: it begins with a letter, digits are few, and no colon says that
/// the value follows, as in `Station: Skarholm`.
fn is_name(cell: &str) -> bool {
    let digits = cell.chars().filter(char::is_ascii_digit).count();
    cell.chars().next().is_some_and(char::is_alphabetic)
        && digits * 2 < cell.chars().count()
        && !cell.contains(": ")
        && !cell.ends_with(':')
}

/// Whether numbers are written with a comma: several are, and none with a point.
pub fn has_decimal_comma(records: &[FrameRecord]) -> bool {
    let with = |mark: char| {
        let cells = records.iter().flat_map(|record| &record.cells);
        cells.filter(|cell| is_decimal(cell, mark)).count()
    };
    with(',') >= 2 && with('.') == 0
}

fn is_decimal(cell: &str, mark: char) -> bool {
    let digits = |text: &str| !text.is_empty() && text.bytes().all(|b| b.is_ascii_digit());
    let unsigned = cell.strip_prefix('-').unwrap_or(cell);
    unsigned.split_once(mark).is_some_and(|(whole, part)| digits(whole) && digits(part))
}

/// Whether a record at the end of a table is no row: empty cells only, a single text of several
/// words or without digits where there are several columns, or a total. A single cell such as `LF7`
/// may be all that is left of a row.
pub fn is_footer<'c>(cells: impl Iterator<Item = &'c str>, width: usize) -> bool {
    let cells: Vec<&str> = cells.collect();
    let filled: Vec<&str> =
        cells.iter().map(|cell| cell.trim()).filter(|c| !c.is_empty()).collect();
    match filled[..] {
        [] => width > 1,
        [text] if cells.len() == 1 => width > 1 && is_closing(text),
        [first, ..] => width > 1 && filled.len() < width && is_total(first),
    }
}

/// Whether a text that stands alone reads as closing words.
pub fn is_closing(text: &str) -> bool {
    text.contains(char::is_whitespace) || !text.contains(|c: char| c.is_ascii_digit())
}

/// Words that begin a line of totals, in lower case.
const TOTALS: [&str; 22] = [
    "total",
    "totals",
    "grand total",
    "subtotal",
    "sum",
    "summe",
    "gesamt",
    "gesamtsumme",
    "insgesamt",
    "somme",
    "total général",
    "totaal",
    "totale",
    "suma",
    "soma",
    "summa",
    "sammanlagt",
    "yhteensä",
    "razem",
    "итого",
    "合計",
    "总计",
];

/// Bytes of the longest of them, and a few more.
const LONGEST_TOTAL: usize = 20;

/// Whether a cell begins a line of totals.
pub fn is_total(cell: &str) -> bool {
    let word = cell.trim_end_matches([':', '.', ' ']);
    let may_be = word.len() <= LONGEST_TOTAL && !word.bytes().any(|byte| byte.is_ascii_digit());
    may_be && TOTALS.contains(&word.to_lowercase().as_str())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn lines(text: &str) -> Vec<FrameRecord> {
        text.lines()
            .zip(1..)
            .map(|(line, number)| FrameRecord {
                line: number,
                cells: line.split(';').map(|cell| cell.trim().to_owned()).collect(),
            })
            .collect()
    }

    #[test]
    fn the_header_stands_below_the_titles() {
        for (text, before) in [
            ("ring;seen\n1;2\n3;4", Some(0)),
            ("Stations report\n\nring;seen\n1;2\n3;4", Some(2)),
            ("Stations report;;\nPrinted;12.03.2024;\n;;\nring;seen;weight\n1;2;3\n3;4;5", Some(3)),
            ("2024;2025\n1;2\n3;4", Some(0)),
            ("Flyway\n1;2\n3;4", None),
            ("only\none\ncolumn", None),
            ("a;b;c\n1;2;3;4\n1;2;3;4", Some(0)),
            ("Station: Skarholm;Net: 4\nring;seen;weight\n1;2;3\n1;2;3\n1;2;3", Some(1)),
        ] {
            assert_eq!(fit(&lines(text)).map(|fit| fit.lines_before), before, "{text:?}");
        }
    }

    #[test]
    fn footers() {
        for (text, width, footer) in [
            (";;", 3, true),
            ("end of report 7", 3, true),
            ("Ende", 3, true),
            ("LF7", 3, false),
            ("Total:;;12", 3, true),
            ("Total:;1;12", 3, false),
            ("LF1;;", 3, false),
            ("LF1;2;3", 3, false),
            ("13/04/2024", 1, false),
            ("", 1, false),
        ] {
            assert_eq!(is_footer(text.split(';'), width), footer, "{text:?}");
        }
    }
}
