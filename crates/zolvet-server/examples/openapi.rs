//! Prints the description of the HTTP interface, from which the front end's types are made.

fn main() -> Result<(), serde_json::Error> {
    println!("{}", zolvet_server::openapi()?);
    Ok(())
}
