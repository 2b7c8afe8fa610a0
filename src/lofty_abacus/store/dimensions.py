"""The dimensions and levels of a ledger, as a version has them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlalchemy import Connection, select

from lofty_abacus.core.statement.ledger import Dimension
from lofty_abacus.store.tables import dimension, ledger

#: Dimensions and levels with their ids, in the order in which they came.
Numbered = list[tuple[int, Dimension]]


def dimensions(connection: Connection, ledger_id: int, version: int | None = None) -> Numbered:
    """What a version of a ledger has, the current one if None: what a posting brings that has not ended is no part of it."""
    if version is None:
        version = int(connection.execute(select(ledger.c.version).where(ledger.c.id == ledger_id)).scalar_one())
    rows = connection.execute(
        select(dimension).where(dimension.c.ledger_id == ledger_id, dimension.c.from_version <= version).order_by(dimension.c.id)
    ).mappings()
    found = list(rows)
    names = {row["id"]: row["name"] for row in found}
    return [
        (row["id"], Dimension(row["name"], row["role"], names.get(row["of_dimension_id"]), row["description"])) for row in found
    ]


def chain_of(found: Numbered, name: str) -> tuple[str, ...]:
    """A level's owner, that one's owner, and so on to the dimension of the lines; of such a dimension nothing."""
    owners = {each.name: each.of for _, each in found}
    chain: list[str] = []
    at = owners.get(name)
    while at is not None:
        chain.append(at)
        at = owners.get(at)
    return tuple(chain)


def with_levels_of(found: Numbered, levels: Iterable[int]) -> Sequence[int]:
    """Levels by id, and all that are levels of them at any distance: owners before what belongs to them."""
    wanted = set(levels)
    names = {each.name for number, each in found if number in wanted}
    own = [(len(chain_of(found, each.name)), number) for number, each in found
           if number in wanted or names & set(chain_of(found, each.name))]  # fmt: skip
    return [number for _, number in sorted(own)]
