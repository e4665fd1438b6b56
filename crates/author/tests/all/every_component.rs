//! What holds for an edit of every component of the demo.

use charter_author::{Change, EditFailure, Editing, edit, set, text_of};
use charter_contract::{Component, Contract};
use charter_notation::Convention;
use charter_source::{Limits, Location, Overlay};

type Texts = Vec<(&'static str, String)>;

fn demo() -> [Texts; 3] {
    let v1 = vec![
        ("pilotage.wsdl", include_str!("../../../cli/demo/v1/pilotage.wsdl").to_owned()),
        ("vessel.xsd", include_str!("../../../cli/demo/v1/vessel.xsd").to_owned()),
    ];
    let office = vec![("harbour.wsdl", include_str!("../../../cli/demo/office/harbour.wsdl").to_owned())];
    let v3 = vec![
        ("pilotage.wsdl", include_str!("../../../cli/demo/v3/pilotage.wsdl").to_owned()),
        ("vessel.xsd", include_str!("../../../cli/demo/v3/vessel.xsd").to_owned()),
    ];
    [v1, office, v3]
}

fn store(texts: &Texts) -> Overlay<charter_source::Nowhere> {
    let all: Vec<(&str, &str)> = texts.iter().map(|(name, text)| (*name, text.as_str())).collect();
    Overlay::of(&all)
}

fn load(texts: &Texts) -> Contract {
    Contract::load(&store(texts), &Location::from_argument(texts[0].0), Limits::default()).unwrap()
}

/// The texts after a change.
fn after(texts: &Texts, change: &Change) -> Texts {
    let new = |name: &str, text: &String| {
        let file = change.files.iter().find(|file| file.location.to_string() == name);
        file.map_or_else(|| text.clone(), |file| file.after.text().to_owned())
    };
    texts.iter().map(|(name, text)| (*name, new(name, text))).collect()
}

/// The components that have a name of their own, with their paths.
fn components(contract: &Contract) -> Vec<(Component, String)> {
    let mut all: Vec<Component> = contract.messages.ids().map(Component::Message).collect();
    all.extend(contract.port_types.ids().map(Component::PortType));
    all.extend(contract.operations().map(|(id, _)| Component::Operation(id)));
    all.extend(contract.bindings.ids().map(Component::Binding));
    all.extend(contract.services.ids().map(Component::Service));
    all.extend(contract.ports().map(|(id, _)| Component::Port(id)));
    all.extend(contract.schemas.elements.ids().map(Component::Element));
    all.extend(contract.schemas.types.ids().map(Component::Type));
    all.retain(|component| !contract.is_built_in(*component));
    let mut paths: Vec<String> =
        all.into_iter().map(|component| contract.path(component).to_string()).collect();
    paths.sort();
    paths.dedup();
    // A type without a name of its own goes by what it stands in.
    paths.into_iter().map(|path| (contract.find(&path).unwrap(), path)).collect()
}

#[test]
fn the_text_of_a_component_given_back_changes_nothing() {
    let convention = Convention::default();
    let mut tried = 0;
    for texts in demo() {
        let (store, contract) = (store(&texts), load(&texts));
        for (component, path) in components(&contract) {
            let editing = || Editing::of(&contract, &store, &convention);
            let Ok(text) = text_of(editing(), component) else { continue };
            tried += 1;
            let result = edit(editing(), component, &text);
            assert!(matches!(result, Err(EditFailure::Nothing)), "{path}: {result:?}\n{text}");
        }
    }
    assert!(tried > 150, "{tried}");
}

#[test]
fn layout_is_no_change() {
    let convention = Convention::default();
    let [texts, ..] = demo();
    let (store, contract) = (store(&texts), load(&texts));
    for (component, path) in components(&contract) {
        let editing = || Editing::of(&contract, &store, &convention);
        let Ok(text) = text_of(editing(), component) else { continue };
        // Lines may stand in as they like, and have blanks and comments around them.
        let spread: String =
            text.lines().map(|line| format!("\n      {}   # so it is\n", line.trim())).collect();
        if text.contains('"') && text.contains('#') {
            continue;
        }
        let result = edit(editing(), component, &spread);
        assert!(matches!(result, Err(EditFailure::Nothing)), "{path}: {result:?}\n{spread}");
    }
}

#[test]
fn documentation_can_be_set_on_everything_that_has_some() {
    const WORDS: &str = "What it is: \"tides\" & <ebb>, größer.";
    let convention = Convention::default();
    let (mut tried, mut set_on) = (0, 0);
    for texts in demo() {
        let (store, contract) = (store(&texts), load(&texts));
        let faults = contract.faults().len();
        for (component, path) in components(&contract) {
            tried += 1;
            let editing = || Editing::of(&contract, &store, &convention);
            let Ok(change) = set(editing(), component, &[("about", WORDS)]) else { continue };
            set_on += 1;
            let changed = after(&texts, &change);
            let again = load(&changed);
            assert_eq!(again.faults().len(), faults, "{path}");
            // Only files that are named have changed, and what they held is still there.
            for ((name, before), (_, now)) in texts.iter().zip(&changed) {
                let named = change.files.iter().any(|file| file.location.to_string() == *name);
                assert_eq!(before != now, named, "{path}: {name}");
            }
            let found = again.find(&path).unwrap_or_else(|error| panic!("{path}: {error}"));
            let (store, convention) = (self::store(&changed), Convention::default());
            let shown = text_of(Editing::of(&again, &store, &convention), found).unwrap();
            assert!(shown.contains("What it is:"), "{path}\n{shown}");
            // Once more, and it is so already.
            let editing = Editing::of(&again, &store, &convention);
            assert!(matches!(set(editing, found, &[("about", WORDS)]), Err(EditFailure::Nothing)), "{path}");
        }
    }
    assert!(set_on * 10 > tried * 8, "{set_on} of {tried}");
}

#[test]
fn what_a_component_does_not_have_is_refused() {
    let convention = Convention::default();
    let [texts, ..] = demo();
    let (store, contract) = (store(&texts), load(&texts));
    for (component, path) in components(&contract).into_iter().step_by(5) {
        let refused = |key: &str, value: &str| {
            let editing = Editing::of(&contract, &store, &convention);
            set(editing, component, &[(key, value)]).expect_err(&format!("{path} {key}={value}")).to_string()
        };
        assert!(refused("tide", "high").contains("tide"), "{path}");
        assert!(!refused("occurs", "never").is_empty(), "{path}");
        assert!(!refused("", "").is_empty(), "{path}");
    }
}
