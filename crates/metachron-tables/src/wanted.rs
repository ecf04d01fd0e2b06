//! What a person says of a file before it is looked at.

use crate::address::Secrets;
use crate::delimited::LONGEST_RECORD;
use crate::dialect::{Delimiter, Quote};
use crate::encoding::Charset;
use crate::frame::WantedHeader;

/// What is said of a file before it is looked at; what is not said is found out.
#[derive(Debug, Clone, Default)]
pub struct Wanted {
    /// The delimiter.
    pub delimiter: Option<Delimiter>,
    /// The quotation mark.
    pub quote: Option<Quote>,
    /// The encoding.
    pub charset: Option<Charset>,
    /// Where the header stands.
    pub header: WantedHeader,
    /// The sheet of a workbook, by its name or number.
    pub sheet: Option<String>,
    /// What is read of a database.
    pub selected: Option<Selected>,
    /// The most bytes of one record.
    pub longest_record: Option<u64>,
    /// Passwords of database servers.
    pub secrets: Secrets,
}

/// What is read of a database.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Selected {
    /// A table or view, by its name.
    Table(String),
    /// What a query gives, in SQL.
    Query(String),
}

impl Wanted {
    pub(crate) fn longest_record(&self) -> usize {
        let wanted = self.longest_record.and_then(|bytes| usize::try_from(bytes).ok());
        wanted.unwrap_or(LONGEST_RECORD)
    }

    /// What is said.
    pub fn aspects(&self) -> impl Iterator<Item = Aspect> {
        let said = [
            (Aspect::Delimiter, self.delimiter.is_some()),
            (Aspect::Quote, self.quote.is_some()),
            (Aspect::Encoding, self.charset.is_some()),
            (Aspect::Header, self.header != WantedHeader::Unsaid),
            (Aspect::Sheet, self.sheet.is_some()),
            (Aspect::Selected, self.selected.is_some()),
            (Aspect::Record, self.longest_record.is_some()),
        ];
        said.into_iter().filter(|(_, is_said)| *is_said).map(|(own, _)| own)
    }
}

/// Something that can be said of files of some formats.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Aspect {
    /// What separates fields.
    Delimiter,
    /// The mark around fields.
    Quote,
    /// The encoding.
    Encoding,
    /// The line of the header.
    Header,
    /// The sheet.
    Sheet,
    /// The table or query.
    Selected,
    /// The most bytes of one record.
    Record,
}
