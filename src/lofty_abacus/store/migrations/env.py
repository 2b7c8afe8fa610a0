"""Run by Alembic: migrate over the connection that was handed in."""

from __future__ import annotations

from alembic import context

from lofty_abacus.store.tables import metadata

context.configure(connection=context.config.attributes["connection"], target_metadata=metadata)
with context.begin_transaction():
    context.run_migrations()
