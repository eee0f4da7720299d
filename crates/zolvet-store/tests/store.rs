//! What was acknowledged is kept, and nothing overwrites anything.

#![allow(clippy::unwrap_used, clippy::panic)]

use zolvet_store::{Page, Store, StoreError};

async fn store(folder: &tempfile::TempDir) -> Store {
    Store::open(&folder.path().join("zolvet.db")).await.unwrap()
}

#[tokio::test]
async fn every_save_is_a_revision() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let made = store.create("Plot", "{\"a\":1}").await.unwrap();
    assert_eq!(store.save(&made.id, 1, "Plot 2", "{\"a\":2}", "edited").await.unwrap(), 2);
    let (listed, count) = store.projects(Page::FIRST).await.unwrap();
    assert_eq!(count, 1);
    assert_eq!((listed[0].name.as_str(), listed[0].revision), ("Plot 2", 2));
    assert_eq!(store.read(&made.id).await.unwrap().text, "{\"a\":2}");
    assert_eq!(store.read_revision(&made.id, 1).await.unwrap().text, "{\"a\":1}");
    let notes: Vec<_> =
        store.revisions(&made.id, Page::FIRST).await.unwrap().0.into_iter().map(|r| r.note).collect();
    assert_eq!(notes, ["edited", "created"]);
    assert!(matches!(store.read_revision(&made.id, 3).await, Err(StoreError::Missing("revision"))));
}

#[tokio::test]
async fn a_stale_save_changes_nothing_and_hands_back_what_is_stored() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let made = store.create("Plot", "one").await.unwrap();
    store.save(&made.id, 1, "Plot", "two", "edited").await.unwrap();
    match store.save(&made.id, 1, "Plot", "late", "edited").await {
        Err(StoreError::Stale(stored)) => {
            assert_eq!((stored.revision, stored.text.as_str()), (2, "two"));
        }
        other => panic!("{other:?}"),
    }
    assert_eq!(store.revisions(&made.id, Page::FIRST).await.unwrap().1, 2);
    assert!(matches!(store.save("nope", 1, "", "", "").await, Err(StoreError::Missing(_))));
}

#[tokio::test]
async fn of_two_saves_at_once_one_wins() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let made = store.create("Plot", "one").await.unwrap();
    let (a, b) = tokio::join!(
        store.save(&made.id, 1, "Plot", "a", "edited"),
        store.save(&made.id, 1, "Plot", "b", "edited")
    );
    assert_eq!(usize::from(a.is_ok()) + usize::from(b.is_ok()), 1);
}

#[tokio::test]
async fn a_link_shows_its_revision_until_it_is_revoked() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let made = store.create("Plot", "one").await.unwrap();
    let link = store.share(&made.id, "kiosk").await.unwrap();
    assert_eq!(link.token.len(), 32);
    store.save(&made.id, 1, "Plot", "two", "edited").await.unwrap();
    let (scene, document) = store.shared(&link.token).await.unwrap();
    assert_eq!((scene.as_str(), document.text.as_str()), ("kiosk", "one"));
    store.revoke(&link.token).await.unwrap();
    assert!(matches!(store.shared(&link.token).await, Err(StoreError::Missing(_))));
    assert!(store.shares(&made.id, Page::FIRST).await.unwrap()[0].revoked_at.is_some());
    store.delete(&made.id, None).await.unwrap();
    assert!(store.shares(&made.id, Page::FIRST).await.unwrap().is_empty());
}
