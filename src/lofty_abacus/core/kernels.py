"""The compiled loops over lines; each has a twin in `kernels_plain.py` that tests compare it with.

All run without the interpreter lock, on blocks that stay in the processor's cache. `cells` (i32[m]) says which cell of the
answer each line belongs to; the last cell is the one for lines that do not count.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

_compiled = njit(cache=True, nogil=True, boundscheck=False)


@_compiled
def place(cells: Any, codes: Any, stride: int, first: bool) -> None:
    """cells = codes * stride, or with first=False cells += codes * stride."""
    if first:
        for i in range(len(codes)):
            cells[i] = np.int32(codes[i]) * np.int32(stride)
    else:
        for i in range(len(codes)):
            cells[i] += np.int32(codes[i]) * np.int32(stride)


@_compiled
def place_mapped(cells: Any, codes: Any, mapping: Any, stride: int, first: bool) -> None:
    """As `place`, through mapping[code] (i32)."""
    if first:
        for i in range(len(codes)):
            cells[i] = mapping[codes[i]] * np.int32(stride)
    else:
        for i in range(len(codes)):
            cells[i] += mapping[codes[i]] * np.int32(stride)


@_compiled
def place_pair(cells: Any, codes: Any, stride: int, inner: Any) -> None:
    """cells = codes * stride + inner: two dimensions in one pass."""
    for i in range(len(codes)):
        cells[i] = np.int32(codes[i]) * np.int32(stride) + np.int32(inner[i])


@_compiled
def drop_members(cells: Any, codes: Any, keep: Any, outside: int) -> None:
    """Move lines whose member is not kept (keep: u8 per code) to the cell `outside`."""
    for i in range(len(codes)):
        if keep[codes[i]] == 0:
            cells[i] = outside


@_compiled
def drop_flagged(cells: Any, flags: Any, outside: int) -> None:
    """Move flagged lines (u8) to the cell `outside`."""
    for i in range(len(flags)):
        if flags[i] != 0:
            cells[i] = outside


@_compiled
def add_sums(cells: Any, side: Any, values: Any, into: Any) -> None:
    """into[cell, side, 0] += value; into[cell, side, 1] += 1. into: i64[cells, 2, 2]."""
    for i in range(len(cells)):
        target = into[cells[i], side[i]]
        target[0] += values[i]
        target[1] += 1


@_compiled
def add_words(cells: Any, side: Any, values: Any, into: Any) -> None:
    """As `add_sums` in two words: into[cell, side] = (sum of high halves, count, sum of low 32 bits). into: i64[cells, 2, 3]."""
    for i in range(len(cells)):
        target = into[cells[i], side[i]]
        target[0] += values[i] >> 32
        target[1] += 1
        target[2] += values[i] & 0xFFFFFFFF


@_compiled
def count_last_seen(cells: Any, up: Any, side: Any, ids: Any, scattered: Any, seen: Any, into: Any) -> None:
    """Count different ids of sale lines per up[cell], for ids whose lines are adjacent.

    seen (i64 per cell, -1 at first) is the last id met there and is kept between blocks; blank and scattered ids are passed over.
    What the last cell holds means nothing: lines that are passed over are sent there, which costs less than not counting them.
    """
    outside = len(into) - 1
    for i in range(len(cells)):
        code = np.int64(ids[i])
        counts = (side[i] == 0) & (code != 0) & (scattered[code] == 0)
        cell = up[cells[i]] if counts else outside
        into[cell] += np.int64(seen[cell] != code)
        seen[cell] = code


@_compiled
def mark_ids(cells: Any, up: Any, side: Any, ids: Any, marks: Any) -> None:
    """marks[up[cell], id] = 1 for the ids of sale lines; blank ids are passed over. marks: u8[cells, ids]."""
    for i in range(len(cells)):
        if side[i] == 0 and ids[i] != 0:
            marks[up[cells[i]], ids[i]] = 1


@_compiled
def run_prefix(sums: Any) -> None:
    """Turn sums per day into sums up to and including each day, in place. sums: i64[days, width]."""
    for day in range(1, sums.shape[0]):
        for at in range(sums.shape[1]):
            sums[day, at] += sums[day - 1, at]
