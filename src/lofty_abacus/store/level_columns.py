"""A level as columns: a member per key, and where that depends on the day, a member per line (semantics, section 12)."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.lines import BLANK, EVER, NOT_MAPPED, dated_codes
from lofty_abacus.store.level_entries import ALWAYS, History


def narrow(size: int) -> type[np.uint8] | type[np.uint16] | type[np.uint32]:
    """The narrowest type that holds the codes of so many members."""
    return np.uint8 if size <= 1 << 8 else np.uint16 if size <= 1 << 16 else np.uint32


def level_columns(
    name: str, history: History, codes: NDArray[Any], days: NDArray[np.int32], of_size: int, size: int
) -> dict[str, NDArray[Any]]:
    """`level-NAME`: i32[of_size], the member of each key for all days (blank stays blank, unknown keys are not mapped).

    Where members depend on the day also `changes-NAME`: i32[k, 3] of (key's code, from day number, member), by key and day, and
    `lines-NAME`: the member of each line on its day. codes, days: the lines' own, [n].
    """
    table = np.full(of_size, NOT_MAPPED, np.int32)
    table[BLANK] = BLANK
    changes = [
        (of, EVER if day == ALWAYS else day_number(day), code)
        for of, said in sorted(history.items())
        for day, code in said
        if of < of_size
    ]
    for of, _, code in changes:
        table[of] = code
    if all(day == EVER for _, day, _ in changes):
        return {f"level-{name}": table}
    steps = np.array(changes, np.int32)
    lines = dated_codes(table, steps, codes, days)
    return {f"level-{name}": table, f"changes-{name}": steps, f"lines-{name}": lines.astype(narrow(size))}
