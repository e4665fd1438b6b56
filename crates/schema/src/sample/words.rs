//! What a value is likely to be, by the name of the element that holds it: in the words of a team, where it has settled
//! them, and else in neutral ones. All of it is made up.

use charter_source::Map;

/// What a team calls its things: values for samples, by the names of the elements and attributes that hold them.
///
/// A name is the end of that of an element, with as much of what holds it as is needed to tell it from others. Of its values,
/// a sample takes the first that fits the type; the second of two takes the next.
///
/// ```
/// use charter_schema::sample::Vocabulary;
///
/// let mut words = Vocabulary::default();
/// words.insert("vessel/name", ["Marsh Harrier", "Grey Plover"]);
/// assert_eq!(words.values("Vessel", "name"), ["Marsh Harrier", "Grey Plover"]);
/// assert_eq!(words.values("Report", "lastVesselName"), ["Marsh Harrier", "Grey Plover"]);
/// assert!(words.values("Agent", "name").is_empty());
/// ```
#[derive(Debug, Clone, Default)]
pub struct Vocabulary {
    entries: Map<String, Vec<String>>,
    /// How many words the longest name has.
    longest: usize,
}

impl Vocabulary {
    /// Settles values for a name, in the place of those that it has. `vessel/name` is the name of a vessel.
    pub fn insert<V: Into<String>>(&mut self, name: &str, values: impl IntoIterator<Item = V>) {
        let words = split(name);
        self.longest = self.longest.max(words.len());
        self.entries.insert(words.join(" "), values.into_iter().map(Into::into).collect());
    }

    /// Whether nothing is settled.
    pub fn is_empty(&self) -> bool {
        self.entries.is_empty()
    }

    /// The values for an element or an attribute, by its name and that of what holds it.
    pub fn values(&self, holder: &str, name: &str) -> Vec<&str> {
        let groups = self.groups(&split(holder), &split(name));
        groups.into_iter().next().unwrap_or_default()
    }

    /// Values by the longest end of a name first, then by single words of it.
    fn groups(&self, holder: &[String], name: &[String]) -> Vec<Vec<&str>> {
        if self.entries.is_empty() {
            return Vec::new();
        }
        let get = |key: &str| self.entries.get(key).or_else(|| self.entries.get(key.strip_suffix('s')?));
        let found = keys(holder, name, self.longest).filter_map(|key| get(&key));
        found.map(|values| values.iter().map(String::as_str).collect()).collect()
    }
}

/// What may be known of a name: its ends with what holds it, the longest first, and then its words by themselves, the last
/// first: it says what the thing is, those before it say which.
fn keys(holder: &[String], name: &[String], longest: usize) -> impl Iterator<Item = String> {
    let whole: Vec<&str> = holder.iter().chain(name).map(String::as_str).collect();
    let ends: Vec<String> =
        (1..=whole.len().min(longest)).rev().map(|count| whole[whole.len() - count..].join(" ")).collect();
    // What stands between says which: the ISO code of a country is the code of one.
    let last = name.last().map_or("", String::as_str);
    let pairs: Vec<String> = name.iter().rev().skip(2).map(|word| format!("{word} {last}")).collect();
    let (long, short): (Vec<_>, Vec<_>) = ends.into_iter().partition(|end| end.contains(' '));
    // A name by itself says nothing about the words before it.
    let single: Vec<String> =
        if last == "name" { Vec::new() } else { name.iter().rev().skip(1).cloned().collect() };
    long.into_iter().chain(pairs).chain(short).chain(single)
}

