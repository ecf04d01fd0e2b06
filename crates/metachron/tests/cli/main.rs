//! t
fn main() {}
