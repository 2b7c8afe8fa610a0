"""What MariaDB added up of a ledger's batches, kept for a moment: batches never change, so a new one is added to it.

Readers of many versions in a row would have it read all lines again for every one of them. It is kept so long that a twentieth of
the time at most goes into reading, of a large ledger for a minute at least: whatever else changed the record is found by the next
reading.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Collection, Hashable, Mapping
from dataclasses import dataclass
from threading import Lock

from cachetools import TLRUCache

from lofty_abacus.core.measures.sums import Quantity
from lofty_abacus.store.alone import Alone
from lofty_abacus.store.version_lines import Part

#: Lines up to which a ledger is read anew for every check: that takes a few hundredths of a second.
FEW_LINES = 20_000
#: Sums are kept for so many times as long as reading the lines took; so many questions.
KEPT_TIMES, MOST_KEPT = 20, 500
#: Those of a ledger with more lines than this are kept for so many seconds at least.
MANY_LINES, KEPT_SECONDS = 1_000_000, 60
#: Further versions of which sums are kept, of one question.
MOST_ADDED = 8
#: The newest parts, so many at most and one line in so many, are added apart.
MOST_NEWEST, NEWEST_OF = 50, 50


@dataclass(frozen=True)
class Sums:
    """What some lines come to in a window. codes: of each count of different ids the least and the highest code among them."""

    values: Mapping[Quantity, int]
    codes: Mapping[Quantity, tuple[int, int]]

    def with_newer(self, newer: Sums) -> Sums | None:
        """Those of these lines and of newer ones; None where ids of both may be the same, which only reading tells."""
        codes = {**newer.codes, **self.codes}
        for each in self.codes.keys() & newer.codes.keys():
            (least, most), (first, last) = self.codes[each], newer.codes[each]
            if first <= most:
                return None
            codes[each] = (least, last)
        return Sums({each: value + newer.values[each] for each, value in self.values.items()}, codes)


@dataclass(frozen=True)
class Kept:
    """The sums of some windows, one each, and of which parts they are."""

    parts: frozenset[Part]
    sums: tuple[Sums, ...]


#: What some parts come to, by window; of all lines if None.
AddedUp = Callable[[Collection[Part] | None], tuple[Sums, ...]]


class KeptSums:
    """Sums by question, each of the last versions that it was asked of."""

    def __init__(self, timer: Callable[[], float] = time.monotonic) -> None:
        #: Whoever reads lines for a question does so alone: who waits for it finds what it gave.
        self._alone = Alone()
        self._found: TLRUCache[Hashable, _Question] = TLRUCache(MOST_KEPT, lambda _, found, now: now + found.kept_for, timer)
        self._timer, self._lock = timer, Lock()

    def sums(self, key: Hashable, parts: frozenset[Part], added_up: AddedUp, *, comes_again: bool = False) -> tuple[Sums, ...]:
        """The sums of some parts, by window: of what is kept, of its newer parts, or of all lines.

        added_up: what some parts come to (None: all lines). comes_again: newer parts have the ids of older ones for sure.
        """
        with self._alone.holding(key):
            bases = self._bases(key, parts)
            older = parts if comes_again else without_newest(parts)
            if not bases and older != parts:
                # A version before, or without a batch just withdrawn, must not need all lines again: the newest are added apart.
                bases = [self._read(key, older, added_up, older)]
            for base in bases:
                found = self._with_newer(key, parts, base, added_up)
                if found is not None:
                    return found
            return self._read(key, parts, added_up, None).sums

    def _bases(self, key: Hashable, parts: frozenset[Part]) -> list[Kept]:
        """What is kept of some parts and of nothing else: of the most of them, and, where their ids meet, of the oldest."""
        with self._lock:
            found = self._found.get(key)
            fitting = [each for each in found.kept if each.parts <= parts] if found else []
        fitting.sort(key=lambda each: sum(part.lines for part in each.parts), reverse=True)
        return fitting if len(fitting) < 2 else [fitting[0], fitting[-1]]

    def _read(self, key: Hashable, parts: frozenset[Part], added_up: AddedUp, of: Collection[Part] | None) -> Kept:
        started = self._timer()
        kept = Kept(parts, added_up(of))
        with self._lock:
            self._found[key] = _Question(self._timer() - started, [kept])
        return kept

    def _with_newer(self, key: Hashable, parts: frozenset[Part], base: Kept, added_up: AddedUp) -> tuple[Sums, ...] | None:
        """The sums of a base and of what is newer; None where both may have the same ids."""
        newer = parts - base.parts
        if not newer:
            return base.sums
        both = [one.with_newer(other) for one, other in zip(base.sums, added_up(newer), strict=True)]
        sums = tuple(each for each in both if each is not None)
        if len(sums) < len(both):
            return None
        with self._lock:
            # They are kept for as long as what they were added to, of which the first was read; the last are most like the next.
            found = self._found.get(key)
            if found is not None:
                found.kept[1:] = [*found.kept[1:][-MOST_ADDED:], Kept(parts, sums)]
        return sums


@dataclass
class _Question:
    """What is kept of a question, and how many seconds reading the lines took."""

    seconds: float
    kept: list[Kept]

    @property
    def kept_for(self) -> float:
        """For how many seconds it is kept."""
        many = sum(part.lines for part in self.kept[0].parts) > MANY_LINES
        return max(KEPT_SECONDS if many else 0, KEPT_TIMES * self.seconds)


def without_newest(parts: frozenset[Part]) -> frozenset[Part]:
    """The parts without the newest few: those that come and go, and that earlier versions lack."""
    room, left = sum(each.lines for each in parts) // NEWEST_OF, set(parts)
    for each in sorted(parts, key=lambda part: part.stretch, reverse=True)[:MOST_NEWEST]:
        room -= each.lines
        if room < 0:
            break
        left.discard(each)
    return frozenset(left)
