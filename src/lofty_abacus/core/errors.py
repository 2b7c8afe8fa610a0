"""What can be wrong with a question.

CoreError
├── QuestionError        the statement asks for something that cannot be answered (the asker's to mend)
├── NotExactError        a text or number that has no exact decimal value at the allowed scale
└── ColumnsError         columns that contradict themselves (ours to mend: rebuild them)
"""

from __future__ import annotations

from collections.abc import Iterable
from difflib import get_close_matches


class CoreError(Exception):
    """Anything the core refuses to do."""


class QuestionError(CoreError):
    """A statement that cannot be answered: which part of it, why, and what would work."""

    def __init__(self, part: str, why: str, way_out: str) -> None:
        super().__init__(f"{part}: {why} {way_out}".strip())
        self.part = part
        self.why = why
        self.way_out = way_out


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
    return f"Known: {listed}." if names else "There is none here."
