"""Whether a ledger can answer a statement: every refusal names the part, why, and what would work."""

from __future__ import annotations

from collections import Counter

from lofty_abacus.core.calendar.settings import GRAINS
from lofty_abacus.core.comparing.comparisons import SHARES
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.measures.sums import DistinctIds
from lofty_abacus.core.measures.table import Measure, measure_named
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.bases import check_base

MOST_ROW_DIMENSIONS = 6
MOST_BASES = 8


def check_statement(statement: Statement, ledger: LedgerFacts) -> None:
    """Refuse what cannot be answered. Raises QuestionError; returns nothing where all is well."""
    if not statement.measures:
        raise QuestionError("measures", "the statement shows nothing.", "Name at least one measure.")
    _no_repeats("measures", [shown.measure for shown in statement.measures])
    for index, shown in enumerate(statement.measures):
        _check_measure(shown, f"measures[{index}]", statement, ledger)
    _check_rows(statement, ledger)
    if GRAINS.index(statement.window.grain) < GRAINS.index(ledger.line_grain):
        raise QuestionError(
            "window",
            f"this ledger's lines stand for whole {ledger.line_grain}s: no {statement.window.grain} can be cut out of them.",
            f"Take a {ledger.line_grain} or more.",
        )
    if statement.returns == "sale_day" and ledger.with_role("order") is None:
        raise QuestionError("returns", "no column of this ledger is its order, so no sale is known.", "Take their own day.")
    if len(statement.bases) > MOST_BASES:
        raise QuestionError("bases", f"{len(statement.bases)} bases are too many.", f"Take at most {MOST_BASES}.")
    _no_repeats("bases", [f"{base.back} {base.unit} back" for base in statement.bases])
    for index, base in enumerate(statement.bases):
        check_base(base, statement.window, f"bases[{index}]")
    for index, each in enumerate(statement.filters):
        _check_dimension(each.dimension, f"filters[{index}]", ledger)
        if not each.members:
            raise QuestionError(f"filters[{index}]", "no member is named.", "Name one or more, or remove the filter.")


def unavailable(measure: Measure, ledger: LedgerFacts) -> str | None:
    """Why this ledger cannot give a measure: what its lines lack. None if it can."""
    for name in sorted(measure.given - ledger.has):
        return f"no line of this ledger has a {name}"
    for each in measure.quantities:
        if isinstance(each, DistinctIds) and ledger.with_role(each.role) is None:
            return f"no column of this ledger is its {each.role}"
    return None


def _check_measure(shown: ShownMeasure, part: str, statement: Statement, ledger: LedgerFacts) -> None:
    measure = measure_named(shown.measure, part)
    lacking = unavailable(measure, ledger)
    if lacking:
        raise QuestionError(part, f"{shown.measure} cannot be given: {lacking}.", "Map that column at intake.")
    _no_repeats(part, list(shown.show))
    for name in shown.show:
        if name in SHARES and measure.kind == "derived":
            raise QuestionError(part, f"a share of {shown.measure} means nothing: it is a ratio.", "Share a sum or a count.")
        if name == "share_of_parent" and not statement.rows:
            raise QuestionError(part, "there are no rows, so no parent to be a share of.", "Add a row dimension.")
        if name not in SHARES and not statement.bases:
            raise QuestionError(part, f"{name} needs something to compare with.", "Add a base.")


def _check_rows(statement: Statement, ledger: LedgerFacts) -> None:
    if len(statement.rows) > MOST_ROW_DIMENSIONS:
        raise QuestionError("rows", f"{len(statement.rows)} levels are too many.", f"Take at most {MOST_ROW_DIMENSIONS}.")
    _no_repeats("rows", list(statement.rows))
    for index, name in enumerate(statement.rows):
        _check_dimension(name, f"rows[{index}]", ledger)


def _check_dimension(name: str, part: str, ledger: LedgerFacts) -> None:
    if ledger.dimension(name) is None:
        known = [each.name for each in ledger.dimensions]
        raise QuestionError(part, f"this ledger has no dimension {name!r}.", nearest(name, known))


def _no_repeats(part: str, names: list[str]) -> None:
    for name, times in Counter(names).items():
        if times > 1:
            raise QuestionError(part, f"{name} is named {times} times.", "Name it once.")
