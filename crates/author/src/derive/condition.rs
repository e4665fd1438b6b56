//! What the conditions of a table say about the values of one column.

use charter_notation::ElementInfo;
use sqlparser::ast::{BinaryOperator, Expr, UnaryOperator, Value as Literal};

/// A facet of that name.
pub(super) fn facet(local: &str, value: &str) -> ElementInfo {
    ElementInfo::xsd(local).with("value", value)
}

/// The facets that a condition comes to for a column; what it says beyond them is for the database alone.
pub(super) fn facets(condition: &Expr, column: &str) -> Vec<ElementInfo> {
    let is_column =
        |expr: &Expr| matches!(expr, Expr::Identifier(name) if name.value.eq_ignore_ascii_case(column));
    match condition {
        Expr::Nested(inner) => facets(inner, column),
        Expr::BinaryOp { left, op: BinaryOperator::And, right } => {
            [facets(left, column), facets(right, column)].concat()
        }
        Expr::InList { expr, list, negated: false } if is_column(expr) => {
            let values: Option<Vec<String>> = list.iter().map(literal).collect();
            values.unwrap_or_default().iter().map(|value| facet("enumeration", value)).collect()
        }
        Expr::Between { expr, low, high, negated: false } if is_column(expr) => {
            [bound(&BinaryOperator::GtEq, low), bound(&BinaryOperator::LtEq, high)].concat()
        }
        Expr::BinaryOp { left, op, right } if is_column(left) => bound(op, right),
        Expr::BinaryOp { left, op, right } if is_column(right) => match op {
            BinaryOperator::Gt => bound(&BinaryOperator::Lt, left),
            BinaryOperator::GtEq => bound(&BinaryOperator::LtEq, left),
            BinaryOperator::Lt => bound(&BinaryOperator::Gt, left),
            BinaryOperator::LtEq => bound(&BinaryOperator::GtEq, left),
            other => bound(other, left),
        },
        _ => Vec::new(),
    }
}

/// A comparison with a number, as a facet.
fn bound(op: &BinaryOperator, value: &Expr) -> Vec<ElementInfo> {
    let Some(number) = number(value) else { return Vec::new() };
    let local = match op {
        BinaryOperator::Gt => "minExclusive",
        BinaryOperator::GtEq => "minInclusive",
        BinaryOperator::Lt => "maxExclusive",
        BinaryOperator::LtEq => "maxInclusive",
        BinaryOperator::Eq => "enumeration",
        _ => return Vec::new(),
    };
    vec![facet(local, &number)]
}

fn number(value: &Expr) -> Option<String> {
    match value {
        Expr::Value(value) => match &value.value {
            Literal::Number(number, _) => Some(number.clone()),
            _ => None,
        },
        Expr::UnaryOp { op: UnaryOperator::Minus, expr } => number(expr).map(|number| format!("-{number}")),
        _ => None,
    }
}

/// The text of a value that is written out.
pub(super) fn literal(value: &Expr) -> Option<String> {
    match value {
        Expr::Value(inner) => match &inner.value {
            Literal::SingleQuotedString(text) | Literal::DoubleQuotedString(text) => Some(text.clone()),
            Literal::Boolean(truth) => Some(truth.to_string()),
            _ => number(value),
        },
        _ => number(value),
    }
}
