//! Development only. `cargo run -p xtask -- lexicon FOLDER` makes the lexicon of `metachron-core`
//! from the JSON packages of CLDR 48.2 (Unicode-3.0 licence), unpacked in FOLDER under their names:
//! `cldr-core`, `cldr-dates-full`, `cldr-numbers-full`, `cldr-localenames-full`, and those of other
//! calendars (`CONTRIBUTING.md` has the list).

mod blob;
mod cldr;
mod patterns;
mod variants;

use std::path::Path;
use std::process::ExitCode;

fn main() -> ExitCode {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    match arguments.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["lexicon", folder] => {
            let target = Path::new(env!("CARGO_MANIFEST_DIR"))
                .join("../crates/metachron-core/src/lexicon/cldr.bin");
            let made = cldr::Data::read(Path::new(folder)).and_then(|data| blob::make(&data));
            match made.and_then(|bytes| {
                std::fs::write(&target, &bytes).map_err(|error| error.to_string())?;
                Ok(bytes.len())
            }) {
                Ok(length) => {
                    eprintln!("lexicon of {length} bytes");
                    ExitCode::SUCCESS
                }
                Err(message) => {
                    eprintln!("xtask: {message}");
                    ExitCode::FAILURE
                }
            }
        }
        _ => {
            eprintln!("usage: cargo run -p xtask -- lexicon FOLDER");
            ExitCode::from(2)
        }
    }
}
