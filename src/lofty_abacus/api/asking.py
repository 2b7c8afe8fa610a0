"""Who asks, and how long anybody waits: the office as the sender of a request sees it, and questions within their bounds."""

from __future__ import annotations

import asyncio
import contextvars
import re
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
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
#: How long evidence stands aside at once while figures are answered, and in all.
ASIDE_SECONDS, MOST_ASIDE = 0.1, 1.0
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


class Questions:
    """Questions on the ledgers, answered in threads of their own: other requests do not wait for them."""

    def __init__(self, seconds: float = MOST_SECONDS) -> None:
        self.seconds = seconds
        self._pools = {way: ThreadPoolExecutor(most, thread_name_prefix=way) for way, most in SIDE_BY_SIDE.items()}
        self._ending = False
        #: Figures that are asked and not answered yet.
        self._figures = 0
        self._no_figures = Condition()

    def end(self) -> None:
        """Stop every question that is being answered, and answer no more."""
        self._ending = True
        for pool in self._pools.values():
            pool.shutdown(wait=False, cancel_futures=True)

    async def ask(self, request: Request, work: Callable[[], T], way: Way = "figures") -> T:
        """What some work gives, beside others of its way. It is stopped when its asker goes, refused when it takes too long."""
        until = time.monotonic() + self.seconds
        gone, aside = False, MOST_ASIDE if way == "evidence" else 0.0

        def stop() -> None:
            if gone or self._ending:
                raise GoneError
            if time.monotonic() > until:
                raise QuestionError(
                    "question",
                    f"it takes longer than {self.seconds:g} seconds.",
                    "Show fewer rows, columns or periods, or limit what is counted.",
                )
            nonlocal aside
            if aside > 0 and self._figures:
                started = time.monotonic()
                with self._no_figures:
                    self._no_figures.wait_for(lambda: not self._figures, min(aside, ASIDE_SECONDS))
                aside -= time.monotonic() - started

        def watched() -> T:
            with heeding(stop):
                return work()

        def counted() -> T:
            try:
                return watched()
            finally:
                self._count(-1)

        if way == "figures":
            self._count(1)
        asked = counted if way == "figures" else watched
        future = asyncio.get_running_loop().run_in_executor(self._pools[way], contextvars.copy_context().run, asked)
        while not (await asyncio.wait({future}, timeout=LOOK_SECONDS))[0]:
            gone = gone or await request.is_disconnected()
        return future.result()

    def _count(self, change: int) -> None:
        with self._no_figures:
            self._figures += change
            self._no_figures.notify_all()


async def ask(request: Request, work: Callable[[], T], way: Way = "figures") -> T:
    """Have the application's `Questions` answer one."""
    questions: Questions = request.app.state.questions
    return await questions.ask(request, work, way)
