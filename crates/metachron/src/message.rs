//! What we say when something does not work: what and where, and what to do next.

use std::borrow::Cow;
use std::fmt::Display;
use std::io::{self, Write};
use std::path::Path;
use std::process::ExitCode;
use std::sync::OnceLock;

use metachron_tables::address::concealed;
use metachron_tables::error::TableError;

use crate::exit::Exit;
use crate::words::{unreadable_table, unwritten};

/// The end of a run that did not do what was asked.
#[derive(Debug)]
pub struct Failure {
    exit: Exit,
    /// Nothing is said where the reader of our output has gone.
    text: Option<String>,
}

impl Failure {
    /// Wrong usage: what is wrong, and what would be right.
    pub fn usage(text: impl Display) -> Failure {
        Failure { exit: Exit::Usage, text: Some(text.to_string()) }
    }

    /// Something that could not be done.
    pub fn could_not(text: impl Display) -> Failure {
        Failure { exit: Exit::CouldNot, text: Some(text.to_string()) }
    }

    /// A decision that only a person can make.
    pub fn question(text: impl Display) -> Failure {
        Failure { exit: Exit::Question, text: Some(text.to_string()) }
    }

    /// An input that cannot be read.
    pub fn reading(path: &Path, error: &TableError) -> Failure {
        Failure::could_not(format!("{}: {}", shown(path), unreadable_table(error)))
    }

    /// An output that cannot be written. If its reader has gone, the run ends quietly.
    pub fn writing(path: &Path, error: &io::Error) -> Failure {
        if error.kind() == io::ErrorKind::BrokenPipe {
            return Failure { exit: Exit::Done, text: None };
        }
        let why = unwritten(error);
        Failure::could_not(format!("cannot write {}: {why}", shown_output(path)))
    }

    /// Rows that do not fit into memory and cannot be sorted on disk.
    pub fn sorting(error: io::Error) -> Failure {
        Failure::could_not(format!("rows cannot be sorted: {}", unwritten(&error)))
    }

    /// Whether both say the same.
    pub fn says_as(&self, other: &Failure) -> bool {
        self.text == other.text
    }

    /// Says it on standard error.
    pub fn report(self) -> ExitCode {
        if let Some(text) = &self.text {
            say(&format!("metachron: {text}"));
        }
        self.exit.into()
    }
}

/// A new column cannot be called so.
pub fn name_is_taken(option: &str, name: &str) -> Failure {
    Failure::usage(format!("{option} {}: there is a column of that name", quoted(name)))
}

/// Says something on standard error. If nobody listens there, that is no reason to fail.
pub fn say(text: &str) {
    let _ = writeln!(io::stderr(), "{}", leaving(text));
}

/// Whether the terminal has ASCII alone.
static IN_ASCII: OnceLock<bool> = OnceLock::new();

/// Says once, at the beginning, whether the terminal has ASCII alone.
pub fn shows_ascii(is_so: bool) {
    let _ = IN_ASCII.set(is_so);
}

/// Our own signs in ASCII where the terminal has no others; each takes as much room as before. Command lines stay as they
/// are, to be pasted.
fn shown_as_possible(text: &str) -> Cow<'_, str> {
    match IN_ASCII.get() {
        Some(true) => Cow::Owned(in_ascii(text)),
        _ => Cow::Borrowed(text),
    }
}

fn in_ascii(text: &str) -> String {
    const SIGNS: [(char, char); 18] = [
        ('→', '>'),
        ('…', '~'),
        ('‹', '<'),
        ('›', '>'),
        ('·', '.'),
        ('•', 'o'),
        ('─', '-'),
        ('┬', '+'),
        ('▁', '_'),
        ('▂', '.'),
        ('▃', '-'),
        ('▄', '='),
        ('▅', '+'),
        ('▆', '*'),
        ('▇', '%'),
        ('█', '#'),
        ('▖', '-'),
        ('–', '-'),
    ];
    let sign = |c: char| SIGNS.iter().find(|(own, _)| *own == c).map_or(c, |(_, plain)| *plain);
    let lines =
        text.split_inclusive('\n').map(|line| match line.trim_start().starts_with("metachron ") {
            true => line.to_owned(),
            false => line.chars().map(sign).collect(),
        });
    lines.collect()
}

/// Whether a character is not seen where it stands, or moves what is: control characters, those that turn the direction
/// of writing (Unicode Standard Annex 9), those of no width, and tags.
pub fn is_hidden(c: char) -> bool {
    c.is_control()
        || matches!(c,
            '\u{AD}' | '\u{61C}' | '\u{180E}' | '\u{200B}'..='\u{200F}' | '\u{2028}'..='\u{202E}'
            | '\u{2060}'..='\u{206F}' | '\u{FEFF}' | '\u{FFF9}'..='\u{FFFB}' | '\u{E0000}'..='\u{E007F}')
}

