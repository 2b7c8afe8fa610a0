"""What is said passes the catalogue: told in a language made up for it, nothing is left in English but names of the ledger's own."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextvars import copy_context
from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest
from babel.messages.mofile import write_mo
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.api.app import make_app
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import speak
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import CountedFilter, Goal, Opened, ShareScope, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import CurrentWindow, Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.demo.scenario import LEDGER_NAME
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.telling import catalogue, vocabulary
from lofty_abacus.telling.conventions import conventions_of
from lofty_abacus.telling.sentence import sentence, title_of
from lofty_abacus.telling.told import told_of
from lofty_abacus.telling.windows import base_name, window_name
from tests.ledgers import Line, SmallLedger

DAY = date(2026, 10, 17)
LEDGER = SmallLedger(
    [
        Line(date(year, month, 5), 100 * month, order=f"{year}{month}", region=region, rep="7")
        for year in (2025, 2026)
        for month in range(1, 11)
        for region in ("1", "2")
    ]
)
NET = ShownMeasure("net_sales", ("difference", "percent_change", "share_of_all", "rank"))


def _strange(message: str) -> str:
    """In the made-up language words are written in Greek letters, placeholders as they are."""
    parts = re.split(r"(\{[^}]*\})", message)
    return "".join(part if at % 2 else re.sub("[A-Za-z]", "\N{GREEK SMALL LETTER OMEGA}", part) for at, part in enumerate(parts))


def in_made_up(work: Callable[[], list[str]]) -> list[str]:
    def all_of_it() -> list[str]:
        speak(_strange, lambda one, many, number: _strange(one if number == 1 else many))
        return work()

    return copy_context().run(all_of_it)


def english(told: list[str]) -> list[str]:
    """Words that were said past the catalogue. Names of dimensions, codes and the ledger's own words stay as they are."""
    own = re.compile(r"region|rep|net_sales|EUR|small|Plan|\bx\b|Q\d")
    return [each for each in told if re.search("[A-Za-z]", own.sub("", each))]


PLAIN = ShownMeasure("net_sales", ("share_of_all",))

WINDOWS: list[CurrentWindow] = [
    ToDate("year"), ToDate("quarter", completed="month"), RunningPeriod("month"), RunningPeriod("half_year", 2), NamedPeriod("2026-Q1"),
    LastPeriods(1, "week"), LastPeriods(12, "month", "completed"), Dates(date(2026, 3, 1)), Dates(date(2025, 11, 1), date(2026, 3, 1)),
    NamedPeriod("2026-W07"), NamedPeriod("2026-03"),
]  # fmt: skip
BASES: list[Base] = [
    PeriodBase(1, "year"), PeriodBase(-1, "year"), PeriodBase(2, "year"), PeriodBase(1, "quarter"), PeriodBase(3, "month"),
    PeriodBase(-2, "month"), PeriodBase(1, "year", "whole"), PeriodBase(1, "period", "same_working_days"), PeriodBase(4, "period"),
    ShiftedBase(1, "month"), ShiftedBase(-2, "week", "same_weekdays"), FixedBase("2019"), GivenBase(NamedPeriod("2026-W07")),
    GivenBase(Dates(date(2026, 1, 1))), LedgerBase("Plan", "whole", "working_days"),
]  # fmt: skip


def test_windows_and_bases_are_said_in_the_language() -> None:
    def told() -> list[str]:
        names = [window_name(each, day) for each in WINDOWS for day in (DAY, None)]
        return [*names, *(base_name(each, Statement((NET,)), DAY) for each in BASES)]

    assert not english(in_made_up(told))
    assert english(told()), "English itself is found by the check"


