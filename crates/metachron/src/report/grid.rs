//! Aligned columns of text, and paragraphs that keep within a width.

use unicode_width::UnicodeWidthStr;

/// Blocks of one to eight eighths of a line.
pub const EIGHTHS: [char; 8] = ['▁', '▂', '▃', '▄', '▅', '▆', '▇', '█'];

/// Rows of cells; a cell may be painted without changing its width.
#[derive(Debug)]
pub struct Grid {
    /// Whether the first row has the titles of the columns.
    has_heading: bool,
    /// Whether each column holds numbers, which are aligned on the right.
    numbers: Vec<bool>,
    rows: Vec<Vec<GridCell>>,
}

#[derive(Debug, Clone, Default)]
struct GridCell {
    text: String,
    painted: Option<String>,
}

impl Grid {
    /// A grid with a heading.
    pub fn new(heading: &[&str]) -> Grid {
        let mut grid = Grid { has_heading: true, ..Grid::plain(heading.len()) };
        grid.push(heading.iter().map(|title| (*title).to_owned()).collect());
        grid
    }

    /// A grid of so many columns without a heading.
    pub fn plain(columns: usize) -> Grid {
        Grid { has_heading: false, numbers: vec![false; columns], rows: Vec::new() }
    }

    /// The same with numbers in the columns of these titles.
    pub fn numbers(mut self, titles: &[&str]) -> Grid {
        for (cell, is_number) in self.rows.iter().flatten().zip(&mut self.numbers) {
            *is_number = titles.contains(&cell.text.as_str());
        }
        self
    }

    /// Adds a row.
    pub fn push(&mut self, cells: Vec<String>) {
        let cells = cells.into_iter().map(|text| GridCell { text, painted: None });
        self.rows.push(cells.collect());
    }

    /// Shows a cell of the last row like this; it takes as much room as its text.
    pub fn paint(&mut self, column: usize, painted: String) {
        if let Some(cell) = self.rows.last_mut().and_then(|row| row.get_mut(column)) {
            cell.painted = Some(painted);
        }
    }

    /// Adds a column on the right.
    pub fn push_column(&mut self, title: &str, cells: impl IntoIterator<Item = String>) {
        let texts = std::iter::once(title.to_owned()).chain(cells);
        let cells = texts.map(|text| GridCell { text, painted: None });
        self.rows.iter_mut().zip(cells).for_each(|(row, cell)| row.push(cell));
        self.numbers.push(false);
    }

    /// The same without columns of numbers that are nothing but zeros, for where there is little room; the column of
    /// this title stays.
    pub fn without_zeros(self, kept: &str) -> Grid {
        let is_zero = |column: usize| {
            let text = |row: &'_ Vec<GridCell>| row.get(column).map(|own| own.text.clone());
            let mut texts = self.rows.iter().filter_map(text);
            let title = texts.next();
            self.numbers[column]
                && title.as_deref() != Some(kept)
                && texts.all(|own| matches!(own.as_str(), "" | "0"))
        };
        let order: Vec<usize> = (0..self.numbers.len()).filter(|at| !is_zero(*at)).collect();
        self.of_columns(&order)
    }

    /// The same with the column of this title behind all others.
    pub fn with_last(self, title: &str) -> Grid {
        let is_it = |at: &usize| {
            self.rows.first().and_then(|row| row.get(*at)).is_some_and(|own| own.text == title)
        };
        let (last, mut order): (Vec<usize>, Vec<usize>) = (0..self.numbers.len()).partition(is_it);
        order.extend(last);
        self.of_columns(&order)
    }

    fn of_columns(self, order: &[usize]) -> Grid {
        // A row may end with its last filled cell.
        let cell = |row: &Vec<GridCell>, at: usize| row.get(at).cloned().unwrap_or_default();
        let cells = |row: &Vec<GridCell>| order.iter().map(|at| cell(row, *at)).collect();
        Grid {
            rows: self.rows.iter().map(cells).collect(),
            numbers: order.iter().map(|at| self.numbers[*at]).collect(),
            ..self
        }
    }

    /// How many columns there are.
    pub fn columns(&self) -> usize {
        self.numbers.len()
    }

