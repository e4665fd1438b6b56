//! What a change comes to, in facts: each statement that a comparison can make is one row here, with the types of what it
//! is about, and last the words in which it is shown.
//!
//! Nobody reads the words again. What has to know what was said asks the facts, and a mark of an accepted change is made of
//! them ([`What::facts`]), so that another wording changes nothing.

mod fact;
mod gathered;
mod pieces;

use charter_contract::{SoapVersion, Style, UseKind};
use charter_schema::Occurs;
use charter_source::QName;

pub(crate) use fact::Fact;
pub use gathered::{Count, Everywhere, LocalNames, Migration, OpenKinds, Together};
pub use pieces::{
    Addresses, Bounds, DemandList, Differences, Digits, Doubt, End, Files, GroupOf, InPlace, Length, Media,
    Missing, Occurrence, Occurring, OneOf, Renaming, Thing, Unit, Unsaid, Values,
};

macro_rules! statements {
    ($($(#[$doc:meta])* $variant:ident $id:literal { $($field:ident: $type:ty),* $(,)? } = $words:literal;)*) => {
        /// What differs between two versions.
        ///
        /// As text it is a line that says so.
        #[derive(Debug, Clone, PartialEq, Eq, Hash)]
        #[expect(missing_docs, reason = "the words of each row say what its fields are")]
        pub enum What {
            $($(#[$doc])* $variant { $($field: $type),* },)*
        }

        impl What {
            /// Which statement it is, by a name that stays what it is.
            pub fn id(&self) -> &'static str {
                match self {
                    $(What::$variant { .. } => $id,)*
                }
            }

            /// What it is about, each by a text that does not depend on how it is shown.
            pub fn facts(&self) -> Vec<String> {
                match self {
                    $(What::$variant { $($field),* } => vec![$($field.fact()),*],)*
                }
            }

            /// All names of statements.
            pub const IDS: &[&str] = &[$($id),*];
        }

        impl std::fmt::Display for What {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                match self {
                    $(What::$variant { $($field),* } => {
                        $(let _ = $field;)*
                        write!(f, $words)
                    })*
                }
            }
        }
    };
}

statements! {
    // Whole components.
    /// A component is not there any more.
    ComponentGone "component-gone" { thing: Thing, name: String } = "{thing}\"{name}\" is gone";
    /// A component was not there before.
    ComponentNew "component-new" { thing: Thing, name: String } = "{thing}\"{name}\" is new";
    /// A component goes by another name.
    Renamed "renamed" { renaming: Renaming } = "{renaming}";
    /// What stands in the place of something goes by another name.
    RenamedInPlace "renamed-in-place" { renaming: Renaming, also: InPlace } = "{renaming}{also}";
    /// All names of a namespace went to another, and what follows them.
    Migrated "migrated" { migration: Migration } = "{migration}";
    /// Names went from one namespace to another.
    MovedTogether "moved-together" { names: Together } = "{names}";
    /// An operation goes by another name, and its elements and actions with it.
    OperationRenamed "operation-renamed" { from: String, to: String } =
        "the operation \"{from}\" is now \"{to}\", and so are its messages";
    /// An operation goes by another name, and only there.
    OperationRenamedAlone "operation-renamed-alone" { from: String, to: String } =
        "the operation \"{from}\" is now \"{to}\": its messages do not say so";
    /// A fault goes by another name.
    FaultRenamed "fault-renamed" { from: String, to: String, operation: String } =
        "the fault \"{from}\" of \"{operation}\" is now \"{to}\": its messages do not say so";
    /// A port goes by another name.
    PortRenamed "port-renamed" { from: String, to: String } =
        "the port \"{from}\" is now \"{to}\", at the same address";
    /// A service goes by another name.
    ServiceRenamed "service-renamed" { from: String, to: String } =
        "the service \"{from}\" is now \"{to}\", at the same addresses";
    /// A component that is not on the wire goes by another name.
    NameInCode "name-in-code" { thing: Thing, from: String, to: String } = "{thing}\"{from}\" is now \"{to}\"";
    /// A port has another address.
    AddressOther "address-other" { addresses: Addresses } =
        "the address is another: consumers must be told, or the old one must go on answering";

    // Sides of operations.
    /// Many ports have another address, by one piece.
    AddressesOther "addresses-other" { everywhere: Everywhere, ports: Count } =
        "{everywhere} in the addresses of {ports} ports: consumers must be told, or the old ones must go on answering";
    /// A side of an operation is not there any more.
    SideGone "side-gone" { side: String, operation: String } = "the {side} of \"{operation}\" is gone";
    /// A side of an operation was not there before.
    SideNew "side-new" { side: String, operation: String } = "the {side} of \"{operation}\" is new";
    /// A side of many operations is not there any more.
    SideGoneIn "side-gone-in" { side: String, operations: Count } = "the {side} of {operations} operations is gone";
    /// A side of many operations was not there before.
    SideNewIn "side-new-in" { side: String, operations: Count } = "the {side} of {operations} operations is new";
    /// A port leaves out an operation.
    Unbound "unbound" { port: String } = "the port \"{port}\" no longer offers the operation";
    /// It was not decided what is accepted.
    NotDecided "not-decided" { doubt: Doubt } = "{doubt}";
    /// A side has no wire shape in one of the versions.
    NotCompared "not-compared" { reason: Unsaid } = "the two versions could not be compared here: {reason}";
    /// More differs in more messages than was looked at.
    TooMuch "too-much" {} = "there is too much that differs in too many messages: these were not compared";
    /// Files are not there.
    NotRead "not-read" { files: Files } = "{files}";

    // What goes around the schemas.
    /// Messages came into an envelope.
    InEnvelope "in-envelope" {} = "the messages travel in an envelope now";
    /// Messages came out of their envelope.
    WithoutEnvelope "without-envelope" {} = "the messages travel without an envelope now";
    /// A body is written by an encoding, or no longer.
    Encoded "encoded" { was: UseKind, is: UseKind } = "the body was {was} and is {is}";
    /// A body is written by another encoding.
    EncodedOtherwise "encoded-otherwise" {} = "the body is written by another encoding";
    /// A header block is written by another encoding, or by none.
    HeaderEncodedOtherwise "header-encoded-otherwise" { part: String } =
        "the header \"{part}\" is written by another encoding";
    /// A body is made in another way.
    BodyBuiltOtherwise "body-built-otherwise" {} = "the body is built differently";
    /// A body holds more or fewer elements.
    BodyCount "body-count" { was: usize, is: usize } = "the body held {was} elements and now holds {is}";
    /// The version of SOAP is another.
    SoapVersion "soap-version" { was: SoapVersion, is: SoapVersion } = "SOAP {was} became SOAP {is}";
    /// The style of the binding is another.
    Style "style" { was: Style, is: Style } = "the style {was} became {is}";
    /// The transport is another.
    Transport "transport" {} = "the messages travel by another transport";
    /// The action is another.
    Action "action" { was: Option<String>, is: Option<String> } =
        "the action is another: providers that look at it refuse the old one";
    /// The actions of many operations are others, by one piece.
    ActionsOther "actions-other" { everywhere: Everywhere, operations: Count } =
        "{everywhere} in the actions of {operations} operations: providers that look at them refuse the old ones";
    /// The method of HTTP is another.
    Method "method" { was: String, is: String } = "the method {was} became {is}";
    /// The path of a request is another.
    Path "path" { was: String, is: String } = "the path \"{was}\" became \"{is}\"";
    /// A message without an envelope holds its parts in another way.
    PartsHeldOtherwise "parts-held-otherwise" {} = "the message holds its parts in another way";
    /// The parts of a call come in another order.
    PartsOrder "parts-order" {} = "the parts stand in another order";
    /// A part may be of other media types.
    MediaTypes "media-types" { part: String, was: Media, is: Media } = "the part \"{part}\" was {was} and is {is}";
    /// A header block must be sent that was not known before.
    HeaderDemanded "header-demanded" { name: String } = "the header \"{name}\" must now be sent";
    /// A fault about a header block is not given any more.
    HeaderFaultGone "header-fault-gone" { part: String } =
        "requests are no longer answered by the header fault \"{part}\"";
    /// A fault about a header block may be given.
    HeaderFaultNew "header-fault-new" { part: String } =
        "requests may now be answered by the header fault \"{part}\"";

    // What policies demand.
    /// It is not known what policies demand.
    DemandsUnknown "demands-unknown" {} =
        "what the policies demand is not known: one that is referred to is not there, or they leave too many alternatives";
    /// More is demanded.
    DemandsMore "demands-more" { demands: DemandList } = "requests must now have: {demands}";
    /// What is demanded cannot be satisfied.
    DemandsTooMuch "demands-too-much" {} = "requests must now have what nobody can satisfy";
    /// Less is demanded.
    DemandsLess "demands-less" { demands: DemandList } = "requests need no longer have: {demands}";
    /// Something may be left out.
    DemandsFree "demands-free" { demands: DemandList } = "requests may now leave out: {demands}";
    /// There is another way to satisfy what is demanded.
    DemandsOtherWay "demands-other-way" {} = "there is another way to satisfy what is demanded";

    // Types and declarations.
    /// A type became a text.
    ElementsBecameText "elements-became-text" {} = "elements became text";
    /// A text became elements.
    TextBecameElements "text-became-elements" {} = "text became elements";
    /// A type may hold anything.
    AnythingNow "anything-now" {} = "it may now hold anything";
    /// A type may not hold just anything.
    AnythingNoMore "anything-no-more" {} = "it could hold anything, and now has a content of its own";
    /// A type with a name was put in the place of another.
    TypeOther "type-other" { was: String, is: String, how: Differences } = "it is of type {is} now, not {was}: {how}";
    /// The value may be nil.
    NilNow "nil-now" { name: String } = "\"{name}\" may now be nil";
    /// The value may not be nil.
    NilNoMore "nil-no-more" { name: String } = "\"{name}\" may no longer be nil";
    /// An element became abstract.
    ElementAbstract "element-abstract" { name: String } =
        "\"{name}\" became abstract: only what replaces it may stand";
    /// An element is no longer abstract.
    ElementConcrete "element-concrete" { name: String } = "\"{name}\" is no longer abstract";
    /// A type became abstract.
    TypeAbstract "type-abstract" {} = "it became abstract";
    /// A type is no longer abstract.
    TypeConcrete "type-concrete" {} = "it is no longer abstract";
    /// A value is fixed.
    FixedNow "fixed-now" { name: String, value: String } = "\"{name}\" must now be \"{value}\"";
    /// A value is no longer fixed.
    FixedNoMore "fixed-no-more" { name: String, value: String } = "\"{name}\" no longer has to be \"{value}\"";
    /// Another value stands for none.
    DefaultOther "default-other" { name: String, was: String, is: String, where_it: Missing } =
        "\"{name}\" means \"{is}\" where it {where_it}, no longer \"{was}\"";
    /// A value stands for none.
    DefaultNow "default-now" { name: String, value: String, where_it: Missing } =
        "\"{name}\" now means \"{value}\" where it {where_it}";
    /// No value stands for none.
    DefaultNoMore "default-no-more" { name: String, value: String, where_it: Missing } =
        "\"{name}\" no longer means \"{value}\" where it {where_it}";
    /// What may stand in the place of a type is blocked otherwise.
    BlockOther "block-other" {} = "what may stand in its place is blocked in another way";
    /// A type may not stand in the place of another.
    TypeStandsNoMore "type-stands-no-more" { name: String } = "the type \"{name}\" no longer stands in its place";
    /// A type may stand in the place of another.
    TypeStandsNow "type-stands-now" { name: String } = "the type \"{name}\" may now stand in its place";
    /// Other types may stand in the place of one.
    OthersStand "others-stand" {} = "other types may stand in its place than before";
    /// An element may not stand in the place of another.
    ElementStandsNoMore "element-stands-no-more" { name: String } = "\"{name}\" no longer stands in its place";
    /// An element may stand in the place of another.
    ElementStandsNow "element-stands-now" { name: String } = "\"{name}\" may now stand in its place";
    /// Values that name their own type name another.
    TypeNamed "type-named" { was: String, is: String } =
        "its encoded values name the type \"{is}\" now, and \"{was}\" before";
    /// The identity constraints are others.
    ConstraintsOther "constraints-other" {} = "its identity constraints are others";

    // Content.
    /// Text may stand between elements.
    MixedNow "mixed-now" {} = "text may now stand between the elements";
    /// Text may not stand between elements.
    MixedNoMore "mixed-no-more" {} = "no text may stand between the elements any more";
    /// The elements come in any order.
    AnyOrder "any-order" {} = "the elements may now come in any order";
    /// The elements come in one order.
    OneOrder "one-order" {} = "the elements must now come in order";
    /// The elements come in another order.
    OrderOther "order-other" {} = "its elements stand in another order";
    /// An element is not there any more.
    ElementGone "element-gone" { name: String } = "\"{name}\" is gone";
    /// An element was not there before, and need not be.
    ElementNew "element-new" { name: String } = "\"{name}\" is new, and may be left out";
    /// An element was not there before, and must be.
    ElementDemanded "element-demanded" { name: String } = "\"{name}\" is new, and must be there";
    /// A choice has one more alternative.
    AlternativeNew "alternative-new" { name: String } = "\"{name}\" is a new alternative";
    /// Something occurs otherwise.
    Occurs "occurs" { what: Occurring, change: Occurrence } = "{what} {change}";
    /// A group is not there any more.
    GroupGone "group-gone" { group: GroupOf } = "{group} is gone";
    /// A group was not there before, and need not be.
    GroupNew "group-new" { group: GroupOf } = "{group} is new, and may be left out";
    /// A group was not there before, and must be.
    GroupDemanded "group-demanded" { group: GroupOf } = "{group} is new, and must be there";
    /// A choice has one more alternative, which is a group.
    GroupAlternativeNew "group-alternative-new" { group: GroupOf } = "{group} is a new alternative";
    /// What was a group of one sort is one of another.
    GroupOther "group-other" { was: GroupOf, is: GroupOf } = "{was} became {is}";
    /// Content is put together otherwise, which shows only in what is accepted.
    ContentCounterexamples "content-clashes" {} = "its content is built differently";
    /// What no declaration names differs, at an extension point.
    OpenHere "open-here" {} = "what may stand here without a declaration is judged otherwise";
    /// What no declaration names differs.
    OpenContent "open-content" { open: OpenKinds } =
        "{open}";
    /// A wildcard was not there before.
    WildcardNew "wildcard-new" {} = "a wildcard is new: other elements may stand there";
    /// A wildcard is not there any more.
    WildcardGone "wildcard-gone" {} = "a wildcard is gone: no other elements may stand there";
    /// A wildcard lets in other elements.
    WildcardOther "wildcard-other" {} = "the wildcard lets in other elements than before";
    /// A wildcard judges more strictly.
    WildcardStricter "wildcard-stricter" {} =
        "a wildcard judges what it lets in more strictly on one side";
    /// An element is refused where it was accepted.
    RefusedHere "refused-here" { name: String } = "\"{name}\" was accepted here and is refused now";
    /// An element may be sent where it was not known.
    SentHere "sent-here" { name: String } = "\"{name}\" may be sent now here and was not before";
    /// An element must be there.
    DemandedHere "demanded-here" { name: String } = "\"{name}\" must now be there";
    /// An element may be left out.
    LeftOutHere "left-out-here" { name: String } = "\"{name}\" may now be left out";

    // Attributes.
    /// An attribute was not there before, and need not be.
    AttributeNew "attribute-new" { name: String } = "the attribute \"@{name}\" is new";
    /// An attribute was not there before, and must be.
    AttributeDemanded "attribute-demanded" { name: String } = "the attribute \"@{name}\" is new and must be there";
    /// An attribute is not there any more.
    AttributeGone "attribute-gone" { name: String } = "the attribute \"@{name}\" is gone";
    /// An attribute must be there.
    AttributeMust "attribute-must" { name: String } = "\"@{name}\" must now be there";
    /// An attribute may be left out.
    AttributeMay "attribute-may" { name: String } = "\"@{name}\" may now be left out";
    /// Other attributes are let in.
    AttributesNow "attributes-now" {} = "it may now carry other attributes";
    /// Other attributes are no longer let in.
    AttributesNoMore "attributes-no-more" {} = "it may no longer carry other attributes";
    /// The wildcard of attributes is another.
    AttributesWildcard "attributes-wildcard" {} = "its wildcard lets in other attributes than before";
    /// Other attributes are let in, which shows only in what is accepted.
    AttributesDiffer "attributes-clash" {} = "it lets in other attributes than before";

    // Values.
    /// The built-in type is another.
    BuiltinOther "builtin-other" { was: OneOf, is: OneOf } = "the value was {was} and is {is}";
    /// A union has more members.
    UnionMore "union-more" {} = "the union has more members";
    /// A union has fewer members.
    UnionFewer "union-fewer" {} = "the union has fewer members";
    /// A value, a list or a union became another of these.
    VarietyOther "variety-other" {} = "a value, a list and a union are different things";
    /// Other values are allowed, which shows only in what is accepted.
    ValuesOther "values-other" {} = "its values are others";
    /// Values are not allowed any more.
    ValuesGone "values-gone" { values: Values } = "{values} no longer allowed";
    /// Values are allowed that were not.
    ValuesNew "values-new" { values: Values } = "{values} allowed now";
    /// Only some values are allowed.
    ValuesOnly "values-only" { values: Values } = "only {values} allowed now";
    /// Values are no longer listed.
    ValuesAny "values-any" {} = "any value is allowed now, not only those listed";
    /// There is a pattern where there was none.
    PatternNow "pattern-now" {} = "the value must now match a pattern";
    /// There is no pattern any more.
    PatternNoMore "pattern-no-more" {} = "the value need no longer match a pattern";
    /// The pattern is another.
    PatternOther "pattern-other" {} = "the pattern is another";
    /// The value must be so long at least.
    LengthLeast "length-least" { length: Length } = "{length}";
    /// The value must be so long at most.
    LengthMost "length-most" { length: Length } = "{length}";
    /// The range has another end.
    RangeOther "range-other" { bounds: Bounds } = "{bounds}";
    /// The range has an end no more.
    RangeFree "range-free" { end: End, was: String } = "the value need no longer stay {end} {was}";
    /// The value has so many digits at most.
    DigitsFewer "digits-fewer" { count: u64, of: Digits } = "the value may now have {count} {of} at most";
    /// The value may have more digits.
    DigitsMore "digits-more" { of: Digits } = "the value may now have more {of}";

    // What only code sees.
    /// Port types and services are in another namespace.
    NamespaceInCode "namespace-in-code" { was: String, is: String } =
        "port types and services were in the namespace \"{was}\" and are in \"{is}\"";
    /// An operation no longer takes its parameters one by one.
    ParametersWrapped "parameters-wrapped" { operation: String } =
        "\"{operation}\" no longer takes its parameters one by one: its messages are no plain sequences of elements";
    /// An operation takes its parameters one by one.
    ParametersUnwrapped "parameters-unwrapped" { operation: String } =
        "\"{operation}\" now takes its parameters one by one: its messages are plain sequences of elements";
    /// A parameter goes in and comes back.
    ParameterShared "parameter-shared" { name: String } =
        "\"{name}\" is in the request and in the reply now: one parameter goes in and comes back";
    /// A parameter no longer goes in and comes back.
    ParameterParted "parameter-parted" { name: String } = "\"{name}\" no longer goes in and comes back as one parameter";
}

impl What {
    /// A change of name.
    pub(crate) fn renamed(thing: Thing, was: &QName, is: &QName) -> What {
        What::Renamed { renaming: Renaming { thing, was: was.clone(), is: is.clone() } }
    }

    /// The name that went to another namespace, with both, if that is all that happened to it.
    pub fn as_move(&self) -> Option<(&QName, &QName)> {
        let (What::Renamed { renaming } | What::RenamedInPlace { renaming, .. }) = self else { return None };
        (renaming.was.local == renaming.is.local).then_some((&renaming.was, &renaming.is))
    }

    /// The local name that went to another namespace, as it is spoken of.
    pub(crate) fn moved_name(&self) -> Option<String> {
        let (name, _) = self.as_move()?;
        let (What::Renamed { renaming } | What::RenamedInPlace { renaming, .. }) = self else { return None };
        let at = if renaming.thing == Thing::Attribute { "@" } else { "" };
        Some(format!("{at}{}", name.local))
    }

    /// Another occurrence.
    pub(crate) fn occurs(what: Occurring, was: Occurs, is: Occurs) -> What {
        What::Occurs { what, change: Occurrence { was, is } }
    }
}
