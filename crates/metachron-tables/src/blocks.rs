//! Input in a buffer that grows only as far as one record needs.

use std::io::{self, Read};
use std::ops::Range;

/// Bytes that are read at once.
const BLOCK: usize = 64 * 1024;

/// An input, of which a part is read and not yet used.
#[derive(Debug)]
pub(crate) struct Blocks<R> {
    input: R,
    buffer: Vec<u8>,
    unread: Range<usize>,
    at_end: bool,
}

impl<R: Read> Blocks<R> {
    /// Begins at the first byte; nothing is read yet.
    pub(crate) fn new(input: R) -> Blocks<R> {
        Blocks { input, buffer: Vec::new(), unread: 0..0, at_end: false }
    }

    /// The input, and what is read of it and not yet used.
    pub(crate) fn into_rest(self) -> (R, Vec<u8>) {
        let unread = self.unread().to_vec();
        (self.input, unread)
    }

    /// What is read and not yet used.
    pub(crate) fn unread(&self) -> &[u8] {
        &self.buffer[self.unread.clone()]
    }

    /// Whether nothing comes behind what is unread.
    pub(crate) fn at_end(&self) -> bool {
        self.at_end
    }

    /// Uses so many of the unread bytes.
    pub(crate) fn take(&mut self, length: usize) -> &[u8] {
        let start = self.unread.start;
        self.unread.start += length;
        &self.buffer[start..start + length]
    }

    /// Reads one more block behind what is unread; a larger one, the more waits already.
    pub(crate) fn fill(&mut self) -> io::Result<()> {
        self.buffer.copy_within(self.unread.clone(), 0);
        self.unread = 0..self.unread.len();
        let wanted = self.unread.end + BLOCK.max(self.unread.len());
        if self.buffer.len() < wanted {
            self.buffer.resize(wanted, 0);
        }
        let read = loop {
            match self.input.read(&mut self.buffer[self.unread.end..]) {
                Err(error) if error.kind() == io::ErrorKind::Interrupted => {}
                read => break read?,
            }
        };
        self.at_end = read == 0;
        self.unread.end += read;
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bytes_come_in_order_and_once() {
        let input: Vec<u8> = (0..=255).cycle().take(3 * BLOCK + 17).collect();
        let mut blocks = Blocks::new(&input[..]);
        let mut taken = Vec::new();
        while !(blocks.at_end() && blocks.unread().is_empty()) {
            let some = blocks.unread().len() / 3 + usize::from(blocks.at_end());
            let some = some.min(blocks.unread().len());
            taken.extend_from_slice(blocks.take(some));
            if !blocks.at_end() {
                blocks.fill().unwrap();
            }
        }
        assert_eq!(taken, input);
    }
}
