"""The kernels again in plain NumPy: slow, obvious, and what the compiled ones are tested against."""

from __future__ import annotations

from typing import Any

import numpy as np


def place(cells: Any, codes: Any, stride: int, first: bool) -> None:
    """Twin of kernels.place."""
    part = codes.astype(np.int32) * np.int32(stride)
    cells[:] = part if first else cells + part


def place_mapped(cells: Any, codes: Any, mapping: Any, stride: int, first: bool) -> None:
    """Twin of kernels.place_mapped."""
    place(cells, mapping[codes], stride, first)


def place_pair(cells: Any, codes: Any, stride: int, inner: Any) -> None:
    """Twin of kernels.place_pair."""
    place(cells, codes, stride, True)
    place(cells, inner, 1, False)


def drop_members(cells: Any, codes: Any, keep: Any, outside: int) -> None:
    """Twin of kernels.drop_members."""
    cells[keep[codes] == 0] = outside


def drop_flagged(cells: Any, flags: Any, outside: int) -> None:
    """Twin of kernels.drop_flagged."""
    cells[flags != 0] = outside


def add_sums(cells: Any, side: Any, values: Any, into: Any) -> None:
    """Twin of kernels.add_sums."""
    np.add.at(into, (cells, side, 0), values)
    np.add.at(into, (cells, side, 1), 1)


def add_words(cells: Any, side: Any, values: Any, into: Any) -> None:
    """Twin of kernels.add_words."""
    np.add.at(into, (cells, side, 0), values >> 32)
    np.add.at(into, (cells, side, 1), 1)
    np.add.at(into, (cells, side, 2), values & 0xFFFFFFFF)


def count_last_seen(cells: Any, up: Any, side: Any, ids: Any, scattered: Any, seen: Any, into: Any) -> None:
    """Twin of kernels.count_last_seen, by sorting the pairs of one block; `seen` is honoured and left as the kernel leaves it."""
    counts = (side == 0) & (ids != 0) & (scattered[ids] == 0)
    where, which = up[cells[counts]], ids[counts].astype(np.int64)
    for cell in np.unique(where):
        mine = which[where == cell]
        into[cell] += len(np.unique(mine)) - int(seen[cell] == mine[0])
        seen[cell] = mine[-1]


def mark_ids(cells: Any, up: Any, side: Any, ids: Any, marks: Any) -> None:
    """Twin of kernels.mark_ids."""
    counts = (side == 0) & (ids != 0)
    marks[up[cells[counts]], ids[counts]] = 1


def run_prefix(sums: Any) -> None:
    """Twin of kernels.run_prefix."""
    sums[:] = np.cumsum(sums, axis=0)
