"""Processes that publish or send, and say each step that they come to: they are there to be killed.

One process has everything imported and makes the others by forking: each line that it reads is one to make.
"""

from __future__ import annotations

import faulthandler
import os
import sys
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from sqlalchemy import event

from lofty_abacus.actions.briefs.publish_brief import Publishing, publish_brief
from lofty_abacus.actions.briefs.send_mail import send_due
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.mail import MailAbout
from lofty_abacus.mail.sending import Server, SmtpRoad
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.other_database import ReadOnlyDatabase

#: No process takes longer.
LONGEST_SECONDS = 60


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


def make(url: str, columns: str) -> None:
    """Make a process for each line read, and say its number first and its end last."""
    assert len(list(Path("/proc/self/task").iterdir())) == 1, "a lock that another thread holds would stay held in what is forked"
    for line in sys.stdin:
        child = os.fork()
        if child == 0:
            print(os.getpid(), flush=True)
            # Whatever holds it up is told, and fails the test.
            faulthandler.dump_traceback_later(LONGEST_SECONDS, exit=True)
            try:
                main(url, columns, *line.split())
            except BaseException:
                traceback.print_exc()
                os._exit(1)
            os._exit(0)
        _, status = os.waitpid(child, 0)
        print(f"ended {os.waitstatus_to_exitcode(status)}", flush=True)


if __name__ == "__main__":
    make(*sys.argv[1:])
