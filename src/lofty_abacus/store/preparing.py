"""Make a ledger ready for files: the dimensions, levels and decimals that they bring. None of this changes a line."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Connection, Engine, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.records import PostedFile
from lofty_abacus.ingest.mapping import LINE_DIMENSIONS
from lofty_abacus.store import line_tables, members
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.ledgers import dimensions
from lofty_abacus.store.scales import raise_scales
from lofty_abacus.store.tables import dimension, ledger

_LOOKUP_ROLES = ("product", "customer", "rep", "region", "channel")
_DESCRIBED = ("amount", "quantity", "cost")


def prepare_tables(engine: Engine, ledger_id: int, files: Sequence[PostedFile]) -> None:
    """Dimensions, levels, descriptions and scales that the files need. Raises RefusedError."""
    with transaction(engine) as connection:
        known = {each.name: (number, each.of) for number, each in dimensions(connection, ledger_id)}
        before = set(known)

        def have(name: str, role: str | None, of: int | None) -> int:
            if name in known:
                number, level_of = known[name]
                if (level_of is None) != (of is None):
                    what = "a level from a lookup" if level_of else "a column of lines"
                    raise RefusedError(f"{name} is {what} in this ledger already: give the new one another name.")
                return number
            number = members.make_dimension(connection, ledger_id, name, role, of)
            known[name] = (number, None if of is None else "")
            if of is None:
                line_tables.add_dimension_column(connection, ledger_id, name)
            return number

        for each in files:
            uses = each.mapping.columns
            if each.lookup is not None:
                of = have(each.lookup.of, each.lookup.of if each.lookup.of in _LOOKUP_ROLES else None, None)
                for level in each.lookup.entries:
                    have(level, None, of)
            else:
                for use in uses:
                    if use.role in LINE_DIMENSIONS:
                        have(use.name, None if use.role == "dimension" else use.role, None)
        _describe(connection, ledger_id, files)
        _raise_scales(connection, ledger_id, files)
        if set(known) != before:
            make_view(connection, ledger_id)


def make_view(connection: Connection, ledger_id: int) -> None:
    """Make the view of the ledger's lines anew, with all its dimensions."""
    found = dimensions(connection, ledger_id)
    numbers = {each.name: number for number, each in found}
    line_tables.make_view(
        connection, ledger_id, [(number, each.name, numbers.get(each.of or ""), each.of) for number, each in found]
    )


def _describe(connection: Connection, ledger_id: int, files: Sequence[PostedFile]) -> None:
    """Keep what the mappings say of their columns; a mapping that says nothing takes nothing away."""
    columns: dict[str, str] = {}
    for each in files:
        for use in each.mapping.columns:
            if not use.description:
                continue
            if use.role in _DESCRIBED:
                columns[use.role] = use.description
            else:
                here = (dimension.c.ledger_id == ledger_id) & (dimension.c.name == use.name)
                connection.execute(dimension.update().where(here).values(description=use.description))
    if columns:
        said = connection.execute(select(ledger.c.column_descriptions).where(ledger.c.id == ledger_id)).scalar_one()
        connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(column_descriptions={**said, **columns}))


def _raise_scales(connection: Connection, ledger_id: int, files: Sequence[PostedFile]) -> None:
    row = connection.execute(select(ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)).one()
    amount = max([row[0], *(each.amount_scale for each in files)])
    quantity = max([row[1], *(each.quantity_scale for each in files)])
    if (amount, quantity) != tuple(row):
        raise_scales(connection, ledger_id, amount, quantity)
