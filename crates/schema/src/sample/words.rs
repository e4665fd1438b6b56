//! What a value is likely to be, by the name of the element that holds it. All of it is made up.

/// A word of a name, and values that suit it; the first that fits the type is taken.
const BY_WORD: &[(&str, &[&str])] = &[
    ("email", &["duty@agents.saltmere.example"]),
    ("mail", &["duty@agents.saltmere.example"]),
    ("telephone", &["0170 555 0142"]),
    ("phone", &["0170 555 0142"]),
    ("fax", &["0170 555 0143"]),
    ("radio", &["12"]),
    ("channel", &["12"]),
    ("language", &["en"]),
    ("lang", &["en"]),
    ("currency", &["EUR"]),
    ("country", &["NL", "Netherlands"]),
    ("company", &["Tolland and Reeve"]),
    ("organisation", &["Tolland and Reeve"]),
    ("organization", &["Tolland and Reeve"]),
    ("agent", &["tolland-reeve"]),
    ("owner", &["Tolland and Reeve"]),
    ("person", &["Ines Calloway"]),
    ("pilot", &["Ines Calloway"]),
    ("master", &["Bram Okker"]),
    ("captain", &["Bram Okker"]),
    ("user", &["i.calloway"]),
    ("login", &["i.calloway"]),
    ("password", &["grey-heron-41"]),
    ("surname", &["Calloway"]),
    ("forename", &["Ines"]),
    ("packing", &["drums on pallets"]),
    ("clerk", &["Mara Lindholm"]),
    ("sign", &["MHRS7"]),
    ("shift", &["2"]),
    ("sheet", &["SM-1482"]),
    ("street", &["Quay Street 4"]),
    ("address", &["Quay Street 4, Saltmere", "https://agents.saltmere.example/replies"]),
    ("city", &["Saltmere"]),
    ("town", &["Saltmere"]),
    ("place", &["Saltmere"]),
    ("postcode", &["SM4 1QA"]),
    ("zip", &["41702"]),
    ("port", &["Oakhaven"]),
    ("harbour", &["Saltmere"]),
    ("berth", &["N4"]),
    ("quay", &["north quay"]),
    ("vessel", &["Marsh Harrier"]),
    ("ship", &["Marsh Harrier"]),
    ("tug", &["Sturdy"]),
    ("remark", &["Two tugs on arrival."]),
    ("note", &["Two tugs on arrival."]),
    ("comment", &["Two tugs on arrival."]),
    ("description", &["General cargo, part load."]),
    ("text", &["Two tugs on arrival."]),
    ("message", &["The channel is closed until noon."]),
    ("reason", &["Fog in the outer reach."]),
    ("purpose", &["Boarding fee"]),
    ("title", &["Notice to pilots"]),
    ("subject", &["Notice to pilots"]),
    ("licence", &["HL-2041"]),
    ("license", &["HL-2041"]),
    ("receipt", &["R-41702"]),
    ("rule", &["draught-limit"]),
    ("url", &["https://notices.saltmere.example/17"]),
    ("uri", &["https://notices.saltmere.example/17"]),
    ("link", &["https://notices.saltmere.example/17"]),
    ("version", &["1.0", "1"]),
    ("next", &["page-2"]),
    ("after", &["page-1"]),
    ("latitude", &["50.11"]),
    ("longitude", &["-1.42"]),
    ("draught", &["9.4", "9"]),
    ("depth", &["12.6", "12"]),
    ("length", &["142.5", "142"]),
    ("beam", &["21.8", "21"]),
    ("height", &["31.2", "31"]),
    ("width", &["21.8", "21"]),
    ("speed", &["11.5", "11"]),
    ("heading", &["274"]),
    ("weight", &["120.5", "120"]),
    ("tonnes", &["120.5", "120"]),
    ("tanks", &["8"]),
    ("amount", &["1480.00", "1480"]),
    ("price", &["1480.00", "1480"]),
    ("fee", &["1480.00", "1480"]),
    ("cost", &["1480.00", "1480"]),
    ("total", &["1480.00", "1480"]),
    ("dues", &["1480.00", "1480"]),
    ("percent", &["12.5", "12"]),
    ("rate", &["0.21", "1"]),
    ("count", &["3"]),
    ("quantity", &["3"]),
    ("size", &["50"]),
    ("page", &["1"]),
    ("revision", &["2"]),
    ("tugs", &["2"]),
    ("year", &["2026"]),
    ("from", &["2026-03-14T06:30:00Z", "2026-03-14"]),
    ("start", &["2026-03-14T06:30:00Z", "2026-03-14"]),
    ("until", &["2026-03-14T08:00:00Z", "2026-03-16"]),
    ("end", &["2026-03-14T08:00:00Z", "2026-03-16"]),
    ("to", &["2026-03-14T08:00:00Z", "2026-03-16", "urn:saltmere:notice:41700"]),
    ("eta", &["2026-03-14T06:30:00Z", "2026-03-14"]),
    ("due", &["2026-04-13"]),
    ("issued", &["2026-03-12T09:15:00Z", "2026-03-12"]),
    ("revised", &["2026-03-13T16:40:00Z", "2026-03-13"]),
    ("id", &["41702", "urn:saltmere:notice:41702"]),
    ("number", &["41702"]),
    ("code", &["41702"]),
    ("reference", &["41702"]),
    ("key", &["41702"]),
];

