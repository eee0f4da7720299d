//! stub
fn main(){}
