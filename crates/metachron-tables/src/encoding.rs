//! Text in any encoding, to UTF-8 and back.
//!
//! Names and meanings are those of the WHATWG Encoding Standard, so `iso-8859-1` is read as
//! `windows-1252`, of which it is a part.

use std::fmt;
use std::io::{self, Read, Write};

use chardetng::{EncodingDetector, Iso2022JpDetection, Utf8Detection};
use encoding_rs::{CoderResult, DecoderResult, EncoderResult, Encoding, UTF_8, UTF_16BE, UTF_16LE};

use crate::error::TableError;

/// How the bytes of a file stand for text.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Charset {
    encoding: &'static Encoding,
    /// Whether the file begins with a byte order mark.
    pub has_bom: bool,
    /// Whether the encoding is only likely: nothing in the file says so.
    pub is_guess: bool,
    /// What in a file of UTF-8 is none; it is read as U+FFFD, the replacement character.
    pub stray: Option<StrayBytes>,
}

/// The bytes of a text in UTF-8 that are none (Unicode, 3.9, table 3-7): runs of them, each of which counts once.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct StrayBytes {
    /// How many there are.
    pub count: u64,
    /// The line of the first.
    pub line: u64,
    /// The first byte.
    pub byte: u8,
    /// Whether the last one is a character that the file ends in.
    pub is_cut_off: bool,
}

impl Charset {
    /// UTF-8 without a byte order mark.
    pub const UTF_8: Charset =
        Charset { encoding: UTF_8, has_bom: false, is_guess: false, stray: None };

    /// The encoding of this name, in any of its spellings.
    ///
    /// ```
    /// use metachron_tables::encoding::Charset;
    /// assert_eq!(Charset::named("latin1").unwrap().name(), "windows-1252"); // as the WHATWG has it
    /// assert!(Charset::named("latin-9000").is_none());
    /// ```
    pub fn named(name: &str) -> Option<Charset> {
        let encoding = Encoding::for_label(name.trim().as_bytes())?;
        Some(Charset { encoding, ..Charset::UTF_8 })
    }

    /// The same encoding, with or without a byte order mark.
    #[must_use]
    pub fn with_bom(self, has_bom: bool) -> Charset {
        Charset { has_bom, ..self }
    }

    /// The name.
    pub fn name(self) -> &'static str {
        self.encoding.name()
    }

    /// Whether it is UTF-8, so that bytes are text as they stand.
    pub fn is_utf_8(self) -> bool {
        self.encoding == UTF_8
    }

    /// Finds out the encoding of a whole input: by its byte order mark, by being UTF-8, or by what
    /// its bytes make likely. `open` gives the input, once or twice.
    ///
    /// # Errors
    /// If the input cannot be read.
    pub fn recognise<R: Read>(mut open: impl FnMut() -> io::Result<R>) -> io::Result<Charset> {
        let (mut first, mut seen) = (None, Utf8Tally::default());
        each_block(open()?, |block| {
            let said = first.get_or_insert_with(|| by_its_beginning(block));
            let goes_on = said.is_none_or(Charset::is_utf_8);
            if goes_on {
                seen.observe(block);
            }
            goes_on
        })?;
        let stray = seen.end();
        match first.flatten() {
            Some(charset) => return Ok(Charset { stray, ..charset }),
            None if stray.is_none_or(|stray| seen.outweighs(stray)) => {
                return Ok(Charset { stray, ..Charset::UTF_8 });
            }
            None => {}
        }
        // Only what is no UTF-8 is worth the slower look.
        let mut detector = EncodingDetector::new(Iso2022JpDetection::Deny);
        let mut fed = 0;
        each_block(open()?, |block| {
            detector.feed(block, false);
            fed += block.len();
            fed < ENOUGH
        })?;
        detector.feed(b"", true);
        let encoding = detector.guess(None, Utf8Detection::Deny);
        Ok(Charset { encoding, is_guess: true, ..Charset::UTF_8 })
    }

    /// The text of the input, as UTF-8 without a byte order mark.
    pub fn decode<'r>(self, input: impl Read + Send + 'r) -> Box<dyn Read + Send + 'r> {
        if self.is_utf_8() && self.stray.is_none() {
            return Box::new(input);
        }
        Box::new(Decoding {
            input,
            decoder: self.encoding.new_decoder_with_bom_removal(),
            name: self.name(),
            replaces: self.stray.is_some(),
            malformed: false,
            bytes: Vec::new(),
            text: Vec::new(),
            given: 0,
            line: 1,
            column: 1,
            at_end: false,
            finished: false,
        })
    }

    /// A writer of UTF-8 text that is encoded on its way to the output.
    ///
    /// ```
    /// use std::io::Write;
    /// use metachron_tables::encoding::Charset;
    /// let mut out = Charset::named("windows-1252").unwrap().encode(Vec::new());
    /// out.write_all("Skjærholm".as_bytes()).unwrap();
    /// assert_eq!(out.into_inner(), b"Skj\xE6rholm");
    /// ```
    pub fn encode<W: Write>(self, output: W) -> Encode<W> {
        Encode { output, charset: self, pending: Vec::new() }
    }
}

