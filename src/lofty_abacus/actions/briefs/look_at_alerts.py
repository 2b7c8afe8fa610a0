"""Alerts: conditions that are looked at after each posting and once a day, told once when they begin and once when they end."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC
from fractions import Fraction

from lofty_abacus.actions.briefs.keep_briefs import checked_people
from lofty_abacus.actions.errors import ActionError, NotFoundError, RefusedError
from lofty_abacus.actions.figures.answer_statement import told_answer
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Kept, LedgerRecord
from lofty_abacus.actions.records.briefs import Alert, AlertFound, KeptAlert, MetRow, NewMail
from lofty_abacus.core.answer.answer import AnsweredColumn, Row
from lofty_abacus.core.errors import CoreError, NotExactError, QuestionError
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.saying import counted, say
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.export.briefs.written import cell_text, decimals_of
from lofty_abacus.export.layout import Layout
from lofty_abacus.export.showing import exact
from lofty_abacus.telling.names import capital, day_words
from lofty_abacus.telling.told import ToldAnswer

LONGEST_NAME = 120
#: Rows that are told; of more the number is.
MOST_TOLD = 25
_PLAIN = Layout()


def list_alerts(office: Office, ledger: str) -> Kept[KeptAlert]:
    """A ledger's alerts with their latest events. Raises NotFoundError."""
    return office.books.alerts.alerts(office.books.ledger(ledger).id)


def keep_alert(office: Office, ledger: str, alert: Alert, alert_id: int | None = None) -> KeptAlert:
    """Keep an alert, once it can be looked at, and look at it. Raises QuestionError, NameTakenError, NotFoundError."""
    record = office.books.ledger(ledger)
    checked = _checked(alert)
    found(office, record, checked)
    number = office.books.alerts.keep_alert(record.id, checked, office.person, alert_id)
    look_at(office, record, next(each for each in list_alerts(office, ledger).rows if each.id == number))
    return next(each for each in list_alerts(office, ledger).rows if each.id == number)


def forget_alert(office: Office, ledger: str, alert_id: int) -> None:
    """Keep an alert no more. Raises NotFoundError."""
    if not office.books.alerts.forget_alert(office.books.ledger(ledger).id, alert_id):
        raise NotFoundError("This ledger keeps no such alert.")


def _checked(alert: Alert) -> Alert:
    name = " ".join(alert.name.split())
    if not name or len(name) > LONGEST_NAME:
        raise RefusedError(f"An alert is kept under a name of at most {LONGEST_NAME} characters: write one.")
    if alert.kind == "figures" and alert.statement is None:
        raise QuestionError("statement", "an alert on figures needs one.", "Take it from a page of figures.")
    if alert.kind == "figures":
        _limit(alert.figure)
    if not 0 <= alert.days <= 10_000:
        raise QuestionError("days", f"{alert.days} is no number of days.", "Take 0 or more.")
    return replace(alert, name=name, people=checked_people(alert.people))


def _limit(text: str) -> Fraction:
    try:
        minor, decimals = decimal_parts(text.strip())
    except NotExactError as error:
        raise QuestionError("figure", f"{text!r} is no number.", "Write one such as 95 or 1250.50.") from error
    return Fraction(minor, 10**decimals)


def look_at_all(office: Office, record: LedgerRecord) -> int:
    """Look at the alerts of a ledger that were not looked at on its version today; how many. Never raises for an alert."""
    today, looked = record.today(office.now()), 0
    for each in office.books.alerts.alerts(record.id).rows:
        fresh = each.looked_version == record.version and each.looked_at is not None
        if fresh and each.looked_at is not None and record.today(each.looked_at.replace(tzinfo=UTC)) == today:
            continue
        look_at(office, record, each)
        looked += 1
    return looked


def look_at(office: Office, record: LedgerRecord, known: KeptAlert) -> None:
    """Look at one alert now; where it begins or ends, its people are told. Never raises."""
    try:
        now = found(office, record, known.alert)
    except (CoreError, ActionError) as error:
        office.books.alerts.looked(known, record.version, None, str(error), ())
        return
    begins, ends = bool(now.count) and known.true_since is None, not now.count and known.true_since is not None
    mails = _mails(known, record, now, office.now().isoformat()) if begins or ends else ()
    office.books.alerts.looked(known, now.version, now, "", mails)


def found(office: Office, record: LedgerRecord, alert: Alert) -> AlertFound:
    """What an alert finds now. Raises QuestionError, NotFoundError, RecordsError."""
    return _behind(office, record, alert) if alert.kind == "feed_behind" else _figures(office, record, alert)


