"""What MariaDB added up of the batches of a large ledger, kept for a moment: batches never change, so a new one is added to it.

Readers of many versions in a row would have it read millions of lines again for every one of them. It is kept for a minute only:
whatever else changed the record is found by the next reading of all lines.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass
from threading import Lock

from cachetools import TTLCache

from lofty_abacus.core.measures.sums import Quantity
from lofty_abacus.store.alone import Alone
from lofty_abacus.store.version_lines import Part

#: Lines up to which a ledger is read anew for every check: that takes less than a second.
FEW_LINES = 1_000_000
KEPT_SECONDS, MOST_KEPT = 60, 500
#: Further versions of which sums are kept, of one question.
MOST_ADDED = 4


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


class KeptSums:
    """Sums by question, each of the last versions that it was asked of."""

    def __init__(self) -> None:
        #: Whoever reads lines for a question does so alone: who waits for it finds what it gave.
        self.alone = Alone()
        self._found: TTLCache[Hashable, list[Kept]] = TTLCache(MOST_KEPT, KEPT_SECONDS)
        self._lock = Lock()

    def base(self, key: Hashable, parts: frozenset[Part]) -> Kept | None:
        """What is kept of the most of some parts, and of nothing else."""
        with self._lock:
            fitting = [each for each in self._found.get(key, ()) if each.parts <= parts]
        return max(fitting, key=lambda each: sum(part.lines for part in each.parts), default=None)

    def keep(self, key: Hashable, kept: Kept, base: Kept | None) -> None:
        """Keep sums: for as long as the base that they were added to, or, where all lines were read (None), from now on."""
        with self._lock:
            if base is None:
                self._found[key] = [kept]
            elif (found := self._found.get(key)) is not None:
                # The first was read whole; of those that were added to it the last are most like what is asked next.
                found[1:] = [*found[1:][-MOST_ADDED:], kept]
