//! Development only. `cargo run -p xtask -- lexicon FOLDER` makes the lexicon of `metachron-core`
//! from the JSON packages of CLDR 48.2 (Unicode-3.0 licence), unpacked in FOLDER under their names:
//! `cldr-core`, `cldr-dates-full`, `cldr-numbers-full`, `cldr-localenames-full`, and those of other
//! calendars (`CONTRIBUTING.md` has the list). `cargo run -p xtask -- units FOLDER` makes the table of the
//! words for units of time from `cldr-units-full`, and `cargo run -p xtask -- decimals FOLDER` the list of locales with a
//! decimal comma from `cldr-numbers-full`.

mod code;
mod blob;
mod cldr;
mod decimals;
mod patterns;
mod units;
mod variants;

use std::path::Path;
use std::process::ExitCode;

fn main() -> ExitCode {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let lexicon =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../crates/metachron-core/src/lexicon");
    let (target, made) = match arguments.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["lexicon", folder] => {
            let made = cldr::Data::read(Path::new(folder)).and_then(|data| blob::make(&data));
            (lexicon.join("cldr.bin"), made)
        }
        ["units", folder] => {
            (lexicon.join("units.tsv"), units::make(Path::new(folder)).map(String::into_bytes))
        }
        ["decimals", folder] => (
            lexicon.join("decimal_commas.txt"),
            decimals::make(Path::new(folder)).map(String::into_bytes),
        ),
        _ => {
            eprintln!("usage: cargo run -p xtask -- lexicon|units|decimals FOLDER");
            return ExitCode::from(2);
        }
    };
    let written = made.and_then(|bytes| {
        std::fs::write(&target, &bytes).map_err(|error| error.to_string())?;
        Ok(bytes.len())
    });
    match written {
        Ok(length) => {
            eprintln!("{length} bytes");
            ExitCode::SUCCESS
        }
        Err(message) => {
            eprintln!("xtask: {message}");
            ExitCode::FAILURE
        }
    }
}
