"""Derive a ledger version's columns from MariaDB, and keep them as files beside it."""

from __future__ import annotations

import json
import os
import shutil
import zlib
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import connectorx
import numpy as np
from numpy.typing import NDArray
from sqlalchemy import Connection, Engine, select

from lofty_abacus.actions.errors import UnreachableError
from lofty_abacus.core.days import EPOCH
from lofty_abacus.store.dimensions import chain_of, dimensions
from lofty_abacus.store.engine import bare_url, transaction
from lofty_abacus.store.exclusions import condition_at
from lofty_abacus.store.ledgers import active_batches
from lofty_abacus.store.level_columns import level_columns, narrow
from lofty_abacus.store.level_entries import chained_history
from lofty_abacus.store.line_tables import code_column, line_table
from lofty_abacus.store.members import member_count
from lofty_abacus.store.tables import ledger
from lofty_abacus.store.versions import held_at

FORM = 4


@dataclass(frozen=True)
class Manifest:
    """What the files of one version hold, and how to know that they still do.

    amount: control total in minor units, as text. scales: decimals of amounts and of quantities. sizes: members per dimension
    or level. of: per level the lines' dimension that it is reached from. checksums: CRC-32 per file.
    """

    form: int
    ledger_id: int
    version: int
    rows: int
    amount: str
    scales: tuple[int, int]
    first_day: int
    sizes: dict[str, int]
    ids: dict[str, int]
    of: dict[str, str]
    roles: dict[str, str]
    checksums: dict[str, int]


def build(engine: Engine, url: str, ledger_id: int, version: int, folder: Path) -> Manifest:
    """Read a version's lines, sort them by (day, order) and write the columns; the folder appears whole."""
    with transaction(engine) as connection:
        row = connection.execute(select(ledger).where(ledger.c.id == ledger_id)).mappings().one()
        found = dimensions(connection, ledger_id, version)
        own = [(number, each) for number, each in found if each.of is None]
        batches = [each["id"] for each in active_batches(connection, ledger_id, version)]
        which = f"batch_id IN ({', '.join(map(str, batches)) or '0'}){condition_at(connection, ledger_id, version)}"
        read = _read_lines(url, ledger_id, which, [each.name for _, each in own], row["amount_scale"], row["quantity_scale"])
        sizes = {each.name: member_count(connection, number) for number, each in found}
        roots = {each.name: chain_of(found, each.name)[-1] for _, each in found if each.of is not None}
        levels = {name: (of, chained_history(connection, found, name, version)) for name, of in roots.items()}
    roles = {each.role: each.name for _, each in reversed(own) if each.role}
    columns, first_day = _sorted_columns(read, [each.name for _, each in own], roles, sizes)
    days = columns["day"].astype(np.int32) + first_day
    for name, (of, history) in levels.items():
        columns |= level_columns(name, history, columns[f"code-{of}"], days, sizes[of], sizes[name])
    amount = columns["amount"]
    manifest = Manifest(
        form=FORM,
        ledger_id=ledger_id,
        version=version,
        rows=len(amount),
        amount=str(int((amount >> 32).sum()) * 2**32 + int((amount & 0xFFFFFFFF).sum())),
        scales=(row["amount_scale"], row["quantity_scale"]),
        first_day=first_day,
        sizes=sizes,
        ids={each.name: number for number, each in found},
        of=roots,
        roles=roles,
        checksums={name: checksum(values) for name, values in columns.items()},
    )
    write_columns(folder, columns, manifest)
    return manifest


def checksum(values: NDArray[Any]) -> int:
    """CRC-32 of a column's bytes."""
    return zlib.crc32(np.ascontiguousarray(values).view(np.uint8).data) if len(values) else 0


def checksum_of(path: Path) -> int:
    """The same of a column's file, read piece by piece: what is mapped stays out of memory until it is asked for."""
    mapped = np.load(path, mmap_mode="r")
    if not mapped.size:
        return 0
    found = 0
    with path.open("rb") as file:
        file.seek(mapped.offset)
        while piece := file.read(1 << 20):
            found = zlib.crc32(piece, found)
    return found


@dataclass(frozen=True)
class Control:
    """What columns of a version must hold: lines, net total in minor units as text, decimals of amounts and of quantities."""

    version: int
    lines: int
    amount: str
    scales: tuple[int, int]


