//! A connection: requests are read within bounds, and replies written.

use std::convert::Infallible;
use std::net::SocketAddr;
use std::sync::Arc;
use std::time::Instant;

use axum::Router;
use axum::body::Body;
use axum::extract::State;
use axum::http::{HeaderValue, Request, Response, StatusCode, header};
use bytes::Bytes;
use charter_message::http::{Headers, HttpMessage, Start};
use http_body_util::{BodyExt, LengthLimitError, Limited};
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper::service::{Service, service_fn};
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulConnection;
use hyper_util::service::TowerToHyperService;

use super::packing::packed;
use super::{Desk, Told};
use crate::stand_in::Answered;
use crate::{Bounds, Exchange};

/// A body from which on judging is left to threads that may take their time.
const LARGE: usize = 256 << 10;

/// What all connections of a server have in common.
#[derive(Clone)]
pub(super) struct Serving {
    shared: Arc<Shared>,
    router: Router,
}

struct Shared {
    desk: Arc<Desk>,
    bounds: Bounds,
    told: Told,
    /// How the server is reached by who does not say how.
    base: String,
}

/// Who made a connection.
#[derive(Clone, Copy)]
struct Peer(SocketAddr);

impl Serving {
    pub fn of(desk: Arc<Desk>, bounds: Bounds, told: Told, address: SocketAddr) -> Serving {
        let shared = Arc::new(Shared { desk, bounds, told, base: format!("http://{address}") });
        let router = Router::new().fallback(handle).with_state(Arc::clone(&shared));
        Serving { shared, router }
    }

    /// Serves a connection to its end.
    pub fn connection(
        &self,
        stream: tokio::net::TcpStream,
        peer: SocketAddr,
    ) -> impl GracefulConnection<Error = hyper::Error> + Send + use<> {
        // A reply is written at once, and not kept back for more.
        let _ = stream.set_nodelay(true);
        let router = TowerToHyperService::new(self.router.clone());
        let service = service_fn(move |mut request: Request<Incoming>| {
            request.extensions_mut().insert(Peer(peer));
            router.call(request)
        });
        http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(self.shared.bounds.patience)
            .max_buf_size(self.shared.bounds.head)
            .title_case_headers(true)
            .serve_connection(TokioIo::new(stream), service)
    }
}

/// Takes a request, and gives a reply.
async fn handle(State(shared): State<Arc<Shared>>, request: Request<Body>) -> Result<Response<Body>, Infallible> {
    let began = jiff::Timestamp::now();
    let clock = Instant::now();
    let (parts, body) = request.into_parts();
    let peer = parts.extensions.get::<Peer>().map(|peer| peer.0.to_string());
    let octets = match read(body, &parts.headers, &shared.bounds).await {
        Ok(octets) => octets,
        Err(refused) => return Ok(refused),
    };
    let start = Start::Request { method: parts.method.to_string(), target: parts.uri.to_string() };
    let request = HttpMessage { start, headers: fields(&parts.headers), body: octets.into() };
    let base = base(&parts.headers).unwrap_or_else(|| shared.base.clone());
    let stand_in = shared.desk.now();
    let (request, Answered { reply, about }) = if request.body.len() < LARGE {
        let answered = stand_in.answer(&request, &base);
        (request, answered)
    } else {
        let judged = tokio::task::spawn_blocking(move || {
            let answered = stand_in.answer(&request, &base);
            (request, answered)
        });
        match judged.await {
            Ok(judged) => judged,
            Err(_) => return Ok(words(StatusCode::INTERNAL_SERVER_ERROR, "the request could not be judged\n")),
        }
    };
    let takes = request.headers.clone();
    let took = clock.elapsed();
    (shared.told)(Exchange { began, took, peer, request, reply: Some(reply.clone()), about });
    Ok(response(packed(reply, &takes)))
}

/// Reads a body, within bounds.
async fn read(
    body: Body,
    headers: &axum::http::HeaderMap,
    bounds: &Bounds,
) -> Result<Bytes, Response<Body>> {
    let too_large = || {
        let said = format!("the body is larger than {} octets\n", bounds.body);
        words(StatusCode::PAYLOAD_TOO_LARGE, &said)
    };
    let length = headers.get(header::CONTENT_LENGTH).and_then(|value| value.to_str().ok()?.parse().ok());
    if length.is_some_and(|length: u64| length > bounds.body as u64) {
        return Err(too_large());
    }
    let whole = Limited::new(body, bounds.body).collect();
    match tokio::time::timeout(bounds.patience, whole).await {
        Ok(Ok(whole)) => Ok(whole.to_bytes()),
        Ok(Err(error)) if error.is::<LengthLimitError>() => Err(too_large()),
        Ok(Err(_)) => Err(words(StatusCode::BAD_REQUEST, "the body did not come whole\n")),
        Err(_) => {
            let said = format!("the body did not come within {} s\n", bounds.patience.as_secs());
            Err(words(StatusCode::REQUEST_TIMEOUT, &said))
        }
    }
}

/// A reply in plain words, after which the connection is closed: what is left of the request is not read.
fn words(status: StatusCode, said: &str) -> Response<Body> {
    let mut response = Response::new(Body::from(said.to_owned()));
    *response.status_mut() = status;
    let plain = HeaderValue::from_static("text/plain; charset=utf-8");
    response.headers_mut().insert(header::CONTENT_TYPE, plain);
    response.headers_mut().insert(header::CONNECTION, HeaderValue::from_static("close"));
    response
}

fn fields(headers: &axum::http::HeaderMap) -> Headers {
    headers
        .iter()
        .map(|(name, value)| (name.as_str().to_owned(), String::from_utf8_lossy(value.as_bytes()).into_owned()))
        .collect()
}

/// How the server is reached, as the request has it: whoever stands before it may know it by another name.
fn base(headers: &axum::http::HeaderMap) -> Option<String> {
    let host = headers.get(header::HOST)?.to_str().ok()?;
    let fits = |c: char| c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | '_' | ':' | '[' | ']');
    (!host.is_empty() && host.chars().all(fits)).then(|| format!("http://{host}"))
}

fn response(message: HttpMessage) -> Response<Body> {
    let status = message.start.status().and_then(|status| StatusCode::from_u16(status).ok());
    let mut response = Response::new(Body::from(message.body));
    *response.status_mut() = status.unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
    for (name, value) in message.headers.iter() {
        // Its length is that of the body as it is sent.
        if name.eq_ignore_ascii_case("Content-Length") {
            continue;
        }
        let pair = (header::HeaderName::from_bytes(name.as_bytes()), HeaderValue::from_str(value));
        if let (Ok(name), Ok(value)) = pair {
            response.headers_mut().append(name, value);
        }
    }
    response
}
