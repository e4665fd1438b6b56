//! Types from table definitions in SQL.

use std::cmp::Ordering;
use std::sync::mpsc;
use std::time::Duration;

use charter_notation::{Child, ElementInfo, Prefixes, Value};
use charter_schema::{Builtin, compare_values, is_lexical};
use sqlparser::ast::{
    ArrayElemTypeDef, CharacterLength, ColumnDef, ColumnOption, CreateTable, DataType, EnumMember,
    ExactNumberInfo, Expr, Statement, TableConstraint,
};
use sqlparser::dialect::GenericDialect;
use sqlparser::parser::{Parser, ParserError};
use sqlparser::tokenizer::{Token, TokenWithSpan, Tokenizer};

use super::condition::{facet, facets, literal};
use super::values::name;
use super::{DeriveError, Derived, field_names, record, schema, type_name};

/// A type for each table that a text in SQL defines, with a field for each column.
///
/// ```
/// let sql = "CREATE TABLE berth (berth_no INT PRIMARY KEY, quay VARCHAR(40) NOT NULL, depth DECIMAL(4,1));";
/// let notation = charter_author::from_table_definitions(sql).unwrap().notation();
/// assert!(notation.contains("quay: string length ..40"));
/// assert!(notation.contains("depth: decimal? digits 4 decimals 1"));
/// ```
///
/// # Errors
/// If the text is no SQL, or defines no table.
pub fn from_table_definitions(text: &str) -> Result<Derived, DeriveError> {
    let types = types(text)?;
    if types.is_empty() {
        return Err(DeriveError::new("no table is defined here").help("give the CREATE TABLE statement"));
    }
    let info = ElementInfo::wsdl("types").holding(schema("", true, types));
    Ok(Derived { info, prefixes: Prefixes::new(""), notes: Vec::new() })
}

/// How long a text may take to be read.
const PATIENCE: Duration = Duration::from_secs(3);
/// Bytes of stack to read it with.
const STACK: usize = 64 << 20;

/// The types of the tables of a text. The reader tries several ways at each word of an expression, which may take for ever if none leads
/// on; so it works by itself, and is left to its fate when it takes too long.
fn types(text: &str) -> Result<Vec<ElementInfo>, DeriveError> {
    let tokens = tokens(text)?;
    let (tell, told) = mpsc::channel();
    let read = move || {
        let dialect = GenericDialect {};
        let mut parser =
            Parser::new(&dialect).with_recursion_limit(NESTED).with_tokens_with_locations(tokens);
        // Nobody listens any more if it took too long.
        let _ = tell.send(each_table(&mut parser));
    };
    let begun = std::thread::Builder::new().stack_size(STACK).spawn(read);
    let too_much = |message: &str| {
        DeriveError::new(message)
            .help("give the CREATE TABLE statement by itself, without what is in the way")
    };
    if begun.is_err() {
        return Err(too_much("there is no room left to read SQL"));
    }
    let parsed =
        told.recv_timeout(PATIENCE).map_err(|_| too_much("this takes too long to be read as SQL"))?;
    parsed.map_err(|error| {
        if matches!(error, ParserError::RecursionLimitExceeded) {
            return too_much("expressions are nested too deep here for a table definition");
        }
        let shown = error.to_string();
        let message = shown.trim_start_matches("sql parser error: ").to_owned();
        let (message, place) =
            message.split_once(" at Line: ").map_or((message.as_str(), None), |(a, b)| (a, Some(b)));
        let at = place.and_then(|place| offset(text, place)).unwrap_or(0);
        DeriveError::new(format!("this is no SQL: {message}"))
            .at(at, at)
            .help("give the CREATE TABLE statement")
    })
}

/// A type for each table, one statement after the other: thousands of them, taken apart, would fill the memory.
fn each_table(parser: &mut Parser<'_>) -> Result<Vec<ElementInfo>, ParserError> {
    let mut types = Vec::new();
    let mut ended = true;
    loop {
        while parser.consume_token(&Token::SemiColon) {
            ended = true;
        }
        if parser.peek_token().token == Token::EOF {
            return Ok(types);
        }
        if !ended {
            return parser.expected("end of statement", parser.peek_token());
        }
        if let Statement::CreateTable(table) = parser.parse_statement()? {
            types.push(table_type(&table));
        }
        ended = false;
    }
}

/// How deep expressions may be nested: each level may double the work of reading them.
const NESTED: usize = 20;
/// How many words may stand between two commas: they become a tree that is as deep.
const WORDS: usize = 2_000;