def posted_control(connection: Connection, ledger_id: int, version: int | None = None) -> Control:
    """What MariaDB's journal says of a version, the current one if None."""
    row = connection.execute(
        select(ledger.c.version, ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)
    ).one()
    at = row.version if version is None else version
    held = held_at(connection, ledger_id, at)
    return Control(at, held.lines, str(int(held.amount.scaleb(row.amount_scale))), (row.amount_scale, row.quantity_scale))


def _read_lines(
    url: str, ledger_id: int, which: str, names: list[str], amount_scale: int, quantity_scale: int
) -> dict[str, NDArray[Any]]:
    parts = [
        "id",
        f"DATEDIFF(day, '{EPOCH.isoformat()}') AS day_number",
        "CAST(is_return AS SIGNED) AS side",
        f"CAST(amount * {10**amount_scale} AS SIGNED) AS amount",
        f"CAST(COALESCE(quantity, 0) * {10**quantity_scale} AS SIGNED) AS quantity",
        f"CAST(COALESCE(cost, 0) * {10**amount_scale} AS SIGNED) AS cost",
        "CAST(quantity IS NULL AS SIGNED) AS quantity_missing",
        "CAST(cost IS NULL AS SIGNED) AS cost_missing",
        *(f"CAST({code_column(name)} AS SIGNED) AS `code-{name}`" for name in names),
    ]
    query = f"SELECT {', '.join(parts)} FROM {line_table(ledger_id)} WHERE {which}"
    try:
        table = connectorx.read_sql(bare_url(url), query, return_type="arrow")
    except RuntimeError as error:
        # Its reader names no codes: a server that is gone is what it meets when it reads nothing at all.
        raise UnreachableError from error
    return {name: table.column(name).to_numpy().astype(np.int64) for name in table.column_names}


def _sorted_columns(
    read: dict[str, NDArray[Any]], names: list[str], roles: dict[str, str], sizes: dict[str, int]
) -> tuple[dict[str, NDArray[Any]], int]:
    order = read[f"code-{roles['order']}"] if "order" in roles else read["id"]
    at = np.lexsort((read["id"], order, read["day_number"]))
    days = read["day_number"][at]
    first_day = int(days[0]) if len(days) else 0
    if len(days) and int(days[-1]) - first_day > 65535:
        raise ValueError("a ledger's lines may span 179 years at most")
    columns: dict[str, NDArray[Any]] = {
        "day": (days - first_day).astype(np.uint16),
        "side": read["side"][at].astype(np.uint8),
        "amount": read["amount"][at],
        "line_id": read["id"][at].astype(np.uint32 if len(days) and int(read["id"].max()) < 1 << 32 else np.uint64),
    }
    for name in ("quantity", "cost"):
        missing = read[f"{name}_missing"][at].astype(np.uint8)
        if not missing.all():
            columns[name] = narrowed(read[name][at]) if name == "quantity" else read[name][at]
            if missing.any():
                columns[f"{name}_missing"] = missing
    for name in names:
        columns[f"code-{name}"] = read[f"code-{name}"][at].astype(narrow(sizes[name]))
    return columns, first_day


def narrowed(values: NDArray[np.int64]) -> NDArray[np.int32] | NDArray[np.int64]:
    """Figures in 32 bits where all of them fit: quantities are small, and half the bytes are read."""
    fits = not len(values) or max(abs(int(values.min())), abs(int(values.max()))) < 1 << 31
    return values.astype(np.int32) if fits else values


def write_columns(folder: Path, columns: dict[str, NDArray[Any]], manifest: Manifest) -> None:
    """Write columns and their manifest, for their owner's eyes only; the folder appears whole."""
    making = folder.with_name(f"{folder.name}.making-{os.getpid()}")
    throw_away(making)
    making.mkdir(parents=True, mode=0o700)
    for name, values in columns.items():
        np.save(making / f"{name}.npy", values)
    (making / "manifest.json").write_text(json.dumps(asdict(manifest), indent=1))
    throw_away(folder)
    making.rename(folder)


def throw_away(path: Path) -> None:
    """Remove a folder with what is in it, or a file that stands in its place."""
    if path.is_dir() and not path.is_symlink():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink(missing_ok=True)
