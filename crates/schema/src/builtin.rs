//! The built-in types of XML Schema Part 2, section 3, and the two roots of the type hierarchy.

use crate::TypeId;

/// How white space is treated before a value is read (Part 2, 4.3.6).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum WhiteSpace {
    /// Left as it is.
    Preserve,
    /// Tabs and line ends become spaces.
    Replace,
    /// Replaced, then runs become one space and the ends are trimmed.
    Collapse,
}

impl WhiteSpace {
    /// The treatment of that name.
    pub fn from_name(name: &str) -> Option<WhiteSpace> {
        Some(match name {
            "preserve" => WhiteSpace::Preserve,
            "replace" => WhiteSpace::Replace,
            "collapse" => WhiteSpace::Collapse,
            _ => return None,
        })
    }
}

/// How a built-in type comes to be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// `anyType` and `anySimpleType`.
    Root,
    /// One of the nineteen primitive types.
    Primitive,
    /// Derived by restriction.
    Restriction,
    /// Derived as a list of the given type.
    List(Builtin),
}

macro_rules! builtins {
    ($($variant:ident $name:literal $base:ident $kind:expr, $white_space:ident;)*) => {
        /// A built-in type.
        #[allow(missing_docs, reason = "each variant is the type of that name")]
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
        pub enum Builtin { $($variant,)* }

        const TABLE: &[(Builtin, &str, Builtin, Kind, WhiteSpace)] = &[
            $((Builtin::$variant, $name, Builtin::$base, $kind, WhiteSpace::$white_space),)*
        ];
    };
}

builtins! {
    AnyType "anyType" AnyType Kind::Root, Preserve;
    AnySimpleType "anySimpleType" AnyType Kind::Root, Preserve;
    String "string" AnySimpleType Kind::Primitive, Preserve;
    Boolean "boolean" AnySimpleType Kind::Primitive, Collapse;
    Decimal "decimal" AnySimpleType Kind::Primitive, Collapse;
    Float "float" AnySimpleType Kind::Primitive, Collapse;
    Double "double" AnySimpleType Kind::Primitive, Collapse;
    Duration "duration" AnySimpleType Kind::Primitive, Collapse;
    DateTime "dateTime" AnySimpleType Kind::Primitive, Collapse;
    Time "time" AnySimpleType Kind::Primitive, Collapse;
    Date "date" AnySimpleType Kind::Primitive, Collapse;
    GYearMonth "gYearMonth" AnySimpleType Kind::Primitive, Collapse;
    GYear "gYear" AnySimpleType Kind::Primitive, Collapse;
    GMonthDay "gMonthDay" AnySimpleType Kind::Primitive, Collapse;
    GDay "gDay" AnySimpleType Kind::Primitive, Collapse;
    GMonth "gMonth" AnySimpleType Kind::Primitive, Collapse;
    HexBinary "hexBinary" AnySimpleType Kind::Primitive, Collapse;
    Base64Binary "base64Binary" AnySimpleType Kind::Primitive, Collapse;
    AnyUri "anyURI" AnySimpleType Kind::Primitive, Collapse;
    QName "QName" AnySimpleType Kind::Primitive, Collapse;
    Notation "NOTATION" AnySimpleType Kind::Primitive, Collapse;
    NormalizedString "normalizedString" String Kind::Restriction, Replace;
    Token "token" NormalizedString Kind::Restriction, Collapse;
    Language "language" Token Kind::Restriction, Collapse;
    NmToken "NMTOKEN" Token Kind::Restriction, Collapse;
    NmTokens "NMTOKENS" AnySimpleType Kind::List(Builtin::NmToken), Collapse;
    Name "Name" Token Kind::Restriction, Collapse;
    NcName "NCName" Name Kind::Restriction, Collapse;
    Id "ID" NcName Kind::Restriction, Collapse;
    IdRef "IDREF" NcName Kind::Restriction, Collapse;
    IdRefs "IDREFS" AnySimpleType Kind::List(Builtin::IdRef), Collapse;
    Entity "ENTITY" NcName Kind::Restriction, Collapse;
    Entities "ENTITIES" AnySimpleType Kind::List(Builtin::Entity), Collapse;
    Integer "integer" Decimal Kind::Restriction, Collapse;
    NonPositiveInteger "nonPositiveInteger" Integer Kind::Restriction, Collapse;
    NegativeInteger "negativeInteger" NonPositiveInteger Kind::Restriction, Collapse;
    Long "long" Integer Kind::Restriction, Collapse;
    Int "int" Long Kind::Restriction, Collapse;
    Short "short" Int Kind::Restriction, Collapse;
    Byte "byte" Short Kind::Restriction, Collapse;
    NonNegativeInteger "nonNegativeInteger" Integer Kind::Restriction, Collapse;
    UnsignedLong "unsignedLong" NonNegativeInteger Kind::Restriction, Collapse;
    UnsignedInt "unsignedInt" UnsignedLong Kind::Restriction, Collapse;
    UnsignedShort "unsignedShort" UnsignedInt Kind::Restriction, Collapse;
    UnsignedByte "unsignedByte" UnsignedShort Kind::Restriction, Collapse;
    PositiveInteger "positiveInteger" NonNegativeInteger Kind::Restriction, Collapse;
}

