//! `metachron manual`: a manual page for each command.

use std::io::Write;

use clap_mangen::Man;
use metachron_core::text::counted;
use metachron_tables::place::Output;

use crate::args;
use crate::exit::Exit;
use crate::message::{Failure, say, shown};

/// Writes the pages to a folder.
pub fn run(manual: &args::Manual) -> Result<Exit, Failure> {
    let dir = &manual.dir;
    std::fs::create_dir_all(dir).map_err(|error| Failure::writing(dir, &error))?;
    let mut program = args::program();
    program.build();
    let commands: Vec<clap::Command> = program.get_subcommands().cloned().collect();
    let page = |command: clap::Command| {
        Man::new(command)
            .source(concat!("metachron ", env!("CARGO_PKG_VERSION")))
            .manual("Metachron")
    };
    let pages: Vec<Man> = std::iter::once(program).chain(commands).map(page).collect();
    for page in &pages {
        let path = dir.join(page.get_filename());
        let failed = |error: std::io::Error| Failure::writing(&path, &error);
        let mut text = Vec::new();
        page.render(&mut text).map_err(failed)?;
        let mut out = Output::create(&path).map_err(failed)?;
        out.write_all(&text).and_then(|()| out.finish()).map_err(failed)?;
    }
    say(&format!("{} in {}", counted(pages.len() as u64, "manual page"), shown(dir)));
    Ok(Exit::Done)
}
