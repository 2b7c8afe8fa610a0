"""Statements kept under a name."""

from __future__ import annotations

from alembic import op
from sqlalchemy import text

revision = "0003"
down_revision = "0002"

CHANGE = """
CREATE TABLE IF NOT EXISTS saved_statement (
    ledger_id INTEGER NOT NULL,
    name VARCHAR(120) NOT NULL,
    folder VARCHAR(120) NOT NULL,
    description VARCHAR(400) NOT NULL,
    body JSON NOT NULL,
    saved_by VARCHAR(80) NOT NULL,
    saved_at DATETIME NOT NULL,
    PRIMARY KEY (ledger_id, name),
    FOREIGN KEY(ledger_id) REFERENCES ledger (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
"""


def upgrade() -> None:
    """Make the table."""
    op.execute(text(CHANGE))


def downgrade() -> None:
    """Drop it, with what was kept."""
    op.execute("DROP TABLE saved_statement")