    /// The width that the first so many columns need, with the space behind each.
    pub fn needs(&self, columns: usize) -> usize {
        let widths = (0..columns).map(|column| self.width(column));
        widths.filter(|width| *width > 0).map(|width| width + 2).sum()
    }

    /// The width that a column needs.
    fn width(&self, column: usize) -> usize {
        self.rows
            .iter()
            .filter_map(|row| row.get(column))
            .map(|c| c.text.width())
            .max()
            .unwrap_or(0)
    }

    /// Writes the rows, each after `indent` spaces; the column `flexible` is cut to fit.
    pub fn write(&self, out: &mut String, indent: usize, width: usize, flexible: Option<usize>) {
        let mut widths: Vec<usize> = (0..self.numbers.len()).map(|c| self.width(c)).collect();
        if let Some(flexible) = flexible {
            let others: usize =
                widths.iter().enumerate().filter(|(c, _)| *c != flexible).map(|(_, w)| w + 2).sum();
            widths[flexible] = widths[flexible].min(width.saturating_sub(indent + others).max(12));
        }
        for row in &self.rows {
            let mut line = " ".repeat(indent);
            for (column, cell) in row.iter().enumerate() {
                // A column that nobody fills takes no room.
                if widths[column] == 0 && cell.painted.is_none() {
                    continue;
                }
                let text = cut(&cell.text, widths[column]);
                let room = " ".repeat(widths[column] - text.width());
                let shown = cell.painted.clone().unwrap_or(text);
                match self.numbers[column] {
                    true => line.push_str(&format!("{room}{shown}")),
                    false => line.push_str(&format!("{shown}{room}")),
                }
                line.push_str("  ");
            }
            out.push_str(line.trim_end());
            out.push('\n');
        }
    }
}

impl Grid {
    /// Writes the rows, each after `indent` spaces; the text of the last column goes on in further lines where it does
    /// not fit, and stands below each row where there is no room for it beside the others.
    pub fn write_wrapped(&self, out: &mut String, indent: usize, width: usize) {
        const LEAST: usize = 16;
        let last = self.numbers.len().saturating_sub(1);
        let used = self.needs(last);
        let room = width.saturating_sub(indent + used);
        let texts = self.rows.iter().filter_map(|row| row.get(last)).map(|own| own.text.as_str());
        let longest = texts.flat_map(|own| own.split(' ')).map(str::width).max();
        if self.width(last) > room && (room < LEAST || longest > Some(room)) {
            return self.write_below(out, indent, width);
        }
        let mut wrapped = Grid { rows: Vec::new(), numbers: self.numbers.clone(), ..*self };
        for row in &self.rows {
            let mut lines =
                row.get(last).map_or(Vec::new(), |cell| wrap(&cell.text, room)).into_iter();
            let mut first = row.clone();
            if let (Some(cell), Some(line)) = (first.get_mut(last), lines.next()) {
                cell.text = line;
            }
            wrapped.rows.push(first);
            for line in lines {
                let mut more = vec![String::new(); last];
                more.push(line);
                wrapped.push(more);
            }
        }
        wrapped.write(out, indent, usize::MAX, None);
    }

    /// Writes the rows, and the text of the last column below each of them.
    fn write_below(&self, out: &mut String, indent: usize, width: usize) {
        let last = self.numbers.len().saturating_sub(1);
        let first = |row: &Vec<GridCell>| row.iter().take(last).cloned().collect();
        let numbers = self.numbers[..last].to_vec();
        let grid = Grid { rows: self.rows.iter().map(first).collect(), numbers, ..*self };
        let mut lines = String::new();
        grid.write(&mut lines, indent, width, None);
        for (at, (line, row)) in lines.lines().zip(&self.rows).enumerate() {
            if !line.trim().is_empty() {
                out.push_str(line);
                out.push('\n');
            }
            // A title of what stands below has no place.
            let text =
                row.get(last).filter(|own| !own.text.is_empty() && (at > 0 || !self.has_heading));
            if let Some(cell) = text {
                let indent = indent + 2;
                for line in wrap(&cell.text, width.saturating_sub(indent)) {
                    out.push_str(&format!("{}{line}\n", " ".repeat(indent)));
                }
            }
        }
    }
}