/// The end of a name, and values that suit it; the first that fits the type is taken, the next for the second of two.
const KNOWN: &[(&str, &[&str])] = &[
    ("email", &["kim.jansen@example.org", "office@example.org"]),
    ("mail", &["kim.jansen@example.org", "office@example.org"]),
    ("telephone", &["0170 555 0142", "0170 555 0187"]),
    ("phone", &["0170 555 0142", "0170 555 0187"]),
    ("mobile", &["0170 555 0142", "0170 555 0187"]),
    ("fax", &["0170 555 0143", "0170 555 0188"]),
    ("language", &["en", "nl"]),
    ("lang", &["en", "nl"]),
    ("locale", &["en", "nl"]),
    ("language code", &["en", "nl"]),
    ("language name", &["English", "Dutch"]),
    ("currency", &["EUR", "GBP"]),
    ("currency code", &["EUR", "GBP"]),
    ("country code", &["NL", "DE", "NLD", "DEU"]),
    ("country name", &["Netherlands", "Germany"]),
    ("country", &["NL", "DE", "NLD", "DEU", "Netherlands", "Germany"]),
    ("nationality", &["NL", "DE", "NLD", "DEU", "Netherlands", "Germany"]),
    ("person", &["Kim Jansen", "Robin Visser"]),
    ("contact", &["Kim Jansen", "Robin Visser"]),
    ("person name", &["Kim Jansen", "Robin Visser"]),
    ("contact name", &["Kim Jansen", "Robin Visser"]),
    ("full name", &["Kim Jansen", "Robin Visser"]),
    ("first name", &["Kim", "Robin"]),
    ("given name", &["Kim", "Robin"]),
    ("forename", &["Kim", "Robin"]),
    ("middle name", &["Maria", "Jan"]),
    ("last name", &["Jansen", "Visser"]),
    ("family name", &["Jansen", "Visser"]),
    ("surname", &["Jansen", "Visser"]),
    ("user name", &["k.jansen", "r.visser"]),
    ("username", &["k.jansen", "r.visser"]),
    ("user", &["k.jansen", "r.visser"]),
    ("login", &["k.jansen", "r.visser"]),
    ("password", &["grey-stone-41", "blue-stone-17"]),
    ("company", &["First Company", "Second Company"]),
    ("company name", &["First Company", "Second Company"]),
    ("organisation", &["First Company", "Second Company"]),
    ("organization", &["First Company", "Second Company"]),
    ("street", &["Long Street 4", "Mill Lane 12"]),
    ("street name", &["Long Street", "Mill Lane"]),
    ("address", &["Long Street 4, Leiden", "Mill Lane 12, Delft", "https://example.org/1"]),
    ("email address", &["kim.jansen@example.org", "office@example.org"]),
    ("ip address", &["192.0.2.10", "192.0.2.11"]),
    ("city", &["Leiden", "Delft"]),
    ("city name", &["Leiden", "Delft"]),
    ("town", &["Leiden", "Delft"]),
    ("postcode", &["2312 AB", "2611 CD", "23121", "26112"]),
    ("postal code", &["2312 AB", "2611 CD", "23121", "26112"]),
    ("zip", &["23121", "26112"]),
    ("zip code", &["23121", "26112"]),
    ("remark", &["A short remark.", "Another remark."]),
    ("note", &["A short note.", "Another note."]),
    ("comment", &["A short comment.", "Another comment."]),
    ("description", &["A short description.", "Another description."]),
    ("text", &["A short text.", "Another text."]),
    ("message", &["A short message.", "Another message."]),
    ("reason", &["by request", "by mistake"]),
    ("title", &["First title", "Second title"]),
    ("subject", &["First subject", "Second subject"]),
    ("url", &["https://example.org/1", "https://example.org/2"]),
    ("uri", &["https://example.org/1", "https://example.org/2"]),
    ("link", &["https://example.org/1", "https://example.org/2"]),
    ("host", &["host.example.org", "other.example.org"]),
    ("host name", &["host.example.org", "other.example.org"]),
    ("hostname", &["host.example.org", "other.example.org"]),
    ("domain", &["example.org", "example.net"]),
    ("file name", &["document.pdf", "drawing.pdf"]),
    ("filename", &["document.pdf", "drawing.pdf"]),
    ("media type", &["text/plain", "application/pdf"]),
    ("mime type", &["text/plain", "application/pdf"]),
    ("content type", &["text/plain", "application/pdf"]),
    ("version", &["1.0", "1.1", "1", "2"]),
    ("latitude", &["52.16", "52.01"]),
    ("longitude", &["4.49", "4.36"]),
    ("length", &["142.5", "96.3", "142", "96"]),
    ("depth", &["12.6", "10.9", "12", "10"]),
    ("height", &["31.2", "28.4", "31", "28"]),
    ("width", &["21.8", "16.5", "21", "16"]),
    ("speed", &["11.5", "9.2", "11", "9"]),
    ("weight", &["120.5", "44", "120"]),
    ("amount", &["120.00", "80.00", "120", "80"]),
    ("price", &["120.00", "80.00", "120", "80"]),
    ("fee", &["120.00", "80.00", "120", "80"]),
    ("cost", &["120.00", "80.00", "120", "80"]),
    ("total", &["120.00", "80.00", "120", "80"]),
    ("percent", &["12.5", "7.5", "12", "7"]),
    ("percentage", &["12.5", "7.5", "12", "7"]),
    ("rate", &["0.21", "0.09", "1"]),
    ("count", &["3", "4"]),
    ("quantity", &["3", "4"]),
    ("size", &["50", "20"]),
    ("page", &["1", "2"]),
    ("revision", &["2", "3"]),
    ("year", &["2026", "2027"]),
    ("date", &["2026-03-14", "2026-03-15"]),
    ("time", &["06:30:00", "18:45:00"]),
    ("timestamp", &["2026-03-14T06:30:00Z", "2026-03-14T18:45:00Z"]),
    ("from", &["2026-03-14T06:30:00Z", "2026-03-14T18:45:00Z", "2026-03-14", "2026-03-15"]),
    ("start", &["2026-03-14T06:30:00Z", "2026-03-14T18:45:00Z", "2026-03-14", "2026-03-15"]),
    ("until", &["2026-03-14T08:00:00Z", "2026-03-14T20:15:00Z", "2026-03-16", "2026-03-17"]),
    ("end", &["2026-03-14T08:00:00Z", "2026-03-14T20:15:00Z", "2026-03-16", "2026-03-17"]),
    ("to", &["2026-03-14T08:00:00Z", "2026-03-14T20:15:00Z", "2026-03-16", "2026-03-17"]),
    ("due", &["2026-04-13", "2026-04-14"]),
    ("status", &["open", "closed"]),
    ("id", &["41702", "41703", "urn:example:41702"]),
    ("number", &["41702", "41703"]),
    ("code", &["41702", "41703"]),
    ("reference", &["41702", "41703"]),
    ("key", &["41702", "41703"]),
];

