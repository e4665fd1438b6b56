//! Secure connections (RFC 8446): whom one side trusts, and how it proves who it is.

use std::sync::Arc;

use rustls::crypto::ring::default_provider;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls::server::WebPkiClientVerifier;
use rustls::{ClientConfig, ServerConfig};
use rustls_platform_verifier::BuilderVerifierExt;

/// Whom a client trusts, and who it is.
#[derive(Debug, Clone, Default)]
pub struct Trust {
    /// Certificates in PEM of those who are trusted to vouch for servers; without any, those whom the system trusts.
    pub authorities: Option<Vec<u8>>,
    /// The certificate of the client in PEM, those that vouch for it behind it, and its key.
    pub own: Option<Vec<u8>>,
}

/// Who a server is, and whom it lets in.
#[derive(Debug, Clone, Default)]
pub struct Identity {
    /// Its certificate in PEM, those that vouch for it behind it, and its key.
    pub own: Vec<u8>,
    /// Certificates in PEM of those who vouch for clients; without any, clients are not asked.
    pub clients: Option<Vec<u8>>,
    /// Whether clients without a certificate are let in, to be refused where one is asked for.
    pub without: bool,
}

/// Why a connection cannot be secured.
#[derive(Debug, thiserror::Error)]
pub enum TlsError {
    /// A text holds no certificate.
    #[error("there is no certificate in it that can be read")]
    NoCertificate,
    /// A text holds no private key.
    #[error("there is no private key in it that can be read")]
    NoKey,
    /// They do not go together, or are of a kind that is not known.
    #[error("{0}")]
    Unusable(#[from] rustls::Error),
    /// Those who vouch for clients cannot.
    #[error("{0}")]
    Clients(#[from] rustls::server::VerifierBuilderError),
    /// No certificate can be made.
    #[error("no certificate can be made: {0}")]
    Unmade(#[from] rcgen::Error),
}

/// How a client secures its connections.
///
/// # Errors
/// If a certificate or a key cannot be read, or they do not go together.
pub fn client_config(trust: &Trust) -> Result<ClientConfig, TlsError> {
    let builder = ClientConfig::builder_with_provider(Arc::new(default_provider()))
        .with_safe_default_protocol_versions()?;
    let builder = match &trust.authorities {
        None => builder.with_platform_verifier()?,
        Some(pem) => builder.with_root_certificates(roots(pem)?),
    };
    match &trust.own {
        None => Ok(builder.with_no_client_auth()),
        Some(pem) => Ok(builder.with_client_auth_cert(certificates(pem)?, key(pem)?)?),
    }
}

/// How a server secures its connections.
///
/// # Errors
/// If a certificate or a key cannot be read, or they do not go together.
pub(crate) fn server_config(identity: &Identity) -> Result<ServerConfig, TlsError> {
    let provider = Arc::new(default_provider());
    let builder =
        ServerConfig::builder_with_provider(Arc::clone(&provider)).with_safe_default_protocol_versions()?;
    let builder = match &identity.clients {
        None => builder.with_no_client_auth(),
        Some(pem) => {
            let verifier = WebPkiClientVerifier::builder_with_provider(Arc::new(roots(pem)?), provider);
            let verifier = if identity.without { verifier.allow_unauthenticated() } else { verifier };
            builder.with_client_cert_verifier(verifier.build()?)
        }
    };
    Ok(builder.with_single_cert(certificates(&identity.own)?, key(&identity.own)?)?)
}

/// A certificate that vouches for itself, by some names of a host, and its key: both in PEM.
///
/// # Errors
/// If a name is none.
pub fn own_certificate(names: &[&str]) -> Result<String, TlsError> {
    let names: Vec<String> = names.iter().map(|name| (*name).to_owned()).collect();
    let made = rcgen::generate_simple_self_signed(names)?;
    Ok(format!("{}{}", made.cert.pem(), made.signing_key.serialize_pem()))
}

fn roots(pem: &[u8]) -> Result<rustls::RootCertStore, TlsError> {
    let mut roots = rustls::RootCertStore::empty();
    for certificate in certificates(pem)? {
        roots.add(certificate)?;
    }
    Ok(roots)
}

/// The certificates in a text.
pub(crate) fn certificates(pem: &[u8]) -> Result<Vec<CertificateDer<'static>>, TlsError> {
    let all: Result<Vec<_>, _> = CertificateDer::pem_slice_iter(pem).collect();
    all.ok().filter(|all| !all.is_empty()).ok_or(TlsError::NoCertificate)
}

/// The private key in a text.
pub(crate) fn key(pem: &[u8]) -> Result<PrivateKeyDer<'static>, TlsError> {
    PrivateKeyDer::from_pem_slice(pem).map_err(|_| TlsError::NoKey)
}
