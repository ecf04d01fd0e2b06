//! PostgreSQL: how to reach a server, with the password from where it belongs and in no message.

use std::fs::File;
use std::io::Seek;

use postgres::{Client, Config};

use crate::address::{Address, Secrets, quoted};
use crate::encryption::{encryption, unverified};
use crate::error::TableError;
use crate::place::temporary_file;
use crate::wanted::Selected;

/// Connects; the password comes from the address, else from the environment, the password file or whoever is asked.
///
/// # Errors
/// Why not, without any password.
pub fn connect(address: &Address, secrets: &Secrets) -> Result<Client, TableError> {
    let (place, wish) = address.parts();
    let no_address = |_| TableError::Database(format!("{address} is no address"));
    let mut config: Config = place.parse().map_err(no_address)?;
    let (mode, encryption) = encryption(&wish.or(&secrets.encryption))?;
    config.ssl_mode(mode);
    if config.get_password().is_none() {
        let found = secrets.password.clone().or_else(|| from_file(&config, secrets));
        if let Some(password) = found {
            config.password(password);
        }
    }
    let mut connected = config.connect(encryption.clone());
    if connected.as_ref().is_err_and(is_password_missing)
        && let Some(password) = secrets.prompt.as_ref().and_then(|own| own.password(address))
    {
        connected = config.password(password).connect(encryption);
    }
    let refused = |error: postgres::Error| TableError::Database(says(&error));
    let mut client = connected.map_err(refused)?;
    let settings = "SET datestyle TO ISO; SET timezone TO 'UTC'; SET intervalstyle TO iso_8601";
    client.batch_execute(settings).map_err(refused)?;
    Ok(client)
}

/// Whether the server asks for a password and there is none.
fn is_password_missing(error: &postgres::Error) -> bool {
    std::error::Error::source(error).is_some_and(|cause| cause.to_string() == "password missing")
}

/// What a table or a query gives, as text with commas under the names of its columns, in a temporary file: so both
/// looks at it see the same rows.
///
/// # Errors
/// If the server cannot be reached, or there is no such table.
pub fn spool(
    address: &Address,
    selected: Option<&Selected>,
    secrets: &Secrets,
) -> Result<File, TableError> {
    let refused = |error: postgres::Error| TableError::Database(says(&error));
    let mut client = connect(address, secrets)?;
    client.batch_execute("BEGIN READ ONLY").map_err(refused)?;
    let query = match selected {
        Some(Selected::Query(query)) => query.trim().trim_end_matches(';').to_owned(),
        Some(Selected::Table(table)) => format!("SELECT * FROM {}", named(&mut client, table)?),
        None => return Err(TableError::SeveralTables(tables(&mut client)?)),
    };
    let copy = format!("COPY ({query}) TO STDOUT (FORMAT csv, HEADER)");
    let mut rows = client.copy_out(copy.as_str()).map_err(refused)?;
    let mut spool = temporary_file()?;
    std::io::copy(&mut rows, &mut spool)
        .map_err(|error| TableError::Database(error.to_string()))?;
    spool.rewind()?;
    Ok(spool)
}

fn tables(client: &mut Client) -> Result<Vec<String>, TableError> {
    let query = "SELECT c.oid::regclass::text FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace \
                 WHERE c.relkind IN ('r', 'v', 'm', 'p', 'f') AND n.nspname NOT IN ('pg_catalog', \
                 'information_schema', 'pg_toast') ORDER BY 1";
    let rows = client.query(query, &[]).map_err(|error| TableError::Database(says(&error)))?;
    Ok(rows.iter().map(|row| row.get(0)).collect())
}

/// A table as SQL names it, or which was probably meant.
fn named(client: &mut Client, table: &str) -> Result<String, TableError> {
    let parts: Vec<String> = table.split('.').map(quoted).collect();
    let name = parts.join(".");
    let found = client.query_one("SELECT to_regclass($1) IS NOT NULL", &[&name]);
    if found.map_err(|error| TableError::Database(says(&error)))?.get(0) {
        return Ok(name);
    }
    let tables = tables(client)?;
    let near = metachron_core::error::nearest(table, tables.iter().map(String::as_str));
    let hint = match near {
        Some(near) => format!("did you mean {near:?}?"),
        None => format!("it has {}", tables.join(", ")),
    };
    Err(TableError::Database(format!("it has no table {table:?}; {hint}")))
}

/// The password of the first line of the password file that is about this server.
fn from_file(config: &Config, secrets: &Secrets) -> Option<String> {
    use postgres::config::Host;
    let host = match config.get_hosts().first() {
        Some(Host::Tcp(host)) => host.clone(),
        _ => "localhost".to_owned(),
    };
    let port = config.get_ports().first().unwrap_or(&5_432).to_string();
    let user = config.get_user().unwrap_or_default();
    let database = config.get_dbname().unwrap_or(user);
    secrets.file.as_deref()?.lines().find_map(|line| {
        let fields = fields(line);
        let [own_host, own_port, own_database, own_user, password] = &fields[..] else {
            return None;
        };
        let fits = |own: &String, other: &str| own == "*" || own == other;
        let all = fits(own_host, &host)
            && fits(own_port, &port)
            && fits(own_database, database)
            && fits(own_user, user);
        all.then(|| password.clone())
    })
}

/// The fields of a line of the password file: `:` and `\` may stand behind a `\`.
fn fields(line: &str) -> Vec<String> {
    let mut fields = vec![String::new()];
    let mut rest = line.chars();
    if line.starts_with('#') {
        return fields;
    }
    while let Some(c) = rest.next() {
        match (c, fields.last_mut()) {
            (':', _) => fields.push(String::new()),
            ('\\', Some(field)) => field.extend(rest.next()),
            (c, Some(field)) => field.push(c),
            (_, None) => {}
        }
    }
    fields
}

/// What a server or the way to it says.
pub fn says(error: &postgres::Error) -> String {
    match error.as_db_error() {
        Some(error) => error.message().to_owned(),
        None if is_password_missing(error) => {
            "it asks for a password; PGPASSWORD or the password file (~/.pgpass) gives it"
                .to_owned()
        }
        None => {
            let cause = std::error::Error::source(error).map(ToString::to_string);
            let why = cause.unwrap_or_else(|| error.to_string());
            unverified(&why).unwrap_or(why)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_password_file_is_read_as_libpq_does() {
        let config: Config = "postgres://ana@db.example:5433/flyway".parse().unwrap();
        let with = |file: &str| {
            from_file(&config, &Secrets { file: Some(file.to_owned()), ..Secrets::default() })
        };
        assert_eq!(with("db.example:5433:flyway:ana:se\\:cret"), Some("se:cret".to_owned()));
        assert_eq!(with("# no\n*:*:*:bo:no\n*:*:*:ana:yes"), Some("yes".to_owned()));
        assert_eq!(with("db.example:5432:flyway:ana:no"), None);
    }
}
