//! The markup of a stretch, held against a tree of the same text.

use charter_source::xml::{MarkupKind, markup};
use charter_source::{FileId, Text, Tree};
use proptest::prelude::*;

/// A random element with what may stand in it.
fn element() -> impl Strategy<Value = String> {
    let name = || prop::sample::select(vec!["a", "b:c", "long-name.x", "é"]);
    let value = prop::sample::select(vec![
        "",
        "1",
        "a > b",
        "&lt;",
        "it's",
        "x='y'",
        "/>",
        "<!--".trim_start_matches('<'),
    ]);
    let attributes = prop::collection::btree_map(prop::sample::select(vec!["x", "y", "z"]), value, 0..3);
    let attributes = attributes.prop_map(|all| {
        all.into_iter().map(|(name, value)| format!(" {name} = \"{value}\"")).collect::<String>()
    });
    let between = prop::sample::select(vec![
        "",
        "text",
        " > ",
        "<!-- <no/> -->",
        "<![CDATA[<no>]]>",
        "<?go <no/>?>",
        "&amp;",
        "\n  ",
        "<!---->",
        "]]",
    ]);
    let leaf = (name(), attributes.clone()).prop_map(|(name, attributes)| format!("<{name}{attributes}/>"));
    leaf.prop_recursive(4, 24, 4, move |inner| {
        (name(), attributes.clone(), prop::collection::vec((between.clone(), inner), 0..4)).prop_map(
            |(name, attributes, content)| {
                let content: String =
                    content.into_iter().map(|(text, element)| text.to_owned() + &element).collect();
                format!("<{name}{attributes}\n>{content}</{name} >")
            },
        )
    })
}

fn document(element: &str) -> String {
    format!("<?xml version='1.0'?><!-- first --><b:root xmlns:b='urn:b'>{element}</b:root><!-- last -->")
}

proptest! {
    #[test]
    fn every_element_has_its_tags(element in element()) {
        let text = document(&element);
        let (tree, fault) = Tree::parse(Text::from(text.as_str()), FileId(0), 500);
        prop_assert!(fault.is_none(), "{:?}\n{}", fault, text);
        let pieces: Vec<_> = markup(&text).collect();
        let count = |kind| pieces.iter().filter(|piece| piece.kind == kind).count();
        let elements = tree.root().unwrap().descendants().filter(|node| node.is_element()).count();
        prop_assert_eq!(count(MarkupKind::Start) + count(MarkupKind::Empty), elements);
        prop_assert_eq!(count(MarkupKind::Start), count(MarkupKind::End));
        prop_assert!(pieces.iter().all(|piece| piece.ends));
        // Each element begins where its tag does.
        let begins: Vec<usize> = tree.root().unwrap().descendants()
            .filter(|node| node.is_element())
            .map(|node| node.range().start)
            .collect();
        let tags = pieces.iter().filter(|piece| matches!(piece.kind, MarkupKind::Start | MarkupKind::Empty));
        let tags: Vec<usize> = tags.map(|piece| piece.range.start).collect();
        prop_assert_eq!(begins, tags);
    }

    #[test]
    fn pieces_follow_each_other_and_hold_all_brackets(element in element(), cut in 0usize..200) {
        let text = document(&element);
        let end = (0..=cut.min(text.len())).rev().find(|end| text.is_char_boundary(*end)).unwrap();
        let text = &text[..end];
        let mut at = 0;
        for piece in markup(text) {
            prop_assert!(piece.range.start >= at && piece.range.end <= text.len());
            prop_assert!(!text[at..piece.range.start].contains('<'));
            prop_assert!(piece.ends || piece.range.end == text.len());
            at = piece.range.end;
        }
        prop_assert!(!text[at..].contains('<'));
    }
}
