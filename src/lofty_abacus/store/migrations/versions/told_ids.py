"""Ids of lines are told by whoever posts them, who holds the ledger's posting lock: MariaDB counts none up."""

from __future__ import annotations

from alembic import op

from lofty_abacus.store.migrations.steps import tables_of_lines

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    """At once, whatever the tables hold; done again it changes nothing."""
    for table in tables_of_lines():
        op.execute(f"ALTER TABLE {table} MODIFY id BIGINT UNSIGNED NOT NULL, ALGORITHM = INSTANT")


def downgrade() -> None:
    """There is no way back."""
    raise NotImplementedError("restore the backup that was taken before")
