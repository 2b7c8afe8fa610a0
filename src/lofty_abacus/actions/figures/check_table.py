"""Check a table's totals against the posted lines: the database adds them up by itself, and both must agree to the last digit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from weakref import ref

from lofty_abacus.actions.figures.answer_statement import other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.figures import OpenedLedger
from lofty_abacus.core.answer.answer import sum_text
from lofty_abacus.core.answer.answering import evaluated
from lofty_abacus.core.answer.evaluation import TOTAL
from lofty_abacus.core.answer.resolve import Resolved, resolve
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.request import LevelTotals, LineConventions, Totals, TotalsRequest
from lofty_abacus.core.measures.sums import LineSum, Quantity
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import grains_of
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.telling.checks import agreeing_words, disagreeing_words

_NET, _LINES = LineSum("amount", "all"), LineSum("lines", "all")


@dataclass(frozen=True)
class CheckedTotal:
    """One total of the table beside what the database says."""

    measure: str
    window: int
    table: str
    database: str
    agrees: bool


@dataclass(frozen=True)
class TableCheck:
    """Whether every sum and count of the total row agrees; lines: posted lines counted in the current window.

    not_checked: measures that read returns on the days of their sales, which the database does not. over_all_days: where there
    are such, the net amount of all lines up to the as-of date, whichever day they count on: moving a return loses no cent of it.
    words: what is said of it under the table.
    """

    agrees: bool
    lines: int
    version: int
    totals: tuple[CheckedTotal, ...]
    not_checked: tuple[str, ...] = ()
    over_all_days: CheckedTotal | None = None
    words: str = ""


def check_table(office: Office, ledger: str, statement: Statement, version: int | None = None) -> TableCheck:
    """Check the total row of a statement's answer: each sum and count that is shown, or that a ratio or formula is made of.

    Those that read return lines are left out where these are read on the days of their sales. version: of the answer, the current
    one if None; the database adds up the lines of that version, whatever was posted since.

    Raises QuestionError, NotFoundError, RecordsError.
    """
    book = office.books.opened(ledger, version)
    # What is checked is the total row: tables that differ in their rows only have one check.
    table = statement if grains_of((*statement.rows, *statement.across)) else replace(statement, rows=(), across=(), sort=None)
    key = (ref(book.source), book.facts, table, book.record.today(office.now()), office.language)
    found: TableCheck = office.checks.get(key, lambda: _checked(office, book, statement))
    if not found.agrees and office.books.verify_columns(office.books.ledger(ledger).id):
        # It was what is kept beside the record that had been changed: it is made anew, and so is the check.
        found = _checked(office, office.books.opened(ledger, version), statement)
    return found


def _checked(office: Office, book: OpenedLedger, statement: Statement) -> TableCheck:
    resolved = resolve(statement, book.facts, book.source, book.record.today(office.now()), other_ledgers(office, statement))
    evaluation = evaluated(resolved, 0)
    measures = list(dict.fromkeys(part for metric in resolved.metrics for part in _sums_of(metric.measure, book.facts)))
    not_checked: tuple[str, ...] = ()
    if statement.returns == "sale_day":
        # The database adds lines up on their own days: only figures of sale lines can be held against it.
        not_checked = tuple(dict.fromkeys(each.name for each in measures if not _reads_sales(each)))
        measures = [each for each in measures if _reads_sales(each)]
    posted = office.books.posted_totals(book.facts, book.record.id)
    read = posted.read_by(LineConventions(day_number(resolved.as_of), statement.levels, day=statement.day))
    windows = {
        at: window.counted
        for at, window in enumerate(resolved.slots[0].windows)
        if window.reason is None and resolved.plan_of(at) is None
    }
    quantities = frozenset(quantity for measure in measures for quantity in measure.quantities)
    [added] = read.totals(TotalsRequest(tuple(windows.values()), (), resolved.filters, quantities))
    totals = []
    for place, at in enumerate(windows):
        for measure in measures:
            value = evaluation.value(TOTAL, measure, at)
            if value.exact is not None and value.decimals is not None:
                said = sum((sign * _exactly(added, each, place, book) for sign, each in measure.top.terms), Fraction(0))
                here, there = sum_text(value.exact, value.decimals), sum_text(said, value.decimals)
                totals.append(CheckedTotal(measure.name, at, here, there, value.exact == said))
    lines = added.integers([_LINES], list(windows).index(0), 0)[0] if 0 in windows else 0
    over_all_days = _over_all_days(posted, book, resolved) if not_checked else None
    wrong = [each for each in (*totals, *([over_all_days] if over_all_days else [])) if not each.agrees]
    if wrong:
        words = disagreeing_words([(each.measure, each.table, each.database) for each in wrong])
    else:
        net = over_all_days.table if over_all_days else None
        words = agreeing_words(lines, [each.measure for each in totals], not_checked, net, resolved.as_of)
    return TableCheck(not wrong, lines, book.facts.version, tuple(totals), not_checked, over_all_days, words)


def _sums_of(measure: Measure, ledger: LedgerFacts) -> list[Measure]:
    """The sums and counts that a measure is, or is made of, each as a measure of its own."""
    if measure.formula is not None:
        return [each for part in measure.parts for each in _sums_of(part, ledger)]
    return [_sum_named(terms, ledger) for terms in (measure.top, measure.bottom) if terms is not None]


def _sum_named(terms: Terms, ledger: LedgerFacts) -> Measure:
    """A sum, or part of a ratio, under the name of the measure that it is, of the lines that have what the whole needs."""
    bare = {_bare(each.top): name for name, each in ledger.measures().items() if each.bottom is None}
    given = sorted({name for each in terms.quantities if isinstance(each, LineSum) for name in each.given if name != each.column})
    names = [f"{'less ' if sign < 0 else ''}{bare.get(_bare(Terms(((1, each),))), 'sum')}" for sign, each in terms.terms]
    name = bare.get(_bare(terms)) or " ".join(names)
    return Measure(name + (f" of lines with {' and '.join(given)}" if given else ""), "additive", "number", "neutral", 0, terms)


def _bare(terms: Terms) -> Terms:
    """Terms without what lines must have."""
    return Terms(tuple((sign, replace(each, given=()) if isinstance(each, LineSum) else each) for sign, each in terms.terms))


def _exactly(added: LevelTotals, quantity: Quantity, window: int, book: OpenedLedger) -> Fraction:
    return Fraction(int(added.values[quantity][window, 0]), 10 ** book.facts.scales.of(quantity))


def _over_all_days(posted: Totals, book: OpenedLedger, resolved: Resolved) -> CheckedTotal:
    """Net sales of all days up to the as-of date: of the lines as they are placed, and of the lines as they were posted."""
    request = TotalsRequest((DaySet((DayRange(date.min, resolved.as_of),)),), (), (), frozenset({_NET}))
    [here], [there] = resolved.source.totals(request), posted.totals(request)
    placed, added = (_exactly(each, _NET, 0, book) for each in (here, there))
    decimals = book.facts.scales.amount
    return CheckedTotal("net_sales", 0, sum_text(placed, decimals), sum_text(added, decimals), placed == added)


def _reads_sales(measure: Measure) -> bool:
    return all(not isinstance(each, LineSum) or each.side == "sale" for each in measure.quantities)