impl fmt::Display for Charset {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let bom = if self.has_bom { " with BOM" } else { "" };
        let guess = if self.is_guess { " (likely)" } else { "" };
        write!(f, "{}{bom}{guess}", self.name())
    }
}

/// Bytes by which a likely encoding is judged at most.
const ENOUGH: usize = 64 * 1024 * 1024;

/// Reads blocks until the end, or until `take` has seen enough; all but the last are full.
fn each_block(input: impl Read, mut take: impl FnMut(&[u8]) -> bool) -> io::Result<()> {
    const BLOCK: u64 = 256 * 1024;
    let mut input = input;
    let mut block = Vec::new();
    loop {
        block.clear();
        input.by_ref().take(BLOCK).read_to_end(&mut block)?;
        if block.is_empty() || !take(&block) {
            return Ok(());
        }
    }
}

/// Whether every byte is one of ASCII.
pub(crate) fn is_ascii(input: impl Read) -> io::Result<bool> {
    let mut is_ascii = true;
    each_block(input, |block| {
        is_ascii = block.is_ascii();
        is_ascii
    })?;
    Ok(is_ascii)
}

/// What a byte order mark says, or zeros between the letters.
fn by_its_beginning(bytes: &[u8]) -> Option<Charset> {
    if let Some((encoding, _)) = Encoding::for_bom(bytes) {
        return Some(Charset { encoding, has_bom: true, ..Charset::UTF_8 });
    }
    wide(bytes).map(|encoding| Charset { encoding, is_guess: true, ..Charset::UTF_8 })
}

/// What bytes are when they are read as UTF-8.
#[derive(Default)]
struct Utf8Tally {
    /// Characters of more than one byte.
    characters: u64,
    stray: Option<StrayBytes>,
    /// Ends of lines before the bytes that come next.
    lines: u64,
    /// A character that the last bytes have begun.
    unfinished: Vec<u8>,
}

impl Utf8Tally {
    fn observe(&mut self, block: &[u8]) {
        if self.unfinished.is_empty() && block.is_ascii() {
            self.lines += memchr::memchr_iter(b'\n', block).count() as u64;
            return;
        }
        let mut bytes = std::mem::take(&mut self.unfinished);
        bytes.extend_from_slice(block);
        let mut rest = &bytes[..];
        while !rest.is_empty() {
            let (valid, wrong) = match std::str::from_utf8(rest) {
                Ok(_) => (rest.len(), 0),
                Err(error) => match error.error_len() {
                    Some(wrong) => (error.valid_up_to(), wrong),
                    None => {
                        self.unfinished = rest[error.valid_up_to()..].to_vec();
                        (error.valid_up_to(), 0)
                    }
                },
            };
            self.characters += rest[..valid].iter().filter(|byte| **byte >= 0xC0).count() as u64;
            self.lines += memchr::memchr_iter(b'\n', &rest[..valid]).count() as u64;
            if wrong > 0 {
                self.note(rest[valid], false);
            }
            rest = &rest[valid + wrong + self.unfinished.len()..];
        }
    }

