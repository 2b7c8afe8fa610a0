"""Make a ledger ready for files: the dimensions, levels and decimals that they bring.

MariaDB ends a transaction at each change of a table, so this comes before a posting's own. Nobody sees it: what is prepared
belongs to the version that the posting is to make, and is cleared away where it never does.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass

from sqlalchemy import Connection, Engine, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.records import MOST_DIMENSIONS, PostedFile
from lofty_abacus.ingest.mapping import LINE_DIMENSIONS
from lofty_abacus.store import line_tables, members
from lofty_abacus.store.dimensions import chain_of, dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.scales import widen
from lofty_abacus.store.tables import dimension, ledger, level_member, lookup_entry, member

_LOOKUP_ROLES = ("product", "customer", "rep", "region", "channel")
_DESCRIBED = ("amount", "quantity", "cost")


@contextmanager
def leaving_nothing(engine: Engine, ledger_id: int) -> Iterator[None]:
    """Clear away what was prepared for a change that does not come about. Held within the ledger's posting lock."""
    with transaction(engine) as connection:
        clear_leftovers(connection, ledger_id)
    try:
        yield
    except BaseException:
        with transaction(engine) as connection:
            clear_leftovers(connection, ledger_id)
        raise


def prepare_tables(engine: Engine, ledger_id: int, files: Sequence[PostedFile]) -> tuple[int, int]:
    """Dimensions and levels of the version to come, and room for its decimals: those of amounts and of quantities.

    Raises RefusedError.
    """
    with transaction(engine) as connection:
        row = connection.execute(
            select(ledger.c.version, ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)
        ).one()
        wanted = _Wanted(connection, ledger_id, int(row.version))
        for each in files:
            if each.lookup is None:
                for use in each.mapping.columns:
                    if use.role in LINE_DIMENSIONS:
                        wanted.have(use.name, None if use.role == "dimension" else use.role, None)
        for each in _owners_first(files, wanted):
            assert each.lookup is not None, "only lookups are left"
            of = wanted.have_key(each.lookup.of)
            for level in each.lookup.entries:
                wanted.have(level, None, of)
        if len(wanted.known) > MOST_DIMENSIONS:
            raise RefusedError(
                f"The ledger would have {len(wanted.known)} dimensions and levels: it can have {MOST_DIMENSIONS}."
                " Leave some columns out. Nothing was posted."
            )
        line_tables.add_dimension_columns(connection, ledger_id, wanted.columns)
        if any(each.mapping.rates for each in files):
            line_tables.have_given_columns(connection, ledger_id)
    amount = max([row.amount_scale, *(each.amount_scale for each in files)])
    quantity = max([row.quantity_scale, *(each.quantity_scale for each in files)])
    if (amount, quantity) != (row.amount_scale, row.quantity_scale):
        with transaction(engine) as connection:
            widen(connection, ledger_id, amount, quantity)
    return amount, quantity


@dataclass
class _Wanted:
    """The dimensions that there are and those that come; known: per name its id and its owner's id."""

    connection: Connection
    ledger_id: int
    version: int

    def __post_init__(self) -> None:
        found = dimensions(self.connection, self.ledger_id, self.version)
        numbers = {each.name: number for number, each in found}
        self.known = {each.name: (number, numbers.get(each.of or "")) for number, each in found}
        self.columns: list[str] = []

    def have(self, name: str, role: str | None, of: int | None) -> int:
        """A dimension of the lines, or a level of `of`: known, or made. A level belongs to its owner (section 12)."""
        if name in self.known:
            number, owner = self.known[name]
            if owner != of:
                owners = {number: name for name, (number, _) in self.known.items()}
                what = f"a level of {owners[owner]}" if owner is not None else "a column of the lines"
                raise RefusedError(f"{name} is {what} in this ledger already: give the new one another name. Nothing was posted.")
            return number
        number = members.make_dimension(self.connection, self.ledger_id, name, role, of, self.version + 1)
        self.known[name] = (number, of)
        if of is None:
            self.columns.append(name)
        return number

    def have_key(self, name: str) -> int:
        """What a lookup's keys belong to: a dimension or a level that is known, else a new dimension of the lines."""
        if name in self.known:
            return self.known[name][0]
        return self.have(name, name if name in _LOOKUP_ROLES else None, None)


def _owners_first(files: Sequence[PostedFile], wanted: _Wanted) -> list[PostedFile]:
    """The lookups among files, each after the one that brings the level that its keys belong to."""
    waiting = [each for each in files if each.lookup is not None]
    ordered: list[PostedFile] = []
    while waiting:
        brought = {level for each in waiting if each.lookup for level in each.lookup.entries} - set(wanted.known)
        ready = [each for each in waiting if each.lookup and each.lookup.of not in brought] or waiting[:1]
        ordered += ready
        waiting = [each for each in waiting if each not in ready]
    return ordered


def clear_leftovers(connection: Connection, ledger_id: int) -> bool:
    """Take away what a posting prepared that never made its version: dimensions, columns, decimals. Whether there was any."""
    row = connection.execute(
        select(ledger.c.version, ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)
    ).one()
    beyond = (dimension.c.ledger_id == ledger_id) & (dimension.c.from_version > row.version)
    left = list(connection.execute(select(dimension.c.id).where(beyond).order_by(dimension.c.id.desc())).scalars())
    for number in left:
        # In this order no row is left without the one that it stands on.
        for table in (level_member, lookup_entry, member):
            connection.execute(table.delete().where(table.c.dimension_id == number))
        connection.execute(dimension.delete().where(dimension.c.id == number))
    named = {each.name for _, each in dimensions(connection, ledger_id) if each.of is None}
    columns = line_tables.dimension_columns(connection, ledger_id) - named
    line_tables.drop_dimension_columns(connection, ledger_id, sorted(columns))
    scales = (int(row.amount_scale), int(row.quantity_scale))
    wider = line_tables.scales_of(connection, ledger_id) != scales
    if wider:
        line_tables.set_scales(connection, ledger_id, *scales)
    return bool(left or columns or wider)


def make_view(connection: Connection, ledger_id: int) -> None:
    """Make the view of the ledger's lines anew, with all its dimensions."""
    found = dimensions(connection, ledger_id)
    line_tables.make_view(
        connection, ledger_id, [(number, each.name, (chain_of(found, each.name) or (None,))[-1]) for number, each in found]
    )


def describe(connection: Connection, ledger_id: int, files: Sequence[PostedFile]) -> None:
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
