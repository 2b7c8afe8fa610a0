"""Make segments: of lines that MariaDB holds, and of smaller segments put together."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

import connectorx
import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.errors import UnreachableError
from lofty_abacus.core.days import EPOCH
from lofty_abacus.core.statement.ledger import Dimension
from lofty_abacus.store.engine import bare_url
from lofty_abacus.store.level_columns import narrow
from lofty_abacus.store.line_tables import code_column, line_table
from lofty_abacus.store.segment_files import (
    FIGURES,
    Arrays,
    MakingFolder,
    Manifest,
    Stretch,
    manifest_of,
    mapped,
    segment_name,
)
from lofty_abacus.store.version_lines import VersionLines

#: Lines that are read and sorted at a time, and those that are ever put together in one segment.
MOST_READ, MOST_MERGED = 1 << 21, 1 << 24
#: Days between the first and the last of a segment, at most: their offsets take 16 bits.
MOST_DAYS = 65_535


def read_segments(url: str, ledger_id: int, lines: VersionLines, wanted: Sequence[Stretch], home: Path) -> None:
    """Read stretches of lines from MariaDB into segments of their own, sorted by (day, order)."""
    for part in _in_parts(wanted):
        columns, first_day = _sorted_columns(
            _read_lines(url, ledger_id, part, [each.name for _, each in lines.own], lines.control.scales),
            [each for _, each in lines.own],
            lines.sizes,
        )
        write_segment(home, ledger_id, columns, first_day, lines.control.scales, part, lines.marks, _numbered(lines.own))


def write_segment(
    home: Path,
    ledger_id: int,
    columns: Arrays,
    first_day: int,
    scales: tuple[int, int],
    holds: Sequence[Stretch],
    marks: Mapping[int, str],
    dimensions: Mapping[str, int],
) -> Path:
    """Keep sorted columns as a segment, which appears whole."""
    making = MakingFolder(home, segment_name(holds))
    try:
        for name, values in columns.items():
            making.write(name, values)
        return making.finish(manifest_of(ledger_id, columns, first_day, scales, holds, marks, dimensions, making.checksums))
    except BaseException:
        making.drop()
        raise


def merge_segments(home: Path, parts: Mapping[Path, Manifest], roles: Mapping[str, str]) -> Path:
    """Put segments together as one, a column at a time. All are of one ledger and have the same decimals."""
    manifests = list(parts.values())
    arrays = [mapped(path, each) for path, each in parts.items()]
    first_day = min(each.first_day for each in manifests if each.rows)
    dimensions: dict[str, int] = {}
    for each in manifests:
        dimensions |= each.dimensions
    making = MakingFolder(home, segment_name(hold for each in manifests for hold in each.holds))
    try:
        merged = _Merged(arrays, manifests, roles.get("order", ""), first_day)
        small: Arrays = {}
        for name, values in merged.columns(dimensions):
            making.write(name, values)
            if name in FIGURES:
                small[name] = values
        holds = joined_stretches([hold for each in manifests for hold in each.holds])
        marks = {int(number): mark for each in manifests for number, mark in each.marks.items()}
        return making.finish(
            manifest_of(manifests[0].ledger_id, small, first_day, manifests[0].scales, holds, marks, dimensions, making.checksums)
        )
    except BaseException:
        making.drop()
        raise


def joined_stretches(holds: Sequence[Stretch]) -> list[Stretch]:
    """Stretches of a batch that follow each other as one."""
    found: list[Stretch] = []
    for each in sorted(holds):
        if found and found[-1].batch == each.batch and found[-1].last + 1 == each.first:
            found[-1] = Stretch(found[-1].first, each.last, each.batch)
        else:
            found.append(each)
    return found


class _Merged:
    """Columns of several segments in one order, made one after the other."""

    def __init__(self, arrays: Sequence[Arrays], manifests: Sequence[Manifest], order: str, first_day: int) -> None:
        self._arrays, self._manifests = arrays, manifests
        self._first_day = first_day
        ids, days = self._together("line_id"), self._days()
        orders = self._together(f"code-{order}", 0) if order else ids
        self._at = np.lexsort((ids, orders, days))

    def columns(self, dimensions: Mapping[str, int]) -> Iterator[tuple[str, NDArray[Any]]]:
        """Every column by its name."""
        yield "day", self._days()[self._at].astype(np.uint16)
        for name in ("side", "amount", "line_id"):
            yield name, self._together(name)[self._at]
        for name in FIGURES[1:]:
            if any(name in each for each in self._arrays):
                yield name, self._together(name, 0)[self._at]
                missing = self._missing(name)[self._at]
                if missing.any():
                    yield f"{name}_missing", missing
        for name in dimensions:
            yield f"code-{name}", self._together(f"code-{name}", 0)[self._at]

    def _days(self) -> NDArray[np.int32]:
        return np.concatenate(
            [
                each["day"].astype(np.int32) + (manifest.first_day - self._first_day)
                for each, manifest in zip(self._arrays, self._manifests, strict=True)
            ]
        )

    def _together(self, name: str, lacking: int | None = None) -> NDArray[Any]:
        return np.concatenate(
            [
                each[name] if lacking is None or name in each else np.full(len(each["amount"]), lacking, np.uint8)
                for each in self._arrays
            ]
        )

    def _missing(self, name: str) -> NDArray[np.uint8]:
        return np.concatenate(
            [
                each.get(f"{name}_missing", np.full(len(each["amount"]), 0 if name in each else 1, np.uint8))
                for each in self._arrays
            ]
        )


def _in_parts(wanted: Sequence[Stretch]) -> Iterator[list[Stretch]]:
    """Stretches in lots of at most MOST_READ lines."""
    lot: list[Stretch] = []
    room = MOST_READ
    for each in wanted:
        first = each.first
        while first <= each.last:
            last = min(each.last, first + room - 1)
            lot.append(Stretch(first, last, each.batch))
            room -= last - first + 1
            first = last + 1
            if not room:
                yield lot
                lot, room = [], MOST_READ
    if lot:
        yield lot


def _read_lines(
    url: str, ledger_id: int, wanted: Sequence[Stretch], names: Sequence[str], scales: tuple[int, int]
) -> dict[str, NDArray[Any]]:
    amount_scale, quantity_scale = scales
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
    # A batch has lines of its own between its first and its last id, and no other batch has.
    which = " OR ".join(f"id BETWEEN {each.first} AND {each.last}" for each in wanted)
    query = f"SELECT {', '.join(parts)} FROM {line_table(ledger_id)} WHERE {which}"
    try:
        table = connectorx.read_sql(bare_url(url), query, return_type="arrow")
    except RuntimeError as error:
        # Its reader names no codes: a server that is gone is what it meets when it reads nothing at all.
        raise UnreachableError from error
    return {name: table.column(name).to_numpy().astype(np.int64) for name in table.column_names}


def _sorted_columns(read: dict[str, NDArray[Any]], own: Sequence[Dimension], sizes: Mapping[str, int]) -> tuple[Arrays, int]:
    """Columns in their narrowest types by (day, order, id), and the day number that days are counted from."""
    name_of_order = next((each.name for each in own if each.role == "order"), None)
    order = read[f"code-{name_of_order}"] if name_of_order else read["id"]
    at = np.lexsort((read["id"], order, read["day_number"]))
    days = read["day_number"][at]
    first_day = int(days[0]) if len(days) else 0
    if len(days) and int(days[-1]) - first_day > MOST_DAYS:
        raise ValueError("a ledger's lines may span 179 years at most")
    columns: Arrays = {
        "day": (days - first_day).astype(np.uint16),
        "side": read["side"][at].astype(np.uint8),
        "amount": read["amount"][at],
        "line_id": read["id"][at].astype(np.uint32 if len(days) and int(read["id"].max()) < 1 << 32 else np.uint64),
    }
    for name in FIGURES[1:]:
        missing = read[f"{name}_missing"][at].astype(np.uint8)
        if not missing.all():
            columns[name] = narrowed(read[name][at]) if name == "quantity" else read[name][at]
            if missing.any():
                columns[f"{name}_missing"] = missing
    for each in own:
        columns[f"code-{each.name}"] = read[f"code-{each.name}"][at].astype(narrow(sizes[each.name]))
    return columns, first_day


def narrowed(values: NDArray[np.int64]) -> NDArray[np.int32] | NDArray[np.int64]:
    """Figures in 32 bits where all of them fit: quantities are small, and half the bytes are read."""
    fits = not len(values) or max(abs(int(values.min())), abs(int(values.max()))) < 1 << 31
    return values.astype(np.int32) if fits else values


def _numbered(own: Sequence[tuple[int, Dimension]]) -> dict[str, int]:
    return {each.name: number for number, each in own}