/// The same for the second of two, so that lists do not repeat themselves.
const SECOND: &[(&str, &[&str])] = &[
    ("email", &["office@agents.saltmere.example"]),
    ("telephone", &["0170 555 0187"]),
    ("phone", &["0170 555 0187"]),
    ("language", &["nl"]),
    ("currency", &["GBP"]),
    ("company", &["Wick and Daughters"]),
    ("agent", &["wick-daughters"]),
    ("person", &["Bram Okker"]),
    ("pilot", &["Bram Okker"]),
    ("vessel", &["Grey Plover"]),
    ("ship", &["Grey Plover"]),
    ("sign", &["GPLV2"]),
    ("port", &["Fennock"]),
    ("berth", &["S2"]),
    ("remark", &["Pilot ladder on the port side."]),
    ("note", &["Keep clear of the heat."]),
    ("reason", &["No tug free before noon."]),
    ("purpose", &["Night surcharge"]),
    ("rule", &["daylight-only"]),
    ("channel", &["16"]),
    ("draught", &["7.2", "7"]),
    ("depth", &["10.9", "10"]),
    ("length", &["96.3", "96"]),
    ("tonnes", &["44", "44"]),
    ("weight", &["44", "44"]),
    ("amount", &["320.00", "320"]),
    ("fee", &["320.00", "320"]),
    ("price", &["320.00", "320"]),
    ("from", &["2026-03-14T18:45:00Z", "2026-03-15"]),
    ("until", &["2026-03-14T20:15:00Z", "2026-03-17"]),
    ("high", &["2026-03-14T18:52:00Z", "18:52:00"]),
    ("eta", &["2026-03-14T18:45:00Z", "2026-03-15"]),
    ("id", &["41703"]),
    ("number", &["41703"]),
    ("code", &["41703"]),
];

/// Names that say little by themselves, told by what holds them.
const BY_HOLDER: &[(&str, &str)] = &[
    ("vessel", "Marsh Harrier"),
    ("ship", "Marsh Harrier"),
    ("tanker", "Marsh Harrier"),
    ("tug", "Sturdy"),
    ("company", "Tolland and Reeve"),
    ("port", "Oakhaven"),
    ("berth", "N4"),
];

/// Values that suit a name, the likeliest first. `holder` names what the element stands in, `second` asks for
/// what the second of two would have.
pub(super) fn candidates(name: &str, holder: &str, second: bool) -> Vec<&'static str> {
    let words = split(name);
    let mut found = Vec::new();
    if second {
        let around = if words.last().is_some_and(|last| last == "name") { split(holder) } else { Vec::new() };
        let all = around.iter().chain(words.iter().rev());
        found.extend(all.filter_map(|word| entry(SECOND, word)).flatten());
        if found.is_empty() && words.last().is_some_and(|last| last == "name") {
            found.push("Bram Okker");
        }
    }
    if words.last().is_some_and(|last| last == "name") {
        let around = split(holder);
        let known = BY_HOLDER.iter().find(|(word, _)| words.iter().chain(&around).any(|w| w == word));
        found.push(known.map_or("Ines Calloway", |(_, value)| value));
    }
    // The last word of a name says what it is, the words before it say which.
    for word in words.iter().rev() {
        found.extend(entry(BY_WORD, word).into_iter().flatten());
    }
    found
}

/// The values for a word, or for its singular.
fn entry(table: &'static [(&str, &[&'static str])], word: &str) -> Option<&'static [&'static str]> {
    let singular = word.strip_suffix('s').unwrap_or(word);
    table.iter().find(|(known, _)| *known == word || *known == singular).map(|(_, values)| *values)
}

/// The name as plain words.
pub(super) fn plain(name: &str) -> String {
    split(name).join(" ")
}

/// The words of a name, in lower case: parted by capitals, digits and signs.
fn split(name: &str) -> Vec<String> {
    let mut words: Vec<String> = Vec::new();
    let mut word = String::new();
    let mut before_lower = false;
    for c in name.chars() {
        let boundary = !c.is_alphanumeric() || (c.is_uppercase() && before_lower);
        if boundary && !word.is_empty() {
            words.push(std::mem::take(&mut word));
        }
        if c.is_alphanumeric() {
            word.extend(c.to_lowercase());
        }
        before_lower = c.is_lowercase() || c.is_numeric();
    }
    if !word.is_empty() {
        words.push(word);
    }
    words
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_taken_apart() {
        assert_eq!(split("callSign"), ["call", "sign"]);
        assert_eq!(split("last_port-ID2"), ["last", "port", "id2"]);
        assert_eq!(candidates("name", "Vessel", false).first(), Some(&"Marsh Harrier"));
        assert_eq!(candidates("contactEmail", "", false).first(), Some(&"duty@agents.saltmere.example"));
        assert!(candidates("zz", "", true).is_empty());
        assert_eq!(candidates("name", "Vessel", true).first(), Some(&"Grey Plover"));
    }
}
