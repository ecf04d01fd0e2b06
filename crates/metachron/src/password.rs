//! Asks for the password of a server; what is typed is not shown.

use metachron_tables::address::Address;

use crate::message::plain;

/// What the key is that stops programs (POSIX, XBD 11.1.9, INTR), as long as nobody has chosen another one.
#[cfg(unix)]
const STOP: u8 = 3;

/// The password that somebody at the terminal says; none if nobody does.
#[cfg(unix)]
pub fn password(address: &Address) -> Option<String> {
    use std::io::{Write, stderr, stdin};

    use rustix::termios::{LocalModes, OptionalActions, SpecialCodeIndex, tcgetattr, tcsetattr};

    let terminal = stdin();
    let before = tcgetattr(&terminal).ok()?;
    let mut silent = before.clone();
    // Whoever stops the program is to find the terminal as it was: that key only ends the line.
    silent.local_modes.remove(LocalModes::ECHO | LocalModes::ISIG);
    silent.special_codes[SpecialCodeIndex::VEOL] = STOP;
    tcsetattr(&terminal, OptionalActions::Drain, &silent).ok()?;
    let asked = write!(stderr(), "password for {}: ", plain(&address.to_string()));
    let answer = asked.ok().and_then(|()| {
        let (mut line, mut byte) = (Vec::new(), [0]);
        while rustix::io::read(&terminal, &mut byte).ok()? == 1 && byte != *b"\n" {
            if byte == [STOP] {
                return None;
            }
            line.extend(byte);
        }
        String::from_utf8(line).ok()
    });
    tcsetattr(&terminal, OptionalActions::Drain, &before).ok()?;
    // The end of the line was not shown either.
    writeln!(stderr()).ok()?;
    answer.filter(|answer| !answer.is_empty())
}

/// Nobody is asked where terminals are others.
#[cfg(not(unix))]
pub fn password(_: &Address) -> Option<String> {
    None
}