    fn note(&mut self, byte: u8, is_cut_off: bool) {
        let first = StrayBytes { count: 0, line: self.lines + 1, byte, is_cut_off };
        let stray = self.stray.get_or_insert(first);
        stray.count += 1;
        stray.is_cut_off = is_cut_off;
    }

    /// What was no UTF-8, once all bytes were seen.
    fn end(&mut self) -> Option<StrayBytes> {
        if let Some(byte) = self.unfinished.first().copied() {
            self.note(byte, true);
        }
        self.stray
    }

    /// Whether it is UTF-8 with stray bytes rather than another encoding.
    ///
    /// In text of another encoding about one run of bytes beyond ASCII in ten is a character of UTF-8 by chance;
    /// in UTF-8 hardly one in twenty is none. The logarithms of both (2.3 and 3.0) are added up, and the odds
    /// have to be twenty to one.
    fn outweighs(&self, stray: StrayBytes) -> bool {
        23 * u128::from(self.characters) > 30 * (u128::from(stray.count) + 1)
    }
}

/// UTF-16 without a byte order mark: every other byte of Western text is zero.
fn wide(bytes: &[u8]) -> Option<&'static Encoding> {
    let begin = &bytes[..bytes.len().min(1_024) & !1];
    let zeros = |from: usize| begin.iter().skip(from).step_by(2).filter(|b| **b == 0).count();
    let (even, odd, pairs) = (zeros(0), zeros(1), begin.len() / 2);
    match pairs {
        0..=3 => None,
        _ if odd * 10 >= pairs * 7 && even == 0 => Some(UTF_16LE),
        _ if even * 10 >= pairs * 7 && odd == 0 => Some(UTF_16BE),
        _ => None,
    }
}

/// Decodes while it is read.
struct Decoding<R> {
    input: R,
    decoder: encoding_rs::Decoder,
    name: &'static str,
    /// Whether what does not decode becomes U+FFFD.
    replaces: bool,
    /// Whether the next byte does not decode; what comes before it is given out first.
    malformed: bool,
    /// Bytes that are read but not decoded.
    bytes: Vec<u8>,
    /// Text that is decoded, of which so much was given out.
    text: Vec<u8>,
    given: usize,
    line: u64,
    column: u64,
    at_end: bool,
    /// Whether the decoder has given all.
    finished: bool,
}

impl<R: Read> Decoding<R> {
    fn fill(&mut self) -> io::Result<()> {
        if self.malformed {
            let (line, character, encoding) = (self.line, self.column, self.name);
            return Err(io::Error::other(TableError::Undecodable { line, character, encoding }));
        }
        if self.bytes.is_empty() && !self.at_end {
            self.bytes.resize(64 * 1024, 0);
            let read = self.input.read(&mut self.bytes)?;
            self.bytes.truncate(read);
            self.at_end = read == 0;
        }
        if self.finished {
            self.text.clear();
            self.given = 0;
            return Ok(());
        }
        self.text.resize(128 * 1024, 0);
        let (bytes, text) = (&self.bytes[..], &mut self.text[..]);
        let (result, read, written) = if self.replaces {
            let (result, read, written, _) = self.decoder.decode_to_utf8(bytes, text, self.at_end);
            let result = match result {
                CoderResult::InputEmpty => DecoderResult::InputEmpty,
                CoderResult::OutputFull => DecoderResult::OutputFull,
            };
            (result, read, written)
        } else {
            self.decoder.decode_to_utf8_without_replacement(bytes, text, self.at_end)
        };
        self.text.truncate(written);
        self.given = 0;
        self.bytes.drain(..read);
        for byte in &self.text {
            match byte {
                b'\n' => (self.line, self.column) = (self.line + 1, 1),
                // Bytes that continue a character are not counted.
                0x80..=0xBF => {}
                _ => self.column += 1,
            }
        }
        self.malformed = matches!(result, DecoderResult::Malformed(..));
        self.finished = self.at_end && matches!(result, DecoderResult::InputEmpty);
        Ok(())
    }
}

