"""Members of dimensions: a dense code for every key, given out once and never changed."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Sequence

import numpy as np
import pyarrow as pa
import pyarrow.csv as pa_csv
from sqlalchemy import Connection, select

from lofty_abacus.core.lines import BLANK, NOT_MAPPED
from lofty_abacus.store.bulk import FIELDS, load_file, load_rows, loading_folder
from lofty_abacus.store.member_codes import LONGEST_KEY
from lofty_abacus.store.member_keys import KnownKeys, drop_key_pieces, join_key_pieces, write_key_piece
from lofty_abacus.store.tables import dimension, member

BLANK_LABEL = "(blank)"
NOT_MAPPED_LABEL = "(not mapped)"
#: Members up to which reading all of them is quicker than looking for some by hash.
FEW_MEMBERS = 500


def make_dimension(connection: Connection, ledger_id: int, name: str, role: str | None, of: int | None, version: int) -> int:
    """A new dimension (of=None) or level, from a version on, with its blank member, of a level the not-mapped one, too."""
    values = {
        "ledger_id": ledger_id,
        "name": name,
        "role": role,
        "of_dimension_id": of,
        "description": "",
        "from_version": version,
    }
    made = connection.execute(dimension.insert().values(**values, member_count=1 if of is None else 2))
    number = int(made.inserted_primary_key[0])  # type: ignore[index]
    connection.execute(member.insert().values(dimension_id=number, code=BLANK, member_key="", label=BLANK_LABEL))
    if of is not None:
        unmapped = {"dimension_id": number, "code": NOT_MAPPED, "member_key": None, "label": NOT_MAPPED_LABEL}
        connection.execute(member.insert().values(unmapped))
    return number


def add_members(connection: Connection, dimension_id: int, first: int, keys: Sequence[str]) -> None:
    """Rows for new members, with the codes from `first` on; they are members once `settle_members` says so.

    They may be written by another connection than the posting's: what one that never ended left in their place goes first.
    """
    if not keys:
        return
    left = (member.c.dimension_id == dimension_id) & (member.c.code >= first)
    # Reading locks nothing; deleting a range locks its neighbour, too, which the posting's own connection may hold.
    if connection.execute(select(member.c.code).where(left).limit(1)).first() is not None:
        drop_key_pieces(connection, dimension_id, first)
        connection.execute(member.delete().where(left))
    path = loading_folder(connection) / f"members-{secrets.token_hex(8)}"
    texts = pa.array(keys, pa.string())
    codes = pa.array(np.arange(first, first + len(keys), dtype=np.int64))
    table = pa.table([codes, texts], names=["code", "key"])
    throughout: dict[str, int | str] = {"dimension_id": dimension_id, "label": "member_key"}
    try:
        pa_csv.write_csv(table, path, pa_csv.WriteOptions(include_header=False, delimiter="\t", quoting_style="needed"))
        load_file(connection, "member", ("code", "member_key"), path, FIELDS, throughout)
    finally:
        path.unlink(missing_ok=True)
    write_key_piece(connection, dimension_id, first, texts)


def settle_members(connection: Connection, dimension_id: int, count: int) -> None:
    """Let a dimension have its first `count` members, more than before, within the posting's own transaction."""
    connection.execute(dimension.update().where(dimension.c.id == dimension_id).values(member_count=count))
    join_key_pieces(connection, dimension_id, count)


def find_codes(connection: Connection, dimension_id: int, keys: Sequence[str]) -> dict[str, int]:
    """The codes of those keys that are members."""
    count = member_count(connection, dimension_id)
    if count > FEW_MEMBERS:
        return KnownKeys(connection, dimension_id, count).codes(keys)
    asked = set(keys)
    here = (member.c.dimension_id == dimension_id) & (member.c.code < count)
    return {
        row[0]: row[1] for row in connection.execute(select(member.c.member_key, member.c.code).where(here)) if row[0] in asked
    }


def set_labels(connection: Connection, dimension_id: int, labels: dict[int, str]) -> None:
    """Call members by other names than their keys."""
    rows = [(code, label[:LONGEST_KEY]) for code, label in labels.items() if label and code != BLANK]
    if not rows:
        return
    connection.exec_driver_sql("CREATE TEMPORARY TABLE new_label (code INT PRIMARY KEY, label VARCHAR(255)) CHARSET=utf8mb4")
    load_rows(connection, "new_label", ("code", "label"), rows)
    connection.exec_driver_sql(
        f"UPDATE member m JOIN new_label n ON n.code = m.code SET m.label = n.label WHERE m.dimension_id = {int(dimension_id)}"
    )
    connection.exec_driver_sql("DROP TEMPORARY TABLE new_label")


def member_count(connection: Connection, dimension_id: int) -> int:
    """Number of members, the blank (and not-mapped) one included."""
    return int(connection.execute(select(dimension.c.member_count).where(dimension.c.id == dimension_id)).scalar_one())


def member_counts(connection: Connection, dimension_ids: Collection[int]) -> dict[int, int]:
    """The same of several dimensions."""
    query = select(dimension.c.id, dimension.c.member_count).where(dimension.c.id.in_(dimension_ids))
    return {row[0]: int(row[1]) for row in connection.execute(query)}


def members_of(connection: Connection, dimension_id: int, size: int, first: int = 0) -> tuple[list[str | None], list[str]]:
    """Keys and labels of the members from a code on up to the first `size`, in code order."""
    rows = connection.execute(
        select(member.c.member_key, member.c.label)
        .where(member.c.dimension_id == dimension_id, member.c.code >= first, member.c.code < size)
        .order_by(member.c.code)
    ).all()
    return [row[0] for row in rows], [row[1] for row in rows]


def members_named(connection: Connection, dimension_id: int, codes: Collection[int]) -> dict[int, tuple[str, str]]:
    """Key and label of some members, by code."""
    found: dict[int, tuple[str, str]] = {}
    wanted = sorted(codes)
    for at in range(0, len(wanted), 5_000):
        query = select(member.c.code, member.c.member_key, member.c.label).where(
            member.c.dimension_id == dimension_id, member.c.code.in_(wanted[at : at + 5_000])
        )
        found.update({row[0]: (row[1], row[2]) for row in connection.execute(query)})
    return found
