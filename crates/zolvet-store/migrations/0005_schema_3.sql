-- Documents are of schema 3 from here on, and saved in that form when they are saved next. Nothing changes in the tables: this
-- step is there so that the database is copied first, for whoever goes back to an earlier version.
SELECT 1;
