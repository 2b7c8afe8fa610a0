"""What can be wrong with a question.

CoreError
├── QuestionError        the statement asks for something that cannot be answered (the asker's to mend)
│   └── BeyondCalendarError  a step out of all calendars
├── UnableError          a source of lines that is asked for what it does not declare (the caller's to mend)
├── NotExactError        a text or number that has no exact decimal value at the allowed scale
└── ColumnsError         columns that contradict themselves (ours to mend: rebuild them)
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from difflib import get_close_matches


class CoreError(Exception):
    """Anything the core refuses to do."""


class QuestionError(CoreError):
    """A statement that cannot be answered: which part of it, why, and what would work."""

    def __init__(self, part: str, why: str, way_out: str) -> None:
        super().__init__(f"{said_part(part)}: {why} {way_out}".strip())
        self.part = part
        self.why = why
        self.way_out = way_out


class UnableError(CoreError):
    """A source of lines that cannot do what it is asked for."""

    def __init__(self, lacking: Iterable[str]) -> None:
        super().__init__(f"these lines cannot be read so: {', '.join(sorted(lacking))}")


#: What one of the parts of a statement is called.
_ONE_OF = {
    "measures": "measure",
    "bases": "base",
    "filters": "filter",
    "limits": "limit",
    "goals": "goal",
    "defined": "defined measure",
    "rows": "level of the rows",
    "across": "level across",
    "items": "item",
    "shares": "share",
    "columns": "column",
    "files": "file",
    "statements": "statement",
    "places": "place",
    "members": "member",
    "paths": "path",
}
_PLACE = re.compile(r"(\w+)\[(\d+)\]")


def said_part(part: str) -> str:
    """A part of a statement as people say it: measures[0] is the first measure. The part itself names it to programs."""

    def words(found: re.Match[str]) -> str:
        return f"{_ONE_OF.get(found[1], found[1].replace('_', ' '))} {int(found[2]) + 1}"

    steps = [_PLACE.sub(words, step).replace("_", " ") for step in part.split(".") if step]
    return ", ".join(steps[-2:] if steps[:1] == ["statement"] or len(steps) > 2 else steps)


class BeyondCalendarError(QuestionError):
    """A step out of all calendars; who asked for it names the part."""


class NotExactError(CoreError):
    """A value that is not an exact decimal number within int64 at the allowed scale."""

    def __init__(self, text: str, why: str) -> None:
        super().__init__(f"{text!r}: {why}")
        self.text = text
        self.why = why


class ColumnsError(CoreError):
    """Columns whose parts do not fit together."""


def nearest(word: str, known: Iterable[str]) -> str:
    """The sentence that names the nearest known spelling, or lists what is known."""
    names = sorted(known)
    close = get_close_matches(word, names, n=1, cutoff=0.6) or [name for name in names if word and name.startswith(word)]
    if close:
        return f"Did you mean {close[0]!r}?"
    listed = ", ".join(names[:12]) + (", ..." if len(names) > 12 else "")
    return f"Known: {listed}." if names else "Nothing of that kind is there to be named: leave it out."
