//! How bytes are changed at random, so that they are read a little further than noise is.

use fastrand::Rng;

/// Words that mean something in one kind of input or another.
const WORDS: [&str; 54] = [
    "<",
    ">",
    "&",
    "\"",
    "'",
    "{",
    "}",
    "(",
    ")",
    "[",
    "]",
    "=",
    "/",
    ":",
    ";",
    "\n",
    "\r\n",
    "#",
    "&#0;",
    "&#x10FFFF;",
    "<!--",
    "-->",
    "]]>",
    "<![CDATA[",
    "<xs:element",
    "</xs:schema>",
    "minOccurs=\"99999999999\"",
    "maxOccurs=\"unbounded\"",
    "type=\"xs:int\"",
    "xsi:nil=\"true\"",
    "../../etc/hostname",
    "http://saltmere.example/x",
    "18446744073709551615",
    "-1",
    "\u{1b}[31m",
    "\u{202e}",
    "é",
    "\0",
    "Content-Length: 99\r\n",
    "Transfer-Encoding: chunked\r\n",
    "xmlns:x=\"u\"",
    "<!DOCTYPE a [<!ENTITY e 'x'>]>",
    "&e;",
    "one-of \"a\"",
    "%%",
    "\n%%\n",
    "ref=\"g\"",
    "base=\"t\"",
    "@",
    "$nil",
    "[9999999999]",
    "..",
    "*",
    "\u{1b}",
];

/// Some bytes, changed in a few places; `other` lends pieces of itself.
pub fn changed(mut bytes: Vec<u8>, other: &[u8], random: &mut Rng) -> Vec<u8> {
    for _ in 0..1 + random.usize(..6) {
        let at = random.usize(..=bytes.len());
        let to = (at + random.usize(..60)).min(bytes.len());
        let word = WORDS[random.usize(..WORDS.len())].bytes();
        match random.u8(..7) {
            0 => drop(bytes.splice(at..at, word)),
            1 => drop(bytes.splice(at..to, word)),
            2 => drop(bytes.drain(at..to)),
            3 => {
                let copy = bytes[at..to].repeat(1 + random.usize(..50));
                drop(bytes.splice(at..at, copy));
            }
            4 => {
                let copy = bytes[at..to].to_vec();
                let elsewhere = random.usize(..=bytes.len());
                drop(bytes.splice(elsewhere..elsewhere, copy));
            }
            5 if at < bytes.len() => bytes[at] = random.u8(..),
            _ => {
                let from = random.usize(..=other.len());
                let copy = other[from..(from + random.usize(..400)).min(other.len())].to_vec();
                drop(bytes.splice(at..to, copy));
            }
        }
    }
    bytes
}
