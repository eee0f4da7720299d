//! Makes an empty database from the migrations, so that queries are checked against it while compiling.

use std::path::PathBuf;

use sqlx::migrate::Migrator;
use sqlx::sqlite::{SqliteConnectOptions, SqlitePool};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    println!("cargo:rerun-if-changed=migrations");
    let path = PathBuf::from(std::env::var("OUT_DIR")?).join("schema.db");
    // Nothing to remove on the first build.
    let _ = std::fs::remove_file(&path);
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    runtime.block_on(async {
        let options = SqliteConnectOptions::new().filename(&path).create_if_missing(true);
        let pool = SqlitePool::connect_with(options).await?;
        Migrator::new(PathBuf::from("migrations")).await?.run(&pool).await?;
        pool.close().await;
        Ok::<_, Box<dyn std::error::Error>>(())
    })?;
    println!("cargo:rustc-env=DATABASE_URL=sqlite://{}", path.display());
    Ok(())
}