/// The text in lines of at most `width`, cut between words; a longer word stands alone.
fn wrap(text: &str, width: usize) -> Vec<String> {
    let mut lines: Vec<String> = vec![String::new()];
    for word in text.split(' ') {
        match lines.last_mut() {
            Some(line) if line.is_empty() => line.push_str(word),
            Some(line) if line.width() + 1 + word.width() <= width => {
                line.push(' ');
                line.push_str(word);
            }
            _ => lines.push(word.to_owned()),
        }
    }
    lines
}

/// The text, or its beginning with an ellipsis.
pub fn cut(text: &str, width: usize) -> String {
    if text.width() <= width {
        return text.to_owned();
    }
    let mut short = String::new();
    for c in text.chars() {
        if short.width() + c.to_string().width() + 1 > width {
            break;
        }
        short.push(c);
    }
    short.push('…');
    short
}

/// Longer lines are hard to follow.
const READABLE: usize = 140;

/// Writes a text in lines of at most `width`, each after `indent` spaces, the first after `lead`.
pub fn paragraph(out: &mut String, lead: &str, indent: usize, text: &str, width: usize) {
    let width = width.min(READABLE);
    let mut line = lead.to_owned();
    let mut filled = indent;
    for word in text.split(' ') {
        if filled > indent && filled + 1 + word.width() > width {
            out.push_str(line.trim_end());
            out.push('\n');
            line = " ".repeat(indent);
            filled = indent;
        }
        if filled > indent {
            line.push(' ');
            filled += 1;
        }
        line.push_str(word);
        filled += word.width();
    }
    out.push_str(line.trim_end());
    out.push('\n');
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_line_up_whatever_they_hold() {
        let mut grid = Grid::new(&["name", "rows"]).numbers(&["rows"]);
        grid.push(vec!["星崎".into(), "1,204".into()]);
        grid.push(vec!["seen".into(), "7".into()]);
        grid.paint(0, "\u{1b}[1mseen\u{1b}[0m".into());
        let mut out = String::new();
        grid.write(&mut out, 2, 80, None);
        assert_eq!(out, "  name   rows\n  星崎  1,204\n  \u{1b}[1mseen\u{1b}[0m      7\n");
    }

    #[test]
    fn the_flexible_column_gives_way() {
        let mut grid = Grid::new(&["read by", "rows"]).numbers(&["rows"]);
        grid.push(vec!["{day}/{month}/{year} {hour}:{minute}".into(), "7".into()]);
        let mut out = String::new();
        grid.write(&mut out, 0, 24, Some(0));
        assert_eq!(out, "read by             rows\n{day}/{month}/{ye…     7\n");
    }

    #[test]
    fn what_has_no_room_beside_stands_below_and_zeros_nowhere() {
        let mut grid = Grid::new(&["name", "read by", "read", "open", "rows"])
            .numbers(&["read", "open", "rows"]);
        let layouts = "{day}/{month}/{year} or {month}/{day}/{year}";
        for (name, by, rows) in [("seen", layouts, "7"), ("ring", "", "")] {
            grid.push([name, by, "0", "0", rows].map(str::to_owned).into());
        }
        let grid = grid.without_zeros("read").with_last("read by");
        let (mut below, mut beside) = (String::new(), String::new());
        grid.write_wrapped(&mut below, 2, 36);
        grid.write_wrapped(&mut beside, 2, 52);
        assert_eq!(
            below,
            "  name  read  rows\n  seen     0     7\n    {day}/{month}/{year} or\n    {month}/{day}/{year}\n  ring     0\n"
        );
        assert_eq!(
            beside,
            "  name  read  rows  read by\n  seen     0     7  {day}/{month}/{year} or\n                    \
             {month}/{day}/{year}\n  ring     0\n"
        );
    }

    #[test]
    fn paragraphs_keep_within_the_width() {
        let mut out = String::new();
        paragraph(&mut out, "seen  ", 6, "one two three four", 14);
        assert_eq!(out, "seen  one two\n      three\n      four\n");
    }
}
