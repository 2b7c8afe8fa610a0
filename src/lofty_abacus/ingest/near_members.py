"""Members that are nearly alike: the same but for case, accents, spaces and punctuation, or one letter apart.

Members that differ in a digit are told apart on purpose (P-101, P-102), and so are short ones.
"""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable

SHORTEST = 4
LONGEST = 60
_PUNCTUATION = re.compile(r"[\W_]+")


def near_pairs(new: Iterable[str], known: Iterable[str]) -> list[tuple[str, str]]:
    """Pairs of (new member, member that it is nearly alike), by new member; known ones are found before other new ones.

    Each new member is paired once. Members are compared by the neighbourhood of their letters with one taken out: two texts one
    letter apart share such a neighbour.
    """
    by_neighbour: dict[str, list[str]] = defaultdict(list)
    for member in known:
        for neighbour in _neighbours(member):
            by_neighbour[neighbour].append(member)
    found = []
    for member in sorted(new):
        neighbours = _neighbours(member)
        candidates = [other for neighbour in neighbours for other in by_neighbour.get(neighbour, ())]
        near = next((other for other in candidates if other != member and _are_near(member, other)), None)
        if near is not None:
            found.append((member, near))
        for neighbour in neighbours:
            by_neighbour[neighbour].append(member)
    return found


def _folded(member: str) -> str:
    if not member.isascii():
        apart = unicodedata.normalize("NFKD", member)
        member = "".join(letter for letter in apart if not unicodedata.combining(letter))
    return _PUNCTUATION.sub("", member).casefold()


def _neighbours(member: str) -> list[str]:
    folded = _folded(member)
    if len(folded) < SHORTEST or len(folded) > LONGEST:
        return [folded] if folded else []
    # Digits are never what two names differ by, so they stay in every neighbour: codes have few.
    return [folded, *(folded[:at] + folded[at + 1 :] for at, letter in enumerate(folded) if not letter.isdigit())]


def _are_near(one: str, other: str) -> bool:
    a, b = _folded(one), _folded(other)
    if a == b:
        return True
    if min(len(a), len(b)) < SHORTEST or abs(len(a) - len(b)) > 1:
        return False
    start = next((at for at, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), min(len(a), len(b)))
    end = next(
        (at for at, (x, y) in enumerate(zip(reversed(a[start:]), reversed(b[start:]), strict=False)) if x != y),
        min(len(a), len(b)) - start,
    )
    left, right = a[start : len(a) - end], b[start : len(b) - end]
    swapped = len(left) == len(right) == 2 and left == right[::-1]
    return ((len(left) <= 1 and len(right) <= 1) or swapped) and not any(letter.isdigit() for letter in left + right)
