//! Stands between a consumer and a real provider: every request is passed on and every reply passed back, unchanged but for
//! what belongs to a connection (RFC 9110, section 7.6.1). Both are judged when the reply is on its way already, so that it
//! takes no longer for that.

use std::time::Duration;

use axum::http::{HeaderMap, HeaderName, Request, Response, Uri, header, request};
use bytes::Bytes;
use charter_source::Address;
use http_body_util::{BodyExt, Full, LengthLimitError, Limited};
use hyper_rustls::{HttpsConnector, HttpsConnectorBuilder};
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::{TokioExecutor, TokioTimer};

use crate::StandIn;
use crate::tls;

/// What belongs to one connection, and is not passed on.
const OF_CONNECTION: [HeaderName; 6] = [
    header::CONNECTION,
    header::PROXY_AUTHENTICATE,
    header::PROXY_AUTHORIZATION,
    header::TE,
    header::UPGRADE,
    header::EXPECT,
];

/// Passes on what it is given.
pub struct Relay {
    client: Client<HttpsConnector<HttpConnector>, Full<Bytes>>,
    /// The scheme and the host of the provider.
    origin: String,
    /// The path of its port, if it is another than in the contract.
    path: Option<String>,
    patience: Duration,
    most: usize,
}

/// Why there is no relay.
#[derive(Debug, thiserror::Error)]
pub enum RelayError {
    /// The address is none.
    #[error("\"{0}\" is no address to pass on to")]
    Address(String),
    /// There is no way to secure a connection.
    #[error(transparent)]
    Tls(#[from] tls::TlsError),
}

/// Why nothing came back from the provider.
#[derive(Debug, thiserror::Error)]
pub enum NotPassed {
    /// It cannot be reached, or broke off.
    #[error("the provider at {0} cannot be reached: {1}")]
    Unreached(String, String),
    /// It takes too long.
    #[error("the provider at {0} did not answer within {1} s")]
    Late(String, u64),
    /// It says more than is taken.
    #[error("the reply is larger than {0} octets")]
    TooLarge(usize),
}

impl Relay {
    /// A relay to an address: to a host, where the paths of requests stay what they are; or to that of a port, where the path of
    /// the port in the contract gives way to it.
    ///
    /// # Errors
    /// If it is no address, or cannot be reached by a secure connection.
    pub fn to(address: &str, bounds: &crate::Bounds, trust: &tls::Trust) -> Result<Relay, RelayError> {
        let parsed = Address::parse(address).filter(|_| scheme(address).is_some());
        let parsed = parsed.ok_or_else(|| RelayError::Address(address.to_owned()))?;
        let scheme = scheme(address).unwrap_or("http");
        let connector = HttpsConnectorBuilder::new().with_tls_config(tls::client_config(trust)?);
        let mut http = HttpConnector::new();
        http.enforce_http(false);
        http.set_nodelay(true);
        http.set_connect_timeout(Some(bounds.patience));
        let connector = connector.https_or_http().enable_http1().wrap_connector(http);
        let client = Client::builder(TokioExecutor::new())
            .pool_timer(TokioTimer::new())
            .pool_idle_timeout(Duration::from_secs(20))
            .http1_preserve_header_case(true)
            .build(connector);
        let path = Some(parsed.path().to_owned()).filter(|path| path != "/");
        Ok(Relay {
            client,
            origin: format!("{scheme}://{}", parsed.authority()),
            path,
            patience: bounds.patience,
            most: bounds.body,
        })
    }

    /// Passes a request on, and gives what came back.
    ///
    /// # Errors
    /// If nothing came back, or too much.
    pub async fn pass(
        &self,
        stand_in: &StandIn,
        parts: &request::Parts,
        body: Bytes,
    ) -> Result<Response<Bytes>, NotPassed> {
        let uri = self.address(stand_in, &parts.uri);
        let mut request = Request::new(Full::new(body));
        *request.method_mut() = parts.method.clone();
        *request.uri_mut() = uri;
        *request.extensions_mut() = parts.extensions.clone();
        *request.headers_mut() = parts.headers.clone();
        let headers = request.headers_mut();
        without_connection(headers);
        // The client names the host that it asks.
        headers.remove(header::HOST);
        let late = || NotPassed::Late(self.origin.clone(), self.patience.as_secs());
        let unreached = |error: &(dyn std::error::Error + 'static)| {
            NotPassed::Unreached(self.origin.clone(), crate::words::cause(error))
        };
        let answered = tokio::time::timeout(self.patience, self.client.request(request)).await;
        let (mut head, body) = answered.map_err(|_| late())?.map_err(|error| unreached(&error))?.into_parts();
        let whole = tokio::time::timeout(self.patience, Limited::new(body, self.most).collect()).await;
        let whole = whole.map_err(|_| late())?.map_err(|error| match error.is::<LengthLimitError>() {
            true => NotPassed::TooLarge(self.most),
            false => unreached(&*error),
        })?;
        without_connection(&mut head.headers);
        Ok(Response::from_parts(head, whole.to_bytes()))
    }

    /// Where a request goes.
    fn address(&self, stand_in: &StandIn, uri: &Uri) -> Uri {
        let target = uri.path_and_query().map_or("/", |target| target.as_str());
        let own = self.path.as_deref().and_then(|path| {
            let (_, below) = stand_in.port_path(uri.path())?;
            let query = uri.query().map_or(String::new(), |query| format!("?{query}"));
            Some(format!("{}{path}{below}{query}", self.origin))
        });
        let whole = own.unwrap_or_else(|| format!("{}{target}", self.origin));
        whole.parse().unwrap_or_else(|_| uri.clone())
    }

    /// The provider, as it is reached.
    pub fn origin(&self) -> &str {
        &self.origin
    }
}

/// Takes out what belongs to a connection, and what the connection says does.
fn without_connection(headers: &mut HeaderMap) {
    let named: Vec<HeaderName> = headers
        .get_all(header::CONNECTION)
        .iter()
        .filter_map(|value| value.to_str().ok())
        .flat_map(|value| value.split(','))
        .filter_map(|name| name.trim().parse().ok())
        .collect();
    for name in OF_CONNECTION.iter().chain(&named) {
        headers.remove(name);
    }
    headers.remove("keep-alive");
    headers.remove("proxy-connection");
}

/// The scheme of an address that is asked by HTTP.
fn scheme(address: &str) -> Option<&'static str> {
    ["https", "http"].into_iter().find(|scheme| {
        address
            .get(..scheme.len() + 3)
            .is_some_and(|start| start.eq_ignore_ascii_case(&format!("{scheme}://")))
    })
}
