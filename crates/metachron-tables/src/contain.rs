//! Keeps a panic of a library that reads damaged bytes from ending the program.

use std::cell::Cell;
use std::panic::{AssertUnwindSafe, catch_unwind, set_hook, take_hook};
use std::sync::Once;

thread_local! {
    static CONTAINED: Cell<bool> = const { Cell::new(false) };
}

/// What `work` gives, or nothing if it panics; the panic's message is not printed.
///
/// What `work` has borrowed must not be used after a panic, unless it was only read.
pub fn contained<T>(work: impl FnOnce() -> T) -> Option<T> {
    static QUIET: Once = Once::new();
    QUIET.call_once(|| {
        let usual = take_hook();
        set_hook(Box::new(move |panic| {
            if !CONTAINED.get() {
                usual(panic);
            }
        }));
    });
    CONTAINED.set(true);
    let result = catch_unwind(AssertUnwindSafe(work));
    CONTAINED.set(false);
    result.ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_panic_is_an_absence() {
        let [first, ..] = [1_u8; 2];
        assert_eq!(contained(|| first + 1), Some(2));
        let empty: Vec<u8> = Vec::new();
        assert_eq!(contained(|| empty[usize::from(first)]), None);
    }
}
