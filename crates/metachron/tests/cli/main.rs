//! The built program, driven on files in temporary folders.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

#[cfg(unix)]
mod ask;
mod bad_input;
mod came_out;
mod chart;
mod check;
mod coarse;
mod convert;
mod count;
mod damaged;
mod derive;
mod drift;
mod durations;
mod evidence;
mod explain;
mod harness;
mod hostile;
mod intake;
mod journeys;
mod languages;
mod mixed;
mod numbers;
mod outputs;
mod plain_numbers;
mod printed;
mod readings;
mod records;
mod report;
mod said_and_saved;
#[cfg(unix)]
mod server;
mod several;
mod shell;
mod survey;
mod threads;
mod tour;
mod typed_inputs;
mod workbook;
mod zones;
