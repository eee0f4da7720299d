//! Depth as it is drawn: coverage, blur, coats, layers, and the numbers read from them.

#![allow(missing_docs)]

mod blur;
mod composing;
mod controls;
mod engine;
mod filter;
mod fonts;
mod groups;
mod hidden;
mod kinds;
mod measuring;
mod steps;
mod svg_filters;
mod trade_facts;
mod warm;
