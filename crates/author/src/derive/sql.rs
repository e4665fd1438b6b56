//! Types from table definitions in SQL.

use charter_notation::{Child, Form, Prefixes, Value};
use charter_schema::Builtin;
use sqlparser::ast::{
    CharacterLength, ColumnDef, ColumnOption, CreateTable, DataType, EnumMember, ExactNumberInfo, Expr,
    Statement, Value as Literal,
};
use sqlparser::dialect::GenericDialect;
use sqlparser::parser::Parser;

use super::values::name;
use super::{DeriveError, Derived, distinct, field_name, record, schema, type_name};

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
    let statements = Parser::parse_sql(&GenericDialect {}, text).map_err(|error| {
        let shown = error.to_string();
        let message = shown.trim_start_matches("sql parser error: ").to_owned();
        let (message, place) =
            message.split_once(" at Line: ").map_or((message.as_str(), None), |(a, b)| (a, Some(b)));
        let at = place.and_then(|place| offset(text, place)).unwrap_or(0);
        DeriveError::new(format!("this is no SQL: {message}"))
            .at(at, at)
            .help("give the CREATE TABLE statement")
    })?;
    let tables = statements.iter().filter_map(|statement| match statement {
        Statement::CreateTable(table) => Some(table),
        _ => None,
    });
    let types: Vec<Form> = tables.map(table_type).collect();
    if types.is_empty() {
        return Err(DeriveError::new("no table is defined here").help("give the CREATE TABLE statement"));
    }
    let form = Form::wsdl("types").holding(schema("", true, types));
    Ok(Derived { form, prefixes: Prefixes::new(""), notes: Vec::new() })
}

/// The place of `3, Column: 7` in a text.
fn offset(text: &str, place: &str) -> Option<usize> {
    let (line, column) = place.split_once(", Column: ")?;
    let (line, column): (usize, usize) = (line.trim().parse().ok()?, column.trim().parse().ok()?);
    let before: usize = text.split_inclusive('\n').take(line.checked_sub(1)?).map(str::len).sum();
    Some((before + column.saturating_sub(1)).min(text.len()))
}

fn table_type(table: &CreateTable) -> Form {
    let full = table.name.to_string();
    let last = full.rsplit('.').next().unwrap_or(&full).trim_matches(['"', '`', '[', ']']);
    let mut names: Vec<String> = table.columns.iter().map(|column| field_name(&column.name.value)).collect();
    distinct(&mut names);
    let keys = key_columns(table);
    let fields = table.columns.iter().zip(&names);
    record(&type_name(last), fields.map(|(column, name)| field(column, name, &keys)).collect())
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

fn field(column: &ColumnDef, name: &str, keys: &[String]) -> Form {
    let mut form = Form::xsd("element").with("name", name);
    let options = column.options.iter().map(|option| &option.option);
    let mut required = keys.contains(&column.name.value.to_lowercase());
    let mut allowed = Vec::new();
    for option in options {
        match option {
            ColumnOption::NotNull | ColumnOption::PrimaryKey(_) => required = true,
            ColumnOption::Default(value) => {
                if let Some(text) = literal(value) {
                    form.set("default", Value::Text(text));
                }
            }
            ColumnOption::Comment(text) => {
                let said = Form { children: vec![Child::Text(text.clone())], ..Form::xsd("documentation") };
                form.push(Form::xsd("annotation").holding(said));
            }
            ColumnOption::Check(check) => {
                if let Expr::InList { list, negated: false, .. } = &*check.expr {
                    allowed = list.iter().filter_map(literal).collect();
                }
            }
            _ => {}
        }
    }
    if !required {
        form.set("minOccurs", Value::Text("0".to_owned()));
    }
    let (builtin, mut facets) = column_type(&column.data_type);
    if !allowed.is_empty() {
        facets = allowed.iter().map(|value| facet("enumeration", value)).collect();
    }
    if facets.is_empty() {
        form.set("type", Value::Names(vec![self::name(builtin)]));
        return form;
    }
    let mut restriction = Form::xsd("restriction").naming("base", &self::name(builtin));
    restriction.children.extend(facets.into_iter().map(Child::Element));
    form.push(Form::xsd("simpleType").holding(restriction));
    form
}

fn literal(value: &Expr) -> Option<String> {
    let Expr::Value(value) = value else { return None };
    match &value.value {
        Literal::SingleQuotedString(text) | Literal::DoubleQuotedString(text) => Some(text.clone()),
        Literal::Number(number, _) => Some(number.clone()),
        Literal::Boolean(truth) => Some(truth.to_string()),
        _ => None,
    }
}

fn facet(local: &str, value: &str) -> Form {
    Form::xsd(local).with("value", value)
}

/// The type that a column's becomes, and what narrows it.
fn column_type(ty: &DataType) -> (Builtin, Vec<Form>) {
    let plain = |builtin: Builtin| (builtin, Vec::new());
    let most = |length: &Option<CharacterLength>| match length {
        Some(CharacterLength::IntegerLength { length, .. }) => vec![facet("maxLength", &length.to_string())],
        _ => Vec::new(),
    };
    match ty {
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
        DataType::Numeric(number) | DataType::Decimal(number) | DataType::Dec(number) => {
            (Builtin::Decimal, digits(number))
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

fn digits(number: &ExactNumberInfo) -> Vec<Form> {
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
