"""Rows that are kept as JSON: one that cannot be read any more is a value with its reason, and fails no list."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from lofty_abacus.actions.records import Kept, Unreadable

Row = TypeVar("Row")
#: What a body that is no longer understood raises while it is read.
_NOT_READ = (ValueError, TypeError, KeyError, AttributeError)


def read_each(rows: Iterable[Any], name: Callable[[Any], str], read: Callable[[Any], Row]) -> Kept[Row]:
    """Every row as it is read, or by its name why it cannot be."""
    found: list[Row] = []
    unreadable: list[Unreadable] = []
    for row in rows:
        try:
            found.append(read(row))
        except _NOT_READ as error:
            unreadable.append(Unreadable(name(row), _why(error)))
    return Kept(tuple(found), tuple(unreadable))


def _why(error: Exception) -> str:
    """The first line of what is wrong; a key that is missing is named."""
    if isinstance(error, KeyError):
        return f"it has no {error.args[0]!r}"
    lines = [each.strip() for each in str(error).splitlines() if each.strip()]
    return " ".join(lines[:3])[:300] or type(error).__name__
