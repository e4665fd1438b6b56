//! Texts: bytes that come back, positions that lead back.

use charter_source::{
    CodeUnits, Encoded, Encoding, Files, Limits, Location, Overlay, Span, Store, Text, element_around,
    elements,
};
use proptest::prelude::*;

fn forms() -> impl Strategy<Value = Encoding> {
    let units = prop_oneof![Just(CodeUnits::Utf8), Just(CodeUnits::Utf16Le), Just(CodeUnits::Utf16Be)];
    (units, any::<bool>()).prop_map(|(units, bom)| Encoding { units, bom })
}

/// Text that begins as XML does, so that its encoding can be told.
fn texts() -> impl Strategy<Value = String> {
    "[a-z äöü漢🚢\r\n\t]{0,200}".prop_map(|inner| format!("<a>{inner}</a>"))
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn bytes_come_back_whatever_the_encoding(content in texts(), encoding in forms()) {
        let bytes = encoding.encode(&content).unwrap();
        let text = Text::decode(bytes.clone());
        prop_assert!(text.fault().is_none(), "{:?}", text.fault());
        prop_assert_eq!(text.content(), content.as_str());
        prop_assert_eq!(text.encoding(), encoding);
        prop_assert_eq!(text.encoding().encode(text.content()).unwrap(), bytes);
    }

    /// What is laid over a store as a text is read as its bytes would be, whatever it begins with.
    #[test]
    fn a_text_that_is_shared_is_what_its_bytes_are(
        head in prop_oneof![
            Just(""), Just("\u{FEFF}"), Just("<?xml version='1.0' encoding='utf-8'?>"),
            Just("<?xml version='1.0' encoding='ISO-8859-1'?>"), Just("<?xml version='1.0' encoding='UTF-16'?>"),
            Just("\0<"), Just("<\0"),
        ],
        content in texts(),
        encoding in forms(),
    ) {
        let encoded = Encoded::new(format!("{head}{content}"), encoding).unwrap();
        let (shared, read) = (Text::of(&encoded), Text::decode(encoded.bytes().into_owned()));
        prop_assert_eq!(shared.content(), read.content());
        prop_assert_eq!(shared.encoding(), read.encoding());
        prop_assert_eq!(shared.fault(), read.fault());
        prop_assert_eq!(shared.is_faithful(), read.is_faithful());
        let location = Location::from_argument("quay.xml");
        let mut store = Overlay::of(&[]);
        store.put_text(&location, encoded.clone());
        let limit = encoded.bytes().len() as u64;
        prop_assert_eq!(store.read(&location, limit).unwrap(), encoded.bytes().into_owned());
        let again = store.text(&location, limit).unwrap();
        prop_assert_eq!(again.content(), read.content());
        if let Some(back) = read.encoded() {
            prop_assert_eq!(back.bytes().into_owned(), encoded.bytes().into_owned());
        }
        prop_assert!(limit == 0 || store.text(&location, limit - 1).is_err());
    }

    #[test]
    fn single_byte_encodings_come_back_too(bytes in prop::collection::vec(0xA1..=0xFFu8, 0..40), label in prop_oneof![Just("ISO-8859-1"), Just("ISO-8859-15"), Just("windows-1252"), Just("KOI8-R")]) {
        let mut whole = format!("<?xml version='1.0' encoding='{label}'?><a>").into_bytes();
        whole.extend(bytes);
        whole.extend(b"</a>");
        let text = Text::decode(whole.clone());
        prop_assert!(text.fault().is_none(), "{:?}", text.fault());
        prop_assert_eq!(text.encoding().encode(text.content()).unwrap(), whole);
    }

    #[test]
    fn positions_lead_back_to_their_offsets(content in "[a-zäö漢🚢\n]{0,3000}") {
        let text = Text::from(content.as_str());
        for (offset, _) in content.char_indices().chain([(content.len(), ' ')]) {
            let position = text.position(offset as u32);
            prop_assert_eq!(text.offset(position) as usize, offset);
            let before = &content[..offset];
            prop_assert_eq!(position.line, before.matches('\n').count() + 1);
            let line = before.rsplit('\n').next().unwrap();
            prop_assert_eq!(position.column, line.chars().count() + 1);
        }
    }

    #[test]
    fn no_bytes_are_too_strange_to_read(bytes in prop::collection::vec(any::<u8>(), 0..300)) {
        let text = Text::decode(bytes);
        if let Some((span, why)) = text.fault() {
            prop_assert!(!why.is_empty());
            text.position(span.start);
        }
        text.position(u32::MAX);
    }
}

/// A tree of elements, each with what stands in it.
fn tree() -> impl Strategy<Value = String> {
    let leaf =
        prop_oneof![Just("<a/>".to_owned()), Just("berth ".to_owned()), Just("<!-- quay -->".to_owned())];
    leaf.prop_recursive(4, 40, 6, |inner| {
        prop::collection::vec(inner, 0..6).prop_map(|parts| format!("<b>{}</b>", parts.concat()))
    })
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::default() })]

    /// The innermost element around a stretch is the one that a walk from the root comes to.
    #[test]
    fn the_element_around_a_stretch_is_the_innermost(inner in tree(), start in 0usize..400, length in 0usize..30) {
        let text = format!("<r>{inner}</r>");
        let start = start.min(text.len());
        let span = Span::new(start, (start + length).min(text.len()));
        let store = Overlay::of(&[("r.xml", &text)]);
        let files = Files::load(&store, &Location::from_argument("r.xml"), Limits::default()).unwrap();
        let root = files.first().root().unwrap();
        let covers = |node: &charter_source::Node<'_>| Span::from(node.range()).covers(span);
        let mut walked = Some(root).filter(covers);
        while let Some(next) = walked.and_then(|node| elements(node).rfind_covering(&covers)) {
            walked = Some(next);
        }
        let found = element_around(root, span);
        prop_assert_eq!(found.map(|node| node.range()), walked.map(|node| node.range()));
    }
}

/// The last of some elements that fits: of two that both cover a place between them, neither stands within the other.
trait Covering<'t>: Iterator<Item = charter_source::Node<'t>> + Sized {
    fn rfind_covering(
        self,
        fits: &dyn Fn(&charter_source::Node<'t>) -> bool,
    ) -> Option<charter_source::Node<'t>> {
        self.filter(|node| fits(node)).last()
    }
}

impl<'t, I: Iterator<Item = charter_source::Node<'t>>> Covering<'t> for I {}
