//! A PostgreSQL server of its own for the test, started from Debian's package, where it is installed.

use std::fs;
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::Command;

use crate::ask::at_a_prompt;
use crate::harness::Bench;

/// A server in a temporary folder; it stops with the test.
struct Server {
    folder: tempfile::TempDir,
    bin: PathBuf,
    port: u16,
}

/// The folder of the newest installed server.
fn installed() -> Option<PathBuf> {
    let versions = fs::read_dir("/usr/lib/postgresql").ok()?.flatten();
    let bins = versions.map(|version| version.path().join("bin"));
    bins.filter(|bin| bin.join("initdb").exists()).max()
}

/// A command as a user who may run a server: not as root.
fn unprivileged(program: &Path) -> Command {
    if rustix::process::getuid().is_root() {
        let mut command = Command::new("runuser");
        command.args(["-u", "postgres", "--"]).arg(program);
        return command;
    }
    Command::new(program)
}

fn run(command: &mut Command) {
    let output = command.output().unwrap();
    assert!(output.status.success(), "{command:?}: {}", String::from_utf8_lossy(&output.stderr));
}

impl Server {
    fn start() -> Option<Server> {
        Server::start_with(None)
    }

    /// A server with a certificate for these names, which it has signed itself.
    fn with_certificate(names: &str) -> Option<Server> {
        Server::start_with(Some(names))
    }

    fn start_with(names: Option<&str>) -> Option<Server> {
        let bin = installed()?;
        let folder = tempfile::tempdir().unwrap();
        // A port that is free now.
        let port = TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().port();
        let server = Server { folder, bin, port };
        let root = server.folder.path();
        fs::write(root.join("secret"), "wing:span\n").unwrap();
        let (certificate, key) = (root.join("server.crt"), root.join("server.key"));
        if let Some(names) = names {
            run(Command::new("openssl")
                .args([
                    "req",
                    "-x509",
                    "-newkey",
                    "rsa:2048",
                    "-nodes",
                    "-days",
                    "30",
                    "-subj",
                    "/CN=flyway",
                ])
                .args(["-addext", &format!("subjectAltName={names}"), "-keyout"])
                .args([&key, Path::new("-out"), &certificate]));
        }
        if rustix::process::getuid().is_root() {
            run(Command::new("chown").args(["-R", "postgres"]).arg(root));
        }
        let data = root.join("data");
        run(unprivileged(&server.bin.join("initdb"))
            .current_dir("/")
            .args(["-A", "scram-sha-256", "-U", "ana", "-E", "UTF8", "--no-sync"])
            .arg(format!("--pwfile={}", root.join("secret").display()))
            .arg("-D")
            .arg(&data));
        let mut options = format!("-h 127.0.0.1 -p {port} -k {} -F", root.display());
        if names.is_some() {
            let (certificate, key) = (certificate.display(), key.display());
            options += &format!(" -c ssl=on -c ssl_cert_file={certificate} -c ssl_key_file={key}");
        }
        run(unprivileged(&server.bin.join("pg_ctl"))
            .current_dir("/")
            .args(["-w", "-s", "-o", &options, "-l"])
            .arg(root.join("log"))
            .arg("-D")
            .arg(&data)
            .arg("start")
            .stdout(std::process::Stdio::null()));
        Some(server)
    }

    /// The address without a password.
    fn address(&self) -> String {
        format!("postgres://ana@127.0.0.1:{}/postgres", self.port)
    }

    fn client(&self) -> postgres::Client {
        let address = self.address().replace("ana@", "ana:wing%3Aspan@");
        postgres::Client::connect(&address, postgres::NoTls).unwrap()
    }
}

/// The server, or none where the test may be left out.
fn installed_server(server: Option<Server>) -> Option<Server> {
    if server.is_none() {
        assert!(std::env::var_os("CI").is_none(), "CI must have a PostgreSQL server");
        println!("SKIPPED: no PostgreSQL server is installed here");
    }
    server
}

