//! The kinds of change: what each is called, what it says, why it matters, and two contracts that show it alone.

mod components;
mod contents;
mod example;
mod generated;
mod messages;
mod undecided;
mod values;

pub use example::{Example, Slot};

use Concerns::{Both, Code, Wire};

/// Whom a change can harm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Concerns {
    /// Those who send or read messages.
    Wire,
    /// Those who generate code from the contract; no message is another.
    Code,
    /// Both.
    Both,
}

impl Concerns {
    /// `the wire`, `generated code`, or both.
    pub fn words(self) -> &'static str {
        match self {
            Wire => "the wire",
            Code => "generated code",
            Both => "the wire and generated code",
        }
    }
}

/// What a kind of change is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Topic {
    /// Operations, ports and what else came, went or goes by another name.
    Components,
    /// Everything around the schemas: protocol, header blocks, policies, parts.
    Messages,
    /// Elements, attributes and how they are put together.
    Contents,
    /// What values are allowed.
    Values,
    /// What only code sees.
    Generated,
    /// What could not be decided.
    Undecided,
}

impl Topic {
    /// All of them, in the order in which they are listed.
    pub const ALL: [Topic; 6] = [
        Topic::Components,
        Topic::Messages,
        Topic::Contents,
        Topic::Values,
        Topic::Generated,
        Topic::Undecided,
    ];

    /// Its heading.
    pub fn name(self) -> &'static str {
        match self {
            Topic::Components => "Whole components",
            Topic::Messages => "Around the schemas",
            Topic::Contents => "Content of messages",
            Topic::Values => "Values",
            Topic::Generated => "Generated code",
            Topic::Undecided => "What is not decided",
        }
    }
}

/// What there is to say of a kind of change.
#[derive(Debug)]
pub struct KindEntry {
    /// The kind.
    pub kind: Kind,
    /// What it is about.
    pub topic: Topic,
    /// Whom it can harm.
    pub concerns: Concerns,
    /// What it says, in one line.
    pub says: &'static str,
    /// Why it matters and what to do, in a few sentences.
    pub why: &'static str,
    /// Two versions that show it alone.
    pub example: Example,
}

/// All kinds of change, by topic.
pub fn kinds() -> impl Iterator<Item = &'static KindEntry> {
    [components::KINDS, messages::KINDS, contents::KINDS, values::KINDS, generated::KINDS, undecided::KINDS]
        .into_iter()
        .flatten()
}

impl Kind {
    /// The kind of that name.
    pub fn named(name: &str) -> Option<Kind> {
        Kind::ALL.iter().copied().find(|kind| kind.name() == name)
    }

    /// What there is to say of it.
    ///
    /// # Panics
    /// If it has no entry, which a test rules out.
    pub fn entry(self) -> &'static KindEntry {
        let entry = kinds().find(|entry| entry.kind == self);
        entry.unwrap_or_else(|| unreachable!("every kind of change has an entry"))
    }

    /// Whether generated code is other code afterwards, though every message still fits.
    pub fn is_seen_by_code(self) -> bool {
        self.entry().concerns != Wire
    }

    /// Its name in files of the first version, where two kinds had one name.
    pub(crate) fn first_name(self) -> &'static str {
        match self {
            Kind::SideAdded | Kind::SideRemoved => "pattern-changed",
            other => other.name(),
        }
    }

    /// Whether it says that something goes by another name.
    pub fn is_renaming(self) -> bool {
        self.name().ends_with("-renamed")
    }
}

macro_rules! all_kinds {
    ($($kind:ident $name:literal,)*) => {
        /// A kind of change.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        #[expect(missing_docs, reason = "the entry of each kind says what it is")]
        pub enum Kind {
            $($kind,)*
        }

        impl Kind {
            /// All of them.
            pub const ALL: &[Kind] = &[$(Kind::$kind),*];

            /// Its name, as reports and scripts have it.
            pub fn name(self) -> &'static str {
                match self {
                    $(Kind::$kind => $name,)*
                }
            }
        }

        impl std::fmt::Display for Kind {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                f.write_str(self.name())
            }
        }
    };
}

all_kinds! {
    ActionChanged "action-changed",
    AddressChanged "address-changed",
    AbstractChanged "abstract-changed",
    AttributeAdded "attribute-added",
    AttributeRemoved "attribute-removed",
    AttributeRenamed "attribute-renamed",
    AttributeRequired "attribute-required",
    AttributeOptional "attribute-optional",
    BodyChanged "body-changed",
    CarrierChanged "carrier-changed",
    ChoiceAdded "choice-added",
    ChoiceRemoved "choice-removed",
    ContentChanged "content-changed",
    DefaultChanged "default-changed",
    DemandAdded "demand-added",
    DemandRemoved "demand-removed",
    DemandLoosened "demand-loosened",
    DerivedChanged "derived-changed",
    DigitsChanged "digits-changed",
    ElementAdded "element-added",
    ElementRemoved "element-removed",
    ElementRenamed "element-renamed",
    EncodingChanged "encoding-changed",
    FaultAdded "fault-added",
    FaultRemoved "fault-removed",
    FaultRenamed "fault-renamed",
    FixedChanged "fixed-changed",
    HeaderAdded "header-added",
    HeaderRemoved "header-removed",
    HeaderRenamed "header-renamed",
    HeaderFaultAdded "header-fault-added",
    HeaderFaultRemoved "header-fault-removed",
    IdentityChanged "identity-changed",
    LengthChanged "length-changed",
    MediaTypeChanged "media-type-changed",
    MethodChanged "method-changed",
    MixedChanged "mixed-changed",
    NamespaceChanged "namespace-changed",
    NamespaceMoved "namespace-moved",
    NilAllowed "nil-allowed",
    NilRefused "nil-refused",
    NotCompared "not-compared",
    NotDecided "not-decided",
    NotRead "not-read",
    OccurrenceLoosened "occurrence-loosened",
    OccurrenceTightened "occurrence-tightened",
    OpenContentChanged "open-content-changed",
    OperationAdded "operation-added",
    OperationRemoved "operation-removed",
    OperationRenamed "operation-renamed",
    OperationUnbound "operation-unbound",
    OrderChanged "order-changed",
    ParametersParted "parameters-parted",
    ParametersShared "parameters-shared",
    ParametersUnwrapped "parameters-unwrapped",
    ParametersWrapped "parameters-wrapped",
    PartAdded "part-added",
    PartRemoved "part-removed",
    PartRenamed "part-renamed",
    PathChanged "path-changed",
    PatternChanged "pattern-changed",
    PortAdded "port-added",
    PortRemoved "port-removed",
    PortRenamed "port-renamed",
    PortTypeRenamed "port-type-renamed",
    RangeChanged "range-changed",
    RangeNarrowed "range-narrowed",
    RangeWidened "range-widened",
    ServiceRenamed "service-renamed",
    SideAdded "side-added",
    SideRemoved "side-removed",
    SoapVersionChanged "soap-version-changed",
    StyleChanged "style-changed",
    SubstitutesChanged "substitutes-changed",
    TransportChanged "transport-changed",
    TypeAdded "type-added",
    TypeChanged "type-changed",
    TypeRemoved "type-removed",
    TypeRenamed "type-renamed",
    ValueAdded "value-added",
    ValueRemoved "value-removed",
    WildcardChanged "wildcard-changed",
}
