//! Secure connections to others: whom a client trusts, and how it proves who it is (RFC 8446).

use std::sync::Arc;

use rustls::ClientConfig;
use rustls::crypto::ring::default_provider;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls_platform_verifier::BuilderVerifierExt;

/// Whom a client trusts, and who it is.
#[derive(Debug, Clone, Default)]
pub struct Trust {
    /// Certificates in PEM of those who are trusted to vouch for servers; without any, those whom the system trusts.
    pub authorities: Option<Vec<u8>>,
    /// The certificate of the client in PEM, those that vouch for it behind it, and its key.
    pub own: Option<Vec<u8>>,
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
        Some(pem) => {
            let mut roots = rustls::RootCertStore::empty();
            for certificate in certificates(pem)? {
                roots.add(certificate)?;
            }
            builder.with_root_certificates(roots)
        }
    };
    match &trust.own {
        None => Ok(builder.with_no_client_auth()),
        Some(pem) => Ok(builder.with_client_auth_cert(certificates(pem)?, key(pem)?)?),
    }
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
