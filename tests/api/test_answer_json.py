"""Answers are written as their shapes say, whatever of a long list was written before."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

import pytest

from lofty_abacus.api import answer_json
from lofty_abacus.api.answer_json import MOST_WRITTEN, answer_to_json, rows_to_json
from lofty_abacus.api.shapes import adapter, short
from lofty_abacus.core.answer.answer import Row
from lofty_abacus.core.answer.answering import MOST_SENT, Answering
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.telling.told import ToldAnswer, with_words
from tests.ledgers import Line, SmallLedger

DAY = date(2026, 3, 1)
#: More rows than are all filled at once.
CUSTOMERS = MOST_SENT // 2 + 300


def ledger_of(names: Sequence[str]) -> SmallLedger:
    return SmallLedger([Line(DAY, 100 + at, order=f"O{at}", customer=name) for at, name in enumerate(names)])


def told(ledger: SmallLedger, fill: int | None, *rows: str | TimeLevel) -> ToldAnswer:
    statement = Statement((ShownMeasure("net_sales"), ShownMeasure("orders")), rows, as_of=PinnedDay(DAY))
    answering = Answering(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
    return with_words(answering.answer(fill), statement)


def at_once(answer: ToldAnswer) -> bytes:
    return short(adapter(ToldAnswer).dump_json(answer))


@pytest.mark.parametrize("fill", [None, 0, 60])
def test_an_answer_is_written_as_in_one_piece(fill: int | None) -> None:
    ledger = ledger_of([f'Customer "{at}", "rows":[],"total":' for at in range(CUSTOMERS)])
    for rows in ((), ("customer",), ("region", "customer"), (TimeLevel("month"),)):
        answer = told(ledger, fill, *rows)
        assert answer_to_json(answer) == at_once(answer)
        assert answer_to_json(answer) == at_once(answer), "and once more"
        assert rows_to_json(answer.rows) == short(adapter(tuple[Row, ...]).dump_json(answer.rows))


def test_a_long_list_is_written_once_and_anew_where_any_of_it_is_other(monkeypatch: pytest.MonkeyPatch) -> None:
    written: list[int] = []
    listed = answer_json._listed
    monkeypatch.setattr(answer_json, "_listed", lambda rows: written.append(len(rows)) or listed(rows))
    answer = told(ledger_of([f"C{at}" for at in range(CUSTOMERS)]), 60, "customer")
    assert answer.partial and answer_to_json(answer) == answer_to_json(answer)
    assert written.count(CUSTOMERS - 60) == 1 and written.count(60) == 2
    for at in (60, CUSTOMERS // 2, CUSTOMERS - 1):
        other = replace(answer, rows=(*answer.rows[:at], replace(answer.rows[at], label="Another"), *answer.rows[at + 1 :]))
        assert answer_to_json(other) == at_once(other)
    for version in range(2 * MOST_WRITTEN):
        other = replace(answer, rows=(*answer.rows, *answer.rows[:version]))
        assert answer_to_json(other) == at_once(other)
    assert len(answer_json._written._kept) == MOST_WRITTEN