/// The words and marks of a text, if no expression in it is longer than can be taken apart.
fn tokens(text: &str) -> Result<Vec<TokenWithSpan>, DeriveError> {
    let read = Tokenizer::new(&GenericDialect {}, text).tokenize_with_location().map_err(|error| {
        let at =
            offset(text, &format!("{}, Column: {}", error.location.line, error.location.column)).unwrap_or(0);
        DeriveError::new(format!("this is no SQL: {}", error.message))
            .at(at, at)
            .help("give the CREATE TABLE statement")
    })?;
    let mut words = 0;
    for token in &read {
        words = match token.token {
            Token::Whitespace(_) => words,
            Token::Comma | Token::SemiColon => 0,
            _ => words + 1,
        };
        if words > WORDS {
            let start = token.span.start;
            let at = offset(text, &format!("{}, Column: {}", start.line, start.column)).unwrap_or(0);
            return Err(DeriveError::new(format!(
                "an expression of more than {WORDS} words ends nowhere here"
            ))
            .at(at, at)
            .help("give the CREATE TABLE statement by itself, without what is in the way"));
        }
    }
    Ok(read)
}

/// The place of `3, Column: 7` in a text.
fn offset(text: &str, place: &str) -> Option<usize> {
    let (line, column) = place.split_once(", Column: ")?;
    let (line, column): (usize, usize) = (line.trim().parse().ok()?, column.trim().parse().ok()?);
    let before: usize = text.split_inclusive('\n').take(line.checked_sub(1)?).map(str::len).sum();
    Some((before + column.saturating_sub(1)).min(text.len()))
}

fn table_type(table: &CreateTable) -> ElementInfo {
    let full = table.name.to_string();
    let last = full.rsplit('.').next().unwrap_or(&full).trim_matches(['"', '`', '[', ']']);
    let names = field_names(table.columns.iter().map(|column| &*column.name.value));
    let keys = key_columns(table);
    let conditions: Vec<&Expr> = table
        .constraints
        .iter()
        .filter_map(|constraint| match constraint {
            TableConstraint::Check(check) => Some(&*check.expr),
            _ => None,
        })
        .collect();
    let fields = table.columns.iter().zip(&names);
    record(&type_name(last), fields.map(|(column, name)| field(column, name, &keys, &conditions)).collect())
}

/// The columns of a primary key that is named behind the columns.
fn key_columns(table: &CreateTable) -> Vec<String> {
    let shown = table.constraints.iter().map(ToString::to_string);
    let keys = shown.filter_map(|words| words.split_once("PRIMARY KEY (").map(|(_, rest)| rest.to_owned()));
    keys.flat_map(|rest| {
        let inside = rest.split(')').next().unwrap_or("").to_owned();
        inside.split(',').map(|name| name.trim().trim_matches(['"', '`']).to_lowercase()).collect::<Vec<_>>()
    })
    .collect()
}

fn field(column: &ColumnDef, name: &str, keys: &[String], conditions: &[&Expr]) -> ElementInfo {
    let mut info = ElementInfo::xsd("element").with("name", name);
    let options = column.options.iter().map(|option| &option.option);
    let mut required = keys.contains(&column.name.value.to_lowercase());
    let own = &column.name.value;
    let mut said: Vec<ElementInfo> = conditions.iter().flat_map(|condition| facets(condition, own)).collect();
    for option in options {
        match option {
            ColumnOption::NotNull | ColumnOption::PrimaryKey(_) => required = true,
            ColumnOption::Default(value) => {
                if let Some(text) = literal(value) {
                    info.set("default", Value::Text(text));
                }
            }
            ColumnOption::Comment(text) => {
                let about = ElementInfo {
                    children: vec![Child::Text(text.clone())],
                    ..ElementInfo::xsd("documentation")
                };
                info.push(ElementInfo::xsd("annotation").holding(about));
            }
            ColumnOption::Check(check) => said.extend(facets(&check.expr, own)),
            _ => {}
        }
    }
    let data_type = member(&column.data_type);
    // A column that counts by itself is never empty.
    required |= is_serial(data_type);
    if !required {
        info.set("minOccurs", Value::Text("0".to_owned()));
    }
    if matches!(column.data_type, DataType::Array(_)) {
        info.set("minOccurs", Value::Text("0".to_owned()));
        info.set("maxOccurs", Value::Text("unbounded".to_owned()));
    }
    let (builtin, mut facets) = column_type(data_type);
    if said.iter().any(|info| info.is_xsd("enumeration")) {
        facets = said.into_iter().filter(|info| info.is_xsd("enumeration")).collect();
    } else if builtin.is_within(Builtin::Decimal) || matches!(builtin, Builtin::Float | Builtin::Double) {
        facets.splice(0..0, bounds(said, builtin));
    }
    if facets.is_empty() {
        info.set("type", Value::name(&self::name(builtin)));
        return info;
    }
    let mut restriction = ElementInfo::xsd("restriction").naming("base", &self::name(builtin));
    restriction.children.extend(facets.into_iter().map(Child::Element));
    info.push(ElementInfo::xsd("simpleType").holding(restriction));
    info
}

/// One bound at each end, if it is a value of the type; what else is said there is for the database alone.
fn bounds(said: Vec<ElementInfo>, builtin: Builtin) -> Vec<ElementInfo> {
    let is_value = |info: &ElementInfo| info.text("value").is_some_and(|text| is_within(builtin, text));
    let end = |info: &ElementInfo, end: &str| info.name.local.starts_with(end) && is_value(info);
    let first = |which: &str| said.iter().find(|info| end(info, which)).cloned();
    [first("min"), first("max")].into_iter().flatten().collect()
}

