"""What runs down a list as it stands: the rows so far, together (section 9)."""

from __future__ import annotations

import numpy as np

from lofty_abacus.core.answer.evaluation import Evaluation
from lofty_abacus.core.answer.nodes import Node, Siblings
from lofty_abacus.core.answer.places import Places
from lofty_abacus.core.grouping.request import LinesRequest, MemberFilter, PathFilter
from lofty_abacus.core.measures.exacts import Exacts, Integers, summed_up
from lofty_abacus.core.measures.sums import DistinctIds, Quantity
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.measures.value import evaluate_all, quantities_read


def sums_down(evaluation: Evaluation, places: Places, measure: Measure, window: int) -> Exacts:
    """Of each row of a list the rows down to it as one figure: of what repeats in several of them, each is counted once."""
    points = places.points(np.full(len(places), window, np.int64))
    if measure.kind == "additive":
        return _added_down(evaluation.values(points, measure))
    read = quantities_read(measure)
    columns: list[Integers] = []
    for each, column in zip(read, evaluation.quantities(points, read), strict=True):
        columns.append(_ids_down(evaluation, places, each, window) if isinstance(each, DistinctIds) else summed_up(column))
    found = evaluate_all(measure, columns, evaluation.resolved.ledger.scales)
    divisors = np.full(len(places), evaluation.stretches[window].divisor, np.int64)
    return found.over(divisors).before_all(evaluation.reasons(points.windows))


def _added_down(values: Exacts) -> Exacts:
    """Running sums of sums; undefined from the first one on that is."""
    if not len(values):
        return values
    undefined, first = np.flatnonzero(values.reason), 0
    reason = values.reason.copy()
    if len(undefined):
        first = int(undefined[0])
        reason[first:] = reason[first]
    defined = np.arange(len(values)) < (first if len(undefined) else len(values))
    # All are sums of one measure: what they are divided by is the same wherever there is a value.
    bottom = np.where(defined, values.bottom, values.bottom[0])
    decimals = np.where(defined, values.decimals, values.decimals[0]).astype(np.int8)
    return Exacts(summed_up(np.where(defined, values.top, 0)), bottom, np.zeros(len(values), np.uint8), decimals).unless(reason)


def _ids_down(evaluation: Evaluation, places: Places, wanted: Quantity, window: int) -> Integers:
    """How many different ids the rows down to each have."""
    assert isinstance(wanted, DistinctIds) and isinstance(places.rows, Siblings)
    resolved, siblings = evaluation.resolved, places.rows
    fixed = [
        MemberFilter(name, frozenset({code}))
        for spot in (siblings.parent.spot, places.across.spot)
        for name, code in zip(spot.dimensions, spot.codes, strict=True)
    ]
    counted = evaluation.stretches[window].window.counted
    request = LinesRequest(counted, (*resolved.filters, *evaluation.kept, *fixed), "sale")
    return resolved.source.ids_down(request, wanted, siblings.dimension, siblings.codes)


def so_far(listed: Siblings, row: Node) -> PathFilter | None:
    """The rows of a list down to one of them, as what is counted together; None where it does not stand in the list."""
    at = listed.find(row)
    if at is None or listed.is_time:
        return None
    above = listed.parent.spot
    codes = frozenset((*above.codes, code) for code in listed.codes[: at + 1].tolist())
    return PathFilter((*above.dimensions, listed.dimension), codes)
