"""Who asks, and how long anybody waits: the office as the sender of a request sees it, and questions within their bounds."""

from __future__ import annotations

import asyncio
import contextvars
import re
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from threading import Condition
from typing import Annotated, Literal, TypeAlias, TypeVar
from urllib.parse import unquote

from fastapi import Depends, Request

from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.ports import Office
from lofty_abacus.api.journal import LONGEST, PERSON
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.patience import heeding
from lofty_abacus.telling.catalogue import speak_in

#: Figures do not wait for what comes after them: checks, proofs, files.
Way = Literal["figures", "evidence"]
#: Seconds that a question may take, questions of each way that are answered side by side, and how often it is looked whether
#: its asker is there.
MOST_SECONDS = 60.0
SIDE_BY_SIDE: dict[Way, int] = {"figures": 4, "evidence": 3}
LOOK_SECONDS = 0.2
#: How long evidence stands aside at once while figures are answered, and in all; so do files that are read, checked and posted,
#: and work that nobody asked for.
ASIDE_SECONDS, MOST_ASIDE, MOST_ASIDE_FILES, MOST_ASIDE_UNASKED = 0.1, 1.0, 2.0, 20.0
T = TypeVar("T")


class GoneError(ActionError):
    """Nobody waits for the answer any more."""

    def __init__(self) -> None:
        super().__init__("Nobody waited for the answer: the question was dropped.")


async def office_of(request: Request) -> Office:
    """The office, with the person and the language that the request names."""
    office: Office = request.app.state.office
    person = unquote(request.headers.get(PERSON, "")).strip()[:LONGEST]
    language = language_code(request.headers.get("Accept-Language", ""))
    speak_in(language)
    office = replace(office, language=language)
    return replace(office, person=person) if person.isprintable() and person else office


def language_code(wanted: str) -> str:
    """The code of the language that a reader wants first, of a header's list or a locale's name: sv of 'sv-SE,sv;q=0.9'."""
    first = re.match(r"[A-Za-z]{2,3}(?![A-Za-z])", wanted.strip())
    return first[0].casefold() if first else ""


#: The office as the sender of a request sees it, as what a route depends on.
OfficeOf: TypeAlias = Annotated[Office, Depends(office_of)]


class _UnderWay:
    """Figures that are asked and not answered yet: evidence stands aside for them, a moment each time and not for ever."""

    def __init__(self) -> None:
        self._count = 0
        self._changed = Condition()

    def add(self, change: int) -> None:
        """One more, or (-1) one less."""
        with self._changed:
            self._count += change
            self._changed.notify_all()

    def wait_for_none(self, seconds: float) -> float:
        """Wait until there are none, for so many seconds at most; how long it took."""
        if not self._count or seconds <= 0:
            return 0.0
        started = time.monotonic()
        with self._changed:
            self._changed.wait_for(lambda: not self._count, seconds)
        return time.monotonic() - started


class Questions:
    """Questions on the ledgers, answered in threads of their own: other requests do not wait for them."""

    def __init__(self, seconds: float = MOST_SECONDS) -> None:
        self.seconds = seconds
        self._pools = {way: ThreadPoolExecutor(most, thread_name_prefix=way) for way, most in SIDE_BY_SIDE.items()}
        self._figures = _UnderWay()
        self._ending = False

    def end(self) -> None:
        """Stop every question that is being answered, and answer no more."""
        self._ending = True
        for pool in self._pools.values():
            pool.shutdown(wait=False, cancel_futures=True)

    @contextmanager
    def standing_aside(self, seconds: float | None = None) -> Iterator[None]:
        """Work of this thread that stands aside at each of its steps while figures are answered, for so many seconds in all.

        None: as long as work that nobody asked for.
        """
        left = MOST_ASIDE_UNASKED if seconds is None else seconds

        def aside() -> None:
            nonlocal left
            left -= self._figures.wait_for_none(min(left, ASIDE_SECONDS))

        with heeding(aside):
            yield

    async def ask(self, request: Request, work: Callable[[], T], way: Way = "figures") -> T:
        """What some work gives, beside others of its way. It is stopped when its asker goes, refused when it takes too long."""
        until = time.monotonic() + self.seconds
        gone, aside = False, MOST_ASIDE if way == "evidence" else 0.0

        def stop() -> None:
            nonlocal aside
            if gone or self._ending:
                raise GoneError
            if time.monotonic() > until:
                raise QuestionError(
                    "question",
                    f"it takes longer than {self.seconds:g} seconds.",
                    "Show fewer rows, columns or periods, or limit what is counted.",
                )
            aside -= self._figures.wait_for_none(min(aside, ASIDE_SECONDS))

        def watched() -> T:
            with heeding(stop):
                return work()

        answer = self._pools[way].submit(contextvars.copy_context().run, watched)
        if way == "figures":
            self._figures.add(1)
            answer.add_done_callback(lambda _: self._figures.add(-1))
        future = asyncio.wrap_future(answer)
        while not (await asyncio.wait({future}, timeout=LOOK_SECONDS))[0]:
            gone = gone or await request.is_disconnected()
        return future.result()


async def ask(request: Request, work: Callable[[], T], way: Way = "figures") -> T:
    """Have the application's `Questions` answer one."""
    questions: Questions = request.app.state.questions
    return await questions.ask(request, work, way)
