"""Make segments: of lines that MariaDB holds, and of smaller segments put together."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

import connectorx
import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.errors import UnreachableError
from lofty_abacus.core.days import EPOCH
from lofty_abacus.core.lines import NO_DAY, DayColumn, day_column
from lofty_abacus.core.statement.ledger import Dimension
from lofty_abacus.store.engine import bare_url
from lofty_abacus.store.level_columns import narrow
from lofty_abacus.store.line_tables import code_column, date_column, figure_column, line_table
from lofty_abacus.store.segment_files import (
    OWN,
    OWN_DAY,
    Arrays,
    MakingFolder,
    Manifest,
    Stretch,
    day_names,
    figure_names,
    manifest_of,
    mapped,
    segment_name,
)
from lofty_abacus.store.version_lines import VersionLines

#: Lines that are read and sorted at a time, and those that are ever put together in one segment.
MOST_READ, MOST_MERGED = 1 << 21, 1 << 24
#: Days between the first and the last of a segment, at most: their offsets take 16 bits.
MOST_DAYS = 65_535


def read_segments(
    url: str, ledger_id: int, lines: VersionLines, wanted: Sequence[Stretch], home: Path, go_on: Callable[[], None]
) -> None:
    """Read stretches of lines from MariaDB into segments of their own, sorted by (day, order).

    go_on: called before each segment; it may raise to stop the reading. Those that were read are whole, and stay.
    """
    for part in _in_parts(wanted):
        go_on()
        columns, first_day = _sorted_columns(
            _read_lines(url, ledger_id, part, lines),
            [each for _, each in lines.own],
            lines.sizes,
        )
        # A day that none of these lines has takes no room.
        days = {each.name: _own_day(columns, each.name) for each in lines.columns if each.is_day}
        firsts = {name: day.first_day for name, day in days.items() if day is not None}
        figures = {each.name: each.decimals for each in lines.columns if f"{OWN}{each.name}" in columns}
        write_segment(
            home, ledger_id, columns, first_day, lines.control.scales, part, lines.marks, _numbered(lines.own), figures, firsts
        )


def _own_day(columns: Arrays, name: str) -> DayColumn | None:
    """A day of the ledger's own, put among the columns as it is kept; None, and taken away, where no line has it."""
    numbers = columns.pop(f"{OWN_DAY}{name}").astype(np.int32)
    if bool((numbers == NO_DAY).all()):
        return None
    found = day_column(numbers)
    columns[f"{OWN_DAY}{name}"] = found.offsets
    return found


def write_segment(
    home: Path,
    ledger_id: int,
    columns: Arrays,
    first_day: int,
    scales: tuple[int, int],
    holds: Sequence[Stretch],
    marks: Mapping[int, str],
    dimensions: Mapping[str, int],
    figures: Mapping[str, int],
    days: Mapping[str, int],
) -> Path:
    """Keep sorted columns as a segment, which appears whole."""
    making = MakingFolder(home, segment_name(holds))
    try:
        for name, values in columns.items():
            making.write(name, values)
        return making.finish(
            manifest_of(ledger_id, columns, first_day, scales, holds, marks, dimensions, making.checksums, figures, days)
        )
    except BaseException:
        making.drop()
        raise


