//! The map of the house is true. In every crate, and in every room of it, a file uses only what is declared above it:
//! the lists of `mod` in `lib.rs`, `main.rs` and `mod.rs` are the map. So no files use each other in a circle.
#![allow(clippy::unwrap_used, clippy::disallowed_methods)]

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

/// A module, by its path in the crate: `["verdict", "odds"]`.
type Module = Vec<String>;

/// The files of a crate.
#[derive(Default)]
struct House {
    /// The code of each, without tests and comments.
    code: BTreeMap<Module, String>,
    /// The modules that each declares, in that order.
    rooms: BTreeMap<Module, Vec<String>>,
    /// The names that a module hands on, with what they stand for.
    handed_on: BTreeMap<(Module, String), Vec<String>>,
}

fn files(dir: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(dir).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() { files(&path, found) } else { found.push(path) }
    }
}

/// What is no test and no comment.
fn code(text: &str) -> String {
    let code = text.split("\n#[cfg(test)]\nmod ").next().unwrap();
    let code = code.lines().map(|line| match line.trim_start().starts_with("//") {
        true => "",
        false => line.split(" // ").next().unwrap(),
    });
    code.collect::<Vec<_>>().join("\n")
}

impl House {
    fn of(src: &Path) -> House {
        let mut house = House::default();
        let mut all = Vec::new();
        files(src, &mut all);
        for path in all.iter().filter(|path| path.extension().is_some_and(|e| e == "rs")) {
            let inside = path.strip_prefix(src).unwrap().with_extension("");
            let mut module: Module =
                inside.iter().map(|part| part.to_str().unwrap().to_owned()).collect();
            if matches!(module.last().map(String::as_str), Some("mod" | "lib" | "main")) {
                module.pop();
            }
            house.code.insert(module, code(&fs::read_to_string(path).unwrap()));
        }
        for (module, code) in &house.code {
            let declared = code.lines().filter_map(|line| {
                let line =
                    line.strip_prefix("pub(crate) ").or(line.strip_prefix("pub ")).unwrap_or(line);
                line.strip_prefix("mod ")?.strip_suffix(';').map(str::to_owned)
            });
            house.rooms.insert(module.clone(), declared.collect());
        }
        // What only tests declare is a test.
        let rooms = &house.rooms;
        house.code.retain(|module, _| match module.split_last() {
            Some((name, room)) => rooms.get(room).is_some_and(|own| own.contains(name)),
            None => true,
        });
        for (module, code) in &house.code {
            for (at, _) in code.match_indices("use ") {
                let line = code[..at].rsplit('\n').next().unwrap();
                if !line.starts_with("pub") {
                    continue;
                }
                for mut path in tree(&code[at + 4..code[at..].find(';').unwrap() + at]) {
                    let own = &house.rooms[module];
                    if own.contains(&path[0]) {
                        path.splice(0..0, module.iter().cloned());
                    } else if !house.turn(module, &mut path) {
                        continue;
                    }
                    let name = path.last().unwrap().clone();
                    house.handed_on.insert((module.clone(), name), path);
                }
            }
        }
        house
    }

    /// Makes a path begin at the crate; false if it is about another one.
    fn turn(&self, module: &Module, path: &mut Vec<String>) -> bool {
        let mut base = match path[0].as_str() {
            "crate" => Vec::new(),
            "self" => module.clone(),
            "super" => module[..module.len() - 1].to_vec(),
            _ => return false,
        };
        path.remove(0);
        while path.first().is_some_and(|first| first == "super") {
            base.pop();
            path.remove(0);
        }
        path.splice(0..0, base);
        true
    }

    /// The file that a path leads to.
    fn file(&self, path: &[String]) -> Module {
        let mut module = Module::new();
        for (at, part) in path.iter().enumerate() {
            module.push(part.clone());
            if self.code.contains_key(&module) {
                continue;
            }
            module.pop();
            if let Some(target) = self.handed_on.get(&(module.clone(), part.clone()))
                && target[..] != path[..=at]
            {
                return self.file(&[target.as_slice(), &path[at + 1..]].concat());
            }
            break;
        }
        module
    }

    /// The files that a file uses; what it only hands on is used by others.
    fn uses(&self, module: &Module) -> BTreeSet<Module> {
        let code = &self.code[module];
        let children = self.rooms[module].iter().map(String::as_str);
        let begins: Vec<String> = ["crate", "super", "self"]
            .into_iter()
            .chain(children)
            .map(|b| format!("{b}::"))
            .collect();
        let mut used = BTreeSet::new();
        for begin in &begins {
            for (at, _) in code.match_indices(begin.as_str()) {
                let before = code[..at].chars().next_back().unwrap_or(' ');
                if before.is_alphanumeric() || matches!(before, '_' | ':' | '"') {
                    continue;
                }
                let line = code[..at].rsplit('\n').next().unwrap();
                if line.starts_with("pub") && line.ends_with("use ") {
                    continue;
                }
                for mut path in tree(&code[at..]) {
                    if !self.turn(module, &mut path) {
                        path.splice(0..0, module.iter().cloned());
                    }
                    used.insert(self.file(&path));
                }
            }
        }
        used.remove(module);
        used
    }

