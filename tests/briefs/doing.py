"""Processes that publish or send, and say each step that they come to: they are there to be killed."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime
from functools import partial
from pathlib import Path
from typing import Any

from sqlalchemy import event

from lofty_abacus.actions.briefs.publish_brief import Publishing, publish_brief
from lofty_abacus.actions.briefs.send_mail import send_due
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.mail import MailAbout
from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.export.briefs.pdf import pdf
from lofty_abacus.mail.sending import Server, SmtpRoad
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.other_database import ReadOnlyDatabase
from tests.forking import make


def step(*_: object) -> None:
    print("step", flush=True)


class Said(SmtpRoad):
    """The way over a mail server that says when a message goes and when it has gone."""

    @contextmanager
    def session(self) -> Iterator[Any]:
        with super().session() as session:
            yield _Session(session.send)


class _Session:
    def __init__(self, send: Callable[[str, bytes], None]) -> None:
        self._send = send

    def send(self, address: str, message: bytes) -> None:
        step()
        self._send(address, message)
        step()


def main(url: str, columns: str, what: str, number: str) -> None:
    books = MariaDbBooks(url, Path(columns), lambda: datetime.now(UTC))
    for name in ("before_cursor_execute", "commit"):
        event.listen(books.engine, name, step)
    folder = Path(columns).parent
    office = Office(books, lambda: datetime.now(UTC), folder / "staging", folder / "inbox", ReadOnlyDatabase(), "Tess")
    if what == "publish":
        publish_brief(office, int(number), Publishing(hand_out=True), step)
    else:
        road = Said(Server("smtp", "127.0.0.1", int(number)), MailAbout(True, "here", "abacus@a.example"))
        while send_due(replace(office, mail=road)):
            pass
    books.close()


if __name__ == "__main__":
    # What makes a PDF is loaded when it is first used: here, once for all.
    pdf("<p>loaded</p>", Fonts())
    make(partial(main, *sys.argv[1:]))
