//! Numbers and nouns as a sentence wants them.

/// A number with its digits grouped.
///
/// ```
/// assert_eq!(metachron_core::text::grouped(1_234_567), "1,234,567");
/// ```
pub fn grouped(number: u64) -> String {
    let digits = number.to_string();
    let mut text = String::with_capacity(digits.len() * 4 / 3);
    for (index, digit) in digits.chars().enumerate() {
        if index > 0 && (digits.len() - index).is_multiple_of(3) {
            text.push(',');
        }
        text.push(digit);
    }
    text
}

/// A number with its noun: `1 row`, `2,480 rows`.
///
/// ```
/// assert_eq!(metachron_core::text::counted(1, "value"), "1 value");
/// assert_eq!(metachron_core::text::counted(2480, "value"), "2,480 values");
/// ```
pub fn counted(number: u64, noun: &str) -> String {
    format!("{} {noun}{}", grouped(number), if number == 1 { "" } else { "s" })
}
