"""Compare every cell of an answer with hand-written SQL."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate, ToDateGrain
from lofty_abacus.store.books import MariaDbBooks
from tests.cells import exact
from tests.oracle.sql import Path, sql_cells


@dataclass(frozen=True)
class Case:
    """A question with its windows worked out by hand: the days of the current window, then of each base."""

    grain: ToDateGrain
    as_of: date
    rows: tuple[str, ...]
    bases: tuple[PeriodBase, ...]
    windows: tuple[tuple[date, date], ...]
    filters: tuple[CountedFilter, ...] = ()
    where: str = "TRUE"
    measures: tuple[str, ...] = tuple(MEASURES)


def compare_all(office: Office, ledger: str, case: Case) -> int:
    """Compare every cell; returns how many were compared."""
    assert isinstance(office.books, MariaDbBooks)
    shown = tuple(
        ShownMeasure(
            name,
            (("difference", "percent_change", "attainment") if case.bases else ())
            + (("share_of_all", "share_of_parent") if MEASURES[name].kind != "derived" and case.rows else ()),  # type: ignore[arg-type]
        )
        for name in case.measures
    )
    statement = Statement(shown, case.rows, ToDate(case.grain), PinnedDay(case.as_of), case.bases, case.filters)
    answer = answer_statement(office, ledger, statement, Opened(max(len(case.rows), 1)))
    asked = [window.asked for window in answer.windows]
    assert [(each.first, each.last) for each in asked if each] == list(case.windows)
    cells = sql_cells(office.books.engine, office.books.ledger(ledger).id, case.rows, list(case.windows), case.where)
    expected_rows = {path for path, _ in cells.cells if path}
    assert {row.path for row in answer.rows} == expected_rows
    compared = 0
    for row in (*answer.rows, answer.total):
        for column, cell in zip(answer.columns, row.cells, strict=True):
            found = exact(cell)
            wanted = _expected(cells, column.measure, column.kind, column.window, row.path)  # type: ignore[arg-type]
            assert found == wanted, f"{row.path} {column.id}: {found} and by SQL {wanted}"
            compared += 1
    return compared


def _expected(cells, measure: str, kind: str, window: int, path: Path) -> Fraction | str:  # type: ignore[no-untyped-def]
    if kind == "value":
        return cells.measure(measure, path, window)  # type: ignore[no-any-return]
    current = cells.measure(measure, path, 0)
    if kind.startswith("share"):
        scope = cells.measure(measure, path[:-1] if kind == "share_of_parent" else (), 0)
        return _ratio(current, scope)
    base = cells.measure(measure, path, window)
    if isinstance(current, str) or isinstance(base, str):
        return current if isinstance(current, str) else base
    if kind == "difference":
        return current - base
    if kind == "attainment":
        return _ratio(current, base)
    if MEASURES[measure].unit == "percent":
        return "not_applicable"
    return _ratio(current - base, base)


def _ratio(top: Fraction | str, bottom: Fraction | str) -> Fraction | str:
    if isinstance(top, str):
        return top
    if isinstance(bottom, str):
        return bottom
    if bottom == 0:
        return "base_is_zero"
    return "base_is_negative" if bottom < 0 else top / bottom
