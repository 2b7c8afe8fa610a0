"""Members of dimensions: a dense code for every key, given out once and never changed."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import Connection, func, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.core.lines import BLANK, NOT_MAPPED
from lofty_abacus.store.bulk import load_rows
from lofty_abacus.store.tables import dimension, level_member, member

BLANK_LABEL = "(blank)"
NOT_MAPPED_LABEL = "(not mapped)"
LONGEST_KEY = 255


def make_dimension(connection: Connection, ledger_id: int, name: str, role: str | None, of: int | None) -> int:
    """A new dimension (of=None) or level with its blank member, and for a level the not-mapped one."""
    made = connection.execute(
        dimension.insert().values(ledger_id=ledger_id, name=name, role=role, of_dimension_id=of, description="")
    )
    number = int(made.inserted_primary_key[0])  # type: ignore[index]
    connection.execute(member.insert().values(dimension_id=number, code=BLANK, member_key="", label=BLANK_LABEL))
    if of is not None:
        values = {"dimension_id": number, "code": NOT_MAPPED, "member_key": None, "label": NOT_MAPPED_LABEL}
        connection.execute(member.insert().values(values))
    return number


def codes_for(connection: Connection, dimension_id: int, keys: Sequence[str]) -> NDArray[np.uint32]:
    """The code of each key, new keys becoming members: u32[len(keys)]. Raises RefusedError for a key that is too long."""
    for key in keys:
        if len(key) > LONGEST_KEY:
            raise RefusedError(f"{key[:40]!r}... has {len(key)} characters; a member has at most {LONGEST_KEY}.")
    rows = connection.execute(select(member.c.member_key, member.c.code).where(member.c.dimension_id == dimension_id))
    known: dict[str | None, int] = {row[0]: row[1] for row in rows}
    new = [key for key in dict.fromkeys(keys) if key not in known]
    first = max(known.values(), default=-1) + 1
    fresh = {key: first + at for at, key in enumerate(new)}
    load_rows(
        connection,
        "member",
        ("dimension_id", "code", "member_key", "label"),
        ((dimension_id, code, key, key) for key, code in fresh.items()),
    )
    known.update(fresh)
    return np.array([known[key] for key in keys], np.uint32)


def set_labels(connection: Connection, dimension_id: int, labels: dict[int, str]) -> None:
    """Call members by other names than their keys."""
    for code, label in labels.items():
        if label and code not in (BLANK,):
            connection.execute(
                member.update()
                .where(member.c.dimension_id == dimension_id, member.c.code == code)
                .values(label=label[:LONGEST_KEY])
            )


def set_levels(connection: Connection, level_id: int, of_codes: Sequence[int], codes: Sequence[int]) -> None:
    """Map codes of a dimension to codes of a level, replacing what those codes were mapped to."""
    load_rows(
        connection,
        "level_member",
        ("dimension_id", "of_code", "code"),
        ((level_id, of, code) for of, code in zip(of_codes, codes, strict=True)),
        replace=True,
    )


def member_count(connection: Connection, dimension_id: int) -> int:
    """Number of members, the blank (and not-mapped) one included."""
    found = connection.execute(select(func.count()).where(member.c.dimension_id == dimension_id)).scalar_one()
    return int(found)


def members_of(connection: Connection, dimension_id: int, size: int) -> tuple[list[str | None], list[str]]:
    """Keys and labels of the first `size` members, in code order."""
    rows = connection.execute(
        select(member.c.member_key, member.c.label)
        .where(member.c.dimension_id == dimension_id, member.c.code < size)
        .order_by(member.c.code)
    ).all()
    return [row[0] for row in rows], [row[1] for row in rows]


def level_mapping(connection: Connection, level_id: int, of_size: int) -> NDArray[np.int32]:
    """The level's code for each code of its dimension: i32[of_size]; blank stays blank, unknown keys are not mapped."""
    found = np.full(of_size, NOT_MAPPED, np.int32)
    found[BLANK] = BLANK
    rows = connection.execute(select(level_member.c.of_code, level_member.c.code).where(level_member.c.dimension_id == level_id))
    for of, code in rows:
        if of < of_size:
            found[of] = code
    return found
