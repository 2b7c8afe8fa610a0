"""Line ids by hash, in pieces, in the place of an index on the lines."""

from __future__ import annotations

from itertools import groupby

import numpy as np
import xxhash
from alembic import op
from sqlalchemy import text

from lofty_abacus.store.migrations.steps import has_index, tables_of_lines

revision = "0007"
down_revision = "0006"

TABLE = """
CREATE TABLE IF NOT EXISTS line_id_piece (
    id INTEGER NOT NULL AUTO_INCREMENT,
    batch_id INTEGER NOT NULL,
    first_line BIGINT NOT NULL,
    first_id VARCHAR(255) NOT NULL,
    last_id VARCHAR(255) NOT NULL,
    hashes LONGBLOB NOT NULL,
    places LONGBLOB NOT NULL,
    PRIMARY KEY (id),
    FOREIGN KEY(batch_id) REFERENCES batch (id)
)ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin
"""
PIECE = (
    "INSERT INTO line_id_piece (batch_id, first_line, first_id, last_id, hashes, places)"
    " VALUES (:batch, :line, :first, :last, :hashes, :places)"
)
#: Lines that are read at a time.
SOME = 50_000


def upgrade() -> None:
    """Keep the ids of all lines so; a ledger that was begun is begun again."""
    op.execute(TABLE)
    for table in tables_of_lines():
        if has_index(table, "by_ref"):
            number = int(table.removeprefix("line_"))
            op.execute(f"DELETE FROM line_id_piece WHERE batch_id IN (SELECT id FROM batch WHERE ledger_id = {number})")
            _keep_ids(table)
            op.execute(f"ALTER TABLE {table} DROP KEY by_ref")


def _keep_ids(table: str) -> None:
    connection, last = op.get_bind(), 0
    # Of a batch that was never posted there is nothing to keep.
    posted = set(connection.execute(text("SELECT id FROM batch")).scalars())
    query = text(f"SELECT id, batch_id, line_ref FROM {table} WHERE id > :last AND line_ref <> '' ORDER BY id LIMIT :some")
    while rows := connection.execute(query, {"last": last, "some": SOME}).all():
        last = rows[-1][0]
        for batch, lines in groupby(rows, key=lambda row: row[1]):
            if batch in posted:
                _write(batch, [(row[0], row[2]) for row in lines])


def _write(batch: int, lines: list[tuple[int, str]]) -> None:
    """One piece: as the tables of this version have it, whatever later ones do."""
    hashes = np.array([xxhash.xxh3_64_intdigest(each.encode()) for _, each in lines], np.uint64)
    order = np.argsort(hashes, kind="stable")
    places = np.array([line - lines[0][0] for line, _ in lines], "<u4")
    op.get_bind().execute(
        text(PIECE),
        {
            "batch": batch,
            "line": lines[0][0],
            "first": min(each for _, each in lines),
            "last": max(each for _, each in lines),
            "hashes": hashes[order].astype("<u8").tobytes(),
            "places": places[order].tobytes(),
        },
    )


def downgrade() -> None:
    """There is no way back."""
    raise NotImplementedError("restore the backup that was taken before")