/// Whether the connection is encrypted is what this asks.
const ENCRYPTED: &str = "--query 'SELECT ssl AS encrypted, text $$2024-05-13$$ AS seen FROM pg_stat_ssl WHERE pid = pg_backend_pid()' --quiet";

#[test]
fn a_connection_is_encrypted_and_its_server_verified() {
    let Some(server) = installed_server(Server::with_certificate("IP:127.0.0.1")) else { return };
    let bench = Bench::new();
    let certificate = std::fs::read(server.folder.path().join("server.crt")).unwrap();
    bench.write("own.pem", &certificate);
    bench.write("empty.pem", "no certificate\n");
    let address = server.address();
    let by_name = address.replace("127.0.0.1", "localhost");
    let asks = |address: &str, parameters: &str| {
        bench
            .run(&format!("convert '{address}{parameters}' {ENCRYPTED}"))
            .env("PGPASSWORD", "wing:span")
            .env("HOME", "/nowhere")
    };
    let yes = "encrypted,seen,seen_typed\nt,2024-05-13,2024-05-13\n";
    // It is verified unless somebody says otherwise.
    let unknown = "its certificate cannot be verified: nobody who is trusted has signed it; sslrootcert=FILE in the address names the \
                   certificates that it is signed by, sslmode=require encrypts without verifying, and sslmode=disable \
                   does not encrypt";
    asks(&address, "").status(1).stderr_has(&[unknown]).check();
    asks(&address, "?sslmode=verify-ca&sslrootcert=system")
        .status(1)
        .stderr_has(&[unknown])
        .check();
    asks(&address, "?sslrootcert=own.pem").stdout(yes).check();
    asks(&address, "?sslrootcert=own%2Epem&sslmode=verify-full&application_name=ring")
        .stdout(yes)
        .check();
    asks(&address, "").env("PGSSLROOTCERT", "own.pem").stdout(yes).check();
    for mode in ["allow", "prefer", "require"] {
        asks(&address, &format!("?sslmode={mode}")).stdout(yes).check();
        asks(&address, "").env("PGSSLMODE", mode).stdout(yes).check();
    }
    asks(&address, "?sslmode=disable")
        .env("PGSSLMODE", "require")
        .stdout("encrypted,seen,seen_typed\nf,2024-05-13,2024-05-13\n")
        .check();
    // The certificate is of this server under one name, and not under the other.
    asks(&by_name, "?sslrootcert=own.pem")
        .status(1)
        .stderr_has(&["cannot be verified: it is that of another host"])
        .check();
    asks(&by_name, "?sslmode=require&sslrootcert=own.pem").stdout(yes).check();
    asks(&by_name, "?sslmode=verify-ca&sslrootcert=own.pem").stdout(yes).check();
    for (parameters, says) in [
        ("?sslmode=perhaps", "sslmode is \"perhaps\", and none of disable, allow, prefer, require"),
        ("?sslrootcert=none.pem", "the certificates in none.pem cannot be read"),
        ("?sslrootcert=empty.pem", "the certificates in empty.pem cannot be read: it has none"),
    ] {
        asks(&address, parameters).status(1).stderr_has(&[says]).check();
    }
    // What is written goes the same way, and so do the suggestions.
    bench.write("a.csv", "seen\n13/05/2024\n14/05/2024\n");
    let with = |line: &str| bench.run(line).env("PGPASSWORD", "wing:span").env("HOME", "/nowhere");
    with(&format!("convert a.csv -o {address} --into-table finds"))
        .status(1)
        .stderr_has(&[unknown])
        .check();
    with(&format!("convert a.csv -o '{address}?sslrootcert=own.pem' --into-table finds"))
        .stderr_has(&["2 rows"])
        .check();
}

#[test]
fn a_server_without_a_certificate_is_not_encrypted_unless_it_must_be() {
    let Some(server) = installed_server(Server::start()) else { return };
    let bench = Bench::new();
    let asks = |parameters: &str| {
        bench
            .run(&format!("convert '{}{parameters}' {ENCRYPTED}", server.address()))
            .env("PGPASSWORD", "wing:span")
            .env("HOME", "/nowhere")
    };
    asks("").stdout("encrypted,seen,seen_typed\nf,2024-05-13,2024-05-13\n").check();
    for mode in ["require", "verify-full"] {
        asks(&format!("?sslmode={mode}"))
            .status(1)
            .stderr_has(&["server does not support TLS"])
            .check();
    }
}