impl<R: Read> Read for Decoding<R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        while self.given == self.text.len() {
            self.fill()?;
            if self.text.is_empty() && self.finished {
                return Ok(0);
            }
        }
        let length = buffer.len().min(self.text.len() - self.given);
        buffer[..length].copy_from_slice(&self.text[self.given..self.given + length]);
        self.given += length;
        Ok(length)
    }
}

/// Encodes what is written to it.
#[derive(Debug)]
pub struct Encode<W: Write> {
    output: W,
    charset: Charset,
    /// The bytes of a character that is not complete yet.
    pending: Vec<u8>,
}

impl<W: Write> Encode<W> {
    /// Gives the output back.
    pub fn into_inner(self) -> W {
        self.output
    }

    fn write_text(&mut self, text: &str) -> io::Result<()> {
        let encoding = self.charset.encoding;
        if encoding == UTF_16LE || encoding == UTF_16BE {
            for unit in text.encode_utf16() {
                let little = encoding == UTF_16LE;
                let bytes = if little { unit.to_le_bytes() } else { unit.to_be_bytes() };
                self.output.write_all(&bytes)?;
            }
            return Ok(());
        }
        let mut encoder = encoding.new_encoder();
        let mut rest = text;
        let mut bytes = [0; 4 * 1024];
        loop {
            let (result, read, written) =
                encoder.encode_from_utf8_without_replacement(rest, &mut bytes, true);
            self.output.write_all(&bytes[..written])?;
            rest = &rest[read..];
            match result {
                EncoderResult::InputEmpty => return Ok(()),
                EncoderResult::OutputFull => {}
                EncoderResult::Unmappable(c) => {
                    let charset = self.charset.name();
                    return Err(io::Error::other(Unencodable { charset, character: c }));
                }
            }
        }
    }
}

/// A character that an encoding does not have; the source of an I/O error while writing.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Unencodable {
    /// The name of the encoding.
    pub charset: &'static str,
    /// The character.
    pub character: char,
}

impl fmt::Display for Unencodable {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} has no character {:?}", self.charset, self.character)
    }
}

impl std::error::Error for Unencodable {}

