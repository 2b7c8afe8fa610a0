"""Make a ledger ready for files: the dimensions, levels and decimals that they bring.

MariaDB ends a transaction at each change of a table, so this comes before a posting's own. Nobody sees it: what is prepared
belongs to the version that the posting is to make, and is cleared away where it never does.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace

from sqlalchemy import Connection, Engine, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.records import MOST_DIMENSIONS, MOST_OWN_COLUMNS, PostedFile, too_many_own
from lofty_abacus.ingest.mapping import LINE_DIMENSIONS, Role
from lofty_abacus.store import line_tables, members
from lofty_abacus.store.dimensions import chain_of, dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_columns import Kind, LineColumn, line_columns, make_line_column
from lofty_abacus.store.scales import have_room, widen
from lofty_abacus.store.tables import dimension, ledger, level_member, line_column, lookup_entry, member, member_key_piece

_LOOKUP_ROLES = ("product", "customer", "rep", "region", "channel")
_DESCRIBED = ("amount", "quantity", "cost")
_KINDS: Mapping[Role, Kind] = {"further_amount": "amount", "further_quantity": "quantity", "further_day": "day"}


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
        own = _own_columns(connection, ledger_id, int(row.version), files, set(wanted.known))
        if any(each.mapping.rates for each in files):
            line_tables.have_given_columns(connection, ledger_id)
    amount = max([row.amount_scale, *(each.amount_scale for each in files)])
    quantity = max([row.quantity_scale, *(each.quantity_scale for each in files)])
    if (amount, quantity) != (row.amount_scale, row.quantity_scale):
        with transaction(engine) as connection:
            widen(connection, ledger_id, amount, quantity)
    with transaction(engine) as connection:
        figures = {each.name: amount if each.kind == "amount" else each.decimals for each in own if not each.is_day}
        have_room(connection, ledger_id, figures, [each.name for each in own if each.is_day])
    return amount, quantity


def _own_columns(
    connection: Connection, ledger_id: int, version: int, files: Sequence[PostedFile], taken: set[str]
) -> list[LineColumn]:
    """Figures and days that files bring, known or made, with the decimals that they need. Raises RefusedError."""
    known = {each.name: each for each in line_columns(connection, ledger_id)}
    found: dict[str, LineColumn] = {}
    for file in files:
        for use in file.mapping.columns if file.lookup is None else ():
            if use.role not in _KINDS:
                if use.role in LINE_DIMENSIONS and use.name in known:
                    raise RefusedError(f"{use.name} is a figure or day of this ledger already: give the new one another name.")
                continue
            kind, decimals = _KINDS[use.role], file.scales.get(use.name, 0)
            before = found.get(use.name) or known.get(use.name)
            if use.name in taken:
                raise RefusedError(f"{use.name} is a dimension of this ledger already: give the {kind} another name.")
            if before is not None and before.kind != kind:
                raise RefusedError(f"{use.name} is a further {before.kind} in this ledger already: give the {kind} another name.")
            if before is None:
                new = LineColumn(0, use.name, kind, decimals, use.unit, use.polarity, use.description)
                before = replace(new, id=make_line_column(connection, ledger_id, new, version + 1))
            found[use.name] = replace(before, decimals=max(before.decimals, decimals))
    if len(known | found) > MOST_OWN_COLUMNS:
        raise RefusedError(f"{too_many_own(len(known | found))} Nothing was posted.")
    return list(found.values())


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
    """Take away what a posting left that never made its version: dimensions, columns, decimals, lines. Whether there was any."""
    stray = line_tables.drop_stray_lines(connection, ledger_id)
    row = connection.execute(
        select(ledger.c.version, ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)
    ).one()
    beyond = (dimension.c.ledger_id == ledger_id) & (dimension.c.from_version > row.version)
    left = list(connection.execute(select(dimension.c.id).where(beyond).order_by(dimension.c.id.desc())).scalars())
    for number in left:
        # In this order no row is left without the one that it stands on.
        for table in (level_member, lookup_entry, member_key_piece, member):
            connection.execute(table.delete().where(table.c.dimension_id == number))
        connection.execute(dimension.delete().where(dimension.c.id == number))
    named = {each.name for _, each in dimensions(connection, ledger_id) if each.of is None}
    there = line_tables.line_table_columns(connection, ledger_id)
    columns = there.dimensions - named
    line_tables.drop_dimension_columns(connection, ledger_id, sorted(columns))
    connection.execute(line_column.delete().where(line_column.c.ledger_id == ledger_id, line_column.c.from_version > row.version))
    kept = line_columns(connection, ledger_id)
    figures = there.figures
    unused = sorted(set(figures) - {each.name for each in kept}), sorted(there.days - {each.name for each in kept})
    line_tables.drop_own_columns(connection, ledger_id, *unused)
    room = {each.name: each.decimals for each in kept if not each.is_day and figures.get(each.name) != each.decimals}
    line_tables.have_own_columns(connection, ledger_id, room, [])
    scales = (int(row.amount_scale), int(row.quantity_scale))
    wider = there.scales != scales
    if wider:
        line_tables.set_scales(connection, ledger_id, *scales)
    return bool(stray or left or columns or wider or any(unused) or room)


def make_view(connection: Connection, ledger_id: int, *, anew: bool) -> None:
    """Make the view of the ledger's lines, with all its dimensions, where it is not there or lacks one; anew: in any case."""
    found = dimensions(connection, ledger_id)
    own = line_columns(connection, ledger_id)
    if not anew and line_tables.view_has(
        connection, ledger_id, [*(each.name for _, each in found), *(each.name for each in own)]
    ):
        return
    line_tables.make_view(
        connection,
        ledger_id,
        [(number, each.name, (chain_of(found, each.name) or (None,))[-1]) for number, each in found],
        [each.name for each in own if not each.is_day],
        [each.name for each in own if each.is_day],
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
            elif use.role in _KINDS:
                own = (line_column.c.ledger_id == ledger_id) & (line_column.c.name == use.name)
                connection.execute(line_column.update().where(own).values(description=use.description))
            else:
                here = (dimension.c.ledger_id == ledger_id) & (dimension.c.name == use.name)
                connection.execute(dimension.update().where(here).values(description=use.description))
    if columns:
        said = connection.execute(select(ledger.c.column_descriptions).where(ledger.c.id == ledger_id)).scalar_one()
        connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(column_descriptions={**said, **columns}))