def _behind(office: Office, record: LedgerRecord, alert: Alert) -> AlertFound:
    facts, today = office.books.facts(record.id), record.today(office.now())
    feeds = [each for each in facts.feeds if alert.feed in ("", each.feed)]
    if alert.feed and not feeds:
        raise QuestionError("feed", f"this ledger has no feed {alert.feed!r}.", "Choose one of its feeds.")
    rows = []
    for each in feeds:
        behind = (today - each.days.last).days
        if behind > alert.days:
            words = say("{days} days behind, posted to {day}", days=behind, day=day_words(each.days.last))
            rows.append(MetRow(each.feed, words))
    of = say("feed {feed}", feed=alert.feed) if alert.feed else say("any feed")
    words = say("{feed} is more than {days} behind", feed=of, days=counted("{number} day", "{number} days", alert.days))
    return AlertFound(words, today, facts.version, tuple(rows[:MOST_TOLD]), len(rows))


def _figures(office: Office, record: LedgerRecord, alert: Alert) -> AlertFound:
    statement = alert.statement
    assert statement is not None, "checked when it was kept"
    opened = Opened(max(len(statement.rows), 1))
    answer = told_answer(office, record.name, statement, opened)
    at = _column(answer, alert)
    column = decimals_of(answer.columns[at], answer.total.cells[at], _PLAIN)
    limit = _limit(alert.figure) / (100 if column.unit in ("percent", "points") else 1)
    deepest = len(statement.rows)
    rows = [row for row in answer.rows if len(row.path) == deepest and row.rest is None] if deepest else [answer.total]
    met = [row for row in rows if _meets(row, at, alert, limit)]
    pinned = replace(statement, as_of=PinnedDay(answer.as_of))
    return AlertFound(
        _words(answer, at, alert, column),
        answer.as_of,
        answer.version,
        tuple(
            MetRow(_named(row, answer, statement), cell_text(row.cells[at], column, _PLAIN), row.path, column.id)
            for row in met[:MOST_TOLD]
        ),
        len(met),
        pinned,
    )


def _column(answer: ToldAnswer, alert: Alert) -> int:
    ids = [each.id for each in answer.columns]
    if alert.column not in ids:
        raise QuestionError("column", f"the statement shows no {alert.column or 'such column'}.", "Choose one of its columns.")
    return ids.index(alert.column)


def _meets(row: Row, at: int, alert: Alert, limit: Fraction) -> bool:
    value = exact(row.cells[at])
    if value is None:
        return False
    return value < limit if alert.comparison == "below" else value > limit


def _named(row: Row, answer: ToldAnswer, statement: Statement) -> str:
    if not row.path:
        return answer.told.total
    labels = {each.path: each.label for each in answer.rows}
    return " › ".join(labels.get(row.path[: depth + 1], "") for depth in range(len(statement.rows)))


def _words(answer: ToldAnswer, at: int, alert: Alert, column: AnsweredColumn) -> str:
    unit = {"percent": "%", "points": " points"}.get(column.unit, "")
    name = answer.told.columns[at].plain
    figure = alert.figure.strip() + unit
    if alert.comparison == "below":
        return say("{column} is below {figure}", column=name, figure=figure)
    return say("{column} is above {figure}", column=name, figure=figure)


def _mails(known: KeptAlert, record: LedgerRecord, now: AlertFound, at: str) -> tuple[NewMail, ...]:
    alert = known.alert
    if now.count:
        subject = say("{name}: {count} now", name=alert.name, count=counted("{number} row", "{number} rows", now.count))
        lines = [f"- {each.label}: {each.figure}" for each in now.rows]
        more = [say("and {count} more", count=now.count - len(now.rows))] if now.count > len(now.rows) else []
        body = [capital(now.words) + ".", "", *lines, *more]
    else:
        subject = say("{name}: ended", name=alert.name)
        body = [say("It is true no more: {words}.", words=now.words)]
    body += [
        "",
        say("{ledger}, as of {day}, version {version}.", ledger=record.name, day=day_words(now.as_of), version=now.version),
    ]
    text, way = "\n".join(body) + "\n", "began" if now.count else "ended"
    number = f"alert-{known.id}-{now.version}-{way}-{at}".replace(":", "").replace("+", "-")
    return tuple(
        NewMail(f"{number}-{place}@lofty-abacus", each.address, each.name, subject, text)
        for place, each in enumerate(alert.people)
    )
