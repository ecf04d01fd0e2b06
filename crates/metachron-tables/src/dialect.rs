//! How delimited text is written: what stands between fields, and how they are quoted.

use std::fmt;

/// What stands between the fields of a record.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Delimiter {
    /// `,`
    Comma,
    /// A tab character.
    Tab,
    /// `;`
    Semicolon,
    /// `|`
    Pipe,
}

impl Delimiter {
    /// Every delimiter, in the order in which they are tried.
    pub const ALL: [Delimiter; 4] =
        [Delimiter::Comma, Delimiter::Tab, Delimiter::Semicolon, Delimiter::Pipe];

    /// The byte itself.
    pub fn byte(self) -> u8 {
        match self {
            Delimiter::Comma => b',',
            Delimiter::Tab => b'\t',
            Delimiter::Semicolon => b';',
            Delimiter::Pipe => b'|',
        }
    }

    /// The delimiter that is this text: the character, or its name.
    ///
    /// ```
    /// use metachron_tables::dialect::Delimiter;
    /// assert_eq!(Delimiter::named("semicolon"), Some(Delimiter::Semicolon));
    /// assert_eq!(Delimiter::named(";"), Some(Delimiter::Semicolon));
    /// ```
    pub fn named(text: &str) -> Option<Delimiter> {
        Delimiter::ALL.into_iter().find(|delimiter| {
            text.as_bytes() == [delimiter.byte()]
                || text == delimiter.to_string()
                || (text == "\\t" && *delimiter == Delimiter::Tab)
        })
    }

    /// The usual name of files that are delimited so.
    ///
    /// ```
    /// use metachron_tables::dialect::Delimiter;
    /// assert_eq!(Delimiter::Tab.format(), "TSV");
    /// ```
    pub fn format(self) -> &'static str {
        match self {
            Delimiter::Tab => "TSV",
            _ => "CSV",
        }
    }
}

impl fmt::Display for Delimiter {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Delimiter::Comma => "comma",
            Delimiter::Tab => "tab",
            Delimiter::Semicolon => "semicolon",
            Delimiter::Pipe => "pipe",
        })
    }
}

/// How fields are quoted.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Quote {
    /// `"`
    Double,
    /// `'`
    Single,
}

impl Quote {
    /// The byte itself.
    pub fn byte(self) -> u8 {
        match self {
            Quote::Double => b'"',
            Quote::Single => b'\'',
        }
    }

    /// The mark of this name, or that is this character.
    ///
    /// ```
    /// use metachron_tables::dialect::Quote;
    /// assert_eq!((Quote::named("single"), Quote::named("\"")), (Some(Quote::Single), Some(Quote::Double)));
    /// ```
    pub fn named(text: &str) -> Option<Quote> {
        match text {
            "double" | "\"" => Some(Quote::Double),
            "single" | "'" => Some(Quote::Single),
            _ => None,
        }
    }

    /// Its name.
    pub fn name(self) -> &'static str {
        match self {
            Quote::Double => "double",
            Quote::Single => "single",
        }
    }
}

/// How a quotation mark inside a quoted field is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Escape {
    /// Twice (RFC 4180, section 2).
    Doubled,
    /// Behind a backslash.
    Backslash,
}

/// How a delimited file is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Dialect {
    /// What stands between fields.
    pub delimiter: Delimiter,
    /// The quotation mark.
    pub quote: Quote,
    /// How one stands inside a quoted field.
    pub escape: Escape,
    /// Whether spaces may stand between a delimiter and a quotation mark.
    pub spaced: bool,
}

impl From<Delimiter> for Dialect {
    /// The usual dialect (RFC 4180) with this delimiter.
    fn from(delimiter: Delimiter) -> Dialect {
        Dialect { delimiter, quote: Quote::Double, escape: Escape::Doubled, spaced: false }
    }
}

impl fmt::Display for Dialect {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.delimiter)?;
        if self.quote == Quote::Single {
            write!(f, ", single quotes")?;
        }
        if self.escape == Escape::Backslash {
            write!(f, ", backslash escapes")?;
        }
        if self.spaced {
            write!(f, ", spaces after delimiters")?;
        }
        Ok(())
    }
}
