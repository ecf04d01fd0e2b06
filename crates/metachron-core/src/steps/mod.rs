//! Derived columns: a source and steps from left to right, each taking what the one before gives.
//!
//! ```
//! use metachron_core::typed::{Kind, TypedValue};
//! use metachron_core::steps::{Chain, Item, Setting, Type};
//!
//! let chain = Chain::parse("seen | move +1 month | end month | weekday").unwrap();
//! let setting = Setting::new(jiff::civil::date(2024, 6, 1));
//! let program = chain.compile(&[("seen", Type::Of(Kind::Date))], &setting).unwrap();
//! assert_eq!(program.gives(), Type::Number);
//! let seen = Item::Typed(TypedValue::Date(jiff::civil::date(2024, 1, 31)));
//! let weekday = program.run(&[seen], &[], &mut Default::default()).unwrap();
//! assert_eq!(weekday.to_string(), "4");
//! ```

mod error;
mod item;
mod notes;
mod period;
mod series;
mod setting;
mod word;
mod parts;
mod chain;
mod compile;
mod arguments;
mod run;
mod condition;

pub use chain::{Chain, ChainSource};
pub use compile::{Fact, Program, STEPS};
pub use condition::{Condition, Test};
pub use error::{StepError, Unknown};
pub use item::{Item, Type, Unmade};
pub use notes::Notes;
pub use parts::ColumnRole;
pub use period::{CalendarPart, Period};
pub use series::Series;
pub use setting::Setting;
pub use word::Word;
