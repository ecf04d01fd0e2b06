//! Reads messy dates and times, and never a silent wrong date.
//!
//! A *value* is normalised and cut into tokens; its *shape* is its written form with the content
//! blanked out; *candidates* are the layouts that a shape could have; *evidence* is what all the
//! values of a column say for and against them; a *verdict* is what the evidence amounts to; a
//! *reading* is compiled once and applied to every row.
//!
//! The core computes and does nothing else: no files, no printing, no clock, no environment.
//!
//! # Reading order
//! [`infer`] is the heart. Then, from the bottom up, in the order of the list below: every module
//! uses only those above it.

pub mod bounds;
pub mod text;
pub mod error;
pub mod named;
pub mod order;
pub mod calendar;
pub mod duration;
pub mod typed;
pub mod value;
pub mod lexicon;
pub mod epoch;
pub mod layout;
pub mod zone;
pub mod reading;
pub mod apply;
pub mod write;
pub mod steps;
pub mod counting;
pub mod timeline;
pub mod charting;
pub mod candidates;
pub mod evidence;
pub mod explain;
pub mod verdict;
pub mod infer;
