//! Bodies that were sent compressed (RFC 9110, section 8.4.1).

use std::io::Read;

use flate2::read::{DeflateDecoder, MultiGzDecoder, ZlibDecoder};

/// What a body unpacks to at most: XML is seldom packed better than that, and no message needs more.
const MOST: u64 = 32 << 20;
const MOST_FOR_EACH: u64 = 200;

/// Why a body cannot be had as it was before it was packed.
#[derive(Debug, thiserror::Error)]
pub enum NotDecoded {
    /// By a coding that is not read.
    #[error("the body is compressed by {0}, which is not read")]
    Coding(String),
    /// It unpacks to more than any message needs.
    #[error("the body unpacks to more than is read")]
    Size,
    /// It is damaged.
    #[error("the body cannot be unpacked: {0}")]
    Damaged(#[from] std::io::Error),
}

/// The body as it was before it was packed by some codings, the last of them first undone.
pub(super) fn decoded(mut body: Vec<u8>, codings: &str) -> Result<Vec<u8>, NotDecoded> {
    for coding in codings.rsplit(',') {
        body = undone(body, &coding.trim().to_ascii_lowercase())?;
    }
    Ok(body)
}

fn undone(body: Vec<u8>, coding: &str) -> Result<Vec<u8>, NotDecoded> {
    let bytes = body.as_slice();
    let most = MOST.min((bytes.len() as u64).saturating_mul(MOST_FOR_EACH) + 4096);
    let read = |stream: &mut dyn Read| -> std::io::Result<Vec<u8>> {
        let mut unpacked = Vec::new();
        stream.take(most + 1).read_to_end(&mut unpacked)?;
        Ok(unpacked)
    };
    let unpacked = match coding {
        "" | "identity" => return Ok(body),
        // Whoever kept the message may have unpacked it already.
        _ if bytes.trim_ascii_start().starts_with(b"<") => return Ok(body),
        "gzip" | "x-gzip" => read(&mut MultiGzDecoder::new(bytes))?,
        // By the standard with a header, by habit without.
        "deflate" => read(&mut ZlibDecoder::new(bytes)).or_else(|_| read(&mut DeflateDecoder::new(bytes)))?,
        other => return Err(NotDecoded::Coding(other.to_owned())),
    };
    if unpacked.len() as u64 > most { Err(NotDecoded::Size) } else { Ok(unpacked) }
}

#[cfg(test)]
mod tests {
    use std::io::Write;

    use flate2::Compression;
    use flate2::write::{DeflateEncoder, GzEncoder, ZlibEncoder};

    use super::*;

    #[test]
    fn what_was_packed_comes_out_and_no_more_than_is_wanted() {
        let text = b"<tide>4.1</tide>".repeat(20);
        let mut gzip = GzEncoder::new(Vec::new(), Compression::default());
        gzip.write_all(&text).unwrap();
        let gzip = gzip.finish().unwrap();
        assert_eq!(decoded(gzip.clone(), "gzip").unwrap(), text);
        let mut zlib = ZlibEncoder::new(Vec::new(), Compression::default());
        zlib.write_all(&text).unwrap();
        assert_eq!(decoded(zlib.finish().unwrap(), "Deflate").unwrap(), text);
        let mut raw = DeflateEncoder::new(Vec::new(), Compression::default());
        raw.write_all(&text).unwrap();
        assert_eq!(decoded(raw.finish().unwrap(), "deflate").unwrap(), text);
        assert_eq!(decoded(text.clone(), "gzip").unwrap(), text);
        let mut bomb = GzEncoder::new(Vec::new(), Compression::best());
        bomb.write_all(&vec![b' '; 8 << 20]).unwrap();
        let bomb = bomb.finish().unwrap();
        let refused = |body: &[u8], coding: &str| decoded(body.to_vec(), coding).unwrap_err().to_string();
        assert!(refused(&bomb, "gzip").contains("more than is read"), "{}", bomb.len());
        assert!(refused(&gzip[..20], "gzip").contains("cannot be unpacked"));
        assert!(refused(&gzip, "br").contains("compressed by br"));
        // Packed twice, unpacked twice.
        let mut outer = ZlibEncoder::new(Vec::new(), Compression::default());
        outer.write_all(&gzip).unwrap();
        assert_eq!(decoded(outer.finish().unwrap(), "gzip, deflate").unwrap(), text);
    }
}