/// How many words the longest known name has.
const LONGEST: usize = 2;

/// Groups of values that suit a name, the likeliest first. `holder` names what the element stands in.
pub(super) fn candidates<'v>(vocabulary: &'v Vocabulary, name: &str, holder: &str) -> Vec<Vec<&'v str>> {
    let (name, holder) = (split(name), split(holder));
    let mut found = vocabulary.groups(&holder, &name);
    let get = |key: &str| {
        let singular = key.strip_suffix('s').unwrap_or(key);
        KNOWN.iter().find(|(known, _)| *known == key || *known == singular)
    };
    found
        .extend(keys(&holder, &name, LONGEST).filter_map(|key| get(&key)).map(|(_, values)| values.to_vec()));
    found
}

/// The name of something that has a name, for the first and the second of two: `First vessel`.
pub(super) fn named(name: &str, holder: &str, second: bool) -> Option<String> {
    let words = split(name);
    let (last, before) = words.split_last()?;
    if last != "name" {
        return None;
    }
    let of = if before.is_empty() { split(holder) } else { before.to_vec() };
    let ordinal = if second { "Second" } else { "First" };
    Some(if of.is_empty() { format!("{ordinal} name") } else { format!("{ordinal} {}", of.join(" ")) })
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

    fn first(name: &str, holder: &str) -> Option<&'static str> {
        static NOTHING: std::sync::LazyLock<Vocabulary> = std::sync::LazyLock::new(Vocabulary::default);
        candidates(&NOTHING, name, holder).first().map(|group| group[0])
    }

    #[test]
    fn names_are_taken_apart() {
        assert_eq!(split("callSign"), ["call", "sign"]);
        assert_eq!(split("last_port-ID2"), ["last", "port", "id2"]);
        assert_eq!(split("vessel/name"), ["vessel", "name"]);
    }

    #[test]
    fn values_fit_the_name() {
        for (name, holder, value) in [
            ("languageCode", "", Some("en")),
            ("country_iso_code", "", Some("NL")),
            ("CurrencyCode", "Amount", Some("EUR")),
            ("country", "", Some("NL")),
            ("contactEmail", "", Some("kim.jansen@example.org")),
            ("firstName", "Pilot", Some("Kim")),
            ("name", "Person", Some("Kim Jansen")),
            ("userName", "", Some("k.jansen")),
            ("fileName", "", Some("document.pdf")),
            ("ids", "", Some("41702")),
            ("zz", "", None),
            // A person's name is one only where it is a person's.
            ("name", "Vessel", None),
            ("vesselName", "", None),
        ] {
            let found = first(name, holder);
            assert_eq!(found, value, "{holder}/{name}");
        }
        assert_eq!(named("name", "Vessel", false).as_deref(), Some("First vessel"));
        assert_eq!(named("berthName", "Vessel", true).as_deref(), Some("Second berth"));
        assert_eq!(named("name", "", false).as_deref(), Some("First name"));
        assert_eq!(named("vessel", "", false), None);
    }

    #[test]
    fn the_words_of_a_team_come_first() {
        let mut words = Vocabulary::default();
        words.insert("callSign", ["MHRS7"]);
        words.insert("name", ["Anyone"]);
        words.insert("vessel/name", ["Marsh Harrier"]);
        let first = |name: &str, holder: &str| candidates(&words, name, holder)[0][0];
        assert_eq!(first("callSign", "Vessel"), "MHRS7");
        assert_eq!(first("callSigns", "Fleet"), "MHRS7");
        assert_eq!((first("name", "Vessel"), first("name", "Agent")), ("Marsh Harrier", "Anyone"));
        assert_eq!(first("email", "Agent"), "kim.jansen@example.org");
        assert!(!words.is_empty());
    }
}
