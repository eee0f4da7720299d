//! What was acknowledged is kept, and nothing overwrites anything.

#![allow(clippy::unwrap_used, clippy::panic, clippy::cast_sign_loss, clippy::cast_possible_wrap)]

use std::path::Path;

use sqlx::migrate::Migrator;
use time::OffsetDateTime;
use zolvet_store::{Page, Retained, Store, StoreError};

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
    let link = store.share(&made.id, "kiosk", false).await.unwrap();
    assert_eq!(link.token.len(), 32);
    store.save(&made.id, 1, "Plot", "two", "edited").await.unwrap();
    let (scene, document) = store.shared(&link.token).await.unwrap();
    assert_eq!((scene.as_str(), document.text.as_str()), ("kiosk", "one"));
    store.revoke(&link.token).await.unwrap();
    assert!(matches!(store.shared(&link.token).await, Err(StoreError::Missing(_))));
    assert!(store.shares(&made.id, Page::FIRST).await.unwrap()[0].revoked_at.is_some());
    let other = store.share(&made.id, "kiosk", false).await.unwrap();
    store.delete(&made.id, None).await.unwrap();
    assert!(matches!(store.shared(&other.token).await, Err(StoreError::Missing(_))), "in the trash");
    store.undelete(&made.id).await.unwrap();
    assert_eq!(store.shared(&other.token).await.unwrap().1.text, "two");
    assert!(matches!(store.purge(&made.id).await, Err(StoreError::Missing(_))), "it is not in the trash");
    store.delete(&made.id, None).await.unwrap();
    store.purge(&made.id).await.unwrap();
    assert!(matches!(store.purge(&made.id).await, Err(StoreError::Missing(_))), "it is gone");
    assert!(store.shares(&made.id, Page::FIRST).await.unwrap().is_empty());
}

/// What a document may look like: long, with numbers that change from save to save.
fn document(change: usize) -> String {
    let pieces: Vec<String> = (0..120)
        .map(|i| {
            let x = if i == change % 120 { change * 7 % 1000 } else { i * 3 };
            format!(
                "{{\"id\":\"piece-{i}\",\"name\":\"Piece {i}\",\"x\":{x},\"y\":{},\"coats\":[{i},{x}]}}",
                i * 5
            )
        })
        .collect();
    format!("{{\"name\":\"Plot\",\"change\":{change},\"pieces\":[{}]}}", pieces.join(","))
}

/// Every revision comes back byte for byte, and a hundred of them take less room than three whole ones.
#[tokio::test]
async fn revisions_take_little_room_and_come_back_whole() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let made = store.create("Plot", &document(0)).await.unwrap();
    for change in 1..=300 {
        store.save(&made.id, change, "Plot", &document(change as usize), "edited").await.unwrap();
    }
    for revision in [1, 2, 150, 300, 301] {
        let stored = store.read_revision(&made.id, revision).await.unwrap();
        assert_eq!(stored.text, document(revision as usize - 1), "{revision}");
    }
    let sum =
        "SELECT (SELECT sum(length(bytes)) FROM snapshots) + (SELECT sum(length(difference)) FROM revisions)";
    let bytes: i64 = sqlx::query_scalar(sum).fetch_one(&raw(&folder).await).await.unwrap();
    let whole = 301 * document(0).len() as i64;
    assert!(bytes * 20 < whole, "{bytes} of {whole} bytes");
}

async fn raw(folder: &tempfile::TempDir) -> sqlx::SqlitePool {
    sqlx::SqlitePool::connect(&format!("sqlite://{}", folder.path().join("zolvet.db").display()))
        .await
        .unwrap()
}

/// Puts the time of a revision back by so many hours.
async fn aged(folder: &tempfile::TempDir, id: &str, revision: i64, hours: i64) {
    let at = OffsetDateTime::now_utc().replace_minute(30).unwrap() - time::Duration::hours(hours);
    let text = at.format(&time::format_description::well_known::Rfc3339).unwrap();
    let update = sqlx::query("UPDATE revisions SET created_at = ? WHERE project_id = ? AND revision = ?");
    update.bind(text).bind(id).bind(revision).execute(&raw(folder).await).await.unwrap();
}

