"""The kinds of columns as one table: what figures each is made of, by what rule, how its numbers are shown (sections 8 to 11).

Evaluation, proof, words and exports walk it. A kind without a rule has a path of its own: a place in a list, what runs down
one, the steps of a change.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.comparing.comparisons import attainment, difference, index, percent_change, share
from lofty_abacus.core.measures.exacts import Exacts
from lofty_abacus.core.measures.table import Unit
from lofty_abacus.core.statement.statement import Show

ColumnKind = Literal["value", "share", "goal"] | Show
#: own: the column's own window; whole: all of the column across, in the base.
Part = Literal["own", "current", "base", "scope", "base_scope", "whole"]
#: A rule takes the figures in the order of the formula, the measure's unit, and whether negative bases are divided as they are.
Rule = Callable[[Sequence[Exacts], Unit, bool], Exacts]


@dataclass(frozen=True)
class Kind:
    """A kind of column.

    parts: the figures of its formula, in order. unit, decimals: its numbers'; None: the measure's, of a change in percent points.
    judged: whether more or less of it is favourable as of its measure. against: formed against each base. signed: shown with its
    sign, since it is a change. heading: what it is called where its window does not name it.
    """

    parts: tuple[Part, ...] = ("current", "base")
    rule: Rule | None = None
    unit: Unit | Literal["points"] | None = "percent"
    decimals: int | None = 1
    judged: bool = False
    against: bool = False
    signed: bool = False
    heading: str = ""


def _first(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return values[0]


def _difference(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return difference(values[0], values[1])


def _share(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return share(values[0], values[1])


def _of_shares(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return difference(share(values[0], values[1]), share(values[2], values[3]))


def _contribution(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return attainment(difference(values[0], values[1]), values[2])


def _percent_change(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return percent_change(values[0], values[1], unit, negative_bases=negative)


def _attainment(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return attainment(values[0], values[1], negative_bases=negative)


def _index(values: Sequence[Exacts], unit: Unit, negative: bool) -> Exacts:
    return index(values[0], values[1], negative_bases=negative)


_PART_OF: tuple[Part, ...] = ("current", "scope")
KINDS: Mapping[ColumnKind, Kind] = {
    "value": Kind(("own",), _first, None, None, judged=True),
    "difference": Kind(("current", "base"), _difference, None, None, judged=True, against=True, signed=True, heading="Change"),
    "percent_change": Kind(("current", "base"), _percent_change, judged=True, against=True, signed=True, heading="% change"),
    "attainment": Kind(("current", "base"), _attainment, judged=True, against=True, heading="% of base"),
    "index": Kind(("current", "base"), _index, "number", judged=True, against=True, heading="Index"),
    "contribution": Kind(
        ("current", "base", "whole"), _contribution, judged=True, against=True, signed=True, heading="Contribution"
    ),
    "share": Kind(_PART_OF, _share, heading="Share"),
    "share_of_all": Kind(_PART_OF, _share, heading="Share"),
    "share_of_parent": Kind(_PART_OF, _share, heading="Of parent"),
    "share_change": Kind(
        ("current", "scope", "base", "base_scope"), _of_shares, "points", signed=True, heading="Change of share"
    ),
    "scope": Kind(("scope",), _first, None, None, heading="All of it"),
    "goal": Kind(judged=True, heading="Goal"),
    "rank": Kind(("own",), None, "count", 0, heading="Rank"),
    "cumulative": Kind((), None, None, None, heading="Down the list"),
    "cumulative_share": Kind((), heading="Share down the list"),
    "bridge": Kind(unit=None, decimals=None, judged=True, signed=True, heading="Bridge"),
    "price_volume_mix": Kind(unit=None, decimals=None, judged=True, signed=True, heading="Price, volume and mix"),
}  # fmt: skip
