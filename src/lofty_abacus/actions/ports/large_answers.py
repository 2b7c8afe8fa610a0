"""Large answers kept at hand while they are looked through."""

from __future__ import annotations

from threading import Lock

from lofty_abacus.core.answer.answering import Answering

MOST_KEPT = 2


class LargeAnswers:
    """The last large answers with their rows in order, so that rows that come into view are filled without asking all again."""

    def __init__(self) -> None:
        self._kept: list[tuple[object, Answering]] = []
        self._lock = Lock()

    def find(self, key: object) -> Answering | None:
        """The answer that was kept under an equal key."""
        with self._lock:
            return next((each for known, each in self._kept if known == key), None)

    def keep(self, key: object, answering: Answering) -> None:
        """Keep an answer as the latest, in place of the one that was looked at longest ago."""
        with self._lock:
            others = [(known, each) for known, each in self._kept if each is not answering]
            self._kept = [(key, answering), *others][:MOST_KEPT]
