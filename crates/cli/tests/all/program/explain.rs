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
        .complains("there is no rule \"element-unknwon\"");
    assert!(run.err.contains("did you mean \"element-unknown\"?"));
}
