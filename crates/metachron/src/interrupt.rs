//! The wish to stop: noted, so that what is half written can go before the program does.

use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, OnceLock};

#[cfg(unix)]
use signal_hook::consts;

static ASKED: OnceLock<Arc<AtomicBool>> = OnceLock::new();

/// Notes from now on that the user or the system asks the program to stop; asked twice, it stops at once.
pub fn heed() {
    let asked = ASKED.get_or_init(|| Arc::new(AtomicBool::new(false)));
    #[cfg(unix)]
    for signal in [consts::SIGHUP, consts::SIGINT, consts::SIGTERM] {
        // What cannot be noted stops the program as usual.
        let _ = signal_hook::flag::register_conditional_shutdown(signal, 1, Arc::clone(asked));
        let _ = signal_hook::flag::register(signal, Arc::clone(asked));
    }
    #[cfg(not(unix))]
    let _ = asked;
}

/// Whether the program was asked to stop.
pub fn interrupted() -> bool {
    ASKED.get().is_some_and(|asked| asked.load(Ordering::Relaxed))
}
