//! How a connection to a server is encrypted, and how its server is verified (libpq, SSL Support).

use std::path::Path;
use std::sync::Arc;

use postgres::config::SslMode;
use rustls::client::WebPkiServerVerifier;
use rustls::client::danger::{HandshakeSignatureValid, ServerCertVerified, ServerCertVerifier};
use rustls::crypto::{CryptoProvider, verify_tls12_signature, verify_tls13_signature};
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, ServerName, UnixTime};
use rustls::server::ParsedCertificate;
use rustls::{
    CertificateError, ClientConfig, DigitallySignedStruct, Error, RootCertStore, SignatureScheme,
};
use tokio_postgres_rustls::MakeRustlsConnect;

use crate::address::EncryptionWish;
use crate::error::TableError;

/// How far a server is verified.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Verified {
    /// Not at all: the connection is only encrypted.
    Nothing,
    /// Its certificate is signed by one of those that are trusted.
    Certificate,
    /// And it is that of this host.
    Host,
}

/// Whether the connection is encrypted, and what encrypts it.
///
/// Where nothing is said it is encrypted if the server offers that, and the server is then verified.
///
/// # Errors
/// What is said and has no meaning, or certificates that cannot be read.
pub(crate) fn encryption(
    wish: &EncryptionWish,
) -> Result<(SslMode, MakeRustlsConnect), TableError> {
    let has_roots = wish.roots.is_some();
    let (mode, verified) = match wish.mode.as_deref() {
        None => (SslMode::Prefer, Verified::Host),
        Some("disable") => (SslMode::Disable, Verified::Nothing),
        Some("allow" | "prefer") => (SslMode::Prefer, Verified::Nothing),
        // As libpq has it for whoever names certificates.
        Some("require") if has_roots => (SslMode::Require, Verified::Certificate),
        Some("require") => (SslMode::Require, Verified::Nothing),
        Some("verify-ca") => (SslMode::Require, Verified::Certificate),
        Some("verify-full") => (SslMode::Require, Verified::Host),
        Some(other) => {
            return Err(TableError::Database(format!(
                "sslmode is {other:?}, and none of disable, allow, prefer, require, verify-ca, verify-full"
            )));
        }
    };
    let provider = Arc::new(rustls::crypto::ring::default_provider());
    let (roots, known) = match verified {
        Verified::Nothing => (RootCertStore::empty(), Vec::new()),
        _ => trusted(wish.roots.as_deref().filter(|roots| *roots != Path::new("system")))?,
    };
    let chain = match roots.is_empty() {
        true => None,
        false => {
            let builder =
                WebPkiServerVerifier::builder_with_provider(Arc::new(roots), provider.clone());
            Some(builder.build().map_err(|error| TableError::Database(error.to_string()))?)
        }
    };
    let verifier = Verifier { verified, chain, known, provider: provider.clone() };
    let config = ClientConfig::builder_with_provider(provider)
        .with_safe_default_protocol_versions()
        .map_err(|error| TableError::Database(error.to_string()))?
        .dangerous()
        .with_custom_certificate_verifier(Arc::new(verifier))
        .with_no_client_auth();
    Ok((mode, MakeRustlsConnect::new(config)))
}

type Trusted = (RootCertStore, Vec<CertificateDer<'static>>);

/// The certificates in a file, or those of the system.
fn trusted(file: Option<&Path>) -> Result<Trusted, TableError> {
    let mut roots = RootCertStore::empty();
    let Some(file) = file else {
        roots.add_parsable_certificates(rustls_native_certs::load_native_certs().certs);
        return Ok((roots, Vec::new()));
    };
    let unreadable = |why: String| {
        TableError::Database(format!(
            "the certificates in {} cannot be read: {why}",
            file.display()
        ))
    };
    let all = CertificateDer::pem_file_iter(file).map_err(|error| unreadable(error.to_string()))?;
    let all = all.collect::<Result<Vec<_>, _>>().map_err(|error| unreadable(error.to_string()))?;
    if all.is_empty() {
        return Err(unreadable("it has none".to_owned()));
    }
    roots.add_parsable_certificates(all.iter().cloned());
    Ok((roots, all))
}

/// Verifies a server as far as was asked for.
#[derive(Debug)]
struct Verifier {
    verified: Verified,
    /// What verifies a chain of certificates, where any are trusted.
    chain: Option<Arc<WebPkiServerVerifier>>,
    /// Certificates that are trusted as they are: a server's own may be among them.
    known: Vec<CertificateDer<'static>>,
    provider: Arc<CryptoProvider>,
}

impl ServerCertVerifier for Verifier {
    fn verify_server_cert(
        &self,
        own: &CertificateDer<'_>,
        between: &[CertificateDer<'_>],
        name: &ServerName<'_>,
        ocsp: &[u8],
        now: UnixTime,
    ) -> Result<ServerCertVerified, Error> {
        if self.verified == Verified::Nothing {
            return Ok(ServerCertVerified::assertion());
        }
        if self.known.iter().any(|known| known == own) {
            if self.verified == Verified::Host {
                rustls::client::verify_server_name(&ParsedCertificate::try_from(own)?, name)?;
            }
            return Ok(ServerCertVerified::assertion());
        }
        let Some(chain) = &self.chain else {
            return Err(Error::InvalidCertificate(CertificateError::UnknownIssuer));
        };
        // The name is looked at once the chain has been found good.
        match chain.verify_server_cert(own, between, name, ocsp, now) {
            Err(Error::InvalidCertificate(
                CertificateError::NotValidForName | CertificateError::NotValidForNameContext { .. },
            )) if self.verified == Verified::Certificate => Ok(ServerCertVerified::assertion()),
            result => result,
        }
    }

    fn verify_tls12_signature(
        &self,
        message: &[u8],
        own: &CertificateDer<'_>,
        signed: &DigitallySignedStruct,
    ) -> Result<HandshakeSignatureValid, Error> {
        verify_tls12_signature(
            message,
            own,
            signed,
            &self.provider.signature_verification_algorithms,
        )
    }

    fn verify_tls13_signature(
        &self,
        message: &[u8],
        own: &CertificateDer<'_>,
        signed: &DigitallySignedStruct,
    ) -> Result<HandshakeSignatureValid, Error> {
        verify_tls13_signature(
            message,
            own,
            signed,
            &self.provider.signature_verification_algorithms,
        )
    }

    fn supported_verify_schemes(&self) -> Vec<SignatureScheme> {
        self.provider.signature_verification_algorithms.supported_schemes()
    }
}

/// Why a server cannot be verified, and what would help; nothing of other failures.
pub(crate) fn unverified(why: &str) -> Option<String> {
    let reason = why.split_once("invalid peer certificate: ")?.1;
    let is = |names: &[&str]| names.iter().any(|name| reason.contains(name));
    let reason = match () {
        // A certificate that signs others, and itself, is no server's to the library.
        () if is(&["UnknownIssuer", "CaUsedAsEndEntity"]) => "nobody who is trusted has signed it",
        () if is(&["NotValidForName", "not valid for name"]) => "it is that of another host",
        () if is(&["Expired", "expired"]) => "it has run out",
        () => reason,
    };
    Some(format!(
        "its certificate cannot be verified: {reason}; sslrootcert=FILE in the address names the certificates that it \
         is signed by, sslmode=require encrypts without verifying, and sslmode=disable does not encrypt"
    ))
}
