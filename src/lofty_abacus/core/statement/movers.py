"""Who moved: what is asked beside a statement, and the statement that its figures are those of (sections 8 to 10)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.errors import NotExactError, QuestionError, nearest
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.checking import MOST_LEVELS, show_refusal
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import dimensions_of
from lofty_abacus.core.statement.limits import MemberKey, MembersLimit, StatusLimit
from lofty_abacus.core.statement.statement import Show, ShownMeasure, Sort, Statement

#: What members can be ranked by.
RankedBy = Literal["difference", "percent_change", "contribution", "share_change"]
_SHOWN: tuple[Show, ...] = (
    "difference",
    "percent_change",
    "contribution",
    "share_of_all",
    "share_change",
    "bridge",
    "price_volume_mix",
)
MOST_LISTED = 200


@dataclass(frozen=True)
class MoversAsked:
    """What is asked of a statement's movers.

    measure: one that it shows, '' for the first. base: its number among the bases, from 1. path: keys of the members that are
    opened, from the outside in. then: dimensions below the statement's own levels. by: what ranks them. hide_under: changes
    smaller than this figure, up or down, are told as one; '' hides none. kinds: only members of some status, all where empty.
    search: only members whose name holds this text. most: how many of each side are listed, the rest as one.
    """

    measure: str = ""
    base: int = 1
    path: tuple[MemberKey, ...] = ()
    then: tuple[str, ...] = ()
    by: RankedBy = "difference"
    hide_under: str = ""
    kinds: tuple[Status, ...] = ()
    search: str = ""
    most: int = 10


def movers_statement(statement: Statement, asked: MoversAsked, ledger: LedgerFacts) -> Statement:
    """The statement whose figures the movers are: one measure by the levels down to the one that is looked at, with its changes.

    Levels of time and what stands across fall away: a mover is a member over the whole window. Raises QuestionError where there
    is no measure, base or level as asked.
    """
    known = ledger.measures(statement.defined)
    shown = _measure_of(statement, asked)
    if not statement.bases:
        raise QuestionError("bases", say("nothing is compared, so nobody moved."), say("Add a base."))
    if not 1 <= asked.base <= len(statement.bases):
        raise QuestionError(
            "base",
            say("there is no base {base}.", base=asked.base),
            say("The statement has {number}.", number=len(statement.bases)),
        )
    levels = levels_of(statement, asked)
    depth = len(asked.path) + 1
    if depth > len(levels):
        raise QuestionError("path", say("there is no level below this one."), say("Name a further dimension, or go back."))
    check_asked(asked, ledger, levels)
    measure = known.get(shown.measure)
    bases = range(1, len(statement.bases) + 1)
    plain = replace(
        statement,
        measures=(ShownMeasure(shown.measure, bases=tuple(bases), name=shown.name),),
        rows=levels[:depth],
        across=(),
        limits=tuple(
            each
            for each in statement.limits
            if isinstance(each, StatusLimit) and (each.level is None or each.level in levels[:depth])
        ),
        goals=(),
        sort=None,
        all_members=False,
        shares_add_up=False,
    )
    show = _possible(plain, measure, ledger) if measure is not None else ("difference",)
    moved = replace(plain, measures=(replace(plain.measures[0], show=show, bases=(asked.base,)),))
    ranked = asked.by if asked.by in show else "difference"
    return replace(moved, sort=Sort(f"{shown.measure}.{asked.base}.{ranked}"))


def movers_table(moved: Statement, path: tuple[MemberKey, ...]) -> Statement:
    """The movers of a level as a table to be handed out: their changes, without what the change of all is made of.

    moved: as of `movers_statement`.
    """
    shown = moved.measures[0]
    show = tuple(each for each in shown.show if each not in ("bridge", "price_volume_mix"))
    names = dimensions_of(moved.rows)
    opened = tuple(MembersLimit(name, (key,)) for name, key in zip(names, path, strict=False))
    return replace(moved, measures=(replace(shown, show=show),), limits=(*moved.limits, *opened))


def levels_of(statement: Statement, asked: MoversAsked) -> tuple[str, ...]:
    """The dimensions that can be gone down, from the outside in. Raises QuestionError where there are none."""
    own = dimensions_of(statement.rows)
    levels = (*own, *(each for each in asked.then if each not in own))
    if not levels:
        raise QuestionError("rows", say("no members stand in the rows, so nobody moved."), say("Add a dimension to the rows."))
    return levels[:MOST_LEVELS]


def check_asked(asked: MoversAsked, ledger: LedgerFacts, levels: tuple[str, ...]) -> None:
    """Refuse dimensions that are not there, and a threshold or length that is none. Raises QuestionError."""
    names = [each.name for each in ledger.dimensions]
    for name in asked.then:
        if name not in names:
            raise QuestionError("then", say("{name!r} is no dimension of this ledger.", name=name), nearest(name, names))
    if not 1 <= asked.most <= MOST_LISTED:
        raise QuestionError(
            "most", say("a list of {count} rows cannot be made.", count=asked.most), say("Take 1 to {most:,}.", most=MOST_LISTED)
        )
    if asked.hide_under:
        try:
            unscaled, _ = decimal_parts(asked.hide_under)
        except NotExactError as error:
            raise QuestionError("hide_under", f"{error}.", say("Write a plain number such as 1000.")) from error
        if unscaled < 0:
            raise QuestionError("hide_under", say("a size is never below 0."), say("Write a plain number such as 1000."))


def _measure_of(statement: Statement, asked: MoversAsked) -> ShownMeasure:
    if not statement.measures:
        raise QuestionError("measures", say("the statement shows nothing."), say("Name at least one measure."))
    if not asked.measure:
        return statement.measures[0]
    found = next((each for each in statement.measures if each.measure == asked.measure), None)
    if found is None:
        raise QuestionError(
            "measure",
            say("the statement does not show {measure!r}.", measure=asked.measure),
            nearest(asked.measure, [each.measure for each in statement.measures]),
        )
    return found


def _possible(statement: Statement, measure: Measure, ledger: LedgerFacts) -> tuple[Show, ...]:
    """What can stand beside the measure, of what movers show."""
    found: tuple[Show, ...] = ()
    for name in _SHOWN:
        if name == "price_volume_mix" and "quantity" not in ledger.has:
            continue
        shown = replace(statement.measures[0], show=(*found, name))
        if show_refusal(name, shown, measure, statement) is None:
            found = (*found, name)
    return found