impl<W: Write> Write for Encode<W> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        if self.charset.is_utf_8() {
            return self.output.write(bytes);
        }
        self.pending.extend_from_slice(bytes);
        let complete = match std::str::from_utf8(&self.pending) {
            Ok(text) => text.len(),
            Err(error) => error.valid_up_to(),
        };
        let rest = self.pending.split_off(complete);
        let text =
            String::from_utf8_lossy(&std::mem::replace(&mut self.pending, rest)).into_owned();
        self.write_text(&text)?;
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        self.output.flush()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Gives a few bytes at a time.
    struct Trickle<'a>(&'a [u8]);

    impl Read for Trickle<'_> {
        fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
            let length = self.0.len().min(3).min(buffer.len());
            buffer[..length].copy_from_slice(&self.0[..length]);
            self.0 = &self.0[length..];
            Ok(length)
        }
    }

    fn encoded(text: &str, name: &str) -> Vec<u8> {
        let mut encode = Charset::named(name).unwrap().encode(Vec::new());
        for byte in text.as_bytes() {
            encode.write_all(&[*byte]).unwrap();
        }
        encode.into_inner()
    }

    fn decoded(bytes: &[u8], charset: Charset) -> io::Result<String> {
        let mut text = String::new();
        charset.decode(Trickle(bytes)).read_to_string(&mut text).map(|_| text)
    }

    #[test]
    fn what_is_encoded_comes_back() {
        for (name, text) in [
            ("windows-1252", "Größe;März\n"),
            ("windows-1251", "дата;март\n"),
            ("iso-8859-2", "kwiecień\n"),
            ("shift_jis", "星崎;三月\n"),
            ("gb18030", "日期;三月 𠮷\n"),
            ("euc-kr", "날짜;삼월\n"),
            ("koi8-r", "дата;март\n"),
            ("macintosh", "août\n"),
            ("utf-16le", "星崎 𠮷 ring\n"),
            ("utf-16be", "星崎 𠮷 ring\n"),
        ] {
            let bytes = encoded(text, name);
            assert_eq!(decoded(&bytes, Charset::named(name).unwrap()).unwrap(), text, "{name}");
        }
    }

    #[test]
    fn recognises_what_it_can() {
        let long = "Beringungsstation Skarhölm; geprüft am 3. März; Größe\n".repeat(20);
        let russian = "кольцо;дата поимки;станция\nА1;март;Скархольм\n".repeat(20);
        let japanese = "放鳥日;捕獲日;星崎\n三月五日;四月三日;森の中\n".repeat(20);
        for (text, name, recognised) in [
            (long.as_str(), "utf-8", "UTF-8"),
            (&long, "windows-1252", "windows-1252 (likely)"),
            (&long, "utf-16le", "UTF-16LE (likely)"),
            (&long, "utf-16be", "UTF-16BE (likely)"),
            (&russian, "windows-1251", "windows-1251 (likely)"),
            (&russian, "koi8-r", "KOI8-U (likely)"),
            (&japanese, "shift_jis", "Shift_JIS (likely)"),
            ("plain", "utf-8", "UTF-8"),
            ("", "utf-8", "UTF-8"),
            ("\u{FEFF}ring", "utf-8", "UTF-8 with BOM"),
            ("\u{FEFF}ring", "utf-16le", "UTF-16LE with BOM"),
            ("\u{FEFF}ring", "utf-16be", "UTF-16BE with BOM"),
        ] {
            let bytes = encoded(text, name);
            let charset = Charset::recognise(|| Ok(Trickle(&bytes))).unwrap();
            assert_eq!(charset.to_string(), recognised);
            let charset = charset.with_bom(false);
            if !charset.is_utf_8() {
                let bare = text.trim_start_matches('\u{FEFF}');
                assert_eq!(decoded(&encoded(text, name), charset).unwrap(), bare);
            }
        }
    }

    #[test]
    fn utf_8_with_few_stray_bytes_is_utf_8() {
        let long = "LF1;Skarhölm;3. März\n".repeat(30);
        let recognised = |bytes: &[u8]| Charset::recognise(|| Ok(Trickle(bytes))).unwrap();

        let stray = [long.as_bytes(), b"LF2;Troms\xF8;4. April\n", long.as_bytes()].concat();
        let charset = recognised(&stray);
        assert!(charset.is_utf_8() && !charset.is_guess);
        let found = StrayBytes { count: 1, line: 31, byte: 0xF8, is_cut_off: false };
        assert_eq!(charset.stray, Some(found));
        let text = decoded(&stray, charset).unwrap();
        assert_eq!(text, format!("{long}LF2;Troms\u{FFFD};4. April\n{long}"));

        // A file that was cut inside a character.
        let cut = &stray[stray.len() - long.len()..stray.len() - 4];
        assert_eq!(cut.last(), Some(&0xC3));
        let found = StrayBytes { count: 1, line: 30, byte: 0xC3, is_cut_off: true };
        assert_eq!(recognised(cut).stray, Some(found));
        assert!(decoded(cut, recognised(cut)).unwrap().ends_with("3. M\u{FFFD}"));

        // Text of another encoding in which a few bytes happen to be UTF-8.
        let other = encoded(&"Größe;März;Ã¼ber\n".repeat(30), "windows-1252");
        assert_eq!(recognised(&other).to_string(), "windows-1252 (likely)");
        assert_eq!(recognised(b"Troms\xF8\n").stray, None);
    }

    #[test]
    fn says_where_a_byte_does_not_decode() {
        let mut bytes = encoded("ring;星\nLF1;崎", "shift_jis");
        bytes.extend(b"\xFF;x\n");
        let error = decoded(&bytes, Charset::named("shift_jis").unwrap()).unwrap_err();
        assert_eq!(error.to_string(), "line 2, character 6 is not Shift_JIS");
    }

    #[test]
    fn says_what_cannot_be_encoded() {
        let mut encode = Charset::named("windows-1252").unwrap().encode(Vec::new());
        let error = encode.write_all("星".as_bytes()).unwrap_err();
        assert!(error.to_string().contains("windows-1252 has no character '星'"), "{error}");
    }
}
