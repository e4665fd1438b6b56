//! What may be wrong with a text that is to be XML.

/// A text is not well-formed, or more than is read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{problem}")]
pub struct XmlError {
    /// What is wrong.
    pub problem: Problem,
    /// Where, in bytes of the text.
    pub at: usize,
}

/// What is wrong.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum Problem {
    /// A prefix that no element around it declares (Namespaces in XML, section 5).
    #[error("the prefix \"{0}\" is not declared")]
    UnknownPrefix(String),
    /// A declaration of a prefix that the standard does not allow (Namespaces in XML, section 3).
    #[error("{0}")]
    ReservedNamespace(&'static str),
    /// An end tag that is not the one of the element that is open.
    #[error("</{found}> stands where </{open}> must")]
    WrongEndTag {
        /// The name of the element that is open.
        open: String,
        /// The name in the end tag.
        found: String,
    },
    /// An end tag, and no element is open.
    #[error("</{0}> closes nothing")]
    LoneEndTag(String),
    /// A reference to an entity that nothing declares.
    #[error("the entity \"{0}\" is not declared")]
    UnknownEntity(String),
    /// A reference to an entity that lies in another file.
    #[error("the entity \"{0}\" lies outside this file")]
    ExternalEntity(String),
    /// An ampersand that begins no reference.
    #[error("an ampersand that begins no entity reference")]
    LoneAmpersand,
    /// An entity that refers to itself.
    #[error("the entity \"{0}\" refers to itself")]
    EntityLoop(String),
    /// Entities that expand to more than is read.
    #[error("entities expand to more than {0} bytes here")]
    EntityBudget(usize),
    /// An entity whose text opens or closes an element that it does not close or open.
    #[error("the entity \"{0}\" does not hold whole elements")]
    BrokenEntity(String),
    /// A character reference to what is no character.
    #[error("&#{0}; is no character of XML")]
    NoCharacter(String),
    /// An attribute that stands twice, by its expanded name.
    #[error("the attribute \"{0}\" stands twice on this element")]
    AttributeTwice(String),
    /// A prefix that is declared twice on one element.
    #[error("the prefix \"{0}\" is declared twice on this element")]
    PrefixTwice(String),
    /// There is no root element.
    #[error("there is no root element")]
    NoRoot,
    /// The text ends before it is complete.
    #[error("the file ends before all its elements are closed")]
    Ends,
    /// A text that does not begin as XML does.
    #[error("this is no XML: XML begins with \"<\"")]
    NoXml,
    /// Something stands behind the root element, or text before it.
    #[error("only one element may stand outside of all others, and no text")]
    OutsideRoot,
    /// A character that XML has no place for.
    #[error("the character U+{:04X} may not stand in XML", u32::from(*.0))]
    BadCharacter(char),
    /// A name is missing or is none.
    #[error("a name must stand here")]
    Name,
    /// Something else must stand here.
    #[error("{0} must stand here")]
    Expected(&'static str),
    /// Two hyphens in a comment.
    #[error("a comment may not hold \"--\"")]
    Hyphens,
    /// `]]>` in text.
    #[error("\"]]>\" may not stand in text")]
    CdataEnd,
    /// A `<` in the value of an attribute.
    #[error("\"<\" may not stand in the value of an attribute")]
    LessThan,
    /// An XML declaration that does not stand at the very beginning.
    #[error("an XML declaration may only stand at the very beginning")]
    LateDeclaration,
    /// A document type declaration in a wrong place.
    #[error("a document type declaration may only stand once, before the root element")]
    LateDoctype,
    /// A document type declaration where none is taken, or an entity of it.
    #[error("a SOAP message may hold no document type declaration, and its entities are not expanded")]
    Doctype,
    /// Markup that XML does not know.
    #[error("this is no markup that XML knows")]
    UnknownMarkup,
    /// Elements within elements, deeper than is read.
    #[error("elements are nested more than {0} deep here")]
    TooDeep(usize),
    /// A name that is longer than is read.
    #[error("a name of more than 65535 bytes")]
    LongName,
    /// More than can be read.
    #[error("the text is larger than can be read")]
    TooLarge,
}
