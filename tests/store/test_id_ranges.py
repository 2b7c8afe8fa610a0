"""Which line ids some stretches hold, against plain sets."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.store.segment_files import Stretch
from lofty_abacus.store.version_lines import IdRanges, uncovered

stretches = st.lists(
    st.tuples(st.integers(1, 60), st.integers(0, 9), st.integers(1, 3)).map(lambda one: Stretch(one[0], one[0] + one[1], one[2])),
    max_size=12,
)


def ids(some: list[Stretch]) -> set[int]:
    return {number for each in some for number in range(each.first, each.last + 1)}


@given(stretches, stretches)
def test_what_is_uncovered_and_what_meets(wanted: list[Stretch], held: list[Stretch]) -> None:
    found = uncovered(wanted, held)
    assert ids(found) == ids(wanted) - ids(held)
    ranges = IdRanges(held)
    for each in wanted:
        assert ranges.meets(each) == bool(ids([each]) & ids(held))
        parts = ranges.missing(each)
        assert ids(parts) == ids([each]) - ids(held) and all(part.batch == each.batch for part in parts)
        assert parts == sorted(parts)


@given(stretches, stretches, stretches)
def test_ranges_and_further_stretches_are_those_of_all(held: list[Stretch], more: list[Stretch], wanted: list[Stretch]) -> None:
    both, at_once = IdRanges(held).also(more), IdRanges([*held, *more])
    for each in wanted:
        assert both.meets(each) == at_once.meets(each) and both.missing(each) == at_once.missing(each)
