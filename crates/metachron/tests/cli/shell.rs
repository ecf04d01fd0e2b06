//! What belongs to the shell: completions, and manual pages.

use std::process::{Command, Stdio};

use crate::harness::Bench;

const COMMANDS: [&str; 9] =
    ["survey", "explain", "convert", "check", "count", "list", "demo", "completions", "manual"];

#[test]
fn every_shell_gets_its_completions() {
    let bench = Bench::new();
    for shell in ["bash", "elvish", "fish", "powershell", "zsh"] {
        let script = bench.run(&format!("completions {shell}")).output();
        for word in COMMANDS.into_iter().chain(["written-in", "to-zone", "per"]) {
            assert!(script.contains(word), "{shell}: {word}");
        }
    }
    bench
        .run("completions tcsh")
        .status(2)
        .stderr_has(&["SHELL \"tcsh\" is none of bash, elvish, fish, powershell, zsh"])
        .check();
    // The shell that is sure to be here takes its own.
    let script = bench.run("completions bash").output();
    bench.write("a.bash", format!("set -e\n{script}\ncomplete -p metachron\n"));
    let output = Command::new("bash")
        .arg("a.bash")
        .current_dir(bench.path())
        .stderr(Stdio::inherit())
        .output();
    let text = String::from_utf8(output.unwrap().stdout).unwrap();
    assert!(text.contains("-F _metachron"), "{text}");
}

#[test]
fn every_command_has_its_manual_page() {
    let bench = Bench::new();
    bench.run("manual --dir pages/man1").stderr("10 manual pages in pages/man1\n").check();
    let program = bench.read("pages/man1/metachron.1");
    for command in COMMANDS {
        assert!(program.contains(&format!("metachron\\-{command}(1)")), "{command}");
        let page = bench.read(&format!("pages/man1/metachron-{command}.1"));
        let help = bench.run(&format!("{command} --help")).output();
        let options = help.split_whitespace().filter_map(|word| word.strip_prefix("--"));
        // Options that a sentence speaks of may be those of another command.
        let own = options.filter(|option| {
            help.lines().any(|line| {
                let line = line.trim_start();
                line.starts_with(&format!("--{option} "))
                    || line.ends_with(&format!(", --{option}"))
            })
        });
        for option in own {
            let roff = format!("\\-\\-{}", option.replace('-', "\\-"));
            assert!(page.contains(&roff), "{command} --{option}");
        }
    }
    bench.write("file", "");
    bench.run("manual --dir file/pages").status(1).stderr_has(&["file/pages"]).check();
}
