"""Dimensions of versions, archived ledgers, grains up to years, statements with numbers, short links, currencies of batches."""

from __future__ import annotations

from alembic import op

revision = "0004"
down_revision = "0003"

CHANGES = (
    "ALTER TABLE dimension ADD COLUMN IF NOT EXISTS from_version INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE ledger MODIFY line_grain VARCHAR(10) NOT NULL DEFAULT 'day',"
    " ADD COLUMN IF NOT EXISTS archived_at DATETIME, ADD COLUMN IF NOT EXISTS archived_by VARCHAR(80) NOT NULL DEFAULT ''",
    "ALTER TABLE saved_statement ADD COLUMN IF NOT EXISTS id INTEGER NOT NULL AUTO_INCREMENT,"
    " ADD UNIQUE KEY IF NOT EXISTS saved_statement_by_id (id), ADD COLUMN IF NOT EXISTS forgotten_at DATETIME",
    "ALTER TABLE kept_mapping ADD COLUMN IF NOT EXISTS forgotten_at DATETIME",
    "ALTER TABLE batch ADD COLUMN IF NOT EXISTS rates JSON",
    """
CREATE TABLE IF NOT EXISTS short_link (
    id VARCHAR(16) NOT NULL,
    address TEXT NOT NULL,
    made_by VARCHAR(80) NOT NULL,
    made_at DATETIME NOT NULL,
    PRIMARY KEY (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
)


def upgrade() -> None:
    """Change the tables."""
    for statement in CHANGES:
        op.execute(statement)


def downgrade() -> None:
    """There is no way back."""
    raise NotImplementedError("what was posted since cannot be kept in the tables of before")