/// Whether a number is a value of a built-in type.
fn is_within(builtin: Builtin, text: &str) -> bool {
    let (least, most) = builtin.bounds();
    let beyond = |bound: Option<&str>, side| {
        bound.is_some_and(|bound| compare_values(Builtin::Decimal, text, bound) == Some(side))
    };
    is_lexical(builtin, text) && !beyond(least, Ordering::Less) && !beyond(most, Ordering::Greater)
}

/// What a column holds, or each member of it if it is an array.
fn member(ty: &DataType) -> &DataType {
    match ty {
        DataType::Array(
            ArrayElemTypeDef::AngleBracket(inner)
            | ArrayElemTypeDef::SquareBracket(inner, _)
            | ArrayElemTypeDef::Parenthesis(inner),
        ) => member(inner),
        other => other,
    }
}

/// Whether the database counts for itself.
fn is_serial(ty: &DataType) -> bool {
    matches!(ty, DataType::Custom(name, _) if name.to_string().to_lowercase().ends_with("serial"))
}

/// The type that a column's becomes, and what narrows it.
fn column_type(ty: &DataType) -> (Builtin, Vec<ElementInfo>) {
    let plain = |builtin: Builtin| (builtin, Vec::new());
    let most = |length: &Option<CharacterLength>| match length {
        Some(CharacterLength::IntegerLength { length, .. }) => vec![facet("maxLength", &length.to_string())],
        _ => Vec::new(),
    };
    match ty {
        DataType::Character(None) | DataType::Char(None) => (Builtin::String, vec![facet("maxLength", "1")]),
        DataType::Character(length)
        | DataType::Char(length)
        | DataType::CharacterVarying(length)
        | DataType::CharVarying(length)
        | DataType::Varchar(length)
        | DataType::Nvarchar(length) => (Builtin::String, most(length)),
        DataType::Boolean | DataType::Bool => plain(Builtin::Boolean),
        DataType::TinyInt(_) | DataType::Int2(_) | DataType::SmallInt(_) => plain(Builtin::Short),
        DataType::Int(_) | DataType::Integer(_) | DataType::Int4(_) | DataType::MediumInt(_) => {
            plain(Builtin::Int)
        }
        DataType::BigInt(_) | DataType::Int8(_) => plain(Builtin::Long),
        DataType::TinyIntUnsigned(_) => plain(Builtin::UnsignedByte),
        DataType::SmallIntUnsigned(_) | DataType::Int2Unsigned(_) => plain(Builtin::UnsignedShort),
        DataType::IntUnsigned(_)
        | DataType::IntegerUnsigned(_)
        | DataType::Int4Unsigned(_)
        | DataType::MediumIntUnsigned(_) => plain(Builtin::UnsignedInt),
        DataType::BigIntUnsigned(_) | DataType::Int8Unsigned(_) => plain(Builtin::UnsignedLong),
        DataType::Numeric(number) | DataType::Decimal(number) | DataType::Dec(number) => {
            (Builtin::Decimal, digits(number))
        }
        DataType::DecimalUnsigned(number) | DataType::DecUnsigned(number) => {
            (Builtin::Decimal, [vec![facet("minInclusive", "0")], digits(number)].concat())
        }
        DataType::Custom(name, _) if is_serial(ty) => {
            plain(if name.to_string().eq_ignore_ascii_case("bigserial") {
                Builtin::Long
            } else {
                Builtin::Int
            })
        }
        DataType::Real | DataType::Float4 => plain(Builtin::Float),
        DataType::Float(_) | DataType::Double(_) | DataType::DoublePrecision | DataType::Float8 => {
            plain(Builtin::Double)
        }
        DataType::Date => plain(Builtin::Date),
        DataType::Time(..) => plain(Builtin::Time),
        DataType::Timestamp(..) | DataType::Datetime(_) => plain(Builtin::DateTime),
        DataType::Blob(_) | DataType::Bytea | DataType::Binary(_) | DataType::Varbinary(_) => {
            plain(Builtin::Base64Binary)
        }
        DataType::Uuid => {
            let pattern = "[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12}";
            (Builtin::String, vec![facet("pattern", pattern)])
        }
        DataType::Enum(members, _) => {
            let values = members.iter().map(|member| match member {
                EnumMember::Name(name) | EnumMember::NamedValue(name, _) => facet("enumeration", name),
            });
            (Builtin::String, values.collect())
        }
        _ => plain(Builtin::String),
    }
}

fn digits(number: &ExactNumberInfo) -> Vec<ElementInfo> {
    match number {
        ExactNumberInfo::None => Vec::new(),
        ExactNumberInfo::Precision(total) => {
            vec![facet("totalDigits", &total.to_string()), facet("fractionDigits", "0")]
        }
        ExactNumberInfo::PrecisionAndScale(total, fraction) => {
            vec![facet("totalDigits", &total.to_string()), facet("fractionDigits", &fraction.to_string())]
        }
    }
}
