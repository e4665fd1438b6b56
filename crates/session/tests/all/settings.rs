//! The one reader of `charter.toml`.

use charter_compare::{NamespaceRule, OpenContent, Step, Surface, UnknownContent, Verdict};
use charter_session::Settings;

use crate::shared::{Folder, failed, session};

#[test]
fn every_table_is_read() {
    let settings = Settings::read(
        r#"
[names]
service = "*Desk"
part = "body"

[check]
profiles = "basic-1.1"
baseline = "known.toml"

[check.levels]
type-unused = "off"

[[check.except]]
rule = "address-localhost"
reason = "only a draft"
until = 2027-03-31

[house]
headers = ["AgentCredentials"]

[compare]
allow = "keeps"
reader = "strict"
surface = "code"
open-content = "named"

[versions]
breaks = "minor"
namespace = "never"
current = "1.4.0"

[values]
draught = ["9.4", "7.2"]
"vessel/name" = "Marsh Harrier"
"#,
    );
    let settings = settings.unwrap();
    assert_eq!((&*settings.names.service, &*settings.names.part), ("*Desk", "body"));
    assert_eq!(settings.check.baseline.as_deref(), Some("known.toml"));
    assert_eq!(settings.check.levels[0].level, None);
    assert_eq!(settings.check.exceptions[0].until.as_deref(), Some("2027-03-31"));
    assert_eq!(settings.check.house.headers, ["AgentCredentials"]);
    let compare = settings.compare;
    assert_eq!(
        (compare.allow, compare.reader, compare.surface, compare.open),
        (Some(Verdict::Keeps), Some(UnknownContent::Refused), Some(Surface::Code), Some(OpenContent::Named))
    );
    let versions = settings.versions.unwrap();
    assert_eq!((versions.breaks, versions.namespace), (Step::Minor, NamespaceRule::Never));
    assert_eq!(versions.current.as_deref(), Some("1.4.0"));
    assert_eq!(settings.values.values("Vessel", "draught"), ["9.4", "7.2"]);
    assert_eq!(settings.values.values("Vessel", "name"), ["Marsh Harrier"]);
    assert!(settings.values.values("Berth", "name").is_empty());
}

#[test]
fn what_makes_no_sense_is_said_where_it_stands() {
    for (text, place, message, help) in [
        ("[nmaes]\n", "[nmaes]", "there is nothing named \"nmaes\" to settle", "did you mean \"names\"?"),
        (
            "names = 4\n",
            "4",
            "\"names\" is no table",
            "write [names] on a line of its own, and what belongs to it below",
        ),
        (
            "[names]\nservise = \"*\"\n",
            "servise",
            "there is nothing named \"servise\" to settle in [names]",
            "did you mean \"service\"?",
        ),
        ("[names]\nservice = 4\n", "4", "this is no text", "write it in quotes"),
        (
            "[names]\nservice = \"Desk\"\n",
            "\"Desk\"",
            "\"Desk\" makes no names",
            "write * once, for the name that it follows from: \"*Service\", \"PT_*\"",
        ),
        (
            "[names]\nservice = \"* *\"\n",
            "\"* *\"",
            "\"* *\" makes no names",
            "write * once, for the name that it follows from: \"*Service\", \"PT_*\"",
        ),
        ("[names]\npart = \"*\"\n", "\"*\"", "\"*\" makes no names", "a part has one name, without *"),
        (
            "[compare]\nallow = \"bendz\"\n",
            "\"bendz\"",
            "\"bendz\" is not known here",
            "there is keeps, bends, breaks",
        ),
        ("[compare]\nreader = \"any\"\n", "\"any\"", "\"any\" is not known here", "there is strict, lenient"),
        (
            "[compare]\nalow = \"keeps\"\n",
            "alow",
            "there is nothing named \"alow\" to settle in [compare]",
            "did you mean \"allow\"?",
        ),
        (
            "[versions]\nbends = \"much\"\n",
            "\"much\"",
            "\"much\" is not known here",
            "there is major, minor, patch, same",
        ),
        ("[values]\ndraught = 9.4\n", "9.4", "this is no text", "write it in quotes"),
        (
            "[values]\ndraught = []\n",
            "[]",
            "there is no value for \"draught\"",
            "write draught = [\"…\", \"…\"], the likeliest first",
        ),
        (
            "[check.levels]\ntype-unused = \"of\"\n",
            "\"of\"",
            "\"of\" is no level",
            "write \"error\", \"warning\", \"note\" or \"off\"",
        ),
    ] {
        let error = Settings::read(text).unwrap_err();
        assert_eq!((error.message.as_str(), error.help.as_str()), (message, help), "{text}");
        let at = text.get(error.span.clone()).unwrap_or("");
        assert!(
            place.trim_matches(['[', ']']).starts_with(at.trim_matches(['[', ']'])),
            "{text}: {at:?} is not {place}"
        );
    }
    let error = Settings::read("[check\n").unwrap_err();
    assert!(error.help.starts_with("the file is in TOML"), "{error}");
}

#[test]
fn the_nearest_file_holds_for_all_below_it() {
    let folder = Folder::empty();
    folder.write("charter.toml", "[names]\nservice = \"*Far\"\n");
    folder.write("in/charter.toml", "[names]\nservice = \"*Near\"\n");
    folder.write("in/deep/tides.wsdl", "");
    let session = session();
    let service = |file: &str| session.settings(&folder.name(file)).unwrap().names.service.clone();
    assert_eq!((service("tides.wsdl"), service("in/deep/tides.wsdl")), ("*Far".into(), "*Near".into()));
    let settings = session.settings(&folder.name("in/deep/tides.wsdl")).unwrap();
    assert_eq!(settings.folder, Some(folder.path("in")));
    assert_eq!(settings.check.today.len(), "2026-11-23".len());
    folder.write("in/charter.toml", "[names]\nservice = 4\n");
    let failure = failed(session.settings(&folder.name("in/deep/tides.wsdl")));
    assert!(failure.place.unwrap().to_string().ends_with("charter.toml:2:11"));
    folder.write("in/charter.toml", b"\xff\xfe");
    let failure = failed(session.settings(&folder.name("in/deep/tides.wsdl")));
    assert_eq!(failure.help.as_deref(), Some("mend it, or move it away"));
}
