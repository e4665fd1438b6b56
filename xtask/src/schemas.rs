//! Random schemas over the whole language: mostly sound, with the odd construct that is not.

use fastrand::Rng;

use crate::xml::Xml;

/// A schema under construction.
pub struct Maker<'r> {
    rng: &'r mut Rng,
    simple: Vec<String>,
    complex: Vec<Complex>,
    elements: Vec<String>,
    attributes: Vec<String>,
    groups: Vec<String>,
    attribute_groups: Vec<String>,
    keys: Vec<String>,
    counter: usize,
    prefix: &'static str,
}

/// A complex type that others may be derived from.
#[derive(Clone)]
struct Complex {
    name: String,
    /// Its content, if it has elements.
    content: Option<Xml>,
    attributes: Vec<Xml>,
    simple: bool,
    mixed: bool,
}

const WORDS: &[&str] =
    &["berth", "pilot", "vessel", "tide", "quay", "cargo", "agent", "draught", "buoy", "tug"];

/// Built-in types with values that they have.
const BUILTINS: &[(&str, &[&str])] = &[
    ("string", &["north buoy", " a b ", "", "x"]),
    ("normalizedString", &["south roads", "a  b"]),
    ("token", &["SMPL4", "a b"]),
    ("boolean", &["true", "0"]),
    ("decimal", &["9.4", "-0.50", "100"]),
    ("integer", &["7", "-12", "+3"]),
    ("int", &["41", "-2147483648"]),
    ("short", &["12", "-1"]),
    ("byte", &["3", "127"]),
    ("unsignedByte", &["255", "0"]),
    ("positiveInteger", &["1", "99"]),
    ("nonNegativeInteger", &["0", "17"]),
    ("long", &["1234567890123"]),
    ("float", &["1.5", "INF", "-0", "1e3"]),
    ("double", &["2.25E-3", "NaN"]),
    ("date", &["2026-03-14", "2026-03-14Z"]),
    ("dateTime", &["2026-03-14T06:40:00Z", "2026-03-14T06:40:00.5"]),
    ("time", &["06:40:00", "23:59:59+01:00"]),
    ("gYear", &["2026"]),
    ("gYearMonth", &["2026-03"]),
    ("gMonthDay", &["--03-14"]),
    ("gDay", &["---14"]),
    ("duration", &["P1DT2H", "PT0.5S", "-P3M"]),
    ("hexBinary", &["0FB7", ""]),
    ("base64Binary", &["U2FsdG1lcmU=", "cQ=="]),
    ("anyURI", &["urn:saltmere:tides:1", "a b"]),
    ("language", &["en", "de-AT"]),
    ("Name", &["a:b", "tide"]),
    ("NCName", &["tide", "_x"]),
    ("NMTOKEN", &["-a", "1:b"]),
    ("NMTOKENS", &["a b", "c"]),
    ("QName", &["t:tide", "tide"]),
];

/// Values of a built-in type, if it is one that schemas use.
pub fn values_of(builtin: &str) -> &'static [&'static str] {
    BUILTINS.iter().find(|(name, _)| *name == builtin).map_or(&[], |(_, values)| values)
}