#[test]
fn a_password_that_stands_nowhere_is_asked_for() {
    let Some(server) = installed_server(Server::start()) else { return };
    let bench = Bench::new();
    let line = format!("survey {} --query 'SELECT 1 AS n'", server.address());
    let asked = format!("password for {}: ", server.address());
    let said = at_a_prompt(&bench, &line, &asked, "wing:span\n");
    assert!(said.starts_with(&asked) && said.contains("1 row"), "{said}");
    assert!(!said.contains("span"), "it is not shown: {said}");
    assert_eq!(said.matches("password for").count(), 1, "it is asked for once: {said}");
    let said = at_a_prompt(&bench, &line, &asked, "wrong\n");
    assert!(said.contains("password authentication failed"), "{said}");
    // Whoever stops it instead stops it.
    let said = at_a_prompt(&bench, &line, &asked, "win\u{3}");
    assert!(said.contains("it asks for a password"), "{said}");
    // Nobody is there to be asked.
    bench
        .run(&line)
        .env("HOME", "/nowhere")
        .status(1)
        .stderr_has(&[
            "it asks for a password; PGPASSWORD or the password file (~/.pgpass) gives it",
        ])
        .check();
}

/// What is said of an address that has its password with it.
const WARNING: &str = "metachron: the password stands in the command line, where others on this machine can see it; PGPASSWORD \
     and the password file (~/.pgpass) keep it to yourself\n";

impl Drop for Server {
    fn drop(&mut self) {
        let mut stop = unprivileged(&self.bin.join("pg_ctl"));
        let data = self.folder.path().join("data");
        let _ = stop
            .current_dir("/")
            .args(["-s", "-m", "immediate", "-D"])
            .arg(data)
            .arg("stop")
            .output();
    }
}

const TABLE: &str = "ring,captured,logged,clock,effort,old,n\n\
    LF1,13/05/2024,2024-05-13T10:15:30.25Z,10:15,1 h 30 min,0001-01-01T00:00:00,1\n\
    LF2,03/04/2024,2024-04-03T08:00:00+01:00,07:05,1 year 2 months,9999-12-31T23:59:59.999999,2\n\
    \"L\\F\t3\",14/05/2024,,,,2024-03-01T00:00:00,3\nLF4,28/02/2024,1969-12-31T23:59:59Z,23:59,45 min,2024-02-29T12:00:00,4\n";

