"""What later versions did to an issue: worked out of each further version alone, and the same as from the beginning."""

from __future__ import annotations

import random
from collections import Counter
from dataclasses import replace
from typing import Any

import pytest
from sqlalchemy import text

from lofty_abacus.actions.briefs import block_answers, block_causes
from lofty_abacus.actions.briefs.block_causes import BlockCauses, Cause
from lofty_abacus.actions.briefs.publish_brief import publish_brief
from lofty_abacus.actions.briefs.restate_issue import Restatement, restatement_of
from lofty_abacus.actions.ledgers.make_ledger import change_settings, settings_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.statement.statement import Opened
from lofty_abacus.export.briefs.brief import FigureBlock
from lofty_abacus.store.books import MariaDbBooks
from tests.briefs.ledgers import BY_REGION, LINES, Write, a_step, blocks, brief, kept, posted


def anew(office: Office, issue: int) -> Restatement:
    """The same where nothing is known of before."""
    books = office.books
    assert isinstance(books, MariaDbBooks)
    with books.engine.begin() as connection:
        connection.execute(text("DELETE FROM restatement WHERE issue_id = :n"), {"n": issue})
    return restatement_of(office, issue)


@pytest.mark.parametrize("seed", [3, 8])
def test_what_is_known_is_gone_on_from_and_ends_as_from_the_beginning(
    office: Office, ledger: str, csv_file: Write, seed: int
) -> None:
    chance = random.Random(seed)
    posted(office, ledger, csv_file, *LINES)
    issue = publish_brief(office, kept(office, ledger).id).id
    batches: list[tuple[int, bool]] = []
    for number in range(12):
        a_step(office, ledger, csv_file, chance, number, batches)
        # Some versions nobody looks at; then several are new at once.
        if chance.random() < 0.6:
            restatement_of(office, issue)
    found = restatement_of(office, issue)
    assert found.count > 20 and any(len(each.effects) > 4 for each in found.figures)
    assert anew(office, issue) == found


def test_a_further_version_is_answered_once_and_those_before_no_more(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    posted(office, ledger, csv_file, *LINES)
    asked = brief(blocks=(blocks()[0], FigureBlock("table", replace(BY_REGION, rows=("region", "rep")), Opened(2))))
    issue = publish_brief(office, kept(office, ledger, asked).id).id
    answer, answered = block_answers.answer_statement, Counter[int]()

    def counted(office: Office, ledger: str, statement: Any, opened: Opened, version: int, **more: Any) -> Any:
        answered[version] += 1
        return answer(office, ledger, statement, opened, version, **more)

    monkeypatch.setattr(block_answers, "answer_statement", counted)
    for number in range(8):
        posted(office, ledger, csv_file, f"2026-03-30,O{number},N{number},North,Ada,P1,1,5.0{number}", name=f"late{number}.csv")
        answered.clear()
        restated = restatement_of(office, issue)
        newest = office.books.ledger(ledger).version
        assert len(restated.figures[0].effects) == number + 1
        # The last one that was looked at tells whether settings were changed.
        assert answered == {newest - 1: 2, newest: 2}


def test_what_was_known_is_worth_nothing_where_the_record_answers_otherwise(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    issue = publish_brief(office, kept(office, ledger, brief(blocks=blocks()[:1])).id).id
    posted(office, ledger, csv_file, "2026-03-30,O9,L9,North,Ada,P1,1,5.00", name="late.csv")
    assert [each.amount for each in restatement_of(office, issue).figures[0].effects] == ["+5.00"]
    # Months of a calendar that ends its years in March: this year is another in all versions, posted ones of before, too.
    settings = settings_of(office, ledger)
    change_settings(office, ledger, replace(settings, calendar=replace(settings.calendar, fiscal_start_month=4)))
    posted(office, ledger, csv_file, "2026-04-30,O10,L10,North,Ada,P1,1,7.00", name="later.csv")
    found = restatement_of(office, issue)
    effects = found.figures[0].effects
    assert [(each.version, each.amount) for each in effects] == [(0, "−330.10"), (3, "+7.00")]
    assert anew(office, issue) == found


def test_what_another_build_kept_is_worked_out_anew(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    issue = publish_brief(office, kept(office, ledger, brief(blocks=blocks()[:1])).id).id
    posted(office, ledger, csv_file, "2026-03-30,O9,L9,North,Ada,P1,1,5.00", name="late.csv")
    found = restatement_of(office, issue)
    for body in ('{"issue": 1, "number": 1}', "[]", '{"told": null, "blocks": []}'):
        office.books.briefs.keep_restatement(issue, found.version, found.count, body)
        assert restatement_of(office, issue) == found


def test_a_block_with_too_many_changes_keeps_none(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(block_causes, "MOST_KEPT", 1)
    posted(office, ledger, csv_file, *LINES)
    issue = publish_brief(office, kept(office, ledger).id).id
    for number in range(3):
        posted(office, ledger, csv_file, f"2026-03-30,O{number},N{number},North,Ada,P1,1,5.0{number}", name=f"late{number}.csv")
        found = restatement_of(office, issue)
        assert len(found.figures[0].effects) == number + 1
    assert anew(office, issue) == found


def test_a_figure_that_comes_and_goes_is_followed() -> None:
    causes = (
        Cause(2, 5, "posted a.csv", {0: "11/2", 2: "1"}),
        Cause(4, None, "withdrew a.csv", {0: None}),
        Cause(5, 6, "posted b.csv", {0: "6"}),
    )
    found = BlockCauses(5, ("5", None, "0"), causes)
    assert [(cause.version, str(before), str(after)) for cause, before, after in found.of(0)] == [
        (2, "5", "11/2"),
        (4, "11/2", "None"),
        (5, "None", "6"),
    ]
    assert not list(found.of(1)) and [str(each) for each in found.last] == ["6", "None", "1"]