    /// Whether the list of `mod` where the two part ways has the used one above the user.
    fn is_above(&self, used: &Module, user: &Module) -> bool {
        let shared = used.iter().zip(user).take_while(|(one, other)| one == other).count();
        let (Some(one), Some(other)) = (used.get(shared), user.get(shared)) else {
            // A room's own file: whether the two go in a circle is looked at for itself.
            return true;
        };
        let room = &self.rooms[&user[..shared].to_vec()];
        let rank = |name: &String| room.iter().position(|own| own == name);
        rank(one).unwrap() < rank(other).unwrap()
    }
}

/// The paths of a `use` tree, or the single path of an expression.
fn tree(text: &str) -> Vec<Vec<String>> {
    let is_name = |c: char| c.is_alphanumeric() || c == '_';
    let mut path = Vec::new();
    let mut rest = text;
    loop {
        let end = rest.find(|c: char| !is_name(c)).unwrap_or(rest.len());
        if end == 0 {
            break;
        }
        path.push(rest[..end].to_owned());
        rest = &rest[end..];
        match rest.strip_prefix("::") {
            Some(after) => rest = after,
            None => return vec![path],
        }
    }
    let Some(inside) = rest.strip_prefix('{') else { return vec![path] };
    let (mut depth, mut from, mut all) = (0, 0, Vec::new());
    for (at, c) in inside.char_indices() {
        let is_end = c == '}' && depth == 0;
        if (c == ',' && depth == 0) || is_end {
            let part = inside[from..at].trim();
            from = at + 1;
            if part == "self" {
                all.push(path.clone());
            } else if !part.is_empty() {
                all.extend(tree(part).into_iter().map(|own| [path.clone(), own].concat()));
            }
        }
        match c {
            '{' => depth += 1,
            '}' if is_end => break,
            '}' => depth -= 1,
            _ => {}
        }
    }
    all
}

fn shown(module: &Module) -> String {
    if module.is_empty() { "the root".to_owned() } else { module.join("/") }
}

/// What is wrong with the map of a crate.
fn faults(name: &str) -> Vec<String> {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(name).join("src");
    let house = House::of(&src);
    let mut uses: BTreeMap<Module, BTreeSet<Module>> =
        house.code.keys().map(|module| (module.clone(), house.uses(module))).collect();
    let all: usize = uses.values().map(BTreeSet::len).sum();
    assert!(all > house.code.len(), "{name}: found only {all} uses: is the search still right?");
    // A room's own file is its front: those inside use what it holds, and it uses them.
    for (module, used) in &mut uses {
        used.retain(|other| !module.starts_with(other));
    }
    let mut faults = Vec::new();
    for (module, used) in &uses {
        for other in used.iter().filter(|other| !house.is_above(other, module)) {
            let (module, other) = (shown(module), shown(other));
            faults.push(format!("{name}: {module} uses {other}, which is declared below it"));
        }
    }
    // Files that use none that are left are taken away, again and again: circles remain.
    while let Some(done) = uses.iter().find(|(_, used)| used.is_empty()).map(|(m, _)| m.clone()) {
        uses.remove(&done);
        uses.values_mut().for_each(|used| {
            used.remove(&done);
        });
    }
    let circle: Vec<String> = uses
        .iter()
        .map(|(m, used)| {
            let used: Vec<String> = used.iter().map(shown).collect();
            format!("{} -> {}", shown(m), used.join(", "))
        })
        .collect();
    if !circle.is_empty() {
        faults.push(format!("{name}: in circles, or using what is: {}", circle.join("; ")));
    }
    faults
}

#[test]
fn files_use_only_those_above_them() {
    let faults: Vec<String> =
        ["metachron-core", "metachron-tables", "metachron"].into_iter().flat_map(faults).collect();
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn paths_are_found_in_trees() {
    let paths = |text| tree(text).iter().map(|path| path.join("::")).collect::<Vec<_>>();
    assert_eq!(paths("crate::a::B;"), ["crate::a::B"]);
    assert_eq!(paths("crate::{a::{self, B}, c}"), ["crate::a", "crate::a::B", "crate::c"]);
    assert_eq!(paths("super::f(x)"), ["super::f"]);
    assert_eq!(paths("super::*"), ["super"]);
}
