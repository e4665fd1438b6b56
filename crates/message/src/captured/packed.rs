//! Bodies that were sent compressed (RFC 9110, section 8.4.1).

use std::io::Read;

use flate2::read::{DeflateDecoder, MultiGzDecoder, ZlibDecoder};

/// What a body unpacks to at most: XML is seldom packed better than that, and no message needs more.
const MOST: u64 = 32 << 20;
const MOST_FOR_EACH: u64 = 200;

/// The body as it was before it was compressed, or why it cannot be had.
pub(super) fn unpacked(bytes: &[u8], coding: &str) -> Result<Vec<u8>, String> {
    let most = MOST.min((bytes.len() as u64).saturating_mul(MOST_FOR_EACH) + 4096);
    let read = |stream: &mut dyn Read| -> std::io::Result<Vec<u8>> {
        let mut unpacked = Vec::new();
        stream.take(most + 1).read_to_end(&mut unpacked)?;
        Ok(unpacked)
    };
    let result = match coding.trim().to_ascii_lowercase().as_str() {
        "" | "identity" => return Ok(bytes.to_vec()),
        // Whoever kept the message may have unpacked it already.
        _ if bytes.iter().find(|byte| !byte.is_ascii_whitespace()) == Some(&b'<') => {
            return Ok(bytes.to_vec());
        }
        "gzip" | "x-gzip" => read(&mut MultiGzDecoder::new(bytes)),
        // By the standard with a header, by habit without.
        "deflate" => read(&mut ZlibDecoder::new(bytes)).or_else(|_| read(&mut DeflateDecoder::new(bytes))),
        other => return Err(format!("the body is compressed by {other}, which is not read")),
    };
    match result {
        Ok(unpacked) if unpacked.len() as u64 > most => {
            Err("the body unpacks to more than is read".to_owned())
        }
        Ok(unpacked) => Ok(unpacked),
        Err(error) => Err(format!("the body cannot be unpacked: {error}")),
    }
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
        assert_eq!(unpacked(&gzip, "gzip").unwrap(), text);
        let mut zlib = ZlibEncoder::new(Vec::new(), Compression::default());
        zlib.write_all(&text).unwrap();
        assert_eq!(unpacked(&zlib.finish().unwrap(), "Deflate").unwrap(), text);
        let mut raw = DeflateEncoder::new(Vec::new(), Compression::default());
        raw.write_all(&text).unwrap();
        assert_eq!(unpacked(&raw.finish().unwrap(), "deflate").unwrap(), text);
        assert_eq!(unpacked(&text, "gzip").unwrap(), text);
        let mut bomb = GzEncoder::new(Vec::new(), Compression::best());
        bomb.write_all(&vec![b' '; 8 << 20]).unwrap();
        let bomb = bomb.finish().unwrap();
        assert!(unpacked(&bomb, "gzip").unwrap_err().contains("more than is read"), "{}", bomb.len());
        assert!(unpacked(&gzip[..20], "gzip").unwrap_err().contains("cannot be unpacked"));
        assert!(unpacked(&gzip, "br").unwrap_err().contains("compressed by br"));
    }
}
