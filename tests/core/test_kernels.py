"""The compiled kernels against their plain twins, on random blocks; and that each kernel has a twin."""

from __future__ import annotations

import inspect
from types import ModuleType

import numpy as np
import pytest

from lofty_abacus.core import kernels, kernels_plain

CELLS, CODES, IDS, LINES = 7, 12, 20, 500


def functions(module: ModuleType) -> set[str]:
    return {
        name for name, each in vars(module).items() if not name.startswith("_") and callable(each) and name not in ("njit", "Any")
    }


def test_every_kernel_has_a_twin() -> None:
    assert functions(kernels) == functions(kernels_plain)
    for name in functions(kernels):
        ours = inspect.signature(getattr(kernels, name).py_func)
        assert list(ours.parameters) == list(inspect.signature(getattr(kernels_plain, name)).parameters)


def block(seed: int, dtype: type = np.uint16) -> dict[str, np.ndarray]:
    random = np.random.default_rng(seed)
    return {
        "cells": random.integers(0, CELLS, LINES).astype(np.int32),
        "codes": random.integers(0, CODES, LINES).astype(dtype),
        "inner": random.integers(0, 3, LINES).astype(np.uint8),
        "side": (random.random(LINES) < 0.2).astype(np.uint8),
        "values": random.integers(-(10**12), 10**12, LINES),
        "flags": (random.random(LINES) < 0.1).astype(np.uint8),
        "mapping": random.integers(0, 5, CODES).astype(np.int32),
        "keep": (random.random(CODES) < 0.5).astype(np.uint8),
        "ids": np.sort(random.integers(0, IDS, LINES)).astype(np.uint32),
        "up": np.concatenate((random.integers(0, 3, CELLS - 1), [3])).astype(np.int32),
        "scattered": (random.random(IDS) < 0.3).astype(np.uint8),
    }


def cases(name: str, data: dict[str, np.ndarray]) -> list[tuple[list[object], int]]:
    """Arguments of a kernel and the position of the one that it changes."""
    of = data.__getitem__
    match name:
        case "place":
            return [([of("cells"), of("codes"), 3, first], 0) for first in (True, False)]
        case "place_mapped":
            return [([of("cells"), of("codes"), of("mapping"), 3, first], 0) for first in (True, False)]
        case "place_pair":
            return [([of("cells"), of("codes"), 3, of("inner")], 0)]
        case "drop_members":
            return [([of("cells"), of("codes"), of("keep"), CELLS - 1], 0)]
        case "drop_flagged":
            return [([of("cells"), of("flags"), CELLS - 1], 0)]
        case "add_sums":
            return [([of("cells"), of("side"), of("values"), np.zeros((CELLS, 2, 2), np.int64)], 3)]
        case "add_words":
            return [([of("cells"), of("side"), of("values"), np.zeros((CELLS, 2, 3), np.int64)], 3)]
        case "count_last_seen":
            seen, into = np.full(4, -1, np.int64), np.zeros(4, np.int64)
            return [([of("cells"), of("up"), of("side"), of("ids"), of("scattered"), seen, into], 6)]
        case "mark_ids":
            return [([of("cells"), of("up"), of("side"), of("ids"), np.zeros((4, IDS), np.uint8)], 4)]
        case "run_prefix":
            return [([of("values").reshape(50, 10).copy()], 0)]
    raise AssertionError(f"no case for {name}")


@pytest.mark.parametrize("name", sorted(functions(kernels)))
@pytest.mark.parametrize("seed", range(5))
def test_twins_agree(name: str, seed: int) -> None:
    dtype = (np.uint8, np.uint16, np.uint32)[seed % 3]
    for compiled, changed in cases(name, block(seed, dtype)):
        arguments = [each.copy() if isinstance(each, np.ndarray) else each for each in compiled]
        again = [each.copy() if isinstance(each, np.ndarray) else each for each in compiled]
        getattr(kernels, name)(*arguments)
        getattr(kernels_plain, name)(*again)
        ours, theirs = arguments[changed], again[changed]
        if name == "count_last_seen":  # its last cell means nothing
            ours, theirs = ours[:-1], theirs[:-1]
        np.testing.assert_array_equal(ours, theirs)
