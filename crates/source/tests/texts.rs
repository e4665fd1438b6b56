//! Texts: bytes that come back, positions that lead back.

use charter_source::{Encoding, Form, Text};
use proptest::prelude::*;

fn forms() -> impl Strategy<Value = Encoding> {
    let form = prop_oneof![Just(Form::Utf8), Just(Form::Utf16Le), Just(Form::Utf16Be)];
    (form, any::<bool>()).prop_map(|(form, bom)| Encoding { form, bom })
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
