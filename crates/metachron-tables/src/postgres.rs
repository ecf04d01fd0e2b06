//! PostgreSQL: how to reach a server, with the password from where it belongs and in no message.

use postgres::{Client, Config, NoTls};

use crate::address::shown_address;
use crate::deliver::Secrets;

/// Connects; the password comes from the address, else from the environment, else from the password file.
///
/// # Errors
/// Why not, without any password.
pub fn connect(address: &str, secrets: &Secrets) -> Result<Client, String> {
    let mut config: Config =
        address.parse().map_err(|_| format!("{} is no address", shown_address(address)))?;
    if config.get_password().is_none() {
        let found = secrets.password.clone().or_else(|| from_file(&config, secrets));
        if let Some(password) = found {
            config.password(password);
        }
    }
    let mut client = config.connect(NoTls).map_err(|error| says(&error))?;
    let settings = "SET datestyle TO ISO; SET timezone TO 'UTC'; SET intervalstyle TO iso_8601";
    client.batch_execute(settings).map_err(|error| says(&error))?;
    Ok(client)
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
        None => {
            let cause = std::error::Error::source(error).map(ToString::to_string);
            cause.unwrap_or_else(|| error.to_string())
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
            from_file(&config, &Secrets { password: None, file: Some(file.to_owned()) })
        };
        assert_eq!(with("db.example:5433:flyway:ana:se\\:cret"), Some("se:cret".to_owned()));
        assert_eq!(with("# no\n*:*:*:bo:no\n*:*:*:ana:yes"), Some("yes".to_owned()));
        assert_eq!(with("db.example:5432:flyway:ana:no"), None);
    }
}
