use crate::program::folder::Folder;

#[test]
fn every_rule_is_listed_and_explained() {
    let folder = Folder::empty();
    let list = folder.run("explain").ends(0).out;
    let json = folder.run("explain --format json").ends(0).json();
    let rules = json["rules"].as_array().unwrap();
    assert!(rules.len() >= 35);
    for rule in rules {
        let name = rule["rule"].as_str().unwrap();
        assert!(list.lines().any(|line| line.split_whitespace().next() == Some(name)), "{name}");
        let text = folder.run(&format!("explain {name}")).ends(0).out;
        assert!(text.contains(rule["asks"].as_str().unwrap()), "{text}");
        assert!(text.contains(rule["standard"].as_str().unwrap()), "{text}");
    }
}

#[test]
fn an_unknown_rule_is_answered_with_the_nearest() {
    let run = Folder::empty()
        .run("explain element-unknwon")
        .ends(2)
        .complains("there is no rule or kind of change \"element-unknwon\"");
    assert!(run.err.contains("did you mean \"element-unknown\"?"));
}

#[test]
fn every_kind_of_change_is_listed_and_explained() {
    let folder = Folder::empty();
    let list = folder.run("explain").ends(0).out;
    let json = folder.run("explain --format json").ends(0).json();
    let kinds = json["kinds"].as_array().unwrap();
    let rules: Vec<&str> =
        json["rules"].as_array().unwrap().iter().map(|it| it["rule"].as_str().unwrap()).collect();
    assert!(kinds.len() >= 80);
    for kind in kinds {
        let name = kind["kind"].as_str().unwrap();
        assert!(!rules.contains(&name), "{name} is a rule, too");
        assert!(list.lines().any(|line| line.split_whitespace().next() == Some(name)), "{name}");
        let text = folder.run(&format!("explain {name}")).ends(0).out;
        assert!(text.contains(kind["says"].as_str().unwrap()), "{text}");
        assert!(text.lines().count() < 60, "{text}");
    }
}

#[test]
fn a_kind_of_change_is_shown_by_what_differs() {
    let folder = Folder::empty();
    let text = folder.run("explain operation-unbound").ends(0).out;
    assert!(text.contains("  -   <w:operation name=\"leaveBerth\">"), "{text}");
    assert!(!text.contains("<w:message"), "{text}");
    let kind = folder.run("explain range-narrowed --format json").ends(0).json();
    assert_eq!((kind["kind"].as_str(), kind["topic"].as_str()), (Some("range-narrowed"), Some("Values")));
    let run = folder.run("explain range-narowed").ends(2);
    assert!(run.err.contains("did you mean \"range-narrowed\"?"), "{}", run.err);
}
