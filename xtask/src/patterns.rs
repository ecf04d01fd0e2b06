//! Date patterns of CLDR (Unicode Technical Standard 35, Part 4, Date Format Patterns) as layouts.

/// The layout, or none if the pattern has a field that layouts lack.
///
/// `digits` says how a month's name is written where all names are its number with something
/// behind it.
pub fn layout(pattern: &str, month_suffix: Option<&str>) -> Option<String> {
    let mut out = String::new();
    let mut rest = pattern;
    while let Some(first) = rest.chars().next() {
        if first == '\'' {
            rest = quoted(&rest[1..], &mut out)?;
        } else if first.is_ascii_alphabetic() {
            let length = rest.chars().take_while(|c| *c == first).count();
            let field = match (first, length) {
                ('y', 2) => "{year:2}",
                ('y', _) => "{year}",
                ('M' | 'L', 1) => "{month}",
                ('M' | 'L', 2) => "{month:02}",
                ('M' | 'L', 3 | 4) => match month_suffix {
                    Some(suffix) => {
                        out.push_str("{month}");
                        literal(suffix, &mut out);
                        ""
                    }
                    None if length == 3 => "{month:short}",
                    None => "{month:name}",
                },
                ('d', 1) => "{day}",
                ('d', 2) => "{day:02}",
                ('E' | 'c', 1..=3) => "{weekday:short}",
                ('E' | 'c', 4) => "{weekday}",
                ('G', _) => "{era}",
                ('H', 1) => "{hour}",
                ('H', 2) => "{hour:02}",
                ('h', 1) => "{hour:12}",
                ('h', 2) => "{hour:12:02}",
                ('m', _) => "{minute}",
                ('s', _) => "{second}",
                ('a' | 'b' | 'B', _) => "{ampm}",
                _ => return None,
            };
            out.push_str(field);
            rest = &rest[length..];
        } else {
            literal(&rest[..first.len_utf8()], &mut out);
            rest = &rest[first.len_utf8()..];
        }
    }
    Some(out.trim().to_owned())
}

/// Text in quotes, of which the first is taken already; gives what stands behind the last. Two
/// quotes are one that is meant, inside and outside of others.
fn quoted<'p>(mut rest: &'p str, out: &mut String) -> Option<&'p str> {
    if let Some(after) = rest.strip_prefix('\'') {
        literal("'", out);
        return Some(after);
    }
    loop {
        let (text, after) = rest.split_once('\'')?;
        literal(text, out);
        match after.strip_prefix('\'') {
            Some(more) => {
                literal("'", out);
                rest = more;
            }
            None => return Some(after),
        }
    }
}

/// Text as a layout has it: no marks of direction, one kind of space, brackets doubled.
fn literal(text: &str, out: &mut String) {
    let mut buffer = String::new();
    for c in text.chars() {
        let mut utf8 = [0; 4];
        let plain = match c {
            _ if c.is_whitespace() => " ",
            // A mark of its own, not at the edge of a value that is trimmed.
            _ => metachron_core::text::normalise(c.encode_utf8(&mut utf8), &mut buffer),
        };
        for c in plain.chars() {
            if "{}[]".contains(c) {
                out.push(c);
            }
            out.push(c);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::layout;

    #[test]
    fn patterns_become_layouts() {
        for (pattern, suffix, expected) in [
            ("EEEE, d 'de' MMMM 'de' y", None, Some("{weekday}, {day} de {month:name} de {year}")),
            ("dd/MM/yy", None, Some("{day:02}/{month:02}/{year:2}")),
            ("d 'o''clock'", None, Some("{day} o'clock")),
            ("y年M月d日", None, Some("{year}年{month}月{day}日")),
            ("MMMM d", Some("月"), Some("{month}月 {day}")),
            ("h:mm a", None, Some("{hour:12}:{minute} {ampm}")),
            ("'{'y", None, Some("{{{year}")),
            ("Bh:mm", None, Some("{ampm}{hour:12}:{minute}")),
            ("HH:mm zzzz", None, None),
        ] {
            assert_eq!(layout(pattern, suffix).as_deref(), expected, "{pattern}");
        }
    }
}