#[test]
fn a_server_gets_typed_columns_in_one_transaction() {
    let Some(server) = installed_server(Server::start()) else { return };
    let bench = Bench::with("a.csv", TABLE);
    let address = server.address();
    let line =
        format!("convert a.csv --infer-types --keep-placeholders -o {address} --into-table finds");
    // Without a password, and with a wrong one.
    let said = bench
        .run(&line)
        .env("PGPASSFILE", "/nowhere")
        .status(1)
        .stderr_has(&["cannot be written"])
        .check();
    assert!(!said.contains("wing"));
    bench
        .run(&line)
        .env("PGPASSWORD", "wrong")
        .status(1)
        .stderr_has(&["password authentication failed"])
        .check();
    let said = bench
        .run(&line.replace("ana@", "ana:secret@"))
        .status(1)
        .stderr_has(&[&format!("{address} cannot be written: password authentication failed")])
        .check();
    assert!(!said.contains("secret"), "{said}");
    // From the environment.
    bench
        .run(&line)
        .env("PGPASSWORD", "wing:span")
        .stderr_has(&["postgres://ana@127.0.0.1"])
        .check();
    let mut client = server.client();
    let types: Vec<String> = client
        .query(
            "SELECT data_type FROM information_schema.columns WHERE table_name = 'finds' ORDER BY ordinal_position",
            &[],
        )
        .unwrap()
        .iter()
        .map(|row| row.get(0))
        .collect();
    assert_eq!(
        types,
        [
            "text",
            "text",
            "date",
            "text",
            "timestamp with time zone",
            "text",
            "time without time zone",
            "text",
            "interval",
            "text",
            "timestamp without time zone",
            "bigint"
        ]
    );
    client.batch_execute("SET timezone TO 'UTC'; SET intervalstyle TO iso_8601").unwrap();
    let rows: Vec<[Option<String>; 6]> = client
        .query(
            "SELECT ring, captured_typed::text, logged_typed::text, clock_typed::text, effort_typed::text, \
             old_typed::text FROM finds ORDER BY n",
            &[],
        )
        .unwrap()
        .iter()
        .map(|row| std::array::from_fn(|at| row.get(at)))
        .collect();
    let expected = [
        [
            "LF1",
            "2024-05-13",
            "2024-05-13 10:15:30.25+00",
            "10:15:00",
            "PT1H30M",
            "0001-01-01 00:00:00",
        ],
        [
            "LF2",
            "2024-04-03",
            "2024-04-03 07:00:00+00",
            "07:05:00",
            "P1Y2M",
            "9999-12-31 23:59:59.999999",
        ],
        ["L\\F\t3", "2024-05-14", "", "", "", "2024-03-01 00:00:00"],
        ["LF4", "2024-02-28", "1969-12-31 23:59:59+00", "23:59:00", "PT45M", "2024-02-29 12:00:00"],
    ];
    let expected = expected.map(|row| row.map(|text| (!text.is_empty()).then(|| text.to_owned())));
    assert_eq!(rows, expected);
    // From the password file; what is there is not touched unless that is said.
    bench.write("pass", "# servers\n*:*:*:bo:no\n127.0.0.1:*:postgres:ana:wing\\:span\n");
    let count = |client: &mut postgres::Client| -> i64 {
        client.query_one("SELECT count(*) FROM finds", &[]).unwrap().get(0)
    };
    let with_file = |line: &str| bench.run(line).env("PGPASSFILE", "pass");
    with_file(&line).status(1).stderr_has(&["it has a table \"finds\" already"]).check();
    assert_eq!(count(&mut client), 4);
    with_file(&format!("{line} --existing-table append")).stderr_has(&["4 rows"]).check();
    assert_eq!(count(&mut client), 8);
    with_file(&format!("{line} --existing-table replace")).stderr_has(&["4 rows"]).check();
    assert_eq!(count(&mut client), 4);
    // What fails leaves the table as it was: here a column that it does not have.
    bench.write("wide.csv", "seen,n\n13/05/2024,1\n14/05/2024,2\n");
    with_file(&format!("convert wide.csv -o {address} --into-table finds --existing-table append"))
        .status(1)
        .stderr_has(&["column \"seen\" of relation \"finds\" does not exist"])
        .check();
    assert_eq!(count(&mut client), 4);
    // What was written is read again, and nothing is open.
    with_file(&line.replace("finds", "again")).stderr_has(&["4 rows"]).check();
    for (name, kind) in [
        ("captured_typed", "date"),
        ("logged_typed", "instant"),
        ("clock_typed", "time"),
        ("effort_typed", "duration"),
    ] {
        bench
            .run(&format!("survey {address} --table again --column {name}"))
            .env("PGPASSFILE", "pass")
            .stdout_has(&[&format!("{name}   {kind}, decided"), "postgres://ana@127.0.0.1"])
            .check();
    }
    let query = "--query 'SELECT ring, captured AS seen FROM finds WHERE n < 4 ORDER BY n;'";
    bench
        .run(&format!("convert {} {query} --quiet", address.replace("ana@", "ana:wing%3Aspan@")))
        .stdout("ring,seen,seen_typed\nLF1,13/05/2024,2024-05-13\nLF2,03/04/2024,2024-04-03\nL\\F\t3,14/05/2024,2024-05-14\n")
        .stderr(WARNING)
        .check();
    // Suggestions say how to reach the server, and not the password.
    client
        .batch_execute(
            "CREATE TABLE open (seen text); INSERT INTO open VALUES ('03/04/2024'), ('05/06/2024')",
        )
        .unwrap();
    let said = bench
        .run(&format!("survey {} --table open", address.replace("ana@", "ana:wing%3Aspan@")))
        .stdout_has(&[&format!(
            "metachron convert {address} --table open --set 'seen: order=dmy' -o table.out.csv"
        )])
        .stderr(WARNING)
        .check();
    assert!(!said.contains("wing"), "{said}");
    for (options, says) in [
        ("", "name what to read by --table or --query; it has again, finds, open"),
        ("--table find", "it has no table \"find\"; did you mean \"finds\"?"),
        ("--query 'DELETE FROM finds RETURNING n'", "cannot be read"),
    ] {
        with_file(&format!("survey {address} {options}")).status(1).stderr_has(&[says]).check();
    }
    assert_eq!(count(&mut client), 4);
    a_thousand_rows_are_the_same(&server, &bench, &mut client);
}