/// Text from outside as it can be shown in a terminal: what is hidden is escaped.
pub fn plain(text: &str) -> String {
    let mut shown = String::with_capacity(text.len());
    let mut before = ' ';
    for c in text.chars() {
        // Some scripts write words with joiners between their letters.
        let joins =
            matches!(c, '\u{200C}' | '\u{200D}') && before.is_alphabetic() && !before.is_ascii();
        match is_hidden(c) && !joins {
            true => shown.extend(c.escape_unicode()),
            false => shown.push(c),
        }
        before = c;
    }
    shown
}

/// A page or a message as it leaves for a terminal, whatever it was put together from: what is hidden is escaped but for
/// ends of lines and our own styles, and signs are those that the terminal has.
pub fn leaving(text: &str) -> String {
    let mut lines = Vec::new();
    for line in text.split('\n') {
        // A style is an escape, a bracket, digits and an m (ECMA-48, 8.3.117).
        let mut pieces = line.split('\u{1b}');
        let mut shown = plain(pieces.next().unwrap_or_default());
        for piece in pieces {
            let style = piece.strip_prefix('[').and_then(|rest| rest.split_once('m'));
            match style.filter(|(code, _)| code.bytes().all(|byte| byte.is_ascii_digit())) {
                Some((code, rest)) => shown += &format!("\u{1b}[{code}m{}", plain(rest)),
                None => shown += &plain(&format!("\u{1b}{piece}")),
            }
        }
        lines.push(shown);
    }
    shown_as_possible(&lines.join("\n")).into_owned()
}

/// A raw value in quotation marks, escaped and not too long.
pub fn quoted(value: &str) -> String {
    const LONGEST: usize = 60;
    if value.chars().count() <= LONGEST {
        return format!("\"{}\"", plain(&value.replace('"', "\\\"")));
    }
    let begin: String = value.chars().take(LONGEST).collect();
    format!("\"{}…\"", plain(&begin.replace('"', "\\\"")))
}

/// A path as it is called in messages.
pub fn shown(path: &Path) -> String {
    match path.to_str() {
        Some("-") => "standard input".to_owned(),
        _ => plain(&concealed(&path.to_string_lossy())),
    }
}

/// An output's path as it is called in messages.
pub fn shown_output(path: &Path) -> String {
    match path.to_str() {
        Some("-") => "standard output".to_owned(),
        _ => shown(path),
    }
}

/// A text with the place of a mistake underlined below it, as `marked` has it on two lines.
pub fn marked_below(says: &str, marked: &str) -> String {
    format!("{says}\n  {}", marked.replace('\n', "\n  "))
}

/// The end of a sentence about a name that is none, where another one comes near.
pub fn did_you_mean(near: Option<&str>) -> String {
    near.map_or(String::new(), |near| format!("; did you mean {near}?"))
}

/// A word as a shell takes it; what is hidden is written by its bytes (POSIX.1-2024, Shell, 2.2.4).
pub fn shell_word(word: &str) -> String {
    let safe = |c: char| c.is_ascii_alphanumeric() || "_-./:=%,+@".contains(c);
    if !word.is_empty() && word.chars().all(safe) {
        word.to_owned()
    } else if plain(word) != word {
        let byte = |byte: u8| match byte {
            b'\'' | b'\\' => format!("\\{}", char::from(byte)),
            b' '..=b'~' => char::from(byte).to_string(),
            _ => format!("\\{byte:03o}"),
        };
        format!("$'{}'", word.bytes().map(byte).collect::<String>())
    } else {
        format!("'{}'", word.replace('\'', "'\\''"))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_for_the_shell() {
        assert_eq!(shell_word("captures.csv"), "captures.csv");
        assert_eq!(shell_word("{day}/{month}"), "'{day}/{month}'");
        assert_eq!(shell_word("it's"), "'it'\\''s'");
        assert_eq!(shell_word(""), "''");
        assert_eq!(shell_word("it's\n\u{202E}x"), "$'it\\'s\\012\\342\\200\\256x'");
    }

    #[test]
    fn own_signs_have_others_in_ascii_and_commands_stay() {
        let text = "  seen  → seen_typed  ▁·█\n    metachron convert a.csv --missing '→'\n";
        let plain = "  seen  > seen_typed  _.#\n    metachron convert a.csv --missing '→'\n";
        assert_eq!(in_ascii(text), plain);
    }

    #[test]
    fn nothing_from_outside_steers_the_terminal() {
        assert_eq!(plain("a\u{1b}[31mb"), "a\\u{1b}[31mb");
        assert_eq!(quoted("say \"x\"\n"), "\"say \\\"x\\\"\\u{a}\"");
        assert_eq!(plain("\u{202E}42"), "\\u{202e}42");
        assert_eq!(plain("a\u{200B}b\u{E0041}\u{200D}"), "a\\u{200b}b\\u{e0041}\\u{200d}");
        assert_eq!(plain("می\u{200C}خواهم"), "می\u{200C}خواهم", "a joiner between letters");
        let styled = "\u{1b}[1mseen\u{1b}[0m \u{1b}]0;title\u{7}\u{1b}[2J\nx\r";
        let left = "\u{1b}[1mseen\u{1b}[0m \\u{1b}]0;title\\u{7}\\u{1b}[2J\nx\\u{d}";
        assert_eq!(leaving(styled), left);
    }
}