STATEMENTS = [
    Statement(
        (NET, ShownMeasure("orders", shares=(ShareScope(("region",)),))),
        ("region",),
        as_of=PinnedDay(DAY),
        bases=(PeriodBase(1, "year"),),
        filters=(CountedFilter("region", ("1",)),),
        sort=Sort("net_sales.1.difference"),
        goals=(Goal("net_sales", "105"),),
    ),
    Statement(
        (ShownMeasure("net_sales", along=RunningTotal("year")), ShownMeasure("net_sales", along=Moving(3))),
        (TimeLevel("month"),),
        as_of=PinnedDay(DAY),
        bases=(PeriodBase(1, "period"),),
    ),
    Statement((PLAIN,), ("region",), across=(TimeLevel("quarter"),), as_of=PinnedDay(DAY), cut="same_point"),
    Statement((PLAIN,), ("region", "rep"), as_of=PinnedDay(DAY), limits=(TopLimit(3, "net_sales.0.value", rest=False),)),
    Statement(
        (NET,),
        ("region",),
        as_of=PinnedDay(DAY),
        bases=(PeriodBase(1, "year"),),
        limits=(
            StatusLimit(("kept",)),
            ValueLimit("net_sales.0.value", at_least="1", at_most="9999999"),
            MembersLimit("region", ("1",)),
        ),
        all_members=True,
    ),
]


@pytest.mark.parametrize("at", range(len(STATEMENTS)))
def test_statements_and_answers_are_said_in_the_language(at: int) -> None:
    statement = STATEMENTS[at]
    found = answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(1))

    def told() -> list[str]:
        words = told_of(found, statement)
        columns = [
            text
            for each in words.columns
            for text in (each.heading, each.base, each.metric, each.along, each.plain, each.named, each.definition)
        ]
        choices = [
            text
            for each in conventions_of(statement, LEDGER.facts)
            for one in each.choices
            for text in (each.title, one.label, one.note)
        ]
        caption = [text for pair in caption_lines(found, statement) for text in pair]
        return [sentence(statement, found), title_of(statement), *words.notices, *columns, *choices, *caption]

    assert not english(in_made_up(told))


def test_refusals_are_said_in_the_language() -> None:
    wrong = replace(STATEMENTS[0], bases=(PeriodBase(0, "year"),))

    def told() -> list[str]:
        with pytest.raises(QuestionError) as refused:
            answer(wrong, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(1))
        return [refused.value.why, refused.value.way_out]

    assert not english(in_made_up(told))


def test_the_template_has_the_tables_and_both_forms_of_what_is_counted() -> None:
    template = catalogue.template()
    assert {*dict.values(vocabulary.REASONS), *vocabulary.MONTHS} <= {each.id for each in template if isinstance(each.id, str)}
    assert ("{number:,} day", "{number:,} days") in [each.id for each in template]


@pytest.fixture
def norwegian(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    words = catalogue.template()
    words.locale = "nb"
    for message in words:
        if message.id == "year":
            message.string = "\N{LATIN SMALL LETTER A WITH RING ABOVE}r"
        elif message.id == "{grain} to date{completed}":
            message.string = "{grain} til dato{completed}"
    folder = tmp_path / "nb" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    with (folder / "lofty.mo").open("wb") as out:
        write_mo(out, words)
    monkeypatch.setattr(catalogue, "LANGUAGES", tmp_path)
    catalogue.translations.cache_clear()
    yield
    catalogue.translations.cache_clear()


@pytest.mark.usefixtures("norwegian")
def test_a_language_needs_no_more_than_its_catalogue(office: Office, demo: Posting) -> None:
    asked = {"ledger": LEDGER_NAME, "statement": {"measures": [{"measure": "net_sales"}], "rows": ["region"]}}
    with TestClient(make_app(office, None), base_url="http://127.0.0.1") as client:
        for wanted, words in (
            ("nb", "\N{LATIN SMALL LETTER A WITH RING ABOVE}r til dato"),
            ("en", "year to date"),
            ("fi", "year to date"),
        ):
            told = client.post("/api/tellings", json=asked, headers={"Accept-Language": wanted}).json()
            (window,) = (piece["words"] for part in told["parts"] for piece in part["pieces"] if piece["kind"] == "window")
            assert words in window
