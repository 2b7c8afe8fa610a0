"""A level as columns: a member per key, and where that depends on the day, a member per line (semantics, section 12)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.lines import BLANK, EVER, NOT_MAPPED
from lofty_abacus.store.level_entries import ALWAYS, History


def narrow(size: int) -> type[np.uint8] | type[np.uint16] | type[np.uint32]:
    """The narrowest type that holds the codes of so many members."""
    return np.uint8 if size <= 1 << 8 else np.uint16 if size <= 1 << 16 else np.uint32


def level_steps(history: History, of_size: int, size: int) -> tuple[NDArray[np.int32], NDArray[np.int32] | None]:
    """i32[of_size], the member of each key for all days (blank stays blank, unknown keys are not mapped); and where members
    depend on the day, i32[k, 3] of (key's code, from day number, member), by key and day, else None. size: of the level.
    """
    table = np.full(of_size, NOT_MAPPED, np.int32)
    table[BLANK] = BLANK
    changes = [
        (of, EVER if day == ALWAYS else day_number(day), code)
        for of, said in sorted(history.items())
        for day, code in said
        if of < of_size and code < size
    ]
    for of, _, code in changes:
        table[of] = code
    if all(day == EVER for _, day, _ in changes):
        return table, None
    return table, np.array(changes, np.int32)
