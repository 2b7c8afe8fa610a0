"""Alerts: told once when they begin, once when they end, with the rows that meet them."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from lofty_abacus.actions.briefs.look_at_alerts import forget_alert, keep_alert, list_alerts
from lofty_abacus.actions.briefs.watch_briefs import Briefs
from lofty_abacus.actions.errors import NameTakenError, NotFoundError, RefusedError
from lofty_abacus.actions.figures.prove_number import AskedNumber, prove_number
from lofty_abacus.actions.ledgers.withdraw_batch import withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records.briefs import Alert, KeptAlert, Person
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.statement import ShownMeasure
from tests.briefs.ledgers import AS_OF, BY_REGION, LINES, Write, posted

BELOW = Alert(
    "Regions below last year",
    statement=replace(BY_REGION, as_of=AS_OF, measures=(ShownMeasure("net_sales", ("attainment",)),)),
    column="net_sales.1.attainment",
    figure="95",
    people=(Person("lead@a.example"),),
)


def alert_of(office: Office, ledger: str, name: str) -> KeptAlert:
    return next(each for each in list_alerts(office, ledger).rows if each.alert.name == name)


def test_it_is_told_once_when_it_begins_and_once_when_it_ends(office: Office, ledger: str, csv_file: Write) -> None:
    # Whether today or in May, the North sold more than last year: nothing is told.
    posted(office, ledger, csv_file, *LINES)
    ok = keep_alert(office, ledger, replace(BELOW, figure="50"))
    assert ok.true_since is None and not ok.events and not ok.trouble
    kept = keep_alert(office, ledger, replace(BELOW, name="Below 95 %"))
    # North sold 115.10 of 175.25.
    assert kept.true_since and [each.began for each in kept.events] == [True]
    (event,) = kept.events
    assert event.found.words == "Net sales, % of base on 2025 is below 95%" and event.found.as_of == AS_OF.day
    (row,) = event.found.rows
    assert (row.label, row.figure, row.path) == ("North", "65.7%", ("North",))
    assert event.found.statement is not None
    proof = prove_number(office, AskedNumber(ledger, event.found.statement, row.column, row.path))
    assert proof.result.value and proof.result.value.startswith("0.6567")
    watcher = Briefs(office)
    watcher.look()
    watcher.look()
    ledger_id = office.books.ledger(ledger).id
    assert len(office.books.outbox.log(ledger_id)) == 1
    (batch,) = posted(office, ledger, csv_file, "2026-05-30,O90,L90,North,Ada,P1,1,500.00", name="good.csv").batches
    watcher.look()
    watcher.look()
    ended = alert_of(office, ledger, "Below 95 %")
    assert ended.true_since is None and [each.began for each in ended.events] == [False, True]
    told = office.books.outbox.log(ledger_id)
    assert [each.mail.subject for each in told] == ["Below 95 %: ended", "Below 95 %: 1 row now"]
    assert "- North: 65.7%" in told[1].mail.body
    withdraw_batch(office, ledger, batch, leave_hole=False)
    watcher.look()
    assert [each.began for each in alert_of(office, ledger, "Below 95 %").events] == [True, False, True]


def test_a_feed_that_falls_behind_is_seen_without_a_posting(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES[:5])
    now = [datetime(2026, 3, 22, tzinfo=UTC)]
    own = replace(office, now=lambda: now[0])
    kept = keep_alert(own, ledger, Alert("Behind", "feed_behind", days=5))
    assert kept.true_since is None
    now[0] = datetime(2026, 3, 27, tzinfo=UTC)
    Briefs(own).look()
    behind = alert_of(own, ledger, "Behind")
    assert behind.true_since and "6 days behind, posted to 21 Mar 2026" in behind.events[0].found.rows[0].figure


def test_what_cannot_be_looked_at_is_refused_or_told(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    for wrong in (
        replace(BELOW, column="net_sales.1.index"),
        replace(BELOW, figure="much"),
        replace(BELOW, statement=None),
        Alert("x", "feed_behind", feed="none such"),
        Alert("x", "feed_behind", days=-1),
    ):
        with pytest.raises(QuestionError):
            keep_alert(office, ledger, wrong)
    with pytest.raises(RefusedError):
        keep_alert(office, ledger, replace(BELOW, name=" "))
    kept = keep_alert(office, ledger, BELOW)
    with pytest.raises(NameTakenError):
        keep_alert(office, ledger, BELOW)
    changed = keep_alert(office, ledger, replace(BELOW, figure="10"), kept.id)
    assert changed.id == kept.id and changed.alert.figure == "10"
    forget_alert(office, ledger, kept.id)
    with pytest.raises(NotFoundError):
        forget_alert(office, ledger, kept.id)
    assert not list_alerts(office, ledger).rows
