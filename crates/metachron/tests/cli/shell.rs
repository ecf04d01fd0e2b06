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
    bench.run("manual --dir pages/man1").stderr("12 manual pages in pages/man1\n").check();
    let program = bench.read("pages/man1/metachron.1");
    for command in COMMANDS {
        assert!(program.contains(&format!("metachron\\-{command}(1)")), "{command}");
        let page = bench.read(&format!("pages/man1/metachron-{command}.1"));
        let help = bench.command(&format!("{command} --help")).output().unwrap();
        let help = String::from_utf8(help.stdout).unwrap();
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

/// The examples of the help run on the data of the demo.
#[test]
fn examples_work() {
    let bench = Bench::new();
    assert!(bench.command("demo --dir .").output().unwrap().status.success());
    let mut run = 0;
    for command in ["survey", "explain", "convert", "check", "count", "list"] {
        let help = bench.command(&format!("{command} -h")).output().unwrap();
        let help = String::from_utf8(help.stdout).unwrap();
        let (_, examples) = help.split_once("Examples:\n").unwrap();
        let examples = examples.split("\n\n").next().unwrap();
        // A long one goes on in the next line.
        let lines = examples.split("  metachron ").skip(1);
        for line in lines.map(|line| line.split_whitespace().collect::<Vec<_>>().join(" ")) {
            let output = bench.command(&line).output().unwrap();
            let status = output.status.code().unwrap();
            let told = String::from_utf8_lossy(&output.stderr);
            assert!(matches!(status, 0 | 3 | 4), "{line}: {told}");
            run += 1;
        }
    }
    assert_eq!(run, 18);
}
