//! What is written of a project besides its pages.

use std::borrow::Cow;

use crate::model::Project;

/// A project without the scenes that are pages: each of those has a sheet of its own.
pub fn without_pages(project: &Project) -> Cow<'_, Project> {
    if project.scenes.iter().all(|scene| scene.page.is_none()) {
        return Cow::Borrowed(project);
    }
    let mut rest = project.clone();
    rest.scenes.retain(|scene| scene.page.is_none());
    Cow::Owned(rest)
}
