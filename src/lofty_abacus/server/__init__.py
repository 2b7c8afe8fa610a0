"""The private MariaDB: found, made, started, adopted after a crash, stopped."""
