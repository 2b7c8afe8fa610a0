"""What pieces add up to is exact, whatever the size of the numbers and the number of pieces."""

from __future__ import annotations

from collections import defaultdict

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.money import decimal_text
from lofty_abacus.ingest.staged import Numbers, StagedLines
from lofty_abacus.ingest.table import TextColumn
from lofty_abacus.ingest.tally import OUTLIER_LEAST_LINES, OUTLIER_TIMES, Magnitudes, Tally

_LINES = st.lists(
    st.tuples(st.integers(0, 9), st.integers(-(2**62), 2**62), st.sampled_from(["Ada", "Bo", ""])), min_size=1, max_size=30
)


def piece(lines: list[tuple[int, int, str]], scale: int) -> StagedLines:
    """Lines as (day, minor units, rep)."""
    minor = np.array([each[1] for each in lines], np.int64)
    reps = ["Ada", "Bo", ""]
    column = TextColumn("rep", reps, np.array([reps.index(each[2]) for each in lines], np.uint32))
    return StagedLines(
        file="f",
        rows=np.arange(2, len(lines) + 2),
        day=np.array([each[0] for each in lines], np.int32),
        is_return=minor < 0,
        amount=Numbers(minor, scale, np.zeros(len(lines), bool)),
        quantity=None,
        cost=None,
        line_ids=None,
        dimensions={"rep": ("rep", column)},
        problems=[],
        repeated=[],
        identical=[],
        left_out=0,
        blank_rows=0,
        set_aside=[],
    )


@given(pieces=st.lists(st.tuples(_LINES, st.integers(2, 9)), min_size=1, max_size=4))
def test_totals_days_and_members_are_exact(pieces: list[tuple[list[tuple[int, int, str]], int]]) -> None:
    tally = Tally()
    total, returned = 0, 0
    by_day: dict[int, int] = defaultdict(int)
    by_rep: dict[str, list[int]] = defaultdict(lambda: [0, 0])
    for lines, scale in pieces:
        tally.add(piece(lines, scale))
        for day, minor, rep in lines:
            nano = minor * 10 ** (9 - scale)
            total, returned = total + nano, returned + min(nano, 0)
            by_day[day] += nano
            by_rep[rep][0] += 1
            by_rep[rep][1] += nano
    scale = max(scale for _, scale in pieces)
    assert (tally.nano, tally.return_nano, tally.amount) == (total, returned, decimal_text(total // 10 ** (9 - scale), scale))
    assert {day: each.nano for day, each in tally.by_day.items()} == dict(by_day)
    members = tally.members["rep"]
    assert members is not None and {key: [each.lines, each.nano] for key, each in members.items()} == dict(by_rep)


@given(pieces=st.lists(st.tuples(st.lists(st.integers(-(10**6), 10**6), max_size=90), st.integers(2, 4)), min_size=1, max_size=5))
def test_outliers_are_those_of_a_plain_reading(pieces: list[tuple[list[int], int]]) -> None:
    spread = Magnitudes()
    every = [Numbers(np.array(values, np.int64), scale, np.zeros(len(values), bool)) for values, scale in pieces]
    for each in every:
        spread.add(each)
    fine = max(scale for _, scale in pieces)
    plain = sorted(abs(value) * 10 ** (fine - scale) for values, scale in pieces for value in values if value)
    if len(plain) < OUTLIER_LEAST_LINES:
        assert spread.bound() is None and spread.beyond() == 0
        return
    bound = plain[-(-len(plain) * 99 // 100) - 1] * OUTLIER_TIMES
    assert spread.bound() == bound * 10 ** (spread.scale - fine)
    assert spread.beyond() == sum(value > bound for value in plain) == sum(int(spread.is_beyond(each).sum()) for each in every)
