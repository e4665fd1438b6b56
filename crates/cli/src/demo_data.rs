//! The demo data: the made-up port of Saltmere.

/// Each file by its path in the demo folder.
pub const FILES: &[(&str, &str)] = &[
    ("charter.toml", include_str!("../demo/charter.toml")),
    ("v1/pilotage.wsdl", include_str!("../demo/v1/pilotage.wsdl")),
    ("v1/vessel.xsd", include_str!("../demo/v1/vessel.xsd")),
    ("v2/pilotage.wsdl", include_str!("../demo/v2/pilotage.wsdl")),
    ("v2/vessel.xsd", include_str!("../demo/v2/vessel.xsd")),
    ("v3/pilotage.wsdl", include_str!("../demo/v3/pilotage.wsdl")),
    ("v3/vessel.xsd", include_str!("../demo/v3/vessel.xsd")),
    ("v4/pilotage.wsdl", include_str!("../demo/v4/pilotage.wsdl")),
    ("v4/vessel.xsd", include_str!("../demo/v4/vessel.xsd")),
    ("answers.toml", include_str!("../demo/answers.toml")),
    ("pilots.csv", include_str!("../demo/pilots.csv")),
    ("rehearsals/booking.toml", include_str!("../demo/rehearsals/booking.toml")),
    ("rehearsals/vessels.csv", include_str!("../demo/rehearsals/vessels.csv")),
    ("sent/declare-cargo.xml", include_str!("../demo/sent/declare-cargo.xml")),
    ("sent/declare-cargo-late.xml", include_str!("../demo/sent/declare-cargo-late.xml")),
    ("sent/amend-boarding.http", include_str!("../demo/sent/amend-boarding.http")),
    ("draft/towage.wsdl", include_str!("../demo/draft/towage.wsdl")),
    ("office/harbour.wsdl", include_str!("../demo/office/harbour.wsdl")),
    ("consumers/buoy-watch.toml", include_str!("../demo/consumers/buoy-watch.toml")),
    ("consumers/quay-board.toml", include_str!("../demo/consumers/quay-board.toml")),
    ("consumers/tolland-reeve.toml", include_str!("../demo/consumers/tolland-reeve.toml")),
    ("consumers/captured/request-pilot.xml", include_str!("../demo/consumers/captured/request-pilot.xml")),
    ("consumers/captured/find-boarding.xml", include_str!("../demo/consumers/captured/find-boarding.xml")),
    (
        "consumers/captured/find-boarding-reply.xml",
        include_str!("../demo/consumers/captured/find-boarding-reply.xml"),
    ),
];
