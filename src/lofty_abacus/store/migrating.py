"""Bring the database to this version's tables."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from sqlalchemy import Engine


def migrate(engine: Engine) -> bool:
    """Apply every migration that is missing; whether there was one."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations").replace("%", "%%"))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        context = MigrationContext.configure(connection)
        before = context.get_current_revision()
        command.upgrade(config, "head")
        connection.commit()
        return context.get_current_revision() != before
