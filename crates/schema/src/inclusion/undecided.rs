//! Why it is open whether everything that one schema allows is allowed by another.

use std::fmt;

macro_rules! reasons {
    ($($(#[$doc:meta])* $reason:ident $name:literal = $words:literal;)*) => {
        /// Why a question of inclusion is open.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub enum Undecided {
            $($(#[$doc])* $reason,)*
        }

        impl Undecided {
            /// A name that stays what it is.
            pub fn name(self) -> &'static str {
                match self {
                    $(Undecided::$reason => $name,)*
                }
            }
        }

        impl fmt::Display for Undecided {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str(match self {
                    $(Undecided::$reason => $words,)*
                })
            }
        }
    };
}

reasons! {
    /// A component that is referred to is not there.
    Unread "unread" = "what it refers to could not be read";
    /// A content model is beyond the bounds.
    LargeModel "large-model" = "a content model is too large to be compared";
    /// Two content models lead to more pairs of places than are looked at.
    ManyWays "many-ways" = "the content models have too many ways to be compared";
    /// An element may be nil that nobody declares.
    NilUndeclared "nil-undeclared" = "what may be nil has no declaration";
    /// A field of a key may be nil.
    NilKey "nil-key" = "a key may hold what may be nil";
    /// Fields of an identity constraint have other types.
    OtherFields "other-fields" = "an identity constraint may compare other values";
    /// A simple value meets a content of elements.
    EmptyValue "empty-value" = "a value is empty where elements are wanted";
    /// Values became identifiers, which no two elements of a message may share.
    Identifiers "identifiers" = "identifiers must now differ within a message";
    /// A pattern is beyond the bounds.
    LargePattern "large-pattern" = "a pattern is too large to be compared";
    /// There are more values than are tried one by one.
    ManyValues "many-values" = "there are too many values to be compared one by one";
    /// Lists and unions of each other go beyond the bounds.
    DeepValue "deep-value" = "lists and unions nest too deep";
    /// The value of a qualified name depends on the element that it stands in.
    Prefixes "prefixes" = "what a prefix means stands outside the value";
    /// A type is not known.
    UnknownType "unknown-type" = "a type is not known";
    /// The ends of two ranges are not of one order.
    Bounds "bounds" = "the bounds cannot be compared";
    /// The lengths of two types are counted otherwise.
    Lengths "lengths" = "the lengths cannot be compared";
    /// The values of an enumeration are not told from others by their text.
    ListedValues "listed-values" = "the listed values cannot be compared";
    /// Values are written otherwise.
    Forms "forms" = "the forms of the values cannot be compared";
}
