"""`kill -9` at random points of publishing and of sending: an issue is there wholly or not at all, and no mail goes out twice."""

from __future__ import annotations

import os
import random
import signal
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace
from datetime import UTC, datetime
from email import message_from_bytes
from pathlib import Path

import pytest

from lofty_abacus.actions.briefs.issues import open_issue
from lofty_abacus.actions.briefs.keep_briefs import keep_brief
from lofty_abacus.actions.briefs.publish_brief import Publishing, hand_out, publish_brief
from lofty_abacus.actions.briefs.send_mail import send_due
from lofty_abacus.actions.briefs.watch_briefs import Briefs
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.mail import MailAbout
from lofty_abacus.actions.records.briefs import Handing, Person
from lofty_abacus.mail.catching import catching
from lofty_abacus.mail.sending import Server, SmtpRoad
from lofty_abacus.server import mariadb
from tests.briefs.ledgers import LINES, Write, blocks, brief, posted
from tests.forking import Maker, begin, maker, said

POINTS = 50
PEOPLE = 12


@pytest.fixture
def child(server: mariadb.RunningServer, office: Office) -> Iterator[Maker]:
    """A process that makes processes on the same record: each does one thing and says each step that it comes to."""
    with maker("tests.briefs.doing", server.url, str(office.staging.parent / "columns")) as process:
        yield process


def run(process: Maker, *words: str, steps: int | None) -> int:
    """Run a process and kill it after so many steps (None: let it end); how many steps it came to."""
    number, came, killed, line = begin(process, *words), 0, False, ""
    for line in said(process):
        came += line.startswith("step") and not killed
        if came == steps and not killed:
            killed = True
            # It may have come to its end just before.
            with suppress(ProcessLookupError):
                os.kill(number, signal.SIGKILL)
    assert killed or line == "ended 0\n", line
    return came


def test_publishing_is_all_or_nothing(office: Office, ledger: str, csv_file: Write, child: Maker) -> None:
    posted(office, ledger, csv_file, *LINES)
    people = tuple(Person(f"p{n}@a.example") for n in range(3))
    few = blocks()[:2]
    kept = keep_brief(office, ledger, brief(copies="region", blocks=few), Handing(people))
    whole = run(child, "publish", str(kept.id), steps=None)
    assert whole > 20, "there are points to be killed at"
    books, chance, number = office.books, random.Random(5), office.books.ledger(ledger).id
    expected = 1
    for _ in range(POINTS):
        run(child, "publish", str(kept.id), steps=chance.randint(1, whole))
        issues = books.briefs.issues(kept.id)
        assert len(issues) in (expected, expected + 1)
        expected = len(issues)
        for each in issues[:1]:
            assert [copy.place for copy in each.copies] == [0, 1, 2, 3]
            assert all(open_issue(office, each.id, copy.place) for copy in each.copies)
            assert len(books.outbox.log(number, each.id)) == len(people), "the mail is with it, or neither is"
    assert [each.number for each in books.briefs.issues(kept.id)] == list(range(expected, 0, -1))


def test_no_mail_goes_out_twice(office: Office, ledger: str, csv_file: Write, child: Maker, tmp_path: Path) -> None:
    office = replace(office, now=lambda: datetime.now(UTC))
    posted(office, ledger, csv_file, *LINES)
    kept = keep_brief(office, ledger, brief(blocks=blocks()[:1]), Handing())
    number, books = office.books.ledger(ledger).id, office.books
    folder, chance = tmp_path / "caught", random.Random(7)
    with catching(folder) as port:
        for _ in range(POINTS):
            issue = publish_brief(office, kept.id, Publishing())
            people = tuple(Person(f"p{n}@a.example") for n in range(PEOPLE))
            assert hand_out(office, issue.id, people) == PEOPLE
            run(child, "send", str(port), steps=chance.randint(1, 4 * PEOPLE))
            # As the application does when it is started again.
            Briefs(office)
            road = SmtpRoad(Server("smtp", "127.0.0.1", port), MailAbout(True, "here", "abacus@a.example"))
            while send_due(replace(office, mail=road)):
                pass
            log = books.outbox.log(number, issue.id)
            states = Counter(each.state for each in log)
            assert set(states) <= {"sent", "unsure"} and states["unsure"] <= 1, states
            caught = Counter(
                message_from_bytes(each.read_bytes())["Message-ID"].strip() for each in folder.glob(f"issue-{issue.id}-*")
            )
            assert not caught or max(caught.values()) == 1
            sent = {f"<{each.mail.message_id}>" for each in log if each.state == "sent"}
            assert sent <= set(caught), "what is told as sent arrived"
            assert len(set(caught) - sent) <= states["unsure"]
