"""Hashes of texts, as they are kept beside lines and members."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import xxhash
from numpy.typing import NDArray


def hashed(texts: Sequence[str]) -> NDArray[np.uint64]:
    """The hash of each text: u64[n], the same on every machine. What has the same hash is still to be compared as text."""
    return np.fromiter(map(xxhash.xxh3_64_intdigest, map(str.encode, texts)), np.uint64, len(texts))
