//! OpenAPI schemas of the requests and answers of queries.

use utoipa::ToSchema;
use utoipa::openapi::schema::{ArrayBuilder, KnownFormat, ObjectBuilder, SchemaFormat, SchemaType, Type};
use utoipa::openapi::{Ref, RefOr, Schema};

/// Named schemas, to which others refer.
pub type Components = Vec<(String, RefOr<Schema>)>;

/// The schemas of one query.
pub struct QuerySchemas {
    /// The request.
    pub request: RefOr<Schema>,
    /// The answer.
    pub answer: RefOr<Schema>,
    /// Schemas that the two refer to.
    pub components: Components,
}

impl QuerySchemas {
    /// The schemas of a request of a type, and of an answer.
    pub fn new<Q: ToSchema>(answer: fn(&mut Components) -> RefOr<Schema>) -> Self {
        let mut components = Vec::new();
        let request = value::<Q>(&mut components);
        let answer = answer(&mut components);
        Self { request, answer, components }
    }
}

/// One value, by its name.
pub fn value<T: ToSchema>(components: &mut Components) -> RefOr<Schema> {
    let name = T::name();
    T::schemas(components);
    // What the language has already needs no name.
    if name == "String" {
        return T::schema();
    }
    components.push((name.to_string(), T::schema()));
    RefOr::Ref(Ref::from_schema_name(name))
}

/// A list of values.
pub fn list<T: ToSchema>(components: &mut Components) -> RefOr<Schema> {
    ArrayBuilder::new().items(value::<T>(components)).into()
}

/// Plain bytes.
pub fn bytes(_components: &mut Components) -> RefOr<Schema> {
    ObjectBuilder::new()
        .schema_type(SchemaType::Type(Type::String))
        .format(Some(SchemaFormat::KnownFormat(KnownFormat::Binary)))
        .into()
}
