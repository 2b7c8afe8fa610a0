"""How names are sorted: as people expect, by the letters of the reader's language and by the size of numbers (section 9)."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TypeAlias

_DIGITS = re.compile(r"(\d+)")
MOST_DIGITS = 19
NameKey: TypeAlias = tuple[tuple[int, int, str | bytes], ...]


@dataclass(frozen=True)
class NameOrder:
    """The order of names for readers of a language; "" where its letters come in the order of the alphabet that most share.

    weigh: gives texts what they are sorted by in that language, whatever their case; None: by their bare letters.
    """

    language: str = ""
    weigh: Callable[[Sequence[str]], Sequence[bytes]] | None = field(default=None, compare=False)

    def keys(self, names: Sequence[str]) -> list[NameKey]:
        """What each name is sorted by: its letters, stretches of digits by their size. Customer 2 comes before Customer 10."""
        parts = [[part for part in _DIGITS.split(name) if part] for name in names]
        letters = sorted({part for each in parts for part in each if not _is_number(part)})
        weights: Mapping[str, str | bytes]
        if self.weigh is None:
            weights = {part: _bare(part) for part in letters}
        else:
            weights = dict(zip(letters, self.weigh(letters), strict=True))
        return [tuple((0, int(part), "") if _is_number(part) else (1, 0, weights[part]) for part in each) for each in parts]


#: The order where nobody's language says otherwise.
PLAIN = NameOrder()


def _is_number(part: str) -> bool:
    return part.isdecimal() and len(part) < MOST_DIGITS


def _bare(text: str) -> str:
    """Letters whatever their case and accents."""
    bare = unicodedata.normalize("NFKD", text) if not text.isascii() else text
    return "".join(sign for sign in bare if not unicodedata.combining(sign)).casefold()
