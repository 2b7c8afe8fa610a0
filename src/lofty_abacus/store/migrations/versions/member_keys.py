"""Keys of members by hash, in pieces, in the place of an index on the members."""

from __future__ import annotations

import json

import numpy as np
import xxhash
from alembic import op
from sqlalchemy import text

from lofty_abacus.store.migrations.steps import has_index

revision = "0008"
down_revision = "0007"

TABLE = """
CREATE TABLE IF NOT EXISTS member_key_piece (
    dimension_id INTEGER NOT NULL,
    first_code INTEGER NOT NULL,
    members INTEGER NOT NULL,
    bounds JSON NOT NULL,
    hashes LONGBLOB NOT NULL,
    places LONGBLOB NOT NULL,
    PRIMARY KEY (dimension_id, first_code),
    FOREIGN KEY(dimension_id) REFERENCES dimension (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
"""
PIECE = (
    "INSERT INTO member_key_piece (dimension_id, first_code, members, bounds, hashes, places)"
    " VALUES (:dimension, :first, :members, :bounds, :hashes, :places)"
)
#: Members that are read at a time.
SOME = 50_000


def upgrade() -> None:
    """Keep the keys of all members so; what was begun is begun again."""
    op.execute(TABLE)
    if has_index("member", "member_by_key"):
        op.execute("DELETE FROM member_key_piece")
        for number, count in op.get_bind().execute(text("SELECT id, member_count FROM dimension")).all():
            _keep_keys(number, count)
        op.execute("ALTER TABLE member DROP KEY member_by_key")


def _keep_keys(dimension: int, count: int) -> None:
    # The blank one and what is not mapped have no key. Rows beyond the members were left by a posting that never ended.
    query = text(
        "SELECT code, member_key FROM member WHERE dimension_id = :dimension AND code > :last AND code < :count"
        " AND member_key <> '' ORDER BY code LIMIT :some"
    )
    last = -1
    while rows := op.get_bind().execute(query, {"dimension": dimension, "last": last, "count": count, "some": SOME}).all():
        last = rows[-1][0]
        _write(dimension, [(row[0], row[1]) for row in rows])


def _write(dimension: int, members: list[tuple[int, str]]) -> None:
    """One piece: as the tables of this version have it, whatever later ones do."""
    first, hashes = members[0][0], np.array([xxhash.xxh3_64_intdigest(key.encode()) for _, key in members], np.uint64)
    order = np.argsort(hashes, kind="stable")
    by_length: dict[int, list[str]] = {}
    for _, key in members:
        by_length.setdefault(len(key), []).append(key)
    op.get_bind().execute(
        text(PIECE),
        {
            "dimension": dimension,
            "first": first,
            "members": members[-1][0] + 1 - first,
            "bounds": json.dumps([[length, min(keys), max(keys)] for length, keys in sorted(by_length.items())]),
            "hashes": hashes[order].astype("<u8").tobytes(),
            "places": np.array([code - first for code, _ in members], "<u4")[order].tobytes(),
        },
    )


def downgrade() -> None:
    """There is no way back."""
    raise NotImplementedError("restore the backup that was taken before")
