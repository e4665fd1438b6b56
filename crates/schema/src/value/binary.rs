//! Octets in hex and in base64 (Part 2, 3.2.15 and 3.2.16).

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
    let mut octets = Vec::with_capacity(text.len() / 4 * 3);
    let (mut bits, mut count, mut padding) = (0u32, 0usize, 0usize);
    for byte in text.bytes().filter(|byte| *byte != b' ') {
        let value = match byte {
            b'A'..=b'Z' => byte - b'A',
            b'a'..=b'z' => byte - b'a' + 26,
            b'0'..=b'9' => byte - b'0' + 52,
            b'+' => 62,
            b'/' => 63,
            b'=' if count % 4 >= 2 => {
                padding += 1;
                count += 1;
                bits <<= 6;
                if count.is_multiple_of(4) {
                    break_off(&mut octets, bits, padding)?;
                }
                continue;
            }
            _ => return None,
        };
        if padding > 0 {
            return None;
        }
        bits = bits << 6 | u32::from(value);
        count += 1;
        if count.is_multiple_of(4) {
            octets.extend([(bits >> 16) as u8, (bits >> 8) as u8, bits as u8]);
        }
    }
    count.is_multiple_of(4).then_some(octets)
}

/// Adds the octets of a last group that is padded.
fn break_off(octets: &mut Vec<u8>, bits: u32, padding: usize) -> Option<()> {
    let whole = 3 - padding;
    let unused = bits & 0x00FF_FFFF & ((1 << (8 * padding)) - 1);
    if unused != 0 {
        return None;
    }
    octets.extend([(bits >> 16) as u8, (bits >> 8) as u8].iter().take(whole));
    Some(())
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
