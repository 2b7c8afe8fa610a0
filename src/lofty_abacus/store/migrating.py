"""Bring the database to this version's tables."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from lofty_abacus.actions.errors import RecordsError


def migrate(engine: Engine, before: Callable[[], object] = lambda: None) -> bool:
    """Apply every migration that is missing; whether there was one. One that was cut off is begun again.

    before: called before tables that hold something are changed. Raises RecordsError where a newer version made the tables, or
    where they cannot be changed.
    """
    with engine.connect() as connection:
        context = MigrationContext.configure(connection)
        at = context.get_current_revision()
        known = [script.revision for script in _scripts().walk_revisions()]
        if at is not None and at not in known:
            raise RecordsError(
                f"These records were made by a newer Lofty Abacus (tables {at}, and this one knows {known[0]}): start that one,"
                " or restore a backup that was taken before."
            )
        if at == known[0]:
            return False
        if at is not None:
            connection.rollback()
            before()
        config = _config()
        config.attributes["connection"] = connection
        try:
            command.upgrade(config, "head")
            connection.commit()
        except SQLAlchemyError as error:
            words = str(error.__cause__ or error).splitlines()[0]
            raise RecordsError(
                f"The tables could not be brought to this version ({words}): nothing posted is lost. Start again; where that"
                " does not help, restore the backup that was taken before."
            ) from error
        return True


def newest_revision() -> str:
    """The version of the tables that this code knows."""
    return str(_scripts().get_current_head())


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations").replace("%", "%%"))
    return config


def _scripts() -> ScriptDirectory:
    return ScriptDirectory.from_config(_config())