/// Rows from the first year to the last, a tenth of the cells missing.
fn a_thousand_rows_are_the_same(server: &Server, bench: &Bench, client: &mut postgres::Client) {
    let mut table = String::from("n,day,clock,at,length\n");
    let mut expected: Vec<[Option<String>; 4]> = Vec::new();
    for row in 0..1_000_u64 {
        // SplitMix64, so that every run has the same rows.
        let mut z = (row + 1).wrapping_mul(0x9E37_79B9_7F4A_7C15);
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z ^= z >> 27;
        let year = match row {
            0 => 1,
            1 => 9_998,
            _ => 1 + z % 9_998,
        };
        let day = format!("{year:04}-{:02}-{:02}", 1 + z / 7 % 12, 1 + z / 11 % 28);
        let clock = format!("{:02}:{:02}:{:02}", z / 13 % 24, z / 17 % 60, z / 19 % 60);
        let (micros, millis) = (1 + z / 23 % 999_999, 1 + z / 29 % 999);
        let fraction = |text: String| format!(".{}", text.trim_end_matches('0'));
        let (micros, millis) = (fraction(format!("{micros:06}")), fraction(format!("{millis:03}")));
        let length = format!("PT{}H{}M{}S", 1 + z % 900, 1 + z % 59, 1 + z % 58);
        let cells = [
            (day.clone(), day.clone()),
            (format!("{day}T{clock}{micros}"), format!("{day} {clock}{micros}")),
            (format!("{day}T{clock}{millis}Z"), format!("{day} {clock}{millis}+00")),
            (length.clone(), length),
        ];
        let is_missing = |at: usize| row > 1 && (row as usize + at).is_multiple_of(10);
        table.push_str(&row.to_string());
        for (at, (raw, _)) in cells.iter().enumerate() {
            table.push_str(&format!(",{}", if is_missing(at) { "" } else { raw }));
        }
        table.push('\n');
        let mut at = 0;
        expected.push(cells.map(|(_, own)| {
            at += 1;
            (!is_missing(at - 1)).then_some(own)
        }));
    }
    bench.write("many.csv", &table);
    let gregorian =
        ["day", "clock", "at"].map(|name| format!("--set '{name}: calendar=gregorian'"));
    let line =
        format!("convert many.csv --infer-types {} -o {}", gregorian.join(" "), server.address());
    bench.run(&line).env("PGPASSWORD", "wing:span").stderr_has(&["1,000 rows"]).check();
    let found: Vec<[Option<String>; 4]> = client
        .query("SELECT day_typed::text, clock_typed::text, at_typed::text, length_typed::text FROM many ORDER BY n", &[])
        .unwrap()
        .iter()
        .map(|row| std::array::from_fn(|at| row.get(at)))
        .collect();
    assert_eq!(found.len(), expected.len());
    for (found, expected) in found.iter().zip(&expected) {
        assert_eq!(found, expected);
    }
}
