"""What is asked together is answered together: the same question, asked while it is being answered, waits for that answer."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, wait
from dataclasses import dataclass, field
from threading import Lock
from typing import Generic, TypeVar

from lofty_abacus.core.patience import heed

Value = TypeVar("Value")
#: How often somebody who waits looks whether they still want to.
LOOK_SECONDS = 0.2
#: Answers that stay at hand after they were given.
MOST_KEPT = 20


@dataclass(frozen=True, eq=False)
class _Asked(Generic[Value]):
    """A question and its answer to come. Questions are told apart by equality: they need not be hashable."""

    key: object
    answer: Future[Value] = field(default_factory=Future)


def _given(answer: Future[Value]) -> bool:
    """Wait for an answer as long as this asker wants; whether there is one."""
    while not wait((answer,), LOOK_SECONDS).done:
        heed()
    return answer.exception() is None


class Together(Generic[Value]):
    """Answers under way, and the last small ones; safe for several threads.

    Who fails keeps nothing, and others who wait try themselves.
    """

    def __init__(self, keeps: Callable[[Value], bool] = lambda _: False) -> None:
        """keeps: whether an answer is small enough to stay at hand."""
        self._keeps = keeps
        self._asked: list[_Asked[Value]] = []
        self._lock = Lock()

    def get(self, key: object, make: Callable[[], Value]) -> Value:
        """The answer to a question, made by whoever asks first."""
        while True:
            with self._lock:
                known = next((each for each in self._asked if each.key == key), None)
                mine = known or _Asked[Value](key)
                if known is None:
                    self._asked.insert(0, mine)
            if known is None:
                break
            if _given(known.answer):
                return known.answer.result()
            # Whoever made it went away, or was refused for reasons of their own: the next one makes it.
        try:
            made = make()
        except BaseException as error:
            self._forget(mine)
            mine.answer.set_exception(error)
            raise
        if not self._keeps(made):
            self._forget(mine)
        mine.answer.set_result(made)
        self._tidy()
        return made

    def _forget(self, asked: _Asked[Value]) -> None:
        with self._lock:
            self._asked.remove(asked)

    def _tidy(self) -> None:
        """Keep those under way, and the last of the others."""
        with self._lock:
            given = [each for each in self._asked if each.answer.done()]
            for each in given[MOST_KEPT:]:
                self._asked.remove(each)
