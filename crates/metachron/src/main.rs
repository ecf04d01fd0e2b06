//! fn main
fn main() {}
