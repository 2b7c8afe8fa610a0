"""Figures and days of a ledger's own."""

from __future__ import annotations

from alembic import op
from sqlalchemy import text

revision = "0006"
down_revision = "0005"

CHANGES = (
    """
CREATE TABLE IF NOT EXISTS line_column (
    id INTEGER NOT NULL AUTO_INCREMENT,
    ledger_id INTEGER NOT NULL,
    name VARCHAR(40) NOT NULL,
    kind VARCHAR(10) NOT NULL,
    scale SMALLINT NOT NULL,
    unit VARCHAR(40) NOT NULL,
    polarity VARCHAR(20) NOT NULL,
    description VARCHAR(400) NOT NULL,
    from_version INTEGER NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT line_column_by_name UNIQUE (ledger_id, name),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    """
CREATE TABLE IF NOT EXISTS batch_column (
    batch_id INTEGER NOT NULL,
    column_id INTEGER NOT NULL,
    line_count BIGINT NOT NULL,
    total DECIMAL(38, 9) NOT NULL,
    first_day DATE,
    last_day DATE,
    PRIMARY KEY (batch_id, column_id),
    FOREIGN KEY(batch_id) REFERENCES batch (id),
    FOREIGN KEY(column_id) REFERENCES line_column (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
""",
    "ALTER TABLE ledger ADD COLUMN IF NOT EXISTS usual_day VARCHAR(40) NOT NULL DEFAULT ''",
)


def upgrade() -> None:
    """Make the tables."""
    for change in CHANGES:
        op.execute(text(change))


def downgrade() -> None:
    """Drop them."""
    for name in ("batch_column", "line_column"):
        op.execute(f"DROP TABLE {name}")
    op.execute("ALTER TABLE ledger DROP COLUMN usual_day")