def merge_segments(home: Path, parts: Mapping[Path, Manifest], roles: Mapping[str, str]) -> Path:
    """Put segments together as one, a column at a time. All are of one ledger and have the same decimals."""
    manifests = list(parts.values())
    arrays = [mapped(path, each) for path, each in parts.items()]
    first_day = min(each.first_day for each in manifests if each.rows)
    dimensions: dict[str, int] = {}
    figures: dict[str, int] = {}
    for each in manifests:
        dimensions |= each.dimensions
        figures |= each.figures
    making = MakingFolder(home, segment_name(hold for each in manifests for hold in each.holds))
    try:
        merged = _Merged(arrays, manifests, roles.get("order", ""), first_day)
        small: Arrays = {}
        for name, values in merged.columns(dimensions):
            making.write(name, values)
            if name == "amount" or figure_names([name]):
                small[name] = values
        holds = joined_stretches([hold for each in manifests for hold in each.holds])
        marks = {int(number): mark for each in manifests for number, mark in each.marks.items()}
        return making.finish(
            manifest_of(
                manifests[0].ledger_id,
                small,
                first_day,
                manifests[0].scales,
                holds,
                marks,
                dimensions,
                making.checksums,
                figures,
                merged.first_days,
            )
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
        #: From which day number each day of the ledger's own is counted, once its column was made.
        self.first_days: dict[str, int] = {}
        self._first_day = first_day
        ids, days = self._together("line_id"), self._days()
        orders = self._together(f"code-{order}", 0) if order else ids
        self._at = np.lexsort((ids, orders, days))

    def columns(self, dimensions: Mapping[str, int]) -> Iterator[tuple[str, NDArray[Any]]]:
        """Every column by its name."""
        yield "day", self._days()[self._at].astype(np.uint16)
        for name in ("side", "amount", "line_id"):
            yield name, self._together(name)[self._at]
        every = dict.fromkeys(name for each in self._arrays for name in each)
        for name in figure_names(every):
            yield name, self._together(name, 0)[self._at]
            missing = self._missing(name)[self._at]
            if missing.any():
                yield f"{name}_missing", missing
        for name in day_names(every):
            found = day_column(self._own_days(name)[self._at])
            self.first_days[name.removeprefix(OWN_DAY)] = found.first_day
            yield name, found.offsets
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

    def _own_days(self, name: str) -> NDArray[np.int32]:
        return np.concatenate(
            [
                DayColumn(manifest.days[name.removeprefix(OWN_DAY)], each[name]).numbers()
                if name in each
                else np.full(len(each["amount"]), NO_DAY, np.int32)
                for each, manifest in zip(self._arrays, self._manifests, strict=True)
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


def _read_lines(url: str, ledger_id: int, wanted: Sequence[Stretch], lines: VersionLines) -> dict[str, NDArray[Any]]:
    amount_scale, quantity_scale = lines.control.scales
    own: list[str] = []
    for each in lines.columns:
        if each.is_day:
            said = f"COALESCE(DATEDIFF({date_column(each.name)}, '{EPOCH.isoformat()}'), {NO_DAY})"
            own.append(f"CAST({said} AS SIGNED) AS `{OWN_DAY}{each.name}`")
            continue
        column = figure_column(each.name)
        own.append(f"CAST(COALESCE({column}, 0) * {10**each.decimals} AS SIGNED) AS `{OWN}{each.name}`")
        own.append(f"CAST({column} IS NULL AS SIGNED) AS `{OWN}{each.name}_missing`")
    parts = [
        "id",
        f"DATEDIFF(day, '{EPOCH.isoformat()}') AS day_number",
        "CAST(is_return AS SIGNED) AS side",
        f"CAST(amount * {10**amount_scale} AS SIGNED) AS amount",
        f"CAST(COALESCE(quantity, 0) * {10**quantity_scale} AS SIGNED) AS quantity",
        f"CAST(COALESCE(cost, 0) * {10**amount_scale} AS SIGNED) AS cost",
        "CAST(quantity IS NULL AS SIGNED) AS quantity_missing",
        "CAST(cost IS NULL AS SIGNED) AS cost_missing",
        *own,
        *(f"CAST({code_column(each.name)} AS SIGNED) AS `code-{each.name}`" for _, each in lines.own),
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
    for name in figure_names(read):
        missing = read[f"{name}_missing"][at].astype(np.uint8)
        if not missing.all():
            columns[name] = read[name][at] if name == "cost" else narrowed(read[name][at])
            if missing.any():
                columns[f"{name}_missing"] = missing
    for name in day_names(read):
        columns[name] = read[name][at]
    for each in own:
        columns[f"code-{each.name}"] = read[f"code-{each.name}"][at].astype(narrow(sizes[each.name]))
    return columns, first_day


def narrowed(values: NDArray[np.int64]) -> NDArray[np.int32] | NDArray[np.int64]:
    """Figures in 32 bits where all of them fit: quantities are small, and half the bytes are read."""
    fits = not len(values) or max(abs(int(values.min())), abs(int(values.max()))) < 1 << 31
    return values.astype(np.int32) if fits else values


def _numbered(own: Sequence[tuple[int, Dimension]]) -> dict[str, int]:
    return {each.name: number for number, each in own}