impl<'r> Maker<'r> {
    pub fn new(rng: &'r mut Rng) -> Maker<'r> {
        let prefix = if rng.u8(..4) == 0 { "" } else { "t:" };
        Maker {
            rng,
            simple: Vec::new(),
            complex: Vec::new(),
            elements: Vec::new(),
            attributes: Vec::new(),
            groups: Vec::new(),
            attribute_groups: Vec::new(),
            keys: Vec::new(),
            counter: 0,
            prefix,
        }
    }

    fn chance(&mut self, one_in: u32) -> bool {
        self.rng.u32(..one_in) == 0
    }

    fn pick<T: Clone>(&mut self, from: &[T]) -> T {
        from[self.rng.usize(..from.len())].clone()
    }

    fn word(&mut self) -> String {
        self.pick(WORDS).to_owned()
    }

    fn fresh(&mut self, kind: &str) -> String {
        self.counter += 1;
        format!("{kind}{}", self.counter)
    }

    /// A whole schema document.
    pub fn schema(&mut self) -> Xml {
        let mut schema = Xml::new("xs:schema").with("xmlns:xs", "http://www.w3.org/2001/XMLSchema");
        if !self.prefix.is_empty() {
            schema = schema.with("xmlns:t", "urn:t").with("targetNamespace", "urn:t");
        }
        if self.rng.bool() {
            schema = schema.with("elementFormDefault", "qualified");
        }
        if self.chance(4) {
            schema = schema.with("attributeFormDefault", "qualified");
        }
        if self.chance(12) {
            let value = self.pick(&["#all", "extension", "restriction", "substitution"]);
            schema = schema.with("blockDefault", value);
        }
        if self.chance(16) {
            let value = self.pick(&["#all", "extension", "restriction", "list union"]);
            schema = schema.with("finalDefault", value);
        }
        let count = self.rng.usize(3..10);
        for _ in 0..count {
            let part = match self.rng.u32(..20) {
                0..=4 => self.simple_type(true),
                5..=10 => self.complex_type(),
                11 => self.group(),
                12 => self.attribute_group(),
                13 => self.global_attribute(),
                _ => self.element(),
            };
            schema.children.push(part);
        }
        let root = self.root();
        schema.children.push(root);
        schema
    }

    /// An element to begin messages with, which has something of everything.
    fn root(&mut self) -> Xml {
        let content = match self.rng.bool() {
            true => self.particles(2),
            false => self.group_of(2),
        };
        let mut complex = Xml::new("xs:complexType").holding([content]);
        complex.children.extend(self.attributes_written());
        let mut root = Xml::new("xs:element").with("name", "root").holding([complex]);
        if self.chance(4) {
            root.children.extend(self.constraints());
        }
        root
    }

    fn facet(name: &str, value: impl Into<String>) -> Xml {
        Xml::new(&format!("xs:{name}")).with("value", value)
    }

    /// Facets that mostly suit a built-in type.
    fn facets(&mut self, builtin: &str, values: &[&str]) -> Vec<Xml> {
        let mut found = Vec::new();
        if self.chance(40) {
            found.push(Self::facet(
                self.rng.choice(["length", "maxLength", "totalDigits", "minInclusive"]).unwrap_or("length"),
                "3",
            ));
        }
        if self.chance(3) && !values.is_empty() && builtin != "boolean" {
            let mut listed = values.to_vec();
            listed.dedup();
            listed.truncate(self.rng.usize(1..3));
            return listed.into_iter().map(|value| Self::facet("enumeration", value)).collect();
        }
        match builtin {
            "string" | "normalizedString" | "token" | "NCName" | "NMTOKEN" | "anyURI" | "hexBinary"
            | "base64Binary" | "NMTOKENS" | "Name" | "language" => {
                let (least, most) = (self.rng.u32(..3), self.rng.u32(2..9));
                match self.rng.u32(..5) {
                    0 => found.push(Self::facet("length", most.to_string())),
                    1 => found.push(Self::facet("maxLength", most.to_string())),
                    2 => found.extend([
                        Self::facet("minLength", least.to_string()),
                        Self::facet("maxLength", most.to_string()),
                    ]),
                    3 if builtin != "NMTOKENS" && !builtin.contains("Binary") => {
                        let pattern = self.pick(&[
                            "[A-Z0-9]{4,7}",
                            "[a-z]+( [a-z]+)*",
                            "\\c{1,8}",
                            ".{0,6}",
                            "a|b|[0-9-[5]]+",
                            "\\p{L}\\w*",
                        ]);
                        found.push(Self::facet("pattern", pattern));
                    }
                    _ => {}
                }
                if builtin == "string" && self.chance(5) {
                    let value = self.pick(&["preserve", "replace", "collapse"]);
                    found.push(Self::facet("whiteSpace", value));
                }
            }
            "decimal" | "integer" | "int" | "short" | "byte" | "long" | "unsignedByte"
            | "positiveInteger" | "nonNegativeInteger" => {
                let (least, most) = (self.rng.u32(1..9), self.rng.u32(9..90));
                match self.rng.u32(..5) {
                    0 => found.push(Self::facet("minInclusive", least.to_string())),
                    1 => found.extend([
                        Self::facet("minExclusive", least.to_string()),
                        Self::facet("maxInclusive", most.to_string()),
                    ]),
                    2 => found.push(Self::facet("maxExclusive", most.to_string())),
                    3 => found.push(Self::facet("totalDigits", self.rng.u32(2..5).to_string())),
                    _ if builtin == "decimal" => {
                        found.push(Self::facet("fractionDigits", self.rng.u32(..3).to_string()))
                    }
                    _ => {}
                }
            }
            "date" => found.push(Self::facet("minInclusive", "2020-01-01")),
            "dateTime" => found.push(Self::facet("maxExclusive", "2030-01-01T00:00:00Z")),
            "duration" => found.push(Self::facet("maxInclusive", "P1Y")),
            "float" | "double" => found.push(Self::facet("minInclusive", "-1e9")),
            "time" => found.push(Self::facet("minInclusive", "01:00:00")),
            "gYear" => found.push(Self::facet("minExclusive", "1999")),
            _ => {}
        }
        found
    }

    fn simple_type(&mut self, global: bool) -> Xml {
        let inner = match self.rng.u32(..10) {
            0 | 1 => {
                let item = self.simple_name(true);
                let list = Xml::new("xs:list").with("itemType", item);
                match self.rng.bool() {
                    true => list,
                    false => {
                        let inline = Xml::new("xs:simpleType").holding([list]);
                        let facet = self.pick(&["length", "minLength", "maxLength"]);
                        let length = self.rng.u32(1..4).to_string();
                        Xml::new("xs:restriction").holding([inline, Self::facet(facet, length)])
                    }
                }
            }
            2 | 3 => {
                let members: Vec<String> =
                    (0..self.rng.usize(1..4)).map(|_| self.simple_name(false)).collect();
                Xml::new("xs:union").with("memberTypes", members.join(" "))
            }
            4 if !self.simple.is_empty() => {
                let base = self.pick(&self.simple.clone());
                let base = format!("{}{base}", self.prefix);
                let mut restriction = Xml::new("xs:restriction").with("base", base);
                if self.chance(3) {
                    restriction.children.push(Self::facet("maxLength", "5"));
                }
                restriction
            }
            _ => {
                let (builtin, values) = self.pick(BUILTINS);
                let facets = self.facets(builtin, values);
                Xml::new("xs:restriction").with("base", format!("xs:{builtin}")).holding(facets)
            }
        };
        let mut ty = Xml::new("xs:simpleType");
        if global {
            let name = self.fresh("S");
            ty = ty.with("name", name.clone());
            if self.chance(15) {
                let value = self.pick(&["list", "union", "restriction", "#all"]);
                ty = ty.with("final", value);
            }
            self.simple.push(name);
        }
        ty.holding([inner])
    }

    fn simple_name(&mut self, item: bool) -> String {
        if !self.simple.is_empty() && self.rng.bool() {
            let name = self.pick(&self.simple.clone());
            return format!("{}{name}", self.prefix);
        }
        loop {
            let (builtin, _) = self.pick(BUILTINS);
            if !(item && builtin == "NMTOKENS") {
                return format!("xs:{builtin}");
            }
        }
    }

    fn occurs(&mut self, mut particle: Xml) -> Xml {
        match self.rng.u32(..12) {
            0..=2 => particle = particle.with("minOccurs", "0"),
            3 => particle = particle.with("maxOccurs", "unbounded"),
            4 => particle = particle.with("minOccurs", "0").with("maxOccurs", "unbounded"),
            5 => {
                let least = self.rng.u32(..3);
                let most = least + self.rng.u32(..3);
                particle = particle.with("minOccurs", least.to_string()).with("maxOccurs", most.to_string());
            }
            6 if self.chance(60) => particle = particle.with("minOccurs", "0").with("maxOccurs", "0"),
            _ => {}
        }
        particle
    }

    fn type_name(&mut self) -> String {
        if !self.complex.is_empty() && self.chance(3) {
            let complex = self.pick(&self.complex.clone());
            return format!("{}{}", self.prefix, complex.name);
        }
        self.simple_name(false)
    }

    fn local_element(&mut self, depth: usize) -> Xml {
        // Mostly names that differ, so that most models are unambiguous.
        let name = if self.chance(6) { self.word() } else { self.fresh("e") };
        let mut element = Xml::new("xs:element").with("name", name);
        match self.rng.u32(..8) {
            0 if depth > 0 => {
                let mut complex = Xml::new("xs:complexType");
                if self.chance(4) {
                    complex = complex.with("mixed", "true");
                }
                let content = self.group_of(depth - 1);
                complex.children.push(content);
                complex.children.extend(self.attributes_written());
                element.children.push(complex);
            }
            1 => element.children.push(self.simple_type(false)),
            2 if self.chance(3) => {}
            _ => {
                let ty = self.type_name();
                element = element.with("type", ty);
            }
        }
        if self.chance(8) {
            element = element.with("nillable", "true");
        }
        if self.chance(20) {
            element = element.with("form", "unqualified");
        }
        element
    }

    fn particle(&mut self, depth: usize) -> Xml {
        let particle = match self.rng.u32(..14) {
            0 if !self.elements.is_empty() => {
                let name = self.pick(&self.elements.clone());
                Xml::new("xs:element").with("ref", format!("{}{name}", self.prefix))
            }
            1 if !self.groups.is_empty() => {
                let name = self.pick(&self.groups.clone());
                Xml::new("xs:group").with("ref", format!("{}{name}", self.prefix))
            }
            2 => {
                let namespace = self.pick(&[
                    "##other",
                    "##any",
                    "##local",
                    "##targetNamespace",
                    "urn:o",
                    "urn:o ##local",
                ]);
                let process = self.pick(&["lax", "skip", "strict"]);
                Xml::new("xs:any").with("namespace", namespace).with("processContents", process)
            }
            3..=5 if depth > 0 => return self.group_of(depth - 1),
            _ => self.local_element(depth),
        };
        self.occurs(particle)
    }

    fn group_of(&mut self, depth: usize) -> Xml {
        let group = self.particles(depth);
        self.occurs(group)
    }

    fn particles(&mut self, depth: usize) -> Xml {
        let name = if self.chance(3) { "xs:choice" } else { "xs:sequence" };
        // A choice of nothing is judged in different ways.
        let count = self.rng.usize(usize::from(name == "xs:choice")..5);
        let members: Vec<Xml> = (0..count).map(|_| self.particle(depth)).collect();
        Xml::new(name).holding(members)
    }

    fn all(&mut self) -> Xml {
        let mut all = Xml::new("xs:all");
        for _ in 0..self.rng.usize(1..4) {
            let mut element = self.local_element(0);
            if self.rng.bool() {
                element = element.with("minOccurs", "0");
            }
            all.children.push(element);
        }
        if self.chance(5) {
            all = all.with("minOccurs", "0");
        }
        all
    }

    fn attributes_written(&mut self) -> Vec<Xml> {
        let mut found = Vec::new();
        for _ in 0..self.rng.usize(..3) {
            let attribute = match self.rng.u32(..6) {
                0 if !self.attributes.is_empty() => {
                    let name = self.pick(&self.attributes.clone());
                    Xml::new("xs:attribute").with("ref", format!("{}{name}", self.prefix))
                }
                1 if self.chance(3) => {
                    Xml::new("xs:attribute").with("name", self.fresh("id")).with("type", "xs:ID")
                }
                2 if self.chance(3) => {
                    Xml::new("xs:attribute").with("name", self.fresh("near")).with("type", "xs:IDREF")
                }
                3 => {
                    let (builtin, values) = self.pick(BUILTINS);
                    let how = self.pick(&["default", "fixed"]);
                    let value = self.pick(values);
                    Xml::new("xs:attribute")
                        .with("name", self.fresh("a"))
                        .with("type", format!("xs:{builtin}"))
                        .with(how, value)
                }
                _ => {
                    let name = self.fresh("a");
                    let ty = self.simple_name(false);
                    let mut attribute = Xml::new("xs:attribute").with("name", name).with("type", ty);
                    if self.rng.bool() {
                        let usage = self.pick(&["required", "optional"]);
                        attribute = attribute.with("use", usage);
                    }
                    attribute
                }
            };
            found.push(attribute);
        }
        if !self.attribute_groups.is_empty() && self.chance(4) {
            let name = self.pick(&self.attribute_groups.clone());
            found.push(Xml::new("xs:attributeGroup").with("ref", format!("{}{name}", self.prefix)));
        }
        if self.chance(6) {
            found.push(self.any_attribute());
        }
        found
    }

    fn any_attribute(&mut self) -> Xml {
        let namespace = self.pick(&["##other", "##any", "##local", "##targetNamespace", "urn:o"]);
        let process = self.pick(&["lax", "skip", "strict"]);
        Xml::new("xs:anyAttribute").with("namespace", namespace).with("processContents", process)
    }

    fn complex_type(&mut self) -> Xml {
        let name = self.fresh("C");
        let mut ty = Xml::new("xs:complexType").with("name", name.clone());
        if self.chance(12) {
            ty = ty.with("abstract", "true");
        }
        if self.chance(12) {
            let value = self.pick(&["#all", "extension", "restriction"]);
            let kind = self.pick(&["block", "final"]);
            ty = ty.with(kind, value);
        }
        let derived = self.complex.iter().filter(|complex| !complex.simple).count() > 0;
        match self.rng.u32(..10) {
            0 => self.value_type(name, ty),
            1..=3 if derived => self.derived_type(name, ty),
            _ => {
                let mixed = self.chance(5);
                if mixed {
                    ty = ty.with("mixed", "true");
                }
                let content = match self.rng.u32(..8) {
                    0 => None,
                    1 => Some(self.all()),
                    _ => Some(self.group_of(2)),
                };
                let attributes = self.attributes_written();
                ty.children.extend(content.clone());
                ty.children.extend(attributes.clone());
                self.complex.push(Complex { name, content, attributes, simple: false, mixed });
                ty
            }
        }
    }

    fn value_type(&mut self, name: String, ty: Xml) -> Xml {
        let values: Vec<Complex> = self.complex.iter().filter(|complex| complex.simple).cloned().collect();
        let attributes;
        let derivation = match values.is_empty() || self.rng.bool() {
            true => {
                let base = self.simple_name(false);
                attributes = self.attributes_written();
                Xml::new("xs:extension").with("base", base).holding(attributes.clone())
            }
            false => {
                let base = self.pick(&values);
                attributes = Vec::new();
                let facet = self.pick(&["maxLength", "pattern", "minInclusive"]);
                let value = if facet == "pattern" { ".{0,9}" } else { "7" };
                Xml::new("xs:restriction")
                    .with("base", format!("{}{}", self.prefix, base.name))
                    .holding([Self::facet(facet, value)])
            }
        };
        self.complex.push(Complex { name, content: None, attributes, simple: true, mixed: false });
        ty.holding([Xml::new("xs:simpleContent").holding([derivation])])
    }

    fn derived_type(&mut self, name: String, ty: Xml) -> Xml {
        let bases: Vec<Complex> = self.complex.iter().filter(|complex| !complex.simple).cloned().collect();
        let base = self.pick(&bases);
        let reference = format!("{}{}", self.prefix, base.name);
        let mut outer = Xml::new("xs:complexContent");
        if base.mixed && !self.chance(20) {
            outer = outer.with("mixed", "true");
        }
        let mut complex = Complex { name, ..base.clone() };
        let derivation = if self.rng.bool() {
            let content = self.group_of(1);
            let attributes = self.attributes_written();
            complex.content = None;
            complex.attributes.extend(attributes.clone());
            Xml::new("xs:extension").with("base", reference).holding([content]).holding(attributes)
        } else {
            let mut content = base.content.clone();
            if let Some(content) = &mut content {
                self.narrow(content);
            }
            complex.content = content.clone();
            Xml::new("xs:restriction").with("base", reference).holding(content)
        };
        self.complex.push(complex);
        ty.holding([outer.holding([derivation])])
    }

    /// Changes a copy of a content model into one that allows less, mostly.
    fn narrow(&mut self, content: &mut Xml) {
        let set = |xml: &mut Xml, name: &str, value: &str| {
            xml.attributes.retain(|(known, _)| known != name);
            xml.attributes.push((name.to_owned(), value.to_owned()));
        };
        let get = |xml: &Xml, name: &str| {
            xml.attributes.iter().find(|(known, _)| known == name).map(|(_, value)| value.clone())
        };
        let mut kept = Vec::new();
        for mut child in std::mem::take(&mut content.children) {
            let optional = get(&child, "minOccurs").as_deref() == Some("0");
            if child.name.ends_with("Type") {
                kept.push(child);
                continue;
            }
            match self.rng.u32(..10) {
                0 | 1 if optional => continue,
                2 if optional => set(&mut child, "minOccurs", "1"),
                3 if get(&child, "maxOccurs").as_deref() == Some("unbounded") => {
                    set(&mut child, "maxOccurs", "3")
                }
                4 if self.chance(6) => set(&mut child, "maxOccurs", "4"),
                5 if child.name == "xs:choice" && child.children.len() > 1 => drop(child.children.pop()),
                6 if child.name == "xs:any" => {
                    let name = self.fresh("n");
                    child = Xml::new("xs:element").with("name", name).with("type", "xs:int");
                }
                7 if get(&child, "type").as_deref() == Some("xs:decimal") => {
                    set(&mut child, "type", "xs:int")
                }
                8 => self.narrow(&mut child),
                _ => {}
            }
            kept.push(child);
        }
        content.children = kept;
    }

    fn element(&mut self) -> Xml {
        let name = self.fresh("g");
        let mut element = Xml::new("xs:element").with("name", name.clone());
        if !self.elements.is_empty() && self.chance(3) {
            let head = self.pick(&self.elements.clone());
            element = element.with("substitutionGroup", format!("{}{head}", self.prefix));
            if self.chance(3) {
                let ty = self.type_name();
                element = element.with("type", ty);
            }
        } else if !self.chance(6) {
            let ty = self.type_name();
            element = element.with("type", ty);
        }
        if self.chance(10) {
            element = element.with("abstract", "true");
        }
        if self.chance(10) {
            element = element.with("nillable", "true");
        }
        if self.chance(12) {
            let value = self.pick(&["#all", "extension", "restriction"]);
            let kind = self.pick(&["block", "final"]);
            element = element.with(kind, value);
        }
        if self.chance(12) {
            let how = self.pick(&["default", "fixed"]);
            let value = self.pick(&["7", "tide", "true", "2026-03-14"]);
            element = element.with(how, value);
        }
        self.elements.push(name);
        element
    }

    fn group(&mut self) -> Xml {
        let name = self.fresh("G");
        let content = if self.chance(6) { self.all() } else { self.particles(1) };
        let content = Xml { attributes: Vec::new(), ..content };
        self.groups.push(name.clone());
        Xml::new("xs:group").with("name", name).holding([content])
    }

    fn attribute_group(&mut self) -> Xml {
        let name = self.fresh("A");
        let attributes = self.attributes_written();
        self.attribute_groups.push(name.clone());
        Xml::new("xs:attributeGroup").with("name", name).holding(attributes)
    }

    fn global_attribute(&mut self) -> Xml {
        let name = self.fresh("ga");
        let ty = self.simple_name(false);
        self.attributes.push(name.clone());
        Xml::new("xs:attribute").with("name", name).with("type", ty)
    }

    /// Identity constraints over the root.
    fn constraints(&mut self) -> Vec<Xml> {
        let path = |kind: &str, path: &str| Xml::new(&format!("xs:{kind}")).with("xpath", path);
        let selector = self.pick(&["*", ".//berth", "t:berth", "*/*", ".", "berth|t:pilot"]);
        let field = self.pick(&["@a1", ".", "*", "@id1", "berth"]);
        let selector = if self.prefix.is_empty() { selector.replace("t:", "") } else { selector.to_owned() };
        let name = self.fresh("k");
        let kind = self.pick(&["xs:unique", "xs:key"]);
        let key = Xml::new(kind)
            .with("name", name.clone())
            .holding([path("selector", &selector), path("field", field)]);
        self.keys.push(name.clone());
        let mut found = vec![key];
        if self.rng.bool() {
            let reference = Xml::new("xs:keyref")
                .with("name", self.fresh("r"))
                .with("refer", format!("{}{name}", self.prefix))
                .holding([path("selector", &selector), path("field", field)]);
            found.push(reference);
        }
        found
    }
}