impl Builtin {
    /// All built-in types, `anyType` first; the order is that of their ids.
    pub fn all() -> impl Iterator<Item = Builtin> {
        TABLE.iter().map(|row| row.0)
    }

    /// The local name in the XML Schema namespace.
    pub fn name(self) -> &'static str {
        TABLE[self as usize].1
    }

    /// The type it is derived from; `anyType` is its own base.
    pub fn base(self) -> Builtin {
        TABLE[self as usize].2
    }

    /// How it is derived.
    pub fn kind(self) -> Kind {
        TABLE[self as usize].3
    }

    /// Its white space facet.
    pub fn white_space(self) -> WhiteSpace {
        TABLE[self as usize].4
    }

    /// The id that it has in every [`Schemas`](crate::Schemas).
    pub const fn id(self) -> TypeId {
        TypeId::new(self as u32)
    }

    /// The built-in type of that id.
    pub fn from_id(id: TypeId) -> Option<Builtin> {
        TABLE.get(id.index()).map(|row| row.0)
    }

    /// The built-in type of that local name.
    pub fn from_name(name: &str) -> Option<Builtin> {
        TABLE.iter().find(|row| row.1 == name).map(|row| row.0)
    }

    /// The least and the greatest value of the bounded integer types (Part 2, 3.3).
    pub fn bounds(self) -> (Option<&'static str>, Option<&'static str>) {
        use Builtin::*;
        match self {
            NonPositiveInteger => (None, Some("0")),
            NegativeInteger => (None, Some("-1")),
            Long => (Some("-9223372036854775808"), Some("9223372036854775807")),
            Int => (Some("-2147483648"), Some("2147483647")),
            Short => (Some("-32768"), Some("32767")),
            Byte => (Some("-128"), Some("127")),
            NonNegativeInteger => (Some("0"), None),
            UnsignedLong => (Some("0"), Some("18446744073709551615")),
            UnsignedInt => (Some("0"), Some("4294967295")),
            UnsignedShort => (Some("0"), Some("65535")),
            UnsignedByte => (Some("0"), Some("255")),
            PositiveInteger => (Some("1"), None),
            _ => (None, None),
        }
    }

    /// The primitive type it descends from; a list and a root are their own.
    pub fn primitive(self) -> Builtin {
        let mut here = self;
        while here.kind() == Kind::Restriction {
            here = here.base();
        }
        here
    }

    /// Whether this is `other` or derived from it.
    pub fn is_within(self, other: Builtin) -> bool {
        let mut here = self;
        loop {
            if here == other {
                return true;
            }
            if here == Builtin::AnyType {
                return false;
            }
            here = here.base();
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn there_are_forty_four_and_the_two_roots() {
        assert_eq!(Builtin::all().count(), 46);
        assert_eq!(Builtin::all().filter(|b| b.kind() == Kind::Primitive).count(), 19);
        for builtin in Builtin::all() {
            assert_eq!(Builtin::from_name(builtin.name()), Some(builtin));
            assert_eq!(Builtin::from_id(builtin.id()), Some(builtin));
            assert!(builtin.is_within(Builtin::AnyType));
        }
        assert_eq!(Builtin::Byte.primitive(), Builtin::Decimal);
        assert_eq!(Builtin::Id.primitive(), Builtin::String);
    }
}
