//! Compressed files, in and out, by the ending of their name.

use std::io::{self, Read, Write};
use std::path::Path;

/// How a file is compressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Compression {
    /// `.gz` (RFC 1952).
    Gzip,
    /// `.zst` (RFC 8878).
    Zstandard,
    /// `.bz2`.
    Bzip2,
    /// `.xz`.
    Xz,
}

impl Compression {
    const ENDINGS: [(Compression, &'static str); 4] = [
        (Compression::Gzip, "gz"),
        (Compression::Zstandard, "zst"),
        (Compression::Bzip2, "bz2"),
        (Compression::Xz, "xz"),
    ];

    /// The compression that a file's name says.
    ///
    /// ```
    /// use std::path::Path;
    /// use metachron_tables::compress::Compression;
    /// assert_eq!(Compression::of(Path::new("captures.csv.GZ")), Some(Compression::Gzip));
    /// assert_eq!(Compression::of(Path::new("captures.csv")), None);
    /// ```
    pub fn of(path: &Path) -> Option<Compression> {
        let ending = path.extension()?.to_str()?.to_ascii_lowercase();
        let found = Compression::ENDINGS.iter().find(|(_, known)| *known == ending);
        found.map(|(compression, _)| *compression)
    }

    /// The ending, which is also what it is called.
    pub fn ending(self) -> &'static str {
        let found = Compression::ENDINGS.iter().find(|(other, _)| *other == self);
        found.map_or("", |(_, ending)| ending)
    }

    /// The bytes that were compressed; files of several members are read to the end.
    ///
    /// # Errors
    /// If the decoder cannot be set up.
    #[cfg(feature = "compress")]
    pub fn reader<'r>(self, input: impl Read + Send + 'r) -> io::Result<Box<dyn Read + Send + 'r>> {
        Ok(match self {
            Compression::Gzip => Box::new(flate2::read::MultiGzDecoder::new(input)),
            Compression::Zstandard => Box::new(zstd::stream::read::Decoder::new(input)?),
            Compression::Bzip2 => Box::new(bzip2::read::MultiBzDecoder::new(input)),
            Compression::Xz => Box::new(liblzma::read::XzDecoder::new_multi_decoder(input)),
        })
    }

    /// See above; this build cannot.
    ///
    /// # Errors
    /// Always.
    #[cfg(not(feature = "compress"))]
    pub fn reader<'r>(self, _: impl Read + Send + 'r) -> io::Result<Box<dyn Read + Send + 'r>> {
        Err(unsupported(self))
    }

    /// Compresses what is written to it.
    ///
    /// # Errors
    /// If the encoder cannot be set up.
    #[cfg(feature = "compress")]
    pub fn writer<W: Write>(self, output: W) -> io::Result<Compressor<W>> {
        Ok(match self {
            Compression::Gzip => {
                let level = flate2::Compression::default();
                Compressor::Gzip(flate2::write::GzEncoder::new(output, level))
            }
            Compression::Zstandard => {
                Compressor::Zstandard(zstd::stream::write::Encoder::new(output, 0)?)
            }
            Compression::Bzip2 => {
                let level = bzip2::Compression::default();
                Compressor::Bzip2(bzip2::write::BzEncoder::new(output, level))
            }
            Compression::Xz => Compressor::Xz(liblzma::write::XzEncoder::new(output, 6)),
        })
    }

    /// See above; this build cannot.
    ///
    /// # Errors
    /// Always.
    #[cfg(not(feature = "compress"))]
    pub fn writer<W: Write>(self, _: W) -> io::Result<Compressor<W>> {
        Err(unsupported(self))
    }
}

#[cfg(not(feature = "compress"))]
fn unsupported(compression: Compression) -> io::Error {
    io::Error::other(format!("this build does not read or write .{}", compression.ending()))
}

/// A writer that compresses; it must be finished.
pub enum Compressor<W: Write> {
    /// gzip
    #[cfg(feature = "compress")]
    Gzip(flate2::write::GzEncoder<W>),
    /// Zstandard
    #[cfg(feature = "compress")]
    Zstandard(zstd::stream::write::Encoder<'static, W>),
    /// bzip2
    #[cfg(feature = "compress")]
    Bzip2(bzip2::write::BzEncoder<W>),
    /// xz
    #[cfg(feature = "compress")]
    Xz(liblzma::write::XzEncoder<W>),
    /// Nothing is compressed.
    Plain(W),
}

impl<W: Write> Compressor<W> {
    /// Writes what is left and gives the output back.
    ///
    /// # Errors
    /// If the last bytes cannot be written.
    pub fn finish(self) -> io::Result<W> {
        match self {
            #[cfg(feature = "compress")]
            Compressor::Gzip(encoder) => encoder.finish(),
            #[cfg(feature = "compress")]
            Compressor::Zstandard(encoder) => encoder.finish(),
            #[cfg(feature = "compress")]
            Compressor::Bzip2(encoder) => encoder.finish(),
            #[cfg(feature = "compress")]
            Compressor::Xz(encoder) => encoder.finish(),
            Compressor::Plain(output) => Ok(output),
        }
    }

    fn inner(&mut self) -> &mut dyn Write {
        match self {
            #[cfg(feature = "compress")]
            Compressor::Gzip(encoder) => encoder,
            #[cfg(feature = "compress")]
            Compressor::Zstandard(encoder) => encoder,
            #[cfg(feature = "compress")]
            Compressor::Bzip2(encoder) => encoder,
            #[cfg(feature = "compress")]
            Compressor::Xz(encoder) => encoder,
            Compressor::Plain(output) => output,
        }
    }
}

impl<W: Write> Write for Compressor<W> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.inner().write(bytes)
    }

    fn flush(&mut self) -> io::Result<()> {
        self.inner().flush()
    }
}

#[cfg(all(test, feature = "compress"))]
mod tests {
    use super::*;

    #[test]
    fn what_is_compressed_comes_back() {
        let text = b"ring,captured\nLF1,13/04/2024\n".repeat(1_000);
        for (compression, ending) in Compression::ENDINGS {
            assert_eq!(Compression::of(Path::new(&format!("a.csv.{ending}"))), Some(compression));
            let mut members = Vec::new();
            for half in text.chunks(text.len() / 2) {
                let mut writer = compression.writer(Vec::new()).unwrap();
                writer.write_all(half).unwrap();
                members.extend(writer.finish().unwrap());
            }
            assert!(members.len() < text.len() / 4);
            let mut back = Vec::new();
            compression.reader(&members[..]).unwrap().read_to_end(&mut back).unwrap();
            assert_eq!(back, text, "{ending}");
            let cut = &members[..members.len() - 3];
            let read = compression.reader(cut).unwrap().read_to_end(&mut Vec::new());
            assert!(read.is_err(), "a {ending} file that is cut off is noticed");
        }
        assert_eq!(Compression::of(Path::new("a.csv")), None);
    }
}
