"""The measure that all ratios are taken to: one single-threaded pass over the bytes that a question reads."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

#: Day u16, a member code of one and of two bytes, order u32 and amount i64: what a typical question reads of a line.
BYTES_A_LINE = 13


@njit(cache=True)  # type: ignore[untyped-decorator]
def _pass(words: Any) -> int:
    total = 0
    for i in range(len(words)):
        total += words[i]
    return total


def streaming_pass(lines: int) -> tuple[Any, Any]:
    """(function, its argument): a sum over lines x 13 bytes as 64-bit words."""
    words = np.ones(lines * BYTES_A_LINE // 8, np.int64)
    return _pass, words