/// All of a day are kept, then the last of each hour, then of each day; and named ones, linked ones and the newest.
#[tokio::test]
async fn revisions_are_thinned_with_age() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let made = store.create("Plot", &document(0)).await.unwrap();
    for base in 1..=11 {
        store.save(&made.id, base, "Plot", &document(base as usize), "edited").await.unwrap();
    }
    let link = store.share(&made.id, "kiosk", false).await.unwrap();
    store.save(&made.id, 12, "Plot", &document(12), "edited").await.unwrap();
    // Of 40 days ago: three in a day. Of two days ago: three in one hour and one in the next; the rest of today.
    let noon = i64::from(OffsetDateTime::now_utc().hour());
    for (revision, hours) in
        [(1, 960 + noon), (2, 960 + noon), (3, 959 + noon), (4, 48), (5, 48), (6, 48), (7, 47)]
    {
        aged(&folder, &made.id, revision, hours).await;
    }
    aged(&folder, &made.id, 12, 2000).await;
    aged(&folder, &made.id, 13, 3000).await;
    store.name_revision(&made.id, 4, Some("As agreed")).await.unwrap();
    let tidied = store.tidy(OffsetDateTime::now_utc()).await.unwrap();
    let left = store.revisions(&made.id, Page::FIRST).await.unwrap().0;
    let numbers: Vec<i64> = left.iter().map(|revision| revision.revision).collect();
    assert_eq!(numbers, [13, 12, 11, 10, 9, 8, 7, 6, 4, 3]);
    assert_eq!(tidied.revisions, 3);
    assert_eq!(left[8].name.as_deref(), Some("As agreed"));
    assert_eq!(store.shared(&link.token).await.unwrap().1.revision, 12);
    for revision in numbers {
        let stored = store.read_revision(&made.id, revision).await.unwrap();
        assert_eq!(stored.text, document(revision as usize - 1));
    }
    assert_eq!(store.tidy(OffsetDateTime::now_utc()).await.unwrap(), Retained::default());
}

#[tokio::test]
async fn the_trash_keeps_projects_for_thirty_days_and_pictures_as_long_as_they_are_named() {
    let folder = tempfile::tempdir().unwrap();
    let store = store(&folder).await;
    let used = store.keep_asset("image/png", b"used").await.unwrap();
    let unused = store.keep_asset("image/png", b"unused").await.unwrap();
    let made = store.create("Plot", &format!("{{\"assets\":[\"{used}\"]}}")).await.unwrap();
    store.save(&made.id, 1, "Plot", "{}", "edited").await.unwrap();
    store.name_revision(&made.id, 1, Some("With the picture")).await.unwrap();
    store.delete(&made.id, None).await.unwrap();
    assert!(matches!(store.read(&made.id).await, Err(StoreError::Missing(_))));
    assert!(matches!(store.save(&made.id, 2, "", "", "").await, Err(StoreError::Missing(_))));
    assert_eq!(
        (store.projects(Page::FIRST).await.unwrap().1, store.trash(Page::FIRST).await.unwrap().1),
        (0, 1)
    );
    let in_days = |days| OffsetDateTime::now_utc() + time::Duration::days(days);
    assert_eq!(store.tidy(in_days(0)).await.unwrap(), Retained::default(), "what was just uploaded stays");
    assert_eq!(store.tidy(in_days(29)).await.unwrap().assets, 1);
    assert!(store.asset(&used).await.is_ok(), "an earlier revision names it");
    assert!(matches!(store.asset(&unused).await, Err(StoreError::Missing(_))));
    store.undelete(&made.id).await.unwrap();
    assert_eq!(store.read(&made.id).await.unwrap().text, "{}");
    store.delete(&made.id, None).await.unwrap();
    let tidied = store.tidy(in_days(31)).await.unwrap();
    assert_eq!((tidied.projects, tidied.assets), (1, 1));
    assert!(matches!(store.undelete(&made.id).await, Err(StoreError::Missing(_))));
    assert!(matches!(store.asset(&used).await, Err(StoreError::Missing(_))));
}

/// A database of the version before: it is copied, and everything in it is there afterwards.
#[tokio::test]
async fn a_database_is_copied_before_it_is_migrated() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("zolvet.db");
    std::fs::File::create(&path).unwrap();
    let before = raw(&folder).await;
    let older = Migrator::new(Path::new("migrations")).await.unwrap();
    let older = Migrator {
        migrations: older.iter().take(3).cloned().collect::<Vec<_>>().into(),
        ..Migrator::DEFAULT
    };
    older.run(&before).await.unwrap();
    sqlx::query("INSERT INTO projects VALUES ('p', 'Plot', 40, '2026-01-01T00:00:00Z')")
        .execute(&before)
        .await
        .unwrap();
    for revision in 1..=40 {
        let insert =
            sqlx::query("INSERT INTO revisions VALUES ('p', ?, ?, 'edited', '2026-01-01T00:00:00Z')");
        insert.bind(revision).bind(document(revision as usize)).execute(&before).await.unwrap();
    }
    before.close().await;
    let store = Store::open(&path).await.unwrap();
    for revision in [1, 17, 40] {
        assert_eq!(store.read_revision("p", revision).await.unwrap().text, document(revision as usize));
    }
    assert_eq!(store.read("p").await.unwrap().revision, 40);
    store.close().await;
    let copy = sqlx::SqlitePool::connect(&format!("sqlite://{}.before-4", path.display())).await.unwrap();
    let kept: i64 = sqlx::query_scalar("SELECT count(*) FROM revisions").fetch_one(&copy).await.unwrap();
    assert_eq!(kept, 40);
    // It is opened once more without another copy.
    drop(Store::open(&path).await.unwrap());
    assert_eq!(
        std::fs::read_dir(folder.path())
            .unwrap()
            .filter(|file| { file.as_ref().unwrap().file_name().to_string_lossy().contains("before") })
            .count(),
        1
    );
}
