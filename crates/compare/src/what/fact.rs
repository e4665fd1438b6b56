//! What a statement is about, as texts that stay what they are however it is shown.

use charter_contract::{Addressing, Demand, Need, Password, Replies, SoapVersion, Style, UseKind};
use charter_schema::Builtin;
use charter_source::QName;

/// Something that a statement is about.
pub(crate) trait Fact {
    /// A text that stands for it, and for nothing else of its kind.
    fn fact(&self) -> String;
}

impl Fact for String {
    fn fact(&self) -> String {
        self.clone()
    }
}

impl Fact for QName {
    fn fact(&self) -> String {
        format!("{{{}}}{}", self.namespace, self.local)
    }
}

impl<T: Fact> Fact for Option<T> {
    fn fact(&self) -> String {
        self.as_ref().map_or_else(|| "-".to_owned(), |it| format!("={}", it.fact()))
    }
}

impl<T: Fact> Fact for [T] {
    /// Each behind its length, so that no two lists have one text.
    fn fact(&self) -> String {
        self.iter().map(|it| it.fact()).map(|fact| format!("{}:{fact}", fact.len())).collect()
    }
}

macro_rules! numbers {
    ($($type:ty)*) => {
        $(impl Fact for $type {
            fn fact(&self) -> String {
                self.to_string()
            }
        })*
    };
}

numbers!(u32 u64 usize);

impl Fact for bool {
    fn fact(&self) -> String {
        if *self { "yes".to_owned() } else { "no".to_owned() }
    }
}

impl Fact for SoapVersion {
    fn fact(&self) -> String {
        self.number().to_owned()
    }
}

impl Fact for Style {
    fn fact(&self) -> String {
        self.name().to_owned()
    }
}

impl Fact for UseKind {
    fn fact(&self) -> String {
        self.name().to_owned()
    }
}

impl Fact for Builtin {
    fn fact(&self) -> String {
        self.name().to_owned()
    }
}

impl Fact for Demand {
    fn fact(&self) -> String {
        match self {
            Demand::Tls => "tls".to_owned(),
            Demand::ClientCertificate => "client-certificate".to_owned(),
            Demand::HttpBasic => "http-basic".to_owned(),
            Demand::UserName(Password::Text) => "user-name password".to_owned(),
            Demand::UserName(Password::Digest) => "user-name digest".to_owned(),
            Demand::UserName(Password::None) => "user-name".to_owned(),
            Demand::Certificate => "certificate".to_owned(),
            Demand::SamlAssertion => "saml".to_owned(),
            Demand::Timestamp => "timestamp".to_owned(),
            Demand::Signature => "signature".to_owned(),
            Demand::Encryption => "encryption".to_owned(),
            Demand::ReliableMessaging => "reliable-messaging".to_owned(),
            Demand::Attachments => "attachments".to_owned(),
            Demand::Other(name) => format!("other {}", name.fact()),
            Demand::Addressing(Addressing { need, replies }) => {
                let need = if *need == Need::Must { "must" } else { "may" };
                let replies = match replies {
                    Replies::Anywhere => "anywhere",
                    Replies::SameConnection => "same-connection",
                    Replies::OwnAddress => "own-address",
                };
                format!("addressing {need} {replies}")
            }
        }
    }
}
