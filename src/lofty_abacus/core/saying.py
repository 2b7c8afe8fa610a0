"""What is said of statements passes here, so that it can be said in another language.

What a language says is brought from outside: without one, words are said as they are written, in English.
"""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar


def _as_written(message: str) -> str:
    return message


def _in_english(one: str, many: str, number: int) -> str:
    return one if number == 1 else many


_plain: ContextVar[Callable[[str], str]] = ContextVar("plain", default=_as_written)
_counting: ContextVar[Callable[[str, str, int], str]] = ContextVar("counting", default=_in_english)


def speak(plain: Callable[[str], str], counting: Callable[[str, str, int], str]) -> None:
    """Say everything in a language from here on, in this thread or task.

    plain: a message in it; counting: that of its forms which fits a number.
    """
    _plain.set(plain)
    _counting.set(counting)


def say(message: str, **values: object) -> str:
    """A message in the language that is spoken, its {values} filled in. It is a literal, so that the catalogue can have it."""
    said = _plain.get()(message) if message else ""
    return said.format(**values) if values else said


def counted(one: str, many: str, number: int, **values: object) -> str:
    """A message by its number, which stands in it as {number}: of one thing, or of any other number of them."""
    return _counting.get()(one, many, number).format(number=number, **values)


class Phrases(dict[str, str]):
    """Words by their codes, said as every message is; listed, they are as they are written."""

    def __getitem__(self, code: str) -> str:
        return say(super().__getitem__(code))

    def get(self, code: str, otherwise: str = "") -> str:  # type: ignore[override]
        """The words of a code, or others."""
        try:
            return self[code]
        except KeyError:
            return otherwise
