//! Octets in hex and in base64 (Part 2, 3.2.15 and 3.2.16).

use ::base64::Engine as _;
use ::base64::engine::general_purpose::STANDARD;

/// The octets of `hexBinary`; `None` if the text is none.
pub(super) fn hex(text: &str) -> Option<Vec<u8>> {
    let digit = |byte: u8| (byte as char).to_digit(16).map(|digit| digit as u8);
    let bytes = text.as_bytes();
    if !bytes.len().is_multiple_of(2) {
        return None;
    }
    bytes.chunks_exact(2).map(|pair| Some(digit(pair[0])? << 4 | digit(pair[1])?)).collect()
}

/// The octets of `base64Binary`, single spaces between its characters allowed; `None` if the text is none.
///
/// The bits that a last, shorter group does not use must be zero, as the grammar of the recommendation has it.
pub(super) fn base64(text: &str) -> Option<Vec<u8>> {
    // The engine takes neither bits that are left over nor a group that is not padded.
    let characters: Vec<u8> = text.bytes().filter(|byte| *byte != b' ').collect();
    STANDARD.decode(characters).ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn hex_octets() {
        assert_eq!(hex("0fB7").unwrap(), [0x0F, 0xB7]);
        assert_eq!(hex("").unwrap(), []);
        assert_eq!(hex("0"), None);
        assert_eq!(hex("0g"), None);
    }

    #[test]
    fn base64_octets() {
        assert_eq!(base64("U2FsdG1lcmU=").unwrap(), b"Saltmere");
        assert_eq!(base64("U2Fs dG1l cmU=").unwrap(), b"Saltmere");
        assert_eq!(base64("").unwrap(), b"");
        assert_eq!(base64("cQ==").unwrap(), b"q");
        for wrong in ["A", "AB", "ABC", "A===", "AB==CDEF", "AB=C", "AR==", "ABF=", "AB=", "A?==", "===="] {
            assert_eq!(base64(wrong), None, "{wrong}");
        }
    }
}
